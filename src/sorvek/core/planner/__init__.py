"""What to do: which sets may be chosen, and the search for the plan that scores best."""

from sorvek.core.planner.batch import N_COLUMNS
from sorvek.core.planner.candidates import Bench, build_menu
from sorvek.core.planner.planner import plan_workout
from sorvek.core.planner.rest import Towards, plan_rest
from sorvek.core.planner.set_rules import PACE_SCHOOLS, School
from sorvek.core.planner.temper import Temper

__all__ = [
    "N_COLUMNS",
    "PACE_SCHOOLS",
    "Bench",
    "School",
    "Temper",
    "Towards",
    "build_menu",
    "plan_rest",
    "plan_workout",
]
