"""Loads that change on the way: rounds are written one after the other, each with its own."""

from collections.abc import Iterator, Sequence
from dataclasses import replace
from itertools import pairwise

from sorvek.core.workout import tree as w
from sorvek.core.workout.movements import SizeKind
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.by_round import of_one_round, rounds_of
from sorvek.core.workout.prose.divisions import division_at
from sorvek.core.workout.prose.draft import Node, Said, words_of
from sorvek.core.workout.prose.headings import Section
from sorvek.core.workout.prose.load_rows import joined
from sorvek.core.workout.prose.sizes import Quantity, Sizes
from sorvek.core.workout.prose.targets import label_before
from sorvek.core.workout.prose.words import Kind, Token

SILENT = (Section.SCALED, Section.STORY, Section.STANDARDS)
LEAST_STEPS = 2  # loads that change on the way
BARS = {"each bar", "each barbell", "every bar", "every barbell", "per bar", "per barbell", "each of"}


TURN_WORDS = {"first", "next", "then", "last", "final", "second", "third"}


def spread_loads(draft: Draft) -> None:
    """Give every round the load told for it, in its line or apart: “round 1: 40/30 kg, round 2: 50/35 kg”."""
    _spread_lines(draft)
    if _spread_reps(draft) or _by_counts(draft):
        return
    if not _beside_own(draft) and _spread_told(draft):
        for said in _with_rows(draft):
            said.used = True


