"""The steps of the simulation, one function each: reserves, breath, the seconds and the cost of a rep.

They are those of docs/model.md with the same names, built into `kernel.simulate` where they are called, so that
none costs a call. `state` and `now`, its numbers that are no row, are laid out in `columns.py`; times are in s,
power in W, work in J.
"""

import math
from typing import NamedTuple

from sorvek.core import constants as c
from sorvek.core.compiled import inlined
from sorvek.core.simulation import columns as k

# Divisions are dear: what is divided by once a rep stands here the other way up.
PER_GRIND, PER_CAL_W, PER_FATIGUE_TAU = 1.0 / c.GRIND_REPS, 1.0 / c.ERG_CAL_W, 1.0 / c.FATIGUE_TAU_S
PER_CEILING_SCALE, WEAR_PER_S = 1.0 / c.CEILING_SCALE, c.WEAR_PER_MIN / 60.0
STUCK_TRIES = 60
STUCK_REST_S = 20.0
# How a set ended: done, cut off by its deadline, at a rep that cannot be done.
DONE, OUT_OF_TIME, STUCK = range(3)


class Engine(NamedTuple):
    """The athlete's breath: critical power in W, W′ in J, below how much of it reps get slower and power wears."""

    cp: float
    w_prime: float
    per_w_prime: float
    breath_j: float
    per_breath: float
    wear_j: float
    per_wear: float


class Visit(NamedTuple):
    """What is the same for every rep of a visit: seconds, pace, what the movement asks, when it must be over."""

    variant: int
    unbroken: float
    lasting: float
    cycle_s: float
    setup_s: float
    single_s: float
    again: float
    steady: bool
    kind: float
    coefficient: float
    skill: float
    may_trip: bool
    fastest: float
    pace: float
    rest_s: float
    slip_s: float
    slower: float
    margin: float
    deadline: float


@inlined
def engine_of(who):
    """Return the breath of a sample of the athlete."""
    w_prime = who[k.W_PRIME]
    breath_j, wear_j = c.BREATH_FRAC * w_prime, c.WEAR_FRAC * w_prime
    return Engine(who[k.CP], w_prime, 1.0 / w_prime, breath_j, 1.0 / breath_j, wear_j, 1.0 / wear_j)


@inlined
def visit_of(variants, v, u, who, pace, rest_s, deadline):
    """Return the visit that does variant `v` at a pace, `u` reps unbroken, with `rest_s` between sets."""
    cubed_u, cubed_half = u * u * u, c.LASTING_HALF_U * c.LASTING_HALF_U * c.LASTING_HALF_U
    steady = variants[v, k.STEADY] > 0.0
    return Visit(
        v,
        u,
        cubed_u / (cubed_u + cubed_half),
        variants[v, k.CYCLE] * who[k.SPEED],
        variants[v, k.SETUP],
        variants[v, k.SINGLE] * who[k.SPEED],
        1.0 + variants[v, k.NO_REP] * who[k.NO_REPS],
        steady,
        variants[v, k.POWER],
        variants[v, k.COEFFICIENT],
        variants[v, k.SKILL],
        variants[v, k.TRIPS] > 0.0,
        variants[v, k.FASTEST],
        pace,
        rest_s,
        c.REST_SLIP_S * who[k.SLIP],
        # Steady work slows in the gap between reps, where everything recovers; a kip or a bar slows in the rep.
        max(0.0, pace - 1.0) if steady else 0.0,
        min(c.MARGIN_REPS, c.MARGIN_U_FRAC * u),
        deadline,
    )


@inlined
def decay(x):
    """Return exp(−x) for x ≥ 0 with an error below 3e-8: the (3, 3) Padé approximant at x/8, to the eighth power.

    Without branches or calls, so that loops over the resources are vectorised.
    """
    y = 0.125 * min(x, 32.0)
    even, odd = 120.0 + 12.0 * y * y, y * (60.0 + y * y)
    q = (even - odd) / (even + odd)
    q *= q
    q *= q
    return q * q


