"""What lies ready at the lane, what the judge looks at, what the athlete thinks of (common practice, no source)."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from sorvek.core.constants import RESOURCES
from sorvek.core.lift import Gym, Piece, Stack
from sorvek.core.prep.timetable import reached
from sorvek.core.quantities import clock
from sorvek.core.simulation import Problem, Timeline
from sorvek.core.workout import Movement

SQUAT_FAMILIES = {"squat", "clean", "snatch", "thruster", "overhead press"}
FOOT_FAMILIES = {"run", "rope", "box", "burpee"}
MOST_CUES, CUES_EACH = 3, 3
# A resource gives out where less than this share is left, is loaded from such a weight on, and a movement is deep
# from such a share of the legs on; judgement.
GIVES_OUT, LOADED, DEEP = 0.6, 0.3, 0.8


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
    return _cue_lines([(movement, ()) for movement in movements])


def cues(problem: Problem, timeline: Timeline) -> tuple[CueLine, ...]:
    """Return what to think of: at most three movements, those in which most gives out, and rests and depth.

    Of a movement's cues those come first that are for what gives out of this athlete in it.
    """
    lows = _lows(problem, timeline)
    by_name = {movement.name: movement for movement in problem.course.movements}
    order = sorted(lows, key=lambda name: min(lows[name].values(), default=1.0))
    pairs = [(by_name[name], _giving_out(lows[name])) for name in order]
    return (*_cue_lines(pairs), *_rest_lines(problem), *_depth_lines(problem, timeline))


def _giving_out(lows: dict[str, float]) -> list[str]:
    """Return the resources that give out, the lowest first."""
    return sorted((name for name, low in lows.items() if low < GIVES_OUT), key=lambda name: lows[name])


def _lows(problem: Problem, timeline: Timeline) -> dict[str, dict[str, float]]:
    """Return by movement how low every resource gets that it loads, as shares."""
    lows: dict[str, dict[str, float]] = {}
    for record in timeline.sets:
        movement = problem.course.slots[problem.course.segments[record.segment].slot].movement
        here = lows.setdefault(movement.name, {})
        for resource, weight, left in zip(RESOURCES, movement.styles[0].weights, record.after, strict=False):
            if weight >= LOADED:
                here[resource] = min(here.get(resource, 1.0), left)
    return lows


def _cue_lines(pairs: Sequence[tuple[Movement, Sequence[str]]]) -> tuple[CueLine, ...]:
    told = ((movement, movement.cues(gives_out)[:CUES_EACH]) for movement, gives_out in pairs)
    return tuple(
        CueLine(m.name, "; ".join(text[:1].lower() + text[1:] for text in texts), m.rest_at)
        for m, texts in told
        if texts
    )[:MOST_CUES]


def _rest_lines(problem: Problem) -> list[CueLine]:
    """Return what to do in a rest the workout obliges to, if it has one."""
    rest_s = max(segment.rest_before_s for segment in problem.course.segments)
    if not rest_s:
        return []
    return [
        CueLine(
            f"rest of {clock(rest_s)}",
            "sit, breathe as deep as you can, open the hands; be at the bar before it ends",
            "",
        )
    ]


def _depth_lines(problem: Problem, timeline: Timeline) -> list[CueLine]:
    """Return where a full-depth rep on a lighter bar prepares for a heavier one of the same movement."""
    met = reached(problem, timeline)
    slots = [slot for i, slot in enumerate(problem.course.slots) if i in met and slot.load_kg]
    deep = [slot for slot in slots if slot.movement.styles[0].weights[RESOURCES.index("squat")] >= DEEP]
    for before, after in pairwise(deep):
        if after.movement.name == before.movement.name and after.load_kg > before.load_kg:
            return [CueLine(f"before {after.label}", f"one rep at full depth with {before.load_kg:g} kg", "")]
    return []
