"""Compiled evaluation of many candidate plans: expand each, simulate it, price it in seconds."""

import numpy as np

from sorvek.core.compiled import compiled
from sorvek.core.constants import TRANSITION_S
from sorvek.core.simulation import kernel as k

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
# Shares of movements and of single columns that a child takes from other members, and how many members are left
# to breed in the end; tried on the forms of the notation and four tiers, where shares matter little.
SCHEME_SHARE, COLUMN_SHARE = 0.35, 0.15
# How often a scheme is taken for early or late rounds only, and how often another column is drawn for one that
# plays no part.
HALF_SHARE, REDRAWS = 0.2, 4
LEAST_ALIVE = 6
POLISHED = 2
# Polishing ends at the latest when so many times the budget are spent.
MOST_POLISHING = 2.5
# The share of a failed rep's price that founders are let off; it falls evenly to nothing. With all of it let off
# fails spread, with less than this those who must fail once are lost in some searches.
LENIENCY = 0.9
# Losses closer than this are those of one plan, written in two ways.
SAME_LOSS_S = 1e-9


@compiled
def _expand(x, seg_i, tables, choice_i, choice_f, grids):
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
    course_reps, course_s, open_ended, end_s = goal
    state = np.zeros(k.STATE_SIZE)
    no_marks = np.zeros((0, 2))
    no_log, nothing = np.zeros((0, 1)), np.zeros(0)
    n, n_seg = us.shape[0], seg_i.shape[0]
    snaps = np.zeros((n, n_seg, k.N_SNAP))
    known_i = np.zeros((n, n_seg, choice_i.shape[1]), dtype=np.int64)
    known_f = np.zeros((n, n_seg, choice_f.shape[1]))
    known_out = np.zeros((n, k.N_OUT))
    known = np.zeros(n, dtype=np.bool_)
    simulations = 0
    for i in range(xs.shape[0]):
        _expand(xs[i], seg_i, tables, choice_i, choice_f, grids)
        changed = change_share(xs[i], tables)
        losses[i] = 0.0
        values[i] = 0.0
        for j in range(n):
            out = known_out[j]
            first = _first_change(choice_i, choice_f, known_i[j], known_f[j], sizes) if known[j] else 0
            if first == 0 or first <= out[k.REACHED]:
                k.simulate(
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
                    nothing if first == 0 else snaps[j, first],
                )
                known_i[j] = choice_i
                known_f[j] = choice_f
                known[j] = True
                simulations += 1
            loss, value, failed_s = loss_s(out, course_reps, course_s, open_ended, end_s, prices[j])
            loss = weights[j] * (loss - failed_s + changed * value) + failed_s
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
def _nudge(y, moves, changes, rng):
    """Change one column of one slot: to any value, or by a step or two; seldom one that plays no part."""
    move = moves[int(rng.random() * moves.shape[0])]
    for _ in range(REDRAWS):
        late = move[1] < STYLE and move[1] % 2 == 1
        if not late or y[move[0], CHANGE] < changes[move[0]]:
            break
        move = moves[int(rng.random() * moves.shape[0])]
    slot, column, low, high = move[0], move[1], move[2], move[3]
    draw = rng.random()
    if draw < 0.5:
        y[slot, column] = low + int(2.0 * draw * (high - low + 1))
    else:
        # A quarter of the upper half each: -2, -1, 1 and 2 steps.
        quarter = int(8.0 * draw) - 4
        step_by = quarter - 2 if quarter < 2 else quarter - 1
        y[slot, column] = min(high, max(low, y[slot, column] + step_by))


@compiled
def take_half(y, slot, other, changes, rng):
    """Do a movement as another member does it early or late, from some round on or up to it.

    `y` and `other` are candidates (slots, columns), `changes` is the last round in which a scheme may change.
    """
    if y[slot, CHANGE] >= changes:
        for column in (RULE, REST, PACE, WAIT):
            y[slot, column + 1] = y[slot, column]
    y[slot, CHANGE] = 1 + int(changes * rng.random())
    to, of = int(2.0 * rng.random()), int(2.0 * rng.random())
    for column in (RULE, REST, PACE, WAIT):
        y[slot, column + to] = other[slot, column + of]


