"""Properties of whole plans over random workouts and athletes."""

from dataclasses import replace
from itertools import product

import numpy as np
import pytest
from hypothesis import assume, given, settings

from examples import TITLES, problem
from sorvek.bench.cases import cases
from sorvek.core.advice.briefing import brief, briefing_data
from sorvek.core.errors import InfeasibleError
from sorvek.core.plan.plan import Plan, check_sets
from sorvek.core.plan.shorthand import parse_shorthand, shorthand
from sorvek.core.planner.batch import REST, REST_LATE
from sorvek.core.planner.candidates import Bench, build_menu
from sorvek.core.planner.planner import plan_workout
from sorvek.core.planner.search import USUAL_REST, Search, search_plan
from sorvek.core.planner.simplify import Simplifier
from sorvek.core.simulation import columns as k
from sorvek.core.simulation.problem import Problem, prepare, problem_for
from strategies import athletes, workouts

# Simulations one search may spend whatever the workout: walks, batches and the final comparison together.
MOST_SIMULATIONS = 25_000
SEARCH_TOLERANCE, MOST_BEHIND = 0.005, 0.04
few = settings(max_examples=25)


def found_loss(given_problem: Problem) -> tuple[float, float]:
    """Return the best loss of a search and its size, both in seconds."""
    bench = Bench(given_problem, build_menu(given_problem))
    loss, x = search_plan(bench).best
    return loss, float(bench.evaluate(x[None])[1][0])


def random_problem(workout, athlete) -> Problem:
    try:
        return problem_for(workout, athlete)
    except InfeasibleError:
        assume(False)
        raise


@few
@given(workouts, athletes)
def test_any_parsable_workout_is_planned_within_a_bounded_number_of_simulations(workout, athlete):
    given_problem = random_problem(workout, athlete)
    planned = plan_workout(given_problem, effort=0.2)
    assert planned.simulations < MOST_SIMULATIONS
    assert np.isfinite(planned.loss_s)
    for slot, phases in enumerate(planned.plan.slots):
        check_sets(given_problem.course, slot, phases)


@few
@given(workouts, athletes)
def test_a_planned_scheme_survives_being_typed(workout, athlete):
    given_problem = random_problem(workout, athlete)
    plan = plan_workout(given_problem, effort=0.1).plan
    again = Plan(tuple(parse_shorthand(shorthand(phases)) for phases in plan.slots))
    first, second = (briefing_data(brief(given_problem, p)) for p in (plan, again))
    assert first["score"] == second["score"]
    assert first["splits"] == second["splits"]


@pytest.mark.parametrize("title", TITLES)
def test_a_weaker_athletes_plan_is_open_to_the_stronger_one(title):
    """More of everything never makes the best plan found for less of it worse: the landscape only sinks."""
    weak = problem(title, "building")
    strong = replace(weak, unbroken=weak.unbroken * 1.15, who=weak.who * [1.1, 1.1, *4 * [1.0]])
    bench, other = (Bench(p, build_menu(p)) for p in (weak, strong))
    seen = sorted(search_plan(bench, effort=0.2).seen.values(), key=lambda entry: entry[0])[:20]
    xs = np.stack([x for _, x in seen])
    # Compared by score, not by loss: the stronger athlete's typical seconds a rep are fewer.
    before, after = bench.evaluate(xs)[2], other.evaluate(xs)[2]
    for old, new in zip(before, after, strict=True):
        assert tuple(rank(new)) <= tuple(rank(old) * [1, 1 + SEARCH_TOLERANCE, 1.0 + 2 * SEARCH_TOLERANCE])


def rank(out: np.ndarray) -> np.ndarray:
    """Return a key that sorts results best first: finished, then reps missing, then time."""
    finished, done, time_s = out[3], out[1], out[0]
    return np.array([1.0 - finished, 20_000 - done, time_s if finished else 1.0])


def searched(given_problem: Problem):
    return search_plan(Bench(given_problem, build_menu(given_problem)))


def behind_frac(search, xs: np.ndarray) -> float:
    """Return by what share of its score a search is worse than plans that were open to it; below 0 it is better.

    In the score's own unit: seconds where the work gets done, else reps, each as long as one takes at the end.
    """
    losses, sizes, _ = search.bench.evaluate(xs, search.days)
    best = int(losses.argmin())
    behind_s = search.best[0] - losses[best]
    rep_s = Simplifier(search).rep_s(xs[best])
    if rep_s == 0:
        return float(behind_s / sizes[best])
    return float(behind_s / rep_s / max(1.0, search.bench.evaluate(xs[best : best + 1])[2][0, k.DONE]))


