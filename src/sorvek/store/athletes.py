"""Athletes: stored as the athlete file they came from; who is removed can be put back."""

import hashlib
import json
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from datetime import UTC, datetime
from functools import lru_cache

from peewee import IntegrityError

from sorvek.core.athlete import Athlete, athlete_data, read_athlete
from sorvek.core.errors import CoreError
from sorvek.core.workout import Library
from sorvek.store.changes import Changed, difference, note
from sorvek.store.errors import ConflictError
from sorvek.store.library import club_library
from sorvek.store.tables import AthleteRow, database

# Reading a file takes a third of a millisecond, which a page of two hundred would feel.
KEPT = 1_000


@dataclass(frozen=True, slots=True)
class SavedAthlete:
    """A stored athlete; `data` is the athlete file as text, `version` grows with every change.

    Two are equal if they are the same version of the same athlete: what is computed of one is kept under it.
    """

    id: int
    version: int
    digest: str
    data: str = field(compare=False, repr=False)
    athlete: Athlete = field(compare=False, repr=False)


@dataclass(frozen=True, slots=True)
class BrokenAthlete:
    """A stored athlete whose file cannot be read any more, and why."""

    id: int
    name: str
    problem: str


@dataclass(frozen=True, slots=True)
class RemovedAthlete:
    """An athlete who can be put back."""

    id: int
    name: str
    removed_at: datetime | None


@lru_cache(maxsize=KEPT)
def _read(data: str, library: Library) -> tuple[Athlete, str]:
    return read_athlete(data, library), hashlib.sha256(data.encode()).hexdigest()[:16]


def _from_row(row: AthleteRow) -> SavedAthlete:
    athlete, digest = _read(row.data, club_library())
    return SavedAthlete(row.id, row.version, digest, row.data, athlete)


def _text(athlete: Athlete) -> str:
    return json.dumps(athlete_data(athlete), sort_keys=True)


def _there() -> list[AthleteRow]:
    return list(AthleteRow.select().where(AthleteRow.removed_at.is_null()).order_by(AthleteRow.name))


def all_athletes() -> list[SavedAthlete]:
    """Return the roster by name, without those whose file cannot be read (`broken_athletes`)."""
    found = []
    for row in _there():
        try:
            found.append(_from_row(row))
        except CoreError:
            continue
    return found


def broken_athletes() -> list[BrokenAthlete]:
    """Return the athletes whose file cannot be read any more, as when a movement of the club's own is gone."""
    found = []
    for row in _there():
        try:
            _from_row(row)
        except CoreError as error:
            found.append(BrokenAthlete(row.id, row.name, str(error)))
    return found


def load_athlete(athlete_id: int) -> SavedAthlete | None:
    """Return one athlete, None if there is none.

    Raises: CoreError if the athlete's file cannot be read any more.
    """
    row = AthleteRow.get_or_none((AthleteRow.id == athlete_id) & AthleteRow.removed_at.is_null())
    return _from_row(row) if row else None


def add_athlete(athlete: Athlete) -> int:
    """Store a new athlete and return the id.

    Raises: ConflictError if the name is taken.
    """
    try:
        with database.atomic():
            new = int(AthleteRow.create(name=athlete.name, data=_text(athlete)).id)
            note(Changed.ATHLETE, new, "added", athlete_data(athlete))
            return new
    except IntegrityError as error:
        raise ConflictError(f"the roster (there is {athlete.name} already)") from error


def name_taken(name: str, by_other_than: int | None = None) -> bool:
    """Return whether another athlete has this name."""
    rows = AthleteRow.select().where(AthleteRow.name == name)
    return any(row.id != by_other_than for row in rows)


def save_athlete(athlete_id: int, athlete: Athlete, seen_version: int) -> None:
    """Replace an athlete.

    Raises: ConflictError if somebody saved another version since `seen_version`, or the name is taken.
    """
    seen = (AthleteRow.id == athlete_id) & (AthleteRow.version == seen_version)
    try:
        with database.atomic():
            before = AthleteRow.get_or_none(seen)
            update = AthleteRow.update(name=athlete.name, data=_text(athlete), version=AthleteRow.version + 1)
            if before is None or not update.where(seen).execute():
                raise ConflictError(athlete.name)
            data = athlete_data(athlete)
            if told := difference(json.loads(before.data), data):
                note(Changed.ATHLETE, athlete_id, told, data)
    except IntegrityError as error:
        raise ConflictError(f"the roster (there is {athlete.name} already)") from error


def change_athlete(athlete_id: int, change: Callable[[Athlete], Athlete]) -> Athlete:
    """Return an athlete after a change that holds whatever else was saved meanwhile, such as one new test.

    Raises: ConflictError if the athlete was removed; whatever `change` raises, and nothing is stored then.
    """
    with database.atomic("IMMEDIATE"):
        saved = load_athlete(athlete_id)
        if saved is None:
            raise ConflictError("the roster (this athlete was removed)")
        changed = change(saved.athlete)
        save_athlete(athlete_id, changed, saved.version)
    return changed


def remove_athlete(athlete_id: int) -> None:
    """Take an athlete off the roster; plans, outlooks and log wait for `restore_athlete`."""
    row = AthleteRow.get_or_none((AthleteRow.id == athlete_id) & AthleteRow.removed_at.is_null())
    if row:
        # The name is free again while its owner is away.
        row.name, row.removed_at = f"{row.name} (removed {row.id})", datetime.now(UTC).replace(tzinfo=None)
        row.version += 1
        with database.atomic():
            row.save()
            note(Changed.ATHLETE, athlete_id, "removed", json.loads(row.data))


def removed_athletes() -> list[RemovedAthlete]:
    """Return who can be put back, the latest first."""
    rows = AthleteRow.select().where(AthleteRow.removed_at.is_null(False)).order_by(AthleteRow.removed_at.desc())
    return [RemovedAthlete(row.id, json.loads(row.data)["name"], row.removed_at) for row in rows]


def restore_athlete(athlete_id: int) -> str:
    """Put a removed athlete back with everything, and return the name; empty if there is nobody to put back.

    Raises: ConflictError if somebody else has the name now.
    """
    row = AthleteRow.get_or_none((AthleteRow.id == athlete_id) & AthleteRow.removed_at.is_null(False))
    if row is None:
        return ""
    name = str(json.loads(row.data)["name"])
    if name_taken(name):
        raise ConflictError(f"the roster (there is another {name} now; rename one)")
    row.name, row.removed_at = name, None
    with database.atomic():
        row.save()
        note(Changed.ATHLETE, athlete_id, "put back", json.loads(row.data))
    return name


def store_roster(athletes: Sequence[Athlete]) -> tuple[int, int]:
    """Store new athletes and replace those of the same name, all or nothing; return how many of each."""
    added = 0
    with database.atomic():
        for athlete in athletes:
            row = AthleteRow.get_or_none(AthleteRow.name == athlete.name)
            if row is None:
                add_athlete(athlete)
                added += 1
                continue
            data = athlete_data(athlete)
            if told := difference(json.loads(row.data), data):
                note(Changed.ATHLETE, row.id, f"from a table: {told}", data)
            row.data, row.version = _text(athlete), row.version + 1
            row.save()
    return added, len(athletes) - added
