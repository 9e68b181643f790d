"""A max lift in a window: what the athlete brings to every moment of it, and what is asked."""

import math
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from sorvek.core.athlete import Athlete, Figure, Origin, lift_figure
from sorvek.core.constants import (
    ATTEMPT_S,
    COLLARS_S,
    DAY_VARIANCE_FRAC,
    DEFAULT_LIFT_SPREAD,
    INFERRED_LIFT_SPREAD,
    LIFT_ENGINE_LOSS,
    LIFT_LOCAL_LOSS,
    LIFT_SURE_CHANCE,
    LIFT_SURE_FRAC,
    PLATE_S,
    RESOURCES,
)
from sorvek.core.errors import LiftError, require_range
from sorvek.core.lift import kernel as ak
from sorvek.core.lift.plates import Gym, Piece
from sorvek.core.quantities import clock, kg_from_lb, plain
from sorvek.core.simulation import Floats, Tank
from sorvek.core.simulation import kernel as k
from sorvek.core.workout import Movement, Style

LEAST_1RM_KG, MOST_1RM_KG = 10.0, 500.0
LONGEST_WINDOW_S = 1800.0
# With less than this share of the 1RM on the bar there is nothing to plan; judgement.
LEAST_LOADABLE_FRAC = 0.6
# A typed 1RM this far above what the rest of the athlete suggests is asked about; judgement.
DOUBTFUL_RATIO = 1.6


class Crew(StrEnum):
    """Who changes the plates."""

    ALONE = "alone"
    ONE = "one loader"
    TWO = "two loaders"


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
    """One athlete's window. `ready` is the share of the 1RM that is there at every 5 s of it, empty if fresh.

    `spread_frac` is the doubt about the 1RM, `field_kg` the lifts of the others in ascending order, and
    `least_opening_frac` the chance (0–1) the first attempt must have unless `opening_kg` says which it is.
    """

    one_rep_max_kg: float
    window_s: float
    gym: Gym
    bar: Piece
    crew: Crew = Crew.ONE
    spread_frac: float = 0.0
    ready: tuple[float, ...] = ()
    aim: Aim = Aim.LOAD
    goal_kg: float | None = None
    opening_kg: float | None = None
    least_opening_frac: float = 0.9
    field_kg: tuple[float, ...] = ()

    @property
    def empty_kg(self) -> float:
        """Return the mass of the bar with collars and nothing else."""
        return self.bar.mass_kg + self.gym.collars_kg

    @property
    def shares(self) -> Floats:
        """Return day's best / 1RM at every step of the window, shape (steps + 1,)."""
        steps = int(self.window_s / ak.STEP_S)
        ready = self.ready or (1.0,)
        return np.array([ready[min(i, len(ready) - 1)] for i in range(steps + 1)])

    @property
    def slope(self) -> float:
        """Return the steepness of the chance over load / day's best; doubt about the 1RM flattens it.

        A logistic curve of slope s has the standard deviation π/(s√3); both doubts add as variances.
        """
        known = math.pi / (steepness() * math.sqrt(3))
        return math.pi / math.sqrt(3) / math.hypot(known, self.spread_frac)


def learnt_losses(task: LiftTask, share: Floats) -> Floats:
    """Return what a made (row 0) or missed (row 1) load says about the day, as a loss; shape (2, L).

    Part of a lift's luck is the day's form and stays the same for all attempts: normal around the middle,
    updated by Bayes' rule from one made or missed load (`share` of the 1RM), by quadrature.
    """
    total = math.pi / (task.slope * math.sqrt(3))
    known = math.pi / (steepness() * math.sqrt(3))
    own = known * math.sqrt(1 - DAY_VARIANCE_FRAC)
    form = math.sqrt(total**2 - own**2) * np.linspace(-3, 3, 41)[:, None]
    weight = np.exp(-0.5 * np.linspace(-3, 3, 41) ** 2)[:, None]
    asked = share / float(np.mean(task.shares))
    made = 1 / (1 + np.exp(np.clip(math.pi / (own * math.sqrt(3)) * (asked - 1 - form), -500, 500)))
    means = [(weight * form * p).sum(axis=0) / (weight * p).sum(axis=0) for p in (made, 1 - made + 1e-12)]
    return -np.stack(means)


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
    most_kg = task.gym.most_kg - max(b.mass_kg for b in task.gym.bars) + task.bar.mass_kg
    if most_kg < LEAST_LOADABLE_FRAC * task.one_rep_max_kg:
        raise LiftError(
            f"the plates end at {plain(most_kg)} kg, far below a 1RM of {plain(task.one_rep_max_kg)} kg; add plates"
        )
    for name, load in (("goal", task.goal_kg), ("opening", task.opening_kg)):
        if load is None:
            continue
        require_range(f"{name} in kg", load, 0.1, 2 * MOST_1RM_KG)
        if load < task.empty_kg - 1e-6:
            raise LiftError(
                f"the {name} of {plain(load)} kg is below the empty bar ({plain(task.empty_kg)} kg with collars);"
                " choose a lighter bar or a heavier load"
            )
    if task.aim is Aim.GOAL and task.goal_kg is None:
        raise LiftError("a best chance of the goal needs a goal; type one in kg")
    if task.aim is Aim.PLACES and not task.field_kg:
        raise LiftError("places need the lifts of a field; import a leaderboard or choose another aim")
    return task


