"""The movement library: one row a style in `movements.csv`, looked up by whatever a coach writes."""

import csv
import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import cache, lru_cache
from importlib.resources import files

from rapidfuzz import process

from sorvek.core.constants import RESOURCES
from sorvek.core.errors import MovementFileError, UnknownMovementError
from sorvek.core.quantities import CM_PER_IN, KG_PER_LB, M_PER_FT

TIERS = ("starting", "building", "competing", "racing")
WORDS = ("name", "plural", "style", "aliases", "family", "power", "size", "lift", "standard", "gear", "caution")
NUMBERS = (
    *RESOURCES,
    *("cycle_s", "setup_s", "single_s", "body_m", "bar_m", "steady", "ref_men", "ref_women", "lift_factor"),
    *(f"u_{tier}" for tier in TIERS),
    *("skill", "trip"),
)
COLUMNS = (*WORDS, *NUMBERS)
# The fastest and slowest pace, as shares of the usual cycle; a coach's own file may leave them out. Kips and ropes
# hold their own rhythm, what is done step by step does not; judgement.
PACES = ("pace_fast", "pace_slow")
USUAL_PACES, STEADY_PACES = (0.95, 1.1), (0.85, 2.0)
# The share of reps that do not count and are done again; a coach's own file may leave it out. Judgement.
NO_REP, USUAL_NO_REP = "no_rep", 0.01
# What to think of, and where in the movement a rest costs least; a coach's own file may leave them out. Common
# practice, no source.
HINTS = ("cue", "rest_at")
ALL_COLUMNS = (*COLUMNS, *PACES, NO_REP, *HINTS)


class SizeKind(StrEnum):
    """What the number behind `@` means for a movement."""

    NONE = ""
    LOAD = "load"
    HEIGHT = "height"
    DISTANCE = "distance"
    UNIT = "unit"


class PowerKind(StrEnum):
    """How mechanical power follows from the seconds a rep takes."""

    WORK = "work"
    METRE = "metre"


@dataclass(frozen=True, slots=True)
class Style:
    """One way to do a movement, with the model's numbers for it (see docs/model.md)."""

    name: str
    weights: tuple[float, ...]
    cycle_s: float
    setup_s: float
    single_s: float
    body_m: float
    bar_m: float
    steady: bool
    power: PowerKind
    lift: str
    lift_factor: float
    unbroken: tuple[float, ...]
    skill_frac: float
    trips: bool
    pace_fast: float
    pace_slow: float
    no_rep_frac: float

    def cells(self) -> dict[str, str]:
        """Return the style's own cells of a row of a movements file."""
        numbers = {
            "cycle_s": self.cycle_s,
            "setup_s": self.setup_s,
            "single_s": self.single_s,
            "body_m": self.body_m,
            "bar_m": self.bar_m,
            "lift_factor": self.lift_factor,
            "skill": self.skill_frac,
            "pace_fast": self.pace_fast,
            "pace_slow": self.pace_slow,
            NO_REP: self.no_rep_frac,
        }
        numbers |= dict(zip(RESOURCES, self.weights, strict=True))
        numbers |= {f"u_{tier}": reps for tier, reps in zip(TIERS, self.unbroken, strict=True)}
        words = {"style": self.name, "power": self.power.value, "lift": self.lift}
        flags = {"steady": str(int(self.steady)), "trip": str(int(self.trips))}
        return {**words, **flags, **{name: _plain(value) for name, value in numbers.items()}}


@dataclass(frozen=True, slots=True)
class Movement:
    """A movement of the library; `styles[0]` is the usual style."""

    name: str
    plural: str
    aliases: tuple[str, ...]
    family: str
    size: SizeKind
    ref_men: float
    ref_women: float
    styles: tuple[Style, ...]
    standard: str
    gear: str
    caution: str
    cue: str = ""
    rest_at: str = ""

    def rows(self) -> list[dict[str, str]]:
        """Return the movement as rows of a movements file, one a style: reading them gives it back."""
        own = {
            "name": self.name,
            "plural": self.plural,
            "aliases": "|".join(self.aliases),
            "family": self.family,
            "size": self.size.value,
            "ref_men": _plain(self.ref_men),
            "ref_women": _plain(self.ref_women),
            "standard": self.standard,
            "gear": self.gear,
            "caution": self.caution,
            "cue": self.cue,
            "rest_at": self.rest_at,
        }
        return [{**own, **style.cells()} for style in self.styles]

    def limited(self, demand: str) -> "Movement":
        """Return the movement in the style demanded, or without the one forbidden (`no kipping`)."""
        banned = demand.removeprefix("no ") if demand.startswith("no ") else ""
        kept = tuple(s for s in self.styles if (s.name != banned if banned else s.name == demand))
        return replace(self, styles=kept) if demand and kept else self

    def cues(self, gives_out: Sequence[str] = ()) -> tuple[str, ...]:
        """Return what to think of: parts of the cue for resources that give out first, then those for all.

        A part such as `grip: switch grips` holds where the grip gives out and nowhere else.
        """
        parts = [part.strip() for part in self.cue.split(";") if part.strip()]
        named = {part: part.partition(":")[0].strip().lower() for part in parts if ":" in part}
        named = {part: name for part, name in named.items() if name in RESOURCES}
        own = [part.partition(":")[2].strip() for name in gives_out for part in parts if named.get(part) == name]
        return (*own, *(part for part in parts if part not in named))

    def style(self, name: str) -> Style:
        """Return the style called `name`; the usual one for an empty name."""
        found = [s for s in self.styles if s.name == name] if name else [self.styles[0]]
        if not found:
            known = ", ".join(s.name for s in self.styles if s.name) or "one style only"
            raise UnknownMovementError(f"{self.name}, style {name}", known)
        return found[0]

    @property
    def to_target(self) -> bool:
        """Return whether a load is thrown to a height: what needs a target line."""
        return self.size is SizeKind.LOAD and "target" in self.gear

    def reference(self, sex: str) -> float:
        """Return the load (kg), height (cm) or distance (m) the table's numbers belong to."""
        return self.ref_women if sex == "f" else self.ref_men


