"""What stands between parts and rounds, told in many words: rests, work beside every set, scores of one unit."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from readings import LIBRARY, read, read_alike
from sorvek.core.workout.prose import read_prose

minutes = st.integers(2, 9)
counts = st.lists(st.integers(2, 30), min_size=3, max_size=5, unique=True).map(lambda c: sorted(c, reverse=True))


@settings(max_examples=30, deadline=None)
@given(minutes, minutes, minutes)
def test_a_rest_between_two_parts_may_be_told_by_when_the_second_begins(first, rest, second):
    one, two = f"AMRAP {first}: 10 burpees, 8 pull-ups", f"AMRAP {second}: 10 air squats, 8 push-ups"
    text = read_alike(
        f"Part A: {one}\nrest {rest} minutes\nPart B: {two}",
        f"Part A: {one}\nPart B starts {rest} minutes after part A\nPart B: {two}",
        f"Part A: {one}\nPart B (begins {rest} min after the end of part A): {two}",
        f"Part A: {one}\nPart B – {rest}:00 after A: {two}",
        f"Part B starts {rest} minutes after part A ends.\nPart A: {one}\nPart B: {two}",
        f"Part A: {one}\nPart B: {two}\nBetween A and B there are {rest} minutes of rest.",
    )
    assert text.splitlines()[4:6] == [f"rest {rest}:00", f"part {second}:00:"]
    events = f"Event 1: {one}\nEvent 2: 5 minutes to find your heaviest snatch"
    told = f"Event 2 starts {rest} min after event 1."
    lifts = read_alike(f"{events}\n{told}", f"{told}\n{events}")
    assert lifts.splitlines()[-1] == f"then rest {rest}:00, max snatch in 5:00"


@settings(max_examples=30, deadline=None)
@given(minutes, minutes, minutes)
def test_a_rest_may_be_told_by_the_clock_it_begins_at(first, rest, second):
    two = first + rest
    text = read(
        f"From 0:00, before the clock shows {first}:00, as many rounds as possible of\n9 burpees\n12 toes-to-bar\n"
        f"At {first}:00 rest {rest} minutes.\nFrom {two}:00 to {two + second}:00: max wall balls 9/6 kg"
    )
    assert text.splitlines() == [
        "for reps",
        f"part {first}:00:",
        "  9 burpees",
        "  12 toes-to-bar",
        f"rest {rest}:00",
        f"part {second}:00:",
        "  1 wall ball @ 9/6 kg",
    ]


@settings(max_examples=30, deadline=None)
@given(counts, st.integers(5, 40))
def test_work_between_the_sets_is_not_done_after_the_last(series, beside):
    head = f"For time, cap 12 min\n{'-'.join(map(str, series))} rope climbs\n"
    text = read_alike(
        head + f"between the sets: {beside} air squats",
        head + f"between sets {beside} air squats",
        head + f"{beside} air squats between the sets",
        head + f"{beside} air squats after each set except the last",
    )
    lines = text.splitlines()
    assert lines[1] == f"reps {'-'.join(map(str, series[:-1]))}:"
    assert lines[3:] == [f"  {beside} air squats", f"{series[-1]} rope climbs"]
    each = read(head + f"after each set {beside} air squats").splitlines()
    assert each[3:] == [f"  {beside} air squats"]
    ending = read(head + f"between the sets: {beside} air squats\n40 m bear crawl to finish").splitlines()
    assert ending[-2:] == [f"{series[-1]} rope climbs", "40 m bear crawls"]


@pytest.mark.parametrize("rounds", ["3 RFT", "RFT (3)", "RFT: 3", "3 rounds for time"])
def test_rounds_for_time_may_have_their_number_behind(rounds):
    assert read(f"{rounds}\n10 burpees\n12 pull-ups\ncap 9").splitlines()[1] == "3 rounds:"


@pytest.mark.parametrize("level", ["Masters 55+", "55+", "Age group 55+", "Age category 55+", "Ages 55+"])
@pytest.mark.parametrize("told", ["16/12 kg, 10 ring rows", "10 ring rows, 16/12 kg"])
def test_an_age_group_may_be_called_so(level, told):
    text = read(f"AMRAP 9\n10 pull-ups\n20 kettlebell swings 24/16 kg\n{level}: {told}")
    assert text.splitlines()[2:] == ["10 pull-ups | masters 55+: ring row", "20 kettlebell swings @ 24/16/16/12 kg"]


@pytest.mark.parametrize(
    "loads",
    [
        "The bar is 100/70 kg for the deadlifts; use a second bar at 60/42.5 kg for the squats.",
        "Deadlifts at 100/70 kg, squats with a second bar at 60/42.5 kg.",
        "Bar for the deadlifts: 100/70 kg. Bar for the squats: 60/42.5 kg.",
    ],
)
def test_each_of_two_bars_has_the_load_of_its_movement(loads):
    text = read(f"For time, cap 15:\n21-15-9 deadlifts and burpees, then 9-15-21 front squats and burpees\n{loads}")
    assert "deadlift @ 100/70 kg" in text
    assert "front squat @ 60/42.5 kg" in text
    assert "# ?" not in text


@pytest.mark.parametrize(
    ("score", "counted"), [("total calories", True), ("calories + reps", False), ("reps", False)]
)
def test_a_score_of_calories_counts_nothing_else(score, counted):
    text = read(
        f"Every 2:30 for 5 rounds:\n15 wall balls 9/6 kg\nmax calories bike in the time left\nScore: {score}"
    )
    assert text.splitlines()[0] == ("for reps, score bike" if counted else "for reps")


def test_no_tie_break_ends_what_is_said_of_it():
    text = read("AMRAP 9\n10 burpees\n10 pull-ups\nTie-break: none. Your score is the number of reps in 9 minutes.")
    assert text.splitlines() == ["amrap 9:00", "10 burpees", "10 pull-ups"]


@pytest.mark.parametrize("told", ["(1 section = 1 rep)", "(each section is one rep)"])
def test_sections_of_a_length_are_reps(told):
    text = read(f"For time, cap 9\n40 m walking lunges, in 5 m sections {told}\n30 pull-ups")
    assert text.splitlines()[1:] == ["40 m walking lunge steps, 1 rep per 5 m", "30 pull-ups"]


def test_minutes_may_be_lettered_with_dashes():
    text = read("12-minute EMOM, two movements in turn:\nA – 14 cal bike\nB - 12 burpees")
    lines = [
        "for reps",
        "6 rounds:",
        "  part 1:00, once:",
        "    14 cal bike",
        "  part 1:00, once:",
        "    12 burpees",
    ]
    assert text.splitlines() == lines


@settings(max_examples=30, deadline=None)
@given(st.integers(6, 20), st.integers(1, 3), st.integers(2, 6))
def test_counts_may_be_told_to_fall_in_many_words(first, step, rounds):
    first, last = max(first, step * rounds + 1), max(first, step * rounds + 1) - step * rounds
    second, more = first - step, "thruster" if step == 1 else "thrusters"
    one, two = f"{first} thrusters 45/30 kg, 100 m run", f"{second} thrusters, 100 m run"
    text = read_alike(
        f"For time, cap 15: {one}, decreasing by {step} {more} each round to {last}",
        f"For time, cap 15: start with {one}. Each round is {step} {more} less, the last round has {last}.",
        f"For time, cap 15: {one}. Then {two}. Keep taking off {step} {more} per round until the round of {last}.",
        f"For time, cap 15: {one}, then {two}, each round {step} {more} fewer until {last}.",
    )
    counts = range(first, last - 1, -step)
    head = f"ladder {first}..{last}:" if step == 1 else f"reps {'-'.join(map(str, counts))}:"
    assert text.splitlines()[1:] == [head, "  thruster @ 45/30 kg", "  100 m run"]


def test_counts_that_fall_and_rise_at_once_are_written_out():
    start = "For time, cap 9: start with 5 pull-ups and 1 burpee."
    each = "Each round you do one pull-up less and one burpee more until 1 pull-up and 5 burpees."
    lines = read(f"{start} {each}").splitlines()[1:]
    assert [int(line.split()[0]) for line in lines] == [5, 1, 4, 2, 3, 3, 2, 4, 1, 5]


@pytest.mark.parametrize("end", ["", " to 3", " until 12"])
def test_how_far_counts_fall_is_asked_about_where_it_does_not_come_out(end):
    assert "to what?" in read(f"For time, cap 9: 10 burpees and 100 m run, each round 2 burpees less{end}.")


@pytest.mark.parametrize("of_each", [True, False])
def test_rounds_told_of_each_movement_are_done_before_the_next(of_each):
    head = "8 rounds of 20 s on / 10 s off" + (" of each" if of_each else "")
    lines = read(f"{head}: pull-ups, push-ups").splitlines()
    assert lines.count("8 rounds:") == (2 if of_each else 1)


@pytest.mark.parametrize("told", ["(women: 17-12-7 cal)", "(women 17/12/7 cal)", "Women: 17-12-7 cal"])
def test_womens_calories_stand_in_the_order_of_the_rounds(told):
    rounds = "\n".join(f"{n} cal bike, {n} bar-facing burpees" for n in (21, 15, 9))
    assert "9/7 cal bike" in read(f"For time:\n{rounds}\n{told}\nCap 10 min")


@pytest.mark.parametrize("lift", ["snatch", "power clean", "deadlift"])
@pytest.mark.parametrize(
    "told",
    [
        "{lift} – you have 8 minutes to find your 1RM.",
        "A. {lift}: 8 minutes to find your 1RM",
        "{lift}. Find your heaviest in 8 minutes.",
        "8 minutes to find a 1RM {lift}",
    ],
)
def test_a_lift_may_head_the_line_that_says_what_is_sought(lift, told):
    text = read(f"{told.format(lift=lift.capitalize())}\nRest 2 minutes\nAMRAP 8: 8 thrusters 40/30 kg, 8 burpees.")
    assert text.splitlines()[:2] == ["amrap 8:00", f"first max {lift} in 8:00, rest 2:00"]


@pytest.mark.parametrize(
    "told",
    [
        "In the remaining time of the {n} minutes: 1RM power clean",
        "With the time left of the {n} minutes: 1RM power clean",
        "In whatever is left of the {n} min, max power clean.",
        "Use the remaining time to find a 1RM power clean.",
    ],
)
@pytest.mark.parametrize("minutes", [9, 14])
def test_a_lift_in_what_is_left_of_a_time_ends_with_that(told, minutes):
    text = read(f"For time, {minutes} min cap:\n30 burpees\n30 power cleans 60/42.5 kg\n{told.format(n=minutes)}")
    assert text.splitlines()[-1] == f"then max power clean until {minutes}:00"


@pytest.mark.parametrize("same", ["the same triplet", "the same"])
def test_the_rounds_before_may_be_done_once_more(same):
    triplet = ["  12 squat snatches @ 50/35 kg", "  9 pull-ups", "  6 burpees"]
    work = "12 squat snatches 50/35 kg\n9 pull-ups\n6 burpees"
    text = read(
        f"For time:\n1200 m run\n3 rounds:\n{work}\nthen 800 m run\nthen 2 rounds of {same}\nthen 400 m run"
    )
    assert text.splitlines()[6:] == ["800 m run", "2 rounds:", *triplet, "400 m run"]


@settings(max_examples=20, deadline=None)
@given(st.integers(5, 15), st.integers(3, 5))
def test_a_bar_that_changes_every_so_many_reps_cuts_the_work(every, loads):
    bars = [f"{40 + 10 * at}/{30 + 5 * at}" for at in range(loads)]
    head = f"{every * loads} clean & jerks for time."
    told = f"Every {every} reps the bar gets heavier: {', '.join(bars)} kg."
    assert read(f"{head} {told}").splitlines()[1:] == [f"{every} clean-and-jerks @ {bar} kg" for bar in bars]
    assert "# ?" in read(f"{every * loads + 1} clean & jerks for time. {told}")


def test_each_of_two_ladders_goes_on_as_its_own_counts_say():
    rows = "6 / 6\n9 / 9\n..."
    one, two = f"3 power snatches 60/40\n3 burpees\n{rows}", f"3 power cleans 80/55\n3 box jumps\n{rows}"
    text = read(f"5 min AMRAP\nrest 5 min\n5 min AMRAP\nAMRAP 1\n{one}\nAMRAP 2\n{two}")
    assert text.count("  ladder 3,+3:") == 2


@pytest.mark.parametrize(
    ("told", "name"),
    [
        ("push-ups (hand-release)", "hand-release push-ups"),
        ("push-ups, hand-release", "hand-release push-ups"),
        ("pull-ups (strict)", "strict pull-ups"),
        ("pull-ups (chest to bar)", "chest-to-bar pull-ups"),
        ("pull-ups (any grip)", "pull-ups"),
    ],
)
def test_what_kind_of_a_movement_it_is_may_stand_behind(told, name):
    assert f"10 {name}" in read(f"AMRAP 9\n10 {told}\n10 burpees").splitlines()


@pytest.mark.parametrize(
    ("words", "asked"),
    [
        ("with a partner (alternate rounds)", True),
        ("with a partner, split as you like", True),
        ("with a partner to count", False),
    ],
)
def test_work_that_partners_share_is_asked_about(words, asked):
    assert ("partners" in read(f"AMRAP 20 min {words}:\n10 deadlifts 80/55 kg\n200 m run")) is asked


@pytest.mark.parametrize("work", ["shoulder-to-overhead 60/40", "cleans 60/40 kg", "snatches at 60/40"])
def test_as_many_as_possible_with_a_load_are_reps_and_no_lift(work):
    text = read(f"4 rounds: 2 min on, 2 min off\n15/12 cal bike\nmax {work} in the remaining time")
    assert "max" not in text
    assert "@ 60/40 kg" in text


@pytest.mark.parametrize("score", ["heaviest complex", "best load", "highest load", "best weight"])
def test_a_complex_by_the_interval_is_a_lift_whatever_its_score_is_called(score):
    text = read(f"Every 90 sec for 12 min: 1 power clean + 1 jerk – increasing. Score: {score}.")
    assert text == "max power clean + push jerk in 12:00, 8 attempts"


def test_one_attempt_at_reps_is_asked_about_and_one_at_a_lift_is_not():
    assert "reps in one set" in read("8 minutes: 1RM push press\nthen max strict pull-ups, one attempt")
    assert read("1RM push press in 8 minutes, one attempt") == "max push press in 8:00, 1 attempt"


@pytest.mark.parametrize("again", ["Repeat the AMRAP.", "Then do it again.", "Same AMRAP again.", "Repeat."])
@pytest.mark.parametrize("rest", ["Rest 3 min.", "3 minutes of rest."])
def test_an_amrap_told_to_be_done_again_is_two_parts(rest, again):
    text = read(f"AMRAP 7 min: 8 burpees, 9 pull ups. {rest} {again} Score is the sum.")
    part = ["part 7:00:", "  8 burpees", "  9 pull-ups"]
    assert text.splitlines() == ["for reps", *part, "rest 3:00", *part]


@pytest.mark.parametrize("again", ["Repeat.", "Then do it all again.", "Do the whole workout once more."])
@pytest.mark.parametrize("rest", ["", "Rest 2 min\n"])
def test_work_for_time_told_to_be_done_again_is_written_twice(rest, again):
    lines = read(f"For time, cap 15\n30 thrusters 40/30 kg\n30 burpees\n{rest}{again}").splitlines()[1:]
    work = ["30 thrusters @ 40/30 kg", "30 burpees"]
    assert lines == [*work, *(["rest 2:00"] if rest else []), *work]


@pytest.mark.parametrize("score", ["the better of the two", "the lower of both"])
def test_one_of_two_scores_is_asked_about(score):
    assert "no words for this score" in read(
        f"AMRAP 7: 7 burpees, 7 pull ups. Rest 3 min. Repeat. Score is {score}."
    )


def test_words_that_tell_a_rest_lead_to_it_and_back():
    source = "Part A: AMRAP 6: 10 burpees\nPart B starts 3 minutes after part A: AMRAP 5: 10 push-ups"
    reading = read_prose(source, LIBRARY)
    line = reading.text.splitlines().index("rest 3:00") + 1
    words = [source[mark.start : mark.end] for mark in reading.marks if mark.line == line]
    assert " ".join(words) == "3 minutes"


@pytest.mark.parametrize(
    "torn",
    ["10 push-ups (hand-release", "At 8:00 they rest 2", "At 8:00 rest", "age " + "group " * 3000, "lb (65) 95"],
)
def test_lines_that_break_off_are_read_as_far_as_they_go(torn):
    assert "5 burpees" in read(f"AMRAP 6: 5 burpees\n{torn}")
