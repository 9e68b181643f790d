"""A workout unrolled for one division: the stretches of work in the order they are met."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from itertools import count, islice, pairwise

from sorvek.core.constants import ERG_CAL_BASE_H, ERG_CAL_W, ERG_W_S3_M3
from sorvek.core.errors import InfeasibleError
from sorvek.core.quantities import plain
from sorvek.core.workout import tree as w
from sorvek.core.workout.limits import MAX_REPS
from sorvek.core.workout.movements import Library, Movement, PowerKind, SizeKind, metric_size

# Open work is unrolled no further than this; measured: such a plan takes no longer than one of `limits`.
MAX_OPEN_STRETCHES = 1_500
MAX_WINDOWS = 60
# Rounds without work after which none comes: lines of a ladder have `n-999` at the least.
MOST_EMPTY_ROUNDS = 1_000
NO_LIMIT_S = 1e9
ALMOST = 1e-9  # 4.5 m are three times 1.5 m, however these are rounded
# A rep of anything takes longer than this share of its usual cycle: bounds how far open work is unrolled.
FASTEST_FRAC = 0.5
# Fewer rounds than these have no middle.
LEAST_ALIKE = 4


@dataclass(frozen=True, slots=True)
class Slot:
    """One movement with its size in one part: what a plan gives one scheme to.

    `size` is the total load in kg, the height in cm or the distance in m; `target_m` the height a ball is thrown
    to; 0 where there is none.
    """

    movement: Movement
    size: float
    unit: str
    side: w.Side
    part: int
    pair: bool
    target_m: float = 0.0

    @property
    def load_kg(self) -> float:
        """Return the total external load, 0 for bodyweight work."""
        return self.size if self.movement.size is SizeKind.LOAD else 0.0

    @property
    def label(self) -> str:
        """Return movement and size as a coach would say it."""
        return " ".join(filter(None, (self.unit, self.movement.name, self.side.value, size_words([self]))))

    @property
    def said(self) -> str:
        """Return the label without the unit that is counted, as sentences name it: “the row”."""
        return self.label.removeprefix(self.unit).strip()

    def told(self, segment: "Segment") -> str:
        """Return a visit as a coach would say it: “12 toes-to-bar”, “as many thrusters as possible”."""
        return f"as many as possible: {self.label}" if segment.endless else f"{segment.reps} {self.label}"

    def usual_s(self, reps: int) -> float:
        """Return the seconds so many reps usually take, in the movement's usual style and unhurried.

        A machine's calories come from its usual speed by the formulas of rowing machines (from memory): 2.80/(s per
        m)³ watts, 3.4416 kcal/h for each of them and 300.
        """
        movement, style = self.movement, self.movement.styles[0]
        if self.unit == "cal" and style.power is PowerKind.METRE:
            watts = ERG_W_S3_M3 * (style.body_m / style.cycle_s) ** 3
            return reps * 3600 / (ERG_CAL_W * watts + ERG_CAL_BASE_H)
        length = self.size / movement.ref_men if movement.size is SizeKind.DISTANCE and self.size else 1.0
        return reps * movement.styles[0].cycle_s * length


def size_words(slots: Sequence[Slot]) -> str:
    """Return the sizes divisions have of one slot in metric units, “9/6 kg to 3/2.7 m”, empty for none."""
    targets = "/".join(plain(m) for m in sorted({round(slot.target_m, 2) for slot in slots}, reverse=True) if m)
    to = f" to {targets} m" if targets else ""
    slot, sizes = slots[0], sorted({slot.size for slot in slots if slot.size}, reverse=True)
    if slot.load_kg:
        pair = f"2×{'/2×'.join(plain(size / 2) for size in sizes)} kg"
        return (pair if slot.pair else f"{'/'.join(map(plain, sizes))} kg") + to
    unit = {SizeKind.HEIGHT: "cm", SizeKind.DISTANCE: "m"}.get(slot.movement.size)
    return f"{'/'.join(map(plain, sizes))} {unit}" if unit and sizes else ""


@dataclass(frozen=True, slots=True)
class Segment:
    """One visit to a movement: `reps` of slot `slot` in round `round` (numbered through from 1)."""

    slot: int
    reps: int
    round: int
    part: int
    stage: int
    rest_before_s: float
    opens_s: float
    deadline_s: float
    tiebreak: bool
    cap_s: float = 0.0
    """The time of its part from when that begins, 0 where the part has none."""
    next_part: int = 0
    """The first segment of the part behind its own, 0 if there is none."""
    endless: bool = False
    """Whether it is one movement as often as possible: its reps are more than anybody has time for."""
    counted: int = 0
    """What all its reps count for the score: as many, fewer where several make one that counts, or none."""
    per_rep: float = 0.0
    """How many of them count as one rep, 0 where every one does."""

    def counted_of(self, begun: int) -> int:
        """Return what the first reps of the visit count for the score."""
        return begun * self.counted // self.reps


@dataclass(frozen=True, slots=True)
class Course:
    """All slots and segments of a workout for one division.

    For open work (AMRAP, windows) the segments go on past anything a human can do in the time.
    """

    workout: w.Workout
    division: str
    slots: tuple[Slot, ...]
    segments: tuple[Segment, ...]
    round_labels: dict[int, str] = field(default_factory=dict)

    @property
    def total_reps(self) -> int:
        """Return the reps of all segments that count for the score."""
        return sum(segment.counted for segment in self.segments)

    @property
    def open_ended(self) -> bool:
        """Return whether the work has no end of its own."""
        parts = self.workout.timed_parts
        endless = self.workout.form is w.Form.PARTS and not all(part.once for part in parts)
        return endless or self.workout.form in (w.Form.AMRAP, w.Form.WINDOWS)

    @property
    def cut(self) -> bool:
        """Return whether parts have a time each: what is left of one is not done, and reps say no place."""
        return any(segment.cap_s for segment in self.segments)

    def slot_rounds(self) -> list[int]:
        """Return for every segment which of its slot's rounds it stands in, counted from 1."""
        seen: dict[int, list[int]] = {}
        ranks = []
        for segment in self.segments:
            rounds = seen.setdefault(segment.slot, [])
            if segment.round not in rounds:
                rounds.append(segment.round)
            ranks.append(len(rounds))
        return ranks

    def work_by_round(self) -> dict[int, list[tuple[int, int]]]:
        """Return slot and reps of every visit, by round in the order of the work."""
        work: dict[int, list[tuple[int, int]]] = {}
        for segment in self.segments:
            work.setdefault(segment.round, []).append((segment.slot, segment.reps))
        return work

    def alike_rounds(self) -> list[int]:
        """Return for every segment which round it is of a stretch of at least four that are alike, 0 if none.

        Windows, stages and parts with a time each have none: what counts there is each of them.
        """
        work = self.work_by_round()
        if self.workout.form in (w.Form.WINDOWS, w.Form.STAGES) or self.cut:
            return [0] * len(self.segments)
        numbers, stretch = dict.fromkeys(work, 0), list[int]()
        for number, done in work.items():
            if stretch and done != work[stretch[-1]]:
                stretch = []
            stretch.append(number)
            if len(stretch) >= LEAST_ALIKE:
                numbers |= {member: i for i, member in enumerate(stretch, 1)}
        return [numbers[segment.round] for segment in self.segments]

    def labels(self, others: Sequence["Course"] = ()) -> tuple[str, ...]:
        """Return what this and other divisions call every slot: “thruster 40/27.5 kg”, “pull-up or ring row”."""
        found = []
        for slots in zip(self.slots, *(other.slots for other in others), strict=False):
            named = {
                slot.movement.name: [s for s in slots if s.movement.name == slot.movement.name] for slot in slots
            }
            own = [
                f"{same[0].said.removesuffix(size_words(same[:1]))}{size_words(same)}" for same in named.values()
            ]
            found.append(" or ".join(own))
        return tuple(found)

    def gates(self) -> dict[str, int]:
        """Return the reps that must be done to pass every window or stage, by its name; empty for other forms.

        The last stage is passed when its work is done, like the ones before it.
        """
        word = {w.Form.WINDOWS: "window", w.Form.STAGES: "stage"}.get(self.workout.form)
        gates, done = dict[str, int](), 0
        for segment in self.segments if word else ():
            done += segment.counted
            gates[f"{word} {segment.stage}"] = done
        return gates

    def ahead_of(self, reps: int) -> str:
        """Return the movement that the next rep is of when so many are done; empty where none is left or known."""
        done = 0
        if self.cut:
            return ""
        for segment in self.segments:
            done += segment.counted
            if done > reps:
                return self.slots[segment.slot].label
        return ""

    def part_starts(self) -> dict[int, int]:
        """Return the reps that come before every part behind the first, by its number; none where parts are cut."""
        starts, done = dict[int, int](), 0
        for segment in () if self.cut else self.segments:
            if segment.part > 1:
                starts.setdefault(segment.part, done)
            done += segment.counted
        return starts

    @property
    def movements(self) -> tuple[Movement, ...]:
        """Return the movements, each once, in the order they are met."""
        return tuple({slot.movement.name: slot.movement for slot in self.slots}.values())

    def segments_of(self, slot: int) -> list[Segment]:
        """Return the visits to one slot, in order."""
        return [segment for segment in self.segments if segment.slot == slot]


