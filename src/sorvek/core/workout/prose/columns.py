"""Counts in rows below the names of the movements: “Snatch + Burpee over bar”, “10 + 10 @ 40/30 kg”, …."""

from collections.abc import Sequence
from dataclasses import replace
from itertools import takewhile

from sorvek.core.workout.movements import SizeKind
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.amounts import sizes_at
from sorvek.core.workout.prose.bounding import SILENT
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import Said
from sorvek.core.workout.prose.sizes import Sizes
from sorvek.core.workout.prose.words import Kind, Token

LEAST = 2  # movements in a head, and rows below it
JOINTS = "+-–/&"


def read_columns(draft: Draft) -> None:
    """Make counted work of rows of numbers below a line that names as many movements and counts none."""
    for at, head in enumerate(draft.said):
        works = head.of(p.WorkLine)
        bare = len(works) >= LEAST and not any(work.counts or work.sizes for work in works)
        plain = not head.has(p.RepCounts, p.Span, p.Lift) and head.sentence.section not in SILENT
        if not (bare and plain) or head is draft.title:
            continue
        below = takewhile(lambda row: bool(row[1]), ((x, _counts(x, len(works))) for x in draft.said[at + 1 :]))
        rows = list(below)
        if len(rows) < LEAST:
            continue
        draft.facts.used += head.sentence.tokens
        head.phrases, head.used = [], True
        for said, places in rows:
            _fill(draft, said, works, places)


def read_more_rows(draft: Draft) -> None:
    """Make counted work of lines that only count the next round: “1: 1 jump + 1 clean”, “2: 2 + 2”."""
    works: list[p.WorkLine] = []
    for said in draft.said:
        mine = said.of(p.WorkLine)
        if mine:
            works = mine if len(mine) >= LEAST and all(len(work.counts) == 1 for work in mine) else []
            continue
        tokens = said.sentence.tokens
        begin = next((i + 1 for i, token in enumerate(tokens[:3]) if token.mark(":")), 0)
        numbers = [i for i in range(begin, len(tokens)) if tokens[i].kind is Kind.NUMBER]
        joined = all(
            token.kind is Kind.NUMBER or token.mark(JOINTS) or token.low == "and" for token in tokens[begin:]
        )
        bare = all(isinstance(phrase, p.Unknown | p.Cue) for phrase in said.phrases)
        if works and joined and bare and len(numbers) == len(works):
            _fill(draft, said, works, numbers)


def _counts(said: Said, many: int) -> list[int]:
    """Return where the counts of a row stand, one for each movement and nothing but a load behind; else none."""
    tokens = said.sentence.tokens
    places = [i for i in range(0, min(len(tokens), 2 * many - 1), 2) if tokens[i].kind is Kind.NUMBER]
    joined = all(tokens[i + 1].mark(JOINTS) for i in places[:-1])
    rest = tokens[2 * many - 1 :]
    sizes = _load(tokens, 2 * many - 1)
    ends = not rest or (sizes is not None and sizes.hi >= len(tokens) - 1)
    return places if len(places) == many and joined and ends and not said.has(p.WorkLine) else []


def _load(tokens: Sequence[Token], at: int) -> Sizes | None:
    """Return the load behind the counts of a row: “@ 40/30 kg”, “(40/30 kg)”, “at 40 kg”."""
    while at < len(tokens) and (tokens[at].mark("@(,:") or tokens[at].low in ("at", "with")):
        at += 1
    return sizes_at(tokens, at, set()) if at < len(tokens) else None


def _fill(draft: Draft, said: Said, works: Sequence[p.WorkLine], places: Sequence[int]) -> None:
    """Write the movements of the head into a row; its load is that of those that have one."""
    tokens, sizes = said.sentence.tokens, _load(said.sentence.tokens, places[-1] + 1)
    said.phrases = []
    for work, at in zip(works, places, strict=True):
        loaded = sizes is not None and draft.library.movements[work.movement].size is SizeKind.LOAD
        end = len(tokens) if at == places[-1] else at + 1
        line = replace(work, lo=at, hi=end, counts=(int(tokens[at].number),), unsure="", pointed=False)
        said.phrases.append(replace(line, sizes=sizes if loaded else None))
