"""The uncertain athlete: perturbed samples of one athlete, drawn at random or spread evenly over what is likely."""

import math
from dataclasses import dataclass
from functools import cache
from statistics import NormalDist
from typing import NamedTuple

import numpy as np

from sorvek.core.athlete import Together, body_figure, reps_at_limits
from sorvek.core.constants import (
    CHANGES_SPREAD,
    CP_SPREAD,
    NO_REPS_SPREAD,
    ONE_RM_SPREAD,
    SLIP_SPREAD,
    SPEED_SPREAD,
    U_SPREAD,
    W_PRIME_SPREAD,
)
from sorvek.core.simulation import columns as k
from sorvek.core.simulation.problem import Floats, Problem, fresh_reps

SAMPLES = 400
SEED = 20_26
# Share of the day's form that all movements have in common; judgement.
COMMON_FORM = 0.6
# Seed of the evenly spread days a plan is weighed on.
SPREAD_SEED = 3
# A plan is weighed on a fifth of the doubts: a number that is off shows in the first sets, and the coach corrects.
# Judgement: with all of them unmeasured athletes are planned 6 % slower than their numbers say, with these 3 %.
WEIGHED_DOUBT = 0.2
# What the columns of standard normals move: the day's 1RM, CP, W′, slip, speed, changes, no-reps, all longest sets,
# then each movement's own form, and behind those how far each movement's number on file is off.
STRENGTH, Z_CP, Z_W_PRIME, Z_SLIP, Z_SPEED, Z_CHANGES, Z_NO_REPS, COMMON, OWN = range(9)


class NumberDraw(NamedTuple):
    """How far a number on file is off: `share` of `spread` times a column of normals, as a logarithm.

    The rest of what the column moves is the day's own; `doubt` is the standard deviation of the number's part.
    """

    column: int
    spread: float
    share: float
    doubt: float


@dataclass(frozen=True, slots=True)
class Draws:
    """Perturbed athletes with the standard normals (count, columns) that made them, so that these can be moved."""

    normals: Floats
    us: Floats
    whos: Floats

    @classmethod
    def at_random(cls, problem: Problem, count: int, seed: int) -> "Draws":
        """Return likely athletes of a problem, as `draw_samples` draws them."""
        return cls.of(problem, _random_normals(problem, count, seed))

    @classmethod
    def of(cls, problem: Problem, normals: Floats) -> "Draws":
        """Return the athletes that standard normals (count, OWN + 2 slots) stand for.

        Where doubts go together the normals are those before they are mixed: each is independent of the others.
        """
        return cls(normals, *_perturbed(problem, normals, 1.0))

    @staticmethod
    def numbers(problem: Problem) -> dict[str, NumberDraw]:
        """Return by movement or field which column moves a number on file, and by how much."""
        return _number_draws(problem, 1.0)

    @staticmethod
    def mixed(problem: Problem, normals: Floats) -> Floats:
        """Return normals (count, columns) as they move the numbers, with those learnt together correlated."""
        return _mixed(problem, normals, 1.0)


def _number_draws(problem: Problem, doubts: float) -> dict[str, NumberDraw]:
    athlete, slots = problem.athlete, problem.course.slots
    found: dict[str, NumberDraw] = {}
    for i, slot in enumerate(slots):
        name = slot.movement.name
        doubt = doubts * athlete.doubt_frac(name, problem.capacities[i][0].unbroken)
        found.setdefault(name, NumberDraw(OWN + len(slots) + i, doubt, 1.0, doubt))
    for key, spread, column in (
        ("critical_power_w", CP_SPREAD, Z_CP),
        ("w_prime_j", W_PRIME_SPREAD, Z_W_PRIME),
    ):
        doubt = doubts * athlete.doubt_frac(key, body_figure(athlete, key))
        both = math.hypot(spread, doubt)
        found[key] = NumberDraw(column, both, doubt**2 / both**2, doubt)
    return found


def _mixed(problem: Problem, normals: Floats, doubts: float) -> Floats:
    """Return standard normals (count, OWN + 2 slots) with those of numbers learnt together correlated."""
    if not problem.athlete.together:
        return normals
    numbers = _number_draws(problem, doubts)
    columns = [drawn.column for drawn in numbers.values()]
    shares = np.sqrt([drawn.share for drawn in numbers.values()])
    # A column that also moves the day's own part goes along only as far as it is the number's.
    within = Together(problem.athlete).among(list(numbers)) * np.outer(shares, shares)
    np.fill_diagonal(within, 1.0)
    found = normals.copy()
    found[:, columns] = normals[:, columns] @ np.linalg.cholesky(within).T
    return found


