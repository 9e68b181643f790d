"""Repetition curves: how many reps at a load, and what a rep max says about the 1RM.

Each curve is one published formula; docs/model.md holds the references. Two of them (Epley, O'Conner)
give less than one rep at the 1RM itself; reps are therefore at least 1 up to the 1RM and 0 above it.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from sorvek.core.errors import require_range

MOST_REPS = 400.0


class CurveName(StrEnum):
    """The curves a coach can choose from."""

    EPLEY = "epley"
    BRZYCKI = "brzycki"
    LOMBARDI = "lombardi"
    OCONNER = "oconner"
    MAYHEW = "mayhew"
    WATHAN = "wathan"


@dataclass(frozen=True, slots=True)
class Curve:
    """One formula both ways: share of the 1RM from reps, reps from share of the 1RM; and its reference."""

    fraction: Callable[[float], float]
    reps: Callable[[NDArray[np.float64]], NDArray[np.float64]]
    cite: str


def _log_reps(fraction: NDArray[np.float64], floor: float, span: float, rate: float) -> NDArray[np.float64]:
    above = np.maximum(fraction - floor, 1e-300)
    return np.where(fraction <= floor, np.inf, -np.log(above / span) / rate)


CURVES = {
    CurveName.EPLEY: Curve(lambda r: 1 / (1 + r / 30), lambda f: 30 * (1 / f - 1), "epley-1985"),
    CurveName.BRZYCKI: Curve(lambda r: (37 - r) / 36, lambda f: 37 - 36 * f, "brzycki-1993"),
    CurveName.LOMBARDI: Curve(lambda r: r**-0.10, lambda f: f**-10.0, "lombardi-1989"),
    CurveName.OCONNER: Curve(lambda r: 1 / (1 + 0.025 * r), lambda f: 40 * (1 / f - 1), "oconner-1989"),
    CurveName.MAYHEW: Curve(
        lambda r: 0.522 + 0.419 * math.exp(-0.055 * r),
        lambda f: _log_reps(f, 0.522, 0.419, 0.055),
        "mayhew-1992",
    ),
    CurveName.WATHAN: Curve(
        lambda r: 0.488 + 0.538 * math.exp(-0.075 * r),
        lambda f: _log_reps(f, 0.488, 0.538, 0.075),
        "wathan-1994",
    ),
}


def reps_at_load(load_kg: float, one_rep_max_kg: float, curve: CurveName = CurveName.EPLEY) -> float:
    """Return how many reps a 1RM allows at a load: 0 above the 1RM, at least 1 up to it.

    Shape: scalars; the result is a real number, capped at 400.
    Raises: OutOfRangeError for a load or 1RM that is not positive and below 1000 kg.
    Source: see `CURVES`; all were fitted on sets of about 1–12 reps, beyond that they extrapolate.
    """
    require_range("load_kg", load_kg, 0.1, 1000)
    require_range("one_rep_max_kg", one_rep_max_kg, 0.1, 1000)
    return float(reps_at_limits(load_kg, np.array([one_rep_max_kg]), curve)[0])


def reps_at_limits(load_kg: float, one_rep_max_kg: NDArray[np.float64], curve: CurveName) -> NDArray[np.float64]:
    """Return `reps_at_load` for many 1RMs at once, shape (n,), all of them above 0 kg."""
    fraction = load_kg / one_rep_max_kg
    reps = np.clip(CURVES[curve].reps(fraction), 1.0, MOST_REPS)
    return np.where(fraction > 1, 0.0, reps)


def one_rep_max(load_kg: float, reps: float, curve: CurveName = CurveName.EPLEY) -> float:
    """Return the 1RM in kg that a longest set of `reps` at `load_kg` implies.

    Raises: OutOfRangeError for reps outside 1–36 with Brzycki (its pole is at 37), 1–400 otherwise.
    """
    require_range("load_kg", load_kg, 0.1, 1000)
    require_range("reps", reps, 1, 36 if curve is CurveName.BRZYCKI else MOST_REPS)
    return load_kg if reps == 1 else load_kg / CURVES[curve].fraction(reps)
