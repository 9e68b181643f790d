"""Three ways coaches choose attempts, set beside the optimum (common practice, no source)."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from sorvek.core.lift import kernel as ak
from sorvek.core.lift.attempts import AttemptPlan, describe, plan_attempts, planned
from sorvek.core.lift.hall.plates import loads, nearest
from sorvek.core.lift.solve import LiftWindow, Move, Policy, State
from sorvek.core.lift.task import LiftTask, Typed, rows_of


class LiftSchool(StrEnum):
    """The schools by what they go by."""

    GOAL = "by the goal"
    SAFE = "safe number first"
    FEW = "few and heavy"


# Shares of the goal for the first, of the 1RM for the others; the last try of the first is the dream weight.
LADDERS = {
    LiftSchool.GOAL: (0.60, 0.80, 1.00, 1.05),
    LiftSchool.SAFE: (0.725, 0.825, 0.90, 1.01),
    LiftSchool.FEW: (0.76, 0.92, 1.00),
}


@dataclass(frozen=True, slots=True)
class SchoolRun:
    """A school on one athlete: the ladder it gives, as far as the plates allow."""

    school: LiftSchool
    plan: AttemptPlan


def _ladder(task: LiftTask, school: LiftSchool) -> list[float]:
    base_kg = task.goal_kg if school is LiftSchool.GOAL and task.goal_kg else task.one_rep_max_kg
    found = loads(task.gym, task.bar, 0.0, task.gym.most_kg)
    # Who may try less often leaves out the lightest.
    shares = LADDERS[school][-(task.attempts or len(LADDERS[school])) :]
    return sorted({nearest(found, share * base_kg).mass_kg for share in shares})


def _policy(window: LiftWindow, ladder_kg: Sequence[float]) -> Policy:
    """Return the policy of a ladder: evenly spread over the window, a missed load is tried again."""
    ladder = [window.index(kg) for kg in ladder_kg]
    last_start = window.last_start
    starts = [round(i * last_start / max(1, len(ladder) - 1)) for i in range(len(ladder))]

    def policy(state: State) -> Move | None:
        if state.last == ak.FIRST:
            return Move(ladder[0], 0)
        if state.tries == window.task.attempts:
            return None
        ahead = [state.last] if state.missed else [load for load in ladder if load > state.last]
        if not ahead:
            return None
        ready = window.ready_at(state, ahead[0])
        start = next((s for s in starts if s >= ready), None)
        return None if start is None else Move(ahead[0], start)

    return policy


def compare_attempts(task: LiftTask, typed: Sequence[Typed] = ()) -> tuple[AttemptPlan, tuple[SchoolRun, ...]]:
    """Return the best attempts around the typed ones, and the schools beside them on the same plates.

    Raises: OutOfRangeError, LiftError or PlatesError as `plan_attempts`.
    """
    rows = rows_of(task, typed)
    if task.given:  # the organiser chose
        return plan_attempts(task, typed), ()
    ladders = {school: _ladder(task, school) for school in LiftSchool}
    window = LiftWindow(
        task, [row.load_kg for row in rows if row.load_kg] + [kg for ladder in ladders.values() for kg in ladder]
    )
    runs = tuple(SchoolRun(school, describe(window, _policy(window, ladder))) for school, ladder in ladders.items())
    return planned(window, rows), runs
