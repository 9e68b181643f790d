"""Loading the compiled kernel before anybody waits for it."""

from sorvek.core.athlete import Athlete
from sorvek.core.lift import USUAL_GYM, LiftTask, parse_gym, plan_attempts
from sorvek.core.planner import plan_workout
from sorvek.core.simulation import forecast, problem_for
from sorvek.core.workout import read_workout


def warm_up() -> None:
    """Load the kernel from its cache; on the very first run compile it, which takes some seconds."""
    workout = read_workout("for time, cap 5:00\n2 rounds:\n  5 burpees\n  5 pull-ups\n").workout
    problem = problem_for(workout, Athlete("Nobody", "building"))
    forecast(problem, plan_workout(problem).plan, count=2)
    gym = parse_gym(USUAL_GYM)
    plan_attempts(LiftTask(80.0, 60.0, gym, gym.bars[0]))
