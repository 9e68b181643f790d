"""What a coach decides about an athlete on one workout: the tier, substitutes for flagged movements, left out."""

import json
from collections.abc import Mapping
from dataclasses import dataclass, field

from sorvek.store.tables import PlacingRow


@dataclass(frozen=True, slots=True)
class Placing:
    """One decision; an empty tier leaves the computed one."""

    tier: str = ""
    substitutes: Mapping[str, str] = field(default_factory=dict)
    left_out: bool = False


def placings_of(workout_id: int) -> dict[int, Placing]:
    """Return the decisions on a workout by athlete id."""
    rows = PlacingRow.select().where(PlacingRow.workout == workout_id)
    return {row.athlete_id: Placing(row.tier, json.loads(row.substitutes), row.left_out) for row in rows}


def save_placing(workout_id: int, athlete_id: int, placing: Placing) -> None:
    """Keep a decision in place of the one before."""
    PlacingRow.insert(
        workout=workout_id,
        athlete=athlete_id,
        tier=placing.tier,
        substitutes=json.dumps(dict(placing.substitutes)),
        left_out=placing.left_out,
    ).on_conflict(
        conflict_target=[PlacingRow.workout, PlacingRow.athlete],
        preserve=[PlacingRow.tier, PlacingRow.substitutes, PlacingRow.left_out],
    ).execute()
