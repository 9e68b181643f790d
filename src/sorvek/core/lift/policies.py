"""Which attempt comes when: typed ones first, then a ladder that gets made, then what is worth most.

Rules a weightlifting coach goes by (common practice, no source) hold unless something is typed: the opening is a
make, the second lies at 80–90 % and goes up on two days of three, and of ladders about as good the one that is
made is taken.
"""

from collections.abc import Callable, Sequence
from typing import NamedTuple

from sorvek.core.constants import ATTEMPT_S, DAY_BEST_FRAC
from sorvek.core.errors import LiftError
from sorvek.core.lift import kernel as ak
from sorvek.core.lift.hall.crew import loading_s, plates_in
from sorvek.core.lift.hall.plates import Load, Stack
from sorvek.core.lift.hall.stacks import moved, stacks_for
from sorvek.core.lift.solve import OFF, Choice, LiftWindow, Move, Policy, State, by_load
from sorvek.core.lift.task import Aim, Typed
from sorvek.core.planner import Temper
from sorvek.core.quantities import clock

MOST_REFITS = 4
# The first attempts of a ladder, which should get made.
FIRST_ATTEMPTS = 3
# So much of the best value is given up for a ladder that gets made; judgement.
NEAR_FRAC = {Temper.SAFE: 0.02, Temper.STEADY: 0.015, Temper.ATTACK: 0.0}
# Chances of the first attempts this near count as the same, and the better value decides; judgement.
NEAR_CHANCE = 0.03
# A chance above this is sure enough: nobody opens lighter for more; judgement.
SURE_CHANCE = 0.97
# The opening is no lighter than what the build-up ended with, the second lies at 80–90 % of what is there and goes
# up on two days of three; common practice, no source. Smaller steps than this share of the 1RM win too little;
# judgement.
OPENING_LOW = 0.75
SECOND_LOW, SECOND_HIGH, SECOND_CHANCE = 0.80, 0.905, 0.65
LEAST_STEP_FRAC = 0.04


class Ascent(NamedTuple):
    """Attempts that all go up: the chance that they do, and what they give up against the best (in its unit)."""

    moves: tuple[Move, ...]
    chance: float
    regret: float


def typed_moves(window: LiftWindow, typed: Sequence[Typed]) -> tuple[list[Move], State]:
    """Return typed attempts as moves, and the state after them; what they leave open is filled in as usual.

    Raises: LiftError for one that cannot be loaded, comes before the bar is ready or ends after the window.
    """
    moves: list[Move] = []
    state = window.start
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
    return moves, state


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


def _called(window: LiftWindow, state: State, choices: list[Choice]) -> list[Choice]:
    """Return the choices that a coach would call next; of the rules, weightiest first, those none keeps fall."""

    def share(choice: Choice) -> float:
        return float(window.share[choice.move.load] / window.ready[choice.move.start]) * DAY_BEST_FRAC

    least_kg = LEAST_STEP_FRAC * window.task.one_rep_max_kg - 1e-9
    rules: list[Callable[[Choice], bool]] = []
    if state.tries == 0:
        rules.append(lambda choice: share(choice) >= OPENING_LOW)
    if state.tries == 1:
        # The table's chance is that of a normal belief; what is really believed decides.
        rules.append(lambda choice: window.chance(state, choice.move) >= SECOND_CHANCE)
    if state.tries:
        rules.append(lambda choice: bool(window.kg[choice.move.load] - window.kg[state.last] >= least_kg))
    if state.tries == 1:
        rules.append(lambda choice: SECOND_LOW <= share(choice) <= SECOND_HIGH)
    for rule in rules:
        choices = [choice for choice in choices if rule(choice)] or choices
    return choices


def _ladders(window: LiftWindow, state: State, count: int) -> list[Ascent]:
    """Return the ladders of up to `count` attempts from a state."""
    choices = window.choices(state)
    top = max((choice.value for choice in choices), default=float(window.utility[state.best]))
    worth_it = [choice for choice in choices if choice.value > window.utility[state.best] + 1e-12]
    if count == 0 or not worth_it:
        return [Ascent((), 1.0, 0.0)]
    found = []
    for choice in by_load(_called(window, state, worth_it)):
        chance = window.chance(state, choice.move)
        if state.tries and chance < window.least_chance:
            continue
        for then in _ladders(window, window.after(state, choice.move, True), count - 1):
            regret = top - choice.value + chance * then.regret
            found.append(Ascent((choice.move, *then.moves), min(chance, SURE_CHANCE) * then.chance, regret))
    return found or [Ascent((), 1.0, 0.0)]


