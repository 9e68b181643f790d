"""What coaches asked of lifts, and the gym they stand in."""

from sorvek.core.lift import USUAL_GYM, Gym, Wishes, gym_text, parse_gym, read_wishes, wishes_text
from sorvek.store.settings import save_setting, setting
from sorvek.store.tables import LiftRow

GYM = "gym"


def load_wishes(workout_id: int, athlete_id: int) -> Wishes:
    """Return what was kept for an athlete's lift, nothing if it never was."""
    row = LiftRow.get_or_none((LiftRow.workout == workout_id) & (LiftRow.athlete == athlete_id))
    return read_wishes(row.wishes) if row else Wishes()


def save_wishes(workout_id: int, athlete_id: int, wishes: Wishes) -> None:
    """Keep what is asked of an athlete's lift in place of what was kept before."""
    LiftRow.insert(workout=workout_id, athlete=athlete_id, wishes=wishes_text(wishes)).on_conflict(
        conflict_target=[LiftRow.workout, LiftRow.athlete], preserve=[LiftRow.wishes]
    ).execute()


def drop_wishes(workout_id: int, athlete_id: int) -> None:
    """Forget what was kept for an athlete's lift."""
    LiftRow.delete().where((LiftRow.workout == workout_id) & (LiftRow.athlete == athlete_id)).execute()


def the_gym() -> Gym:
    """Return the club's bars and plates, a usual set until somebody writes down its own."""
    return parse_gym(setting(GYM, USUAL_GYM))


def save_gym(gym: Gym) -> None:
    """Keep the club's bars and plates."""
    save_setting(GYM, gym_text(gym))
