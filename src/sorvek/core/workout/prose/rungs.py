"""Rungs that are listed one after the other become ladders."""

from collections.abc import Sequence
from itertools import pairwise

from sorvek.core.workout import tree as w
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import Node, means, words_of
from sorvek.core.workout.prose.restarts import begins_again
from sorvek.core.workout.prose.series import MOST_TIMES
from sorvek.core.workout.prose.words import Kind, Token

# Words that may stand beside the counts of the next rung: “then 10 + 10 in the next”.
FILLERS = {
    "after",
    "do",
    "on",
    "so",
    "and",
    "each",
    "following",
    "in",
    "next",
    "of",
    "plus",
    "rep",
    "reps",
    "that",
    "the",
    "then",
    "until",
    "third",
}


def fold_rungs(draft: Draft) -> None:
    """Fold rungs that are listed one after the other, or said to rise, into a ladder."""
    builder = draft.builder
    lines = _tail_of(builder.body)
    if len(lines) > 1 and not builder.steps and _on_to_the_last(draft, lines):
        return
    if lines and not builder.steps and (_listed_below(draft, lines) or _falls(draft, lines)):
        return
    if draft.facts.form is not w.Form.AMRAP and not builder.steps:
        if builder.etc and draft.facts.form is w.Form.FOR_TIME and len(period(lines)) > 1:
            builder.doubt("it is not clear how the counts go on, and whether the work has an end", lines[-1].tokens)
        return
    if not lines or draft.facts.form is w.Form.WINDOWS:
        if (
            builder.steps
            and draft.facts.form is not w.Form.WINDOWS
            and not any(isinstance(n.block, w.Ladder) for n in builder.body)
        ):
            doubt_steps(draft)
        return
    rungs = period(lines)
    if len(rungs) > 1 and any(begins_again(said) for said in draft.said):
        return  # “if finished, start again from the top”
    step = builder.steps[0][1] if builder.steps else _told_on(draft, rungs)
    if len(rungs) > 1 or step is not None:
        _fold(draft, lines, rungs, step)


def _listed_below(draft: Draft, lines: Sequence[Node]) -> bool:
    """Fold the only rung where the counts of the others stand below it: “50 …”, “40 of each”, “30 of each”."""
    body, firsts = draft.builder.body, {node.work.counts for node in lines if node.work}
    behind = body[body.index(lines[-1]) + 1 :]
    told = [node for node in behind if isinstance(node.block, w.Doubt) and _counts_of_each(node)]
    later = [count for node in told for count in _counts_of_each(node)]
    if not told or told != behind[: len(told)] or len(firsts) != 1 or len(next(iter(firsts))) != 1:
        return False
    counts = (next(iter(firsts))[0], *later)
    if len(set(counts)) == 1:
        return False
    for node in lines:
        node.rising = True
    at, tokens = body.index(lines[0]), [token for node in told for token in node.tokens]
    steps = {b - a for a, b in pairwise(counts)}
    block: w.Block = w.Series(counts, ())
    if draft.builder.etc and draft.facts.form is w.Form.AMRAP and len(steps) == 1 and min(steps) > 0:
        block, draft.builder.etc = w.Ladder(counts[0], min(steps), (), ()), False  # “then six of each, and so on”
    body[at : at + len(lines) + len(told)] = [Node(tokens, block, inner=list(lines))]
    return True


def _counts_of_each(node: Node) -> list[int]:
    """Return the counts of a line that holds nothing else: “40 of each”, “then 30 each”."""
    bare = _nothing_but_counts([t for t in node.tokens if t.low not in ("of each", "each", "movement", "exercise")])
    return _of_each(node.tokens) if bare else []


