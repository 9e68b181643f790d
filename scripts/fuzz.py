"""Feed the readers mutated input: every case must end in a value or one of our errors, in under 2 s and 500 MB.

Fixed seeds, so that a run can be repeated: `scripts/fuzz.py [notation|shorthand|athlete|roster|leaderboard|prose]
[--cases N] [--seed N]`. A case that fails is printed as it must stand in a test.
"""

import argparse
import json
import random
import resource
import signal
import sys
import time
from collections.abc import Callable, Iterator
from importlib.resources import files
from pathlib import Path
from types import FrameType

from sorvek.core.athlete import athlete_data, read_athlete, read_roster, roster_csv
from sorvek.core.club import leaderboard_csv, read_leaderboard
from sorvek.core.errors import CoreError
from sorvek.core.plan import parse_shorthand, shorthand
from sorvek.core.table import read_text
from sorvek.core.workout import read_announcement, read_workout, shipped_library
from sorvek.demo.club import club

MOST_S, MOST_BYTES = 2.0, 500_000_000
ROOT = Path(__file__).parent.parent
LIBRARY = shipped_library()
SHORTHANDS = (
    *("8/7 r6", "5x3 r8", "6-5-4-3 then singles r3", "singles 2br", "unbroken", "sets of 5 r4 pace 1.2"),
    *(
        "rounds 1-2 unbroken, then 6/4 r5",
        "style strict wait 10 s 4/4",
        "rounds 1-3 5/5 r3, then singles r5 pace 0.9",
    ),
)
# Pieces that broke readers before, and what Unicode and long input do.
NASTY = (
    *(
        "²",
        "９",
        "−",
        "\u2028",
        "\x0b",
        "\x00",
        "\t",
        "  ",
        "\n",
        "\r",
        ",",
        ";",
        '"',
        "#",
        "@",
        "/",
        ":",
        "-",
        "x",
        "n",
    ),
    *(
        "rest 1:00",
        "tiebreak",
        "repeat:",
        "10000 rounds:",
        "ladder 10,+-5:",
        "then max snatch in 5:00",
        "stage cap 3:00:",
    ),
    *(
        "9" * 40,
        "9" * 5000,
        " " * 900,
        "0",
        "1e400",
        "inf",
        "nan",
        "-1",
        "=1+1",
        "'",
        "(" * 60,
        "1..9999..1",
        "5x5000",
    ),
)

ODD_VALUES: tuple[object, ...] = (None, True, -1, 1e400, 10**400, 0.5, "2", "x" * 5000, [], [1], {"burpee": {}})


def mutated(rng: random.Random, seeds: list[str]) -> str:
    """Return one of the seeds after a few random changes: letters, lines, pieces of others, nasty pieces."""
    text = rng.choice(seeds)
    for _ in range(rng.randint(1, 6)):
        at = rng.randrange(len(text) + 1)
        lines = text.split("\n")
        line = rng.randrange(len(lines))
        match rng.randrange(8):
            case 0:
                text = text[:at] + rng.choice(NASTY) + text[at:]
            case 1:
                text = text[:at] + text[at + rng.randint(1, 12) :]
            case 2:
                lines.insert(line, rng.choice(lines))
                text = "\n".join(lines)
            case 3:
                del lines[line]
                text = "\n".join(lines)
            case 4:
                lines[line] = "  " * rng.randint(0, 9) + lines[line].strip()
                text = "\n".join(lines)
            case 5:
                other = rng.choice(seeds)
                begin = rng.randrange(len(other) + 1)
                text = text[:at] + other[begin : begin + rng.randint(1, 60)] + text[at:]
            case 6:
                text = (
                    text[:at]
                    + chr(rng.choice((rng.randrange(32, 127), rng.randrange(160, 0x2FFF))))
                    + text[at + 1 :]
                )
            case _:
                text = "\n".join([*lines[:line], rng.choice(NASTY), *lines[line:]])
    return text


def _mutated_json(rng: random.Random, seeds: list[str]) -> str:
    """Return a JSON text with some of its values replaced: what a text broken anywhere hardly ever reaches."""
    data = json.loads(rng.choice(seeds))
    for _ in range(rng.randint(1, 4)):
        inside = data
        while isinstance(inside, dict) and inside and rng.random() < 0.7:
            name = rng.choice(list(inside))
            if not isinstance(inside[name], dict):
                break
            inside = inside[name]
        key = rng.choice([*inside, "unbroken", "flags", "wiggle", ""])
        inside[key] = rng.choice(
            [None, True, -1, 1e400, 10**400, 0.5, "2", "x" * 5000, [], [1], {"burpee": {}}, *NASTY]
        )
    return json.dumps(data)


def _demo(folder: str, ending: str) -> list[str]:
    found = sorted(files("sorvek.demo").joinpath(folder).iterdir(), key=lambda file: file.name)
    return [file.read_text("utf-8") for file in found if file.name.endswith(ending)]


