"""What a machine's display shows: plain arithmetic of metres, calories and seconds."""

import re

import pytest

from examples import problem, typed
from sorvek.core.advice.briefing import brief
from sorvek.core.advice.machines import Display
from sorvek.core.quantities import clock

WORK = "for time\n3 rounds:\n  500 m row\n  20 cal bike\n  12 burpees\n2000 m run\n15 m handstand walk"
ROW, BIKE, BURPEE, RUN, WALK = range(5)


@pytest.mark.parametrize(
    ("slot", "count", "seconds", "said"),
    [
        (ROW, 400, 80, "1:40 per 500 m"),
        (BIKE, 15, 36, "1500 cal/h"),
        (RUN, 2000, 480, "4:00 per 1000 m"),
    ],
)
def test_a_pace_is_told_as_the_display_shows_it(slot, count, seconds, said):
    assert Display.of(problem(WORK).course.slots[slot]).words(count, seconds) == said


def test_only_metres_and_calories_at_a_pace_have_a_display():
    slots = problem(WORK).course.slots
    assert [Display.of(slot) is not None for slot in slots] == [True, True, False, True, False]
    assert [slots[i].said for i in (ROW, BIKE, RUN)] == ["row", "bike", "run"]


def test_the_range_covers_every_visit_and_alike_ones_are_told_as_one():
    given_problem = problem(WORK)
    made = brief(given_problem, typed("unbroken", "unbroken", "unbroken", "unbroken", "singles r2"))
    rows = [500 * (b.end_s - b.start_s) / b.reps for b in made.blocks if b.slot == ROW]
    low, high = clock(min(rows)), clock(max(rows))
    assert Display.over(made, ROW) in (f"{low}–{high} per 500 m", f"{clock(sum(rows) / 3)} per 500 m")
    assert (max(rows) - min(rows) > 2) == ("–" in Display.over(made, ROW))
    assert re.fullmatch(r"\d+0(–\d+0)? cal/h", Display.over(made, BIKE))
    assert Display.over(made, BURPEE) == ""
    slower = brief(given_problem, typed("unbroken pace 1.3", "unbroken", "unbroken", "unbroken", "singles r2"))
    assert Display.over(slower, ROW) > Display.over(made, ROW)
