"""The C twin must do what the kernel does: an independent second writing of every step."""

import shutil

import numpy as np
import pytest

from examples import TITLES, problem
from sorvek.bench import run
from sorvek.bench.club import club_tasks, seconds_for_club
from sorvek.bench.twin import build_twin, run_kernel, run_twin
from sorvek.core.plan.plan import Phase, Plan, Scheme, SetRule
from sorvek.core.simulation.days import draw_samples

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
