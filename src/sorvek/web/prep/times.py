"""Starts of heats and moments around them, as they are typed and shown."""

import re
from datetime import datetime, timedelta

from sorvek.core.quantities import clock

STARTS = re.compile(r"\d{4}-\d\d-\d\dT\d\d:\d\d")


def read_start(text: str) -> datetime | None:
    """Return a typed day and time, None for anything else."""
    try:
        return datetime.fromisoformat(text) if STARTS.fullmatch(text) else None
    except ValueError:
        return None


def before_start(start: datetime | None, before_s: float) -> str:
    """Return a moment before the start: the time of day where it is known, else minutes before."""
    if start is None:
        return (
            f"−{before_s // 3600:.0f}:{before_s % 3600 // 60:02.0f} h"
            if before_s >= 3600
            else f"−{clock(before_s)}"
        )
    return (start - timedelta(seconds=before_s)).strftime("%H:%M:%S").removesuffix(":00")


def after_first(start: datetime | None, seconds: float) -> str:
    """Return a moment on the clock of the first start: the time of day where it is known."""
    if start is not None:
        return (start + timedelta(seconds=seconds)).strftime("%H:%M:%S").removesuffix(":00")
    return clock(seconds) if seconds >= 0 else f"−{clock(-seconds)}"
