"""Again or not: recovery over hours, and second tries that are worth it or not."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from examples import problem, typed
from sorvek.core.athlete import Athlete
from sorvek.core.club import Result
from sorvek.core.constants import RESOURCES
from sorvek.core.lift import USUAL_GYM, Wishes, lift_setup, parse_gym
from sorvek.core.planner import plan_workout
from sorvek.core.season import FirstTry, again_at_bar, again_or_not, hours_until, still_gone, taken
from sorvek.core.simulation import columns as k
from sorvek.core.simulation import run_plan
from sorvek.core.workout import read_workout, shipped_library

GIVEN = problem("for time, cap 12:00\n4 rounds:\n  12 toes-to-bar\n  9 deadlifts @ 100 kg")
PLAN = plan_workout(GIVEN, effort=0.5).plan
PLANNED = run_plan(GIVEN, PLAN)
HOURS = (24.0, 36.0, 48.0, 72.0)
GYM = parse_gym(USUAL_GYM)
TAKEN = taken(GIVEN, float("inf"))
sets_done = st.lists(st.floats(0, 8), min_size=6, max_size=6).map(
    lambda sets: dict(zip(RESOURCES, sets, strict=True))
)


def first(value, finished=True, **more):
    return FirstTry(Result("", "", finished, value), TAKEN, **more)


@given(sets_done, st.floats(0, 96), st.floats(0, 48), st.integers(0, 2))
def test_a_body_comes_back_by_the_hour_and_soreness_says_it_did_not(sets, hours, more, soreness):
    gone, later = still_gone(sets, hours, soreness), still_gone(sets, hours + more, soreness)
    sore = still_gone(sets, hours, soreness + 1)
    assert all(0 <= later[name] <= gone[name] <= sore[name] < 1 for name in gone)


def test_low_back_pulling_and_hands_come_back_slowest():
    """After a day half or less of it is left, after three days next to nothing; common practice, no source."""
    spent = dict.fromkeys(RESOURCES, 5.0)
    at_once, day, three = (still_gone(spent, hours) for hours in (0.0, 24.0, 72.0))
    assert all(0.25 < day[name] / at_once[name] < 0.55 for name in day)
    assert all(three[name] < 0.05 for name in three)
    slow = sorted(day, key=lambda name: day[name])[-3:]
    assert set(slow) == {"hinge", "pull", "grip"}


def test_what_a_workout_takes_goes_by_the_sets_done_and_not_by_the_rests_between():
    """Twice the rounds take twice as much, a rest every round changes nothing, half the reps about half."""
    rested = problem("for time, cap 40:00\n4 rounds:\n  12 toes-to-bar\n  9 deadlifts @ 100 kg\n  rest 3:00")
    assert taken(rested, float("inf")) == TAKEN
    own = GIVEN.unbroken[GIVEN.first_variant[0]]
    pulled = GIVEN.variants[GIVEN.first_variant[0], k.WEIGHTS]
    assert taken(GIVEN, 12.0)["grip"] == pytest.approx(12 / own * pulled)
    half, all_of_it = taken(GIVEN, 42.0), taken(GIVEN, 84.0)
    assert all(half[name] == pytest.approx(all_of_it[name] / 2) for name in RESOURCES)
    assert all_of_it == TAKEN


def test_a_poor_lift_is_worth_another_go_and_a_best_one_is_not():
    workout = read_workout("max clean-and-jerk in 6:00", shipped_library()).workout
    setup = lift_setup(workout, Athlete("A", "competing", one_rep_max_kg={"clean-and-jerk": 100.0}), GYM, Wishes())
    poor = again_at_bar(setup, FirstTry(Result("", "", False, 85.0), {}), HOURS)
    assert poor.again
    assert poor.best.unit == "kg"
    assert poor.best.spread[0] <= poor.best.gain <= poor.best.spread[1]
    assert poor.tries[0].gain <= poor.tries[-1].gain
    best = again_at_bar(setup, FirstTry(Result("", "", False, 104.0), {}), HOURS)
    assert not best.again
    assert best.best.chance < 0.2


def test_a_first_try_by_a_bad_plan_is_repeated_and_a_lucky_one_is_left():
    bad = run_plan(GIVEN, typed("singles r12", "singles r15")).score
    found = again_or_not(GIVEN, PLAN, first(bad.value, bad.finished), HOURS)
    assert found.again
    assert found.best.hours in HOURS
    assert found.best.chance > 0.8
    assert found.reason.startswith("Yes")
    lucky = again_or_not(GIVEN, PLAN, first(0.8 * PLANNED.score.value), HOURS)
    assert not lucky.again
    assert lucky.best.chance < 0.3
    assert lucky.reason.startswith("No")


@settings(max_examples=8, deadline=None)
@given(st.floats(0.85, 1.3), st.integers(0, 2))
def test_keeping_the_better_never_loses_more_rest_and_less_soreness_never_hurt(share, soreness):
    tried = first(share * PLANNED.score.value, soreness=soreness)
    tries = again_or_not(GIVEN, PLAN, tried, HOURS, lambda result: result.value / 10).tries
    assert all(one.gain >= 0 and 0 <= one.chance <= 1 and one.places > -1e-9 for one in tries)
    assert all(0 <= one.spread[0] <= one.spread[1] for one in tries)
    gains = [one.gain for one in tries]
    assert gains == pytest.approx(sorted(gains), abs=1.0)
    sorer = again_or_not(GIVEN, PLAN, first(tried.result.value, soreness=soreness + 1), HOURS[:1]).tries[0]
    assert sorer.gain <= gains[0] + 1.0


def test_torn_hands_and_a_window_that_closes_mean_no():
    bad = 1.6 * PLANNED.score.value
    torn = again_or_not(GIVEN, PLAN, first(bad, torn=True), (24.0, 36.0))
    assert (torn.again, torn.best) == (False, None)
    assert "torn hands" in torn.reason
    assert again_or_not(GIVEN, PLAN, first(bad, torn=True), HOURS).best.hours >= 48.0
    none = again_or_not(GIVEN, PLAN, first(bad), ())
    assert "less than a day" in none.reason


def test_hours_in_question_end_with_the_deadline():
    assert hours_until(23 * 3600.0) == ()
    assert hours_until(49 * 3600.0) == (24.0, 30.0, 36.0, 48.0)


def test_reps_are_gained_in_reps_and_a_finish_wins_what_was_missing():
    capped = first(70.0, finished=False)
    found = again_or_not(GIVEN, PLAN, capped, HOURS).tries[-1]
    assert found.unit == "reps"
    assert 12.0 < found.gain <= 14.0
