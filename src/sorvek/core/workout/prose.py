"""An announcement as it is published, pasted as prose, turned into notation line by line.

What is understood becomes a line of the notation; what is not stays as a comment with a question mark in
front, so that nothing is dropped silently.
"""

import re
from dataclasses import dataclass

from sorvek.core.errors import CoreError
from sorvek.core.workout.checks import check_length
from sorvek.core.workout.movements import Library
from sorvek.core.workout.notation import parse_workout

DOUBT = "# ?"
# Patterns look at short lines only, so that the time grows with the number of lines and not faster; a longer line
# is no line of a workout, and stays as a doubt.
MAX_LINE = 240
_MINUTES = r"(\d+)(?::(\d\d))?\s*[- ]?\s*(?:min(?:ute)?s?\b\.?)?"
_BULLET = re.compile(r"^\s*(?:[-–—•*·▪►]+|\d+[.)])\s+")
_LOADS = re.compile(
    r"[(\[,@]*\s*@?\s*(?P<loads>(?:\d+\s*[x×]\s*)?\d+(?:[.,]\d+)?\s*(?:kgs?|lbs?|#|cm|in|\"|”)?"
    r"(?:\s*/\s*(?:\d+\s*[x×]\s*)?\d+(?:[.,]\d+)?)+|(?:\d+\s*[x×]\s*)?\d+(?:[.,]\d+)?)"
    r"\s*-?(?P<unit>kgs?|kilos?|lbs?|pounds?|#|cm|inch(?:es)?|in|\"|”|m|met(?:re|er)s?)?\s*[)\]]*\s*$",
    re.IGNORECASE,
)
_UNITS = {"#": "lb", "pound": "lb", "lb": "lb", "kilo": "kg", "kg": "kg", "inch": "in", "inche": "in", "in": "in"}
_UNITS |= {'"': "in", "”": "in", "cm": "cm", "m": "m", "metre": "m", "meter": "m"}
_NUMBERS = {"one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7, "eight": 8, "ten": 10}


@dataclass(frozen=True, slots=True)
class Doubt:
    """A line of the notation nobody should trust yet, numbered from 1, and the words it came from."""

    line: int
    words: str


@dataclass(frozen=True, slots=True)
class Reading:
    """Notation made from prose, and what in it is in doubt."""

    text: str
    doubts: tuple[Doubt, ...]


def _clock(minutes: str, seconds: str | None) -> str:
    return f"{int(minutes)}:{seconds or '00'}"


def _form(line: str) -> str | None:
    """Return the format line a sentence stands for, with the cap if it names one."""
    low = line.lower()
    amrap = re.search(rf"{_MINUTES}\s*amrap|amrap\s*(?:in|of|for|:)?\s*{_MINUTES}", low)
    if not amrap:
        amrap = re.search(rf"as many (?:rounds|reps)[^\d]*{_MINUTES}", low)
    if amrap:
        found = [group for group in amrap.groups() if group is not None]
        return f"amrap {_clock(found[0], found[1] if len(found) > 1 else None)}"
    cap = re.search(rf"(?:time[- ]?cap|cap)\W*(?:of|is)?\W*{_MINUTES}|{_MINUTES}\s*(?:time[- ]?)?cap", low)
    if "for time" in low or cap:
        found = [group for group in cap.groups() if group is not None] if cap else []
        return "for time" + (f", cap {_clock(found[0], found[1] if len(found) > 1 else None)}" if found else "")
    return None


def _structure(line: str) -> str | None:
    """Return the opening line of repeated work, a rest or a lift."""
    low = re.sub(r"\b(" + "|".join(_NUMBERS) + r")\b", lambda m: str(_NUMBERS[m[1]]), line.lower())
    if match := re.match(r"(\d+)\s*(?:rounds?|rds?|times)\b", low):
        return f"{match[1]} rounds:"
    if match := re.match(r"(\d+(?:\s*[-–,]\s*\d+){2,})\b", low):
        return "reps " + "-".join(re.findall("[0-9]+", match[1])) + ":"
    if match := re.match(rf"(?:then\s+)?rest\s*(?:for|of)?\s*{_MINUTES}", low):
        bare = "sec" in low
        return f"rest {match[1]} s" if bare else f"rest {_clock(match[1], match[2])}"
    if "tie" in low and "break" in low and len(low) < 40:
        return "tiebreak"
    lift = re.search(r"(?:max(?:imum)?|1[- ]?rm|one[- ]rep max)\s*(?:of\s*)?(?:for\s*)?(?:a\s*)?([a-z &-]+)", low)
    minutes = re.search(rf"{_MINUTES}", low)
    if lift and minutes:
        name = re.split(r"\s+(?:in|within|for)\b", lift[1].strip())[0].strip()
        return f"then max {name} in {_clock(minutes[1], minutes[2])}"
    return None


def _item(line: str) -> str:
    """Return a line of work with its load behind an @."""
    text = re.sub(r"\s+of\s+", " ", line).strip(" ,;.")
    text = re.sub(r"(\d+)\s*-\s*(cal|calorie|m\b|meter|metre)", r"\1 \2", text)
    count = re.match(r"(\d+)\s*(?:reps?\s+)?(.*)", text)
    number, rest = (count[1], count[2]) if count else ("", text)
    found = _LOADS.search(rest)
    if not found or not found["loads"].strip() or found.start() == 0:
        return f"{number} {rest}".strip()
    name = rest[: found.start()].strip(" ,(@")
    raw_unit = (found["unit"] or re.sub(r"[^a-z#\"”]", "", found["loads"].lower()[-3:]) or "").lower().rstrip("s")
    loads = re.sub(r"\s*(?:kgs?|lbs?|#|cm|in|\"|”)", "", found["loads"].replace(",", "."), flags=re.IGNORECASE)
    loads = re.sub(r"\s*/\s*", "/", loads)
    return f"{number} {name} @ {loads} {_UNITS.get(raw_unit, '')}".strip()


def _understood(line: str, head: str, library: Library) -> bool:
    try:
        parse_workout(f"{head}\n{line}", library)
    except CoreError:
        return False
    return True


class _Draft:
    """The notation as it grows, line by line."""

    def __init__(self, library: Library) -> None:
        self.library = library
        self.title = self.form = self.indent = ""
        self.body: list[str] = []

    def open_block(self, line: str) -> None:
        """Begin repeated work, or write a line that stands alone."""
        self.body.append(line)
        self.indent = "  " if line.endswith(":") else ""

    def take_form(self, line: str, form: str) -> None:
        """Keep a format line; a cap that is named later completes it."""
        if not self.form or (self.form == "for time" and form.startswith("for time")):
            self.form = form
        if form.startswith("for time"):
            if rounds := re.search(r"(\d+)\s*rounds", line.lower()):
                self.open_block(f"{rounds[1]} rounds:")
            elif series := re.search(r"(\d+(?:\s*[-–]\s*\d+){2,})", line):
                self.open_block("reps " + "-".join(re.findall("[0-9]+", series[1])) + ":")

    def take(self, line: str, first: bool) -> None:
        """Read one line of prose."""
        if len(line) > MAX_LINE:
            self.body.append(f"{self.indent}{DOUBT} {line}")
            return
        item = _item(line)
        if form := _form(line):
            self.take_form(line, form)
        elif structure := _structure(line):
            self.open_block(structure)
        elif _understood(item, "for time", self.library) or (
            self.indent and _understood(f"1 {item}", "for time", self.library)
        ):
            self.body.append(self.indent + item)
        elif first and not line[0].isdigit():
            self.title = line.replace("#", "").strip()
        else:
            self.body.append(f"{self.indent}{DOUBT} {line}")


def read_announcement(prose: str, library: Library) -> Reading:
    """Return the notation of a pasted announcement; what is not understood stands in it as a comment.

    The result parses if at least one line of work was understood.
    Raises: NotationError for a text that is far too long.
    """
    check_length(prose)
    lines = [_BULLET.sub("", " ".join(line.split())).strip() for line in prose.splitlines()]
    draft = _Draft(library)
    for number, line in enumerate(filter(None, lines)):
        draft.take(line, first=number == 0)
    text = "\n".join(filter(None, [draft.title, draft.form or "for time", *draft.body])) + "\n"
    rows = list(enumerate(text.splitlines(), 1))
    doubts = [Doubt(i, row.strip()[len(DOUBT) :].strip()) for i, row in rows if row.strip().startswith(DOUBT)]
    if not draft.form:
        doubts.insert(0, Doubt(1 + bool(draft.title), "no time cap or format was found; “for time” is assumed"))
    return Reading(text, tuple(doubts))
