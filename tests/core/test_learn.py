"""What a result teaches: against Bayes' rule in closed form, and against athletes whose true numbers are known."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from examples import typed
from sorvek.core.advice.gaps import missing_numbers
from sorvek.core.athlete.athlete import Athlete, Origin, body_figure, entered_figure, typed_over
from sorvek.core.athlete.file import athlete_data, athlete_from_data
from sorvek.core.athlete.roster_csv import read_roster, roster_csv
from sorvek.core.athlete.trial import Trial, with_test
from sorvek.core.club.board import Result
from sorvek.core.errors import InfeasibleError
from sorvek.core.live import rehearse
from sorvek.core.planner.planner import plan_workout
from sorvek.core.season import Record
from sorvek.core.season.learn import lessons_of
from sorvek.core.season.numbers import Lesson, aged, learn, unlearn, with_number
from sorvek.core.season.smoother import smoothed
from sorvek.core.simulation.problem import problem_for
from sorvek.core.simulation.timeline import run_plan
from sorvek.core.workout.movements import shipped_library
from sorvek.core.workout.notation import parse_workout

SETS = parse_workout("for time, cap 15:00\n5 rounds:\n  10 toes-to-bar\n  10 power cleans @ 60 kg")
SETS_ONE = parse_workout("for time, cap 15:00\n5 rounds:\n  10 toes-to-bar")
LIBRARY = shipped_library()
TOES = LIBRARY.find("toes-to-bar")


def result_of(athlete: Athlete, workout=SETS) -> Result:
    """Return what an athlete with these true numbers scores, following the plan for them."""
    given_problem = problem_for(workout, athlete)
    score = run_plan(given_problem, plan_workout(given_problem).plan).score
    return Result(athlete.name, "", score.finished, score.value)


def test_what_fits_what_was_seen_is_bayes_rule_where_everything_is_linear_and_normal(monkeypatch):
    """The posterior in closed form, the inverse of the summed precisions, against the sampler's mean and spread."""
    monkeypatch.setattr("sorvek.core.season.smoother.TAILS", 1e6)
    rng = np.random.Generator(np.random.PCG64(5))
    for _ in range(4):
        hangs = rng.standard_normal((6, 3))
        seen, scatter = rng.standard_normal(6), rng.uniform(0.5, 2.0, 6)
        guesses = rng.standard_normal((4000, 3))
        found = smoothed(guesses, lambda z, hangs=hangs: z @ hangs.T, seen, scatter, 1)
        weighted = hangs / scatter[:, None]
        covariance = np.linalg.inv(np.eye(3) + weighted.T @ weighted)
        assert found.mean(axis=0) == pytest.approx(covariance @ weighted.T @ (seen / scatter), abs=0.06)
        assert np.cov(found.T) == pytest.approx(covariance, abs=0.06)


@settings(max_examples=10, deadline=None)
@given(st.floats(5, 40))
def test_one_wild_observation_moves_little(wild):
    guesses = np.random.Generator(np.random.PCG64(6)).standard_normal((600, 2))
    ten = np.zeros(10)
    calm = smoothed(guesses, lambda z: np.repeat(z[:, :1], 10, axis=1), ten, np.ones(10), 2)
    one_off = ten.copy()
    one_off[3] = wild
    shaken = smoothed(guesses, lambda z: np.repeat(z[:, :1], 10, axis=1), one_off, np.ones(10), 2)
    assert abs(shaken[:, 0].mean() - calm[:, 0].mean()) < 0.3


def test_what_only_rules_out_less_says_at_least_and_not_how_much():
    """Nothing was late, which only less than so much would have been: the upper half of a normal (closed form)."""
    guesses = np.random.Generator(np.random.PCG64(6)).standard_normal((4000, 1))
    found = smoothed(guesses, lambda z: np.maximum(0.0, -z), np.zeros(1), np.array([0.01]), 3)[:, 0]
    assert found.mean() == pytest.approx(np.sqrt(2 / np.pi), abs=0.05)
    assert found.std() == pytest.approx(np.sqrt(1 - 2 / np.pi), abs=0.05)


def test_a_slow_round_moves_the_movement_that_was_in_it():
    """Splits tell which of two movements was slow, where the score is the same."""
    workout = parse_workout("for time, cap 15:00\n3 rounds:\n  10 toes-to-bar\n  8 power cleans @ 70 kg")
    guess = Athlete("Guess", "competing")
    plan = typed("5/5 r5", "unbroken")
    for weak, strong in ((TOES.name, "power clean"), ("power clean", TOES.name)):
        figures = {m.name: entered_figure(guess, m).value for m in (TOES, LIBRARY.find("power clean"))}
        unit = "kg" if weak == "power clean" else "reps"
        real = problem_for(workout, with_number(guess, weak, unit, 0.62 * figures[weak]))
        taps = rehearse(problem_for(workout, guess), plan, 3, real, doubts=0.0)
        record = Record(("5/5 r5", "unbroken"), tuple(taps))
        lessons = lessons_of(workout, guess, Result("", "", True, taps[-1].at_s), record).lessons
        moved = {row.key: row.after / row.before.value for row in lessons}
        assert moved[weak] < min(0.85, moved.get(strong, 1.0))


def test_learnt_numbers_are_doubted_more_as_months_go_by_and_measured_ones_are_not():
    athlete, _ = learn(Athlete("A", "building", unbroken={"pull-up": 9.0}), LEARNT, "2026-03-10")
    days = ("2026-03-10", "2026-06-10", "2026-12-10", "2031-03-10")
    doubts = [aged(athlete, day).learnt[TOES.name] for day in days]
    assert doubts[0] == 0.12
    assert doubts == sorted(doubts)
    assert doubts[-1] == 0.3
    assert aged(athlete, "2026-12-10").unbroken == athlete.unbroken


