"""Learning from an attempt: what sets, splits and a score say of the numbers behind (docs/model.md, “Learning”).

Likely athletes, whose numbers are off from those on file by their doubts and who each have a day of their own, are
led through what was really done, set by set; they are moved until they take the time it took (`smoother`). All
numbers move together, and each as far as the attempt tells it from the day's luck.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np

from sorvek.core.athlete import Athlete, Figure, Together, body_figure, entered_figure
from sorvek.core.club import Result, result_text
from sorvek.core.live import LaneState, SetDone
from sorvek.core.plan import Plan
from sorvek.core.planner import plan_workout
from sorvek.core.season.numbers import BODY, MOST_DOUBTS, WORTH_TELLING_FRAC, Lesson
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
from sorvek.core.simulation import columns as k
from sorvek.core.workout import Form, Workout

GUESSES, SEED = 500, 41
# Nobody's score repeats to better than this share, however little the model's days differ; judgement.
LEAST_LUCK_FRAC = 0.02
# How the time of a visit scatters beside what model and day give, as a share of it, and how late taps come, in s;
# a score scatters by a share of the work. Judgement.
VISIT_FRAC, TAP_S, SCORE_FRAC = 0.05, 1.0, 0.01
# A set that had to break had about nothing left, give or take so many reps; judgement.
BROKE_REPS = 2.0
# A number that lies between these shares of what fits stays; else it moves to the nearer of the two. What went as
# expected should move little, though it rules out more on one side than on the other. Judgement.
BELIEVED = (0.3, 0.7)


@dataclass(frozen=True, slots=True)
class Lessons:
    """What was expected, what happened, and what it says; `surprise` in usual days, above 0 for better."""

    expected: str
    happened: str
    surprise: float
    lessons: tuple[Lesson, ...]


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


def _failed_in(state: LaneState) -> frozenset[str]:
    """Return the sets (by their taps) in which a rep failed: the first of the visit that ended after it."""
    found = set[str]()
    for segment, at_s in state.failed:
        ends = [one for one in state.done if one.segment == segment and one.at_s is not None and one.at_s >= at_s]
        found.update(one.tap for one in ends[:1])
    return frozenset(found)


def _spent(one: SetDone, failed: frozenset[str]) -> bool:
    """Return whether a set ended with about nothing left: it had to break, or a rep of it failed."""
    return one.reps > 0 and ((one.broken and not one.asked) or (one.at_s is not None and one.tap in failed))


def _sets_seen(
    problem: Problem, plan: Plan, groups: list[list[SetDone]], failed: frozenset[str] = frozenset()
) -> _Seen:
    """Return what the sets of a record say: the time of every visit, and where little was left (`_spent`)."""
    ends_s = [group[-1].at_s or 0.0 for group in groups]
    took_s = np.diff([0.0, *ends_s])
    spent = [one for group in groups for one in group if _spent(one, failed)]
    observed = np.concatenate([took_s, np.zeros(len(spent))])
    scatter = np.concatenate([np.hypot(VISIT_FRAC * took_s, TAP_S), np.full(len(spent), BROKE_REPS)])

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
                    if _spent(one, failed):
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
        outs = run_samples(problem, problem.choices(plan), draws.us, draws.whos)
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
    seen = _sets_seen(problem, plan, groups, _failed_in(state)) if groups else _score_seen(problem, plan, result)
    expected, surprise = _surprise(problem, plan, result)
    draws = Draws.at_random(problem, GUESSES, SEED)
    moved = smoothed(draws.normals, seen.given, seen.observed, seen.scatter, SEED)
    rows = _lessons(problem, Draws.mixed(problem, moved))
    return Lessons(
        expected=expected,
        happened=result_text(result, workout.form),
        surprise=surprise,
        lessons=tuple(sorted(rows, key=Lesson.weight, reverse=True)),
    )


class _Offsets(NamedTuple):
    """How far numbers are off, as logarithms: guesses (n, keys), and what of a doubt they cannot tell (keys,)."""

    keys: tuple[str, ...]
    doubts: Floats
    guesses: Floats
    untold: Floats

    @property
    def covariance(self) -> Floats:
        """Return the covariance of the numbers, shape (keys, keys)."""
        found: Floats = np.cov(self.guesses.T).reshape(len(self.keys), -1) + np.diag(self.untold**2)
        return found


def _offsets(problem: Problem, normals: Floats) -> _Offsets:
    """Return how far the numbers a workout hangs on are off for athletes of these normals (mixed already)."""
    numbers = Draws.numbers(problem)
    keys = tuple(key for key in _figures(problem) if key in numbers)
    drawn = [numbers[key] for key in keys]
    guesses = np.column_stack([one.share * one.spread * normals[:, one.column] for one in drawn])
    untold = np.array([one.doubt * np.sqrt(1.0 - one.share) for one in drawn])
    return _Offsets(keys, np.array([one.doubt for one in drawn]), guesses, untold)


def _with_others(athlete: Athlete, told: _Offsets) -> _Offsets:
    """Return offsets with those of numbers outside the workout that were learnt together with some inside it.

    They follow the regression on those inside, which is exact where all doubts are normal.
    """
    inside = len(told.keys)
    others = tuple(key for key in sorted(athlete.learnt) if key not in told.keys)
    within = Together(athlete).among(told.keys + others)
    tied = [i for i in range(len(others)) if np.abs(within[inside + i, :inside]).max() > 0]
    if not tied:
        return told
    others = tuple(others[i] for i in tied)
    doubts = np.concatenate([told.doubts, [athlete.learnt[key] for key in others]])
    prior = Together(athlete).among(told.keys + others) * np.outer(doubts, doubts)
    slopes = np.linalg.solve(prior[:inside, :inside], prior[:inside, inside:])
    left = prior[inside:, inside:] - prior[inside:, :inside] @ slopes
    rng = np.random.Generator(np.random.PCG64(SEED))
    scatter = rng.multivariate_normal(np.zeros(len(others)), left, len(told.guesses))
    guesses = np.column_stack([told.guesses, told.guesses @ slopes + scatter])
    untold = np.concatenate([told.untold, np.sqrt(told.untold**2 @ slopes**2)])
    return _Offsets(told.keys + others, doubts, guesses, untold)


def _lessons(problem: Problem, normals: Floats) -> list[Lesson]:
    """Return what athletes that fit (their mixed normals) say of every number."""
    athlete, figures = problem.athlete, _figures(problem)
    found = _with_others(athlete, _offsets(problem, normals))
    spreads = np.sqrt(np.diag(found.covariance))
    within = found.covariance / np.outer(spreads, spreads)
    rows = []
    for i, key in enumerate(found.keys):
        label, unit, figure = figures[key] if key in figures else _known(problem, key)
        doubt = float(found.doubts[i])
        low, high = np.quantile(found.guesses[:, i], BELIEVED)
        by = float(np.clip(np.clip(0.0, low, high), -MOST_DOUBTS * doubt, MOST_DOUBTS * doubt))
        left = min(doubt, float(spreads[i]))
        if max(abs(by), doubt - left) >= WORTH_TELLING_FRAC:
            after = round(figure.value * float(np.exp(by)), -2 if unit == "J" else 1)
            together = {other: float(within[i, j]) for j, other in enumerate(found.keys) if j != i}
            rows.append(Lesson(key, label, unit, figure, doubt, after, left, together))
    return rows


def _known(problem: Problem, key: str) -> tuple[str, str, Figure]:
    """Return label, unit and figure of a learnt number that the workout does not hang on."""
    athlete = problem.athlete
    if key in BODY:
        return (*BODY[key], body_figure(athlete, key))
    lift = key in athlete.one_rep_max_kg
    value = (athlete.one_rep_max_kg if lift else athlete.unbroken)[key]
    label, unit = (f"1RM {key}", "kg") if lift else (f"longest set of {key}", "reps")
    return label, unit, Figure(value, athlete.origin(key))


def _surprise(problem: Problem, plan: Plan, result: Result) -> tuple[str, float]:
    """Return the middle of the days on which the numbers on file are right, and by how many it went better."""
    form = problem.course.workout.form
    outs = run_samples(problem, problem.choices(plan), *draw_samples(problem, doubts=0.0))
    days = problem.lost_s(outs)
    middle = outs[np.argsort(days)[len(days) // 2]]
    usual = Result("", "", form is Form.FOR_TIME and bool(middle[k.FINISHED] > 0), 0.0)
    usual = replace(usual, value=float(middle[k.TIME if usual.finished else k.DONE]))
    end_s = float(problem.seg_f[-1, k.DEADLINE])
    luck_s = max(float(np.std(days)), LEAST_LUCK_FRAC * (end_s if end_s < k.LONG_S else float(np.mean(days))))
    out = np.zeros((1, k.N_OUT))
    out[0, [k.TIME, k.DONE, k.FINISHED]] = result.value, result.value, float(result.finished)
    return result_text(usual, form), (float(np.median(days)) - float(problem.lost_s(out)[0])) / luck_s