def _on_to_the_last(draft: Draft, lines: Sequence[Node]) -> bool:
    """Fold rungs with the last one behind dots: “100 …, 10 snatches, 100 …, 9 …, … down to 1 snatch”."""
    told = [node for node in lines if node.sentence == lines[-1].sentence]
    rungs = period(lines[: len(lines) - len(told)])
    first = told[0].work
    before = draft.said[lines[-1].sentence].sentence.tokens[first.lo - 1] if first and first.lo else None
    if not draft.builder.etc or len(rungs) < 2 or before is None or before.low not in ("to", "until", "till"):
        return False
    if other_sizes(rungs) or any(not (node.work and node.work.counts) for node in lines):
        return False
    columns = [[node.work.counts[0] if node.work else 0 for node in column] for column in zip(*rungs, strict=True)]
    moving = [column for column in columns if len(set(column)) > 1]
    ends = {node.work.counts[0] for node in told if node.work}
    steps = {b - a for column in moving for a, b in pairwise(column)}
    if len(steps) != 1 or len(ends) != 1 or any(column != moving[0] for column in moving):
        return False
    step, begin, end = steps.pop(), moving[0][0], ends.pop()
    counts = tuple(range(begin, end + (1 if step > 0 else -1), step))
    if len(counts) <= len(rungs) or counts[-1] != end:
        return False
    for node, column in zip(rungs[0], columns, strict=True):
        node.rising = column == moving[0]
    block = w.Ladder(begin, 0, (end,), ()) if abs(step) == 1 else w.Series(counts, ())
    tokens = [token for node in lines[len(rungs[0]) :] for token in node.tokens]
    body = draft.builder.body
    at = body.index(lines[0])
    body[at : at + len(lines)] = [Node(tokens, block, inner=list(rungs[0]))]
    draft.builder.etc = False
    return True


def _falls(draft: Draft, lines: Sequence[Node]) -> bool:
    """Fold rungs that fall evenly to a last one that is told: “27 …, 24 …, and so on down to 3”."""
    rungs = period(lines)
    if len(rungs) == 1:
        return _falls_on(draft, rungs[0]) or _listed_on(draft, rungs[0])
    rows = [[node.work.counts for node in rung if node.work] for rung in rungs]
    if len(rungs) < 2 or any(len(counts) != 1 for row in rows for counts in row):
        return False
    columns = [[counts[0] for counts in column] for column in zip(*rows, strict=True)]
    moving = {tuple(column) for column in columns if len(set(column)) > 1}
    if len(moving) != 1:
        return False
    counts = moving.pop()
    steps = {b - a for a, b in pairwise(counts)}
    step = steps.pop()
    said = next((s for s in draft.said if any(cue.name == "etc" for cue in s.of(p.Cue))), None)
    if steps or step >= 0 or said is None:
        return False
    told = [int(t.number) for t in said.sentence.tokens if t.kind is Kind.NUMBER and 0 < t.number < counts[-1]]
    told = [end for end in told if (counts[-1] - end) % step == 0]
    ends = [end for end in told if end != -step] or told  # “down by 3 to 6”
    if not ends:
        return False
    series = w.Series(tuple(range(counts[0], min(ends) - 1, step)), ())
    for node, column in zip(rungs[0], columns, strict=True):
        node.rising = len(set(column)) > 1
    body, words = draft.builder.body, {token.start for token in said.sentence.tokens}
    tokens = [t for node in lines[len(rungs[0]) :] for t in node.tokens] + said.sentence.tokens
    at = body.index(lines[0])
    body[at : at + len(lines)] = [Node(tokens, series, inner=list(rungs[0]))]
    body[:] = [n for n in body if not (isinstance(n.block, w.Doubt) and {t.start for t in n.tokens} <= words)]
    draft.builder.etc = False
    return True


def _listed_on(draft: Draft, rung: Sequence[Node]) -> bool:
    """Fold the only rung where the counts of all others are listed.

    “2 cleans and 20 double-unders, then 4 and 20, 6 and 20, 4 and 20”.
    """
    said, size = draft.said[rung[-1].sentence], len(rung)
    hi = max((work.hi for work in said.of(p.WorkLine)), default=0)
    later = [int(token.number) for token in said.sentence.tokens[hi:] if token.kind is Kind.NUMBER]
    firsts = [node.work.counts[0] if node.work and node.work.counts else 0 for node in rung]
    bare = _nothing_but_counts(said.sentence.tokens[hi:])
    if size < 2 or 0 in firsts or len(later) < 2 * size or len(later) % size or not bare:
        return False
    columns = [[first, *later[at::size]] for at, first in enumerate(firsts)]
    rising = [column for column in columns if len(set(column)) > 1]
    if not rising or any(column != rising[0] for column in rising):
        return False
    for node, column in zip(rung, columns, strict=True):
        node.rising = column == rising[0]
    tokens, body = said.sentence.tokens[hi:], draft.builder.body
    words, at = {token.start for token in tokens}, body.index(rung[0])
    steps = {b - a for a, b in pairwise(rising[0])}
    block: w.Block = w.Series(tuple(rising[0]), ())
    if draft.builder.etc and draft.facts.form is w.Form.AMRAP and len(steps) == 1 and min(steps) > 0:
        block, draft.builder.etc = w.Ladder(rising[0][0], min(steps), (), ()), False  # “6 + 6, 9 + 9, …”
    series = Node(tokens, block, inner=list(rung))
    body[at : at + size] = [series]
    body[:] = [n for n in body if n is series or not (n.tokens and {t.start for t in n.tokens} <= words)]
    return True


