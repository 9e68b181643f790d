"""Choosing attempts: a stochastic dynamic programme over time left, best so far and next load (docs/model.md)."""

import math
from bisect import bisect_right
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from sorvek.core import attempt_kernel as ak
from sorvek.core.constants import ATTEMPT_S
from sorvek.core.errors import LiftError
from sorvek.core.lift import LiftTask, check_task, learnt_losses, loading_s, plates_in
from sorvek.core.lift_terms import Aim, Crew, Typed
from sorvek.core.plates import Load, Stack, loads, nearest
from sorvek.core.problem import Floats
from sorvek.core.quantities import clock, plain
from sorvek.core.stacks import fewest_moved, moved, stacks_for, with_more_ways

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
MOST_REFITS = 4


@dataclass(frozen=True, slots=True)
class Decision:
    """What comes next: a load and when."""

    load_kg: float
    start_s: float


@dataclass(frozen=True, slots=True)
class Attempt:
    """One line of the ladder. `chance` is that of this lift, `reached_frac` that of getting here on this line.

    `loading_s` is what the change of plates before it takes; `stack` the plates on one side, inside out.
    """

    load_kg: float
    stack: Stack
    start_s: float
    rest_s: float
    loading_s: float
    chance: float
    reached_frac: float
    made: bool | None
    typed: bool
    if_made: Decision | None
    if_missed: Decision | None


@dataclass(frozen=True, slots=True)
class AttemptPlan:
    """Attempts along the line on which every lift goes up, and what can come of it.

    `outcomes` are pairs of load (0 for no score) and chance; `places` the expected place, None without a field.
    """

    attempts: tuple[Attempt, ...]
    expected_kg: float
    none_frac: float
    goal_frac: float | None
    outcomes: tuple[tuple[float, float], ...]
    places: float | None
    opening_is_safe: bool


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


class Window:
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


def typed_policy(window: Window, typed: Sequence[Typed]) -> Policy:
    """Return the policy that carries out typed attempts and goes on as well as possible.

    Raises: LiftError for one that cannot be loaded, comes before the bar is ready or ends after the window.
    """
    moves: list[Move] = []
    state = START
    for number, row in enumerate(typed, 1):
        load = _load(window, state, row, number)
        ready = window.ready_at(state, load)
        planned = _rest_as_usual(window, state, load)
        start = planned if row.start_s is None else round(row.start_s / ak.STEP_S)
        if start < ready:
            raise LiftError(
                f"attempt {number} at {clock(start * ak.STEP_S)}: the bar is ready at"
                f" {clock(ready * ak.STEP_S)}; start it then or change fewer plates"
            )
        if start + ak.ATTEMPT_STEPS >= len(window.ready):
            last_s = window.task.window_s - ATTEMPT_S
            raise LiftError(
                f"attempt {number} at {clock(start * ak.STEP_S)} ends after the window;"
                f" start it by {clock(last_s)} or leave it out"
            )
        move = Move(load, start, row.made, True)
        moves.append(move)
        state = window.after(state, move, row.made is not False)

    def policy(at: State) -> Move | None:
        return moves[at.line] if at.line != OFF and at.line < len(moves) else window.best_move(at)

    return policy


def _load(window: Window, state: State, row: Typed, number: int) -> int:
    if row.load_kg is not None:
        return window.index(row.load_kg)
    best = window.best_move(state)
    if best is None:
        raise LiftError(
            f"attempt {number} has no load, and no time or chance is left for one; type a load or clear the row"
        )
    return best.load


def _rest_as_usual(window: Window, state: State, load: int) -> int:
    """Return the start step of a typed load without a time: as the best plan would rest, if it fits."""
    best = window.best_move(state)
    last_start = len(window.ready) - 1 - ak.ATTEMPT_STEPS
    start = best.start if best else state.end + int(60 / ak.STEP_S)
    return max(window.ready_at(state, load), min(start, last_start))


def _line(window: Window, policy: Policy) -> list[tuple[State, Move]]:
    """Return the states and moves along the line on which everything goes as known, or up."""
    found, state = [], START
    while (move := policy(state)) is not None:
        found.append((state, move))
        state = window.after(state, move, move.made is not False)
    return found


