"""Commands about a workout: what it says, a plan for one athlete, attempts for a max lift."""

import json
from pathlib import Path
from typing import Any

import click

from sorvek.cli.options import (
    FILE,
    OWN,
    LoadType,
    library_of,
    numbered_sets,
    readout_of,
    refuse,
    text_of,
    typed_attempts,
)
from sorvek.core.advice import brief, briefing_data, compare_schools, compare_tempers, school_plan
from sorvek.core.athlete import read_athlete
from sorvek.core.errors import CoreError
from sorvek.core.lift import (
    USUAL_GYM,
    Aim,
    Crew,
    LiftTask,
    Total,
    Typed,
    Wishes,
    compare_attempts,
    lift_setup,
    parse_gym,
)
from sorvek.core.planner import School, Temper, plan_workout
from sorvek.core.quantities import seconds_from_clock
from sorvek.core.simulation import problem_for, run_plan
from sorvek.core.workout import Form, read_announcement, read_workout
from sorvek.paper.shell import (
    advice_data,
    advice_text,
    attempts_data,
    attempts_text,
    briefing_text,
    reading_data,
    readout_data,
    readout_text,
)
from sorvek.paper.words import load_words

AS_JSON = click.option("--json", "as_json", is_flag=True, help="Print data instead of text.")


@click.command()
@click.argument("file", type=FILE)
@OWN
@click.option("--notation", is_flag=True, help="Print only the notation, doubts as “# ?” lines in their place.")
@click.option("--prose", is_flag=True, help="Read the file as prose, whatever it looks like.")
@AS_JSON
def read(file: Path, movements: Path | None, notation: bool, prose: bool, as_json: bool) -> None:
    """Print what can be read off a workout: notation, or an announcement in prose."""
    library = library_of(movements)
    try:
        reading = read_announcement(text_of(file), library, prose)
        if notation and not as_json and reading.found:
            click.echo(reading.text, nl=False)
            return
        readout = read_workout(reading.text, library)
    except CoreError as error:
        refuse(error)
    text = reading.text + readout_text(readout)
    click.echo(json.dumps({**readout_data(readout), **reading_data(reading)}, indent=2) if as_json else text)


@click.command()
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
@click.option(
    "--temper",
    type=click.Choice([t.value for t in Temper]),
    default=Temper.STEADY.value,
    help="What counts: safe (the score of four days in five), steady (the mean), attack (one day in four).",
)
@click.option("--schools", is_flag=True, help="Set all schools beside the plan.")
@AS_JSON
def plan(
    file: Path,
    athlete: Path,
    movements: Path | None,
    as_json: bool,
    schools: bool,
    school: str | None,
    temper: str,
    **typed: tuple[str, ...],
) -> None:
    """Print a plan for one athlete: sets, rests, splits, forecast."""
    try:
        library = library_of(movements)
        workout = readout_of(file, library).workout
        problem = problem_for(workout, read_athlete(text_of(athlete), library))
        count = len(problem.course.slots)
        kept = numbered_sets(typed["keep"], count, "--keep")
        (result,) = compare_tempers(problem, plan_workout(problem, kept).plan, (Temper(temper),), kept)
        chosen = result.briefing.plan
        if school:
            chosen = school_plan(problem, School(school.replace("-", " ")), chosen)
        for slot, phases in numbered_sets(typed["sets"], count, "--sets").items():
            chosen = chosen.with_slot(slot, phases)
        briefing = brief(problem, chosen)
        others = compare_schools(problem, chosen) if schools else ()
    except CoreError as error:
        refuse(error)
    if as_json:
        data = {**briefing_data(briefing), "temper": temper, **advice_data(briefing, others)}
        click.echo(json.dumps(data, indent=2))
    else:
        click.echo(briefing_text(briefing) + "\n" + advice_text(briefing, others))


