"""What is believed of the day: how far today's best lies from an ordinary day's, and what every attempt says of it.

The chance of an attempt is logistic in what it asks (load / day's best − 1, and what was lost to the attempts
before) less the day's form. The form is one unknown; makes and misses change what is believed of it (Bayes).
"""

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from sorvek.core.simulation import Floats

# So many values of the form, up to so many standard deviations above the middle and below it.
NODES, REACH = 49, 4.0
# On one day in so many nothing goes as it should: the middle of such days and how far they scatter, as shares of an
# ordinary best; judgement. Without them four misses at a light load would leave it likely.
WRECKED_FRAC, WRECKED_LOSS, WRECKED_SPREAD = 0.04, 0.08, 0.07
# Demands of an attempt that are tabulated for the programme: from so far under the middle to so far above.
LOWEST_DEMAND, HIGHEST_DEMAND, DEMAND_STEP = -0.8, 0.6, 0.004
# The programme knows this many doubts, each so much smaller than the one before it.
LEVELS, NARROWER = 2, 0.5


@dataclass(frozen=True, slots=True)
class DayForm:
    """What is believed of the day's form: `chances` (NODES,) of `values` (NODES,), shares of an ordinary best."""

    values: Floats
    chances: Floats

    @property
    def mean(self) -> float:
        """Return the middle of what is believed."""
        return float(self.values @ self.chances)

    @property
    def spread(self) -> float:
        """Return the standard deviation of what is believed."""
        return math.sqrt(max(0.0, float(((self.values - self.mean) ** 2) @ self.chances)))

    def chance(self, demand: float, own: float) -> float:
        """Return the chance (0–1) of an attempt that asks for `demand`; `own` is an attempt's own luck."""
        return float(self.chances @ _goes_up(demand - self.values, own))

    def after(self, demand: float, own: float, made: bool) -> "DayForm":
        """Return what is believed once an attempt was made or missed (Bayes' rule)."""
        likely = _goes_up(demand - self.values, own)
        weights = self.chances * (likely if made else 1 - likely) + 1e-300
        return DayForm(self.values, weights / weights.sum())


def _normal(spread: float, lowest: float) -> DayForm:
    values = np.linspace(lowest, REACH * spread, NODES)
    weights = np.exp(-0.5 * (values / spread) ** 2)
    return DayForm(values, weights / weights.sum())


def form_of(spread: float) -> DayForm:
    """Return what is believed before the first attempt: normal around 0, and a few wrecked days."""
    wrecked = math.hypot(WRECKED_SPREAD, spread)
    usual = _normal(spread, -max(REACH * spread, WRECKED_LOSS + 2.5 * wrecked))
    off = np.exp(-0.5 * ((usual.values + WRECKED_LOSS) / wrecked) ** 2)
    return DayForm(usual.values, (1 - WRECKED_FRAC) * usual.chances + WRECKED_FRAC * off / off.sum())


def _goes_up(beyond: Floats, own: float) -> Floats:
    """Return the chance of lifts that ask for `beyond` what is there; `own` is the logistic's deviation."""
    return 1 / (1 + np.exp(np.clip(math.pi / (own * math.sqrt(3)) * beyond, -500, 500)))


class Teaching(NamedTuple):
    """What attempts do to a normal belief, by its doubt (LEVELS) and by demand above its middle (D).

    `chance` (LEVELS, D); `shift` and `level` (2, LEVELS, D): how far a make (0) or a miss (1) moves the middle, and
    the doubt left as a place among the levels (0 the first).
    """

    spreads: Floats
    chance: Floats
    shift: Floats
    level: Floats


@lru_cache(maxsize=32)
def teaching_of(spread: float, own: float) -> Teaching:
    """Return the table of what attempts teach who starts with a doubt of `spread`; shares of an ordinary best."""
    spreads = spread * np.power(NARROWER, np.arange(LEVELS, dtype=np.float64))
    demands = np.arange(LOWEST_DEMAND, HIGHEST_DEMAND, DEMAND_STEP)
    chance = np.empty((LEVELS, len(demands)))
    shift, level = np.empty((2, LEVELS, len(demands))), np.empty((2, LEVELS, len(demands)))
    for s, doubt in enumerate(spreads):
        form = _normal(doubt, -REACH * doubt)
        likely = _goes_up(demands[:, None] - form.values, own)
        chance[s] = likely @ form.chances
        for result, weights in enumerate((likely * form.chances, (1 - likely) * form.chances)):
            weights = (weights + 1e-300) / (weights + 1e-300).sum(axis=1, keepdims=True)  # noqa: PLW2901
            shift[result, s] = weights @ form.values
            left = np.sqrt(np.maximum(1e-12, weights @ form.values**2 - shift[result, s] ** 2))
            level[result, s] = np.clip(np.log(left / spread) / math.log(NARROWER), 0, LEVELS - 1)
    return Teaching(spreads, chance, shift, level)
