"""A window solved: a stochastic dynamic programme over time left, best so far and next load (docs/model.md)."""

from bisect import bisect_right
from collections.abc import Callable, Mapping, Sequence
from functools import cached_property
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from sorvek.core.errors import LiftError
from sorvek.core.lift import kernel as ak
from sorvek.core.lift.plates import Load, Stack, loads, nearest
from sorvek.core.lift.stacks import fewest_moved, with_more_ways
from sorvek.core.lift.task import Aim, Crew, LiftTask, check_task, learnt_losses, loading_s
from sorvek.core.quantities import plain
from sorvek.core.simulation import Floats

# What is looked at lies between these shares of the 1RM; far below them every lift is sure, far above none is.
LOWEST_FRAC, HIGHEST_FRAC = 0.62, 1.12
# More loads than this are thinned out where they are light: the work grows with the third power.
MOST_LOADS = 40
# Among plans as good for the goal or the place the heavier one counts a little more.
KILO_WORTH = 1e-3
# What is typed this near to a load means it: pounds are shown as whole numbers.
SAME_LOAD_KG = 0.25
ON, OFF = 0, -1
# Where only the kilograms count nobody is sent to a bar that goes up less often than this; judgement.
LEAST_CHANCE = 0.05


class State(NamedTuple):
    """Between attempts: when the last ended, its load (FIRST for none), the best (0 none, b + 1 load b), the line.

    `line` counts typed attempts carried out; OFF where something happened that the typed ones do not foresee.
    """

    end: int
    last: int
    best: int
    line: int


class Move(NamedTuple):
    """The next attempt: index of its load, step of its start, its result if that is known."""

    load: int
    start: int
    made: bool | None = None
    typed: bool = False


Policy = Callable[[State], Move | None]
START = State(0, ak.FIRST, 0, ON)


def _thinned(found: Sequence[Load], one_rm_kg: float, kept: set[float]) -> list[Load]:
    """Return at most about MOST_LOADS loads: all heavy ones if possible, of the others those with few plates."""
    chosen = list(found)
    for edge in (0.75, 0.85, 0.95, 2.0):
        for _ in range(2):
            if len(chosen) <= MOST_LOADS:
                return chosen
            light = [load for load in chosen if load.mass_kg < edge * one_rm_kg and load.mass_kg not in kept]
            pairs = zip(light[::2], light[1::2], strict=False)
            dropped = {max(pair, key=lambda load: len(load.ways[0])).mass_kg for pair in pairs}
            chosen = [load for load in chosen if load.mass_kg not in dropped]
    return chosen


