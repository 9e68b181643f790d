"""The demo club: Quay Street Hall at the Lantern Coast Qualifier. All invented, all seeded."""

from datetime import date, datetime, time, timedelta
from importlib.resources import files
from typing import Any, NamedTuple

import numpy as np

from sorvek.core.athlete import Athlete, lift_figure, tier_table
from sorvek.core.club import Result, read_leaderboard
from sorvek.core.season import Record, read_record
from sorvek.core.workout import TIERS, read_workout, shipped_library
from sorvek.store.athletes import add_athlete, all_athletes
from sorvek.store.database import connection, one_change
from sorvek.store.field import replace_results
from sorvek.store.floor import NewLane, make_heat
from sorvek.store.log import LoggedAttempt, add_attempt
from sorvek.store.workouts import add_workout, move_days

CLUB = "Quay Street Hall"
EVENT = "Lantern Coast Qualifier"
SEED = 8173

# Name, sex, division, tier.
PEOPLE = (
    ("Ansel Brook", "m", "men", "racing"),
    ("Bettina Kroll", "f", "women", "competing"),
    ("Caspian Dew", "m", "men", "competing"),
    ("Dorit Halm", "f", "masters women", "building"),
    ("Edmar Tolle", "m", "masters men", "competing"),
    ("Femke Osterval", "f", "women", "racing"),
    ("Gideon Marsh", "m", "men", "building"),
    ("Hilke Sund", "f", "women", "building"),
    ("Ivo Larken", "m", "men", "competing"),
    ("Jorun Veld", "f", "masters women", "competing"),
    ("Kester Pym", "m", "masters men", "building"),
    ("Lioba Quist", "f", "women", "starting"),
    ("Matteus Orr", "m", "men", "building"),
    ("Nerys Callow", "f", "women", "competing"),
    ("Oswin Thale", "m", "masters men", "starting"),
    ("Perpetua Lund", "f", "women", "building"),
    ("Quillan Reeve", "m", "men", "competing"),
    ("Runa Fels", "f", "masters women", "starting"),
    ("Sander Holt", "m", "men", "starting"),
    ("Tamsin Yarrow", "f", "women", "competing"),
    ("Ulrik Banner", "m", "masters men", "competing"),
    ("Vesna Crewe", "f", "women", "building"),
    ("Wendel Strand", "m", "men", "building"),
    ("Xanthe Moor", "f", "women", "starting"),
)
MEASURED_SETS = ("toes-to-bar", "pull-up", "bar muscle-up", "double-under", "burpee", "handstand push-up")
MEASURED_LIFTS = ("power clean", "thruster", "clean-and-jerk", "deadlift")


# One athlete carries an injury flag: what the club must not plan through.
FLAGS = {"Wendel Strand": {"bar muscle-up": "left shoulder, see the physio's note"}}


def _athlete(rng: np.random.Generator, today: date, name: str, sex: str, division: str, tier: str) -> Athlete:
    """Return an athlete around the prototype of a tier; roughly a third of the numbers stays unmeasured."""
    plain = Athlete(name, tier, sex, division)
    prototype, women = tier_table()[tier], tier_table()["women"]
    woman = sex == "f"
    age = 0.93 if division.startswith("masters") else 1.0
    level = float(np.exp(rng.normal(0.0, 0.08))) * age

    def around(value: float, spread: float) -> float:
        return float(value * level * np.exp(rng.normal(0.0, spread)))

    unbroken: dict[str, float] = {}
    for movement in MEASURED_SETS:
        style = shipped_library().movements[movement].styles[0]
        reps = style.unbroken[TIERS.index(tier)]
        if woman:
            reps *= 1 - women["upper_body"] * max(style.weights[1], style.weights[2])
        if rng.random() < 0.65:
            unbroken[movement] = float(round(around(reps, 0.2)))
    lifts = {}
    for lift in MEASURED_LIFTS:
        usual = lift_figure(
            plain, shipped_library().movements[lift], shipped_library().movements[lift].styles[0]
        ).value
        if rng.random() < 0.6:
            lifts[lift] = float(2.5 * round(around(usual, 0.06) / 2.5))
    measured_engine = rng.random() < 0.5
    days = np.random.Generator(np.random.PCG64([SEED, len(name)]))
    return Athlete(
        name=name,
        tier=tier,
        sex=sex,
        division=division,
        mass_kg=round(prototype["mass_kg"] * (women["mass"] if woman else 1.0) * float(rng.normal(1.0, 0.06)), 1),
        stature_cm=round(prototype["stature_cm"] * (0.94 if woman else 1.0) * float(rng.normal(1.0, 0.025))),
        critical_power_w=round(
            around(prototype["critical_power_w"] * (women["critical_power"] if woman else 1), 0.05)
        )
        if measured_engine
        else None,
        unbroken=unbroken,
        one_rep_max_kg=lifts,
        flags=FLAGS.get(name, {}),
        measured_on={
            what: (today - timedelta(days=int(days.integers(5, 120)))).isoformat()
            for what in (*unbroken, *lifts, *(["critical_power_w"] if measured_engine else []))
        },
    )


