"""What is called in a lane: the set, the pause, what comes then, rests and windows, how far off the plan."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from examples import TITLES, problem, typed
from sorvek.core.live import LaneState, SetDone, Tap, TapKind, fold, lane_call, planned_ends
from sorvek.core.plan import Phase, Plan, Scheme, SetRule
from sorvek.core.simulation import run_plan


def lane(title, *schemes):
    found = problem(title)
    plan = typed(*schemes)
    return found, plan, planned_ends(run_plan(found, plan))


def tapped(found, plan, *times):
    taps = [Tap(f"t{i:04}", TapKind.SET, at_s) for i, at_s in enumerate(times)]
    return fold(found.course, plan, taps)


@pytest.mark.parametrize(
    ("scheme", "call"),
    [
        ("8/4 r4", "drop at 8, 2 breaths"),
        ("8/4 r2", "drop at 8, 1 breath"),
        ("8/4 r0", "drop at 8, at once"),
        ("8/4 r25", "drop at 8, rest 25 s"),
        ("singles r2", "singles, 1 breath"),
        ("unbroken", "12, then power cleans"),
    ],
)
def test_the_call_says_where_to_drop_and_how_long_to_rest(scheme, call):
    found, plan, ends = lane("Breakwater", scheme, "unbroken", "unbroken")
    assert lane_call(found, LaneState(plan), ends, 1.0).call == call


def test_a_lane_shows_its_set_what_is_left_and_the_round():
    found, plan, ends = lane("Breakwater", "8/4 r4", "5/4 r3", "unbroken")
    first = lane_call(found, LaneState(plan), ends, 1.0)
    assert (first.movement, first.set_reps, first.left, first.round) == ("toes-to-bar", 8, 12, "Round 1")
    assert first.against_s is None
    third = lane_call(found, tapped(found, plan, 12.0, 24.0), ends, 25.0)
    assert (third.movement, third.set_reps, third.left) == ("power clean 60 kg", 5, 9)


@pytest.mark.parametrize("title", TITLES)
def test_who_goes_by_the_plan_is_neither_early_nor_late(title):
    found = problem(title, "building")
    plan = Plan(tuple((Phase(None, Scheme(SetRule(then=4), 6.0)),) for _ in found.course.slots))
    timeline = run_plan(found, plan)
    ends, state, done = planned_ends(timeline), LaneState(plan), []
    for number, record in enumerate(timeline.sets):
        if record.reps != state.next_set(found.course) or record.end_s >= timeline.end_s:
            break
        done.append(Tap(f"t{number:04}", TapKind.SET, record.end_s))
        state = fold(found.course, plan, done)
        assert lane_call(found, state, ends, record.end_s).against_s == pytest.approx(0.0, abs=1e-6)
    assert done


@given(st.floats(-20, 40))
def test_a_lane_is_as_late_as_its_last_set(late_s):
    found, plan, ends = lane("Breakwater", "8/4 r4", "5/4 r3", "unbroken")
    at_s = max(0.1, ends[1][1] + late_s)
    state = tapped(found, plan, 0.05, at_s)
    assert lane_call(found, state, ends, at_s).against_s == pytest.approx(at_s - ends[1][1])


def test_an_obligatory_rest_counts_down_to_the_next_part():
    found, plan, ends = lane("Two Lamps", *["unbroken"] * 4)
    times = [20.0 * (i + 1) for i in range(8)]
    call = lane_call(found, tapped(found, plan, *times), ends, 170.0)
    assert call.movement == "thruster 55 kg"
    assert call.rests_until_s == pytest.approx(160 + 120)
    assert lane_call(found, tapped(found, plan, *times), ends, 281.0).rests_until_s == 0


def test_a_window_that_is_done_early_waits_for_the_next_one():
    found, plan, ends = lane("Fog Signal", "unbroken", "unbroken")
    course = found.course
    first = sum(segment.opens_s == course.segments[0].opens_s for segment in course.segments)
    state = tapped(found, plan, *[10.0 * (i + 1) for i in range(first)])
    call = lane_call(found, state, ends, 10.0 * first + 1)
    assert call.rests_until_s == course.segments[first].opens_s > 10.0 * first + 1


def test_time_is_called_at_the_cap_and_the_end_when_all_is_done():
    found, plan, ends = lane("Thirty", "unbroken")
    done = lane_call(found, tapped(found, plan, 95.0), ends, 200.0)
    assert done.call == "done in 1:35"
    assert done.movement == ""
    found, plan, ends = lane("Breakwater", "unbroken", "unbroken", "unbroken")
    assert lane_call(found, tapped(found, plan, 20.0), ends, 660.0).call == "time"
    assert lane_call(found, LaneState(plan, done=(SetDone(0, 0, 3.0),)), ends, 4.0).against_s is None
