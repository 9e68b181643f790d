"""Lines that hold several are put on lines of their own: rounds before an AMRAP, minutes in turn, the clock."""

from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise

from sorvek.core.workout.prose.divisions import division_at
from sorvek.core.workout.prose.lines import TextLine
from sorvek.core.workout.prose.words import Kind, Token

LEAST_CLOCKS = 2
TURNS = {"alternate", "alternates", "alternating"}
MOST_BEFORE = 2  # words between a count and its movement


def split_lines(lines: Sequence[TextLine]) -> list[TextLine]:
    """Return lines of which each holds one thing."""
    found: list[TextLine] = []
    for line in lines:
        splits = (_levels, _rounds_and_amrap, _turns, _clocks)
        pieces = next((split for one in splits if (split := one(line.tokens))), [line.tokens])
        found += [replace(line, tokens=piece, gap=line.gap and not at) for at, piece in enumerate(pieces)]
    return found


def _levels(tokens: Sequence[Token]) -> list[list[Token]]:
    """Return what levels do that are told side by side, “RX: 21-15-9 … | SCALED: 21-15-9 …”."""
    strokes = [i for i, token in enumerate(tokens) if token.mark("|")]
    begins = [0, *(stroke + 1 for stroke in strokes)]
    if not strokes or not all(_headed(tokens, at) for at in begins):
        return []
    return [list(tokens[a:b]) for a, b in zip(begins, [*strokes, len(tokens)], strict=True)]


def _headed(tokens: Sequence[Token], at: int) -> bool:
    """Return whether a level and a colon stand here."""
    used = division_at(tokens, at)[1] if at < len(tokens) and tokens[at].cue("level") else 0
    return bool(used) and at + used < len(tokens) and tokens[at + used].mark(":")


def _rounds_and_amrap(tokens: Sequence[Token]) -> list[list[Token]]:
    """Return the rounds before an AMRAP and the rest: “5 rounds: AMRAP 2:00 of …”, “5 sets of AMRAP 2 min”."""
    at = next((i for i, token in enumerate(tokens[:4]) if token.cue("amrap")), 0)
    joined = all(token.mark(":-–—,") or token.low in ("of", "x", "each") for token in tokens[2:at])
    rounds = at > 1 and tokens[0].kind is Kind.NUMBER and tokens[1].cue("rounds", "set") and joined
    if not rounds or not any(token.kind is Kind.MOVEMENT for token in tokens[at:]):
        return []
    counted = replace(tokens[1], text="rounds", name="rounds")
    colon = Token(Kind.MARK, ":", counted.end, counted.end)
    return [[tokens[0], counted, colon], list(tokens[at:])]


def _turns(tokens: Sequence[Token]) -> list[list[Token]]:
    """Return an EMOM whose minutes have work in turn, and each: “EMOM 12, alternating 12 swings and 10 burpees”."""
    if not (any(token.cue("emom") for token in tokens) and TURNS & {token.low for token in tokens}):
        return []
    begins = [at for at in range(1, len(tokens)) if _begins_work(tokens, at)]
    joints = [tokens[at - 1] for at in begins[1:]]
    if len(begins) < LEAST_CLOCKS or not all(joint.low == "and" or joint.mark("/,;") for joint in joints):
        return []
    ends = [begins[0], *(begin - 1 for begin in begins[1:]), len(tokens)]
    works = [list(tokens[begin:end]) for begin, end in zip(begins, ends[1:], strict=True)]
    head = [token for token in tokens[: begins[0]] if token.low != "between"]
    return [head, *works]


def _begins_work(tokens: Sequence[Token], at: int) -> bool:
    """Return whether a count stands here, right before its movement, that is no load."""
    ahead = tokens[at + 1 : at + 2 + MOST_BEFORE]
    named = next((i for i, token in enumerate(ahead) if token.kind is Kind.MOVEMENT), None)
    return tokens[at].kind is Kind.NUMBER and named is not None and not any(t.unit("min") for t in ahead[:named])


def _clocks(tokens: Sequence[Token]) -> list[list[Token]]:
    """Return stretches of the clock that follow each other: “from 0:00 to 3:00 do …, from 3:00 to 6:00 do …”."""
    begins = [i for i in range(len(tokens) - 3) if _clocked(tokens[i : i + 4])]
    joined = all(tokens[a + 3].number == tokens[b + 1].number for a, b in pairwise(begins))
    if len(begins) < LEAST_CLOCKS or not joined:
        return []
    ends = [0, *(begin for begin in begins if begin), len(tokens)]
    return [list(tokens[a:b]) for a, b in pairwise(ends)]


def _clocked(tokens: Sequence[Token]) -> bool:
    """Return whether words are “from 3:00 to 6:00”."""
    word, start, joint, end = tokens
    clocks = start.kind is end.kind is Kind.CLOCK and start.number < end.number
    return clocks and word.low == "from" and joint.low in ("to", "till", "until")
