"""The command line: the same core as the pages."""

import json
import re
import sys
from pathlib import Path
from typing import Any, NoReturn

import click

from sorvek.core.errors import CoreError
from sorvek.core.lift import Aim, Crew, Typed
from sorvek.core.plan import Phase
from sorvek.core.planner import School
from sorvek.core.quantities import seconds_from_clock
from sorvek.core.workout import Library, shipped_library


def _refuse(error: CoreError) -> NoReturn:
    click.echo(f"sorvek: {error}", err=True)
    sys.exit(2)


def _text(path: Path) -> str:
    try:
        return path.read_text(encoding="utf-8")
    except UnicodeDecodeError:
        click.echo(f"sorvek: {path.name} is not UTF-8 text; save it as UTF-8", err=True)
        sys.exit(2)


def _library(path: Path | None) -> Library:
    from sorvek.store.library import read_library

    return read_library(path) if path else shipped_library()


FILE = click.Path(exists=True, dir_okay=False, path_type=Path)
DATA = click.option(
    "--data",
    type=click.Path(path_type=Path),
    default=Path("var"),
    show_default=True,
    help="Folder of the database.",
)


OWN = click.option("--movements", type=FILE, help="Your own movements (CSV), added to those that ship.")


@click.group(context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(package_name="sorvek")
def main() -> None:
    """Read a timed qualifier workout and plan it for every athlete."""


@main.command()
@click.argument("file", type=FILE)
@OWN
@click.option("--json", "as_json", is_flag=True, help="Print data instead of text.")
def read(file: Path, movements: Path | None, as_json: bool) -> None:
    """Print what can be read off a workout."""
    from sorvek.core.workout import parse_workout, read_out, workout_text
    from sorvek.paper.shell import readout_data, readout_text

    try:
        workout = parse_workout(_text(file), _library(movements))
        readout = read_out(workout)
    except CoreError as error:
        _refuse(error)
    click.echo(
        json.dumps(readout_data(readout), indent=2) if as_json else workout_text(workout) + readout_text(readout)
    )


@main.command()
@click.argument("file", type=FILE)
@click.option("--athlete", type=FILE, required=True, help="The athlete file (JSON).")
@OWN
@click.option(
    "--sets", multiple=True, metavar="N=SETS", help="Your own sets for the N-th movement: --sets '1=8/7 r6'."
)
@click.option("--keep", multiple=True, metavar="N=SETS", help="Lock the N-th movement and plan the rest around it.")
@click.option(
    "--school", type=click.Choice([s.value.replace(" ", "-") for s in School]), help="Plan by one school."
)
@click.option("--schools", is_flag=True, help="Set all schools beside the plan.")
@click.option("--json", "as_json", is_flag=True, help="Print data instead of text.")
def plan(
    file: Path,
    athlete: Path,
    movements: Path | None,
    as_json: bool,
    schools: bool,
    school: str | None,
    **typed: tuple[str, ...],
) -> None:
    """Print a plan for one athlete: sets, rests, splits, forecast."""
    from sorvek.core.advice import brief, briefing_data, compare_schools, school_plan
    from sorvek.core.athlete import read_athlete
    from sorvek.core.planner import plan_workout
    from sorvek.core.simulation import problem_for
    from sorvek.core.workout import parse_workout
    from sorvek.paper.shell import advice_data, advice_text, briefing_text

    try:
        library = _library(movements)
        problem = problem_for(parse_workout(_text(file), library), read_athlete(_text(athlete), library))
        count = len(problem.course.slots)
        chosen = plan_workout(problem, kept=_numbered(typed["keep"], count, "--keep")).plan
        if school:
            chosen = school_plan(problem, School(school.replace("-", " ")), chosen)
        for slot, phases in _numbered(typed["sets"], count, "--sets").items():
            chosen = chosen.with_slot(slot, phases)
        briefing = brief(problem, chosen)
        others = compare_schools(problem, chosen) if schools else ()
    except CoreError as error:
        _refuse(error)
    if as_json:
        click.echo(json.dumps({**briefing_data(briefing), **advice_data(briefing, others)}, indent=2))
    else:
        click.echo(briefing_text(briefing) + "\n" + advice_text(briefing, others))


ATTEMPT = re.compile(r"([\d.,]+)(?:\s*@\s*(\d+:\d\d))?(?:\s+(made|missed))?", re.IGNORECASE)


def _typed_attempts(entries: tuple[str, ...]) -> tuple[Typed, ...]:
    """Return attempts from entries such as `85`, `85@0:00` or `85@0:00 made`."""
    found = []
    for entry in entries:
        match = ATTEMPT.fullmatch(entry.strip())
        if match is None:
            raise click.BadParameter(f"“{entry}”: write 85, 85@0:40 or “85@0:40 made”", param_hint="--attempt")
        made = {"made": True, "missed": False}.get((match[3] or "").lower())
        start = seconds_from_clock(match[2]) if match[2] else None
        found.append(Typed(float(match[1].replace(",", ".")), start, made))
    return tuple(found)


@main.command()
@click.argument("file", type=FILE, required=False)
@click.option("--athlete", type=FILE, help="The athlete file (JSON); needed with a workout file.")
@click.option("--1rm", "one_rm", type=float, metavar="KG", help="One-rep maximum in kg.")
@click.option("--goal", type=float, metavar="KG", help="Load to reach.")
@click.option("--window", default="5:00", show_default=True, help="Length of the window without a workout file.")
@click.option("--opening", type=float, metavar="KG", help="Load of the first attempt.")
@click.option("--aim", type=click.Choice([a.value for a in (Aim.LOAD, Aim.GOAL)]), default=Aim.LOAD.value)
@click.option("--crew", type=click.Choice([c.value for c in Crew]), default=Crew.ONE.value, show_default=True)
@click.option("--gym", type=FILE, help="Bars, collars and plates as text; a usual set otherwise.")
@click.option("--bar", default="", help="Which bar, as 20 or “45 lb”.")
@click.option("--attempt", multiple=True, metavar="LOAD[@START] [made|missed]", help="Fix an attempt.")
@OWN
@click.option("--json", "as_json", is_flag=True, help="Print data instead of text.")
def lift(file: Path | None, athlete: Path | None, gym: Path | None, as_json: bool, **asked: Any) -> None:
    """Print attempts for a max lift: after a workout FILE, or alone with --1rm or --goal."""
    from sorvek.core.athlete import read_athlete
    from sorvek.core.lift import USUAL_GYM, LiftTask, Wishes, compare_attempts, lift_setup, parse_gym
    from sorvek.core.planner import plan_workout
    from sorvek.core.simulation import problem_for, run_plan
    from sorvek.core.workout import Form, parse_workout
    from sorvek.paper.shell import attempts_data, attempts_text

    if (file is None) != (athlete is None):
        raise click.UsageError("a workout file and --athlete belong together")
    if file is None and asked["one_rm"] is None and asked["goal"] is None:
        raise click.UsageError("give a workout file with --athlete, or --1rm, or --goal")
    try:
        hall = parse_gym(_text(gym) if gym else USUAL_GYM)
        typed = _typed_attempts(asked["attempt"])
        aim, crew, bar = Aim(asked["aim"]), Crew(asked["crew"]), asked["bar"]
        if file and athlete:
            library = _library(asked["movements"])
            workout, person = parse_workout(_text(file), library), read_athlete(_text(athlete), library)
            tank = None
            if workout.form is not Form.LIFT:
                problem = problem_for(workout, person)
                tank = run_plan(problem, plan_workout(problem).plan).tank
            wishes = Wishes(asked["one_rm"], asked["goal"], aim, asked["opening"], crew, bar, typed)
            task = lift_setup(workout, person, hall, wishes, tank).task
        else:
            task = LiftTask(
                one_rep_max_kg=asked["one_rm"] or asked["goal"],
                window_s=seconds_from_clock(asked["window"]),
                gym=hall,
                bar=hall.bar(bar),
                crew=crew,
                aim=aim,
                goal_kg=asked["goal"],
                opening_kg=asked["opening"],
            )
        best, schools = compare_attempts(task, typed)
    except CoreError as error:
        _refuse(error)
    except ValueError as error:
        raise click.BadParameter(str(error), param_hint="--window") from error
    text = json.dumps(attempts_data(best, schools), indent=2) if as_json else attempts_text(task, best, schools)
    click.echo(text)


def _numbered(entries: tuple[str, ...], count: int, option: str) -> dict[int, tuple[Phase, ...]]:
    """Return phases by slot from entries such as `2=8/7 r6`, movements counted from 1."""
    from sorvek.core.plan import parse_shorthand

    found = {}
    for entry in entries:
        number, _, text = entry.partition("=")
        if not number.strip().isdigit() or not 1 <= int(number) <= count:
            raise click.BadParameter(
                f"“{entry}”: give a movement from 1 to {count}, as 1=8/7 r6", param_hint=option
            )
        found[int(number) - 1] = parse_shorthand(text)
    return found


def _serve(data: Path, host: str, port: int, demo: bool) -> None:
    from waitress import create_server

    from sorvek.web import create_app

    try:
        app = create_app(data / ("demo.db" if demo else "sorvek.db"), demo=demo)
    except CoreError as error:
        _refuse(error)
    try:
        server = create_server(app, host=host, port=port, threads=4, ident=None)
    except OSError as error:
        click.echo(f"sorvek: port {port} cannot be used ({error.strerror}); choose another with --port", err=True)
        sys.exit(2)
    app.extensions["planner"].get_ready()
    click.echo(f"Sorvek is at http://{host}:{server.effective_port}/  (stop with Ctrl-C)")
    server.run()


HOST = click.option("--host", default="127.0.0.1", show_default=True, help="Address to listen on.")
PORT = click.option("--port", default=8173, show_default=True, help="Port; 0 takes any free one.")


@main.command()
@DATA
@HOST
@PORT
def demo(data: Path, host: str, port: int) -> None:
    """Start with the demo club."""
    _serve(data, host, port, demo=True)


@main.command()
@DATA
@HOST
@PORT
def serve(data: Path, host: str, port: int) -> None:
    """Start with your own data."""
    _serve(data, host, port, demo=False)


@main.command()
@click.option("--quick", is_flag=True, help="Fewer repetitions.")
@click.option("--out", type=click.Path(path_type=Path), default=Path("bench.json"), show_default=True)
def bench(quick: bool, out: Path) -> None:
    """Measure the figures of docs/performance.md on this machine."""
    from sorvek.bench import run

    click.echo(run(quick=quick, out=out))
