"""Announcements read by the tests, with what they become compared."""

from sorvek.core.workout.movements import shipped_library
from sorvek.core.workout.prose import read_prose

LIBRARY = shipped_library()


def read(text: str) -> str:
    """Return the notation an announcement becomes."""
    return read_prose(text, LIBRARY).text.strip()


def read_alike(*texts: str) -> str:
    """Return what all texts become."""
    found = {read(text) for text in texts}
    assert len(found) == 1, found
    return found.pop()