@pytest.mark.parametrize("truth", [0.75, 1.3])
def test_a_result_moves_the_guess_towards_the_truth(truth):
    guess = Athlete("Guess", "building", unbroken={}, critical_power_w=220.0, one_rep_max_kg={"power clean": 98.0})
    before = entered_figure(guess, TOES).value
    real = replace(guess, unbroken={TOES.name: before * truth})
    lessons = lessons_of(SETS, guess, result_of(real)).lessons
    assert lessons[0].key == TOES.name
    after, _ = learn(guess, lessons, "2026-03-10")
    now = entered_figure(after, TOES).value
    assert abs(now - truth * before) < abs(before - truth * before)
    assert lessons[0].after_doubt_frac < lessons[0].before_doubt_frac
    error = [abs(result_of(a).value - result_of(real).value) for a in (guess, after)]
    assert error[1] < error[0]


@settings(max_examples=5, deadline=None)
@given(st.sampled_from(["starting", "building", "competing", "racing"]))
def test_what_was_expected_teaches_no_new_values(tier):
    athlete = Athlete("Same", tier)
    found = lessons_of(SETS, athlete, result_of(athlete))
    assert abs(found.surprise) < 1
    for lesson in found.lessons:
        # A day as expected rules out more on one side than on the other, but moves nothing beyond half its doubt.
        assert lesson.after == pytest.approx(lesson.before.value, rel=0.5 * lesson.before_doubt_frac, abs=0.2)
        assert lesson.after_doubt_frac <= lesson.before_doubt_frac


def test_a_measured_number_moves_less_than_a_guessed_one():
    guess = Athlete("Guess", "building")
    slow = Result("", "", True, result_of(guess, SETS_ONE).value * 1.35)
    first = min(lessons_of(SETS_ONE, guess, slow).lessons, key=lambda row: row.after / row.before.value)
    assert first.after < first.before.value
    measured = with_number(guess, first.key, first.unit, first.before.value)
    again = {row.key: row for row in lessons_of(SETS_ONE, measured, slow).lessons}
    after = again[first.key].after if first.key in again else first.before.value
    assert first.after < after <= first.before.value


def test_a_lift_alone_has_no_work_to_learn_from():
    with pytest.raises(InfeasibleError):
        lessons_of(parse_workout("max snatch in 6:00"), Athlete("A", "building"), Result("", "", False, 80))


def a_lesson(key: str, unit: str, after: float) -> Lesson:
    figure = body_figure(Athlete("A", "building"), "critical_power_w")
    return Lesson(key, key, unit, figure, 0.3, after, 0.12)


LEARNT = [
    a_lesson(TOES.name, "reps", 17.5),
    a_lesson("deadlift", "kg", 171.0),
    a_lesson("w_prime_j", "J", 17_400.0),
]


def test_what_is_learnt_is_marked_with_day_and_doubt_and_can_be_taken_back():
    athlete = Athlete("A", "building", unbroken={TOES.name: 12.0}, measured_on={TOES.name: "2026-01-01"})
    after, before = learn(athlete, LEARNT, "2026-03-10")
    figures = [entered_figure(after, TOES), entered_figure(after, LIBRARY.find("deadlift"))]
    assert [(f.value, f.origin) for f in figures] == [(17.5, Origin.LEARNT), (171.0, Origin.LEARNT)]
    assert after.doubt_frac(TOES.name, figures[0]) == 0.12
    assert after.measured_on["deadlift"] == "2026-03-10"
    assert athlete_from_data(athlete_data(after)) == after
    assert unlearn(after, before) == athlete


def test_what_was_measured_since_is_not_taken_back():
    athlete = Athlete("A", "building")
    after, before = learn(athlete, LEARNT, "2026-03-10")
    tested = with_test(after, LIBRARY, Trial("set", TOES.name, "15", 0.0, "kg", "2026-03-12"))
    assert entered_figure(tested, TOES).origin is Origin.MEASURED
    back = unlearn(tested, before)
    assert back.unbroken == {TOES.name: 15.0}
    assert back.one_rep_max_kg == {}
    assert back.w_prime_j is None


@pytest.mark.parametrize(("key", "unit"), [(TOES.name, "reps"), ("deadlift", "kg"), ("w_prime_j", "J")])
def test_a_number_typed_over_counts_as_measured(key, unit):
    after, _ = learn(Athlete("A", "building"), LEARNT, "2026-03-10")
    assert typed_over(after, after) == after
    typed = typed_over(after, with_number(after, key, unit, 20_000.0 if unit == "J" else 20.0))
    assert key not in typed.learnt
    assert len(typed.learnt) == 2


def test_a_roster_table_leaves_learnt_numbers_out_and_reading_it_keeps_them():
    after, _ = learn(Athlete("A", "building", unbroken={"pull-up": 9.0}), LEARNT, "2026-03-10")
    table = roster_csv([after])
    assert "17.5" not in table
    assert "17400" not in table
    assert list(read_roster(table, LIBRARY, {"A": after}).athletes) == [after]


def test_a_learnt_number_is_still_asked_for_within_its_own_doubt():
    given_problem = problem_for(SETS_ONE, Athlete("A", "building"))
    plan = plan_workout(given_problem).plan
    wide = {gap.key: gap.swing for gap in missing_numbers(given_problem, plan)}
    learnt = learn(given_problem.athlete, [a_lesson(TOES.name, "reps", 14.0)], "2026-03-10")[0]
    narrow = {gap.key: gap.swing for gap in missing_numbers(problem_for(SETS_ONE, learnt), plan)}
    assert 0 < narrow[TOES.name] < wide[TOES.name]
