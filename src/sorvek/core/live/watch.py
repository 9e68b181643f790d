"""One lane watched while its heat runs: the days that may be, carried on as taps come in or are taken back."""

from sorvek.core.live.days import LiveDays, LiveForecast, days_at_start, live_forecast, observe
from sorvek.core.live.taps import LaneState, SetDone
from sorvek.core.simulation import Problem, after_set, columns

# So many sets can be taken back without following the lane from its start again.
REMEMBERED = 6


class LaneWatch:
    """Follows one lane. All it holds follows from the sets done, so that it may be thrown away at any time."""

    def __init__(self, problem: Problem) -> None:
        self.problem = problem
        self.done: tuple[SetDone, ...] = ()
        self.start = days_at_start(problem)
        self.steps: list[tuple[int, LiveDays]] = [(0, self.start)]

    def see(self, state: LaneState) -> LiveDays:
        """Return the days after the sets of a state; only those that are new are worked out."""
        same = next((i for i, (a, b) in enumerate(zip(self.done, state.done, strict=False)) if a != b), None)
        known = min(len(self.done), len(state.done)) if same is None else same
        while self.steps and self.steps[-1][0] > known:
            self.steps.pop()
        if not self.steps:
            self.steps = [(0, self.start)]
        at, days = self.steps[-1]
        waiting: list[SetDone] = []
        for number, one in enumerate(state.done[at:], at + 1):
            waiting.append(one)
            if one.at_s is None or days.midway.segment >= len(self.problem.course.segments):
                continue
            days = observe(self.problem, state.plan, days, waiting)
            waiting = []
            self.steps.append((number, days))
        self.steps = self.steps[-REMEMBERED:]
        self.done = state.done
        return days

    def set_ends_s(self, state: LaneState) -> float:
        """Return when the set that runs is likely to end, in s on the clock of the work; 0 when all is done."""
        days, reps = self.see(state), state.next_set(self.problem.course)
        if reps == 0 or days.midway.segment >= len(self.problem.course.segments):
            return 0.0
        after = after_set(self.problem, state.plan, days.midway, reps)
        return float(days.weights @ after.midway.begins[:, columns.SNAP_T])

    def forecast(self, state: LaneState) -> LiveForecast | None:
        """Return how the lane may end by the plan in force, None when all is done."""
        days = self.see(state)
        over = days.midway.segment >= len(self.problem.course.segments)
        return None if over else live_forecast(self.problem, state.plan, days)
