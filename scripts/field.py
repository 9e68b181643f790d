"""Make the demo's simulated leaderboards, about 2,000 results a workout, and last season's log; seeded."""

from dataclasses import replace
from datetime import date
from importlib.resources import files
from pathlib import Path

import numpy as np

from sorvek.core.athlete.athlete import Athlete
from sorvek.core.club.board import Result, order_key
from sorvek.core.club.leaderboard_csv import leaderboard_csv
from sorvek.core.club.simulated import people, simulate_field
from sorvek.core.live import fold, rehearse
from sorvek.core.plan import shorthand
from sorvek.core.planner.planner import plan_workout
from sorvek.core.season import Record, record_text
from sorvek.core.simulation.problem import problem_for
from sorvek.core.workout.notation import parse_workout
from sorvek.core.workout.tree import Form, Workout
from sorvek.demo.club import club

DEMO = Path(str(files("sorvek.demo")))
# Who went already, on the workout that is open.
OPEN, YESTERDAY = "2-two-lamps", "Kester Pym"


def one_day(workout: Workout, athlete: Athlete, seed: int) -> tuple[Result, Record]:
    """Return what an athlete did on one uncertain day with the recommended plan: the score and every set."""
    problem = problem_for(workout, athlete)
    plan = plan_workout(problem).plan
    taps = [replace(tap, at_s=round(tap.at_s, 1)) for tap in rehearse(problem, plan, seed)]
    state = fold(problem.course, plan, taps)
    finished = workout.form is Form.FOR_TIME and state.finished(problem.course)
    value = float(np.ceil(state.last_s)) if finished else float(state.reps(problem.course))
    record = Record(tuple(shorthand(phases) for phases in plan.slots), tuple(taps))
    return Result(athlete.name, athlete.division, finished, value), record


def main() -> None:
    """Write the files beside the workouts."""
    competitors = people()
    for path in sorted((DEMO / "workouts").glob("*.txt")):
        results = simulate_field(parse_workout(path.read_text(encoding="utf-8")), competitors)
        (DEMO / "field" / f"{path.stem}.csv").write_text(leaderboard_csv(results), encoding="utf-8")
    for number, path in enumerate(sorted((DEMO / "season").glob("*.txt"))):
        workout = parse_workout(path.read_text(encoding="utf-8"))
        done = [one_day(workout, athlete, 100 * number + i) for i, athlete in enumerate(club(date(2026, 1, 1)))]
        results = sorted((result for result, _ in done), key=order_key)
        path.with_suffix(".csv").write_text(leaderboard_csv(results), encoding="utf-8")
        lines = [f"{result.name}\t{record_text(record)}\n" for result, record in done]
        path.with_suffix(".done").write_text("".join(lines), encoding="utf-8")
    workout = parse_workout((DEMO / "workouts" / f"{OPEN}.txt").read_text(encoding="utf-8"))
    athlete = next(one for one in club(date(2026, 1, 1)) if one.name == YESTERDAY)
    result, record = one_day(workout, athlete, len(YESTERDAY))
    row = ("finished" if result.finished else "reps", f"{result.value:g}", record_text(record))
    (DEMO / "yesterday.done").write_text("\t".join((YESTERDAY, *row)) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main()
