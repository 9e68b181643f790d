"""How high a ball is thrown: heights beside the ball's load, or said of a target anywhere."""

from collections.abc import Sequence
from dataclasses import replace

from sorvek.core.workout import tree as w
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.divisions import division_at, level_of
from sorvek.core.workout.prose.draft import Node, Said
from sorvek.core.workout.prose.headings import Section
from sorvek.core.workout.prose.sizes import Quantity, size_of

# No box, bar or step is that high, and no target is outside (judgement).
LEAST_M, MOST_M = 2.2, 3.8


def target_of(node: Node, said: Sequence[Said], items: Sequence[Node], divisions: Sequence[str]) -> w.Size | None:
    """Return the height a line of work throws to, an empty size where none is said, None if it is not clear.

    It is the line's own, else what is said of a target anywhere, else that of another of `items` with the movement.
    """
    own = _own(node)
    found = list(own)
    for other in said:
        loads = other.of(p.Loads) if other.sentence.section is not Section.SCALED else []
        loads += [  # “Wall balls: 9/6 kg, 3/2.7 m”, below the work
            p.Loads(work.lo, work.hi, work.sizes, ())
            for work in other.of(p.WorkLine)
            if work.sizes and not work.counts and node.work and work.movement == node.work.movement
        ]
        for load in loads:
            label = label_before(other, load)
            heights = [a if a.division else replace(a, division=label) for a in _heights(load.sizes.amounts)]
            if own:  # beside them only those of levels are told elsewhere
                heights = [a for a in heights if level_of(a.division)]
            found += heights
            node.tokens += other.tokens(load) if heights and not other.doubted else []
    alike = (_own(item) for item in items if item.work and node.work and item.work.movement == node.work.movement)
    found = found or next((heights for heights in alike if heights), [])
    found = list(dict.fromkeys(a for a in found if a.unit == found[0].unit))
    bare = [replace(a, division="") for a in found]  # “9 kg for the men, 6 kg for the women, target 3 m and 2.70 m”
    row = bare if len(bare) == 2 and bare[0].value > bare[1].value else found
    return (size_of(found, divisions, False) or size_of(row, divisions, False)) if found else w.Size()


def _own(node: Node) -> list[Quantity]:
    return _heights(node.work.sizes.amounts) if node.work and node.work.sizes else []


def _heights(amounts: Sequence[Quantity]) -> list[Quantity]:
    """Return the amounts that can be heights of a target."""
    high = [a for a in amounts if a.unit in ("m", "ft", "cm", "in")]
    return [replace(a, pair=False) for a in high if LEAST_M <= w.Size((a.value,), a.unit).metres(0) <= MOST_M]


def label_before(said: Said, load: p.Loads) -> str:
    """Return the division named last before loads, in the heading or the sentence, brackets left out.

    Several in a heading, “(M/W)”, only give the order.
    """
    found = ""
    behind = [token.low for token in said.sentence.tokens[load.hi : load.hi + 2]]
    if behind in (["for", "all"], ["for", "both"]):  # “Scaled: women 4 kg, men 6 kg, target 2.75 m for all”
        return level_of(division_at(said.sentence.lead, 0)[0])
    for tokens in (said.sentence.lead, said.sentence.tokens[: load.lo]):
        names, index, depth = [], 0, 0
        while index < len(tokens):
            depth += tokens[index].mark("([") - tokens[index].mark(")]")
            name, used = division_at(tokens, index)
            alike = index > 0 and tokens[index - 1].low == "as"  # “Masters: as RX, but 35/25 kg”
            names += [name] if name and depth < 1 and not alike else []
            index += max(1, used)
        if tokens is said.sentence.lead and len(names) == 2:
            found = _level_of_both(names)
        elif tokens is not said.sentence.lead or len(names) == 1:
            found = names[-1] if names else found
    return found


def _level_of_both(names: Sequence[str]) -> str:
    """Return the level of two divisions in a heading, “MASTERS 40+ MEN / WOMEN”; empty if they have none."""
    first, second = (level_of(name) for name in names)
    return first if second in ("", first) else ""
