"""What lies ready at the lane, what the judge looks at, what the athlete thinks of (common practice, no source)."""

from collections.abc import Sequence
from dataclasses import dataclass

from sorvek.core.constants import RESOURCES
from sorvek.core.lift import Gym, Piece, Stack
from sorvek.core.prep.timetable import reached
from sorvek.core.simulation import Problem, Timeline
from sorvek.core.workout import Movement

SQUAT_FAMILIES = {"squat", "clean", "snatch", "thruster", "overhead press"}
FOOT_FAMILIES = {"run", "rope", "box", "burpee"}
MOST_CUES = 3


@dataclass(frozen=True, slots=True)
class Standard:
    """What counts as a rep of a movement, and what it can hurt."""

    movement: str
    standard: str
    caution: str


@dataclass(frozen=True, slots=True)
class CueLine:
    """What to think of in a movement, and where in it a rest costs least."""

    movement: str
    cue: str
    rest_at: str


def gear_list(problem: Problem, timeline: Timeline, gym: Gym) -> tuple[str, ...]:
    """Return the check list of a lane: bars with their plates, gear of the movements, the usual.

    Raises: PlatesError if the hall has nothing to load.
    """
    slots = [problem.course.slots[i] for i in sorted(reached(problem, timeline))]
    bar = gym.bar("", problem.athlete.sex)
    loads = [
        f"{slot.label}: {bar.label} bar, {_plates(gym.nearest(bar, slot.load_kg).ways[0])}"
        for slot in slots
        if slot.load_kg and {"barbell", "plates"} <= set(slot.movement.gear.split("; "))
    ]
    ties = any(segment.tiebreak for segment in problem.course.segments)
    return _checked(problem.course.movements, loads, ("judge knows the tie-break points",) if ties else ())


def lift_gear(movements: Sequence[Movement], bar: Piece, openings: Sequence[Stack]) -> tuple[str, ...]:
    """Return the check list of a platform: the bar as each lift opens, gear of the movements, the usual."""
    loads = [f"opening {number}: {bar.label} bar, {_plates(stack)}" for number, stack in enumerate(openings, 1)]
    if len(loads) == 1:
        loads = [loads[0].replace("opening 1", "opening")]
    return _checked(movements, loads, ("the plates of the attempts, in their order", "loaders know the signs"))


def _plates(stack: Stack) -> str:
    return f"{' + '.join(piece.label for piece in stack)} a side" if stack else "no plates"


def _checked(movements: Sequence[Movement], loads: Sequence[str], more: Sequence[str]) -> tuple[str, ...]:
    words = dict.fromkeys(
        word
        for movement in movements
        for word in movement.gear.split("; ")
        if word not in ("barbell", "plates", "")
    )
    families = {movement.family for movement in movements}
    shoes = "lifting shoes" if families & SQUAT_FAMILIES and not families & FOOT_FAMILIES else "flat, light shoes"
    usual = [shoes, "water, towel", *more]
    if {"grips or tape"} & words.keys():
        usual.insert(1, "grips or tape, not both on one hand; a spare pair")
        del words["grips or tape"]
    if families & {"burpee"}:
        usual.append("hand marks for the burpee")
    if families & {"dumbbell"}:
        usual.append("put the dumbbell down where the next set starts")
    return (*dict.fromkeys(loads), *words, *usual)


def standards(movements: Sequence[Movement]) -> tuple[Standard, ...]:
    """Return what counts for every movement; the organiser's own rule book ranks above it."""
    return tuple(Standard(m.name, m.standard, m.caution) for m in movements)


def movement_cues(movements: Sequence[Movement]) -> tuple[CueLine, ...]:
    """Return the cues written down for movements, at most three, in their order."""
    return tuple(CueLine(m.name, m.cue, m.rest_at) for m in movements if m.cue)[:MOST_CUES]


def cues(problem: Problem, timeline: Timeline) -> tuple[CueLine, ...]:
    """Return at most three cues, for the movements in which most gives out."""
    lows: dict[str, float] = {}
    for record in timeline.sets:
        name = problem.course.slots[problem.course.segments[record.segment].slot].movement.name
        lows[name] = min(lows.get(name, 1.0), *record.after[: len(RESOURCES)])
    by_name = {movement.name: movement for movement in problem.course.movements}
    return movement_cues([by_name[name] for name in sorted(lows, key=lambda name: lows[name])])
