"""What an announcement says, as a tree: the result of reading the notation."""

from dataclasses import dataclass, field
from enum import StrEnum

from sorvek.core.workout.movements import Library, shipped_library

RISING = -1
"""An item's count when it is `n` or left to the series or ladder around it."""


class Form(StrEnum):
    """The format line: how the work is bounded and what counts."""

    FOR_TIME = "for time"
    AMRAP = "amrap"
    WINDOWS = "windows"
    STAGES = "for reps"
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


@dataclass(frozen=True, slots=True)
class Item:
    """So many reps (or cal, or m) of a movement; `rising` marks a count written as `n`.

    `counts` has one count for each division where they differ, `count` is the first of them. `style` is the one
    the announcement demands, `no …` the one it forbids; `others` are divisions that do another movement.
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
class Window:
    """Work for one window of fixed length."""

    body: tuple["Block", ...]
    comment: str = ""


@dataclass(frozen=True, slots=True)
class Doubt:
    """Words of the announcement nobody should plan on until they are settled."""

    words: str


Block = Item | Every | Rounds | Series | Ladder | Rest | TieBreak | Stage | Window | Doubt


def body_of(block: Block) -> tuple[Block, ...]:
    """Return the blocks inside a block, none for a line of work."""
    return getattr(block, "body", ())


def _doubts(body: tuple[Block, ...]) -> tuple[str, ...]:
    found = ([block.words] if isinstance(block, Doubt) else _doubts(body_of(block)) for block in body)
    return tuple(words for doubts in found for words in doubts)


def holds_work(body: tuple[Block, ...]) -> bool:
    """Return whether a line of work stands among blocks or inside them."""
    return any(isinstance(block, Item) or holds_work(body_of(block)) for block in body)


@dataclass(frozen=True, slots=True)
class MaxLift:
    """A max lift of `reps` in a row in a window, alone or straight after the conditioning piece."""

    movement: str
    window_s: float
    comment: str = ""
    reps: int = 1

    @property
    def words(self) -> str:
        """Return what is lifted, as “front squat” or “3-rep front squat”."""
        return self.movement if self.reps == 1 else f"{self.reps}-rep {self.movement}"


@dataclass(frozen=True, slots=True)
class Workout:
    """An announcement; `cap_s` 0 means none, for windows it is the length of one window.

    A max lift alone has no body; its window is also the cap.

    `library` is the one its movement names were found in.
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

    @property
    def doubts(self) -> tuple[str, ...]:
        """Return what must be settled before anyone is planned, in the order of the text."""
        form = (self.form_comment,) if self.form is Form.UNKNOWN else ()
        return (*form, *_doubts(self.body))

    def division_index(self, division: str, sex: str) -> int:
        """Return which of the slash-separated numbers an athlete goes by.

        The division's own name decides; a division this announcement does not know falls back on sex.
        """
        wanted = [division.lower(), "women" if sex == "f" else "men"]
        for name in wanted:
            if name in self.divisions:
                return self.divisions.index(name)
        return min(1 if sex == "f" else 0, len(self.divisions) - 1)
