"""Rungs told by their counts alone, below the one that names the movements: “3 pull-ups / 3 swings”, “6 / 6”."""

from collections.abc import Sequence
from dataclasses import replace
from itertools import takewhile

from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import Said
from sorvek.core.workout.prose.headings import Section
from sorvek.core.workout.prose.words import Kind

LEAST_ROWS = 2  # one row of two numbers may be the loads of men and women


def read_counts(draft: Draft) -> None:
    """Make work of rows that hold as many counts as there is work in the sentence above, and nothing else."""
    for at, said in enumerate(draft.said):
        works = said.of(p.WorkLine)
        rows = _rows(draft.said[at + 1 :], len(works))
        plain = len(works) > 1 and all(len(work.counts) == 1 and not work.by_round for work in works)
        if not plain or len(rows) < LEAST_ROWS:
            continue
        for row in rows:
            row.phrases = [
                replace(work, lo=place, hi=place + 1, counts=(count,), sizes=None)
                for work, (place, count) in zip(works, _counts(row), strict=True)
            ]
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


def _rows(behind: Sequence[Said], many: int) -> list[Said]:
    return list(takewhile(lambda said: len(_counts(said)) == many, behind))


def _counts(said: Said) -> list[tuple[int, int]]:
    """Return the counts of a sentence that holds nothing else with the places where they stand."""
    tokens = said.sentence.tokens
    if said.sentence.section is not Section.WORK or not all(t.kind is Kind.NUMBER or t.mark("/+,") for t in tokens):
        return []
    return [(i, int(t.number)) for i, t in enumerate(tokens) if t.kind is Kind.NUMBER and t.number == int(t.number)]
