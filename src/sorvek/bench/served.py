"""Whom tiers by plan serve: how many lose little by their tier's plan, and how many are starred for losing much."""

from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace

from sorvek.bench.calibration import TODAY
from sorvek.bench.cases import athletes, workouts
from sorvek.core.athlete import Athlete
from sorvek.core.club.following import LITTLE_FRAC, STAR_FRAC
from sorvek.core.club.tiers_by_plan import plan_tiers
from sorvek.core.planner.planner import plan_workout
from sorvek.core.simulation.problem import Problem, problem_for
from sorvek.core.workout.notation import parse_workout
from sorvek.demo.club import club, season

MOST_TIERS = 4
# Ten made-up workouts, ten times six athletes on each.
SEED, MADE_UP, GROUPS = 57, 10, 10


@dataclass(frozen=True, slots=True)
class Served:
    """One club on one workout: shares who lose little and who are starred, in per cent, and the tiers it took."""

    little: float
    starred: float
    tiers: int


def _served(case: tuple[str, Sequence[Athlete]]) -> Served:
    text, people = case
    workout = parse_workout(text)
    problems: list[Problem] = [problem_for(workout, athlete) for athlete in people]
    tiers = plan_tiers(problems, [plan_workout(problem).plan for problem in problems], MOST_TIERS)
    losses = [following.loss for tier in tiers for following in tier.following]
    little, starred = (sum(loss < LITTLE_FRAC for loss in losses), sum(loss > STAR_FRAC for loss in losses))
    return Served(100 * little / len(losses), 100 * starred / len(losses), len(tiers))


def served(texts: Sequence[str]) -> tuple[list[Served], list[Served]]:
    """Return whom at most four tiers serve: the demo club on `texts` and last season's, made-up clubs of sixty."""
    people = [replace(athlete, flags={}) for athlete in club(TODAY)]
    demo = [(text, people) for text in [*texts, *(past.text for past in season())]]
    made_up = [(text, athletes(SEED + i, GROUPS)) for i, text in enumerate(workouts(SEED, MADE_UP))]
    with ProcessPoolExecutor() as pool:
        found = list(pool.map(_served, [*demo, *made_up]))
    return found[: len(demo)], found[len(demo) :]
