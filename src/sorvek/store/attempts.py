"""The log: attempts of earlier workouts, each with the workout as it was announced."""

from dataclasses import dataclass
from datetime import date

from sorvek.core.field import Result
from sorvek.store.tables import AttemptRow


@dataclass(frozen=True, slots=True)
class Attempt:
    """One logged attempt; the result's name is the athlete's."""

    title: str
    text: str
    done_on: date
    result: Result


def attempts_of(athlete_id: int) -> list[Attempt]:
    """Return an athlete's attempts, the latest first."""
    rows = AttemptRow.select().where(AttemptRow.athlete == athlete_id).order_by(AttemptRow.done_on.desc())
    return [
        Attempt(row.title, row.text, row.done_on, Result("", "", row.finished, row.value, row.tiebreak_s))
        for row in rows
    ]


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
