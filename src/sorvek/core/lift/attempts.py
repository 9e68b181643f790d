"""Choosing attempts: a stochastic dynamic programme over time left, best so far and next load (docs/model.md)."""

import math
from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass

from sorvek.core.constants import ATTEMPT_S
from sorvek.core.errors import LiftError
from sorvek.core.lift import kernel as ak
from sorvek.core.lift.plates import Load, Stack
from sorvek.core.lift.solve import OFF, START, LiftWindow, Move, Policy, State
from sorvek.core.lift.stacks import moved, stacks_for
from sorvek.core.lift.task import LiftTask, Typed, loading_s, plates_in
from sorvek.core.quantities import clock

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


def typed_policy(window: LiftWindow, typed: Sequence[Typed]) -> Policy:
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


def _load(window: LiftWindow, state: State, row: Typed, number: int) -> int:
    if row.load_kg is not None:
        return window.index(row.load_kg)
    best = window.best_move(state)
    if best is None:
        raise LiftError(
            f"attempt {number} has no load, and no time or chance is left for one; type a load or clear the row"
        )
    return best.load


def _rest_as_usual(window: LiftWindow, state: State, load: int) -> int:
    """Return the start step of a typed load without a time: as the best plan would rest, if it fits."""
    best = window.best_move(state)
    last_start = len(window.ready) - 1 - ak.ATTEMPT_STEPS
    start = best.start if best else state.end + int(60 / ak.STEP_S)
    return max(window.ready_at(state, load), min(start, last_start))


def _line(window: LiftWindow, policy: Policy) -> list[tuple[State, Move]]:
    """Return the states and moves along the line on which everything goes as known, or up."""
    found, state = [], START
    while (move := policy(state)) is not None:
        found.append((state, move))
        state = window.after(state, move, move.made is not False)
    return found


def _decision(
    window: LiftWindow, policy: Policy, state: State, move: Move, made: bool, stack: Stack
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


def fitting_policy(window: LiftWindow, typed: Sequence[Typed] = ()) -> Policy:
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


def _late_changes(window: LiftWindow, policy: Policy) -> dict[tuple[int, int], float]:
    """Return the changes of plates on a policy's own line that take longer than their rest, in s."""
    line = _line(window, policy)
    stacks = _stacks(window, line)
    late: dict[tuple[int, int], float] = {}
    for (state, move), before, after in zip(line[1:], stacks, stacks[1:], strict=False):
        needed_s = loading_s(moved(before, after), window.task.crew)
        if not move.typed and needed_s > (move.start - state.end) * ak.STEP_S:
            late[state.last, move.load] = needed_s
    return late


def _stacks(window: LiftWindow, line: list[tuple[State, Move]]) -> tuple[Stack, ...]:
    """Return the plates for the line: fewest handled over it all, as far as every change fits its rest."""
    task = window.task
    ladder = [Load(float(window.kg[move.load]), window.ways(move.load)) for _, move in line]
    rests_s = [(move.start - state.end) * ak.STEP_S for state, move in line[1:]]
    return stacks_for(ladder, [plates_in(rest_s, task.crew) for rest_s in rests_s])


def describe(window: LiftWindow, policy: Policy) -> AttemptPlan:
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
    window = LiftWindow(task, [row.load_kg for row in typed if row.load_kg])
    return describe(window, fitting_policy(window, typed))
