"""Athletes: stored as the athlete file they came from."""

import json
from dataclasses import dataclass

from sorvek.core.athlete import Athlete
from sorvek.core.athlete_file import athlete_data, read_athlete
from sorvek.store.library import club_library
from sorvek.store.tables import AthleteRow


@dataclass(frozen=True, slots=True)
class SavedAthlete:
    """A stored athlete; `data` is the athlete file as text, equal for equal athletes."""

    id: int
    data: str
    athlete: Athlete


def _from_row(row: AthleteRow) -> SavedAthlete:
    return SavedAthlete(row.id, row.data, read_athlete(row.data, club_library()))


def all_athletes() -> list[SavedAthlete]:
    """Return the roster by name."""
    return [_from_row(row) for row in AthleteRow.select().order_by(AthleteRow.name)]


def load_athlete(athlete_id: int) -> SavedAthlete | None:
    """Return one athlete, None if there is none."""
    row = AthleteRow.get_or_none(AthleteRow.id == athlete_id)
    return _from_row(row) if row else None


def add_athlete(athlete: Athlete) -> int:
    """Store a new athlete and return the id."""
    data = json.dumps(athlete_data(athlete), sort_keys=True)
    return int(AthleteRow.create(name=athlete.name, data=data).id)
