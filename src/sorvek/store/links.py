"""Links that were revoked: remembered, so that their page can say so instead of that nothing was ever there."""

from datetime import UTC, datetime

from sorvek.store.tables import DeadLinkRow


def end_link(token: str) -> None:
    """Remember that a link was revoked."""
    now = datetime.now(UTC).replace(tzinfo=None)
    DeadLinkRow.insert(token=token, ended_at=now).on_conflict_ignore().execute()


def link_ended(token: str) -> bool:
    """Return whether a link was revoked."""
    return bool(DeadLinkRow.select().where(DeadLinkRow.token == token).exists())
