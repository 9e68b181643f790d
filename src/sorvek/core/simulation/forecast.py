"""The uncertain athlete: perturbed samples of one athlete and the band of scores they reach."""

from dataclasses import dataclass

import numpy as np

from sorvek.core.plan import Plan
from sorvek.core.simulation import kernel as k
from sorvek.core.simulation.days import SAMPLES, SEED, draw_samples
from sorvek.core.simulation.problem import Choices, Floats, Problem
from sorvek.core.workout import Form


@dataclass(frozen=True, slots=True)
class Band:
    """The 80 % band of a score: p10, p50 and p90 in seconds if `timed`, else in reps; worst first is not implied.

    For a timed workout under a cap values above the cap stand for reps missing, a second each.
    `finish_probability` is 0–1; `forced_break_frac[slot]` the share of samples with a forced break there,
    `block_break_frac` and `set_break_frac` the same for every segment and every set in the order of the work, as
    far as any sample came. `gates` holds the chance (0–1) to pass each window or stage that any sample passes.
    """

    p10: float
    p50: float
    p90: float
    timed: bool
    finish_probability: float
    forced_break_frac: tuple[float, ...]
    block_break_frac: tuple[float, ...]
    set_break_frac: tuple[float, ...]
    gates: dict[str, float]


def run_samples(problem: Problem, chosen: Choices, us: Floats, whos: Floats) -> tuple[Floats, Floats]:
    """Return one plan's results (samples, N_OUT) and (samples, sets), above 0 where a set broke."""
    outs = np.zeros((len(us), k.N_OUT))
    forced = np.zeros((len(us), len(chosen.sizes)))
    k.simulate_many(
        problem.seg_i,
        problem.seg_f,
        problem.variants,
        us,
        whos,
        chosen.ints,
        chosen.floats,
        chosen.sizes,
        outs,
        forced,
        np.zeros((len(chosen.sizes) + 1, k.N_LOG)),
    )
    return outs, forced


def forecast(problem: Problem, plan: Plan, count: int = SAMPLES, seed: int = SEED) -> Band:
    """Return the band of scores of `count` perturbed athletes who follow the plan.

    Raises: SetsError if the plan does not fit the course.
    """
    chosen = problem.choices(plan)
    us, whos = draw_samples(problem, count, seed)
    timed = problem.course.workout.form is Form.FOR_TIME
    outs, forced = run_samples(problem, chosen, us, whos)
    finished = outs[:, k.FINISHED] > 0
    by_time = timed and bool(finished.mean() >= 0.5)
    if by_time:
        missing = problem.course.total_reps - outs[:, k.DONE]
        scores = np.where(finished, outs[:, k.TIME], outs[:, k.TIME] + missing)
    else:
        scores = outs[:, k.DONE]
    p10, p50, p90 = np.percentile(scores, [10, 50, 90]).tolist()
    broke = forced > 0
    first_set = np.cumsum(chosen.ints[:, k.N_SIZES]) - chosen.ints[:, k.N_SIZES]
    block_broke = np.logical_or.reduceat(broke, first_set, axis=1)
    slot_of = problem.seg_i[:, k.SLOT]
    passed = {name: float((outs[:, k.DONE] >= reps).mean()) for name, reps in problem.course.gates().items()}
    by_slot = [
        float(block_broke[:, slot_of == slot].any(axis=1).mean()) for slot in range(len(problem.course.slots))
    ]
    return Band(
        p10,
        p50,
        p90,
        by_time,
        float(finished.mean()),
        tuple(by_slot),
        tuple(block_broke.mean(axis=0).tolist()),
        tuple(broke.mean(axis=0).tolist()),
        {name: share for name, share in passed.items() if share > 0},
    )
