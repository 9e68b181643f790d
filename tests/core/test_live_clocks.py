"""Phones' clocks and what phones send: times are right within what the network allows, nonsense is refused."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from sorvek.core.errors import FloorError
from sorvek.core.live import TapKind, read_sent
from sorvek.core.live.clocks import ClockExchange, server_ahead_s

NOW = 1_770_000_000.0


@given(
    st.floats(-5, 5),
    st.floats(-5e-5, 5e-5),
    st.lists(st.tuples(st.floats(0.001, 0.08), st.floats(0, 1)), min_size=5, max_size=40),
)
def test_an_offset_is_known_within_half_the_shortest_way_while_the_clock_drifts(offset_s, drift, ways):
    """Phones off by up to 5 s, drifting by 50 millionths; an exchange every second."""
    exchanges, phone = [], lambda at: at - offset_s + drift * at
    for second, (way_s, share) in enumerate(ways):
        heard = second + way_s
        exchanges.append(ClockExchange(phone(second), second + share * way_s, phone(heard)))
    ahead = server_ahead_s(exchanges)
    now = len(ways)
    assert phone(now) + ahead == pytest.approx(now, abs=0.5 * min(way for way, _ in ways) + 1e-4 * now + 1e-6)
    assert abs(phone(now) + ahead - now) < 0.2


def test_without_a_sound_exchange_nothing_is_known():
    assert server_ahead_s([]) is None
    assert server_ahead_s([ClockExchange(10.0, 12.0, 9.0), ClockExchange(10.0, 12.0, 100.0)]) is None


def test_old_exchanges_count_only_where_there_are_no_newer_ones():
    old, new = ClockExchange(0.0, 5.0, 0.01), ClockExchange(500.0, 506.0, 500.2)
    assert server_ahead_s([old]) == pytest.approx(4.995)
    assert server_ahead_s([old, new]) == pytest.approx(5.9)


def sending(**more):
    tap = {"id": "a1b2c3d4", "kind": "set", "made_s": NOW - 3.0}
    return json.dumps({"device": "phone-12345", "asked_s": NOW - 2.0, "taps": [tap | more]}).encode()


def test_a_tap_is_put_on_the_heats_clock():
    ((sent, tap),) = read_sent(sending()).on_clock(NOW - 60, 1.0, NOW)
    assert (tap.kind, tap.id, sent.lane) == (TapKind.SET, "a1b2c3d4", 0)
    assert tap.at_s == pytest.approx(59.0)  # made a second before it was sent
    fast = read_sent(sending()).on_clock(NOW - 60, 16.0, NOW)[0][1]
    assert fast.at_s == pytest.approx(16 * 59.0)
    future = read_sent(sending(made_s=NOW + 500)).on_clock(NOW - 60, 1.0, NOW)[0][1]
    assert future.at_s == pytest.approx(60.0)


def test_a_device_cannot_change_a_plan():
    assert read_sent(sending(kind="plan")).on_clock(NOW, 1.0, NOW) == []


@pytest.mark.parametrize(
    "wrong",
    [
        {"id": "short"},
        {"id": "<script>alert(1)</script>"},
        {"id": "x" * 65},
        {"kind": "explode"},
        {"made_s": "yesterday"},
        {"made_s": -1},
        {"reps": -1},
        {"reps": 10**9},
        {"lane": 99},
    ],
)
def test_what_cannot_be_is_refused_and_named(wrong):
    with pytest.raises(FloorError, match=next(iter(wrong))):
        read_sent(sending(**wrong))


@given(st.binary(max_size=200))
def test_any_bytes_that_are_no_sending_are_refused(data):
    with pytest.raises(FloorError, match=r"."):
        read_sent(data)
