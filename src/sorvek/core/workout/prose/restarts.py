"""What begins again: a list of counts, “if you finish the 50s, start again at 10”, an AMRAP, “repeat”."""

from dataclasses import replace

from sorvek.core.workout import tree as w
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.bounding import SILENT
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import Node, Said
from sorvek.core.workout.prose.words import Kind, vocabulary

AGAIN = ("start again", "start over", "starts again", "starts over", "begin again", "begins again")

MOST_AGAIN = 8  # words of “Rest 3 minutes and do it again”


def do_again(draft: Draft) -> None:
    """Do the work once more: “AMRAP 7: …”, “rest 3 minutes”, “repeat”; “30 thrusters, 30 burpees. Do it again.”."""
    facts, body = draft.facts, draft.builder.body
    doubts = [node for node in body if isinstance(node.block, w.Doubt)]
    work = [node for node in body if not isinstance(node.block, w.Doubt)]
    said = next((other for other in draft.said if _once_more(other)), None)
    timed = facts.form in (w.Form.AMRAP, w.Form.FOR_TIME) and facts.cap_s and not facts.lift
    if said is None or not (timed and work) or max(node.sentence for node in work) > draft.said.index(said):
        return
    last = work[-1]
    if last.inner and isinstance(last.inner[-1].block, w.Rest) and last.inner[-1].sentence != last.sentence:
        work = [
            *work[:-1],
            replace(last, inner=last.inner[:-1]),
            last.inner[-1],
        ]  # “… Rest 2 min. Repeat.”
    rests = [node for node in work if isinstance(node.block, w.Rest)]
    lines = [node for node in work if node not in rests]
    if len(rests) > 1 or (rests and work[-1] is not rests[0]) or (facts.form is w.Form.AMRAP and not rests):
        return
    if facts.form is w.Form.AMRAP:
        lines = [Node([], w.TimedPart(facts.cap_s, ()), inner=lines)]
        facts.cap_s = 2 * facts.cap_s + sum(rest.block.seconds for rest in rests if isinstance(rest.block, w.Rest))
        facts.form = w.Form.PARTS
    body[:] = [*lines, *rests, *(_copy(node) for node in lines), *doubts]
    facts.used += said.sentence.tokens
    said.used = True


def _copy(node: Node) -> Node:
    return replace(node, tokens=[], inner=[_copy(inner) for inner in node.inner])


def _once_more(said: Said) -> bool:
    """Return whether a sentence says only that the work is done once more."""
    tokens = [token for token in said.sentence.tokens if token.kind is not Kind.MARK]
    words = {word for token in tokens for word in token.low.split()}
    plain = words <= vocabulary("once_more") and bool(words & {"repeat", "again", "more"})
    rested = "again" in words and said.cue("rest") and len(tokens) <= MOST_AGAIN  # “rest 3 min and do it again”
    return (plain or bool(rested)) and said.sentence.section not in SILENT


def start_again(draft: Draft) -> None:
    """Read counts that are listed and begin again as a series; without a word of it they go on rising."""
    said = next((other for other in draft.said if begins_again(other)), None)
    listed = {series.counts for other in draft.said for series in other.of(p.RepCounts) if not series.open}
    for node in draft.builder.body if said is not None else ():
        block = node.block
        rising = [counts for counts in listed if isinstance(block, w.Ladder) and counts[0] == block.first]
        if said is not None and isinstance(block, w.Ladder) and not block.turns and len(rising) == 1:
            node.block = w.Series(rising[0], ())
            node.tokens += said.sentence.tokens
            said.used = True


def begins_again(said: Said) -> bool:
    """Return whether a sentence says that what was done begins again, and names no counted work."""
    text = said.text().lower()
    counted = any(work.counts for work in said.of(p.WorkLine))
    return said.sentence.section not in SILENT and not counted and any(words in text for words in AGAIN)
