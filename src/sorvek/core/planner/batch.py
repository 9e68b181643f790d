"""Compiled evaluation of candidate plans: expand each, simulate it, price it in seconds."""

import numpy as np

from sorvek.core.compiled import compiled
from sorvek.core.constants import TRANSITION_S
from sorvek.core.simulation import columns as k
from sorvek.core.simulation import simulate

# A candidate's columns, one row a slot. Early and late values differ behind the slot's CHANGE.
RULE, RULE_LATE, REST, REST_LATE, PACE, PACE_LATE, WAIT, WAIT_LATE, STYLE, CHANGE, N_COLUMNS = range(11)

# What a second counts on the way to a rep that cannot be done: all to the cap count less than a rep; judgement.
STUCK_SHARE = 0.02
TIE_WEIGHT = 0.1
# What a change of scheme on the way must be worth, and every further one: hardly anybody remembers two. Judgement.
CHANGE_SHARE, FURTHER_CHANGE_SHARE = 0.015, 0.05
# Below four minutes margin and evenness count less, the shorter the less: the shortest work is done all out.
# Abbiss & Laursen 2008, Sports Med. 38 (from memory): an all-out start wins below two minutes, even pacing above
# four.
WHOLE_PRICE_S = 240.0
# Where reps fail by the dozen whatever the plan, the price of some stands for all; judgement.
MOST_PRICED_FAILS = 20.0


@compiled
def expand(x, seg_i, tables, choice_i, choice_f, grids):
    """Write what a candidate (slots, N_COLUMNS) says for every segment into the choices of the kernel."""
    ranks, seg_count, first, length, _, first_variant, least, locked, _ = tables
    rests, paces, waits, usual_pace = grids
    for s in range(seg_i.shape[0]):
        slot = seg_i[s, k.SLOT]
        if locked[slot]:
            continue
        late = 1 if ranks[s] > x[slot, CHANGE] else 0
        rule = x[slot, RULE + late]
        choice_i[s, k.FIRST_SIZE] = first[slot, rule, seg_count[s]]
        choice_i[s, k.N_SIZES] = length[slot, rule, seg_count[s]]
        choice_i[s, k.VARIANT] = first_variant[slot] + x[slot, STYLE]
        choice_f[s, k.REST] = max(rests[x[slot, REST + late]], least[slot, rule])
        choice_f[s, k.PACE] = paces[usual_pace + x[slot, PACE + late]]
        choice_f[s, k.LEAD] = TRANSITION_S + waits[x[slot, WAIT + late]]


@compiled
def change_share(x, tables):
    """Return the share of the score that the changes of scheme of a candidate must be worth.

    Movements that change in the same round of the work change once.
    """
    locked, round_at = tables[7], tables[8]
    share, known = 0.0, -1
    for slot in range(x.shape[0]):
        at = min(x[slot, CHANGE], round_at.shape[1] - 1)
        if locked[slot] or round_at[slot, at] < 0 or round_at[slot, at] == known:
            continue
        for column in (RULE, REST, PACE, WAIT):
            if x[slot, column] != x[slot, column + 1]:
                share += CHANGE_SHARE if known < 0 else FURTHER_CHANGE_SHARE
                known = round_at[slot, at]
                break
    return share


@compiled
def progress_s(done, partial, course_reps, course_s):
    """Return how far along the course a rep count lies, in the athlete's own typical seconds.

    The order of plans by reps and by this measure is the same, since everybody meets the same reps in the
    same order; but it is smooth where one rep is dear and the next six are cheap.
    """
    last = course_reps.shape[0] - 1
    i = 0
    while i < last - 1 and course_reps[i + 1] <= done:
        i += 1
    share = (done - course_reps[i] + partial) / max(1.0, course_reps[i + 1] - course_reps[i])
    return course_s[i] + share * (course_s[i + 1] - course_s[i])


@compiled
def loss_s(out, course_reps, course_s, open_ended, end_s, price):
    """Return one result as seconds to be kept low, what of it counts as its size, and what is the price of fails.

    `price` holds the seconds a rep short of the margin costs, the share of the size a failed rep does, and the
    seconds for every one by which round one is ahead of even rounds.

    Finished work counts its time; what is missing counts in typical seconds on top of the cap; a small
    weight on the tie-break orders what is equal otherwise.
    """
    scale = min(1.0, out[k.TIME] / WHOLE_PRICE_S)
    short_s = scale * (price[0] * out[k.SHORTFALL] + price[2] * out[k.HOT_S])
    share = price[1] * min(out[k.FAILED], MOST_PRICED_FAILS)
    if out[k.FINISHED] > 0.0 and not open_ended:
        failed_s = share * out[k.TIME]
        return out[k.TIME] + short_s + failed_s, out[k.TIME], failed_s
    partial = 0.0 if out[k.STUCK] > 0.0 else out[k.PARTIAL]
    reached = progress_s(out[k.DONE], partial, course_reps, course_s)
    loss = end_s + course_s[-1] - reached
    if out[k.TIE_DONE] > 0.0:
        loss += TIE_WEIGHT * (out[k.TIE_TIME] - progress_s(out[k.TIE_DONE], 0.0, course_reps, course_s))
    if out[k.STUCK] > 0.0:
        # Who meets a rep that cannot be done has the time left over: reaching it early is all that counts, but a
        # rep more, or a style in which one can be done, counts more than any second.
        size = STUCK_SHARE * out[k.STUCK]
        return loss + size - STUCK_SHARE * (end_s - short_s) + share * size, size, share * size
    size = max(1.0, min(reached, out[k.TIME]))
    return loss + short_s + share * size, size, share * size


