"""Everything the core can refuse, as data first and one sentence built from it."""

from dataclasses import dataclass


class CoreError(ValueError):
    """The request cannot be carried out; the message says where and what to do."""


class OutOfRangeError(CoreError):
    """A number lies outside the range in which it means anything."""

    def __init__(self, name: str, value: object, low: float, high: float) -> None:
        self.name, self.value, self.low, self.high = name, value, low, high
        super().__init__(f"{name} is {value}; give a number from {low:g} to {high:g}")


class UnknownMovementError(CoreError):
    """A movement name is not in the library."""

    def __init__(self, name: str, nearest: str) -> None:
        self.name, self.nearest = name, nearest
        self.problem = f"unknown movement “{' '.join(name.split())[:60]}”"
        told = f"the nearest known one is “{nearest}”" if nearest else "nothing known is like it"
        self.remedy = told if nearest else f"{told}; write another, or add it under Movements"
        super().__init__(f"{self.problem}; {self.remedy}")


@dataclass(frozen=True, slots=True)
class Place:
    """A spot in a text: line and column count from 1."""

    line: int
    column: int


class NotationError(CoreError):
    """A text does not follow the workout notation or the set shorthand."""

    def __init__(self, place: Place, problem: str, remedy: str) -> None:
        self.place, self.problem, self.remedy = place, problem, remedy
        super().__init__(f"line {place.line}, {self.in_line}")

    @property
    def in_line(self) -> str:
        """Return the message for a text of one line, where only the column tells the place."""
        return f"column {self.place.column}: {self.problem}; {self.remedy}"


class SetsError(CoreError):
    """A typed set scheme does not fit the movement it stands beside."""


class AthleteFileError(CoreError):
    """An athlete file misses a value or holds an impossible one; `field` is the value's dotted name."""

    def __init__(self, field: str, problem: str) -> None:
        self.field, self.problem = field, problem
        super().__init__(f"athlete file, {field}: {problem}")


class MovementFileError(CoreError):
    """A file of a coach's own movements misses a column or holds an impossible value."""


class RosterError(CoreError):
    """A table of athletes or results cannot be read; the message says where and what to do."""


class CellError(CoreError):
    """One cell of a table cannot be right; `column` is the heading it stands under, empty for the whole row."""

    def __init__(self, column: str, problem: str) -> None:
        self.column, self.problem = column, problem
        super().__init__(f"{column}: {problem}" if column else problem)


class PlatesError(CoreError):
    """A load cannot be put on the bar with the plates there are."""


class LiftError(CoreError):
    """A max lift cannot be planned as asked; the message names what to change."""


class FloorError(CoreError):
    """Something sent from the floor that cannot be read."""


class CalendarError(CoreError):
    """A calendar cannot be made from what was typed; the message names the place and what to write."""


class PrepError(CoreError):
    """A warm-up cannot be as asked; the message names what to change."""


class InfeasibleError(CoreError):
    """No plan exists; the message names what binds."""


class UnsettledError(InfeasibleError):
    """Nobody is planned while the announcement holds doubts; `doubts` are what is asked, in order."""

    def __init__(self, doubts: tuple[str, ...]) -> None:
        self.doubts = doubts
        several = f"{len(doubts)} doubts" if len(doubts) > 1 else "a doubt"
        super().__init__(
            f"the announcement holds {several}: “{doubts[0]}”. Settle it in the text,"
            " or take the line “# ? …” out to dismiss it; nobody is planned before"
        )


def require_range(name: str, value: float, low: float, high: float) -> float:
    """Return `value` if `low <= value <= high`.

    Raises: OutOfRangeError otherwise, NaN included.
    """
    if not low <= value <= high:
        raise OutOfRangeError(name, value, low, high)
    return value