def _decision(
    window: Window, policy: Policy, state: State, move: Move, made: bool, stack: Stack
) -> Decision | None:
    """Return what follows a result; off the line the plates now on the bar may need some seconds more."""
    if move.made is not None and move.made != made:
        return None
    then = window.after(state, move, made)
    following = policy(then)
    if following is None:
        return None
    handled = min(moved(stack, way) for way in window.ways(following.load))
    ready_s = then.end * ak.STEP_S + loading_s(handled, window.task.crew)
    start_s = max(following.start * ak.STEP_S, ak.STEP_S * math.ceil(ready_s / ak.STEP_S - 1e-9))
    if start_s + ATTEMPT_S > window.task.window_s:
        start_s = following.start * ak.STEP_S
    return Decision(float(window.kg[following.load]), start_s)


def fitting_policy(window: Window, typed: Sequence[Typed] = ()) -> Policy:
    """Return the best policy around typed attempts whose own line can be loaded in its rests.

    The table counts with the fewest plates between two loads; a ladder cannot always have all of them at once.
    Raises: as `typed_policy`.
    """
    policy = typed_policy(window, typed)
    for _ in range(MOST_REFITS):
        late = _late_changes(window, policy)
        if not late:
            break
        window.slow_down(late)
        policy = typed_policy(window, typed)
    return policy


def _late_changes(window: Window, policy: Policy) -> dict[tuple[int, int], float]:
    """Return the changes of plates on a policy's own line that take longer than their rest, in s."""
    line = _line(window, policy)
    stacks = _stacks(window, line)
    late: dict[tuple[int, int], float] = {}
    for (state, move), before, after in zip(line[1:], stacks, stacks[1:], strict=False):
        needed_s = loading_s(moved(before, after), window.task.crew)
        if not move.typed and needed_s > (move.start - state.end) * ak.STEP_S:
            late[state.last, move.load] = needed_s
    return late


def _stacks(window: Window, line: list[tuple[State, Move]]) -> tuple[Stack, ...]:
    """Return the plates for the line: fewest handled over it all, as far as every change fits its rest."""
    task = window.task
    ladder = [Load(float(window.kg[move.load]), window.ways(move.load)) for _, move in line]
    rests_s = [(move.start - state.end) * ak.STEP_S for state, move in line[1:]]
    return stacks_for(ladder, [plates_in(rest_s, task.crew) for rest_s in rests_s])


def describe(window: Window, policy: Policy) -> AttemptPlan:
    """Return what a policy means: its line of attempts, decisions and outcomes."""
    task, line = window.task, _line(window, policy)
    stacks = _stacks(window, line)
    attempts, reached = [], 1.0
    for i, (state, move) in enumerate(line):
        chance = window.chance(state, move)
        taken_s = loading_s(moved(stacks[i - 1], stacks[i]), task.crew) if i else 0.0
        attempts.append(
            Attempt(
                load_kg=float(window.kg[move.load]),
                stack=stacks[i],
                start_s=move.start * ak.STEP_S,
                rest_s=(move.start - state.end) * ak.STEP_S,
                loading_s=taken_s,
                chance=chance,
                reached_frac=reached,
                made=move.made,
                typed=move.typed,
                if_made=_decision(window, policy, state, move, True, stacks[i]),
                if_missed=_decision(window, policy, state, move, False, stacks[i]),
            )
        )
        reached *= chance if move.made is None else 1.0
    ends = window.outcomes(policy)
    outcomes = tuple((float(window.kg[b - 1]) if b else 0.0, share) for b, share in sorted(ends.items()))
    goal = task.goal_kg
    return AttemptPlan(
        attempts=tuple(attempts),
        expected_kg=sum(kg * share for kg, share in outcomes),
        none_frac=ends.get(0, 0.0),
        goal_frac=None if goal is None else sum(share for kg, share in outcomes if kg >= goal - 1e-6),
        outcomes=outcomes,
        places=_places(task, outcomes),
        opening_is_safe=window.opening[1],
    )


def _places(task: LiftTask, outcomes: Sequence[tuple[float, float]]) -> float | None:
    if not task.field_kg:
        return None
    above = [(len(task.field_kg) - bisect_right(task.field_kg, kg + 1e-6), share) for kg, share in outcomes]
    return 1 + sum(count * share for count, share in above)


def plan_attempts(task: LiftTask, typed: Sequence[Typed] = ()) -> AttemptPlan:
    """Return the best attempts for a task, around those that are typed.

    Raises: OutOfRangeError, LiftError or PlatesError naming what cannot be and what to change.
    """
    window = Window(task, [row.load_kg for row in typed if row.load_kg])
    return describe(window, fitting_policy(window, typed))
