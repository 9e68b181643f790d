"""Geometry of the pace tape and the structure strip, with numbers."""

import itertools
import os
from pathlib import Path

import pytest
from flask import Flask, render_template

from examples import TITLES, problem, typed
from sorvek.core.advice.briefing import brief
from sorvek.core.planner.planner import plan_workout
from sorvek.figures.pace_tape import View, pace_tape, tape_end_s, tick_step_s
from sorvek.figures.structure import WIDTH, structure_strip

GOLDEN = Path(__file__).parent.parent / "golden" / "pace.svg"
WEB = Path(__file__).parent.parent.parent / "src" / "sorvek" / "web"


def tape_of(title: str, *schemes: str, tier: str = "competing"):
    given_problem = problem(title, tier)
    plan = typed(*schemes) if schemes else plan_workout(given_problem).plan
    briefing = brief(given_problem, plan)
    return briefing, pace_tape(briefing)


@pytest.mark.parametrize("title", TITLES)
def test_bars_lie_inside_the_plot_in_their_lane_and_do_not_overlap(title):
    briefing, tape = tape_of(title, tier="building")
    lanes = {lane.y for lane in tape.lanes}
    by_lane: dict[float, float] = {}
    for bar in tape.bars:
        assert tape.plot_left <= bar.x
        assert bar.x + bar.width <= tape.plot_right + 1.5
        lane = max(y for y in lanes if y <= bar.y)
        assert bar.x >= by_lane.get(lane, 0.0) - 1.5
        by_lane[lane] = bar.x + bar.width
    assert len(tape.lanes) == len({block.slot for block in briefing.blocks})


def test_a_set_is_as_wide_as_it_is_long():
    briefing, tape = tape_of("Two Lamps", *["unbroken"] * 4, tier="racing")
    scale = (tape.cap_x - tape.plot_left) / (13 * 60)
    widths = sorted(bar.width for bar in tape.bars)
    lengths = sorted((r.end_s - r.start_s) * scale for r in briefing.timeline.sets)
    assert widths == pytest.approx(lengths)


def test_flags_stand_at_the_splits_and_never_write_over_each_other():
    briefing, tape = tape_of("Staircase", "unbroken", "unbroken")
    assert len(tape.flags) == len(briefing.timeline.splits)
    written = [flag.x for flag in tape.flags if flag.text]
    assert all(b - a > 20 for a, b in itertools.pairwise(written))
    assert [flag.tiebreak for flag in tape_of("Two Lamps", *["unbroken"] * 4)[1].flags].count(True) == 1


@pytest.mark.parametrize(
    ("end_s", "step_s"), [(76, 5), (300, 30), (660, 60), (960, 60), (1800, 120), (90_000, 3600)]
)
def test_the_axis_has_round_steps_and_few_of_them(end_s, step_s):
    assert tick_step_s(end_s) == step_s


def test_reserves_that_are_never_touched_are_not_drawn():
    names = [track.label for track in tape_of("for time\n20 strict handstand push-ups", "5x4 r10")[1].tracks]
    assert "push" in names
    assert "grip" not in names


@pytest.mark.parametrize("title", TITLES)
def test_the_structure_strip_fills_its_width_in_order(title):
    strip = structure_strip(problem(title).course)
    assert strip.blocks[0].x >= 0
    assert all(a.x + a.width <= b.x + 1 for a, b in zip(strip.blocks, strip.blocks[1:], strict=False))
    assert strip.blocks[-1].x + strip.blocks[-1].width == pytest.approx(WIDTH, abs=2)


def test_the_tape_of_a_known_plan_is_drawn_as_before_golden():
    """Catches drift, not truth; `make golden` writes it anew after a look at the picture."""
    app = Flask(__name__, template_folder=str(WEB))
    app.jinja_env.trim_blocks = app.jinja_env.lstrip_blocks = True
    with app.app_context():
        drawn = render_template(
            "shared/figures/pace.svg", tape=tape_of("Breakwater", "8/4 r3", "singles r2", "unbroken")[1]
        )
    if os.environ.get("GOLDEN") == "write":
        GOLDEN.write_text(drawn, encoding="utf-8")
    assert drawn == GOLDEN.read_text(encoding="utf-8")


def test_a_zoomed_tape_shows_one_round_over_the_whole_width():
    briefing = brief(problem("Breakwater"), typed("6/6 r5", "5/4 r4", "unbroken"))
    second = briefing.timeline.splits[1]
    whole, zoomed = pace_tape(briefing), pace_tape(briefing, View(second.start_s, second.end_s, reserves=False))
    inside = [b for b in zoomed.bars if briefing.course.segments[b.segment].round == 2]
    assert len(inside) == len(zoomed.bars) == 5
    assert sum(b.width for b in inside) > 4 * sum(
        b.width for b in whole.bars if b.segment in {i.segment for i in inside}
    )
    assert all(zoomed.plot_left <= b.x <= b.x + b.width <= zoomed.plot_right + 1e-6 for b in inside)
    assert [flag.text for flag in zoomed.flags] == [whole.flags[1].text]
    assert zoomed.tracks == ()


def test_two_plans_are_drawn_on_one_axis():
    fast, slow = (brief(problem("Thirty"), typed(sets)) for sets in ("sets of 10 r3", "singles r12"))
    view = View(0.0, max(tape_end_s(fast), tape_end_s(slow)))
    assert [t.x for t in pace_tape(fast, view).ticks] == [t.x for t in pace_tape(slow, view).ticks]
    assert pace_tape(fast, view).flags[-1].x < pace_tape(slow, view).flags[-1].x


def test_what_is_left_of_a_window_is_rest_on_the_tape_until_the_next_opens():
    briefing, tape = tape_of("Fog Signal", tier="racing")
    opens_s = sorted({briefing.course.segments[record.segment].opens_s for record in briefing.timeline.sets})
    assert len(tape.rests) == len(opens_s) - 1 > 1
    per_s = (tape.plot_right - tape.plot_left) / (tape.end_s - tape.start_s)
    for (x, width, _), opens in zip(tape.rests, opens_s[1:], strict=True):
        assert (x + width - tape.plot_left) / per_s == pytest.approx(opens, abs=6)