def _falls_on(draft: Draft, rung: Sequence[Node]) -> bool:
    """Fold the only rung where it is told how the counts fall: “10 and 10, then 9 and 9, all the way down to 1”."""
    firsts = {node.work.counts for node in rung if node.work}
    said = draft.said[rung[-1].sentence]
    ends = [phrase.counts[-1] for phrase in said.of(p.RepCounts) if phrase.turns]
    works = [work.hi for work in said.of(p.WorkLine)]
    ends = ends or _of_each(said.sentence.tokens[max(works, default=0) :])[-1:]
    if len(rung) < 2 or len(firsts) != 1 or len(next(iter(firsts))) != 1 or not (ends and works):
        return False
    first = next(iter(firsts))[0]
    later = [int(t.number) for t in said.sentence.tokens[max(works) :] if t.kind is Kind.NUMBER]
    told = [a for a, b in pairwise([*later, 0]) if a != b]
    if told[-1:] != ends[-1:] or any(a <= b for a, b in pairwise([first, *told])):
        return False
    listed = told == _of_each(said.sentence.tokens[max(works) :])
    if not listed and told[0] != first - 1:
        return False
    block: w.Block = w.Series((first, *told), ()) if listed else w.Ladder(first, 0, (ends[-1],), ())
    for node in rung:
        node.rising = True
    body = draft.builder.body
    words = {token.start for token in said.sentence.tokens[max(works) :]}
    at = body.index(rung[0])
    ladder = Node(said.sentence.tokens[max(works) :], block, inner=list(rung))
    body[at : at + len(rung)] = [ladder]
    body[:] = [n for n in body if n is ladder or not (n.tokens and {t.start for t in n.tokens} <= words)]
    draft.builder.etc = False
    return True


def _of_each(tokens: Sequence[Token]) -> list[int]:
    """Return counts that are told of every movement: “7 of each, 5 of each”; none if other numbers stand there."""
    numbers = [i for i, token in enumerate(tokens) if token.kind is Kind.NUMBER]
    told = [i for i in numbers if "each" in {word for token in tokens[i + 1 : i + 4] for word in token.low.split()}]
    return [int(tokens[i].number) for i in told] if told == numbers else []


def _told_on(draft: Draft, rungs: Sequence[Sequence[Node]]) -> p.Step | None:
    """Return the step of counts that are told behind the only rung: “3 squats, 3 jumps, then 6 and 6, 9 and 9”."""
    firsts: set[float] = {node.work.counts[0] for node in rungs[0] if node.work and node.work.counts}
    if not len(rungs) == len(firsts) == 1 or len(rungs[0]) < 2:
        return None
    behind = [said for said in draft.said[rungs[0][-1].sentence + 1 :] if _nothing_but_counts(said.sentence.tokens)]
    listed = [token for said in behind for token in said.sentence.tokens]
    doubts = [node for node in draft.builder.body if isinstance(node.block, w.Doubt)]
    rows = ([token for token in node.tokens if not token.cue("etc")] for node in doubts)
    single = [token for row in rows if _nothing_but_counts(row) for token in row]
    for node in (*draft.builder.body, Node(listed, w.Doubt("")), Node(single, w.Doubt(""))):
        numbers = [token.number for token in node.tokens if token.kind is Kind.NUMBER]
        later = list(dict.fromkeys(numbers))
        steps = {b - a for a, b in pairwise([*firsts, *later])}
        doubled = len(numbers) == len(later) * len(rungs[0])
        if isinstance(node.block, w.Doubt) and doubled and len(later) > len(steps) == 1 and min(steps) > 0:
            return p.Step(0, 0, int(min(steps)))
    return None


def _nothing_but_counts(tokens: Sequence[Token]) -> bool:
    """Return whether words are counts of further rungs: “6 and 6”."""
    counts = [token for token in tokens if token.kind is Kind.NUMBER]
    return bool(counts) and all(t in counts or t.kind is Kind.MARK or t.low in FILLERS for t in tokens)


