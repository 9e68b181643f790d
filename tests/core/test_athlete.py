"""The athlete file and how gaps are filled."""

import json

import pytest
from hypothesis import given

from examples import problem
from sorvek.core.athlete import Athlete, Origin, body_figure
from sorvek.core.athlete_file import athlete_data, athlete_from_data, read_athlete
from sorvek.core.errors import AthleteFileError
from sorvek.core.quantities import clock, kg_from_lb, lb_from_kg, seconds_from_clock
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
