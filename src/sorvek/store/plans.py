"""Plans a coach kept: shorthand by movement, tied to the version of the workout they were made for."""

import json
from dataclasses import dataclass
from datetime import UTC, datetime

from sorvek.store.tables import PlanRow


@dataclass(frozen=True, slots=True)
class SavedPlan:
    """One line of shorthand a movement, and the workout version it was made for."""

    schemes: tuple[str, ...]
    workout_version: int
    saved_at: datetime


def load_plan(workout_id: int, athlete_id: int) -> SavedPlan | None:
    """Return the kept plan of an athlete on a workout, None if there is none."""
    row = PlanRow.get_or_none((PlanRow.workout == workout_id) & (PlanRow.athlete == athlete_id))
    return SavedPlan(tuple(json.loads(row.schemes)), row.workout_version, row.saved_at) if row else None


def save_plan(workout_id: int, athlete_id: int, schemes: list[str], workout_version: int) -> None:
    """Keep a plan in place of the one before."""
    PlanRow.insert(
        workout=workout_id,
        athlete=athlete_id,
        schemes=json.dumps(schemes),
        workout_version=workout_version,
        saved_at=datetime.now(UTC).replace(tzinfo=None),
    ).on_conflict(
        conflict_target=[PlanRow.workout, PlanRow.athlete],
        preserve=[PlanRow.schemes, PlanRow.workout_version, PlanRow.saved_at],
    ).execute()


def drop_plan(workout_id: int, athlete_id: int) -> None:
    """Forget a kept plan, so that the computed one stands again."""
    PlanRow.delete().where((PlanRow.workout == workout_id) & (PlanRow.athlete == athlete_id)).execute()
