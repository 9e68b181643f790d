"""Workouts: saved as typed, only if every page can show them; a removed one can be put back."""

import hashlib
from dataclasses import dataclass, field
from datetime import UTC, date, datetime
from functools import lru_cache

from sorvek.core.errors import CoreError
from sorvek.core.workout import Library, Readout, Workout, read_workout
from sorvek.store.changes import Changed, note
from sorvek.store.errors import ConflictError
from sorvek.store.library import club_library
from sorvek.store.tables import TextRow, WorkoutRow, database

UNTITLED = "Untitled workout"


@dataclass(frozen=True, slots=True)
class SavedWorkout:
    """A stored announcement; `version` grows with every change of its text.

    Two are equal if they are the same version of the same workout: what is computed of one is kept under it.
    """

    id: int
    version: int
    digest: str
    text: str = field(compare=False, repr=False)
    readout: Readout = field(compare=False, repr=False)
    opens_on: date = field(compare=False)
    due_on: date = field(compare=False)

    @property
    def workout(self) -> Workout:
        """Return the announcement as a tree."""
        return self.readout.workout

    @property
    def title(self) -> str:
        """Return the title, or a stand-in for an untitled one."""
        return self.workout.title or UNTITLED


@dataclass(frozen=True, slots=True)
class WorkoutText:
    """A stored announcement as it was typed; `problem` says why it cannot be read, if it cannot.

    `source` is what was pasted, empty for a text that was typed.
    """

    id: int
    version: int
    title: str
    text: str
    source: str
    opens_on: date
    due_on: date
    problem: str


@dataclass(frozen=True, slots=True)
class EarlierText:
    """A text a workout had before, and when it was replaced (UTC)."""

    version: int
    text: str
    saved_at: datetime


@lru_cache(maxsize=64)
def _read(text: str, library: Library) -> tuple[Readout, str]:
    readout = read_workout(text, library)
    # What is computed of a workout depends on its movements too: a club may change their numbers.
    numbers = "".join(map(repr, readout.movements))
    return readout, hashlib.sha256((text + numbers).encode()).hexdigest()[:16]


def _from_row(row: WorkoutRow) -> SavedWorkout:
    readout, digest = _read(row.text, club_library())
    return SavedWorkout(row.id, row.version, digest, row.text, readout, row.opens_on, row.due_on)


def _text(row: WorkoutRow) -> WorkoutText:
    problem = ""
    try:
        _from_row(row)
    except CoreError as error:
        problem = str(error)
    title = row.title or UNTITLED
    return WorkoutText(row.id, row.version, title, row.text, row.source, row.opens_on, row.due_on, problem)


def _there() -> list[WorkoutRow]:
    there = WorkoutRow.select().where(WorkoutRow.removed_at.is_null())
    return list(there.order_by(WorkoutRow.opens_on, WorkoutRow.id))


def _row(workout_id: int) -> WorkoutRow | None:
    row: WorkoutRow | None = WorkoutRow.get_or_none((WorkoutRow.id == workout_id) & WorkoutRow.removed_at.is_null())
    return row


def all_workouts() -> list[SavedWorkout]:
    """Return all workouts, earliest first, without those that cannot be read (`broken_workouts`)."""
    found = []
    for row in _there():
        try:
            found.append(_from_row(row))
        except CoreError:
            continue
    return found


def broken_workouts() -> list[WorkoutText]:
    """Return the workouts that cannot be read any more: written before a limit, or with a movement that is gone."""
    return [text for text in map(_text, _there()) if text.problem]


def load_workout(workout_id: int) -> SavedWorkout | None:
    """Return one workout, None if there is none.

    Raises: CoreError if its text cannot be read any more.
    """
    row = _row(workout_id)
    return _from_row(row) if row else None


def load_text(workout_id: int) -> WorkoutText | None:
    """Return a workout as it was typed, readable or not; None if there is none."""
    row = _row(workout_id)
    return _text(row) if row else None


def add_workout(text: str, opens_on: date, due_on: date, source: str = "") -> int:
    """Store a new workout and return its id.

    Raises: CoreError if the text cannot be read; nothing is stored then.
    """
    workout = read_workout(text, club_library()).workout
    with database.atomic():
        row = WorkoutRow.create(title=workout.title, text=text, source=source, opens_on=opens_on, due_on=due_on)
        note(Changed.WORKOUT, row.id, "read", {"text": text})
    return int(row.id)


def save_workout(
    workout_id: int, text: str, opens_on: date, due_on: date, seen_version: int, source: str = ""
) -> bool:
    """Replace a workout's text and days; return whether the text is another one.

    Raises: CoreError if the text cannot be read, ConflictError if somebody saved another since `seen_version`;
    nothing is changed then.
    """
    workout = read_workout(text, club_library()).workout
    with database.atomic("IMMEDIATE"):
        before = _row(workout_id)
        if before is None or before.version != seen_version:
            raise ConflictError("this workout")
        changed = text != before.text
        if changed:
            now = datetime.now(UTC).replace(tzinfo=None)
            TextRow.create(workout=workout_id, version=before.version, text=before.text, saved_at=now)
            before.title, before.text, before.version = workout.title, text, before.version + 1
        days = f"open {opens_on} to {due_on}" if (opens_on, due_on) != (before.opens_on, before.due_on) else ""
        before.opens_on, before.due_on, before.source = opens_on, due_on, source
        before.save()
        if told := "; ".join(filter(None, ("another text" if changed else "", days))):
            note(Changed.WORKOUT, workout_id, told, {"text": text})
    return changed


def remove_workout(workout_id: int) -> None:
    """Take a workout away; its plans, field and log wait for `restore_workout`."""
    now = datetime.now(UTC).replace(tzinfo=None)
    there = (WorkoutRow.id == workout_id) & WorkoutRow.removed_at.is_null()
    with database.atomic():
        if WorkoutRow.update(removed_at=now).where(there).execute():
            note(Changed.WORKOUT, workout_id, "removed")


def restore_workout(workout_id: int) -> bool:
    """Put a removed workout back; return False if there was none."""
    away = (WorkoutRow.id == workout_id) & WorkoutRow.removed_at.is_null(False)
    with database.atomic():
        there = bool(WorkoutRow.update(removed_at=None).where(away).execute())
        if there:
            note(Changed.WORKOUT, workout_id, "put back")
    return there


def removed_workouts() -> list[WorkoutText]:
    """Return the workouts that can be put back, the latest first."""
    rows = WorkoutRow.select().where(WorkoutRow.removed_at.is_null(False)).order_by(WorkoutRow.removed_at.desc())
    return [_text(row) for row in rows]


def earlier_texts(workout_id: int) -> list[EarlierText]:
    """Return the texts a workout had before, the latest first."""
    rows = TextRow.select().where(TextRow.workout == workout_id).order_by(TextRow.version.desc())
    return [EarlierText(row.version, row.text, row.saved_at) for row in rows]


def move_days(title: str, opens_on: date, due_on: date) -> None:
    """Give the workouts of a title other days."""
    WorkoutRow.update(opens_on=opens_on, due_on=due_on).where(WorkoutRow.title == title).execute()