def _plain(value: float) -> str:
    """Return a number as a cell: no needless zeros, every digit that counts."""
    return f"{value:.6f}".rstrip("0").rstrip(".")


_ABBREVIATIONS = {"db": "dumbbell", "kb": "kettlebell", "bb": "barbell"}


def _singular(word: str) -> str:
    if re.search(r"(ch|sh|ss|x)es$", word):
        return word[:-2]
    return word[:-1] if word.endswith("s") and not word.endswith("ss") and len(word) != 2 else word  # “fs”


@lru_cache(maxsize=20_000)  # a reader of prose asks for the same words again and again
def normal_form(name: str) -> str:
    """Return a name without case, plurals, hyphens and spaces, with abbreviations spelled out."""
    return "".join(_words(name))


def _words(name: str) -> list[str]:
    words = re.findall(r"[a-z0-9]+|&", name.lower())
    plain = ("and" if word == "&" else _singular(word) for word in words)
    return [_ABBREVIATIONS.get(word, word) for word in plain]


def _number(text: str) -> float:
    return float(text) if text else 0.0


_LIMITS = {"cycle_s": (0.05, 60.0), "pace_fast": (0.5, 1.0), "pace_slow": (1.0, 5.0), NO_REP: (0.0, 0.5)}
_LIMITS |= dict.fromkeys(RESOURCES, (0.0, 1.0))


def _check_row(row: dict[str, str], number: int) -> None:
    """Refuse a row of a coach's own file that cannot be right."""
    missing = [column for column in COLUMNS if row.get(column) is None]
    if missing:
        raise MovementFileError(f"movements file, row {number}: column “{missing[0]}” is missing")
    for column in (*NUMBERS, *(column for column in (*PACES, NO_REP) if row.get(column))):
        try:
            value = _number(row[column])
        except ValueError:
            value = -1.0
        low, high = _LIMITS.get(column, (0.0, 20_000.0))
        if not low <= value <= high:
            where = f"movements file, row {number}, column “{column}”"
            raise MovementFileError(f"{where}: “{row[column]}” is no number from {low:g} to {high:g}")
    if not any(_number(row[resource]) for resource in RESOURCES):
        raise MovementFileError(
            f"movements file, row {number}: give at least one resource from grip to trunk a share"
        )
    kinds = (("size", SizeKind), ("power", PowerKind))
    for column, kind in kinds:
        if row[column] not in tuple(kind):
            known = ", ".join(f"“{value}”" for value in kind)
            raise MovementFileError(f"movements file, row {number}, column “{column}”: write one of {known}")


def _style(row: dict[str, str]) -> Style:
    fast, slow = (
        float(row.get(column) or usual)
        for column, usual in zip(PACES, STEADY_PACES if row["steady"] == "1" else USUAL_PACES, strict=True)
    )
    return Style(
        name=row["style"],
        weights=tuple(_number(row[resource]) for resource in RESOURCES),
        cycle_s=_number(row["cycle_s"]),
        setup_s=_number(row["setup_s"]),
        single_s=_number(row["single_s"]),
        body_m=_number(row["body_m"]),
        bar_m=_number(row["bar_m"]),
        steady=row["steady"] == "1",
        power=PowerKind(row["power"]),
        lift=row["lift"],
        lift_factor=_number(row["lift_factor"]),
        unbroken=tuple(_number(row[f"u_{tier}"]) for tier in TIERS),
        skill_frac=_number(row["skill"]),
        trips=row["trip"] == "1",
        pace_fast=fast,
        pace_slow=slow,
        no_rep_frac=float(row.get(NO_REP) or USUAL_NO_REP),
    )