@inlined
def _ceiling(fatigue):
    """Return up to where a reserve comes back with so much lasting fatigue."""
    return 1.0 - c.CEILING_DROP * (1.0 - decay(fatigue * PER_CEILING_SCALE))


@inlined
def recover(dt, state, n_r, w, w_prime, cp):
    """Let all reserves, the engine and the lasting fatigue recover for `dt` seconds; return W.

    Shapes: state (STATE_SIZE,), of which the first `n_r` lanes of every row count, a multiple of VECTOR.
    """
    pace = dt / (1.0 + c.TAU_SLOWING * (1.0 - w / w_prime))
    fade = decay(dt * PER_FATIGUE_TAU)
    for r in range(n_r):
        ceiling = _ceiling(state[k.F + r])
        b = state[k.B + r]
        state[k.B + r] = b + max(0.0, ceiling - b) * (1.0 - decay(pace * k.RATE[r]))
        state[k.F + r] *= fade
    return w_prime - (w_prime - w) * decay(cp * dt / w_prime)


@inlined
def powers(q, n):
    """Return qⁿ and 1 + q + … + qⁿ⁻¹ for n of 4 or 8."""
    squared = q * q
    power, terms = squared * squared, (1.0 + q) * (1.0 + squared)
    return (power * power, terms * (1.0 + power)) if n == 8 else (power, terms)


@inlined
def deep(b):
    """Return how much more lasting fatigue a rep leaves that ends with the reserve at `b` than a fresh one."""
    depth = max(0.0, 1.0 - b)
    cubed = depth * depth * depth
    return 1.0 + c.DEPTH_COST * cubed * cubed


@inlined
def reps_in_reserve(state, n_r):
    """Return how many reps the scarcest reserve holds, were nothing to come back."""
    # Four at a time, because a minimum found one after the other waits for itself.
    p0 = p1 = p2 = p3 = 1e9
    for r in range(0, n_r, k.VECTOR):
        p0 = min(p0, state[k.B + r] * state[k.PER_K + r])
        p1 = min(p1, state[k.B + r + 1] * state[k.PER_K + r + 1])
        p2 = min(p2, state[k.B + r + 2] * state[k.PER_K + r + 2])
        p3 = min(p3, state[k.B + r + 3] * state[k.PER_K + r + 3])
    return min(p0, p1, p2, p3)


@inlined
def _ceiling_reps(state, n_r):
    """Return how many reps there would be after endless rest, with the lasting fatigue there is."""
    reps = 1e9
    for r in range(n_r):
        if state[k.K + r] > 0.0:
            reps = min(reps, _ceiling(state[k.F + r]) / state[k.K + r])
    return reps


@inlined
def _wait_s(target, state, n_r, slow):
    """Return the seconds of rest until every reserve holds `target` reps (which its ceiling allows)."""
    wait = 0.0
    for r in range(n_r):
        need = target * state[k.K + r]
        if state[k.B + r] < need:
            ceiling = _ceiling(state[k.F + r])
            wait = max(wait, k.TAU[r] * slow * math.log((ceiling - state[k.B + r]) / max(ceiling - need, 1e-9)))
    return wait


@inlined
def weigh(state, n_r, variants, visit, single):
    """Set what a rep of the sets that follow costs every reserve, and how far it comes back meanwhile."""
    relief = visit.again * (c.SINGLE_RELIEF if single else 1.0) / max(visit.unbroken, 1e-6)
    for r in range(n_r):
        weight = variants[visit.variant, k.WEIGHTS + r]
        state[k.K + r] = weight * relief
        state[k.PER_K + r] = 1.0 / max(state[k.K + r], 1e-12)
        state[k.LEFT + r] = visit.lasting * state[k.K + r]
        state[k.OPEN + r] = 12.0 * ((1.0 - weight) * (1.0 - weight) + visit.slower) / (1.0 + visit.slower)