@compiled
def _child(y, pop, at, alive, moves, changes, rng):
    """Make `y` a child of member `at`: some schemes and columns of two others, and one to three random moves.

    `alive` holds the members the others are drawn from, `changes` (slots,) the last round a scheme may change in.
    Random numbers cost as much here as a short simulation, so that columns are drawn and not asked one by one.
    """
    y[:] = pop[at]
    other, third = alive[int(rng.random() * alive.size)], alive[int(rng.random() * alive.size)]
    for slot in range(pop.shape[1]):
        if rng.random() < SCHEME_SHARE:
            if changes[slot] > 1 and rng.random() < HALF_SHARE:
                take_half(y, slot, pop[other], changes[slot], rng)
            else:
                y[slot] = pop[other, slot]
    for _ in range(int(2.0 * COLUMN_SHARE * moves.shape[0] * rng.random() + 0.5)):
        m = int(rng.random() * moves.shape[0])
        y[moves[m, 0], moves[m, 1]] = pop[third, moves[m, 0], moves[m, 1]]
    draw = rng.random()
    for _ in range(1 if draw < 0.25 else 2 if draw < 0.75 else 3):
        _nudge(y, moves, changes, rng)


@compiled
def _small_change(y, pop, at, moves, number):
    """Make `y` member `at` with one column changed, or sets and rest of one slot: the change of that number.

    Returns False where there are fewer.
    """
    y[:] = pop[at]
    for m in range(moves.shape[0]):
        span = moves[m, 3] - moves[m, 2] + 1
        if number < span:
            y[moves[m, 0], moves[m, 1]] = moves[m, 2] + number
            return True
        number -= span
    for m in range(moves.shape[0] - 1):
        if moves[m, 1] == RULE and moves[m + 1, 1] == REST:
            rests = moves[m + 1, 3] - moves[m + 1, 2] + 1
            span = (moves[m, 3] - moves[m, 2] + 1) * rests
            if number < span:
                y[moves[m, 0], RULE] = moves[m, 2] + number // rests
                y[moves[m, 0], REST] = moves[m + 1, 2] + number % rests
                return True
            number -= span
    return False


