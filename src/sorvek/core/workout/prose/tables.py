"""Loads in a table: divisions down the side or across the top, movements or implements the other way."""

from collections.abc import Iterator, Sequence
from dataclasses import replace

from sorvek.core.workout.movements import Library
from sorvek.core.workout.prose.amounts import sizes_at
from sorvek.core.workout.prose.chunks import chunk
from sorvek.core.workout.prose.divisions import division_at, sexed
from sorvek.core.workout.prose.headings import Section
from sorvek.core.workout.prose.lines import Sentence, TextLine
from sorvek.core.workout.prose.phrases import Loads, Phrase, WorkLine, nouns_of
from sorvek.core.workout.prose.sizes import DIMENSIONS, Quantity, Sizes
from sorvek.core.workout.prose.words import Kind, Token

COUNTS = {"reps", "repetitions", "quantity", "count", "amount", "volume"}  # heads of a column of counts

Cell = list[Token]
Row = list[Cell]


def cells_of(line: TextLine, text: str) -> Row:
    """Return the cells of a line: parted by bars, or by tabs and at least two spaces."""
    barred = any(token.mark("|") for token in line.tokens)
    cells: Row = [[]]
    for before, token in zip([None, *line.tokens], line.tokens, strict=False):
        between = text[before.end : token.start] if before is not None else ""
        if token.mark("|"):
            cells.append([])
            continue
        if not barred and cells[-1] and ("\t" in between or len(between) > 1):
            cells.append([])
        cells[-1].append(token)
    # A bar at the beginning and at the end of a line parts nothing.
    first = 1 if line.tokens and line.tokens[0].mark("|") and len(cells) > 1 else 0
    last = -1 if first and line.tokens[-1].mark("|") else None
    return cells[first:last]


def tables_in(lines: Sequence[TextLine], text: str) -> Iterator[tuple[int, int]]:
    """Yield from which line to which (exclusive) a table of loads stands."""
    at, cells = 0, [cells_of(line, text) for line in lines]
    while at < len(lines):
        width = len(cells[at])
        end = at
        while width > 1 and end < len(lines) and _fits(cells[end], width):
            end += 1
        rows = _squared([row for row in cells[at:end] if not _ruler(row)])
        if width > 1 and len(rows) > 1 and _divided(rows) and not _headless(cells[at]):
            yield at, end
            at = end
        else:
            at += 1


def _squared(rows: list[Row]) -> list[Row]:
    """Return rows of one width: a head without a word above the first column gets an empty cell."""
    if len(rows) > 1 and len(rows[0]) + 1 == len(rows[1]):
        rows = [[[], *rows[0]], *rows[1:]]
    return [row for row in rows if len(row) == len(rows[0])]


def _fits(row: Row, width: int) -> bool:
    return len(row) in (width, width + 1) or _ruler(row)


def _ruler(row: Row) -> bool:
    """Return whether a row only draws a line under the heads."""
    return all(token.mark("-–—:=+") for cell in row for token in cell) and any(row)


def _divided(rows: Sequence[Row]) -> bool:
    """Return whether divisions stand across the top or down the side, and numbers inside."""
    across = sum(bool(_division(cell)) for cell in rows[0][1:])
    down = sum(bool(_division(row[0])) for row in rows[1:])
    numbers = any(token.kind is Kind.NUMBER for row in rows[1:] for cell in row[1:] for token in cell)
    return numbers and (across > 0 or down > 0)


def _headless(row: Row) -> bool:
    """Return whether the first row is of a division already, “Rx   60/42.5 kg”: such rows are lines like others."""
    return bool(_division(row[0])) and any(token.kind is Kind.NUMBER for cell in row[1:] for token in cell)


def _division(cell: Cell) -> str:
    name, used = division_at(cell, 0)
    return name if used >= len([token for token in cell if not token.mark(".:")]) else ""


def loads_of(lines: Sequence[TextLine], text: str, library: Library) -> list[tuple[Sentence, list[Phrase]]]:
    """Return every row of a table as a sentence that says loads, or work with its loads."""
    rows = [(line, cells_of(line, text)) for line in lines]
    rows = [(line, row) for line, row in rows if not _ruler(row)]
    width = len(rows[-1][1])
    rows = [(line, [[], *row] if len(row) == width - 1 else row) for line, row in rows]
    head = rows[0][1]
    across = any(_division(cell) for cell in head[1:])
    counts = next((i for i, cell in enumerate(head) if any(token.low in COUNTS for token in cell)), 0)
    found = []
    for line, row in rows:
        tokens = [token for cell in row for token in cell]
        phrases: list[Phrase] = []
        if row is not head:
            phrases = list(_row(head, row, tokens, across))
            head_cells = row[0] + row[1] if len(row[0]) == 1 and row[0][0].kind is Kind.NUMBER else row[0]
            head_cells = row[counts] + row[0] if counts else head_cells
            told = chunk(Sentence(head_cells, 0), library)
            work = next((x for x in told if isinstance(x, WorkLine) and x.counts), None)
            if work is not None:
                amounts = tuple(a for load in phrases if isinstance(load, Loads) for a in load.sizes.amounts)
                phrases = [replace(work, hi=len(tokens), sizes=Sizes(0, len(tokens), amounts))]
        section = Section.WORK if any(isinstance(x, WorkLine) for x in phrases) else Section.LOADS
        found.append((Sentence(tokens, line.number, line.indent, section=section), phrases))
    return found


def _row(head: Row, row: Row, tokens: list[Token], across: bool) -> Iterator[Loads]:
    for top, cell in zip(head[1:], row[1:], strict=False):
        if not cell or (across and not _division(top)):
            continue
        lo = tokens.index(cell[0])
        label, about = (top, row[0]) if across else (row[0], top)
        name = _division(label)
        if across and (level := _division(row[0])) and name in ("men", "women"):
            name = sexed(level, name)  # levels down the side, sexes across the top
        amounts = _amounts(cell, [*about, *label], name)
        if amounts:
            yield Loads(lo, lo + len(cell), Sizes(lo, lo + len(cell), amounts), tuple(nouns_of(about)))


def _amounts(cell: Cell, around: Cell, division: str) -> tuple[Quantity, ...]:
    """Return the amounts of a cell; a bare number takes its unit from the heads."""
    sizes = sizes_at(cell, 0, set())
    found = list(sizes.amounts) if sizes else []
    if not found and len(cell) == 1 and cell[0].kind is Kind.NUMBER:
        found = [Quantity(cell[0].number)]
    unit = next((t.low for t in around if t.low in DIMENSIONS), "")
    return tuple(replace(a, unit=a.unit or unit, division=a.division or division) for a in found)
