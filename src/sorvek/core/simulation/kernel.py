"""The compiled simulation: one athlete, one plan, rep by rep; nothing is allocated inside.

All inputs are arrays prepared once (see `problem.py`). Column layouts stand here and nowhere else.
The steps are those of docs/model.md, in the same order and with the same names.
"""

import math

import numpy as np

from sorvek.core import constants as c
from sorvek.core.compiled import compiled, inlined

# seg_i: ints a segment; ROUND counts the rounds of a stretch that are alike from 1, 0 where they are not; NEXT is
# the first segment of the part behind its own, 0 if there is none; COUNTED what all its reps count for the score
REPS, TIE, SLOT, ROUND, NEXT, COUNTED = range(6)
# seg_f: floats a segment; PART_CAP bounds its part from the moment the part begins, 0 if nothing does
REST_BEFORE, OPENS, DEADLINE, PART_CAP = range(4)
# variants: floats a slot and style; weights of the resources from column WEIGHTS on
CYCLE, SETUP, SINGLE, STEADY, POWER, COEFFICIENT, SKILL, TRIPS, FASTEST, NO_REP, WEIGHTS = range(11)
POWER_WORK, POWER_METRE, POWER_CAL = 0.0, 1.0, 2.0
# who: floats a sample of the athlete. SPEED, CHANGES and SLIP are factors on the seconds of a rep, on those between
# movements and on what planned rests run over; NO_REPS one on every movement's share of reps that do not count.
CP, W_PRIME, SLIP, SPEED, CHANGES, NO_REPS, N_WHO = range(7)
# choice_i, choice_f: what the plan says for a segment
FIRST_SIZE, N_SIZES, VARIANT = 0, 1, 2
REST, PACE, LEAD = 0, 1, 2
# out: the result
TIME, DONE, PARTIAL, FINISHED, FAILED, FORCED_S = range(6)
SHORTFALL, TIE_TIME, STUCK, N_TRIPS, WORK_LEFT, REACHED, STEPS, HOT_S, TIE_DONE, N_OUT = range(6, 16)
# log: a row a set; the reserves at its start and at its end stand last
LOG_SEGMENT, LOG_REPS, LOG_BEGIN, LOG_END, LOG_RIR, LOG_FAILED = range(6)
LOG_FORCED_S, LOG_W_BEGIN, LOG_W_END, LOG_BEFORE = range(6, 10)

# The state while a plan runs: one flat array of rows with a fixed stride, so that the compiler knows that rows do
# not overlap and turns loops over the resources into vector code. Reserves, lasting fatigue, cost of a rep; then
# ceilings, reps per reserve, two factors of the recovery while working, and the lasting fatigue a rep leaves.
LANES = 12
B, F, K, TOP, PER_K, OPEN, GAIN, LEFT, STATE_SIZE = range(0, 9 * LANES, LANES)
# One-sided work doubles the arms: grip, pull and push of the left side follow the six resources. Lanes are
# filled up to a multiple of VECTOR by some that nothing drains.
VECTOR = 4
LOG_AFTER, N_LOG = LOG_BEFORE + LANES, LOG_BEFORE + 2 * LANES
_FILLING_TAU_S = (30.0,) * 3
TAU = np.array([*c.RECOVERY_TAU_S, *c.RECOVERY_TAU_S[:3], *_FILLING_TAU_S])
RATE = 1.0 / TAU
# Lasting fatigue and breath move so little in a few reps that the ceilings and the rates of recovery while
# working are refreshed only every so many.
CEILING_EVERY = 8
# Divisions are dear: what is divided by once a rep stands here the other way up.
PER_GRIND, PER_CAL_W, PER_FATIGUE_TAU = 1.0 / c.GRIND_REPS, 1.0 / c.ERG_CAL_W, 1.0 / c.FATIGUE_TAU_S
PER_CEILING_SCALE, WEAR_PER_S = 1.0 / c.CEILING_SCALE, c.WEAR_PER_MIN / 60.0
# snaps: a row a segment, what is known at its beginning, and at the end in a row more: rows B and F of the state,
# and these behind them. BEGUN are the reps of the visit that are done, SINGLES 1 where the last set was a single,
# CUT 1 where a part before was not finished.
SNAP_W, SNAP_CP, SNAP_WEAR, SNAP_T, SNAP_DONE = range(2 * LANES, 2 * LANES + 5)
SNAP_FAILED, SNAP_FORCED, SNAP_SHORT, SNAP_TIE, SNAP_TRIPS, SNAP_STEPS = range(2 * LANES + 5, 2 * LANES + 11)
SNAP_LAP, SNAP_FIRST_LAP, SNAP_LAST_LAP, SNAP_LAPS_S, SNAP_LAPS, SNAP_HOT, SNAP_TIE_DONE = range(
    2 * LANES + 11, 2 * LANES + 18
)
SNAP_PART, SNAP_AHEAD, SNAP_BEGUN, SNAP_SINGLES, SNAP_CUT, N_SNAP = range(2 * LANES + 18, 2 * LANES + 24)
STUCK_TRIES = 60
STUCK_REST_S = 20.0
LONG_S = 1e8


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
def recover(dt, state, n_r, w, w_prime, cp):
    """Let all reserves, the engine and the lasting fatigue recover for `dt` seconds; return W.

    Shapes: state (STATE_SIZE,), of which the first `n_r` lanes of every row count, a multiple of VECTOR.
    """
    pace = dt / (1.0 + c.TAU_SLOWING * (1.0 - w / w_prime))
    fade = decay(dt * PER_FATIGUE_TAU)
    for r in range(n_r):
        ceiling = 1.0 - c.CEILING_DROP * (1.0 - decay(state[F + r] * PER_CEILING_SCALE))
        b = state[B + r]
        state[B + r] = b + max(0.0, ceiling - b) * (1.0 - decay(pace * RATE[r]))
        state[F + r] *= fade
    return w_prime - (w_prime - w) * decay(cp * dt / w_prime)


