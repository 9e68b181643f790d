"""A window solved: a stochastic dynamic programme over time left, best so far, next load and the day's form."""

import math
from bisect import bisect_right
from collections.abc import Callable, Mapping, Sequence
from functools import cached_property
from typing import NamedTuple

import numpy as np

from sorvek.core.constants import LOADING_REST_FRAC, WARM_UP_TOP_FRAC
from sorvek.core.errors import LiftError
from sorvek.core.lift import kernel as ak
from sorvek.core.lift.belief import LEVELS, NARROWER, DayForm, form_of, teaching_of
from sorvek.core.lift.hall.crew import Crew, loading_s
from sorvek.core.lift.hall.plates import Load, Stack, loads, nearest
from sorvek.core.lift.hall.stacks import fewest_moved, with_more_ways
from sorvek.core.lift.task import Aim, LiftTask, check_task

# What is looked at lies between these shares of the 1RM; far below them every lift is sure, far above none is.
LOWEST_FRAC, HIGHEST_FRAC = 0.62, 1.12
# More loads than this are thinned out where they are light: the work grows with the second power.
MOST_LOADS = 24
# Among plans as good for the goal or the place the heavier one counts a little more.
KILO_WORTH = 1e-3
# What is typed this near to a load means it: pounds are shown as whole numbers.
SAME_LOAD_KG = 0.25
ON, OFF = 0, -1
# Where only the kilograms count nobody is sent to a bar that goes up less often than this; judgement.
LEAST_CHANCE = 0.05
# A drop after a miss must better what stands by this share of the 1RM; judgement.
WORTH_A_DROP_FRAC = 0.03
# With nothing on the board a drop is one step of the plates, or at most this share of the 1RM; judgement.
LARGEST_DROP_FRAC = 0.1
# Nobody waits longer for less than this share of the value; judgement.
NO_WAIT_FRAC = 2e-4
# Histories rarer than this are not followed to their end.
RAREST = 1e-5


class State(NamedTuple):
    """Between attempts: when the last ended, its load (FIRST for none) and result, the best, and what is believed.

    `best` 0 means nothing yet, b + 1 load b. `line` counts attempts of the line carried out, OFF where something
    happened that it does not foresee. `tries` is how many came before, `worn` what they took from the rest.
    """

    end: int
    last: int
    missed: bool
    best: int
    line: int
    tries: int
    form: DayForm
    worn: float


class Move(NamedTuple):
    """The next attempt: index of its load, step of its start, its result if that is known."""

    load: int
    start: int
    made: bool | None = None
    typed: bool = False


class Choice(NamedTuple):
    """A move that could be made: its chance (0–1) and what is to be had with it, in the units of the aim."""

    move: Move
    chance: float
    value: float


def by_load(choices: Sequence[Choice]) -> list[Choice]:
    """Return the choice worth most for every load, the earliest start among those nearly as good."""
    most: dict[int, float] = {}
    for choice in choices:
        most[choice.move.load] = max(choice.value, most.get(choice.move.load, -np.inf))
    best: dict[int, Choice] = {}
    for choice in choices:
        held, top = best.get(choice.move.load), most[choice.move.load]
        good = choice.value >= top - NO_WAIT_FRAC * abs(top)
        if good and (held is None or choice.move.start < held.move.start):
            best[choice.move.load] = choice
    return list(best.values())


