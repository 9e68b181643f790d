"""The attempts of a window: the line on which everything goes up, what follows otherwise, what can come of it."""

import math
from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import cached_property, partial
from itertools import product

from sorvek.core.constants import DAY_BEST_FRAC, HEAVY_FRAC, LAST_START_S, LEAST_REST_S
from sorvek.core.errors import LiftError
from sorvek.core.lift import kernel as ak
from sorvek.core.lift.belief import DayForm
from sorvek.core.lift.hall.crew import loading_s
from sorvek.core.lift.hall.plates import Stack
from sorvek.core.lift.hall.stacks import moved
from sorvek.core.lift.policies import (
    SECOND_CHANCE,
    fitting_policy,
    ladder_that_gets_made,
    line_of,
    policy_around,
    stacks_along,
)
from sorvek.core.lift.solve import OFF, WORTH_A_DROP_FRAC, LiftWindow, Move, Policy, State
from sorvek.core.lift.task import Aim, LiftTask, Typed, rows_of
from sorvek.core.planner import Temper

# How many attempts the tree of decisions is deep: the next one and the two after it.
TREE_DEPTH = 3
# A safe or bold ladder is tried for so many loads beyond the one that is reached often enough without it.
MOST_BOLDER = 2
# On four days in five, on one day in four: what such a day's lift is worth beside the mean, in 1RM; judgement.
REACHED_WORTH = 1.0


class Rule(StrEnum):
    """A rule that a typed attempt can break, as it is named."""

    OPENING = "the opening should go up on nine days of ten"
    SECOND = "the second should go up on two days of three"
    REST = "a minute of rest belongs between heavy attempts"
    LATE = "the last bar should leave the floor 15 s before the end"
    NOTHING = "a lift that does not better what stands wins nothing"
    DROP = "after a miss: the same again, or a drop that betters what stands by 3 %"


@dataclass(frozen=True, slots=True)
class Belief:
    """What is believed of an ordinary attempt's best today: its middle and its standard deviation, in kg."""

    best_kg: float
    spread_kg: float


@dataclass(frozen=True, slots=True)
class Branch:
    """An attempt in the tree of decisions: its chance (0–1), how often one gets there, and what follows.

    `stack` are the plates on one side, inside out, so that few are moved from the attempt before.
    """

    load_kg: float
    stack: Stack
    start_s: float
    chance: float
    reached_frac: float
    if_made: "Branch | None"
    if_missed: "Branch | None"


@dataclass(frozen=True, slots=True)
class Typing:
    """What a typed attempt costs against the plan without it, in kg of expected lift, and the rules it breaks."""

    number: int
    cost_kg: float
    broken: tuple[Rule, ...]


@dataclass(frozen=True, slots=True)
class Attempt:
    """One line of the ladder. `chance` is that of this lift, `reached_frac` that of getting here on this line.

    `loading_s` is what the change of plates before it takes; `stack` the plates on one side, inside out;
    `best_kg` what is on the board before it, 0 for nothing; `after_make` and `after_miss` what it would teach.
    """

    load_kg: float
    stack: Stack
    start_s: float
    rest_s: float
    loading_s: float
    chance: float
    reached_frac: float
    best_kg: float
    made: bool | None
    typed: bool
    after_make: Belief
    after_miss: Belief
    if_made: Branch | None
    if_missed: Branch | None


def _quantile(outcomes: Sequence[tuple[float, float]], share: float) -> float:
    """Return the result in kg that is reached or missed on a share (0–1) of days, of results in ascending order."""
    total = 0.0
    for kg, chance in outcomes:
        total += chance
        if total >= share - 1e-9:
            return kg
    return outcomes[-1][0] if outcomes else 0.0


@dataclass(frozen=True, slots=True)
class AttemptPlan:
    """Attempts along the line on which every lift goes up, and what can come of it.

    `outcomes` are pairs of load (0 for no score) and chance; `places` the expected place, None without a field;
    `line_frac` the chance that every attempt of the line that is still open goes up; `next` the first of them with
    what can follow; `typing` what is typed and costs something.
    """

    attempts: tuple[Attempt, ...]
    expected_kg: float
    none_frac: float
    line_frac: float
    goal_frac: float | None
    outcomes: tuple[tuple[float, float], ...]
    places: float | None
    opening_is_safe: bool
    temper: Temper
    next: Branch | None
    typing: tuple[Typing, ...] = ()

    def quantile(self, share: float) -> float:
        """Return the lift in kg that is reached or missed on `share` (0–1) of days: 0.1 is a bad day's."""
        return _quantile(self.outcomes, share)

    def reached(self, load_kg: float) -> float:
        """Return the chance (0–1) to end with at least a load."""
        return sum(share for kg, share in self.outcomes if kg >= load_kg - 1e-6)