def _fold(draft: Draft, lines: Sequence[Node], rungs: Sequence[Sequence[Node]], step: p.Step | None) -> None:
    """Put a ladder, or one for each line, in the place of listed rungs; ask where that is not clear."""
    builder, amrap = draft.builder, draft.facts.form is w.Form.AMRAP
    if step is not None and step.movements and len(rungs) == 1:
        block = rise_some(rungs[0], step)
    else:
        block = folded(rungs, step.step if step else 0) if amrap else None
        builder.etc = builder.etc or (block is not None and any(_goes_on(node, block) for node in builder.body))
    told = [token for said, first in builder.steps[:1] for token in said.tokens(first)]
    alone = amrap and not other_sizes([[item for node in rung for item in node.items()] for rung in rungs])
    several = _several(rungs, step) if alone and (block is None or _also(step)) else []
    clear = block is not None and not (_also(step) and len(rungs) < 3)
    at = builder.body.index(lines[0])
    if several:
        builder.body[at : at + len(lines)] = several
        several[0].tokens += told
    elif block is not None and clear and (len(rungs) > 2 or step is not None or builder.etc):
        drop_rungs(draft, block)
        size = len(rungs[0])
        tokens = [token for node in lines[size:] for token in node.tokens] + told
        at = builder.body.index(lines[0])
        builder.body[at : at + len(lines)] = [Node(tokens, block, inner=list(lines[:size]))]
    else:
        for node in lines:
            node.rising, node.times = False, 1
        if step is not None:
            doubt_steps(draft)
        elif builder.etc and len(rungs) > 1:
            builder.doubt("it is not clear how the counts go on", lines[-1].tokens)


def drop_rungs(draft: Draft, ladder: w.Ladder) -> None:
    """Leave out bare numbers that only go on as the ladder does: “2 and 2, 4 and 4, 6 and 6”."""
    _drop_in(draft, draft.builder.body, ladder)


def _drop_in(draft: Draft, body: list[Node], ladder: w.Ladder) -> None:
    for node in list(body):
        _drop_in(draft, node.inner, ladder)
        if _goes_on(node, ladder):
            draft.facts.used += node.tokens
            body.remove(node)


def _goes_on(node: Node, ladder: w.Ladder) -> bool:
    """Return whether a doubt holds nothing but counts of later rungs: “9, 9, 12, 12, …”."""
    counts = [t for before, t in pairwise([None, *node.tokens]) if not (before and before.low in FILLERS)]
    beyond = [token.number - ladder.first for token in counts if token and token.kind is Kind.NUMBER]
    bare = all(t.kind in (Kind.NUMBER, Kind.MARK) or t.low in FILLERS or t.cue("etc") for t in node.tokens)
    on = ladder.step > 0 and any(n > 0 for n in beyond) and all(n >= 0 and n % ladder.step == 0 for n in beyond)
    return isinstance(node.block, w.Doubt) and bare and on


def drop_named_rungs(draft: Draft) -> None:
    """Leave out counts of a ladder with an end that are told again: “10 of each, then 9 of each”."""
    for node in draft.builder.body:
        counts = set(node.block.counts()) if isinstance(node.block, w.Ladder) and node.block.turns else set[int]()
        for inner in list(node.inner) if counts else ():
            numbers = [token.number for token in inner.tokens if token.kind is Kind.NUMBER]
            bare = all(t.kind in (Kind.NUMBER, Kind.MARK) or t.low in FILLERS for t in inner.tokens)
            if isinstance(inner.block, w.Doubt) and bare and numbers and set(numbers) <= counts:
                draft.facts.used += inner.tokens
                node.inner.remove(inner)


def doubt_steps(draft: Draft) -> None:
    """Ask about steps that nothing rises by."""
    for said, step in draft.builder.steps:
        draft.builder.doubt(
            f"{words_of(said.tokens(step))}: from which count, on which movement?", said.tokens(step)
        )


def folded(groups: Sequence[Sequence[Node]], more: int = 0) -> w.Ladder | None:
    """Return the open ladder whose rungs are groups of work of the same shape; marks what rises in the first.

    `more` is the step where only one rung is listed and the text says how many more come each time.
    """
    rows = [[item for node in group for item in node.items()] for group in groups]
    first = rows[0]
    if not first or any(len(row) != len(first) for row in rows):
        return None
    counts = [[item.work.counts[0] if item.work and item.work.counts else 0 for item in row] for row in rows]
    names = [[item.work.movement for item in row if item.work] for row in rows]
    if any(name != names[0] for name in names) or 0 in counts[0] or other_sizes(rows):
        return None
    if len(rows) == 1:
        steps = [more if count == counts[0][0] else 0 for count in counts[0]]
        if len(set(counts[0])) > 1 and more:
            return None
    else:
        steps = [b - a for a, b in zip(counts[0], counts[1], strict=True)]
        if any([y - x for x, y in zip(a, b, strict=True)] != steps for a, b in pairwise(counts)):
            return None
    risers = [(count, step) for count, step in zip(counts[0], steps, strict=True) if step]
    if not risers:
        return None
    base, rise = min(risers)
    times = [count / base for count, _ in risers]
    alike = all(count * rise == step * base for count, step in risers)  # each rises as much in its own measure
    if rise < 0 or not alike or any(n % 1 or n > MOST_TIMES for n in times):
        return None
    for item, count, step in zip(first, counts[0], steps, strict=True):
        item.rising, item.times = bool(step), count // base if step else 1
    return w.Ladder(base, rise, (), ())