@dataclass(slots=True)
class _Walk:
    """What is known while the tree is walked in the order of the work."""

    division: int
    name: str
    library: Library
    scored: tuple[str, ...] = ()
    slots: list[Slot] = field(default_factory=list)
    known: dict[tuple[object, ...], int] = field(default_factory=dict)
    segments: list[Segment] = field(default_factory=list)
    labels: dict[int, str] = field(default_factory=dict)
    scope: str = ""
    scope_round: int = 0
    round_open: bool = False
    part: int = 1
    scheme: int = 1
    cap_s: float = 0.0
    stage: int = 0
    rest_s: float = 0.0
    opens_s: float = 0.0
    deadline_s: float = NO_LIMIT_S
    reps: int = 0
    shortest_s: float = 0.0

    def enter(self, scope: str) -> None:
        """Begin a part, stage or window; rounds are counted from 1 inside it."""
        self.scope, self.scope_round, self.round_open = scope, 0, False

    def open_round(self, name: str) -> None:
        """Begin a round of its own number and label."""
        self.scope_round += 1
        label = name or ("" if self.scope else "Work")
        self.labels[len(self.labels) + 1] = ", ".join(filter(None, (self.scope, label)))
        self.round_open = True

    def slot(self, item: w.Item) -> int:
        """Return the index of the item's slot, new or known: the same one in every division."""
        key = (item.movement, item.size, item.target, item.unit, item.side, item.style, item.others, self.scheme)
        if key in self.known:
            return self.known[key]
        movement = self.library.movements[item.movement_of(self.name)].limited(item.style)
        size = metric_size(item.size.of(self.division), item.size.unit) * (2 if item.size.pair else 1)
        self.known[key] = len(self.slots)
        to_m = item.target.metres(self.division)
        self.slots.append(Slot(movement, size, item.unit, item.side, self.part, item.size.pair, to_m))
        return self.known[key]

    @property
    def full(self) -> bool:
        """Return whether open work has been unrolled as far as it can be planned."""
        return len(self.segments) >= MAX_OPEN_STRETCHES or self.reps >= MAX_REPS

    def work(self, item: w.Item, count: int) -> None:
        """Append one visit."""
        if not self.round_open:
            self.open_round("")
        reps = item.reps_on(count, self.division)
        if not reps:
            return
        slot = self.slot(item)
        self.reps += reps
        self.shortest_s += FASTEST_FRAC * reps * self._cycle_s(self.slots[slot])
        self.segments.append(
            Segment(
                slot=slot,
                reps=reps,
                round=len(self.labels),
                part=self.part,
                stage=self.stage,
                rest_before_s=self.rest_s,
                opens_s=self.opens_s,
                deadline_s=self.deadline_s,
                tiebreak=item.tiebreak,
                cap_s=self.cap_s,
                counted=self.counted(item, reps),
                per_rep=item.per_rep,
            )
        )
        self.rest_s = 0.0

    def counted(self, item: w.Item, reps: int) -> int:
        """Return what so many reps of a line count for the score: at least one, if they count at all."""
        if self.scored and item.movement not in self.scored:
            return 0
        return max(1, int(reps / item.per_rep + ALMOST)) if item.per_rep else reps

    def work_on(self, item: w.Item, cap_s: float) -> None:
        """Append a visit that no time is enough for; it has a round of its own name."""
        name = self.library.movements[item.movement_of(self.name)].plural
        self.open_round(name if self.scope else name[0].upper() + name[1:])
        self.work(item, 1)
        rep_s = FASTEST_FRAC * self._cycle_s(self.slots[self.segments[-1].slot])
        # At half the usual cycle nobody does so many; they are no part of what a plan may hold.
        count = min(MAX_REPS, int(cap_s / rep_s) + 1)
        counted = self.counted(item, count)
        self.segments[-1] = replace(self.segments[-1], reps=count, counted=counted, endless=True)

    def _cycle_s(self, slot: Slot) -> float:
        """Return the seconds of a usual rep in the fastest style."""
        distance = slot.size / slot.movement.ref_men if slot.movement.size is SizeKind.DISTANCE else 1.0
        return min(style.cycle_s for style in slot.movement.styles) * (distance or 1.0)

    def rest(self, seconds: float, between_parts: bool) -> None:
        """Note an obligatory rest; one between the blocks of the whole workout begins a new part."""
        self.rest_s += seconds
        if between_parts and self.segments and not self.cap_s:
            self.next_part()

    def next_part(self) -> None:
        """Begin another part."""
        self.part += 1
        self.scheme = self.part
        self.enter(f"Part {self.part}")

    def mark_tiebreak(self) -> None:
        """Read the tie-break at the end of the last visit."""
        if self.segments:
            self.segments[-1] = replace(self.segments[-1], tiebreak=True)


