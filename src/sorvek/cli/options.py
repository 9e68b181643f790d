"""What commands share: files and texts they read, and how they refuse."""

import re
import sys
from pathlib import Path
from typing import Any, NoReturn

import click

from sorvek.core.errors import NotationError
from sorvek.core.lift import Typed
from sorvek.core.plan import Phase, parse_shorthand
from sorvek.core.quantities import kg_from_lb, seconds_from_clock
from sorvek.core.workout import Library, Readout, read_announcement, read_workout, shipped_library
from sorvek.store.library import read_library

FILE = click.Path(exists=True, dir_okay=False, path_type=Path)
DATA = click.option(
    "--data",
    type=click.Path(path_type=Path),
    default=Path("var"),
    show_default=True,
    help="Folder of the database.",
)
OWN = click.option("--movements", type=FILE, help="Your own movements (CSV), added to those that ship.")
LOAD = re.compile(r"([0-9]{1,6}(?:[.,][0-9]{1,6})?)\s*(kg|lbs?)?", re.IGNORECASE)
ATTEMPT = re.compile(
    r"([0-9.,]{1,10}\s*(?:kg|lbs?)?)(?:\s*@\s*([0-9]{1,3}:[0-9]{2}))?(?:\s+(made|missed))?", re.IGNORECASE
)


def refuse(error: Exception) -> NoReturn:
    """Say in one line why a command cannot be carried out, and end with exit code 2."""
    click.echo(f"sorvek: {error}", err=True)
    sys.exit(2)


def text_of(path: Path) -> str:
    """Return the text of a file, or end with a message that names it."""
    try:
        return path.read_text(encoding="utf-8")
    except UnicodeDecodeError:
        click.echo(f"sorvek: {path.name} is not UTF-8 text; save it as UTF-8", err=True)
        sys.exit(2)


def readout_of(path: Path, library: Library) -> Readout:
    """Return the read-out of a workout file: notation, or prose that leaves no doubt.

    Raises: CoreError for a text that is neither; in the words of the notation, which name line and column.
    """
    text = text_of(path)
    try:
        return read_workout(text, library)
    except NotationError:
        reading = read_announcement(text, library)
        if reading.doubts or not reading.found:
            raise
    return read_workout(reading.text, library)


def library_of(path: Path | None) -> Library:
    """Return the movements that ship, with those of a file added."""
    return read_library(path) if path else shipped_library()


def kg_of(text: str) -> float:
    """Return the kilograms a text such as `85`, `102.5 kg` or `225lb` means.

    Raises: ValueError for a text that is no load.
    """
    match = LOAD.fullmatch(text.strip())
    if match is None:
        raise ValueError(text)
    value = float(match[1].replace(",", "."))
    return kg_from_lb(value) if (match[2] or "").lower().startswith("lb") else value


class LoadType(click.ParamType):
    """A load on the command line, in kg or lb; its value is in kg."""

    name = "load"

    def convert(self, value: Any, param: click.Parameter | None, ctx: click.Context | None) -> float:
        """Return the kilograms of what was typed, or say how a load is written."""
        try:
            return value if isinstance(value, float) else kg_of(value)
        except ValueError:
            self.fail(f"“{value}” is no load; write 102.5 or 225lb", param, ctx)


def typed_attempts(entries: tuple[str, ...]) -> tuple[Typed, ...]:
    """Return attempts from entries such as `85`, `85@0:00` or `85@0:00 made`."""
    found = []
    for entry in entries:
        match = ATTEMPT.fullmatch(entry.strip())
        try:
            if match is None:
                raise ValueError
            load_kg = kg_of(match[1])
        except ValueError:
            problem = f"“{entry}”: write 85, 225lb, 85@0:40 or “85@0:40 made”"
            raise click.BadParameter(problem, param_hint="--attempt") from None
        made = {"made": True, "missed": False}.get((match[3] or "").lower())
        found.append(Typed(load_kg, seconds_from_clock(match[2]) if match[2] else None, made))
    return tuple(found)


def numbered_sets(entries: tuple[str, ...], count: int, option: str) -> dict[int, tuple[Phase, ...]]:
    """Return phases by slot from entries such as `2=8/7 r6`, movements counted from 1."""
    found = {}
    for entry in entries:
        number, _, text = entry.partition("=")
        digits = number.strip()
        if not (digits.isascii() and digits.isdecimal() and len(digits) < 4 and 1 <= int(digits) <= count):
            problem = f"“{entry}”: give a movement from 1 to {count}, as 1=8/7 r6"
            raise click.BadParameter(problem, param_hint=option)
        found[int(digits) - 1] = parse_shorthand(text)
    return found