@inlined
def between_sets(state, now, n_r, visit, engine, single, was_single):
    """Rest before the next set, or reset between singles, and start it; the clock may pass the deadline."""
    # Between quick singles the reset is the slip: a second of rest more is a second more, from none on.
    quick = single and was_single
    gap = visit.rest_s + (visit.slip_s if visit.rest_s > 0.0 and not quick else 0.0)
    gap += visit.single_s - visit.cycle_s if quick else visit.setup_s
    # In the last seconds a planned rest is dropped if a rep is there.
    if visit.deadline - now[k.SNAP_T] <= c.LAST_PUSH_S and reps_in_reserve(state, n_r) >= 1.0:
        gap = 0.0 if single else visit.setup_s
    now[k.SNAP_W] = recover(gap, state, n_r, now[k.SNAP_W], engine.w_prime, now[k.SNAP_CP])
    now[k.SNAP_T] += gap
    if not single and now[k.SNAP_T] < visit.deadline:
        restart = c.RESTART_REPS * visit.unbroken / (visit.unbroken + c.RESTART_HALF_U)
        for r in range(n_r):
            state[k.B + r] = max(0.0, state[k.B + r] - restart * state[k.K + r])


@inlined
def _fail(state, now, n_r, dear):
    """Try a rep and fail it: it costs what a rep costs, and leaves twice as much."""
    now[k.SNAP_FAILED] += 1.0
    for r in range(n_r):
        state[k.B + r] = max(0.0, state[k.B + r] - dear * state[k.K + r])
        state[k.F + r] += 2.0 * dear * state[k.LEFT + r] * deep(state[k.B + r])


@inlined
def forced_break(state, now, n_r, visit, engine, w, t, cp, dear):
    """Fail where a rep that is not there can fail, then rest until it is; the clock may pass the deadline.

    Returns W, the clock, the reps in reserve, and how it ended.
    """
    rir, ended, tries = 0.0, DONE, 0
    now[k.SNAP_SHORT] += c.BREAK_MARGINS * visit.margin
    if not visit.steady and visit.unbroken >= 1.0:
        _fail(state, now, n_r, dear)
        t += c.FAIL_CYCLES * visit.cycle_s
    while ended == DONE and rir < 1.0 - c.FAIL_SLACK_REPS:
        tries += 1
        room = _ceiling_reps(state, n_r) / dear
        hopeless = room < 1.001 and visit.deadline > k.LONG_S and tries > 3
        if visit.unbroken < 1.0 or tries > STUCK_TRIES or hopeless:
            ended = STUCK
        else:
            wait = STUCK_REST_S
            if room >= 1.001:
                target = c.FAIL_READY_REPS if visit.steady else max(c.FAIL_READY_REPS, c.FAIL_READY_FRAC * room)
                slow = 1.0 + c.TAU_SLOWING * (1.0 - w / engine.w_prime)
                wait = _wait_s(max(1.0005, min(target, 0.95 * room)) * dear, state, n_r, slow)
                if not visit.steady:
                    wait = max(wait, c.FAIL_REST_S)
            w = recover(wait, state, n_r, w, engine.w_prime, cp)
            t += wait
            now[k.SNAP_FORCED] += wait
            if t >= visit.deadline:
                ended = OUT_OF_TIME
        rir = reps_in_reserve(state, n_r) / dear
    return w, t, rir, ended


@inlined
def rep_of(visit, engine, w, cp, rir, hurry):
    """Return the seconds of a rep and what it drains from W′ in J (below 0 where some comes back)."""
    rep_s = visit.cycle_s * hurry
    if rir < c.GRIND_REPS:
        near = 1.0 - rir * PER_GRIND
        rep_s *= 1.0 + c.GRIND_SLOWING * near * near
    if w < engine.breath_j:
        near = 1.0 - w * engine.per_breath
        rep_s *= 1.0 + c.BREATH_SLOWING * near * near
    if visit.kind == k.POWER_WORK:
        work_j = visit.coefficient
    elif visit.kind == k.POWER_METRE:
        work_j = visit.coefficient / (rep_s * rep_s)
    else:
        work_j = max(0.0, (3600.0 - c.ERG_CAL_BASE_H * rep_s) * PER_CAL_W)
    drain_j = work_j - cp * rep_s
    if drain_j > w:  # no faster than the critical power allows
        if visit.kind == k.POWER_WORK:
            rep_s = visit.coefficient / cp
        elif visit.kind == k.POWER_METRE:
            rep_s = (visit.coefficient / cp) ** (1.0 / 3.0)
        else:
            rep_s = 3600.0 / (c.ERG_CAL_W * cp + c.ERG_CAL_BASE_H)
        drain_j = 0.0
    return rep_s * visit.again, drain_j * visit.again


