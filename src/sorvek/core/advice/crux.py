"""The crux: the movement that decides an athlete's score."""

from dataclasses import dataclass

import numpy as np

from sorvek.core.plan import Plan
from sorvek.core.planner import N_COLUMNS, Bench, build_menu
from sorvek.core.simulation import Problem


@dataclass(frozen=True, slots=True)
class Crux:
    """The slot that decides an athlete's score, and the longest set there."""

    slot: int
    label: str
    unbroken: float


def find_crux(problem: Problem, plan: Plan) -> Crux:
    """Return the slot on which a tenth more capacity helps most when the plan is followed.

    Raises: SetsError if the plan does not fit the course.
    """
    bench = Bench(problem, build_menu(problem), dict(enumerate(plan.slots)))
    kept = np.zeros((1, len(plan.slots), N_COLUMNS), dtype=np.int64)
    base = float(bench.evaluate(kept)[0][0])
    gains = []
    for slot in range(len(plan.slots)):
        u = problem.unbroken.copy()
        end = problem.first_variant[slot + 1] if slot + 1 < len(plan.slots) else len(u)
        own = slice(problem.first_variant[slot], end)
        u[own] = np.maximum(1.0, u[own]) * 1.1
        gains.append(base - float(bench.evaluate(kept, (u[None], problem.who[None]))[0][0]))
    slot = int(np.argmax(gains))
    row = problem.first_variant[slot]
    return Crux(slot, problem.course.slots[slot].label, float(problem.unbroken[row]))
