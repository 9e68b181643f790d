"""Make the demo's simulated leaderboards: one CSV a workout, seeded, about 2,000 results each."""

from importlib.resources import files
from pathlib import Path

from sorvek.core.field import people, simulate_field
from sorvek.core.leaderboard_csv import leaderboard_csv
from sorvek.core.notation import parse_workout

DEMO = Path(str(files("sorvek.demo")))


def main() -> None:
    """Write the files beside the workouts."""
    competitors = people()
    for path in sorted((DEMO / "workouts").glob("*.txt")):
        results = simulate_field(parse_workout(path.read_text(encoding="utf-8")), competitors)
        (DEMO / "field" / f"{path.stem}.csv").write_text(leaderboard_csv(results), encoding="utf-8")


if __name__ == "__main__":
    main()