@compiled
def day_loss(out, goal, price, weight, changed):
    """Return what a day counts, its size, and what failed reps cost, which is not weighed.

    `changed` is the share of the size that changes of scheme must be worth.
    """
    course_reps, course_s, open_ended, end_s = goal
    loss, value, failed_s = loss_s(out, course_reps, course_s, open_ended, end_s, price)
    return weight * (loss - failed_s + changed * value) + failed_s, value, failed_s


@compiled
def first_change(choice_i, choice_f, known_i, known_f, sizes):
    """Return the first segment in which two plans differ, the number of segments if they are the same.

    A rest counts only where there is more than one set, a wait only behind the first segment.
    """
    n = choice_i.shape[0]
    for s in range(n):
        count = choice_i[s, k.N_SIZES]
        if count != known_i[s, k.N_SIZES] or choice_i[s, k.VARIANT] != known_i[s, k.VARIANT]:
            return s
        if choice_f[s, k.PACE] != known_f[s, k.PACE] or (s > 0 and choice_f[s, k.LEAD] != known_f[s, k.LEAD]):
            return s
        if count > 1 and choice_f[s, k.REST] != known_f[s, k.REST]:
            return s
        here, there = choice_i[s, k.FIRST_SIZE], known_i[s, k.FIRST_SIZE]
        if here != there:
            for i in range(count):
                if sizes[here + i] != sizes[there + i]:
                    return s
    return n


@compiled
def evaluate(
    xs, tables, problem, grids, samples, goal, prices, weights, par, choice_i, choice_f, losses, values, outs, daily
):
    """Fill the mean loss, its size, the first sample's result and the loss of each sample for every candidate.

    `weights` (samples,) say how much each sample counts, 1 in the mean; the price of failed reps is not weighed.
    `par` (samples,) holds the sums of losses up to each sample that a candidate has to stay below; one that
    does not is given up and its loss is infinite. A candidate that begins like the one simulated before it on
    the same sample goes on from where they part. Returns the simulations it took, such shorter ones included,
    but not those that needed nothing.
    """
    sizes = tables[4]
    seg_i, seg_f, variants = problem
    us, whos = samples
    state, no_log, nothing = np.zeros(k.STATE_SIZE), np.zeros((0, 1)), np.zeros(0)
    n, n_seg = us.shape[0], seg_i.shape[0]
    snaps = np.zeros((n, n_seg, k.N_SNAP))
    known_i = np.zeros((n, n_seg, choice_i.shape[1]), dtype=np.int64)
    known_f = np.zeros((n, n_seg, choice_f.shape[1]))
    known_out = np.zeros((n, k.N_OUT))
    known = np.zeros(n, dtype=np.bool_)
    simulations = 0
    for i in range(xs.shape[0]):
        expand(xs[i], seg_i, tables, choice_i, choice_f, grids)
        changed = change_share(xs[i], tables)
        losses[i] = 0.0
        values[i] = 0.0
        for j in range(n):
            out = known_out[j]
            first = first_change(choice_i, choice_f, known_i[j], known_f[j], sizes) if known[j] else 0
            if first == 0 or first <= out[k.REACHED]:
                simulate(
                    seg_i,
                    seg_f,
                    variants,
                    us[j],
                    whos[j],
                    choice_i,
                    choice_f,
                    sizes,
                    state,
                    out,
                    no_log,
                    snaps[j],
                    first,
                    nothing if first == 0 else snaps[j, first],
                )
                known_i[j] = choice_i
                known_f[j] = choice_f
                known[j] = True
                simulations += 1
            loss, value, _ = day_loss(out, goal, prices[j], weights[j], changed)
            losses[i] += loss
            daily[i, j] = loss
            values[i] += value / n
            if j == 0:
                outs[i, :] = out
            if losses[i] > par[j]:
                losses[i] = np.inf
                break
        losses[i] /= n
    return simulations
