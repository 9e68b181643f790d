"""The notation: examples print as they stand, print and parse are inverse, errors say where and what."""

import re

import pytest
from hypothesis import given

from examples import BY_TITLE, NOTATION, TITLES
from sorvek.core.errors import InfeasibleError, NotationError, UnknownMovementError
from sorvek.core.workout.course import unroll
from sorvek.core.workout.movements import shipped_library
from sorvek.core.workout.notation import parse_workout
from sorvek.core.workout.notation_print import workout_text
from sorvek.core.workout.tree import Form
from strategies import workouts


def without_comments(text: str) -> list[str]:
    return [re.sub(r"\s*#.*", "", line) for line in text.strip().splitlines()]


@pytest.mark.parametrize("text", NOTATION, ids=TITLES)
def test_the_canonical_print_of_an_example_is_the_example(text):
    assert without_comments(workout_text(parse_workout(text))) == without_comments(text)


@given(workouts)
def test_parse_print_parse_is_the_identity(workout):
    assert parse_workout(workout_text(workout)) == workout


@pytest.mark.parametrize(
    ("loose", "strict"),
    [
        ("AMRAP 11 min\n12 T2B", "amrap 11:00\n12 toes-to-bar\n"),
        ("for time , cap 90 s\n5  DB snatch @ 22,5 KG", "for time, cap 1:30\n5 dumbbell snatches @ 22.5 kg\n"),
        (
            "For Time\n3 Rounds :\n\t10 Wall-Ball Shots @ 20/14 lbs",
            "for time\n3 rounds:\n  10 wall balls @ 20/14 lb\n",
        ),
        (
            "amrap 5:00\n20 front rack lunges @ 2×20/2X15 kg",
            "amrap 5:00\n20 front-rack lunge steps @ 2x20/2x15 kg\n",
        ),
        ("amrap 5:00\n1 ground to overheads @ 60 kg", "amrap 5:00\n1 ground-to-overhead @ 60 kg\n"),
    ],
)
def test_case_plurals_abbreviations_and_units_do_not_matter(loose, strict):
    assert workout_text(parse_workout(loose)) == strict


@pytest.mark.parametrize(
    ("text", "line", "column", "words"),
    [
        ("Title\namrap 10:00\n12 burpes", 3, 4, ["unknown movement “burpes”", "burpee"]),
        ("amrap\n12 burpees", 1, 6, ["a time such as 11:00"]),
        ("amrap 0:00\n12 burpees", 1, 7, ["0:00"]),
        ("windows\nladder 3,+1:\n  burpee", 1, 8, ["a time such as 11:00"]),
        ("for reps\nstage cap:\n  3 burpees", 2, 10, ["a time such as 11:00"]),
        ("amrap 10:00\n0 burpees", 2, 1, ["0 reps", "1 to 10000"]),
        ("amrap 10:00\n-3 burpees", 2, 1, ["-3 reps"]),
        ("amrap 10:00\n9 power cleans @ kg", 2, 18, ["a number"]),
        ("amrap 10:00\n9 power cleans", 2, 3, ["no load", "60/42.5 kg"]),
        ("amrap 10:00\n9 power cleans @ 0 kg", 2, 18, ["above 0"]),
        ("amrap 10:00\n\n9 power cleans @ 60/50/40 kg", 3, 1, ["3 numbers for 2 divisions"]),
        ("amrap 10:00\n9 burpees @ 20 kg", 2, 13, ["kg does not fit burpee"]),
        ("amrap 10:00\n9 thrusters @ 20 kg to 3 m", 2, 24, ["thruster has no target"]),
        ("amrap 10:00\n9 wall balls @ 9/6 kg to 3/30 m", 2, 26, ["a target at 3 m", "1.5 to 4.5 m"]),
        ("amrap 10:00\n9 wall balls @ 9/6 kg to 3/2.7/2.6 m", 2, 1, ["3 numbers for 2 divisions"]),
        ("amrap 10:00\n9 burpees @ 20 kg extra", 2, 19, ["“extra” is not understood"]),
        ("for time\nburpees", 2, 1, ["burpee has no count"]),
        ("for time\nladder 3,+3:\n  burpee", 1, 1, ["amrap"]),
        ("reps 21-15-9:\n  burpee", 2, 3, ["amrap 11:00"]),
        ("", 1, 1, ["amrap 11:00"]),
        ("amrap 5:00\n3 rounds:\nburpee", 3, 1, ["an indented line"]),
        ("for time\n\n  3 burpees", 3, 1, ["indented", "3 rounds:"]),
        ("for reps\nstage cap 5:00:\n  3 burpees\nstage cap 4:00:\n  3 burpees", 1, 1, ["stage caps do not rise"]),
    ],
)
def test_an_error_names_place_problem_and_remedy(text, line, column, words):
    with pytest.raises(NotationError) as caught:
        parse_workout(text)
    assert (caught.value.place.line, caught.value.place.column) == (line, column)
    assert "\n" not in str(caught.value)
    for word in words:
        assert word in str(caught.value)


@given(workouts)
def test_any_workout_unrolls_to_finite_work_or_says_why_not(workout):
    try:
        course = unroll(workout)
    except InfeasibleError:
        return
    assert 0 < course.total_reps <= 20_000
    assert all(segment.reps > 0 for segment in course.segments)
    assert [s.round for s in course.segments] == sorted(s.round for s in course.segments)


def test_a_ladder_in_an_amrap_advances_one_rung_a_round():
    course = unroll(parse_workout("amrap 8:00\n10 burpees\nladder 4,+2:\n  push-up"))
    assert [(s.reps, s.round) for s in course.segments[:6]] == [(10, 1), (4, 1), (10, 2), (6, 2), (10, 3), (8, 3)]


