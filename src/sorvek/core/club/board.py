"""Leaderboards: results in order, places and what they hang on, plateaus, people alike."""

from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from sorvek.core.quantities import clock, plain
from sorvek.core.workout import Form


@dataclass(frozen=True, slots=True)
class Result:
    """One line of a leaderboard: `value` is seconds if `finished` and the workout is for time, else reps.

    `lift_kg` is the second score where a max lift follows.
    """

    name: str
    division: str
    finished: bool
    value: float
    tiebreak_s: float | None = None
    lift_kg: float | None = None


def order_key(result: Result) -> tuple[bool, float, float]:
    """Return a key that sorts results best first: finished before unfinished, then value, then tie-break."""
    value = result.value if result.finished else -result.value
    return (not result.finished, value, result.tiebreak_s or 0.0)


def lifts_of(results: Sequence[Result]) -> tuple[float, ...]:
    """Return the lifts of a field in kg, ascending; of those who have one."""
    return tuple(sorted(result.lift_kg for result in results if result.lift_kg is not None))


@dataclass(frozen=True, slots=True)
class Standing:
    """Where a score would stand: places counted from 1, `percent` of the field it beats."""

    place: int
    of: int
    percent: float
    worth: int


class Leaderboard:
    """Results best first, with the keys that place a score among them."""

    def __init__(self, results: Sequence[Result]) -> None:
        self.results = sorted(results, key=order_key)
        self._keys = [order_key(result) for result in self.results]
        self.index_of = {result.name: i for i, result in enumerate(self.results)}

    def standing(self, score: Result, better: Result) -> Standing:
        """Return the place of a score, and how many places `better` (one rep more, one second less) would win."""
        place, next_place = (1 + bisect_left(self._keys, order_key(s)) for s in (score, better))
        beaten = len(self._keys) - bisect_right(self._keys, order_key(score))
        return Standing(place, len(self._keys), 100 * beaten / max(1, len(self._keys)), place - next_place)


def one_better(score: Result) -> Result:
    """Return the score with one second less or one rep more."""
    return replace(score, value=score.value - 1 if score.finished else score.value + 1)


def result_text(result: Result, form: Form) -> str:
    """Return a result with its unit, a second score behind it."""
    if form is Form.LIFT:
        return f"{plain(result.value)} kg"
    text = clock(result.value) if result.finished else f"{result.value:.0f} reps"
    return text if result.lift_kg is None else f"{text}, {plain(result.lift_kg)} kg"


@dataclass(frozen=True, slots=True)
class Plateau:
    """A score at which many stop; `share_frac` of the whole field."""

    reps: int
    count: int
    share_frac: float


def plateaus(results: Sequence[Result], most: int = 4, least_frac: float = 0.02) -> list[Plateau]:
    """Return the rep counts at which unfinished scores pile up, the biggest first."""
    counts: dict[int, int] = {}
    for result in results:
        if not result.finished:
            counts[round(result.value)] = counts.get(round(result.value), 0) + 1
    piles = [
        Plateau(reps, count, count / len(results))
        for reps, count in counts.items()
        if count >= least_frac * len(results)
        and count > 1.5 * max(counts.get(reps - 1, 0), counts.get(reps + 1, 0))
    ]
    return sorted(piles, key=lambda pile: -pile.count)[:most]


@dataclass(frozen=True, slots=True)
class Likeness:
    """What people with a like score on one workout did on another.

    `low`, `middle` and `high` are the quartiles of their places there, in per cent of the field beaten; `worse`,
    `typical` and `better` are the results at those.
    """

    people: int
    low: float
    middle: float
    high: float
    worse: Result
    typical: Result
    better: Result

    def beside(self, good: Result, bad: Result) -> int:
        """Return 1 where the typical one of them beat a forecast's good day, -1 where not even its bad one."""
        typical = order_key(self.typical)
        return int(typical < order_key(good)) - int(typical > order_key(bad))


@dataclass(frozen=True, slots=True)
class Pair:
    """One person's results on two workouts."""

    here: Result
    there: Result


def next_to(
    before: Leaderboard, now: Leaderboard, place: int, window: int = 40
) -> tuple[Likeness | None, list[Pair]]:
    """Return how the people around a place on one workout placed on another, and the nearest pairs of results.

    People are known by name; `place` counts from 1 in `before`.
    """
    around = before.results[max(0, place - 1 - window // 2) : place - 1 + window // 2]
    pairs = [Pair(r, now.results[now.index_of[r.name]]) for r in around if r.name in now.index_of]
    if not pairs:
        return None, []
    places = sorted((now.index_of[pair.there.name] for pair in pairs), reverse=True)
    low, middle, high = np.percentile([100 * (1 - place / len(now.results)) for place in places], [25, 50, 75])
    at = [now.results[places[round(share * (len(places) - 1))]] for share in (0.25, 0.5, 0.75)]
    middle_at = min(len(pairs) - 1, len(pairs) // 2)
    likeness = Likeness(len(pairs), float(low), float(middle), float(high), *at)
    return likeness, pairs[max(0, middle_at - 3) : middle_at + 3]
