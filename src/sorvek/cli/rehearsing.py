"""A heat without anybody in it: a simulated athlete taps through a workout, and what the floor would say."""

import json
import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import click

from sorvek.cli.options import FILE, OWN, library_of, readout_of, refuse, text_of
from sorvek.core.athlete import Athlete, read_athlete
from sorvek.core.errors import CoreError
from sorvek.core.lift import USUAL_GYM, Ahead, Wishes, lift_setup, parse_gym
from sorvek.core.live import (
    LaneLift,
    LaneState,
    Lifted,
    LiveForecast,
    Tap,
    TapKind,
    days_at_start,
    fold,
    lift_windows,
    live_forecast,
    observe,
    rehearse,
    work_begins_s,
)
from sorvek.core.plan import Plan
from sorvek.core.planner import plan_workout
from sorvek.core.quantities import clock, plain
from sorvek.core.simulation import Problem, problem_for, run_plan
from sorvek.core.workout import Form, Workout

FASTEST, TITLE_WIDTH, LONGEST_S = 1000.0, 34, 1e9


@dataclass(frozen=True, slots=True)
class Worked:
    """The work of a rehearsal: as planned, as tapped, and how the taps leave it."""

    problem: Problem
    plan: Plan
    taps: tuple[Tap, ...]

    @property
    def state(self) -> LaneState:
        """Return how the work ended."""
        return fold(self.problem.course, self.plan, self.taps)


@dataclass(frozen=True, slots=True)
class HeatEvent:
    """One tap of a rehearsal with the lane after it and the forecast from there (None when all is done).

    `at_s` is its time on the heat's clock.
    """

    problem: Problem
    at_s: float
    tap: Tap
    state: LaneState
    forecast: LiveForecast | None


def _events(work: Worked, begins_s: float) -> Iterator[HeatEvent]:
    problem, plan, taps = work.problem, work.plan, work.taps
    days, before = days_at_start(problem), LaneState(plan)
    for i, tap in enumerate(taps):
        # A broken set counts once its reps are told, which is the tap behind it.
        if i + 1 < len(taps) and taps[i + 1].of == tap.id:
            continue
        state = fold(problem.course, plan, taps[: i + 1])
        over = state.finished(problem.course)
        if len(state.done) > len(before.done):
            days = observe(problem, before.plan, days, state.done[len(before.done) :])
        told = None if over else live_forecast(problem, state.plan, days)
        yield HeatEvent(problem, tap.at_s + begins_s, tap, state, told)
        before = state


def _what(event: HeatEvent) -> str:
    if event.tap.kind is TapKind.PLAN:
        return "the rest planned again"
    one, course = event.state.done[-1], event.problem.course
    label = course.slots[course.segments[one.segment].slot].label
    return f"{one.reps} {label}" + (", broken" if one.broken else "")


def _band(told: LiveForecast | None) -> str:
    if told is None:
        return "done"
    if told.timed:
        return f"{clock(told.p50)} ({clock(told.p10)}–{clock(told.p90)})"
    return f"{told.p50:.0f} reps ({told.p10:.0f}–{told.p90:.0f})"


def _line(event: HeatEvent) -> str:
    reps, what = event.state.reps(event.problem.course), _what(event)
    return f"{clock(event.at_s):>6}  {what:<{TITLE_WIDTH}}{reps:>5} reps   {_band(event.forecast)}"


def _data(event: HeatEvent) -> str:
    told, course = event.forecast, event.problem.course
    return json.dumps(
        {
            "at_s": round(event.at_s, 2),
            "kind": event.tap.kind.value,
            "what": _what(event),
            "reps": event.state.reps(course),
            "finished": event.state.finished(course),
            "forecast": None
            if told is None
            else {"p10": told.p10, "p50": told.p50, "p90": told.p90, "unit": "s" if told.timed else "reps"},
        }
    )