# The workout of the week that is open has a heat ready to start, its athletes simulated.
OPEN, STAND_INS, STAND_IN_SEED, STAND_IN_SPEED = 1, 4, 1000, 4.0


def club(today: date) -> list[Athlete]:
    """Return the athletes, with their measurements in the months before `today`."""
    rng = np.random.Generator(np.random.PCG64(SEED))
    return [_athlete(rng, today, *person) for person in PEOPLE]


class PastWorkout(NamedTuple):
    """A workout of last season: title, text, the club's results, and by name what was done, set by set."""

    title: str
    text: str
    results: list[Result]
    done: dict[str, Record]


def season() -> list[PastWorkout]:
    """Return last season's workouts."""
    found = []
    for path in sorted(files("sorvek.demo").joinpath("season").iterdir(), key=lambda file: file.name):
        if path.name.endswith(".txt"):
            text = path.read_text("utf-8")
            lines = path.with_suffix(".csv").read_text("utf-8")  # type: ignore[attr-defined]
            workout = read_workout(text).workout
            done = path.with_suffix(".done").read_text("utf-8")  # type: ignore[attr-defined]
            records = dict(line.split("\t", 1) for line in done.splitlines())
            results = read_leaderboard(lines, workout)[0]
            kept = {name: read_record(record) for name, record in records.items()}
            found.append(PastWorkout(workout.title, text, results, kept))
    return found


def _log_season(today: date) -> None:
    """Log the season that was finished a year ago, one workout a week."""
    ids = {saved.athlete.name: saved.id for saved in all_athletes()}
    for week, past in enumerate(season()):
        done_on = today - timedelta(days=365 - 7 * week)
        for result in past.results:
            attempt = LoggedAttempt(past.title, past.text, done_on, result, record=past.done[result.name])
            add_attempt(ids[result.name], attempt)


def _log_yesterday(workout_id: int, path: Any, text: str, today: date) -> None:
    """Log the one try of this week: somebody went the evening before, and has a second try to decide."""
    name, finished, value, record = path.read_text("utf-8").strip().split("\t")
    ids = {saved.athlete.name: saved.id for saved in all_athletes()}
    done_on = today - timedelta(days=1)
    attempt = LoggedAttempt(
        read_workout(text).workout.title,
        text,
        done_on,
        Result("", "", finished == "finished", float(value)),
        workout_id=workout_id,
        done_at=datetime.combine(done_on, time(18, 30)),
        record=read_record(record),
    )
    add_attempt(ids[name], attempt)


def _ready_heat(workout_id: int) -> None:
    """Set up a heat of simulated athletes; their sets are those in force when it is opened."""
    lanes = [NewLane(athlete.id, (), STAND_IN_SEED + athlete.id) for athlete in all_athletes()[:STAND_INS]]
    make_heat(workout_id, 1, lanes, STAND_IN_SPEED)


def fill(today: date) -> None:
    """Store the demo club if the database is empty, else move its week on to `today`.

    The second workout opened the day before.
    """
    first = today - timedelta(days=8)
    files_in_order = sorted(files("sorvek.demo").joinpath("workouts").iterdir(), key=lambda file: file.name)
    texts = [file.read_text(encoding="utf-8") for file in files_in_order]
    days = [(first + timedelta(days=7 * week), first + timedelta(days=7 * week + 4)) for week in range(len(texts))]
    with connection(), one_change():
        if all_athletes():
            for text, (opens_on, due_on) in zip(texts, days, strict=True):
                move_days(read_workout(text).workout.title, opens_on, due_on)
            return
        for athlete in club(today):
            add_athlete(athlete)
        for number, (path, text, (opens_on, due_on)) in enumerate(zip(files_in_order, texts, days, strict=True)):
            workout_id = add_workout(text, opens_on, due_on)
            if number == OPEN:
                _ready_heat(workout_id)
                _log_yesterday(workout_id, files("sorvek.demo").joinpath("yesterday.done"), text, today)
            lines = files("sorvek.demo").joinpath("field", path.name.replace(".txt", ".csv")).read_text("utf-8")
            replace_results(workout_id, read_leaderboard(lines, read_workout(text).workout)[0])
        _log_season(today)
