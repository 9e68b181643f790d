"""Who changed what and when: written in the transaction of the change, with how the thing stood afterwards."""

import json
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from datetime import UTC, datetime
from enum import StrEnum
from typing import Any

from sorvek.store.tables import ChangeRow

# A line of the history says no more than this.
MOST_SHOWN = 200
# Fields whose fields say themselves what they are.
PLAIN = ("unbroken", "one_rep_max_kg")
_who: ContextVar[str] = ContextVar("who", default="")


class Changed(StrEnum):
    """What a change is of."""

    ATHLETE = "athlete"
    WORKOUT = "workout"
    ATTEMPT = "attempt"
    PLAN = "plan"
    ACCOUNT = "account"
    CLUB = "club"


@dataclass(frozen=True, slots=True)
class NotedChange:
    """One change: when (UTC), by whom (empty where nobody signs in), in words, how the thing stood afterwards."""

    id: int
    made_at: datetime
    who: str
    what: str
    kept: Any


@contextmanager
def acting(name: str) -> Iterator[None]:
    """Note changes made inside under a name."""
    token = _who.set(name)
    try:
        yield
    finally:
        _who.reset(token)


def act_as(name: str) -> None:
    """Note the changes of this request, or of this thread, under a name."""
    _who.set(name)


def actor() -> str:
    """Return under whose name changes are noted, empty where nobody signed in."""
    return _who.get()


def note(kind: Changed, thing_id: int, what: str, kept: Any = None) -> None:
    """Note a change; call it inside the transaction that makes it."""
    ChangeRow.create(
        made_at=datetime.now(UTC).replace(tzinfo=None),
        who=_who.get()[:80],
        kind=kind.value,
        thing_id=thing_id,
        what=what[:MOST_SHOWN],
        kept="" if kept is None else json.dumps(kept),
    )


def changes_of(kind: Changed, thing_id: int, most: int = 50) -> list[NotedChange]:
    """Return the latest changes of a thing, the latest first."""
    mine = (ChangeRow.kind == kind.value) & (ChangeRow.thing_id == thing_id)
    return [_of(row) for row in ChangeRow.select().where(mine).order_by(ChangeRow.id.desc()).limit(most)]


def latest_changes(most: int = 100) -> list[tuple[Changed, int, NotedChange]]:
    """Return the latest changes of everything, with what they are of, the latest first."""
    rows = ChangeRow.select().order_by(ChangeRow.id.desc()).limit(most)
    return [(Changed(row.kind), row.thing_id, _of(row)) for row in rows]


def change_kept(kind: Changed, thing_id: int, change_id: int) -> Any:
    """Return how a thing stood after a change, None if there is none to go back to."""
    row = ChangeRow.get_or_none(
        (ChangeRow.id == change_id) & (ChangeRow.kind == kind.value) & (ChangeRow.thing_id == thing_id)
    )
    return json.loads(row.kept) if row and row.kept else None


def difference(before: Mapping[str, Any], after: Mapping[str, Any]) -> str:
    """Return in words what differs between two sets of fields, one level of fields inside fields."""
    told = []
    for name in sorted(before.keys() | after.keys()):
        old, new = before.get(name), after.get(name)
        if isinstance(old or new, dict) and old != new:
            inside = difference(old or {}, new or {})
            told.append(inside if name in PLAIN else f"{name.replace('_', ' ')}: {inside}")
        elif old != new:
            told.append(f"{name.replace('_', ' ')} {_shown(old)} → {_shown(new)}")
    return "; ".join(told)


def _shown(value: Any) -> str:
    if value in (None, "", [], {}):
        return "–"
    return f"{value:g}" if isinstance(value, float) else str(value)[:40]


def _of(row: ChangeRow) -> NotedChange:
    return NotedChange(row.id, row.made_at, row.who, row.what, json.loads(row.kept) if row.kept else None)