def _random_normals(problem: Problem, count: int, seed: int) -> Floats:
    rng = np.random.Generator(np.random.PCG64(seed))
    normals: Floats = rng.standard_normal((OWN + 2 * len(problem.course.slots), count)).T
    return normals


def draw_samples(
    problem: Problem, count: int = SAMPLES, seed: int = SEED, doubts: float = 1.0
) -> tuple[Floats, Floats]:
    """Return `count` perturbed athletes: longest sets (count, variants) and (count, N_WHO) of what else differs.

    Days differ in form and in luck, and the numbers on file are off by their doubts, or by a share of those.

    The same seed gives the same days to every plan and every athlete (common random numbers).
    """
    return _perturbed(problem, _random_normals(problem, count, seed), doubts)


def spread_samples(problem: Problem, count: int) -> tuple[Floats, Floats]:
    """Return `count` perturbed athletes as `draw_samples` does, but spread evenly over what is likely.

    A few such days stand for many random ones. Method: Latin hypercube (McKay, Beckman & Conover 1979): each
    number takes the middles of `count` equally likely shares once, in an order of its own.
    """
    return _perturbed(problem, _spread_normals(count, OWN + 2 * len(problem.course.slots)), WEIGHED_DOUBT)


@cache
def _spread_normals(count: int, columns: int) -> Floats:
    middles = [NormalDist().inv_cdf((i + 0.5) / count) for i in range(count)]
    rng = np.random.Generator(np.random.PCG64(SPREAD_SEED))
    normals: Floats = rng.permuted(np.tile(middles, (columns, 1)), axis=1).T
    return normals


def _perturbed(problem: Problem, normals: Floats, doubts: float) -> tuple[Floats, Floats]:
    """Return athletes moved by standard normals (count, OWN + 2 slots), their columns named above.

    `doubts` scales how far the numbers on file are off.
    """
    slots, normals = problem.course.slots, _mixed(problem, normals, doubts)
    form = COMMON_FORM * normals[:, [COMMON]]
    form = form + math.sqrt(1 - COMMON_FORM**2) * normals[:, OWN : OWN + len(slots)]
    names = [slot.movement.name for slot in slots]
    us = np.empty((len(normals), len(problem.unbroken)))
    for slot, capacities in enumerate(problem.capacities):
        # A movement that comes twice has one number on file, and that is off once.
        off = normals[:, OWN + len(slots) + names.index(names[slot])]
        for style, able in enumerate(capacities):
            doubt = problem.athlete.doubt_frac(names[slot], able.unbroken)
            fresh = fresh_reps(_fresh_sets(problem, slot, style, normals[:, STRENGTH], doubts * doubt * off))
            us[:, problem.first_variant[slot] + style] = fresh * np.exp(U_SPREAD * form[:, slot])
    whos = np.empty((len(normals), k.N_WHO))
    for lane, key, spread, column in (
        (k.CP, "critical_power_w", CP_SPREAD, Z_CP),
        (k.W_PRIME, "w_prime_j", W_PRIME_SPREAD, Z_W_PRIME),
    ):
        doubt = problem.athlete.doubt_frac(key, body_figure(problem.athlete, key))
        whos[:, lane] = problem.who[lane] * np.exp(math.hypot(spread, doubts * doubt) * normals[:, column])
    whos[:, k.SLIP] = np.maximum(0.0, 1.0 + SLIP_SPREAD * normals[:, Z_SLIP])
    whos[:, k.SPEED] = np.exp(SPEED_SPREAD * normals[:, Z_SPEED])
    whos[:, k.CHANGES] = np.exp(CHANGES_SPREAD * normals[:, Z_CHANGES])
    whos[:, k.NO_REPS] = np.exp(NO_REPS_SPREAD * normals[:, Z_NO_REPS] - 0.5 * NO_REPS_SPREAD**2)
    return us, whos


def _fresh_sets(problem: Problem, slot: int, style: int, strength: Floats, off: Floats) -> Floats:
    """Return the longest set with what is on file off by exp(`off`), and the 1RM moved by the day's `strength`."""
    load_kg, able = problem.course.slots[slot].load_kg, problem.capacities[slot][style]
    # What is on file is a 1RM for lifts, else a longest set at the usual load.
    lift = bool(problem.course.slots[slot].movement.styles[style].lift)
    if not load_kg or not able.one_rep_max_kg or (able.unbroken.value == 0 and not lift):
        return able.unbroken.value * np.exp(off)
    limits = able.one_rep_max_kg * np.exp(ONE_RM_SPREAD * strength + (off if lift else 0.0))
    reps = reps_at_limits(load_kg, limits, problem.athlete.curve)
    return np.minimum(able.endurance_reps, reps if lift else reps * np.exp(off))
