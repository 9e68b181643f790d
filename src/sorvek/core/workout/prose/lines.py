"""Lines, sentences and headings of an announcement: what stands where, and under which heading."""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from itertools import pairwise

from sorvek.core.workout.prose.divisions import division_at
from sorvek.core.workout.prose.headings import (
    MOST_CLAUSE,
    Section,
    counted_line,
    heading_of,
    is_prescribed,
    labels_only,
    only_order,
    opened_by,
    own_section,
    section_of,
    title_end,
)
from sorvek.core.workout.prose.words import Kind, Token, picture

WRAPPED = 50
# “… complex of:” with the parts of it on lines of their own.
_IN_MINUTES = r"(\s+in\s+[0-9]{1,2}\s?m[a-z]*)?"
_OF_A_COMPLEX = (
    rf"\b(max|heaviest)\b[^.;:]{{0,40}}\bcomplex{_IN_MINUTES}(\s+of)?:?\s*$|\b(1 ?-?rm|one[- ]rep[- ]max) of:?\s*$"
)
_COMPLEX = re.compile(rf"\bcomplex\b[^.;]{{0,40}}:\s*$|{_OF_A_COMPLEX}", re.IGNORECASE)
_PART = r"([0-9]{1,2}\s+)?[a-z][a-z &'-]{2,40}"
_COMPLEX_PART = re.compile(rf"\s*[-–•*]?\s*{_PART}(\+\s*{_PART})*\s*$", re.IGNORECASE)
_TIMED = re.compile(r"\b(min|mins|minutes?|sec|seconds?|rest|amrap)\b", re.IGNORECASE)  # no part of a complex
_LABELLED = re.compile(r"\s*\S[^:]{2,24}:\s")  # “rounds 3 and 4: …”
_ANEW = re.compile(r"\s*(?:as many|amrap|rest)\b", re.IGNORECASE)  # begins the next part behind a comma
_THEN = re.compile(r"\s*then,?\s+(\d|max|run|row|ski|bike)", re.IGNORECASE)  # a line of its own: “then 20 burpees”
_HELD = re.compile(r"\s*(med\w* )?(ball|bar|barbell|dumbbell|db|kettlebell|kb|box)s?\W{1,3}\d")  # “ball 9/6 kg, …”
_LETTERED = re.compile(r"\s*[a-h]\) ")  # “b) 2 minutes of rest”
_BULLETS = "-–—•*·▪►>‣○●+~➡→▶✔✓☐□■◦»"


@dataclass(slots=True)
class Sentence:
    """Tokens of a sentence and where it stands: its line, indentation, bullet, and the section it is under."""

    tokens: list[Token]
    line: int
    indent: int = 0
    first: bool = True
    bullet: bool = False
    gap: bool = False
    section: Section = Section.WORK
    heading: bool = False
    lead: list[Token] = field(default_factory=list)

    @property
    def words(self) -> int:
        """Return how many words and numbers it has."""
        return sum(token.kind is not Kind.MARK for token in self.tokens)


@dataclass(slots=True)
class TextLine:
    """A line that holds something, numbered from 1; `gap` if a blank one stands above it."""

    tokens: list[Token]
    number: int
    indent: int
    gap: bool


def unwrap(text: str) -> str:
    """Return a text of the same length whose lines that were wrapped in the middle of a sentence go on.

    A full line goes on where the next one begins with a small letter: names of movements are not cut in two then.
    The lines of a list behind “complex:” are joined by a plus.
    """
    lines = text.split("\n")
    pieces, listing = [lines[0]], bool(_COMPLEX.search(lines[0]))
    for before, line in pairwise(lines):
        said = before.rstrip()
        goes_on = len(said) >= WRAPPED and said[-1] not in ".:;!?|" and line.strip()[:1].islower()
        goes_on = goes_on and not (_LABELLED.match(before) and _LABELLED.match(line))
        goes_on = goes_on and not (_THEN.match(line) or _LETTERED.match(line) or _HELD.match(line))
        goes_on = goes_on and not (said.endswith(",") and _ANEW.match(line))
        part = listing and bool(_COMPLEX_PART.match(line)) and not _TIMED.search(line)
        pieces.append(("+" if part else " " if goes_on else "\n") + line)
        listing = part or bool(_COMPLEX.search(line))
    return "".join(pieces)


def lines_of(tokens: Sequence[Token], text: str) -> list[TextLine]:
    """Return the lines that hold anything; a line that was wrapped at the margin goes on with the next."""
    found: list[TextLine] = []
    current: list[Token] = []
    number, start, blank = 1, 0, False
    for token in [*tokens, Token(Kind.NEWLINE, "\n", len(text), len(text))]:
        if token.kind is not Kind.NEWLINE:
            current.append(token)
            continue
        if current:
            indent = current[0].start - start
            if found and not blank and _wrapped(found[-1], current, text):
                found[-1].tokens += current
            else:
                found.append(TextLine(current, number, indent, blank))
            current, blank = [], False
        else:
            blank = True
        number, start = number + 1, token.end
    return found


