"""Learning from a result: what a score says about the numbers behind it (docs/model.md, “Learning”).

Every number is moved down and up by its doubt and the workout is planned again: that tells how the score hangs
on it. Then doubts and the day's luck share the surprise, each by its part of the variance.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np

from sorvek.core.athlete import Athlete, Figure, body_figure, entered_figure
from sorvek.core.club import Result, result_text
from sorvek.core.plan import Plan
from sorvek.core.planner import plan_workout
from sorvek.core.simulation import (
    Floats,
    Problem,
    draw_samples,
    problem_for,
    run_samples,
)
from sorvek.core.simulation import kernel as k
from sorvek.core.workout import Form, Workout

# A plan for "what if a number were other" need not be the last word; judgement.
EFFORT = 0.5
# Nobody's score repeats to better than this share, however little the model's days differ; judgement.
LEAST_LUCK_FRAC = 0.02
# What moves a number or its doubt by less is not worth a line; judgement.
WORTH_TELLING_FRAC = 0.02
# A surprise beyond two doubts says that something else was wrong that day.
MOST_DOUBTS = 2.0
BODY = {"critical_power_w": ("critical power", "W"), "w_prime_j": ("W′ (work above CP)", "J")}


@dataclass(frozen=True, slots=True)
class Lesson:
    """One number before and after a result; doubts are shares of it (one standard deviation).

    `key` is a movement or a field of the athlete, `unit` that of the number.
    """

    key: str
    label: str
    unit: str
    before: Figure
    before_doubt_frac: float
    after: float
    after_doubt_frac: float


@dataclass(frozen=True, slots=True)
class Lessons:
    """What was expected, what happened, and what it says; `surprise` in usual days, above 0 for better."""

    expected: str
    happened: str
    surprise: float
    lessons: tuple[Lesson, ...]


class Kept(NamedTuple):
    """A number that was learnt, and what stood there before; None where there was nothing."""

    unit: str
    learnt: float
    value: float | None
    doubt_frac: float | None
    day: str | None


def update(slopes: Floats, doubts: Floats, luck: float, surprise: float) -> tuple[Floats, Floats]:
    """Return how far numbers move and the doubts left, given how a score hangs on each.

    Shapes (n,): `slopes` score per unit of a number, `doubts` standard deviations in those units; `luck` is the
    score's own standard deviation, `surprise` the score minus what was expected.
    Source: the Kalman gain for one observation (Kalman 1960, from memory), doubts taken as independent before.
    """
    variance = doubts**2
    gain = variance * slopes / (float((slopes**2 * variance).sum()) + luck**2)
    left = variance * (1.0 - gain * slopes)
    moved = np.clip(gain * surprise, -MOST_DOUBTS * doubts, MOST_DOUBTS * doubts)
    return moved, np.sqrt(left)


def _figures(problem: Problem) -> dict[str, tuple[str, str, Figure]]:
    """Return the numbers a workout hangs on: label, unit and figure by key."""
    athlete, found = problem.athlete, {}
    for slot in problem.course.slots:
        movement = slot.movement
        label, unit = (
            (f"1RM {movement.name}", "kg")
            if movement.styles[0].lift
            else (f"longest set of {movement.name}", "reps")
        )
        if not movement.styles[0].steady:
            found[movement.name] = (label, unit, entered_figure(athlete, movement))
    for key, (label, unit) in BODY.items():
        found[key] = (label, unit, body_figure(athlete, key))
    return {key: entry for key, entry in found.items() if entry[2].value > 0}


def with_number(athlete: Athlete, key: str, unit: str, value: float | None) -> Athlete:
    """Return the athlete with a number entered where it belongs; None takes it out."""
    if key == "critical_power_w":
        return replace(athlete, critical_power_w=value)
    if key == "w_prime_j":
        return replace(athlete, w_prime_j=value)
    numbers = dict(athlete.one_rep_max_kg if unit == "kg" else athlete.unbroken)
    numbers.pop(key, None)
    if value is not None:
        numbers[key] = value
    return replace(athlete, one_rep_max_kg=numbers) if unit == "kg" else replace(athlete, unbroken=numbers)


def _entered(athlete: Athlete, key: str, unit: str) -> float | None:
    if key in BODY:
        number: float | None = getattr(athlete, key)
        return number
    return (athlete.one_rep_max_kg if unit == "kg" else athlete.unbroken).get(key)


def _planned(workout: Workout, athlete: Athlete, effort: float = EFFORT) -> tuple[Problem, Plan]:
    problem = problem_for(workout, athlete)
    return problem, plan_workout(problem, effort=effort).plan


def lessons_of(workout: Workout, athlete: Athlete, result: Result) -> Lessons:
    """Return what a result says about an athlete who is taken to have followed the plan for what was known.

    Raises: InfeasibleError for a workout that cannot be planned for the athlete.
    """
    problem, plan = _planned(workout, athlete, effort=1.0)
    timed = workout.form is Form.FOR_TIME

    def days_of(on: Problem, following: Plan) -> tuple[Floats, Floats]:
        """Return the results of days on which the numbers on file are right, and each on one axis in seconds."""
        outs, _ = run_samples(on, on.choices(following), *draw_samples(on, doubts=0.0))
        return outs, problem.lost_s(outs)

    outs, days = days_of(problem, plan)
    middle = outs[np.argsort(days)[len(days) // 2]]
    usual = Result("", "", timed and bool(middle[k.FINISHED] > 0), 0.0)
    usual = replace(usual, value=float(middle[k.TIME if usual.finished else k.DONE]))
    end_s = float(problem.seg_f[-1, k.DEADLINE])
    luck_s = max(float(np.std(days)), LEAST_LUCK_FRAC * (end_s if end_s < k.LONG_S else float(np.mean(days))))
    expected_s = float(np.median(days))
    out = np.zeros((1, k.N_OUT))
    out[0, [k.TIME, k.DONE, k.FINISHED]] = result.value, result.value, float(result.finished)
    surprise_s = float(problem.lost_s(out)[0]) - expected_s
    figures = _figures(problem)
    doubts = np.array([athlete.doubt_frac(key, figure) for key, (_, _, figure) in figures.items()])
    slopes = []
    for (key, (_, unit, figure)), doubt in zip(figures.items(), doubts.tolist(), strict=True):
        # The mean of many days hangs on a number smoothly, where one day's score has steps.
        low, high = (
            float(np.mean(days_of(*_planned(workout, with_number(athlete, key, unit, figure.value * factor)))[1]))
            for factor in (1 - doubt, 1 + doubt)
        )
        # More of a number never costs a score: what says so is the plan's own roughness.
        slopes.append(min(0.0, (high - low) / float(np.log((1 + doubt) / (1 - doubt)))))
    moved, left = update(np.array(slopes), doubts, luck_s, surprise_s)
    rows = []
    for (key, (label, unit, figure)), doubt, by, after_doubt in zip(
        figures.items(), doubts.tolist(), moved.tolist(), left.tolist(), strict=True
    ):
        if max(abs(by), doubt - after_doubt) >= WORTH_TELLING_FRAC:
            after = round(figure.value * float(np.exp(by)), -2 if unit == "J" else 1)
            rows.append(Lesson(key, label, unit, figure, doubt, after, after_doubt))
    return Lessons(
        expected=result_text(usual, workout.form),
        happened=result_text(result, workout.form),
        surprise=-surprise_s / luck_s,
        lessons=tuple(sorted(rows, key=lambda row: row.before_doubt_frac - row.after_doubt_frac, reverse=True)),
    )


def learn(athlete: Athlete, lessons: Iterable[Lesson], day: str) -> tuple[Athlete, dict[str, Kept]]:
    """Return the athlete with numbers learnt on a day (ISO), and what stood there before."""
    before = {}
    for lesson in lessons:
        key, unit = lesson.key, lesson.unit
        old = _entered(athlete, key, unit)
        before[key] = Kept(unit, lesson.after, old, athlete.learnt.get(key), athlete.measured_on.get(key))
        athlete = replace(
            with_number(athlete, key, unit, lesson.after),
            learnt={**athlete.learnt, key: round(lesson.after_doubt_frac, 4)},
            measured_on={**athlete.measured_on, key: day},
        )
    return athlete, before


def unlearn(athlete: Athlete, before: Mapping[str, Kept]) -> Athlete:
    """Return the athlete with learnt numbers taken back; what was measured or learnt since stays."""
    for key, (unit, number, value, doubt, day) in before.items():
        if key not in athlete.learnt or _entered(athlete, key, unit) != number:
            continue
        learnt = {name: old for name, old in athlete.learnt.items() if name != key}
        days = {name: old for name, old in athlete.measured_on.items() if name != key}
        athlete = replace(
            with_number(athlete, key, unit, value),
            learnt=learnt if doubt is None else {**learnt, key: doubt},
            measured_on=days if day is None else {**days, key: day},
        )
    return athlete