@dataclass(frozen=True)
class Total:
    """Lifts whose bests are added up; one alone is its own total.

    Their days are taken as independent, and a lift without a score adds nothing.
    """

    plans: tuple[AttemptPlan, ...]

    @cached_property
    def outcomes(self) -> tuple[tuple[float, float], ...]:
        """Return pairs of sum in kg and chance, in ascending order."""
        ends = {0.0: 1.0}
        for plan in self.plans:
            sums: dict[float, float] = {}
            for (a, p), (b, q) in product(ends.items(), plan.outcomes):
                kg = round(a + b, 4)
                sums[kg] = sums.get(kg, 0.0) + p * q
            ends = sums
        return tuple(sorted(ends.items()))

    def quantile(self, share: float) -> float:
        """Return the total in kg that is reached or missed on `share` (0–1) of days."""
        return _quantile(self.outcomes, share)

    @property
    def short_frac(self) -> float:
        """Return the chance (0–1) that one of the lifts has no score."""
        return 1 - math.prod(1 - plan.none_frac for plan in self.plans)


def _belief(task: LiftTask, form: DayForm) -> Belief:
    best_kg = task.one_rep_max_kg * DAY_BEST_FRAC
    return Belief(best_kg * (1 + form.mean), best_kg * form.spread)


@dataclass(frozen=True, slots=True)
class _Tree:
    """What branches are grown from: a policy in a window, and the plates along its own line."""

    window: LiftWindow
    policy: Policy
    stacks: Sequence[Stack]

    def stack(self, state: State, load: int, before: Stack) -> Stack:
        """Return the plates of a load: those of the line on it, else those reached with fewest hands."""
        if state.line != OFF and state.line < len(self.stacks):
            return self.stacks[state.line]
        return min(self.window.ways(load), key=lambda way: moved(before, way))


def _branch(tree: _Tree, state: State, before: Stack, reached: float, depth: int) -> Branch | None:
    """Return what follows a state, `depth` attempts deep; `before` are the plates on the bar."""
    window = tree.window
    move = tree.policy(state) if depth else None
    if move is None:
        return None
    chance, stack = window.chance(state, move), tree.stack(state, move.load, before)
    results = {True: chance, False: 1 - chance} if move.made is None else {move.made: 1.0}
    then = {
        made: _branch(tree, window.after(state, move, made), stack, reached * share, depth - 1)
        for made, share in results.items()
    }
    load_kg, start_s = float(window.kg[move.load]), move.start * ak.STEP_S
    return Branch(load_kg, stack, start_s, chance, reached, then.get(True), then.get(False))


def describe(window: LiftWindow, policy: Policy) -> AttemptPlan:
    """Return what a policy means: its line of attempts, decisions and outcomes."""
    task, line = window.task, line_of(window, policy)
    stacks = stacks_along(window, line)
    tree = _Tree(window, policy, stacks)
    attempts, reached = [], 1.0
    for i, (state, move) in enumerate(line):
        here = _branch(tree, state, (), reached, 2)
        chance = window.chance(state, move)
        made, missed = (window.after(state, move, result) for result in (True, False))
        attempts.append(
            Attempt(
                load_kg=float(window.kg[move.load]),
                stack=stacks[i],
                start_s=move.start * ak.STEP_S,
                rest_s=(move.start - state.end) * ak.STEP_S,
                loading_s=loading_s(moved(stacks[i - 1], stacks[i]), task.crew) if i else 0.0,
                chance=chance,
                reached_frac=reached,
                best_kg=float(window.kg[state.best - 1]) if state.best else 0.0,
                made=move.made,
                typed=move.typed,
                after_make=_belief(task, made.form),
                after_miss=_belief(task, missed.form),
                if_made=here.if_made if here else None,
                if_missed=here.if_missed if here else None,
            )
        )
        reached *= chance if move.made is None else 1.0
    ends = window.outcomes(policy)
    outcomes = tuple((float(window.kg[b - 1]) if b else 0.0, share) for b, share in sorted(ends.items()))
    goal = task.goal_kg
    open_at = next((state for state, move in line if move.made is None), None)
    return AttemptPlan(
        attempts=tuple(attempts),
        expected_kg=sum(kg * share for kg, share in outcomes),
        none_frac=ends.get(0, 0.0),
        line_frac=reached,
        goal_frac=None if goal is None else sum(share for kg, share in outcomes if kg >= goal - 1e-6),
        outcomes=outcomes,
        places=_places(task, outcomes),
        opening_is_safe=window.openings[1] or bool(task.given),
        temper=task.temper,
        next=_branch(tree, open_at, (), 1.0, TREE_DEPTH) if open_at else None,
    )


