"""Rep series in the order of the text: “21-15-9”, “50-40-30 …”, ladders that climb."""

from dataclasses import replace
from itertools import groupby, pairwise

from sorvek.core.workout import tree as w
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.blocks import Blocks, tail_of
from sorvek.core.workout.prose.draft import Node, Said, words_of
from sorvek.core.workout.prose.words import Token

MOST_TIMES = 9  # what the notation has for times a rung

LEAST_CLIMB = 4  # of a pyramid told by its ends


def add_series(blocks: Blocks, said: Said, phrase: p.RepCounts, post: bool, begun: int) -> None:
    """Open a rep series or ladder, or put it around the work it stands behind."""
    tokens = said.tokens(phrase)
    place = blocks.place()
    if phrase.turns and phrase.counts[0] == 0:
        _climbed(blocks, phrase, tokens)
        return
    if _times_the_series(blocks, said, phrase):
        return
    block = _series_block(phrase if blocks.visits() else _once_each(phrase), blocks.amrap)
    if block is None:
        blocks.doubt(f"{words_of(tokens)}: it is not clear how the counts go on", tokens)
        return
    beside = place[-1].work if len(place) > begun and not blocks.open else None
    if beside is not None and not beside.counts and phrase.open and phrase.lo - beside.hi <= 1:
        blocks.wrap(place, len(place) - 1, Node(tokens, block))  # “pull-ups 5, 10, 15 … with 5 front squats”
        return
    countless = [node for node in place[begun:] if node.work is not None and not node.work.counts]
    if post and countless and not blocks.open:
        blocks.wrap(place, place.index(countless[0]), Node(tokens, block))
    elif not post and not blocks.open and tail_of(place) and not _later_work(said, phrase):
        tail = tail_of(place)
        if any(node.work is not None and not node.work.counts for node in tail):
            blocks.wrap(place, len(place) - len(tail), Node(tokens, block))
        else:
            blocks.repeat(said, Node(tokens, block))
    elif blocks.open and blocks.open[-1].block == block and _one_line_open(blocks, said):
        blocks.open[-1].tokens += tokens
    else:
        blocks.repeat(said, Node(tokens, block))


def _once_each(phrase: p.RepCounts) -> p.RepCounts:
    """Return counts that are written once for every movement as those of the rounds: “2-2-2, 4-4-4, 6-6-6”."""
    runs = [(count, len(list(same))) for count, same in groupby(phrase.counts)]
    written = len(runs) > 1 and len({size for _, size in runs}) == 1 and runs[0][1] > 1
    return replace(phrase, counts=tuple(count for count, _ in runs)) if written else phrase


def _times_the_series(blocks: Blocks, said: Said, phrase: p.RepCounts) -> bool:
    """Read a line's own counts that are so many times those of its series: “double-unders (100-80-60)”."""
    series = blocks.open[-1] if blocks.open else None
    line = series.inner[-1] if series and series.inner else None
    if series is None or line is None or line.work is None or not isinstance(series.block, w.Series):
        return False
    bracket = phrase.lo > 0 and said.sentence.tokens[phrase.lo - 1].mark("(")
    beside = bracket and line.sentence == blocks.number and line.work.hi <= phrase.lo
    ratios = {b / a for a, b in zip(series.block.counts, phrase.counts, strict=False)}
    alike = len(series.block.counts) == len(phrase.counts) and len(ratios) == 1
    times = ratios.pop() if alike else 0
    bare = line.work.counts in ((), (int(times),))  # “double-unders x5 (105-90-75 …)”
    if not (beside and bare and 1 < times <= MOST_TIMES and not times % 1):
        return False
    line.times, line.rising, line.work = int(times), True, replace(line.work, counts=())
    line.tokens += said.tokens(phrase)
    return True


def _one_line_open(blocks: Blocks, said: Said) -> bool:
    """Return whether the open series has one line, or its last in this sentence: “21-15-9 A, 21-15-9 B”."""
    items = list(blocks.open[-1].items())
    if any(isinstance(node.block, w.Rest) for node in blocks.open[-1].inner):
        return False
    return len(items) == 1 or bool(items and items[-1].sentence == blocks.number)


def _climbed(blocks: Blocks, phrase: p.RepCounts, tokens: list[Token]) -> None:
    """Fold a first rung that is listed, “1 deadlift, 1 burpee, … up to 8”, into a ladder."""
    place = blocks.place()
    tail = tail_of(place)
    counts = [node.work.counts[0] for node in tail if node.work is not None and node.work.counts]
    if not counts:
        return
    first = counts[0]
    rung = [node for node in tail if node.work is not None and node.work.counts][: counts.count(first)]
    for node in rung:
        node.rising = True
    ladder = Node(
        tokens + [t for node in tail[len(rung) :] for t in node.tokens],
        w.Ladder(first, 0, phrase.counts[1:], ()),
    )
    ladder.inner = rung
    place[len(place) - len(tail) :] = [ladder]


def _later_work(said: Said, phrase: p.Phrase) -> bool:
    return any(work.lo > phrase.lo and not work.pointed for work in said.of(p.WorkLine))


def _series_block(phrase: p.RepCounts, amrap: bool) -> w.Block | None:
    """Return the block a rep series stands for; None if it does not say how it goes on."""
    counts = phrase.counts
    if phrase.turns:
        return w.Ladder(counts[0], 0, counts[1:], ())
    steps = {b - a for a, b in pairwise(counts)}
    step = next(iter(steps)) if len(steps) == 1 else 0
    if (phrase.open or amrap) and step > 0:
        return w.Ladder(counts[0], step, (), ())
    if phrase.open:
        return None
    if len(counts) > 3 and all(abs(b - a) == 1 for a, b in pairwise(counts)):
        turns = [b for a, b, c in zip(counts, counts[1:], counts[2:], strict=False) if (b - a) != (c - b)]
        return w.Ladder(counts[0], 0, (*turns, counts[-1]), ())
    first, *turn, last = counts
    if first == last and len(turn) == 1 and 1 in (first, *turn) and abs(turn[0] - first) >= LEAST_CLIMB:
        return w.Ladder(first, 0, (*turn, last), ())  # “1-10-1” is climbed one by one
    return w.Series(counts, ())
