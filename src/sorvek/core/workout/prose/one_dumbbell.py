"""One dumbbell for everything: “one dumbbell only”."""

from dataclasses import replace
from itertools import pairwise

from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.bounding import SILENT
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import Said

ONE_OR_TWO = "with one or with two of them?"
PLURAL = {"dumbbells", "dbs", "pair", "pairs", "two", "both", "2x", "each"}
NEAR = 6  # words from “single” to the dumbbell: “a single 22.5/15 kg dumbbell”
HEADS = (["one", "dumbbell"], ["single", "dumbbell"], ["a", "single", "dumbbell"])
ONLY = ("one dumbbell only", "a single dumbbell only", "single dumbbell only", "only one dumbbell")


def take_one_dumbbell(draft: Draft) -> None:
    """Write movements with one dumbbell where the text says that there is one, or says it of the same before."""
    said = next((said for said in draft.said if _only_one(said)), None)
    singular = _singular(draft)
    movements = draft.library.movements
    one_armed = {item.work.movement for item in draft.lines() if item.work}
    for item in draft.lines():
        assert item.work is not None
        two = movements[item.work.movement].gear.startswith("two dumbbells")
        known = (f"single-arm {item.work.movement}", f"single-arm {item.work.movement.replace('hang ', '')}")
        name = next((one for one in known if one in movements), "")
        paired = item.work.sizes is not None and any(a.pair for a in item.work.sizes.amounts)
        if said is None and two and not paired and singular:
            item.work = replace(item.work, unsure=item.work.unsure or ONE_OR_TWO)
        elif said is None:
            again = two and name in one_armed and not paired  # “30 cleans, one arm …, 20 cleans, 10 cleans”
            item.work = replace(item.work, movement=name) if again else item.work
        elif two:
            unsure = "" if name else ONE_OR_TWO
            item.work = replace(item.work, movement=name or item.work.movement, unsure=item.work.unsure or unsure)
            item.tokens += said.sentence.tokens


def _singular(draft: Draft) -> bool:
    """Return whether a load is told of “a 22.5 kg dumbbell”, and nothing of two."""
    said_of = [said for said in draft.said if said.sentence.section not in SILENT]
    if any(PLURAL & said.low() for said in said_of):
        return False
    loads = [said.sentence.tokens for said in said_of if said.of(p.Loads) and not said.has(p.WorkLine)]
    return any(a.unit("kg", "lb") and b.low == "dumbbell" for tokens in loads for a, b in pairwise(tokens))


def _only_one(said: Said) -> bool:
    """Return whether a text says that there is one dumbbell, and not of one line in brackets only."""
    text = said.text().lower()
    told = any(words in text and f"({words}" not in text for words in ONLY) or _headed(said)
    return (told or _one_of_a_load(said)) and said.sentence.section not in SILENT


def _headed(said: Said) -> bool:
    """Return whether a sentence begins with it: “One dumbbell: 22.5/15 kg”, “one dumbbell, 22.5/15 kg”."""
    lead, tokens = said.sentence.lead, said.sentence.tokens
    head = lead or tokens[: next((i for i, token in enumerate(tokens) if token.mark(",:")), 0)]
    return ["one" if token.number == 1 else token.low for token in head] in HEADS


def _one_of_a_load(said: Said) -> bool:
    """Return whether a sentence of loads is about one dumbbell: “men use a single 22.5 kg dumbbell”."""
    tokens = said.sentence.tokens
    ones = [i for i, token in enumerate(tokens) if token.low in ("single", "one")]
    held = any(token.low == "dumbbell" for i in ones for token in tokens[i + 1 : i + NEAR])
    return held and said.has(p.Loads) and not said.has(p.WorkLine) and not {"each", "hand"} & said.low()
