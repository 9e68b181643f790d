"""What an announcement says, as a tree: the result of reading the notation."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from enum import StrEnum

from sorvek.core.quantities import clock, kg_from_lb
from sorvek.core.workout.movements import Library, metric_size, shipped_library

# A bar that rises “until missed” is followed for so many steps and so long at most; judgement.
MOST_RUNGS, LONGEST_RISE_S = 30, 1800.0
RISING = -1
"""An item's count when it is `n` or left to the series or ladder around it."""


class Form(StrEnum):
    """The format line: how the work is bounded and what counts."""

    FOR_TIME = "for time"
    AMRAP = "amrap"
    WINDOWS = "windows"
    STAGES = "for reps"
    PARTS = "for reps in parts"
    """Written “for reps” as well, with parts below it that have a time each."""
    LIFT = "max lift"
    UNKNOWN = "unknown"
    """The announcement does not say; a doubt stands in the place of the format line."""


class Side(StrEnum):
    """Which side a one-sided movement works."""

    BOTH = ""
    LEFT = "left"
    RIGHT = "right"


@dataclass(frozen=True, slots=True)
class Size:
    """The number behind `@` as written: a load, height or distance, one per division or one for all."""

    values: tuple[float, ...] = ()
    unit: str = ""
    pair: bool = False

    def kilos(self, division: int) -> float:
        """Return the load of a division in kg; one number serves all."""
        value = self.of(division)
        return kg_from_lb(value) if self.unit == "lb" else value

    def metres(self, division: int) -> float:
        """Return a height or distance of a division in m, 0 where there is none."""
        return metric_size(self.of(division), self.unit) / (100 if self.unit in ("cm", "in") else 1)

    def of(self, division: int) -> float:
        """Return the number of a division as it is written, 0 where there is none."""
        return self.values[division if len(self.values) > 1 else 0] if self.values else 0.0


@dataclass(frozen=True, slots=True)
class Item:
    """So many reps (or cal, or m) of a movement; `rising` marks a count written as `n`, `2n`, `n+5` or `n-2`.

    `counts` has one count for each division where they differ, `count` is the first of them. `style` is the one
    the announcement demands, `no …` the one it forbids; `others` are divisions that do another movement; `target`
    is the height a ball is thrown to. On a rung a line without a count has `times` its count and `more`.
    `per_rep` are the metres, calories or reps that count as one rep together (0: every one counts).
    """

    movement: str
    count: int
    unit: str = ""
    size: Size = Size()
    side: Side = Side.BOTH
    tiebreak: bool = False
    rising: bool = False
    comment: str = ""
    line: int = field(default=0, compare=False, repr=False)  # where it was read, from 1
    counts: tuple[int, ...] = ()
    style: str = ""
    others: tuple[tuple[str, str], ...] = ()
    target: Size = Size()
    times: int = 1
    more: int = 0
    per_rep: float = 0.0

    def reps_on(self, rung: int, division: int) -> int:
        """Return the reps of a division on a rung of the series or ladder around the line, 0 if none are left."""
        if self.count != RISING:
            return self.count_of(division)
        return max(0, self.times * rung + self.more)

    def movement_of(self, division: str) -> str:
        """Return the movement a division does: `masters` are all divisions with that word in their name."""
        words = set(division.lower().split())
        return next((name for label, name in self.others if set(label.split()) <= words), self.movement)

    def count_of(self, division: int) -> int:
        """Return the count of a division, `RISING` where a series or ladder gives it."""
        return self.counts[division] if self.counts else self.count


@dataclass(frozen=True, slots=True)
class Rounds:
    """The body, `count` times; `count` 0 means until time is up."""

    count: int
    body: tuple["Block", ...]
    comment: str = ""


@dataclass(frozen=True, slots=True)
class Series:
    """The body once per count: 21-15-9."""

    counts: tuple[int, ...]
    body: tuple["Block", ...]
    comment: str = ""


@dataclass(frozen=True, slots=True)
class Ladder:
    """The body once per rung: `first`, then up (and down) through `turns`, or by `step` without end."""

    first: int
    step: int
    turns: tuple[int, ...]
    body: tuple["Block", ...]
    comment: str = ""

    def rung(self, index: int) -> int:
        """Return the count of rung `index` (from 0); a finite ladder starts over after its last rung."""
        if not self.turns:
            return self.first + self.step * index
        counts = self.counts()
        return counts[index % len(counts)]

    def counts(self) -> tuple[int, ...]:
        """Return the counts of a finite ladder, `1..3..1` being 1 2 3 2 1."""
        counts = [self.first]
        for turn in self.turns:
            step = 1 if turn >= counts[-1] else -1
            counts.extend(range(counts[-1] + step, turn + step, step))
        return tuple(counts)


