"""How much work a workout may hold: counted on the tree, before anything is unrolled."""

from collections.abc import Sequence
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


def _rungs(block: w.Series | w.Ladder) -> tuple[int, int]:
    """Return how many rungs a finite series or ladder has, and the sum of their counts."""
    if isinstance(block, w.Series):
        return len(block.counts), sum(block.counts)
    rungs, total, at = 1, block.first, block.first
    for turn in block.turns:
        steps = abs(turn - at)
        # The arithmetic series from the count after `at` to `turn`.
        rungs, total = rungs + steps, total + steps * (at + turn + (1 if turn > at else -1)) // 2
        at = turn
    return rungs, total


def measure(workout: w.Workout, body: Sequence[w.Block], count: int = 0) -> Amount:
    """Return the work of one pass through blocks; `count` is the rung they stand on.

    Raises: InfeasibleError if a ladder has more than `MAX_RUNGS` rungs.
    """
    found = NOTHING
    for block in body:
        match block:
            case w.Item():
                told = max(block.counts, default=block.count)
                reps = block.times * count + block.more if block.count == w.RISING else told
                steady = all(style.steady for style in workout.library.movements[block.movement].styles)
                found = found.plus(Amount(1, reps, 0 if steady else reps))
            case w.Series() | w.Ladder():
                rungs, total = _rungs(block)
                if rungs > MAX_RUNGS:
                    raise _refuse(f"a ladder of {rungs:,} rungs", MAX_RUNGS, "Shorten it.")
                inner = measure(workout, block.body)
                # What rises is counted by the sum of the rungs, what stands beside it by their number.
                rising = measure(workout, block.body, 1)
                found = found.plus(Amount(inner.stretches * rungs, *_climbed(inner, rising, rungs, total)))
            case w.Every():
                found = found.plus(measure(workout, block.body, count).times(block.count))
            case w.Rounds():
                found = found.plus(measure(workout, block.body, count).times(max(1, block.count)))
            case _:
                found = found.plus(measure(workout, w.body_of(block), count))
    return found


def _climbed(inner: Amount, rising: Amount, rungs: int, total: int) -> tuple[int, int]:
    reps = inner.reps * rungs + (rising.reps - inner.reps) * total
    set_reps = inner.set_reps * rungs + (rising.set_reps - inner.set_reps) * total
    return reps, set_reps


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
