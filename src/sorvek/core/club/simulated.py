"""The field: everybody's scores on a workout, imported or simulated, and what places hang on.

A simulated field stands in for a public leaderboard: people of every level follow a plan made for their like,
or one of a few plain ones, and what the simulation gives is their score. Where many stop at the same rep, the
field shows a plateau without being told.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from sorvek.core.athlete import Athlete, lift_figure
from sorvek.core.club.board import Result, order_key
from sorvek.core.plan import Phase, Plan, Scheme, SetRule
from sorvek.core.planner import plan_workout
from sorvek.core.simulation import Floats, Problem, problem_for, run_samples
from sorvek.core.simulation import columns as k
from sorvek.core.workout import TIERS, Form, MaxLift, Workout

FIELD_SIZE = 2_000
# Shares of the tiers in a public field, starting to racing, and the spread of ability inside one; judgement.
TIER_SHARES = (0.22, 0.38, 0.30, 0.10)
ABILITY_SPREAD, MOVEMENT_SPREAD, ENGINE_SPREAD = 0.16, 0.22, 0.06
WOMEN_FRAC = 0.45
MASTERS_FRAC, MASTERS_LEVEL = 0.25, 0.92
ROUGHNESS = 0.5  # share of a personal factor (about a fifth) by which a finishing time is longer; judgement
# Strength differs less between people than longest sets do; after the work a good day is 95 %; judgement.
LIFT_SPREAD_SHARE, FIELD_LIFT_FRAC, FIELD_STEP_KG = 0.35, 0.95, 2.5
PLAIN_RESTS_S = (4.0, 10.0)
EFFORT = 0.3


@dataclass(frozen=True, slots=True)
class Person:
    """A made-up competitor, the same on every workout: ability is relative to the tier's prototype."""

    name: str
    division: str
    sex: str
    tier: int
    ability: float
    own: int


def people(count: int = FIELD_SIZE, seed: int = 1) -> list[Person]:
    """Return the competitors of a simulated field; the same seed gives the same ones."""
    rng = np.random.Generator(np.random.PCG64(seed))
    tiers = rng.choice(len(TIERS), count, p=TIER_SHARES)
    women = rng.random(count) < WOMEN_FRAC
    masters = rng.random(count) < MASTERS_FRAC
    ability = np.exp(rng.normal(0.0, ABILITY_SPREAD, count)) * np.where(masters, MASTERS_LEVEL, 1.0)
    return [
        Person(
            f"Competitor {i + 1:04d}",
            ("masters " if masters[i] else "") + ("women" if women[i] else "men"),
            "f" if women[i] else "m",
            int(tiers[i]),
            float(ability[i]),
            int(rng.integers(2**31)),
        )
        for i in range(count)
    ]


def _movement_factor(person: Person, name: str) -> float:
    """Return how good somebody is at one movement beyond the general level; the same on every workout."""
    letters = int.from_bytes(name.encode(), "big") % (2**31)
    rng = np.random.Generator(np.random.PCG64([person.own, letters]))
    return float(np.exp(rng.normal(0.0, MOVEMENT_SPREAD)))


def _samples(problem: Problem, group: Sequence[Person]) -> tuple[Floats, Floats]:
    names = [slot.movement.name for slot in problem.course.slots]
    us = np.empty((len(group), len(problem.unbroken)))
    for i, person in enumerate(group):
        for slot, name in enumerate(names):
            end = problem.first_variant[slot + 1] if slot + 1 < len(names) else len(problem.unbroken)
            own = slice(problem.first_variant[slot], end)
            us[i, own] = problem.unbroken[own] * person.ability * _movement_factor(person, name)
    whos = np.tile(problem.who, (len(group), 1))
    engine = np.array([_movement_factor(person, "engine") for person in group]) ** (ENGINE_SPREAD / MOVEMENT_SPREAD)
    level = np.array([person.ability for person in group]) ** 0.5
    whos[:, k.CP] *= engine * level
    return us, whos


