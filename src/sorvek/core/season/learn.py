"""Learning from an attempt: what sets, splits and a score say of the numbers behind (docs/model.md, “Learning”).

Likely athletes, whose numbers are off from those on file by their doubts and who each have a day of their own, are
led through what was really done, set by set; they are moved until they take the time it took (`smoother`). All
numbers move together, and each as far as the attempt tells it from the day's luck.
"""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np

from sorvek.core.athlete import DOUBT_FRAC, Athlete, Figure, Origin, body_figure, entered_figure
from sorvek.core.club import Result, result_text
from sorvek.core.live import LaneState, SetDone
from sorvek.core.plan import Plan
from sorvek.core.planner import plan_workout
from sorvek.core.season.record import Record
from sorvek.core.season.smoother import smoothed
from sorvek.core.simulation import (
    Draws,
    Floats,
    Problem,
    after_set,
    at_start,
    draw_samples,
    problem_for,
    run_samples,
)
from sorvek.core.simulation import kernel as k
from sorvek.core.workout import Form, Workout

GUESSES, SEED = 500, 41
# Nobody's score repeats to better than this share, however little the model's days differ; judgement.
LEAST_LUCK_FRAC = 0.02
# How the time of a visit scatters beside what model and day give, as a share of it, and how late taps come, in s;
# a score scatters by a share of the work. Judgement.
VISIT_FRAC, TAP_S, SCORE_FRAC = 0.05, 1.0, 0.01
# A set that had to break had about nothing left, give or take so many reps; judgement.
BROKE_REPS = 2.0
# A number drifts by so much a month, as a share of it; judgement.
DRIFT_A_MONTH = 0.015
# What moves a number or its doubt by less is not worth a line; judgement.
WORTH_TELLING_FRAC = 0.02
# A number that lies between these shares of what fits stays; else it moves to the nearer of the two. What went as
# expected should move little, though it rules out more on one side than on the other. Judgement.
BELIEVED = (0.3, 0.7)
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

    def weight(self) -> float:
        """Return how much there is to tell: how far the number moved and its doubt shrank, in shares of it."""
        return abs(self.after / self.before.value - 1.0) + self.before_doubt_frac - self.after_doubt_frac


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


class _Seen(NamedTuple):
    """What was observed, its scatter, and how athletes with other numbers would have done."""

    observed: Floats
    scatter: Floats
    given: Callable[[Floats], Floats]


def _by_visit(problem: Problem, state: LaneState) -> list[list[SetDone]]:
    """Return the sets in groups that end with a time: those tapped in one visit, or a round as a whole."""
    groups: list[list[SetDone]] = []
    waiting: list[SetDone] = []
    for one in state.done:
        if one.at_s is not None and one.at_s >= problem.course.segments[one.segment].deadline_s:
            break  # the buzzer ended it, not the athlete
        waiting.append(one)
        if one.at_s is None:
            continue
        if groups and groups[-1][-1].segment == one.segment and len(waiting) == 1:
            groups[-1].append(one)
        else:
            groups.append(waiting)
        waiting = []
    return groups


def _sets_seen(problem: Problem, plan: Plan, groups: list[list[SetDone]]) -> _Seen:
    """Return what the sets of a record say: the time of every visit, and that where a set broke little was left."""
    ends_s = [group[-1].at_s or 0.0 for group in groups]
    took_s = np.diff([0.0, *ends_s])
    broke = [one for group in groups for one in group if one.broken and not one.asked and one.reps > 0]
    observed = np.concatenate([took_s, np.zeros(len(broke))])
    scatter = np.concatenate([np.hypot(VISIT_FRAC * took_s, TAP_S), np.full(len(broke), BROKE_REPS)])

    def given(normals: Floats) -> Floats:
        draws = Draws.of(problem, normals)
        midway, times, reserves, broke = at_start(draws.us, draws.whos), [], [], False
        for group in groups:
            takes_s = np.zeros(len(normals))
            for one in group:
                before_s = midway.begins[:, k.SNAP_T].copy()
                if one.reps > 0:
                    after = after_set(problem, plan, midway, one.reps, broke)
                    midway = after.midway
                    if one.broken and not one.asked:
                        reserves.append(np.maximum(0.0, after.in_reserve))
                broke = one.broken
                takes_s += midway.begins[:, k.SNAP_T] - before_s
                if one.at_s is not None:
                    midway.begins[:, k.SNAP_T] = one.at_s
            times.append(takes_s)
        return np.column_stack([*times, *reserves])

    return _Seen(observed, scatter, given)


