"""Bars, collars and plates: what can be loaded, on which plates, and how many hands a change needs.

A gym is written as lines: `bar 20 kg`, `collars 5 kg` (the pair), `pairs 2x25 2x20 1x15 kg` (so many pairs of
each); kg and lb may stand side by side. Plates go on heaviest first, so to reach an inner one the outer come off.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache

from sorvek.core.errors import NotationError, Place, PlatesError, require_range
from sorvek.core.quantities import kg_from_lb, lb_from_kg, plain

MOST_PAIRS = 40
MOST_KG = 600.0
# Of all ways to reach a load so many are looked at, those with the fewest plates; a bin is what counts as one load.
WAYS = 4
BIN_KG = 0.1
_MASS = r"(\d+(?:[.,]\d+)?)"


@dataclass(frozen=True, slots=True)
class Piece:
    """A plate or a bar by the number stamped on it and its unit, kg or lb."""

    stamp: float
    unit: str = "kg"

    @property
    def mass_kg(self) -> float:
        """Return the mass in kilograms."""
        return kg_from_lb(self.stamp) if self.unit == "lb" else self.stamp

    @property
    def label(self) -> str:
        """Return what is read on it: the bare number for kg."""
        return plain(self.stamp) + (" lb" if self.unit == "lb" else "")


Stack = tuple[Piece, ...]
"""The plates on one side of the bar from the inside out."""


@dataclass(frozen=True)
class Gym:
    """What stands in the hall: bars, the mass of a pair of collars, and pairs of plates, heaviest first."""

    bars: tuple[Piece, ...]
    collars_kg: float
    pairs: tuple[tuple[Piece, int], ...]

    @cached_property
    def most_kg(self) -> float:
        """Return the mass of the heaviest bar with everything on it."""
        return (
            max(bar.mass_kg for bar in self.bars) + self.collars_kg + 2 * sum(p.mass_kg * n for p, n in self.pairs)
        )

    @property
    def unit(self) -> str:
        """Return the unit most of its plates bear: what loads are called in there."""
        pounds = sum(count for piece, count in self.pairs if piece.unit == "lb")
        return "lb" if 2 * pounds > sum(count for _, count in self.pairs) else "kg"

    def called(self, load_kg: float) -> str:
        """Return a load as it is called in there: whole pounds, or kilograms."""
        return f"{lb_from_kg(load_kg):.0f} lb" if self.unit == "lb" else f"{plain(load_kg)} kg"

    def bar(self, label: str, sex: str = "m") -> Piece:
        """Return the bar with a label, else the one nearest to 20 kg for men and 15 kg for women."""
        usual_kg = 15.0 if sex == "f" else 20.0
        named = [bar for bar in self.bars if bar.label == label]
        return named[0] if named else min(self.bars, key=lambda bar: abs(bar.mass_kg - usual_kg))

    def nearest(self, bar: Piece, wanted_kg: float) -> "Load":
        """Return what can be loaded nearest to a mass, of two as near the lighter.

        Raises: PlatesError if nothing can be loaded.
        """
        return nearest(loads(self, bar, 0.0, 10 * (max(self.most_kg, wanted_kg) // 10 + 1)), wanted_kg)


USUAL_GYM = """\
bar 20 kg
bar 15 kg
collars 5 kg
pairs 2x25 2x20 1x15 2x10 2x5 2x2.5 2x1.25 kg
"""


def _number(text: str, place: Place, what: str, high: float) -> float:
    value = float(text.replace(",", "."))
    if not 0 < value <= high:
        raise NotationError(place, f"{text} as {what}", f"give a number above 0, at most {high:g}")
    return value


def _pairs(line: str, number: int, unit: str) -> dict[Piece, int]:
    found: dict[Piece, int] = {}
    for match in re.finditer(r"\S+", line):
        place = Place(number, match.start() + 1)
        word = re.fullmatch(rf"(\d+)[x×*]{_MASS}", match[0], re.IGNORECASE)
        if word is None:
            raise NotationError(place, f"“{match[0]}” is no number of pairs", "write 2x20 for two pairs of 20")
        count = int(_number(word[1], place, "pairs", MOST_PAIRS))
        piece = Piece(_number(word[2], place, "a plate", 100), unit)
        found[piece] = found.get(piece, 0) + count
    return found


def parse_gym(text: str) -> Gym:
    """Return the gym a text describes.

    Raises: NotationError naming line and column; also where no bar or no plate is left.
    """
    bars: list[Piece] = []
    pairs: dict[Piece, int] = {}
    collars_kg = 0.0
    for number, raw in enumerate(text.splitlines(), 1):
        line = raw.split("#")[0].rstrip()
        if not line.strip():
            continue
        head = re.match(r"\s*(bar|collars|pairs)\b", line, re.IGNORECASE)
        tail = re.search(r"\s*(kgs?|lbs?)\s*$", line, re.IGNORECASE)
        column = len(line) - len(line.lstrip()) + 1
        if head is None:
            remedy = "begin the line with bar, collars or pairs, as in “pairs 2x20 2x10 kg”"
            raise NotationError(Place(number, column), f"“{line.strip()[:40]}” is not understood", remedy)
        unit = "lb" if tail and tail[1].lower().startswith("lb") else "kg"
        middle = " " * head.end() + line[head.end() : tail.start() if tail else None]
        if head[1].lower() == "pairs":
            for piece, count in _pairs(middle, number, unit).items():
                pairs[piece] = pairs.get(piece, 0) + count
            continue
        place = Place(number, len(middle) - len(middle.lstrip()) + 1)
        if not re.fullmatch(_MASS, middle.strip()):
            raise NotationError(place, f"{head[1].lower()} without its mass", "write “bar 20 kg” or “collars 5 kg”")
        piece = Piece(_number(middle.strip(), place, f"a {head[1].lower()}", 100), unit)
        if head[1].lower() == "bar":
            bars.append(piece)
        else:
            collars_kg = piece.mass_kg
    last = Place(max(1, len(text.splitlines())), 1)
    if not bars:
        raise NotationError(last, "no bar is written", "add a line such as “bar 20 kg”")
    if not pairs:
        raise NotationError(last, "no plates are written", "add a line such as “pairs 2x20 2x10 2x5 kg”")
    heavy_first = sorted(pairs.items(), key=lambda item: -item[0].mass_kg)
    return Gym(tuple(dict.fromkeys(bars)), collars_kg, tuple(heavy_first))


def gym_text(gym: Gym) -> str:
    """Return a gym as its canonical text: parse → print → parse changes nothing."""
    lines = [f"bar {plain(bar.stamp)} {bar.unit}" for bar in gym.bars]
    if gym.collars_kg:
        lines.append(f"collars {round(gym.collars_kg, 6):.10g} kg")
    for unit in ("kg", "lb"):
        words = [f"{count}x{plain(piece.stamp)}" for piece, count in gym.pairs if piece.unit == unit]
        if words:
            lines.append(f"pairs {' '.join(words)} {unit}")
    return "\n".join(lines) + "\n"


@dataclass(frozen=True, slots=True)
class Load:
    """A mass that can be loaded, and the ways to do it that take the fewest plates, the best first."""

    mass_kg: float
    ways: tuple[Stack, ...]


@lru_cache(maxsize=64)
def loads(gym: Gym, bar: Piece, low_kg: float, high_kg: float) -> tuple[Load, ...]:
    """Return every load from `low_kg` to `high_kg` that bar, collars and plates allow, lightest first.

    Loads closer than 0.1 kg (kg and lb plates mixed) count as one, that with the fewest plates.
    Raises: OutOfRangeError for limits that are not masses; PlatesError if nothing lies between them.
    """
    require_range("low_kg", low_kg, 0, MOST_KG)
    require_range("high_kg", high_kg, low_kg, 2 * MOST_KG)
    empty_kg = bar.mass_kg + gym.collars_kg
    side_low, side_high = (low_kg - empty_kg) / 2, (high_kg - empty_kg) / 2
    # By mass on one side (in bins): the counts of each plate, fewest plates first.
    found: dict[int, list[tuple[int, float, tuple[int, ...]]]] = {0: [(0, 0.0, ())]}
    left_kg = sum(piece.mass_kg * count for piece, count in gym.pairs)
    for piece, count in gym.pairs:
        left_kg -= piece.mass_kg * count
        wider: dict[int, list[tuple[int, float, tuple[int, ...]]]] = {}
        for ways in found.values():
            for plates, mass, counts in ways:
                for n in range(count + 1):
                    total = mass + n * piece.mass_kg
                    if total > side_high + 1e-9:
                        break
                    if total + left_kg >= side_low - 1e-9:
                        key = round(total / (BIN_KG / 2))
                        wider.setdefault(key, []).append((plates + n, total, (*counts, n)))
        found = {
            key: sorted(ways, key=lambda way: (way[0], [-n for n in way[2]]))[:WAYS] for key, ways in wider.items()
        }
    result = []
    for ways in found.values():
        mass = ways[0][1]
        same = [counts for _, total, counts in ways if abs(total - mass) < 1e-6]
        result.append(Load(round(empty_kg + 2 * mass, 4), tuple(stack_of(gym, counts) for counts in same)))
    if not result:
        span = f"from {gym.called(low_kg)} to {gym.called(high_kg)}"
        raise PlatesError(
            f"nothing {span} can be loaded on the {bar.label} bar; it weighs {gym.called(empty_kg)} with collars,"
            f" {gym.called(empty_kg + 2 * sum(p.mass_kg * n for p, n in gym.pairs))} with every plate"
        )
    return tuple(sorted(result, key=lambda load: load.mass_kg))


def stack_of(gym: Gym, counts: tuple[int, ...]) -> Stack:
    """Return the stack with so many plates of each kind, heaviest inside."""
    return tuple(piece for (piece, _), n in zip(gym.pairs, counts, strict=True) for _ in range(n))


def nearest(found: Sequence[Load], wanted_kg: float) -> Load:
    """Return the load nearest to a mass; of two as near the lighter."""
    return min(found, key=lambda load: (abs(load.mass_kg - wanted_kg), load.mass_kg))
