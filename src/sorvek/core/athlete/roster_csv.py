"""The roster as CSV: columns found by name or chosen by hand, units, row-by-row errors, all or nothing."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from sorvek.core.athlete.athlete import Athlete, lift_figure, tier_table, typed_over
from sorvek.core.athlete.file import athlete_data, athlete_from_data
from sorvek.core.errors import AthleteFileError, CellError, RosterError
from sorvek.core.quantities import CM_PER_IN, KG_PER_LB
from sorvek.core.table import MOST_ERRORS, RowError, read_table, table_csv, typed_cell
from sorvek.core.workout import TIERS, Library

MOST_ROWS = 2_000
IGNORE = "ignore"
BODY = {
    "name": ("athlete", "full name"),
    "tier": ("level",),
    "sex": ("gender",),
    "division": ("category",),
    "mass_kg": ("mass", "weight", "bodyweight", "mass kg", "weight kg", "mass lb", "weight lb"),
    "stature_cm": ("stature", "height", "height cm", "stature in", "height in"),
    "critical_power_w": ("critical power", "cp", "cp w"),
    "w_prime_j": ("w prime", "w'", "w prime j"),
    "notes": ("note", "remarks"),
    "curve": ("repetition curve",),
    "flags": ("injury flags", "injuries"),
    "measured_on": ("measured", "dates"),
}
# Columns that hold several pairs of a movement and words, each with an example.
PAIRS = {"flags": "“deadlift: low back”", "measured_on": "“pull-up: 2026-03-01”"}
# What a column of numbers by movement is called here and holds, and its heading.
NUMBERS = {"set": "unbroken", "1rm": "one_rep_max_kg", "cycle": "cycle_s"}
HEADINGS = {"set": "set {}", "1rm": "1RM {} (kg)", "cycle": "one rep {} (s)"}
SEXES = {
    "m": "m",
    "man": "m",
    "men": "m",
    "male": "m",
    "f": "f",
    "w": "f",
    "woman": "f",
    "women": "f",
    "female": "f",
}
CLOSE_ENOUGH = 86
# A column in pounds read as kilograms stands out by this factor over the tier's prototype; judgement, the
# exact factor is 2.2.
LOOKS_LIKE_LB = 1.75


@dataclass(frozen=True, slots=True)
class Column:
    """A column of the file and what it is read as: a field, `set:`, `1rm:` or `cycle:movement`, or `ignore`."""

    heading: str
    target: str
    unit: str
    sample: str


@dataclass(frozen=True, slots=True)
class RosterImport:
    """What a file would bring in; nothing may be stored while there are errors."""

    columns: tuple[Column, ...]
    athletes: tuple[Athlete, ...]
    errors: tuple[RowError, ...]
    questions: tuple[str, ...]


def guess_target(heading: str, library: Library) -> tuple[str, str]:
    """Return what a heading most likely means and its unit, `ignore` if nothing is close."""
    words = heading.strip().lower().replace("_", " ")
    unit = "lb" if " lb" in f" {words}" or "(lb" in words else "in" if words.endswith((" in", "(in)")) else ""
    names = {alias: target for target, aliases in BODY.items() for alias in (target.replace("_", " "), *aliases)}
    if words in names:
        return names[words], unit
    one_rep_max = any(mark in words for mark in ("1rm", "1 rm", "max"))
    cycle = words.startswith("one rep ")
    bare = words.removeprefix("set ").removeprefix("one rep ")
    for mark in (
        "1rm",
        "1 rm",
        "max",
        "(lb)",
        "(kg)",
        "(s)",
        " lb",
        " kg",
        "reps",
        "unbroken",
        "longest set",
        "set of",
    ):
        bare = bare.replace(mark, " ")
    movement = library.nearest(bare, CLOSE_ENOUGH)
    if movement is None:
        return IGNORE, ""
    kind = "cycle" if cycle else "1rm" if one_rep_max and movement.styles[0].lift else "set"
    return f"{kind}:{movement.name}", unit


def _pairs(text: str, what: str) -> dict[str, str]:
    """Return `movement: words` pairs, separated by semicolons.

    Raises: CellError naming the pair that has no colon.
    """
    pairs = [pair.partition(":") for pair in text.split(";") if pair.strip()]
    for name, colon, _ in pairs:
        if not colon:
            raise CellError(
                "", f"“{name.strip()[:30]}” has no colon; write {what}, several with semicolons between"
            )
    return {name.strip(): words.strip() for name, _, words in pairs}


def _value(target: str, unit: str, text: str) -> object:
    """Return one cell as the athlete file wants it.

    Raises: CellError with what to write instead.
    """
    if target in ("name", "division", "notes"):
        return text
    if target == "curve":
        return text.lower()
    if target in PAIRS:
        return _pairs(text, PAIRS[target])
    if target == "tier":
        if text.lower() not in TIERS:
            raise CellError("", f"“{text[:30]}” is no tier; write one of {', '.join(TIERS)}")
        return text.lower()
    if target == "sex":
        if text.lower() not in SEXES:
            raise CellError("", f"“{text[:30]}” is not understood; write m or f")
        return SEXES[text.lower()]
    return _measure(unit, text)


def _measure(unit: str, text: str) -> float:
    try:
        number = float(text.replace(",", "."))
    except ValueError:
        raise CellError("", f"“{text[:30]}” is no number") from None
    if not math.isfinite(number):
        raise CellError("", f"“{text[:30]}” is no number that can be measured")
    return round(number * {"lb": KG_PER_LB, "in": CM_PER_IN}.get(unit, 1.0), 2)


def _athlete(
    row: Sequence[str], columns: Sequence[Column], known: Mapping[str, Athlete], library: Library
) -> Athlete:
    """Return the athlete of a row, on top of the one of that name if there is one.

    Raises: CellError naming the column; AthleteFileError for a value that cannot be.
    """
    values: dict[str, object] = {}
    numbers: dict[str, dict[str, object]] = {field: {} for field in NUMBERS.values()}
    for column, cell in zip(columns, row, strict=False):
        if column.target == IGNORE or not cell:
            continue
        try:
            value = _value(column.target, column.unit, typed_cell(cell))
        except CellError as error:
            raise CellError(column.heading, error.problem) from error
        kind, _, movement = column.target.partition(":")
        if movement:
            numbers[NUMBERS[kind]][movement] = value
        else:
            values[column.target] = value
    if "name" not in values:
        raise CellError("", "there is no name")
    before = known.get(str(values["name"]))
    data: dict[str, Any] = dict(athlete_data(before)) if before else {"tier": "building"}
    data |= values
    for field, new in numbers.items():
        data[field] = {**data.get(field, {}), **new}
    athlete = athlete_from_data(data, library)
    return typed_over(before, athlete) if before else athlete


def _looks_like_pounds(columns: Sequence[Column], athletes: Sequence[Athlete], library: Library) -> list[str]:
    """Return a question for every column of weights that are far too heavy for kilograms."""
    questions = []
    for column in columns:
        kind, _, name = column.target.partition(":")
        if column.unit == "lb" or (kind != "1rm" and column.target != "mass_kg"):
            continue
        ratios = []
        for athlete in athletes:
            plainly = Athlete(athlete.name, athlete.tier, athlete.sex)
            if kind == "1rm" and name in athlete.one_rep_max_kg:
                movement = library.movements[name]
                ratios.append(
                    athlete.one_rep_max_kg[name] / lift_figure(plainly, movement, movement.styles[0]).value
                )
            elif kind != "1rm" and athlete.mass_kg:
                ratios.append(athlete.mass_kg / float(tier_table()[athlete.tier]["mass_kg"]))
        if ratios and sorted(ratios)[len(ratios) // 2] > LOOKS_LIKE_LB:
            questions.append(f"{column.heading}: these look like pounds. Choose lb for this column, or confirm kg.")
    return questions


def read_roster(
    text: str,
    library: Library,
    known: Mapping[str, Athlete],
    chosen: Mapping[int, tuple[str, str]] | None = None,
    most: int = MOST_ROWS,
) -> RosterImport:
    """Return what a CSV text would bring in.

    `known` are the athletes already there, by name: their other numbers stay. `chosen` overrides the guess for
    a column (counted from 0) with a target and a unit; `most` rows may stand there.
    Raises: RosterError if the text as a whole cannot be read: no rows, too many, no column for the name.
    """
    table = read_table(text, most)
    columns = []
    for i, heading in enumerate(table.headings):
        target, unit = (chosen or {}).get(i) or guess_target(heading, library)
        sample = next((row[i] for _, row in table.rows if i < len(row) and row[i]), "")
        columns.append(Column(heading or f"column {i + 1}", target, unit, sample))
    if not any(column.target == "name" for column in columns):
        headings = ", ".join(column.heading for column in columns)
        raise RosterError(f"no column holds the name (found: {headings[:200]}); call one “name” or choose it below")
    athletes: list[Athlete] = []
    errors: list[RowError] = []
    seen: dict[str, int] = {}
    for number, row in table.rows:
        try:
            athlete = _athlete(row, columns, known, library)
            if athlete.name in seen:
                raise CellError(
                    "", f"{athlete.name} stands in row {seen[athlete.name]} already; rename or remove one"
                )
            seen[athlete.name] = number
            athletes.append(athlete)
        except CellError as error:
            errors.append(RowError(number, error.column, error.problem))
        except AthleteFileError as error:
            errors.append(RowError(number, error.field, error.problem))
    questions = tuple(_looks_like_pounds(columns, athletes, library))
    return RosterImport(tuple(columns), tuple(athletes), tuple(errors[:MOST_ERRORS]), questions)


def _pairs_text(pairs: Mapping[str, str]) -> str:
    return "; ".join(f"{name}: {words.replace(';', ',')}" for name, words in pairs.items())


def roster_csv(athletes: Sequence[Athlete]) -> str:
    """Return the roster as CSV that `read_roster` reads again; one column for every number anybody has.

    Learnt numbers are left out: a table has no room for their doubt, and read again they would count as measured.
    """
    own = [
        (kind, field, name)
        for kind, field in NUMBERS.items()
        for name in sorted({name for athlete in athletes for name in getattr(athlete, field)})
    ]
    rows: list[list[object]] = [[*BODY, *(HEADINGS[kind].format(name) for kind, _, name in own)]]
    for athlete in athletes:
        known = {name: getattr(athlete, name) for name in BODY if name not in athlete.learnt}
        dates = {name: day for name, day in athlete.measured_on.items() if name not in athlete.learnt}
        known |= {
            "flags": _pairs_text(athlete.flags),
            "measured_on": _pairs_text(dates),
            "curve": athlete.curve.value,
        }
        numbers = [None if name in athlete.learnt else getattr(athlete, field).get(name) for _, field, name in own]
        rows.append([*(known.get(name) for name in BODY), *numbers])
    return table_csv(rows)
