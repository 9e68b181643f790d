"""Lines written in another way than most put the usual way: “From 0 to 5: …”, “(M50+): …”, “run 4 x 10 m”."""

from collections.abc import Sequence
from itertools import pairwise

from sorvek.core.workout.prose.divisions import division_at
from sorvek.core.workout.prose.lines import TextLine
from sorvek.core.workout.prose.tables import COUNTS
from sorvek.core.workout.prose.words import Kind, Token

LEAST_ROWS = 2  # of a table


def open_heads(lines: Sequence[TextLine]) -> None:
    """Take the brackets off the divisions a line begins with: “(M50+, M55+): 3 snatches …”."""
    for line in lines:
        end = next((i for i, token in enumerate(line.tokens[:-1]) if token.mark(")")), 0)
        inner = line.tokens[1:end]
        named = bool(inner) and line.tokens[0].mark("(") and division_at(inner, 0)[1] > 0
        if named and line.tokens[end + 1].mark(":") and not any(token.kind is Kind.MOVEMENT for token in inner):
            line.tokens[:] = [*inner, *line.tokens[end + 1 :]]


def clock_ranges(lines: Sequence[TextLine]) -> None:
    """Read lines that follow each other from 0 on by the clock: “From 0 to 5: …”, “From 5 to 10: …” are minutes."""
    heads = [(line, line.tokens[1:5]) for line in lines if line.tokens[0].low == "from" and len(line.tokens) > 5]
    heads = [
        (line, h)
        for line, h in heads
        if h[0].kind is h[2].kind is Kind.NUMBER and h[1].low in ("to", "till", "until") and h[3].mark(":")
    ]
    joined = all(one[2].number == two[0].number for (_, one), (_, two) in pairwise(heads))
    if len(heads) > 1 and joined and heads[0][1][0].number == 0:
        for line, (start, to, end, colon) in heads:
            dash = Token(Kind.MARK, "-", to.start, to.end)
            minutes = Token(Kind.UNIT, "min", end.end, end.end, name="min")
            line.tokens[:5] = [start, dash, end, minutes, colon]


def join_cells(lines: Sequence[TextLine]) -> None:
    """Make lines of work of rows with a count and a movement: “| 40 | wall balls 9/6 kg |”; their head goes."""
    rows = [(line, _cells(line.tokens)) for line in lines]
    counted = [(line, cells) for line, cells in rows if _counts_one(cells)]
    if len(counted) < LEAST_ROWS:
        return
    for line, cells in counted:
        count, work = cells if _is_count(cells[0]) else reversed(cells)
        line.tokens[:] = [*count, *work]
    for line, cells in rows:
        headed = len(cells) == 2 and any(token.low in COUNTS for cell in cells for token in cell)
        if headed or (line.tokens[0].mark("|-") and all(token.mark("|-:") for token in line.tokens)):
            line.tokens[:] = line.tokens[:1]  # a stroke says nothing


def _cells(tokens: Sequence[Token]) -> list[list[Token]]:
    """Return what stands between the upright strokes of a line."""
    cells: list[list[Token]] = [[]]
    for token in tokens:
        if token.mark("|"):
            cells.append([])
        else:
            cells[-1].append(token)
    return [cell for cell in cells if cell]


def _counts_one(cells: Sequence[Sequence[Token]]) -> bool:
    """Return whether one of two cells is a count and the other names one movement."""
    works = [cell for cell in cells if sum(token.kind is Kind.MOVEMENT for token in cell) == 1]
    return len(cells) == 2 and len(works) == 1 and sum(map(_is_count, cells)) == 1


def _is_count(cell: Sequence[Token]) -> bool:
    """Return whether a cell holds a count, or two with a slash, and perhaps its unit."""
    bare = [token for token in cell if not token.unit("cal", "m")]
    return bool(bare) and all(token.kind is Kind.NUMBER or token.mark("/") for token in bare)


def turn_ways(lines: Sequence[TextLine]) -> None:
    """Put number and length before a run there and back: “shuttle run (4 x 10 m)” is “4 x 10 m shuttle run”."""
    for line in lines:
        name, rest = line.tokens[0], [token for token in line.tokens[1:] if not token.mark("():,–-")]
        told = len(rest) == 4 and rest[0].kind is rest[2].kind is Kind.NUMBER and rest[3].unit("m")
        if told and rest[1].low in ("x", "×") and name.kind is Kind.MOVEMENT and name.name == "shuttle run":
            line.tokens[:] = [*rest, name]
