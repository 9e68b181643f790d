"""Lines, sentences and headings of an announcement: what stands where, and under which heading."""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from itertools import pairwise

from sorvek.core.workout.prose.divisions import division_at
from sorvek.core.workout.prose.words import Kind, Token, headings, picture, vocabulary

WRAPPED = 50
MOST_HEADING = 7
ADDRESSED = {"tonight", "today", "tomorrow", "athletes", "everybody", "everyone", "coaches", "dear", "hello"}
SMALL = {"a", "and", "at", "in", "of", "on", "the", "to"}  # words a title may write small
MOST_CLAUSE = 3  # words of a numbered line that may still be a heading: “2. Time cap”


class Section(StrEnum):
    """What the text under a heading is about."""

    WORK = "work"
    LOADS = "loads"
    SCORE = "score"
    TIE = "tie-break"
    CAP = "cap"
    STANDARDS = "standards"
    STORY = "story"
    SCALED = "scaled"


# “… complex of:” with the parts of it on lines of their own.
_COMPLEX = re.compile(r"\bcomplex\b[^.;]{0,40}:\s*$|\b(max|heaviest)\b[^.;:]{0,40}\bcomplex\s*$", re.IGNORECASE)
_PART = r"([0-9]{1,2}\s+)?[a-z][a-z &'-]{2,40}"
_COMPLEX_PART = re.compile(rf"\s*[-–•*]?\s*{_PART}(\+\s*{_PART})*\s*$", re.IGNORECASE)
_LABELLED = re.compile(r"\s*\S[^:]{2,24}:\s")  # “rounds 3 and 4: …”
_THEN = re.compile(r"\s*then,?\s+(\d|max|run|row|ski|bike)", re.IGNORECASE)  # a line of its own: “then 20 burpees”
MOST_LISTED = 8  # words and marks of a line of work behind a label
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
        part = listing and bool(_COMPLEX_PART.match(line))
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
    begins = headed or _counted_line(behind) or _begins(behind)
    numbered = behind[0].kind is Kind.NUMBER and not begins
    return behind[0].text[0].islower() or numbered


def _begins(tokens: list[Token]) -> bool:
    """Return whether a number begins a line of its own: a time, “10 minutes, …”, or a label, “5B) …”."""
    second = tokens[1] if len(tokens) > 1 else None
    timed = any(token.unit("min", "s") for token in tokens[1:3] if not token.mark("-–"))  # “13-minute cap”
    label = second is not None and second.start == tokens[0].end and len(second.text) == 1 and second.text.isupper()
    loads = second is not None and second.mark("/")  # “9/6 kg, 22.5/15 kg”
    return timed or label or loads


def _counted_line(tokens: Sequence[Token]) -> bool:
    """Return whether a line begins like one of a list: a count, then a movement near it."""
    return tokens[0].kind is Kind.NUMBER and any(token.kind is Kind.MOVEMENT for token in tokens[1:4])


def sentences_of(lines: Sequence[TextLine]) -> Iterator[Sentence]:
    """Yield the sentences of every line with their sections."""
    section = Section.WORK
    division: list[Token] = []
    worked = False
    for line in lines:
        tokens, bullet = _without_bullet(line.tokens)
        if line is lines[0] and (end := _title_end(tokens)):
            yield Sentence(tokens[:end], line.number, line.indent, True, bullet, line.gap, section, True)
            tokens = [token for i, token in enumerate(tokens[end:]) if i > 1 or not token.mark("—–-/|(:")]
        words = [token for token in tokens if not token.mark(":")]
        if section is Section.LOADS and not worked and any(token.cue("amrap", "for_time") for token in words):
            division, section = [], Section.WORK  # “RX MEN / RX WOMEN” stood above the work
        if any(token.cue("men", "women") for token in words) and _labels_only(words):
            if not (section is Section.WORK and _only_order(words)):
                # “MEN” on a line of its own: what follows are that division's loads.
                division, section = words, Section.LOADS
            yield Sentence(tokens, line.number, line.indent, True, bullet, line.gap, Section.LOADS, True)
            continue
        if line.gap and not bullet and division:
            division, section = [], Section.WORK
        clause = bullet and line.tokens[0].kind is Kind.NUMBER and len(tokens) <= MOST_CLAUSE
        heading, rest, found = _heading(tokens, bullet and not clause)
        found = _meant(heading, rest, found)
        worked = worked or (section is Section.WORK and _counted_line(tokens))
        if heading and not rest:
            if line is lines[0] and not any(token.mark(":#") for token in tokens):
                found = None  # a title, whatever its words
            division = []
            own = _opened(heading, found, worked) or section
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
            prescribed = opened is Section.LOADS and not worked and _prescribed(lead, part)
            inner = Section.WORK if prescribed else _own_section(part, opened)
            yield Sentence(
                part, line.number, line.indent, index == 0, bullet, line.gap and index == 0, inner, False, lead
            )


