"""A simulated athlete in a lane: hidden true numbers, a plan that is followed with noise, and the taps of it.

For rehearsals, the demo and tests. What it does is drawn from the same doubts the forecasts know.
"""

from dataclasses import replace

import numpy as np

from sorvek.core.errors import InfeasibleError
from sorvek.core.live.days import days_at_start, observe
from sorvek.core.live.replan import offer
from sorvek.core.live.taps import LaneState, Tap, TapKind, fold
from sorvek.core.plan import Plan, shorthand
from sorvek.core.simulation import Midway, Problem, after_set, at_start, columns, draw_samples

# How a set's time scatters about what the athlete's numbers give, and how late the tap of it comes. Judgement.
SET_FRAC, LATE_S, LATE_SPREAD_S = 0.03, 0.4, 0.2


class StandIn:
    """An athlete in a lane. `problem` is what is believed of the athlete, `seed` decides what is true.

    `truth` is who really stands there, off by a share `doubts` of what is doubted of the numbers.
    """

    def __init__(self, problem: Problem, seed: int, truth: Problem | None = None, doubts: float = 1.0) -> None:
        self.problem = problem
        self.truth = truth
        self.seed = seed
        hidden = truth or problem
        self.doubts = doubts
        us, whos = draw_samples(hidden, 1, seed, doubts)
        self.midway: Midway = at_start(us, whos)
        self.number, self.broke = 0, False

    def again(self) -> "StandIn":
        """Return the same athlete at the start line."""
        return StandIn(self.problem, self.seed, self.truth, self.doubts)

    def next_tap(self, state: LaneState) -> Tap | None:
        """Return the tap that ends the next set of a lane in a state, None if time is up or all is done.

        The set breaks where the athlete has fewer reps than the plan asks for, and with the buzzer.
        """
        course = self.problem.course
        if state.finished(course):
            return None
        planned, deadline_s = state.next_set(course), course.segments[state.segment].deadline_s
        begun_s = float(self.midway.begins[0, columns.SNAP_T])
        if begun_s >= deadline_s:
            return None
        # Luck belongs to the visit: another plan meets the same.
        luck = np.random.Generator(np.random.PCG64([self.seed, state.segment])).standard_normal(2)
        slower = float(np.exp(SET_FRAC * luck[0]))
        for reps in range(planned, -1, -1):
            if reps == 0:
                return self._buzzer(deadline_s)
            after = after_set(self.problem, state.plan, self.midway, reps, self.broke)
            planned_s = float(after.midway.begins[0, columns.SNAP_T])
            ends_s = begun_s + slower * (planned_s - begun_s)
            if max(planned_s, ends_s) < deadline_s and (reps == 1 or not after.broke[0]):
                break
        after.midway.begins[0, columns.SNAP_T] = ends_s
        self.midway = after.midway
        self.broke = reps < planned
        self.number += 1
        late_s = max(0.05, LATE_S + LATE_SPREAD_S * float(luck[1]))
        kind = TapKind.SET if reps == planned else TapKind.BROKEN
        return Tap(f"stand-in-{self.number}", kind, ends_s + late_s, reps=reps)

    def _buzzer(self, deadline_s: float) -> Tap:
        """Return the tap of a set that the buzzer ended before its first rep."""
        self.midway.begins[0, columns.SNAP_T] = deadline_s
        self.number += 1
        return Tap(f"stand-in-{self.number}", TapKind.BROKEN, deadline_s + 1.5)


def rehearse(
    problem: Problem,
    plan: Plan,
    seed: int,
    truth: Problem | None = None,
    coached: bool = False,
    doubts: float = 1.0,
) -> tuple[Tap, ...]:
    """Return all taps of a heat in which a simulated athlete follows a plan.

    A broken set is followed by the tap that tells its reps. In a `coached` heat the rest is planned again after
    every round, and what is offered is taken. `truth` and `doubts` as in `StandIn`.
    Raises: InfeasibleError for a workout taps cannot follow.
    """
    if problem.course.workout.untold_by_taps:
        raise InfeasibleError(problem.course.workout.untold_by_taps)
    stand_in, taps = StandIn(problem, seed, truth, doubts), list[Tap]()
    state, days = LaneState(plan), days_at_start(problem) if coached else None
    while (tap := stand_in.next_tap(state)) is not None:
        taps.append(replace(tap, reps=0))
        if tap.kind is TapKind.BROKEN:
            taps.append(Tap(f"{tap.id}-reps", TapKind.REPS, tap.at_s + 0.01, of=tap.id, reps=tap.reps))
        before, state = state, fold(problem.course, plan, taps)
        if days is not None and not state.finished(problem.course):
            days = observe(problem, before.plan, days, state.done[len(before.done) :])
            better = offer(problem, state.plan, days) if _round_over(problem, before, state) else None
            if better is not None:
                texts = tuple(shorthand(phases) for phases in better.plan.slots)
                taps.append(Tap(f"{tap.id}-plan", TapKind.PLAN, tap.at_s + 0.02, texts=texts))
                state = fold(problem.course, plan, taps)
    return tuple(taps)


def _round_over(problem: Problem, before: LaneState, state: LaneState) -> bool:
    """Return whether a round ended between two states; in a course of one round, whether a visit did."""
    segments = problem.course.segments
    if segments[0].round == segments[-1].round:
        return state.segment > before.segment
    return segments[before.segment].round != segments[state.segment].round
