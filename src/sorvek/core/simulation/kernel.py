"""The compiled simulation: one athlete, one plan, rep by rep; nothing is allocated inside.

All inputs are arrays prepared once (see `problem.py`), laid out as `columns.py` says. What happens in a rest, a
rep or a failed one stands in `steps.py`; here stands their order: visits with what lies before them, sets, reps.
"""

from sorvek.core import constants as c
from sorvek.core.compiled import inlined, unallocating
from sorvek.core.simulation import columns as k
from sorvek.core.simulation import steps

# Lasting fatigue and breath move so little in a few reps that the ceilings and the rates of recovery while
# working are refreshed only every so many.
CEILING_EVERY = 8


@inlined
def _copy(to, now_to, of, now_of, n_r):
    """Copy a snapshot: reserves, lasting fatigue, and all that is no row of the state."""
    for r in range(n_r):
        to[k.B + r] = of[k.B + r]
        to[k.F + r] = of[k.F + r]
    for i in range(2 * k.LANES, k.N_SNAP):
        now_to[i] = now_of[i]


@inlined
def _begin(state, now, begin, who, n_r):
    """Start where `begin` says, at the start line with everything full if it is empty."""
    if begin.shape[0] > 0:
        _copy(state, now, begin, begin, n_r)
    else:
        for r in range(n_r):
            state[k.B + r] = 1.0
            state[k.F + r] = 0.0
        for i in range(2 * k.LANES, k.N_SNAP):
            now[i] = 0.0
        now[k.SNAP_W], now[k.SNAP_CP] = who[k.W_PRIME], who[k.CP]


@inlined
def _close_laps(now):
    """Add the seconds by which the first of rounds that are alike was ahead of the even ones between."""
    if now[k.SNAP_LAPS] > 0.0:
        even_s = c.EVEN_FRAC * now[k.SNAP_LAPS_S] / now[k.SNAP_LAPS]
        now[k.SNAP_HOT] += max(0.0, even_s - now[k.SNAP_FIRST_LAP])
        now[k.SNAP_LAPS] = 0.0


@inlined
def _turn(now, lap_before, lap, rest_s):
    """End a round and begin the next, if they are not the same."""
    if lap != lap_before:
        t = now[k.SNAP_T]
        if lap_before == 1:
            now[k.SNAP_FIRST_LAP] = t - now[k.SNAP_LAP]
            now[k.SNAP_LAST_LAP] = now[k.SNAP_LAPS_S] = now[k.SNAP_LAPS] = 0.0
        elif lap_before > 1:
            if lap_before > 2:
                now[k.SNAP_LAPS_S] += now[k.SNAP_LAST_LAP]
                now[k.SNAP_LAPS] += 1.0
            now[k.SNAP_LAST_LAP] = t - now[k.SNAP_LAP]
        if lap <= 1:
            _close_laps(now)
        now[k.SNAP_LAP] = t + rest_s


@inlined
def _get_there(state, now, n_r, seg_i, seg_f, s, who, w_prime, lead_s, setup_s, resumed):
    """Rest or change movements before a visit; return the deadline it has by itself and by the cap of its part."""
    pause = seg_f[s, k.REST_BEFORE]
    if seg_f[s, k.OPENS] > now[k.SNAP_T] + pause:
        pause = seg_f[s, k.OPENS] - now[k.SNAP_T]
    rested_s = now[k.SNAP_T] + pause
    # Rest between parts and windows is free time for setting up; a change of movement is not.
    if pause > 0.0 or s == 0:
        pause = max(pause, setup_s)
    else:
        pause = lead_s + setup_s + (who[k.CHANGES] - 1.0) * (setup_s + c.TRANSITION_S)
    if resumed:
        pause = 0.0
    now[k.SNAP_W] = steps.recover(pause, state, n_r, now[k.SNAP_W], w_prime, now[k.SNAP_CP])
    now[k.SNAP_T] += pause
    deadline = seg_f[s, k.DEADLINE]
    if seg_f[s, k.PART_CAP] > 0.0:
        if not resumed and (s == 0 or seg_i[s - 1, k.NEXT] != seg_i[s, k.NEXT]):
            now[k.SNAP_PART] = rested_s
        deadline = min(deadline, now[k.SNAP_PART] + seg_f[s, k.PART_CAP])
    return deadline