def _lift_tasks(
    file: Path | None, athlete: Path | None, gym: Path | None, typed: tuple[Typed, ...], **asked: Any
) -> list[LiftTask]:
    """Return the tasks asked for: one alone, or those of a workout."""
    hall = parse_gym(text_of(gym) if gym else USUAL_GYM)
    aim, crew, bar, temper = Aim(asked["aim"]), Crew(asked["crew"]), asked["bar"], Temper(asked["temper"])
    if file is None or athlete is None:
        task = LiftTask(
            one_rep_max_kg=asked["one_rm"] or asked["goal"],
            window_s=seconds_from_clock(asked["window"]),
            gym=hall,
            bar=hall.bar(bar),
            crew=crew,
            aim=aim,
            goal_kg=asked["goal"],
            opening_kg=asked["opening"],
            temper=temper,
        )
        return [task]
    library = library_of(asked["movements"])
    workout, person = readout_of(file, library).workout, read_athlete(text_of(athlete), library)
    tank = None
    if workout.form is not Form.LIFT and workout.lift and not workout.lift.first:
        problem = problem_for(workout, person)
        tank = run_plan(problem, plan_workout(problem).plan).tank
    own = Wishes(asked["one_rm"], asked["goal"], aim, asked["opening"], crew, bar, temper, typed)
    numbers = range(1, max(1, len(workout.lifts)) + 1)
    wishes = [own if number == asked["part"] else Wishes(crew=crew, bar=bar, temper=temper) for number in numbers]
    return [lift_setup(workout, person, hall, wishes[n - 1], tank, number=n).task for n in numbers]


@click.command()
@click.argument("file", type=FILE, required=False)
@click.option("--athlete", type=FILE, help="The athlete file (JSON); needed with a workout file.")
@click.option("--1rm", "one_rm", type=LoadType(), metavar="LOAD", help="One-rep maximum, as 100 or 225lb.")
@click.option("--goal", type=LoadType(), metavar="LOAD", help="Load to reach.")
@click.option("--window", default="5:00", show_default=True, help="Length of the window without a workout file.")
@click.option("--opening", type=LoadType(), metavar="LOAD", help="Load of the first attempt.")
@click.option(
    "--temper", type=click.Choice([t.value for t in Temper]), default=Temper.STEADY.value, show_default=True
)
@click.option("--aim", type=click.Choice([a.value for a in (Aim.LOAD, Aim.GOAL)]), default=Aim.LOAD.value)
@click.option("--crew", type=click.Choice([c.value for c in Crew]), default=Crew.ONE.value, show_default=True)
@click.option("--gym", type=FILE, help="Bars, collars and plates as text; a usual set otherwise.")
@click.option("--bar", default="", help="Which bar, as 20 or “45 lb”.")
@click.option("--attempt", multiple=True, metavar="LOAD[@START] [made|missed]", help="Fix an attempt.")
@click.option("--part", type=click.IntRange(1, 2), default=1, help="Which of two lifts the options are for.")
@OWN
@AS_JSON
def lift(file: Path | None, athlete: Path | None, gym: Path | None, as_json: bool, **asked: Any) -> None:
    """Print attempts for a max lift: after a workout FILE, or alone with --1rm or --goal."""
    if (file is None) != (athlete is None):
        raise click.UsageError("a workout file and --athlete belong together")
    if file is None and asked["one_rm"] is None and asked["goal"] is None:
        raise click.UsageError("give a workout file with --athlete, or --1rm, or --goal")
    try:
        typed = typed_attempts(asked["attempt"])
        tasks = _lift_tasks(file, athlete, gym, typed, **asked)
        found = [compare_attempts(task, typed if n == asked["part"] else ()) for n, task in enumerate(tasks, 1)]
    except CoreError as error:
        refuse(error)
    except ValueError as error:
        raise click.BadParameter(str(error), param_hint="--window") from error
    total, unit = Total(tuple(plan for plan, _ in found)), tasks[0].gym.unit
    if as_json:
        data = [attempts_data(plan, schools) for plan, schools in found]
        added = {f"p{share:.0%}"[:-1]: round(total.quantile(share), 2) for share in (0.1, 0.5, 0.9)}
        click.echo(json.dumps(data[0] if len(data) == 1 else {"lifts": data, "total": added}, indent=2))
        return
    for task, (plan, schools) in zip(tasks, found, strict=True):
        click.echo(attempts_text(task, plan, schools, unit))
    if len(found) > 1:
        low, middle, high = (load_words(total.quantile(share), unit) for share in (0.1, 0.5, 0.9))
        click.echo(f"Both added up {middle} on a middle day, {low} to {high} on 8 days of 10")
