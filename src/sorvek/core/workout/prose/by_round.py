"""Lines written out round by round: series of their own, and work beside every set."""

from dataclasses import replace
from itertools import pairwise

from sorvek.core.workout import tree as w
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.bounding import ask
from sorvek.core.workout.prose.build import TURNS, Draft
from sorvek.core.workout.prose.draft import LONGEST_DOUBT, Node, means
from sorvek.core.workout.prose.own_minutes import MINUTES
from sorvek.core.workout.prose.series import MOST_TIMES

# “After each station 10 burpees”: behind every line of work there is.
AFTER_STATIONS = tuple(
    f"after {each} {what}" for each in ("each", "every") for what in ("station", "bar", "exercise")
)
LEAST_OPPOSITE = 4  # rounds of two series, one falling and one rising, that are told one below the other
ALL_BUT = {"except", "but", "not", "without"}
LEAST_LINES = 2  # lines that “each” can speak of


def beside_each(draft: Draft) -> None:
    """Write before or behind every line what is told once: “…, each set preceded by 500 m of rowing”."""
    body = draft.builder.body
    for number, said in enumerate(draft.said):
        text = said.text().lower()
        ahead, stations = "preceded by" in text, text.startswith(AFTER_STATIONS)
        if not {"each", "every"} & set(text.split()) or not (ahead or stations or "followed by" in text):
            continue
        works = [work for work in said.of(p.WorkLine) if work.counts and (work.pointed or stations)]
        lines = [node for node in body if node.work and (stations or number - 1 <= node.sentence <= number)]
        lines = [node for node in lines if node.sentence != number or not stations]
        names = {node.work.movement for node in lines if node.work}
        if len(works) != 1 or len(lines) < LEAST_LINES or works[0].movement in names:
            continue
        work, tokens = replace(works[0], pointed=False), said.tokens(works[0])
        for at, line in enumerate(lines):
            beside = Node([] if at else tokens, None, work, sentence=number)
            body.insert(body.index(line) + (not ahead), beside)


