"""Plans a coach kept: shorthand by movement, tied to the version of the workout they were made for."""

import json
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

from sorvek.store.changes import Changed, actor, note
from sorvek.store.errors import ConflictError
from sorvek.store.tables import PlanRow, PlanVersionRow, database

NEVER_KEPT = 0
"""The version seen by who sees no kept plan."""


@dataclass(frozen=True, slots=True)
class SavedPlan:
    """One line of shorthand a movement, the temperament, the workout version it was made for, and the own one."""

    schemes: tuple[str, ...]
    temper: str
    workout_version: int
    saved_at: datetime
    version: int
    author: str = ""


def _of(workout_id: int, athlete_id: int) -> PlanRow | None:
    row: PlanRow | None = PlanRow.get_or_none((PlanRow.workout == workout_id) & (PlanRow.athlete == athlete_id))
    return row


def load_plan(workout_id: int, athlete_id: int) -> SavedPlan | None:
    """Return the kept plan of an athlete on a workout, None if there is none."""
    row = _of(workout_id, athlete_id)
    if row is None:
        return None
    author = next((kept.author for kept in plan_versions(workout_id, athlete_id)), "")
    return SavedPlan(
        tuple(json.loads(row.schemes)), row.temper, row.workout_version, row.saved_at, row.version, author
    )


def plans_on(workout_id: int) -> dict[int, SavedPlan]:
    """Return the kept plans of a workout by athlete, without who kept them."""
    return {
        row.athlete_id: SavedPlan(
            tuple(json.loads(row.schemes)), row.temper, row.workout_version, row.saved_at, row.version
        )
        for row in PlanRow.select().where(PlanRow.workout == workout_id)
    }


def save_plan(
    workout_id: int,
    athlete_id: int,
    schemes: Sequence[str],
    workout_version: int,
    seen_version: int,
    author: str = "",
    temper: str = "steady",
) -> None:
    """Keep a plan in place of the one before, which stays among the versions.

    Raises: ConflictError if another plan was kept or dropped since `seen_version` (`NEVER_KEPT` for none).
    """
    now, texts = datetime.now(UTC).replace(tzinfo=None), json.dumps(list(schemes))
    with database.atomic("IMMEDIATE"):
        row = _of(workout_id, athlete_id)
        if (row.version if row else NEVER_KEPT) != seen_version:
            raise ConflictError("this plan")
        kept = PlanVersionRow.create(
            workout=workout_id,
            athlete=athlete_id,
            schemes=texts,
            temper=temper,
            author=actor() or author,
            saved_at=now,
        )
        # Ids of kept plans only grow, so that a version never comes again, even after a plan was dropped.
        values = {
            "schemes": texts,
            "temper": temper,
            "workout_version": workout_version,
            "saved_at": now,
            "version": max(seen_version + 1, kept.id),
        }
        if row:
            PlanRow.update(**values).where(PlanRow.id == row.id).execute()
        else:
            PlanRow.create(workout=workout_id, athlete=athlete_id, **values)
        note(Changed.PLAN, athlete_id, f"plan on workout {workout_id}: {' · '.join(schemes)}")


def drop_plan(workout_id: int, athlete_id: int, seen_version: int) -> None:
    """Forget a kept plan, so that the computed one stands again; it stays among the versions.

    Raises: ConflictError if another plan was kept since `seen_version`.
    """
    row = _of(workout_id, athlete_id)
    if row is None:
        return
    with database.atomic():
        gone = PlanRow.delete().where((PlanRow.id == row.id) & (PlanRow.version == seen_version)).execute()
        if not gone:
            raise ConflictError("this plan")
        note(Changed.PLAN, athlete_id, f"plan on workout {workout_id} dropped; the computed one stands")


@dataclass(frozen=True, slots=True)
class PlanVersion:
    """A plan as it was kept once."""

    id: int
    schemes: tuple[str, ...]
    temper: str
    author: str
    saved_at: datetime


def plan_versions(workout_id: int, athlete_id: int) -> list[PlanVersion]:
    """Return the plans kept for an athlete on a workout, the latest first."""
    of_pair = (PlanVersionRow.workout == workout_id) & (PlanVersionRow.athlete == athlete_id)
    rows = PlanVersionRow.select().where(of_pair).order_by(PlanVersionRow.id.desc())
    return [
        PlanVersion(row.id, tuple(json.loads(row.schemes)), row.temper, row.author, row.saved_at) for row in rows
    ]
