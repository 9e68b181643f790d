"""The command about very many athletes: a plan each, written as they come, on this machine or on a cluster."""

import hashlib
import json
import time
from collections.abc import Iterator, Mapping, Sequence
from concurrent.futures import Future, as_completed
from concurrent.futures.process import BrokenProcessPool
from dataclasses import asdict
from functools import lru_cache
from pathlib import Path
from typing import Any, NamedTuple

import click

from sorvek.actions.executors import ExecutorError, opener_of
from sorvek.cli.options import FILE, OWN, library_of, readout_of, refuse, text_of
from sorvek.core.athlete import Athlete, athlete_data, athlete_from_data, flagged_movements, read_roster
from sorvek.core.club import MODEL, plan_of, plan_outlook
from sorvek.core.errors import CoreError
from sorvek.core.plan import Plan
from sorvek.core.simulation import problem_for
from sorvek.core.workout import Library, Workout, read_workout

# Athletes a worker gets at once: a second of work, so that handing them over is a small part of it.
CHUNK = 8
# Longer rosters than this are split by hand; a page takes far fewer.
MOST_PEOPLE = 100_000
# A pool whose worker was killed is made anew so often before the command gives up.
MOST_POOLS = 5


class PlannedLine(NamedTuple):
    """An athlete's line in the file of plans: `key` says of which workout, numbers and model it is."""

    name: str
    key: str
    outlook: dict[str, Any] | None
    problem: str

    def text(self) -> str:
        """Return the line as it is written."""
        found = {"name": self.name, "key": self.key}
        return json.dumps(found | ({"outlook": self.outlook} if self.outlook else {"problem": self.problem}))


def key_of(workout_text: str, athlete: Athlete) -> str:
    """Return what differs whenever a plan could: the workout's text, the athlete's numbers, the model."""
    told = json.dumps([workout_text, athlete_data(athlete), MODEL], sort_keys=True)
    return hashlib.sha256(told.encode()).hexdigest()[:20]


@lru_cache(maxsize=4)
def _opened(workout_text: str, library: Library) -> Workout:
    return read_workout(workout_text, library).workout


def plan_chunk(workout_text: str, library: Library, athletes: Sequence[dict[str, object]]) -> list[PlannedLine]:
    """Return the lines of some athletes. Runs in a worker; the same digits wherever that is."""
    workout, lines = _opened(workout_text, library), []
    for data in athletes:
        athlete = athlete_from_data(data, library)
        key, flagged = key_of(workout_text, athlete), flagged_movements(workout, athlete)
        try:
            if flagged:
                lines.append(PlannedLine(athlete.name, key, None, f"flagged: {', '.join(flagged)}"))
            else:
                lines.append(
                    PlannedLine(athlete.name, key, asdict(plan_outlook(problem_for(workout, athlete))), "")
                )
        except CoreError as error:
            lines.append(PlannedLine(athlete.name, key, None, str(error)))
    return lines


def written(path: Path, wanted: Mapping[str, str]) -> dict[str, str]:
    """Return by name the keys of the lines in a file of plans that are wanted as they are; others are cut out.

    `wanted` has the keys by name. What a kill left of a line, and plans for numbers that changed since, go.
    Raises: click.BadParameter for a file that holds something else.
    """
    if not path.exists():
        return {}
    data = path.read_bytes()
    lines = data[: data.rfind(b"\n") + 1].decode(errors="replace").splitlines(keepends=True)
    try:
        found = [(str(row["name"]), str(row["key"]), line) for line in lines for row in [json.loads(line)]]
    except (ValueError, KeyError, TypeError) as error:
        raise click.BadParameter(f"{path} holds no plans; choose another file", param_hint="--out") from error
    kept = {name: (key, line) for name, key, line in found if wanted.get(name) == key}
    whole = "".join(line for _, line in kept.values()).encode()
    if whole != data:
        part = path.with_name(f"{path.name}.part")
        part.write_bytes(whole)
        part.replace(path)
    return {name: key for name, (key, _) in kept.items()}


