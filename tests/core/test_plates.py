"""Plates: what can be loaded, against exhaustive search; the notation of a gym."""

import pytest
from hypothesis import given

from sorvek.core.errors import NotationError, OutOfRangeError, PlatesError
from sorvek.core.lift.hall.plates import USUAL_GYM, Piece, gym_text, loads, nearest, parse_gym
from strategies import BAR, every_stack, gyms


@given(gyms())
def test_loads_are_those_of_exhaustive_search_with_the_fewest_plates(gym):
    fewest: dict[float, int] = {}
    for stack in every_stack(gym):
        mass = round(BAR.mass_kg + gym.collars_kg + 2 * sum(p.mass_kg for p in stack), 4)
        fewest[mass] = min(fewest.get(mass, 99), len(stack))
    found = loads(gym, BAR, 0.0, 400.0)
    assert {load.mass_kg: len(load.ways[0]) for load in found} == fewest
    for load in found:
        for way in load.ways:
            assert load.mass_kg == pytest.approx(20 + gym.collars_kg + 2 * sum(p.mass_kg for p in way))
            assert list(way) == sorted(way, key=lambda p: -p.mass_kg)


@given(gyms())
def test_a_gym_survives_print_and_parse(gym):
    assert parse_gym(gym_text(gym)) == gym


def test_pounds_and_kilograms_stand_side_by_side():
    gym = parse_gym("bar 45 lb\npairs 2x45 2x25 1x10 lb\npairs 1x20 1x5 kg  # two sets\n")
    bar = gym.bar("45 lb")
    # 45 lb = 20.41165665 kg by NIST SP 811, appendix B.8 (exact factor)
    assert bar.mass_kg == pytest.approx(20.41165665)
    two_plates = nearest(loads(gym, bar, 0, 300), 61.24)
    assert two_plates.mass_kg == pytest.approx(3 * 20.41165665, abs=1e-4)
    assert two_plates.ways[0] == (Piece(45, "lb"),)
    assert parse_gym(gym_text(gym)) == gym


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "no bar"),
        ("bar 20 kg", "no plates"),
        ("pairs 2x20 kg", "no bar"),
        ("bar 20 kg\npairs 20 kg", "line 2, column 7: “20” is no number of pairs"),
        ("bar 20 kg\nplates 2x20", "line 2, column 1"),
        ("bar twenty\npairs 1x5", "line 1, column 5: bar without its mass"),
        ("bar 20\npairs 99x5", "column 7: 99 as pairs"),
        ("bar 20\npairs 2x500 kg", "500 as a plate"),
    ],
)
def test_a_wrong_gym_names_place_and_remedy(text, words):
    with pytest.raises(NotationError, match=words):
        parse_gym(text)


def test_nothing_loadable_says_what_the_bar_weighs():
    gym = parse_gym("bar 20 kg\npairs 1x10 kg")
    with pytest.raises(PlatesError, match="20 kg with collars, 40 kg with every plate"):
        loads(gym, gym.bars[0], 41, 60)
    with pytest.raises(OutOfRangeError):
        loads(gym, gym.bars[0], float("nan"), 60)


def test_the_bar_follows_the_sex_unless_one_is_named():
    gym = parse_gym(USUAL_GYM)
    assert (gym.bar("", "f").stamp, gym.bar("", "m").stamp, gym.bar("15", "m").stamp) == (15, 20, 15)
    assert nearest(loads(gym, BAR, 0, 200), 101.25).mass_kg == 100
