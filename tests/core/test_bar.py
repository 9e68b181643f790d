"""What attempts at the bar say of a 1RM, and what a failed rep says of a longest set."""

import pytest

from sorvek.core.athlete.athlete import Athlete, lift_figure
from sorvek.core.club.board import Result
from sorvek.core.lift import USUAL_GYM, Typed, Wishes, lift_setup, parse_gym
from sorvek.core.lift.levels import spread_of
from sorvek.core.live import Tap, TapKind
from sorvek.core.season import Record
from sorvek.core.season.bar import lessons_of_lift, with_bar
from sorvek.core.season.learn import lessons_of
from sorvek.core.season.numbers import learn, with_number
from sorvek.core.workout.movements import shipped_library
from sorvek.core.workout.notation import parse_workout

LIBRARY = shipped_library()
CLEAN = LIBRARY.find("clean-and-jerk")
LIFT = parse_workout("max clean-and-jerk in 6:00")
GUESS = Athlete("A", "competing")
KG = lift_figure(GUESS, CLEAN, CLEAN.styles[0]).value


def setup_of(athlete, workout=LIFT):
    return lift_setup(workout, athlete, parse_gym(USUAL_GYM), Wishes())


def lessons_at_bar(athlete, *attempts):
    """Return what attempts (kg, made), a minute and a half apart, teach."""
    rows = tuple(Typed(kg, 90.0 * i, made) for i, (kg, made) in enumerate(attempts))
    setup = setup_of(athlete)
    return with_bar(lessons_of_lift(setup, Result("", "", False, KG)), athlete, setup, rows).lessons


def test_makes_raise_a_1rm_and_misses_lower_it_a_guessed_one_more_than_a_measured():
    (up,), (down,) = (lessons_at_bar(GUESS, row) for row in ((1.15 * KG, True), (0.9 * KG, False)))
    assert up.key == "clean-and-jerk"
    assert down.after < KG < up.after
    (known,) = lessons_at_bar(with_number(GUESS, "clean-and-jerk", "kg", KG), (1.15 * KG, True))
    assert KG < known.after < up.after
    assert lessons_at_bar(GUESS) == ()


def test_attempts_that_bracket_a_lift_leave_less_doubt_than_one_that_went_up():
    (up,), (both,) = (
        lessons_at_bar(GUESS, (1.1 * KG, True)),
        lessons_at_bar(GUESS, (1.1 * KG, True), (1.2 * KG, False)),
    )
    assert both.after_doubt_frac < up.after_doubt_frac < up.before_doubt_frac
    assert 1.05 * KG < both.after < 1.25 * KG


def test_the_bar_adds_to_what_was_said_of_the_same_number_before():
    setup, row = setup_of(GUESS), (Typed(1.1 * KG, 0.0, made=True),)
    once = with_bar(lessons_of_lift(setup, Result("", "", False, KG)), GUESS, setup, row)
    known, _ = learn(GUESS, once.lessons, "2026-03-10")
    (twice,) = with_bar(once, known, setup_of(known), row).lessons
    assert (twice.before, twice.before_doubt_frac) == (once.lessons[0].before, once.lessons[0].before_doubt_frac)
    assert twice.after_doubt_frac < once.lessons[0].after_doubt_frac


def test_a_learnt_1rm_is_planned_with_its_own_doubt():
    doubts = [
        spread_of(learnt, "clean-and-jerk", setup_of(learnt).one_rep_max)
        for frac in (0.04, 0.08, 0.2)
        if (learnt := learnt_at(frac))
    ]
    assert doubts[0] == 0.0
    assert doubts[1] == pytest.approx((0.08**2 - 0.05**2) ** 0.5)
    assert doubts[2] == spread_of(GUESS, "clean-and-jerk", setup_of(GUESS).one_rep_max)


def learnt_at(frac):
    return Athlete("A", "competing", one_rep_max_kg={CLEAN.name: KG}, learnt={CLEAN.name: frac})


def test_a_lift_bounded_by_the_lift_that_starts_it_teaches_that_one():
    """Nobody thrusts more than they clean: what goes up says so of the clean."""
    athlete = Athlete("A", "competing", one_rep_max_kg={"thruster": 110.0, "squat clean": 90.0})
    workout = parse_workout("max thruster in 6:00")
    setup = setup_of(athlete, workout)
    assert (setup.movement, setup.one_rep_max.value) == ("squat clean", 90.0)
    lessons = with_bar(
        lessons_of_lift(setup, Result("", "", False, 100.0)), athlete, setup, (Typed(100.0, 0.0, made=True),)
    ).lessons
    assert lessons[0].key == "squat clean"
    assert lessons[0].after > 90.0


def test_a_rep_that_failed_says_that_nothing_was_left():
    """The same taps with a failed rep in the second set: the longest set is believed to be shorter."""
    workout = parse_workout("for time, cap 15:00\n3 rounds:\n  15 toes-to-bar")
    ends_s = (16.0, 42.0, 60.0, 86.0, 104.0, 130.0)
    taps = tuple(Tap(f"s{i}", TapKind.SET, at_s) for i, at_s in enumerate(ends_s))
    after = {}
    for name, more in (("clean", ()), ("failed", (Tap("f", TapKind.FAILED, 40.0),))):
        record = Record(("10/5 r15",), (*taps, *more))
        lessons = lessons_of(workout, GUESS, Result("", "", True, 130.0), record).lessons
        after[name] = {row.key: row.after for row in lessons}.get("toes-to-bar", 0.0)
    assert 0 < after["failed"] < after["clean"]
