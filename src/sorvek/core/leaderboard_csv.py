"""A leaderboard as CSV: name, division, score and tie-break, row by row, all or nothing."""

import csv
import io
import re
from collections.abc import Sequence

from sorvek.core.errors import RosterError
from sorvek.core.field import Result
from sorvek.core.quantities import clock, seconds_from_clock
from sorvek.core.roster_csv import RowError, safe_cell
from sorvek.core.workout import Form, Workout

MOST_ROWS = 20_000
HEADINGS = ("name", "division", "score", "tiebreak")


def read_score(text: str, workout: Workout) -> tuple[bool, float]:
    """Return whether a score is a finish, and its seconds or reps.

    Raises: ValueError with what to write instead.
    """
    bare = text.strip().lower().removesuffix("reps").removesuffix("rep").strip()
    if re.fullmatch(r"(\d+:)?\d+:\d\d(\.\d+)?", bare):
        if workout.form is not Form.FOR_TIME:
            raise ValueError(f"“{text}” is a time, but this workout counts reps")
        return True, seconds_from_clock(bare)
    if re.fullmatch(r"\d+", bare):
        return False, float(bare)
    raise ValueError(f"“{text[:20]}” is no score; write 9:42 for a finish, 187 for reps")


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
                )
            )
        except ValueError as error:
            errors.append(RowError(number, "score", str(error)))
    return results, errors[:50]


def leaderboard_csv(results: Sequence[Result]) -> str:
    """Return results as CSV that `read_leaderboard` reads again."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(HEADINGS)
    for r in results:
        score = clock(r.value) if r.finished else f"{r.value:.0f}"
        writer.writerow(
            [safe_cell(r.name), safe_cell(r.division), score, clock(r.tiebreak_s) if r.tiebreak_s else ""]
        )
    return out.getvalue()