@inlined
def _set(state, now, n_r, visit, engine, size):
    """Do up to `size` reps.

    Returns those done, how it ended, the share done of a rep cut off, when one was found that cannot be done.
    """
    w, t, cp, wear = now[k.SNAP_W], now[k.SNAP_T], now[k.SNAP_CP], now[k.SNAP_WEAR]
    trips, n_steps, partial, found_s = 0.0, 0, 0.0, 0.0
    reserve = steps.reps_in_reserve(state, n_r)
    i, refreshed, per_slow, ended = 0, -CEILING_EVERY, 1.0, steps.DONE
    while i < size:
        n_steps += 1
        tired = 1.0 - w * engine.per_w_prime
        dear = 1.0 + visit.skill * tired * tired
        rir = reserve / dear
        if rir < 1.0 - c.FAIL_SLACK_REPS:
            w, t, rir, ended = steps.forced_break(state, now, n_r, visit, engine, w, t, cp, dear)
            if ended != steps.DONE:
                found_s = t
                if visit.deadline < k.LONG_S:
                    t = visit.deadline
                break
            tired = 1.0 - w * engine.per_w_prime
        hurry = steps.hurry_of(visit, t, rir)
        if hurry < 1.0:
            dear *= 1.0 + c.HASTE_COST * (1.0 / hurry - 1.0)
        rep_s, drain_j = steps.rep_of(visit, engine, w, cp, rir, hurry)
        p_trip = steps.trip_chance(visit, tired)
        whole_s = rep_s + p_trip * (visit.setup_s + c.TRIP_EXTRA_S)
        if t + whole_s > visit.deadline:
            partial = (visit.deadline - t) / whole_s
            t, ended = visit.deadline, steps.OUT_OF_TIME
            break
        n = steps.reps_at_once(visit, engine, size - i, rir, visit.deadline - t, whole_s, w, drain_j)
        if i >= refreshed + CEILING_EVERY or n > 1:
            refreshed = i
            per_slow = 1.0 / (1.0 + c.TAU_SLOWING * tired)
            steps.refresh(state, n_r, rep_s, per_slow)
        fade = 1.0 - rep_s * steps.PER_FATIGUE_TAU
        if n == 1:
            steps.one_rep(state, n_r, dear, rep_s * per_slow, fade)
        else:
            steps.several_reps(state, n_r, n, dear, rep_s * per_slow, fade)
        reserve = steps.reps_in_reserve(state, n_r)
        w = steps.breathe(w, engine, n * drain_j)
        if w < engine.wear_j:
            wear += steps.WEAR_PER_S * rep_s * (1.0 - w * engine.per_wear)
            cp = engine.cp * (1.0 - min(c.WEAR_MAX, wear))
        t += n * whole_s
        trips += n * p_trip
        i += n
    now[k.SNAP_W], now[k.SNAP_T], now[k.SNAP_CP], now[k.SNAP_WEAR] = w, t, cp, wear
    now[k.SNAP_TRIPS] += trips
    now[k.SNAP_STEPS] += n_steps
    return i, ended, partial, found_s


@inlined
def _log_begin(row, state, now, n_r, s, w_prime):
    row[k.LOG_SEGMENT] = s
    row[k.LOG_BEGIN] = now[k.SNAP_T]
    row[k.LOG_W_BEGIN] = now[k.SNAP_W] / w_prime
    row[k.LOG_FAILED], row[k.LOG_FORCED_S] = -now[k.SNAP_FAILED], -now[k.SNAP_FORCED]
    for r in range(n_r):
        row[k.LOG_BEFORE + r] = state[k.B + r]