def _meant(heading: Sequence[Token], rest: Sequence[Token], found: Section | None) -> Section | None:
    """Return the section a heading opens: the number of a score heads work, names of all levels nothing."""
    if heading and not rest and _for_all(heading):
        return None
    # “Score B”, “Score 1: in 3 minutes as many burpees as possible”
    working = not rest or (found is Section.SCORE and any(token.cue("amrap") for token in rest))
    return Section.WORK if heading and working and _of_a_score(heading) else found


def _of_a_score(heading: Sequence[Token]) -> bool:
    """Return whether a heading names the work of one of several scores: “Score 8A”, “Score B”."""
    words = [token for token in heading if not token.mark(":–-")]
    label = words[1:] and (words[-1].text in ("A", "B", "C") or words[-1].kind is Kind.NUMBER)
    return bool(label) and words[0].low == "score" and len(words) <= MOST_CLAUSE


def _quoted_name(tokens: Sequence[Token]) -> bool:
    """Return whether a line is a name in quotes: “Ten Across”."""
    quoted = len(tokens) > 2 and tokens[0].mark('“"') and tokens[-1].mark('”"')
    numbers = sum(
        token.kind is Kind.NUMBER and not token.text[:1].isalpha() for token in tokens
    )  # “Three by Three”
    joined = len(tokens) > 3 and tokens[-3].mark("-") and tokens[-2].text.isalpha()  # “3-2-1-Up”
    plain = any(token.text.isalpha() for token in tokens) and (numbers < 2 or joined)  # “3 Bars”
    return quoted and plain and len(tokens) <= MOST_HEADING + 2 and not any(t.kind is Kind.MOVEMENT for t in tokens)


def minutes_in_turn(sentences: Sequence[Sentence]) -> set[int]:
    """Return sentences, by identity, that begin with stretches of one clock: “0-4 burpees”, “4-8 snatches”."""
    ends = [(s, s.tokens[0].number, s.tokens[2].number) for s in sentences if _two_numbers(s.tokens)]
    joined = all(a[2] == b[1] for a, b in pairwise(ends))
    return {id(s) for s, _, _ in ends} if len(ends) > 1 and joined and ends[0][1] == 0 else set()


def _two_numbers(tokens: Sequence[Token]) -> bool:
    numbers = len(tokens) > 3 and tokens[0].kind is tokens[2].kind is Kind.NUMBER
    return numbers and tokens[1].mark("-–") and tokens[0].number < tokens[2].number


def _own_section(tokens: Sequence[Token], section: Section) -> Section:
    """Return what a sentence is about, below a heading that may say something else."""
    if _of_another_version(tokens):
        return Section.SCALED
    counted = tokens[0].kind is Kind.NUMBER and any(token.kind is Kind.MOVEMENT for token in tokens)
    if section is Section.SCORE and [token.kind for token in tokens[:3]] == [Kind.CUE, Kind.NUMBER, Kind.UNIT]:
        return Section.WORK if division_at(tokens, 0)[1] == 1 else section  # “Score: pull-ups. Women 12 cal.”
    bounded = any(token.cue("for_time", "amrap", "rounds") for token in tokens)
    if section is Section.STORY and _counted_line(tokens) and len(tokens) <= MOST_LISTED:
        return Section.WORK  # “Floor: 30 burpees”
    # “Men's and women's divisions alike: 15 rounds for time of …”
    return Section.WORK if section is Section.LOADS and counted and bounded else section


def _prescribed(lead: Sequence[Token], tokens: list[Token]) -> bool:
    """Return whether what stands behind “RX:” is the work itself: “RX: 21-15-9 thrusters”, “RX: 30 burpees”."""
    plain = {token.low for token in lead if not token.mark(":")}
    sized = len(tokens) > 1 and tokens[1].unit("kg", "lb", "cm", "in")  # “RX: 60 cm box”
    series = tokens[0].kind is Kind.NUMBER and tokens[1:2] and tokens[1].mark("-–")
    return bool(plain) and plain <= {"rx", "open"} and not sized and (_counted_line(tokens) or bool(series))


