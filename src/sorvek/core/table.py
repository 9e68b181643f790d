"""Tables a coach uploads or pastes: their text, rows and cells, and what is wrong in which row."""

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass

from sorvek.core.errors import CellError, RosterError
from sorvek.core.quantities import plain

MOST_ERRORS = 50
MOST_CELL = 4_000
DELIMITERS = ",;\t"
# What a spreadsheet takes for the beginning of a formula.
FORMULA = ("=", "+", "-", "@", "\t", "\r", "|")


@dataclass(frozen=True, slots=True)
class RowError:
    """What is wrong in one row; rows are counted as a spreadsheet does, the heading being row 1."""

    row: int
    column: str
    problem: str


@dataclass(frozen=True, slots=True)
class Table:
    """Headings and the rows under them that hold anything, each with its number."""

    headings: tuple[str, ...]
    rows: tuple[tuple[int, tuple[str, ...]], ...]


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


def read_table(text: str, most_rows: int) -> Table:
    """Return headings and rows of a CSV text with commas, semicolons or tabs, lines ended in any way.

    Raises: RosterError if there are no rows or too many, or a cell is too long.
    """
    lines = text.replace("\r\n", "\n").replace("\r", "\n")
    first = next((line for line in lines.split("\n") if line.strip()), "")
    reader = csv.reader(io.StringIO(lines), delimiter=max(DELIMITERS, key=first.count))
    rows: list[tuple[int, tuple[str, ...]]] = []
    try:
        for number, cells in enumerate(reader, 1):
            if not any(cell.strip() for cell in cells):
                continue
            if max(map(len, cells)) > MOST_CELL:
                raise RosterError(
                    f"row {number}: a cell of more than {MOST_CELL} characters; is a quotation mark left open?"
                )
            rows.append((number, tuple(cell.strip() for cell in cells)))
            if len(rows) - 1 > most_rows:
                raise RosterError(f"more than {most_rows} rows do not fit in one import; split the file")
    except csv.Error as error:
        raise RosterError(f"line {reader.line_num}: this is no CSV ({error}); save it as “CSV UTF-8”") from error
    if len(rows) < 2:
        raise RosterError("there is no row under the headings; the first line names the columns")
    return Table(rows[0][1], tuple(rows[1:]))


def _guarded(text: str) -> bool:
    return text.lstrip("'")[:1] in FORMULA


def safe_cell(value: object) -> str:
    """Return a cell that no spreadsheet takes for a formula; `typed_cell` reads it back."""
    text = plain(value) if isinstance(value, float) else str(value)
    return f"'{text}" if _guarded(text) else text


def typed_cell(text: str) -> str:
    """Return what a cell holds, without the guard of `safe_cell`.

    Raises: CellError for a formula.
    """
    number = text[:1] in "+-" and text[1:].replace(".", "").replace(",", "").isdigit()
    if text[:1] in FORMULA and not number:
        raise CellError("", f"“{text[:30]}” is a formula to a spreadsheet; write the value itself")
    return text[1:] if text[:1] == "'" and _guarded(text) else text


def table_csv(rows: Sequence[Sequence[object]]) -> str:
    """Return rows as CSV, every cell guarded against formulas; None is an empty cell."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerows(["" if cell is None else safe_cell(cell) for cell in row] for row in rows)
    return out.getvalue()