@dataclass(frozen=True, slots=True)
class Every:
    """The body `count` times, begun anew every so many seconds, or at once by who is late."""

    seconds: float
    count: int
    body: tuple["Block", ...]
    comment: str = ""


@dataclass(frozen=True, slots=True)
class Rest:
    """An obligatory rest."""

    seconds: float
    comment: str = ""


@dataclass(frozen=True, slots=True)
class TieBreak:
    """The clock is read here for the tie-break."""

    comment: str = ""


@dataclass(frozen=True, slots=True)
class Stage:
    """Work that opens the next stage if it is done by `cap_s` of the running clock."""

    cap_s: float
    body: tuple["Block", ...]
    comment: str = ""


@dataclass(frozen=True, slots=True)
class TimedPart:
    """Work with a time of its own: for reps it is repeated until that is up, for time it is cut off there.

    For reps, work that is done `once` leaves the rest of its time free.
    """

    cap_s: float
    body: tuple["Block", ...]
    comment: str = ""
    once: bool = False


@dataclass(frozen=True, slots=True)
class Window:
    """Work for one window of fixed length."""

    body: tuple["Block", ...]
    comment: str = ""


@dataclass(frozen=True, slots=True)
class Doubt:
    """Words of the announcement nobody should plan on until they are settled."""

    words: str


Block = Item | Every | Rounds | Series | Ladder | Rest | TieBreak | Stage | TimedPart | Window | Doubt


def body_of(block: Block) -> tuple[Block, ...]:
    """Return the blocks inside a block, none for a line of work."""
    return getattr(block, "body", ())


def _doubts(body: tuple[Block, ...]) -> tuple[str, ...]:
    found = ([block.words] if isinstance(block, Doubt) else _doubts(body_of(block)) for block in body)
    return tuple(words for doubts in found for words in doubts)


def written_out(body: Sequence[Block]) -> tuple[Block, ...]:
    """Return blocks with the rounds over parts that have a time each written out; nobody rests behind the last."""
    found: list[Block] = []
    for block in body:
        found += list(block.body) * block.count if isinstance(block, Rounds) and _of_parts(block) else [block]
    if body and isinstance(body[-1], Rounds) and _of_parts(body[-1]):
        while isinstance(found[-1], Rest):
            found.pop()
    return tuple(found)


def _of_parts(rounds: Rounds) -> bool:
    return any(isinstance(block, TimedPart) for block in rounds.body) and rounds.count > 0


def clocked_s(body: Sequence[Block]) -> float:
    """Return how long work lasts that is bounded by the clock: intervals, or parts with a time each; else 0.

    Source: the sum of what is written; a part that is done before its time is up makes it shorter.
    """
    body = written_out(body)
    paced = sum(block.seconds * block.count for block in body if isinstance(block, Every))
    parts = [block for block in body if isinstance(block, TimedPart)]
    rests = sum(block.seconds for block in body if isinstance(block, Rest))
    return paced or (rests + sum(part.cap_s for part in parts) if parts else 0.0)


def holds_work(body: tuple[Block, ...]) -> bool:
    """Return whether a line of work stands among blocks or inside them."""
    return any(isinstance(block, Item) or holds_work(body_of(block)) for block in body)


@dataclass(frozen=True, slots=True)
class RisingBar:
    """A bar that starts at a load and grows by a step at every interval, until it is missed; sizes by division."""

    start: Size
    step: Size
    every_s: float

    @property
    def longest_s(self) -> float:
        """Return for how long it is followed where only a miss ends it."""
        return min(LONGEST_RISE_S, MOST_RUNGS * self.every_s)

    def loads_kg(self, division: int, most_kg: float) -> tuple[float, ...]:
        """Return the loads of a division in kg, up to the first beyond `most_kg`."""
        start, step = self.start.kilos(division), self.step.kilos(division)
        loads = [start]
        while loads[-1] <= most_kg:
            loads.append(start + len(loads) * step)
        return tuple(loads)