def _wrapped(line: TextLine, behind: list[Token], text: str) -> bool:
    """Return whether a line breaks off in the middle of a sentence because it was full."""
    last = line.tokens[-1]
    begin = text.rfind("\n", 0, last.start) + 1
    if _LABELLED.match(text[begin : last.end]) and _LABELLED.match(text[behind[0].start : behind[-1].end]):
        return False
    if _THEN.match(text[behind[0].start : behind[-1].end]) and not last.mark(","):
        return False
    if last.mark(",") and _ANEW.match(text[behind[0].start : behind[-1].end]):
        return False
    if last.end - begin < WRAPPED or last.mark(".:;!?|") or behind[0].mark(_BULLETS + "|"):
        return False
    if last.low in {
        "of",
        "and",
        "for",
        "the",
        "a",
        "in",
        "at",
        "every",
        "least",
        "than",
        "with",
        "to",
        "or",
        "is",
        "on",
    }:
        return True
    headed = any(token.mark(":") for token in behind[:5])  # “10-20 min: …”
    begins = headed or counted_line(behind) or _begins(behind)
    numbered = behind[0].kind is Kind.NUMBER and not begins
    return behind[0].text[0].islower() or numbered


def _begins(tokens: list[Token]) -> bool:
    """Return whether a number begins a line of its own: a time, “10 minutes, …”, or a label, “5B) …”."""
    second = tokens[1] if len(tokens) > 1 else None
    timed = any(token.unit("min", "s") for token in tokens[1:3] if not token.mark("-–"))  # “13-minute cap”
    label = second is not None and second.start == tokens[0].end and len(second.text) == 1 and second.text.isupper()
    loads = second is not None and second.mark("/")  # “9/6 kg, 22.5/15 kg”
    return timed or label or loads


def sentences_of(lines: Sequence[TextLine]) -> Iterator[Sentence]:
    """Yield the sentences of every line with their sections."""
    section = Section.WORK
    division: list[Token] = []
    worked = False
    for line in lines:
        tokens, bullet = _without_bullet(line.tokens)
        if line is lines[0] and (end := title_end(tokens)):
            yield Sentence(tokens[:end], line.number, line.indent, True, bullet, line.gap, section, True)
            tokens = [token for i, token in enumerate(tokens[end:]) if i > 1 or not token.mark("—–-/|(:")]
        words = [token for token in tokens if not token.mark(":")]
        if section is Section.LOADS and not worked and any(token.cue("amrap", "for_time") for token in words):
            division, section = [], Section.WORK  # “RX MEN / RX WOMEN” stood above the work
        if any(token.cue("men", "women") for token in words) and labels_only(words):
            if not (section is Section.WORK and only_order(words)):
                # “MEN” on a line of its own: what follows are that division's loads.
                division, section = words, Section.LOADS
            yield Sentence(tokens, line.number, line.indent, True, bullet, line.gap, Section.LOADS, True)
            continue
        if line.gap and not bullet and division:
            division, section = [], Section.WORK
        clause = bullet and line.tokens[0].kind is Kind.NUMBER and len(tokens) <= MOST_CLAUSE
        heading, rest, found = heading_of(tokens, bullet and not clause)
        found = section_of(heading, rest, found)
        worked = worked or (section is Section.WORK and counted_line(tokens))
        if heading and not rest:
            if line is lines[0] and not any(token.mark(":#") for token in tokens):
                found = None  # a title, whatever its words
            division = []
            own = opened_by(heading, found, worked) or section
            # “Cap 20” on a line of its own is all there is to say of it.
            said = own is Section.CAP and any(t.kind in (Kind.NUMBER, Kind.CLOCK) for t in heading)
            section = section if said else own
            yield Sentence(tokens, line.number, line.indent, True, bullet, line.gap, own, True)
            continue
        rest = rest if line is lines[0] else [token for token in rest if not token.mark('“”"')]
        parts = list(_split(rest))
        for index, part in enumerate(parts):
            head = heading or parts[0][: division_at(parts[0], 0)[1]]
            listed = index > 0 and parts[index - 1][-1].mark(";") and bool(division_at(head, 0)[1])
            lead = head if (heading and index == 0) or listed else division
            opened = found if heading and found is not None else section
            prescribed = opened is Section.LOADS and not worked and is_prescribed(lead, part)
            inner = Section.WORK if prescribed else own_section(part, opened)
            yield Sentence(
                part, line.number, line.indent, index == 0, bullet, line.gap and index == 0, inner, False, lead
            )