def ladder_that_gets_made(window: LiftWindow, state: State) -> tuple[Move, ...]:
    """Return the next of the first three attempts: of ladders near the best the one most often made."""
    count = FIRST_ATTEMPTS - state.tries
    if count <= 0 or (state.missed and state.last != ak.FIRST):
        return ()
    found = _ladders(window, state, count)
    least = min(ladder.regret for ladder in found)
    worth = max((choice.value for choice in window.choices(state)), default=0.0)
    near = [ladder for ladder in found if ladder.regret <= least + NEAR_FRAC[window.task.temper] * worth + 1e-12]
    most = max(ladder.chance for ladder in near)
    return min((x for x in near if x.chance >= most - NEAR_CHANCE), key=lambda x: x.regret).moves


def policy_around(window: LiftWindow, typed: Sequence[Typed] = ()) -> Policy:
    """Return the policy that carries out typed attempts, then the ladder, and answers misses as well as possible.

    Who aims at a goal or at places goes by nothing else after the opening.

    Raises: as `typed_moves`.
    """
    if window.task.given:
        return _given(window, typed)
    moves, state = typed_moves(window, typed)
    line = (*moves, *(ladder_that_gets_made(window, state) if window.task.aim is Aim.LOAD else ()))

    def policy(at: State) -> Move | None:
        return line[at.line] if at.line != OFF and at.line < len(line) else window.best_move(at)

    return policy


def _given(window: LiftWindow, typed: Sequence[Typed]) -> Policy:
    """Return the policy for attempts that the organiser fixed: one after the other until one is missed."""
    moves = []
    for i, row in enumerate(window.task.given):
        made = typed[i].made if i < len(typed) else None
        moves.append(Move(window.nearest(row.load_kg or 0.0), round((row.start_s or 0.0) / ak.STEP_S), made))

    def policy(at: State) -> Move | None:
        return moves[at.line] if at.line != OFF and at.line < len(moves) and not at.missed else None

    return policy


def line_of(window: LiftWindow, policy: Policy) -> list[tuple[State, Move]]:
    """Return the states and moves along the line on which everything goes as known, or up."""
    found, state = [], window.start
    while (move := policy(state)) is not None:
        found.append((state, move))
        state = window.after(state, move, move.made is not False)
    return found


def fitting_policy(window: LiftWindow, typed: Sequence[Typed] = ()) -> Policy:
    """Return the policy around typed attempts whose own line can be loaded in its rests.

    The table counts with the fewest plates between two loads; a ladder cannot always have all of them at once.
    Raises: as `typed_moves`.
    """
    policy = policy_around(window, typed)
    for _ in range(MOST_REFITS):
        late = _late_changes(window, policy)
        if not late:
            break
        window.slow_down(late)
        policy = policy_around(window, typed)
    return policy


def _late_changes(window: LiftWindow, policy: Policy) -> dict[tuple[int, int], float]:
    """Return the changes of plates on a policy's own line that take longer than their rest, in s."""
    line = line_of(window, policy)
    stacks = stacks_along(window, line)
    late: dict[tuple[int, int], float] = {}
    for (state, move), before, after in zip(line[1:], stacks, stacks[1:], strict=False):
        needed_s = loading_s(moved(before, after), window.task.crew)
        if not move.typed and needed_s > (move.start - state.end) * ak.STEP_S:
            late[state.last, move.load] = needed_s
    return late


def stacks_along(window: LiftWindow, line: list[tuple[State, Move]]) -> tuple[Stack, ...]:
    """Return the plates for the line: fewest handled over it all, as far as every change fits its rest."""
    task = window.task
    ladder = [Load(float(window.kg[move.load]), window.ways(move.load)) for _, move in line]
    rests_s = [(move.start - state.end) * ak.STEP_S for state, move in line[1:]]
    return stacks_for(ladder, [plates_in(rest_s, task.crew) for rest_s in rests_s])
