"""The command line: the same core as the pages."""

import json
import sys
from pathlib import Path
from typing import NoReturn

import click

from sorvek.core.errors import CoreError
from sorvek.core.movements import Library, shipped_library
from sorvek.core.plan import Phase
from sorvek.core.set_rules import School


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
    from sorvek.core.notation import parse_workout
    from sorvek.core.notation_print import workout_text
    from sorvek.core.readout import read_out
    from sorvek.printing import readout_data, readout_text

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
    from sorvek.core.athlete_file import read_athlete
    from sorvek.core.briefing import brief, briefing_data, problem_for
    from sorvek.core.notation import parse_workout
    from sorvek.core.planner import plan_workout
    from sorvek.core.schools import compare_schools, school_plan
    from sorvek.printing import advice_data, advice_text, briefing_text

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


def _numbered(entries: tuple[str, ...], count: int, option: str) -> dict[int, tuple[Phase, ...]]:
    """Return phases by slot from entries such as `2=8/7 r6`, movements counted from 1."""
    from sorvek.core.shorthand import parse_shorthand

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
