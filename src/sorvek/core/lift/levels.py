"""What an athlete can lift on this day: the 1RM behind it, how sure it is, and what work before it takes away."""

import math

import numpy as np

from sorvek.core.athlete import DOUBT_FRAC, Athlete, Figure, Origin, lift_figure
from sorvek.core.constants import (
    DEFAULT_LIFT_SPREAD,
    INFERRED_LIFT_SPREAD,
    LIFT_ENGINE_LOSS,
    LIFT_LOCAL_LOSS,
    LIFT_SLOW_ANY,
    LIFT_SLOW_ENGINE,
    LIFT_SLOW_FATIGUE,
    LIFT_SLOW_LOCAL,
    LIFT_SLOW_TAU_S,
    RESOURCES,
)
from sorvek.core.errors import LiftError
from sorvek.core.lift import kernel as ak
from sorvek.core.quantities import kg_from_lb, plain
from sorvek.core.simulation import Floats, Tank, recover
from sorvek.core.simulation import columns as k
from sorvek.core.workout import Library, Movement, Style

# Lifts from the floor that begin with another one, which bounds them.
STARTED_BY = {"thruster": "squat clean", "cluster": "squat clean"}
# How much more an attempt's own luck varies than a skilled lifter's, by tier: beginners miss for technique.
# Lifts of the families below take all of it, others half; judgement.
TECHNIQUE = {"starting": 1.5, "building": 1.25}
TECHNICAL = ("snatch", "clean")
# A typed 1RM this far above what the rest of the athlete suggests is asked about; judgement.
DOUBTFUL_RATIO = 1.6


def best_style(athlete: Athlete, movement: Movement, library: Library) -> tuple[Style, Figure]:
    """Return the style in which the athlete lifts most, and that 1RM in kg; the lift that starts it bounds it.

    Raises: LiftError for a movement that has no 1RM.
    """
    lifting = [style for style in movement.styles if style.lift]
    if not lifting:
        raise LiftError(f"{movement.name} has no one-rep maximum here; choose a barbell lift")
    pairs = [(style, lift_figure(athlete, movement, style)) for style in lifting]
    style, figure = max(pairs, key=lambda pair: pair[1].value)
    starting = starting_lift(movement, library)
    bound = best_style(athlete, starting, library)[1] if starting else figure
    return style, min((figure, bound), key=lambda one: one.value)


def starting_lift(movement: Movement, library: Library) -> Movement | None:
    """Return the lift by which another gets to the shoulder, None where it does not bound it."""
    name = STARTED_BY.get(movement.name, "")
    return library.movements.get(name)


def spread_of(athlete: Athlete, key: str, figure: Figure) -> float:
    """Return the doubt about a 1RM by where it comes from; the day's own form is in the chance curve.

    A learnt one is doubted by what its own doubt is above that of a measured one.
    """
    if figure.origin is Origin.MEASURED:
        return 0.0
    if figure.origin is Origin.LEARNT:
        more = athlete.doubt_frac(key, figure) ** 2 - DOUBT_FRAC[Origin.MEASURED] ** 2
        return min(DEFAULT_LIFT_SPREAD, math.sqrt(max(0.0, more)))
    return DEFAULT_LIFT_SPREAD if figure.origin is Origin.TIER else INFERRED_LIFT_SPREAD


def bounding_lift(athlete: Athlete, movement: Movement, library: Library) -> Movement:
    """Return the lift whose 1RM bounds another: the one that starts it where that is the lesser, else itself.

    Raises: LiftError for a movement that has no 1RM.
    """
    starting = starting_lift(movement, library)
    if starting is None:
        return movement
    own = max(lift_figure(athlete, movement, style).value for style in movement.styles if style.lift)
    return starting if best_style(athlete, starting, library)[1].value < own else movement


def technique_of(athlete: Athlete, movement: Movement) -> float:
    """Return how much more an attempt's own luck varies than a skilled lifter's (1 or more)."""
    more = TECHNIQUE.get(athlete.tier, 1.0) - 1
    return 1 + (more if movement.family in TECHNICAL else more / 2)


def ready_shares(tank: Tank, style: Style, window_s: float, pause_s: float = 0.0) -> tuple[float, ...]:
    """Return the share of an ordinary best there at every step of a window after work left a tank as it is.

    The emptiest reserve, weighted by what the lift asks of it, and the engine lower it and refill within minutes.
    A smaller part stays much longer: by the lasting fatigue of what lifts, and by the breath that was spent.
    `pause_s` is the rest between the work and the window. Source: docs/model.md, “Max lift”; judgement.
    """
    n = len(RESOURCES)
    state, weights = np.zeros(k.STATE_SIZE), np.array(style.weights[:n])
    local_now = state[k.B : k.B + n]
    local_now[:], state[k.F : k.F + n] = tank.local, tank.fatigue
    slow, w, shares = _slow(tank, weights), tank.work_j, []
    skipped = math.ceil(pause_s / ak.STEP_S)
    for step in range(skipped + int(window_s / ak.STEP_S) + 1):
        if step >= skipped:
            local = float(np.max(weights * (1 - local_now)))
            fast = (1 - LIFT_LOCAL_LOSS * local) * (1 - LIFT_ENGINE_LOSS * (1 - w / tank.w_prime_j))
            shares.append(fast * (1 - slow * math.exp(-step * ak.STEP_S / LIFT_SLOW_TAU_S)))
        w = recover(ak.STEP_S, state, n, w, tank.w_prime_j, tank.critical_power_w)
    return tuple(shares)


def _slow(tank: Tank, weights: Floats) -> float:
    """Return what a piece takes from a lift for long, as a share of it; nothing if nothing was done."""
    used = float(np.max(weights * (1 - np.exp(-np.array(tank.fatigue) / LIFT_SLOW_FATIGUE))))
    spent = 1 - tank.work_j / tank.w_prime_j
    if max(tank.fatigue) <= 0 and spent <= 0:
        return 0.0
    return LIFT_SLOW_ANY + LIFT_SLOW_LOCAL * used + LIFT_SLOW_ENGINE * spent


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
