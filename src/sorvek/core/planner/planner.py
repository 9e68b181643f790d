"""The recommended plan of an athlete on a course: a search, then the simplest of what is near-equal."""

from dataclasses import dataclass

from sorvek.core.plan import Phase, Plan
from sorvek.core.planner.candidates import Bench, build_menu
from sorvek.core.planner.search import search_plan
from sorvek.core.planner.set_rules import School, set_rules
from sorvek.core.planner.simplify import Simplifier
from sorvek.core.simulation import Problem


@dataclass(frozen=True, slots=True)
class Planned:
    """A plan with what the search thinks of it: its mean loss in seconds and the simulations spent."""

    plan: Plan
    loss_s: float
    simulations: int


def plan_workout(
    problem: Problem,
    kept: dict[int, tuple[Phase, ...]] | None = None,
    school: School | None = None,
    effort: float = 1.0,
) -> Planned:
    """Return the recommended plan for an athlete on a course.

    `kept` holds what a coach has locked, by slot; the rest is planned around it. `school` restricts the set
    rules to one school. The budget is counted in simulations, not seconds: the same problem gives the same
    plan anywhere.
    Raises: SetsError if a locked scheme does not fit its movement.
    """
    rules = set_rules if school is None else school.rules
    bench = Bench(problem, build_menu(problem, rules), kept)
    loss, x = Simplifier(search_plan(bench, effort)).simplest()
    return Planned(bench.plan(x), loss, bench.simulations)
