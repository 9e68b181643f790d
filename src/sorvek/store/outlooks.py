"""Outlooks: computed plans with their forecasts, and whether they still fit workout and athlete."""

import json
from collections import Counter
from collections.abc import Iterable
from dataclasses import asdict, dataclass
from typing import cast

from peewee import IntegrityError, fn

from sorvek.core.club import MODEL, Outlook
from sorvek.store.tables import AthleteRow, OutlookRow


@dataclass(frozen=True, slots=True)
class SavedOutlook:
    """An outlook with the versions it was computed from."""

    outlook: Outlook
    workout_version: int
    athlete_version: int


def outlooks_of(workout_id: int) -> dict[int, SavedOutlook]:
    """Return the outlooks of a workout by athlete id."""
    there = (OutlookRow.workout == workout_id) & AthleteRow.removed_at.is_null()
    found = ((row.athlete_id, _saved(row)) for row in OutlookRow.select().join(AthleteRow).where(there))
    return {athlete_id: saved for athlete_id, saved in found if saved}


def outlook_of_pair(workout_id: int, athlete_id: int) -> SavedOutlook | None:
    """Return the outlook of an athlete on a workout, None if there is none."""
    row = OutlookRow.get_or_none((OutlookRow.workout == workout_id) & (OutlookRow.athlete == athlete_id))
    return _saved(row) if row else None


def _saved(row: OutlookRow) -> SavedOutlook | None:
    """Return what a row holds; None for one of another model or shape: it is only computed, and computed again."""
    try:
        data = json.loads(row.data)
        if data.pop("model", 1) != MODEL:
            return None
        days = {key: tuple(data[key]) for key in ("schemes", "good", "middle", "bad")}
        days |= {key: tuple(tuple(pair) for pair in data[key]) for key in ("heaps", "gates")}
        outlook = Outlook(**{**data, **days})
    except (ValueError, KeyError, TypeError):
        return None
    return SavedOutlook(outlook, row.workout_version, row.athlete_version)


def save_outlook(workout_id: int, athlete_id: int, saved: SavedOutlook) -> bool:
    """Keep an outlook in place of the one before; return False if workout or athlete is gone for good."""
    row = OutlookRow.insert(
        workout=workout_id,
        athlete=athlete_id,
        workout_version=saved.workout_version,
        athlete_version=saved.athlete_version,
        data=json.dumps({**asdict(saved.outlook), "model": MODEL}),
    ).on_conflict(
        conflict_target=[OutlookRow.workout, OutlookRow.athlete],
        preserve=[OutlookRow.workout_version, OutlookRow.athlete_version, OutlookRow.data],
    )
    try:
        row.execute()
    except IntegrityError:
        return False
    return True


def drop_outlook(workout_id: int, athlete_id: int) -> None:
    """Forget an outlook, because what it was computed for has changed."""
    OutlookRow.delete().where((OutlookRow.workout == workout_id) & (OutlookRow.athlete == athlete_id)).execute()


def drop_outlooks(workout_ids: Iterable[int]) -> None:
    """Forget all outlooks of workouts, because the numbers of their movements have changed."""
    OutlookRow.delete().where(OutlookRow.workout.in_(list(workout_ids))).execute()


def cruxes_by_athlete() -> dict[int, Counter[str]]:
    """Return by athlete on how many planned workouts each movement decides the score."""
    found: dict[int, Counter[str]] = {}
    for row in OutlookRow.select().join(AthleteRow).where(AthleteRow.removed_at.is_null()):
        if saved := _saved(row):
            found.setdefault(row.athlete_id, Counter())[saved.outlook.crux] += 1
    return found


def planned_counts() -> dict[int, int]:
    """Return how many athletes are planned, by workout id."""
    rows = (
        OutlookRow.select(OutlookRow.workout, fn.COUNT(OutlookRow.id))
        .join(AthleteRow)
        .where(AthleteRow.removed_at.is_null())
        .group_by(OutlookRow.workout)
        .tuples()
    )
    return dict(cast("Iterable[tuple[int, int]]", rows))
