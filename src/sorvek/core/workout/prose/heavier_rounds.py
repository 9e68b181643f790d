"""A bar that gets heavier every round: the rounds are written out, the last load stays."""

from collections.abc import Sequence
from dataclasses import replace

from sorvek.core.workout import tree as w
from sorvek.core.workout.movements import SizeKind
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.bounding import ask
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import LONGEST_DOUBT, Node, Said
from sorvek.core.workout.prose.rising_loads import SILENT, numbered_loads
from sorvek.core.workout.prose.sizes import Quantity, Sizes
from sorvek.core.workout.prose.words import REPS, Kind, Token

LEAST_LOADS = 3
HEAVIER = {"heavier", "up", "increase", "increases", "increasing", "rises", "rise", "climbs", "changes"}


def load_rounds(draft: Draft) -> None:
    """Write out the rounds of “every round the bar gets heavier: 35/25, 43/30, from then on 52/35 kg”."""
    for said in draft.said:
        tokens = said.sentence.tokens
        every = _every(tokens)
        told = HEAVIER & said.low() and (every or said.cue("each_round", "rounds"))
        told = told and not any(work.counts for work in said.of(p.WorkLine))  # “up-downs, 15/12 cal row, …”
        pairs = _pairs(tokens) if told and said.sentence.section not in SILENT and not said.doubted else []
        if len(pairs) < LEAST_LOADS:
            continue
        unit = next((token.name for token in tokens if token.unit("kg", "lb")), "")
        loads = [_sizes(pair, unit) for pair in pairs]
        if not (_split(draft, said, every, loads) if every else _write_out(draft, said, loads)):
            ask(draft, f"{said.text()[:LONGEST_DOUBT]}: which load in which round?", tokens)
        said.used = True
        said.phrases = []
    numbered = numbered_loads(draft) if draft.facts.form is w.Form.AMRAP else []
    if len(numbered) >= LEAST_LOADS and _write_out(draft, numbered[0][0], [sizes for _, sizes in numbered]):
        for said, _ in numbered:  # “round 1: 35/25 kg, round 2: 43/30 kg, …”
            said.used = True
            said.phrases = []


def _every(tokens: Sequence[Token]) -> int:
    """Return after how many reps the bar changes, “every 10 reps it gets heavier”; 0 if by the round."""
    rows = zip(tokens, tokens[1:], tokens[2:], strict=False)
    told = (int(b.number) for a, b, c in rows if a.low == "every" and b.kind is Kind.NUMBER and c.low in REPS)
    return next(told, 0)


def _split(draft: Draft, said: Said, every: int, loads: Sequence[Sizes]) -> bool:
    """Write the only line of work in pieces with a load each; return False where they do not add up."""
    body = draft.builder.body
    work = [node for node in body if not isinstance(node.block, w.Doubt)]
    line = work[0].work if len(work) == 1 else None
    if line is None or line.counts != (every * len(loads),):
        return False
    unit = line.sizes.amounts[0].unit if line.sizes else ""
    pieces = [_with(work[0], sizes, unit) for sizes in loads]
    for piece in pieces:
        assert piece.work is not None
        piece.work = replace(piece.work, counts=(every,))
    own, first = draft.said[work[0].sentence], [amount.value for amount in loads[0].amounts]
    again = [load for load in own.of(p.Loads) if [amount.value for amount in load.sizes.amounts] == first]
    own.phrases = [phrase for phrase in own.phrases if phrase not in again]  # “30 snatches, 61/43 kg”
    pieces[0].tokens += [*(token for load in again for token in own.tokens(load)), *said.sentence.tokens]
    at = body.index(work[0])
    body[at : at + 1] = pieces
    return True


def _pairs(tokens: Sequence[Token]) -> list[tuple[float, float]]:
    """Return all numbers at a stroke, “35/25, 43/30”."""
    return [
        (a.number, b.number)
        for a, stroke, b in zip(tokens, tokens[1:], tokens[2:], strict=False)
        if a.kind is b.kind is Kind.NUMBER and stroke.mark("/")
    ]


def _sizes(pair: tuple[float, float], unit: str) -> Sizes:
    return Sizes(0, 0, tuple(Quantity(value, unit, "", False) for value in pair))


def _write_out(draft: Draft, said: Said, loads: Sequence[Sizes]) -> bool:
    """Write every round with its load; return False where it is not clear what is loaded or how often."""
    body, movements = draft.builder.body, draft.library.movements
    work = [node for node in body if not isinstance(node.block, w.Doubt)]
    rounds = work[0].block if len(work) == 1 else None
    counted = isinstance(rounds, w.Rounds) and rounds.count == len(loads)
    open_ended = draft.facts.form is w.Form.AMRAP and all(node.work is not None for node in work)
    lines = work[0].inner if counted else work
    loaded = [n for n in lines if n.work and movements[n.work.movement].size is SizeKind.LOAD]
    if not (counted or open_ended) or len(loaded) != 1 or any(line.work is None for line in lines):
        return False
    own = loaded[0].work.sizes if loaded[0].work else None
    if own and [a.value for a in own.amounts] != [a.value for a in loads[0].amounts]:
        return False
    unit = own.amounts[0].unit if own else ""
    written = [
        [_with(line, sizes, unit) if line is loaded[0] else _again(line) for line in lines] for sizes in loads
    ]
    written[0][0].tokens += said.sentence.tokens
    last = written[-1] if counted else [Node([], w.Rounds(0, ()), inner=written[-1])]
    doubts = [node for node in body if isinstance(node.block, w.Doubt)]
    body[:] = [*(line for lines in written[:-1] for line in lines), *last, *doubts]
    return True


def _again(line: Node) -> Node:
    assert line.work is not None
    return replace(line, work=replace(line.work), tokens=list(line.tokens))


def _with(line: Node, sizes: Sizes, unit: str) -> Node:
    copy = _again(line)
    assert copy.work is not None
    amounts = tuple(replace(a, unit=a.unit or unit) for a in sizes.amounts)
    copy.work = replace(copy.work, sizes=replace(sizes, amounts=amounts))
    return copy
