"""Loads that change from round to round, told one by one: “round 1: 40/30 kg, round 2: 50/35 kg”."""

from collections.abc import Iterator
from dataclasses import replace

from sorvek.core.workout import tree as w
from sorvek.core.workout.movements import SizeKind
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import Node, Said, words_of
from sorvek.core.workout.prose.lines import Section

LEAST_LINES = 2  # lines that “each” can speak of
SILENT = (Section.SCALED, Section.STORY, Section.STANDARDS)


def spread_rounds(draft: Draft) -> None:
    """Write rounds one after the other where each has a load of its own."""
    told = [row for said in draft.said for row in _told(said)]
    count = len(told)
    if count < 2 or [number for number, _, _ in told] != list(range(1, count + 1)):
        return
    body = draft.builder.body
    for at, node in enumerate(body):
        lifted = [item for item in node.items() if _lacks_load(draft, item)]
        if len(lifted) != 1 or lifted[0] not in node.inner or _rounds(node) != count:
            continue
        body[at : at + 1] = [
            _copy(inner, (said, load) if inner is lifted[0] else None, node, turn)
            for turn, (_, said, load) in enumerate(told)
            for inner in node.inner
        ]
        for _, said, _ in told:
            said.used = True
        return


def spread_loads(draft: Draft) -> None:
    """Write rounds one after the other where a line has its loads in a row: “thrusters 40-50-60 kg”."""
    body = draft.builder.body
    for at, node in reversed(list(enumerate(body))):
        rows = [inner.work.by_round for inner in node.inner if inner.work and inner.work.by_round]
        if not rows:
            continue
        if any(len(row) != _rounds(node) for row in rows) or any(inner.inner for inner in node.inner):
            words = f"{words_of(node.tokens)}: how many rounds, and which load in which?"
            body.insert(at, Node(node.tokens, w.Doubt(words)))
            continue
        body[at : at + 1] = [_turned(inner, node, turn) for turn in range(_rounds(node)) for inner in node.inner]


def _turned(inner: Node, node: Node, turn: int) -> Node:
    """Return a line of one round with its load of a row of loads."""
    copy = _copy(inner, None, node, turn)
    if copy.work is not None and copy.work.by_round:
        copy.work = replace(copy.work, sizes=copy.work.by_round[turn])
    return copy


def beside_each(draft: Draft) -> None:
    """Write before or behind every line what is told once: “…, each set preceded by 500 m of rowing”."""
    body = draft.builder.body
    for number, said in enumerate(draft.said):
        text = said.text().lower()
        ahead = "preceded by" in text
        if not {"each", "every"} & set(text.split()) or not (ahead or "followed by" in text):
            continue
        works = [work for work in said.of(p.WorkLine) if work.counts and work.pointed]
        lines = [node for node in body if node.work and number - 1 <= node.sentence <= number]
        names = {node.work.movement for node in lines if node.work}
        if len(works) != 1 or len(lines) < LEAST_LINES or works[0].movement in names:
            continue
        work, tokens = replace(works[0], pointed=False), said.tokens(works[0])
        for at, line in enumerate(lines):
            beside = Node([] if at else tokens, None, work, sentence=number)
            body.insert(body.index(line) + (not ahead), beside)


def interleave_series(draft: Draft) -> None:
    """Write lines that each have a series of their own round by round: “thrusters: 30-20-10, rows: 60-40-20”."""
    body = draft.builder.body
    for at, node in enumerate(body):
        group = [node]
        for other in body[at + 1 :]:
            again = _alone_in_series(other) and _rounds(other) == _rounds(node)
            then = draft.said[other.sentence].cue("then")
            next_to = (
                group[-1].sentence,
                group[-1].sentence + 1,
                *(inner.sentence + 1 for inner in group[-1].inner[-1:]),
            )
            if not (again and other.sentence in next_to and not then):
                break
            group.append(other)
        if _alone_in_series(node) and len(group) > 1:
            body[at : at + len(group)] = [
                _copy(each.inner[0], None, each, turn) for turn in range(_rounds(node)) for each in group
            ]
            _drop_example(draft, at, _rounds(node) * len(group))
            return


def _drop_example(draft: Draft, at: int, many: int) -> None:
    """Leave out lines that only say again how the rounds begin: “so: 20 double-unders, 10 snatches and so on”."""
    body = draft.builder.body
    begun, again = body[at : at + many], body[at + many :]
    told = [_counted(node) for node in again]
    if len(told) > 1 and told == [_counted(node) for node in begun[: len(told)]]:
        draft.facts.used += [token for node in again for token in node.tokens]
        del body[at + many :]
        draft.builder.etc = False


def _counted(node: Node) -> tuple[str, tuple[int, ...]]:
    return (node.work.movement, node.work.counts) if node.work is not None else ("", ())


def _alone_in_series(node: Node) -> bool:
    return bool(_series(node)) and len(node.inner) == 1 and node.inner[0].work is not None


def _series(node: Node) -> tuple[int, ...]:
    """Return the counts of a series, those of a ladder with an end one by one; nothing for other blocks."""
    if isinstance(node.block, w.Series):
        return node.block.counts
    if not isinstance(node.block, w.Ladder) or not node.block.turns:
        return ()
    counts = [node.block.first]
    for turn in node.block.turns:
        by = 1 if turn > counts[-1] else -1
        counts += range(counts[-1] + by, turn + by, by)
    return tuple(counts)


def _told(said: Said) -> Iterator[tuple[int, Said, p.Loads]]:
    """Yield every round a sentence gives a load to, by its number."""
    loads = said.of(p.Loads)
    if len(loads) != 1 or said.of(p.WorkLine) or said.sentence.section in SILENT:
        return
    for cue in said.of(p.Cue):
        if cue.name == "rounds" and cue.number:
            yield cue.number, said, loads[0]
    for numbered in said.of(p.Numbered):
        for number in range(numbered.first, numbered.last + 1):
            yield number, said, loads[0]


def _rounds(node: Node) -> int:
    match node.block:
        case w.Rounds(count=count):
            return count
    return len(_series(node))


def _lacks_load(draft: Draft, item: Node) -> bool:
    work = item.work
    return work is not None and not work.sizes and draft.library.movements[work.movement].size is SizeKind.LOAD


def _copy(inner: Node, told: tuple[Said, p.Loads] | None, node: Node, turn: int) -> Node:
    """Return a line of one round: with the count of a series, and the load told for it."""
    work, tokens = inner.work, list(inner.tokens)
    if work is not None and (series := _series(node)) and not work.counts:
        work = replace(work, counts=(series[turn],))
    if work is not None and told is not None:
        work, tokens = replace(work, sizes=told[1].sizes), [*tokens, *told[0].sentence.tokens]
    tokens += node.tokens if turn == 0 else []
    return replace(inner, work=work, tokens=tokens)
