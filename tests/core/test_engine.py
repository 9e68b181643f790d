"""The engine and the local reserves against closed forms and a general ODE solver."""

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from examples import problem, typed
from sorvek.core.athlete.athlete import cycle_at_power_s, power_w
from sorvek.core.constants import RECOVERY_TAU_S
from sorvek.core.simulation import columns as k
from sorvek.core.simulation.steps import decay, recover
from sorvek.core.simulation.timeline import run_plan


def recovered(reserve: float, engine: float, rest_s: float, fatigue: float = 0.0):
    """Return the local reserves and W after a rest, for one athlete with CP 250 W and W' 20 kJ."""
    state = np.zeros(k.STATE_SIZE)
    state[k.B : k.B + 6], state[k.F : k.F + 6] = reserve, fatigue
    w = recover(rest_s, state, 6, engine, 20_000.0, 250.0)
    return state[k.B : k.B + 6], w, state[k.F : k.F + 6]


@given(st.floats(0, 1), st.floats(0, 20_000), st.floats(0, 300))
def test_rest_follows_the_closed_forms(reserve, engine, rest_s):
    """W' recovery: differential form of the critical-power balance (Skiba et al. 2015, from memory), solved."""
    b, w, _ = recovered(reserve, engine, rest_s)
    assert w == pytest.approx(20_000 - (20_000 - engine) * math.exp(-250 * rest_s / 20_000))
    slow = 1 + 0.8 * (1 - engine / 20_000)
    for value, tau in zip(b, RECOVERY_TAU_S, strict=True):
        assert value == pytest.approx(1 - (1 - reserve) * math.exp(-rest_s / (tau * slow)))


@given(st.floats(0, 1), st.floats(1, 60), st.floats(1, 60))
def test_the_engine_recovers_the_same_in_one_rest_or_two(engine_frac, first_s, second_s):
    _, once, _ = recovered(1.0, engine_frac * 20_000, first_s + second_s)
    _, half, _ = recovered(1.0, engine_frac * 20_000, first_s)
    _, twice, _ = recovered(1.0, half, second_s)
    assert twice == pytest.approx(once)


@given(st.floats(0, 1), st.floats(0, 4), st.floats(0, 600))
def test_reserves_stay_between_empty_and_full(reserve, fatigue, rest_s):
    b, _, f = recovered(reserve, 10_000.0, rest_s, fatigue)
    assert (b >= 0).all()
    assert (b <= 1).all()
    assert (f <= fatigue + 1e-12).all()


def test_working_empty_wears_critical_power_down_as_a_general_ode_solver_says():
    """Second opinion on wear: the balance of W with a CP that falls 5 % a full-empty minute, by 20 % at most.

    A row far above CP: breath slows the strokes until power meets what is left of CP. Distance is integrated along.
    """
    fields = {
        "critical_power_w": 200.0,
        "w_prime_j": 8_000.0,
        "cycle_s": {"row": 0.19},
        "unbroken": {"row": 20_000},
    }
    given_problem = problem("for time\n4000 m row", **fields)
    coefficient = given_problem.variants[0, k.COEFFICIENT]

    def flow(_t, y, wearing):
        w, wear, _metres = y
        cp = 200.0 * (1 - min(0.20, wear))
        near = max(0.0, 1 - w / (0.35 * 8_000))
        metre_s = 0.19 * (1 + 0.6 * near**2)
        power = coefficient / metre_s**3
        change = -(power - cp) if power > cp else (cp - power) * (1 - w / 8_000)
        return [change, wearing * 0.05 / 60 * max(0.0, 1 - w / (0.25 * 8_000)), 1 / metre_s]

    def done(_t, y, _wearing):
        return y[2] - 4_000

    done.terminal = True
    expected, unworn = (
        solve_ivp(flow, (0, 4_000), [8_000, 0, 0], args=(wearing,), events=done, max_step=1.0).t[-1]
        for wearing in (1.0, 0.0)
    )
    assert expected > 1.02 * unworn  # otherwise this would notice nothing
    assert run_plan(given_problem, typed("unbroken")).score.value == pytest.approx(
        expected, rel=0.01
    )  # steps of whole metres


