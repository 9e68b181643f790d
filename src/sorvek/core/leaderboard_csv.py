"""A leaderboard as CSV: name, division, score, tie-break and lift in kg, row by row, all or nothing."""

import csv
import io
import re
from collections.abc import Sequence

from sorvek.core.errors import RosterError
from sorvek.core.field import Result
from sorvek.core.quantities import clock, kg_from_lb, plain, seconds_from_clock
from sorvek.core.roster_csv import RowError, safe_cell
from sorvek.core.workout import Form, Workout

MOST_ROWS = 20_000
HEADINGS = ("name", "division", "score", "tiebreak")
LIFT = "lift"
MOST_LIFT_KG = 500.0


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
    if re.fullmatch(r"(\d+:)?\d+:\d\d(\.\d+)?", bare):
        if workout.form is not Form.FOR_TIME:
            raise ValueError(f"“{text}” is a time, but this workout counts reps")
        return True, seconds_from_clock(bare)
    if re.fullmatch(r"\d+", bare):
        return False, float(bare)
    raise ValueError(f"“{text[:20]}” is no score; write 9:42 for a finish, 187 for reps")


def read_lift(text: str) -> float | None:
    """Return a lift in kg from `100`, `102.5 kg` or `225 lb`; None for an empty cell.

    Raises: ValueError with what to write instead.
    """
    if not text:
        return None
    match = re.fullmatch(r"(\d+(?:[.,]\d+)?)\s*(kg|lbs?)?", text.strip().lower())
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
    rows = [row for row in csv.reader(io.StringIO(text)) if any(cell.strip() for cell in row)]
    headings = [cell.strip().lower().replace("-", "") for cell in rows[0]] if rows else []
    missing = [name for name in HEADINGS[:3] if name not in headings]
    if missing:
        raise RosterError(f"column “{missing[0]}” is missing; the first line names name, division, score, tiebreak")
    if not 1 <= len(rows) - 1 <= MOST_ROWS:
        raise RosterError(f"{len(rows) - 1} rows; give 1 to {MOST_ROWS}")
    results: list[Result] = []
    errors: list[RowError] = []
    for number, row in enumerate(rows[1:], 2):
        cells = dict(zip(headings, (cell.strip() for cell in row), strict=False))
        try:
            if not cells.get("name"):
                raise ValueError("there is no name")
            finished, value = read_score(cells.get("score", ""), workout)
            tie = cells.get("tiebreak", "")
            results.append(
                Result(
                    cells["name"],
                    cells.get("division", ""),
                    finished,
                    value,
                    seconds_from_clock(tie) if tie else None,
                    value if workout.form is Form.LIFT else read_lift(cells.get(LIFT, "")),
                )
            )
        except ValueError as error:
            errors.append(RowError(number, "score", str(error)))
    return results, errors[:50]


def leaderboard_csv(results: Sequence[Result]) -> str:
    """Return results as CSV that `read_leaderboard` reads again."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    lifted = any(r.lift_kg is not None for r in results)
    writer.writerow([*HEADINGS, LIFT] if lifted else HEADINGS)
    for r in results:
        score = clock(r.value) if r.finished else plain(r.value)
        cells = [safe_cell(r.name), safe_cell(r.division), score, clock(r.tiebreak_s) if r.tiebreak_s else ""]
        writer.writerow([*cells, plain(r.lift_kg) if r.lift_kg is not None else ""] if lifted else cells)
    return out.getvalue()
