"""The percentile curve of a leaderboard: the share of the field a score beats, plateaus standing as steps."""

from collections.abc import Sequence
from dataclasses import dataclass

from sorvek.core.club import Leaderboard, Result
from sorvek.core.quantities import clock

WIDTH, HEIGHT = 1000.0, 300.0
LEFT, RIGHT, TOP, BOTTOM = 46.0, 20.0, 14.0, 30.0
POINTS = 250
LEAST_APART = 52.0


@dataclass(frozen=True, slots=True)
class Curve:
    """Path, marks along the score axis, lines across, and the club's athletes on the curve."""

    path: str
    ticks: tuple[tuple[float, str], ...]
    grid: tuple[tuple[float, str], ...]
    marks: tuple[tuple[float, float, str], ...]


def _score(result: Result) -> str:
    return clock(result.value) if result.finished else f"{result.value:.0f}"


def percentile_curve(board: Leaderboard, own: Sequence[tuple[str, Result]]) -> Curve:
    """Return the curve of a leaderboard: left the last place, right the first; height is the score's rank order.

    The horizontal axis is the share of the field beaten, the vertical one runs over the distinct scores, so that
    a plateau is a flat stretch whatever the unit.
    """
    results = board.results[::-1]
    distinct = list(dict.fromkeys((r.finished, r.value) for r in results))
    rank = {key: i for i, key in enumerate(distinct)}
    top = max(1, len(distinct) - 1)

    def x(share: float) -> float:
        return LEFT + (WIDTH - LEFT - RIGHT) * share

    def y(level: float) -> float:
        return HEIGHT - BOTTOM - (HEIGHT - TOP - BOTTOM) * level

    step = max(1, len(results) // POINTS)
    shown = [*range(0, len(results), step), len(results) - 1]
    points = [
        (x(i / max(1, len(results) - 1)), y(rank[(results[i].finished, results[i].value)] / top)) for i in shown
    ]
    path = "M" + " L".join(f"{px:.1f} {py:.1f}" for px, py in points)
    grid = []
    for level in (0, 0.25, 0.5, 0.75, 1):
        finished, value = distinct[round(level * top)]
        grid.append((y(level), _score(Result("", "", finished, value))))
    ticks = tuple((x(share / 100), f"{share} %") for share in range(0, 101, 10))
    marks = []
    for name, score in own:
        standing = board.standing(score, score)
        level = sum(1 for d in distinct if (d[0], d[1] if not d[0] else -d[1]) < _order(score)) / top
        marks.append((x(standing.percent / 100), y(min(1.0, level)), name))
    return Curve(path, ticks, tuple(grid), tuple(marks))


def _order(score: Result) -> tuple[bool, float]:
    return score.finished, -score.value if score.finished else score.value