@pytest.mark.parametrize("cp", [150.0, 200.0, 260.0], ids=["far above", "above", "near"])
def test_the_engine_balance_agrees_with_a_general_ode_solver(cp):
    """Second opinion: scipy's solve_ivp on dW/dt = -(P-CP) above and (CP-P)(1-W/W') below critical power."""
    given_problem = problem(
        "for time\n4 rounds:\n  10 burpees\n  10 air squats", critical_power_w=cp, w_prime_j=30_000.0, mass_kg=80.0
    )
    timeline = run_plan(given_problem, typed("unbroken pace 1.15", "unbroken pace 1.4"))
    work_j = [given_problem.variants[given_problem.first_variant[slot], k.COEFFICIENT] for slot in (0, 1)]
    w, clock_s = 30_000.0, 0.0

    def slope(power):
        return lambda _t, y: [-(power - cp) if power > cp else (cp - power) * (1 - y[0] / 30_000)]

    for record in timeline.sets:
        slot = given_problem.course.segments[record.segment].slot
        power = work_j[slot] * record.reps / (record.end_s - record.start_s)
        for watts, until in ((0.0, record.start_s), (power, record.end_s)):
            w = solve_ivp(slope(watts), (clock_s, until), [w], rtol=1e-9, atol=1e-6).y[0][-1]
            clock_s = until
        assert min(1.0, w / 30_000) == pytest.approx(record.engine_after, abs=2e-3)
    assert timeline.sets[-1].engine_after < 0.97


@pytest.mark.parametrize(
    ("seconds_per_500_m", "watts"),
    [(120.0, 202.5), (105.0, 302.3), (100.0, 350.0), (90.0, 480.1), (150.0, 103.7)],
)
def test_rowing_pace_and_power_match_the_printed_pace_chart(seconds_per_500_m, watts):
    """Rowing-machine pace chart, P = 2.80/(s per m)^3; values from memory, printed to 0.1 W."""
    pace_s = seconds_per_500_m / 500
    assert power_w("metre", 2.80, pace_s) == pytest.approx(watts, abs=0.06)
    assert cycle_at_power_s("metre", 2.80, watts) == pytest.approx(pace_s, rel=1e-3)


def test_a_machine_calorie_costs_what_its_display_says():
    """Calorie display of rowing machines: kcal/h = 300 + 4*0.8604*W (from memory); 200 W is 988 kcal/h."""
    assert 3600 / cycle_at_power_s("cal", 0.0, 200.0) == pytest.approx(988.3, abs=0.1)
    assert power_w("cal", 0.0, cycle_at_power_s("cal", 0.0, 250.0)) == pytest.approx(250.0)


@given(st.floats(0, 60))
def test_the_fast_exponential_is_one(x):
    """The kernel's own approximation against the C library's, to the error its docstring states."""
    assert decay(x) == pytest.approx(math.exp(-x), abs=3e-8)


@pytest.mark.parametrize("reps", [4, 8, 30, 100])
@pytest.mark.parametrize("work", ["air squats", "wall-balls @ 3 kg", "double-unders"])
def test_comfortable_reps_taken_together_are_what_they_are_one_by_one(work, reps):
    """A skill that costs next to nothing when tired makes the kernel look at every rep."""
    together = problem(f"for time, cap 30:00\n{reps} {work}", "racing")
    looked_at = together.variants.copy()
    looked_at[:, k.SKILL] = 1e-12
    plan = typed("unbroken")
    fast, slow = run_plan(together, plan), run_plan(replace(together, variants=looked_at), plan)
    assert fast.end_s == pytest.approx(slow.end_s, rel=2e-3)
    assert fast.trips == pytest.approx(slow.trips, rel=0.02)
    assert fast.tank.local == pytest.approx(slow.tank.local, abs=5e-3)
    assert fast.tank.work_j == pytest.approx(slow.tank.work_j, rel=2e-3)