@inlined
def _log_end(row, state, now, n_r, reps, rir, w_prime):
    row[k.LOG_REPS] = reps
    row[k.LOG_END] = now[k.SNAP_T]
    row[k.LOG_RIR] = rir
    row[k.LOG_FAILED] += now[k.SNAP_FAILED]
    row[k.LOG_FORCED_S] += now[k.SNAP_FORCED]
    row[k.LOG_W_END] = now[k.SNAP_W] / w_prime
    for r in range(n_r):
        row[k.LOG_AFTER + r] = state[k.B + r]


@inlined
def _sets(state, now, n_r, visit, engine, variants, seg_i, s, sizes, n_sizes, resumed, log, rows):
    """Do the `sizes` of a visit one after the other, with what lies between them.

    Returns how the visit ended, the share done of a rep cut off, when one was found that cannot be done, and the
    rows logged so far.
    """
    reps, counted = seg_i[s, k.REPS], seg_i[s, k.COUNTED]
    begun, was_single = int(now[k.SNAP_BEGUN]), now[k.SNAP_SINGLES] > 0.0
    done_before = now[k.SNAP_DONE] - begun * counted // reps
    ended, partial, found_s = steps.DONE, 0.0, 0.0
    for j in range(n_sizes):
        size = min(sizes[j], reps - begun)
        if size <= 0:
            break
        single = size == 1 and visit.single_s > 0.0 and reps > 1
        if j == 0 or single != was_single:
            steps.weigh(state, n_r, variants, visit, single)
        if j > 0 or resumed:
            steps.between_sets(state, now, n_r, visit, engine, single, was_single)
            if now[k.SNAP_T] >= visit.deadline:
                ended = steps.OUT_OF_TIME
                break
        was_single = single
        logging = rows < log.shape[0]
        if logging:
            _log_begin(log[rows], state, now, n_r, s, engine.w_prime)
        did, ended, partial, found_s = _set(state, now, n_r, visit, engine, size)
        begun += did
        now[k.SNAP_DONE] = done_before + begun * counted // reps
        rir = steps.reps_in_reserve(state, n_r)
        if logging:
            _log_end(log[rows], state, now, n_r, did, rir, engine.w_prime)
            rows += 1
        if ended != steps.DONE:
            break
        # What is left over at the end of the last set, or in the last seconds, is of no use.
        last = s == seg_i.shape[0] - 1 and begun >= reps
        if not visit.steady and did > 0 and not last and visit.deadline - now[k.SNAP_T] > c.LAST_PUSH_S:
            now[k.SNAP_SHORT] += max(0.0, visit.margin - rir)
    now[k.SNAP_BEGUN], now[k.SNAP_SINGLES] = begun, 1.0 if was_single else 0.0
    if ended != steps.DONE and counted != reps:  # a share of the next rep that counts
        share = (begun + partial) / reps
        partial = share * counted - begun * counted // reps if counted > 0 else share
    return ended, partial, found_s, rows


@inlined
def _write(out, now, partial, stuck_s, reached):
    """Fill the result from the state at the end."""
    out[k.TIME] = now[k.SNAP_T]
    out[k.DONE] = now[k.SNAP_DONE]
    out[k.PARTIAL] = partial
    out[k.FINISHED] = 1.0 - now[k.SNAP_CUT]
    out[k.FAILED] = now[k.SNAP_FAILED]
    out[k.FORCED_S] = now[k.SNAP_FORCED]
    out[k.SHORTFALL] = now[k.SNAP_SHORT]
    out[k.TIE_TIME] = now[k.SNAP_TIE]
    out[k.STUCK] = stuck_s
    out[k.N_TRIPS] = now[k.SNAP_TRIPS]
    out[k.WORK_LEFT] = now[k.SNAP_W]
    out[k.REACHED] = reached
    out[k.STEPS] = now[k.SNAP_STEPS]
    out[k.HOT_S] = now[k.SNAP_HOT]
    out[k.TIE_DONE] = now[k.SNAP_TIE_DONE]