def _places(task: LiftTask, outcomes: Sequence[tuple[float, float]]) -> float | None:
    if not task.field_kg:
        return None
    above = [(len(task.field_kg) - bisect_right(task.field_kg, kg + 1e-6), share) for kg, share in outcomes]
    return 1 + sum(count * share for count, share in above)


def expected_kg(window: LiftWindow, policy: Policy) -> float:
    """Return the mean lift of a policy in kg, no score as 0."""
    return sum(float(window.kg[best - 1]) * share for best, share in window.outcomes(policy).items() if best)


def tempered_policy(window: LiftWindow, typed: Sequence[Typed] = ()) -> Policy:
    """Return the policy for the task's temperament around typed attempts.

    Steady looks at the mean, safe at the lift reached on four days in five, attack at the one reached on one day in
    four: the heaviest load for which such a ladder exists is looked for, and that ladder is taken.
    Raises: as `typed_moves`.
    """
    task = window.task
    window.solve_for_aim()
    policy = fitting_policy(window, typed)
    share = task.temper.worse_days
    if share is None or task.aim is not Aim.LOAD:
        return policy
    ends = window.outcomes(policy)
    reached = [sum(p for best, p in ends.items() if best > load) for load in range(len(window.kg))]
    at = max((load for load, chance in enumerate(reached) if chance >= share), default=0)
    chosen = at
    for load in range(at, min(at + MOST_BOLDER, len(window.kg) - 1) + 1):
        if _reaches(window, typed, load) < share:
            break
        chosen = load
    _look_for(window, chosen)
    return fitting_policy(window, typed)


def _look_for(window: LiftWindow, load: int) -> None:
    """Solve for a load to be reached, and kilograms beside it."""
    share = window.share.tolist()
    window.solve_for([kilos + REACHED_WORTH * (j >= load) for j, kilos in enumerate(share)])


def _reaches(window: LiftWindow, typed: Sequence[Typed], load: int) -> float:
    _look_for(window, load)
    return sum(p for best, p in window.outcomes(policy_around(window, typed)).items() if best > load)


def _broken(window: LiftWindow, state: State, move: Move) -> tuple[Rule, ...]:
    """Return the rules that a typed move breaks."""
    task, chance = window.task, window.chance(state, move)
    rest_s = (move.start - state.end) * ak.STEP_S
    kg, best_kg = float(window.kg[move.load]), float(window.kg[state.best - 1]) if state.best else 0.0
    first = state.last == ak.FIRST
    heavy = not first and max(window.share[state.last], window.share[move.load]) >= HEAVY_FRAC
    fell_short = state.missed and move.load < state.last
    found = {
        Rule.OPENING: first and chance < task.least_opening_frac,
        Rule.SECOND: state.tries == 1 and not state.missed and chance < SECOND_CHANCE,
        Rule.REST: heavy and rest_s < LEAST_REST_S,
        Rule.LATE: move.start * ak.STEP_S > task.window_s - LAST_START_S,
        Rule.NOTHING: 0 < kg <= best_kg,
        Rule.DROP: (state.missed and move.load > state.last)
        or (fell_short and best_kg < kg < best_kg + WORTH_A_DROP_FRAC * task.one_rep_max_kg),
    }
    return tuple(rule for rule, broken in found.items() if broken)


def _freed(window: LiftWindow, typed: Sequence[Typed], at: int) -> Policy:
    """Return the policy that may choose a row; later starts give way where they no longer fit."""
    if at + 1 == len(typed):
        return policy_around(window, typed[:at])
    try:
        return policy_around(window, (*typed[:at], Typed(), *typed[at + 1 :]))
    except LiftError:
        later = (replace(row, start_s=None) for row in typed[at + 1 :])
        return policy_around(window, (*typed[:at], Typed(), *later))


def typing_costs(window: LiftWindow, rows: Sequence[Typed], typed: Sequence[Typed]) -> tuple[Typing, ...]:
    """Return what every typed load or start that is still open costs against the plan that may choose it freely.

    `rows` are those as typed, `typed` the same with a load in each.
    """
    policy = policy_around(window, typed)
    line, whole = line_of(window, policy), expected_kg(window, policy)
    found = []
    for i, row in enumerate(rows):
        if row.made is None and (row.load_kg is not None or row.start_s is not None):
            cost_kg = expected_kg(window, _freed(window, typed, i)) - whole
            found.append(Typing(i + 1, cost_kg, _broken(window, *line[i])))
    return tuple(found)


