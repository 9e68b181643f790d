"""Outlooks: computed plans with their forecasts, and whether they still fit workout and athlete."""

import json
from dataclasses import asdict, dataclass

from peewee import fn

from sorvek.core.club import Outlook
from sorvek.store.tables import OutlookRow


@dataclass(frozen=True, slots=True)
class SavedOutlook:
    """An outlook with the versions it was computed from."""

    outlook: Outlook
    workout_version: int
    athlete_version: int


def outlooks_of(workout_id: int) -> dict[int, SavedOutlook]:
    """Return the outlooks of a workout by athlete id."""
    found = {}
    for row in OutlookRow.select().where(OutlookRow.workout == workout_id):
        data = json.loads(row.data)
        outlook = Outlook(**{**data, "schemes": tuple(data["schemes"])})
        found[row.athlete_id] = SavedOutlook(outlook, row.workout_version, row.athlete_version)
    return found


def save_outlook(workout_id: int, athlete_id: int, saved: SavedOutlook) -> None:
    """Keep an outlook in place of the one before."""
    OutlookRow.insert(
        workout=workout_id,
        athlete=athlete_id,
        workout_version=saved.workout_version,
        athlete_version=saved.athlete_version,
        data=json.dumps(asdict(saved.outlook)),
    ).on_conflict(
        conflict_target=[OutlookRow.workout, OutlookRow.athlete],
        preserve=[OutlookRow.workout_version, OutlookRow.athlete_version, OutlookRow.data],
    ).execute()


def drop_outlook(workout_id: int, athlete_id: int) -> None:
    """Forget an outlook, because what it was computed for has changed."""
    OutlookRow.delete().where((OutlookRow.workout == workout_id) & (OutlookRow.athlete == athlete_id)).execute()


def planned_counts() -> dict[int, int]:
    """Return how many athletes are planned, by workout id."""
    rows = OutlookRow.select(OutlookRow.workout, fn.COUNT(OutlookRow.id).alias("n")).group_by(OutlookRow.workout)
    return {row.workout_id: row.n for row in rows}
