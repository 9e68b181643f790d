"""One dumbbell for everything: “one dumbbell only”."""

from dataclasses import replace

from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.bounding import SILENT
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import Said

NEAR = 6  # words from “single” to the dumbbell: “a single 22.5/15 kg dumbbell”
ONLY = ("one dumbbell only", "a single dumbbell only", "single dumbbell only", "only one dumbbell")


def take_one_dumbbell(draft: Draft) -> None:
    """Write movements with one dumbbell where the text says that there is one, or says it of the same before."""
    said = next((said for said in draft.said if _only_one(said)), None)
    movements = draft.library.movements
    one_armed = {item.work.movement for item in draft.lines() if item.work}
    for item in draft.lines():
        assert item.work is not None
        two = movements[item.work.movement].gear.startswith("two dumbbells")
        known = (f"single-arm {item.work.movement}", f"single-arm {item.work.movement.replace('hang ', '')}")
        name = next((one for one in known if one in movements), "")
        paired = item.work.sizes is not None and any(a.pair for a in item.work.sizes.amounts)
        if said is None:
            again = two and name in one_armed and not paired  # “30 cleans, one arm …, 20 cleans, 10 cleans”
            item.work = replace(item.work, movement=name) if again else item.work
        elif two:
            unsure = "" if name else "with one or with two of them?"
            item.work = replace(item.work, movement=name or item.work.movement, unsure=item.work.unsure or unsure)
            item.tokens += said.sentence.tokens


def _only_one(said: Said) -> bool:
    """Return whether a text says that there is one dumbbell, and not of one line in brackets only."""
    text = said.text().lower()
    told = any(words in text and f"({words}" not in text for words in ONLY) or text.startswith("one dumbbell,")
    return (told or _one_of_a_load(said)) and said.sentence.section not in SILENT


def _one_of_a_load(said: Said) -> bool:
    """Return whether a sentence of loads is about one dumbbell: “men use a single 22.5 kg dumbbell”."""
    tokens = said.sentence.tokens
    ones = [i for i, token in enumerate(tokens) if token.low in ("single", "one")]
    held = any(token.low == "dumbbell" for i in ones for token in tokens[i + 1 : i + NEAR])
    return held and said.has(p.Loads) and not said.has(p.WorkLine) and not {"each", "hand"} & said.low()
