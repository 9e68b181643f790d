"""Work that begins by the clock, a line for every start: “0:00: 30 burpees”, “4:00: 25 burpees”."""

from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise

from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.bounding import SILENT
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import Said
from sorvek.core.workout.prose.headings import Section
from sorvek.core.workout.prose.words import Kind

LEAST_STARTS = 2
MOST_LABEL = 2  # words of a label: “Act 2”
AROUND = {"from", "to", "until", "between", "and"}  # words of a lone stretch: “From 0:00 to 5:00”


def join_lone_ranges(draft: Draft) -> None:
    """Give a stretch of the clock on a line of its own to the line below: “7:00 - 15:00”, “AMRAP of”."""
    mixed = any(said.cue("for_time") for said in draft.said)  # parts for time have no words yet
    told = [found for said in draft.said for found in said.of(p.Range)]
    begins, ends = {found.from_s for found in told}, {found.to_s for found in told}
    for said, behind in pairwise(draft.said) if not mixed else ():
        ranges = said.of(p.Range)
        if not _alone(said) or said is draft.title or behind.has(p.Range):
            continue
        working = behind.has(p.WorkLine, p.Lift, p.RoundCount, p.RepCounts) or behind.cue("amrap", "rest")
        if working:
            behind.phrases = [replace(ranges[0], lo=0, hi=0), *behind.phrases]
        if working or (ranges[0].from_s in ends and ranges[0].to_s in begins):  # a break between two stretches
            draft.facts.used += said.sentence.tokens
            said.phrases, said.used = [], True


def _alone(said: Said) -> bool:
    """Return whether a line holds a stretch of the clock and at most a label: “Act 2 (5:00–9:00)”."""
    ranges, plain = said.of(p.Range), (Kind.CLOCK, Kind.MARK)
    tokens = [t for t in said.sentence.tokens if t.kind not in plain and t.low not in AROUND]
    label = len(tokens) <= MOST_LABEL and not any(t.kind in (Kind.MOVEMENT, Kind.UNIT) for t in tokens)
    others = [x for x in said.phrases if not isinstance(x, p.Range | p.Cue)]
    return len(ranges) == 1 and label and not others and not said.cue("rest", "amrap", "lift", "cap")


def read_starts(draft: Draft) -> None:
    """Give every line that begins at a time of the clock the stretch up to the next, the last that to the end."""
    told = [said for said in draft.said if said.sentence.section not in SILENT and said is not draft.title]
    heads = [(said, at) for said in told if (at := _start_at(said)) is not None]
    starts = [said.sentence.tokens[at].number for said, at in heads]
    steps = [b - a for a, b in pairwise(starts)]
    if len(heads) < LEAST_STARTS or starts[0] or min(steps) <= 0:
        return
    ends = [*starts[1:], _whole_s(draft.said, starts[-1]) or starts[-1] + steps[-1]]
    for (said, at), from_s, to_s in zip(heads, starts, ends, strict=True):
        others = [x for x in said.phrases if not (isinstance(x, p.Span) and x.lo == at)]
        said.phrases = [p.Range(at, at + 1, from_s, to_s, head=True), *others]


def _start_at(said: Said) -> int | None:
    """Return where the clock stands at the head of a line of counted work; None if there is none."""
    tokens = said.sentence.tokens
    at = 1 if tokens[0].low == "at" else 0
    counted = any(work.counts for work in said.of(p.WorkLine))
    clock = len(tokens) > at + 1 and tokens[at].kind is Kind.CLOCK and tokens[at + 1].mark(":-–—")
    return at if clock and counted and not said.has(p.Range, p.Lift) else None


def _whole_s(said: Sequence[Said], last_s: float) -> float:
    """Return how long the whole lasts, if that is told and beyond the last start; else 0."""
    spans = [
        span.seconds
        for other in said
        if other.sentence.section in (Section.WORK, Section.CAP, Section.STORY) and not other.has(p.WorkLine)
        for span in other.of(p.Span)
        if span.role in ("", "cap", "within")
    ]
    return min((seconds for seconds in spans if seconds > last_s), default=0.0)
