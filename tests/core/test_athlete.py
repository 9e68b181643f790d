"""The athlete file and how gaps are filled."""

import csv
import json
from importlib.resources import files

import pytest
from hypothesis import given

from examples import problem
from sorvek.core.athlete.athlete import Athlete, Origin, body_figure
from sorvek.core.athlete.file import athlete_data, athlete_from_data, read_athlete
from sorvek.core.constants import RESOURCES
from sorvek.core.errors import AthleteFileError, MovementFileError, NotationError
from sorvek.core.quantities import clock, kg_from_lb, lb_from_kg, seconds_from_clock
from sorvek.core.simulation.problem import problem_for
from sorvek.core.workout.movements import TIERS, shipped_library
from sorvek.core.workout.notation import parse_workout
from sorvek.core.workout.notation_print import workout_text
from strategies import athletes


@given(athletes)
def test_an_athlete_survives_the_file(athlete):
    assert athlete_from_data(json.loads(json.dumps(athlete_data(athlete)))) == athlete


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ('{"name": "A"}', ["tier", "field required"]),
        ('{"tier": "racing"}', ["name", "field required"]),
        ('{"name": "A", "tier": "elite"}', ["tier", "'starting'", "given: elite"]),
        ('{"name": "A", "tier": "racing", "mass_kg": -3}', ["mass_kg", "greater than or equal to 25", "-3"]),
        ('{"name": "A", "tier": "racing", "mass_kg": NaN}', ["mass_kg", "finite"]),
        ('{"name": "A", "tier": "racing", "unbroken": {"pull-ups": -1}}', ["unbroken.pull-ups", "0"]),
        ('{"name": "A", "tier": "racing", "unbroken": {"pul-upp": 3}}', ["unknown movement", "pull-up"]),
        ('{"name": "A", "tier": "racing", "shoe": 44}', ["shoe", "known are name, tier"]),
        ('{"name": "A",', ["line 1, column 14", "not JSON"]),
    ],
)
def test_a_bad_athlete_file_is_refused_in_one_line(text, words):
    with pytest.raises(AthleteFileError) as caught:
        read_athlete(text)
    assert "\n" not in str(caught.value)
    for word in words:
        assert word in str(caught.value)


def test_a_related_measurement_scales_the_tier_default():
    """Chest-to-bar is inferred from pull-ups: half the prototype's pull-ups, half its chest-to-bar."""
    default = problem("for time\n10 c2b").capacities[0][0].unbroken
    related = problem("for time\n10 c2b", unbroken={"pull-up": 17}).capacities[0][0].unbroken
    assert (default.value, default.origin) == (28, Origin.TIER)
    assert (related.value, related.origin) == (14, Origin.RELATED)


def test_a_barbell_set_follows_the_one_rep_max_and_ends_at_the_endurance_cap():
    heavy, light = (
        problem(f"for time\n10 power cleans @ {load} kg", one_rep_max_kg={"power clean": 120})
        .capacities[0][0]
        .unbroken
        for load in (90, 20)
    )
    assert heavy.value == pytest.approx(10.0)  # Epley: 30 (120/90 - 1)
    assert heavy.origin is Origin.MEASURED
    assert light.value == 60


def test_women_take_their_own_loads_and_prototype():
    woman = Athlete("Test", "competing", "f")
    assert body_figure(woman, "mass_kg").value == pytest.approx(82 * 0.80)
    assert problem("Thirty", sex="f").course.slots[0].load_kg == 43


def test_pounds_convert_by_the_exact_factor():
    """NIST SP 811 (2008), appendix B.8: 1 lb = 0.453 592 37 kg exactly; 135 lb = 61.234 969 95 kg."""
    assert kg_from_lb(135) == pytest.approx(61.23496995, abs=1e-9)
    assert lb_from_kg(kg_from_lb(95)) == pytest.approx(95)
    assert problem("for time\n5 thrusters @ 95/65 lb").course.slots[0].load_kg == pytest.approx(43.0912752)


@pytest.mark.parametrize(("seconds", "text"), [(0, "0:00"), (59.6, "1:00"), (90, "1:30"), (3725, "62:05")])
def test_times_are_written_as_minutes_and_seconds(seconds, text):
    assert clock(seconds) == text


def test_clock_times_are_read():
    assert seconds_from_clock("11:00") == 660
    assert seconds_from_clock("1:02:05") == 3725
    with pytest.raises(ValueError, match="write it as 11:00"):
        seconds_from_clock("11:75")


OWN = files("sorvek.core.workout").joinpath("movements.csv").read_text(encoding="utf-8").splitlines()


def own_row(**changes: str) -> list[str]:
    """Return a movements file with the row of the thruster under another name and with other values."""
    header = OWN[0].split(",")
    row = next(row for row in csv.DictReader(OWN) if row["name"] == "thruster")
    row |= {"name": "keg lift", "plural": "keg lifts", "aliases": "kl", "lift": "", "lift_factor": "", **changes}
    row |= {f"u_{tier}": str(reps) for tier, reps in zip(TIERS, (5, 10, 15, 20), strict=True)}
    return [OWN[0], ",".join(f'"{row[column]}"' for column in header)]


def test_a_coach_can_add_a_movement_and_plan_with_it():
    library = shipped_library().with_own(own_row())
    workout = parse_workout("amrap 5:00\n6 KL @ 40/27.5 kg\n6 burpees", library)
    assert workout_text(workout).splitlines()[1] == "6 keg lifts @ 40/27.5 kg"
    athlete = read_athlete('{"name": "A", "tier": "building", "unbroken": {"keg lifts": 12}}', library)
    assert problem_for(workout, athlete).capacities[0][0].unbroken.value == pytest.approx(12)
    with pytest.raises(NotationError, match="unknown movement"):
        parse_workout("amrap 5:00\n6 keg lifts @ 40 kg")


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"cycle_s": "0"}, "row 2, column “cycle_s”: “0” is no number from 0.05 to 60"),
        ({"push": "two"}, "row 2, column “push”: “two” is no number from 0 to 1"),
        ({"size": "weight"}, "column “size”: write one of"),
        (dict.fromkeys(RESOURCES, ""), "at least one resource"),
    ],
)
def test_a_bad_movements_file_names_row_and_column(changes, words):
    with pytest.raises(MovementFileError) as caught:
        shipped_library().with_own(own_row(**changes))
    assert words in str(caught.value)


def test_a_movements_file_without_a_column_is_refused():
    with pytest.raises(MovementFileError, match="column “plural” is missing"):
        shipped_library().with_own(["name,style", "keg lift,"])


def test_a_ball_thrown_higher_takes_longer_and_costs_more_and_the_usual_height_changes_nothing():
    def ball(to, sex="m"):
        found = problem(f"for time\n50 wall balls @ 9/6 kg{to}", sex=sex)
        return found.capacities[0][0].cycle.value, found.capacities[0][0].coefficient

    usual_s, usual_j = ball("")
    assert ball(" to 10/9 ft") == (pytest.approx(usual_s, abs=0.01), pytest.approx(usual_j, rel=0.01))
    assert ball(" to 3/2.75 m", "f")[0] == ball("", "f")[0]
    low_s, low_j = ball(" to 2.75 m")
    # Free fall from the target to the hands at 2.2 m: 0.83 s against 0.67 s there and back.
    assert usual_s - low_s == pytest.approx(0.16, abs=0.01)
    assert low_j < usual_j
