"""The compiled simulation: one athlete, one plan, rep by rep; nothing is allocated inside.

All inputs are arrays prepared once (see `problem.py`). Column layouts stand here and nowhere else.
The steps are those of docs/model.md, in the same order and with the same names.
"""

import math

import numpy as np

from sorvek.core import constants as c
from sorvek.core.compiled import compiled, inlined

# seg_i: ints a segment
REPS, TIE, SLOT, COUNT = 0, 1, 2, 3
# seg_f: floats a segment
REST_BEFORE, OPENS, DEADLINE = 0, 1, 2
# variants: floats a slot and style; weights of the resources from column WEIGHTS on
CYCLE, SETUP, SINGLE, STEADY, POWER, COEFFICIENT, SKILL, TRIPS, WEIGHTS = 0, 1, 2, 3, 4, 5, 6, 7, 8
POWER_WORK, POWER_METRE, POWER_CAL = 0.0, 1.0, 2.0
# who: floats a sample of the athlete
CP, W_PRIME, SLIP = 0, 1, 2
# choice_i, choice_f: what the plan says for a segment
FIRST_SIZE, N_SIZES, VARIANT = 0, 1, 2
REST, PACE, LEAD = 0, 1, 2
# out: the result
TIME, DONE, PARTIAL, FINISHED, FAILED, FORCED_S = range(6)
SHORTFALL, TIE_TIME, STUCK, N_TRIPS, WORK_LEFT, REACHED, N_OUT = range(6, 13)
# log: a row a set; reserves at its start from LOG_START on, at its end behind them
LOG_SEGMENT, LOG_REPS, LOG_BEGIN, LOG_END, LOG_RIR, LOG_FAILED = range(6)
LOG_FORCED_S, LOG_W_BEGIN, LOG_W_END, LOG_START = range(6, 10)

# One-sided work doubles the arms: grip, pull and push of the left side follow the six resources.
TAU = np.array([*c.RECOVERY_TAU_S, *c.RECOVERY_TAU_S[:3]])
RATE = 1.0 / TAU
# Lasting fatigue and breath move so little in a few reps that the ceilings and the rates of recovery while
# working are refreshed only every so many.
CEILING_EVERY = 8
SCRATCH_ROWS = 7
# Divisions are dear: what is divided by once a rep stands here the other way up.
PER_GRIND, PER_CAL_W, PER_FATIGUE_TAU = 1.0 / c.GRIND_REPS, 1.0 / c.ERG_CAL_W, 1.0 / c.FATIGUE_TAU_S
PER_CEILING_SCALE, WEAR_PER_S = 1.0 / c.CEILING_SCALE, c.WEAR_PER_MIN / 60.0
# snaps: a row a segment, the state at its beginning: reserves, fatigue, and these behind them.
SNAP_W, SNAP_CP, SNAP_WEAR, SNAP_T, SNAP_DONE = range(5)
SNAP_FAILED, SNAP_FORCED, SNAP_SHORT, SNAP_TIE, SNAP_TRIPS = range(5, 10)
N_SNAP = 10
# The first two rows of the scratch hold reserves and lasting fatigue, also when the run is over.
RESERVES, FATIGUE = 0, 1
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
def recover(dt, b, f, rate, n_r, w, w_prime, cp):
    """Let all reserves, the engine and the lasting fatigue recover for `dt` seconds; return W."""
    pace = dt / (1.0 + c.TAU_SLOWING * (1.0 - w / w_prime))
    fade = decay(dt * PER_FATIGUE_TAU)
    for r in range(n_r):
        ceiling = 1.0 - c.CEILING_DROP * (1.0 - decay(f[r] * PER_CEILING_SCALE))
        b[r] += max(0.0, ceiling - b[r]) * (1.0 - decay(pace * rate[r]))
        f[r] *= fade
    return w_prime - (w_prime - w) * decay(cp * dt / w_prime)


@inlined
def _powers(q, n):
    """Return qⁿ and 1 + q + … + qⁿ⁻¹ for n of 4 or 8."""
    squared = q * q
    power, terms = squared * squared, (1.0 + q) * (1.0 + squared)
    return (power * power, terms * (1.0 + power)) if n == 8 else (power, terms)


