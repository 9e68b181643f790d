"""The days a plan is weighed on, and the search that weighs them."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.stats import norm

from examples import problem
from sorvek.core.athlete.athlete import Athlete
from sorvek.core.constants import CP_SPREAD, W_PRIME_SPREAD
from sorvek.core.planner.batch import CHANGE, N_COLUMNS, REST, REST_LATE, RULE, RULE_LATE
from sorvek.core.planner.candidates import PRICES, Bench, build_menu
from sorvek.core.planner.search import BEGINNINGS, DAYS, POPULATION, STAGED, Search, likely_days, search_plan
from sorvek.core.planner.simplify import Simplifier
from sorvek.core.simulation import columns as k
from sorvek.core.simulation.days import WEIGHED_DOUBT, draw_samples, spread_samples
from sorvek.core.simulation.problem import problem_for
from sorvek.core.workout.movements import TIERS
from strategies import workouts


def test_the_first_day_is_the_nominal_one_and_the_others_differ():
    given_problem = problem("Breakwater", "building")
    us, whos = likely_days(given_problem)
    assert us.shape == (DAYS, len(given_problem.unbroken))
    assert (us[0] == given_problem.unbroken).all()
    assert (whos[0] == given_problem.who).all()
    assert (us[1:] != us[0]).any(axis=1).all()


def candidates(given_problem, count):
    bench = Bench(given_problem, build_menu(given_problem))
    return bench, Search(bench).beginnings()[:count]


def test_a_mean_over_days_is_the_mean_of_the_days():
    given_problem = problem("Breakwater", "building")
    bench, xs = candidates(given_problem, 12)
    us, whos = likely_days(given_problem)
    # The planned day has prices of its own; a share of the score there is one of the mean.
    planned = Bench(given_problem, bench.menu, prices=PRICES * [1, DAYS, 1])
    other = Bench(given_problem, bench.menu, prices=PRICES[[1, 1]])
    benches = [planned] + [other] * (DAYS - 1)
    each = [b.evaluate(xs, (u[None], who[None]))[0] for b, u, who in zip(benches, us, whos, strict=True)]
    assert bench.evaluate(xs, (us, whos))[0] == pytest.approx(np.mean(each, axis=0))


def test_what_is_given_up_early_could_not_have_won_and_saves_simulations():
    given_problem = problem("Breakwater", "building")
    bench, xs = candidates(given_problem, 60)
    days = likely_days(given_problem)
    whole = bench.evaluate(xs, days)[0]
    spent = bench.simulations
    best = int(np.argmin(whole))
    per_day = bench.each_sample(xs[best], days)[0]
    before = bench.simulations
    cut = bench.evaluate(xs, days, np.cumsum(per_day) + 1e-6)[0]
    assert bench.simulations - before < spent
    assert int(np.argmin(cut)) == best
    assert all(c == pytest.approx(w) or np.isinf(c) for c, w in zip(cut, whole, strict=True))


@pytest.mark.parametrize("title", ["Breakwater", "Two Lamps", "Signal Mast"])
def test_a_search_never_ends_worse_than_where_it_began(title):
    given_problem = problem(title, "building")
    bench, xs = candidates(given_problem, 192)
    found, x = search_plan(bench).best
    assert found <= bench.evaluate(xs, likely_days(given_problem))[0].min() + 1e-9
    assert found == pytest.approx(bench.evaluate(x[None], likely_days(given_problem))[0][0])


def test_plans_that_lose_the_same_do_not_crowd_out_others_among_the_founders():
    bench, xs = candidates(problem("Breakwater", "building"), BEGINNINGS)
    alike = 4
    founders = Search(bench).founders(xs, np.arange(BEGINNINGS) // alike * 1.0)
    chosen = {x.tobytes() for x in founders}
    assert {x.tobytes() for x in xs[STAGED * alike :: alike]} <= chosen
    assert len(founders) <= POPULATION


def test_a_failed_rep_on_the_nominal_day_is_avoided_where_it_can_be():
    given_problem = problem("Two Lamps", "starting")
    choice = Simplifier(search_plan(Bench(given_problem, build_menu(given_problem))))
    _, x = choice.simplest()
    for xs in (choice.finalists(), x[None]):
        assert (choice.bench.evaluate(xs)[2][:, k.FAILED] == 0).all()


@pytest.mark.parametrize("title", ["Breakwater", "Fog Signal", "Thirty"])
def test_the_simplest_plan_costs_no_more_than_the_near_equal_share(title):
    given_problem = problem(title, "competing")
    search = search_plan(Bench(given_problem, build_menu(given_problem)), effort=0.3)
    choice = Simplifier(search)
    loss, x = choice.simplest()
    best = search.seen[choice.finalists()[0].tobytes()]
    size_s = search.bench.each_sample(best[1], search.days)[1]
    assert loss == pytest.approx(search.bench.evaluate(x[None], search.days)[0][0])
    assert loss <= best[0] + max(0.005 * size_s, 0.5 * choice.rep_s(best[1])) + 1e-9
    assert choice.complexity(x) <= choice.complexity(best[1])


def test_less_to_remember_counts_as_simpler():
    given_problem = problem("Breakwater", "building")
    bench = Bench(given_problem, build_menu(given_problem))
    search = Simplifier(Search(bench))
    plain = np.zeros((len(bench.menu.rules), N_COLUMNS), dtype=np.int64)
    plain[:, CHANGE] = bench.menu.rounds
    sets = bench.menu.length[0, : len(bench.menu.rules[0])].max(axis=1)
    more = plain.copy()
    plain[0, RULE], more[0, RULE] = int(np.argmin(sets)), int(np.argmax(sets))
    assert search.complexity(plain) < search.complexity(more)
    changed = plain.copy()
    changed[0, CHANGE], changed[0, RULE + 1] = 1, more[0, RULE]
    assert search.complexity(changed) > search.complexity(plain) + 1.9


@settings(max_examples=25)
@given(workouts, st.sampled_from(TIERS), st.integers(0, 2**31))
def test_going_on_from_where_plans_part_gives_the_same_results_as_starting_over(workout, tier, seed):
    assert_going_on_is_starting_over(problem_for(workout, Athlete("A", tier)), seed)


def test_going_on_behind_a_part_that_was_cut_off_knows_that_it_was():
    """Nobody of the tier throws that ball: the first part is never finished, whatever the second is done like."""
    cut = problem("for time\npart 1:00:\n  1 wall ball @ 20 kg\npart 1:00:\n  9 GHD sit-ups", "starting")
    assert_going_on_is_starting_over(cut, 1)


def assert_going_on_is_starting_over(given_problem, seed):
    bench = Bench(given_problem, build_menu(given_problem))
    search = Search(bench)
    rng = np.random.Generator(np.random.PCG64(seed))
    xs = search.beginnings()[rng.integers(0, BEGINNINGS, 6)]
    # Neighbours share long beginnings; mixed with strangers every kind of resumption comes up.
    for i in (1, 3, 5):
        xs[i] = xs[i - 1]
        slot = int(rng.integers(0, xs.shape[1]))
        for column, values in search.domains[slot].items():
            if rng.random() < 0.4:
                xs[i, slot, column] = rng.choice(values)
    together = bench.evaluate(xs, search.days)
    apart = [bench.evaluate(x[None], search.days) for x in xs]
    for whole, single in zip(together, zip(*apart, strict=True), strict=True):
        assert np.array_equal(whole, np.concatenate(single))


@pytest.mark.parametrize("title", ["Breakwater", "Fog Signal", "Harbour Steps", "Left Bank"])
def test_a_population_reports_the_losses_its_members_have_when_simulated_from_the_start(title):
    given_problem = problem(title, "building")
    bench = Bench(given_problem, build_menu(given_problem))
    search = Search(bench)
    xs = search.beginnings()[:12]
    before = bench.evaluate(xs, search.days)[0]
    search.breed(xs, 1_500)
    assert len(search.seen) > 5
    for loss, x in search.seen.values():
        assert loss == pytest.approx(bench.evaluate(x[None], search.days)[0][0], abs=1e-9)
    assert sum(loss < before.min() for loss, _ in search.seen.values()) > 0


def test_what_nobody_gets_to_is_left_out_of_the_search():
    given_problem = problem("Long Pier", "starting")
    search = search_plan(Bench(given_problem, build_menu(given_problem)), effort=0.2)
    out = search.bench.evaluate(search.best[1][None], search.days)[2][0]
    assert out[k.DONE] < given_problem.course.total_reps
    assert search.domains[-1] == {}
    assert search.domains[0] != {}


def test_spread_days_have_the_moments_of_random_ones_and_every_share_once():
    """A Latin hypercube (McKay, Beckman & Conover 1979): each margin is stratified, so its mean is exact."""
    given_problem = problem("Two Lamps", "competing")
    us, whos = spread_samples(given_problem, 16)
    spread = np.log(whos[:, :2] / given_problem.who[:2]) / np.hypot(
        [CP_SPREAD, W_PRIME_SPREAD], WEIGHED_DOUBT * 0.30
    )
    assert spread.mean(axis=0) == pytest.approx([0, 0], abs=1e-9)
    assert (np.sort(np.floor(16 * norm.cdf(spread)), axis=0) == np.arange(16)[:, None]).all()
    drawn = np.log(draw_samples(given_problem, 4_000, doubts=WEIGHED_DOUBT)[0] / given_problem.unbroken).std(axis=0)
    # Of sixteen days a standard deviation is known to a sixth or so.
    assert np.log(us / given_problem.unbroken).std(axis=0) == pytest.approx(drawn, rel=0.45)
    assert (us == spread_samples(given_problem, 16)[0]).all()


def test_staged_candidates_begin_like_one_and_go_on_like_another():
    given_problem = problem("Breakwater", "building")
    search = Search(Bench(given_problem, build_menu(given_problem)))
    xs = search.beginnings()[:12]
    mixed = search.staged(xs)
    assert (mixed[..., [RULE, REST]] == xs[..., [RULE, REST]]).all()
    late = {tuple(row) for row in mixed[:, 0, [RULE_LATE, REST_LATE]].tolist()}
    assert late == {tuple(row) for row in xs[:, 0, [RULE, REST]].tolist()}
    assert (mixed[:, 0, [RULE_LATE, REST_LATE]] != xs[:, 0, [RULE, REST]]).any()
    assert (mixed[..., CHANGE] <= search.rounds).all()


def test_some_beginnings_drop_and_reset_the_bar_without_a_rest():
    """Common practice, no source: quick singles take no rest beyond the reset."""
    given_problem = problem("for time\n30 power cleans @ 60 kg", "building")
    search = Search(Bench(given_problem, build_menu(given_problem)))
    xs = search.beginnings()
    singles = xs[:, 0, RULE] == len(search.bench.menu.rules[0]) - 1
    assert 0 < (xs[singles, 0, REST] == 0).mean() < 1
    assert (xs[~singles, 0, REST] == 0).mean() < (xs[singles, 0, REST] == 0).mean()
