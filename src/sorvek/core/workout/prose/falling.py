"""Counts that fall by a step that is told: “10 thrusters, 100 m run, each round one thruster less, down to one”."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise, takewhile

from sorvek.core.workout import tree as w
from sorvek.core.workout.prose.bounding import ask
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import LONGEST_DOUBT, Node, Said, means
from sorvek.core.workout.prose.headings import Section
from sorvek.core.workout.prose.rungs import period
from sorvek.core.workout.prose.words import Kind, Token, vocabulary

EACH = {"round", "rung", "set", "time"}
MOST_ROUNDS = 50
LEAST_LISTED = 3  # rounds; so many make clear how it goes on
LIMITS = {"to", "until", "till", "last", "final"}


@dataclass(frozen=True, slots=True)
class Fall:
    """Where a clause begins that says how counts fall, its steps with the movements named, and its last counts."""

    sentence: int
    lo: int
    steps: tuple[tuple[int, str], ...]
    ends: tuple[int, ...]


def fall(draft: Draft) -> None:
    """Write rounds whose counts are told to fall; ask where it is not clear by how much, or to what."""
    told = next((found for number, said in enumerate(draft.said) if (found := _fall(number, said))), None)
    if told is None:
        return
    body, said = draft.builder.body, draft.said[told.sentence]
    lines = [node for node in body if node.work and not _of(node, told)]
    between = body[body.index(lines[0]) : body.index(lines[-1]) + 1] if lines else []
    rungs = period(lines)
    rounds = _rounds(rungs, told) if lines == between else []
    if not rounds:
        ask(
            draft,
            f"{said.text()[:LONGEST_DOUBT]}: by how much do the counts fall, and to what?",
            said.sentence.tokens,
        )
        return
    at, tokens = body.index(lines[0]), [token for line in lines[len(rungs[0]) :] for token in line.tokens]
    tokens += said.sentence.tokens[told.lo :]
    rest = [node for node in body if node not in lines and not _of(node, told)]
    words = {token.start for token in said.sentence.tokens[told.lo :]}
    rest = [n for n in rest if not (isinstance(n.block, w.Doubt) and {token.start for token in n.tokens} <= words)]
    body[:] = [*rest[:at], *_written(rungs[0], rounds, tokens), *rest[at:]]
    draft.builder.etc, said.used = False, True
    draft.builder.steps.clear()


def _of(node: Node, told: Fall) -> bool:
    """Return whether a line of work was read from the clause itself."""
    return node.sentence == told.sentence and node.work is not None and node.work.lo >= told.lo


def _fall(number: int, said: Said) -> Fall | None:
    """Return what a sentence says of how counts fall from round to round."""
    tokens = said.sentence.tokens
    falls = next((i for i, token in enumerate(tokens) if _falls(tokens, i)), None)
    each = [i for i, token in enumerate(tokens) if token.cue("each_round") and _each(token)]
    if falls is None or not each or said.sentence.section not in (Section.WORK, Section.STORY):
        return None
    lo = min(falls, each[0])
    while lo and not tokens[lo - 1].mark(",.;:–—"):
        lo -= 1
    limit = next((i for i in range(lo, len(tokens)) if tokens[i].low in LIMITS), len(tokens))
    numbers = [i for i in range(lo, len(tokens)) if tokens[i].kind is Kind.NUMBER]
    steps = [(int(tokens[i].number) * _sign(tokens, i), _named(tokens, i)) for i in numbers if i < limit]
    ends = [int(tokens[i].number) for i in numbers if i > limit]
    return Fall(number, lo, tuple(steps), tuple(ends))


def _falls(tokens: Sequence[Token], at: int) -> bool:
    """Return whether a word says that counts fall: “less”, “taking off”, “decreasing by”."""
    taken = tokens[at].low == "off" and any(t.low.startswith(("take", "taking", "drop")) for t in tokens[:at])
    return taken or tokens[at].low in vocabulary("falling")


def _each(token: Token) -> bool:
    return bool(EACH & set(token.low.split()))


def _sign(tokens: Sequence[Token], at: int) -> int:
    """Return −1 where a number says what is done more: “one pull-up less and one squat more”, “add one climb”."""
    behind = list(takewhile(lambda token: token.kind is not Kind.NUMBER, tokens[at + 1 :]))
    more = any(token.low == "more" for token in behind) or (at > 0 and tokens[at - 1].cue("adding"))
    return -1 if more else 1


def _named(tokens: Sequence[Token], at: int) -> str:
    """Return the movement behind a number, nothing if none is named."""
    ahead = next((token for token in tokens[at + 1 : at + 3] if token.kind is Kind.MOVEMENT), None)
    return ahead.name if ahead is not None else ""


def _rounds(rungs: Sequence[Sequence[Node]], told: Fall) -> list[list[int]]:
    """Return the counts of every line (rounds, lines); none where the clause and the rungs do not fit."""
    works = [node.work for node in rungs[0] if node.work]
    firsts = [work.counts[0] if len(work.counts) == 1 else 0 for work in works]
    steps = [_step(work.movement, work.unit, told.steps) for work in works]
    moving = [i for i, step in enumerate(steps) if step]
    if 0 in firsts or not moving or len(told.ends) not in (1, len(moving)):
        return []
    ends = dict(zip(moving, told.ends * (len(moving) if len(told.ends) == 1 else 1), strict=True))
    times = {divmod(ends[i] - firsts[i], -steps[i]) for i in moving}
    count, left = times.pop() if len(times) == 1 else (0, 1)
    if left or not 0 < count < MOST_ROUNDS:
        return []
    rounds = [[first - turn * step for first, step in zip(firsts, steps, strict=True)] for turn in range(count + 1)]
    listed = [[node.work.counts[0] for node in rung if node.work and node.work.counts] for rung in rungs]
    return rounds if rounds[: len(listed)] == listed else []


def _step(movement: str, unit: str, steps: Sequence[tuple[int, str]]) -> int:
    """Return by how much a line falls: by its own step, or by the only one where none names a movement."""
    own = [step for step, name in steps if name and means(name, movement)]
    bare = [step for step, name in steps if not name]
    return own[0] if own else bare[0] if len(bare) == len(steps) == 1 and not unit else 0


def _written(rung: Sequence[Node], rounds: Sequence[Sequence[int]], tokens: list[Token]) -> list[Node]:
    """Return the rounds as a series where all counts that fall are the same, else line by line."""
    columns = [tuple(column) for column in zip(*rounds, strict=True)]
    falling = {column for column in columns if column[0] != column[-1]}
    if len(falling) == 1:
        for node, column in zip(rung, columns, strict=True):
            node.rising = column in falling
        series = falling.pop()
        even = {a - b for a, b in pairwise(series)} == {1}
        block = w.Ladder(series[0], 0, (series[-1],), ()) if even else w.Series(series, ())
        return [Node(tokens, block, inner=list(rung))]
    lines: list[Node] = []
    for turn, counts in enumerate(rounds):
        for node, count in zip(rung, counts, strict=True):
            assert node.work is not None
            lines.append(
                replace(node, tokens=[] if turn else [*node.tokens], work=replace(node.work, counts=(count,)))
            )
    lines[0].tokens += tokens
    return lines