def _of_another_version(tokens: Sequence[Token]) -> bool:
    """Return whether a sentence is about easier work: “60 pull-ups and 60 ring dips is the scaled version”."""
    lows = [token.low for token in tokens]
    return any(
        a in vocabulary("other_levels") and b in ("version", "option", "alternative") for a, b in pairwise(lows)
    )


def _opened(heading: Sequence[Token], found: Section | None, worked: bool) -> Section | None:
    """Return the section a heading opens: “Flow” below the work says how it goes."""
    flow = found is Section.WORK and worked and any(token.low == "flow" for token in heading)
    return Section.STANDARDS if flow else found


def _for_all(heading: Sequence[Token]) -> bool:
    """Return whether a heading names everybody, not a level of its own: “Individual Rx & Scaled”."""
    levels = [token.low for token in heading if token.cue("level")]
    return len(levels) > 1 and bool({"rx", "rx'd", "open"} & set(levels))


def _only_order(tokens: Sequence[Token]) -> bool:
    """Return whether a line says in which order numbers stand, “Women / Men”, and names no level."""
    sexes = {token.name for token in tokens if token.cue("men", "women")}
    return len(sexes) > 1 and not any(token.cue("level") for token in tokens)


def _labels_only(tokens: Sequence[Token]) -> bool:
    """Return whether a line names divisions and nothing else: “MEN”, “MASTERS 40+ MEN / WOMEN”."""
    at = 0
    while at < len(tokens):
        used = division_at(tokens, at)[1]
        if not used and not (tokens[at].mark("/&,") or tokens[at].low == "and"):
            return False
        at += max(1, used)
    return True


def _title_end(tokens: Sequence[Token]) -> int:
    """Return where a title ends that stands before the work on one line, “Kelp — for time”, 0 if none does."""
    near = tokens[: MOST_HEADING + 1]
    end = next((i for i, t in enumerate(near) if i and t.mark("—–-/|:")), 0)
    end = end or next((i for i, t in enumerate(near) if i and t.mark("(")), 0)
    head, behind = tokens[:end], tokens[end:]
    apart = end and (tokens[end].start > tokens[end - 1].end or tokens[end].mark("/|:"))
    forms = ("amrap", "for_time", "emom", "cap")
    others = (
        "for_reps",
        "rounds",
        "lift",
        "within",
        "stage",
        "part",
        "window",
        "men",
        "women",
        "level",
        "buy_in",
        "then",
    )
    plain = not any(t.kind in (Kind.MOVEMENT, Kind.CLOCK) or t.unit() or t.cue(*forms, *others) for t in head)
    if end and tokens[end].mark(":"):
        # “Old Pier: 60 burpees for time”; “Equipment: …” is no title, and “Qualifier 1: Old Pier” is all of it.
        numbers = [i for i, t in enumerate(head) if t.kind is Kind.NUMBER]
        named = (
            not {t.low for t in head} & ADDRESSED
            and len(numbers) < 2
            and 0 not in numbers
            and all(t.text[0].isupper() or t.low in SMALL for t in _outside(head) if t.kind is Kind.WORD)
        )
        worked = any(t.kind in (Kind.NUMBER, Kind.CLOCK) or t.cue(*forms) for t in behind)
        section = _section(_outside(head))
        free = section is None or (section is Section.WORK and bool(numbers) and _says_work(behind))
        return end if plain and named and worked and free else 0
    return end if apart and plain and any(t.cue(*forms, "lift") for t in behind) else 0


def _says_work(tokens: Sequence[Token]) -> bool:
    """Return whether the first sentence says work: “Test 4: build to a heavy clean”, not “Test 4: THREE BUOYS”."""
    end = next((i for i, token in enumerate(tokens) if token.mark(".;!?")), len(tokens))
    said = [token for token in tokens[:end] if token.kind is not Kind.MARK]
    numbered = any(token.kind in (Kind.NUMBER, Kind.CLOCK) for token in said)
    about = any(t.kind in (Kind.MOVEMENT, Kind.UNIT) or t.cue("amrap", "for_time", "rounds", "lift") for t in said)
    return numbered and about and len(said) > 4