@inlined
def hurry_of(visit, t, rir):
    """Return the pace of a rep: in the last seconds before a cap as fast as it goes while something is left."""
    if visit.deadline - t > c.CLOSING_S:
        return visit.pace
    return visit.fastest if rir >= c.GRIND_REPS else min(visit.pace, 1.0)


@inlined
def trip_chance(visit, tired):
    """Return the chance that a rep of the rope trips, 0 for other work; `tired` is the share of W′ that is gone."""
    chance = 0.0
    if visit.may_trip:
        chance = c.TRIP_REPS_FRAC / max(visit.unbroken, 1.0) * (1.0 + c.TRIP_BREATH * tired * tired)
    return chance


@inlined
def reps_at_once(visit, engine, size, rir, left_s, whole_s, w, drain_j):
    """Return how many of `size` reps are one step: comfortable ones are all alike, so that four or eight may be."""
    n = 1
    if visit.skill == 0.0 and rir >= c.GRIND_REPS + 4.0 and size >= 4:
        n = 8 if rir >= c.GRIND_REPS + 8.0 and size >= 8 else 4
        if left_s < c.CLOSING_S + n * whole_s or w - n * drain_j < engine.breath_j:
            n = 1
    return n


@inlined
def refresh(state, n_r, rep_s, per_slow):
    """Work out again up to where reserves come back, and how fast while working."""
    time_per_tau = rep_s * per_slow
    # 12x/(12+6x+x²) is 1−exp(−x) to 2e-5 for the short times of one rep; without branches.
    for r in range(n_r):
        state[k.TOP + r] = _ceiling(state[k.F + r])
        x = time_per_tau * k.RATE[r]
        state[k.GAIN + r] = state[k.OPEN + r] * k.RATE[r] / (12.0 + x * (6.0 + x))


@inlined
def one_rep(state, n_r, dear, time_per_tau, fade):
    """Drain the reserves by a rep, less the share that comes back while working."""
    for r in range(n_r):
        left = state[k.B + r] - dear * state[k.K + r]
        left += max(0.0, state[k.TOP + r] - left) * state[k.GAIN + r] * time_per_tau
        state[k.B + r] = max(0.0, left)
        state[k.F + r] = state[k.F + r] * fade + dear * state[k.LEFT + r] * deep(state[k.B + r])


@inlined
def several_reps(state, n_r, n, dear, time_per_tau, fade):
    """Drain the reserves by `n` reps that are alike, 4 or 8.

    b ← q·b + a, done n times, is qⁿ·b + a·(1 + q + … + qⁿ⁻¹). How deep these reps lie is read in their middle.
    """
    fade_n, fade_terms = powers(fade, n)
    for r in range(n_r):
        back = state[k.GAIN + r] * time_per_tau
        q = 1.0 - back
        power_q, terms = powers(q, n)
        before = state[k.B + r]
        left = min(1.0, power_q * before + terms * (back * state[k.TOP + r] - q * dear * state[k.K + r]))
        state[k.B + r] = left
        middle = deep(0.5 * (before + left))
        state[k.F + r] = fade_n * state[k.F + r] + fade_terms * dear * state[k.LEFT + r] * middle


@inlined
def breathe(w, engine, drain_j):
    """Return W after work that drained so much, or gave some back."""
    if drain_j > 0.0:
        return max(0.0, w - drain_j)
    x = -drain_j * engine.per_w_prime
    return w + (engine.w_prime - w) * 12.0 * x / (12.0 + x * (6.0 + x))
