"""Forms that make something new: sent again because the answer got lost, they get it and make nothing twice."""

from datetime import UTC, datetime, timedelta

from sorvek.store.tables import OnceRow

# Nobody sends a form again after so long.
KEPT = timedelta(days=2)


def answer_of(token: str) -> str:
    """Return where a form led that was carried out already, empty if it was not."""
    row = OnceRow.get_or_none(OnceRow.token == token)
    return str(row.answer) if row else ""


def carried_out(token: str, answer: str) -> None:
    """Remember where a form led; call it inside the transaction that carries it out."""
    now = datetime.now(UTC).replace(tzinfo=None)
    OnceRow.delete().where(OnceRow.made_at < now - KEPT).execute()
    OnceRow.create(token=token, answer=answer, made_at=now)
