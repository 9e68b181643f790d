"""Metres that are told without a word, where one machine is all there is: “Row. 1000 m / rest 1:00 / 750 m …”."""

from dataclasses import replace

from sorvek.core.workout.movements import Library
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import Said
from sorvek.core.workout.prose.headings import Section

LEAST_M = 100  # nobody rows less in one go; judgement
LEAST_ROWS = 2


def read_metres(draft: Draft) -> None:
    """Make work of bare metres if the text names one machine or running, and counts nothing else."""
    works = [work for said in draft.said for work in said.of(p.WorkLine)]
    names = {work.movement for work in works}
    if len(names) != 1 or any(work.counts for work in works) or not _moves(draft.library, next(iter(names))):
        return
    bare = [(said, load) for said in draft.said for load in said.of(p.Loads) if _metres(said, load)]
    if len(bare) < LEAST_ROWS:
        return
    for said, load in bare:
        way = p.WorkLine(load.lo, load.hi, next(iter(names)), (int(load.sizes.amounts[0].value),), "m")
        said.phrases = [way if phrase is load else phrase for phrase in said.phrases]
    for said in draft.said:  # the name alone is no work any more
        said.phrases = [
            replace(x, pointed=True) if isinstance(x, p.WorkLine) and not x.counts else x for x in said.phrases
        ]


def _moves(library: Library, name: str) -> bool:
    """Return whether a movement is measured in metres."""
    return library.movements[name].family in ("machine", "run")


def _metres(said: Said, load: p.Loads) -> bool:
    amounts = load.sizes.amounts
    metres = len(amounts) == 1 and amounts[0].unit == "m" and amounts[0].value >= LEAST_M and not load.nouns
    return metres and said.sentence.section is Section.WORK
