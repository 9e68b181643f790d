"""What lines and sentences are about: headings, titles, and the sections they open."""

import re
from collections.abc import Sequence
from enum import StrEnum
from itertools import pairwise

from sorvek.core.workout.prose.divisions import division_at
from sorvek.core.workout.prose.words import Kind, Token, headings, vocabulary

MOST_CLAUSE = 3  # words of a numbered line that may still be a heading: “2. Time cap”

MOST_LISTED = 8  # words and marks of a line of work behind a label
SMALL = {"a", "and", "at", "in", "of", "on", "the", "to"}  # words a title may write small
ADDRESSED = {"tonight", "today", "tomorrow", "athletes", "everybody", "everyone", "coaches", "dear", "hello"}
MOST_GEAR = 5  # so many of a thing are needed at most; more are counted work; judgement
MOST_HEADING = 7


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


def counted_line(tokens: Sequence[Token]) -> bool:
    """Return whether a line begins like one of a list: a count, then a movement near it."""
    return tokens[0].kind is Kind.NUMBER and any(token.kind is Kind.MOVEMENT for token in tokens[1:4])


def section_of(heading: Sequence[Token], rest: Sequence[Token], found: Section | None) -> Section | None:
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


def own_section(tokens: Sequence[Token], section: Section) -> Section:
    """Return what a sentence is about, below a heading that may say something else."""
    if _of_another_version(tokens):
        return Section.SCALED
    counted = tokens[0].kind is Kind.NUMBER and any(token.kind is Kind.MOVEMENT for token in tokens)
    if section is Section.SCORE and [token.kind for token in tokens[:3]] == [Kind.CUE, Kind.NUMBER, Kind.UNIT]:
        return Section.WORK if division_at(tokens, 0)[1] == 1 else section  # “Score: pull-ups. Women 12 cal.”
    bounded = any(token.cue("for_time", "amrap", "rounds") for token in tokens)
    if section is Section.STORY and counted_line(tokens) and len(tokens) <= MOST_LISTED:
        return Section.WORK  # “Floor: 30 burpees”
    # “Men's and women's divisions alike: 15 rounds for time of …”
    return Section.WORK if section is Section.LOADS and counted and bounded else section


def is_prescribed(lead: Sequence[Token], tokens: list[Token]) -> bool:
    """Return whether what stands behind “RX:” is the work itself: “RX: 21-15-9 thrusters”, “RX: 30 burpees”."""
    plain = {token.low for token in lead if not token.mark(":")}
    sized = len(tokens) > 1 and tokens[1].unit("kg", "lb", "cm", "in")  # “RX: 60 cm box”
    series = tokens[0].kind is Kind.NUMBER and tokens[1:2] and tokens[1].mark("-–")
    return bool(plain) and plain <= {"rx", "open"} and not sized and (counted_line(tokens) or bool(series))


def _of_another_version(tokens: Sequence[Token]) -> bool:
    """Return whether a sentence is about easier work: “60 pull-ups and 60 ring dips is the scaled version”."""
    lows = [token.low for token in tokens]
    return lows[0] in ("sub", "subs", "substitute", "substitution", "substitutions") or any(
        a in vocabulary("other_levels") and b in ("version", "option", "alternative") for a, b in pairwise(lows)
    )


def opened_by(heading: Sequence[Token], found: Section | None, worked: bool) -> Section | None:
    """Return the section a heading opens: “Flow” below the work says how it goes."""
    flow = found is Section.WORK and worked and any(token.low == "flow" for token in heading)
    return Section.STANDARDS if flow else found


def _for_all(heading: Sequence[Token]) -> bool:
    """Return whether a heading names everybody, not a level of its own: “Individual Rx & Scaled”."""
    levels = [token.low for token in heading if token.cue("level")]
    return len(levels) > 1 and bool({"rx", "rx'd", "open"} & set(levels))


def only_order(tokens: Sequence[Token]) -> bool:
    """Return whether a line says in which order numbers stand, “Women / Men”, and names no level."""
    sexes = {token.name for token in tokens if token.cue("men", "women")}
    return len(sexes) > 1 and not any(token.cue("level") for token in tokens)


def labels_only(tokens: Sequence[Token]) -> bool:
    """Return whether a line names divisions and nothing else: “MEN”, “MASTERS 40+ MEN / WOMEN”."""
    at = 0
    while at < len(tokens):
        used = division_at(tokens, at)[1]
        if not used and not (tokens[at].mark("/&,") or tokens[at].low == "and"):
            return False
        at += max(1, used)
    return True


def title_end(tokens: Sequence[Token]) -> int:
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
    plain = plain and not any("complex" in t.low for t in head)
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


def heading_of(tokens: list[Token], bullet: bool) -> tuple[list[Token], list[Token], Section | None]:
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
        counted = (
            bool(bare) and bare[0].kind is Kind.NUMBER and bare[0].number > MOST_GEAR and section is Section.LOADS
        )
        if section is not None and (hashes or shouting or titled) and not (counted or _work_like(bare)):
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
