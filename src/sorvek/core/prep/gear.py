"""What lies ready at the lane, what the judge looks at, what the athlete thinks of (common practice, no source)."""

from dataclasses import dataclass

from sorvek.core.constants import RESOURCES
from sorvek.core.lift import Gym
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


def movements_of(problem: Problem) -> list[Movement]:
    """Return the movements of a course, each once, in the order they are met."""
    return list({slot.movement.name: slot.movement for slot in problem.course.slots}.values())


def gear_list(problem: Problem, timeline: Timeline, gym: Gym) -> tuple[str, ...]:
    """Return the check list of a lane: bars with their plates, gear of the movements, the usual.

    Raises: PlatesError if the hall has nothing to load.
    """
    slots = [problem.course.slots[i] for i in sorted(reached(problem, timeline))]
    movements = movements_of(problem)
    words = dict.fromkeys(
        word
        for movement in movements
        for word in movement.gear.split("; ")
        if word not in ("barbell", "plates", "")
    )
    bar, loads = gym.bar("", problem.athlete.sex), []
    for slot in slots:
        if slot.load_kg and {"barbell", "plates"} <= set(slot.movement.gear.split("; ")):
            load = gym.nearest(bar, slot.load_kg)
            plates = " + ".join(piece.label for piece in load.ways[0]) or "no plates"
            loads.append(f"{slot.label}: {bar.label} bar, {plates} a side")
    families = {movement.family for movement in movements}
    shoes = "lifting shoes" if families & SQUAT_FAMILIES and not families & FOOT_FAMILIES else "flat, light shoes"
    usual = [shoes, "water, towel"]
    if any(segment.tiebreak for segment in problem.course.segments):
        usual.append("judge knows the tie-break points")
    if {"grips or tape"} & words.keys():
        usual.insert(1, "grips or tape, not both on one hand; a spare pair")
        del words["grips or tape"]
    if families & {"burpee"}:
        usual.append("hand marks for the burpee")
    if families & {"dumbbell"}:
        usual.append("put the dumbbell down where the next set starts")
    return (*dict.fromkeys(loads), *words, *usual)


def standards(problem: Problem) -> tuple[Standard, ...]:
    """Return what counts for every movement; the organiser's own rule book ranks above it."""
    return tuple(Standard(m.name, m.standard, m.caution) for m in movements_of(problem))


def cues(problem: Problem, timeline: Timeline) -> tuple[CueLine, ...]:
    """Return at most three cues, for the movements in which most gives out."""
    lows: dict[str, float] = {}
    for record in timeline.sets:
        name = problem.course.slots[problem.course.segments[record.segment].slot].movement.name
        lows[name] = min(lows.get(name, 1.0), *record.after[: len(RESOURCES)])
    by_name = {movement.name: movement for movement in movements_of(problem)}
    order = sorted((name for name in lows if by_name[name].cue), key=lambda name: lows[name])
    return tuple(CueLine(name, by_name[name].cue, by_name[name].rest_at) for name in order[:MOST_CUES])