def read_movements(lines: Iterable[str]) -> dict[str, Movement]:
    """Return movements by name from the rows of a CSV with the columns of `movements.csv`.

    Raises: MovementFileError naming row and column of the first thing that cannot be right.
    """
    rows: dict[str, list[dict[str, str]]] = {}
    for number, row in enumerate(csv.DictReader(lines), 2):
        _check_row(row, number)
        rows.setdefault(row["name"], []).append(row)
    library = {}
    for name, styles in rows.items():
        first = styles[0]
        # The best-known style stands first when a coach says nothing; for burpees that is the jump.
        ordered = sorted(styles, key=lambda row: row["style"] in ("step", "strict"))
        library[name] = Movement(
            name=name,
            plural=first["plural"],
            aliases=tuple(filter(None, first["aliases"].split("|"))),
            family=first["family"],
            size=SizeKind(first["size"]),
            ref_men=_number(first["ref_men"]),
            ref_women=_number(first["ref_women"]),
            styles=tuple(_style(row) for row in ordered),
            standard=first["standard"],
            gear=first["gear"],
            caution=first["caution"],
            cue=first.get("cue") or "",
            rest_at=first.get("rest_at") or "",
        )
    return library


# What is suggested for a movement nobody knows: of a text so many words count; spellings less alike (0 to 100) are
# not alike; words that make a movement easier, and the easier one of a family. Judgement.
MOST_WORDS, LEAST_ALIKE = 8, 70
LEAST_LENGTH = 2 / 3  # of what was written: an abbreviation is not like a long word
EASED = {"assisted", "banded", "band", "box", "incline", "jumping", "knee", "kneeling", "pike", "scaled"}
EASIER = {
    "vertical pull": "jumping pull-up",
    "bar hang": "hanging knee raise",
    "muscle-up": "chest-to-bar pull-up",
    "inverted press": "box handstand push-up",
    "horizontal press": "knee push-up",
    "rope": "single-under",
}


class Library:
    """Movements by name, found by whatever a coach writes."""

    def __init__(self, movements: dict[str, Movement]) -> None:
        self.movements = movements
        self._names: dict[str, str] = {}
        for movement in movements.values():
            for spelling in (movement.name, movement.plural, *movement.aliases):
                self._names.setdefault(normal_form(spelling), movement.name)

    def with_own(self, lines: Iterable[str]) -> "Library":
        """Return a library with a coach's own movements added; one of a known name replaces it.

        Raises: MovementFileError for a row that cannot be right.
        """
        return Library({**self.movements, **read_movements(lines)})

    def named(self, form: str) -> str:
        """Return the name of the movement that has this normal form among its spellings, empty for none."""
        return self._names.get(form, "")

    def named_like(self, text: str) -> str:
        """Return the name of the movement a text is a spelling of, empty for none."""
        return self.named(normal_form(text))

    def nearest(self, text: str, least_alike: float) -> Movement | None:
        """Return the movement whose spelling is most like `text` (0–100), None if none is as alike as asked."""
        found = process.extractOne(normal_form(text), self._names.keys(), score_cutoff=least_alike)
        return self.movements[self._names[found[0]]] if found else None

    def find(self, text: str) -> Movement:
        """Return the movement meant by `text`: any case, plural, hyphenation or alias.

        Raises: UnknownMovementError, which carries the nearest known name.
        """
        form = normal_form(text)
        if form in self._names:
            return self.movements[self._names[form]]
        raise UnknownMovementError(text.strip(), self._relative(text) or self._spelled_like(form))

    def _relative(self, text: str) -> str:
        """Return the movement of the family a text names that comes closest, empty where it names none.

        “jumping chest-to-bar” names a pull from a bar, and among those there is one with a jump.
        """
        words = _words(text)[:MOST_WORDS]
        same = [name for name in self.movements if len(words) > 1 and set(words) <= set(_words(name))]
        if same:
            return min(same, key=lambda name: len(_words(name)))  # “box jump burpee”
        spans = [(i, j) for i in range(len(words)) for j in range(i + 1, len(words) + 1) if j - i < len(words)]
        known = [(i, j) for i, j in spans if "".join(words[i:j]) in self._names]
        if not known:
            return ""
        first, last = max(known, key=lambda span: (span[1] - span[0], span[1]))
        base = self.movements[self._names["".join(words[first:last])]]
        beside = set(words[:first] + words[last:])
        family = [movement for movement in self.movements.values() if movement.family == base.family]
        alike = [movement.name for movement in family if beside & set(_words(movement.name))]
        if not alike and beside & EASED and EASIER.get(base.family) in self.movements:
            return EASIER[base.family]
        return alike[0] if alike else base.name

    def _spelled_like(self, form: str) -> str:
        """Return the movement spelled most like a normal form, empty where none is like it at all."""
        long_enough = [name for name in self._names if len(name) >= LEAST_LENGTH * len(form)]
        found = process.extractOne(form, long_enough, score_cutoff=LEAST_ALIKE)
        return self._names[found[0]] if found else ""


@cache
def shipped_library() -> Library:
    """Return the movements that ship with Sorvek."""
    text = files("sorvek.core.workout").joinpath("movements.csv").read_text(encoding="utf-8")
    return Library(read_movements(text.splitlines()))


def metric_size(value: float, unit: str) -> float:
    """Return a size in kg, cm or m whatever unit it was written in."""
    return value * {"lb": KG_PER_LB, "in": CM_PER_IN, "ft": M_PER_FT}.get(unit, 1.0)
