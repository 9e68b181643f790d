"""The model's constants and, beside them, where each comes from.

`ours=True` marks a value of judgement or one quoted from memory; docs/model.md lists the keys of `cite`.
"""

from dataclasses import dataclass
from typing import Final


@dataclass(frozen=True, slots=True)
class Source:
    """Where a constant comes from: unit, bibliography key (empty if ours), and a remark."""

    unit: str
    cite: str
    where: str
    ours: bool


RESOURCES: Final = ("grip", "pull", "push", "squat", "hinge", "trunk")

GRAVITY_M_S2: Final = 9.80665
RECOVERY_TAU_S: Final = (35.0, 32.0, 31.0, 31.0, 34.0, 28.0)
TAU_SLOWING: Final = 0.8
SINGLE_RELIEF: Final = 0.72
FAIL_CYCLES: Final = 1.5
FAIL_REST_S: Final = 12.0
FAIL_READY_REPS: Final = 2.0
FAIL_READY_FRAC: Final = 0.35
FAIL_SLACK_REPS: Final = 0.02
GRIND_REPS: Final = 5.0
GRIND_SLOWING: Final = 0.6
BREATH_FRAC: Final = 0.35
BREATH_SLOWING: Final = 0.6
WEAR_FRAC: Final = 0.25
WEAR_PER_MIN: Final = 0.05
WEAR_MAX: Final = 0.20
CEILING_DROP: Final = 0.9
CEILING_SCALE: Final = 20.0
FATIGUE_TAU_S: Final = 210.0
DEPTH_COST: Final = 36.0
LASTING_HALF_U: Final = 5.0
RESTART_REPS: Final = 0.4
RESTART_HALF_U: Final = 8.0
REST_SLIP_S: Final = 1.0
TRANSITION_S: Final = 2.5
TRIP_REPS_FRAC: Final = 0.35
TRIP_BREATH: Final = 3.0
TRIP_EXTRA_S: Final = 1.0
LAST_PUSH_S: Final = 20.0
CLOSING_S: Final = 35.0
HASTE_COST: Final = 1.0
MARGIN_REPS: Final = 1.5
MARGIN_U_FRAC: Final = 0.35
BREAK_MARGINS: Final = 7.0
EVEN_FRAC: Final = 0.92
BREATH_S: Final = 2.25
ERG_W_S3_M3: Final = 2.80
ERG_CAL_BASE_H: Final = 300.0
ERG_CAL_W: Final = 3.4416
MODEL_STATURE_CM: Final = 175.0
U_SPREAD: Final = 0.10
CP_SPREAD: Final = 0.04
W_PRIME_SPREAD: Final = 0.10
ONE_RM_SPREAD: Final = 0.02
SLIP_SPREAD: Final = 0.5
SPEED_SPREAD: Final = 0.05
CHANGES_SPREAD: Final = 0.30
NO_REPS_SPREAD: Final = 0.60
NEAR_EQUAL_FRAC: Final = 0.003
LIFT_SURE_FRAC: Final = 0.90
LIFT_SURE_CHANCE: Final = 0.975
LIFT_LOCAL_LOSS: Final = 0.18
LIFT_ENGINE_LOSS: Final = 0.08
LIFT_SLOW_ANY: Final = 0.01
LIFT_SLOW_LOCAL: Final = 0.04
LIFT_SLOW_ENGINE: Final = 0.02
LIFT_SLOW_FATIGUE: Final = 1.5
LIFT_SLOW_TAU_S: Final = 600.0
DAY_BEST_FRAC: Final = 0.975
COMPLEX_FRAC: Final = 0.97
AFTER_A_LIFT_FRAC: Final = 0.985
ATTEMPT_S: Final = 10.0
ATTEMPT_LOSS: Final = 0.10
ATTEMPT_FREE_FRAC: Final = 0.6
ATTEMPT_TAU_S: Final = 50.0
DAY_VARIANCE_FRAC: Final = 0.5
WARM_UP_TOP_FRAC: Final = 0.78
JUMP_FREE_FRAC: Final = 0.10
JUMP_LOSS: Final = 0.25
MISS_DEARER: Final = 1.3
ATTEMPT_WEAR: Final = 0.005
HEAVY_FRAC: Final = 0.8
LEAST_REST_S: Final = 60.0
LIGHT_REST_S: Final = 30.0
SQUEEZED_REST_S: Final = 45.0
LAST_START_S: Final = 15.0
PLATE_S: Final = 4.0
COLLARS_S: Final = 6.0
LOADING_REST_FRAC: Final = 0.5
INFERRED_LIFT_SPREAD: Final = 0.05
DEFAULT_LIFT_SPREAD: Final = 0.10

