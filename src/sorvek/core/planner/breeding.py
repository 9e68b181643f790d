"""Compiled search: a population of candidate plans, children of them, and which of these take a place in it."""

import numpy as np

from sorvek.core.compiled import compiled
from sorvek.core.planner.batch import (
    CHANGE,
    PACE,
    REST,
    RULE,
    STYLE,
    WAIT,
    change_share,
    day_loss,
    expand,
    first_change,
)
from sorvek.core.simulation import columns as k
from sorvek.core.simulation import simulate

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
def _changes(y, pop, moves):
    """Return how many small changes there are, and for each slot the last round in which a scheme may change."""
    count = 0
    while _small_change(y, pop, 0, moves, count):
        count += 1
    last = np.zeros(pop.shape[1], dtype=np.int64)
    for m in range(moves.shape[0]):
        if moves[m, 1] == CHANGE:
            last[moves[m, 0]] = moves[m, 3]
    return count, last


@compiled
def _try(y, at, founding, remitted, slack_s, herd, scratch, setting):
    """Simulate `y` day by day and let it take the place of member `at` if it loses less, a founder in any case.

    It goes on from where its plan parts from the member's, and is given up on the first day on which it lies more
    than `slack_s` behind in sum. What loses exactly as much as a member is that member written otherwise and adds
    nothing. Returns whether it took the place, and the simulations.
    """
    tables, problem, grids, days, goal, prices, weights, plan = setting
    pop, daily, totals, dues, known_i, known_f, known_out, known_snaps = herd
    new, outs, snaps, state, no_log, nothing = scratch
    seg_i, seg_f, variants = problem
    us, whos = days
    choice_i, choice_f = plan
    n_days, sizes = us.shape[0], tables[4]
    expand(y, seg_i, tables, choice_i, choice_f, grids)
    changed = change_share(y, tables)
    first = 0 if founding else first_change(choice_i, choice_f, known_i[at], known_f[at], sizes)
    simulations, due, ahead = 0, 0.0, 0.0
    for j in range(n_days):
        if first > 0 and first > known_out[at, j, k.REACHED]:
            outs[j] = known_out[at, j]
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
                outs[j],
                no_log,
                snaps[j],
                first,
                nothing if first == 0 else known_snaps[at, j, first],
            )
            simulations += 1
        new[j], _, failed_s = day_loss(outs[j], goal, prices[j], weights[j], changed)
        if j == 0:
            due = failed_s
            ahead = remitted * (due - dues[at])
        ahead += daily[at, j] - new[j]
        if not founding and ahead < (0.0 if j == n_days - 1 else -slack_s):
            return False, simulations
    total = new.sum() - remitted * due
    if not founding and np.abs(totals - total).min() <= SAME_LOSS_S:
        return False, simulations
    pop[at], daily[at], totals[at], dues[at] = y, new, total, due
    for j in range(n_days):
        if first == 0 or first <= known_out[at, j, k.REACHED]:
            last = int(outs[j, k.REACHED]) + 1
            known_snaps[at, j, first:last] = snaps[j, first:last]
    known_out[at], known_i[at], known_f[at] = outs, choice_i, choice_f
    return True, simulations


@compiled
def breed(
    pop, daily, moves, budget, slack_s, rng, tables, problem, grids, days, goal, prices, weights, choice_i, choice_f
):
    """Improve a population (n, slots, columns) in place: a child takes its parent's place if it loses less.

    `daily` (n, days) holds the losses of the members, in and out. A child is given up on the first day on which
    it lies more than `slack_s` behind its parent in sum, so that most take one simulation instead of one a day.
    The worst members stop breeding one after the other, down to the last few. The price of a failed rep rises
    meanwhile: at once in full it would wipe out all that have to fail once on the way to more. When `budget`
    simulations are spent, small changes are made to the best members until nothing wins any more. n is at least 1.
    Returns the simulations.
    A genetic algorithm with one-to-one replacement, as in differential evolution (Storn & Price 1997), a shrinking
    population (Tanabe & Fukunaga 2014) and a constraint that tightens (Takahama & Sakai 2006).
    """
    n, n_days, n_seg = pop.shape[0], days[0].shape[0], problem[0].shape[0]
    y = pop[0].copy()
    changes, last_change = _changes(y, pop, moves)
    # What failed reps cost is kept apart, since a part of it is remitted in the totals.
    totals, dues = np.full(n, np.inf), np.zeros(n)
    known_i = np.zeros((n, n_seg, choice_i.shape[1]), dtype=np.int64)
    known_f = np.zeros((n, n_seg, choice_f.shape[1]))
    known_out = np.zeros((n, n_days, k.N_OUT))
    # Only the rows that are reached are ever written or read.
    known_snaps = np.empty((n, n_days, n_seg, k.N_SNAP))
    herd = pop, daily, totals, dues, known_i, known_f, known_out, known_snaps
    snaps, state = np.zeros((n_days, n_seg, k.N_SNAP)), np.zeros(k.STATE_SIZE)
    scratch = np.zeros(n_days), np.zeros((n_days, k.N_OUT)), snaps, state, np.zeros((0, 1)), np.zeros(0)
    setting = tables, problem, grids, days, goal, prices, weights, (choice_i, choice_f)
    simulations, remitted = 0, LENIENCY
    # The members themselves come first: nothing is known of them yet.
    for at in range(n):
        y[:] = pop[at]
        _, more = _try(y, at, True, remitted, slack_s, herd, scratch, setting)
        simulations += more
    alive, trials, count_again = np.arange(n), n, n
    while simulations < budget and trials < n + budget:
        if trials >= count_again:
            remitted = LENIENCY * max(0.0, 1.0 - simulations / budget)
            totals[:] = daily.sum(axis=1) - remitted * dues
            alive = np.argsort(totals)[: max(LEAST_ALIVE, n - int(n * simulations / budget))]
            count_again = trials + alive.size
        at = alive[int(rng.random() * alive.size)]
        _child(y, pop, at, alive, moves, last_change, rng)
        trials += 1
        _, more = _try(y, at, False, remitted, slack_s, herd, scratch, setting)
        simulations += more
    totals[:] = daily.sum(axis=1)
    polished, turn, last_win = np.argsort(totals)[:POLISHED], 0, trials
    while turn < polished.size:
        _small_change(y, pop, polished[turn], moves, trials % changes)
        trials += 1
        won, more = _try(y, polished[turn], False, 0.0, slack_s, herd, scratch, setting)
        simulations += more
        if simulations >= MOST_POLISHING * budget:
            break
        if won:
            last_win = trials
        elif trials >= last_win + changes:
            turn, last_win = turn + 1, trials
    return simulations