def _plain_plans(problem: Problem) -> list[Plan]:
    """Return what people do without a plan: half sets, small sets, singles, with short or long rests."""
    first = [float(problem.unbroken[row]) for row in problem.first_variant]
    plans = []
    for share in (0.5, 0.25):
        for rest_s in PLAIN_RESTS_S:
            rules = [SetRule(then=max(1, int(share * u))) for u in first]
            plans.append(Plan(tuple((Phase(None, Scheme(rule, rest_s)),) for rule in rules)))
    singles = Scheme(SetRule(then=1), PLAIN_RESTS_S[0])
    return [*plans, Plan(tuple((Phase(None, singles),) for _ in first))]


def simulate_field(workout: Workout, competitors: Sequence[Person]) -> list[Result]:
    """Return one result for every competitor: the best of the plans somebody like that might follow.

    Raises: InfeasibleError if the workout has no work to do.
    """
    if workout.form is Form.LIFT:
        fresh = [_with_lift(workout, Result(p.name, p.division, False, 0.0), p) for p in competitors]
        return sorted((replace(r, value=r.lift_kg or 0.0) for r in fresh), key=order_key)
    timed = workout.form is Form.FOR_TIME
    results: list[Result] = []
    for tier, name in enumerate(TIERS):
        for sex in ("m", "f"):
            group = [p for p in competitors if p.tier == tier and p.sex == sex]
            if not group:
                continue
            problem = problem_for(workout, Athlete("Competitor", name, sex))
            plans = [plan_workout(problem, effort=EFFORT).plan, *_plain_plans(problem)]
            us, whos = _samples(problem, group)
            outs = np.stack([run_samples(problem, problem.choices(plan), us, whos) for plan in plans])
            deadline_s = float(problem.seg_f[-1, k.DEADLINE])
            best = [_best(person, outs[:, i], timed) for i, person in enumerate(group)]
            day = [_on_the_day(result, person, deadline_s) for result, person in zip(best, group, strict=True)]
            results += [_with_lift(workout, result, p) for result, p in zip(day, group, strict=True)]
    return sorted(results, key=order_key)


def _best(person: Person, outs: Floats, timed: bool) -> Result:
    tries = [
        Result(
            person.name,
            person.division,
            timed and bool(out[k.FINISHED] > 0),
            float(np.ceil(out[k.TIME])) if timed and out[k.FINISHED] > 0 else float(out[k.DONE]),
            float(np.ceil(out[k.TIE_TIME])) or None,
        )
        for out in outs
    ]
    return min(tries, key=order_key)


def _on_the_day(result: Result, person: Person, deadline_s: float) -> Result:
    """Return a finishing time with what a plan does not know: own rhythm, no-reps, a slow start."""
    if not result.finished:
        return result
    rough = abs(_movement_factor(person, "rhythm") - 1.0) * ROUGHNESS
    return replace(result, value=min(deadline_s, float(np.ceil(result.value * (1.0 + rough)))))


def _with_lift(workout: Workout, result: Result, person: Person) -> Result:
    """Return a result with what is lifted afterwards: the person's best, less what the day and the work took."""
    if workout.lift is None:
        return result
    lifted = [_lifted_kg(workout, lift, person) for lift in workout.lifts]
    return replace(result, lift_kg=sum(FIELD_STEP_KG * round(kg / FIELD_STEP_KG) for kg in lifted))


def _lifted_kg(workout: Workout, lift: MaxLift, person: Person) -> float:
    """Return what a person lifts on the day: the weakest part of a complex bounds it."""
    athlete = Athlete("", TIERS[person.tier], person.sex)
    kilos = []
    for name, reps in lift.parts:
        movement = workout.library.movements[name]
        usual_kg = max(lift_figure(athlete, movement, style).value for style in movement.styles)
        own = (person.ability * _movement_factor(person, movement.name)) ** LIFT_SPREAD_SHARE
        kilos.append(usual_kg * own * athlete.share_of_max(reps))
    after = FIELD_LIFT_FRAC if workout.body and not lift.first else 1.0
    return float(min(kilos) * min(1.03, _movement_factor(person, "lift day") ** 0.1 * after))
