"""How much work a workout may hold: counted on the tree, before anything is unrolled."""

from collections.abc import Sequence
from itertools import pairwise
from typing import NamedTuple

from sorvek.core.errors import InfeasibleError
from sorvek.core.workout import tree as w

# Measured: a plan of so much takes some two seconds, longer ones more than anybody waits.
MAX_STRETCHES = 600
MAX_REPS = 20_000
MAX_SET_REPS = 5_000
MAX_SLOTS = 40
MAX_RUNGS = 1_000


class Amount(NamedTuple):
    """Work counted: visits to a movement, reps, and those of them that are done in sets."""

    stretches: int
    reps: int
    set_reps: int

    def times(self, count: int) -> "Amount":
        """Return the work of `count` repetitions."""
        return Amount(*(count * part for part in self))

    def plus(self, other: "Amount") -> "Amount":
        """Return both together."""
        return Amount(*(a + b for a, b in zip(self, other, strict=True)))


NOTHING = Amount(0, 0, 0)


def _refuse(what: str, most: int, remedy: str) -> InfeasibleError:
    return InfeasibleError(f"{what}; at most {most:,} can be planned. {remedy}")


def _counts(block: w.Series | w.Ladder) -> tuple[int, ...]:
    """Return the counts of a finite series or ladder.

    Raises: InfeasibleError if a ladder has more than `MAX_RUNGS` rungs.
    """
    if isinstance(block, w.Series):
        return block.counts
    rungs = 1 + sum(abs(b - a) for a, b in pairwise((block.first, *block.turns)))
    if rungs > MAX_RUNGS:
        raise _refuse(f"a ladder of {rungs:,} rungs", MAX_RUNGS, "Shorten it.")
    return block.counts()


def measure(workout: w.Workout, body: Sequence[w.Block], rungs: Sequence[int] = (0,)) -> Amount:
    """Return the work of blocks done once on each of the `rungs` of the series or ladder around them.

    Raises: InfeasibleError if a ladder has more than `MAX_RUNGS` rungs.
    """
    found = NOTHING
    for block in body:
        match block:
            case w.Item():
                found = found.plus(_of_item(workout, block, rungs))
            case w.Series() | w.Ladder():
                found = found.plus(measure(workout, block.body, _counts(block)).times(len(rungs)))
            case w.Every():
                found = found.plus(measure(workout, block.body, rungs).times(block.count))
            case w.Rounds():
                found = found.plus(measure(workout, block.body, rungs).times(max(1, block.count)))
            case _:
                found = found.plus(measure(workout, w.body_of(block), rungs))
    return found


def _of_item(workout: w.Workout, item: w.Item, rungs: Sequence[int]) -> Amount:
    """Return the work of one line on all rungs; it is left out where none of its count is left."""
    if item.count == w.RISING:
        counts = [reps for rung in rungs if (reps := max(0, item.times * rung + item.more))]
    else:
        counts = [max(item.counts, default=item.count)] * len(rungs)
    steady = all(style.steady for style in workout.library.movements[item.movement].styles)
    return Amount(len(counts), sum(counts), 0 if steady else sum(counts))


def check_amount(amount: Amount) -> None:
    """Refuse more work than can be planned.

    Raises: InfeasibleError naming what is too much, the limit and the remedy.
    """
    for number, most, what in (
        (amount.reps, MAX_REPS, "reps"),
        (amount.set_reps, MAX_SET_REPS, "reps done in sets"),
        (amount.stretches, MAX_STRETCHES, "stretches of work (rounds times movements)"),
    ):
        if number > most:
            raise _refuse(f"the workout asks for {number:,} {what}", most, "Shorten it, or write it in parts.")


def check_limits(workout: w.Workout) -> None:
    """Refuse a workout that holds more than can be planned.

    Raises: InfeasibleError naming what is too much, the limit and the remedy.
    """
    check_amount(measure(workout, workout.body))
    unlike = {(i.movement, i.size, i.unit, i.side) for i in _all_items(workout.body)}
    if len(unlike) > MAX_SLOTS:
        raise _refuse(f"the workout has {len(unlike)} movements and loads", MAX_SLOTS, "Write it in parts.")


def _all_items(body: Sequence[w.Block]) -> list[w.Item]:
    return [
        item for block in body for item in ([block] if isinstance(block, w.Item) else _all_items(w.body_of(block)))
    ]
