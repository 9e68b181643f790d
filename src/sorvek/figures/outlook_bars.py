"""Forecasts of many athletes on one axis: worse on the left, better on the right.

A timed workout under a cap has two stretches side by side: reps at the cap for who does not finish, then
finishing times from the cap down.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from sorvek.core.club import Outlook
from sorvek.core.quantities import clock
from sorvek.core.workout import NO_LIMIT_S, Course

WIDTH, LEFT, RIGHT = 400.0, 8.0, 26.0
HEIGHT, AXIS_HEIGHT = 20.0, 22.0
MARGIN_FRAC = 0.06
MOST_TICKS = 5
LEAST_BAR = 3.0
ROUND_STEPS = (1, 2, 5, 10, 20, 50, 100, 200, 500, 1_000, 2_000, 5_000)
CLOCK_STEPS_S = (5, 10, 15, 30, 60, 120, 300, 600)


@dataclass(frozen=True, slots=True)
class Axis:
    """Where scores lie. Reps run from `low_reps` at the left to `high_reps` at `split`; times from there on.

    `split` equals the right end where nobody finishes in time, the left end where everybody does.
    """

    low_reps: float
    high_reps: float
    slow_s: float
    fast_s: float
    split: float

    @property
    def reps_shown(self) -> bool:
        """Return whether some scores are reps."""
        return self.split > LEFT

    @property
    def times_shown(self) -> bool:
        """Return whether some scores are finishing times."""
        return self.split < WIDTH - RIGHT

    @property
    def two(self) -> bool:
        """Return whether both kinds stand side by side."""
        return self.reps_shown and self.times_shown

    def x_reps(self, reps: float) -> float:
        """Return the place of a rep count."""
        span = max(1e-9, self.high_reps - self.low_reps)
        return LEFT + (self.split - LEFT) * min(1.0, max(0.0, (reps - self.low_reps) / span))

    def x_time(self, time_s: float) -> float:
        """Return the place of a finishing time."""
        span = max(1e-9, self.slow_s - self.fast_s)
        return self.split + (WIDTH - RIGHT - self.split) * min(1.0, (self.slow_s - time_s) / span)

    def x(self, day: tuple[bool, float, str]) -> float:
        """Return the place of a day's score."""
        finished, value, _ = day
        return self.x_time(value) if finished else self.x_reps(value)


@dataclass(frozen=True, slots=True)
class BandBar:
    """One athlete's band with its middle; `heaps` are rep counts on which many days end: place, share of days."""

    x: float
    width: float
    middle: float
    heaps: tuple[tuple[float, float], ...]


def forecast_axis(course: Course, outlooks: Sequence[Outlook]) -> Axis:
    """Return the one axis all bands of a workout fit on."""
    cap_s = course.segments[-1].deadline_s
    total = 0 if course.open_ended else course.total_reps
    days = [day for o in outlooks for day in (o.good, o.middle, o.bad)]
    reps, times = ([value for done, value, _ in days if done is finished] for finished in (False, True))
    slow_s = cap_s if cap_s < NO_LIMIT_S else max(times, default=1.0)
    right = WIDTH - RIGHT
    split = right if not times else LEFT if not reps else LEFT + (right - LEFT) * 0.5
    low, high = min(reps, default=0.0), max(reps, default=1.0)
    room = MARGIN_FRAC * max(high - low, 1.0)
    top = float(total) if times and reps else high + room
    fast_s = min(times, default=slow_s)
    return Axis(max(0.0, low - room), top, slow_s, fast_s - MARGIN_FRAC * (slow_s - fast_s), split)


def forecast_bar(axis: Axis, outlook: Outlook) -> BandBar:
    """Return where an athlete's 80 % band lies."""
    ends = sorted(axis.x(day) for day in (outlook.good, outlook.bad))
    heaps = tuple((axis.x_reps(reps), share) for reps, share in outlook.heaps)
    return BandBar(ends[0], max(LEAST_BAR, ends[1] - ends[0]), axis.x(outlook.middle), heaps)


def axis_ticks(axis: Axis) -> list[tuple[float, str]]:
    """Return the marks of the axis with their labels."""
    ticks: list[tuple[float, str]] = []
    share = (axis.split - LEFT) / (WIDTH - LEFT - RIGHT)
    if share > 0:
        span = axis.high_reps - axis.low_reps
        step = next((s for s in ROUND_STEPS if span / s <= MOST_TICKS * share + 0.5), ROUND_STEPS[-1])
        first = -(-int(axis.low_reps) // step) * step
        values = [v for v in range(first, int(axis.high_reps) + 1, step) if v >= axis.low_reps]
        ticks += [(axis.x_reps(v), f"{v} reps" if v == values[-1] else str(v)) for v in values]
    if share < 1:
        span = axis.slow_s - axis.fast_s
        step = next((s for s in CLOCK_STEPS_S if span / s <= MOST_TICKS * (1 - share) + 0.5), CLOCK_STEPS_S[-1])
        first = -(-int(axis.fast_s) // step) * step
        ticks += [(axis.x_time(t), clock(t)) for t in range(first, int(axis.slow_s) + 1, step) if t >= axis.fast_s]
    return _apart(ticks)


def _apart(ticks: list[tuple[float, str]], least: float = 44.0) -> list[tuple[float, str]]:
    kept: list[tuple[float, str]] = []
    for tick in sorted(ticks):
        if not kept or tick[0] - kept[-1][0] >= least:
            kept.append(tick)
    return kept
