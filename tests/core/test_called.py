"""Plans a coach would call: the marks of the bench on made-up cases, and what each price buys."""

from functools import cache

import numpy as np
import pytest

from examples import problem, typed
from sorvek.bench import called
from sorvek.bench.cases import Case, cases, workouts
from sorvek.core.advice.briefing import brief
from sorvek.core.advice.margin import thinnest
from sorvek.core.planner import candidates
from sorvek.core.planner.planner import Planned, plan_workout
from sorvek.core.simulation import columns as k
from sorvek.core.simulation.kernel import simulate
from sorvek.core.simulation.timeline import run_plan
from sorvek.core.workout.notation import parse_workout

SEEDS, COUNT = (5, 6), 6
ROUND_BASED = (0, 1, 6)  # among the first forms: an AMRAP, rounds for time, two parts


def made_up() -> list[Case]:
    whole = [cases(seed, COUNT + 1) for seed in SEEDS]
    return [case for found in whole for i in ROUND_BASED for case in found[6 * i : 6 * i + 6]]


@cache
def shares(prices: tuple[float, ...] = ()) -> dict[str, float]:
    """Return by mark in what share of some cases it holds, with prices (margin, failed, evenness) or the usual."""
    found: dict[str, list[bool]] = {}
    for case in made_up():
        for mark in called.marks_of(case, ()):
            found.setdefault(mark.name, []).append(mark.holds)
    return {name: float(np.mean(held)) for name, held in found.items()}


def unpriced_margin(monkeypatch) -> dict[str, float]:
    prices = (0.0, 1.0, 1.0)
    monkeypatch.setattr("sorvek.core.planner.planner.PRICES", candidates.PRICES * prices)
    return shares(prices)


def test_most_plans_of_made_up_rounds_look_like_a_coachs():
    """Common practice, no source. `sorvek bench` has 60 workouts and six athletes; here are six of them."""
    found = shares()
    wanted = ("1 even: round one", "1 even: middle rounds", "2 in reserve", "3 chosen breaks", "5 one scheme")
    assert {name: share for name, share in found.items() if name in wanted and share < 0.85} == {}
    assert found["6 hot start costs"] >= 0.8


def test_without_a_price_on_the_margin_breaks_are_forced(monkeypatch):
    usual, free = shares(), unpriced_margin(monkeypatch)
    assert free["3 chosen breaks"] < usual["3 chosen breaks"] - 0.15


def thin_reps(case: Case) -> float:
    """Return the fewest reps in reserve behind a set of a case's plan, at most five."""
    plan = plan_workout(case.problem).plan
    thin = thinnest(case.problem, plan, run_plan(case.problem, plan))
    return min([reps for reps, _ in thin.values()] + [5.0])


def test_without_a_price_on_the_margin_sets_end_nearer_to_failure(monkeypatch):
    usual = [thin_reps(case) for case in made_up()]
    monkeypatch.setattr("sorvek.core.planner.planner.PRICES", candidates.PRICES * (0.0, 1.0, 1.0))
    assert np.mean([thin_reps(case) for case in made_up()]) < np.mean(usual) - 0.2


def test_without_a_price_on_fails_of_other_days_breaks_are_forced(monkeypatch):
    light = problem("amrap 10:00\n14 dumbbell snatches @ 15/10 kg\n10 pull-ups", "racing")
    usual = max(brief(light, plan_workout(light).plan).band.forced_break_frac)
    monkeypatch.setattr("sorvek.core.planner.planner.PRICES", candidates.PRICES * [[1, 1, 1], [1, 0, 1]])
    assert usual < 0.35 < max(brief(light, plan_workout(light).plan).band.forced_break_frac)