def loading_s(handled: int, crew: Crew) -> float:
    """Return the seconds a change takes that moves `handled` plates on each side.

    Two loaders take a side each; alone or with one loader the sides come one after the other.
    """
    if handled == 0:
        return 0.0
    one_side = PLATE_S * handled + COLLARS_S
    return one_side if crew is Crew.TWO else 2 * one_side


def plates_in(rest_s: float, crew: Crew) -> int:
    """Return how many plates on each side can be moved in a rest; the reverse of `loading_s`."""
    one_side = rest_s if crew is Crew.TWO else rest_s / 2
    return max(0, int((one_side - COLLARS_S) // PLATE_S))


def best_style(athlete: Athlete, movement: Movement) -> tuple[Style, Figure]:
    """Return the style in which the athlete lifts most, and that 1RM in kg.

    Raises: LiftError for a movement that has no 1RM.
    """
    lifting = [style for style in movement.styles if style.lift]
    if not lifting:
        raise LiftError(f"{movement.name} has no one-rep maximum here; choose a barbell lift")
    pairs = [(style, lift_figure(athlete, movement, style)) for style in lifting]
    return max(pairs, key=lambda pair: pair[1].value)


def spread_of(origin: Origin) -> float:
    """Return the doubt about a 1RM by where it comes from; the day's own form is in the chance curve."""
    if origin is Origin.MEASURED:
        return 0.0
    return DEFAULT_LIFT_SPREAD if origin is Origin.TIER else INFERRED_LIFT_SPREAD


def ready_shares(tank: Tank, style: Style, window_s: float) -> tuple[float, ...]:
    """Return the share of the 1RM there at every step of a window that begins with a tank as it was left.

    The emptiest reserve, weighted by what the lift asks of it, and the engine lower it; both refill, while
    lasting fatigue keeps the ceilings down. Source: docs/model.md, “Max lift”; judgement.
    """
    n = len(RESOURCES)
    state, weights = np.zeros(k.STATE_SIZE), np.array(style.weights[:n])
    local_now = state[k.B : k.B + n]
    local_now[:], state[k.F : k.F + n] = tank.local, tank.fatigue
    w, shares = tank.work_j, []
    for _ in range(int(window_s / ak.STEP_S) + 1):
        local = float(np.max(weights * (1 - local_now)))
        shares.append((1 - LIFT_LOCAL_LOSS * local) * (1 - LIFT_ENGINE_LOSS * (1 - w / tank.w_prime_j)))
        w = k.recover(ak.STEP_S, state, n, w, tank.w_prime_j, tank.critical_power_w)
    return tuple(shares)


def pounds_doubt(typed_kg: float, expected_kg: float) -> str:
    """Return a question where a 1RM typed as kg looks like pounds, else an empty text."""
    as_pounds_kg = kg_from_lb(typed_kg)
    ratio = typed_kg / expected_kg
    if ratio < DOUBTFUL_RATIO or not 0.5 < as_pounds_kg / expected_kg < DOUBTFUL_RATIO:
        return ""
    return (
        f"{plain(typed_kg)} kg is {ratio:.1f} times what the other numbers suggest ({expected_kg:.0f} kg)."
        f" Were pounds meant? {plain(typed_kg)} lb are {as_pounds_kg:.1f} kg."
    )
