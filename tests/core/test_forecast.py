"""The band of uncertain days."""

from dataclasses import replace

import numpy as np
import pytest

from examples import TITLES, problem, typed
from sorvek.core.advice.briefing import brief
from sorvek.core.planner.planner import plan_workout
from sorvek.core.simulation import kernel as k
from sorvek.core.simulation.days import SAMPLES, draw_samples
from sorvek.core.simulation.forecast import forecast


@pytest.mark.parametrize("title", TITLES)
def test_the_band_is_in_order_and_holds_the_middle_of_the_days(title):
    given_problem = problem(title, "building")
    plan = plan_workout(given_problem, effort=0.1).plan
    band = forecast(given_problem, plan)
    assert band.p10 <= band.p50 <= band.p90
    assert 0 <= band.finish_probability <= 1
    assert len(band.forced_break_frac) == len(given_problem.course.slots)
    assert all(0 <= chance <= 1 for chance in band.forced_break_frac)
    assert len(band.set_break_frac) == sum(
        len(plan.scheme(s.slot, rank).rule.sets(s.reps))
        for s, rank in zip(given_problem.course.segments, given_problem.ranks, strict=True)
    )
    # A visit breaks at least as often as any one of its sets, a movement as any one of its visits.
    assert len(band.block_break_frac) == len(given_problem.course.segments)
    assert max(band.set_break_frac) <= max(band.block_break_frac) <= max(band.forced_break_frac)


def test_later_sets_of_one_size_break_more_often():
    given_problem = problem("for time\n60 toes-to-bar", unbroken={"toes-to-bar": 20})
    chances = forecast(given_problem, typed("12/12/12/12/12 r8")).set_break_frac
    assert chances[0] < chances[2] <= chances[4]
    assert chances[4] > 0.5


def test_the_days_spread_as_the_register_says():
    """U ±10 %, CP ±4 %, W' ±10 % as standard deviations of the logarithm; standard error of 400 is 3.5 %."""
    given_problem = problem("Breakwater")
    us, whos = draw_samples(given_problem)
    assert us.shape == (SAMPLES, len(given_problem.unbroken))
    assert np.log(us[:, 0] / given_problem.unbroken[0]).std() == pytest.approx(0.10, rel=0.12)
    assert np.log(whos[:, k.CP] / given_problem.who[k.CP]).std() == pytest.approx(0.04, rel=0.12)
    assert np.log(whos[:, k.W_PRIME] / given_problem.who[k.W_PRIME]).std() == pytest.approx(0.10, rel=0.12)
    assert (whos[:, k.SLIP] >= 0).all()


def test_form_of_the_day_is_shared_by_all_movements():
    us, _ = draw_samples(problem("Two Lamps"))
    assert 0.2 < np.corrcoef(us[:, 0], us[:, -1])[0, 1] < 0.9


def test_the_same_seed_gives_the_same_days_and_another_seed_others():
    given_problem = problem("Breakwater")
    assert (draw_samples(given_problem, 50)[0] == draw_samples(given_problem, 50)[0]).all()
    assert (draw_samples(given_problem, 50)[0] != draw_samples(given_problem, 50, seed=5)[0]).any()


def test_a_load_near_the_limit_is_less_certain_than_a_light_one():
    spread = []
    for load in (70, 110):
        us, _ = draw_samples(problem(f"for time\n10 power cleans @ {load} kg", one_rep_max_kg={"power clean": 120}))
        spread.append(us[:, 0].std() / us[:, 0].mean())
    assert spread[0] < spread[1]


def test_the_chance_of_a_forced_break_falls_with_smaller_sets():
    given_problem = problem("for time\n60 toes-to-bar", unbroken={"toes-to-bar": 20})
    chances = [
        forecast(given_problem, typed(sets)).forced_break_frac[0] for sets in ("20/20/20 r5", "12x5 r8", "20x3 r10")
    ]
    assert chances == sorted(chances, reverse=True)
    assert chances[0] > 0.9
    assert chances[-1] < 0.3


def test_a_cap_in_the_middle_of_the_days_gives_an_even_chance_to_finish():
    free = problem("for time\n50 burpees\n30 thrusters @ 40 kg")
    free.variants[:, k.FASTEST] = 1.0  # nobody sprints for a cap
    plan = typed("unbroken", "10/10/10 r6")
    middle = forecast(free, plan).p50
    capped = replace(free, seg_f=np.where(np.arange(3) == k.DEADLINE, middle, free.seg_f))
    assert forecast(capped, plan).finish_probability == pytest.approx(0.5, abs=0.02)


def test_warnings_name_the_movement_and_the_trouble():
    given_problem = problem("Breakwater", "building")
    warnings = " ".join(brief(given_problem, typed("unbroken", "unbroken", "unbroken")).warnings)
    assert "toes-to-bar" in warnings
    assert "a rep fails in the set at" in warnings
    stuck = problem("Two Lamps", "building", unbroken={"bar muscle-up": 0})
    text = " ".join(brief(stuck, typed("4/4 r8", "5/5 r8", "3/3 r8", "singles r9")).warnings)
    assert "No rep of bar muscle-up is in reach" in text
