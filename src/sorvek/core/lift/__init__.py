"""The max lift: plates and loads, the attempts that follow, the schools beside them, both scores together."""

from sorvek.core.lift import kernel
from sorvek.core.lift.attempts import Ahead, Attempt, AttemptPlan, Belief, Branch, Platform, Total, plan_attempts
from sorvek.core.lift.hall.build_up import WarmUpSet, build_up
from sorvek.core.lift.hall.crew import Crew
from sorvek.core.lift.hall.plates import USUAL_GYM, Gym, Piece, Stack, gym_text, parse_gym
from sorvek.core.lift.hall.stacks import change, staging
from sorvek.core.lift.levels import best_style, pounds_doubt
from sorvek.core.lift.ramps import Ramp, expected_last_rung, find_ramps, has_ramp
from sorvek.core.lift.reasons import Told
from sorvek.core.lift.schools import SchoolRun, compare_attempts
from sorvek.core.lift.task import LONGEST_WINDOW_S, Aim, LiftTask, Typed
from sorvek.core.lift.two_scores import Point, eased, trade_off
from sorvek.core.lift.wishes import Setup, Wishes, lift_setup, read_wishes, wishes_text

__all__ = [
    "LONGEST_WINDOW_S",
    "USUAL_GYM",
    "Ahead",
    "Aim",
    "Attempt",
    "AttemptPlan",
    "Belief",
    "Branch",
    "Crew",
    "Gym",
    "LiftTask",
    "Piece",
    "Platform",
    "Point",
    "Ramp",
    "SchoolRun",
    "Setup",
    "Stack",
    "Told",
    "Total",
    "Typed",
    "WarmUpSet",
    "Wishes",
    "best_style",
    "build_up",
    "change",
    "compare_attempts",
    "eased",
    "expected_last_rung",
    "find_ramps",
    "gym_text",
    "has_ramp",
    "kernel",
    "lift_setup",
    "parse_gym",
    "plan_attempts",
    "pounds_doubt",
    "read_wishes",
    "staging",
    "trade_off",
    "wishes_text",
]
