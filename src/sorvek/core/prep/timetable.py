"""The warm-up as a timetable that is counted back from the start (common practice, no source).

Raise temperature → mobility for the joints the workout uses → drills → build-up of every load → primer → rest →
start. The shorter and harder the piece, the longer: 40 minutes before a few minutes' work, 22 before a long one.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from pydantic import TypeAdapter, ValidationError

from sorvek.core.errors import PrepError
from sorvek.core.lift import Gym, Stack, WarmUpSet
from sorvek.core.plan import Plan
from sorvek.core.prep.primer import Primer, find_primer, too_dear
from sorvek.core.quantities import plain
from sorvek.core.simulation import Problem, Timeline
from sorvek.core.workout import Movement, Slot

SHORT_S, LONG_S = 300.0, 900.0
BEFORE_SHORT_S, BEFORE_LONG_S = 2400.0, 1320.0
STEP_S = 30.0
LEAST_RAISE_S, MOST_RAISE_S, MOST_MOBILITY_S = 180.0, 600.0, 600.0
MOBILITY_S, DRILL_S, SHAKY_S, SET_S, CHANGE_S = 300.0, 60.0, 60.0, 20.0, 40.0
INTERVALS_S = 360.0
LONGEST_BLOCK_S = 3600.0
# Shares of the workout's load and reps of the build-up; a heavy load (from this share of the 1RM) gets more steps.
STEPS = ((0.0, 5), (0.5, 5), (0.75, 3), (1.0, 3))
HEAVY_FRAC, HEAVY_STEPS = 0.7, ((0.0, 5), (0.5, 3), (0.7, 3), (0.85, 2), (1.0, 1), (1.0, 1))
MEAL_S, GRIP_S, SHOES_S, COOL_DOWN_S = 8100.0, 600.0, 900.0, 600.0
# The joints that families of movements use.
JOINTS = {
    "squat": ("ankles", "hips"),
    "lunge": ("ankles", "hips"),
    "box": ("ankles", "hips"),
    "clean": ("wrists", "hips", "ankles"),
    "snatch": ("shoulders", "hips", "ankles"),
    "thruster": ("wrists", "hips", "shoulders"),
    "hinge": ("hips", "hamstrings"),
    "overhead press": ("shoulders", "upper back"),
    "inverted press": ("wrists", "shoulders", "upper back"),
    "horizontal press": ("wrists", "shoulders"),
    "vertical pull": ("shoulders", "upper back"),
    "bar hang": ("shoulders", "hamstrings"),
    "muscle-up": ("shoulders", "wrists", "upper back"),
    "rope": ("calves", "wrists"),
    "dumbbell": ("shoulders", "hips"),
    "burpee": ("hips", "wrists"),
    "machine": ("hips", "upper back"),
    "run": ("calves", "hips"),
    "throw": ("shoulders", "ankles"),
    "trunk": ("hips", "upper back"),
    "carry": ("shoulders", "hips"),
}


class WarmKind(StrEnum):
    """What a part of the warm-up is for, in their order."""

    RAISE = "raise temperature"
    MOBILITY = "mobility"
    DRILLS = "drills"
    BUILD_UP = "build-up"
    INTERVALS = "20/40 intervals"
    PRIMER = "primer"
    REST = "rest"


class WarmSchool(StrEnum):
    """Two ways to come to the line."""

    BREATHE = "breathe hard early"
    FRESH = "stay fresh"


@dataclass(frozen=True, slots=True)
class PrepWishes:
    """What a coach chose of a warm-up: school, machine intervals, lengths of parts in s that overrule the rule.

    `starts_at` is the start of the athlete's heat, `YYYY-MM-DDTHH:MM`, empty where nobody knows yet. `order` holds
    all kinds of parts in the order chosen, nothing where that is the usual one.
    """

    school: WarmSchool = WarmSchool.BREATHE
    intervals: bool = False
    lengths_s: tuple[tuple[WarmKind, float], ...] = ()
    starts_at: str = ""
    order: tuple[WarmKind, ...] = ()

    def length_s(self, kind: WarmKind) -> float | None:
        """Return the length chosen for a part, None if it is left to the rule."""
        return dict(self.lengths_s).get(kind)

    def check(self) -> None:
        """Raise PrepError naming the part of which the length cannot be."""
        if self.order and sorted(self.order) != sorted(WarmKind):
            raise PrepError("the order of the parts names each of them once; reload the page")
        for kind, length_s in self.lengths_s:
            if not 0 <= length_s <= LONGEST_BLOCK_S:
                raise PrepError(f"{kind.value} of {plain(length_s / 60)} min: give 0 to 60 minutes, as 4:30")


@dataclass(frozen=True, slots=True)
class BuildSet:
    """One set of a build-up: the load as called, the plates on a side, reps."""

    load_kg: float
    stack: Stack
    reps: int


@dataclass(frozen=True, slots=True)
class LoadedMovement:
    """The build-up of one movement of the workout, and whether its load is heavy for the athlete."""

    label: str
    heavy: bool
    sets: tuple[BuildSet, ...]


@dataclass(frozen=True, slots=True)
class Part:
    """A part of the warm-up: from so many seconds before the start, how long, and what is done."""

    kind: WarmKind
    before_s: float
    length_s: float
    lines: tuple[str, ...]
    changed: bool


@dataclass(frozen=True, slots=True)
class WarmMark:
    """Something to have done so many seconds before the start."""

    name: str
    before_s: float


@dataclass(frozen=True, slots=True)
class Timetable:
    """A warm-up: its parts in order, the build-ups, the primer, what else stands on the line, and the way down."""

    parts: tuple[Part, ...]
    loads: tuple[LoadedMovement, ...]
    primer: Primer | None
    marks: tuple[WarmMark, ...]
    cool_down: tuple[str, ...]
    by_rule_s: float

    @property
    def length_s(self) -> float:
        """Return how long before the start it begins."""
        return self.parts[0].before_s


_ADAPTER = TypeAdapter(PrepWishes)


def prep_text(wishes: PrepWishes) -> str:
    """Return wishes as JSON."""
    return _ADAPTER.dump_json(wishes).decode()


def read_prep(text: str) -> PrepWishes:
    """Return the wishes in a JSON text.

    Raises: PrepError if it is none, or if a length is no length of a part.
    """
    try:
        wishes = _ADAPTER.validate_json(text)
    except ValidationError as error:
        raise PrepError(f"what was kept for this warm-up cannot be read: {error.errors()[0]['msg']}") from error
    wishes.check()
    return wishes


def rule_s(work_s: float) -> float:
    """Return how long the warm-up for so many seconds of work is by rule, in whole minutes."""
    share = min(1.0, max(0.0, (work_s - SHORT_S) / (LONG_S - SHORT_S)))
    return 60.0 * round((BEFORE_SHORT_S + share * (BEFORE_LONG_S - BEFORE_SHORT_S)) / 60)


def timetable(problem: Problem, plan: Plan, timeline: Timeline, gym: Gym, wishes: PrepWishes) -> Timetable:
    """Return the warm-up of an athlete for a plan, as the rule and the wishes make it.

    Raises: PlatesError if the hall has nothing to load.
    """
    slots = {i: slot for i, slot in _distinct(problem).items() if i in reached(problem, timeline)}
    shaky = tuple(slot.label for i, slot in slots.items() if too_dear(problem, i) or _skilled(problem, i))
    primer = find_primer(problem, plan) if wishes.school is WarmSchool.BREATHE else None
    movements = tuple(slot.movement for slot in slots.values())
    loads = _build_ups(problem, slots, gym)
    return _counted_back(_Work(movements, shaky, loads, primer, rule_s(timeline.end_s)), wishes)


def lift_timetable(movements: Sequence[Movement], sets: Sequence[WarmUpSet], wishes: PrepWishes) -> Timetable:
    """Return the warm-up for a max lift alone: no primer, and the build-up to the opening in place of race pace.

    `sets` are those of the lift's build-up in order. A lift counts as the shortest work there is.
    """
    name = " + ".join(movement.name for movement in movements)
    loads = LoadedMovement(name, True, tuple(BuildSet(one.load_kg, one.stack, one.reps) for one in sets))
    work = _Work(tuple(movements), (), (loads,), None, rule_s(0.0), sets[0].before_s - sets[-1].before_s + SET_S)
    return _counted_back(work, wishes)


@dataclass(frozen=True, slots=True)
class _Work:
    """What a warm-up leads to; `build_up_s` is 0 where the build-up takes a minute a set."""

    movements: tuple[Movement, ...]
    shaky: tuple[str, ...]
    loads: tuple[LoadedMovement, ...]
    primer: Primer | None
    total_s: float
    build_up_s: float = 0.0


def _counted_back(work: _Work, wishes: PrepWishes) -> Timetable:
    """Return the parts of a warm-up, each with its length, counted back from the start."""
    lengths, lines = _lengths(work, wishes), _lines(work, wishes)
    parts, before_s = [], sum(lengths.values())
    for kind in wishes.order or WarmKind:
        if lengths[kind] > 0:
            parts.append(Part(kind, before_s, lengths[kind], lines[kind], wishes.length_s(kind) is not None))
        before_s -= lengths[kind]
    marks, down = _marks(work.movements), _cool_down(work.movements)
    return Timetable(tuple(parts), work.loads, work.primer, marks, down, work.total_s)


def reached(problem: Problem, timeline: Timeline) -> set[int]:
    """Return the slots a plan gets to, and the next one, which a good day may bring."""
    last = max(record.segment for record in timeline.sets)
    return {segment.slot for segment in problem.course.segments[: last + 2]}


def _distinct(problem: Problem) -> dict[int, Slot]:
    """Return the first slot of every movement with its size, in the order they are met."""
    found: dict[tuple[str, float], int] = {}
    for i, slot in enumerate(problem.course.slots):
        found.setdefault((slot.movement.name, slot.size), i)
    return {i: problem.course.slots[i] for i in found.values()}


def _skilled(problem: Problem, slot: int) -> bool:
    return any(style.skill_frac > 0 for style in problem.course.slots[slot].movement.styles[:1])


def _build_ups(problem: Problem, slots: Mapping[int, Slot], gym: Gym) -> tuple[LoadedMovement, ...]:
    """Return the build-ups of all loads; a heavier load of a movement goes on from the lighter one."""
    found: list[LoadedMovement] = []
    reached: dict[str, float] = {}
    for index, slot in slots.items():
        loaded = _loaded(problem, index, slot, gym, reached.get(slot.movement.name, 0.0))
        if loaded:
            found.append(loaded)
            reached[slot.movement.name] = max(reached.get(slot.movement.name, 0.0), loaded.sets[-1].load_kg)
    return tuple(found)


def _loaded(problem: Problem, index: int, slot: Slot, gym: Gym, from_kg: float) -> LoadedMovement | None:
    """Return the build-up of a barbell movement on the plates of the hall, None for any other."""
    if not slot.load_kg or "barbell" not in slot.movement.gear or "plates" not in slot.movement.gear:
        return None
    one_rm_kg = max(capacity.one_rep_max_kg for capacity in problem.capacities[index])
    heavy = one_rm_kg > 0 and slot.load_kg >= HEAVY_FRAC * one_rm_kg
    bar = gym.bar("", problem.athlete.sex)
    sets: list[BuildSet] = []
    for share, reps in HEAVY_STEPS if heavy else STEPS:
        load = gym.nearest(bar, share * slot.load_kg)
        last_kg = sets[-1].load_kg if sets else from_kg
        if load.mass_kg > last_kg or share == 1:
            sets.append(BuildSet(load.mass_kg, load.ways[0], reps))
    return LoadedMovement(slot.label, heavy, tuple(sets))


def _lengths(work: _Work, wishes: PrepWishes) -> dict[WarmKind, float]:
    """Return the lengths of the parts in whole half minutes; what the rule leaves over goes to the first three."""

    def whole(seconds: float) -> float:
        return STEP_S * -(-seconds // STEP_S)

    sets = sum(len(loaded.sets) for loaded in work.loads)
    own = {
        WarmKind.MOBILITY: MOBILITY_S,
        WarmKind.DRILLS: whole(DRILL_S * len(work.movements) + SHAKY_S * len(work.shaky)),
        WarmKind.BUILD_UP: whole(work.build_up_s or sets * (SET_S + CHANGE_S)),
        WarmKind.INTERVALS: INTERVALS_S if wishes.intervals else 0.0,
        WarmKind.PRIMER: whole(work.primer.length_s) if work.primer else 0.0,
        WarmKind.REST: 300.0 if wishes.school is WarmSchool.FRESH or work.total_s > 1800 else 240.0,
    }
    chosen = dict(wishes.lengths_s)
    own |= {kind: length_s for kind, length_s in chosen.items() if kind is not WarmKind.RAISE}
    left_s = work.total_s - sum(own.values())
    raise_s = chosen.get(WarmKind.RAISE, min(MOST_RAISE_S, max(LEAST_RAISE_S, whole(left_s))))
    left_s -= raise_s
    for kind, most_s in ((WarmKind.MOBILITY, MOST_MOBILITY_S), (WarmKind.DRILLS, LONGEST_BLOCK_S)):
        if kind not in chosen and left_s > 0:
            more_s = min(left_s, max(0.0, most_s - own[kind]))
            own[kind] += more_s
            left_s -= more_s
    return {kind: raise_s if kind is WarmKind.RAISE else own[kind] for kind in WarmKind}


def _lines(work: _Work, wishes: PrepWishes) -> dict[WarmKind, tuple[str, ...]]:
    """Return what is done in each part."""
    joints = dict.fromkeys(joint for movement in work.movements for joint in JOINTS.get(movement.family, ()))
    drills = [f"{m.name}: {'; '.join(m.cues()).lower() or 'three easy reps'}" for m in _once(work.movements)]
    drills += [f"{label}: a few single reps, full rests" for label in work.shaky]
    early = wishes.school is WarmSchool.BREATHE
    return {
        WarmKind.RAISE: (
            "easy on a machine; the last minute with three hard bursts" if early else "easy on a machine",
        ),
        WarmKind.MOBILITY: tuple(joints),
        WarmKind.DRILLS: tuple(dict.fromkeys(drills)),
        WarmKind.BUILD_UP: tuple(loaded.label for loaded in work.loads),
        WarmKind.INTERVALS: ("20 s hard, 40 s easy, four times; then two minutes easy",),
        WarmKind.PRIMER: _primer_lines(work.primer),
        WarmKind.REST: ("walk, drink a sip, chalk; know how it begins",),
    }


def _once(movements: Sequence[Movement]) -> list[Movement]:
    return list({movement.name: movement for movement in movements}.values())


def _primer_lines(primer: Primer | None) -> tuple[str, ...]:
    if primer is None:
        return ()
    work = " + ".join(f"{line.reps} {line.label}" for line in primer.lines)
    return (f"{primer.rounds} rounds at race pace: {work}; {primer.rest_s:.0f} s between them",)


def _marks(movements: Sequence[Movement]) -> tuple[WarmMark, ...]:
    """Return what else stands on the line: the meal, shoes, tape and chalk where hands or feet need them."""
    gear = {word for movement in movements for word in movement.gear.split("; ")}
    marks = [WarmMark("last full meal", MEAL_S)]
    if "barbell" in gear:
        marks.append(WarmMark("lifting shoes or flat ones: decide", SHOES_S))
    if "grips or tape" in gear:
        marks.append(WarmMark("grips or tape on, spare pair out", GRIP_S))
    if gear & {"barbell", "rig", "rings"}:
        marks.append(WarmMark("chalk, once", 120.0))
    return tuple(marks)


def _cool_down(movements: Sequence[Movement]) -> tuple[str, ...]:
    joints = dict.fromkeys(joint for movement in movements for joint in JOINTS.get(movement.family, ()))
    return (f"{COOL_DOWN_S / 60:.0f} min easy on a machine", f"then stretch: {', '.join(joints)}")