@inlined
def _reps_in_reserve(b, per_k, n_r):
    rir = 1e9
    for r in range(n_r):
        rir = min(rir, b[r] * per_k[r])
    return rir


@inlined
def _ceiling_reps(f, k, n_r):
    reps = 1e9
    for r in range(n_r):
        if k[r] > 0.0:
            reps = min(reps, (1.0 - c.CEILING_DROP * (1.0 - math.exp(-f[r] / c.CEILING_SCALE))) / k[r])
    return reps


@inlined
def _wait_s(target, b, f, k, tau, n_r, slow):
    """Return the seconds of rest until every reserve holds `target` reps (which its ceiling allows)."""
    wait = 0.0
    for r in range(n_r):
        need = target * k[r]
        if b[r] < need:
            ceiling = 1.0 - c.CEILING_DROP * (1.0 - math.exp(-f[r] / c.CEILING_SCALE))
            wait = max(wait, tau[r] * slow * math.log((ceiling - b[r]) / max(ceiling - need, 1e-9)))
    return wait


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
    scratch,
    out,
    marks,
    log,
    snaps,
    first,
    begin,
):
    """Run one plan; fill `out`, `marks` (start, end a segment), `log` and `snaps` (if they have rows).

    With `first` above 0 it goes on from that segment in the state `begin`, a row of an earlier run's `snaps`.

    Shapes: seg_i (n, 4), seg_f (n, 3), variants (v, 8 + R), unbroken (v,), who (3,), choice_i (n, 3),
    choice_f (n, 3), sizes (any,), scratch (7, R), out (12,), marks (n or 0, 2), log (rows, 10 + 2R),
    snaps (n or 0, 10 + 2R); R is 6, or 9 with one-sided work. Times in s, power in W, work in J.
    Returns the rows logged.
    """
    n_seg, n_r = seg_i.shape[0], scratch.shape[1]
    b, f = scratch[RESERVES], scratch[FATIGUE]
    k, top, per_k, open_, gain = scratch[2], scratch[3], scratch[4], scratch[5], scratch[6]
    for r in range(n_r):
        b[r] = begin[r] if first > 0 else 1.0
        f[r] = begin[n_r + r] if first > 0 else 0.0
    tau, rate = TAU, RATE
    w_prime = who[W_PRIME]
    per_w_prime = 1.0 / w_prime
    breath_j, wear_j = c.BREATH_FRAC * w_prime, c.WEAR_FRAC * w_prime
    per_breath, per_wear = 1.0 / breath_j, 1.0 / wear_j
    w = w_prime
    cp = who[CP]
    wear = 0.0
    t = 0.0
    done, failed, stuck = 0, 0, 0
    partial, forced_s, shortfall, tie, trips = 0.0, 0.0, 0.0, 0.0, 0.0
    rows = 0
    finished = 1.0
    out[TIE_TIME] = 0.0  # holds the time a rep was found impossible until the end
    stop = False
    reached = 0
    if first > 0:
        at = 2 * n_r
        w, cp, wear, t = begin[at + SNAP_W], begin[at + SNAP_CP], begin[at + SNAP_WEAR], begin[at + SNAP_T]
        done, failed = int(begin[at + SNAP_DONE]), int(begin[at + SNAP_FAILED])
        forced_s, shortfall = begin[at + SNAP_FORCED], begin[at + SNAP_SHORT]
        tie, trips = begin[at + SNAP_TIE], begin[at + SNAP_TRIPS]
    for s in range(first, n_seg):
        reached = s
        if snaps.shape[0] > 0:
            row = snaps[s]
            for r in range(n_r):
                row[r] = b[r]
                row[n_r + r] = f[r]
            at = 2 * n_r
            row[at + SNAP_W], row[at + SNAP_CP], row[at + SNAP_WEAR], row[at + SNAP_T] = w, cp, wear, t
            row[at + SNAP_DONE], row[at + SNAP_FAILED] = done, failed
            row[at + SNAP_FORCED], row[at + SNAP_SHORT] = forced_s, shortfall
            row[at + SNAP_TIE], row[at + SNAP_TRIPS] = tie, trips
        deadline = seg_f[s, DEADLINE]
        v = choice_i[s, VARIANT]
        u = unbroken[v]
        cycle, setup, single_s = variants[v, CYCLE], variants[v, SETUP], variants[v, SINGLE]
        steady = variants[v, STEADY] > 0.0
        kind, coefficient = variants[v, POWER], variants[v, COEFFICIENT]
        skill, may_trip = variants[v, SKILL], variants[v, TRIPS] > 0.0
        pace, rest_s = choice_f[s, PACE], choice_f[s, REST]
        pause = seg_f[s, REST_BEFORE]
        if seg_f[s, OPENS] > t + pause:
            pause = seg_f[s, OPENS] - t
        # Rest between parts and windows is free time for setting up; a change of movement is not.
        pause = max(pause, setup) if pause > 0.0 else setup + (choice_f[s, LEAD] if s > 0 else 0.0)
        w = recover(pause, b, f, rate, n_r, w, w_prime, cp)
        t += pause
        if marks.shape[0] > 0:
            marks[s, 0] = min(t, deadline)
        if t >= deadline:
            t = deadline
            finished = 0.0
            break
        reps = seg_i[s, REPS]
        begun = 0
        was_single = False
        for j in range(choice_i[s, N_SIZES]):
            size = min(sizes[choice_i[s, FIRST_SIZE] + j], reps - begun)
            if size <= 0:
                break
            is_single = size == 1 and single_s > 0.0 and reps > 1
            if j == 0 or is_single != was_single:
                relief = (c.SINGLE_RELIEF if is_single else 1.0) / max(u, 1e-6)
                for r in range(n_r):
                    weight = variants[v, WEIGHTS + r]
                    k[r] = weight * relief
                    per_k[r] = 1.0 / max(k[r], 1e-12)
                    open_[r] = 12.0 * (1.0 - weight) * (1.0 - weight)
            if j > 0:
                gap = rest_s + c.REST_SLIP_S * who[SLIP] if rest_s > 0.0 else 0.0
                gap += single_s - cycle if is_single and was_single else setup
                # In the last seconds a planned rest is dropped if a rep is there.
                if deadline - t <= c.LAST_PUSH_S and _reps_in_reserve(b, per_k, n_r) >= 1.0:
                    gap = 0.0 if is_single else setup
                w = recover(gap, b, f, rate, n_r, w, w_prime, cp)
                t += gap
                if t >= deadline:
                    t = deadline
                    finished = 0.0
                    stop = True
                    break
                if not is_single:
                    restart = c.RESTART_REPS * u / (u + c.RESTART_HALF_U)
                    for r in range(n_r):
                        b[r] = max(0.0, b[r] - restart * k[r])
            was_single = is_single
            logging = rows < log.shape[0]
            if logging:
                log[rows, LOG_SEGMENT] = s
                log[rows, LOG_BEGIN] = t
                log[rows, LOG_W_BEGIN] = w / w_prime
                for r in range(n_r):
                    log[rows, LOG_START + r] = b[r]
            failed_before, forced_before = failed, forced_s
            done_here = 0
            reserve = _reps_in_reserve(b, per_k, n_r)
            i = 0
            refreshed = -CEILING_EVERY
            per_slow = 1.0
            while i < size:
                dear = 1.0
                if skill > 0.0:
                    tired = 1.0 - w * per_w_prime
                    dear = 1.0 + skill * tired * tired
                rir = reserve / dear
                tries = 0
                while rir < 1.0 - c.FAIL_SLACK_REPS:
                    tries += 1
                    if not steady and u >= 1.0 and tries == 1:
                        failed += 1
                        lost = c.FAIL_CYCLES * cycle
                        t += lost
                        for r in range(n_r):
                            b[r] = max(0.0, b[r] - dear * k[r])
                            f[r] += 2.0 * dear * k[r]
                    room = _ceiling_reps(f, k, n_r) / dear
                    if u < 1.0 or tries > STUCK_TRIES or (room < 1.001 and deadline > LONG_S and tries > 3):
                        stuck = 1
                    elif room < 1.001:
                        w = recover(STUCK_REST_S, b, f, rate, n_r, w, w_prime, cp)
                        t += STUCK_REST_S
                        forced_s += STUCK_REST_S
                    else:
                        target = max(c.FAIL_READY_REPS, c.FAIL_READY_FRAC * room)
                        if steady:
                            target = c.FAIL_READY_REPS
                        target = max(1.0005, min(target, 0.95 * room))
                        slow = 1.0 + c.TAU_SLOWING * (1.0 - w / w_prime)
                        wait = _wait_s(target * dear, b, f, k, tau, n_r, slow)
                        if not steady:
                            wait = max(wait, c.FAIL_REST_S)
                        w = recover(wait, b, f, rate, n_r, w, w_prime, cp)
                        t += wait
                        forced_s += wait
                    if stuck == 1 or t >= deadline:
                        stop = True
                        break
                    rir = _reps_in_reserve(b, per_k, n_r) / dear
                if stop:
                    finished = 0.0
                    if deadline < LONG_S:
                        out[TIE_TIME] = t
                        t = deadline
                    break
                hurry = pace if deadline - t > c.LAST_PUSH_S else 1.0
                rep_s = cycle * hurry
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
                    if deadline - t < c.LAST_PUSH_S + n * (rep_s + trip_s) or w - n * drain_j < breath_j:
                        n = 1
                if i >= refreshed + CEILING_EVERY or n > 1:
                    refreshed = i
                    per_slow = 1.0 / (1.0 + c.TAU_SLOWING * (1.0 - w * per_w_prime))
                    time_per_tau = rep_s * per_slow
                    # 12x/(12+6x+x²) is 1−exp(−x) to 2e-5 for the short times of one rep; without branches.
                    for r in range(n_r):
                        top[r] = 1.0 - c.CEILING_DROP * (1.0 - decay(f[r] * PER_CEILING_SCALE))
                        x = time_per_tau * rate[r]
                        gain[r] = open_[r] * rate[r] / (12.0 + x * (6.0 + x))
                time_per_tau = rep_s * per_slow
                reserve = 1e9
                if n == 1:
                    for r in range(n_r):
                        cost = dear * k[r]
                        left = b[r] - cost
                        left += max(0.0, top[r] - left) * gain[r] * time_per_tau
                        b[r] = max(0.0, left)
                        f[r] = f[r] * fade + cost
                        reserve = min(reserve, b[r] * per_k[r])
                else:
                    # b ← q·b + a, done n times, is qⁿ·b + a·(1 + q + … + qⁿ⁻¹).
                    for r in range(n_r):
                        back = gain[r] * time_per_tau
                        q = 1.0 - back
                        power_q, terms = _powers(q, n)
                        b[r] = min(1.0, power_q * b[r] + terms * (back * top[r] - q * k[r]))
                        reserve = min(reserve, b[r] * per_k[r])
                    power_q, terms = _powers(fade, n)
                    for r in range(n_r):
                        f[r] = power_q * f[r] + terms * k[r]
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
                done += n
                done_here += n
            begun += done_here
            rir_end = _reps_in_reserve(b, per_k, n_r)
            if not steady and done_here > 0 and not stop and deadline - t > c.LAST_PUSH_S:
                last = s == n_seg - 1 and begun >= reps
                if not last:
                    shortfall += max(0.0, min(c.MARGIN_REPS, c.MARGIN_U_FRAC * u) - rir_end)
            if logging:
                log[rows, LOG_REPS] = done_here
                log[rows, LOG_END] = t
                log[rows, LOG_RIR] = rir_end
                log[rows, LOG_FAILED] = failed - failed_before
                log[rows, LOG_FORCED_S] = forced_s - forced_before
                log[rows, LOG_W_END] = w / w_prime
                for r in range(n_r):
                    log[rows, LOG_START + n_r + r] = b[r]
                rows += 1
            if stop:
                break
        if marks.shape[0] > 0:
            marks[s, 1] = t
        if stop:
            break
        if seg_i[s, TIE] > 0:
            tie = t
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
    return rows


@compiled
def simulate_many(seg_i, seg_f, variants, us, whos, choice_i, choice_f, sizes, scratch, outs, forced, log):
    """Run one plan for many samples; `outs` (samples, 12), `forced` (samples, sets) above 0 where a set broke."""
    no_marks = np.zeros((0, 2))
    no_snaps = np.zeros((0, N_SNAP + 2 * scratch.shape[1]))
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
            scratch,
            outs[j],
            no_marks,
            log,
            no_snaps,
            0,
            nothing,
        )
        for row in range(rows):
            forced[j, row] = log[row, LOG_FORCED_S] + log[row, LOG_FAILED]