@dataclass(frozen=True, slots=True)
class LiftEvent:
    """One attempt of a rehearsal, and what is expected of the lift after it."""

    attempt: Lifted
    words: str
    ahead: Ahead


def _lift_events(workout: Workout, athlete: Athlete, work: Worked | None, seed: int) -> Iterator[LiftEvent]:
    """Return the attempts at the max lifts of a workout, none where it has none."""
    gym = parse_gym(USUAL_GYM)
    tank = run_plan(work.problem, work.plan).tank if work else None
    numbers = range(1, len(workout.lifts) + 1)
    lane = LaneLift([lift_setup(workout, athlete, gym, Wishes(), tank, number=n).task for n in numbers])
    course, state = (work.problem.course, work.state) if work else (None, None)
    windows = lift_windows(workout, course, state)
    taps = lane.simulated((), windows, seed, LONGEST_S)
    for i, tap in enumerate(taps, 1):
        seen = lane.see(taps[:i], windows, tap.at_s)
        if seen:
            attempt = seen.done[-1]
            yield LiftEvent(attempt, workout.lifts[attempt.number - 1].words, seen.ahead)


def _lift_line(event: LiftEvent) -> str:
    low, middle, high = (plain(event.ahead.quantile(share)) for share in (0.1, 0.5, 0.9))
    one = event.attempt
    what = f"{event.words}, {plain(one.load_kg)} kg"
    result = "made" if one.made else "missed"
    return f"{clock(one.at_s):>6}  {what:<{TITLE_WIDTH}}{result:>10}   {middle} kg ({low}–{high})"


def _lift_data(event: LiftEvent) -> str:
    one = event.attempt
    low, middle, high = (event.ahead.quantile(share) for share in (0.1, 0.5, 0.9))
    return json.dumps(
        {
            "at_s": round(one.at_s, 2),
            "kind": "made" if one.made else "missed",
            "what": event.words,
            "load_kg": one.load_kg,
            "finished": event.ahead.attempt is None,
            "forecast": {"p10": low, "p50": middle, "p90": high, "unit": "kg"},
        }
    )


@click.command("rehearse")
@click.argument("file", type=FILE)
@click.option("--athlete", type=FILE, required=True, help="The athlete file (JSON).")
@OWN
@click.option("--speed", type=click.FloatRange(1, FASTEST), help="Print at so many times the clock; else at once.")
@click.option("--seed", type=click.IntRange(0, 2**31), default=1, show_default=True, help="Which day it is.")
@click.option("--fixed", is_flag=True, help="Hold the plan; do not plan the rest again on the way.")
@click.option("--json", "as_json", is_flag=True, help="Print an object a line instead of text.")
def rehearse_heat(
    file: Path,
    athlete: Path,
    movements: Path | None,
    speed: float | None,
    seed: int,
    fixed: bool,
    as_json: bool,
) -> None:
    """Print a heat in which a simulated athlete with hidden numbers follows the plan, set by set."""
    try:
        library = library_of(movements)
        workout, person = readout_of(file, library).workout, read_athlete(text_of(athlete), library)
        work = None
        if workout.form is not Form.LIFT:
            problem = problem_for(workout, person)
            plan = plan_workout(problem).plan
            work = Worked(problem, plan, rehearse(problem, plan, seed, coached=not fixed))
        lifts = list(_lift_events(workout, person, work, seed))
    except CoreError as error:
        refuse(error)
    begins_s = work_begins_s(workout)
    said = [(event.attempt.at_s, _lift_data(event) if as_json else _lift_line(event)) for event in lifts]
    for event in _events(work, begins_s) if work else ():
        said.append((event.at_s, _data(event) if as_json else _line(event)))
    begun = time.monotonic()
    for at_s, line in sorted(said, key=lambda one: one[0]):
        if speed:
            time.sleep(max(0.0, begun + at_s / speed - time.monotonic()))
        click.echo(line)
