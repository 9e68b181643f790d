"""Stacks: changes of plates against exhaustive search."""

from itertools import product

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from sorvek.core.lift.hall.plates import Gym, Load, Piece, loads
from sorvek.core.lift.hall.stacks import (
    Change,
    change,
    fewest_moved,
    handled,
    moved,
    stacks_for,
    staging,
    with_more_ways,
)
from strategies import BAR, KG_PLATES, every_stack, gyms


def sides(gym):
    """Return the masses on one side that a gym allows, lightest first."""
    return sorted({round(sum(p.mass_kg for p in stack), 4) for stack in every_stack(gym)})


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


@settings(max_examples=40)
@given(gyms(), st.lists(st.integers(0, 200), min_size=2, max_size=5))
def test_the_fewest_plates_between_loads_are_those_of_exhaustive_search(gym, picks):
    every = sides(gym)
    chosen = tuple(every[i % len(every)] for i in sorted(picks))
    ways = [[s for s in every_stack(gym) if abs(sum(p.mass_kg for p in s) - side) < 1e-6] for side in chosen]
    wanted = [[min(moved(a, b) for a in here for b in there) for there in ways] for here in ways]
    assert fewest_moved(gym, chosen).tolist() == wanted


@settings(max_examples=40)
@given(gyms(), st.sampled_from(KG_PLATES))
def test_one_more_pair_never_takes_more_plates_between_two_loads(gym, kg):
    counts = dict(gym.pairs)
    counts[Piece(kg)] = counts.get(Piece(kg), 0) + 1
    more = Gym(gym.bars, gym.collars_kg, tuple(sorted(counts.items(), key=lambda item: -item[0].mass_kg)))
    some = tuple(sides(gym)[:40])
    assert (fewest_moved(more, some) <= fewest_moved(gym, some)).all()


def test_pounds_and_kilograms_are_told_apart_when_plates_are_counted():
    gym = Gym((BAR,), 0.0, ((Piece(45, "lb"), 1), (Piece(20), 1), (Piece(5), 1)))
    found = loads(gym, BAR, 0.0, 200.0)
    between = fewest_moved(gym, tuple(round((load.mass_kg - 20) / 2, 4) for load in found))
    # empty, 5, 20, 45 lb, 25, 45 lb + 5, 45 lb + 20, all
    assert between[0].tolist() == [0, 1, 1, 1, 2, 2, 2, 3]
    assert np.array_equal(between, between.T)


def test_a_hall_full_of_small_plates_is_counted_right():
    # 40 pairs of 1 kg: from 5 to 39 kg on one side 34 plates go on, from 39 to 40 one more
    gym = Gym((BAR,), 0.0, ((Piece(1), 40),))
    assert fewest_moved(gym, (5.0, 39.0, 40.0)).tolist() == [[0, 34, 35], [34, 0, 1], [35, 1, 0]]


def test_a_change_there_is_little_time_for_moves_no_more_plates_than_fit():
    # 40 kg on one side is 25 + 15 or 20 + 20; from 20 the latter takes one plate, the former three.
    heavy, light = Piece(25), Piece(15)
    first = Load(60.0, ((Piece(20),), (light, Piece(5))))
    second = Load(100.0, ((heavy, light), (Piece(20), Piece(20))))
    third = Load(110.0, ((heavy, light, Piece(5)),))
    assert handled(stacks_for([first, second, third])) == 5
    assert stacks_for([first, second, third])[1] == (heavy, light)
    assert stacks_for([first, second, third], [1, 5])[1] == (Piece(20), Piece(20))


@given(gyms())
def test_more_ways_for_a_load_are_ways_and_the_known_ones_among_them(gym):
    found = loads(gym, BAR, 0.0, 400.0)
    load = found[len(found) // 2]
    wider = with_more_ways(gym, BAR, load)
    assert wider.ways[: len(load.ways)] == load.ways
    side_kg = (load.mass_kg - BAR.mass_kg - gym.collars_kg) / 2
    allowed = {stack for stack in every_stack(gym) if abs(sum(p.mass_kg for p in stack) - side_kg) < 1e-6}
    assert set(wider.ways) <= allowed
    assert len(wider.ways) == min(len(allowed), 16)
