"""A list that is worked through and then back up again."""

from dataclasses import replace

from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import Node, Said
from sorvek.core.workout.prose.headings import Section

LEAST_LIST = 3  # lines of work that make a list one can go back up
BACK = ("back up", "way back", "and back again")


def climb_back(draft: Draft) -> None:
    """Write a list again from its last but one line to the first: “then go back up to the double-unders”."""
    body = draft.builder.body
    said = next((other for other in draft.said if _back(other)), None)
    if said is None or len(body) < LEAST_LIST or any(node.work is None for node in body):
        return
    if max(node.sentence for node in body) > draft.said.index(said):
        return  # work goes on behind it
    named = [work.movement for work in said.of(p.WorkLine)]
    again = [_copy(node) for node in reversed(body[:-1])]
    if named:
        ends = [i for i, node in enumerate(again) if node.work and node.work.movement == named[-1]]
        if not ends:
            return
        again = again[: ends[-1] + 1]
    again[0].tokens += said.sentence.tokens
    body += again
    said.used = True


def _back(said: Said) -> bool:
    text = said.text().lower()
    counted = any(work.counts for work in said.of(p.WorkLine))
    return said.sentence.section is Section.WORK and not counted and any(words in text for words in BACK)


def _copy(node: Node) -> Node:
    return replace(node, tokens=[])
