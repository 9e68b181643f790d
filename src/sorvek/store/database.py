"""Opening the one database file."""

from pathlib import Path

from sorvek.store.migrations import migrate
from sorvek.store.tables import database

PRAGMAS = {"journal_mode": "wal", "foreign_keys": 1, "busy_timeout": 5000, "synchronous": "normal"}


def open_database(path: Path) -> None:
    """Point the tables at a file, made if need be, and bring its schema up to date."""
    path.parent.mkdir(parents=True, exist_ok=True)
    if not database.is_closed():
        database.close()
    database.init(str(path), pragmas=PRAGMAS)
    with database.connection_context():
        migrate(database)


def connect() -> None:
    """Open this thread's connection."""
    database.connect(reuse_if_open=True)


def disconnect() -> None:
    """Close this thread's connection if it is open."""
    if not database.is_closed():
        database.close()
