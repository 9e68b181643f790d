"""Loads in a row, one for each round or bar: “40-50-60 kg (women 25-32.5-40)”, “60, 70, 80 kg for men”."""

from dataclasses import replace

from sorvek.core.workout.prose.divisions import division_at, next_age
from sorvek.core.workout.prose.phrases import LoadRow, WordRow
from sorvek.core.workout.prose.sizes import Quantity, Sizes
from sorvek.core.workout.prose.words import Kind

LEAST_ROUNDS = 3
ANY_AGE = "masters 40+"  # behind any group of a list the next one may follow
BEFORE_ROWS = {"at", "with", "for", "and", "use", "uses", "lift", "lifts", "will", "will use", "load", "loads"}
# The heaviest load of a row is no more than so many times the lightest; farther apart they are of different things.
MOST_APART = 3.0


def load_row_at(row: WordRow, at: int) -> LoadRow | None:
    """Read loads in a row that stand apart from work; there is none in a sentence of counted work before it."""
    sizes, end = sizes_by_round(row, at, commas=True)
    return LoadRow(at, end, sizes) if sizes else None


def sizes_by_round(row: WordRow, at: int, commas: bool = False) -> tuple[tuple[Sizes, ...], int]:
    """Return the loads of one round after the other from a token on, and where they end; none below three rounds.

    With `commas` these may part them as well as dashes.
    """
    rows: list[tuple[str, list[tuple[float, ...]]]] = []
    index, end, unit, division = at, at, "", ""
    while index < len(row.tokens):
        token = row.tokens[index]
        name, used = division_at(row.tokens, index)
        if used and rows and not rows[-1][0] and row.lead(index) in ("for", "(", "kg", "lb"):
            behind = row.token(index + used)
            ahead = behind is not None and (behind.kind is Kind.NUMBER or behind.mark(":="))
            rows[-1] = rows[-1] if ahead else (name, rows[-1][1])
            division, index = (name if ahead else ""), index + used
            end = end if ahead else index
        elif used:
            division, index = name, index + used
        elif token.kind is Kind.NUMBER:
            values, after, told = _values(row, index, commas)
            if len(values) < LEAST_ROUNDS or (rows and len(values) != len(rows[0][1])):
                break
            rows.append((division, values))
            unit, division, index = told or unit, "", after
            index += row.token(index) is not None and row.tokens[index].mark(")]")
            end = index
        elif token.mark("(),/|:@[;") or token.low in BEFORE_ROWS:
            index += 1
        else:
            break
    loads = [(name, values) for name, values in rows if _of_one_bar(values)]
    if not rows or not unit or len(loads) < len(rows):
        return (), at
    turns = range(len(rows[0][1]))
    return tuple(Sizes(at, end, _amounts(loads, turn, unit)) for turn in turns), end


def _values(row: WordRow, at: int, commas: bool) -> tuple[list[tuple[float, ...]], int, str]:
    """Return the numbers of a row, also in pairs of men and women, where it ends, and its unit if that is said."""
    values: list[tuple[float, ...]] = []
    index, unit = at, ""
    while row.number_at(index) and not (values and next_age(row.tokens, index, ANY_AGE)[1]):
        one = [row.tokens[index].number]
        index += 1
        while row.number_at(index + 1) and row.tokens[index].mark("/"):
            one.append(row.tokens[index + 1].number)
            index += 2
        token = row.token(index)
        if token is not None and token.unit("kg", "lb"):
            unit, index = token.name, index + 1
        values.append(tuple(one))
        joint = row.token(index)
        joined = joint is not None and (joint.mark("-–→") or (commas and (joint.mark(",") or joint.low == "and")))
        if not joined or not row.number_at(index + 1):
            break
        index += 1
    alike = {len(one) for one in values}
    return (values, index, unit) if len(alike) == 1 and max(alike) <= 2 else ([], index, "")


def _of_one_bar(values: list[tuple[float, ...]]) -> bool:
    """Return whether loads rise or fall all the way, and not too far."""
    firsts = [one[0] for one in values]
    even = firsts in (sorted(set(firsts)), sorted(set(firsts), reverse=True))
    return even and max(firsts) <= MOST_APART * min(firsts)


def _amounts(rows: list[tuple[str, list[tuple[float, ...]]]], turn: int, unit: str) -> tuple[Quantity, ...]:
    return tuple(Quantity(value, unit, name) for name, values in rows for value in values[turn])


def joined(rows: list[tuple[Sizes, ...]]) -> tuple[Sizes, ...]:
    """Return rows of men and of women, told apart, as one; none where they are not equally long."""
    if not rows or any(len(row) != len(rows[0]) for row in rows):
        return ()
    return tuple(
        replace(sizes[0], amounts=tuple(a for one in sizes for a in one.amounts))
        for sizes in zip(*rows, strict=True)
    )
