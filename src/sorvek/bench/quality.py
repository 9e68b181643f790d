"""How good the plans are: beside exhaustive search on small workouts and a global optimiser on large ones."""

import itertools

import numpy as np
from scipy.optimize import differential_evolution

from sorvek.core.athlete.athlete import Athlete
from sorvek.core.planner.batch import CHANGE, N_COLUMNS, REST, REST_LATE
from sorvek.core.planner.candidates import REST_GRID, Bench, build_menu
from sorvek.core.planner.search import DAYS, Search, likely_days, search_plan
from sorvek.core.simulation.problem import Ints, Problem, problem_for
from sorvek.core.workout.notation import parse_workout

SMALL = (
    "for time, cap 6:00\n24 toes-to-bar\n15 power cleans @ 70 kg",
    "amrap 4:00\n9 pull-ups\n6 thrusters @ 50 kg",
    "for time, cap 8:00\n3 rounds:\n  12 handstand push-ups",
)
TIMES_OURS = 20
POPULATION = 8


def small_problems() -> list[Problem]:
    """Return the workouts small enough to try everything."""
    tiers = ("competing", "building")
    return [problem_for(parse_workout(text), Athlete("Bench", tier)) for text in SMALL for tier in tiers]


def _found(problem: Problem) -> tuple[float, float, int]:
    """Return our best mean loss, its size in seconds, and the simulations spent."""
    bench = Bench(problem, build_menu(problem))
    loss, x = search_plan(bench).best
    return loss, float(bench.evaluate(x[None])[1][0]), bench.simulations


def exhaustive_gap_percent(problem: Problem) -> float:
    """Return by how many per cent the search is worse than every rule, rest and style; below 0 it is better."""
    bench = Bench(problem, build_menu(problem))
    options = []
    for slot, rules in enumerate(bench.menu.rules):
        styles = range(len(problem.course.slots[slot].movement.styles))
        rests = range(len(REST_GRID)) if len(rules) > 1 else [5]
        options.append(list(itertools.product(range(len(rules)), rests, styles)))
    xs = np.zeros((int(np.prod([len(o) for o in options])), len(options), N_COLUMNS), dtype=np.int64)
    for i, combination in enumerate(itertools.product(*options)):
        for slot, (rule, rest, style) in enumerate(combination):
            xs[i, slot] = [rule, rule, rest, rest, 0, 0, 0, 0, style, 1_000]
    loss, size, _ = _found(problem)
    return 100 * (loss - float(bench.evaluate(xs, likely_days(problem))[0].min())) / size


def optimiser_gap_percent(problem: Problem) -> tuple[float, int, int]:
    """Return our mean loss above that of differential evolution with twenty times the simulations, in per cent.

    Also both counts of simulations. The optimiser sees the same grids and the same objective: the mean loss
    over the same days.
    """
    loss, size, ours = _found(problem)
    bench = Bench(problem, build_menu(problem))
    search = Search(bench)
    columns = [(slot, column, values) for slot, own in enumerate(search.domains) for column, values in own.items()]
    if not columns:
        return 0.0, ours, 0

    def losses(points: np.ndarray) -> np.ndarray:
        xs: Ints = np.zeros((points.shape[1], len(search.domains), N_COLUMNS), dtype=np.int64)
        xs[:, :, CHANGE] = bench.menu.rounds
        xs[:, :, REST] = xs[:, :, REST_LATE] = 5
        for i, (slot, column, values) in enumerate(columns):
            xs[:, slot, column] = values[np.minimum(points[i].astype(int), len(values) - 1)]
        return bench.evaluate(xs, search.days)[0]

    found = differential_evolution(
        losses,
        [(0, len(values) - 0.001) for _, _, values in columns],
        popsize=POPULATION,
        maxiter=max(1, TIMES_OURS * ours // (POPULATION * len(columns) * DAYS)),
        tol=0,
        polish=False,
        vectorized=True,
        updating="deferred",
        rng=1,
    )
    return 100 * (loss - float(found.fun)) / size, ours, bench.simulations
