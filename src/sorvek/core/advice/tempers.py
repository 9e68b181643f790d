"""The temperaments side by side: one athlete's plan to be calculated, paced or on the attack."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from functools import partial

from sorvek.core.advice.briefing import Briefing, brief
from sorvek.core.plan import Phase, Plan, shorthand
from sorvek.core.planner import Temper, plan_workout
from sorvek.core.simulation import Problem

# Applies a function to temperaments, one by one or side by side.
Run = Callable[[Callable[[Temper], "TemperResult"], Iterable[Temper]], Iterable["TemperResult"]]
# Beside a steady plan that stands already the others need a seventh of a search: with a third they win 0.05 % more.
EFFORT = 0.15
SHOWN_MOVEMENTS = 3


@dataclass(frozen=True, slots=True)
class TemperResult:
    """A temperament's plan for an athlete: its briefing, and what it does unlike the steady one, in words."""

    temper: Temper
    briefing: Briefing
    difference: str


def difference(problem: Problem, plan: Plan, steady: Plan) -> str:
    """Return what a plan does unlike the steady one, movement by movement."""
    told = [
        f"{slot.said}: {shorthand(own)} for {shorthand(there)}"
        for slot, own, there in zip(problem.course.slots, plan.slots, steady.slots, strict=True)
        if own != there
    ]
    more = f"; {len(told) - SHOWN_MOVEMENTS} more" if len(told) > SHOWN_MOVEMENTS else ""
    return "; ".join(told[:SHOWN_MOVEMENTS]) + more if told else "the same sets and rests"


def compare_tempers(
    problem: Problem,
    steady: Plan,
    tempers: Sequence[Temper] = tuple(Temper),
    kept: dict[int, tuple[Phase, ...]] | None = None,
    run: Run = map,
) -> tuple[TemperResult, ...]:
    """Return the plans of temperaments beside a steady plan that was found before, with the same sets locked.

    Where the steady plan answers a temperament's question better it is that temperament's plan as well. `run` may
    do them side by side, as the `map` of a pool of threads does: the searches share nothing that they change.
    Raises: SetsError if a locked scheme does not fit its movement.
    """
    return tuple(run(partial(_result, problem, steady, kept), tempers))


def _result(
    problem: Problem, steady: Plan, kept: dict[int, tuple[Phase, ...]] | None, temper: Temper
) -> TemperResult:
    if temper is Temper.STEADY:
        return TemperResult(temper, brief(problem, steady), "")
    plan = plan_workout(problem, kept, effort=EFFORT, temper=temper, rival=steady).plan
    return TemperResult(temper, brief(problem, plan), difference(problem, plan, steady))
