"""Brackets that hold what one level does, where that is told once: “Scaled: in brackets”."""

from collections.abc import Sequence

from sorvek.core.workout.prose.divisions import PLAIN, division_at
from sorvek.core.workout.prose.lines import Sentence
from sorvek.core.workout.prose.words import Kind, Token

BRACKETS = {"brackets", "bracket", "parentheses"}


def name_brackets(sentences: Sequence[Sentence]) -> None:
    """Put the level into every bracket of its own kind: “9 thrusters 40/30 kg [30/20 kg]”."""
    told = next((name for one in sentences if (name := _level_in_brackets(one))), [])
    square = any(token.mark("[") for one in sentences for token in one.tokens)
    for one in sentences if told else ():
        counted = one.tokens[0].kind is Kind.NUMBER and one.bullet | one.first
        at = next((i for i, token in enumerate(one.tokens) if token.mark("[" if square else "(")), None)
        if counted and at is not None:
            here = one.tokens[at].end
            name = [Token(t.kind, t.text, here, here, t.number, t.name) for t in told]
            one.tokens[at + 1 : at + 1] = [*name, Token(Kind.MARK, ":", here, here)]


def _level_in_brackets(sentence: Sentence) -> list[Token]:
    """Return the words of the level that a sentence says to be in brackets, none if it says nothing of it."""
    tokens = [*sentence.lead, *sentence.tokens]
    name, used = division_at(tokens, 0)
    lows = [token.low for token in tokens[used:]]
    return tokens[:used] if name not in PLAIN and "in" in lows and BRACKETS & {*lows} else []
