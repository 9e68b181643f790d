"""One plan simulated for many samples of the athlete: whole, up to a visit, or from one on."""

import numpy as np

from sorvek.core.compiled import compiled
from sorvek.core.simulation import columns as k
from sorvek.core.simulation.kernel import simulate


@compiled
def simulate_many(seg_i, seg_f, variants, us, whos, choice_i, choice_f, sizes, outs, forced, log):
    """Run one plan for many samples; `outs` (samples, N_OUT), `forced` (samples, sets) above 0 where a set broke.

    What broke is read off `log` (sets, N_LOG); without rows in it nothing is logged and `forced` stays as it is.
    """
    state = np.zeros(k.STATE_SIZE)
    no_snaps = np.zeros((0, k.N_SNAP))
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
            log,
            no_snaps,
            0,
            nothing,
        )
        for row in range(rows):
            forced[j, row] = log[row, k.LOG_FORCED_S] + log[row, k.LOG_FAILED]


@compiled
def simulate_up_to(first, seg_i, seg_f, variants, us, whos, choice_i, choice_f, sizes, outs, begins):
    """Run one plan for many samples; `begins` (samples, N_SNAP) takes the state at the beginning of a segment.

    `outs` (samples, N_OUT) says in REACHED which samples get there.
    """
    state, nothing = np.zeros(k.STATE_SIZE), np.zeros(0)
    no_log, snaps = np.zeros((0, k.N_LOG)), np.zeros((seg_i.shape[0], k.N_SNAP))
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
    state = np.zeros(k.STATE_SIZE)
    n_seg, ending = seg_i.shape[0], ends.shape[0] > 0
    log = np.zeros((sizes.shape[0] if ending else 0, k.N_LOG))
    snaps = np.zeros((n_seg + 1 if ending else 0, k.N_SNAP))
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
            log,
            snaps,
            first,
            begins[j],
        )
        if ending:
            ends[j] = snaps[n_seg]
            if rows > 0:
                told[j, 0] = log[rows - 1, k.LOG_RIR]
                told[j, 1] = log[rows - 1, k.LOG_FORCED_S] + log[rows - 1, k.LOG_FAILED]
