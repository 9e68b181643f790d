"""Windows one after the other become a ladder where their work rises, and what is told by the clock stages."""

from collections.abc import Iterator, Sequence
from dataclasses import replace
from itertools import pairwise

from sorvek.core.workout import tree as w
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import Node, origins
from sorvek.core.workout.prose.rungs import doubt_steps, drop_rungs, folded, other_sizes, rise_some, told_steps
from sorvek.core.workout.prose.words import Kind, Token

MOST_TIMES = 9  # what the notation has for times a rung


def fold_windows(draft: Draft) -> None:
    """Put the work of windows into one ladder if it rises evenly, and the open ends of stages in order."""
    builder = draft.builder
    windows = [node for node in builder.windows if any(True for _ in node.items())]
    if draft.facts.form is not w.Form.WINDOWS:
        _as_stages(draft)
        return
    if not windows and builder.body and any(node.inner for node in builder.windows):
        windows = [Node([], w.Window(()), inner=builder.body)]  # the first is told with the form
        builder.windows, builder.body = [*windows, *builder.windows], []
    if _listed_in_full(draft, windows):
        return
    if not windows and (climb := _one_climbing(builder.body)) is not None:
        builder.body = [climb]
        return
    groups = [node.inner for node in windows] or [builder.body]
    step = next((step for _, step in builder.steps), None)
    rungs = [[item for node in group for item in node.items()] for group in groups]
    block = _ladder_of(rungs, step) if rungs and all(rungs) else None
    if len(rungs) == 1 or block is None:
        _doubt_also(draft)
    if builder.alternating or (not windows and not (block is not None and step is not None)):
        again = windows or [Node([], w.Window(()), inner=builder.body)]
        builder.body = [Node([], w.Rounds(builder.intervals, ()), inner=again)] if builder.body else []
    elif block is not None and (len(groups) > 1 or step is not None):
        extra = [t for node in windows for t in node.tokens] + [
            t for node in windows[1:] for n in node.items() for t in n.tokens
        ]
        extra += [t for s, x in builder.steps for t in s.tokens(x)]
        builder.body = [Node(extra, block, inner=list(groups[0]))]
        drop_rungs(draft, block)
        builder.steps = []
    elif windows and builder.etc and len(windows) > 1:
        builder.body.append(Node(list(windows[-1].tokens), w.Doubt("it is not clear how the windows go on")))


def _one_climbing(body: Sequence[Node]) -> Node | None:
    """Return the ladder over all lines of a window where one of them climbs: “10 cal row + burpees (4, 5, 6 …)”."""
    ladders = [node for node in body if isinstance(node.block, w.Ladder) and not node.block.turns]
    if len(ladders) != 1 or len(body) < 2 or any(node.work is None for node in body if node is not ladders[0]):
        return None
    for line in ladders[0].inner:
        line.rising = True
    inner = [line for node in body for line in (node.inner if node is ladders[0] else [node])]
    return replace(ladders[0], inner=inner)


def _doubt_also(draft: Draft) -> None:
    """Ask about steps of their own in windows, whose one ladder has one step."""
    if any(step.also for _, step in draft.builder.steps):
        doubt_steps(draft)


def _ladder_of(rungs: Sequence[Sequence[Node]], step: p.Step | None) -> w.Ladder | None:
    """Return the ladder windows make, None if they do not rise evenly."""
    more = step.step if step is not None and not step.movements else 0
    if (block := folded(rungs, more)) is not None:
        return block
    if step is not None and step.movements and len(rungs) == 1:
        return rise_some(rungs[0], step) or _rising(rungs[0], told_steps(rungs[0], step))
    rows = [[item.work.counts[0] if item.work and item.work.counts else 0 for item in row] for row in rungs]
    names = {tuple(item.work.movement for item in row if item.work) for row in rungs}
    if len(names) != 1 or len({*map(len, rows)}) != 1 or any(0 in row for row in rows) or other_sizes(rungs):
        return None
    steps = [{b - a for a, b in pairwise(column)} or {more} for column in zip(*rows, strict=True)]
    return _rising(rungs[0], [one.pop() if len(one) == 1 else -1 for one in steps])


def _rising(rung: Sequence[Node], rises: Sequence[int]) -> w.Ladder | None:
    """Return the ladder of windows whose counts rise each by its own step; marks its lines.

    The line with the smallest step is the ladder, the others have so many times its count and some more or less.
    """
    counts = [node.work.counts[0] if node.work and node.work.counts else 0 for node in rung]
    base = min((rise for rise in rises if rise > 0), default=0)
    uneven = any(rise % base or rise > MOST_TIMES * base for rise in rises) if base else True
    if uneven or min(rises) < 0 or 0 in counts:
        return None
    first = counts[list(rises).index(base)]
    for item, count, rise in zip(rung, counts, rises, strict=True):
        times = rise // base
        item.rising, item.times, item.more = rise > 0, max(1, times), count - times * first if rise else 0
    return w.Ladder(first, base, (), ())


def _listed_in_full(draft: Draft, windows: list[Node]) -> bool:
    """Put windows in order; return whether they are a ladder already or the counts of later ones make one."""
    builder = draft.builder
    silent = [node for node in builder.windows if node.inner and node not in windows]
    builder.windows = []
    if windows:
        builder.body = windows
    if builder.alternating:
        return False
    ladder = next((n for n in builder.body if isinstance(n.block, w.Ladder) and not n.block.turns), None)
    if ladder is not None and len(builder.body) == 1:
        return True
    return bool(silent) and _climbs(draft, windows, silent)


