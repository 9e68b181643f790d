"""The log: attempts of earlier workouts, each with the workout as it was announced and what it taught."""

import json
from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date

from sorvek.core.athlete import Athlete
from sorvek.core.club import Result
from sorvek.core.season import Kept
from sorvek.store.athletes import SavedAthlete, save_athlete
from sorvek.store.tables import AttemptRow, database


@dataclass(frozen=True, slots=True)
class LoggedAttempt:
    """One logged attempt; the result's name is the athlete's, `taught` holds by key the numbers learnt from it."""

    title: str
    text: str
    done_on: date
    result: Result
    id: int = 0
    taught: Mapping[str, Kept] = field(default_factory=dict)


def _from_row(row: AttemptRow) -> LoggedAttempt:
    result = Result("", "", row.finished, row.value, row.tiebreak_s)
    taught = {key: Kept(*values) for key, values in json.loads(row.taught or "{}").items()}
    return LoggedAttempt(row.title, row.text, row.done_on, result, row.id, taught)


def attempts_of(athlete_id: int) -> list[LoggedAttempt]:
    """Return an athlete's attempts, the latest first."""
    rows = AttemptRow.select().where(AttemptRow.athlete == athlete_id).order_by(AttemptRow.done_on.desc())
    return [_from_row(row) for row in rows]


def done_counts() -> dict[str, int]:
    """Return how many athletes have an attempt in the log, by the title of the workout."""
    rows = AttemptRow.select(AttemptRow.title, AttemptRow.athlete).distinct()
    return Counter(row.title for row in rows)


def load_attempt(athlete_id: int, attempt_id: int) -> LoggedAttempt | None:
    """Return one attempt of an athlete, None if there is none."""
    row = AttemptRow.get_or_none((AttemptRow.id == attempt_id) & (AttemptRow.athlete == athlete_id))
    return _from_row(row) if row else None


def add_attempt(athlete_id: int, attempt: LoggedAttempt) -> None:
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


def save_taught(
    saved: SavedAthlete, attempt_id: int, athlete: Athlete, taught: Mapping[str, Kept], seen_version: int
) -> None:
    """Store an athlete with what an attempt taught.

    Raises: ConflictError if somebody saved the athlete since `seen_version`.
    """
    with database.atomic():
        save_athlete(saved.id, athlete, seen_version)
        AttemptRow.update(taught=json.dumps(taught) if taught else "").where(AttemptRow.id == attempt_id).execute()
