"""Work that is done first and told last: “12 rounds of …”, below it “Buy-in: 1-mile run”."""

from sorvek.core.workout import tree as w
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import Node, Said

# Not “start with”, with which many a list begins in the middle of a story.
FIRST = {"buy in", "buy-in", "buy - in", "buyin", "at the start", "at the beginning"}


def move_buy_ins(draft: Draft) -> None:
    """Put work that is said to be done first before what stands above it; the rest of an AMRAP is repeated."""
    body = draft.builder.body
    firsts = [node for node in body if node.work and _first(draft.said[node.sentence])]
    others = [at for at, node in enumerate(body) if any(True for _ in node.items()) and node not in firsts]
    late = [node for at, node in enumerate(body) if node in firsts and others and at > others[0]]
    rest = [node for node in body if not any(node is other for other in late)]
    if not late or draft.facts.form not in (w.Form.FOR_TIME, w.Form.AMRAP):
        return
    again = any(node.block == w.Rounds(0, ()) for node in rest)
    if draft.facts.form is w.Form.AMRAP and not again:
        rest = [Node([], w.Rounds(0, ()), inner=rest)]
    body[:] = [*late, *rest]


def _first(said: Said) -> bool:
    """Return whether a sentence begins with words of what is done first."""
    return any(token.low in FIRST for token in (*said.sentence.lead, *said.sentence.tokens[:1]))
