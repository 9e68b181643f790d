"""Safe, steady and attack: the same search with other weights over the days."""

from concurrent.futures import ThreadPoolExecutor

import numpy as np
import pytest

from examples import problem
from sorvek.core.advice.briefing import brief
from sorvek.core.advice.tempers import compare_tempers, difference
from sorvek.core.plan.shorthand import parse_shorthand
from sorvek.core.planner.candidates import PRICES, daily_losses
from sorvek.core.planner.planner import plan_workout
from sorvek.core.planner.temper import Temper
from sorvek.core.simulation.timeline import run_plan

ROUNDS = "amrap 10:00\n11 pull-ups\n9 hang power cleans @ 60/40 kg"


@pytest.mark.parametrize("text", [ROUNDS, "Two Lamps", "Harbour Steps"])
@pytest.mark.parametrize("temper", [Temper.SAFE, Temper.ATTACK])
def test_a_temperament_answers_its_own_question_at_least_as_well_as_the_steady_plan(text, temper):
    """On four hundred days the search has not seen; the steady plan stands to choose."""
    given = problem(text, "competing")
    steady = plan_workout(given).plan
    own = compare_tempers(given, steady, (temper,))[0].briefing.plan
    assert temper.asked(daily_losses(given, own)) <= temper.asked(daily_losses(given, steady))


def test_the_attack_wins_on_good_days_what_the_safe_plan_wins_on_bad_ones():
    given = problem(ROUNDS, "competing")
    with ThreadPoolExecutor(2) as pool:
        safe, steady, attack = compare_tempers(given, plan_workout(given).plan, run=pool.map)
    assert compare_tempers(given, steady.briefing.plan) == (safe, steady, attack)
    assert attack.briefing.band.p90 > steady.briefing.band.p90
    assert attack.briefing.band.p10 < safe.briefing.band.p10
    assert max(attack.briefing.band.forced_break_frac) > max(safe.briefing.band.forced_break_frac)
    assert steady.difference == ""
    assert "pull-up: " in attack.difference or "hang power clean" in attack.difference


def test_what_counts_is_the_day_asked_for():
    losses = np.arange(101.0)
    assert [t.asked(losses) for t in (Temper.SAFE, Temper.STEADY, Temper.ATTACK)] == [80, 50, 25]
    for temper in Temper:
        weights = temper.weights(losses)
        assert weights.mean() == pytest.approx(1)
        assert (weights * losses).mean() == pytest.approx(
            {"safe": 78, "steady": 50, "attack": 27}[temper.value], abs=3
        )
        # It is the days that count, in whatever order they come.
        order = np.random.Generator(np.random.PCG64(1)).permutation(101)
        assert temper.weights(losses[order]) == pytest.approx(weights[order])


def test_the_attack_opens_as_fast_as_it_likes_and_a_planned_failure_is_dear_for_all():
    assert Temper.ATTACK.prices(PRICES)[:, 2] == pytest.approx([0, 0])
    assert (Temper.SAFE.prices(PRICES)[:, 2] > 0).all()
    for temper in Temper:
        assert temper.prices(PRICES)[0, 1] == PRICES[0, 1] > 0


def test_locked_sets_stay_and_the_difference_names_what_moved():
    given = problem("Breakwater", "competing")
    locked = {0: parse_shorthand("4/4/4 r9")}
    steady = plan_workout(given, locked).plan
    (attack,) = compare_tempers(given, steady, (Temper.ATTACK,), locked)
    assert attack.briefing.plan.slots[0] == locked[0]
    other = steady.with_slot(1, parse_shorthand("5/4 r3"))
    assert difference(given, other, steady).startswith("power clean 60 kg: 5/4 r3 for ")
    assert difference(given, steady, steady) == "the same sets and rests"


def test_faster_than_comfortable_is_paid_in_breath_and_local_reserve():
    """Burpees go 15 % faster than comfortable for a while; toes-to-bar keep their rhythm (judgement)."""
    given = problem("for time\n40 burpees\n20 toes-to-bar", "racing")
    usual, fast = (
        run_plan(given, type(plan_workout(given).plan)((parse_shorthand(s), parse_shorthand("10/10 r5"))))
        for s in ("unbroken", "unbroken pace 0.85")
    )
    assert fast.sets[0].end_s < 0.9 * usual.sets[0].end_s
    assert fast.sets[0].engine_after < usual.sets[0].engine_after
    assert min(fast.sets[0].after) < min(usual.sets[0].after)
    kip, burpee = given.course.slots[1].movement.styles[0], given.course.slots[0].movement.styles[0]
    assert (kip.pace_fast, kip.pace_slow) == (0.95, 1.05)
    assert (burpee.pace_fast, burpee.pace_slow) == (0.85, 2.0)


def test_racing_athletes_are_not_held_back_by_a_comfortable_cycle():
    given = problem("for time\n30 burpees", "racing")
    briefing = brief(given, plan_workout(given).plan)
    comfortable = run_plan(given, type(briefing.plan)((parse_shorthand("unbroken"),)))
    assert briefing.timeline.score.value < 0.93 * comfortable.score.value
