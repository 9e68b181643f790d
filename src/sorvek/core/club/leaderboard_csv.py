"""A leaderboard as CSV: name, division, score, tie-break and lift in kg, row by row, all or nothing."""

import re
from collections.abc import Mapping, Sequence

from sorvek.core.club.board import Result
from sorvek.core.errors import CellError, RosterError
from sorvek.core.quantities import clock, kg_from_lb, plain, seconds_from_clock
from sorvek.core.table import MOST_ERRORS, RowError, read_table, table_csv, typed_cell
from sorvek.core.workout import Form, Workout

MOST_ROWS = 20_000
HEADINGS = ("name", "division", "score", "tiebreak")
LIFT = "lift"
MOST_LIFT_KG = 500.0
MOST_SCORE = 1_000_000
MOST_TIME_S = 24 * 3600


def read_score(text: str, workout: Workout) -> tuple[bool, float]:
    """Return whether a score is a finish, and its seconds or reps.

    Raises: ValueError with what to write instead.
    """
    if workout.form is Form.LIFT:
        load_kg = read_lift(text.strip())
        if load_kg is None:
            raise ValueError("there is no lift; write 102.5 for kg or 225 lb")
        return False, load_kg
    bare = text.strip().lower().removesuffix("reps").removesuffix("rep").strip()
    if re.fullmatch(r"([0-9]+:)?[0-9]+:[0-9]{2}(\.[0-9]+)?", bare):
        if workout.form is not Form.FOR_TIME:
            raise ValueError(f"“{text}” is a time, but this workout counts reps")
        return True, read_time(bare)
    if re.fullmatch(r"[0-9]{1,7}", bare) and int(bare) <= MOST_SCORE:
        return False, float(bare)
    raise ValueError(f"“{text[:20]}” is no score; write 9:42 for a finish, 187 for reps")


def score_typed(text: str, division: str, workout: Workout, lift: str = "") -> Result:
    """Return a score somebody asks about as a nameless result, with the lift where one is given beside it.

    Raises: ValueError with what to write instead.
    """
    finished, value = read_score(text, workout)
    return Result("", division, finished, value, lift_kg=read_lift(lift))


def read_lift(text: str) -> float | None:
    """Return a lift in kg from `100`, `102.5 kg` or `225 lb`; None for an empty cell.

    Raises: ValueError with what to write instead.
    """
    if not text:
        return None
    match = re.fullmatch(r"([0-9]{1,6}(?:[.,][0-9]{1,4})?)\s*(kg|lbs?)?", text.strip().lower())
    load = float(match[1].replace(",", ".")) if match else 0.0
    if match and (match[2] or "").startswith("lb"):
        load = kg_from_lb(load)
    if not 0 < load <= MOST_LIFT_KG:
        raise ValueError(f"“{text[:20]}” is no lift; write 102.5 for kg or 225 lb")
    return load


def read_leaderboard(text: str, workout: Workout) -> tuple[list[Result], list[RowError]]:
    """Return the results of a CSV text and what is wrong in it, row by row; use none while there are errors.

    Raises: RosterError if columns are missing or there are no rows.
    """
    table = read_table(text, MOST_ROWS)
    headings = [heading.lower().replace("-", "") for heading in table.headings]
    missing = [name for name in HEADINGS[:3] if name not in headings]
    if missing:
        raise RosterError(f"column “{missing[0]}” is missing; the first line names name, division, score, tiebreak")
    results: list[Result] = []
    errors: list[RowError] = []
    for number, row in table.rows:
        try:
            results.append(_result(dict(zip(headings, row, strict=False)), workout))
        except CellError as error:
            errors.append(RowError(number, error.column, error.problem))
    return results, errors[:MOST_ERRORS]


def _result(cells: Mapping[str, str], workout: Workout) -> Result:
    """Return the result in one row.

    Raises: CellError naming the column.
    """
    if not cells.get("name"):
        raise CellError("name", "there is no name")
    heading = "score"
    try:
        finished, value = read_score(cells.get("score", ""), workout)
        heading = "tiebreak"
        tie_s = read_time(cells["tiebreak"]) if cells.get("tiebreak") else None
        heading = LIFT
        lift_kg = value if workout.form is Form.LIFT else read_lift(cells.get(LIFT, ""))
    except ValueError as error:
        raise CellError(heading, str(error)) from error
    return Result(typed_cell(cells["name"]), typed_cell(cells.get("division", "")), finished, value, tie_s, lift_kg)


def read_time(text: str) -> float:
    """Return the seconds of a clock time of a result.

    Raises: ValueError with what to write instead.
    """
    seconds = seconds_from_clock(text)
    if not 0 < seconds <= MOST_TIME_S:
        raise ValueError(f"“{text[:20]}” is no time of a workout; write 9:42")
    return seconds


def leaderboard_csv(results: Sequence[Result]) -> str:
    """Return results as CSV that `read_leaderboard` reads again."""
    lifted = any(r.lift_kg is not None for r in results)
    rows: list[list[object]] = [[*HEADINGS, LIFT] if lifted else list(HEADINGS)]
    for r in results:
        score = clock(r.value) if r.finished else plain(r.value)
        cells: list[object] = [r.name, r.division, score, clock(r.tiebreak_s) if r.tiebreak_s else ""]
        rows.append([*cells, r.lift_kg] if lifted else cells)
    return table_csv(rows)
