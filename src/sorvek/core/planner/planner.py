"""The recommended plan of an athlete on a course: a search, then the simplest of what is near-equal."""

from dataclasses import dataclass

from sorvek.core.plan import Phase, Plan
from sorvek.core.planner.candidates import PRICES, Bench, build_menu, daily_losses
from sorvek.core.planner.search import search_plan
from sorvek.core.planner.set_rules import School
from sorvek.core.planner.simplify import Simplifier
from sorvek.core.planner.temper import Temper
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
    temper: Temper = Temper.STEADY,
    rival: Plan | None = None,
) -> Planned:
    """Return the recommended plan for an athlete on a course.

    `kept` holds what a coach has locked, by slot; the rest is planned around it. `school` restricts the set rules
    of the movements it speaks of to its own, `temper` says which days count most. The budget is counted in
    simulations, not seconds: the same problem gives the same plan anywhere. `rival` is another plan that stands
    to choose: it is taken where it answers the temperament's question better.
    Raises: SetsError if a locked scheme does not fit its movement.
    """
    bench = Bench(problem, build_menu(problem, school), kept, temper.prices(PRICES))
    simplifier = Simplifier(search_plan(bench, effort, temper))
    loss, x = simplifier.simplest()
    if temper is Temper.STEADY and effort >= 1.0:
        x = simplifier.calmed(simplifier.settled(x))
    plan = bench.plan(x)
    if rival is not None and temper.asked(daily_losses(problem, rival)) < temper.asked(daily_losses(problem, plan)):
        plan = rival
    return Planned(plan, loss, bench.simulations)