def plans_of(search, count: int = 5) -> np.ndarray:
    best = sorted(search.seen.values(), key=lambda entry: entry[0])[:count]
    return np.stack([x for _, x in best])


def stronger(weak: Problem) -> Problem:
    return replace(weak, unbroken=weak.unbroken * 1.1, who=weak.who * [1.05, 1.05, *4 * [1.0]])


def test_more_capacity_seldom_gives_a_worse_plan(monkeypatch):
    """The stronger athlete's plan beside the weaker one's, followed by the stronger.

    With eight seeds 18 of 312 pairs are more than half a per cent behind, at most by 2.3 %; here with two that do
    not ship, and twice as many may be.
    """
    behind = []
    for seed in (1, 2):
        monkeypatch.setattr("sorvek.core.planner.search.SEED", seed)
        for title, tier in product(TITLES, ("starting", "building", "competing")):
            weak = problem(title, tier)
            behind.append(behind_frac(searched(stronger(weak)), plans_of(searched(weak))))
    assert (np.array(behind) > SEARCH_TOLERANCE).mean() <= 0.11
    assert np.mean(behind) < 0
    assert max(behind) < MOST_BEHIND


def test_more_capacity_seldom_gives_a_worse_plan_of_made_up_workouts():
    weak = [case.problem for case in cases(9, 8)]
    behind = np.array([behind_frac(searched(stronger(one)), plans_of(searched(one))) for one in weak])
    assert (behind > SEARCH_TOLERANCE).mean() <= 0.2
    assert behind.mean() < 0
    assert np.quantile(behind, 0.95) < MOST_BEHIND


def test_a_lighter_bar_seldom_gives_a_worse_plan(monkeypatch):
    """With eight seeds 5 of 96 pairs are more than half a per cent behind, at most by 2.7 %; here with two."""
    behind = []
    titles = ("Breakwater", "Two Lamps", "Thirty", "Rope and Rail", "Long Pier", "Harbour Steps")
    for seed, title, tier in product((1, 2), titles, ("building", "competing")):
        monkeypatch.setattr("sorvek.core.planner.search.SEED", seed)
        heavy = problem(title, tier)
        slots = tuple(replace(slot, size=slot.size * 0.9) if slot.load_kg else slot for slot in heavy.course.slots)
        light = prepare(replace(heavy.course, slots=slots), heavy.athlete)
        assert (light.unbroken >= heavy.unbroken).all()
        behind.append(behind_frac(searched(light), plans_of(searched(heavy))))
    assert (np.array(behind) > SEARCH_TOLERANCE).mean() <= 0.11
    assert np.mean(behind) < 0
    assert max(behind) < MOST_BEHIND


@pytest.mark.parametrize("tier", ["building", "competing"])
@pytest.mark.parametrize("minutes", [4, 7])
def test_a_longer_cap_never_gives_a_worse_plan(minutes, tier):
    text = "for time, cap {}:00\n3 rounds:\n  15 toes-to-bar\n  10 thrusters @ 50 kg"
    short, long = (problem(text.format(m), tier) for m in (minutes, minutes + 2))
    assert behind_frac(searched(long), plans_of(searched(short))) <= MOST_BEHIND


@pytest.mark.parametrize("title", ["Breakwater", "Two Lamps", "Thirty", "Long Pier"])
def test_longer_rests_allowed_never_give_a_worse_plan(title):
    given_problem = problem(title, "building")
    hurried = Search(Bench(given_problem, build_menu(given_problem)))
    xs = hurried.beginnings()
    for column in (REST, REST_LATE):
        xs[:, :, column] = xs[:, :, column].clip(max=USUAL_REST)
        for domain in hurried.domains:
            if column in domain:
                domain[column] = domain[column][: USUAL_REST + 1]
    hurried.breed(xs[:60], 4_000)
    assert plans_of(hurried)[:, :, [REST, REST_LATE]].max() <= USUAL_REST
    assert behind_frac(searched(given_problem), plans_of(hurried)) <= SEARCH_TOLERANCE


def test_the_search_is_the_same_with_the_same_seed_and_has_no_clock():
    assert found_loss(problem("Watchkeeper", "building")) == found_loss(problem("Watchkeeper", "building"))
