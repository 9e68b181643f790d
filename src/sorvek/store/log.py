"""The log: attempts, each with the workout as it was announced, what was done, and what it taught."""

import json
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import UTC, date, datetime
from typing import Any, NamedTuple

from peewee import fn

from sorvek.core.athlete import Athlete
from sorvek.core.club import Outlook, Result, order_key
from sorvek.core.season import Kept, Record, read_record, record_text
from sorvek.store.athletes import SavedAthlete, save_athlete
from sorvek.store.changes import Changed, difference, note
from sorvek.store.errors import ConflictError
from sorvek.store.tables import AttemptRow, database


class Expected(NamedTuple):
    """A forecast: a good, the middle and a bad day, each as whether it finishes and its time in s or reps."""

    good: tuple[bool, float]
    middle: tuple[bool, float]
    bad: tuple[bool, float]

    @classmethod
    def of(cls, outlook: Outlook) -> "Expected":
        """Return the forecast of an outlook."""
        return cls(outlook.good[:2], outlook.middle[:2], outlook.bad[:2])

    def holds(self, result: Result) -> bool:
        """Return whether a result lies inside the band of eight days of ten."""
        key = order_key(result)
        good, bad = (order_key(Result("", "", *day)) for day in (self.good, self.bad))
        return good[:2] <= key[:2] <= bad[:2]


@dataclass(frozen=True, slots=True)
class LoggedAttempt:
    """One logged attempt; the result's name is the athlete's, `taught` holds by key the numbers learnt from it.

    `workout_id` is that of a workout of this season, `done_at` the hour where it is known, `record` what was done,
    `gave_out` what ended it by what somebody saw, `torn` whether hands were torn, `soreness` from 0 (not) to 3
    (very), `again` whether it is to be repeated (`yes`, `no`, or empty while nobody has decided), `submitted`
    whether the organiser has the score, `expected` the forecast as it stood when the attempt was logged.
    """

    title: str
    text: str
    done_on: date
    result: Result
    id: int = 0
    taught: Mapping[str, Kept] = field(default_factory=dict)
    workout_id: int | None = None
    done_at: datetime | None = None
    record: Record = field(default_factory=Record)
    gave_out: str = ""
    torn: bool = False
    notes: str = ""
    soreness: int = 0
    again: str = ""
    submitted: bool = False
    expected: Expected | None = None
    version: int = 1
    athlete_id: int = 0


def _from_row(row: AttemptRow) -> LoggedAttempt:
    return LoggedAttempt(
        title=row.title,
        text=row.text,
        done_on=row.done_on,
        result=Result("", "", row.finished, row.value, row.tiebreak_s, row.lift_kg),
        id=row.id,
        taught={key: Kept(*values) for key, values in json.loads(row.taught or "{}").items()},
        workout_id=row.workout_id,
        done_at=row.done_at,
        record=read_record(row.done),
        gave_out=row.gave_out,
        torn=row.torn,
        notes=row.notes,
        soreness=row.soreness,
        again=row.again,
        submitted=row.submitted,
        expected=Expected(*map(tuple, json.loads(row.expected))) if row.expected else None,
        version=row.version,
        athlete_id=row.athlete_id,
    )


def attempts_of(athlete_id: int) -> list[LoggedAttempt]:
    """Return an athlete's attempts, the latest first."""
    mine = (AttemptRow.athlete == athlete_id) & AttemptRow.removed_at.is_null()
    return [_from_row(row) for row in AttemptRow.select().where(mine).order_by(*_LATEST_FIRST)]


def attempts_on(workout_id: int) -> list[LoggedAttempt]:
    """Return everybody's attempts at a workout of this season, the latest first."""
    mine = (AttemptRow.workout == workout_id) & AttemptRow.removed_at.is_null()
    return [_from_row(row) for row in AttemptRow.select().where(mine).order_by(*_LATEST_FIRST)]


def best_on(workout_id: int, athlete_id: int | None = None) -> dict[int, Result]:
    """Return the best result of everybody on a workout of this season, or of one; records stay unread."""
    wanted = (AttemptRow.workout == workout_id) & AttemptRow.removed_at.is_null()
    if athlete_id is not None:
        wanted &= AttemptRow.athlete == athlete_id
    columns = (AttemptRow.athlete, AttemptRow.finished, AttemptRow.value, AttemptRow.tiebreak_s, AttemptRow.lift_kg)
    best: dict[int, Result] = {}
    for row in AttemptRow.select(*columns).where(wanted):
        result = Result("", "", row.finished, row.value, row.tiebreak_s, row.lift_kg)
        known = best.get(row.athlete_id)
        if known is None or order_key(result) < order_key(known):
            best[row.athlete_id] = result
    return best


def attempts_where(wanted: Any, first: int = 0, size: int = -1) -> list[LoggedAttempt]:
    """Return attempts that fit a condition of the store, the latest first: `size` (−1: all) from `first`."""
    rows = AttemptRow.select().where(wanted).order_by(*_LATEST_FIRST).limit(size).offset(first)
    return [_from_row(row) for row in rows]


_LATEST_FIRST = (AttemptRow.done_on.desc(), AttemptRow.done_at.desc(), AttemptRow.id.desc())


def done_counts() -> dict[str, int]:
    """Return how many athletes have an attempt in the log, by the title of the workout."""
    count = fn.COUNT(AttemptRow.athlete.distinct())
    rows: Any = AttemptRow.select(AttemptRow.title, count).where(AttemptRow.removed_at.is_null())
    return dict(rows.group_by(AttemptRow.title).tuples())


@dataclass(frozen=True, slots=True)
class AttemptCounts:
    """How many athletes did a workout of the week, have submitted it, and are to repeat it."""

    done: int = 0
    submitted: int = 0
    again: int = 0


