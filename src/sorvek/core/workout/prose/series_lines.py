"""Lines that tell a series, rounds or the end of the work in another order than most: “21/15/9”, “5x for time”."""

from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise

from sorvek.core.workout.prose.lines import TextLine
from sorvek.core.workout.prose.words import REPS, Kind, Token

LEAST_RUNGS = 3
CASH_OUTS = ("cash out", "cash-out", "cashout", "buy out", "buy-out")


def dash_series(lines: Sequence[TextLine]) -> None:
    """Write counts at strokes with dashes, “21/15/9 for time”, “2/4/6/8 …”, where they are no loads."""
    for line, below in zip(lines, [*lines[1:], None], strict=False):
        strokes = _strokes(line.tokens)
        if strokes < LEAST_RUNGS:
            continue
        rest = line.tokens[2 * strokes - 1 :]
        told = bool(rest) and (rest[0].cue("etc", "for_time") or rest[0].low in REPS or rest[0].mark("…."))
        bare = all(token.mark(":.") for token in rest)
        bare = bare and below is not None and below.tokens[0].kind is Kind.MOVEMENT
        if told or bare:
            for at in range(1, 2 * strokes - 1, 2):
                line.tokens[at] = replace(line.tokens[at], text="-")


def _strokes(tokens: Sequence[Token]) -> int:
    """Return how many numbers at strokes a line begins with that rise or fall from first to last."""
    count = 0
    while 2 * count < len(tokens) and tokens[2 * count].kind is Kind.NUMBER:
        count += 1
        if 2 * count > len(tokens) or not tokens[2 * count - 1 : 2 * count] or not tokens[2 * count - 1].mark("/"):
            break
    numbers = [token.number for token in tokens[: 2 * count : 2]]
    steps = {a < b for a, b in pairwise(numbers)}
    return count if len(steps) == 1 and len(set(numbers)) == len(numbers) else 0


def minutes_of_one(lines: Sequence[TextLine]) -> None:
    """Read “7 minutes of burpees”, where nothing else is work, as an AMRAP."""
    working = [line for line in lines if any(token.kind is Kind.MOVEMENT for token in line.tokens)]
    bounded = any(token.cue("amrap", "for_time", "emom", "every") for line in lines for token in line.tokens)
    for line in working if len(working) == 1 and not bounded else ():
        tokens = [token for token in line.tokens if not token.mark(".:")]
        told = len(tokens) == LEAST_RUNGS + 1 and tokens[0].kind is Kind.NUMBER and tokens[1].unit("min")
        if told and tokens[2].low == "of" and tokens[3].kind is Kind.MOVEMENT:
            line.tokens.insert(2, Token(Kind.CUE, "AMRAP", tokens[1].end, tokens[1].end, name="amrap"))


def spread_movement(lines: Sequence[TextLine]) -> None:
    """Name the movement at every count: “as many snatches as possible: 20 at 35/25 kg, 20 at 50/35 kg, …”."""
    for line in lines:
        tokens = line.tokens
        named = [i for i, token in enumerate(tokens) if token.kind is Kind.MOVEMENT]
        counts = [i for i in range(1, len(tokens) - 2) if _at_a_load(tokens[i : i + 3])]
        opens = counts[0] - 1 if counts and tokens[counts[0] - 1].mark(":–—-") else 0
        if len(named) != 1 or len(counts) < LEAST_RUNGS - 1 or not 0 < named[0] < opens:
            continue
        if tokens[named[0] - 1].kind is Kind.NUMBER:
            continue
        one = tokens[named[0]]
        most = [i for i, token in enumerate(tokens) if i > opens and token.cue("amrap", "possible")][-1:]
        for at in most:
            tokens[at] = replace(tokens[at], kind=Kind.WORD, text="max", name="")
        for at in sorted({*counts, *most}, reverse=True):
            tokens.insert(at + 1, replace(one, text="", start=tokens[at].end, end=tokens[at].end))
        head = replace(one, kind=Kind.WORD, text="reps", name="")
        tokens[named[0]] = head


def _at_a_load(tokens: Sequence[Token]) -> bool:
    """Return whether words are “20 at 35” or “20 @ 35”."""
    return tokens[0].kind is tokens[2].kind is Kind.NUMBER and (tokens[1].low == "at" or tokens[1].mark("@"))


def times_for_time(lines: Sequence[TextLine]) -> None:
    """Read “5x for time:” as five rounds."""
    for line in lines:
        for at in range(len(line.tokens) - 2):
            number, times, form = line.tokens[at : at + 3]
            if number.kind is Kind.NUMBER and times.low in ("x", "×") and form.cue("for_time"):
                line.tokens[at + 1] = replace(times, kind=Kind.CUE, text="rounds", name="rounds")


def cash_out_first(lines: Sequence[TextLine]) -> None:
    """Put “cash out” before the work it is said of: “…, 50 double-unders cash out”."""
    for line in lines:
        tokens = line.tokens
        for at, token in enumerate(tokens):
            ends = at + 1 == len(tokens) or tokens[at + 1].mark(".,;)")
            if not (token.cue("then") and token.low in CASH_OUTS and ends):
                continue
            begins = max((i + 1 for i in range(at) if tokens[i].mark(",;.+:") or tokens[i].low == "and"), default=0)
            counted = begins < at and tokens[begins].kind is Kind.NUMBER
            if counted and sum(word.kind is Kind.MOVEMENT for word in tokens[begins:at]) == 1:
                tokens[begins : at + 1] = [token, *tokens[begins:at]]