def _notation(text: str) -> object:
    readout = read_workout(text, LIBRARY)
    assert read_workout(readout.text, LIBRARY).workout == readout.workout, "the canonical print is another workout"
    return readout


def _announcements() -> list[str]:
    """Return the sources of the corpus of announcements."""
    files = sorted((ROOT / "tests" / "data" / "announcements").glob("*.txt"))
    parts = [part for file in files for part in file.read_text("utf-8").split("=== ")[1:]]
    return [part.partition("\n")[2].partition("\n---\n")[0] for part in parts]


def _prose(text: str) -> object:
    reading = read_announcement(text, LIBRARY, prose=True)
    told = {at for mark in reading.marks for at in range(mark.start, mark.end)}
    lost = [c for at, c in enumerate("\n".join(text.splitlines())) if at not in told and not c.isspace()]
    assert set(lost) <= set("*_`"), f"lost {lost[:5]}"
    if reading.found:
        assert read_announcement(reading.text, LIBRARY).text == reading.text, "what was read is not canonical"
        read_workout(reading.text, LIBRARY)
    return reading


def _shorthand(text: str) -> object:
    phases = parse_shorthand(text)
    assert parse_shorthand(shorthand(phases)) == phases, "the canonical shorthand is another plan"
    return phases


def _leaderboard(text: str) -> object:
    board = read_workout(_demo("workouts", ".txt")[0], LIBRARY).workout
    results, _ = read_leaderboard(read_text(text.encode("utf-8", "surrogateescape")), board)
    return leaderboard_csv(results)


def _roster(text: str) -> object:
    return roster_csv(read_roster(read_text(text.encode("utf-8", "surrogateescape")), LIBRARY, {}).athletes)


def targets() -> dict[str, tuple[Callable[[str], object], list[str], int]]:
    """Return what is fuzzed: the reader, valid texts to begin with, and how many cases."""
    from datetime import date

    notation = (ROOT / "tests" / "data" / "notation.txt").read_text("utf-8").split("\n===\n")
    athletes = club(date(2026, 3, 12))
    boards = ["\n".join(text.split("\n")[:12]) for text in _demo("field", ".csv")]
    return {
        "notation": (_notation, [*notation, *_demo("workouts", ".txt")], 20_000),
        "shorthand": (_shorthand, list(SHORTHANDS), 20_000),
        "athlete": (read_athlete, [json.dumps(athlete_data(a), indent=1) for a in athletes], 3_000),
        "roster": (_roster, [roster_csv(athletes[i : i + 4]) for i in range(0, 24, 4)], 3_000),
        "leaderboard": (_leaderboard, boards, 3_000),
        "prose": (_prose, _announcements(), 10_000),
    }


class _TooSlowError(Exception):
    """A case took longer than it may."""


def _alarm(_signal: int, _frame: FrameType | None) -> None:
    raise _TooSlowError


def failures(read: Callable[[str], object], seeds: list[str], cases: int, seed: int) -> Iterator[tuple[str, str]]:
    """Yield every case that ends in neither a value nor one of our errors: the text and what happened."""
    rng = random.Random(seed)
    for _ in range(cases):
        text = _mutated_json(rng, seeds) if seeds[0][:1] == "{" and rng.random() < 0.7 else mutated(rng, seeds)
        signal.setitimer(signal.ITIMER_REAL, MOST_S)
        try:
            read(text)
        except CoreError as error:
            if not str(error) or "\n" in str(error):
                yield text, "an error without words, or with more than a line of them"
        except Exception as error:  # what nobody meant to raise is what is looked for
            yield text, f"{type(error).__name__}: {error}"
        finally:
            signal.setitimer(signal.ITIMER_REAL, 0)


def main() -> int:
    """Fuzz what was asked for and return how many cases failed."""
    known = targets()
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("what", nargs="*", default=list(known), help=", ".join(known))
    options.add_argument("--cases", type=int, help="so many instead of the usual number")
    options.add_argument("--seed", type=int, default=1)
    asked = options.parse_args()
    signal.signal(signal.SIGALRM, _alarm)
    used = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss * 1024
    resource.setrlimit(resource.RLIMIT_AS, (used + 8 * MOST_BYTES, resource.RLIM_INFINITY))
    failed = 0
    for what in asked.what:
        read, seeds, cases = known[what]
        begun, found = time.perf_counter(), 0
        for text, problem in failures(read, seeds, asked.cases or cases, asked.seed):
            found += 1
            if found <= 5:
                print(f"{what}: {problem[:200]}\n  {text[:300]!r}")
        grown_mb = (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss * 1024 - used) / 1e6
        failed += found + (grown_mb > MOST_BYTES / 1e6)
        seconds = time.perf_counter() - begun
        print(
            f"{what}: {asked.cases or cases} cases, {found} failed, {seconds:.0f} s, {grown_mb:.0f} MB more",
            flush=True,
        )
    return failed


if __name__ == "__main__":
    sys.exit(min(1, main()))
