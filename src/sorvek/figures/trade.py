"""Two scores as a curve: the first part from left to right, the lift upwards."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from sorvek.core.lift import Point
from sorvek.core.simulation import ScoreKind

WIDTH, HEIGHT = 520.0, 250.0
LEFT, RIGHT, TOP, BOTTOM = 62.0, 22.0, 26.0, 34.0
LEAST_GAP = 22.0
# How far behind the slowest time the scores of those begin who do not finish, as a share of it.
UNFINISHED_GAP = 0.1


@dataclass(frozen=True, slots=True)
class TradeDot:
    """One point: where it is, what it says, its label (a profile or nothing) and that one's anchor."""

    x: float
    y: float
    index: int
    title: str
    label: str
    anchor: str
    chosen: bool


@dataclass(frozen=True, slots=True)
class Trade:
    """The curve's coordinates; ticks are positions with words."""

    width: float
    height: float
    path: str
    dots: tuple[TradeDot, ...]
    x_ticks: tuple[tuple[float, str], ...]
    y_ticks: tuple[tuple[float, str], ...]
    axis_y: float


def _spread(values: Sequence[float]) -> tuple[float, float]:
    low, high = min(values), max(values)
    room = 0.08 * (high - low) or 1.0
    return low - 2 * room, high + room


def trade_curve(
    points: Sequence[Point], score_words: Callable[[Point], str], load_words: Callable[[float], str], chosen: int
) -> Trade:
    """Return the curve; `chosen` is the index of the point in force (-1: none). Better first scores are right."""
    firsts = _firsts(points)
    lifts = [p.lift.expected_kg for p in points]
    (x0, x1), (y0, y1) = _spread(firsts), _spread(lifts)

    def x(value: float) -> float:
        return LEFT + (WIDTH - LEFT - RIGHT) * (value - x0) / (x1 - x0)

    def y(value: float) -> float:
        return HEIGHT - BOTTOM - (HEIGHT - TOP - BOTTOM) * (value - y0) / (y1 - y0)

    dots = []
    for i, point in enumerate(points):
        places = f", places summed {point.places:.0f}" if point.places is not None else ""
        dots.append(
            TradeDot(
                x(firsts[i]),
                y(lifts[i]),
                i,
                f"{score_words(point)}, lift {load_words(lifts[i])}{places}",
                " · ".join(profile.value for profile in point.profiles),
                "end" if x(firsts[i]) > WIDTH / 2 else "start",
                i == chosen,
            )
        )
    order = sorted((i for i, point in enumerate(points) if not point.better), key=lambda i: firsts[i])
    ends = {order[0], order[-1]}
    return Trade(
        width=WIDTH,
        height=HEIGHT,
        path="M" + " L".join(f"{dots[i].x:.1f} {dots[i].y:.1f}" for i in order),
        dots=tuple(dots),
        x_ticks=tuple((dots[i].x, score_words(points[i])) for i in sorted(ends)),
        y_ticks=_apart([(dots[i].y, load_words(lifts[i])) for i in sorted(ends)]),
        axis_y=HEIGHT - BOTTOM + 18,
    )


def _firsts(points: Sequence[Point]) -> list[float]:
    """Return the first scores as numbers that grow with what they are worth; who does not finish lies behind."""
    if points[0].score.kind is not ScoreKind.TIME:
        return [point.score.value for point in points]
    slowest_s = max(point.score.value for point in points if point.score.finished)
    most = max((point.score.value for point in points if not point.score.finished), default=1.0)
    return [
        -point.score.value
        if point.score.finished
        else -slowest_s * (1 + UNFINISHED_GAP * (2 - point.score.value / most))
        for point in points
    ]


def _apart(ticks: list[tuple[float, str]]) -> tuple[tuple[float, str], ...]:
    kept: list[tuple[float, str]] = []
    for tick in ticks:
        if all(abs(tick[0] - other[0]) >= LEAST_GAP for other in kept):
            kept.append(tick)
    return tuple(kept)
