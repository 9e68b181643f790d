"""Heats and taps in the database: once and for good, by lane, gone with their workout."""

import pytest

from sorvek.core.live import Tap, TapKind
from sorvek.store.athletes import remove_athlete, restore_athlete
from sorvek.store.database import connection
from sorvek.store.floor import (
    NewLane,
    add_taps,
    heat_of_token,
    heats_run,
    load_heat,
    make_heat,
    name_judge,
    save_schemes,
    start_heat,
    tap_counts,
    taps_of,
)
from sorvek.store.workouts import remove_workout, restore_workout
from sorvek.web import create_app


@pytest.fixture
def heat(tmp_path):
    app = create_app(tmp_path / "club.db", demo=True)
    with connection():
        yield load_heat(make_heat(3, 2, [NewLane(4, ("unbroken",)), NewLane(5, ("5/4 r3",), 77)], 16.0))
    app.extensions["planner"].close()


def test_a_heat_is_stored_with_its_lanes_in_order(heat):
    assert [(lane.number, lane.athlete_id, lane.schemes, lane.stand_in) for lane in heat.lanes] == [
        (1, 4, ("unbroken",), None),
        (2, 5, ("5/4 r3",), 77),
    ]
    assert [one.number for one in heats_run(3)] == [2]
    assert load_heat(10**9) is None
    name_judge(heat.lanes[0].id, "Ida" * 50)
    save_schemes(heat.lanes[0].id, ["singles r2"])
    lane = load_heat(heat.id).lanes[0]
    assert (len(lane.judge), lane.schemes) == (80, ("singles r2",))


def test_a_heat_starts_once_and_its_clock_counts_down_in_real_seconds(heat):
    assert heat.clock_s(123.0) == 0
    assert start_heat(heat.id, 1000.0)
    assert not start_heat(heat.id, 2000.0)
    started = load_heat(heat.id)
    assert started.started_s == 1000.0
    assert [started.clock_s(at) for at in (990.0, 1000.0, 1010.0)] == [-10.0, 0.0, 160.0]
    assert start_heat(heat.id, None)
    assert not start_heat(heat.id, None)


def test_a_tap_is_stored_once_as_it_first_came(heat):
    first, second = heat.lanes
    tap = Tap("tap-0001", TapKind.BROKEN, 12.5, "", 0)
    add_taps(first.id, "a", [(tap, 99.0)])
    add_taps(first.id, "b", [(Tap("tap-0001", TapKind.SET, 1.0), 5.0), (Tap("tap-0000", TapKind.SET, 3.0), 5.0)])
    add_taps(second.id, "a", [(Tap("tap-0001", TapKind.PLAN, 4.0, texts=("unbroken",)), 5.0)])
    add_taps(first.id, "a", [])
    assert taps_of(first.id) == (Tap("tap-0000", TapKind.SET, 3.0), tap)
    assert taps_of(second.id)[0].texts == ("unbroken",)
    assert tap_counts(heat.id) == {first.id: 2, second.id: 1}


def test_a_link_leads_to_its_lane_while_athlete_and_workout_are_there(heat):
    token = heat.lanes[1].token
    assert len(token) >= 22
    assert heat_of_token(token)[1] == heat.lanes[1]
    assert heat_of_token("nothing") is None
    remove_athlete(5)
    assert heat_of_token(token) is None
    assert [lane.athlete_id for lane in load_heat(heat.id).lanes] == [4]
    restore_athlete(5)
    assert heat_of_token(token) is not None
    remove_workout(3)
    assert heat_of_token(token) is None
    restore_workout(3)
    assert heat_of_token(token) is not None