def _climbs(draft: Draft, windows: Sequence[Node], silent: Sequence[Node]) -> bool:
    """Fold windows of which all but the first only say counts, “2 rounds of 12 + 12”; ask about what they say else.

    Returns whether they were folded.
    """
    first = [item for node in windows[:1] for item in node.items()]
    counts = [item.work.counts[0] if item.work and item.work.counts else 0 for item in first]
    rows = [_counts_told(draft, node) for node in silent if any(True for _ in _doubted(node))]
    rows = [row * len(counts) if len(set(row)) == 1 and len(set(counts)) == 1 else row for row in rows]
    rungs = [counts, *(row[: len(counts)] for row in rows)]
    steps = {b - a for one, two in pairwise(rungs) for a, b in zip(one, two, strict=False)}
    if len(windows) != 1 or 0 in counts or len({*map(len, rungs)}) != 1 or len(steps) != 1 or min(steps) <= 0:
        draft.builder.body += [inner for node in silent for inner in node.inner]
        return False
    for item, count in zip(first, counts, strict=True):
        item.rising, item.more = True, count - counts[0]
    tokens = [*windows[0].tokens, *(t for node in silent for _, told in origins(node) for t in told)]
    draft.builder.body = [Node(tokens, w.Ladder(counts[0], steps.pop(), (), ()), inner=windows[0].inner)]
    draft.facts.used += [token for said, step in draft.builder.steps for token in said.tokens(step)]
    draft.builder.steps = []
    return True


def _counts_told(draft: Draft, window: Node) -> list[int]:
    """Return the counts told of a window: “From 3:00 to 6:00: 2 rounds of 12 and 10”."""
    said = next((s for s in draft.said if window.tokens and window.tokens[0] in s.sentence.tokens), None)
    if said is None:
        return []
    read = {i for x in said.phrases if isinstance(x, p.Range | p.RoundCount | p.Span) for i in range(x.lo, x.hi)}
    numbers = enumerate(said.sentence.tokens)
    return [int(token.number) for i, token in numbers if token.kind is Kind.NUMBER and i not in read]


def _doubted(node: Node) -> Iterator[Token]:
    """Yield the words of all doubts in a block."""
    if isinstance(node.block, w.Doubt):
        yield from node.tokens
    for inner in node.inner:
        yield from _doubted(inner)


def _as_stages(draft: Draft) -> None:
    """Make stages of windows that are told by the clock; where there are neither, their work stands in order."""
    builder = draft.builder
    staged = draft.facts.form is w.Form.STAGES
    if staged and not builder.stages and len(builder.windows) == len(builder.ranges):
        ends = zip(builder.windows, builder.ranges, strict=True)
        builder.stages = [Node(node.tokens, w.Stage(told.to_s, ()), inner=node.inner) for node, told in ends]
        builder.windows = []
    for node in builder.windows:
        builder.body += node.inner
    if staged:
        _count_each(draft)
        _like_before(draft)
        _end_stages(draft)


def _like_before(draft: Draft) -> None:
    """Write out stages that tell only what changes: “… and do 3 rounds with 4 squat cleans at 125/84 kg”."""
    for before, node in pairwise(draft.builder.stages):
        rounds = [inner for inner in before.inner if isinstance(inner.block, w.Rounds)]
        lines, again = (rounds[0].inner if len(rounds) == 1 else []), node.inner
        told = [item for inner in again for item in inner.items()]
        if len(again) != 1 or len(told) != 1 or len(lines) < 2 or not all(line.work for line in lines):
            continue
        new, repeated = told[0].work, isinstance(again[0].block, w.Rounds)
        said = draft.said[told[0].sentence].sentence.tokens
        changed = new is not None and new.lo > 0 and said[new.lo - 1].low == "with"
        old = [line for line in lines if line.work and new and line.work.movement == new.movement]
        if not (repeated and changed and len(old) == 1):
            continue
        again[0].inner = [
            told[0] if line is old[0] else replace(line, work=replace(line.work), tokens=list(told[0].tokens))
            for line in lines
            if line.work is not None
        ]


def _count_each(draft: Draft) -> None:
    """Write out stages that have so many of each of the one before: “another 3 minutes for 12 of each”."""
    for before, node in pairwise(draft.builder.stages):
        told = [inner for inner in node.inner if isinstance(inner.block, w.Doubt)]
        words = [[token.low for token in inner.tokens][1:] for inner in told]
        lines = list(before.items())
        plain = len(lines) == len(before.inner) and len({line.work.counts for line in lines if line.work}) == 1
        if len(told) == len(node.inner) == 1 and words[0] == ["of", "each"] and plain:
            count = (int(told[0].tokens[0].number),)
            node.inner = [
                replace(line, work=replace(line.work, counts=count), tokens=list(told[0].tokens))
                for line in lines
                if line.work is not None
            ]


def _end_stages(draft: Draft) -> None:
    """Give the last stage its cap, and stages without one a doubt."""
    for index, node in enumerate(draft.builder.stages):
        if isinstance(node.block, w.Stage) and not node.block.cap_s:
            draft.builder.body.append(
                Node(node.tokens, w.Doubt(f"stage {index + 1}: by what time must it be done?"))
            )