@compiled
def breed(
    pop, daily, moves, budget, slack_s, rng, tables, problem, grids, days, goal, prices, weights, choice_i, choice_f
):
    """Improve a population (n, slots, columns) in place: a child takes its parent's place if it loses less.

    `daily` (n, days) holds the losses of the members, in and out. A child is given up on the first day on which
    it lies more than `slack_s` behind its parent in sum, so that most take one simulation instead of one a day;
    it goes on from where its plan parts from its parent's. What loses exactly as much as a member is that member
    written otherwise and adds nothing. The worst members stop breeding one after the other, down to the last
    few. The price of a failed rep rises meanwhile: at once in full it would wipe out all that have to fail once on
    the way to more. When `budget` simulations are spent, small changes are made to the best member until
    nothing wins any more. n is at least 1. Returns the simulations.
    A genetic algorithm with one-to-one replacement, as in differential evolution (Storn & Price 1997), a shrinking
    population (Tanabe & Fukunaga 2014) and a constraint that tightens (Takahama & Sakai 2006).
    """
    seg_i, seg_f, variants = problem
    us, whos = days
    n, n_days, n_seg, sizes = pop.shape[0], us.shape[0], seg_i.shape[0], tables[4]
    course_reps, course_s, open_ended, end_s = goal
    state = np.zeros(k.STATE_SIZE)
    no_marks = np.zeros((0, 2))
    no_log, nothing = np.zeros((0, 1)), np.zeros(0)
    y = pop[0].copy()
    new, outs = np.zeros(n_days), np.zeros((n_days, k.N_OUT))
    snaps = np.zeros((n_days, n_seg, k.N_SNAP))
    known_i = np.zeros((n, n_seg, choice_i.shape[1]), dtype=np.int64)
    known_f = np.zeros((n, n_seg, choice_f.shape[1]))
    known_out = np.zeros((n, n_days, k.N_OUT))
    # Only the rows that are reached are ever written or read.
    known_snaps = np.empty((n, n_days, n_seg, k.N_SNAP))
    changes = 0
    while _small_change(y, pop, 0, moves, changes):
        changes += 1
    last_change = np.zeros(pop.shape[1], dtype=np.int64)
    for m in range(moves.shape[0]):
        if moves[m, 1] == CHANGE:
            last_change[moves[m, 0]] = moves[m, 3]
    # What failed reps cost is kept apart, since a part of it is remitted in the totals.
    totals, dues = np.full(n, np.inf), np.zeros(n)
    due, remitted = 0.0, LENIENCY
    alive = np.arange(n)
    polished, turn = alive[:1], 0
    simulations = trials = last_win = 0
    count_again = n
    polishing = False
    while True:
        if polishing and simulations >= MOST_POLISHING * budget:
            break
        if polishing and trials >= last_win + changes:
            turn, last_win = turn + 1, trials
            if turn == polished.size:
                break
        # The members themselves come first: nothing is known of them yet.
        founding = trials < n
        if not polishing and not founding and (simulations >= budget or trials >= n + budget):
            polishing, last_win = True, trials
            remitted, totals = 0.0, daily.sum(axis=1)
            polished = np.argsort(totals)[:POLISHED]
        if founding:
            at = trials
            y[:] = pop[at]
        elif polishing:
            at = polished[turn]
            _small_change(y, pop, at, moves, trials % changes)
        else:
            if trials >= count_again:
                remitted = LENIENCY * max(0.0, 1.0 - simulations / budget)
                totals = daily.sum(axis=1) - remitted * dues
                alive = np.argsort(totals)[: max(LEAST_ALIVE, n - int(n * simulations / budget))]
                count_again = trials + alive.size
            at = alive[int(rng.random() * alive.size)]
            _child(y, pop, at, alive, moves, last_change, rng)
        trials += 1
        _expand(y, seg_i, tables, choice_i, choice_f, grids)
        changed = change_share(y, tables)
        first = 0 if founding else _first_change(choice_i, choice_f, known_i[at], known_f[at], sizes)
        ahead, good = 0.0, True
        for j in range(n_days):
            if first > 0 and first > known_out[at, j, k.REACHED]:
                outs[j] = known_out[at, j]
            else:
                k.simulate(
                    seg_i,
                    seg_f,
                    variants,
                    us[j],
                    whos[j],
                    choice_i,
                    choice_f,
                    sizes,
                    state,
                    outs[j],
                    no_marks,
                    no_log,
                    snaps[j],
                    first,
                    nothing if first == 0 else known_snaps[at, j, first],
                )
                simulations += 1
            new[j], value, failed_s = loss_s(outs[j], course_reps, course_s, open_ended, end_s, prices[j])
            new[j] = weights[j] * (new[j] - failed_s + changed * value) + failed_s
            if j == 0:
                due = failed_s
                ahead = remitted * (due - dues[at])
            ahead += daily[at, j] - new[j]
            if not founding and ahead < (0.0 if j == n_days - 1 else -slack_s):
                good = False
                break
        total = new.sum() - remitted * due
        if good and (founding or np.abs(totals - total).min() > SAME_LOSS_S):
            last_win = trials
            pop[at] = y
            daily[at] = new
            totals[at] = total
            dues[at] = due
            for j in range(n_days):
                if first == 0 or first <= known_out[at, j, k.REACHED]:
                    last = int(outs[j, k.REACHED]) + 1
                    known_snaps[at, j, first:last] = snaps[j, first:last]
            known_out[at] = outs
            known_i[at] = choice_i
            known_f[at] = choice_f
    return simulations
