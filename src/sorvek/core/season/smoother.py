"""From what was seen back to what was not: guesses drawn anew and moved until they fit observations.

A sequential Monte Carlo sampler (Del Moral, Doucet & Jasra 2006, from memory): the observations are let in by
degrees, each as far as half of the guesses still count; guesses are drawn by their weights and then moved by a few
Metropolis steps that leave what is believed so far unchanged (preconditioned Crank–Nicolson steps about the mean
and covariance of the guesses: Cotter et al. 2013; Rudolf & Sprungk 2018, both from memory). Other than a Kalman
update it can learn that a set was *at least* within reach. Errors are taken as Student's t, so that one wild
observation does not decide.
"""

from collections.abc import Callable

import numpy as np

from sorvek.core.simulation import Floats

# Share of the guesses that still count after every degree, steps after each, size of the first step, and the share
# of steps that should be taken, to which the size is fitted; judgement.
COUNTING, MOVES, FIRST_STEP, WANTED_TAKEN = 0.5, 4, 0.6, 0.3
MOST_DEGREES = 25
TAILS = 4.0


def smoothed(
    guesses: Floats, simulate: Callable[[Floats], Floats], seen: Floats, scatter: Floats, seed: int
) -> Floats:
    """Return guesses (n, parameters) that fit what was seen.

    `guesses` are standard normals before, `simulate` returns what they give (n, observations), `seen` and `scatter`
    (observations,) are what was observed and its standard deviation beside the model.
    """
    rng = np.random.Generator(np.random.PCG64(seed))

    def fits(at: Floats) -> Floats:
        off = (simulate(at) - seen) / scatter
        logs: Floats = -0.5 * (TAILS + 1.0) * np.log1p(off**2 / TAILS).sum(axis=1)
        return logs

    at, fit, degree, step = guesses, fits(guesses), 0.0, FIRST_STEP
    for _ in range(MOST_DEGREES):
        more = _next_degree(fit, 1.0 - degree)
        degree += more
        weights = np.exp(more * (fit - fit.max()))
        positions = (rng.random() + np.arange(len(at))) / len(at)
        chosen = np.minimum(np.searchsorted(np.cumsum(weights / weights.sum()), positions), len(at) - 1)
        at, fit = at[chosen], fit[chosen]
        for _ in range(MOVES):
            at, fit, taken = _moved(at, fit, fits, degree, step, rng)
            step = min(0.95, max(0.1, step * np.exp(taken - WANTED_TAKEN)))
        if degree >= 1.0 - 1e-9:
            break
    return at


def _next_degree(fit: Floats, left: float) -> float:
    """Return how much more of the observations can be let in, at most what is left."""

    def counting(more: float) -> float:
        weights = np.exp(more * (fit - fit.max()))
        return float(weights.sum() ** 2 / (weights**2).sum() / len(fit))

    if counting(left) >= COUNTING:
        return left
    low, high = 0.0, left
    for _ in range(40):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if counting(middle) >= COUNTING else (low, middle)
    return max(low, 1e-6)


def _moved(
    at: Floats,
    fit: Floats,
    fits: Callable[[Floats], Floats],
    degree: float,
    step: float,
    rng: np.random.Generator,
) -> tuple[Floats, Floats, float]:
    """Return guesses and their fit after a Metropolis step that keeps the tempered belief, and how many moved."""
    mean = at.mean(axis=0)
    root = np.linalg.cholesky(np.cov(at.T) + 1e-6 * np.eye(at.shape[1]))
    other = mean + np.sqrt(1 - step**2) * (at - mean) + step * rng.standard_normal(at.shape) @ root.T
    other_fit = fits(other)

    def belief(z: Floats, fitting: Floats) -> Floats:
        inside = np.linalg.solve(root, (z - mean).T).T
        logs: Floats = degree * fitting - 0.5 * (z**2).sum(axis=1) + 0.5 * (inside**2).sum(axis=1)
        return logs

    taken = np.log(rng.random(len(at))) < belief(other, other_fit) - belief(at, fit)
    return np.where(taken[:, None], other, at), np.where(taken, other_fit, fit), float(taken.mean())
