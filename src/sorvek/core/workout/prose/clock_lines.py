"""Stretches of the clock put the usual way: “From 0 to 5: …”, “At 8:00 rest 2 minutes”."""

from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise

from sorvek.core.workout.prose.lines import TextLine
from sorvek.core.workout.prose.words import Kind, Token

LEAST_REST = 4  # words of “At 8:00 rest 2 minutes” before its unit
UNTIL = {"before", "until", "till"}
SHOWN = [["the", "clock", verb] for verb in ("shows", "reads", "hits", "says")]


def clock_ranges(lines: Sequence[TextLine]) -> None:
    """Read lines that follow each other from 0 on by the clock, “From 0 to 5: …”, “5-10: …”, as minutes."""
    heads = [(line, found) for line in lines if (found := _range(line.tokens))]
    joined = all(one[1].number == two[0].number for (_, one), (_, two) in pairwise(heads))
    if len(heads) > 1 and joined and heads[0][1][0].number == 0:
        for line, (start, end, colon) in heads:
            dash = Token(Kind.MARK, "-", start.end, start.end)
            minutes = Token(Kind.UNIT, "min", end.end, end.end, name="min")
            line.tokens[: line.tokens.index(colon)] = [start, dash, end, minutes]


def clock_rests(lines: Sequence[TextLine]) -> None:
    """Read “At 8:00 rest 2 minutes” as the stretch of the clock it takes: “8:00 - 10:00 rest”."""
    for line in lines:
        tokens = line.tokens
        told = len(tokens) > LEAST_REST and tokens[0].low == "at" and tokens[1].kind is Kind.CLOCK
        at = next((i for i, token in enumerate(tokens[2:4], 2) if told and token.cue("rest")), 0)
        time = tokens[at + 1 : at + 3] if at else []
        if len(time) > 1 and time[0].kind is Kind.NUMBER and time[1].unit("min", "s"):
            end, unit = time
            end_s = tokens[1].number + end.number * (60 if unit.unit("min") else 1)
            dash = Token(Kind.MARK, "-", tokens[1].end, tokens[1].end)
            until = Token(Kind.CLOCK, f"{end_s:g}", end.start, unit.end, end_s)
            tokens[: at + 3] = [tokens[1], dash, until, tokens[at]]


def until_shown(lines: Sequence[TextLine]) -> None:
    """Read “from 0:00, before the clock shows 8:00, …” as a stretch of the clock."""
    for line in lines:
        tokens = line.tokens
        for at in reversed(range(len(tokens) - 6)):
            start, comma, joint, *clock, end = tokens[at : at + 7]
            shown = [token.low for token in clock] in SHOWN and end.kind is Kind.CLOCK
            if start.kind is Kind.CLOCK and comma.mark(",") and joint.low in UNTIL and shown:
                tokens[at + 1 : at + 6] = [replace(comma, text="-")]


def _range(tokens: Sequence[Token]) -> tuple[Token, Token, Token] | None:
    """Return both numbers a line begins with, “From 0 to 5:” or “0-5 min:”, and the colon behind them."""
    first = 1 if tokens[0].low == "from" else 0
    head, rest = tokens[first : first + 3], tokens[first + 3 : first + 5]
    colon = next((token for token in rest if token.mark(":")), None)
    if colon is None or not (rest[0] is colon or rest[0].unit("min")):
        return None
    start, joint, end = head
    joined = joint.mark("-–") or joint.low in ("to", "till", "until")
    if not joined or not start.kind is end.kind is Kind.NUMBER or start.number >= end.number:
        return None
    return start, end, colon
