"""Forecasts on one axis and the percentile curve, by numbers."""

from itertools import pairwise

import pytest

from sorvek.core.club.board import Leaderboard, Result
from sorvek.core.club.outlook import Outlook
from sorvek.core.quantities import seconds_from_clock
from sorvek.core.workout.course import unroll
from sorvek.core.workout.notation import parse_workout
from sorvek.figures.outlook_bars import LEFT, RIGHT, WIDTH, axis_ticks, forecast_axis, forecast_bar
from sorvek.figures.percentile import percentile_curve

TIMED = unroll(parse_workout("for time, cap 10:00\n100 burpees"))
OPEN = unroll(parse_workout("amrap 10:00\n10 burpees"))


def outlook(*days, heaps=()):
    """An outlook of which a good, a middle and a bad day are times (as text) or reps."""
    good, middle, bad = (
        (isinstance(day, str), seconds_from_clock(day) if isinstance(day, str) else day, "") for day in days
    )
    kind = "time" if middle[0] else "reps"
    values = bad[1], middle[1], good[1]
    return Outlook(("unbroken",), kind, "", *values, good, middle, bad, heaps, (), 0.5, "", "", 0.0, "")


def test_better_lies_further_right_across_reps_and_times():
    some = [outlook(75, 70, 60), outlook("9:20", "9:50", 80), outlook("6:40", "7:00", "7:30")]
    axis = forecast_axis(TIMED, some)
    middles = [forecast_bar(axis, o).middle for o in some]
    assert middles == sorted(middles)
    assert middles[0] < axis.split < middles[1]
    # A bad day of the second ends at 80 reps: the band reaches over the line between times and reps.
    second = forecast_bar(axis, some[1])
    assert second.x == pytest.approx(axis.x_reps(80))
    assert second.x < axis.split < second.x + second.width
    assert axis.x_time(600) == pytest.approx(axis.split)
    for bar in (forecast_bar(axis, o) for o in some):
        assert LEFT <= bar.x <= bar.middle <= bar.x + bar.width <= WIDTH - RIGHT + 3


def test_days_that_end_on_one_rep_stand_there_as_a_heap():
    stopped = outlook(90, 72, 72, heaps=((72.0, 0.6),))
    axis = forecast_axis(OPEN, [stopped])
    assert forecast_bar(axis, stopped).heaps == ((axis.x_reps(72), 0.6),)


def test_an_axis_of_one_kind_uses_the_whole_width():
    reps = forecast_axis(OPEN, [outlook(100, 90, 80), outlook(140, 130, 120)])
    assert not reps.times_shown
    assert reps.x_reps(140) > 0.9 * (WIDTH - RIGHT)
    times = forecast_axis(TIMED, [outlook("5:00", "5:20", "5:40")])
    assert not times.reps_shown
    ticks = axis_ticks(reps)
    assert len(ticks) >= 3
    assert all(b[0] - a[0] >= 44 for a, b in pairwise(ticks))


def test_the_curve_rises_from_last_to_first_and_marks_our_own():
    board = Leaderboard([Result(f"r{i}", "", False, float(i)) for i in range(1, 101)])
    curve = percentile_curve(board, [("Ada", Result("Ada", "", False, 51.0))])
    points = [tuple(map(float, p.split())) for p in curve.path.removeprefix("M").split(" L")]
    assert all(a[0] <= b[0] and a[1] >= b[1] for a, b in pairwise(points))
    ada = curve.marks[0]
    assert ada.name == "Ada"
    assert ada.x == pytest.approx((points[0][0] + points[-1][0]) / 2, abs=6)
    assert ada.y == pytest.approx((points[0][1] + points[-1][1]) / 2, abs=6)


@pytest.mark.parametrize(
    "results",
    [
        [Result(f"r{i}", "", False, float(i)) for i in (6, 84, 146, 208, 280)],
        [Result(f"t{i}", "", True, 300.0 + 7 * i) for i in range(90)],
        [
            *(Result(f"r{i}", "", False, 100.0 + i) for i in range(60)),
            *(Result(f"t{i}", "", True, 500.0 + i) for i in range(60)),
        ],
    ],
    ids=["reps", "times", "both"],
)
def test_lines_across_the_curve_stand_at_round_scores_and_equal_distances(results):
    grid = percentile_curve(Leaderboard(results), []).grid
    for kind in (False, True):  # reps below, clock times above
        lines = [line for line in grid if (":" in line.text) is kind]
        values = [seconds_from_clock(line.text) if kind else float(line.text) for line in lines]
        assert len({round(b - a, 6) for a, b in pairwise(values)}) <= 1
        assert len({round(a.at - b.at, 1) for a, b in pairwise(lines)}) <= 1
        assert all(value % 5 == 0 for value in values)


@pytest.mark.parametrize("results", [[Result("A", "", False, 50.0)], [Result(n, "", True, 300.0) for n in "AB"]])
def test_a_board_with_one_distinct_score_has_a_curve(results):
    curve = percentile_curve(Leaderboard(results), [("A", results[0])])
    assert len(curve.grid) >= 1
    assert curve.marks[0].name == "A"
