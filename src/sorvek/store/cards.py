"""Card links: unguessable, one athlete on one workout, revocable."""

import secrets
from collections import Counter
from datetime import UTC, datetime

from sorvek.store.tables import AthleteRow, CardRow, WorkoutRow

TOKEN_BYTES = 18  # 144 bits: not to be guessed


def card_token(workout_id: int, athlete_id: int) -> str:
    """Return the token of a card, empty if none was made or it was revoked."""
    row = CardRow.get_or_none((CardRow.workout == workout_id) & (CardRow.athlete == athlete_id))
    return str(row.token) if row else ""


def make_card_link(workout_id: int, athlete_id: int) -> str:
    """Return the card's token, a new one if there is none."""
    known = card_token(workout_id, athlete_id)
    if known:
        return known
    token = secrets.token_urlsafe(TOKEN_BYTES)
    now = datetime.now(UTC).replace(tzinfo=None)
    # Two clicks at once make one link: the second finds that of the first.
    CardRow.insert(workout=workout_id, athlete=athlete_id, token=token, made_at=now).on_conflict_ignore().execute()
    return card_token(workout_id, athlete_id)


def briefed_counts() -> dict[int, int]:
    """Return how many athletes have the link of their card, by workout."""
    rows = CardRow.select(CardRow.workout).join(AthleteRow).where(AthleteRow.removed_at.is_null())
    return Counter(row.workout_id for row in rows)


def revoke_card(workout_id: int, athlete_id: int) -> None:
    """Forget a card's link; the address shows nothing from now on."""
    CardRow.delete().where((CardRow.workout == workout_id) & (CardRow.athlete == athlete_id)).execute()


def card_owner(token: str) -> tuple[int, int] | None:
    """Return workout and athlete of a token, None for an unknown or revoked one, or if either was removed."""
    there = (CardRow.token == token) & AthleteRow.removed_at.is_null() & WorkoutRow.removed_at.is_null()
    row = CardRow.select().join(AthleteRow).switch(CardRow).join(WorkoutRow).where(there).first()
    return (row.workout_id, row.athlete_id) if row else None
