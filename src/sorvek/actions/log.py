"""The log: attempts written down, taken from files, held against their plan, corrected."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, time
from itertools import accumulate

from sorvek.actions.entry import Entry, load_entry
from sorvek.actions.log_csv import LogRow
from sorvek.actions.plans import in_force
from sorvek.core.athlete import Athlete
from sorvek.core.club import Outlook, plan_of, result_text
from sorvek.core.live import LaneState
from sorvek.core.plan import Plan, shorthand
from sorvek.core.planner import plan_workout
from sorvek.core.season import (
    DoneRow,
    DoneStretch,
    Record,
    aged,
    of_splits,
    stretches_of,
    told,
    unlearn,
)
from sorvek.core.simulation import Problem, Timeline, problem_for, run_plan
from sorvek.core.table import RowError
from sorvek.core.workout import Form, read_workout
from sorvek.store.athletes import SavedAthlete, all_athletes
from sorvek.store.library import club_library
from sorvek.store.log import Expected, LoggedAttempt, add_attempt, change_attempt
from sorvek.store.outlooks import outlooks_of
from sorvek.store.workouts import SavedWorkout

# A try whose hour nobody knows is taken to be at six in the evening; the last day ends before midnight.
USUAL_HOUR, LAST_HOUR = time(18), time(23, 59)


@dataclass(frozen=True, slots=True)
class LogLine:
    """One attempt in the list of a workout: who, the result in words, the forecast if there was one."""

    attempt: LoggedAttempt
    name: str
    result: str
    outlook: Outlook | None
    splits: tuple[float, ...]


def round_ends(saved: SavedWorkout, attempt: LoggedAttempt) -> tuple[float, ...]:
    """Return when whole rounds ended in an attempt, in s; empty where nothing was tapped."""
    if not attempt.record.taps or saved.workout.form is Form.LIFT:
        return ()
    course = saved.readout.course
    schemes = attempt.record.schemes
    if len(schemes) != len(course.slots):
        return ()
    state = attempt.record.state(course, plan_of(schemes))
    ends = {}
    for one in state.done:
        last = one.segment + 1 == len(course.segments)
        over = last or course.segments[one.segment + 1].round != course.segments[one.segment].round
        if over and one.segment < state.segment and one.at_s is not None:
            ends[course.segments[one.segment].round] = one.at_s
    return tuple(ends.values())


def log_of(saved: SavedWorkout, attempts: Sequence[LoggedAttempt]) -> list[LogLine]:
    """Return attempts at a workout as they stand in its log."""
    names = {athlete.id: athlete.athlete.name for athlete in all_athletes()}
    outlooks = outlooks_of(saved.id)
    return [
        LogLine(
            attempt,
            names[attempt.athlete_id],
            result_text(attempt.result, saved.workout.form),
            outlooks[attempt.athlete_id].outlook if attempt.athlete_id in outlooks else None,
            round_ends(saved, attempt),
        )
        for attempt in attempts
        if attempt.athlete_id in names
    ]


def _schemes(entry: Entry | None) -> tuple[str, ...]:
    if entry is None or entry.held or entry.lift_alone:
        return ()
    return tuple(shorthand(phases) for phases in in_force(entry).plan.slots)


def _unlike(saved: SavedWorkout, row: LogRow) -> str:
    """Return in words how splits and score of a row contradict each other, empty if they do not."""
    if not row.splits_s or saved.workout.form is Form.LIFT:
        return ""
    course, reps = saved.readout.course, dict[int, int]()
    for segment in course.segments:
        reps[segment.round] = reps.get(segment.round, 0) + segment.counted
    rounds = list(accumulate(reps.values()))
    if len(row.splits_s) > len(rounds):
        return f"{len(row.splits_s)} rounds ended, but the workout has {len(rounds)}"
    done, result = rounds[len(row.splits_s) - 1], row.result
    if not result.finished and result.value < done:
        return f"{len(row.splits_s)} rounds are {done} reps, more than the score"
    if result.finished and row.splits_s[-1] > result.value:
        return "a round ended after the score"
    return ""


def log_rows(saved: SavedWorkout, rows: Sequence[LogRow]) -> list[RowError]:
    """Log attempts that were written down, all or none; return what is wrong, by the number of the row."""
    ids = {athlete.athlete.name.casefold(): athlete.id for athlete in all_athletes()}
    errors = [
        RowError(i, "athlete", f"nobody in the roster is called “{row.athlete}”")
        for i, row in enumerate(rows, 1)
        if row.athlete.casefold() not in ids
    ]
    errors = errors or [
        RowError(i, "splits", problem) for i, row in enumerate(rows, 1) if (problem := _unlike(saved, row))
    ]
    if errors:
        return errors
    outlooks = outlooks_of(saved.id)
    for row in rows:
        athlete_id = ids[row.athlete.casefold()]
        schemes = _schemes(load_entry(saved.id, athlete_id)) if row.splits_s else ()
        add_attempt(
            athlete_id,
            LoggedAttempt(
                saved.title,
                saved.text,
                row.done_on,
                row.result,
                workout_id=saved.id,
                record=of_splits(schemes, row.splits_s) if row.splits_s else Record(),
                gave_out=row.gave_out,
                torn=row.torn,
                notes=row.notes,
                expected=Expected.of(outlooks[athlete_id].outlook) if athlete_id in outlooks else None,
            ),
        )
    return []


@dataclass(frozen=True, slots=True)
class Looked:
    """An attempt looked at: the athlete believed in before it, the plan, what was done, and where seconds went."""

    problem: Problem
    plan: Plan
    planned: Timeline
    state: LaneState
    stretches: tuple[DoneStretch, ...]
    told: tuple[str, ...]


def looked_at(saved: SavedAthlete, attempt: LoggedAttempt) -> Looked | None:
    """Return an attempt beside its plan, None for a lift alone.

    Raises: CoreError if the workout cannot be read or planned any more.
    """
    workout = read_workout(attempt.text, club_library()).workout
    if workout.form is Form.LIFT:
        return None
    problem = problem_for(workout, believed(saved.athlete, attempt))
    plan = attempt.record.plan(problem.course, plan_workout(problem).plan)
    planned, state = run_plan(problem, plan), attempt.record.state(problem.course, plan)
    found = stretches_of(problem, planned, state)
    return Looked(problem, plan, planned, state, found, told(problem.course, found))


def believed(athlete: Athlete, attempt: LoggedAttempt) -> Athlete:
    """Return the athlete as believed in before an attempt: without what it taught."""
    return aged(unlearn(athlete, attempt.taught), attempt.done_on.isoformat())


def correct(saved: SavedAthlete, attempt: LoggedAttempt, rows: Sequence[DoneRow], seen_version: int) -> None:
    """Store other sets for an attempt; the score follows from them where they say it.

    Raises: FloorError naming the row that cannot be; ConflictError if somebody changed the attempt meanwhile.
    """
    looked = looked_at(saved, attempt)
    if looked is None:
        return
    course = looked.problem.course
    record = attempt.record.corrected(course, looked.plan, rows)
    state, result = record.state(course, looked.plan), attempt.result
    if state.finished(course) and course.workout.form is Form.FOR_TIME:
        result = replace(result, finished=True, value=state.last_s)
    elif state.reps(course) >= result.value or not result.finished:
        result = replace(result, finished=False, value=float(state.reps(course)))
    change_attempt(replace(attempt, record=record, result=result), seen_version)


def describe(attempt: LoggedAttempt, form: Mapping[str, str], today: date, seen_version: int) -> None:
    """Store what somebody says of an attempt: the day, what gave out, hands, notes.

    Raises: ConflictError if somebody changed the attempt meanwhile; ValueError for a day that is none.
    """
    done_on = date.fromisoformat(form.get("done_on") or attempt.done_on.isoformat())
    change_attempt(
        replace(
            attempt,
            done_on=min(done_on, today),
            gave_out=form.get("gave_out", "")[:40],
            torn=bool(form.get("torn")),
            soreness=min(3, max(0, int(form.get("soreness") or 0))),
            notes=form.get("notes", "")[:2000],
        ),
        seen_version,
    )


def decide_again(attempt: LoggedAttempt, again: str, seen_version: int) -> None:
    """Store whether an attempt is to be repeated (`yes`, `no`, or empty).

    Raises: ConflictError if somebody changed the attempt meanwhile.
    """
    change_attempt(replace(attempt, again=again if again in ("yes", "no") else ""), seen_version)


def mark_submitted(attempt: LoggedAttempt, submitted: bool, seen_version: int) -> None:
    """Store whether the organiser has the score of an attempt.

    Raises: ConflictError if somebody changed the attempt meanwhile.
    """
    change_attempt(replace(attempt, submitted=submitted), seen_version)