@inlined
def _powers(q, n):
    """Return qⁿ and 1 + q + … + qⁿ⁻¹ for n of 4 or 8."""
    squared = q * q
    power, terms = squared * squared, (1.0 + q) * (1.0 + squared)
    return (power * power, terms * (1.0 + power)) if n == 8 else (power, terms)


@inlined
def _deep(b):
    """Return how much more lasting fatigue a rep leaves that ends with the reserve at `b` than a fresh one."""
    depth = max(0.0, 1.0 - b)
    cubed = depth * depth * depth
    return 1.0 + c.DEPTH_COST * cubed * cubed


@inlined
def _reps_in_reserve(state, n_r):
    # Four at a time, because a minimum found one after the other waits for itself.
    p0 = p1 = p2 = p3 = 1e9
    for r in range(0, n_r, VECTOR):
        p0 = min(p0, state[B + r] * state[PER_K + r])
        p1 = min(p1, state[B + r + 1] * state[PER_K + r + 1])
        p2 = min(p2, state[B + r + 2] * state[PER_K + r + 2])
        p3 = min(p3, state[B + r + 3] * state[PER_K + r + 3])
    return min(p0, p1, p2, p3)


@inlined
def _ceiling_reps(state, n_r):
    reps = 1e9
    for r in range(n_r):
        if state[K + r] > 0.0:
            reps = min(
                reps, (1.0 - c.CEILING_DROP * (1.0 - decay(state[F + r] * PER_CEILING_SCALE))) / state[K + r]
            )
    return reps


@inlined
def _wait_s(target, state, n_r, slow):
    """Return the seconds of rest until every reserve holds `target` reps (which its ceiling allows)."""
    wait = 0.0
    for r in range(n_r):
        need = target * state[K + r]
        if state[B + r] < need:
            ceiling = 1.0 - c.CEILING_DROP * (1.0 - decay(state[F + r] * PER_CEILING_SCALE))
            wait = max(wait, TAU[r] * slow * math.log((ceiling - state[B + r]) / max(ceiling - need, 1e-9)))
    return wait


@inlined
def _keep(snap, state, n_r, now):
    """Write a snapshot: reserves, lasting fatigue, then what is known `now` in the order of the columns."""
    for r in range(n_r):
        snap[B + r] = state[B + r]
        snap[F + r] = state[F + r]
    for i in range(len(now)):
        snap[2 * LANES + i] = now[i]