def other_sizes(rows: Sequence[Sequence[Node]]) -> bool:
    """Return whether a line of a later rung has a size of its own."""
    sizes = [[item.work.sizes.amounts if item.work and item.work.sizes else () for item in row] for row in rows]
    return any(own and own != first for row in sizes[1:] for own, first in zip(row, sizes[0], strict=False))


def _also(step: p.Step | None) -> bool:
    return step is not None and bool(step.also)


def _several(rungs: Sequence[Sequence[Node]], step: p.Step | None) -> list[Node]:
    """Return lines that rise each by its own step, a ladder a line: “1 climb, 10 jumps, 2 climbs, 20 jumps”."""
    rows = [[node.work.counts[0] if node.work and node.work.counts else 0 for node in rung] for rung in rungs]
    if any(len(row) != len(rows[0]) or 0 in row for row in rows):
        return []
    twice = len(rows) == 2 and step is not None and not step.movements
    if len(rows) < 3 and not twice:
        steps = told_steps(rungs[0], step) if step is not None and len(rows) == 1 else []
    else:
        rises = [{b - a for a, b in pairwise(counts)} for counts in zip(*rows, strict=True)]
        steps = [rise.pop() for rise in rises if len(rise) == 1]
    if len(steps) != len(rows[0]) or min(steps) < 0 or not any(steps):
        return []
    if twice and step is not None and set(steps) != {step.step}:
        return []
    found: list[Node] = []
    for at, (node, rise) in enumerate(zip(rungs[0], steps, strict=True)):
        node.rising, node.times = bool(rise), 1
        told = [token for rung in rungs[1:] for token in rung[at].tokens]
        ladder = Node(told, w.Ladder(rows[0][at], rise, (), ()), inner=[node])
        node.tokens += [] if rise else told
        if rise and found and found[-1].block == ladder.block:
            found[-1].inner.append(node)
            found[-1].tokens += told
        else:
            found.append(ladder if rise else node)
    return found


def told_steps(rung: Sequence[Node], step: p.Step) -> list[int]:
    """Return by how much every line rises as it is told, empty where a movement told is not among them."""
    told = {**dict.fromkeys(step.movements, step.step), **dict(step.also)}
    steps = [
        next((rise for name, rise in told.items() if node.work and means(name, node.work.movement)), 0)
        for node in rung
    ]
    return steps if step.movements and sum(map(bool, steps)) == len(told) else []


def period(nodes: Sequence[Node]) -> list[list[Node]]:
    """Return lines of work as rungs: the shortest row of movements that comes again and again."""
    names = [node.work.movement if node.work else "" for node in nodes]
    for size in range(1, len(names) // 2 + 1):
        rows = [names[i : i + size] for i in range(0, len(names) - size + 1, size)]
        if all(row == rows[0] for row in rows) and names[len(rows) * size :] == rows[0][: len(names) % size]:
            return [list(nodes[i : i + size]) for i in range(0, len(rows) * size, size)]
    return [list(nodes)]


def _flat(group: Sequence[Node]) -> list[Node]:
    return [item for node in group for item in node.items()]


def _tail_of(body: Sequence[Node]) -> list[Node]:
    """Return the lines of work that follow each other at the top, the last row of them."""
    best: list[Node] = []
    row: list[Node] = []
    for node in body:
        if node.work is not None:
            row.append(node)
            best = row
        elif not isinstance(node.block, w.Doubt):
            row = []
    return best


def rise_some(rung: Sequence[Node], step: p.Step) -> w.Ladder | None:
    """Return the ladder of the movements named, which rise beside others that do not."""
    risers = [
        n for n in rung if n.work and n.work.counts and any(means(name, n.work.movement) for name in step.movements)
    ]
    counts = {n.work.counts[0] for n in risers if n.work}
    if len(counts) != 1 or len(risers) < len(step.movements):
        return None
    for node in risers:
        node.rising = True
    return w.Ladder(counts.pop(), step.step, (), ())
