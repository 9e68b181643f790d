"""A lane that is watched set by set stands where it would if it were followed anew; splits of a watch are taps."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from examples import problem
from sorvek.core.errors import FloorError
from sorvek.core.live import LaneWatch, TapKind, fold, read_feed, rehearse
from sorvek.core.live.days import follow
from sorvek.core.plan import Phase, Plan, Scheme, SetRule

FOUND = problem("amrap 5:00\n10 toes-to-bar\n8 power cleans @ 60 kg\n6 burpees", "building")
PLAN = Plan(tuple((Phase(None, Scheme(SetRule(then=4), 5.0)),) for _ in FOUND.course.slots))
TAPS = rehearse(FOUND, PLAN, 11)


@settings(max_examples=12)
@given(st.lists(st.integers(0, len(TAPS)), min_size=1, max_size=6))
def test_taps_that_come_and_are_taken_back_leave_the_lane_as_if_followed_anew(counts):
    watch = LaneWatch(FOUND)
    for count in counts:
        state = fold(FOUND.course, PLAN, TAPS[:count])
        seen = watch.see(state)
    anew = follow(FOUND, PLAN, state)
    assert np.array_equal(seen.weights, anew.weights)
    assert np.array_equal(seen.midway.begins, anew.midway.begins)
    assert seen.midway.segment == anew.midway.segment == state.segment


def test_a_lane_that_is_done_has_no_forecast():
    found = problem("for time, cap 9:00\n10 burpees\n10 air squats", "racing")
    plan = Plan(tuple((Phase(None, Scheme()),) for _ in found.course.slots))
    taps = rehearse(found, plan, 2)
    watch = LaneWatch(found)
    assert watch.forecast(fold(found.course, plan, taps[:1])) is not None
    assert watch.forecast(fold(found.course, plan, taps)) is None


LINES = st.lists(
    st.tuples(st.sampled_from(["lap", "set", "round", "LAP"]), st.integers(0, 1200)), min_size=1, max_size=20
)


@given(LINES, st.booleans())
def test_a_feed_is_read_line_by_line_and_a_line_is_one_tap_for_ever(lines, header):
    text = ("kind,elapsed\n" if header else "") + "".join(f"{kind}, {at}\n" for kind, at in lines)
    taps = read_feed(text, "watch-1")
    assert taps == read_feed(text + "\n\n", "watch-1")
    assert [tap.at_s for tap in taps] == [at for _, at in lines]
    assert {tap.kind for tap in taps} <= {TapKind.ROUND, TapKind.SET}
    assert len({tap.id for tap in taps}) == len(set(lines))
    assert {tap.id for tap in taps}.isdisjoint(tap.id for tap in read_feed(text, "watch-2"))


def test_minutes_and_seconds_mean_the_same():
    (one,), (other,) = read_feed("lap,1:38", "w"), read_feed("lap,98", "w")
    assert one.at_s == other.at_s == 98


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("swim,10", "line 1: “swim,10” is no split"),
        ("lap,10\nlap", "line 2: “lap” is no split"),
        ("lap,later", "line 1: “later” is no time"),
        ("lap,-1", "no time"),
        ("lap,nan", "no time"),
        ("lap,1e99", "no time"),
        ("lap,1\n" * 600, "line 501: send at most 500"),
    ],
)
def test_a_line_that_is_no_split_is_named(text, words):
    with pytest.raises(FloorError, match=words):
        read_feed(text, "watch-1")
