"""Compiled evaluation of many candidate plans: expand each, simulate it, price it in seconds."""

import numpy as np

from sorvek.core import kernel as k
from sorvek.core.compiled import compiled
from sorvek.core.constants import TRANSITION_S
from sorvek.core.kernel import simulate

# A candidate's columns, one row a slot. Early and late values differ behind the slot's CHANGE.
RULE, RULE_LATE, REST, REST_LATE, PACE, PACE_LATE, WAIT, WAIT_LATE, STYLE, CHANGE, N_COLUMNS = range(11)

TIE_WEIGHT = 0.02


@compiled
def _expand(x, seg_i, tables, choice_i, choice_f, grids):
    ranks, seg_count, first, length, _, first_variant, least, locked = tables
    rests, paces, waits = grids
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
        choice_f[s, k.PACE] = paces[x[slot, PACE + late]]
        choice_f[s, k.LEAD] = TRANSITION_S + waits[x[slot, WAIT + late]]


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
    share = (done - course_reps[i] + partial) / (course_reps[i + 1] - course_reps[i])
    return course_s[i] + share * (course_s[i + 1] - course_s[i])


@compiled
def loss_s(out, course_reps, course_s, open_ended, end_s, short_price_s, fail_price_s):
    """Return one result as seconds to be kept low, and the part of it that counts as its size.

    Finished work counts its time; what is missing counts in typical seconds on top of the cap; a small
    weight on the tie-break orders what is equal otherwise.
    """
    penalty = short_price_s * out[k.SHORTFALL] + fail_price_s * out[k.FAILED]
    if out[k.FINISHED] > 0.0 and not open_ended:
        return out[k.TIME] + penalty, out[k.TIME]
    partial = 0.0 if out[k.STUCK] > 0.0 else out[k.PARTIAL]
    reached = progress_s(out[k.DONE], partial, course_reps, course_s)
    loss = end_s + course_s[-1] - reached + penalty + TIE_WEIGHT * out[k.TIE_TIME]
    if out[k.STUCK] > 0.0:
        # Who meets a rep that cannot be done has the time left over: reaching it early is all that counts.
        return loss - end_s + out[k.STUCK], out[k.STUCK]
    return loss, max(1.0, min(reached, out[k.TIME]))


@compiled
def _first_change(choice_i, choice_f, known_i, known_f, sizes):
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
    xs, tables, problem, grids, samples, goal, prices, par, choice_i, choice_f, losses, values, outs, daily
):
    """Fill the mean loss, its size, the first sample's result and the loss of each sample for every candidate.

    `par` (samples,) holds the sums of losses up to each sample that a candidate has to stay below; one that
    does not is given up and its loss is infinite. A candidate that begins like the one simulated before it on
    the same sample goes on from where they part. Returns the simulations it took, such shorter ones included.
    """
    sizes = tables[4]
    seg_i, seg_f, variants = problem
    us, whos = samples
    course_reps, course_s, open_ended, end_s = goal
    state = np.zeros(k.STATE_SIZE)
    no_marks = np.zeros((0, 2))
    no_log = np.zeros((0, 1))
    n, n_seg = us.shape[0], seg_i.shape[0]
    snaps = np.zeros((n, n_seg, k.N_SNAP))
    known_i = np.zeros((n, n_seg, choice_i.shape[1]), dtype=np.int64)
    known_f = np.zeros((n, n_seg, choice_f.shape[1]))
    known_out = np.zeros((n, k.N_OUT))
    known = np.zeros(n, dtype=np.bool_)
    simulations = 0
    for i in range(xs.shape[0]):
        _expand(xs[i], seg_i, tables, choice_i, choice_f, grids)
        losses[i] = 0.0
        values[i] = 0.0
        for j in range(n):
            out = known_out[j]
            first = _first_change(choice_i, choice_f, known_i[j], known_f[j], sizes) if known[j] else 0
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
                    no_marks,
                    no_log,
                    snaps[j],
                    first,
                    snaps[j, min(first, n_seg - 1)],
                )
                known_i[j] = choice_i
                known_f[j] = choice_f
                known[j] = True
            failed_s = prices[2] if j == 0 else prices[1]
            loss, value = loss_s(out, course_reps, course_s, open_ended, end_s, prices[0], failed_s)
            simulations += 1
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


