"""A lane is a fold over its taps: never lost, never doubled, never out of order, whatever way they come in."""

import itertools
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from examples import problem, typed
from sorvek.core.live import LaneState, Tap, TapKind, fold
from sorvek.core.plan import Phase, Plan, Scheme, SetRule

TEXT = "for time, cap 12:00\n3 rounds:\n  15 toes-to-bar\n  10 power clean @ 60 kg\n"
COURSE = problem(TEXT).course
PLAN = Plan(((Phase(None, Scheme(SetRule((8, 7)), 5.0)),), (Phase(None, Scheme(SetRule(then=5), 5.0)),)))


def tap(number, kind=TapKind.SET, at_s=None, **more):
    return Tap(f"t{number:03}", kind, 10.0 * number if at_s is None else at_s, **more)


def test_sets_follow_the_plan_to_the_end():
    taps = [tap(i) for i in range(1, 13)]
    states = [fold(COURSE, PLAN, taps[:i]) for i in range(13)]
    assert [state.done[-1].reps for state in states[1:]] == [8, 7, 5, 5] * 3
    assert states[-1].finished(COURSE)
    assert states[-1].reps(COURSE) == 75
    assert fold(COURSE, PLAN, [*taps, tap(13)]) == states[-1]
    assert states[-1].next_set(COURSE) == 0


def test_reps_that_do_not_count_move_a_lane_on_and_not_its_score():
    text = "amrap 12:00, score power cleans\n15 toes-to-bar\nrepeat:\n  15 toes-to-bar\n  10 power clean @ 60 kg\n"
    course = problem(text).course
    states = [fold(course, PLAN, [tap(i) for i in range(1, count + 1)]) for count in range(7)]
    assert [state.place(course) for state in states] == [0, 8, 15, 23, 30, 35, 40]
    assert [state.reps(course) for state in states] == [0, 0, 0, 0, 0, 5, 10]


def test_a_broken_set_is_assumed_until_its_reps_are_told_and_the_rest_is_cut_again():
    broken = tap(1, TapKind.BROKEN)
    state = fold(COURSE, PLAN, [broken])
    assert (state.asked.tap, state.begun) == ("t001", 7)
    told = fold(COURSE, PLAN, [broken, tap(2), tap(3, TapKind.REPS, of="t001", reps=5)])
    assert told.asked is None
    assert [one.reps for one in told.done] == [5, 5]
    assert told.sets_left(COURSE) == (5,)
    assert sum(fold(COURSE, PLAN, [broken, tap(3, TapKind.REPS, of="t001", reps=5)]).sets_left(COURSE)) == 10


def test_a_round_is_tapped_as_a_whole_and_only_its_end_has_a_time():
    state = fold(COURSE, PLAN, [tap(1), tap(9, TapKind.ROUND)])
    assert (state.segment, state.begun, state.last_s) == (2, 0, 90.0)
    assert [one.at_s for one in state.done] == [10.0, None, None, 90.0]


def test_an_undo_takes_back_one_tap_and_an_undo_of_it_gives_it_back():
    one, undo, again = tap(1), tap(2, TapKind.UNDO, of="t001"), tap(3, TapKind.UNDO, of="t002")
    assert fold(COURSE, PLAN, [one, undo]) == LaneState(PLAN)
    assert fold(COURSE, PLAN, [one, undo, again]) == fold(COURSE, PLAN, [one])
    circle = [tap(1, TapKind.UNDO, of="t002"), tap(2, TapKind.UNDO, of="t001"), tap(3)]
    assert fold(COURSE, PLAN, circle).reps(COURSE) == 8


def test_a_plan_that_was_taken_holds_from_then_on_and_one_that_does_not_fit_is_left():
    new = tap(2, TapKind.PLAN, texts=("sets of 5", "unbroken"))
    state = fold(COURSE, PLAN, [tap(1), new, tap(3), tap(4), tap(5)])
    assert [one.reps for one in state.done] == [8, 4, 3, 10]
    wrong = replace(new, texts=("9/9", "unbroken"))
    assert fold(COURSE, PLAN, [tap(1), wrong]) == fold(COURSE, PLAN, [tap(1)])


def test_what_is_tapped_after_time_is_up_does_not_count_but_a_late_finger_does():
    late, too_late = tap(1, at_s=721.0), tap(2, at_s=724.0)
    assert fold(COURSE, PLAN, [late, too_late]).reps(COURSE) == 8
    assert fold(COURSE, PLAN, [late]).last_s == 720.0


