"""Rungs told by their counts alone, below the one that names the movements: “3 pull-ups / 3 swings”, “6 / 6”."""

from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise, takewhile

from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import Said
from sorvek.core.workout.prose.headings import Section
from sorvek.core.workout.prose.words import Kind

LEAST_ROWS = 2  # one row alone may be anything

Row = list[tuple[int, int]]  # places of tokens and the counts there


def read_counts(draft: Draft) -> None:
    """Make work of rows that hold as many counts as there is work right above, and nothing else."""
    at = 0
    while at < len(draft.said):
        told = list(takewhile(_rows, draft.said[at:]))
        rows = [row for said in told for row in _rows(said)]
        size = len(rows[0]) if rows else 0
        works = _works_above(draft.said[:at], size)
        at += max(1, len(told))
        ragged = any(len(row) != size for row in rows)
        if len(rows) < LEAST_ROWS or not works or ragged or not _go_on(works, rows):
            continue
        for said in told:
            said.phrases = [
                replace(work, lo=place, hi=place + 1, counts=(count,), sizes=None)
                for row in _rows(said)
                for work, (place, count) in zip(works, row, strict=True)
            ] + [x for x in said.phrases if isinstance(x, p.Cue)]
        for other in draft.said:  # “and so on (+3)” says again what the rows say
            other.phrases = [x for x in other.phrases if not isinstance(x, p.Step)]


def count_once(draft: Draft) -> None:
    """Give every movement of a chipper its count in turn, where it has as many of both: “10-20-30”, “a – b – c”."""
    told = [(said, series) for said in draft.said for series in said.of(p.RepCounts)]
    works = [(said, work) for said in draft.said for work in said.of(p.WorkLine) if not work.pointed]
    chipper = any("chipper" in said.low() for said in draft.said)
    alike = len(told) == 1 and len(told[0][1].counts) == len(works) and not any(work.counts for _, work in works)
    if not (chipper and alike):
        return
    head, series = told[0]
    head.phrases = [x for x in head.phrases if x is not series]
    head.used = head.used or not head.phrases
    draft.facts.used += head.tokens(series)
    for (said, work), count in zip(works, series.counts, strict=True):
        said.phrases = [replace(work, counts=(count,)) if x is work else x for x in said.phrases]


def _go_on(works: Sequence[p.WorkLine], rows: Sequence[Row]) -> bool:
    """Return whether all counts rise or fall from row to row as the first does; “43/30”, “60/40” are loads."""
    lines = [[work.counts[0] for work in works], *([count for _, count in row] for row in rows)]
    alike = all(len(set(line)) == 1 for line in lines)
    return alike or all(len({b - a for a, b in pairwise(column)}) == 1 for column in zip(*lines, strict=True))


def _works_above(above: Sequence[Said], size: int) -> list[p.WorkLine]:
    """Return so many lines of counted work that stand right above, in one sentence or in a list."""
    works: list[p.WorkLine] = []
    for said in reversed(above):
        mine = said.of(p.WorkLine)
        if len(works) >= size or not mine or any(len(x.counts) != 1 or x.pointed or x.by_round for x in mine):
            break
        works = [*mine, *works]
    return works if len(works) == size else []


def _rows(said: Said) -> list[Row]:
    """Return the rows of a sentence that holds nothing else: “6 / 6 / 30”, “4/4, 6/6, 8/8 and so on”."""
    rows: list[Row] = [[]]
    tokens = said.sentence.tokens
    for at, token in enumerate(tokens):
        if token.kind is Kind.NUMBER and not token.number % 1:
            rows[-1].append((at, int(token.number)))
        elif token.mark(",") and any(t.mark("/+") for t in tokens):
            rows.append([])
        elif not (token.mark("/+,.…") or token.cue("etc") or token.low == "and"):
            return []
    rows = [row for row in rows if row]
    plain = said.sentence.section is Section.WORK and rows and all(len(row) > 1 for row in rows)
    return rows if plain else []
