"""Parts put in order: rests between them, what is done once or to the end, rounds over them and their caps."""

from collections.abc import Sequence
from dataclasses import replace

from sorvek.core.workout import tree as w
from sorvek.core.workout.prose.bounding import ask
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import LONGEST_DOUBT, Node
from sorvek.core.workout.prose.part_begins import LEAST_GROUPS, MOST_TIMES, Parts
from sorvek.core.workout.prose.rungs import folded, period

OF_EACH = (
    "of each",
    "for each movement",
    "for each exercise",
    "rounds each",
    "intervals each",
    "per movement",
    "per exercise",
)
PARTED = (w.TimedPart, w.Rest, w.TieBreak)  # what rounds over parts may hold


def close_parts(draft: Draft, parts: Parts) -> None:
    """Put the parts in order, what they rest between them, and the last movement without a count to the end."""
    builder = draft.builder
    nodes = builder.parts
    before = next((node for node in builder.body if isinstance(node.block, w.Rest)), None)
    if before is not None and (len(nodes) > 1 or parts.times > 1) and builder.parting is None:
        builder.body.remove(before)
        builder.parting = before
    body: list[Node] = []
    for number, node in enumerate(nodes):
        leading, trailing = _rests(node)
        gap_s = (
            parts.ranges[number].from_s - parts.ranges[number - 1].to_s if _ranged(parts, nodes, number) else 0.0
        )
        if number and not leading and not isinstance(body[-1].block, w.Rest):
            parting = builder.parting
            leading = [Node(list(parting.tokens), parting.block)] if parting else []
            leading = [Node([], w.Rest(gap_s))] if gap_s > 0 else leading
        if not any(True for _ in node.items()):
            _again(draft, node, nodes[number - 1] if number else None)
        _endless(node)
        _climb(draft, node)
        if parts.once is not None or number in parts.alone:
            _do_once(node)
        times = parts.each.get(id(draft.said[node.sentence]), 1)
        if times > 1:  # “8 rounds of 20 s work, 10 s rest”, then a rest of one minute
            own = [rest for rest in (*leading, *trailing) if rest.sentence == node.sentence]
            trailing = [*[*own, node] * (times - 1), *own, *(rest for rest in trailing if rest not in own)]
            leading = [rest for rest in leading if rest not in own]
        body += [*leading, node, *trailing]
    while body and isinstance(body[0].block, w.Rest):
        body.append(body.pop(0))  # a rest told before the first part comes behind every one
    rest = [body.pop()] if body and isinstance(body[-1].block, w.Rest) else []
    if not rest and builder.parting is not None:
        rest = [Node([], builder.parting.block)]
    once = list(body)
    for _ in range(parts.times - 1):
        body += [*rest, *once]
    builder.body = [*builder.body, *body]
    draft.facts.used += parts.once.sentence.tokens if parts.once else []
    draft.facts.cap_s = _lasts_s(body)


def each_in_turn(draft: Draft) -> None:
    """Do all rounds of one movement before the next where they are told of each: “8 x 20 s / 10 s of each”."""
    body = draft.builder.body
    told = any(words in said.text().lower() for said in draft.said for words in OF_EACH)
    parts = [node for node in body if isinstance(node.block, w.TimedPart)]
    kinds = list({id(node): node for node in parts}.values())
    rests = {node.block.seconds for node in body if isinstance(node.block, w.Rest)}
    times = len(parts) // max(1, len(kinds))
    turning = len(kinds) > 1 and times > 1 and parts == kinds * times and len(rests) == 1
    whole = len(body) in (2 * len(parts), 2 * len(parts) - 1)  # the last rest may be left out
    if told and turning and whole and len({part.block for part in kinds}) == 1:
        rest = next(node for node in body if isinstance(node.block, w.Rest))
        body[:] = [node for kind in kinds for _ in range(times) for node in (kind, rest)][: len(body)]


def in_rounds(nodes: list[Node]) -> list[Node]:
    """Return blocks with parts that come again and again in rounds; written out they are the same nodes."""
    found: list[Node] = []
    at = 0
    while at < len(nodes):
        size, times, end = _again_from(nodes, at)
        again = Node([], w.Rounds(times, ()), inner=nodes[at : at + size])
        found.append(again if times > 1 else nodes[at])
        at = end
    return found


