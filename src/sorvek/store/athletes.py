"""Athletes: stored as the athlete file they came from."""

import json
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

from sorvek.core.athlete import Athlete, athlete_data, read_athlete
from sorvek.core.workout import Library
from sorvek.store.library import club_library
from sorvek.store.tables import AthleteRow, database

# Reading a file takes a third of a millisecond, which a page of two hundred would feel.
KEPT = 1_000


@dataclass(frozen=True, slots=True)
class SavedAthlete:
    """A stored athlete; `data` is the athlete file as text, `version` grows with every change."""

    id: int
    data: str
    version: int
    athlete: Athlete


@lru_cache(maxsize=KEPT)
def _read(data: str, library: Library) -> Athlete:
    return read_athlete(data, library)


def _from_row(row: AthleteRow) -> SavedAthlete:
    return SavedAthlete(row.id, row.data, row.version, _read(row.data, club_library()))


def _text(athlete: Athlete) -> str:
    return json.dumps(athlete_data(athlete), sort_keys=True)


def all_athletes() -> list[SavedAthlete]:
    """Return the roster by name."""
    return [_from_row(row) for row in AthleteRow.select().order_by(AthleteRow.name)]


def load_athlete(athlete_id: int) -> SavedAthlete | None:
    """Return one athlete, None if there is none."""
    row = AthleteRow.get_or_none(AthleteRow.id == athlete_id)
    return _from_row(row) if row else None


def add_athlete(athlete: Athlete) -> int:
    """Store a new athlete and return the id."""
    return int(AthleteRow.create(name=athlete.name, data=_text(athlete)).id)


def name_taken(name: str, by_other_than: int | None = None) -> bool:
    """Return whether another athlete has this name."""
    rows = AthleteRow.select().where(AthleteRow.name == name)
    return any(row.id != by_other_than for row in rows)


def save_athlete(athlete_id: int, athlete: Athlete, seen_version: int) -> bool:
    """Replace an athlete; return False if somebody saved another version since `seen_version`."""
    changed = (
        AthleteRow.update(name=athlete.name, data=_text(athlete), version=AthleteRow.version + 1)
        .where((AthleteRow.id == athlete_id) & (AthleteRow.version == seen_version))
        .execute()
    )
    return bool(changed)


def remove_athlete(athlete_id: int) -> None:
    """Delete an athlete with all plans and outlooks."""
    AthleteRow.delete().where(AthleteRow.id == athlete_id).execute()


def store_roster(athletes: Sequence[Athlete]) -> tuple[int, int]:
    """Store new athletes and replace those of the same name, all or nothing; return how many of each."""
    added = 0
    with database.atomic():
        for athlete in athletes:
            changed = (
                AthleteRow.update(data=_text(athlete), version=AthleteRow.version + 1)
                .where(AthleteRow.name == athlete.name)
                .execute()
            )
            if not changed:
                add_athlete(athlete)
                added += 1
    return added, len(athletes) - added
