"""Loads, heights and distances, and for whom each is."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TypeVar

from sorvek.core.quantities import M_PER_FT
from sorvek.core.workout import tree as w
from sorvek.core.workout.movements import Movement, SizeKind
from sorvek.core.workout.prose.divisions import PLAIN, sexed

N = TypeVar("N", int, float)
DIMENSIONS = {
    "kg": "load",
    "lb": "load",
    "pood": "load",
    "cm": "height",
    "in": "height",
    "m": "distance",
    "ft": "distance",
}
METRES = {"m": 1.0, "ft": M_PER_FT}
HIGHEST_BOX_M = 1.4  # nobody jumps higher; judgement
FITS = {SizeKind.LOAD: ("load",), SizeKind.HEIGHT: ("height", "distance"), SizeKind.DISTANCE: ("distance",)}


@dataclass(frozen=True, slots=True)
class Quantity:
    """One number with its unit (empty if it is not said) and its division (empty if it is not said)."""

    value: float
    unit: str = ""
    division: str = ""
    pair: bool = False


@dataclass(frozen=True, slots=True)
class Sizes:
    """Amounts that belong together, the tokens `lo` to `hi` they stand on, and the implements between them."""

    lo: int
    hi: int
    amounts: tuple[Quantity, ...]
    nouns: tuple[str, ...] = ()
    row: bool = False  # one of many in a row: “80, 90, 100, 105 kg”


def fitting(sizes: Sizes | None, movement: Movement) -> tuple[Quantity, ...]:
    """Return the amounts that can be a movement's size: of one unit, the first that is written."""
    dimensions = FITS.get(movement.size, ())
    if not dimensions:
        return ()
    found = [a for a in sizes.amounts if not a.unit or DIMENSIONS[a.unit] in dimensions] if sizes else []
    if movement.size is SizeKind.HEIGHT:
        found = [a for a in found if a.value * METRES.get(a.unit, 0.0) < HIGHEST_BOX_M]  # “10/9 ft” is a target
    if not found:
        return ()
    best = DIMENSIONS.get(found[0].unit)
    if movement.size is SizeKind.HEIGHT and any(DIMENSIONS.get(a.unit) == "height" for a in found):
        best = "height"
    found = [a for a in found if DIMENSIONS.get(a.unit) == best]
    return tuple(a for a in found if a.unit == found[0].unit)


def size_of(amounts: Sequence[Quantity], divisions: Sequence[str], pair: bool) -> w.Size | None:
    """Return amounts as the numbers of every division; None if it is not clear which is whose."""
    values = list(amounts)
    unit = values[0].unit
    # “2 x 24/16 kg” is two of each; a way there and back is told of each number.
    pair = pair or all(a.pair for a in amounts) or (unit in ("kg", "lb") and any(a.pair for a in amounts))
    if len({a.value for a in values}) == 1 and (len(values) == 1 or len(values) == len(divisions)):
        return w.Size((values[0].value,), unit, pair)
    if any(a.division for a in values):
        by_name = _by_division(values)
        if by_name is None:
            return None
        found = [_for_division(by_name, name) for name in divisions]
        if None in found:
            return None
        numbers = tuple(value for value in found if value is not None)
        return w.Size(numbers[:1] if len(set(numbers)) == 1 else numbers, unit, pair)
    numbers = for_divisions(tuple(a.value for a in values), divisions)
    return w.Size(numbers, unit, pair) if len(numbers) == len(divisions) else None


def for_divisions(numbers: tuple[N, ...], divisions: Sequence[str]) -> tuple[N, ...]:
    """Return one number for all or one for each division, two of them by sex; none where that is not clear."""
    if len(numbers) == 2 and len(divisions) > 2:
        by_sex = dict(zip(("men", "women"), numbers, strict=True))
        found = [_for_division(by_sex, name) for name in divisions]
        numbers = tuple(value for value in found if value is not None)
    return numbers if len(numbers) in (1, len(divisions)) else ()


def _by_division(values: Sequence[Quantity]) -> dict[str, float] | None:
    """Return numbers by division; two numbers under a level alone, or under nothing, are men's and women's.

    None if a division has more numbers than that.
    """
    found: dict[str, float] = {}
    for name in dict.fromkeys(a.division for a in values):
        numbers = list(dict.fromkeys(a.value for a in values if a.division == name))
        plain = not {"men", "women"} & set(name.split())
        if plain and len(numbers) == 2:
            found |= {sexed(name, sex): v for sex, v in zip(("men", "women"), numbers, strict=True)}
        elif len(numbers) > 1:
            return None
        elif plain and name not in PLAIN:
            found |= {name: numbers[0]} | {sexed(name, sex): numbers[0] for sex in ("men", "women")}
        elif name in PLAIN:
            found |= {sex: numbers[0] for sex in ("men", "women") if sex not in found}
        else:
            found[name] = numbers[0]
    return found


def _for_division(by_name: dict[str, N], wanted: str) -> N | None:
    """Return the number of a division: its own, or that of its sex where all of a sex use one."""
    if wanted in by_name:
        return by_name[wanted]
    sex = next((sex for sex in ("women", "men") if sex in wanted.split()), "")
    return by_name.get(sex)
