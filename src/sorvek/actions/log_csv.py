"""The log of one workout as CSV: who did what, row by row, all or nothing."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date

from sorvek.core.club import Result, score_typed
from sorvek.core.errors import CellError, RosterError
from sorvek.core.quantities import clock, plain, seconds_from_clock
from sorvek.core.table import MOST_ERRORS, RowError, read_table, table_csv, typed_cell
from sorvek.core.workout import Form, Workout

HEADINGS = ("athlete", "date", "score", "tiebreak", "lift", "splits", "gave out", "torn hands", "notes")
MOST_ROWS, MOST_SPLITS = 5000, 200
YES = {"yes", "y", "1", "true", "x"}


@dataclass(frozen=True, slots=True)
class LogRow:
    """An attempt as somebody writes it down; `splits_s` are the ends of rounds in s from the start."""

    athlete: str
    done_on: date
    result: Result
    splits_s: tuple[float, ...] = ()
    gave_out: str = ""
    torn: bool = False
    notes: str = ""


def read_splits(text: str) -> tuple[float, ...]:
    """Return ends of rounds from `1:32 3:07 4:45`, counted from the start.

    Raises: ValueError with what to write instead.
    """
    words = text.replace(",", " ").replace(";", " ").split()
    if len(words) > MOST_SPLITS:
        raise ValueError(f"{len(words)} splits are too many; at most {MOST_SPLITS}")
    found = tuple(seconds_from_clock(word) for word in words)
    for before, after, word in zip((0.0, *found), found, words, strict=False):
        if after <= before:
            raise ValueError(f"“{word}” is not after the split before it; write the clock as every round ends")
    return found


def row_of(cells: Mapping[str, str], workout: Workout, today: date) -> LogRow:
    """Return an attempt from cells by heading; without a date it was done today.

    Raises: CellError naming the column and what to write instead.
    """
    name = typed_cell(cells.get("athlete", ""))
    if not name:
        raise CellError("athlete", "there is no name")
    heading = "date"
    try:
        done_on = date.fromisoformat(cells["date"]) if cells.get("date") else today
        heading = "score"
        result = score_typed(cells.get("score", ""), "", workout)
        heading = "tiebreak"
        tie_s = seconds_from_clock(cells["tiebreak"]) if cells.get("tiebreak") else None
        heading = "lift"
        if workout.form is not Form.LIFT:
            result = score_typed(cells.get("score", ""), "", workout, cells.get("lift", ""))
        heading = "splits"
        splits_s = read_splits(cells.get("splits", ""))
    except ValueError as error:
        problem = "write the day as 2026-03-14" if heading == "date" else str(error)
        raise CellError(heading, problem) from error
    whole = replace(result, tiebreak_s=tie_s)
    torn = cells.get("torn hands", "").strip().lower() in YES
    gave_out, notes = (typed_cell(cells.get(name, ""))[:size] for name, size in (("gave out", 40), ("notes", 2000)))
    return LogRow(name, done_on, whole, splits_s, gave_out, torn, notes)


def read_log(text: str, workout: Workout, today: date) -> tuple[list[LogRow], list[RowError]]:
    """Return the attempts in a CSV text and what is wrong in it, row by row; use none while there are errors.

    Raises: RosterError if columns are missing or there are no rows.
    """
    table = read_table(text, MOST_ROWS)
    headings = [heading.lower().replace("-", "") for heading in table.headings]
    missing = [name for name in ("athlete", "score") if name not in headings]
    if missing:
        raise RosterError(f"column “{missing[0]}” is missing; the first line names {', '.join(HEADINGS)}")
    rows, errors = list[LogRow](), list[RowError]()
    for number, row in table.rows:
        try:
            rows.append(row_of(dict(zip(headings, row, strict=False)), workout, today))
        except CellError as error:
            errors.append(RowError(number, error.column, error.problem))
    return rows, errors[:MOST_ERRORS]


def log_csv(rows: Sequence[LogRow]) -> str:
    """Return attempts as CSV that `read_log` reads again, times to the second."""
    lines: list[list[object]] = [list(HEADINGS)]
    for row in rows:
        result = row.result
        lines.append(
            [
                row.athlete,
                row.done_on.isoformat(),
                clock(result.value) if result.finished else plain(result.value),
                None if result.tiebreak_s is None else clock(result.tiebreak_s),
                None if result.lift_kg is None else plain(result.lift_kg),
                " ".join(clock(end_s) for end_s in row.splits_s),
                row.gave_out,
                "yes" if row.torn else "",
                row.notes,
            ]
        )
    return table_csv(lines)