def _body(walk: _Walk, body: tuple[w.Block, ...], count: int, top: bool = False) -> None:
    for block in body:
        match block:
            case w.Item():
                walk.work(block, count)
            case w.Rest():
                walk.rest(block.seconds, top)
            case w.TieBreak():
                walk.mark_tiebreak()
            case w.Every():
                _intervals(walk, block)
            case w.Rounds() if w.holds_work(block.body):  # all of it may be in doubt
                for _ in range(block.count):
                    _one_round(walk, block.body, count, f"round {walk.scope_round + 1}")
            case w.Series() | w.Ladder():
                _rungs(walk, block)


def _rungs(walk: _Walk, block: w.Series | w.Ladder) -> None:
    for rung in block.counts if isinstance(block, w.Series) else block.counts():
        _one_round(walk, block.body, rung, f"{rung}s")


def _intervals(walk: _Walk, block: w.Every) -> None:
    for number in range(block.count):
        walk.opens_s = number * block.seconds
        _one_round(walk, block.body, w.RISING, f"interval {number + 1}")


def _one_round(walk: _Walk, body: tuple[w.Block, ...], count: int, name: str) -> None:
    """Walk a body once; it is a round of its own if work stands directly in it."""
    if any(isinstance(block, w.Item) for block in body):
        walk.open_round(name[0].upper() + name[1:] if not walk.scope else name)
    _body(walk, body, count)
    walk.round_open = False


