"""One server on one database: a lock the system takes back when the process ends, however it ends."""

import fcntl
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from sorvek.store.errors import StoreError


@contextmanager
def alone_on(database: Path) -> Iterator[None]:
    """Hold a database's lock.

    Raises: StoreError if another process holds it, or the folder cannot be written.
    """
    path = database.with_suffix(".lock")
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        file = path.open("a", encoding="utf-8")
    except OSError as error:
        raise StoreError(f"{path} cannot be written ({error.strerror}); choose a folder with --data") from error
    with file:
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as error:
            raise StoreError(
                f"another Sorvek is using {database}; stop it first, or choose another folder with --data"
            ) from error
        yield
