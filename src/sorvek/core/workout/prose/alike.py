"""Levels that do as another one: “Teens: as scaled”, “Masters 55+: same as intermediate”."""

from collections.abc import Sequence
from dataclasses import replace

from sorvek.core.workout.prose.divisions import PLAIN, division_at
from sorvek.core.workout.prose.draft import Said
from sorvek.core.workout.prose.sizes import Quantity
from sorvek.core.workout.prose.words import Token

LIKE = {"as", "same", "like", "the", "see"}  # words between the two names


def levels_alike(said: Sequence[Said]) -> dict[str, str]:
    """Return the levels told to do as another one, with that one's name."""
    found: dict[str, str] = {}
    for one in said:
        lead = one.sentence.lead
        tokens = [*lead, *one.sentence.tokens] if one.sentence.first else one.sentence.tokens
        name, at = division_at(tokens, 0)
        between = _between(tokens, at)
        other, used = division_at(tokens, at + between)
        ends = not [token for token in tokens[at + between + used :] if not token.mark(".,:")]
        if name and other not in PLAIN and between and ends:
            found[name] = other
            one.used = True
    return found


def _between(tokens: Sequence[Token], at: int) -> int:
    """Return how many tokens stand between two names that are alike, 0 if other words do."""
    words: list[str] = []
    while at + len(words) < len(tokens) and (
        tokens[at + len(words)].low in LIKE or tokens[at + len(words)].mark(":–-=")
    ):
        words.append(tokens[at + len(words)].low)
    return len(words) if {"as", "like", "see"} & set(words) else 0


def of_the_other(amounts: Sequence[Quantity], alike: dict[str, str]) -> tuple[Quantity, ...]:
    """Return amounts with those of levels that do as another one behind them."""
    more = [
        replace(
            a, division=" ".join(sorted({*a.division.split()} - {*other.split()} | {*name.split()}, key=_place))
        )
        for name, other in alike.items()
        for a in amounts
        if a.division and {*other.split()} <= {*a.division.split()}
    ]
    return (*amounts, *more)


def _place(word: str) -> int:
    """Return where a word stands in the name of a division: level, sex, age."""
    return 2 if word[0].isdigit() else 1 if word in ("men", "women") else 0