def _score_seen(problem: Problem, plan: Plan, result: Result) -> _Seen:
    """Return what a score alone says of somebody who followed a plan."""
    out = np.zeros((1, k.N_OUT))
    out[0, [k.TIME, k.DONE, k.FINISHED]] = result.value, result.value, float(result.finished)
    lost_s = problem.lost_s(out)

    def given(normals: Floats) -> Floats:
        draws = Draws.of(problem, normals)
        outs, _ = run_samples(problem, problem.choices(plan), draws.us, draws.whos)
        return problem.lost_s(outs)[:, None]

    end_s = float(problem.seg_f[-1, k.DEADLINE])
    return _Seen(lost_s, np.array([SCORE_FRAC * (end_s if end_s < k.LONG_S else float(lost_s[0]))]), given)


def lessons_of(workout: Workout, athlete: Athlete, result: Result, record: Record | None = None) -> Lessons:
    """Return what an attempt says about an athlete.

    With a record the sets that were really done are held against what they took, whatever the plan was; without one
    the athlete is taken to have followed the plan for what was known.
    Raises: InfeasibleError for a workout that cannot be planned for the athlete.
    """
    problem = problem_for(workout, athlete)
    plan = plan_workout(problem).plan
    record = record or Record()
    state = record.state(problem.course, plan)
    plan = record.plan(problem.course, plan)
    groups = _by_visit(problem, state)
    seen = _sets_seen(problem, plan, groups) if groups else _score_seen(problem, plan, result)
    expected, surprise = _surprise(problem, plan, result)
    draws = Draws.at_random(problem, GUESSES, SEED)
    moved = smoothed(draws.normals, seen.given, seen.observed, seen.scatter, SEED)
    rows = []
    for key, (label, unit, figure) in _figures(problem).items():
        drawn = Draws.numbers(problem).get(key)
        if drawn is None:
            continue
        column = drawn.spread * moved[:, drawn.column]
        low, high = drawn.share * np.quantile(column, BELIEVED)
        by = float(np.clip(np.clip(0.0, low, high), -MOST_DOUBTS * drawn.doubt, MOST_DOUBTS * drawn.doubt))
        left = min(
            drawn.doubt, float(np.sqrt((drawn.share * column.std()) ** 2 + drawn.doubt**2 * (1 - drawn.share)))
        )
        if max(abs(by), drawn.doubt - left) >= WORTH_TELLING_FRAC:
            after = round(figure.value * float(np.exp(by)), -2 if unit == "J" else 1)
            rows.append(Lesson(key, label, unit, figure, drawn.doubt, after, left))
    return Lessons(
        expected=expected,
        happened=result_text(result, workout.form),
        surprise=surprise,
        lessons=tuple(sorted(rows, key=Lesson.weight, reverse=True)),
    )


def _surprise(problem: Problem, plan: Plan, result: Result) -> tuple[str, float]:
    """Return the middle of the days on which the numbers on file are right, and by how many it went better."""
    form = problem.course.workout.form
    outs, _ = run_samples(problem, problem.choices(plan), *draw_samples(problem, doubts=0.0))
    days = problem.lost_s(outs)
    middle = outs[np.argsort(days)[len(days) // 2]]
    usual = Result("", "", form is Form.FOR_TIME and bool(middle[k.FINISHED] > 0), 0.0)
    usual = replace(usual, value=float(middle[k.TIME if usual.finished else k.DONE]))
    end_s = float(problem.seg_f[-1, k.DEADLINE])
    luck_s = max(float(np.std(days)), LEAST_LUCK_FRAC * (end_s if end_s < k.LONG_S else float(np.mean(days))))
    out = np.zeros((1, k.N_OUT))
    out[0, [k.TIME, k.DONE, k.FINISHED]] = result.value, result.value, float(result.finished)
    return result_text(usual, form), (float(np.median(days)) - float(problem.lost_s(out)[0])) / luck_s


def aged(athlete: Athlete, day: str) -> Athlete:
    """Return the athlete as known on a day (ISO): what was learnt long before is doubted more, as people change."""
    learnt = dict(athlete.learnt)
    for key, doubt in athlete.learnt.items():
        since = athlete.measured_on.get(key, day)
        months = max(0, 12 * (int(day[:4]) - int(since[:4])) + int(day[5:7]) - int(since[5:7]))
        learnt[key] = max(doubt, min(DOUBT_FRAC[Origin.TIER], float(np.hypot(doubt, DRIFT_A_MONTH * months))))
    return replace(athlete, learnt=learnt)


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
