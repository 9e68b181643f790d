"""Do the days come as forecast? Athletes whose true numbers are off by the stated doubts follow their plans.

A true athlete is made by entering other numbers, not by moving the simulation's arrays as forecasts do, and has a
day of his own: what agrees here agrees by more than construction.
"""

from collections import defaultdict
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from datetime import date

import numpy as np
from numpy.random import Generator

from sorvek.bench.cases import athletes, workouts
from sorvek.core.athlete.athlete import Athlete, body_figure, entered_figure
from sorvek.core.planner.planner import plan_workout
from sorvek.core.season.numbers import with_number
from sorvek.core.simulation import columns as k
from sorvek.core.simulation.days import draw_samples
from sorvek.core.simulation.forecast import Band, DayScore, forecast, run_samples
from sorvek.core.simulation.problem import Problem, problem_for
from sorvek.core.workout.notation import parse_workout
from sorvek.core.workout.tree import Form
from sorvek.demo.club import club

TRUTHS = 20
WORKOUTS, GROUPS, SEED = 20, 5, 17
TODAY = date(2026, 1, 1)


@dataclass(frozen=True, slots=True)
class Days:
    """How true days fell beside a forecast: shares better than the headline, above, inside and below the band.

    A tie with the headline or with an end of the band counts by half on either side, unless the band is one score.
    """

    beaten: float
    above: float
    inside: float
    below: float


def true_athlete(athlete: Athlete, problem: Problem, rng: Generator) -> Athlete:
    """Return an athlete whose numbers are off from those on file by their doubts."""
    found = athlete
    for movement in dict.fromkeys(slot.movement for slot in problem.course.slots):
        figure = entered_figure(athlete, movement)
        value = figure.value * np.exp(athlete.doubt_frac(movement.name, figure) * rng.standard_normal())
        found = with_number(found, movement.name, "kg" if movement.styles[0].lift else "reps", float(value))
    for key in ("critical_power_w", "w_prime_j"):
        figure = body_figure(athlete, key)
        value = figure.value * np.exp(athlete.doubt_frac(key, figure) * rng.standard_normal())
        found = with_number(found, key, "", float(value))
    return replace(found, learnt={})


def _rank(day: DayScore) -> tuple[bool, float]:
    return day.finished, -day.value if day.finished else day.value


def beside(band: Band, days: list[DayScore]) -> Days:
    """Return how days fell beside a band."""
    good, middle, bad = _rank(band.good), _rank(band.middle), _rank(band.bad)
    ranks = [_rank(day) for day in days]
    half = 0.0 if good == bad else 0.5

    def better(than: tuple[bool, float], tie: float) -> float:
        return float(np.mean([1.0 if rank > than else tie if rank == than else 0.0 for rank in ranks]))

    above, below = better(good, half), 1.0 - better(bad, 1.0 - half)
    return Days(better(middle, 0.5), above, 1.0 - above - below, below)


def _true_days(case: tuple[str, Athlete, int]) -> tuple[str, Days]:
    text, athlete, seed = case
    rng = np.random.Generator(np.random.PCG64(seed))
    problem = problem_for(parse_workout(text), athlete)
    plan = plan_workout(problem).plan
    timed, days = problem.course.workout.form is Form.FOR_TIME, []
    for _ in range(TRUTHS):
        true = problem_for(problem.course.workout, true_athlete(athlete, problem, rng))
        us, whos = draw_samples(true, 1, seed=int(rng.integers(2**31)), doubts=0.0)
        out = run_samples(true, true.choices(plan), us, whos)[0]
        done = timed and bool(out[k.FINISHED] > 0)
        days.append(DayScore(done, float(out[k.TIME if done else k.DONE])))
    return text, beside(forecast(problem, plan), days)


def calibrated(cases: list[tuple[str, Athlete, int]]) -> dict[str, list[Days]]:
    """Return what came of the cases (workout, athlete, seed), by workout; on all processors."""
    found: dict[str, list[Days]] = defaultdict(list)
    with ProcessPoolExecutor() as pool:
        for text, days in pool.map(_true_days, cases, chunksize=6):
            found[text].append(days)
    return found


def demo_cases(texts: list[str]) -> list[tuple[str, Athlete, int]]:
    """Return the demo club on the workouts of the demo week."""
    people = [replace(athlete, flags={}) for athlete in club(TODAY)]
    return [(text, athlete, 100 * i + j) for i, text in enumerate(texts) for j, athlete in enumerate(people)]


def made_up_cases() -> list[tuple[str, Athlete, int]]:
    """Return thirty made-up athletes on twenty made-up workouts."""
    people = athletes(SEED, GROUPS)
    texts = workouts(SEED, WORKOUTS)
    return [(text, athlete, 100 * i + j) for i, text in enumerate(texts) for j, athlete in enumerate(people)]