def test_rounds_over_parts_are_the_parts_written_out_and_nobody_rests_behind_the_last():
    rounds = parse_workout(BY_TITLE["Bell Rounds"])
    part = "part 1:00, once:\n  12/10 cal ski\npart 1:00, once:\n  14 wall balls @ 9/6 kg\n"
    written = parse_workout("for reps\n" + "rest 1:00\n".join([part] * 3))
    assert rounds.cap_s == written.cap_s == 8 * 60
    assert unroll(rounds, "women").segments == unroll(written, "women").segments
    with pytest.raises(NotationError, match="“part …” stands inside another block"):
        parse_workout("for reps\nrepeat:\n  part 1:00:\n    5 burpees")


def test_a_ladder_whose_lines_never_have_a_rep_has_no_work_and_hangs_nothing():
    text = "amrap 8:00\nladder 1,+{}:\n  n-9 burpees"
    assert unroll(parse_workout(text.format(1))).segments[0].reps == 1
    with pytest.raises(InfeasibleError, match="no conditioning work"):
        unroll(parse_workout(text.format(0)))


def test_work_before_repeat_is_done_once():
    course = unroll(parse_workout("amrap 8:00\n50 double-unders\nrepeat:\n  5 burpees\n  5 push-ups"))
    assert [s.reps for s in course.segments[:4]] == [50, 5, 5, 5]


def test_windows_and_stages_carry_their_own_deadlines():
    course = unroll(parse_workout("windows 3:00, until missed\nladder 8,+2:\n  burpee"))
    assert [(s.reps, s.opens_s, s.deadline_s) for s in course.segments[:2]] == [(8, 0, 180), (10, 180, 360)]
    course = unroll(parse_workout("for reps\nstage cap 5:00:\n  9 burpees\nstage cap 8:00:\n  6 push-ups"))
    assert [(s.deadline_s, s.tiebreak) for s in course.segments] == [(300, True), (480, True)]


def test_a_max_lift_stands_alone_as_its_own_form():
    workout = parse_workout("Plumb Line\nMAX clean & jerk in 6 min  # two bars\n")
    assert (workout.form, workout.cap_s, workout.body) == (Form.LIFT, 360, ())
    assert workout.lift.movement == "clean-and-jerk"
    assert workout_text(workout) == "Plumb Line\nmax clean-and-jerk in 6:00  # two bars\n"
    assert parse_workout(workout_text(workout)) == workout


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("max snatch in 5:00\n5 burpees", "has no other work beside it"),
        ("amrap 5:00\n5 burpees\nthen max deadlift in 3:00\n5 burpees", "stands between other work"),
        ("amrap 5:00\n5 burpees\nfirst max deadlift in 3:00", "first max …” on the first"),
        ("amrap 5:00\n5 burpees\nthen max snatch", "line 3, column 10: a max snatch has no window"),
        ("max snatch from 40 cm, +5 kg every 1:00", "a bar rises by its load"),
        ("max snatch in 5:00, 0 attempts", "attempts"),
        ("max burpee in 5:00", "line 1, column 5: burpee has no one-rep maximum"),
        ("amrap 5:00\n5 burpees\nthen max burpee in 5:00", "line 3, column 10: burpee has no"),
        ("max in 5:00\n", "line 1"),
        ("for time\n5 burpees\nthen at 8:00, max snatch in 5:00", "line 3, column 1: .* by when the work is over"),
        ("for time, cap 7:00\n5 burpees\nthen at 6:00, max snatch in 5:00", "before the work is over at 7:00"),
        (
            "for time\n5 burpees\nthen max snatch in 5:00, rest 1:00",
            "line 3, .* nothing comes behind the last lift",
        ),
    ],
)
def test_a_max_lift_that_cannot_be_says_why(text, words):
    with pytest.raises(NotationError, match=words):
        parse_workout(text)


def test_a_title_that_begins_with_max_is_a_title():
    assert parse_workout("Max effort in 3 rounds\namrap 5:00\n5 burpees").title == "Max effort in 3 rounds"


@pytest.mark.parametrize(
    ("written", "meant"),
    [
        ("jumping chest-to-bar", "jumping pull-up"),
        ("banded pull-ups", "jumping pull-up"),
        ("weighted pull-ups", "pull-up"),
        ("pike handstand push-ups", "box handstand push-up"),
        ("single-leg deadlifts", "deadlift"),
        ("box jump burpees", "burpee box jump"),
        ("thrusterz", "thruster"),
        ("tyre flips", ""),
    ],
)
def test_what_is_suggested_for_an_unknown_movement_is_of_its_family(written, meant):
    with pytest.raises(UnknownMovementError) as refused:
        shipped_library().find(written)
    assert refused.value.nearest == meant
    assert (meant or "add it under Movements") in str(refused.value)


def test_a_line_can_have_twice_the_count_of_its_rung_or_some_more_or_less():
    course = unroll(
        parse_workout("for time\nreps 21-15-9:\n  burpee\n  2n double-unders\n  n+5 air squats\n  n-9 pull-ups")
    )
    assert [s.reps for s in course.segments] == [21, 42, 26, 12, 15, 30, 20, 6, 9, 18, 14]
    assert course.total_reps == sum(s.reps for s in course.segments)
    rising = unroll(parse_workout("windows 3:00, until missed\nladder 10,+2:\n  n burpees\n  n-2 pull-ups"))
    assert [s.reps for s in rising.segments[:4]] == [10, 8, 12, 10]
