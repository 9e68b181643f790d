"""The bar, the lift tape and the trade-off curve, by numbers."""

from dataclasses import replace
from itertools import pairwise

import pytest

from examples import problem
from sorvek.core.advice.briefing import brief
from sorvek.core.lift.attempts import plan_attempts
from sorvek.core.lift.hall.plates import USUAL_GYM, Piece, parse_gym
from sorvek.core.lift.levels import ready_shares
from sorvek.core.lift.task import LiftTask, Typed
from sorvek.core.lift.two_scores import trade_off
from sorvek.core.planner import Temper
from sorvek.core.planner.planner import plan_workout
from sorvek.core.simulation import ScoreKind
from sorvek.core.workout.movements import shipped_library
from sorvek.figures.bar_drawing import HEIGHT, bar_drawing, colour_of
from sorvek.figures.lift_tape import LEFT, RIGHT, WIDTH, lift_tape
from sorvek.figures.trade import trade_curve

GYM = parse_gym(USUAL_GYM)
TASK = LiftTask(100.0, 300.0, GYM, GYM.bar("20"))


def kilos(load_kg):
    return f"{load_kg:.1f} kg"


# Technical rules of international weightlifting, discs (from memory): colour by mass in kg.
DISCS = {25: "red", 20: "blue", 15: "yellow", 10: "green", 5: "white"}
CHANGE_DISCS = {2.5: "red", 2: "blue", 1.5: "yellow", 1: "green", 0.5: "white"}


@pytest.mark.parametrize(("mass", "colour"), [*DISCS.items(), *CHANGE_DISCS.items()])
def test_discs_have_the_colours_of_the_rules(mass, colour):
    assert colour_of(Piece(mass)) == colour


def test_plates_stand_side_by_side_from_the_inside_and_carry_their_number():
    drawing = bar_drawing([Piece(25), Piece(5), Piece(1.25), Piece(10, "lb")])
    assert [p.label for p in drawing.plates] == ["25", "5", "1.25", "10"]
    assert [p.colour for p in drawing.plates] == ["red", "white", "steel", "steel"]
    for left, right in pairwise(drawing.plates):
        assert left.x + left.width <= right.x
    assert drawing.plates[0].height == HEIGHT > drawing.plates[1].height > drawing.plates[2].height
    assert drawing.collar_x < drawing.width
    assert bar_drawing([]).words == "empty bar"


def test_the_tape_shows_the_window_behind_the_work_on_one_scale():
    found = problem("Signal Mast")
    before = brief(found, plan_workout(found).plan)
    plan = plan_attempts(TASK, [Typed(85.0, 0.0, True), Typed(100.0, 90.0, False)])
    tape = lift_tape(TASK, plan, kilos, before)
    per_s = (WIDTH - LEFT - RIGHT) / (480 + 300)
    assert tape.window_x == pytest.approx(LEFT + 480 * per_s)
    assert tape.end_x == pytest.approx(WIDTH - RIGHT)
    assert tape.bars[1].x == pytest.approx(tape.window_x + 90 * per_s)
    assert [bar.state for bar in tape.bars[:2]] == ["made", "missed"]
    assert tape.work[0].x >= LEFT
    assert all(w.x + w.width <= tape.window_x + 1 for w in tape.work)
    assert [text for _, text in tape.ticks if text == "0:00"] == ["0:00", "0:00"]  # of the session, of the window
    assert all(b.loading_x >= a.x + a.width - 1e-6 for a, b in pairwise(tape.bars))


def test_of_long_work_only_the_end_stands_before_the_window():
    found = problem("Left Bank")
    tape = lift_tape(TASK, plan_attempts(TASK), kilos, brief(found, plan_workout(found).plan))
    assert tape.window_x < 0.65 * WIDTH
    assert all(w.x >= LEFT - 1e-6 for w in tape.work)
    alone = lift_tape(TASK, plan_attempts(TASK), kilos, None)
    assert (alone.work, alone.window_x) == ((), LEFT)


def test_the_curve_rises_to_the_left_and_labels_its_profiles():
    found = problem("Signal Mast")
    style = shipped_library().movements["clean-and-jerk"].styles[0]
    *points, _ = trade_off(
        found,
        {Temper.STEADY: plan_workout(found).plan},
        lambda tank: replace(TASK, ready=ready_shares(tank, style, TASK.window_s) if tank else ()),
    )
    curve = trade_curve(points, lambda p: f"{p.score.value:.0f}", kilos, 0)
    xs, ys = [d.x for d in curve.dots], [d.y for d in curve.dots]
    assert xs == sorted(xs, reverse=True)
    assert ys == sorted(ys, reverse=True)  # a heavier lift stands higher
    assert curve.dots[0].label.startswith("all out first")
    assert curve.dots[0].chosen
    assert len(curve.x_ticks) == 2


def test_who_does_not_finish_stands_left_of_all_who_do():
    found = problem("for time, cap 6:00\n40 burpees\n40 thrusters @ 30 kg\nthen max clean-and-jerk in 5:00\n")
    point = trade_off(found, {Temper.STEADY: plan_workout(found).plan}, lambda tank: TASK)[0]
    ends = [(ScoreKind.TIME, 300.0), (ScoreKind.TIME, 350.0), (ScoreKind.REPS, 70.0), (ScoreKind.REPS, 40.0)]
    lone = [
        replace(point, score=replace(point.score, kind=kind, value=value, finished=kind is ScoreKind.TIME))
        for kind, value in ends
    ]
    xs = [dot.x for dot in trade_curve(lone, lambda p: "", kilos, -1).dots]
    assert xs == sorted(xs, reverse=True)
    assert len(set(xs)) == 4
