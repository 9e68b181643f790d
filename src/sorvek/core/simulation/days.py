"""The uncertain athlete: perturbed samples of one athlete, drawn at random or spread evenly over what is likely."""

import math
from functools import cache
from statistics import NormalDist

import numpy as np

from sorvek.core.athlete import Capacity, reps_at_limits
from sorvek.core.constants import CP_SPREAD, ONE_RM_SPREAD, SLIP_SPREAD, U_SPREAD, W_PRIME_SPREAD
from sorvek.core.simulation import kernel as k
from sorvek.core.simulation.problem import Floats, Problem, fresh_reps

SAMPLES = 400
SEED = 20_26
# Share of the day's form that all movements have in common; judgement.
COMMON_FORM = 0.6
# Seed of the evenly spread days a plan is weighed on.
SPREAD_SEED = 3
# What the columns of standard normals move: 1RM, CP, W′, slip, all longest sets, then each movement's own.
STRENGTH, Z_CP, Z_W_PRIME, Z_SLIP, COMMON, OWN = range(6)


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
            fresh = fresh_reps(_fresh_sets(problem, slot, able, normals[:, STRENGTH]))
            us[:, row] = fresh * np.exp(U_SPREAD * form[:, slot])
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
