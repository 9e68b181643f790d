"""A list of counts that begins again when it is done: “if you finish the 50s, start again at 10”."""

from sorvek.core.workout import tree as w
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.bounding import SILENT
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import Said

AGAIN = ("start again", "start over", "starts again", "starts over", "begin again", "begins again")


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
