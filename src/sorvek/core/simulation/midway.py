"""Where likely days of an athlete stand in the middle of the work, and how a plan goes on from there."""

from dataclasses import dataclass

import numpy as np

from sorvek.core.plan import Plan
from sorvek.core.simulation import kernel as k
from sorvek.core.simulation.problem import Floats, Problem


@dataclass(frozen=True, slots=True)
class Midway:
    """Likely days at the beginning of a visit: `segment` counts visits from 0.

    `us` (days, variants) and `whos` (days, N_WHO) say what kind of days they are, `begins` (days, N_SNAP) in which
    state they are there: reserves, breath, clock and reps so far, as the kernel keeps them.
    """

    segment: int
    us: Floats
    whos: Floats
    begins: Floats

    def first(self, count: int) -> "Midway":
        """Return the first so many days."""
        return Midway(self.segment, self.us[:count], self.whos[:count], self.begins[:count])


def stand_at(problem: Problem, plan: Plan, segment: int, us: Floats, whos: Floats) -> Midway:
    """Return where the days that get to a visit stand there, when a plan was followed up to it.

    Raises: SetsError if the plan does not fit the course.
    """
    chosen = problem.choices(plan)
    outs, snaps = np.zeros((len(us), k.N_OUT)), np.zeros((len(us), k.N_SNAP))
    k.simulate_up_to(
        segment,
        problem.seg_i,
        problem.seg_f,
        problem.variants,
        us,
        whos,
        chosen.ints,
        chosen.floats,
        chosen.sizes,
        outs,
        snaps,
    )
    there = outs[:, k.REACHED] >= segment
    return Midway(segment, us[there], whos[there], snaps[there])


def run_from(problem: Problem, plan: Plan, midway: Midway) -> Floats:
    """Return the results (days, N_OUT) of going on by a plan from where days stand.

    Raises: SetsError if the plan does not fit the course.
    """
    chosen = problem.choices(plan)
    outs = np.zeros((len(midway.us), k.N_OUT))
    k.simulate_from(
        midway.segment,
        midway.begins,
        problem.seg_i,
        problem.seg_f,
        problem.variants,
        midway.us,
        midway.whos,
        chosen.ints,
        chosen.floats,
        chosen.sizes,
        outs,
    )
    return outs
