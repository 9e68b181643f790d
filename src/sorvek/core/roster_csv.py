"""The roster as CSV: columns found by name or chosen by hand, units, row-by-row errors, all or nothing."""

import csv
import io
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from rapidfuzz import process

from sorvek.core.athlete import Athlete, lift_figure, tier_table, typed_over
from sorvek.core.athlete_file import athlete_data, athlete_from_data
from sorvek.core.errors import CoreError, RosterError
from sorvek.core.movements import TIERS, Library, normal_form
from sorvek.core.quantities import KG_PER_LB, plain

MOST_ROWS = 2_000
MOST_ERRORS = 50
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
}
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
    """A column of the file and what it is read as: a field, `set:movement`, `1rm:movement` or `ignore`."""

    heading: str
    target: str
    unit: str
    sample: str


@dataclass(frozen=True, slots=True)
class RowError:
    """What is wrong in one row; rows are counted as a spreadsheet does, the heading being row 1."""

    row: int
    column: str
    problem: str


@dataclass(frozen=True, slots=True)
class RosterImport:
    """What a file would bring in; nothing may be stored while there are errors."""

    columns: tuple[Column, ...]
    athletes: tuple[Athlete, ...]
    errors: tuple[RowError, ...]
    questions: tuple[str, ...]


def read_text(data: bytes) -> str:
    """Return the text of an uploaded file.

    Raises: RosterError if it is not UTF-8, naming the line.
    """
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        line = data[: error.start].count(b"\n") + 1
        if data[:2] in (b"PK", b"\xff\xfe", b"\xfe\xff"):
            raise RosterError(
                "this is a spreadsheet or UTF-16 file; save it as “CSV UTF-8” and send that"
            ) from error
        raise RosterError(
            f"line {line}: this is not UTF-8 text (often an older Windows file); save it as “CSV UTF-8”"
        ) from error


def _rows(text: str) -> list[list[str]]:
    try:
        dialect: type[csv.Dialect] | csv.Dialect = csv.Sniffer().sniff(text[:4096], ",;\t")
    except csv.Error:
        dialect = csv.excel
    rows = [row for row in csv.reader(io.StringIO(text), dialect) if any(cell.strip() for cell in row)]
    if len(rows) < 2:
        raise RosterError("there is no row under the headings; the first line names the columns")
    if len(rows) - 1 > MOST_ROWS:
        raise RosterError(f"{len(rows) - 1} rows; at most {MOST_ROWS} fit in one import, split the file")
    return rows


def guess_target(heading: str, library: Library) -> tuple[str, str]:
    """Return what a heading most likely means and its unit, `ignore` if nothing is close."""
    words = heading.strip().lower().replace("_", " ")
    unit = "lb" if " lb" in f" {words}" or "(lb" in words else "in" if words.endswith((" in", "(in)")) else ""
    names = {alias: target for target, aliases in BODY.items() for alias in (target.replace("_", " "), *aliases)}
    if words in names:
        return names[words], unit
    one_rep_max = any(mark in words for mark in ("1rm", "1 rm", "max"))
    bare = words.removeprefix("set ")
    for mark in ("1rm", "1 rm", "max", "(lb)", "(kg)", " lb", " kg", "reps", "unbroken", "longest set", "set of"):
        bare = bare.replace(mark, " ")
    spellings = {normal_form(s): m.name for m in library.movements.values() for s in (m.name, m.plural, *m.aliases)}
    found = process.extractOne(normal_form(bare), list(spellings), score_cutoff=CLOSE_ENOUGH)
    if found is None:
        return IGNORE, ""
    movement = library.movements[spellings[found[0]]]
    return f"{'1rm' if one_rep_max and movement.styles[0].lift else 'set'}:{movement.name}", unit


def _value(target: str, unit: str, text: str) -> object:
    """Return one cell as the athlete file wants it.

    Raises: ValueError with what to write instead.
    """
    if text[:1] in "=@" or (text[:1] in "+-" and not text[1:].replace(".", "").isdigit()):
        raise ValueError(f"“{text[:30]}” is a formula to a spreadsheet; write the value itself")
    if target in ("name", "division", "notes"):
        return text
    if target == "tier":
        if text.lower() not in TIERS:
            raise ValueError(f"“{text}” is no tier; write one of {', '.join(TIERS)}")
        return text.lower()
    if target == "sex":
        if text.lower() not in SEXES:
            raise ValueError(f"“{text}” is not understood; write m or f")
        return SEXES[text.lower()]
    try:
        number = float(text.replace(",", "."))
    except ValueError:
        raise ValueError(f"“{text[:30]}” is no number") from None
    return round(number * {"lb": KG_PER_LB, "in": 2.54}.get(unit, 1.0), 2)