def plan_attempts(task: LiftTask, typed: Sequence[Typed] = ()) -> AttemptPlan:
    """Return the best attempts for a task, around those that are typed.

    Raises: OutOfRangeError, LiftError or PlatesError naming what cannot be and what to change.
    """
    rows = rows_of(task, typed)
    return planned(LiftWindow(task, [row.load_kg for row in rows if row.load_kg]), rows)


def planned(window: LiftWindow, rows: Sequence[Typed]) -> AttemptPlan:
    """Return the best attempts of a window around typed rows, with what those cost.

    Raises: as `typed_moves`.
    """
    if window.task.given:
        return describe(window, policy_around(window, rows))
    filled = _filled(window, rows)
    plan = describe(window, tempered_policy(window, filled))
    return replace(plan, typing=typing_costs(window, rows, filled)) if rows else plan


def _filled(window: LiftWindow, rows: Sequence[Typed]) -> tuple[Typed, ...]:
    """Return rows with a load in each: where none was typed the one that was planned after the rows before it.

    Raises: as `typed_moves`.
    """
    filled: tuple[Typed, ...] = ()
    for i, row in enumerate(rows):
        if row.load_kg is None:
            line = line_of(window, tempered_policy(window, filled))[i:]
            if not line:
                return (*filled, *rows[i:])
            move = line[0][1]
            start_s = move.start * ak.STEP_S if row.start_s is None else row.start_s
            row = replace(row, load_kg=float(window.kg[move.load]), start_s=start_s)  # noqa: PLW2901  as planned
        filled = (*filled, row)
    return filled


@dataclass(frozen=True, slots=True)
class Ahead:
    """What is left of a lift: the next attempt with what can follow it, None where none is worth it or fits.

    `outcomes` are pairs of the best load in kg (0 for no score) and its chance, in ascending order.
    """

    attempt: Branch | None
    outcomes: tuple[tuple[float, float], ...]

    def quantile(self, share: float) -> float:
        """Return the lift in kg that is reached or missed on `share` (0–1) of days."""
        return _quantile(self.outcomes, share)


class Platform:
    """A lift as it is carried out: what comes next after what was lifted, whatever that was."""

    def __init__(self, task: LiftTask) -> None:
        """Make ready for a task.

        Raises: OutOfRangeError, LiftError or PlatesError naming what cannot be and what to change.
        """
        self._window = LiftWindow(task)
        self._policy = tempered_policy(self._window)

    def ahead(self, done: Sequence[Typed]) -> Ahead:
        """Return what is left after attempts with load, start in s of the window and result.

        Unlike typed attempts they are taken as they were: a load that no plates make counts as the nearest that
        they do, a bar that was ready sooner than expected as just in time.
        """
        window, state = self._window, self._state(done)
        stack: Stack = ()
        for row in done:
            stack = min(window.ways(window.nearest(row.load_kg or 0.0)), key=partial(moved, stack))
        policy = self._policy
        if done and not window.task.given:
            state = state._replace(line=0)
            policy = _onwards(window, state)
        if done and window.task.given:
            state = state._replace(line=len(done))
        # No attempt starts when its window is over.
        branch = None
        if state.end <= self._last_start:
            branch = _branch(_Tree(window, policy, ()), state, stack, 1.0, TREE_DEPTH)
        ends = window.outcomes(policy, state)
        return Ahead(branch, tuple((float(window.kg[b - 1]) if b else 0.0, p) for b, p in sorted(ends.items())))

    def form(self, done: Sequence[Typed]) -> DayForm:
        """Return what attempts, taken as in `ahead`, leave to believe of the day's form and of the 1RM together."""
        return self._state(done).form

    @property
    def _last_start(self) -> int:
        return len(self._window.ready) - 1 - ak.ATTEMPT_STEPS

    def _state(self, done: Sequence[Typed]) -> State:
        window, state = self._window, self._window.start
        for row in done:
            load = window.nearest(row.load_kg or 0.0)
            start = max(round((row.start_s or 0.0) / ak.STEP_S), window.ready_at(state, load))
            state = window.after(state, Move(load, min(start, self._last_start)), bool(row.made))
        return state


def _onwards(window: LiftWindow, state: State) -> Policy:
    """Return the policy from a state whose line begins there: the ladder first, then what is worth most."""
    ladder = ladder_that_gets_made(window, state) if window.task.aim is Aim.LOAD else ()

    def policy(at: State) -> Move | None:
        return ladder[at.line] if at.line != OFF and at.line < len(ladder) else window.best_move(at)

    return policy
