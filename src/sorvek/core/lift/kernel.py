"""The compiled part of planning attempts: backward induction over time, the bar on the board and the belief.

Time runs in steps of STEP_S. Between attempts a state is (end of the last one, best so far, whether the last one
was made, belief); best 0 means nothing yet, best b + 1 the load of index b. The belief about the day's form is
normal, its middle on a grid of MIDDLES places and its doubt on one of few levels (belief.py); what falls between is
shared out among the neighbours. A missed last load is not part of the state: whoever missed mostly takes the same
again, so what it cost is reckoned by the next load.
"""

import math

import numpy as np

from sorvek.core import constants as c
from sorvek.core.compiled import compiled, inlined
from sorvek.core.lift.belief import DEMAND_STEP, LOWEST_DEMAND

STEP_S = 5.0
# Attempts start on quarter minutes (half minutes in long windows), so that a coach can call them by the clock;
# these are looked at, counted from the first after the last attempt. Besides them the latest start there is.
STARTS = np.array([0, 1, 2, 3, 4, 5, 6, 7, 8, 10, 12, 14, 16], dtype=np.int64)
QUARTER, HALF, LONG_STEPS = 3, 6, 96
ATTEMPT_STEPS = math.ceil(c.ATTEMPT_S / STEP_S)
LEAST_REST_STEPS = math.ceil(c.LEAST_REST_S / STEP_S)
LIGHT_REST_STEPS = math.ceil(c.LIGHT_REST_S / STEP_S)
SQUEEZED_STEPS = math.ceil(c.SQUEEZED_REST_S / STEP_S)
# Places of the grid of middles, in prior deviations: from LOWEST_MIDDLE far down to BEND, from there on closer.
LOWEST_MIDDLE, FAR_STEP, BEND, MIDDLE_STEP, MIDDLES = -8.0, 2.0, -2.0, 0.5, 12
FAR_PLACES = round((BEND - LOWEST_MIDDLE) / FAR_STEP)
FIRST = -1
NO_MOVE = -1
FORBIDDEN = -1e17
MADE, MISSED = 0, 1


@inlined
def tired(share_last, missed, rest_s):
    """Return what the attempt before leaves behind after a rest, as a share of the day's best."""
    hard = max(0.0, (share_last - c.ATTEMPT_FREE_FRAC) / (1.0 - c.ATTEMPT_FREE_FRAC))
    loss = c.ATTEMPT_LOSS * hard * hard * math.exp(-rest_s / c.ATTEMPT_TAU_S)
    return loss * c.MISS_DEARER if missed == MISSED else loss


@inlined
def stepped(share_next, share_last):
    """Return what a step of more than a tenth of the 1RM costs, as a share of the day's best."""
    return c.JUMP_LOSS * max(0.0, share_next - share_last - c.JUMP_FREE_FRAC)


@inlined
def worn(share):
    """Return what an attempt takes from all that follow, whatever the rest."""
    hard = max(0.0, (share - c.ATTEMPT_FREE_FRAC) / (1.0 - c.ATTEMPT_FREE_FRAC))
    return c.ATTEMPT_WEAR * hard * hard


@inlined
def least_rest(share_last, share_next):
    """Return the steps of rest that belong between two attempts unless the clock forbids."""
    return LEAST_REST_STEPS if max(share_last, share_next) >= c.HEAVY_FRAC else LIGHT_REST_STEPS


@inlined
def grid_of(last_start):
    """Return how many steps lie between the starts looked at."""
    return QUARTER if last_start <= LONG_STEPS else HALF