def halve_turns(draft: Draft) -> None:
    """Read rounds that have work of their own in turn as half as many with both: “6 rounds; odd: …, even: …”."""
    heads = [
        (said, {token.low for token in (*said.sentence.lead, *said.sentence.tokens)[:2]}) for said in draft.said
    ]
    turns = [said for said, head in heads if TURNS & head and not MINUTES & head and said.has(p.WorkLine)]
    rounds = [(said, x) for said in draft.said for x in said.of(p.RoundCount) if x.count > 1 and not x.pointed]
    if (
        len(turns) != len(TURNS)
        or len(rounds) != 1
        or "even" in next(head for said, head in heads if said is turns[0])
    ):
        return
    said, told = rounds[0]
    if told.count % 2:
        ask(
            draft,
            f"{said.text()[:LONGEST_DOUBT].rstrip(':')}: odd and even ones in turn, which is the last?",
            said.tokens(told),
        )
    said.phrases = [replace(x, count=max(1, told.count // 2)) if x is told else x for x in said.phrases]


def before_the_first(draft: Draft) -> None:
    """Write what is done before, between and after rounds also before the first of them."""
    body = draft.builder.body
    for node in body:
        said = draft.said[node.inner[-1].sentence] if rounds_of(node) and node.inner else None
        last = node.inner[-1] if node.inner else None
        text = said.text().lower() if said is not None else ""
        if last is not None and last.work and "before the first" in text and "after the last" in text:
            body.insert(body.index(node), replace(last, tokens=[]))
            return


def between_rounds(draft: Draft) -> None:
    """Leave work that is done between rounds out of the last: “between rounds: 40 double-unders”.

    “Between the rounds and after the last” is after each of them.
    """
    body = draft.builder.body
    for at, node in enumerate(body):
        last, times = (node.inner[-1] if node.inner else None), rounds_of(node)
        if last is None or last.work is None or times < LEAST_LINES or len(node.inner) < LEAST_LINES:
            continue
        said = draft.said[last.sentence]
        beside = (*said.sentence.tokens[: last.work.lo], *said.sentence.tokens[last.work.hi :])
        told = any(token.low == "between" for token in beside) and "after" not in said.low()
        told = told or bool("last" in said.low() and ALL_BUT & said.low())  # “after each set except the last”
        told = told and bool(said.cue("rounds", "each_round", "set"))
        plain = all(inner.work is not None for inner in node.inner)
        if not (told and plain and last.work.counts):
            continue
        ends = [of_one_round(inner, node, times - 1) for inner in node.inner[:-1]]
        shorter = _fewer_rounds(node)
        if isinstance(shorter, w.Series) and len(shorter.counts) == 1:
            body[at : at + 1] = [*(of_one_round(inner, node, 0) for inner in node.inner), *ends]
        else:
            body[at : at + 1] = [replace(node, block=shorter), *ends]
        return


def _fewer_rounds(node: Node) -> w.Block:
    """Return a block without its last round."""
    if isinstance(node.block, w.Rounds):
        return replace(node.block, count=node.block.count - 1)
    return w.Series(series_of(node)[:-1], ())


def untie_twins(draft: Draft) -> None:
    """Do a series twice that was read into its own twin: “12-9-6, rest 2 minutes, 12-9-6 again”."""
    body = draft.builder.body
    for at, node in enumerate(body):
        twins = [inner for inner in node.inner if inner.block == node.block and inner.inner]
        rests = [inner for inner in node.inner if isinstance(inner.block, w.Rest)]
        if isinstance(node.block, w.Series) and len(twins) == 1 and len(node.inner) == 1 + len(rests):
            first = replace(node, inner=[replace(line, tokens=[]) for line in twins[0].inner])
            body[at : at + 1] = [first, *rests, twins[0]]
            return


def drop_summaries(draft: Draft) -> None:
    """Leave out a series that only sums up the lines below it: “chipper 10-20-30”, “10 snatches” …."""
    body = draft.builder.body
    for at, node in enumerate(body):
        counts = [line.work.counts if line.work else () for line in node.inner]
        if len(counts) > LEAST_LINES and counts == [(count,) for count in series_of(node)]:
            node.inner[0].tokens += node.tokens
            body[at : at + 1] = node.inner
            return


def interleave_series(draft: Draft) -> None:
    """Write lines that each have a series of their own round by round: “thrusters: 30-20-10, rows: 60-40-20”."""
    body = draft.builder.body
    for at, node in enumerate(body):
        group = [node]
        for other in body[at + 1 :]:
            again = _alone_in_series(other) and rounds_of(other) == rounds_of(node)
            then = draft.said[other.sentence].cue("then")
            next_to = (
                group[-1].sentence,
                group[-1].sentence + 1,
                *(inner.sentence + 1 for inner in group[-1].inner[-1:]),
            )
            if not (again and other.sentence in next_to and not then):
                break
            group.append(other)
        if _alone_in_series(node) and len(group) > 1 and all(each.block == node.block for each in group):
            node.inner += [each.inner[0] for each in group[1:]]
            node.tokens += [token for each in group[1:] for token in each.tokens]
            del body[at + 1 : at + len(group)]
            return
        if _alone_in_series(node) and len(group) > 1:
            body[at : at + len(group)] = [
                of_one_round(each.inner[0], each, turn) for turn in range(rounds_of(node)) for each in group
            ]
            _drop_example(draft, at, rounds_of(node) * len(group))
            return


def interleave_endless(draft: Draft) -> None:
    """Climb ladders without end together that are told line by line: “snatches 2-4-6-…”, “burpees 2-4-6-…”."""
    body = draft.builder.body
    for at, node in enumerate(body):
        group = [node]
        for other in body[at + 1 :]:
            if not (_endless(other) and not draft.said[other.sentence].cue("then")):
                break
            group.append(other)
        blocks = [each.block for each in group if isinstance(each.block, w.Ladder)]
        if not _endless(node) or len(group) == 1:
            continue
        base = min(blocks, key=lambda block: block.step)
        if any(block.step % base.step or block.step > MOST_TIMES * base.step for block in blocks):
            return
        for each, block in zip(group, blocks, strict=True):
            line, times = each.inner[0], block.step // base.step
            line.rising, line.times, line.more = True, times, block.first - times * base.first
        node.block = base
        node.inner = [each.inner[0] for each in group]
        node.tokens += [token for each in group[1:] for token in each.tokens]
        del body[at + 1 : at + len(group)]
        return


def _endless(node: Node) -> bool:
    """Return whether a block is a ladder without end of one line of work."""
    one = isinstance(node.block, w.Ladder) and not node.block.turns and node.block.step > 0
    return one and len(node.inner) == 1 and node.inner[0].work is not None and not node.inner[0].work.counts


def interleave_opposites(draft: Draft) -> None:
    """Write a list that falls and one behind it that rises round by round: “10-9-…-1 swings, 1-2-…-10 squats”."""
    body = draft.builder.body
    for at, (node, other) in enumerate(pairwise(list(body))):
        counts, plain = series_of(node), all(line.work is not None for line in (*node.inner, *other.inner))
        opposite = len(counts) >= LEAST_OPPOSITE and series_of(other) == counts[::-1] != counts
        opposite = opposite and len(node.inner) != len(other.inner)  # two couplets are done one after the other
        if opposite and plain and not draft.said[other.sentence].cue("then"):
            body[at : at + 2] = [
                of_one_round(line, each, turn)
                for turn in range(len(counts))
                for each in (node, other)
                for line in each.inner
            ]
            return


def _drop_example(draft: Draft, at: int, many: int) -> None:
    """Leave out lines that only say again how the rounds begin: “so: 20 double-unders, 10 snatches and so on”."""
    body = draft.builder.body
    begun, again = body[at : at + many], body[at + many :]
    told = [_counted(node) for node in again]
    first = [_counted(node) for node in begun[: len(told)]]
    alike = len(told) == len(first) and all(
        x[1] == y[1] and means(x[0], y[0]) for x, y in zip(told, first, strict=True)
    )
    if len(told) > 1 and alike:
        draft.facts.used += [token for node in again for token in node.tokens]
        del body[at + many :]
        draft.builder.etc = False


def _counted(node: Node) -> tuple[str, tuple[int, ...]]:
    return (node.work.movement, node.work.counts) if node.work is not None else ("", ())


def _alone_in_series(node: Node) -> bool:
    return bool(series_of(node)) and len(node.inner) == 1 and node.inner[0].work is not None


def series_of(node: Node) -> tuple[int, ...]:
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


def rounds_of(node: Node) -> int:
    """Return how often a block is done, 0 for one that is none."""
    match node.block:
        case w.Rounds(count=count):
            return count
    return len(series_of(node))


def of_one_round(inner: Node, node: Node, turn: int) -> Node:
    """Return a line of a block as it is in one of its rounds (from 0): with its count of a series."""
    work, tokens = inner.work, list(inner.tokens)
    if work is not None and (series := series_of(node)) and not work.counts:
        work = replace(work, counts=(series[turn],))
    tokens += node.tokens if turn == 0 else []
    return replace(inner, work=work, tokens=tokens)
