"""What an attempt says: numbers to believe now, what is to blame, whether to try again."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime, time

from sorvek.actions.log import believed
from sorvek.core.athlete import Athlete
from sorvek.core.club import Result
from sorvek.core.errors import LiftError, PlatesError
from sorvek.core.lift import Typed, Wishes, lift_setup
from sorvek.core.live import LaneState, lift_windows, lifted, typed_rows
from sorvek.core.planner import plan_workout
from sorvek.core.season import (
    AgainOrNot,
    Blame,
    FirstTry,
    Lessons,
    again_at_bar,
    again_or_not,
    blame,
    hours_until,
    learn,
    lessons_of,
    lessons_of_lift,
    taken,
    with_bar,
)
from sorvek.core.simulation import Tank, problem_for, run_plan
from sorvek.core.workout import Course, Form, Workout, read_workout
from sorvek.store.athletes import SavedAthlete
from sorvek.store.field import boards_of
from sorvek.store.library import club_library
from sorvek.store.lifts import the_gym
from sorvek.store.log import LoggedAttempt
from sorvek.store.workouts import load_workout

# A try whose hour nobody knows is taken to be at six in the evening; the last day ends before midnight.
USUAL_HOUR, LAST_HOUR = time(18), time(23, 59)


@dataclass(frozen=True, slots=True)
class Studied:
    """What an attempt says: lessons, what is to blame, whether to try again; None where that cannot be said."""

    lessons: Lessons
    blame: Blame | None
    again: AgainOrNot | None


@dataclass(frozen=True, slots=True)
class _Work:
    """The work of an attempt as it was done: its course, what the lane came to, what it left for a lift."""

    course: Course | None = None
    state: LaneState | None = None
    tank: Tank | None = None


def studied(saved: SavedAthlete, attempt: LoggedAttempt) -> Studied:
    """Return what an attempt says about an athlete.

    Raises: CoreError if the workout cannot be read or planned any more.
    """
    workout = read_workout(attempt.text, club_library()).workout
    before, hours = believed(saved.athlete, attempt), _deadline(attempt)
    if workout.form is Form.LIFT:
        return _of_lift(workout, before, attempt, hours)
    place_of, day = _place_of(saved, attempt), attempt.done_on.isoformat()
    problem = problem_for(workout, before)
    plan = attempt.record.plan(problem.course, plan_workout(problem).plan)
    state = attempt.record.state(problem.course, plan)
    lessons = lessons_of(workout, before, attempt.result, attempt.record)
    work = _Work(problem.course, state, run_plan(problem, plan).tank)
    lessons = _with_lifts(lessons, workout, before, attempt, work)
    now, _ = learn(before, lessons.lessons, day)
    after = problem_for(workout, now)
    done = taken(problem, math.inf if attempt.result.finished else attempt.result.value)
    first = FirstTry(attempt.result, done, attempt.soreness, attempt.torn)
    return Studied(
        lessons,
        blame(problem, plan, state, now) if state.done else None,
        again_or_not(after, plan_workout(after).plan, first, hours, place_of) if attempt.workout_id else None,
    )


def _of_lift(workout: Workout, before: Athlete, attempt: LoggedAttempt, hours: Sequence[float]) -> Studied:
    setup = lift_setup(workout, before, the_gym(), Wishes())
    lessons = lessons_of_lift(setup, attempt.result)
    lessons = _with_lifts(lessons, workout, before, attempt, _Work())
    now, _ = learn(before, lessons.lessons, attempt.done_on.isoformat())
    first = FirstTry(attempt.result, {}, attempt.soreness, attempt.torn)
    again = attempt.workout_id is not None and len(workout.lifts) == 1
    after = lift_setup(workout, now, the_gym(), Wishes())
    return Studied(lessons, None, again_at_bar(after, first, hours) if again else None)


def _with_lifts(
    lessons: Lessons, workout: Workout, before: Athlete, attempt: LoggedAttempt, work: _Work
) -> Lessons:
    """Return lessons with what every attempt at the bar adds, nothing where no plates of the club make the lift."""
    day = attempt.done_on.isoformat()
    windows = lift_windows(workout, work.course, work.state)
    done = lifted(attempt.record.taps, windows)
    best_kg = attempt.result.value if workout.form is Form.LIFT else attempt.result.lift_kg
    for number in range(1, len(workout.lifts) + 1):
        rows = typed_rows(done, windows, number)
        if not done and best_kg and len(workout.lifts) == 1:
            rows = (Typed(best_kg, 0.0, made=True),)
        now, _ = learn(before, lessons.lessons, day)
        try:
            setup = lift_setup(workout, now, the_gym(), Wishes(), work.tank, number=number)
            lessons = with_bar(lessons, now, setup, rows)
        except (LiftError, PlatesError):
            continue
    return lessons


def _deadline(attempt: LoggedAttempt) -> tuple[float, ...]:
    """Return the hours after an attempt at which a second try could be; it is due by the end of the last day."""
    saved = load_workout(attempt.workout_id) if attempt.workout_id else None
    if saved is None:
        return ()
    began = datetime.combine(attempt.done_on, attempt.done_at.time() if attempt.done_at else USUAL_HOUR)
    return hours_until((datetime.combine(saved.due_on, LAST_HOUR) - began).total_seconds())


def _place_of(saved: SavedAthlete, attempt: LoggedAttempt) -> Callable[[Result], float] | None:
    """Return what tells the place of a result in the field, None where there is no field."""
    boards = boards_of(attempt.workout_id) if attempt.workout_id else {}
    board = boards.get(saved.athlete.division, boards.get(""))
    if board is None or not board.results:
        return None
    return lambda result: float(board.standing(result, result).place)
