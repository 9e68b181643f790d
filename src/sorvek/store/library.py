"""The club's movements: those that ship and the club's own, in `movements.csv` beside the database."""

from functools import lru_cache
from pathlib import Path

from sorvek.core.errors import MovementFileError
from sorvek.core.workout import Library, shipped_library
from sorvek.store.tables import database

OWN_FILE = "movements.csv"


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


def club_library() -> Library:
    """Return the movements of the open database; the file is read again when it changes."""
    path = Path(database.database).with_name(OWN_FILE) if database.database else Path(OWN_FILE)
    return _read(path, path.stat().st_mtime) if path.exists() else shipped_library()
