"""Any text a coach has: notation is read as notation, everything else as an announcement in prose."""

import re

from sorvek.core.errors import CoreError
from sorvek.core.workout.checks import DOUBT_LINE
from sorvek.core.workout.movements import Library
from sorvek.core.workout.notation import parse_workout
from sorvek.core.workout.notation_print import workout_text
from sorvek.core.workout.prose import Question, Reading, read_prose

# A format line of the notation from end to end, in small letters; other lines it has and prose has not; and lines
# that look like its work: without the brackets, commas and full stops of prose.
_CLOCK = r"[0-9]{1,3}:[0-5][0-9]"
_FORM = re.compile(
    rf"(amrap {_CLOCK}(, score .*)?|windows {_CLOCK}(, until missed)?|for time(, cap {_CLOCK})?"
    rf"|for reps(, score .*)?|max (?!rep)[\w &-]+ in {_CLOCK}|divisions .*)\s*(#.*)?"
)
_OWN = re.compile(
    r".*(\d rounds|reps [0-9-]+|ladder .*|repeat|window|stage cap .*):\s*(#.*)?|.* @ .*"
    r"|then (rest|at) \d+:\d+, max .*",
    re.IGNORECASE,
)
_SHAPED = re.compile(
    r"\s*(#.*|[^.,;()?!:]*(\d[.,]\d[^.,;()?!:]*)*(#.*)?|.*:\s*(#.*)?"
    r"|(then|first) (rest \S+, |at \S+, )?max .*|rest .*)"
)
# Share of lines shaped like notation from which a text with a format line is broken notation; judgement.
MOSTLY = 0.8


def _looks_like_notation(text: str) -> bool:
    """Return whether a text that cannot be parsed was meant as notation: it has a format line and its shape."""
    lines = [line.rstrip() for line in text.splitlines() if line.strip()]
    head = next((i for i, line in enumerate(lines[:4]) if _FORM.fullmatch(line)), None)
    if head is None:
        return False
    body = lines[head + 1 :]
    shaped = sum(bool(_SHAPED.fullmatch(line)) for line in body)
    sure = re.search(r"[0-9]:|divisions|reps", lines[head]) or any(_OWN.fullmatch(line) for line in body)
    return bool(sure) and shaped >= MOSTLY * len(body)


def read_announcement(text: str, library: Library, prose: bool = False) -> Reading:
    """Return the notation of any text: its canonical print if it is notation, else what prose is read as.

    `prose` reads it as prose whatever it looks like.
    Raises: NotationError with line, column and remedy for notation that is broken, or for a text far too long.
    """
    if prose:
        return read_prose(text, library)
    try:
        printed = workout_text(parse_workout(text, library))
    except CoreError:
        if _looks_like_notation(text):
            raise
        return read_prose(text, library)
    rows = enumerate(printed.splitlines(), 1)
    doubts = tuple(Question(i, DOUBT_LINE.sub("", row).strip()) for i, row in rows if DOUBT_LINE.match(row))
    return Reading(printed, doubts, ())
