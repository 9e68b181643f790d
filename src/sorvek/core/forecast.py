"""The uncertain athlete: perturbed samples of one athlete and the band of scores they reach."""

import math
from dataclasses import dataclass
from functools import cache
from statistics import NormalDist

import numpy as np

from sorvek.core import kernel as k
from sorvek.core.athlete import Capacity
from sorvek.core.constants import CP_SPREAD, ONE_RM_SPREAD, SLIP_SPREAD, U_SPREAD, W_PRIME_SPREAD
from sorvek.core.plan import Plan
from sorvek.core.problem import Choices, Floats, Problem, choices
from sorvek.core.repetition import reps_at_limits
from sorvek.core.workout import Form

SAMPLES = 400
SEED = 20_26
# Share of the day's form that all movements have in common; judgement.
COMMON_FORM = 0.6
# Seed of the evenly spread days a plan is weighed on.
SPREAD_SEED = 3
# What the columns of standard normals move: 1RM, CP, W′, slip, all longest sets, then each movement's own.
STRENGTH, Z_CP, Z_W_PRIME, Z_SLIP, COMMON, OWN = range(6)


@dataclass(frozen=True, slots=True)
class Band:
    """The 80 % band of a score: p10, p50 and p90 in the score's own unit, worst first is not implied.

    For a timed workout under a cap values above the cap stand for reps missing, a second each.
    `finish_probability` is 0–1; `forced_break_frac[slot]` the share of samples with a forced break there,
    `set_break_frac` the same for every set in the order of the work, as far as any sample came.
    """

    p10: float
    p50: float
    p90: float
    finish_probability: float
    forced_break_frac: tuple[float, ...]
    set_break_frac: tuple[float, ...]


def draw_samples(problem: Problem, count: int = SAMPLES, seed: int = SEED) -> tuple[Floats, Floats]:
    """Return `count` perturbed athletes: longest sets (count, variants) and (count, 3) of CP, W′, slip.

    The same seed gives the same days to every plan and every athlete (common random numbers).
    """
    rng = np.random.Generator(np.random.PCG64(seed))
    common = rng.standard_normal((count, 1))
    own = rng.standard_normal((count, len(problem.course.slots)))
    others = rng.standard_normal((4, count)).T
    return _perturbed(problem, np.hstack([others, common, own]))


def spread_samples(problem: Problem, count: int) -> tuple[Floats, Floats]:
    """Return `count` perturbed athletes as `draw_samples` does, but spread evenly over what is likely.

    A few such days stand for many random ones. Method: Latin hypercube (McKay, Beckman & Conover 1979): each
    number takes the middles of `count` equally likely shares once, in an order of its own.
    """
    return _perturbed(problem, _spread_normals(count, OWN + len(problem.course.slots)))


@cache
def _spread_normals(count: int, columns: int) -> Floats:
    middles = [NormalDist().inv_cdf((i + 0.5) / count) for i in range(count)]
    rng = np.random.Generator(np.random.PCG64(SPREAD_SEED))
    normals: Floats = rng.permuted(np.tile(middles, (columns, 1)), axis=1).T
    return normals


def _perturbed(problem: Problem, normals: Floats) -> tuple[Floats, Floats]:
    """Return athletes moved by standard normals (count, 5 + slots), their columns named above."""
    form = COMMON_FORM * normals[:, [COMMON]] + math.sqrt(1 - COMMON_FORM**2) * normals[:, OWN:]
    us = np.empty((len(normals), len(problem.unbroken)))
    for slot, capacities in enumerate(problem.capacities):
        for style, able in enumerate(capacities):
            row = problem.first_variant[slot] + style
            us[:, row] = _fresh_sets(problem, slot, able, normals[:, STRENGTH]) * np.exp(U_SPREAD * form[:, slot])
    whos = np.empty((len(normals), 3))
    whos[:, k.CP] = problem.who[k.CP] * np.exp(CP_SPREAD * normals[:, Z_CP])
    whos[:, k.W_PRIME] = problem.who[k.W_PRIME] * np.exp(W_PRIME_SPREAD * normals[:, Z_W_PRIME])
    whos[:, k.SLIP] = np.maximum(0.0, 1.0 + SLIP_SPREAD * normals[:, Z_SLIP])
    return us, whos


def _fresh_sets(problem: Problem, slot: int, able: Capacity, strength: Floats) -> Floats:
    """Return the longest set with the 1RM moved by its own spread; unchanged where no 1RM matters."""
    load_kg = problem.course.slots[slot].load_kg
    if not able.one_rep_max_kg or not load_kg or able.unbroken.value == 0:
        return np.full(len(strength), able.unbroken.value)
    limits = able.one_rep_max_kg * np.exp(ONE_RM_SPREAD * strength)
    return np.minimum(able.endurance_reps, reps_at_limits(load_kg, limits, problem.athlete.curve))


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
    chosen = choices(problem, plan)
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
    slot_of = np.repeat(problem.seg_i[:, k.SLOT], chosen.ints[:, k.N_SIZES])
    by_slot = [float(broke[:, slot_of == slot].any(axis=1).mean()) for slot in range(len(problem.course.slots))]
    return Band(p10, p50, p90, float(finished.mean()), tuple(by_slot), tuple(broke.mean(axis=0).tolist()))
