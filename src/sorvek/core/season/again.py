"""Again or not: what a second try would bring with the best plan for what is known now, and what the first left.

Common practice, no source: about 24 h at the least between two tries; low back, pulling and hands come back
slowest; torn hands mean another day. What a workout takes for days goes by how much was done, in longest sets, not
by how fresh its last rests left somebody. How much of it is left after so many hours is a first-order recovery,
judgement.
"""

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from sorvek.core.club import Result, order_key, result_text
from sorvek.core.constants import RESOURCES
from sorvek.core.lift import Platform, Setup
from sorvek.core.plan import Plan
from sorvek.core.quantities import days_of_ten
from sorvek.core.simulation import Floats, Problem, draw_samples, run_samples
from sorvek.core.simulation import columns as k
from sorvek.core.workout import Form

DAYS = 300
EARLIEST_H, TORN_H = 24.0, 48.0
# Hours after which 37 % of what a hard workout took are still gone, by resource; judgement.
LEFT_TAU_H = {"grip": 30.0, "pull": 30.0, "push": 20.0, "squat": 24.0, "hinge": 36.0, "trunk": 22.0}
BREATH_TAU_H = 12.0
# At most so much of a longest set is gone once the quick part is back, reached where well over `FULL_SETS` longest
# sets were done; of CP so much. Every step of soreness (0 to 3) adds to all of it. Judgement: a hard workout costs
# about one rep in twenty a day later.
MOST_GONE_FRAC, FULL_SETS, MOST_CP_FRAC, SORE_FRAC = 0.15, 3.0, 0.06, 0.25
# A max lift alone takes about as much as this many longest sets of what lifts; judgement.
BAR_SETS = 1.0
# A second try is worth it where it betters the first on so many days, and by so much of it in the mean; judgement.
WORTH_CHANCE, WORTH_FRAC = 0.6, 0.01
POOR_AND_GOOD = (0.1, 0.9)
# The earliest hour that has this share of the best gain is the best hour; judgement.
NEARLY = 0.9


@dataclass(frozen=True, slots=True)
class FirstTry:
    """What was reached and what it took: the result, longest sets done by resource (`taken`).

    `soreness` goes from 0 (not) to 3 (very), `torn` says that hands were torn.
    """

    result: Result
    taken: Mapping[str, float]
    soreness: int = 0
    torn: bool = False


@dataclass(frozen=True, slots=True)
class SecondTry:
    """A second try so many hours after the first.

    `gain` is what keeping the better of both brings in the mean, in `unit` (s, reps or kg), `spread` what it brings
    on a poor and on a good day (eight of ten lie between), `chance` (0–1) that it betters the first, `score` its
    middle day in words, `places` the places won in the mean (None without a field), `gone` by resource the share of
    a longest set that is still missing.
    """

    hours: float
    gain: float
    unit: str
    chance: float
    score: str
    places: float | None
    gone: dict[str, float]
    spread: tuple[float, float] = (0.0, 0.0)


@dataclass(frozen=True, slots=True)
class AgainOrNot:
    """Tries at several hours, the best of them (None where none is allowed), and what to do, with the reason."""

    tries: tuple[SecondTry, ...]
    best: SecondTry | None
    again: bool
    reason: str


def taken(problem: Problem, reps: float) -> dict[str, float]:
    """Return by resource how many longest sets so many reps of a course (inf for all) are worth to it."""
    found, left = np.zeros(len(RESOURCES)), reps
    for segment in problem.course.segments:
        variant = problem.first_variant[segment.slot]
        here, own = min(float(segment.reps), left), problem.unbroken[variant]
        left -= here
        if problem.variants[variant, k.STEADY] == 0 and own > 0:
            found += here / own * problem.variants[variant, k.WEIGHTS : k.WEIGHTS + len(RESOURCES)]
    return {name: float(sets) for name, sets in zip(RESOURCES, found, strict=True)}


def still_gone(sets: Mapping[str, float], hours: float, soreness: int = 0) -> dict[str, float]:
    """Return by resource the share (0–1) of a longest set that is missing so many hours after a workout.

    `sets` is what the workout took (`taken`), `soreness` how sore the athlete is, from 0 (not) to 3 (very).
    """
    most = MOST_GONE_FRAC * (1.0 + SORE_FRAC * soreness)
    return {
        name: most * (1 - math.exp(-sets[name] / FULL_SETS)) * math.exp(-hours / LEFT_TAU_H[name])
        for name in RESOURCES
    }


def again_or_not(
    problem: Problem,
    plan: Plan,
    first: FirstTry,
    hours: Sequence[float],
    place_of: Callable[[Result], float] | None = None,
) -> AgainOrNot:
    """Return what second tries by a plan would bring; `problem` is the athlete as believed in now.

    `hours` are those after the first try that come into question, `place_of` tells the place of a result.
    Raises: SetsError if the plan does not fit the course.
    """
    return _decided(first, tuple(_try(problem, plan, first, h, place_of) for h in hours))


