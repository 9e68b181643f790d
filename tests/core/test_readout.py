"""The read-out: totals, round ends and pace, by hand arithmetic."""

import pytest

from examples import BY_TITLE
from sorvek.core.workout.notation import parse_workout
from sorvek.core.workout.readout import read_out


def readout(text: str):
    return read_out(parse_workout(BY_TITLE.get(text, text)))


def test_ten_rounds_in_fifteen_minutes_are_ninety_seconds_a_round():
    """Arithmetic: 15:00 / 10 = 1:30."""
    found = readout("for time, cap 15:00\n10 rounds:\n  5 burpees\n  5 push-ups")
    assert found.total_reps == 100
    assert [end.pace_s for end in found.rounds[:3]] == pytest.approx([90, 180, 270])


def test_an_obligatory_rest_is_taken_out_of_the_pace_and_put_back_on_the_clock():
    found = readout("Two Lamps")
    assert found.total_reps == 4 * 18 + 3 * 11
    assert found.pace_s == pytest.approx((13 - 2) * 60 / 105)
    assert found.rounds[-1].pace_s == pytest.approx(13 * 60)
    assert [end.label for end in found.rounds if end.tiebreak] == ["Part 1, round 4"]


def test_the_first_four_rounds_of_a_ladder_are_about_a_tenth_of_it():
    """coaching: 1-to-10-to-1, the first four rounds are 10 of 100."""
    found = readout("for time, cap 15:00\nladder 1..10..1:\n  burpee")
    assert (found.total_reps, found.rounds[3].reps) == (100, 10)


def test_open_work_is_counted_a_round():
    found = readout("Breakwater")
    assert found.total_reps == 0
    assert [(t.movement.name, t.reps) for t in found.totals][:2] == [("toes-to-bar", 12), ("power clean", 9)]
    assert found.totals[1].sizes == ("60 kg", "42.5 kg")
    assert [end.reps for end in found.rounds[:3]] == [27, 54, 81]


def test_what_is_done_first_stands_beside_one_round_and_need_not_count():
    found = readout("Ferry Fare")
    told = [(t.movement.name, t.reps, t.scored) for t in found.totals]
    assert told == [("run", 600, False), ("power clean", 6, True), ("toes-to-bar", 12, True)]
    assert [(end.label, end.reps) for end in found.rounds[:2]] == [("Round 2", 18), ("Round 3", 36)]


def test_metres_that_count_as_one_rep_together_are_told_beside_their_number():
    found = readout("Ferry Steps")
    assert [(t.reps, t.per_rep) for t in found.totals] == [(400, 40.0), (15, 0.0), (15, 1.5)]
    assert [end.reps for end in found.rounds[:2]] == [35, 70]


def test_what_a_division_does_instead_is_told_beside_what_all_do():
    text = "divisions men/women/scaled\namrap 9:00\n10/10/8 toes-to-bar | scaled: knee raise\n12/9/9 cal row"
    hanging, rowing = readout(text).totals
    assert hanging.instead == ("", "", "8 hanging knee raises")
    assert rowing.instead == ("", "9 cal", "9 cal")
    assert readout("Breakwater").totals[1].instead == ("", "")


def test_a_chipper_is_read_by_movement():
    assert [end.label for end in readout("Long Pier").rounds][:2] == ["row", "wall balls"]


def test_what_it_taxes_is_relative_to_the_most_loaded():
    taxes = dict(readout("for time\n30 strict handstand push-ups").taxes)
    assert taxes["push"] == 1
    assert taxes["grip"] == 0


def test_the_clock_at_a_round_end_goes_by_usual_times_and_not_by_reps():
    """By hand: 40 burpees of 2.3 s and 40 double-unders of 0.52 s fill 10:00 in the ratio 92 to 20.8."""
    found = readout("for time, cap 10:00\n40 burpees\n40 double-unders")
    usual = [slot.usual_s(40) for slot in found.course.slots]
    assert found.rounds[0].pace_s == pytest.approx(600 * usual[0] / sum(usual))
    assert found.rounds[0].pace_s > 1.5 * 300
    assert found.rounds[-1].pace_s == pytest.approx(600)


def test_calories_take_the_time_of_the_machine_at_its_usual_speed():
    """500 m in 2:15 is 142 W by P = 2.80/(s/m)³; that is 790 kcal/h, 4.6 s each (formulas from memory)."""
    row = readout("for time\n50 cal row").course.slots[0]
    assert row.usual_s(1) == pytest.approx(4.56, abs=0.05)


TRAPS = {
    "Staircase": "The first four of 15 rounds are",
    "Two Lamps": "part 1 62 %, part 2 38 %",
    "Rising Tide": "Every round is longer than the last",
    "Fog Signal": "The first windows invite a sprint",
    "Long Pier": "ring muscle-ups come last",
    "Breakwater": "Toes-to-bar and power cleans both take the grip",
}


@pytest.mark.parametrize("title", TRAPS)
def test_the_trap_of_a_workout_is_its_own(title):
    found = readout(title)
    said = " ".join([*found.traps, found.bulk])
    assert TRAPS[title] in said
    others = [words for other, words in TRAPS.items() if other != title]
    assert not any(words in said for words in others)
