"""Where likely days of an athlete stand in the middle of the work, and how a plan goes on from there."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sorvek.core.constants import FAIL_CYCLES, FAIL_REST_S
from sorvek.core.plan import Plan
from sorvek.core.simulation import columns as k
from sorvek.core.simulation.many import simulate_from, simulate_up_to
from sorvek.core.simulation.problem import Floats, Ints, Problem

# A set that breaks costs the failed rep, of about two seconds, and the rest after it.
AFTER_BREAK_S = FAIL_REST_S + FAIL_CYCLES * 2.0


@dataclass(frozen=True, slots=True)
class Midway:
    """Likely days in a visit, of which so many reps are `begun`; `segment` counts visits from 0.

    `us` (days, variants) and `whos` (days, N_WHO) say what kind of days they are, `begins` (days, N_SNAP) in which
    state they are there: reserves, breath, clock and reps so far, as the kernel keeps them.
    """

    segment: int
    us: Floats
    whos: Floats
    begins: Floats
    begun: int = 0

    def first(self, count: int) -> "Midway":
        """Return the first so many days."""
        return self.chosen(np.arange(min(count, len(self.us))))

    def chosen(self, days: Ints) -> "Midway":
        """Return some of the days, by index."""
        return Midway(self.segment, self.us[days], self.whos[days], self.begins[days], self.begun)


def at_start(us: Floats, whos: Floats) -> Midway:
    """Return days at the start line: everything full, nothing done."""
    begins = np.zeros((len(us), k.N_SNAP))
    begins[:, k.B : k.B + k.LANES] = 1.0
    begins[:, k.SNAP_W] = whos[:, k.W_PRIME]
    begins[:, k.SNAP_CP] = whos[:, k.CP]
    return Midway(0, us, whos, begins)


def stand_at(problem: Problem, plan: Plan, segment: int, us: Floats, whos: Floats) -> Midway:
    """Return where the days that get to a visit stand there, when a plan was followed up to it.

    Raises: SetsError if the plan does not fit the course.
    """
    chosen = problem.choices(plan)
    outs, snaps = np.zeros((len(us), k.N_OUT)), np.zeros((len(us), k.N_SNAP))
    simulate_up_to(
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
    chosen = problem.choices(plan, midway.segment, midway.begun)
    outs = np.zeros((len(midway.us), k.N_OUT))
    simulate_from(
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
        np.zeros((0, k.N_SNAP)),
        np.zeros((0, 2)),
    )
    return outs


@dataclass(frozen=True, slots=True)
class AfterSet:
    """Days after one more set: where they stand, their reps in reserve at its end, on which of them it broke."""

    midway: Midway
    in_reserve: Floats
    broke: NDArray[np.bool_]


def after_set(problem: Problem, plan: Plan, midway: Midway, reps: int, broke: bool = False) -> AfterSet:
    """Return where days stand after a set of so many reps more, with the rest or change of movement before it.

    Rest, pace and style are those of the plan, but where the set before it `broke` the rest is as long as after a
    failed rep. What lies between two sets is part of the second one.
    Raises: SetsError if the plan does not fit the course.
    """
    here = midway.segment
    chosen = problem.choices(plan, here, midway.begun)
    ints = chosen.ints[: here + 1].copy()
    ints[here, [k.FIRST_SIZE, k.N_SIZES]] = 0, 1
    floats = chosen.floats[: here + 1].copy()
    if broke and midway.begun > 0:
        floats[here, k.REST] = max(floats[here, k.REST], AFTER_BREAK_S)
    ends, told = np.zeros((len(midway.us), k.N_SNAP)), np.zeros((len(midway.us), 2))
    simulate_from(
        here,
        midway.begins,
        problem.seg_i[: here + 1],
        problem.seg_f[: here + 1],
        problem.variants,
        midway.us,
        midway.whos,
        ints,
        floats,
        np.array([reps]),
        np.zeros((len(midway.us), k.N_OUT)),
        ends,
        told,
    )
    begun = midway.begun + reps
    # Whoever was overtaken by the deadline in the simulation has done the set all the same.
    visit = problem.course.segments[here]
    counted = visit.counted_of(begun) - visit.counted_of(midway.begun)
    ends[:, k.SNAP_DONE] = midway.begins[:, k.SNAP_DONE] + counted
    ends[:, k.SNAP_CUT] = midway.begins[:, k.SNAP_CUT]
    over = begun >= visit.reps
    ends[:, k.SNAP_BEGUN] = 0 if over else begun
    if over:
        ends[:, k.SNAP_SINGLES] = 0
    after = Midway(here + over, midway.us, midway.whos, ends, 0 if over else begun)
    return AfterSet(after, told[:, 0], told[:, 1] > 0)
