"""The club's movements: those that ship and the club's own, in `movements.csv` beside the database."""

import csv
import hashlib
import io
import json
import os
from collections.abc import Sequence
from functools import lru_cache
from pathlib import Path

from sorvek.core.errors import MovementFileError
from sorvek.core.workout import ALL_COLUMNS, Library, shipped_library
from sorvek.store.errors import ConflictError
from sorvek.store.tables import database

OWN_FILE, EARLIER_FILE = "movements.csv", "movements-earlier.json"
MOST_EARLIER = 10
Cells = dict[str, str]


def read_library(path: Path) -> Library:
    """Return the shipped movements with those of a file added.

    Raises: MovementFileError for a file that is no UTF-8 text or has a row that cannot be right.
    """
    try:
        return shipped_library().with_own(path.read_text(encoding="utf-8-sig").splitlines())
    except UnicodeDecodeError as error:
        raise MovementFileError("movements file: this is not UTF-8 text; save it as UTF-8") from error


@lru_cache(maxsize=8)
def _read(path: Path, _changed: float) -> Library:
    return read_library(path)


def _own_path() -> Path:
    return Path(database.database).with_name(OWN_FILE) if database.database else Path(OWN_FILE)


def club_library() -> Library:
    """Return the movements of the open database; the file is read again when it changes."""
    path = _own_path()
    return _read(path, path.stat().st_mtime_ns) if path.exists() else shipped_library()


def own_rows() -> list[Cells]:
    """Return the rows of the club's own movements, as they are written."""
    path = _own_path()
    if not path.exists():
        return []
    lines = path.read_text(encoding="utf-8-sig").splitlines()
    return [{column: row.get(column) or "" for column in ALL_COLUMNS} for row in csv.DictReader(lines)]


def own_version() -> str:
    """Return what changes whenever the club's own movements do."""
    return hashlib.sha256(_text(own_rows()).encode()).hexdigest()[:16]


def _text(rows: Sequence[Cells]) -> str:
    out = io.StringIO()
    writer = csv.DictWriter(out, ALL_COLUMNS, lineterminator="\n")
    writer.writeheader()
    writer.writerows(rows)
    return out.getvalue()


def library_with(name: str, rows: Sequence[Cells]) -> Library:
    """Return the library as it would be with these rows for a movement; without any, as it ships.

    Raises: MovementFileError for a row that cannot be right.
    """
    kept = [row for row in own_rows() if row["name"] != name]
    return shipped_library().with_own(_text([*kept, *rows]).splitlines())


def save_movement(name: str, rows: Sequence[Cells], seen: str) -> None:
    """Write a movement of the club's own, in place of the one before; without rows the one that ships is back.

    Raises: MovementFileError for a row that cannot be right, ConflictError if the file was changed since `seen`;
    nothing is written then.
    """
    if seen != own_version():
        raise ConflictError("the club's movements")
    library_with(name, rows)
    before = own_rows()
    earlier = _earlier()
    _write(_own_path(), _text([*(row for row in before if row["name"] != name), *rows]))
    _write(
        _own_path().with_name(EARLIER_FILE), json.dumps([*earlier, [name, before, own_version()]][-MOST_EARLIER:])
    )


def last_changed() -> str:
    """Return the movement that was changed last, empty where nothing can be taken back."""
    return next((name for name, _, _ in reversed(_earlier())), "")


def earlier_rows() -> list[Cells]:
    """Return the club's own rows before the last change."""
    return next((rows for _, rows, _ in reversed(_earlier())), [])


def take_back_change(seen: str) -> str:
    """Put the club's own movements back as they stood before the last change; return which movement that was of.

    Raises: ConflictError if they were changed since `seen`, or there is nothing to take back.
    """
    earlier = _earlier()
    if seen != own_version() or not earlier:
        raise ConflictError("the club's movements")
    name, rows, _ = earlier.pop()
    _write(_own_path(), _text(rows))
    _write(_own_path().with_name(EARLIER_FILE), json.dumps(earlier))
    return name


def _earlier() -> list[tuple[str, list[Cells], str]]:
    """Return the movements changed, all own rows before each change and the version after it, the latest last.

    Nothing if the file was changed by other means since: to take a change back would lose that. Changes that were
    noted without a version are not known to be the latest either.
    """
    path = _own_path().with_name(EARLIER_FILE)
    found = json.loads(path.read_text(encoding="utf-8")) if path.exists() else []
    return found if found and found[-1][2:] == [own_version()] else []


def _write(path: Path, text: str) -> None:
    beside = path.with_suffix(".new")
    beside.write_text(text, encoding="utf-8")
    os.replace(beside, path)