def _amrap_round(walk: _Walk, body: tuple[w.Block, ...], index: int) -> None:
    """Walk round `index` (from 0) of an AMRAP: a ladder in it moves on one rung each round."""
    if any(isinstance(block, w.Item | w.Ladder) for block in body):
        walk.open_round(f"Round {walk.scope_round + 1}")
    for block in body:
        if isinstance(block, w.Ladder):
            _body(walk, block.body, block.rung(index))
        else:
            _body(walk, (block,), w.RISING)
    walk.round_open = False


def _amrap(walk: _Walk, body: tuple[w.Block, ...], cap_s: float) -> None:
    once: tuple[w.Block, ...] = ()
    again = body
    for index, block in enumerate(body):
        if isinstance(block, w.Rounds) and block.count == 0:
            once, again = body[:index], block.body
    walk.shortest_s = 0.0
    _body(walk, once, w.RISING)
    walk.round_open = False
    if len(again) == 1 and isinstance(again[0], w.Item) and again[0].count == 1:
        # One movement as often as possible has no rounds: it is one visit, longer than anybody's.
        walk.work_on(again[0], cap_s)
        return
    index, before = 0, walk.reps
    # Where all work of a round is in doubt there is nothing to repeat.
    while w.holds_work(again) and walk.shortest_s <= cap_s:
        _amrap_round(walk, again, index)
        index += 1
        if walk.reps == before and index > MOST_EMPTY_ROUNDS:
            return
        if walk.full and walk.shortest_s <= cap_s:
            raise InfeasibleError(
                f"{len(walk.segments):,} stretches of work (rounds times movements) may fit into the time;"
                f" at most {MAX_OPEN_STRETCHES:,} and {MAX_REPS:,} reps can be planned."
                " Shorten the cap, or write longer rounds."
            )


