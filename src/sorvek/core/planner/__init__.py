"""What to do: which sets may be chosen, and the search for the plan that scores best."""

from sorvek.core.planner.batch import N_COLUMNS
from sorvek.core.planner.candidates import Bench, build_menu
from sorvek.core.planner.planner import plan_workout
from sorvek.core.planner.set_rules import PACE_SCHOOLS, School

__all__ = ["N_COLUMNS", "PACE_SCHOOLS", "Bench", "School", "build_menu", "plan_workout"]