@compiled
def simulate(
    seg_i,
    seg_f,
    variants,
    unbroken,
    who,
    choice_i,
    choice_f,
    sizes,
    state,
    out,
    marks,
    log,
    snaps,
    first,
    begin,
):
    """Run one plan; fill `out`, `marks` (start, end a segment), `log` and `snaps` (if they have rows).

    With `begin` (a row of an earlier run's `snaps`, or empty) it goes on from segment `first` in that state. Where
    some reps of that visit are done, its sizes are those of the sets that are left.

    Shapes: seg_i (n, 6), seg_f (n, 4), variants (v, 10 + R), unbroken (v,), who (N_WHO,), choice_i (n, 3),
    choice_f (n, 3), sizes (any,), state (STATE_SIZE,), out (N_OUT,), marks (n or 0, 2), log (rows, N_LOG),
    snaps (n, n + 1 or 0, N_SNAP); R is a multiple of VECTOR. Times in s, power in W, work in J.
    Returns the rows logged.
    """
    # Written so that the compiler knows there are no lanes left over.
    n_seg, n_r = seg_i.shape[0], (variants.shape[1] - WEIGHTS) // VECTOR * VECTOR
    going_on = begin.shape[0] > 0
    for r in range(n_r):
        state[B + r] = begin[B + r] if going_on else 1.0
        state[F + r] = begin[F + r] if going_on else 0.0
    w_prime = who[W_PRIME]
    per_w_prime = 1.0 / w_prime
    breath_j, wear_j = c.BREATH_FRAC * w_prime, c.WEAR_FRAC * w_prime
    per_breath, per_wear = 1.0 / breath_j, 1.0 / wear_j
    w = w_prime
    cp = who[CP]
    wear = 0.0
    t = 0.0
    done, failed, stuck, steps, tie_done = 0, 0, 0, 0, 0
    partial, forced_s, shortfall, tie, trips = 0.0, 0.0, 0.0, 0.0, 0.0
    rows = 0
    finished = 1.0
    out[TIE_TIME] = 0.0  # holds the time a rep was found impossible until the end
    # Rounds that are alike: when this one began, the first, the last complete one, those between them.
    lap_begin, first_lap, last_lap, laps_s, laps, hot = 0.0, 0.0, 0.0, 0.0, 0.0, 0.0
    stop = False
    reached, ahead = 0, 0
    part_s = 0.0
    begun, was_single, resumed = 0, False, False
    if going_on:
        w, cp, wear, t = begin[SNAP_W], begin[SNAP_CP], begin[SNAP_WEAR], begin[SNAP_T]
        done, failed = int(begin[SNAP_DONE]), int(begin[SNAP_FAILED])
        forced_s, shortfall = begin[SNAP_FORCED], begin[SNAP_SHORT]
        tie, trips, steps = begin[SNAP_TIE], begin[SNAP_TRIPS], int(begin[SNAP_STEPS])
        lap_begin, first_lap, last_lap = begin[SNAP_LAP], begin[SNAP_FIRST_LAP], begin[SNAP_LAST_LAP]
        laps_s, laps, hot = begin[SNAP_LAPS_S], begin[SNAP_LAPS], begin[SNAP_HOT]
        tie_done, part_s, ahead = int(begin[SNAP_TIE_DONE]), begin[SNAP_PART], int(begin[SNAP_AHEAD])
        begun, was_single = int(begin[SNAP_BEGUN]), begin[SNAP_SINGLES] > 0.0
        resumed, finished = begun > 0, 1.0 - begin[SNAP_CUT]
    for s in range(first, n_seg):
        if snaps.shape[0] > 0:
            now = (
                w,
                cp,
                wear,
                t,
                float(done),
                float(failed),
                forced_s,
                shortfall,
                tie,
                trips,
                float(steps),
                lap_begin,
                first_lap,
                last_lap,
                laps_s,
                laps,
                hot,
                float(tie_done),
                part_s,
                float(ahead),
                float(begun),
                1.0 if was_single else 0.0,
                1.0 - finished,
            )
            _keep(snaps[s], state, n_r, now)
        if s < ahead:  # cut off by the cap of its part
            if marks.shape[0] > 0:
                marks[s, 0], marks[s, 1] = t, t
            continue
        reached = s
        lap = seg_i[s, ROUND]
        if s > 0 and not resumed and lap != seg_i[s - 1, ROUND]:
            lap_before = seg_i[s - 1, ROUND]
            if lap_before == 1:
                first_lap, last_lap, laps_s, laps = t - lap_begin, 0.0, 0.0, 0.0
            elif lap_before > 1:
                if lap_before > 2:
                    laps_s += last_lap
                    laps += 1.0
                last_lap = t - lap_begin
            if lap <= 1 and laps > 0.0:
                hot += max(0.0, c.EVEN_FRAC * laps_s / laps - first_lap)
                laps = 0.0
            lap_begin = t + seg_f[s, REST_BEFORE]
        deadline = seg_f[s, DEADLINE]
        v = choice_i[s, VARIANT]
        u = unbroken[v]
        cubed_u, cubed_half = u * u * u, c.LASTING_HALF_U * c.LASTING_HALF_U * c.LASTING_HALF_U
        lasting = cubed_u / (cubed_u + cubed_half)
        cycle, setup, single_s = (
            variants[v, CYCLE] * who[SPEED],
            variants[v, SETUP],
            variants[v, SINGLE] * who[SPEED],
        )
        again = 1.0 + variants[v, NO_REP] * who[NO_REPS]
        steady = variants[v, STEADY] > 0.0
        kind, coefficient = variants[v, POWER], variants[v, COEFFICIENT]
        skill, may_trip = variants[v, SKILL], variants[v, TRIPS] > 0.0
        pace, rest_s = choice_f[s, PACE], choice_f[s, REST]
        # Steady work slows in the gap between reps, where everything recovers; a kip or a bar slows in the rep.
        slower = max(0.0, pace - 1.0) if steady else 0.0
        margin = min(c.MARGIN_REPS, c.MARGIN_U_FRAC * u)
        pause = seg_f[s, REST_BEFORE]
        if seg_f[s, OPENS] > t + pause:
            pause = seg_f[s, OPENS] - t
        rested_s = t + pause
        # Rest between parts and windows is free time for setting up; a change of movement is not.
        if pause > 0.0 or s == 0:
            pause = max(pause, setup)
        else:
            pause = choice_f[s, LEAD] + setup + (who[CHANGES] - 1.0) * (setup + c.TRANSITION_S)
        if resumed:
            pause = 0.0
        w = recover(pause, state, n_r, w, w_prime, cp)
        t += pause
        if seg_f[s, PART_CAP] > 0.0:
            if not resumed and (s == 0 or seg_i[s - 1, NEXT] != seg_i[s, NEXT]):
                part_s = rested_s
            deadline = min(deadline, part_s + seg_f[s, PART_CAP])
        if marks.shape[0] > 0:
            marks[s, 0] = min(t, deadline)
        if t >= deadline:
            t = deadline
            finished = 0.0
            if seg_i[s, NEXT] == 0:
                break
            ahead, begun, was_single, resumed = seg_i[s, NEXT], 0, False, False
            if marks.shape[0] > 0:
                marks[s, 1] = t
            continue
        reps, counted = seg_i[s, REPS], seg_i[s, COUNTED]
        done_before = done - begun * counted // reps
        for j in range(choice_i[s, N_SIZES]):
            size = min(sizes[choice_i[s, FIRST_SIZE] + j], reps - begun)
            if size <= 0:
                break
            is_single = size == 1 and single_s > 0.0 and reps > 1
            if j == 0 or is_single != was_single:
                relief = again * (c.SINGLE_RELIEF if is_single else 1.0) / max(u, 1e-6)
                for r in range(n_r):
                    weight = variants[v, WEIGHTS + r]
                    state[K + r] = weight * relief
                    state[PER_K + r] = 1.0 / max(state[K + r], 1e-12)
                    state[LEFT + r] = lasting * state[K + r]
                    state[OPEN + r] = 12.0 * ((1.0 - weight) * (1.0 - weight) + slower) / (1.0 + slower)
            if j > 0 or resumed:
                # Between quick singles the reset is the slip: a second of rest more is a second more, from none on.
                quick = is_single and was_single
                gap = rest_s + (c.REST_SLIP_S * who[SLIP] if rest_s > 0.0 and not quick else 0.0)
                gap += single_s - cycle if quick else setup
                # In the last seconds a planned rest is dropped if a rep is there.
                if deadline - t <= c.LAST_PUSH_S and _reps_in_reserve(state, n_r) >= 1.0:
                    gap = 0.0 if is_single else setup
                w = recover(gap, state, n_r, w, w_prime, cp)
                t += gap
                if t >= deadline:
                    t = deadline
                    finished = 0.0
                    stop = True
                    break
                if not is_single:
                    restart = c.RESTART_REPS * u / (u + c.RESTART_HALF_U)
                    for r in range(n_r):
                        state[B + r] = max(0.0, state[B + r] - restart * state[K + r])
            was_single, resumed = is_single, False
            logging = rows < log.shape[0]
            if logging:
                log[rows, LOG_SEGMENT] = s
                log[rows, LOG_BEGIN] = t
                log[rows, LOG_W_BEGIN] = w / w_prime
                for r in range(n_r):
                    log[rows, LOG_BEFORE + r] = state[B + r]
            failed_before, forced_before = failed, forced_s
            done_here = 0
            reserve = _reps_in_reserve(state, n_r)
            i = 0
            refreshed = -CEILING_EVERY
            per_slow = 1.0
            while i < size:
                steps += 1
                dear = 1.0
                if skill > 0.0:
                    tired = 1.0 - w * per_w_prime
                    dear = 1.0 + skill * tired * tired
                rir = reserve / dear
                tries = 0
                while rir < 1.0 - c.FAIL_SLACK_REPS:
                    tries += 1
                    if tries == 1:
                        shortfall += c.BREAK_MARGINS * margin
                    if not steady and u >= 1.0 and tries == 1:
                        failed += 1
                        lost = c.FAIL_CYCLES * cycle
                        t += lost
                        for r in range(n_r):
                            state[B + r] = max(0.0, state[B + r] - dear * state[K + r])
                            state[F + r] += 2.0 * dear * state[LEFT + r] * _deep(state[B + r])
                    room = _ceiling_reps(state, n_r) / dear
                    if u < 1.0 or tries > STUCK_TRIES or (room < 1.001 and deadline > LONG_S and tries > 3):
                        stuck = 1
                    elif room < 1.001:
                        w = recover(STUCK_REST_S, state, n_r, w, w_prime, cp)
                        t += STUCK_REST_S
                        forced_s += STUCK_REST_S
                    else:
                        target = max(c.FAIL_READY_REPS, c.FAIL_READY_FRAC * room)
                        if steady:
                            target = c.FAIL_READY_REPS
                        target = max(1.0005, min(target, 0.95 * room))
                        slow = 1.0 + c.TAU_SLOWING * (1.0 - w / w_prime)
                        wait = _wait_s(target * dear, state, n_r, slow)
                        if not steady:
                            wait = max(wait, c.FAIL_REST_S)
                        w = recover(wait, state, n_r, w, w_prime, cp)
                        t += wait
                        forced_s += wait
                    if stuck == 1 or t >= deadline:
                        stop = True
                        break
                    rir = _reps_in_reserve(state, n_r) / dear
                if stop:
                    finished = 0.0
                    if deadline < LONG_S:
                        out[TIE_TIME] = t
                        t = deadline
                    break
                # The last seconds before a cap are as fast as it goes while there is something left.
                hurry = pace
                if deadline - t <= c.CLOSING_S:
                    hurry = variants[v, FASTEST] if rir >= c.GRIND_REPS else min(pace, 1.0)
                rep_s = cycle * hurry
                if hurry < 1.0:
                    dear *= 1.0 + c.HASTE_COST * (1.0 / hurry - 1.0)
                if rir < c.GRIND_REPS:
                    near = 1.0 - rir * PER_GRIND
                    rep_s *= 1.0 + c.GRIND_SLOWING * near * near
                if w < breath_j:
                    near = 1.0 - w * per_breath
                    rep_s *= 1.0 + c.BREATH_SLOWING * near * near
                if kind == POWER_WORK:
                    work_j = coefficient
                elif kind == POWER_METRE:
                    work_j = coefficient / (rep_s * rep_s)
                else:
                    work_j = max(0.0, (3600.0 - c.ERG_CAL_BASE_H * rep_s) * PER_CAL_W)
                drain_j = work_j - cp * rep_s
                if drain_j > w:
                    if kind == POWER_WORK:
                        rep_s = coefficient / cp
                    elif kind == POWER_METRE:
                        rep_s = (coefficient / cp) ** (1.0 / 3.0)
                    else:
                        rep_s = 3600.0 / (c.ERG_CAL_W * cp + c.ERG_CAL_BASE_H)
                    drain_j = 0.0
                rep_s *= again
                drain_j *= again
                p_trip, trip_s = 0.0, 0.0
                if may_trip:
                    tired = 1.0 - w * per_w_prime
                    p_trip = c.TRIP_REPS_FRAC / max(u, 1.0) * (1.0 + c.TRIP_BREATH * tired * tired)
                    trip_s = p_trip * (setup + c.TRIP_EXTRA_S)
                if t + rep_s + trip_s > deadline:
                    partial = (deadline - t) / (rep_s + trip_s)
                    t = deadline
                    finished = 0.0
                    stop = True
                    break
                # The rep itself: what it drains, and the share that comes back while working.
                fade = 1.0 - rep_s * PER_FATIGUE_TAU
                # Comfortable reps are all alike, so that four or eight of them are one step.
                n = 1
                if skill == 0.0 and rir >= c.GRIND_REPS + 4.0 and size - i >= 4:
                    n = 8 if rir >= c.GRIND_REPS + 8.0 and size - i >= 8 else 4
                    if deadline - t < c.CLOSING_S + n * (rep_s + trip_s) or w - n * drain_j < breath_j:
                        n = 1
                if i >= refreshed + CEILING_EVERY or n > 1:
                    refreshed = i
                    per_slow = 1.0 / (1.0 + c.TAU_SLOWING * (1.0 - w * per_w_prime))
                    time_per_tau = rep_s * per_slow
                    # 12x/(12+6x+x²) is 1−exp(−x) to 2e-5 for the short times of one rep; without branches.
                    for r in range(n_r):
                        state[TOP + r] = 1.0 - c.CEILING_DROP * (1.0 - decay(state[F + r] * PER_CEILING_SCALE))
                        x = time_per_tau * RATE[r]
                        state[GAIN + r] = state[OPEN + r] * RATE[r] / (12.0 + x * (6.0 + x))
                time_per_tau = rep_s * per_slow
                if n == 1:
                    for r in range(n_r):
                        cost = dear * state[K + r]
                        left = state[B + r] - cost
                        left += max(0.0, state[TOP + r] - left) * state[GAIN + r] * time_per_tau
                        state[B + r] = max(0.0, left)
                        state[F + r] = state[F + r] * fade + dear * state[LEFT + r] * _deep(state[B + r])
                else:
                    # b ← q·b + a, done n times, is qⁿ·b + a·(1 + q + … + qⁿ⁻¹); how deep these reps lie is read in
                    # their middle.
                    fade_n, fade_terms = _powers(fade, n)
                    for r in range(n_r):
                        back = state[GAIN + r] * time_per_tau
                        q = 1.0 - back
                        power_q, terms = _powers(q, n)
                        before = state[B + r]
                        left = min(
                            1.0, power_q * before + terms * (back * state[TOP + r] - q * dear * state[K + r])
                        )
                        state[B + r] = left
                        deep = _deep(0.5 * (before + left))
                        state[F + r] = fade_n * state[F + r] + fade_terms * dear * state[LEFT + r] * deep
                reserve = _reps_in_reserve(state, n_r)
                if drain_j > 0.0:
                    w = max(0.0, w - n * drain_j)
                else:
                    x = -n * drain_j * per_w_prime
                    w += (w_prime - w) * 12.0 * x / (12.0 + x * (6.0 + x))
                if w < wear_j:
                    wear += WEAR_PER_S * rep_s * (1.0 - w * per_wear)
                    cp = who[CP] * (1.0 - min(c.WEAR_MAX, wear))
                t += n * (rep_s + trip_s)
                trips += n * p_trip
                i += n
                done_here += n
            begun += done_here
            done = done_before + begun * counted // reps
            rir_end = _reps_in_reserve(state, n_r)
            if not steady and done_here > 0 and not stop and deadline - t > c.LAST_PUSH_S:
                last = s == n_seg - 1 and begun >= reps
                if not last:
                    shortfall += max(0.0, margin - rir_end)
            if logging:
                log[rows, LOG_REPS] = done_here
                log[rows, LOG_END] = t
                log[rows, LOG_RIR] = rir_end
                log[rows, LOG_FAILED] = failed - failed_before
                log[rows, LOG_FORCED_S] = forced_s - forced_before
                log[rows, LOG_W_END] = w / w_prime
                for r in range(n_r):
                    log[rows, LOG_AFTER + r] = state[B + r]
                rows += 1
            if stop:
                break
        if marks.shape[0] > 0:
            marks[s, 1] = t
        if stop and counted != reps:  # a share of the next rep that counts
            share = (begun + partial) / reps
            partial = share * counted - begun * counted // reps if counted > 0 else share
        if stop:
            if seg_i[s, NEXT] == 0 or deadline > LONG_S:
                break
            ahead, begun, was_single, resumed = seg_i[s, NEXT], 0, False, False
            stop, stuck, partial = False, 0, 0.0
            continue
        if seg_i[s, TIE] > 0 and begun >= reps:
            tie, tie_done = t, done
        if s < n_seg - 1:
            begun, was_single = 0, False
    if snaps.shape[0] > n_seg:
        now = (
            w,
            cp,
            wear,
            t,
            float(done),
            float(failed),
            forced_s,
            shortfall,
            tie,
            trips,
            float(steps),
            lap_begin,
            first_lap,
            last_lap,
            laps_s,
            laps,
            hot,
            float(tie_done),
            part_s,
            float(ahead),
            float(begun),
            1.0 if was_single else 0.0,
            1.0 - finished,
        )
        _keep(snaps[n_seg], state, n_r, now)
    if laps > 0.0:
        hot += max(0.0, c.EVEN_FRAC * laps_s / laps - first_lap)
    stuck_s = t if stuck == 0 or deadline > LONG_S else out[TIE_TIME]
    out[TIME] = t
    out[DONE] = done
    out[PARTIAL] = partial
    out[FINISHED] = finished
    out[FAILED] = failed
    out[FORCED_S] = forced_s
    out[SHORTFALL] = shortfall
    out[TIE_TIME] = tie
    out[STUCK] = stuck_s if stuck == 1 else 0.0
    out[N_TRIPS] = trips
    out[WORK_LEFT] = w
    out[REACHED] = reached
    out[STEPS] = steps
    out[HOT_S] = hot
    out[TIE_DONE] = tie_done
    return rows


