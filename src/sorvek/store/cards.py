"""Card links: unguessable, one athlete on one workout, revocable."""

import secrets
from collections import Counter
from datetime import UTC, date, datetime, timedelta

from sorvek.store.links import end_link
from sorvek.store.tables import AthleteRow, CardRow, WorkoutRow, database

TOKEN_BYTES = 18  # 144 bits: not to be guessed
# A link opens its card for so many days after scores are due, unless a coach says otherwise; judgement.
LASTS_DAYS = 30


def card_token(workout_id: int, athlete_id: int) -> str:
    """Return the token of a card, empty if none was made or it was revoked."""
    row = CardRow.get_or_none((CardRow.workout == workout_id) & (CardRow.athlete == athlete_id))
    return str(row.token) if row else ""


def make_card_link(workout_id: int, athlete_id: int) -> str:
    """Return the card's token, a new one if there is none."""
    known = card_token(workout_id, athlete_id)
    if known:
        return known
    token, now = secrets.token_urlsafe(TOKEN_BYTES), datetime.now(UTC).replace(tzinfo=None)
    due_on = WorkoutRow.get_by_id(workout_id).due_on
    values = {"token": token, "made_at": now, "ends_on": due_on + timedelta(days=LASTS_DAYS)}
    # Two clicks at once make one link: the second finds that of the first.
    CardRow.insert(workout=workout_id, athlete=athlete_id, **values).on_conflict_ignore().execute()
    return card_token(workout_id, athlete_id)


def card_ends_on(workout_id: int, athlete_id: int) -> date | None:
    """Return the last day on which a card's link opens it, None without a link and for one without an end."""
    row = CardRow.get_or_none((CardRow.workout == workout_id) & (CardRow.athlete == athlete_id))
    return row.ends_on if row else None


def end_card_on(workout_id: int, athlete_id: int, day: date) -> None:
    """Give a card's link another last day."""
    CardRow.update(ends_on=day).where((CardRow.workout == workout_id) & (CardRow.athlete == athlete_id)).execute()


def briefed_counts() -> dict[int, int]:
    """Return how many athletes have the link of their card, by workout."""
    rows = CardRow.select(CardRow.workout).join(AthleteRow).where(AthleteRow.removed_at.is_null())
    return Counter(row.workout_id for row in rows)


def revoke_card(workout_id: int, athlete_id: int) -> None:
    """Forget a card's link; the address says that it was revoked from now on."""
    token = card_token(workout_id, athlete_id)
    with database.atomic():
        if token:
            end_link(token)
        CardRow.delete().where((CardRow.workout == workout_id) & (CardRow.athlete == athlete_id)).execute()


def card_owner(token: str) -> tuple[int, int] | None:
    """Return workout and athlete of a token, None for an unknown or revoked one, or if either was removed."""
    there = (CardRow.token == token) & AthleteRow.removed_at.is_null() & WorkoutRow.removed_at.is_null()
    row = CardRow.select().join(AthleteRow).switch(CardRow).join(WorkoutRow).where(there).first()
    return (row.workout_id, row.athlete_id) if row else None
