"""The bar in a lane: attempts as they were tapped, whatever way they came in, and the next load at once."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from examples import problem
from sorvek.core.lift import USUAL_GYM, LiftTask, Platform, Typed, parse_gym, plan_attempts
from sorvek.core.live import (
    LaneLift,
    LaneState,
    OpenWindow,
    Tap,
    TapKind,
    fold,
    lift_windows,
    on_works_clock,
    work_begins_s,
)
from sorvek.core.plan import Phase, Plan, Scheme, SetRule
from sorvek.core.workout import read_workout, shipped_library

GYM = parse_gym(USUAL_GYM)
TASK = LiftTask(100.0, 360.0, GYM, GYM.bar("", "m"), spread_frac=0.05)
LANE = LaneLift((TASK,))
ALONE = read_workout("max clean-and-jerk in 6:00", shipped_library()).workout


def lift(number, kind, load_kg, at_s):
    return Tap(f"lift-{number:03}", kind, at_s, load_kg=load_kg)


def seen(taps, now_s=0.0, windows=None):
    return LANE.see(taps, windows or lift_windows(ALONE, None, None), now_s)


def test_before_the_first_attempt_the_line_is_that_of_the_planned_lift():
    planned, ahead = plan_attempts(TASK), seen(()).ahead
    assert ahead.attempt.load_kg == planned.attempts[0].load_kg
    assert ahead.attempt.if_made.load_kg == planned.attempts[1].load_kg
    assert ahead.outcomes == planned.outcomes


def test_what_was_lifted_moves_the_next_load_and_what_is_expected():
    opening = seen(()).ahead.attempt
    made = seen([lift(1, TapKind.MADE, opening.load_kg, 10.0)])
    missed = seen([lift(1, TapKind.MISSED, opening.load_kg, 10.0)])
    assert made.ahead.attempt.load_kg == opening.if_made.load_kg
    assert missed.ahead.attempt.load_kg == opening.if_missed.load_kg
    assert made.bests_kg == (opening.load_kg,)
    assert missed.bests_kg == (0.0,)
    assert made.ahead.quantile(0.5) > missed.ahead.quantile(0.5)
    assert made.tries == missed.tries == 1


def test_attempts_count_as_they_were_however_unlike_the_plan():
    """A load no plates make, a bar ready too soon, an attempt after the last start: told, not refused."""
    taps = [
        lift(1, TapKind.MADE, 83.3, 12.0),
        lift(2, TapKind.MADE, 84.1, 30.0),
        lift(3, TapKind.MADE, 90.0, 364.0),
    ]
    state = seen(taps, now_s=364.0)
    assert state.bests_kg == (90.0,)
    assert state.ahead.attempt is None
    assert state.over(364.0)


@given(st.permutations(range(6)), st.lists(st.integers(0, 5), max_size=4))
def test_order_repeats_and_undone_attempts_change_nothing(order, again):
    taps = [lift(i, TapKind.MADE if i % 2 else TapKind.MISSED, 80.0 + i, 40.0 * i + 10) for i in range(5)]
    taps.append(Tap("undo-0001", TapKind.UNDO, 300.0, of="lift-004"))
    shuffled = [taps[i] for i in (*order, *again)]
    assert seen(shuffled) == seen(taps)
    assert [one.load_kg for one in seen(shuffled).done] == [80.0, 81.0, 82.0, 83.0]


def test_two_lifts_have_a_window_each_and_an_attempt_begun_in_time_counts_in_its_own():
    text = "max snatch in 4:00\nthen max clean-and-jerk in 4:00"
    workout = read_workout(text, shipped_library()).workout
    windows = lift_windows(workout, None, None)
    assert [tuple(window) for window in windows] == [(0.0, 240.0), (240.0, 480.0)]
    rested = read_workout(text.replace("then", "then rest 1:00,"), shipped_library()).workout
    assert [tuple(window) for window in lift_windows(rested, None, None)] == [(0.0, 240.0), (300.0, 540.0)]
    later = read_workout(text.replace("then", "then at 6:00,"), shipped_library()).workout
    assert [tuple(window) for window in lift_windows(later, None, None)] == [(0.0, 240.0), (360.0, 600.0)]
    ended = read_workout(
        text.replace("clean-and-jerk in 4:00", "clean-and-jerk until 10:00"), shipped_library()
    ).workout
    assert [tuple(window) for window in lift_windows(ended, None, None)] == [(0.0, 240.0), (240.0, 600.0)]
    assert ended.lift.second.window_s == 360.0
    before = "amrap 8:00\nfirst max snatch in 4:00, rest 2:00\n5 burpees"
    assert work_begins_s(read_workout(before, shipped_library()).workout) == 360.0
    four = replace(TASK, window_s=240.0)
    lane = LaneLift((four, four))
    taps = [
        lift(1, TapKind.MADE, 80.0, 200.0),
        lift(2, TapKind.MADE, 85.0, 245.0),
        lift(3, TapKind.MADE, 90.0, 300.0),
    ]
    state = lane.see(taps, windows, 300.0)
    assert state.number == 2
    assert state.bests_kg == (85.0, 90.0)
    both = lane.simulated((), windows, 3, 1e9)
    ends = [tap.at_s for tap in both]
    assert ends == sorted(set(ends))
    numbers = [one.number for one in lane.see(both, windows, 480.0).done]
    assert numbers == sorted(numbers)
    assert set(numbers) == {1, 2}
    assert not state.over(300.0)


def test_a_lift_after_the_work_opens_when_the_work_is_done_or_its_time_is_up():
    found = problem("for time, cap 8:00\n2 rounds:\n  10 burpees\nthen max clean-and-jerk in 5:00")
    course, workout = found.course, found.course.workout
    plan = Plan(((Phase(None, Scheme(SetRule(), 0.0)),),))
    state = LaneState(plan)
    assert lift_windows(workout, course, state)[0] == (480.0, 780.0)
    done = fold(course, plan, [Tap("round-001", TapKind.ROUND, 60.0), Tap("round-002", TapKind.ROUND, 130.0)])
    assert lift_windows(workout, course, done)[0] == (130.0, 430.0)
    uncapped = problem("for time\n2 rounds:\n  10 burpees\nthen max clean-and-jerk in 5:00")
    assert lift_windows(uncapped.course.workout, uncapped.course, state) == ()


def test_work_after_a_lift_has_a_clock_of_its_own():
    workout = read_workout("amrap 8:00\nfirst max clean-and-jerk in 5:00\n10 burpees", shipped_library()).workout
    assert work_begins_s(workout) == 300.0
    taps = (lift(1, TapKind.MADE, 80.0, 60.0), Tap("set-00001", TapKind.SET, 330.0))
    assert [tap.at_s for tap in on_works_clock(taps, 300.0)] == [60.0, 30.0]


def test_simulated_athletes_make_lifts_as_often_as_is_believed():
    """First attempts over many seeds: the share made is the chance, within three standard errors."""
    opening = [lift(1, TapKind.MADE, 80.0, 10.0), lift(2, TapKind.MISSED, 90.0, 100.0)]
    state = seen(opening)
    next_s = state.ahead.attempt.start_s + 11.0
    kinds = [LANE.simulated(opening, [state.window], seed, next_s)[0].kind for seed in range(600)]
    chance = state.ahead.attempt.chance
    assert 0.1 < chance < 0.9
    assert abs(kinds.count(TapKind.MADE) / 600 - chance) < 3 * (chance * (1 - chance) / 600) ** 0.5


@pytest.mark.parametrize("seed", range(4))
def test_a_whole_simulated_lift_ends_inside_its_window_and_each_load_is_the_one_called(seed):
    windows = lift_windows(ALONE, None, None)
    taps = LANE.simulated((), windows, seed, 1e9)
    state = seen(taps, 360.0)
    assert len(taps) >= 3
    assert [one.load_kg for one in state.done] == [seen(taps[:i]).ahead.attempt.load_kg for i in range(len(taps))]
    by_and_by = LANE.simulated(taps[:2], windows, seed, 1e9)
    assert (*taps[:2], *by_and_by) == taps
    assert all(0 < a.at_s < b.at_s <= 360 for a, b in zip(state.done, state.done[1:], strict=False))


def test_after_a_miss_a_rising_bar_is_over():
    rising = LiftTask(
        100.0, 240.0, GYM, GYM.bar("", "m"), given=tuple(Typed(60.0 + 10 * i, 60.0 * i) for i in range(4))
    )
    platform = Platform(rising)
    made = platform.ahead([Typed(60.0, 0.0, True)])
    assert made.attempt.load_kg == 70.0
    assert platform.ahead([Typed(60.0, 0.0, True), Typed(70.0, 60.0, False)]).attempt is None


def test_a_window_of_another_length_than_planned_is_planned_anew_and_one_without_time_has_no_attempt():
    """Where a lift ends by the clock its window is what the work really left."""
    lane = LaneLift([replace(TASK, window_s=300.0)])
    longer, shorter = (lane.see((), (OpenWindow(0.0, ends_s),), 0.0) for ends_s in (600.0, 60.0))
    assert longer.ahead.quantile(0.5) > shorter.ahead.quantile(0.5) > 0
    nothing = lane.see((), (OpenWindow(595.0, 600.0),), 596.0)
    assert (nothing.ahead.attempt, nothing.ahead.outcomes) == (None, ((0.0, 1.0),))
    made = lane.see((lift(1, TapKind.MADE, 80.0, 599.0),), (OpenWindow(595.0, 600.0),), 600.0)
    assert made.ahead.outcomes == ((80.0, 1.0),)