@unallocating
def simulate(
    seg_i, seg_f, variants, unbroken, who, choice_i, choice_f, sizes, state, out, log, snaps, first, begin
):
    """Run one plan; fill `out`, and `log` and `snaps` if they have rows.

    With `begin` (a row of an earlier run's `snaps`, or empty) it goes on from segment `first` in that state. Where
    some reps of that visit are done, its sizes are those of the sets that are left.

    Shapes: seg_i (n, 6), seg_f (n, 4), variants (v, 10 + R), unbroken (v,), who (N_WHO,), choice_i (n, 3),
    choice_f (n, 3), sizes (any,), state (STATE_SIZE,), out (N_OUT,), log (rows, N_LOG), snaps (n, n + 1 or 0,
    N_SNAP); R is a multiple of VECTOR. Times in s, power in W, work in J.
    Returns the rows logged.
    """
    # Written so that the compiler knows there are no lanes left over.
    n_seg, n_r = seg_i.shape[0], (variants.shape[1] - k.WEIGHTS) // k.VECTOR * k.VECTOR
    engine, now = steps.engine_of(who), state[k.AT :]
    _begin(state, now, begin, who, n_r)
    rows, reached = 0, 0
    partial, stuck_s = 0.0, 0.0
    for s in range(first, n_seg):
        if snaps.shape[0] > 0:
            _copy(snaps[s], snaps[s], state, now, n_r)
        if s < now[k.SNAP_AHEAD]:  # cut off by the cap of its part
            continue
        reached = s
        resumed = s == first and now[k.SNAP_BEGUN] > 0.0
        if s > 0 and not resumed:
            _turn(now, seg_i[s - 1, k.ROUND], seg_i[s, k.ROUND], seg_f[s, k.REST_BEFORE])
        v, lead_s = choice_i[s, k.VARIANT], choice_f[s, k.LEAD]
        deadline = _get_there(
            state, now, n_r, seg_i, seg_f, s, who, engine.w_prime, lead_s, variants[v, k.SETUP], resumed
        )
        visit = steps.visit_of(variants, v, unbroken[v], who, choice_f[s, k.PACE], choice_f[s, k.REST], deadline)
        ended, partial, found_s = steps.OUT_OF_TIME, 0.0, 0.0
        if now[k.SNAP_T] < deadline:
            own = sizes[choice_i[s, k.FIRST_SIZE] :]
            n_sizes = choice_i[s, k.N_SIZES]
            ended, partial, found_s, rows = _sets(
                state, now, n_r, visit, engine, variants, seg_i, s, own, n_sizes, resumed, log, rows
            )
        stuck_s = found_s if ended == steps.STUCK else 0.0
        if ended == steps.DONE:
            if seg_i[s, k.TIE] > 0 and now[k.SNAP_BEGUN] >= seg_i[s, k.REPS]:
                now[k.SNAP_TIE], now[k.SNAP_TIE_DONE] = now[k.SNAP_T], now[k.SNAP_DONE]
            if s == n_seg - 1:
                break
        else:
            now[k.SNAP_T] = min(now[k.SNAP_T], deadline)
            now[k.SNAP_CUT] = 1.0
            if seg_i[s, k.NEXT] == 0 or deadline > k.LONG_S:
                break
            now[k.SNAP_AHEAD] = seg_i[s, k.NEXT]
            partial, stuck_s = 0.0, 0.0
        now[k.SNAP_BEGUN] = now[k.SNAP_SINGLES] = 0.0
    if snaps.shape[0] > n_seg:
        _copy(snaps[n_seg], snaps[n_seg], state, now, n_r)
    _close_laps(now)
    _write(out, now, partial, stuck_s, reached)
    return rows
