"""Temperaments: the same search, with other weights over the likely days."""

from enum import StrEnum

import numpy as np

from sorvek.core.simulation import Floats

# Days this far (in shares of all days) from the one that is asked for still count well.
WIDTH = 0.15


class Temper(StrEnum):
    """How an athlete should go into a workout: calculated, paced, or on the attack."""

    SAFE = "safe"
    STEADY = "steady"
    ATTACK = "attack"

    @property
    def question(self) -> str:
        """Return what is made as good as it can be, in words."""
        return {
            Temper.SAFE: "the score reached on four days in five",
            Temper.STEADY: "the mean over all days",
            Temper.ATTACK: "the score reached on one day in four",
        }[self]

    @property
    def worse_days(self) -> float | None:
        """Return the share of days that are better than the one that counts; None where the mean does."""
        return {Temper.SAFE: 0.8, Temper.STEADY: None, Temper.ATTACK: 0.25}[self]

    def asked(self, losses: Floats) -> float:
        """Return the loss on the day that counts, of those on many likely days (days,); less is better."""
        return float(losses.mean() if self.worse_days is None else np.quantile(losses, self.worse_days))

    def weights(self, losses: Floats) -> Floats:
        """Return how much each day counts (days,), 1 in the mean; `losses` (days,) tell good days from bad ones.

        One day's score would make a rugged search: days around it count as well, less the farther they are off.
        Which days are good hardly depends on the plan, so that any plain plan's losses will do.
        """
        if self.worse_days is None:
            return np.ones(len(losses))
        order = np.empty(len(losses))
        order[losses.argsort(kind="stable")] = (np.arange(len(losses)) + 0.5) / len(losses)
        near = np.exp(-0.5 * ((order - self.worse_days) / WIDTH) ** 2)
        weights: Floats = near / near.mean()
        return weights

    def prices(self, steady: Floats) -> Floats:
        """Return the prices of `candidates.PRICES` as this temperament pays them.

        The attack opens as fast as it likes. The margin costs all the same: its days are the good ones anyway.
        """
        return steady * [1.0, 1.0, 0.0] if self is Temper.ATTACK else steady
