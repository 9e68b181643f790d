"""A lane laid out on the floor, to scale: what stands where, in the order in which the work meets it.

Sizes of gear are from memory: a men's bar is 2.2 m long, a women's 2.01 m, a plate 0.45 m across, a
box 50 × 60 × 75 cm, a rowing machine 2.4 × 0.6 m. The layout is common practice, no source; the organiser's floor
plan ranks above it.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise

from sorvek.core.lift import Gym, Stack, change
from sorvek.core.prep.timetable import reached
from sorvek.core.simulation import Problem, Timeline
from sorvek.core.workout import SizeKind, Slot

WIDTH_M, GAP_M, EDGE_M, LEAST_COURSE_M = 3.0, 0.6, 0.5, 7.62
BAR_M = {"m": 2.2, "f": 2.01}
PLATE_M = 0.45


class Thing(StrEnum):
    """What can stand in a lane."""

    RIG = "rig"
    RINGS = "rings"
    BAR = "bar"
    BOX = "box"
    MACHINE = "machine"
    WALL = "wall"
    ROPE = "rope"
    FREE = "free floor"
    HANDS = "hand marks"
    WEIGHTS = "weights"
    PUT_DOWN = "put down here"
    STAGED = "plates"
    BENCH = "bench"
    COURSE = "marked course"


# Length along the lane and width across it, in m.
SIZES_M = {
    Thing.RIG: (1.2, 1.8),
    Thing.RINGS: (1.2, 1.8),
    Thing.BOX: (0.6, 0.75),
    Thing.MACHINE: (2.4, 0.6),
    Thing.WALL: (0.2, 2.4),
    Thing.ROPE: (1.5, 2.0),
    Thing.FREE: (2.0, 1.4),
    Thing.WEIGHTS: (0.5, 1.1),
    Thing.BENCH: (1.9, 0.8),
}
# Words of a movement's gear and what they put into the lane; the word that is said first decides.
GEAR = {
    "rig": Thing.RIG,
    "rings": Thing.RINGS,
    "barbell": Thing.BAR,
    "box": Thing.BOX,
    "machine": Thing.MACHINE,
    "wall": Thing.WALL,
    "ball": Thing.WALL,
    "bench": Thing.BENCH,
    "dumbbell": Thing.WEIGHTS,
    "dumbbells": Thing.WEIGHTS,
    "kettlebell": Thing.WEIGHTS,
    "kettlebells": Thing.WEIGHTS,
    "sandbag": Thing.WEIGHTS,
    "plate": Thing.WEIGHTS,
    "marks": Thing.COURSE,
    "rope": Thing.ROPE,
}
# A run longer than this leaves the lane.
LONGEST_COURSE_M = 20.0


@dataclass(frozen=True, slots=True)
class Placed:
    """A thing in the lane: its corner and size in m (x along the lane, y across it), and what is said about it."""

    thing: Thing
    x_m: float
    y_m: float
    length_m: float
    width_m: float
    label: str


@dataclass(frozen=True, slots=True)
class LanePlan:
    """A lane of so many metres with what stands in it; `notes` say what a drawing cannot."""

    length_m: float
    width_m: float
    things: tuple[Placed, ...]
    notes: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Station:
    """One place in a lane and the slots of the workout that are done there."""

    thing: Thing
    slots: tuple[Slot, ...]


def lane_plan(problem: Problem, timeline: Timeline, gym: Gym) -> LanePlan:
    """Return the lane for an athlete's workout, stations in the order in which the work meets them.

    Raises: PlatesError if the hall has nothing to load.
    """
    met = reached(problem, timeline)
    stations = _stations([slot for i, slot in enumerate(problem.course.slots) if i in met])
    loads = [slot for station in stations for slot in station.slots if station.thing is Thing.BAR and slot.load_kg]
    order = [problem.course.slots[segment.slot] for segment in problem.course.segments if segment.slot in met]
    bars, notes = _bars([slot for slot in order if slot in loads], problem.athlete.sex, gym)
    x_m, things = EDGE_M, list[Placed]()
    for station in stations:
        placed = (
            _bar_things(bars, x_m, problem.athlete.sex)
            if station.thing is Thing.BAR
            else _station_things(station, x_m)
        )
        if station.thing is Thing.BAR and any(slot.movement.family == "burpee" for slot in station.slots):
            behind_m = max(one.x_m + one.length_m for one in placed) + 0.3
            placed.append(_middle(Thing.HANDS, behind_m, 0.5, 0.7, "hands of the burpee, clear of the bar"))
        things += placed
        x_m = max(one.x_m + one.length_m for one in placed) + GAP_M
    return LanePlan(x_m - GAP_M + EDGE_M, WIDTH_M, tuple(things), tuple(notes))


def _thing_of(slot: Slot) -> Thing:
    words = slot.movement.gear.replace(";", " ").split()
    return next((GEAR[word] for word in words if word in GEAR), Thing.FREE)


def _stations(slots: Sequence[Slot]) -> list[Station]:
    """Return the stations, each thing once, by when the work first meets it."""
    found: dict[Thing, list[Slot]] = {}
    for slot in slots:
        found.setdefault(_thing_of(slot), []).append(slot)
    return [Station(thing, tuple(here)) for thing, here in found.items()]


def _said(slots: Sequence[Slot]) -> str:
    return ", ".join(dict.fromkeys(slot.label for slot in slots))


def _middle(thing: Thing, x_m: float, length_m: float, width_m: float, label: str) -> Placed:
    return Placed(thing, x_m, (WIDTH_M - width_m) / 2, length_m, width_m, label)


def _station_things(station: Station, x_m: float) -> list[Placed]:
    """Return what stands at a station that has no barbell."""
    thing = station.thing
    said = f"{thing.value}: {_said(station.slots)}"
    if thing is Thing.COURSE:
        sizes = [slot.size for slot in station.slots if slot.movement.size is SizeKind.DISTANCE]
        return [_middle(thing, x_m, min(LONGEST_COURSE_M, max([LEAST_COURSE_M, *sizes])), WIDTH_M - 0.4, said)]
    length_m, width_m = SIZES_M[thing]
    placed = [_middle(thing, x_m, length_m, width_m, said)]
    behind_m = x_m + length_m + 0.3
    ball = any("ball" in slot.movement.gear.split("; ") for slot in station.slots)
    said_down = "the ball rests here" if ball else "put down here"
    if thing is Thing.WEIGHTS or ball:
        placed.append(_middle(Thing.PUT_DOWN, behind_m, 0.5, 1.1, said_down))
        behind_m += 0.8
    if any(slot.movement.family == "burpee" for slot in station.slots):
        # Chest on the floor behind the thing, hands on the same spot every time.
        placed.append(_middle(Thing.HANDS, behind_m, 0.5, 0.7, "hands of the burpee"))
    return placed


@dataclass(frozen=True, slots=True)
class LaneBar:
    """A bar of the lane: what is on it at the start, and the plates staged for the loads that follow, in order."""

    label: str
    stacks: tuple[Stack, ...]


def _bars(order: Sequence[Slot], sex: str, gym: Gym) -> tuple[list[LaneBar], list[str]]:
    """Return the bars a lane needs, and what to say of them.

    Loads that are met once, one after the other, share a bar with plates staged; a load that comes back after
    another one needs a bar of its own.
    """
    visits = [slot for i, slot in enumerate(order) if i == 0 or slot.load_kg != order[i - 1].load_kg]
    loads = list(dict.fromkeys(slot.load_kg for slot in visits if slot.load_kg))
    bar = gym.bar("", sex)
    stacks: dict[float, Stack] = {}
    for load in loads:
        before = next(reversed(stacks.values()), ())
        stacks[load] = min(gym.nearest(bar, load).ways, key=lambda way: _moved(before, way))
    said = {slot.load_kg: slot.label for slot in reversed(order)}
    if len(loads) > 1 and len(visits) == len(loads):
        steps = [change(stacks[a], stacks[b]) for a, b in pairwise(loads)]
        notes = [
            f"then {said[load]}: {' + '.join(piece.label for piece in step.on) or 'nothing'} on a side"
            + (f", {' + '.join(piece.label for piece in step.off)} off" if step.off else "")
            for load, step in zip(loads[1:], steps, strict=True)
        ]
        return [LaneBar(said[loads[0]], tuple(stacks[load] for load in loads))], notes
    bars = [LaneBar(said[load], (stacks[load],)) for load in loads]
    if not bars:
        return [LaneBar("load as ruled", ((),))], []
    return bars, ["a bar for each load: they come in turns"] if len(bars) > 1 else []


def _moved(before: Stack, after: Stack) -> int:
    """Return how many plates a side are taken off and put on from one stack to the next."""
    step = change(before, after)
    return len(step.on) + len(step.off)


def _bar_things(bars: Sequence[LaneBar], x_m: float, sex: str) -> list[Placed]:
    """Return bars across the lane, one behind the other, with the plates that are staged beside the first one."""
    placed = []
    for number, bar in enumerate(bars):
        at = x_m + number * (PLATE_M + GAP_M)
        plates = " + ".join(piece.label for piece in bar.stacks[0]) or "empty bar"
        placed.append(_middle(Thing.BAR, at, PLATE_M, BAR_M.get(sex, BAR_M["m"]), f"bar, {bar.label}: {plates}"))
        for step, (before, after) in enumerate(pairwise(bar.stacks)):
            on = change(before, after).on
            label = f"plates for load {step + 2}, a side: {' + '.join(piece.label for piece in on) or 'none'}"
            placed.append(Placed(Thing.STAGED, at + 0.65 + 0.5 * step, 0.15, PLATE_M, PLATE_M, label))
    return placed
