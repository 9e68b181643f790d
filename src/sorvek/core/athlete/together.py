"""Numbers that were learnt together: how much the doubts of two of them go together (correlations)."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from sorvek.core.athlete.athlete import Athlete

# A weaker correlation is as good as none and is not kept; judgement.
LEAST_KEPT = 0.1
# What is kept is rounded and may have been typed; so much of every doubt stays a number's own.
LEAST_OWN = 1e-3


@dataclass(frozen=True, slots=True)
class Together:
    """How the doubts of an athlete's learnt numbers go together; a number that is not learnt goes with none."""

    athlete: Athlete

    def one(self, key: str, other: str) -> float:
        """Return how the doubts of two numbers go together, from −1 to 1."""
        if key == other:
            return 1.0
        if key not in self.athlete.learnt or other not in self.athlete.learnt:
            return 0.0
        first, second = sorted((key, other))
        return self.athlete.together.get(first, {}).get(second, 0.0)

    def among(self, keys: Sequence[str]) -> NDArray[np.float64]:
        """Return the correlations among some numbers, shape (keys, keys), positive definite.

        Values that cannot all be true together are replaced by near ones: eigenvalues below `LEAST_OWN` are raised
        to it and the diagonal is made 1 again.
        """
        found = np.array([[self.one(key, other) for other in keys] for key in keys]).reshape(-1, len(keys))
        values, vectors = np.linalg.eigh(found)
        if len(keys) == 0 or values[0] >= LEAST_OWN:
            return found
        near = (vectors * np.maximum(values, LEAST_OWN)) @ vectors.T
        scale = np.sqrt(np.diag(near))
        return np.asarray(near / np.outer(scale, scale))

    def of(self, key: str) -> dict[str, float]:
        """Return the correlations of one number with the others, those of 0 left out."""
        found = {other: self.one(key, other) for other in self.athlete.learnt if other != key}
        return {other: value for other, value in found.items() if value}

    def replaced(self, key: str, others: Mapping[str, float]) -> Athlete:
        """Return the athlete with the correlations of one number replaced, those too weak to matter dropped."""
        learnt = self.athlete.learnt
        pairs = {
            pair: value for pair, value in self._pairs().items() if key not in pair and learnt.keys() >= {*pair}
        }
        for other, value in others.items():
            if other != key and other in learnt and abs(value) >= LEAST_KEPT:
                first, second = sorted((key, other))
                pairs[first, second] = round(value, 3)
        return self._stored(pairs)

    def weakened(self, shares: Mapping[str, float]) -> Athlete:
        """Return the athlete with the correlations of every number multiplied by its share, 1 if none is given."""
        return self._stored(
            {
                (first, second): value * shares.get(first, 1.0) * shares.get(second, 1.0)
                for (first, second), value in self._pairs().items()
            }
        )

    def _pairs(self) -> dict[tuple[str, str], float]:
        rows = self.athlete.together.items()
        return {(first, second): value for first, row in rows for second, value in row.items()}

    def _stored(self, pairs: Mapping[tuple[str, str], float]) -> Athlete:
        rows: dict[str, dict[str, float]] = {}
        for (first, second), value in sorted(pairs.items()):
            rows.setdefault(first, {})[second] = value
        return replace(self.athlete, together=rows)