def again_at_bar(setup: Setup, first: FirstTry, hours: Sequence[float]) -> AgainOrNot:
    """Return what a second go at a max lift alone would bring; `setup` is the lift as believed in now.

    Raises: LiftError or PlatesError if the lift cannot be planned.
    """
    tries = []
    for h in hours:
        weights = dict(zip(RESOURCES, setup.style.weights, strict=False))
        gone = still_gone({name: BAR_SETS * share for name, share in weights.items()}, h, first.soreness)
        less = max(weights[name] * share for name, share in gone.items())
        task = replace(setup.task, one_rep_max_kg=setup.task.one_rep_max_kg * (1.0 - less))
        ahead, best_kg = Platform(task).ahead(()), first.result.value
        gain = sum(chance * max(0.0, kg - best_kg) for kg, chance in ahead.outcomes)
        better = sum(chance for kg, chance in ahead.outcomes if kg > best_kg)
        spread = tuple(max(0.0, ahead.quantile(share) - best_kg) for share in POOR_AND_GOOD)
        middle = f"{ahead.quantile(0.5):g} kg"
        tries.append(SecondTry(h, gain, "kg", better, middle, None, gone, (spread[0], spread[1])))
    return _decided(first, tuple(tries))


def _decided(first: FirstTry, tries: tuple[SecondTry, ...]) -> AgainOrNot:
    allowed = [one for one in tries if one.hours >= (TORN_H if first.torn else EARLIEST_H)]
    if not allowed:
        why = "torn hands mean another day" if first.torn else "there is less than a day until the window closes"
        return AgainOrNot(tries, None, False, f"No: {why}.")
    most = max(one.gain for one in allowed)
    best = next(one for one in allowed if one.gain >= NEARLY * most)
    worth = _worth(first.result, best)
    sore = max(best.gone, key=lambda name: best.gone[name])
    left = f"{best.gone[sore]:.0%} of the {sore} is still missing after {best.hours:.0f} h"
    amount = f"{best.gain:.1f}" if best.unit == "kg" else f"{best.gain:.0f}"
    gain = f"{amount} {best.unit} in the mean, better on {days_of_ten(best.chance)}"
    places = f", {best.places:.0f} places" if best.places is not None and best.places >= 1 else ""
    if worth:
        return AgainOrNot(tries, best, True, f"Yes, {best.hours:.0f} h after the first: {gain}{places}; {left}.")
    return AgainOrNot(tries, best, False, f"No: {gain}{places} at the best hour; {left}.")


def _worth(first: Result, best: SecondTry) -> bool:
    return best.chance >= WORTH_CHANCE and best.gain >= WORTH_FRAC * max(1.0, first.value)


def _try(
    problem: Problem, plan: Plan, first: FirstTry, hours: float, place_of: Callable[[Result], float] | None
) -> SecondTry:
    gone, reached = still_gone(first.taken, hours, first.soreness), first.result
    us, whos = draw_samples(problem, DAYS)
    us = us * (1.0 - _of_variants(problem, gone))
    whos = whos.copy()
    whos[:, k.CP] *= 1.0 - MOST_CP_FRAC * math.exp(-hours / BREATH_TAU_H)
    outs = run_samples(problem, problem.choices(plan), us, whos)
    days = _results(problem, outs)
    better = [day if order_key(day) < order_key(reached) else reached for day in days]
    unit = "s" if reached.finished else "reps"
    gains = [_gain(problem, reached, day) for day in better]
    middle = sorted(days, key=order_key)[len(days) // 2]
    places = None
    if place_of:
        sample = better[:: max(1, len(better) // 40)]
        places = place_of(reached) - sum(place_of(day) for day in sample) / len(sample)
    chance = sum(day is not reached for day in better) / len(better)
    form = problem.course.workout.form
    spread = np.quantile(gains, POOR_AND_GOOD)
    told = result_text(middle, form)
    return SecondTry(
        hours, float(np.mean(gains)), unit, chance, told, places, gone, (float(spread[0]), float(spread[1]))
    )


def _gain(problem: Problem, first: Result, day: Result) -> float:
    """Return by how much a day is better; who finishes where the first did not wins the reps that were missing."""
    if first.finished:
        return first.value - day.value
    return (float(problem.typical_course[0][-1]) if day.finished else day.value) - first.value


def _results(problem: Problem, outs: Floats) -> list[Result]:
    timed, found = problem.course.workout.form is Form.FOR_TIME, []
    for out in outs:
        finished = timed and bool(out[k.FINISHED] > 0)
        found.append(Result("", "", finished, float(out[k.TIME if finished else k.DONE])))
    return found


def _of_variants(problem: Problem, gone: dict[str, float]) -> Floats:
    """Return by variant the share of its longest set that is missing: that of what it loads, by its weights."""
    loads = problem.variants[:, k.WEIGHTS : k.WEIGHTS + len(RESOURCES)]
    missing = np.array([gone[name] for name in RESOURCES])
    shares: Floats = (loads @ missing) / np.maximum(loads.sum(axis=1), 1e-9)
    return shares


def hours_until(seconds: float) -> tuple[float, ...]:
    """Return the hours after a first try that come into question, a few a day, within so many seconds."""
    usual = (24.0, 30.0, 36.0, 48.0, 54.0, 72.0, 78.0, 96.0)
    return tuple(h for h in usual if h <= seconds / 3600.0)
