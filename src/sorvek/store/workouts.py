"""Workouts: saved as typed, only if they parse."""

from dataclasses import dataclass
from datetime import UTC, date, datetime
from functools import lru_cache

from sorvek.core.workout import Library, Workout, parse_workout
from sorvek.store.library import club_library
from sorvek.store.tables import TextRow, WorkoutRow, database


@dataclass(frozen=True, slots=True)
class SavedWorkout:
    """A stored announcement; `version` grows with every change of its text."""

    id: int
    text: str
    workout: Workout
    opens_on: date
    due_on: date
    version: int

    @property
    def title(self) -> str:
        """Return the title, or a stand-in for an untitled one."""
        return self.workout.title or "Untitled workout"


@lru_cache(maxsize=64)
def _parsed(text: str, library: Library) -> Workout:
    return parse_workout(text, library)


def _from_row(row: WorkoutRow) -> SavedWorkout:
    workout = _parsed(row.text, club_library())
    return SavedWorkout(row.id, row.text, workout, row.opens_on, row.due_on, row.version)


def all_workouts() -> list[SavedWorkout]:
    """Return all workouts, earliest first."""
    return [_from_row(row) for row in WorkoutRow.select().order_by(WorkoutRow.opens_on, WorkoutRow.id)]


def load_workout(workout_id: int) -> SavedWorkout | None:
    """Return one workout, None if there is none."""
    row = WorkoutRow.get_or_none(WorkoutRow.id == workout_id)
    return _from_row(row) if row else None


def add_workout(text: str, opens_on: date, due_on: date) -> int:
    """Store a new workout and return its id.

    Raises: NotationError if the text does not parse; nothing is stored then.
    """
    workout = parse_workout(text, club_library())
    row = WorkoutRow.create(title=workout.title, text=text, opens_on=opens_on, due_on=due_on)
    return int(row.id)


def save_text(workout_id: int, text: str, seen_version: int) -> bool:
    """Replace a workout's text; return False if somebody saved another since `seen_version`.

    Raises: NotationError if the text does not parse; nothing is changed then.
    """
    workout = parse_workout(text, club_library())
    with database.atomic():
        before = WorkoutRow.get_by_id(workout_id)
        changed = (
            WorkoutRow.update(title=workout.title, text=text, version=WorkoutRow.version + 1)
            .where((WorkoutRow.id == workout_id) & (WorkoutRow.version == seen_version))
            .execute()
        )
        if changed:
            now = datetime.now(UTC).replace(tzinfo=None)
            TextRow.create(workout=workout_id, version=before.version, text=before.text, saved_at=now)
    return bool(changed)


def earlier_texts(workout_id: int) -> list[tuple[int, str, datetime]]:
    """Return the texts a workout had before: version, text, when it was replaced (UTC); the latest first."""
    rows = TextRow.select().where(TextRow.workout == workout_id).order_by(TextRow.version.desc())
    return [(row.version, row.text, row.saved_at) for row in rows]


def move_days(title: str, opens_on: date, due_on: date) -> None:
    """Give the workouts of a title other days."""
    WorkoutRow.update(opens_on=opens_on, due_on=due_on).where(WorkoutRow.title == title).execute()
