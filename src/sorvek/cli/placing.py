"""The command about many athletes: tiers of a roster on a workout, each with the plan that serves it."""

import json
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from pathlib import Path

import click

from sorvek.cli.batching import MOST_PEOPLE, plans_in
from sorvek.cli.options import FILE, OWN, library_of, readout_of, refuse, text_of
from sorvek.cli.planning import AS_JSON
from sorvek.core.athlete import Athlete, flagged_movements, read_roster
from sorvek.core.club import MOST_TIERS, Following, plan_tiers
from sorvek.core.errors import CoreError
from sorvek.core.plan import Plan, shorthand
from sorvek.core.planner import plan_workout
from sorvek.core.simulation import problem_for
from sorvek.core.workout import Workout
from sorvek.paper.shell import Followed, FollowedTier, followed, tiers_data, tiers_text

# Athletes a worker gets at once.
CHUNK = 8


def _own_plan(workout: Workout, athlete: Athlete) -> Plan:
    return plan_workout(problem_for(workout, athlete)).plan


def _followed(workout: Workout, plan: Plan, member: tuple[Athlete, Plan, Following]) -> Followed:
    athlete, own, following = member
    return followed(problem_for(workout, athlete), own, plan, following)


def _tiers(
    workout: Workout, athletes: list[Athlete], count: int | None, known: dict[str, Plan] | None
) -> list[FollowedTier]:
    """Return the tiers; plans that are not `known` and forecasts are worked out on all processors."""
    with ProcessPoolExecutor() as pool:
        if known is None:
            plans = list(pool.map(partial(_own_plan, workout), athletes, chunksize=CHUNK))
        else:
            athletes = [athlete for athlete in athletes if athlete.name in known]
            plans = [known[athlete.name] for athlete in athletes]
        problems = [problem_for(workout, athlete) for athlete in athletes]
        found = []
        for tier in plan_tiers(problems, plans, count):
            members = [(athletes[i], plans[i], how) for i, how in zip(tier.members, tier.following, strict=True)]
            followers = tuple(pool.map(partial(_followed, workout, tier.plan), members, chunksize=CHUNK))
            labels = problems[tier.members[0]].course.labels()
            schemes = tuple(shorthand(phases) for phases in tier.plan.slots)
            found.append(FollowedTier(tuple(zip(labels, schemes, strict=True)), followers))
    return found


@click.command()
@click.argument("file", type=FILE)
@click.option("--roster", type=FILE, required=True, help="The roster (CSV), as Roster takes and gives it.")
@click.option("--tiers", "count", type=click.IntRange(1, 2 * MOST_TIERS), help="How many; else as few as serve.")
@click.option("--plans", type=FILE, help="What plan-roster has written for this roster; else all are planned now.")
@OWN
@AS_JSON
def place(
    file: Path, roster: Path, count: int | None, plans: Path | None, movements: Path | None, as_json: bool
) -> None:
    """Print the tiers of a roster on a workout: the plan of each, who follows it, and what that costs."""
    try:
        library = library_of(movements)
        workout = readout_of(file, library).workout
        found = read_roster(text_of(roster), library, {}, most=MOST_PEOPLE)
        if found.errors:
            worst = found.errors[0]
            raise click.BadParameter(
                f"row {worst.row}, {worst.column}: {worst.problem}; nobody is placed until it is mended",
                param_hint="--roster",
            )
        flagged = {a.name: flagged_movements(workout, a) for a in found.athletes}
        taking = [athlete for athlete in found.athletes if not flagged[athlete.name]]
        if not taking:
            raise click.BadParameter("nobody is left to place", param_hint="--roster")
        known = plans_in(plans, text_of(file), taking) if plans else None
        tiers = _tiers(workout, taking, count, known)
    except CoreError as error:
        refuse(error)
    held = {name: list(names) for name, names in flagged.items() if names}
    title = workout.title
    click.echo(json.dumps(tiers_data(title, tiers, held), indent=2) if as_json else tiers_text(title, tiers, held))
