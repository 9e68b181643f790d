"""Caps of rounds that are told behind each: “Round 1: 12 deadlifts. Finish by 2:00 to continue”."""

from dataclasses import replace
from itertools import pairwise

from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import Said
from sorvek.core.workout.prose.words import Kind

GOING_ON = {"continue", "advance", "proceed", "move on", "go on", "survive"}
LEAST_GATES = 2


def read_gates(draft: Draft) -> None:
    """Make stages of rounds with a time of the clock behind each by which they must be done."""
    gates = {id(said): gate for said, gate in pairwise(draft.said) if _gated(said, gate)}
    if len(gates) < LEAST_GATES:
        return
    found: list[Said] = []
    stage = 0
    for said in draft.said:
        if any(said is gate for gate in gates.values()):
            continue
        spans = [span for span in said.of(p.Span) if _clocked(said, span)]
        if id(said) in gates:
            stage += 1
            found.append(_joined(said, gates[id(said)], stage))
        elif stage == len(gates) and said.of(p.WorkLine) and len(spans) == 1:  # “Round 4: max deadlifts until 8:00”
            stage += 1
            cap = replace(spans[0], role="cap")
            said.phrases = [p.Cue(0, 1, "stage", stage), *(cap if x is spans[0] else x for x in _numberless(said))]
            found.append(said)
        else:
            found.append(said)
    draft.said[:] = found


def _gated(said: Said, gate: Said) -> bool:
    """Return whether the second sentence says by when the work of the first must be done to go on."""
    going_on = any(token.low in GOING_ON for token in gate.sentence.tokens)
    timed = any(_clocked(gate, span) for span in gate.of(p.Span))
    return going_on and timed and said.has(p.WorkLine) and not gate.has(p.WorkLine, p.RoundCount)


def _clocked(said: Said, span: p.Span) -> bool:
    return said.sentence.tokens[span.lo].kind is Kind.CLOCK


def _numberless(said: Said) -> list[p.Phrase]:
    """Return what a sentence says without the number of its round."""
    return [x for x in said.phrases if not (isinstance(x, p.Cue) and x.name in ("rounds", "stage", "part"))]


def _joined(said: Said, gate: Said, stage: int) -> Said:
    """Return the work of a stage with its cap as one sentence."""
    behind = len(said.sentence.tokens)
    span = next(span for span in gate.of(p.Span) if _clocked(gate, span))
    cap = replace(span, lo=span.lo + behind, hi=span.hi + behind, role="cap")
    sentence = replace(said.sentence, tokens=[*said.sentence.tokens, *gate.sentence.tokens])
    return Said(sentence, [p.Cue(0, 1, "stage", stage), *_numberless(said), cap])