def plans_in(path: Path, workout_text: str, athletes: Sequence[Athlete]) -> dict[str, Plan]:
    """Return by name the plans a file holds for athletes as they are; who could not be planned is left out.

    Raises: click.BadParameter if somebody's is missing or made of other numbers.
    """
    rows = {row["name"]: row for row in map(json.loads, text_of(path).splitlines())}
    lacking = [a.name for a in athletes if rows.get(a.name, {}).get("key") != key_of(workout_text, a)]
    if lacking:
        raise click.BadParameter(
            f"{len(lacking)} of {len(athletes)} are not in it as they are now, {lacking[0]} for one:"
            " run plan-roster again",
            param_hint="--plans",
        )
    planned = {name: row["outlook"]["schemes"] for name, row in rows.items() if row.get("outlook")}
    return {a.name: plan_of(tuple(planned[a.name])) for a in athletes if a.name in planned}


def _chunks(athletes: Sequence[Athlete]) -> Iterator[list[dict[str, object]]]:
    for at in range(0, len(athletes), CHUNK):
        yield [athlete_data(one) for one in athletes[at : at + CHUNK]]


def _run(executor: str, workout_text: str, library: Library, left: list[Athlete], out: Path) -> None:
    """Plan whoever is left, and write every chunk as it comes."""
    begun, done = time.monotonic(), 0
    with opener_of(executor)() as pool, out.open("a", encoding="utf-8") as file:
        waiting: list[Future[list[PlannedLine]]] = [
            pool.submit(plan_chunk, workout_text, library, chunk) for chunk in _chunks(left)
        ]
        for future in as_completed(waiting):
            lines = future.result()
            file.write("".join(f"{line.text()}\n" for line in lines))
            file.flush()
            done += len(lines)
            rate = done / max(1e-9, time.monotonic() - begun)
            click.echo(f"\r{done} of {len(left)}, {rate:.1f} a second ", nl=False, err=True)
    click.echo(err=True)


@click.command("plan-roster")
@click.argument("workout_file", type=FILE, metavar="WORKOUT")
@click.argument("roster", type=FILE)
@click.option("--out", type=click.Path(dir_okay=False, path_type=Path), required=True, help="Plans, a line each.")
@click.option("--executor", default="local", show_default=True, help="local, local:N, or dask://HOST:PORT.")
@OWN
def plan_roster(workout_file: Path, roster: Path, out: Path, executor: str, movements: Path | None) -> None:
    """Plan everybody of a roster; started again after a kill, it goes on where it was."""
    try:
        library = library_of(movements)
        readout_of(workout_file, library)
        found = read_roster(text_of(roster), library, {}, most=MOST_PEOPLE)
    except CoreError as error:
        refuse(error)
    if found.errors:
        worst = found.errors[0]
        raise click.BadParameter(f"row {worst.row}, {worst.column}: {worst.problem}", param_hint="ROSTER")
    text = text_of(workout_file)
    wanted = {one.name: key_of(text, one) for one in found.athletes}
    for attempt in range(MOST_POOLS):
        known = written(out, wanted)
        left = [one for one in found.athletes if one.name not in known]
        if not left:
            break
        try:
            _run(executor, text, library, left, out)
        except ExecutorError as error:
            raise click.BadParameter(str(error), param_hint="--executor") from error
        except BrokenProcessPool:
            click.echo(f"\na worker was killed; going on with a new pool ({attempt + 1})", err=True)
        except CoreError as error:
            refuse(error)
        except click.ClickException:
            raise
        except Exception as error:
            # Whatever a cluster's client raises when its scheduler or a worker is gone for good.
            count = len(written(out, wanted))
            click.echo(f"\nsorvek: the executor gave up ({type(error).__name__}: {error})", err=True)
            click.echo(f"{count} athletes are written; the same command goes on from there", err=True)
            raise SystemExit(3) from error
    click.echo(f"{len(written(out, wanted))} athletes in {out}")