@compiled
def simulate_many(seg_i, seg_f, variants, us, whos, choice_i, choice_f, sizes, outs, forced, log):
    """Run one plan for many samples; `outs` (samples, N_OUT), `forced` (samples, sets) above 0 where a set broke.

    What broke is read off `log` (sets, N_LOG); without rows in it nothing is logged and `forced` stays as it is.
    """
    state = np.zeros(STATE_SIZE)
    no_marks = np.zeros((0, 2))
    no_snaps = np.zeros((0, N_SNAP))
    nothing = np.zeros(0)
    for j in range(us.shape[0]):
        rows = simulate(
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
            log,
            no_snaps,
            0,
            nothing,
        )
        for row in range(rows):
            forced[j, row] = log[row, LOG_FORCED_S] + log[row, LOG_FAILED]


@compiled
def simulate_up_to(first, seg_i, seg_f, variants, us, whos, choice_i, choice_f, sizes, outs, begins):
    """Run one plan for many samples; `begins` (samples, N_SNAP) takes the state at the beginning of a segment.

    `outs` (samples, N_OUT) says in REACHED which samples get there.
    """
    state, nothing, no_marks = np.zeros(STATE_SIZE), np.zeros(0), np.zeros((0, 2))
    no_log, snaps = np.zeros((0, N_LOG)), np.zeros((seg_i.shape[0], N_SNAP))
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
            state,
            outs[j],
            no_marks,
            no_log,
            snaps,
            0,
            nothing,
        )
        begins[j] = snaps[first]


@compiled
def simulate_from(
    first,
    begins,
    seg_i,
    seg_f,
    variants,
    us,
    whos,
    choice_i,
    choice_f,
    sizes,
    outs,
    ends,
    told,
):
    """Go on by one plan for many samples from a segment and the states `begins` (samples, N_SNAP); fill `outs`.

    With rows in `ends` (samples, N_SNAP) and `told` (samples, 2) they take the state at the end of the last visit,
    and of the last set the reps in reserve and, above 0 where it broke, failed reps and seconds of forced rest.
    """
    state, no_marks = np.zeros(STATE_SIZE), np.zeros((0, 2))
    n_seg, ending = seg_i.shape[0], ends.shape[0] > 0
    log = np.zeros((sizes.shape[0] if ending else 0, N_LOG))
    snaps = np.zeros((n_seg + 1 if ending else 0, N_SNAP))
    for j in range(us.shape[0]):
        rows = simulate(
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
            log,
            snaps,
            first,
            begins[j],
        )
        if ending:
            ends[j] = snaps[n_seg]
            if rows > 0:
                told[j, 0] = log[rows - 1, LOG_RIR]
                told[j, 1] = log[rows - 1, LOG_FORCED_S] + log[rows - 1, LOG_FAILED]
