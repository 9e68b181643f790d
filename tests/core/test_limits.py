"""What is refused before anything is unrolled, and that what is accepted can be shown for every division."""

import pytest
from hypothesis import given

from sorvek.core.errors import CoreError, InfeasibleError, NotationError
from sorvek.core.workout.checks import MAX_DEPTH, MAX_LINES
from sorvek.core.workout.course import unroll
from sorvek.core.workout.limits import MAX_REPS, MAX_SET_REPS, MAX_STRETCHES, measure
from sorvek.core.workout.notation import parse_workout
from sorvek.core.workout.readout import read_workout
from sorvek.core.workout.tree import Form
from strategies import workouts

NESTED = "for time\n" + "".join("  " * i + "2 rounds:\n" for i in range(30)) + "  " * 30 + "5 burpees\n"


@pytest.mark.parametrize(
    ("text", "line", "words"),
    [
        ("amrap 10:00\nrest 1:00", 2, "no work is written"),
        ("amrap 10:00\ntiebreak", 2, "no work is written"),
        ("for time\nrest 1:00", 2, "no work is written"),
        ("amrap 10:00\nrepeat:\n  rest 1:00", 3, "a block holds no work"),
        ("windows 3:00\nwindow:\n  rest 1:00", 3, "a block holds no work"),
        ("amrap 10:00\nladder 10,+-5:\n  burpee", 2, "-5 more a round"),
        ("for time\n3 rounds:\n  stage cap 3:00:\n    5 burpees", 3, "stands inside another block"),
        ("for reps\nstage cap 5:00:\n  3 burpees\n  stage cap 7:00:\n    4 burpees", 4, "inside another block"),
        ("amrap 5:00\n3 rounds:\n  5 burpees\n  then max snatch in 5:00", 4, "inside another block"),
        ("amrap 5:00\nrepeat:\n  5 burpees\n3 push-ups", 2, "never ends"),
        ("windows 3:00, until missed\nthen max snatch in 5:00", 1, "windows need one ladder"),
        ("for time\n3 rounds:\n    5 burpees\n  3 burpees", 4, "fit no block above"),
        ("for time\n" + "9" * 4300 + " burpees", 2, "4300 digits"),
        ("amrap " + "9" * 4300 + ":00\n5 burpees", 1, "4300 digits"),
        ("for time\n² burpees", 2, "is not understood"),
        ("for time\n5 power cleans @ ² kg", 2, "is not understood"),
        (NESTED, MAX_DEPTH + 3, f"at most {MAX_DEPTH} levels"),
        ("for time\n" + "5 burpees\n" * MAX_LINES, MAX_LINES, f"{MAX_LINES} lines"),
        ("divisions a/a\nfor time\n5 burpees", 1, "every division once"),
        ("for reps\n9999 rounds:\n  part 1:00:\n    1 burpee\n  part 1:00:\n    1 row", 2, "19,998 parts"),
    ],
)
def test_what_hung_or_broke_pages_is_refused_at_its_line(text, line, words):
    with pytest.raises(NotationError, match=words) as caught:
        read_workout(text)
    assert caught.value.place.line == line


@pytest.mark.parametrize(
    ("text", "limit"),
    [
        ("for time\n10000 rounds:\n  10000 rounds:\n    10000 rounds:\n      5 burpees", MAX_REPS),
        ("for time\n3 rounds:\n  10000 burpees", MAX_REPS),
        ("for time\nladder 1..900..1:\n  row\n".replace("row", "burpee"), 1_000),
        ("for time\n6000 pull-ups", MAX_SET_REPS),
        (f"for time\n{MAX_STRETCHES + 1} rounds:\n  1 burpee", MAX_STRETCHES),
        ("amrap 4:00:00\n2 double-unders", 1_500),
        ("for time\n" + "".join(f"5 deadlifts @ {kg} kg\n" for kg in range(50, 100)), 40),
    ],
)
def test_more_work_than_can_be_planned_is_refused_with_the_limit(text, limit):
    with pytest.raises(InfeasibleError, match=f"{limit:,}"):
        read_workout(text)


@pytest.mark.parametrize(
    "title", ["Windows of Opportunity", "For Time and Tide", "Amrap Dreams", "Divisions of Labour"]
)
def test_a_title_that_begins_like_a_format_line_is_a_title(title):
    assert parse_workout(f"{title}\namrap 5:00\n5 burpees").title == title


@pytest.mark.parametrize(
    "text",
    [
        "amrap 10:00\n10 deadlifts @ 100/70 kg\n10 burpees\n10 deadlifts @ 100/60 kg",
        "amrap 10:00\n10 thrusters @ 40/30 kg\n10 thrusters @ 60/30 kg",
        "for time\n10 deadlifts @ 100/70 kg\n10 deadlifts @ 80/70 kg",
    ],
)
def test_two_loads_of_a_movement_are_two_slots_in_every_division(text):
    """Where only one division's loads differ, the other must not lose a slot: pages set both side by side."""
    readout = read_workout(text)
    men, women = (unroll(readout.workout, name) for name in ("men", "women"))
    assert len(men.slots) == len(women.slots)
    assert [s.slot for s in men.segments[:4]] == [s.slot for s in women.segments[:4]]
    assert all(len(total.sizes) == 2 for total in readout.totals)


@given(workouts)
def test_work_counted_on_the_tree_is_the_work_that_is_unrolled(workout):
    """Second opinion: the arithmetic of rungs and rounds against walking them."""
    if workout.form not in (Form.FOR_TIME, Form.STAGES):
        return
    try:
        course = unroll(workout)
    except CoreError:
        return
    amount = measure(workout, workout.body)
    assert (amount.stretches, amount.reps) == (len(course.segments), sum(visit.reps for visit in course.segments))


@given(workouts)
def test_what_is_read_is_what_every_page_can_show(workout):
    from sorvek.core.workout.notation_print import workout_text

    try:
        readout = read_workout(workout_text(workout))
    except CoreError:
        return
    endless = any(segment.endless for segment in readout.course.segments)  # has no rounds
    assert len(readout.rounds) >= 1 or readout.workout.form is Form.LIFT or endless
    assert readout.text == workout_text(workout)


def test_the_reps_of_one_movement_to_the_end_leave_room_for_the_parts_behind():
    """Three pieces on the rower would be 28,800 m at twice the usual speed: each gets room of its own."""
    rowing, rounds = "part 20:00:\n  1 m row\n", "part 3:00:\n  5 burpees\n  5 air squats\n"
    course = unroll(parse_workout("for reps\n" + "rest 1:00\n".join([*[rowing] * 3, rounds])))
    visits = [segment.reps for segment in course.segments if segment.endless]
    assert len(visits) == 3
    assert min(visits) == max(visits) > 6_000
    assert any(segment.reps == 5 for segment in course.segments)