def counts_by_workout() -> dict[int, AttemptCounts]:
    """Return the counts of every workout that has an attempt, by its id."""
    there = AttemptRow.workout.is_null(False) & AttemptRow.removed_at.is_null()
    columns = (AttemptRow.workout, AttemptRow.athlete, AttemptRow.submitted, AttemptRow.again)
    rows: Any = AttemptRow.select(*columns).where(there).order_by(AttemptRow.id).tuples()
    done: dict[int, dict[int, tuple[bool, bool]]] = {}
    for workout_id, athlete_id, submitted, again in rows:
        before = done.setdefault(workout_id, {}).get(athlete_id, (False, False))
        # The latest attempt decides what is still to be done, any may have been submitted.
        done[workout_id][athlete_id] = (before[0] or submitted, again == "yes")
    return {
        workout_id: AttemptCounts(len(by), sum(s for s, _ in by.values()), sum(a for _, a in by.values()))
        for workout_id, by in done.items()
    }


def load_attempt(athlete_id: int, attempt_id: int) -> LoggedAttempt | None:
    """Return one attempt of an athlete, None if there is none."""
    mine = (AttemptRow.id == attempt_id) & (AttemptRow.athlete == athlete_id) & AttemptRow.removed_at.is_null()
    row = AttemptRow.get_or_none(mine)
    return _from_row(row) if row else None


def _columns(attempt: LoggedAttempt) -> dict[str, object]:
    return {
        "title": attempt.title,
        "text": attempt.text,
        "done_on": attempt.done_on,
        "finished": attempt.result.finished,
        "value": attempt.result.value,
        "tiebreak_s": attempt.result.tiebreak_s,
        "lift_kg": attempt.result.lift_kg,
        "workout": attempt.workout_id,
        "done_at": attempt.done_at,
        "done": record_text(attempt.record) if attempt.record != Record() else "",
        "gave_out": attempt.gave_out,
        "torn": attempt.torn,
        "notes": attempt.notes,
        "soreness": attempt.soreness,
        "again": attempt.again,
        "submitted": attempt.submitted,
        "expected": json.dumps(attempt.expected) if attempt.expected else "",
    }


def _kept(attempt: LoggedAttempt) -> dict[str, object]:
    """Return what can be corrected of an attempt, as it goes into its history."""
    columns = _columns(attempt)
    names = ("finished", "value", "tiebreak_s", "lift_kg", "done", "gave_out", "torn", "soreness", "notes", "again")
    return {name: columns[name] for name in names} | {
        "submitted": attempt.submitted,
        "done_on": attempt.done_on.isoformat(),
    }


def _told(kept: Mapping[str, object]) -> dict[str, object]:
    """Return a history's fields as they are told: the taps by their number."""
    return {**kept, "done": f"{str(kept['done']).count('kind')} taps"}


def restored_attempt(attempt: LoggedAttempt, kept: Mapping[str, Any]) -> LoggedAttempt:
    """Return an attempt as it stood after a change of its history."""
    now = attempt.result
    return replace(
        attempt,
        result=replace(
            now,
            finished=kept["finished"],
            value=kept["value"],
            tiebreak_s=kept["tiebreak_s"],
            lift_kg=kept["lift_kg"],
        ),
        record=read_record(kept["done"]),
        done_on=date.fromisoformat(kept["done_on"]),
        **{name: kept[name] for name in ("gave_out", "torn", "soreness", "notes", "again", "submitted")},
    )


def add_attempt(athlete_id: int, attempt: LoggedAttempt) -> int:
    """Log an attempt; return its id."""
    with database.atomic():
        new = int(AttemptRow.create(athlete=athlete_id, **_columns(attempt)).id)
        note(Changed.ATTEMPT, new, "logged", _kept(attempt))
    return new


def change_attempt(attempt: LoggedAttempt, seen_version: int) -> None:
    """Store an attempt that was corrected.

    Raises: ConflictError if somebody changed it since `seen_version`.
    """
    mine = (AttemptRow.id == attempt.id) & (AttemptRow.version == seen_version)
    columns = _columns(attempt) | {"version": seen_version + 1}
    with database.atomic():
        before = AttemptRow.get_or_none(mine)
        if before is None or not AttemptRow.update(columns).where(mine).execute():
            raise ConflictError("this attempt")
        told = difference(_told(_kept(_from_row(before))), _told(_kept(attempt)))
        if told:
            note(Changed.ATTEMPT, attempt.id, told, _kept(attempt))


def remove_attempt(athlete_id: int, attempt_id: int, removed: bool = True) -> bool:
    """Take an attempt out of the log, or put it back; return whether there was one."""
    when = datetime.now(UTC).replace(tzinfo=None) if removed else None
    mine = (AttemptRow.id == attempt_id) & (AttemptRow.athlete == athlete_id)
    with database.atomic():
        there = bool(AttemptRow.update(removed_at=when).where(mine).execute())
        if there:
            note(Changed.ATTEMPT, attempt_id, "taken out" if removed else "put back")
    return there


def save_taught(
    saved: SavedAthlete, attempt_id: int, athlete: Athlete, taught: Mapping[str, Kept], seen_version: int
) -> None:
    """Store an athlete with what an attempt taught.

    Raises: ConflictError if somebody saved the athlete since `seen_version`.
    """
    with database.atomic():
        save_athlete(saved.id, athlete, seen_version)
        AttemptRow.update(taught=json.dumps(taught) if taught else "").where(AttemptRow.id == attempt_id).execute()
        note(Changed.ATTEMPT, attempt_id, f"taught {', '.join(taught)}" if taught else "what it taught taken back")
