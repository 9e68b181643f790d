"""Minutes and seconds of lines put the usual way: what an EMOM does in which minute, primes and strokes."""

from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise

from sorvek.core.workout.prose.lines import TextLine
from sorvek.core.workout.prose.words import MOST, Kind, Token, ordinal

TIMES = {"time", "duration", "window", "limit"}
MINUTE_S = 60
LEAST_TOLD = 2
LETTERS = "ABCDEF"


def fill_minutes(lines: Sequence[TextLine]) -> None:
    """Say that what is done as often as possible fills the minute: “EMOM 10: 10 wall balls + max double-unders”."""
    for line in lines:
        tokens = line.tokens
        ends = [i for i, token in enumerate(tokens) if i + 1 == len(tokens) or tokens[i + 1].mark(".")]
        last = next((i for i in ends if tokens[i].kind is Kind.MOVEMENT), 0)
        before = [token.low for token in tokens[max(0, last - 3) : last]]
        most = any(low in MOST or low.startswith("max") for low in before)
        if last and most and "+" in before and any(token.cue("emom") for token in tokens):
            end = tokens[last].end
            tokens.insert(last + 1, Token(Kind.CUE, "remaining time", end, end, name="remaining"))


def prime_minutes(lines: Sequence[TextLine]) -> None:
    """Read a prime behind a word of time as minutes, “Time: 10'”, and “Attempts: max 4” as “4 attempts”."""
    for line in lines:
        tokens = line.tokens
        for at in range(len(tokens) - 3):
            timed = tokens[at].low in TIMES and tokens[at + 1].mark(":=") and tokens[at + 2].kind is Kind.NUMBER
            if timed and tokens[at + 3].unit("ft") and tokens[at + 3].text in ("'", "’", "′"):
                tokens[at + 3] = replace(tokens[at + 3], name="min")
            tried = tokens[at].low in ("attempts", "tries") and tokens[at + 1].mark(":=")
            number = at + 3 if tokens[at + 2].low.startswith("max") else at + 2
            if tried and tokens[number].kind is Kind.NUMBER:
                tokens[at : number + 1] = [tokens[number], tokens[at]]
                break


def second_marks(lines: Sequence[TextLine]) -> None:
    """Read two strokes behind a number as seconds where work or rest is timed so: “30" max pull-ups”, “20" rest."""
    timed = [(line, at) for line in lines for at in range(1, len(line.tokens)) if _times(line.tokens, at)]
    if any(line.tokens[at + 1 : at + 2] and line.tokens[at + 1].cue("rest") for line, at in timed):
        for line, at in timed:
            line.tokens[at] = replace(line.tokens[at], name="s")


def _times(tokens: Sequence[Token], at: int) -> bool:
    """Return whether two strokes stand between a number and what is done or rested."""
    ahead = tokens[at + 1 : at + 2]
    inch = tokens[at].unit("in") and tokens[at].text in ('"', "”", "″") and tokens[at - 1].kind is Kind.NUMBER
    doing = bool(ahead) and (ahead[0].cue("rest") or ahead[0].low in (*MOST, "max", "work", "on", "off"))
    return inch and doing


def rounds_of_minutes(lines: Sequence[TextLine]) -> None:
    """Read an EMOM of seconds of work and of rest that fill the minute as rounds: “EMOM 10: 40 s, 20 s rest”."""
    tokens = [token for line in lines for token in line.tokens]
    seconds = [a.number for a, b in pairwise(tokens) if a.kind is Kind.NUMBER and b.unit("s")]
    begins = [
        (line.tokens, at) for line in lines for at in range(len(line.tokens)) if _each_minute(line.tokens, at)
    ]
    if len(begins) != 1 or len(seconds) != LEAST_TOLD or sum(seconds) != MINUTE_S:
        return
    row, at = begins[0]
    count = next((i for i in range(max(0, at - 3), min(at + 4, len(row))) if _minutes_of(row, i)), None)
    if count is None:
        return
    first, last = min(at, count), max(at, count)
    last += last + 1 < len(row) and row[last + 1].unit("min")
    end, behind = row[last].end, row[last + 1 :]
    told = [row[count], Token(Kind.CUE, "rounds", end, end, name="rounds"), Token(Kind.MARK, ":", end, end)]
    row[:] = [*row[:first], *told, *(behind[1:] if behind and behind[0].mark(":") else behind)]


def _each_minute(row: Sequence[Token], at: int) -> bool:
    """Return whether “EMOM” or “every minute” stands here."""
    return row[at].cue("emom") or (
        row[at].cue("every") and [token.low for token in row[at + 1 : at + 2]] == ["minute"]
    )


def _minutes_of(row: Sequence[Token], at: int) -> bool:
    """Return whether a number stands here that is no seconds."""
    behind = row[at + 1 : at + 2]
    return row[at].kind is Kind.NUMBER and not (behind and behind[0].unit("s"))


def number_minutes(lines: Sequence[TextLine]) -> None:
    """Name the minutes of an EMOM told by their order alone: “1st: 15 cal row”, “2. 12 toes-to-bar”, “B: rest”."""
    emom = [line for line in lines if any(token.cue("emom") for token in line.tokens)]
    heads = [(line, place) for line in lines if (place := _place(line.tokens))]
    in_turn = [place for _, place in heads] == list(range(1, len(heads) + 1)) and len(heads) > 1
    if len(emom) != 1 or not in_turn or any(line is emom[0] for line, _ in heads):
        return
    for line, place in heads:
        first, mark = line.tokens[:2]
        minute = Token(Kind.WORD, "minute", first.start, first.start)
        number = replace(first, kind=Kind.NUMBER, number=float(place))
        line.tokens[:2] = [minute, number, replace(mark, text=":")]


def _place(tokens: Sequence[Token]) -> int:
    """Return the place a line of work or rest begins with, “2nd:”, “2.” or “B)”; 0 for none."""
    works = any(token.kind is Kind.MOVEMENT or token.cue("rest") for token in tokens[2:])
    if len(tokens) <= LEAST_TOLD or not tokens[1].mark(":.)-–—") or not works:
        return 0
    letter = tokens[0].text in LETTERS and LETTERS.index(tokens[0].text) + 1
    number = int(tokens[0].number) if tokens[0].kind is Kind.NUMBER else 0
    return ordinal(tokens[0].low) or letter or number
