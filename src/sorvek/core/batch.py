"""Compiled evaluation of many candidate plans: expand each, simulate it, price it in seconds."""

import numpy as np
from numba import njit

from sorvek.core import kernel as k
from sorvek.core.constants import TRANSITION_S
from sorvek.core.kernel import simulate

# A candidate's columns, one row a slot. Early and late values differ behind the slot's CHANGE.
RULE, RULE_LATE, REST, REST_LATE, PACE, PACE_LATE, WAIT, WAIT_LATE, STYLE, CHANGE, N_COLUMNS = range(11)

# Prices in the objective, in reps of this athlete; judgement: the simulation already charges the time
# that a failed rep or a missing margin costs, the price stands for what it does not see.
SHORT_PRICE_REPS = 0.3
FAIL_PRICE_REPS = 1.5
TIE_WEIGHT = 0.02
STUCK_WEIGHT = 0.05


@njit(cache=True)
def _expand(x, seg_i, tables, choice_i, choice_f, grids):
    ranks, seg_count, first, length, _, first_variant, least = tables
    rests, paces, waits = grids
    for s in range(seg_i.shape[0]):
        slot = seg_i[s, k.SLOT]
        late = 1 if ranks[s] > x[slot, CHANGE] else 0
        rule = x[slot, RULE + late]
        choice_i[s, k.FIRST_SIZE] = first[slot, rule, seg_count[s]]
        choice_i[s, k.N_SIZES] = length[slot, rule, seg_count[s]]
        choice_i[s, k.VARIANT] = first_variant[slot] + x[slot, STYLE]
        choice_f[s, k.REST] = max(rests[x[slot, REST + late]], least[slot, rule])
        choice_f[s, k.PACE] = paces[x[slot, PACE + late]]
        choice_f[s, k.LEAD] = TRANSITION_S + waits[x[slot, WAIT + late]]


@njit(cache=True)
def loss_s(out, total_reps, rep_s, open_ended, end_s):
    """Return one result as seconds to be kept low, and the part of it that counts as its size.

    Finished work counts its time; what is missing counts at the usual seconds a rep; a small weight on
    the tie-break orders what is equal otherwise.
    """
    penalty = (SHORT_PRICE_REPS * out[k.SHORTFALL] + FAIL_PRICE_REPS * out[k.FAILED]) * rep_s
    if out[k.FINISHED] > 0.0 and not open_ended:
        return out[k.TIME] + penalty, out[k.TIME]
    reached = out[k.DONE] + (0.0 if out[k.STUCK] > 0.0 else out[k.PARTIAL])
    loss = end_s + (total_reps - reached) * rep_s + penalty + TIE_WEIGHT * out[k.TIE_TIME]
    if out[k.STUCK] > 0.0:
        return loss + STUCK_WEIGHT * out[k.STUCK], STUCK_WEIGHT * out[k.STUCK]
    return loss, max(1.0, reached) * rep_s


@njit(cache=True)
def evaluate(xs, tables, problem, grids, samples, goal, scratch, choice_i, choice_f, losses, values, outs):
    """Fill the mean loss, its size and the first sample's result for every candidate of a batch."""
    sizes = tables[4]
    seg_i, seg_f, variants = problem
    us, whos = samples
    total_reps, rep_s, open_ended, end_s = goal
    no_marks = np.zeros((0, 2))
    no_log = np.zeros((0, 1))
    out = np.zeros(k.N_OUT)
    for i in range(xs.shape[0]):
        _expand(xs[i], seg_i, tables, choice_i, choice_f, grids)
        losses[i] = 0.0
        values[i] = 0.0
        for j in range(us.shape[0]):
            simulate(
                seg_i,
                seg_f,
                variants,
                us[j],
                whos[j],
                choice_i,
                choice_f,
                sizes,
                scratch,
                out,
                no_marks,
                no_log,
            )
            loss, value = loss_s(out, total_reps, rep_s, open_ended > 0.0, end_s)
            losses[i] += loss / us.shape[0]
            values[i] += value / us.shape[0]
            if j == 0:
                outs[i, :] = out
