"""Lifts by the interval: a bar that rises until it is missed, or one lift ever heavier every so often."""

from collections.abc import Callable
from dataclasses import replace

from sorvek.core.workout import tree as w
from sorvek.core.workout.movements import Library
from sorvek.core.workout.notation_reader import DEFAULT_DIVISIONS
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.amounts import sizes_at
from sorvek.core.workout.prose.bounding import SILENT
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import Said
from sorvek.core.workout.prose.intervals import interval_of
from sorvek.core.workout.prose.sizes import size_of
from sorvek.core.workout.prose.words import Kind, Token

HEAVIER = {"heavier", "increasing", "climbing", "build", "building", "ascending", "increase"}
MISSES = {"miss", "misses", "missed", "fail", "fails", "failed", "failure"}
EACH = {"every", "each", "minute", "every minute", "each minute"}
NEAR = 6
STARTS = {
    "start with",
    "starts with",
    "begin with",
    "start",
    "starts",
    "starting",
    "begin",
    "begins",
    "beginning",
    "opening",
    "opens",
}
BEST = {"best", "heaviest"}
ADDED_UP = {"total", "totals", "sum", "combined", "added", "together"}


def read_interval_lifts(draft: Draft) -> bool:
    """Read a lift done at every interval, ever heavier, and return whether that is what there is.

    “Every 90 s for 15 minutes: 1 snatch; the heaviest counts.”
    """
    usable = [said for said in draft.said if said.sentence.section not in SILENT]
    works = [(said, x) for said in usable for x in said.of(p.WorkLine) if x.counts and not x.pointed]
    complexes = [(said, x) for said in usable for x in said.of(p.Lift) if x.more and not x.window_s]
    words = {word for said in usable for word in said.low()}
    heavy = (words & (BEST | HEAVIER) or any(said.cue("lift") for said in usable)) and not words & ADDED_UP
    loaded = any(a.unit in ("kg", "lb") for s in usable for x in s.of(p.Loads) for a in x.sizes.amounts)
    every = [(said, interval_of(said)) for said in usable if interval_of(said)]
    one = len(works) == 1 and not works[0][1].sizes if not complexes else len(complexes) == 1 and not works
    if not one or not every or not heavy or loaded:
        return False
    (said, work), (clock, interval_s) = (complexes or works)[0], every[0]
    spans = [span for span in clock.of(p.Span) if span.seconds > interval_s]
    counts = [
        rounds.count for other in {id(x): x for x in (clock, said)}.values() for rounds in other.of(p.RoundCount)
    ]
    whole_s = spans[0].seconds if spans else interval_s * counts[0] if counts else 0.0
    if not (whole_s and is_lift(draft.library, work.movement)):
        return False
    if isinstance(work, p.Lift):
        lift = replace(work, window_s=whole_s)
    else:
        lift = p.Lift(work.lo, work.hi, work.movement, reps=work.counts[0], window_s=whole_s)
    for other in (clock, said):
        draft.facts.used += [token for token in other.sentence.tokens if token.kind is not Kind.MARK]
        other.phrases, other.used = [], True
    for other in usable:  # “Score: heaviest snatch”
        other.phrases = [phrase for phrase in other.phrases if not isinstance(phrase, p.Lift)]
    said.phrases = [lift]
    draft.facts.form, draft.facts.tries = w.Form.LIFT, round(whole_s / interval_s)
    return True


def find_rising(draft: Draft) -> list[Said]:
    """Find a bar that starts at a load and grows at every interval until it is missed; return its sentences."""
    usable = [said for said in draft.said if said.sentence.section not in SILENT and said is not draft.title]
    steps = [(said, size) for said in usable for size in _amounts(said, lambda token: token.cue("adding"))]
    starts = [(said, size) for said in usable for size in _amounts(said, lambda token: token.low in STARTS)]
    starts += [(said, size) for said in usable for size in _amounts(said, lambda token: token.low == "first")]
    # “every minute 5 kg are added”, “each minute the bar becomes 5 kg heavier”
    added = [said for said in usable if {"added", "heavier"} & said.low()]
    steps += [(said, size) for said in added for size in _amounts(said, lambda token: token.low in EACH)]
    missing = [said for said in usable if MISSES & said.low() or said.cue("until_missed")]
    missing += [
        said for said, _ in steps if {"successful", "made"} & said.low()
    ]  # “after each successful lift add …”
    every = next((found for said in usable if (found := interval_of(said))), None)
    work = [
        (said, token)
        for said in usable
        for token in said.sentence.tokens
        if token.kind is Kind.MOVEMENT and is_lift(draft.library, token.name)
    ]
    lines = [line for said in usable for line in said.of(p.WorkLine) if line.counts]
    names = {line.movement for line in lines} or {token.name for _, token in work}
    work = [(said, token) for said, token in work if token.name in names]
    if not (steps and starts and missing and every and work) or len(names) != 1:
        return []
    start, step = starts[0][1], steps[0][1]
    if len(step.values) == len(start.values) == 2 and (step.values[0] < step.values[1]) != (
        start.values[0] < start.values[1]
    ):
        step = replace(step, values=step.values[::-1])  # told for women first, like the start
    bar = w.RisingBar(start, step, every)
    ends = [span.seconds for said in usable for span in said.of(p.Span) if span.role in ("cap", "within", "amrap")]
    window_s = ends[0] if ends else bar.longest_s
    draft.facts.form = w.Form.LIFT
    draft.facts.lift = w.MaxLift(work[0][1].name, window_s, "", lines[0].counts[0] if lines else 1, rising=bar)
    involved = {id(said): said for said, _ in (*steps[:1], *starts[:1], *work)}
    involved |= {id(said): said for said in usable if said in missing or interval_of(said)}
    for said in involved.values():
        said.used = True
        said.phrases = []  # its loads are those of the bar
        draft.facts.lift_tokens += said.sentence.tokens
    return list(involved.values())


def _amounts(said: Said, begins: Callable[[Token], bool]) -> list[w.Size]:
    """Return the loads that stand close behind a word that begins them."""
    tokens, found = said.sentence.tokens, []
    for at, token in enumerate(tokens):
        if not begins(token):
            continue
        ahead = (sizes_at(tokens, i, set()) for i in range(at + 1, min(at + NEAR, len(tokens))))
        sizes = next((sizes for sizes in ahead if sizes and sizes.amounts[0].unit in ("kg", "lb")), None)
        size = size_of(sizes.amounts, DEFAULT_DIVISIONS, False) if sizes else None
        if size is not None:
            found.append(size)
    return found


def is_lift(library: Library, name: str) -> bool:
    """Return whether a movement has a one-rep maximum."""
    return bool(library.movements[name].styles[0].lift)