def _again_from(nodes: Sequence[Node], at: int) -> tuple[int, int, int]:
    """Return how many blocks come again from a place on, how often, and where they end.

    The last time they may be without the rest at their end.
    """
    if not isinstance(nodes[at].block, w.TimedPart):
        return 1, 1, at + 1
    end = next((i for i in range(at, len(nodes)) if not isinstance(nodes[i].block, PARTED)), len(nodes))
    for size in range(1, (end - at) // 2 + 1):
        stop = next((i for i in range(at + size, end) if nodes[i] is not nodes[i - size]), end)
        times, left = divmod(stop - at, size)
        rests = all(isinstance(node.block, w.Rest) for node in nodes[at + left : at + size])
        whole = left > 0 and rests and (stop == end or not isinstance(nodes[stop].block, w.Rest))
        if times + whole > 1:
            return size, times + whole, stop if whole else at + size * times
    return 1, 1, at + 1


def cap_rounds(draft: Draft) -> None:
    """Make parts of rounds that have a cap each: “3 rounds, 2:00 rest between rounds; cap per round 4:00”."""
    facts, body = draft.facts, draft.builder.body
    if not facts.round_cap_s:
        return
    if _cap_each(draft):
        return
    rounds = [node for node in body if not isinstance(node.block, w.Doubt)]
    block = rounds[0].block if len(rounds) == 1 else None
    if not isinstance(block, w.Rounds) or not 1 < block.count <= MOST_TIMES:
        ask(draft, "a cap for each round: how many rounds, and what rest between them?", facts.round_cap_tokens)
        return
    leading, trailing = _rests(rounds[0])
    part = Node(list(facts.round_cap_tokens), w.TimedPart(facts.round_cap_s, ()), inner=rounds[0].inner)
    at = body.index(rounds[0])
    body[at : at + 1] = [node for _ in range(block.count) for node in (*leading, *trailing, part)][
        len(leading + trailing) :
    ]
    facts.cap_s = _lasts_s(body)


def _cap_each(draft: Draft) -> bool:
    """Make parts of what rests separate at the margin: “Each part capped at 7 minutes”."""
    facts, body = draft.facts, draft.builder.body
    groups: list[list[Node]] = [[]]
    for node in body:
        if isinstance(node.block, w.Rest):
            groups += [[node], []]
        elif not isinstance(node.block, w.Doubt):
            groups[-1].append(node)
    if len(groups) < LEAST_GROUPS or not all(groups):
        return False
    doubts = [node for node in body if isinstance(node.block, w.Doubt)]
    parts = [
        group[0]
        if isinstance(group[0].block, w.Rest)
        else Node(list(facts.round_cap_tokens), w.TimedPart(facts.round_cap_s, ()), inner=group)
        for group in groups
    ]
    body[:] = [*parts, *doubts]
    facts.cap_s = _lasts_s(body)
    return True


def _lasts_s(body: Sequence[Node]) -> float:
    """Return how long parts and the rests between them last if none is done early."""
    caps = sum(node.block.cap_s for node in body if isinstance(node.block, w.TimedPart))
    return caps + sum(node.block.seconds for node in body if isinstance(node.block, w.Rest))


def _ranged(parts: Parts, nodes: Sequence[Node], number: int) -> bool:
    return number > 0 and len(parts.ranges) == len(nodes)


def _rests(node: Node) -> tuple[list[Node], list[Node]]:
    """Take the rests off both ends of a part."""
    leading, trailing = list[Node](), list[Node]()
    while node.inner and isinstance(node.inner[0].block, w.Rest):
        leading.append(node.inner.pop(0))
    while node.inner and isinstance(node.inner[-1].block, w.Rest):
        trailing.insert(0, node.inner.pop())
    return leading, trailing


def _again(draft: Draft, node: Node, before: Node | None) -> None:
    """Fill a part that only says “repeat” with the work of the one before, ask about others without work."""
    said = draft.said[node.sentence : node.sentence + 2]
    if before is not None and any(one.cue("repeat") or "same" in one.low() for one in said):
        node.inner = list(before.inner)
        return
    words = said[0].text()[:LONGEST_DOUBT] if said else "a part"
    node.inner.append(Node(list(node.tokens), w.Doubt(f"{words}: what is done in it?")))


def _climb(draft: Draft, node: Node) -> None:
    """Fold rungs that are listed in a part, “3 thrusters, 3 pull-ups, 6 thrusters, 6 pull-ups …”, into a ladder."""
    lines = node.inner
    rungs = period(lines) if len(lines) > 1 and all(line.work for line in lines) else []
    if len(rungs) < 2 or not (draft.builder.etc or len(rungs) > 2):
        return
    block = folded(rungs)
    if block is None:
        for line in lines:
            line.rising = False
        return
    tokens = [token for rung in rungs[1:] for line in rung for token in line.tokens]
    node.inner = [Node(tokens, block, inner=list(rungs[0]))]


def _do_once(node: Node) -> None:
    """Let a part be done once, unless it ends with as many as possible."""
    last = node.inner[-1] if node.inner else None
    counted = last is not None and all(item.work and item.work.counts for item in last.items())
    climbs = last is not None and isinstance(last.block, w.Ladder) and not last.block.turns
    if counted and not climbs and isinstance(node.block, w.TimedPart):
        node.block = replace(node.block, once=True)


def _endless(node: Node) -> None:
    """Repeat to the end the last movement of a part that has no count, where others stand before it."""
    last = node.inner[-1] if node.inner else None
    if last is not None and last.work is not None and not last.work.counts and len(node.inner) > 1:
        node.inner[-1] = Node([], w.Rounds(0, ()), inner=[last])
