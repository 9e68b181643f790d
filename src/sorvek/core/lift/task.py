"""A max lift in a window: what the athlete brings to every moment of it, and what is asked."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from sorvek.core.constants import (
    ATTEMPT_S,
    DAY_BEST_FRAC,
    DAY_VARIANCE_FRAC,
    LAST_START_S,
    LIFT_SURE_CHANCE,
    LIFT_SURE_FRAC,
)
from sorvek.core.errors import LiftError, require_range
from sorvek.core.lift import kernel as ak
from sorvek.core.lift.hall.crew import Crew
from sorvek.core.lift.hall.plates import Gym, Piece
from sorvek.core.planner import Temper
from sorvek.core.quantities import clock
from sorvek.core.simulation import Floats

LEAST_1RM_KG, MOST_1RM_KG = 10.0, 500.0
LONGEST_WINDOW_S = 1800.0
# With less than this share of the 1RM on the bar there is nothing to plan; judgement.
LEAST_LOADABLE_FRAC = 0.6


class Aim(StrEnum):
    """What the attempts are chosen for."""

    LOAD = "highest expected lift"
    GOAL = "best chance of the goal"
    PLACES = "most places"


@dataclass(frozen=True, slots=True)
class Typed:
    """An attempt a coach fixed: its load, its start, its result; what is None is filled in as the plan would."""

    load_kg: float | None = None
    start_s: float | None = None
    made: bool | None = None


@dataclass(frozen=True, slots=True)
class LiftTask:
    """One athlete's window. `one_rep_max_kg` is the most on a best day, called `reference` in words.

    `ready` is the share of an ordinary best there at every 5 s of the window, empty if fresh,
    `spread_frac` is the doubt about the 1RM, `technique` how much more an attempt's own luck varies than a skilled
    lifter's, `field_kg` the lifts of the others in ascending order, `attempts` how many are allowed (None: any),
    `given` attempts the organiser fixed (a bar that rises until it is missed),
    `least_opening_frac` the chance (0–1) the first attempt must have unless `opening_kg` says which it is.
    """

    one_rep_max_kg: float
    window_s: float
    gym: Gym
    bar: Piece
    crew: Crew = Crew.ONE
    spread_frac: float = 0.0
    technique: float = 1.0
    ready: tuple[float, ...] = ()
    attempts: int | None = None
    given: tuple[Typed, ...] = ()
    temper: Temper = Temper.STEADY
    aim: Aim = Aim.LOAD
    goal_kg: float | None = None
    opening_kg: float | None = None
    least_opening_frac: float = 0.9
    field_kg: tuple[float, ...] = ()
    reference: str = "the 1RM"

    @property
    def empty_kg(self) -> float:
        """Return the mass of the bar with collars and nothing else."""
        return self.bar.mass_kg + self.gym.collars_kg

    @property
    def shares(self) -> Floats:
        """Return an ordinary day's best / 1RM at every step of the window, shape (steps + 1,)."""
        steps = int(self.window_s / ak.STEP_S)
        ready = self.ready or (1.0,)
        return DAY_BEST_FRAC * np.array([ready[min(i, len(ready) - 1)] for i in range(steps + 1)])

    @property
    def last_start_step(self) -> int:
        """Return the last step at which a bar may leave the floor; a very short window has only its start."""
        return max(0, int((self.window_s - max(LAST_START_S, ATTEMPT_S)) // ak.STEP_S))

    @property
    def own_luck(self) -> float:
        """Return the standard deviation of what an attempt has of its own, as a share of the day's best."""
        return _known() * math.sqrt(1 - DAY_VARIANCE_FRAC) * self.technique

    @property
    def form_spread(self) -> float:
        """Return the standard deviation of the day's form: the day's own and the doubt about the 1RM together."""
        return math.hypot(_known() * math.sqrt(DAY_VARIANCE_FRAC), self.spread_frac)


def _known() -> float:
    """Return the deviation of a skilled lift around a well-known 1RM: a logistic of slope s has π/(s√3)."""
    return math.pi / (steepness() * math.sqrt(3))


def steepness() -> float:
    """Return the slope of the chance curve for a well-known 1RM: 97.5 % at 90 % of the day's best."""
    return math.log(LIFT_SURE_CHANCE / (1 - LIFT_SURE_CHANCE)) / (1 - LIFT_SURE_FRAC)


def check_task(task: LiftTask) -> LiftTask:
    """Return the task if it can be planned.

    Raises: OutOfRangeError for a 1RM that is no lift; LiftError for a window, goal or opening that cannot be.
    """
    require_range("1RM in kg", task.one_rep_max_kg, LEAST_1RM_KG, MOST_1RM_KG)
    require_range("window in s", task.window_s, 0, LONGEST_WINDOW_S)
    if task.window_s < ATTEMPT_S:
        raise LiftError(
            f"a window of {clock(task.window_s)} is shorter than one attempt ({ATTEMPT_S:.0f} s);"
            " give it as m:ss, such as 5:00"
        )
    called = task.gym.called
    most_kg = task.gym.most_kg - max(b.mass_kg for b in task.gym.bars) + task.bar.mass_kg
    if most_kg < LEAST_LOADABLE_FRAC * task.one_rep_max_kg:
        raise LiftError(
            f"the plates end at {called(most_kg)}, far below a 1RM of {called(task.one_rep_max_kg)}; add plates"
        )
    for name, load in (("goal", task.goal_kg), ("opening", task.opening_kg)):
        if load is None:
            continue
        require_range(f"{name} in kg", load, 0.1, 2 * MOST_1RM_KG)
        if load < task.empty_kg - 1e-6:
            raise LiftError(
                f"the {name} of {called(load)} is below the empty bar ({called(task.empty_kg)} with collars);"
                " choose a lighter bar or a heavier load"
            )
    if task.aim is Aim.GOAL and task.goal_kg is None:
        raise LiftError("a best chance of the goal needs a goal; type one in kg")
    if task.aim is Aim.PLACES and not task.field_kg:
        raise LiftError("places need the lifts of a field; import a leaderboard or choose another aim")
    return task


def rows_of(task: LiftTask, typed: Sequence[Typed]) -> tuple[Typed, ...]:
    """Return the attempts a coach fixed; an opening that is asked for is the load of the first."""
    first, *rest = typed or (Typed(),)
    if task.opening_kg is not None and first.load_kg is None:
        first = replace(first, load_kg=task.opening_kg)
    return (first, *rest) if typed or task.opening_kg is not None else ()
