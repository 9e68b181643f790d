"""Splits a lap watch or a rowing machine sends: by the device's own stopwatch, which starts with the heat."""

import csv
import hashlib
import io

from sorvek.core.errors import FloorError
from sorvek.core.live.taps import Tap, TapKind
from sorvek.core.quantities import seconds_from_clock

MOST_LINES, LONGEST_S = 500, 6 * 3600.0
# What a watch knows: its lap button ends a round, a machine ends the set it was asked for.
KINDS = {"lap": TapKind.ROUND, "round": TapKind.ROUND, "set": TapKind.SET}


def read_feed(text: str, device: str) -> list[Tap]:
    """Return the taps in lines of `kind,elapsed` such as `lap,1:38` or `set,45.2`, under a header or without.

    The same line of the same device is the same tap however often it is sent. Elapsed time is m:ss or seconds.
    Raises: FloorError naming the line.
    """
    taps = []
    for number, row in enumerate(csv.reader(io.StringIO(text)), 1):
        cells = [cell.strip() for cell in row]
        if not any(cells) or (number == 1 and cells[0] == "kind"):
            continue
        if number > MOST_LINES:
            raise FloorError(f"line {number}: send at most {MOST_LINES} lines at once")
        kind = KINDS.get(cells[0].lower())
        if kind is None or len(cells) < 2:
            raise FloorError(f"line {number}: “{','.join(cells)[:40]}” is no split; write lap,1:38 or set,45.2")
        digest = hashlib.sha256(f"{device}|{cells[0]}|{cells[1]}".encode()).hexdigest()[:24]
        taps.append(Tap(f"feed-{digest}", kind, _elapsed_s(cells[1], number)))
    return taps


def _elapsed_s(text: str, number: int) -> float:
    try:
        elapsed_s = seconds_from_clock(text) if ":" in text else float(text)
    except ValueError:
        elapsed_s = -1.0
    if not 0 <= elapsed_s <= LONGEST_S:
        raise FloorError(f"line {number}: “{text[:20]}” is no time from the start; write 1:38 or 98.2")
    return elapsed_s
