"""Stages: work that opens more work if it is done in time."""

from sorvek.core.workout import tree as w
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.blocks import Blocks
from sorvek.core.workout.prose.draft import Node, Said
from sorvek.core.workout.prose.words import Token


def open_stage(blocks: Blocks, said: Said) -> None:
    """Begin the next stage: “if done before 5:00 the cap is extended to 8:00”, “stage 2, cap 8:00”."""
    spans = said.of(p.Span)
    numbered = said.stage()
    caps = [span for span in spans if span.role in ("cap", "before", "within", "")]
    if numbered is not None and caps and (numbered.number == len(blocks.stages) + 1):
        _next_stage(blocks, said, caps[0].seconds, said.tokens(numbered) + said.tokens(caps[0]))
        return
    extends = [span for span in spans if span.role == "extend"]
    until = [span for span in spans if span.lo and said.sentence.tokens[span.lo - 1].low in ("until", "till")]
    spans = [span for span in spans if span not in until]
    gates = [span for span in spans if span.role in ("before", "within", "cap", "")]
    last = blocks.stages[-1].block if blocks.stages else None
    opens = [span for span in gates if span.role == "" and span.lo == 0 and said.of(p.WorkLine)]
    if opens and isinstance(last, w.Stage) and 0 < last.cap_s < opens[0].seconds:
        _next_stage(blocks, said, opens[0].seconds, said.tokens(opens[0]))  # “Fifteen minutes: 15 cal row, …”
    if extends and not (blocks.stages or blocks.body or blocks.windows):
        blocks.first_s = extends[0].seconds  # “You have until 3:00 to do …” extends nothing
        return
    if not extends:
        return
    gate = gates[0] if gates else None
    tokens = [token for span in (gate, extends[0]) if span for token in said.tokens(span)]
    if not blocks.stages:
        told = blocks.ranges[0].to_s if blocks.ranges else blocks.first_s
        first = gate.seconds if gate else told
        blocks.close()
        blocks.open = []
        inner = [*blocks.body, *(node for window in blocks.windows for node in window.inner)]
        blocks.stages.append(Node(said.tokens(gate) if gate else [], w.Stage(first, ()), inner=inner))
        blocks.body, blocks.windows = [], []
    elif gate and isinstance(blocks.stages[-1].block, w.Stage) and not blocks.stages[-1].block.cap_s:
        blocks.stages[-1].block = w.Stage(gate.seconds, ())
    last = blocks.stages[-1].block
    before = last.cap_s if isinstance(last, w.Stage) else 0.0
    later = extends[0].seconds if extends[0].seconds > before else before + extends[0].seconds
    _next_stage(blocks, said, until[0].seconds if until and until[0] not in extends else later, tokens)


def _next_stage(blocks: Blocks, said: Said, cap_s: float, tokens: list[Token]) -> None:
    blocks.close()
    blocks.open = []
    if not blocks.stages and blocks.body:
        return
    blocks.stages.append(Node(tokens, w.Stage(cap_s, ())))
