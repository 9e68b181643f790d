"""Heats are filled evenly; nobody waits for a machine; turns against brute force."""

from itertools import permutations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from sorvek.core.errors import PrepError
from sorvek.core.prep.heats import Hall, Need, heats_of, machine_turns

needs = st.lists(
    st.builds(lambda due, length: Need("", 60.0 * due, 60.0 * length), st.integers(0, 20), st.integers(1, 8)),
    max_size=8,
)


@given(st.integers(0, 60), st.integers(1, 12))
def test_everybody_is_in_one_heat_and_heats_are_even(count, lanes):
    names = [f"a{i}" for i in range(count)]
    heats = heats_of(names, Hall(lanes=lanes))
    assert [name for heat in heats for name in heat.names] == names
    sizes = [len(heat.names) for heat in heats]
    assert all(0 < size <= lanes for size in sizes)
    assert not sizes or max(sizes) - min(sizes) <= 1
    assert [heat.starts_s for heat in heats] == [1200.0 * i for i in range(len(heats))]


@given(needs, st.integers(1, 4))
def test_no_two_are_on_a_machine_at_once_and_nobody_is_late(found, machines):
    turns = machine_turns(found, machines)
    assert len(turns) == len(found)
    for turn in turns:
        others = [t for t in turns if t is not turn and t.machine == turn.machine]
        assert all(t.ends_s <= turn.begins_s or t.begins_s >= turn.ends_s for t in others)
        assert turn.early_s >= 0
    assert sorted(t.ends_s + t.early_s for t in turns) == sorted(need.due_s for need in found)


def least_early(found, machines):
    """Return the least sum of earliness over all orders in which turns can be given backwards."""
    best = float("inf")
    for order in permutations(found):
        free, early = [float("inf")] * machines, 0.0
        for need in order:
            at = max(range(machines), key=lambda i: free[i])
            ends = min(need.due_s, free[at])
            free[at] = ends - need.length_s
            early += need.due_s - ends
        best = min(best, early)
    return best if found else 0.0


@given(st.lists(st.integers(0, 12), max_size=6), st.integers(1, 3))
def test_turns_of_one_length_are_as_late_as_they_can_be(dues, machines):
    found = [Need("", 60.0 * due, 180.0) for due in dues]
    assert sum(t.early_s for t in machine_turns(found, machines)) == pytest.approx(least_early(found, machines))


def test_six_on_two_machines_come_in_three_pairs():
    turns = machine_turns([Need(f"a{i}", -1200.0, 300.0) for i in range(6)], 2)
    assert [t.begins_s for t in turns] == [-2100, -2100, -1800, -1800, -1500, -1500]
    assert [t.early_s for t in turns] == [600, 600, 300, 300, 0, 0]


@pytest.mark.parametrize(
    ("hall", "words"), [(Hall(lanes=0), "lanes"), (Hall(machines=99), "machines"), (Hall(between_s=5.0), "minutes")]
)
def test_a_hall_that_cannot_be_says_what(hall, words):
    with pytest.raises(PrepError, match=words):
        heats_of(["a"], hall)


@given(st.integers(1, 40), st.integers(1, 12))
def test_mixed_heats_deal_out_the_tiers_evenly(count, lanes):
    names = [f"{i:02}" for i in range(count)]
    heats = heats_of(names, Hall(lanes, mixed=True))
    assert sorted(name for heat in heats for name in heat.names) == names
    sizes = [len(heat.names) for heat in heats]
    assert max(sizes) <= lanes
    assert max(sizes) - min(sizes) <= 1
    # Of any tier, being neighbours in the order, no heat has two more than another.
    tier = set(names[: count // 2])
    shares = [len(tier & set(heat.names)) for heat in heats]
    assert max(shares) - min(shares) <= 1
