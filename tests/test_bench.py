"""The C twin must do what the kernel does: an independent second writing of every step."""

import shutil
from dataclasses import replace

import numpy as np
import pytest

from examples import TITLES, problem, typed
from sorvek.bench import demo_texts, run
from sorvek.bench.calibration import Days, beside, calibrated, demo_cases, true_athlete
from sorvek.bench.club import club_tasks, seconds_for_club
from sorvek.bench.evening import evening_s
from sorvek.bench.twin import build_twin, run_kernel, run_twin
from sorvek.core.athlete.athlete import Athlete
from sorvek.core.plan.plan import Phase, Plan, Scheme, SetRule
from sorvek.core.simulation.days import draw_samples
from sorvek.core.simulation.forecast import DayScore, forecast
from sorvek.core.simulation.problem import problem_for
from sorvek.core.workout.notation import parse_workout

needs_compiler = pytest.mark.skipif(shutil.which("cc") is None, reason="no C compiler here")
ROUNDING = 1e-6


@pytest.fixture(scope="module")
def twin(tmp_path_factory):
    return build_twin(tmp_path_factory.mktemp("twin"))


@needs_compiler
@pytest.mark.parametrize("rule", [SetRule(), SetRule(then=4), SetRule(then=1)], ids=lambda rule: rule.text())
@pytest.mark.parametrize("title", TITLES)
def test_kernel_and_twin_agree_on_every_form(twin, title, rule):
    given_problem = problem(title, "building")
    plan = Plan(((Phase(None, Scheme(rule, 6.0, 1.05)),),) * len(given_problem.course.slots))
    chosen = given_problem.choices(plan)
    us, whos = draw_samples(given_problem, 40)
    ours, theirs = run_kernel(given_problem, chosen, us, whos), run_twin(twin, given_problem, chosen, us, whos)
    np.testing.assert_allclose(ours, theirs, rtol=ROUNDING, atol=ROUNDING)


def test_a_quick_bench_measures_and_saves(tmp_path):
    table = run(quick=True, out=tmp_path / "bench.json")
    assert "plan for one athlete" in table
    assert '"wanted": "median < 120, worst < 500"' in (tmp_path / "bench.json").read_text(encoding="utf-8")


def test_a_club_is_planned_whole_by_the_applications_own_batch():
    tasks = club_tasks(30)
    assert len({task.athlete_id for task in tasks}) == 30
    assert tasks[0].athlete_text == tasks[24].athlete_text  # the demo club, again and again
    assert seconds_for_club("amrap 2:00\n5 burpees\n5 pull-ups", count=4) > 0


def test_days_beside_a_band_count_ties_by_half():
    """By hand: ten days of 1 to 10 reps; the band 2 to 9, the headline 5."""
    good, middle, bad = (DayScore(False, float(reps)) for reps in (9, 5, 2))
    band = replace(
        forecast(problem("amrap 5:00\n10 burpees"), typed("unbroken")), good=good, middle=middle, bad=bad
    )
    days = beside(band, [DayScore(False, float(reps)) for reps in range(1, 11)])
    assert days == Days(
        beaten=0.55, above=pytest.approx(0.15), inside=pytest.approx(0.7), below=pytest.approx(0.15)
    )
    one = replace(band, good=bad, middle=bad)
    assert beside(one, [bad] * 3 + [good]) == Days(beaten=pytest.approx(0.625), above=0.25, inside=0.75, below=0.0)
    assert beside(band, [DayScore(True, 100.0)]).above == 1.0


def test_a_true_athletes_numbers_are_off_by_their_doubts():
    athlete = Athlete("A", "competing", unbroken={"toes-to-bar": 20}, learnt={})
    given = problem_for(parse_workout("amrap 9:00\n9 toes-to-bar\n6 thrusters @ 40 kg"), athlete)
    rng = np.random.Generator(np.random.PCG64(1))
    true = [true_athlete(athlete, given, rng) for _ in range(400)]
    measured = np.log([a.unbroken["toes-to-bar"] / 20 for a in true])
    assumed = np.log([a.critical_power_w for a in true])
    assert measured.std() == pytest.approx(0.05, rel=0.12)
    assert assumed.std() == pytest.approx(0.30, rel=0.12)
    assert all("thruster" in a.one_rep_max_kg for a in true)


def test_true_days_fall_into_the_bands_about_as_often_as_promised():
    """Wanted are 75-85 % inside over many; of ten pairs with twenty days each some more or fewer."""
    (days,) = calibrated(demo_cases(demo_texts()[:1])[:10]).values()
    assert 0.68 <= np.mean([d.inside for d in days]) <= 0.92
    assert 0.35 <= np.mean([d.beaten for d in days]) <= 0.65


def test_the_evening_goes_through_every_page_of_it():
    assert evening_s() > 0
