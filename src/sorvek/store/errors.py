"""What the store can refuse."""

from peewee import OperationalError


class StoreError(Exception):
    """The data cannot be opened, copied or put back; the message says what and what to do."""


DatabaseFailure = OperationalError
"""What SQLite says when the disk is full, the file can only be read, or somebody writes too long."""


def failure_words(error: Exception) -> str:
    """Return in words why nothing could be stored, with what to do."""
    told = str(error)
    if "full" in told or "I/O" in told:
        return "The disk is full or broken; nothing was stored. Make room, then send it again."
    if "readonly" in told or "read-only" in told:
        return "The data can only be read; nothing was stored. Make file and folder writable, then send again."
    return "The data is busy; nothing was stored. Send it again in a moment."


class ConflictError(Exception):
    """Somebody saved something else since the version this change was made for; nothing was changed.

    `what` names it, such as “the plan of Mira Sol”.
    """

    def __init__(self, what: str) -> None:
        self.what = what
        super().__init__(f"Somebody changed {what} meanwhile. Look at it again, then decide.")
