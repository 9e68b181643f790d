"""The percentile curve of a leaderboard: the share of the field a score beats; plateaus are flat stretches."""

from collections.abc import Sequence
from dataclasses import dataclass

from sorvek.core.club import Leaderboard, Result
from sorvek.core.quantities import clock, plain
from sorvek.figures.outlook_bars import CLOCK_STEPS_S, ROUND_STEPS

WIDTH, HEIGHT = 1000.0, 300.0
LEFT, RIGHT, TOP, BOTTOM = 46.0, 20.0, 14.0, 30.0
POINTS = 250
MOST_TICKS = 10
# Where some finish and some do not, neither kind gets less of the height than this.
LEAST_SHARE = 0.25


@dataclass(frozen=True, slots=True)
class AxisMark:
    """A mark on an axis: its place and its label."""

    at: float
    text: str


@dataclass(frozen=True, slots=True)
class OwnMark:
    """One of the club's athletes on the curve."""

    x: float
    y: float
    name: str


@dataclass(frozen=True, slots=True)
class PercentileCurve:
    """Path, marks along the share of the field, lines across at round scores, and the club's athletes."""

    path: str
    ticks: tuple[AxisMark, ...]
    grid: tuple[AxisMark, ...]
    marks: tuple[OwnMark, ...]


@dataclass(frozen=True, slots=True)
class _Scale:
    """Heights (0 bottom, 1 top) of scores: reps rise up to `split`, from there times fall towards the top."""

    low: float
    high: float
    slow_s: float
    fast_s: float
    split: float

    def level(self, result: Result) -> float:
        """Return the height of a score; what lies outside ends at the edge."""
        if result.finished:
            span = max(1e-9, self.slow_s - self.fast_s)
            share = min(1.0, max(0.0, (self.slow_s - result.value) / span))
            return self.split + (1 - self.split) * share
        share = (result.value - self.low) / max(1e-9, self.high - self.low)
        return self.split * min(1.0, max(0.0, share))


def _scale(results: Sequence[Result]) -> _Scale:
    times = [r.value for r in results if r.finished]
    reps = [r.value for r in results if not r.finished]
    share = len(reps) / len(results)
    split = share if share in (0.0, 1.0) else min(1 - LEAST_SHARE, max(LEAST_SHARE, share))
    low, high = (min(reps), max(reps)) if reps else (0.0, 0.0)
    slow_s, fast_s = (max(times), min(times)) if times else (0.0, 0.0)
    return _Scale(low, high, slow_s, fast_s, split)


def _round_values(low: float, high: float, most: float, steps: Sequence[int]) -> list[int]:
    """Return round numbers at equal distances from `low` to `high`, at most about `most` of them."""
    step = next((s for s in steps if (high - low) / s <= max(1.0, most)), steps[-1])
    return [value for value in range(int(low // step) * step, int(high) + 1, step) if value >= low]


def _grid(scale: _Scale) -> tuple[AxisMark, ...]:
    found = []
    if scale.split > 0:
        for value in _round_values(scale.low, scale.high, MOST_TICKS * scale.split, ROUND_STEPS):
            found.append(AxisMark(_y(scale.level(Result("", "", False, value))), plain(value)))
    if scale.split < 1:
        for value in _round_values(scale.fast_s, scale.slow_s, MOST_TICKS * (1 - scale.split), CLOCK_STEPS_S):
            found.append(AxisMark(_y(scale.level(Result("", "", True, value))), clock(value)))
    return tuple(found)


def _y(level: float) -> float:
    """Return the place of a level (0–1) on the picture."""
    return HEIGHT - BOTTOM - (HEIGHT - TOP - BOTTOM) * level


def percentile_curve(board: Leaderboard, own: Sequence[tuple[str, Result]]) -> PercentileCurve:
    """Return the curve of a leaderboard that holds results: left the last place, right the first, height the score.

    Both axes are linear: the horizontal one in the share of the field beaten, the vertical one in reps (or kg), and
    above them, where some finish, in seconds.
    """
    results = board.results[::-1]
    scale = _scale(results)

    def x(share: float) -> float:
        return LEFT + (WIDTH - LEFT - RIGHT) * share

    step = max(1, len(results) // POINTS)
    shown = [*range(0, len(results), step), len(results) - 1]
    points = [(x(i / max(1, len(results) - 1)), _y(scale.level(results[i]))) for i in shown]
    marks = tuple(
        OwnMark(x(board.standing(score, score).percent / 100), _y(scale.level(score)), name) for name, score in own
    )
    return PercentileCurve(
        path="M" + " L".join(f"{px:.1f} {py:.1f}" for px, py in points),
        ticks=tuple(AxisMark(x(share / 100), f"{share} %") for share in range(0, 101, 10)),
        grid=_grid(scale),
        marks=marks,
    )