_STARTING = "starting value of our working model, from memory or judgement"
SOURCES: Final = {
    "GRAVITY_M_S2": Source("m/s²", "nist-sp811", "standard acceleration of gravity, exact", False),
    "RECOVERY_TAU_S": Source("s", "", _STARTING, True),
    "TAU_SLOWING": Source("1", "", _STARTING, True),
    "SINGLE_RELIEF": Source("1", "", "lowering half left out; " + _STARTING, True),
    "FAIL_CYCLES": Source("rep cycles", "", _STARTING, True),
    "FAIL_REST_S": Source("s", "", _STARTING, True),
    "FAIL_READY_REPS": Source("reps", "", _STARTING, True),
    "FAIL_READY_FRAC": Source("1", "", _STARTING, True),
    "FAIL_SLACK_REPS": Source("reps", "", "a rep this close to whole still goes up; judgement", True),
    "GRIND_REPS": Source("reps", "", _STARTING, True),
    "GRIND_SLOWING": Source("1", "", _STARTING, True),
    "BREATH_FRAC": Source("1", "", _STARTING, True),
    "BREATH_SLOWING": Source("1", "", _STARTING, True),
    "WEAR_FRAC": Source("1", "", _STARTING, True),
    "WEAR_PER_MIN": Source("1/min", "", _STARTING, True),
    "WEAR_MAX": Source("1", "", _STARTING, True),
    "CEILING_DROP": Source("1", "", _STARTING, True),
    "CEILING_SCALE": Source("reserves", "", _STARTING, True),
    "FATIGUE_TAU_S": Source("s", "", _STARTING, True),
    "DEPTH_COST": Source("1", "", "fitted to repeated sets to failure; scripts/calibrate.py", True),
    "LASTING_HALF_U": Source("reps", "", "a rep of a short longest set leaves less behind; judgement", True),
    "RESTART_REPS": Source("reps", "", _STARTING, True),
    "RESTART_HALF_U": Source("reps", "", _STARTING, True),
    "REST_SLIP_S": Source("s", "", "a planned rest runs over by about a second; judgement", True),
    "TRANSITION_S": Source("s", "", "a planned change of movement takes 2–3 s; common practice", True),
    "TRIP_REPS_FRAC": Source("1", "", "expected trips in a fresh longest set; judgement", True),
    "TRIP_BREATH": Source("1", "", "trips are four times as likely out of breath; judgement", True),
    "TRIP_EXTRA_S": Source("s", "", "untangling the rope, beside the set-up; judgement", True),
    "LAST_PUSH_S": Source("s", "", "grinding is allowed in the last 10–20 s; common practice", True),
    "CLOSING_S": Source("s", "", "the last 30–40 s before a cap are all out; common practice", True),
    "HASTE_COST": Source("1", "", "local cost of a rep done in less than its usual cycle; judgement", True),
    "MARGIN_REPS": Source("reps", "", "stop one or two reps before a grinding rep; common practice", True),
    "MARGIN_U_FRAC": Source("1", "", "the margin of those who have only a few reps; judgement", True),
    "BREAK_MARGINS": Source("1", "", "a forced break counts as so many missed margins; judgement", True),
    "EVEN_FRAC": Source(
        "1", "", "round one of rounds alike takes at least this share of a middle one; judgement", True
    ),
    "BREATH_S": Source("s", "", "one deep breath takes 2–2.5 s; common practice", True),
    "ERG_W_S3_M3": Source("W·s³/m³", "erg-formula", "P = 2.80/(s per m)³; from memory", True),
    "ERG_CAL_BASE_H": Source("kcal/h", "erg-formula", "calorie display of rowing machines; from memory", True),
    "ERG_CAL_W": Source("kcal/h/W", "erg-formula", "4 × 0.8604 kcal/h per watt; from memory", True),
    "MODEL_STATURE_CM": Source("cm", "", "stature to which travel distances belong", True),
    "U_SPREAD": Source("1", "", "day-to-day spread of the longest set; judgement", True),
    "CP_SPREAD": Source("1", "", "day-to-day spread; judgement", True),
    "W_PRIME_SPREAD": Source("1", "", "day-to-day spread; judgement", True),
    "ONE_RM_SPREAD": Source("1", "", "day-to-day spread; judgement", True),
    "SLIP_SPREAD": Source("1", "", "spread of the slip on planned rests; judgement", True),
    "SPEED_SPREAD": Source("1", "", "day-to-day spread of the seconds of a rep; judgement", True),
    "CHANGES_SPREAD": Source("1", "", "spread of the seconds between movements; judgement", True),
    "NO_REPS_SPREAD": Source("1", "", "a strict judge and a lenient one; judgement", True),
    "NEAR_EQUAL_FRAC": Source("1", "", "plans within this count as equal, the simpler one wins; judgement", True),
    "LIFT_SURE_FRAC": Source(
        "1", "", "share of the day's best that goes up on 97–98 % of tries; " + _STARTING, True
    ),
    "LIFT_SURE_CHANCE": Source("1", "", "the chance of a lift at LIFT_SURE_FRAC; " + _STARTING, True),
    "LIFT_LOCAL_LOSS": Source("1", "", "what the lift loses with its emptiest muscle empty; judgement", True),
    "LIFT_ENGINE_LOSS": Source("1", "", "what the lift loses quite out of breath; judgement", True),
    "LIFT_SLOW_ANY": Source("1", "", "what any hard piece leaves for the minutes after it; judgement", True),
    "LIFT_SLOW_LOCAL": Source("1", "", "the same by the lasting fatigue of what lifts; judgement", True),
    "LIFT_SLOW_ENGINE": Source("1", "", "the same by the breath that was spent; judgement", True),
    "LIFT_SLOW_FATIGUE": Source("1", "", "lasting fatigue at which two thirds of it are there; judgement", True),
    "LIFT_SLOW_TAU_S": Source(
        "s",
        "",
        "how that fades: 90–96 % of the 1RM minutes after a hard piece; common practice, no source",
        True,
    ),
    "DAY_BEST_FRAC": Source(
        "1",
        "",
        "an ordinary day's best as a share of the 1RM on file, a best day; common practice, no source",
        True,
    ),
    "COMPLEX_FRAC": Source("1", "", "what each further part of a complex leaves of the weakest; judgement", True),
    "AFTER_A_LIFT_FRAC": Source("1", "", "what a max lift leaves for the next one of a total; judgement", True),
    "ATTEMPT_S": Source("s", "", "from the set-up to the bar back on the floor; judgement", True),
    "ATTEMPT_LOSS": Source("1", "", "what the next lift loses right after one at the 1RM; judgement", True),
    "ATTEMPT_FREE_FRAC": Source("1", "", "attempts below this share of the 1RM cost nothing; judgement", True),
    "ATTEMPT_TAU_S": Source("s", "", "how that fades: a minute leaves 30 %, two leave 9 %; judgement", True),
    "DAY_VARIANCE_FRAC": Source("1", "", "how much of a lift's luck is the day's and stays; judgement", True),
    "WARM_UP_TOP_FRAC": Source("1", "", "the build-up ends at 75–80 %; common practice", True),
    "JUMP_FREE_FRAC": Source(
        "1", "", "steps up to a tenth of the 1RM are what schools take; common practice", True
    ),
    "JUMP_LOSS": Source("1", "", "what a bigger step costs, per 1RM beyond it; judgement", True),
    "MISS_DEARER": Source("1", "", "a missed lift tires more than one that goes up; judgement", True),
    "ATTEMPT_WEAR": Source("1", "", "what an attempt at the 1RM takes from all after it; judgement", True),
    "HEAVY_FRAC": Source("1", "", "attempts from this share of the 1RM on want a full rest; judgement", True),
    "LEAST_REST_S": Source("s", "", "rest between heavy attempts; common practice, no source", True),
    "LIGHT_REST_S": Source("s", "", "rest between lighter ones; judgement", True),
    "SQUEEZED_REST_S": Source("s", "", "the same where the clock forbids more; judgement", True),
    "LAST_START_S": Source(
        "s", "", "the last bar leaves the floor so long before the end; common practice, no source", True
    ),
    "PLATE_S": Source("s", "", "one plate on or off one side; judgement", True),
    "COLLARS_S": Source("s", "", "one collar off and on again; judgement", True),
    "LOADING_REST_FRAC": Source("1", "", "loading the bar oneself counts as half a rest; judgement", True),
    "INFERRED_LIFT_SPREAD": Source("1", "", "doubt about a 1RM inferred from other lifts; judgement", True),
    "DEFAULT_LIFT_SPREAD": Source("1", "", "doubt about a 1RM taken from the tier; judgement", True),
}
