"""What a rep measures, put the usual way: “run 4 x 10 m”, “(1 shuttle = 25 ft)”, “in 5 m sections”."""

from collections.abc import Sequence
from dataclasses import replace

from sorvek.core.workout.prose.lines import TextLine
from sorvek.core.workout.prose.words import Kind, Token, vocabulary

SECTIONS = {"section", "sections", "segment", "segments", "stretch", "stretches", "length", "lengths"}
LEAST_SIZED = 3  # words of “in 5 m sections” before the last
ONE = {"one", "each", "every", "a"}


def turn_ways(lines: Sequence[TextLine]) -> None:
    """Put number and length before a run there and back: “shuttle run (4 x 10 m)” is “4 x 10 m shuttle run”."""
    for line in lines:
        name, rest = line.tokens[0], [token for token in line.tokens[1:] if not token.mark("():,–-")]
        told = len(rest) == 4 and rest[0].kind is rest[2].kind is Kind.NUMBER and rest[3].unit("m")
        if told and rest[1].low in ("x", "×") and name.kind is Kind.MOVEMENT and name.name == "shuttle run":
            line.tokens[:] = [*rest, name]


def name_sections(lines: Sequence[TextLine]) -> None:
    """Say what a section that is a rep measures: “in 5 m sections (1 section = 1 rep)” is “(5 m = 1 rep)”."""
    sized = [
        line.tokens[at - 2 : at]
        for line in lines
        for at in range(2, len(line.tokens))
        if line.tokens[at].low in SECTIONS
        and line.tokens[at - 1].unit("m", "ft")
        and line.tokens[at - 2].kind is Kind.NUMBER
    ]
    if len({token.number for token, _ in sized}) != 1:
        return
    for line in lines:
        tokens = line.tokens
        named = False
        for at in reversed(range(1, len(tokens) - 1)):
            one = tokens[at - 1].low in ONE or tokens[at - 1].number == 1
            if tokens[at].low in SECTIONS and one and tokens[at + 1].low in vocabulary("valued"):
                tokens[at - 1 : at + 1], named = sized[0], True
            elif named and tokens[at].low in SECTIONS and at > LEAST_SIZED and tokens[at - 3].low == "in":
                del tokens[at - 3 : at + 1]
        last = [token.low for token in tokens[-2:]]
        if SECTIONS & set(last) and any(token.cue("score") for token in tokens):  # “Score is completed lengths.”
            end = tokens[-1]
            value = [(Kind.MARK, "(", 0.0), (Kind.WORD, "=", 0.0), (Kind.NUMBER, "1", 1.0), (Kind.WORD, "rep", 0.0)]
            words = [Token(kind, text, end.end, end.end, number) for kind, text, number in value]
            tokens += [words[0], *sized[0], *words[1:]]


def name_reps(lines: Sequence[TextLine]) -> None:
    """Read “(1 shuttle = 25 ft out and back)”, “one shuttle is 10 m” as what a rep is, not as one more of them."""
    for line in lines:
        tokens = line.tokens
        for at in range(1, len(tokens) - 3):
            one = tokens[at - 1].kind is Kind.NUMBER and tokens[at - 1].number == 1
            one = one and (at == 1 or tokens[at - 2].mark("("))
            equal = tokens[at + 1].mark("=") or tokens[at + 1].low == "is"
            length = tokens[at + 2].kind is Kind.NUMBER and tokens[at + 3].unit("m", "ft")
            if one and equal and length and tokens[at].kind is Kind.MOVEMENT:
                tokens[at] = replace(tokens[at], kind=Kind.WORD, text="rep", name="")
