"""Columns of the arrays the compiled simulation works on; they stand here and nowhere else."""

import numpy as np

from sorvek.core import constants as c

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
# Behind the rows, from AT on, stand the numbers that are none, in the columns they have in a snapshot.
LANES = 12
B, F, K, TOP, PER_K, OPEN, GAIN, LEFT = range(0, 8 * LANES, LANES)
# snaps: a row a segment, all that has to be known to go on from its beginning, and in a row more from the end: rows
# B and F of the state, and these behind them. BEGUN are the reps of the visit that are done, SINGLES 1 where the
# last set was a single, CUT 1 where work was not finished by a deadline, AHEAD the segment a cap sends to.
SNAP_W, SNAP_CP, SNAP_WEAR, SNAP_T, SNAP_DONE = range(2 * LANES, 2 * LANES + 5)
SNAP_FAILED, SNAP_FORCED, SNAP_SHORT, SNAP_TIE, SNAP_TRIPS, SNAP_STEPS = range(2 * LANES + 5, 2 * LANES + 11)
# Rounds that are alike: when this one began, the first, the last complete one, those between them, how many.
SNAP_LAP, SNAP_FIRST_LAP, SNAP_LAST_LAP, SNAP_LAPS_S, SNAP_LAPS, SNAP_HOT, SNAP_TIE_DONE = range(
    2 * LANES + 11, 2 * LANES + 18
)
SNAP_PART, SNAP_AHEAD, SNAP_BEGUN, SNAP_SINGLES, SNAP_CUT, N_SNAP = range(2 * LANES + 18, 2 * LANES + 24)
AT = LEFT + LANES - SNAP_W
STATE_SIZE = AT + N_SNAP
# One-sided work doubles the arms: grip, pull and push of the left side follow the six resources. Lanes are
# filled up to a multiple of VECTOR by some that nothing drains.
VECTOR = 4
LOG_AFTER, N_LOG = LOG_BEFORE + LANES, LOG_BEFORE + 2 * LANES
_FILLING_TAU_S = (30.0,) * 3
TAU = np.array([*c.RECOVERY_TAU_S, *c.RECOVERY_TAU_S[:3], *_FILLING_TAU_S])
RATE = 1.0 / TAU
# A deadline beyond this is none.
LONG_S = 1e8