def test_no_reps_and_failed_reps_are_counted_where_they_happen():
    state = fold(COURSE, PLAN, [tap(1), tap(2, TapKind.NO_REP), tap(3), tap(4, TapKind.FAILED)])
    assert state.no_reps == ((0, 20.0),)
    assert state.failed == ((1, 40.0),)
    assert state.reps(COURSE) == 15


KINDS = st.sampled_from([TapKind.SET, TapKind.BROKEN, TapKind.ROUND, TapKind.NO_REP, TapKind.FAILED, TapKind.UNDO])


@st.composite
def heats(draw):
    """Return the taps of a lane as two devices made them, some telling of others."""
    taps: list[Tap] = []
    for number in range(draw(st.integers(0, 25))):
        kind = draw(KINDS)
        at_s = draw(st.integers(0, 700))
        of = draw(st.sampled_from([one.id for one in taps])) if taps and kind is TapKind.UNDO else ""
        taps.append(Tap(f"{draw(st.sampled_from('ab'))}-{number}", kind, float(at_s), of=of))
        if kind is TapKind.BROKEN and draw(st.booleans()):
            reps = draw(st.integers(0, 20))
            taps.append(Tap(f"c-{number}", TapKind.REPS, at_s + 1.0, of=taps[-1].id, reps=reps))
    return taps


@given(heats(), st.randoms(use_true_random=False))
def test_order_of_arrival_and_repeats_change_nothing(taps, random):
    once = fold(COURSE, PLAN, taps)
    arrived = [*taps, *random.sample(taps, len(taps) // 2)]
    random.shuffle(arrived)
    assert fold(COURSE, PLAN, arrived) == once


@given(heats())
def test_reps_only_come_from_sets_and_never_exceed_the_work(taps):
    state = fold(COURSE, PLAN, taps)
    assert state.reps(COURSE) == sum(one.reps for one in state.done) <= 75
    assert 0 <= state.begun < 15
    times = [one.at_s for one in state.done if one.at_s is not None]
    assert times == sorted(times)
    for a, b in itertools.pairwise(state.done):
        assert a.segment <= b.segment


@given(heats())
def test_undoing_the_last_tap_leaves_the_lane_as_before_it(taps):
    state = fold(COURSE, PLAN, taps)
    if not state.last:
        return
    undone = fold(COURSE, PLAN, [*taps, Tap("undo", TapKind.UNDO, 800.0, of=state.last)])
    assert undone == fold(COURSE, PLAN, [one for one in taps if one.id != state.last])


@pytest.mark.parametrize("title", ["Fog Signal", "Harbour Steps", "Watchkeeper", "Left Bank"])
def test_every_form_is_tapped_through(title):
    course = problem(title).course
    plan = Plan(tuple((Phase(None, Scheme(SetRule(then=5))),) for _ in course.slots))
    taps, number = [], 0
    while not (state := fold(course, plan, taps)).finished(course):
        number += 1
        taps.append(tap(number, at_s=max(course.segments[state.segment].opens_s, state.last_s) + 0.01))
        if number > 400:
            break
    assert state.reps(course) == sum(one.reps for one in state.done) > 0


def test_what_is_tapped_before_the_start_counts_for_nothing():
    early = [tap(1, at_s=-3.0), tap(2, TapKind.NO_REP, at_s=-1.0), tap(3, TapKind.ROUND, at_s=-0.5)]
    assert fold(COURSE, PLAN, [*early, tap(4)]) == fold(COURSE, PLAN, [tap(4)])


def test_a_set_without_an_end_asks_for_its_reps_whatever_is_tapped():
    course = problem("amrap 5:00\n1 burpee").course
    asked = fold(course, typed("unbroken"), [Tap("a", TapKind.SET, 60.0)])
    assert asked.asked is not None
    assert 15 < asked.reps(course) < 30  # as many as fit into a minute
    told = [Tap("a", TapKind.SET, 60.0), Tap("b", TapKind.REPS, 61.0, of="a", reps=17)]
    assert fold(course, typed("unbroken"), told).reps(course) == 17
    assert fold(course, typed("sets of 6 r5"), [Tap("a", TapKind.SET, 30.0)]).reps(course) == 6
    assert fold(course, typed("sets of 6 r5"), [Tap("a", TapKind.ROUND, 30.0)]).reps(course) < 12
