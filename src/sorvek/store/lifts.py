"""What coaches asked of lifts, and the gym they stand in."""

from dataclasses import dataclass

from sorvek.core.lift import USUAL_GYM, Gym, Wishes, gym_text, parse_gym, read_wishes, wishes_text
from sorvek.store.errors import ConflictError
from sorvek.store.settings import save_setting, setting, setting_version
from sorvek.store.tables import LiftRow, database

GYM = "gym"


@dataclass(frozen=True, slots=True)
class SavedWishes:
    """What is asked of an athlete's lift, and its version: 0 where nothing was kept."""

    wishes: Wishes
    version: int


def load_wishes(workout_id: int, athlete_id: int) -> SavedWishes:
    """Return what was kept for an athlete's lift, nothing if it never was."""
    row = LiftRow.get_or_none((LiftRow.workout == workout_id) & (LiftRow.athlete == athlete_id))
    return SavedWishes(read_wishes(row.wishes), row.version) if row else SavedWishes(Wishes(), 0)


def save_wishes(workout_id: int, athlete_id: int, wishes: Wishes, seen_version: int) -> None:
    """Keep what is asked of an athlete's lift in place of what was kept before.

    Raises: ConflictError if somebody kept something else since `seen_version`.
    """
    with database.atomic("IMMEDIATE"):
        version = load_wishes(workout_id, athlete_id).version
        if version != seen_version:
            raise ConflictError("what is asked of this lift")
        LiftRow.insert(
            workout=workout_id, athlete=athlete_id, wishes=wishes_text(wishes), version=version + 1
        ).on_conflict(
            conflict_target=[LiftRow.workout, LiftRow.athlete], preserve=[LiftRow.wishes, LiftRow.version]
        ).execute()


def the_gym() -> Gym:
    """Return the club's bars and plates, a usual set until somebody writes down its own."""
    return parse_gym(setting(GYM, USUAL_GYM))


def gym_version() -> int:
    """Return the version of the club's bars and plates."""
    return setting_version(GYM)


def save_gym(gym: Gym, seen_version: int) -> None:
    """Keep the club's bars and plates.

    Raises: ConflictError if somebody changed them since `seen_version`.
    """
    save_setting(GYM, gym_text(gym), seen_version)
