"""What prose says of a lift, in many wordings: complexes, attempts, rising bars, totals, before work or after."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from sorvek.core.workout.movements import shipped_library
from sorvek.core.workout.notation import parse_workout
from sorvek.core.workout.prose import read_prose

LIBRARY = shipped_library()
LIFTS = ("snatch", "clean-and-jerk", "deadlift", "front squat", "push jerk", "power clean")


def lift_of(text):
    """Return the lift that is read, with the doubts beside it."""
    reading = read_prose(text, LIBRARY)
    return parse_workout(reading.text, LIBRARY).lift, [doubt.words for doubt in reading.doubts]


lead = st.sampled_from(
    ["Find a max", "Establish your heaviest", "Build to a 1RM", "Lift the heaviest possible", "One rep max"]
)


@given(lead, st.sampled_from(LIFTS), st.integers(3, 15), st.integers(2, 6), st.booleans())
def test_minutes_and_attempts_are_read_in_either_order(lead, name, minutes, tries, first):
    times, attempts = f"in {minutes} minutes", f"You have {tries} attempts."
    text = f"{attempts} {lead} {name} {times}." if first else f"{lead} {name} {times}. {attempts}"
    lift, doubts = lift_of(text)
    assert doubts == []
    assert (lift.movement, lift.window_s, lift.attempts) == (name, 60.0 * minutes, tries)


@given(
    st.lists(st.tuples(st.sampled_from(LIFTS), st.integers(1, 3)), min_size=2, max_size=3),
    st.sampled_from([" + ", "+"]),
    st.integers(4, 12),
)
def test_complexes_keep_their_parts_in_order(parts, plus, minutes):
    said = plus.join(f"{reps} {LIBRARY.movements[name].plural if reps > 1 else name}" for name, reps in parts)
    lift, doubts = lift_of(f"{minutes} minutes to find the heaviest complex of {said}")
    assert doubts == []
    assert lift.parts == tuple(parts)
    assert lift.window_s == 60 * minutes


@given(
    st.sampled_from(LIFTS),
    st.integers(4, 20),
    st.integers(1, 4),
    st.sampled_from(["1 minute", "60 seconds", "1:00"]),
)
def test_a_bar_that_rises_until_missed_is_read_with_both_divisions(name, start, step, every):
    loads, more = (5 * start + 20, 5 * start), (5 * step, 2.5 * step)
    text = (
        f"Every {every} one {name}. Start at {loads[0]}/{loads[1]} kg and add {more[0]:g}/{more[1]:g} kg"
        f" every {every} until you miss."
    )
    lift, doubts = lift_of(text)
    assert doubts == []
    assert (lift.movement, lift.rising.every_s) == (name, 60)
    assert (lift.rising.start.values, lift.rising.step.values) == (loads, more)


@pytest.mark.parametrize("word", ["total", "sum", "combined", "added"])
def test_two_lifts_are_added_up_only_where_that_is_said(word):
    both = "Part A: 6 minutes to find a 1RM snatch\nPart B: 7 minutes to find a 1RM clean and jerk\n"
    lift, doubts = lift_of(f"{both}Score: {word} of the two lifts")
    assert doubts == []
    assert (lift.movement, lift.window_s) == ("snatch", 360)
    assert (lift.second.movement, lift.second.window_s) == ("clean-and-jerk", 420)
    alone, asked = lift_of(f"{both}Score: the better lift")
    assert alone.second is None
    assert any("another lift" in words for words in asked)


WORK = "AMRAP 8:00\n10 burpees\n10 thrusters 43/29 kg\n"


@pytest.mark.parametrize(
    ("text", "first"),
    [
        (f"From 0:00 to 5:00 find a max front squat\n{WORK}", True),
        (f"Part 1: 5 minutes to find a max front squat\nPart 2\n{WORK}", True),
        (f"{WORK}Then 5 minutes to find a max front squat", False),
        (f"{WORK}From 8:00 to 13:00 find a max front squat", False),
    ],
)
def test_where_a_lift_stands_says_whether_it_comes_first(text, first):
    lift, doubts = lift_of(text)
    assert doubts == []
    assert (lift.movement, lift.window_s, lift.first) == ("front squat", 300, first)


def test_attempts_that_are_not_limited_and_unknown_parts_are_not_invented():
    assert lift_of("3 rep max front squat in 10 minutes. As many attempts as you like.")[0].attempts is None
    _, doubts = lift_of("Heaviest complex of 1 clean + 1 gull flap in 6 minutes")
    assert any("not known" in words for words in doubts)