def _athlete(
    row: Sequence[str], columns: Sequence[Column], known: Mapping[str, Athlete], library: Library
) -> Athlete:
    """Return the athlete of a row, on top of the one of that name if there is one.

    Raises: CoreError or ValueError; the first argument may be (column, problem).
    """
    values: dict[str, object] = {}
    sets: dict[str, object] = {}
    lifts: dict[str, object] = {}
    for column, cell in zip(columns, row, strict=False):
        text = cell.strip()
        if column.target == IGNORE or not text:
            continue
        try:
            value = _value(column.target, column.unit, text)
        except ValueError as error:
            raise RosterError(f"{column.heading}: {error}") from error
        kind, _, movement = column.target.partition(":")
        if movement:
            (sets if kind == "set" else lifts)[movement] = value
        else:
            values[column.target] = value
    if "name" not in values:
        raise RosterError("there is no name")
    before = known.get(str(values["name"]))
    data = athlete_data(before) if before else {"tier": "building"}
    data |= values
    for field, new in (("unbroken", sets), ("one_rep_max_kg", lifts)):
        data[field] = {**dict(data.get(field, {})), **new}  # type: ignore[call-overload]
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
    text: str, library: Library, known: Mapping[str, Athlete], chosen: Mapping[int, tuple[str, str]] | None = None
) -> RosterImport:
    """Return what a CSV text would bring in.

    `known` are the athletes already there, by name: their other numbers stay. `chosen` overrides the guess for
    a column (counted from 0) with a target and a unit.
    Raises: RosterError if the text as a whole cannot be read: no rows, too many, no column for the name.
    """
    rows = _rows(text)
    columns = []
    for i, heading in enumerate(rows[0]):
        target, unit = (chosen or {}).get(i) or guess_target(heading, library)
        sample = next((row[i].strip() for row in rows[1:] if i < len(row) and row[i].strip()), "")
        columns.append(Column(heading.strip() or f"column {i + 1}", target, unit, sample))
    if not any(column.target == "name" for column in columns):
        headings = ", ".join(column.heading for column in columns)
        raise RosterError(f"no column holds the name (found: {headings}); call one “name” or choose it below")
    athletes: list[Athlete] = []
    errors: list[RowError] = []
    seen: dict[str, int] = {}
    for number, row in enumerate(rows[1:], 2):
        try:
            athlete = _athlete(row, columns, known, library)
            if athlete.name in seen:
                raise RosterError(
                    f"{athlete.name} stands in row {seen[athlete.name]} already; rename or remove one"
                )
            seen[athlete.name] = number
            athletes.append(athlete)
        except CoreError as error:
            column, _, problem = str(error).removeprefix("athlete file, ").partition(": ")
            errors.append(RowError(number, column if problem else "", problem or column))
    questions = tuple(_looks_like_pounds(columns, athletes, library))
    return RosterImport(tuple(columns), tuple(athletes), tuple(errors[:MOST_ERRORS]), questions)


def safe_cell(value: object) -> str:
    """Return a cell that no spreadsheet takes for a formula."""
    text = plain(value) if isinstance(value, float) else str(value)
    return f"'{text}" if text[:1] in ("=", "+", "-", "@", "\t", "\r") else text


def roster_csv(athletes: Sequence[Athlete]) -> str:
    """Return the roster as CSV that `read_roster` reads again; one column for every number anybody has.

    Learnt numbers are left out: a table has no room for their doubt, and read again they would count as measured.
    """
    sets = sorted({name for athlete in athletes for name in athlete.unbroken})
    lifts = sorted({name for athlete in athletes for name in athlete.one_rep_max_kg})
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow([*BODY, *(f"set {name}" for name in sets), *(f"1RM {name} (kg)" for name in lifts)])
    for athlete in athletes:
        body = [None if name in athlete.learnt else getattr(athlete, name) for name in BODY]
        numbers = [None if name in athlete.learnt else athlete.unbroken.get(name) for name in sets]
        numbers += [None if name in athlete.learnt else athlete.one_rep_max_kg.get(name) for name in lifts]
        writer.writerow(["" if cell is None else safe_cell(cell) for cell in (*body, *numbers)])
    return out.getvalue()
