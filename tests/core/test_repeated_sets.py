"""Repeated sets to failure in the simulation beside published ones, all quoted from memory."""

import math

import numpy as np
import pytest

from calibrate import PROTOCOLS, REP_S, residuals, sets_of
from examples import problem
from sorvek.core.advice.briefing import brief
from sorvek.core.constants import DEPTH_COST, FATIGUE_TAU_S, RECOVERY_TAU_S, RESOURCES, REST_SLIP_S
from sorvek.core.plan.plan import Phase, Plan, Scheme, SetRule
from sorvek.core.planner.planner import plan_workout
from sorvek.core.simulation import columns as k
from sorvek.core.simulation.problem import Problem
from sorvek.core.simulation.timeline import run_plan

# One muscle does all the work, the load is nothing the engine feels.
MUSCLES = {"push": "push-up", "squat": "air squat"}


def one_muscle(movement: str, longest: float) -> Problem:
    given = problem(f"for time\n90 {movement}s", critical_power_w=2000.0)
    weights = given.variants[:, k.WEIGHTS :]
    weights[:] = np.where(weights == weights.max(), 1.0, 0.0)
    given.variants[:, [k.STEADY, k.SKILL]] = 0.0
    given.variants[:, k.CYCLE] = REP_S
    given.unbroken[:] = longest
    return given


def sets_to_failure(given: Problem, rest_s: float, count: int, size: int = 0) -> list[int]:
    """Return the reps of every set; the last of them, and without a size all, go on until a rep would fail.

    Sets of a given size are followed by one to failure.
    """
    rest = rest_s - REST_SLIP_S - given.variants[0, k.SETUP]
    done: list[int] = []
    for number in range(count):
        tries = [size] if size and number < count - 1 else range(1, 40)
        for n in tries:
            plan = Plan(((Phase(None, Scheme(SetRule((*done, n), 1), rest)),),))
            record = run_plan(given, plan).sets[number]
            if record.failed_reps:
                break
            last = n
        done.append(last)
    return done


@pytest.mark.parametrize("protocol", PROTOCOLS, ids=lambda p: f"{p.longest:g} rest {p.rest_s:g}")
@pytest.mark.parametrize("movement", MUSCLES.values(), ids=MUSCLES)
def test_repeated_sets_are_as_published(movement, protocol):
    """Willardson & Burkett 2005 and 2006, from memory, within their slacks; half sets nearly free (judgement).

    The account in fractions of reps lies within the slack, and the simulation, whole rep by whole rep, within a
    rep of the account.
    """
    tau_s = RECOVERY_TAU_S[RESOURCES.index(next(m for m, name in MUSCLES.items() if name == movement))]
    account = sets_of(protocol, tau_s, FATIGUE_TAU_S, DEPTH_COST)
    assert max(abs(r) for r in residuals(protocol, account)) <= 1
    size = 0 if protocol.size == math.inf else int(protocol.size)
    done = sets_to_failure(one_muscle(movement, protocol.longest), protocol.rest_s, protocol.sets, size)
    assert done == pytest.approx(account, abs=1)


def test_whoever_has_one_rep_does_singles_half_a_minute_apart():
    """Common practice, no source: singles 20 to 60 s apart; whoever has none does none."""
    text = "for time, cap 10:00\n30 bar muscle-ups"
    plan = Plan(((Phase(None, Scheme(SetRule(then=1), 50.0)),),))
    one, none = (run_plan(problem(text, unbroken={"bar muscle-up": n}), plan) for n in (1, 0))
    assert one.failed_reps <= 2
    assert 9 <= one.score.value <= 13
    assert none.score.value == 0
    own = brief(
        problem(text, unbroken={"bar muscle-up": 1}),
        plan_workout(problem(text, unbroken={"bar muscle-up": 1})).plan,
    )
    (block,) = own.blocks
    assert set(block.sets) == {1}
    assert block.rest_s >= 20
    assert own.band.p10 > 0
