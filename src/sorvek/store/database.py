"""Opening the one database file."""

import os
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from peewee import DatabaseError

from sorvek.store.errors import StoreError
from sorvek.store.migrations import migrate
from sorvek.store.tables import database

PRAGMAS = {"journal_mode": "wal", "foreign_keys": 1, "busy_timeout": 5000, "synchronous": "normal"}
OWNER_ONLY = 0o600


def open_database(path: Path) -> None:
    """Point the tables at a file, made if need be for its owner only, and bring its schema up to date.

    Raises: StoreError if the file cannot be read and written, is damaged, or is of a newer Sorvek.
    """
    if not database.is_closed():
        database.close()
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        os.close(os.open(path, os.O_RDWR | os.O_CREAT, OWNER_ONLY))
        path.chmod(OWNER_ONLY)
    except OSError as error:
        raise StoreError(f"{path} cannot be written ({error.strerror}); choose a folder with --data") from error
    database.init(str(path), pragmas=PRAGMAS)
    try:
        with database.connection_context():
            _check()
            migrate(database)
    except DatabaseError as error:
        if "readonly" in str(error) or "read-only" in str(error):
            raise StoreError(
                f"{path} can only be read; make it writable, or choose a folder with --data"
            ) from error
        raise _damaged(path, str(error)) from error


def _check() -> None:
    problem = database.execute_sql("PRAGMA quick_check(1)").fetchone()[0]
    if problem != "ok":
        raise DatabaseError(problem)
    with database.atomic("IMMEDIATE"):
        pass  # a file that can only be read says so here


def _damaged(path: Path, problem: str) -> StoreError:
    first = problem.splitlines()[0][:120]
    return StoreError(f"{path} is damaged or no database ({first}); put a backup back with “sorvek restore FILE”")


def connect() -> None:
    """Open this thread's connection."""
    database.connect(reuse_if_open=True)


def disconnect() -> None:
    """Close this thread's connection if it is open."""
    if not database.is_closed():
        database.close()


@contextmanager
def connection() -> Iterator[None]:
    """Lend a connection to work beside the requests, such as a job that stores what it computed."""
    with database.connection_context():
        yield


@contextmanager
def one_change() -> Iterator[None]:
    """Carry out several reads and writes as one: all or nothing, and nobody else writes in between."""
    with database.atomic("IMMEDIATE"):
        yield


def opened() -> Path:
    """Return the path of the open database."""
    return Path(database.database)
