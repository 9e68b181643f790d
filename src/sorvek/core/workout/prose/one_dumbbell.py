"""One dumbbell for everything: “one dumbbell only”."""

from dataclasses import replace

from sorvek.core.workout.prose.bounding import SILENT
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import Said

ONLY = ("one dumbbell only", "a single dumbbell only", "single dumbbell only", "only one dumbbell")


def take_one_dumbbell(draft: Draft) -> None:
    """Write the movements with one dumbbell where the text says that there is only one."""
    said = next((said for said in draft.said if _only_one(said)), None)
    if said is None:
        return
    movements = draft.library.movements
    for item in draft.lines():
        assert item.work is not None
        two = movements[item.work.movement].gear.startswith("two dumbbells")
        known = (f"single-arm {item.work.movement}", f"single-arm {item.work.movement.replace('hang ', '')}")
        name = next((one for one in known if one in movements), "")
        if two:
            unsure = "" if name else "with one or with two of them?"
            item.work = replace(item.work, movement=name or item.work.movement, unsure=item.work.unsure or unsure)
            item.tokens += said.sentence.tokens


def _only_one(said: Said) -> bool:
    """Return whether a text says that there is one dumbbell, and not of one line in brackets only."""
    text = said.text().lower()
    told = any(words in text and f"({words}" not in text for words in ONLY) or text.startswith("one dumbbell,")
    return told and said.sentence.section not in SILENT