def _outside(tokens: Sequence[Token]) -> Sequence[Token]:
    """Return the words before a bracket: “Qualifier 7 (tie-break workout)”."""
    return tokens[: next((i for i, token in enumerate(tokens) if token.mark("(")), len(tokens))]


def _without_bullet(tokens: list[Token]) -> tuple[list[Token], bool]:
    """Take bullets and list numbers off the beginning of a line."""
    at = 0
    while at < len(tokens) - 1 and (tokens[at].mark(_BULLETS + "_`") or picture(tokens[at])):
        if tokens[at].mark("+") and tokens[at + 1].start == tokens[at].end:
            break  # “+5 each round”
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


def _heading(tokens: list[Token], bullet: bool) -> tuple[list[Token], list[Token], Section | None]:
    """Split a line into what heads it and the rest; the section the heading opens, None if it names none."""
    if _quoted_name(tokens):
        return tokens, [], None
    bare = [token for token in tokens if not token.mark("#*_`=")]
    hashes = bool(tokens) and tokens[0].mark("#*") and len(bare) <= MOST_HEADING
    colon = next((i for i, token in enumerate(tokens[: MOST_HEADING + 2]) if token.mark(":")), None)
    if colon is None:
        colon = _dash(tokens)
    head = tokens[:colon] if colon is not None else tokens
    if any(token.kind is Kind.CLOCK or token.mark(".,") for token in head):
        return [], tokens, None
    section = _section(head)
    plain = not any(token.kind in (Kind.NUMBER, Kind.CLOCK) for token in head) or section is not None
    if colon is not None and plain and section is not None and not _work_like(head):
        return head, [token for token in tokens[colon + 1 :] if not token.mark("*_")], section
    if (
        colon is None
        and len(bare) <= MOST_HEADING
        and not bullet
        and not any(t.kind is Kind.MOVEMENT for t in bare)
    ):
        shouting = all(
            token.text.isupper() for token in bare if token.kind is not Kind.MARK and token.text.isalpha()
        )
        titled = not (bare and bare[-1].mark(".!?,;")) and len(bare) <= 4
        titled = titled and not (len(bare) > 2 and bare[0].text in ("from", "on", "in", "to", "at"))
        if section is not None and (hashes or shouting or titled) and not _work_like(bare):
            return head, [], section
    return [], tokens, None


def _dash(tokens: Sequence[Token]) -> int | None:
    """Return where a dash sets a heading apart, “Score – total reps”, None if none does."""
    at = next((i for i, token in enumerate(tokens[:3]) if token.mark("-–—")), 0)
    apart = at > 0 and tokens[at].start > tokens[at - 1].end
    return at if apart and _section(tokens[:at]) in (Section.SCORE, Section.TIE, Section.CAP) else None


def _work_like(tokens: Sequence[Token]) -> bool:
    """Return whether a head is itself work or says how it is bounded."""
    numbers = sum(token.kind in (Kind.NUMBER, Kind.CLOCK) for token in tokens)
    counted = numbers > 0
    staged = any(a.cue("stage") and (b.kind is Kind.NUMBER or b.text in "ABCD") for a, b in pairwise(tokens))
    return (
        staged
        or numbers > 1
        or any(
            token.cue("amrap", "for_time", "rounds", "emom")
            or (token.kind is Kind.MOVEMENT and counted)
            or token.unit("min")
            for token in tokens
        )
    )


def _section(tokens: Sequence[Token]) -> Section | None:
    """Return the section the words of a heading open, None if they name none."""
    if any(token.low in ("for load", "max load", "max lift") for token in tokens):
        return Section.WORK
    words = {word for token in tokens for word in re.findall(r"[a-z-]+", token.low.replace(" ", "-"))}
    words |= {piece for word in words for piece in word.split("-")}
    return next((Section[name.upper()] for name, known in headings().items() if words & known), None)


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
    latin = [token.low for token in tokens[max(0, at - 3) : at]]
    if latin[-3:] in (["i", ".", "e"], ["e", ".", "g"]):
        return True  # “i.e. 21 squats, 15 calories …”
    return (
        before is not None
        and (before.unit() or before.low in ("alt", "approx", "incl", "max", "no", "pt", "vs"))
        and (behind.text.islower() or behind.mark("([") or before.low in ("alt", "max", "pt"))
    )
