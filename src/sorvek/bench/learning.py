"""Does the tool learn? Athletes with hidden numbers log three attempts; then a workout nobody has seen is forecast.

The hidden numbers are off from those on file by the stated doubts; all other days' luck is drawn anew. What
counts is how far the forecast's middle lies from the middle of the hidden athlete's own days.
"""

from collections import defaultdict
from collections.abc import Iterable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace

import numpy as np
from numpy.random import Generator

from sorvek.bench.calibration import true_athlete
from sorvek.bench.cases import season
from sorvek.core.athlete.athlete import Athlete
from sorvek.core.club import Result
from sorvek.core.live import fold, rehearse, standing_taps
from sorvek.core.plan import Plan, shorthand
from sorvek.core.planner.planner import plan_workout
from sorvek.core.season import Record, learn, lessons_of
from sorvek.core.simulation import Floats
from sorvek.core.simulation.days import draw_samples
from sorvek.core.simulation.forecast import run_samples
from sorvek.core.simulation.problem import Problem, problem_for
from sorvek.core.workout.notation import parse_workout
from sorvek.core.workout.tree import Form

TIERS = ("starting", "building", "competing", "racing")
WAYS = ("splits", "scores")
OWN_DAYS = 300
DAY = "2026-03-10"


@dataclass(frozen=True, slots=True)
class LearntFrom:
    """One hidden athlete: relative errors of the forecast before learning, and after it by way.

    `inside` says by way which shares of the hidden athlete's days fell into the 80 % band after learning.
    """

    before: float
    after: dict[str, float]
    inside_before: float
    inside: dict[str, float]


def _days(problem: Problem, plan: Plan, doubts: float) -> Floats:
    return run_samples(problem, problem.choices(plan), *draw_samples(problem, OWN_DAYS, 7, doubts))


def _forecast_error(text: str, believed: Athlete, true: Athlete) -> tuple[float, float]:
    """Return how far the middle of a forecast is off, as a share, and the share of true days inside its band."""
    problem, real = (problem_for(parse_workout(text), athlete) for athlete in (believed, true))
    plan = plan_workout(problem, effort=0.5).plan
    told, happened = problem.lost_s(_days(problem, plan, 1.0)), problem.lost_s(_days(real, plan, 0.0))
    low, high = np.quantile(told, [0.1, 0.9])
    middle = float(np.median(happened))
    # A tie with an end of the band counts by half, unless the band is one score.
    tie = 0.5 if low < high else 1.0
    inside = np.where((happened == low) | (happened == high), tie, (happened > low) & (happened < high))
    return abs(float(np.median(told)) - middle) / middle, float(np.mean(inside))


def _attempt(text: str, believed: Athlete, true: Athlete, seed: int) -> tuple[Result, Record]:
    """Return what a hidden athlete does on a day of their own by the plan for what is believed."""
    problem, real = (problem_for(parse_workout(text), athlete) for athlete in (believed, true))
    plan = plan_workout(problem).plan
    taps = rehearse(problem, plan, seed, real, doubts=0.0)
    state = fold(problem.course, plan, taps)
    timed = state.finished(problem.course) and problem.course.workout.form is Form.FOR_TIME
    value = state.last_s if timed else float(state.reps(problem.course))
    schemes = tuple(shorthand(phases) for phases in plan.slots)
    return Result("", "", timed, value), Record(schemes, tuple(standing_taps(taps)))


def _one(seed: int) -> LearntFrom:
    rng: Generator = np.random.Generator(np.random.PCG64(seed))
    *logged, unseen = season(rng)
    believed = Athlete("Hidden", TIERS[seed % len(TIERS)], "mf"[seed // len(TIERS) % 2])
    true = believed
    for text in (*logged, unseen):
        # A number that was drawn stays.
        drawn = true_athlete(believed, problem_for(parse_workout(text), believed), rng)
        true = _with_new_numbers(true, drawn)
    before, inside_before = _forecast_error(unseen, believed, true)
    after, inside = {}, {}
    for way in WAYS:
        known = believed
        for i, text in enumerate(logged):
            result, record = _attempt(text, known, true, 1000 * seed + i)
            record = record if way == "splits" else Record(record.schemes)
            workout = parse_workout(text)
            known, _ = learn(known, lessons_of(workout, known, result, record).lessons, DAY)
        after[way], inside[way] = _forecast_error(unseen, known, true)
    return LearntFrom(before, after, inside_before, inside)


def _with_new_numbers(true: Athlete, drawn: Athlete) -> Athlete:
    """Return a hidden athlete with numbers that were drawn for another workout; those known already stay."""
    return replace(
        true,
        unbroken={**drawn.unbroken, **true.unbroken},
        one_rep_max_kg={**drawn.one_rep_max_kg, **true.one_rep_max_kg},
        critical_power_w=true.critical_power_w or drawn.critical_power_w,
        w_prime_j=true.w_prime_j or drawn.w_prime_j,
    )


def learnt(seeds: Iterable[int]) -> dict[str, float]:
    """Return the figures of learning over hidden athletes, on all processors."""
    with ProcessPoolExecutor() as pool:
        found = list(pool.map(_one, seeds))
    before = float(np.mean([one.before for one in found]))
    figures = defaultdict(
        float, {"error before": 100 * before, "band before": 100 * _mean_of(one.inside_before for one in found)}
    )
    for way in WAYS:
        figures[f"error left after three attempts with {way}"] = (
            100 * _mean_of(one.after[way] for one in found) / before
        )
        figures[f"band holds after {way}"] = 100 * _mean_of(one.inside[way] for one in found)
    return dict(figures)


def _mean_of(values: Iterable[float]) -> float:
    return float(np.mean(list(values)))
