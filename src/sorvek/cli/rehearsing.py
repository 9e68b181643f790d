"""A heat without anybody in it: a simulated athlete taps through a workout, and what the floor would say."""

import json
import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import click

from sorvek.cli.options import FILE, OWN, library_of, readout_of, refuse, text_of
from sorvek.core.athlete import read_athlete
from sorvek.core.errors import CoreError
from sorvek.core.live import (
    LaneState,
    LiveForecast,
    Tap,
    TapKind,
    days_at_start,
    fold,
    live_forecast,
    observe,
    rehearse,
)
from sorvek.core.plan import Plan
from sorvek.core.planner import plan_workout
from sorvek.core.quantities import clock
from sorvek.core.simulation import Problem, problem_for

FASTEST, TITLE_WIDTH = 1000.0, 34


@dataclass(frozen=True, slots=True)
class HeatEvent:
    """One tap of a rehearsal with the lane after it and the forecast from there (None when all is done)."""

    tap: Tap
    state: LaneState
    forecast: LiveForecast | None


def _events(problem: Problem, plan: Plan, taps: tuple[Tap, ...]) -> Iterator[HeatEvent]:
    days, before = days_at_start(problem), LaneState(plan)
    for i, tap in enumerate(taps):
        # A broken set counts once its reps are told, which is the tap behind it.
        if i + 1 < len(taps) and taps[i + 1].of == tap.id:
            continue
        state = fold(problem.course, plan, taps[: i + 1])
        over = state.finished(problem.course)
        if len(state.done) > len(before.done):
            days = observe(problem, before.plan, days, state.done[len(before.done) :])
        yield HeatEvent(tap, state, None if over else live_forecast(problem, state.plan, days))
        before = state


def _what(problem: Problem, event: HeatEvent) -> str:
    if event.tap.kind is TapKind.PLAN:
        return "the rest planned again"
    one = event.state.done[-1]
    label = problem.course.slots[problem.course.segments[one.segment].slot].label
    return f"{one.reps} {label}" + (", broken" if one.broken else "")


def _band(told: LiveForecast | None) -> str:
    if told is None:
        return "done"
    if told.timed:
        return f"{clock(told.p50)} ({clock(told.p10)}–{clock(told.p90)})"
    return f"{told.p50:.0f} reps ({told.p10:.0f}–{told.p90:.0f})"


def _line(problem: Problem, event: HeatEvent) -> str:
    reps, what = event.state.reps(problem.course), _what(problem, event)
    return f"{clock(event.tap.at_s):>6}  {what:<{TITLE_WIDTH}}{reps:>5} reps   {_band(event.forecast)}"


def _data(problem: Problem, event: HeatEvent) -> str:
    told = event.forecast
    return json.dumps(
        {
            "at_s": round(event.tap.at_s, 2),
            "kind": event.tap.kind.value,
            "what": _what(problem, event),
            "reps": event.state.reps(problem.course),
            "finished": event.state.finished(problem.course),
            "forecast": None
            if told is None
            else {"p10": told.p10, "p50": told.p50, "p90": told.p90, "unit": "s" if told.timed else "reps"},
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
        problem = problem_for(readout_of(file, library).workout, read_athlete(text_of(athlete), library))
        plan = plan_workout(problem).plan
        taps = rehearse(problem, plan, seed, coached=not fixed)
    except CoreError as error:
        refuse(error)
    begun = time.monotonic()
    for event in _events(problem, plan, taps):
        if speed:
            time.sleep(max(0.0, begun + event.tap.at_s / speed - time.monotonic()))
        click.echo(_data(problem, event) if as_json else _line(problem, event))