@compiled
def _step(x, y, moves, rng):
    """Make `y` a copy of `x` with one to three random moves."""
    y[:] = x
    draw = rng.random()
    for _ in range(1 if draw < 0.5 else 2 if draw < 0.8 else 3):
        move = rng.integers(0, moves.shape[0])
        slot, column, low, high = moves[move, 0], moves[move, 1], moves[move, 2], moves[move, 3]
        if rng.random() < 0.5:
            y[slot, column] = rng.integers(low, high + 1)
        else:
            step_by = rng.integers(1, 3) * (1 if rng.random() < 0.5 else -1)
            y[slot, column] = min(high, max(low, y[slot, column] + step_by))


@compiled
def anneal(
    x,
    moves,
    steps,
    heat,
    rng,
    tables,
    problem,
    grids,
    days,
    goal,
    prices,
    choice_i,
    choice_f,
    visited,
    visited_s,
):
    """Walk from `x` by one to three random moves at a time, accepting worse plans less and less often.

    A candidate counts by its mean loss over `days` (longest sets, who); it is given up after the first days
    when it is already far behind. The best candidate ends up in visited[0], the latest accepted ones behind
    it, their losses in `visited_s`; returns how many were accepted and how many simulations it took.
    Simulated annealing (Kirkpatrick et al. 1983) with a geometric schedule.
    """
    seg_i, seg_f, variants = problem
    us, whos = days
    n, n_seg, sizes = us.shape[0], seg_i.shape[0], tables[4]
    course_reps, course_s, open_ended, end_s = goal
    state = np.zeros(k.STATE_SIZE)
    no_marks = np.zeros((0, 2))
    no_log = np.zeros((0, 1))
    y = x.copy()
    # What is known of the plan the walk stands on, and the same of the candidate from where it differs.
    known_i, known_f = choice_i.copy(), choice_f.copy()
    known_out, out = np.zeros((n, k.N_OUT)), np.zeros((n, k.N_OUT))
    known_snaps = np.zeros((n, n_seg, k.N_SNAP))
    snaps = np.zeros_like(known_snaps)
    now = np.full(n, np.inf)
    new = np.zeros(n)
    loss = best = np.inf
    accepted = simulations = 0
    room = visited.shape[0] - 1
    for step in range(steps):
        if step > 0:
            _step(x, y, moves, rng)
        _expand(y, seg_i, tables, choice_i, choice_f, grids)
        first = _first_change(choice_i, choice_f, known_i, known_f, sizes) if step > 0 else 0
        warmth = heat[0] * (heat[1] / heat[0]) ** (step / steps)
        allowed = np.inf if step == 0 else -warmth * np.log(rng.random() + 1e-12)
        behind = 0.0
        good = True
        for j in range(n):
            simulations += 1
            if first > 0 and first > known_out[j, k.REACHED]:
                out[j] = known_out[j]
            else:
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
                    out[j],
                    no_marks,
                    no_log,
                    snaps[j],
                    first,
                    known_snaps[j, min(first, n_seg - 1)],
                )
            failed_s = prices[2] if j == 0 else prices[1]
            new[j], _ = loss_s(out[j], course_reps, course_s, open_ended, end_s, prices[0], failed_s)
            if step > 0:
                behind += new[j] - now[j]
                good = behind <= n * allowed if j == n - 1 else behind <= (j + 1) * allowed + heat[2]
                if not good:
                    break
        if good:
            x[:] = y
            now[:] = new
            for j in range(n):
                if first <= known_out[j, k.REACHED] or first == 0:
                    last = int(out[j, k.REACHED]) + 1
                    known_snaps[j, first:last] = snaps[j, first:last]
            known_out[:] = out
            known_i[:] = choice_i
            known_f[:] = choice_f
            loss = new.mean()
            if room > 0:
                visited[1 + accepted % room] = y
                visited_s[1 + accepted % room] = loss
            accepted += 1
            if loss < best:
                best = loss
                visited[0] = y
                visited_s[0] = loss
    return accepted, simulations