@pytest.mark.parametrize(
    ("tier", "text"),
    [
        ("racing", "for time, cap 16:00\n7 rounds:\n  7 clean-and-jerks @ 80 kg\n  4 strict handstand push-ups"),
        ("competing", "for time\n5 rounds:\n  10 ring dips\n  10 power snatches @ 50 kg"),
    ],
)
def test_without_a_price_on_evenness_round_one_is_hot(monkeypatch, tier, text):
    case = called.Case(text, tier, problem(text, tier))
    even = []
    for price in (1.0, 0.0):
        monkeypatch.setattr("sorvek.core.planner.planner.PRICES", candidates.PRICES * [1.0, 1.0, price])
        even += [mark.holds for mark in called.marks_of(case, ()) if mark.name == "1 even: round one"]
    assert even == [True, False]


def test_cases_come_from_their_seed_and_are_read():
    assert workouts(3) == workouts(3) != workouts(4)
    forms = {parse_workout(text).form for text in workouts(3)}
    assert {form.value for form in forms} == {"for time", "amrap", "windows", "for reps"}
    few = cases(3, 2)
    assert len(few) == 12
    assert len({case.who for case in few}) == 6


@pytest.mark.parametrize(
    ("sets", "mark"),
    [
        (("rounds 1-2 unbroken, then 3x4 r12", "unbroken"), "1 even: round one"),
        (("10/2 r2", "unbroken"), "3 chosen breaks"),
        (("6/6 r6", "unbroken"), "2 in reserve"),
        (("rounds 1-2 4/4/4 r12, then 4/4/4 r13", "unbroken"), "5 one scheme"),
    ],
)
def test_a_plan_no_coach_would_call_loses_its_mark(monkeypatch, sets, mark):
    given = problem("amrap 11:00\n12 toes-to-bar\n10 air squats", unbroken={"toes-to-bar": 16})
    planned = Planned(typed(*sets), loss_s=0.0, simulations=0)
    monkeypatch.setattr(called, "plan_workout", lambda _: planned)
    case = called.Case("", "", given)
    assert [m.holds for m in called.marks_of(case, ()) if m.name == mark] == [False]


def test_gates_are_counted_and_their_chances_told():
    given = problem("Harbour Steps", "racing")
    briefing = brief(given, plan_workout(given).plan)
    gates = given.course.gates()
    assert list(gates) == ["stage 1", "stage 2", "stage 3"]
    assert gates["stage 3"] == given.course.total_reps
    assert called.gates_passed(briefing) == sum(briefing.timeline.score.value >= reps for reps in gates.values())
    chances = list(briefing.band.gates.values())
    assert chances == sorted(chances, reverse=True)
    assert given.course.alike_rounds() == [0] * len(given.course.segments)


def test_rounds_alike_are_counted_within_their_stretch():
    given = problem("for time, cap 20:00\n4 rounds:\n  5 burpees\nrest 1:00\n5 rounds:\n  6 burpees\n  3 pull-ups")
    assert given.course.alike_rounds() == [1, 2, 3, 4, 1, 1, 2, 2, 3, 3, 4, 4, 5, 5]
    assert problem("for time\n3 rounds:\n  5 burpees").course.alike_rounds() == [0, 0, 0]


def test_the_kernel_prices_how_far_round_one_is_ahead():
    """By hand: rounds of 10, 20, 20, 20 and 20 s; 0.92 of the middle ones is 18.4, so 8.4 s too hot."""
    given = problem(
        "for time\n5 rounds:\n  10 air squats", unbroken={"air squat": 100_000}, critical_power_w=2000.0
    )
    given.variants[:, [k.CYCLE, k.SETUP]] = [1.0, 0.0]
    plan = typed("round 1 unbroken, then unbroken wait 7.5")
    chosen = given.choices(plan)
    out, state = np.zeros(k.N_OUT), np.zeros(k.STATE_SIZE)
    empty = np.zeros((0, 2))
    simulate(
        *(given.seg_i, given.seg_f, given.variants, given.unbroken, given.who),
        *(chosen.ints, chosen.floats, chosen.sizes, state, out),
        *(empty, np.zeros((0, k.N_SNAP)), 0, np.zeros(0)),
    )
    assert out[k.TIME] == pytest.approx(10 + 4 * 20)
    assert out[k.HOT_S] == pytest.approx(0.92 * 20 - 10)