def _spread_told(draft: Draft) -> bool:
    """Write out rounds with the loads told apart from their lines; return whether there are any."""
    if _by_turns(draft):
        return False
    told = _rows(draft) or numbered_loads(draft)
    if not told:
        return False
    body = draft.builder.body
    if draft.facts.form is w.Form.PARTS and _spread_parts(draft, told):
        return True
    if draft.facts.form is w.Form.WINDOWS and not draft.builder.windows:
        return _spread_windows(draft, told)
    nodes = [*draft.top(), *draft.builder.windows]
    lacking = [item for node in nodes for item in node.items() if _lacks_load(draft, item)]
    if len(lacking) == len(told) and len({item.work.movement for item in lacking if item.work}) == 1:
        _in_order(lacking, told)  # three stages, each with a heavier bar
        return True
    for at, node in enumerate(body):
        lifted = [item for item in node.items() if _lacks_load(draft, item)]
        times = rounds_of(node)
        alone = node.work is not None and bool(node.work.counts and lifted) and _at_each_bar(draft)
        inside = len(lifted) == 1 and lifted[0] in node.inner and times > 0 and times % len(told) == 0
        if not (alone or inside):
            continue
        lines = [node] if alone else node.inner
        many = 1 if alone else times // len(told)
        body[at : at + 1] = [
            _loaded(line, node, turn, told[turn // many] if line is lifted[0] else None)
            for turn in range(many * len(told))
            for line in lines
        ]
        for said, _ in told:
            said.used = True
        return True
    return False


def _spread_parts(draft: Draft, told: Sequence[tuple[Said, Sizes]]) -> bool:
    """Write out a part that comes again with another load each time: “5 x 2:00 …, set 1: 40/27.5 kg”."""
    body = draft.builder.body
    parts = [node for node in body if isinstance(node.block, w.TimedPart)]
    if len(parts) != len(told) or any(part is not parts[0] for part in parts):
        return False
    turns = iter(told)
    body[:] = [_with_load(draft, node, next(turns)) if node is parts[0] else node for node in body]
    for said, _ in told:
        said.used = True
    return True


def _with_load(draft: Draft, node: Node, told: tuple[Said, Sizes]) -> Node:
    """Return a copy of a block in which what lacks a load has the one told."""
    copy = replace(node, tokens=list(node.tokens), inner=[_with_load(draft, inner, told) for inner in node.inner])
    if copy.work is not None and _lacks_load(draft, copy):
        copy.work = replace(copy.work, sizes=told[1])
        copy.tokens += told[0].sentence.tokens
    return copy


def _spread_windows(draft: Draft, told: Sequence[tuple[Said, Sizes]]) -> bool:
    """Write out windows of one line with a load each: “every 90 seconds 2 clean and jerks: 60-70-80 kg”."""
    builder = draft.builder
    lines = [node for node in builder.body if node.work is not None and _lacks_load(draft, node)]
    if len(lines) != 1 or len(builder.body) != 1:
        return False
    rungs = [_loaded(lines[0], lines[0], turn, one) for turn, one in enumerate(told)]
    builder.windows = [Node([], w.Window(()), inner=[rung]) for rung in rungs]
    builder.body, builder.etc = [], False
    return True


def _spread_reps(draft: Draft) -> bool:
    """Split one line into its reps at each load: “reps 1–10: 60/40 kg, reps 11–20: 70/47.5 kg”."""
    told = [found for said in draft.said if said.sentence.section not in SILENT for found in _of_reps(said)]
    told = told or _reps_in_turn(draft)
    body = draft.builder.body
    lines = [node for node in body if node.work and node.work.counts and _lacks_load(draft, node)]
    if len(told) < LEAST_STEPS or len(lines) != 1 or lines[0].work is None:
        return False
    ends = [last for _, last, _, _ in told]
    begins = [first for first, _, _, _ in told]
    if begins != [1, *(end + 1 for end in ends[:-1])] or (ends[-1],) != lines[0].work.counts:
        return False
    line, at = lines[0], body.index(lines[0])
    body[at : at + 1] = [
        replace(
            line,
            work=replace(lines[0].work, counts=(last - first + 1,), sizes=sizes),
            tokens=[*(line.tokens if first == 1 else []), *said.sentence.tokens],
        )
        for first, last, said, sizes in told
    ]
    words = {token.start for _, _, said, _ in told for token in said.sentence.tokens}
    body[:] = [n for n in body if not (isinstance(n.block, w.Doubt) and {t.start for t in n.tokens} <= words)]
    for _, _, said, _ in told:
        said.used = True
    return True


def _by_counts(draft: Draft) -> bool:
    """Give lines the loads told with their counts: “43/29 kg (30), 61/43 kg (20), 84/58 kg (10)”."""
    told: dict[int, tuple[Said, p.Loads]] = {}
    for said in draft.said:
        for load in said.of(p.Loads) if said.sentence.section not in SILENT else ():
            behind = said.sentence.tokens[load.hi : load.hi + 3]
            bracket = len(behind) == 3 and behind[0].mark("(") and behind[2].mark(")")
            if bracket and behind[1].kind is Kind.NUMBER:
                told[int(behind[1].number)] = said, load
    items = [item for node in draft.top() for item in node.items() if _lacks_load(draft, item) and item.work]
    counts = [item.work.counts[:1] for item in items if item.work]
    if len(told) < LEAST_STEPS or sorted(counts) != sorted((count,) for count in told):
        return False
    for item in items:
        assert item.work is not None
        said, load = told[item.work.counts[0]]
        item.work = replace(item.work, sizes=load.sizes)
        item.tokens += said.tokens(load)
        said.phrases = [x for x in said.phrases if not isinstance(x, p.Loads | p.Unknown)]
        said.used = True
    return True


def _reps_in_turn(draft: Draft) -> list[tuple[int, int, Said, Sizes]]:
    """Return the reps of each load, told in turn: “first 10: 60/40 kg, next 10: 70/47.5 kg, last 10: …”."""
    found: list[tuple[int, int, Said, Sizes]] = []
    done = 0
    for said in draft.said:
        head, loads = said.sentence.tokens[:2], said.of(p.Loads)
        turn = len(head) == 2 and head[0].low in TURN_WORDS and head[1].kind is Kind.NUMBER
        if turn and len(loads) == 1 and not said.has(p.WorkLine) and said.sentence.section not in SILENT:
            found.append((done + 1, done + int(head[1].number), said, loads[0].sizes))
            done += int(head[1].number)
    return found


def _of_reps(said: Said) -> Iterator[tuple[int, int, Said, Sizes]]:
    """Yield the first and last rep of a load a sentence is about, “reps 11–20: 70/47.5 kg”."""
    tokens, loads = said.sentence.tokens, said.of(p.Loads)
    heads = [i for i, token in enumerate(tokens[:2]) if token.low in ("rep", "reps")]
    numbers = tokens[heads[0] + 1 : heads[0] + 4] if heads else []
    ranged = len(numbers) == 3 and numbers[0].kind is numbers[2].kind is Kind.NUMBER
    if ranged and (numbers[1].mark("-–") or numbers[1].low == "to") and len(loads) == 1:
        yield int(numbers[0].number), int(numbers[2].number), said, loads[0].sizes


def _beside_own(draft: Draft) -> bool:
    """Add a row of one division to lines that each have a load of their own: “women use 95, 115, 125 lb”."""
    items = [item for node in draft.top() for item in node.items()]
    own = [item for item in items if item.work and item.work.sizes and _is_loaded(draft, item)]
    done = False
    loud = (said for said in draft.said if said.sentence.section not in (Section.STORY, Section.STANDARDS))
    for said in loud:
        level = division_at(said.sentence.lead, 0)[0]
        for row in [*said.of(p.LoadRow), *_slashed_rows(said, len(own))]:
            names = {a.division or level for sizes in row.sizes for a in sizes.amounts}
            told = [a.division for item in own if item.work and item.work.sizes for a in item.work.sizes.amounts]
            if "" in names or len(row.sizes) != len(own) or (any(told) and names & set(told)):
                continue
            other = "men" if names == {"women"} else "women" if names == {"men"} else ""
            for item, sizes in zip(own, row.sizes, strict=True):
                assert item.work is not None
                assert item.work.sizes is not None
                mine = [replace(a, division=a.division or other) for a in item.work.sizes.amounts]
                unit = mine[0].unit  # “Women: 47.5 / 52.5 / 60” of bars in kg
                theirs = [replace(a, division=a.division or level, unit=a.unit or unit) for a in sizes.amounts]
                item.work = replace(item.work, sizes=replace(item.work.sizes, amounts=(*mine, *theirs), row=False))
                item.tokens += said.sentence.tokens
            done = True
            said.used = not said.has(p.WorkLine)  # “…, chest-to-bar pull-ups” is read with what levels do
    return done


def _slashed_rows(said: Said, count: int) -> list[p.LoadRow]:
    """Return rows of so many loads of one division at strokes: “Women: 47.5 / 52.5 / 60”."""
    rows = [load.sizes.amounts for load in said.of(p.Loads) if len(load.sizes.amounts) == count > LEAST_STEPS]
    named = [(row, {a.division for a in row} - {""}) for row in rows]
    return [
        p.LoadRow(0, 0, tuple(Sizes(0, 0, (replace(a, division=name),)) for a in row))
        for row, names in named
        for name in names
        if len(names) == 1 and len({a.unit for a in row}) == 1
    ]


def _by_turns(draft: Draft) -> bool:
    """Give lines of one movement the loads told one after the other: “Men: 100 kg, then 140 kg”."""
    lacking = [item for node in draft.top() for item in node.items() if _lacks_load(draft, item)]
    rows = [(said, _turns(said)) for said in draft.said if said.sentence.section not in SILENT]
    rows = [(said, turns) for said, turns in rows if len(turns) == len(lacking) > 1]
    if not rows or len({item.work.movement for item in lacking if item.work}) != 1:
        return False
    for at, item in enumerate(lacking):
        assert item.work is not None
        amounts = tuple(turns[at] for _, turns in rows)
        item.work = replace(item.work, sizes=Sizes(0, 0, amounts))
        item.tokens += [token for said, _ in rows for token in said.sentence.tokens]
    for said, _ in rows:
        said.used = True
        said.phrases = [phrase for phrase in said.phrases if not isinstance(phrase, p.Loads)]
    return True


def _turns(said: Said) -> list[Quantity]:
    """Return loads that follow each other by “then”, each with the division named before them; none otherwise."""
    loads, label = said.of(p.Loads), ""
    apart = all(any(token.cue("then") for token in said.sentence.tokens[a.hi : b.lo]) for a, b in pairwise(loads))
    if (
        len(loads) < LEAST_STEPS
        or not apart
        or said.has(p.WorkLine)
        or any(len(x.sizes.amounts) != 1 for x in loads)
    ):
        return []
    label = label_before(said, loads[0]) or loads[0].sizes.amounts[0].division
    return [replace(x.sizes.amounts[0], division=label) for x in loads]


def _in_order(items: list[Node], told: list[tuple[Said, Sizes]]) -> None:
    """Give lines of work the loads of a row one by one."""
    for item, (said, sizes) in zip(items, told, strict=True):
        if item.work is not None:
            item.work = replace(item.work, sizes=sizes)
            item.tokens += said.sentence.tokens
        said.used = True


def _spread_lines(draft: Draft) -> None:
    """Write out rounds in which a line has its loads in a row: “thrusters 40-50-60 kg”."""
    body = draft.builder.body
    for at, node in reversed(list(enumerate(body))):
        rows = [inner.work.by_round for inner in node.inner if inner.work and inner.work.by_round]
        if not rows:
            continue
        if any(len(row) != rounds_of(node) for row in rows) or any(inner.inner for inner in node.inner):
            words = f"{words_of(node.tokens)}: how many rounds, and which load in which?"
            body.insert(at, Node(node.tokens, w.Doubt(words)))
            continue
        body[at : at + 1] = [_turned(inner, node, turn) for turn in range(rounds_of(node)) for inner in node.inner]


def _turned(inner: Node, node: Node, turn: int) -> Node:
    """Return a line of one round with its load of a row of loads."""
    copy = of_one_round(inner, node, turn)
    if copy.work is not None and copy.work.by_round:
        copy.work = replace(copy.work, sizes=copy.work.by_round[turn])
    return copy


def _loaded(line: Node, node: Node, turn: int, told: tuple[Said, Sizes] | None) -> Node:
    """Return a line of one round with the load told for it."""
    copy = replace(line, tokens=list(line.tokens)) if line is node else of_one_round(line, node, turn)
    if copy.work is not None and told is not None:
        copy.work = replace(copy.work, sizes=told[1])
        copy.tokens += told[0].sentence.tokens
    return copy


def _with_rows(draft: Draft) -> list[Said]:
    return [said for said in draft.said if said.sentence.section not in SILENT and said.of(p.LoadRow)]


def _rows(draft: Draft) -> list[tuple[Said, Sizes]]:
    """Return the loads of rows that stand apart, those of men and of women together."""
    said_of = _with_rows(draft)
    rows = [row.sizes for said in said_of for row in said.of(p.LoadRow)]
    return [(said_of[0], sizes) for sizes in joined(rows)] if said_of else []


def numbered_loads(draft: Draft) -> list[tuple[Said, Sizes]]:
    """Return the loads told one by one, from the first to the last."""
    told = [row for said in draft.said for row in _told(said)]
    in_turn = len(told) > 1 and [number for number, _, _ in told] == list(range(1, len(told) + 1))
    return [(said, sizes) for _, said, sizes in told] if in_turn else []


def _told(said: Said) -> Iterator[tuple[int, Said, Sizes]]:
    """Yield every round or bar a sentence gives a load to, by its number."""
    if said.of(p.WorkLine) or said.sentence.section in SILENT:
        return
    loads = said.of(p.Loads)
    if len(loads) == 1 and (number := _bar([*said.sentence.lead, *said.sentence.tokens])):
        yield number, said, loads[0].sizes
    numbers: list[int] = []
    for phrase in said.phrases:
        match phrase:
            case p.Cue(name="rounds" | "stage" | "window", number=number) if number:
                numbers = [number]
            case p.Numbered(first=first, last=last):
                numbers = list(range(first, last + 1))
            case p.Loads(sizes=sizes):
                yield from ((number, said, sizes) for number in numbers)
                numbers = []


def _bar(tokens: list[Token]) -> int:
    """Return the number of a bar or set a sentence begins with, “Bar 2: 50/35 kg”; 0 for none."""
    headed = len(tokens) > 1 and tokens[0].cue("barbell", "set", "window") and tokens[1].kind is Kind.NUMBER
    return int(tokens[1].number) if headed else 0


def _at_each_bar(draft: Draft) -> bool:
    """Return whether the work is done once at every one of several bars."""
    texts = (said.text().lower() for said in draft.said if said.sentence.section not in SILENT)
    return any("bar" in text and any(words in text for words in BARS) for text in texts)


def _lacks_load(draft: Draft, item: Node) -> bool:
    return item.work is not None and not item.work.sizes and _is_loaded(draft, item)


def _is_loaded(draft: Draft, item: Node) -> bool:
    work = item.work
    return work is not None and draft.library.movements[work.movement].size is SizeKind.LOAD
