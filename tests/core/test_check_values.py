"""What practitioners see. `common practice, no source` unless a line says arithmetic."""

import pytest

from examples import problem, typed
from sorvek.core.plan.plan import SetRule
from sorvek.core.planner.planner import plan_workout
from sorvek.core.simulation.timeline import run_plan


def time_s(text: str, *sets: str, tier: str = "competing", **fields) -> float:
    return run_plan(problem(text, tier, **fields), typed(*sets)).score.value


def test_arithmetic_of_reps_and_seconds():
    """Arithmetic: 30 reps at 7 s are 3:30, at 5 s 2:30; 8+7+6+5+4 = 30; 150 reps x 1 s = 2:30."""
    text = "for time\n30 burpees"
    engine = {"critical_power_w": 600.0, "w_prime_j": 60_000.0}
    at_7, at_5 = (
        time_s(text, "unbroken", cycle_s={"burpee": float(s)}, unbroken={"burpee": 9000}, **engine) for s in (7, 5)
    )
    assert at_7 == pytest.approx(210, abs=1)
    assert at_5 == pytest.approx(150, abs=1)
    assert sum(SetRule((8, 7, 6, 5, 4)).sets(30)) == 30


def test_thirty_clean_and_jerks():
    """Elite unbroken a little over 1:00 at about 2 s a rep; 8-7-6-5-4 with short rests about 1:40, very strong."""
    text = "for time\n30 clean-and-jerks @ 61 kg"
    assert 60 < time_s(text, "unbroken", tier="racing", cycle_s={"clean-and-jerk": 2.0}) < 75
    assert 90 < time_s(text, "8/7/6/5/4 r3", tier="racing") < 110
    # Quick singles: 3 to 3.5 s a rep at the fastest, about 5 s with one breath (2:30), about 7 s with two (3:30).
    assert 75 < time_s(text, "singles r0", tier="racing") < 105
    assert 140 < time_s(text, "singles 1br", tier="racing") < 165
    assert 205 < time_s(text, "singles 2br", tier="racing") < 230


def test_twelve_bar_facing_burpees_take_half_a_minute():
    assert 27 < time_s("for time\n12 bar-facing burpees", "unbroken") < 33


def test_a_hundred_burpees_take_a_mid_level_athlete_about_seven_minutes():
    timeline = run_plan(problem("for time\n100 burpees", "building"), typed("unbroken pace 1.1"))
    assert 6 * 60 < timeline.score.value < 8 * 60


def test_a_set_of_muscle_ups_takes_two_seconds_a_rep():
    timeline = run_plan(problem("for time\n16 bar muscle-ups", "racing"), typed("4x4 r8"))
    for record in timeline.sets:
        assert 6.5 < record.end_s - record.start_s < 10


def test_the_nine_minute_triplet_is_held_slower_than_its_best_round():
    """60 s fresh and unbroken, 80-90 s sustained by good athletes, the best in the world 7-8 rounds."""
    text = "amrap 9:00\n15 toes-to-bar\n10 deadlifts @ 52 kg\n5 power snatches @ 52 kg"
    best = plan_workout(problem(text, "racing")).plan
    splits = run_plan(problem(text, "racing"), best).splits
    fresh = run_plan(problem(text, "racing"), typed("unbroken", "unbroken", "unbroken")).splits[0]
    assert 50 < fresh.end_s < 66
    assert 7 <= splits[-1].reps / 30 <= 8.2
    good = run_plan(problem(text), plan_workout(problem(text)).plan)
    laps = [split.end_s - split.start_s for split in good.splits[1:-1]]
    assert 75 < sum(laps) / len(laps) < 105


def test_ten_toes_to_bar_take_about_the_same_in_sets_or_at_once():
    """Three sets of 3 or two of 5 can take the time of one set of 10, about 30 s either way, when tired."""
    text = "amrap 9:00\n10 toes-to-bar\n10 deadlifts @ 60 kg"
    laps = []
    for sets in ("unbroken", "5/5 r3"):
        timeline = run_plan(problem(text, "competing", unbroken={"toes-to-bar": 14}), typed(sets, "unbroken"))
        laps.append(timeline.score.value)
    assert laps[0] == pytest.approx(laps[1], rel=0.12)
