"""Counts of men and women in one line: “21/17-15/12-9/7 cal row”, “21-15-9 (men) / 17-12-7 (women)”."""

from collections.abc import Sequence
from dataclasses import replace

from sorvek.core.workout.prose.lines import TextLine
from sorvek.core.workout.prose.words import Kind, Token

LEAST_TURNS = 3  # two pairs may be loads: “60/42-80/55”


def split_pairs(lines: Sequence[TextLine]) -> list[TextLine]:
    """Return lines with the women's series on a line of its own, behind it the movement if the line names one."""
    found: list[TextLine] = []
    for line in lines:
        men, women = _by_turns(line.tokens) or _by_names(line.tokens) or (_joined(line.tokens), [])
        found.append(replace(line, tokens=men))
        if women:
            here = women[0].start
            name = [Token(Kind.CUE, "women", here, here, name="women"), Token(Kind.MARK, ":", here, here)]
            found.append(TextLine([*name, *women], line.number, line.indent, False))
    return found


def _by_turns(tokens: list[Token]) -> tuple[list[Token], list[Token]] | None:
    """Return both series of “21/17-15/12-9/7 cal row” with what stands around them."""
    at = next((i for i in range(len(tokens)) if _pairs(tokens, i) >= LEAST_TURNS), None)
    if at is None:
        return None
    turns = _pairs(tokens, at)
    men, women = list[Token](), list[Token]()
    for turn in range(turns):
        first = at + 4 * turn
        dash = tokens[first + 3 : first + 4] if turn + 1 < turns else []
        men += [tokens[first], *dash]
        women += [tokens[first + 2], *dash]
    rest = tokens[at + 4 * turns - 1 :]
    return [*tokens[:at], *men, *rest], [*women, *_movement(rest)]


def _pairs(tokens: Sequence[Token], at: int) -> int:
    """Return how many pairs with dashes between them stand there: three for “21/17-15/12-9/7”."""
    count = 0
    while _pair(tokens, at + 4 * count):
        count += 1
        if not (at + 4 * count - 1 < len(tokens) and tokens[at + 4 * count - 1].mark("-–")):
            break
    return count


def _pair(tokens: Sequence[Token], at: int) -> bool:
    three = tokens[at : at + 3]
    return len(three) == 3 and three[0].kind is three[2].kind is Kind.NUMBER and three[1].mark("/")


def _by_names(tokens: list[Token]) -> tuple[list[Token], list[Token]] | None:
    """Return both sides of “21-15-9 cal row (men) / 17-12-7 cal row (women)”."""
    men = next((i for i in range(1, len(tokens)) if _bracketed(tokens, i, "men")), None)
    women = next((i for i in range(1, len(tokens)) if _bracketed(tokens, i, "women")), None)
    if men is None or women is None or women < men:
        return None
    inner = [token for token in tokens[men + 3 : women] if not token.mark("/,;|")]
    series = sum(token.mark("-–") for token in inner) + 1 >= LEAST_TURNS and inner[0].kind is Kind.NUMBER
    if not series:
        return None
    named = any(token.kind is Kind.MOVEMENT for token in inner)
    return [*tokens[:men], *tokens[women + 3 :]], [*inner, *([] if named else _movement(tokens[:men]))]


def _bracketed(tokens: Sequence[Token], at: int, sex: str) -> bool:
    three = tokens[at : at + 3]
    return len(three) == 3 and three[0].mark("(") and three[1].cue(sex) and three[2].mark(")")


def _joined(tokens: list[Token]) -> list[Token]:
    """Return a line with both counts before its movement: “35/28 cal row” for “35 cal row / 28 for women”."""
    at = next((i for i, token in enumerate(tokens) if token.mark("/")), 0)
    head, rest = tokens[:at], tokens[at + 1 :]
    numbers = [token for token in rest if token.kind is Kind.NUMBER]
    sexed = any(token.cue("women") for token in rest) and len(numbers) == 1
    plain = all(
        token.cue("women") or token.unit("cal", "m") or token.low == "for" or token in numbers for token in rest
    )
    counted = len(head) == 3 and head[0].kind is Kind.NUMBER and head[1].unit("cal", "m")
    if not (sexed and plain and counted and head[2].kind is Kind.MOVEMENT):
        return tokens
    return [head[0], tokens[at], numbers[0], *head[1:]]


def _movement(tokens: Sequence[Token]) -> list[Token]:
    """Return the only movement of a line with its unit, nothing if there is none or another."""
    named = [token for token in tokens if token.kind is Kind.MOVEMENT]
    units = [token for token in tokens if token.unit("cal", "m")]
    return [*units[:1], named[0]] if len(named) == 1 else []