@inlined
def start_of(g, t, every, last_start):
    """Return the start of number g after an attempt that ended at step `t`; the last number is the latest."""
    return ((t + every - 1) // every + STARTS[g]) * every if g < STARTS.shape[0] else last_start


@inlined
def rests_enough(start, t, loading_s, share_last, share_next, last_start):
    """Return whether a start leaves a rest long enough for plates and body, or as long as the clock allows."""
    rest = start - t
    if rest < 0 or start > last_start or rest * STEP_S < loading_s - 1e-9:
        return False
    if rest >= least_rest(share_last, share_next):
        return True
    return start == last_start and (rest >= SQUEEZED_STEPS or last_start < LEAST_REST_STEPS + ATTEMPT_STEPS)


@inlined
def _believed(values, middle, level, unit):
    """Return what a belief is worth: `values` (LEVELS · MIDDLES,) between its grid places."""
    x = middle / unit
    at = (x - LOWEST_MIDDLE) / FAR_STEP if x < BEND else FAR_PLACES + (x - BEND) / MIDDLE_STEP
    at = min(max(at, 0.0), MIDDLES - 1.000001)
    m = int(at)
    f = at - m
    s = min(int(level), values.shape[0] // MIDDLES - 2)
    g = level - s
    low = values[s * MIDDLES + m] * (1.0 - f) + values[s * MIDDLES + m + 1] * f
    high = values[(s + 1) * MIDDLES + m] * (1.0 - f) + values[(s + 1) * MIDDLES + m + 1] * f
    return low * (1.0 - g) + high * g


@inlined
def _middle(m):
    """Return the middle at a place of the grid, in prior deviations."""
    return LOWEST_MIDDLE + FAR_STEP * m if m < FAR_PLACES else BEND + MIDDLE_STEP * (m - FAR_PLACES)


@inlined
def _demand_place(demand, count):
    at = (demand - LOWEST_DEMAND) / DEMAND_STEP
    return min(max(int(at + 0.5), 0), count - 1)


@inlined
def _worth(chance, shift, level_of, demand, middle, level, wear, made, missed, unit):
    """Return what an attempt is worth at a belief; `made` and `missed` are the values of what follows."""
    d = _demand_place(demand - middle, chance.shape[1])
    s = min(int(level), chance.shape[0] - 2)
    total = 0.0
    for side in range(2):
        at, share = s + side, level - s if side else 1.0 - level + s
        if share > 0.0:
            p = chance[at, d]
            total += share * p * _believed(made, middle + shift[MADE, at, d] - wear, level_of[MADE, at, d], unit)
            then = _believed(missed, middle + shift[MISSED, at, d] - wear, level_of[MISSED, at, d], unit)
            total += share * (1.0 - p) * then
    return total


@compiled
def solve(share, utility, ready, chance, shift, level_of, unit, loading_s, alone, least, last_start, made, missed):
    """Fill `made` (N, steps + 1, L, K) and `missed` (N, steps + 1, L + 1, K) with the best still to be had.

    N is how many attempts may be left (at index 0 none is), or 1 without a limit; K beliefs are LEVELS · MIDDLES.
    `utility` (L + 1,) is what ending with each best is worth, `ready` (steps + 1,) day's best / 1RM of an ordinary
    day, `chance`, `shift` and `level_of` as in `Teaching`, `unit` the first doubt, `loading_s` (L, L), `alone` 1 if
    the athlete loads, `least` the chance (0–1) below which nothing is tried, `last_start` the latest step.
    """
    layers, steps, n = made.shape[0], made.shape[1], share.shape[0]
    every = grid_of(last_start)
    levels, demands = chance.shape[0], chance.shape[1]
    for layer in range(layers):
        none_left = layers > 1 and layer == 0
        then = max(layer - 1, 0)
        for t in range(steps - 1, -1, -1):
            missed[layer, t, 0, :] = utility[0]
            for i in range(n):
                made[layer, t, i, :] = utility[i + 1]
                missed[layer, t, i + 1, :] = utility[i + 1]
            # Attempts that start on the grid end so long after it; nothing else is asked for.
            if none_left or t > last_start or (t - ATTEMPT_STEPS) % every:
                continue
            for b in range(n + 1):
                for j in range(b, n):
                    for after in range(2):
                        if after == MADE and b == 0:
                            continue
                        share_last = share[b - 1] if after == MADE else share[j]
                        change_s = loading_s[b - 1, j] if after == MADE else 0.0
                        here = made[layer, t, b - 1] if after == MADE else missed[layer, t, b]
                        jump = stepped(share[j], share_last)
                        wear = worn(share[j])
                        for g in range(STARTS.shape[0] + 1):
                            start = start_of(g, t, every, last_start)
                            if not rests_enough(start, t, change_s, share_last, share[j], last_start):
                                continue
                            rested_s = max(
                                0.0, (start - t) * STEP_S - (1.0 - c.LOADING_REST_FRAC) * alone * change_s
                            )
                            demand = share[j] / ready[start] - 1.0 + tired(share_last, after, rested_s) + jump
                            up = made[then, start + ATTEMPT_STEPS, j]
                            down = missed[then, start + ATTEMPT_STEPS, b]
                            for s in range(levels):
                                for m in range(MIDDLES):
                                    middle = unit * _middle(m)
                                    d = _demand_place(demand - middle, demands)
                                    p = chance[s, d]
                                    if p < least:
                                        continue
                                    won = _believed(
                                        up, middle + shift[MADE, s, d] - wear, level_of[MADE, s, d], unit
                                    )
                                    lost = _believed(
                                        down, middle + shift[MISSED, s, d] - wear, level_of[MISSED, s, d], unit
                                    )
                                    value = p * won + (1.0 - p) * lost
                                    here[s * MIDDLES + m] = max(here[s * MIDDLES + m], value)


@compiled
def first_values(share, ready, chance, shift, level_of, unit, middle, layer, last_start, made, missed, found):
    """Fill `found` (steps + 1, L) with what each opening is worth, FORBIDDEN where nobody would start one.

    Tables as in `solve`; `middle` is that of the first belief.
    """
    then, every = max(layer - 1, 0), grid_of(last_start)
    for start in range(found.shape[0]):
        for j in range(share.shape[0]):
            found[start, j] = FORBIDDEN
            if start <= last_start and (start % every == 0 or start == last_start):
                demand = share[j] / ready[start] - 1.0 + stepped(share[j], c.WARM_UP_TOP_FRAC)
                up, down = made[then, start + ATTEMPT_STEPS, j], missed[then, start + ATTEMPT_STEPS, 0]
                found[start, j] = _worth(
                    chance, shift, level_of, demand, middle, 0.0, worn(share[j]), up, down, unit
                )


@inlined
def _odds(chance, demand, level):
    """Return the chance of an attempt that asks for `demand` above the middle, the doubt between two levels."""
    d = _demand_place(demand, chance.shape[1])
    s = min(int(level), chance.shape[0] - 2)
    return chance[s, d] + (level - s) * (chance[s + 1, d] - chance[s, d])


@inlined
def _may_follow(kg, j, last, was_missed, best, step_kg, drop_kg):
    """Return whether load `j` may come next: above the best, and after a miss the same again or a drop worth it."""
    if j < best:
        return False
    if not was_missed or j == last:
        return True
    if best == 0:
        return j == last - 1 or (j < last and kg[j] >= kg[last] - drop_kg - 1e-9)
    return j < last and kg[j] >= kg[best - 1] + step_kg - 1e-9


@compiled
def next_moves(
    kg, share, ready, chance, shift, level_of, unit, loading_s, alone, least, last_start, made, missed,
    layer, end, last, was_missed, best, middle, level, step_kg, drop_kg, found,
):  # fmt: skip  # one argument a piece of table and state
    """Fill `found` (moves, 5) with load, start, chance, value, and value if made of every next attempt; count them.

    Tables as in `solve`; the state is the step `end`, the index `last` and whether it was missed, `best`, and the
    belief as `middle` and `level`; `step_kg` is what a drop after a miss must still better, `drop_kg` the most it
    is while nothing stands.
    """
    then, count, every = max(layer - 1, 0), 0, grid_of(last_start)
    after = MISSED if was_missed else MADE
    for j in range(best, share.shape[0]):
        if not _may_follow(kg, j, last, was_missed, best, step_kg, drop_kg):
            continue
        jump = stepped(share[j], share[last])
        for g in range(STARTS.shape[0] + 1):
            start = start_of(g, end, every, last_start)
            if not rests_enough(start, end, loading_s[last, j], share[last], share[j], last_start):
                continue
            rested_s = max(0.0, (start - end) * STEP_S - (1.0 - c.LOADING_REST_FRAC) * alone * loading_s[last, j])
            demand = share[j] / ready[start] - 1.0 + tired(share[last], after, rested_s) + jump
            p = _odds(chance, demand - middle, level)
            if p < least:
                continue
            up, down = made[then, start + ATTEMPT_STEPS, j], missed[then, start + ATTEMPT_STEPS, best]
            found[count, 0], found[count, 1], found[count, 2] = j, start, p
            found[count, 3] = _worth(chance, shift, level_of, demand, middle, level, worn(share[j]), up, down, unit)
            count += 1
    return count
