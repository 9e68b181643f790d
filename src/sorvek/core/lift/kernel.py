"""The compiled part of planning attempts: backward induction over time, last load and best so far.

Time runs in steps of STEP_S. A state is (end of the last attempt, its load, best so far); best 0 means nothing
yet, best b + 1 the load of index b. The last attempt was made if it is the best, else it was missed.

The chance of a lift is logistic in load / day's best plus what was lost: 1 / (1 + exp(slope·(x − 1 + loss))).
As the losses add up inside the exponent, it splits into a factor of time and load and one of what came before.
"""

import math

import numpy as np

from sorvek.core import constants as c
from sorvek.core.compiled import compiled, inlined

STEP_S = 5.0
# Rests that are considered between two attempts, in steps: every 5 s at first, then wider.
RESTS = np.array([2, 3, 4, 5, 6, 7, 8, 10, 12, 14, 16, 18, 21, 24, 28, 36, 48], dtype=np.int64)
ATTEMPT_STEPS = math.ceil(c.ATTEMPT_S / STEP_S)
FIRST = -1
NO_MOVE = -1
FORBIDDEN = -1e17
MADE, MISSED = 0, 1


@inlined
def _loss(share, learnt, last, missed, load, rest_s, loading_s):
    """Return what the next attempt loses (1 = the whole day's best) to the last one and to the jump in load.

    `share` (L,) is load / 1RM, `learnt` (2, L) what a made or missed load says about the day, as a loss;
    `loading_s` is the part of the rest that goes into changing plates oneself.
    """
    base = c.WARM_UP_TOP_FRAC
    loss = 0.0
    if last >= 0:
        base = share[last]
        hard = max(0.0, (share[last] - c.ATTEMPT_FREE_FRAC) / (1.0 - c.ATTEMPT_FREE_FRAC))
        rested_s = max(0.0, rest_s - (1.0 - c.LOADING_REST_FRAC) * loading_s)
        loss = c.ATTEMPT_LOSS * hard * hard * math.exp(-rested_s / c.ATTEMPT_TAU_S)
        if missed == MISSED:
            loss *= c.MISS_DEARER
        loss += learnt[missed, last]
    return loss + c.JUMP_LOSS * max(0.0, share[load] - base - c.JUMP_FREE_FRAC)


@compiled
def chance_of(share, ready, learnt, slope, last, missed, load, rest_s, loading_s):
    """Return the chance (0–1) of a load after a rest; `ready` is day's best / 1RM at its start.

    `last` is the index of the attempt before, FIRST if there was none. Shapes as in `_loss`.
    """
    loss = _loss(share, learnt, last, missed, load, rest_s, loading_s)
    return 1.0 / (1.0 + math.exp(min(500.0, slope * (share[load] / ready - 1.0 + loss))))


@compiled
def solve(share, utility, ready, learnt, slope, loading_s, alone, least, values):
    """Fill `values` (steps + 1, L, L + 1) with the best that can still be had from every state.

    `utility` (L + 1,) is what ending with each best is worth, `ready` (steps + 1,) day's best / 1RM, `loading_s`
    (L, L), `alone` 1 if the athlete loads, `least` the chance (0–1) below which nothing is
    tried. The moves behind the values are found again by `best_move`.
    """
    last_step, n, n_rests = values.shape[0] - 1, share.shape[0], RESTS.shape[0]
    odds = np.empty((last_step + 1, n))
    for s in range(last_step + 1):
        for j in range(n):
            odds[s, j] = math.exp(min(300.0, slope * (share[j] / ready[s] - 1.0)))
    worse = np.empty((n, n, n_rests, 2))
    first_rest = np.empty((n, n), dtype=np.int64)
    for i in range(n):
        for j in range(n):
            first_rest[i, j] = n_rests
            for g in range(n_rests - 1, -1, -1):
                rest_s = RESTS[g] * STEP_S
                if rest_s >= loading_s[i, j] - 1e-9:
                    first_rest[i, j] = g
                for m in range(2):
                    loss = _loss(share, learnt, i, m, j, rest_s, alone * loading_s[i, j])
                    worse[i, j, g, m] = math.exp(min(300.0, slope * loss))
    for t in range(last_step, -1, -1):
        for i in range(n):
            here = values[t, i]
            here[:] = utility
            for j in range(n):
                for g in range(first_rest[i, j], n_rests):
                    start = t + RESTS[g]
                    end = start + ATTEMPT_STEPS
                    if end > last_step:
                        break
                    then = values[end, j]
                    p = 1.0 / (1.0 + odds[start, j] * worse[i, j, g, MISSED])
                    if p >= least:
                        won, left = p * then[j + 1], 1.0 - p
                        for b in range(min(i, j) + 1):
                            here[b] = max(here[b], won + left * then[b])
                    p = 1.0 / (1.0 + odds[start, j] * worse[i, j, g, MADE])
                    if j > i and p >= least:
                        here[i + 1] = max(here[i + 1], p * then[j + 1] + (1.0 - p) * then[i + 1])


@compiled
def best_move(share, utility, ready, learnt, slope, loading_s, alone, least, values, end, last, best):
    """Return load and start step of the move whose value is highest from a state, NO_MOVE if none beats stopping.

    Shapes as in `solve`; the lightest load and the shortest rest win among equals.
    """
    top, load, start = utility[best], NO_MOVE, 0
    missed = MADE if best == last + 1 else MISSED
    for j in range(best, share.shape[0]):
        for g in range(RESTS.shape[0]):
            at = end + RESTS[g]
            if at + ATTEMPT_STEPS >= values.shape[0]:
                break
            if RESTS[g] * STEP_S < loading_s[last, j] - 1e-9:
                continue
            rest_s = RESTS[g] * STEP_S
            p = chance_of(share, ready[at], learnt, slope, last, missed, j, rest_s, alone * loading_s[last, j])
            if p < least:
                continue
            then = values[at + ATTEMPT_STEPS, j]
            value = p * then[j + 1] + (1.0 - p) * then[best]
            if value > top + 1e-12:
                top, load, start = value, j, at
    return load, start


@compiled
def first_values(share, ready, learnt, slope, values, allowed, least_frac, found):
    """Fill `found` (steps + 1, L) with what each opening is worth, below FORBIDDEN where it is not allowed.

    `allowed` (L,) says which loads may open; the chance must be at least `least_frac`.
    """
    for s in range(found.shape[0]):
        for j in range(share.shape[0]):
            found[s, j] = 10.0 * FORBIDDEN
            end = s + ATTEMPT_STEPS
            if end < found.shape[0] and allowed[j]:
                p = chance_of(share, ready[s], learnt, slope, FIRST, MADE, j, 0.0, 0.0)
                if p >= least_frac:
                    found[s, j] = p * values[end, j, j + 1] + (1.0 - p) * values[end, j, 0]
