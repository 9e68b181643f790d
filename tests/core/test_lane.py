"""The lane: everything stands inside it, nothing on anything else, and the plates are those of the plan."""

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from examples import TITLES, given_case, problem
from sorvek.core.lift.hall.plates import USUAL_GYM, parse_gym
from sorvek.core.plan import Phase, Plan, Scheme, SetRule
from sorvek.core.prep.lane import BAR_M, PLATE_M, Thing, lane_plan
from sorvek.core.simulation.timeline import run_plan
from sorvek.core.workout.movements import TIERS
from sorvek.figures.lane_drawing import MOST_WIDTH, lane_drawing
from strategies import workouts

GYM = parse_gym(USUAL_GYM)


def lane_of(text, tier="competing"):
    found = problem(text, tier)
    plan = Plan(tuple((Phase(None, Scheme(SetRule((), 5), 5.0)),) for _ in found.course.slots))
    return lane_plan(found, run_plan(found, plan), GYM)


def check(lane):
    for one in lane.things:
        assert one.x_m >= 0
        assert one.x_m + one.length_m <= lane.length_m + 1e-9
        assert one.y_m >= 0
        assert one.y_m + one.width_m <= lane.width_m
        assert one.label
    for i, a in enumerate(lane.things):
        for b in lane.things[i + 1 :]:
            apart = a.x_m + a.length_m <= b.x_m + 1e-9 or b.x_m + b.length_m <= a.x_m + 1e-9
            apart |= a.y_m + a.width_m <= b.y_m + 1e-9 or b.y_m + b.width_m <= a.y_m + 1e-9
            assert apart, (a, b)


@settings(max_examples=40, suppress_health_check=[HealthCheck.filter_too_much, HealthCheck.too_slow])
@given(workouts, st.sampled_from(TIERS), st.sampled_from(["m", "f"]))
def test_in_any_lane_nothing_stands_on_anything_else(workout, tier, sex):
    found, _, timeline = given_case(workout, tier, sex)
    check(lane_plan(found, timeline, GYM))


@pytest.mark.parametrize("title", TITLES)
def test_lanes_of_all_forms_are_drawn_to_one_scale(title):
    lane = lane_of(title)
    check(lane)
    drawing = lane_drawing(lane)
    assert drawing.width <= MOST_WIDTH + 1e-9
    for one, drawn in zip(lane.things, drawing.things, strict=True):
        assert drawn.width == pytest.approx(one.length_m * drawing.per_m)
        assert drawn.height == pytest.approx(one.width_m * drawing.per_m)


def test_a_bar_has_its_true_size_and_the_plates_of_the_first_load():
    (bar,) = lane_of("for time, cap 9:00\n30 clean-and-jerk @ 60 kg").things
    # Men's bar of the technical rules of international weightlifting, from memory: 2.2 m; discs 0.45 m.
    assert (bar.thing, bar.width_m, bar.length_m) == (Thing.BAR, BAR_M["m"], PLATE_M) == (Thing.BAR, 2.2, 0.45)
    assert bar.label == "bar, clean-and-jerk 60 kg: 15 + 2.5"  # and collars of 2.5 kg


def test_plates_for_heavier_bars_lie_ready_in_their_order():
    lane = lane_of("for time, cap 12:00\n10 power clean @ 60 kg\n8 power clean @ 80 kg\n6 power clean @ 100 kg")
    kinds = [one.thing for one in lane.things]
    assert kinds == [Thing.BAR, Thing.STAGED, Thing.STAGED]
    assert len(lane.notes) == 2
    assert all("a side" in one.label for one in lane.things[1:])


def test_loads_that_come_in_turns_have_a_bar_each():
    lane = lane_of("for time, cap 15:00\n4 rounds:\n  9 thruster @ 40 kg\n  6 power clean @ 70 kg")
    assert [one.thing for one in lane.things] == [Thing.BAR, Thing.BAR]
    assert "a bar for each load" in lane.notes[0]


@pytest.mark.parametrize(
    ("movement", "thing"),
    [("bar-facing burpee", Thing.BAR), ("burpee box jump-over", Thing.BOX), ("wall ball @ 9 kg", Thing.WALL)],
)
def test_gear_is_read_by_the_word_that_comes_first(movement, thing):
    assert lane_of(f"for time, cap 9:00\n30 {movement}").things[0].thing is thing


def test_a_shuttle_has_its_length_and_a_long_run_leaves_the_lane():
    assert lane_of("for time, cap 9:00\n10 shuttle run @ 15 m").things[0].length_m == 15
    assert lane_of("for time, cap 9:00\n800 m run").length_m < 12
