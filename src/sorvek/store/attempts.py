"""The log: attempts of earlier workouts, each with the workout as it was announced and what it taught."""

import json
from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date

from sorvek.core.athlete import Athlete
from sorvek.core.club import Result
from sorvek.core.season import Kept
from sorvek.store.athletes import SavedAthlete, save_athlete
from sorvek.store.tables import AttemptRow, database


@dataclass(frozen=True, slots=True)
class Attempt:
    """One logged attempt; the result's name is the athlete's, `taught` holds by key the numbers learnt from it."""

    title: str
    text: str
    done_on: date
    result: Result
    id: int = 0
    taught: Mapping[str, Kept] = field(default_factory=dict)


def _from_row(row: AttemptRow) -> Attempt:
    result = Result("", "", row.finished, row.value, row.tiebreak_s)
    taught = {key: Kept(*values) for key, values in json.loads(row.taught or "{}").items()}
    return Attempt(row.title, row.text, row.done_on, result, row.id, taught)


def attempts_of(athlete_id: int) -> list[Attempt]:
    """Return an athlete's attempts, the latest first."""
    rows = AttemptRow.select().where(AttemptRow.athlete == athlete_id).order_by(AttemptRow.done_on.desc())
    return [_from_row(row) for row in rows]


def load_attempt(athlete_id: int, attempt_id: int) -> Attempt | None:
    """Return one attempt of an athlete, None if there is none."""
    row = AttemptRow.get_or_none((AttemptRow.id == attempt_id) & (AttemptRow.athlete == athlete_id))
    return _from_row(row) if row else None


def add_attempt(athlete_id: int, attempt: Attempt) -> None:
    """Log an attempt."""
    AttemptRow.create(
        athlete=athlete_id,
        title=attempt.title,
        text=attempt.text,
        done_on=attempt.done_on,
        finished=attempt.result.finished,
        value=attempt.result.value,
        tiebreak_s=attempt.result.tiebreak_s,
    )


def save_taught(saved: SavedAthlete, attempt_id: int, athlete: Athlete, taught: Mapping[str, Kept]) -> bool:
    """Store an athlete with what an attempt taught; return False if somebody saved the athlete meanwhile."""
    with database.atomic():
        if not save_athlete(saved.id, athlete, saved.version):
            return False
        AttemptRow.update(taught=json.dumps(taught) if taught else "").where(AttemptRow.id == attempt_id).execute()
    return True
