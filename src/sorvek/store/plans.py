"""Plans a coach kept: shorthand by movement, tied to the version of the workout they were made for."""

import json
from dataclasses import dataclass
from datetime import UTC, datetime

from sorvek.store.tables import PlanRow, PlanVersionRow


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


def save_plan(workout_id: int, athlete_id: int, schemes: list[str], workout_version: int, author: str = "") -> None:
    """Keep a plan in place of the one before, which stays among the versions."""
    now = datetime.now(UTC).replace(tzinfo=None)
    texts = json.dumps(schemes)
    PlanVersionRow.create(workout=workout_id, athlete=athlete_id, schemes=texts, author=author, saved_at=now)
    PlanRow.insert(
        workout=workout_id,
        athlete=athlete_id,
        schemes=texts,
        workout_version=workout_version,
        saved_at=now,
    ).on_conflict(
        conflict_target=[PlanRow.workout, PlanRow.athlete],
        preserve=[PlanRow.schemes, PlanRow.workout_version, PlanRow.saved_at],
    ).execute()


def drop_plan(workout_id: int, athlete_id: int) -> None:
    """Forget a kept plan, so that the computed one stands again."""
    PlanRow.delete().where((PlanRow.workout == workout_id) & (PlanRow.athlete == athlete_id)).execute()


@dataclass(frozen=True, slots=True)
class PlanVersion:
    """A plan as it was kept once."""

    id: int
    schemes: tuple[str, ...]
    author: str
    saved_at: datetime


def plan_versions(workout_id: int, athlete_id: int) -> list[PlanVersion]:
    """Return the plans kept for an athlete on a workout, the latest first."""
    of_pair = (PlanVersionRow.workout == workout_id) & (PlanVersionRow.athlete == athlete_id)
    rows = PlanVersionRow.select().where(of_pair).order_by(PlanVersionRow.id.desc())
    return [PlanVersion(row.id, tuple(json.loads(row.schemes)), row.author, row.saved_at) for row in rows]
