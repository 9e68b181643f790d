"""Levels that do as another one: “Teens: as scaled”, “Masters 55+: same as intermediate”."""

from collections.abc import Iterator, Sequence
from dataclasses import replace

from sorvek.core.workout import tree as w
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.divisions import division_at, level_of, sexed
from sorvek.core.workout.prose.draft import LONGEST_DOUBT, Node, Said
from sorvek.core.workout.prose.sizes import Quantity
from sorvek.core.workout.prose.words import Token

SEXES = {"men", "women"}
LIKE = {"as", "same", "like", "the", "see", "do", "does", "follow", "follows"}  # words between the two names


def find_alike(draft: Draft) -> None:
    """Find the levels told to do as another one; ask where nothing is told of that one."""
    named = {name for said in draft.said if not _alike(said) for name in _levels_named(said)}
    for said in draft.said:
        for name, other in _alike(said):
            said.used = True
            meant = {level for level in named if {*other.split()} <= {*level.split()}}
            if other in meant or len(meant) == 1:
                draft.facts.alike[name] = other if other in meant else meant.pop()
                draft.facts.used += [*said.sentence.lead, *said.sentence.tokens]
            else:
                words = f"{said.text()[:LONGEST_DOUBT]}: nothing is told of that level"
                draft.builder.body.append(Node(said.sentence.tokens, w.Doubt(words)))


def _alike(said: Said) -> list[tuple[str, str]]:
    """Return the level a sentence is about and the one it does as, “Teens: as scaled”; nothing if it says more."""
    lead = said.sentence.lead
    tokens = [*lead, *said.sentence.tokens] if said.sentence.first else said.sentence.tokens
    name, at = division_at(tokens, 0)
    between = _between(tokens, at)
    other, used = division_at(tokens, at + between)
    ends = not [token for token in tokens[at + between + used :] if not token.mark(".,:")]
    return [(name, other)] if level_of(name) and level_of(other) and between and ends else []


def _levels_named(said: Said) -> Iterator[str]:
    """Yield the levels a sentence names, its heading included."""
    tokens = [*said.sentence.lead, *said.sentence.tokens]
    return (level for i in range(len(tokens)) if (level := level_of(division_at(tokens, i)[0])))


def _between(tokens: Sequence[Token], at: int) -> int:
    """Return how many tokens stand between two names that are alike, 0 if other words do."""
    words: list[str] = []
    while at + len(words) < len(tokens) and (
        tokens[at + len(words)].low in LIKE or tokens[at + len(words)].mark(":–-=")
    ):
        words.append(tokens[at + len(words)].low)
    return len(words) if {"as", "like", "see", "follow", "follows"} & set(words) else 0


def of_the_other(amounts: Sequence[Quantity], alike: dict[str, str]) -> tuple[Quantity, ...]:
    """Return amounts with those of levels that do as another one behind them."""
    more = [
        replace(a, division=sexed(name, sex[0]) if (sex := [*SEXES & {*a.division.split()}]) else name)
        for name, other in alike.items()
        for a in amounts
        if a.division and {*other.split()} <= {*a.division.split()}
    ]
    return (*amounts, *more)
