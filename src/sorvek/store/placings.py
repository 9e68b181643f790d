"""What a coach decides about an athlete on one workout: the tier, substitutes for flagged movements, left out."""

import json
from collections.abc import Mapping
from dataclasses import dataclass, field

from sorvek.store.errors import ConflictError
from sorvek.store.tables import AthleteRow, PlacingRow, database


@dataclass(frozen=True, slots=True)
class Placing:
    """One decision; an empty tier leaves the computed one. `version` is 0 where nothing was decided yet."""

    tier: str = ""
    substitutes: Mapping[str, str] = field(default_factory=dict)
    left_out: bool = False
    version: int = field(default=0, compare=False)


def _placing(row: PlacingRow) -> Placing:
    return Placing(row.tier, json.loads(row.substitutes), row.left_out, row.version)


def placings_of(workout_id: int) -> dict[int, Placing]:
    """Return the decisions on a workout by athlete id."""
    there = (PlacingRow.workout == workout_id) & AthleteRow.removed_at.is_null()
    return {row.athlete_id: _placing(row) for row in PlacingRow.select().join(AthleteRow).where(there)}


def placing_of(workout_id: int, athlete_id: int) -> Placing:
    """Return the decision about an athlete on a workout, an empty one if there is none."""
    row = PlacingRow.get_or_none((PlacingRow.workout == workout_id) & (PlacingRow.athlete == athlete_id))
    return _placing(row) if row else Placing()


def save_placing(workout_id: int, athlete_id: int, placing: Placing, seen_version: int) -> None:
    """Keep a decision in place of the one before.

    Raises: ConflictError if somebody decided otherwise since `seen_version`.
    """
    with database.atomic("IMMEDIATE"):
        version = placing_of(workout_id, athlete_id).version
        if version != seen_version:
            raise ConflictError("where this athlete stands")
        PlacingRow.insert(
            workout=workout_id,
            athlete=athlete_id,
            tier=placing.tier,
            substitutes=json.dumps(dict(placing.substitutes)),
            left_out=placing.left_out,
            version=version + 1,
        ).on_conflict(
            conflict_target=[PlacingRow.workout, PlacingRow.athlete],
            preserve=[PlacingRow.tier, PlacingRow.substitutes, PlacingRow.left_out, PlacingRow.version],
        ).execute()