Policy = Callable[[State], Move | None]


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
    """A lift task solved: the value of every state and the moves from it."""

    def __init__(self, task: LiftTask, wanted_kg: Sequence[float] = ()) -> None:
        self.task = check_task(task)
        low = LOWEST_FRAC * task.one_rep_max_kg
        high = HIGHEST_FRAC * task.one_rep_max_kg
        given = [row.load_kg for row in task.given]
        wanted = [kg for kg in (*wanted_kg, *given, task.opening_kg, task.goal_kg) if kg]
        span = min([low, *wanted]) - 5, max([high, *wanted]) + 5
        # Whole tens, so that what was worked out for one athlete serves the next.
        lowest = max(0.0, 10 * (min(span[0], task.gym.most_kg) // 10))
        everything = loads(task.gym, task.bar, lowest, 10 * (span[1] // 10 + 1))
        inside = [load for load in everything if low <= load.mass_kg <= high or load is everything[-1]]
        must = {nearest(everything, kg).mass_kg for kg in wanted}
        some = _thinned([load for load in everything if load in inside or load.mass_kg in must], high, must)
        self.loads = tuple(some)
        self.kg = np.array([load.mass_kg for load in self.loads])
        sides_kg = tuple(round((kg - task.empty_kg) / 2, 4) for kg in self.kg.tolist())
        between = fewest_moved(task.gym, sides_kg)
        self.loading_s = np.array([loading_s(h, task.crew) for h in range(int(between.max()) + 1)])[between]
        self.share = self.kg / task.one_rep_max_kg
        self.ready = task.shares
        self.alone = 1.0 if task.crew is Crew.ALONE else 0.0
        self.least_chance = LEAST_CHANCE if task.aim is Aim.LOAD else 0.0
        self.last_start = task.last_start_step
        self.start = State(0, ak.FIRST, False, 0, ON, 0, form_of(task.form_spread), 0.0)
        self._unit = self.start.form.spread
        self._solved: list[float] = []
        self._teaching = teaching_of(self._unit, task.own_luck)
        self.solve_for_aim()

    def solve_for_aim(self) -> None:
        """Fill the tables for what the task aims at."""
        self.solve_for([self._worth(kg) for kg in self.kg.tolist()])

    def solve_for(self, worth: Sequence[float]) -> None:
        """Fill the tables, unless they are, for what ending with each load is worth (nothing is worth 0)."""
        if list(worth) == self._solved:
            return
        self._solved = list(worth)
        layers = 1 if self.task.attempts is None else self.task.attempts + 1
        n, beliefs = len(self.loads), LEVELS * ak.MIDDLES
        self.utility = np.array([0.0, *worth])
        self.__dict__.pop("openings", None)
        self.made = np.empty((layers, len(self.ready), n, beliefs))
        self.missed = np.empty((layers, len(self.ready), n + 1, beliefs))
        ak.solve(
            self.share,
            self.utility,
            self.ready,
            self._teaching.chance,
            self._teaching.shift,
            self._teaching.level,
            self._unit,
            self.loading_s,
            self.alone,
            self.least_chance,
            self.last_start,
            self.made,
            self.missed,
        )

    def ways(self, load: int) -> tuple[Stack, ...]:
        """Return the stacks that make a load, by its index, those with the fewest plates first."""
        return with_more_ways(self.task.gym, self.task.bar, self.loads[load]).ways

    def slow_down(self, needed_s: Mapping[tuple[int, int], float]) -> None:
        """Let changes of plates (from a load's index to another's) take longer in all moves from now on."""
        for change, seconds in needed_s.items():
            self.loading_s[change] = seconds

    def _worth(self, load_kg: float) -> float:
        task = self.task
        if task.aim is Aim.GOAL and task.goal_kg is not None:
            return float(load_kg >= task.goal_kg - 1e-6) + KILO_WORTH * load_kg / task.one_rep_max_kg
        if task.aim is Aim.PLACES:
            # Equal lifts share a place: who is at or below it does not stand above.
            return bisect_right(task.field_kg, load_kg + 1e-6) + KILO_WORTH * load_kg
        return load_kg

    def nearest(self, load_kg: float) -> int:
        """Return the index of the load nearest to a mass."""
        return int(np.argmin(np.abs(self.kg - load_kg)))

    def index(self, load_kg: float) -> int:
        """Return the index of a load.

        Raises: LiftError naming the nearest loads that the plates allow.
        """
        at = self.nearest(load_kg)
        if abs(self.kg[at] - load_kg) > SAME_LOAD_KG:
            around = loads(self.task.gym, self.task.bar, 0.0, max(load_kg, self.task.gym.most_kg) + 1)
            below = [x.mass_kg for x in around if x.mass_kg < load_kg][-1:]
            above = [x.mass_kg for x in around if x.mass_kg > load_kg][:1]
            called = self.task.gym.called
            near = " and ".join(called(kg) for kg in below + above)
            raise LiftError(f"{called(load_kg)} cannot be loaded with these plates; the nearest are {near}")
        return at

    def demand(self, state: State, move: Move) -> float:
        """Return what a move asks for beyond the best of an ordinary day, as a share of it."""
        share = float(self.share[move.load])
        asked = share / float(self.ready[move.start]) - 1 + state.worn
        if state.last == ak.FIRST:
            return asked + float(ak.stepped(share, WARM_UP_TOP_FRAC))
        last = float(self.share[state.last])
        own_s = (1 - LOADING_REST_FRAC) * self.alone * float(self.loading_s[state.last, move.load])
        rested_s = max(0.0, (move.start - state.end) * ak.STEP_S - own_s)
        left = ak.tired(last, ak.MISSED if state.missed else ak.MADE, rested_s)
        return asked + float(left + ak.stepped(share, last))

    def chance(self, state: State, move: Move) -> float:
        """Return the chance (0–1) of a move from a state, by all that is believed there."""
        return state.form.chance(self.demand(state, move), self.task.own_luck)

    @cached_property
    def openings(self) -> tuple[tuple[Choice, ...], bool]:
        """Return every first attempt there is, and whether they keep the opening rule; none if no time is left."""
        found = np.empty(self.made.shape[1:3])
        table = self._teaching
        ak.first_values(
            self.share,
            self.ready,
            table.chance,
            table.shift,
            table.level,
            self._unit,
            self.start.form.mean,
            self.made.shape[0] - 1,
            self.last_start,
            self.made,
            self.missed,
            found,
        )
        moves = [Move(int(load), int(start)) for start, load in zip(*np.nonzero(found > ak.FORBIDDEN), strict=True)]
        choices = [
            Choice(move, self.chance(self.start, move), float(found[move.start, move.load])) for move in moves
        ]
        safe = tuple(choice for choice in choices if choice.chance >= self.task.least_opening_frac)
        # Where nothing light enough is on the bar: then as light as it goes.
        return safe or tuple(choice for choice in choices if choice.move.load == 0), bool(safe)

    def choices(self, state: State) -> list[Choice]:
        """Return every next attempt that keeps the rules, worth trying or not; the best is `best_move`."""
        if state.last == ak.FIRST:
            return list(self.openings[0])
        layer = self._layer(state)
        if self.task.attempts is not None and layer <= 0:
            return []
        table = self._teaching
        found = np.empty((len(self.loads) * (len(ak.STARTS) + 1), 4))
        spread = max(state.form.spread, 1e-9)
        level = min(max(math.log(spread / self._unit) / math.log(NARROWER), 0.0), LEVELS - 1.0)
        count = ak.next_moves(
            self.kg,
            self.share,
            self.ready,
            table.chance,
            table.shift,
            table.level,
            self._unit,
            self.loading_s,
            self.alone,
            self.least_chance,
            self.last_start,
            self.made,
            self.missed,
            layer,
            state.end,
            state.last,
            state.missed,
            state.best,
            state.form.mean - state.worn,
            level,
            WORTH_A_DROP_FRAC * self.task.one_rep_max_kg,
            LARGEST_DROP_FRAC * self.task.one_rep_max_kg,
            found,
        )
        return [Choice(Move(int(j), int(start)), p, value) for j, start, p, value in found[:count].tolist()]

    def _layer(self, state: State) -> int:
        return 0 if self.task.attempts is None else self.task.attempts - state.tries

    def best_move(self, state: State) -> Move | None:
        """Return the best next attempt, None if there is no time or nothing to win."""
        for choice in sorted(by_load(self.choices(state)), key=lambda choice: -choice.value):
            if choice.value <= self.utility[state.best] + 1e-12:
                return None
            # The table's chance is that of a normal belief; what is really believed decides.
            if state.last == ak.FIRST or self.chance(state, choice.move) >= self.least_chance:
                return choice.move
        return None

    def after(self, state: State, move: Move, made: bool) -> State:
        """Return the state after a move with its result."""
        kept = state.line != OFF and made == (move.made is not False)
        return State(
            end=move.start + ak.ATTEMPT_STEPS,
            last=move.load,
            missed=not made,
            best=max(state.best, move.load + 1) if made else state.best,
            line=state.line + 1 if kept else OFF,
            tries=state.tries + 1,
            form=state.form.after(self.demand(state, move), self.task.own_luck, made),
            worn=state.worn + ak.worn(float(self.share[move.load])),
        )

    def outcomes(self, policy: Policy, start: State | None = None) -> dict[int, float]:
        """Return the chance of every best (0 for none, b + 1 for load b) that a policy ends with.

        Every history is followed with all that it says of the day; those rarer than RAREST end where they are.
        """
        ends: dict[int, float] = {}

        def follow(state: State, weight: float) -> None:
            move = policy(state) if weight >= RAREST else None
            if move is None:
                ends[state.best] = ends.get(state.best, 0.0) + weight
                return
            chance = self.chance(state, move) if move.made is None else float(move.made)
            for made, share in ((True, chance), (False, 1.0 - chance)):
                if share > 0:
                    follow(self.after(state, move, made), weight * share)

        follow(start or self.start, 1.0)
        return ends

    def ready_at(self, state: State, load: int) -> int:
        """Return the first step at which the bar can be loaded for an attempt."""
        if state.last == ak.FIRST:
            return 0
        return state.end + int(-(-self.loading_s[state.last, load] // ak.STEP_S))
