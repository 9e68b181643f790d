"""Copies of the database: made while it is in use, checked after writing, put back without losing anything."""

import sqlite3
from contextlib import closing
from dataclasses import dataclass
from datetime import datetime
from itertools import zip_longest
from pathlib import Path

from sorvek.store.database import OWNER_ONLY
from sorvek.store.errors import StoreError
from sorvek.store.migrations import STEPS

# Backups of so many days are kept, then one a week for so many weeks more.
KEPT_DAILY, KEPT_WEEKLY = 14, 10


def _counts(db: sqlite3.Connection) -> dict[str, int]:
    """Return the number of rows by table.

    Raises: StoreError if the file is damaged, no database of ours, or of a newer Sorvek.
    """
    problem = db.execute("PRAGMA integrity_check(1)").fetchone()[0]
    if problem != "ok":
        raise StoreError(f"the file is damaged ({problem})")
    tables = [name for (name,) in db.execute("SELECT name FROM sqlite_master WHERE type = 'table' ORDER BY name")]
    if not {"workout", "athlete"} <= set(tables):
        raise StoreError("the file holds no Sorvek database")
    if db.execute("PRAGMA user_version").fetchone()[0] > len(STEPS):
        raise StoreError("the file was written by a newer Sorvek; update the program first")
    return {name: db.execute(f'SELECT COUNT(*) FROM "{name}"').fetchone()[0] for name in tables}


def _opened(path: Path) -> sqlite3.Connection:
    if not path.is_file():
        raise StoreError(f"{path} does not exist")
    return sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True)


def _copy(source: Path, target: Path) -> int:
    """Copy a database through SQLite's own backup and compare both; return the rows copied."""
    part = target.with_name(f"{target.name}.part")
    try:
        part.unlink(missing_ok=True)
        part.touch(mode=OWNER_ONLY)
        with closing(_opened(source)) as ours, closing(sqlite3.connect(part)) as copy:
            ours.backup(copy)
            # In one file: the copy has to be whole without the log beside it.
            copy.execute("PRAGMA journal_mode = DELETE")
            copied = _counts(copy)
        part.replace(target)
    except (sqlite3.Error, OSError) as error:
        part.unlink(missing_ok=True)
        raise StoreError(f"{source} cannot be copied to {target}: {error}") from error
    except StoreError as error:
        part.unlink(missing_ok=True)
        raise StoreError(f"{source} cannot be copied: {error}") from error
    return sum(copied.values())


def back_up(database: Path, target: Path) -> int:
    """Write a copy of a database that may be in use, checked after writing; return how many rows it holds.

    Raises: StoreError if it cannot be read or written; an older file at `target` is kept then.
    """
    if target.absolute() == database.absolute():
        raise StoreError("the backup would replace the database itself; choose another file")
    if not target.parent.is_dir():
        raise StoreError(f"the folder {target.parent} does not exist; make it first")
    return _copy(database, target)


def preview_restore(file: Path, database: Path) -> list[tuple[str, int, int]]:
    """Return what putting a backup back would change: by table the rows in it and the rows there now.

    Raises: StoreError if the backup cannot be read, is damaged, or is of a newer Sorvek.
    """
    try:
        with closing(_opened(file)) as backup:
            held = _counts(backup)
        now: dict[str, int] = {}
        if database.exists():
            with closing(_opened(database)) as ours:
                now = _counts(ours)
    except sqlite3.Error as error:
        raise StoreError(f"{file} is no database ({error})") from error
    return [(name, held.get(name, 0), now.get(name, 0)) for name in sorted(held | now)]


def restore(file: Path, database: Path, now: datetime) -> Path | None:
    """Put a backup in place of the database, which nobody may be using; return where that was moved to, if it was.

    Raises: StoreError if the backup cannot be read, is damaged, or is of a newer Sorvek; nothing is changed then.
    """
    with closing(_opened(file)) as backup:
        try:
            _counts(backup)
        except sqlite3.Error as error:
            raise StoreError(f"{file} is no database ({error})") from error
        except StoreError as error:
            raise StoreError(f"{file} cannot be put back: {error}") from error
    database.parent.mkdir(parents=True, exist_ok=True)
    fresh = database.with_name(f"{database.name}.new")
    _copy(file, fresh)
    kept = None
    if database.exists():
        kept = database.with_name(f"{database.stem}-before-{now:%Y%m%d-%H%M%S}{database.suffix}")
        _set_aside(database, kept)
    fresh.replace(database)
    return kept


def _set_aside(database: Path, kept: Path) -> None:
    """Move a database with the log beside it, which may hold what was written last."""
    for ending in ("", "-wal", "-shm"):
        part = database.with_name(database.name + ending)
        if part.exists():
            part.replace(kept.with_name(kept.name + ending))


@dataclass(frozen=True, slots=True)
class MadeBackup:
    """A backup beside the database; `rows` is 0 for one that was not looked into."""

    path: Path
    size: int
    rows: int = 0

    @property
    def name(self) -> str:
        """Return the name of the file."""
        return self.path.name


def _folder(database: Path) -> Path:
    return database.parent / "backups"


def backups_of(database: Path) -> list[MadeBackup]:
    """Return the backups beside a database, the latest first."""
    found = _folder(database).glob(f"{database.stem}-????-??-??*{database.suffix}")
    return [MadeBackup(path, path.stat().st_size) for path in sorted(found, reverse=True)]


def make_backup(database: Path, now: datetime) -> MadeBackup:
    """Make a backup beside the database now, put it back into a scratch file, and compare every row of both.

    Raises: StoreError if it cannot be written, or what comes back differs.
    """
    target = _folder(database) / f"{database.stem}-{now:%Y-%m-%d-%H%M%S}{database.suffix}"
    rows = _checked(database, target)
    return MadeBackup(target, target.stat().st_size, rows)


def _checked(database: Path, target: Path) -> int:
    """Write a backup, put it back into a scratch file and compare both; return the rows."""
    target.parent.mkdir(mode=0o700, exist_ok=True)
    rows = back_up(database, target)
    scratch = target.with_name(f"{target.name}.scratch")
    try:
        restore(target, scratch, datetime.min)
        with closing(_opened(target)) as one, closing(_opened(scratch)) as other:
            same = all(a == b for a, b in zip_longest(one.iterdump(), other.iterdump()))
    finally:
        scratch.unlink(missing_ok=True)
    if not same:
        target.unlink()
        raise StoreError("the backup did not come back as it went in; look at the disk, then try again")
    return rows


def daily(database: Path, now: datetime) -> Path | None:
    """Make today's backup beside the database if there is none yet, drop old ones, and return its path.

    Raises: StoreError if it cannot be written, or does not come back as it went in.
    """
    target = _folder(database) / f"{database.stem}-{now:%Y-%m-%d}{database.suffix}"
    if target.exists():
        return None
    _checked(database, target)
    for old in _too_old(backups_of(database), database.stem, now):
        old.path.unlink()
    return target


def _too_old(backups: list[MadeBackup], stem: str, now: datetime) -> list[MadeBackup]:
    """Return the backups to drop: of the last two weeks none, of earlier weeks all but each one's latest."""
    dropped, weeks = [], set[tuple[int, int]]()
    for one in backups:
        day = datetime.strptime(one.name.removeprefix(f"{stem}-")[:10], "%Y-%m-%d")
        week, age = day.isocalendar()[:2], (now - day).days
        if age < KEPT_DAILY:
            continue
        if week in weeks or age >= KEPT_DAILY + 7 * KEPT_WEEKLY:
            dropped.append(one)
        weeks.add(week)
    return dropped
