"""A lane at the bar: which attempts were lifted, when the window is open, what comes next."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np

from sorvek.core.constants import ATTEMPT_S
from sorvek.core.lift import LONGEST_WINDOW_S, Ahead, LiftTask, Platform, Typed
from sorvek.core.live.taps import ATTEMPTS, LaneState, Tap, TapKind, standing_taps
from sorvek.core.workout import NO_LIMIT_S, Course, Workout


@dataclass(frozen=True, slots=True)
class Lifted:
    """An attempt as it was tapped: of which lift (from 1), the load, whether it counts, when it was over."""

    number: int
    load_kg: float
    made: bool
    at_s: float
    tap: str


class OpenWindow(NamedTuple):
    """When the window of a lift opens and closes, in s on the heat's clock."""

    opens_s: float
    closes_s: float


@dataclass(frozen=True, slots=True)
class LiftState:
    """A lane's lifts as the taps leave them: the attempts of all, which lift is on (from 1), its window and future.

    `bests_kg` has the best of every lift, 0 for none; `last_closes_s` is when the last window closes.
    """

    done: tuple[Lifted, ...]
    number: int
    window: OpenWindow
    ahead: Ahead
    bests_kg: tuple[float, ...]
    last_closes_s: float

    def over(self, now_s: float) -> bool:
        """Return whether the last window is closed, or nothing is left to lift in it."""
        return now_s >= self.last_closes_s or (self.number == len(self.bests_kg) and self.ahead.attempt is None)

    @property
    def tries(self) -> int:
        """Return how many attempts the lift that is on has seen."""
        return sum(one.number == self.number for one in self.done)


def work_begins_s(workout: Workout) -> float:
    """Return when the work begins on the heat's clock: after a lift that comes before it."""
    lift = workout.lift
    return lift.rest_s + sum(one.window_s for one in workout.lifts) if lift and lift.first else 0.0


def on_works_clock(taps: Iterable[Tap], begins_s: float) -> tuple[Tap, ...]:
    """Return taps by the clock of the work, which begins at a time of the heat's clock."""
    return tuple(tap if tap.kind in ATTEMPTS else replace(tap, at_s=tap.at_s - begins_s) for tap in taps)


def lift_windows(workout: Workout, course: Course | None, state: LaneState | None) -> tuple[OpenWindow, ...]:
    """Return the windows of a workout's lifts; one after the work opens when that is done or its time is up.

    `course` and `state` are those of the work, None for a lift alone. Empty while nobody can say when one opens.
    """
    opens_s, found = 0.0, []
    if course is not None and state is not None and workout.lift and not workout.lift.first:
        opens_s = state.last_s if state.finished(course) else course.segments[-1].deadline_s
    for lift in workout.lifts:
        lasts_s = lift.lasts_s(opens_s)
        opens_s += 0.0 if lift.first else lift.pause_s(opens_s)
        found.append(OpenWindow(opens_s, opens_s + lasts_s))
        opens_s += lasts_s
    return () if opens_s >= NO_LIMIT_S else tuple(found)


class LaneLift:
    """Follows the lifts of one lane. All it holds follows from the taps."""

    def __init__(self, tasks: Sequence[LiftTask]) -> None:
        """Make ready for the lifts of a workout, one or two that are added up.

        Raises: OutOfRangeError, LiftError or PlatesError naming what cannot be and what to change.
        """
        self._tasks = tuple(tasks)
        self._platforms = {(number, task.window_s): Platform(task) for number, task in enumerate(tasks, 1)}
        self._latest: tuple[tuple[int, OpenWindow, tuple[Typed, ...]], Ahead] | None = None

    def see(self, taps: Iterable[Tap], windows: Sequence[OpenWindow], now_s: float) -> LiftState | None:
        """Return the lifts as taps leave them at a time of the heat's clock, None while no window is known."""
        if not windows:
            return None
        done = lifted(taps, windows)
        number = _number(windows, now_s)
        window, rows = windows[number - 1], typed_rows(done, windows, number)
        bests_kg = tuple(
            max((one.load_kg for one in done if one.made and one.number == at), default=0.0)
            for at in range(1, len(windows) + 1)
        )
        if self._latest is None or self._latest[0] != (number, window, rows):
            self._latest = (number, window, rows), self._ahead(number, window, rows)
        return LiftState(done, number, window, self._latest[1], bests_kg, windows[-1].closes_s)

    def _ahead(self, number: int, window: OpenWindow, rows: tuple[Typed, ...]) -> Ahead:
        """Return what is left of a lift in its window, which may be longer or shorter than was planned.

        Where the work leaves less than an attempt takes, nothing is: the best that was lifted stands.
        """
        task, lasts_s = self._tasks[number - 1], window.closes_s - window.opens_s
        if lasts_s < ATTEMPT_S:
            best_kg = max((row.load_kg or 0.0 for row in rows if row.made), default=0.0)
            return Ahead(None, ((best_kg, 1.0),))
        if task.given or abs(lasts_s - task.window_s) < 1.0:
            lasts_s = task.window_s
        lasts_s = min(LONGEST_WINDOW_S, lasts_s)
        if (number, lasts_s) not in self._platforms:
            self._platforms[number, lasts_s] = Platform(replace(task, window_s=lasts_s))
        return self._platforms[number, lasts_s].ahead(rows)

    def simulated(
        self, taps: Sequence[Tap], windows: Sequence[OpenWindow], seed: int, until_s: float
    ) -> tuple[Tap, ...]:
        """Return the attempts a simulated athlete makes after those that were tapped, up to a time of the clock."""
        new: list[Tap] = []
        for window in windows:
            while (state := self.see((*taps, *new), windows, window.closes_s)) is not None:
                tap = _attempt(state, seed)
                if tap is None or tap.at_s >= window.closes_s + ATTEMPT_S:
                    break
                if tap.at_s > until_s:
                    return tuple(new)
                new.append(tap)
        return tuple(new)


def lifted(taps: Iterable[Tap], windows: Sequence[OpenWindow]) -> tuple[Lifted, ...]:
    """Return the attempts of all lifts as they were tapped; none while no window is known."""
    return tuple(
        Lifted(_number(windows, tap.at_s), tap.load_kg, tap.kind is TapKind.MADE, tap.at_s, tap.id)
        for tap in standing_taps(taps)
        if tap.kind in ATTEMPTS and windows
    )


def typed_rows(done: Iterable[Lifted], windows: Sequence[OpenWindow], number: int) -> tuple[Typed, ...]:
    """Return the attempts at one lift (from 1) by the clock of its window."""
    early_s = ATTEMPT_S + (windows[number - 1].opens_s if windows else 0.0)
    return tuple(Typed(one.load_kg, max(0.0, one.at_s - early_s), one.made) for one in done if one.number == number)


def _number(windows: Sequence[OpenWindow], at_s: float) -> int:
    """Return which lift an attempt belongs to that was over at a time: it began inside the window."""
    over = sum(at_s >= window.closes_s + ATTEMPT_S for window in windows)
    return min(over + 1, len(windows))


def _attempt(state: LiftState, seed: int) -> Tap | None:
    """Return the next attempt of a simulated athlete: the load that is called, made as often as is believed."""
    attempt = state.ahead.attempt
    if attempt is None:
        return None
    luck = np.random.Generator(np.random.PCG64([seed, len(state.done), state.number])).random()
    kind = TapKind.MADE if luck < attempt.chance else TapKind.MISSED
    ends_s = state.window.opens_s + attempt.start_s + ATTEMPT_S
    return Tap(f"stand-in-lift-{len(state.done) + 1}", kind, ends_s, load_kg=attempt.load_kg)