def minutes_in_turn(sentences: Sequence[Sentence]) -> set[int]:
    """Return sentences, by identity, that begin with stretches of one clock: “0-4 burpees”, “4-8 snatches”."""
    heads = [(s, _without_minute(s.tokens)) for s in sentences]
    ends = [(s, tokens[0].number, tokens[2].number) for s, tokens in heads if _two_numbers(tokens)]
    joined = all(a[2] == b[1] for a, b in pairwise(ends))
    return {id(s) for s, _, _ in ends} if len(ends) > 1 and joined and ends[0][1] == 0 else set()


def _without_minute(tokens: list[Token]) -> list[Token]:
    """Return the tokens of a line without “min” before its numbers: “min 0-3 thrusters”."""
    return tokens[1:] if tokens[0].low in ("min", "minute", "minutes", "mins") else tokens


def _two_numbers(tokens: Sequence[Token]) -> bool:
    numbers = len(tokens) > 3 and tokens[0].kind is tokens[2].kind is Kind.NUMBER
    return numbers and tokens[1].mark("-–") and tokens[0].number < tokens[2].number


def _without_bullet(tokens: list[Token]) -> tuple[list[Token], bool]:
    """Take bullets and list numbers off the beginning of a line."""
    at = 0
    while at < len(tokens) - 1 and (tokens[at].mark(_BULLETS + "_`") or picture(tokens[at])):
        rises = tokens[at + 1].kind is Kind.NUMBER and any(token.cue("each_round") for token in tokens)
        rises = rises and not any(token.low == "after" for token in tokens)
        if tokens[at].mark("+") and (tokens[at + 1].start == tokens[at].end or rises):
            break  # “+5 each round”, “+ 1 toes-to-bar each round”
        at += 1
    bracketed = len(tokens) > at + 3 and tokens[at].mark("(") and tokens[at + 2].mark(")")
    if bracketed and tokens[at + 1].kind is tokens[at + 3].kind is Kind.NUMBER and tokens[at + 1].number < 20:
        return tokens[at + 3 :], True  # “(1) 50 calories”
    lettered = len(tokens) > at + 2 and tokens[at].text in [*"abcdefgh"] and tokens[at + 1].mark(")")
    if lettered and tokens[at].end == tokens[at + 1].start:
        return tokens[at + 2 :], True  # “b) 2 minutes of rest”
    numbered = len(tokens) > at + 2 and tokens[at].kind is Kind.NUMBER and tokens[at + 1].mark(".)")
    if numbered and tokens[at].end == tokens[at + 1].start < tokens[at + 2].start and tokens[at].number < 20:
        return tokens[at + 2 :], True
    clause = len(tokens) > at + 1 and tokens[at].kind is Kind.NUMBER and "." in tokens[at].text
    if (
        clause
        and (tokens[at + 1].text[0].isupper() or tokens[at + 1].kind is Kind.NUMBER)
        and tokens[at + 1].start > tokens[at].end
    ):
        return tokens[at + 1 :], True  # “2.1 Time cap”
    return tokens[at:], at > 0


def _split(tokens: Sequence[Token]) -> Iterator[list[Token]]:
    """Split a line into sentences at full stops and semicolons."""
    current: list[Token] = []
    depth = 0
    for index, token in enumerate(tokens):
        current.append(token)
        depth = max(0, depth + token.mark("(") - token.mark(")"))
        if token.text == ";" and depth and any(other.mark(")") for other in tokens[index:]):
            continue  # “(22.5/15 kg; 50 cm)”
        behind = tokens[index + 1] if index + 1 < len(tokens) else None
        aged = tokens[index + 2 : index + 3]
        aged_on = (
            behind is not None and behind.kind is Kind.NUMBER and bool(aged) and aged[0].mark("+")
        )  # “; 55+ …”
        listed = behind is not None and (behind.cue("men", "women", "level") or aged_on)
        if not token.mark(".!?;") or (token.text == ";" and listed):
            continue
        if token.text == "." and (
            behind is not None and (behind.start == token.end or _short(tokens, index, behind))
        ):
            continue
        yield current
        current = []
    if current:
        yield current


def _short(tokens: Sequence[Token], at: int, behind: Token) -> bool:
    """Return whether a full stop ends an abbreviation: “12 min. cap”."""
    before = tokens[at - 1] if at else None
    begun = at < 3 and before is not None and before.unit("ft", "lb", "cal") and behind.text[:1].isalpha()
    if begun and (behind.kind is Kind.MOVEMENT or behind.cue("dumbbell", "kettlebell", "barbell")):
        return True  # “50 ft. DB front-rack lunge”
    latin = [token.low for token in tokens[max(0, at - 3) : at]]
    if latin[-3:] in (["i", ".", "e"], ["e", ".", "g"]):
        return True  # “i.e. 21 squats, 15 calories …”
    return (
        before is not None
        and (before.unit() or before.low in ("alt", "approx", "incl", "max", "no", "pt", "vs"))
        and (behind.text.islower() or behind.mark("([") or before.low in ("alt", "max", "pt"))
    )
