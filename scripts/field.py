"""Make the demo's simulated leaderboards, about 2,000 results a workout, and last season's log; seeded."""

from datetime import date
from importlib.resources import files
from pathlib import Path

import numpy as np

from sorvek.core.athlete.athlete import Athlete
from sorvek.core.club.board import Result, order_key
from sorvek.core.club.leaderboard_csv import leaderboard_csv
from sorvek.core.club.simulated import people, simulate_field
from sorvek.core.planner.planner import plan_workout
from sorvek.core.simulation import kernel as k
from sorvek.core.simulation.days import draw_samples
from sorvek.core.simulation.forecast import run_samples
from sorvek.core.simulation.problem import problem_for
from sorvek.core.workout.notation import parse_workout
from sorvek.core.workout.tree import Form, Workout
from sorvek.demo.club import club

DEMO = Path(str(files("sorvek.demo")))


def one_day(workout: Workout, athlete: Athlete, seed: int) -> Result:
    """Return what an athlete scored on one uncertain day with the recommended plan."""
    problem = problem_for(workout, athlete)
    days = draw_samples(problem, 1, seed)
    out = run_samples(problem, problem.choices(plan_workout(problem).plan), *days)[0][0]
    finished = workout.form is Form.FOR_TIME and bool(out[k.FINISHED] > 0)
    value = float(np.ceil(out[k.TIME])) if finished else float(out[k.DONE])
    return Result(athlete.name, athlete.division, finished, value)


def main() -> None:
    """Write the files beside the workouts."""
    competitors = people()
    for path in sorted((DEMO / "workouts").glob("*.txt")):
        results = simulate_field(parse_workout(path.read_text(encoding="utf-8")), competitors)
        (DEMO / "field" / f"{path.stem}.csv").write_text(leaderboard_csv(results), encoding="utf-8")
    for number, path in enumerate(sorted((DEMO / "season").glob("*.txt"))):
        workout = parse_workout(path.read_text(encoding="utf-8"))
        results = [one_day(workout, athlete, 100 * number + i) for i, athlete in enumerate(club(date(2026, 1, 1)))]
        path.with_suffix(".csv").write_text(leaderboard_csv(sorted(results, key=order_key)), encoding="utf-8")


if __name__ == "__main__":
    main()
