"""Cost of plans for very many: against workers, athletes and reps; fitted exponents, and what a federation needs.

Run: .venv/bin/python scripts/many.py [athletes ...]   (200 1000 5000 if none are given)
"""

import csv
import resource
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import numpy as np

from sorvek.bench.cases import athletes
from sorvek.core.athlete import roster_csv
from sorvek.core.planner import plan_workout
from sorvek.core.simulation import problem_for
from sorvek.core.workout import read_workout, shipped_library

SEED, GROUP = 17, 6
WORKOUT = "for time, cap 12:00\n4 rounds:\n  10 toes-to-bar\n  8 thrusters @ 40/30 kg\n"
REPS = (48, 96, 192, 384, 768, 960)
SORVEK = str(Path(sys.executable).with_name("sorvek"))


def _roster(path: Path, count: int) -> None:
    rows = list(csv.reader(roster_csv(athletes(SEED, -(-count // GROUP))[:count]).splitlines()))
    with path.open("w", newline="", encoding="utf-8") as file:
        csv.writer(file).writerows(rows)


def _run(*words: str) -> float:
    begun = time.perf_counter()
    subprocess.run([SORVEK, *words], check=True, capture_output=True)
    return time.perf_counter() - begun


def _exponent(sizes: list[int], seconds: list[float]) -> float:
    return float(np.polyfit(np.log(sizes), np.log(seconds), 1)[0])


def by_athletes(folder: Path, counts: list[int]) -> None:
    """Print seconds and rates of plan-roster and place against the number of athletes and workers."""
    (folder / "w.txt").write_text(WORKOUT)
    took = []
    for count in counts:
        _roster(folder / "r.csv", count)
        files = (str(folder / "w.txt"), str(folder / "r.csv"), "--out")
        one = _run("plan-roster", *files, str(folder / "one.jsonl"), "--executor", "local:1") if count <= 200 else 0
        two = _run("plan-roster", *files, str(folder / f"{count}.jsonl"), "--executor", "local:2")
        took.append(two)
        memory_mb = resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss / 1000
        told = f", one worker {count / one:.1f} a second, efficiency of two {one / two / 2:.0%}" if one else ""
        print(
            f"{count} athletes: {two:.1f} s, {count / two:.1f} a second{told}; at most {memory_mb:.0f} MB a process"
        )
        plans = str(folder / f"{count}.jsonl")
        place = _run("place", files[0], "--roster", files[1], "--tiers", "4", "--plans", plans, "--json")
        print(f"  four tiers of them: {place:.1f} s", flush=True)
    if len(counts) > 1:
        print(f"seconds grow with athletes to the power {_exponent(counts, took):.2f}")


def by_reps() -> None:
    """Print seconds a plan against the reps of the workout, for two dozen athletes."""
    people, took = athletes(SEED, 4), []
    for reps in REPS:
        text = (
            f"for time, cap 60:00\n{reps // 24} rounds:\n  8 pull-ups\n  8 burpees\n  8 power cleans @ 50/35 kg\n"
        )
        workout = read_workout(text, shipped_library()).workout
        problems = [problem_for(workout, one) for one in people]
        plan_workout(problems[0])
        begun = time.perf_counter()
        for problem in problems:
            plan_workout(problem)
        took.append((time.perf_counter() - begun) / len(problems))
        print(f"{reps} reps: {1000 * took[-1]:.0f} ms a plan", flush=True)
    print(f"time grows with reps to the power {_exponent(list(REPS), took):.2f}")


if __name__ == "__main__":
    by_reps()
    with tempfile.TemporaryDirectory() as name:
        by_athletes(Path(name), [int(word) for word in sys.argv[1:]] or [200, 1000, 5000])