def _in_windows(body: tuple[w.Block, ...]) -> Iterator[tuple[tuple[w.Block, ...], int]]:
    """Yield the work of one window after the other, and the count for lines that have none."""
    for block in body:
        match block:
            case w.Ladder():
                rungs = range(len(block.counts())) if block.turns else count(0)
                yield from ((block.body, block.rung(index)) for index in rungs)
            case w.Rounds():
                for _ in range(block.count) if block.count else count(0):
                    yield from _in_windows(block.body)
            case w.Window():
                yield block.body, w.RISING


def _windows(walk: _Walk, workout: w.Workout) -> None:
    for index, (body, reps) in enumerate(islice(_in_windows(workout.body), MAX_WINDOWS)):
        walk.enter(f"Window {index + 1}")
        walk.stage = index + 1
        walk.opens_s, walk.deadline_s = index * workout.cap_s, (index + 1) * workout.cap_s
        walk.shortest_s = 0.0
        _body(walk, body, reps)
        if walk.shortest_s > workout.cap_s or walk.full:
            return


def _parts(walk: _Walk, workout: w.Workout) -> None:
    """Walk parts with a time each; those that are alike share their schemes. For reps they begin by the clock."""
    bodies: list[tuple[w.Block, ...]] = []
    begins: list[int] = []
    clock_s = 0.0
    for block in w.written_out(workout.body):
        if isinstance(block, w.TimedPart):
            if bodies:
                walk.next_part()
            bodies.append(block.body)
            begins.append(len(walk.segments))
            walk.enter(f"Part {walk.part}")
            walk.scheme, walk.cap_s = bodies.index(block.body) + 1, block.cap_s
            if workout.form is w.Form.PARTS:
                walk.opens_s, clock_s = clock_s, clock_s + block.cap_s
            if workout.form is w.Form.PARTS and not block.once:
                _amrap(walk, block.body, block.cap_s)
            else:
                _body(walk, block.body, w.RISING)
        else:
            clock_s += block.seconds if isinstance(block, w.Rest) else 0.0
            _body(walk, (block,), w.RISING)
    later = [*begins[1:], 0]
    for begin, end in pairwise([*begins, len(walk.segments)]):
        behind = later[begins.index(begin)]
        walk.segments[begin:end] = [replace(segment, next_part=behind) for segment in walk.segments[begin:end]]


def _stages(walk: _Walk, workout: w.Workout) -> None:
    for index, block in enumerate(workout.body):
        if isinstance(block, w.Stage):
            walk.enter(f"Stage {index + 1}")
            walk.stage, walk.deadline_s = index + 1, block.cap_s
            _body(walk, block.body, w.RISING)
            walk.mark_tiebreak()


def unroll(workout: w.Workout, division: str = "men", sex: str = "m") -> Course:
    """Return the course a division has to cover.

    A max lift alone has an empty course.
    Raises: InfeasibleError if there is no work, or more may fit into the time than can be planned.
    """
    walk = _Walk(workout.division_index(division, sex), division, workout.library, workout.scored)
    if workout.form is not w.Form.WINDOWS and workout.cap_s:
        walk.deadline_s = workout.cap_s
    match workout.form:
        case w.Form.AMRAP:
            _amrap(walk, workout.body, workout.cap_s)
        case w.Form.WINDOWS:
            _windows(walk, workout)
        case w.Form.STAGES:
            _stages(walk, workout)
        case _ if workout.timed_parts:
            _parts(walk, workout)
        case w.Form.FOR_TIME | w.Form.UNKNOWN:
            if any(isinstance(block, w.Rest) for block in workout.body):
                walk.enter("Part 1")
            _body(walk, workout.body, w.RISING, top=True)
    if not walk.segments and workout.form is not w.Form.LIFT:
        raise InfeasibleError("there is no conditioning work to plan; add a line such as “12 burpees”")
    return Course(workout, division, tuple(walk.slots), tuple(walk.segments), walk.labels)