class LiftWindow:
    """A lift task solved: the value of every state and the best move from it."""

    def __init__(self, task: LiftTask, wanted_kg: Sequence[float] = ()) -> None:
        self.task = check_task(task)
        low = LOWEST_FRAC * task.one_rep_max_kg
        high = HIGHEST_FRAC * task.one_rep_max_kg
        wanted = [kg for kg in (*wanted_kg, task.opening_kg, task.goal_kg) if kg]
        span = min([low, *wanted]) - 5, max([high, *wanted]) + 5
        # Whole tens, so that what was worked out for one athlete serves the next.
        lowest = max(0.0, 10 * (min(span[0], task.gym.most_kg) // 10))
        everything = loads(task.gym, task.bar, lowest, 10 * (span[1] // 10 + 1))
        inside = [load for load in everything if low <= load.mass_kg <= high or load is everything[-1]]
        must = {nearest(everything, kg).mass_kg for kg in wanted}
        some = _thinned([load for load in everything if load in inside or load.mass_kg in must], high, must)
        self.loads = tuple(some)
        self.kg = np.array([load.mass_kg for load in self.loads])
        n = len(self.loads)
        sides_kg = tuple(round((kg - task.empty_kg) / 2, 4) for kg in self.kg.tolist())
        between = fewest_moved(task.gym, sides_kg)
        self.loading_s = np.array([loading_s(h, task.crew) for h in range(int(between.max()) + 1)])[between]
        self.share = self.kg / task.one_rep_max_kg
        self.ready = task.shares
        self.learnt = learnt_losses(task, self.share)
        self.alone = 1.0 if task.crew is Crew.ALONE else 0.0
        self.least_chance = LEAST_CHANCE if task.aim is Aim.LOAD else 0.0
        shape = (len(self.ready), n, n + 1)
        self.values = np.zeros(shape)
        self._table = (
            self.share,
            np.array([0.0, *(self._worth(kg) for kg in self.kg.tolist())]),
            self.ready,
            self.learnt,
            task.slope,
            self.loading_s,
            self.alone,
            self.least_chance,
            self.values,
        )
        ak.solve(*self._table)

    def ways(self, load: int) -> tuple[Stack, ...]:
        """Return the stacks that make a load, by its index, those with the fewest plates first."""
        return with_more_ways(self.task.gym, self.task.bar, self.loads[load]).ways

    def slow_down(self, needed_s: Mapping[tuple[int, int], float]) -> None:
        """Solve again with changes of plates (from a load's index to another's) that take longer."""
        for change, seconds in needed_s.items():
            self.loading_s[change] = seconds
        self.values[:] = 0.0
        self.__dict__.pop("opening", None)
        ak.solve(*self._table)

    def _worth(self, load_kg: float) -> float:
        task = self.task
        if task.aim is Aim.GOAL and task.goal_kg is not None:
            return float(load_kg >= task.goal_kg - 1e-6) + KILO_WORTH * load_kg / task.one_rep_max_kg
        if task.aim is Aim.PLACES:
            # Equal lifts share a place: who is at or below it does not stand above.
            return bisect_right(task.field_kg, load_kg + 1e-6) + KILO_WORTH * load_kg
        return load_kg

    def index(self, load_kg: float) -> int:
        """Return the index of a load.

        Raises: LiftError naming the nearest loads that the plates allow.
        """
        at = int(np.argmin(np.abs(self.kg - load_kg)))
        if abs(self.kg[at] - load_kg) > SAME_LOAD_KG:
            around = loads(self.task.gym, self.task.bar, 0.0, max(load_kg, self.task.gym.most_kg) + 1)
            below = [x.mass_kg for x in around if x.mass_kg < load_kg][-1:]
            above = [x.mass_kg for x in around if x.mass_kg > load_kg][:1]
            near = " and ".join(f"{plain(kg)} kg" for kg in below + above)
            raise LiftError(f"{plain(load_kg)} kg cannot be loaded with these plates; the nearest are {near}")
        return at

    def chance(self, state: State, move: Move) -> float:
        """Return the chance (0–1) of a move from a state."""
        first = state.last == ak.FIRST
        missed = ak.MISSED if state.best != state.last + 1 else ak.MADE
        own_loading_s = 0.0 if first else self.alone * float(self.loading_s[state.last, move.load])
        rest_s = (move.start - state.end) * ak.STEP_S
        return float(
            ak.chance_of(
                self.share,
                self.ready[move.start],
                self.learnt,
                self.task.slope,
                state.last,
                missed,
                move.load,
                rest_s,
                own_loading_s,
            )
        )

    @cached_property
    def opening(self) -> tuple[Move | None, bool]:
        """Return the best first attempt, and whether it keeps the opening rule; None if no time is left."""
        task = self.task
        allowed = np.ones(len(self.loads), dtype=np.bool_)
        least_frac = task.least_opening_frac
        if task.opening_kg is not None:
            allowed[:] = False
            allowed[self.index(task.opening_kg)] = True
            least_frac = 0.0
        found = np.empty(self.values.shape[:2])
        self._first_values(allowed, least_frac, found)
        safe = found.max() > ak.FORBIDDEN
        if not safe:  # nothing light enough is on the bar: then as light as it goes
            allowed[1:] = False
            self._first_values(allowed, 0.0, found)
        if found.max() <= ak.FORBIDDEN:
            return None, False
        start, load = np.unravel_index(int(found.argmax()), found.shape)
        return Move(int(load), int(start)), bool(safe)

    def _first_values(self, allowed: NDArray[np.bool_], least_frac: float, found: Floats) -> None:
        ak.first_values(
            self.share, self.ready, self.learnt, self.task.slope, self.values, allowed, least_frac, found
        )

    def best_move(self, state: State) -> Move | None:
        """Return the best next attempt, None if there is no time or nothing to win."""
        if state.last == ak.FIRST:
            return self.opening[0]
        # A lift below the best changes nothing; the state next to it in the table is that of the best.
        last = max(state.last, state.best - 1)
        load, start = ak.best_move(*self._table, state.end, last, state.best)
        return None if load == ak.NO_MOVE else Move(load, start)

    def after(self, state: State, move: Move, made: bool) -> State:
        """Return the state after a move with its result."""
        line = state.line + 1 if state.line != OFF and move.typed and made == (move.made is not False) else OFF
        end = move.start + ak.ATTEMPT_STEPS
        return State(end, move.load, max(state.best, move.load + 1) if made else state.best, line)

    def outcomes(self, policy: Policy, start: State = START) -> dict[int, float]:
        """Return the chance of every best (0 for none, b + 1 for load b) that a policy ends with."""
        ends: dict[int, float] = {}
        # Earlier states first: all ways into a state are then counted before it is left.
        ahead: dict[int, dict[State, float]] = {start.end: {start: 1.0}}
        for end in range(start.end, len(self.ready)):
            for state, weight in ahead.pop(end, {}).items():
                move = policy(state)
                if move is None:
                    ends[state.best] = ends.get(state.best, 0.0) + weight
                    continue
                chance = self.chance(state, move) if move.made is None else float(move.made)
                for made, share in ((True, chance), (False, 1.0 - chance)):
                    if share > 0:
                        then = self.after(state, move, made)
                        states = ahead.setdefault(then.end, {})
                        states[then] = states.get(then, 0.0) + weight * share
        return ends

    def ready_at(self, state: State, load: int) -> int:
        """Return the first step at which the bar can be loaded for an attempt."""
        if state.last == ak.FIRST:
            return 0
        return state.end + int(-(-self.loading_s[state.last, load] // ak.STEP_S))
