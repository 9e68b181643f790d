"""Plates: what can be loaded, against exhaustive search; the notation of a gym."""

from itertools import product

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from sorvek.core.errors import NotationError, OutOfRangeError, PlatesError
from sorvek.core.plates import (
    USUAL_GYM,
    Change,
    Gym,
    Load,
    Piece,
    change,
    gym_text,
    handled,
    loads,
    moved,
    nearest,
    parse_gym,
    stacks_for,
    staging,
)

KG_PLATES = (25.0, 20.0, 15.0, 10.0, 5.0, 2.5, 1.25, 0.5)
BAR = Piece(20)


def gyms():
    """Return small gyms with kg plates only."""
    pairs = st.dictionaries(st.sampled_from(KG_PLATES), st.integers(1, 2), min_size=1, max_size=5)
    return st.builds(
        lambda own, collars: Gym((BAR,), collars, tuple((Piece(kg), own[kg]) for kg in sorted(own, reverse=True))),
        pairs,
        st.sampled_from([0.0, 5.0]),
    )


def every_stack(gym):
    """Return every stack a gym allows, by brute force."""
    for counts in product(*(range(n + 1) for _, n in gym.pairs)):
        yield tuple(p for (p, _), n in zip(gym.pairs, counts, strict=True) for _ in range(n))


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


@settings(max_examples=40)
@given(gyms(), st.lists(st.integers(0, 60), min_size=2, max_size=4))
def test_a_ladder_is_loaded_with_as_few_plates_handled_as_exhaustive_search_finds(gym, picks):
    found = loads(gym, BAR, 0.0, 400.0)
    ladder = [found[i % len(found)] for i in sorted(picks)]
    ways = [
        [s for s in every_stack(gym) if abs(20 + gym.collars_kg + 2 * sum(p.mass_kg for p in s) - x.mass_kg) < 1e-6]
        for x in ladder
    ]
    if max(map(len, ways)) > 4:
        ladder = [Load(x.mass_kg, tuple(own)) for x, own in zip(ladder, ways, strict=True)]
    fewest = min(handled(path) for path in product(*ways))
    assert handled(stacks_for(ladder)) == fewest


def test_outer_plates_come_off_before_inner_ones():
    p25, p10, p5, p2 = Piece(25), Piece(10), Piece(5), Piece(2.5)
    assert change((p25, p10), (p25, p5, p2)) == Change((p10,), (p5, p2))
    assert change((p25, p5), (p10,)).off == (p5, p25)
    assert (moved((p25,), (p25,)), moved((p25, p10), (p25, p5, p2)), moved((), (p25,))) == (0, 3, 1)


def test_staged_plates_stand_in_the_order_in_which_they_go_on():
    p25, p10, p5 = Piece(25), Piece(10), Piece(5)
    assert staging([(p25,), (p25, p5), (p25, p10)]) == (p5, p10)


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
