"""Numbers learnt together: their correlations are kept, drawn, weakened by time and taken back."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from sorvek.core.athlete.athlete import Athlete
from sorvek.core.athlete.file import athlete_data, athlete_from_data
from sorvek.core.athlete.together import Together
from sorvek.core.club.board import Result
from sorvek.core.live import rehearse
from sorvek.core.plan.shorthand import shorthand
from sorvek.core.planner.planner import plan_workout
from sorvek.core.season import Record, aged, learn, unlearn
from sorvek.core.season.learn import lessons_of
from sorvek.core.simulation.days import Draws, spread_samples
from sorvek.core.simulation.problem import problem_for
from sorvek.core.workout.notation import parse_workout

KEYS = ("critical_power_w", "pull-up", "toes-to-bar", "w_prime_j")
TEXT = "for time, cap 15:00\n4 rounds:\n  12 pull-ups\n  12 toes-to-bar"


def learnt(together, **more):
    """Return an athlete with four learnt numbers; `together` by pairs of keys."""
    athlete = Athlete(
        "A",
        "competing",
        critical_power_w=260.0,
        w_prime_j=20_000.0,
        unbroken={"pull-up": 24.0, "toes-to-bar": 22.0},
        learnt=dict.fromkeys(KEYS, 0.2),
        **more,
    )
    for (one, other), value in together.items():
        athlete = Together(athlete).replaced(one, Together(athlete).of(one) | {other: value})
    return athlete


pairs = st.dictionaries(
    st.tuples(st.sampled_from(KEYS), st.sampled_from(KEYS)).filter(lambda pair: pair[0] < pair[1]),
    st.floats(-1, 1),
)


@given(pairs)
def test_correlations_survive_the_athlete_file_and_are_always_possible_together(together):
    athlete = learnt(together)
    assert athlete_from_data(athlete_data(athlete)) == athlete
    among = Together(athlete).among(KEYS)
    assert among == pytest.approx(among.T)
    assert np.diag(among) == pytest.approx(1.0)
    assert np.linalg.eigvalsh(among)[0] > 0
    assert np.abs(among).max() <= 1 + 1e-9


def test_drawn_athletes_have_numbers_that_go_together_as_kept():
    together = {("pull-up", "toes-to-bar"): -0.8, ("critical_power_w", "pull-up"): 0.6}
    problem = problem_for(parse_workout(TEXT), learnt(together))
    draws, numbers = Draws.at_random(problem, 4000, 3), Draws.numbers(problem)
    mixed = Draws.mixed(problem, draws.normals)
    found = np.corrcoef(mixed[:, [numbers[key].column for key in ("pull-up", "toes-to-bar", "critical_power_w")]].T)
    # Only a part of what moves CP is its number; the rest is the day's own.
    assert found[0, 1] == pytest.approx(-0.8, abs=0.03)
    assert found[0, 2] == pytest.approx(0.6 * numbers["critical_power_w"].share ** 0.5, abs=0.04)
    assert found[1, 2] == pytest.approx(0.0, abs=0.05)
    apart = problem_for(parse_workout(TEXT), learnt({}))
    likely, other = (np.log(Draws.at_random(p, 4000, 3).us[:, [0, 2]]) for p in (problem, apart))
    assert np.corrcoef(likely.T)[0, 1] < np.corrcoef(other.T)[0, 1] - 0.3
    assert not np.array_equal(spread_samples(problem, 12)[0], spread_samples(apart, 12)[0])


def test_time_weakens_what_goes_together_and_a_number_measured_goes_with_none():
    athlete = learnt({("pull-up", "toes-to-bar"): -0.8}, measured_on=dict.fromkeys(KEYS, "2026-01-10"))
    later = [Together(aged(athlete, day)).one("toes-to-bar", "pull-up") for day in ("2026-01-20", "2026-07-01")]
    assert later[0] == -0.8
    assert -0.8 < later[1] < -0.5
    measured = replace(athlete, learnt={key: 0.2 for key in KEYS if key != "toes-to-bar"})
    assert Together(measured).one("toes-to-bar", "pull-up") == 0.0


def score(text: str, athlete: Athlete, true: Athlete):
    """Return the result and record of a hidden athlete who follows the plan for what is believed."""
    believed, real = (problem_for(parse_workout(text), one) for one in (athlete, true))
    plan = plan_workout(believed).plan
    taps = rehearse(believed, plan, 5, real, doubts=0.0)
    return Result("", "", True, taps[-1].at_s), Record(tuple(map(shorthand, plan.slots)), tuple(taps))


def test_an_attempt_leaves_numbers_that_trade_against_each_other_and_undo_takes_that_back_too():
    """An even engine can be a higher CP with a smaller W′: afterwards their doubts go against each other."""
    athlete, text = Athlete("A", "competing"), TEXT.replace("toes-to-bar", "burpees")
    result, record = score(text, athlete, replace(athlete, unbroken={"pull-up": 30.0}))
    found = lessons_of(parse_workout(text), athlete, result, record).lessons
    known, before = learn(athlete, found, "2026-03-10")
    assert Together(known).one("w_prime_j", "critical_power_w") < -0.2
    assert unlearn(known, before) == athlete
    twice, kept = learn(known, [replace(one, together={}) for one in found if one.key == "w_prime_j"], "2026-04-10")
    assert Together(twice).one("w_prime_j", "critical_power_w") == 0.0
    assert unlearn(twice, kept) == known


def test_a_number_learnt_together_with_one_moves_with_it_where_it_is_not_even_in_the_workout():
    text = "for time, cap 9:00\n3 rounds:\n  15 toes-to-bar\n  20 cal row"
    moved = {}
    for name, together in (("tied", {("pull-up", "toes-to-bar"): 0.9}), ("apart", {})):
        believed = learnt(together)
        result, record = score(text, believed, replace(believed, unbroken={"pull-up": 24.0, "toes-to-bar": 13.0}))
        rows = lessons_of(parse_workout(text), believed, result, record).lessons
        moved[name] = {row.key: row.after / row.before.value for row in rows}
    assert "pull-up" not in moved["apart"]
    assert moved["tied"]["toes-to-bar"] < moved["tied"]["pull-up"] < 0.97