@dataclass(frozen=True, slots=True)
class MaxLift:
    """A max lift of `reps` in a row in a window, alone, straight after the work or before it.

    `more` are the further parts of a complex, done without putting the bar down; `attempts` how many are allowed
    (None: any); `rising` a bar whose loads are given; `second` another lift whose best is added to this one's;
    `rest_s` an obligatory rest before it, or behind a first lift; `at_s` the workout's clock at which it begins,
    `ends_s` that at which it ends (0: by no clock); then `window_s` is what is left at the cap of the work.
    """

    movement: str
    window_s: float
    comment: str = ""
    reps: int = 1
    more: tuple[tuple[str, int], ...] = ()
    attempts: int | None = None
    rising: RisingBar | None = None
    first: bool = False
    second: "MaxLift | None" = None
    rest_s: float = 0.0
    at_s: float = 0.0
    ends_s: float = 0.0

    def lasts_s(self, end_s: float) -> float:
        """Return how long the window is behind work that ended at `end_s` of the workout's clock."""
        return self.ends_s - end_s - self.pause_s(end_s) if self.ends_s else self.window_s

    def pause_s(self, end_s: float) -> float:
        """Return the seconds between work that ended at `end_s` of the workout's clock and the window."""
        return max(0.0, self.at_s - end_s) if self.at_s else self.rest_s

    @property
    def parts(self) -> tuple[tuple[str, int], ...]:
        """Return movements and reps, one pair unless it is a complex."""
        return ((self.movement, self.reps), *self.more)

    @property
    def words(self) -> str:
        """Return what is lifted, as “front squat”, “3-rep front squat” or “clean + 2-rep jerk”."""
        return " + ".join(name if reps == 1 else f"{reps}-rep {name}" for name, reps in self.parts)

    @property
    def called(self) -> str:
        """Return the lift with what bounds it, as “max clean + 2-rep jerk in 7:00, 3 attempts”."""
        rises = f", the bar rises every {clock(self.rising.every_s)}" if self.rising else ""
        open_end = self.rising is not None and self.window_s == self.rising.longest_s
        ends = " until it is missed" if open_end else f" in {clock(self.window_s)}"
        ends = f" until {clock(self.ends_s)}" if self.ends_s else ends
        return f"{self.begins}max {self.words}{rises}{ends}{self.tries}{self.rests}"

    @property
    def tries(self) -> str:
        """Return how many attempts are allowed, as it stands behind the time: “, 3 attempts”; nothing for any."""
        return f", {self.attempts} attempt{'s' * (self.attempts > 1)}" if self.attempts else ""

    @property
    def begins(self) -> str:
        """Return what stands before the lift: “at 8:00, ” or “rest 2:00, ”, empty if it begins at once."""
        if self.at_s:
            return f"at {clock(self.at_s)}, "
        return f"rest {clock(self.rest_s)}, " if self.rest_s and not self.first else ""

    @property
    def rests(self) -> str:
        """Return the rest behind a first lift, as “, rest 2:00”."""
        return f", rest {clock(self.rest_s)}" if self.rest_s and self.first else ""


@dataclass(frozen=True, slots=True)
class Workout:
    """An announcement; `cap_s` 0 means none, for windows it is the length of one window.

    A max lift alone has no body; its window is also the cap.

    `library` is the one its movement names were found in; reps of those `scored` count, of all if empty.
    """

    title: str
    divisions: tuple[str, ...]
    form: Form
    cap_s: float
    body: tuple[Block, ...]
    lift: MaxLift | None = None
    title_comment: str = ""
    form_comment: str = ""
    library: Library = field(default_factory=shipped_library, compare=False, repr=False)
    scored: tuple[str, ...] = ()

    @property
    def doubts(self) -> tuple[str, ...]:
        """Return what must be settled before anyone is planned, in the order of the text."""
        form = (self.form_comment,) if self.form is Form.UNKNOWN else ()
        return (*form, *_doubts(self.body))

    @property
    def timed_parts(self) -> tuple[TimedPart, ...]:
        """Return the parts with a time each in their order, rounds of them written out."""
        return tuple(block for block in written_out(self.body) if isinstance(block, TimedPart))

    @property
    def untold_by_taps(self) -> str:
        """Return why taps do not say where somebody is in this workout, empty where they do."""
        if not self.timed_parts:
            return ""
        return (
            "Parts with a time each cannot be followed by taps: what is left of a part is not done, so reps say no"
            " place. Run it by the hall's clock and log the results."
        )

    @property
    def lifts(self) -> tuple[MaxLift, ...]:
        """Return the max lifts, two where their bests are added up."""
        first = self.lift
        return tuple(lift for lift in (first, first.second if first else None) if lift)

    @property
    def ends_s(self) -> float:
        """Return by when the work before a last lift is over on the workout's clock, 0 if nothing says it."""
        if self.form is Form.WINDOWS:
            return 0.0
        stages = [block.cap_s for block in self.body if isinstance(block, Stage)]
        return stages[-1] if stages else self.cap_s or clocked_s(self.body)

    @property
    def lifted(self) -> tuple[str, ...]:
        """Return the movements of the max lifts, in their order."""
        return tuple(dict.fromkeys(name for lift in self.lifts for name, _ in lift.parts))

    def division_index(self, division: str, sex: str) -> int:
        """Return which of the slash-separated numbers an athlete goes by.

        The division's own name decides; a division this announcement does not know falls back on sex.
        """
        wanted = [division.lower(), "women" if sex == "f" else "men"]
        for name in wanted:
            if name in self.divisions:
                return self.divisions.index(name)
        return min(1 if sex == "f" else 0, len(self.divisions) - 1)
