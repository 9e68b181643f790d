"""Announcements that say the same in other words must become the same notation; made-up work with drawn numbers."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from readings import LIBRARY, read, read_alike
from sorvek.core.workout.prose import Fate, read_prose

NAMES = ["burpees", "toes-to-bar", "pull-ups", "air squats", "sit-ups"]
movements = st.lists(st.sampled_from(NAMES), min_size=2, max_size=4, unique=True)
heavy, light = (st.integers(*ends).map(lambda n: n * 2.5) for ends in ((24, 40), (12, 23)))


@settings(max_examples=40, deadline=None)
@given(movements, st.data())
def test_rungs_told_by_counts_alone_are_those_written_out(names, data):
    firsts = data.draw(st.lists(st.integers(1, 6), min_size=len(names), max_size=len(names)))
    rungs = [[first * turn for first in firsts] for turn in (1, 2, 3)]
    lines = ["\n".join(f"{n} {name}" for n, name in zip(rung, names, strict=True)) for rung in rungs]
    bare = ["/".join(map(str, rung)) for rung in rungs[1:]]
    ladder = read_alike(
        "AMRAP 9\n" + "\n".join(lines) + "\nand so on",
        "AMRAP 9\n" + "\n".join([lines[0], *bare]) + "\nand so on",
        "AMRAP 9\n" + lines[0] + "\n" + ", ".join(bare) + " and so on",
        "AMRAP 9\n" + lines[0].replace("\n", " / ") + "\n" + "\n".join(b.replace("/", " / ") for b in bare) + "\n…",
    )
    assert "ladder" in ladder
    assert "# ?" not in ladder


@pytest.mark.parametrize("rows", ["43/30\n60/40", "60/42\n80/55", "50/35\n50/35\n70/47"])
def test_pairs_of_loads_below_the_work_are_no_rungs(rows):
    text = read(f"AMRAP 10\n10 thrusters\n10 power cleans\n{rows}")
    assert "43 " not in text.replace("43/", "")
    assert [line.split()[2:4] for line in text.splitlines()[1:3]] == [["10", "thrusters"], ["10", "power"]]
    assert len(text.splitlines()) == 3


@settings(max_examples=40, deadline=None)
@given(
    st.integers(2, 20), st.sampled_from([10, 20, 25, 40]), st.sampled_from(["AMRAP 12 min", "For time, 14 min cap"])
)
def test_metres_that_make_a_rep_together_may_be_told_in_many_words(reps, per, form):
    run = reps * per
    work = f"{form}\n{run} m run{{}}\n15 burpees\n"
    text = read_alike(
        work.format("") + f"Every {per} m of the run counts as one rep.",
        work.format("") + f"Score: reps; the run is worth {reps} reps.",
        work.format("") + f"Score: total reps ({run} m run = {reps} reps)",
        work.format(f" (1 rep per {per} m)"),
        work.format("") + f"Each {run}-m run counts as {reps} reps: 1 for every {per} metres.",
    )
    assert text.splitlines()[1:] == [f"{run} m run, 1 rep per {per} m", "15 burpees"]
    asked = read(work.format("") + f"Does the run count as {reps} reps? No.")
    assert "per" not in asked


@settings(max_examples=40, deadline=None)
@given(st.lists(st.tuples(heavy, light), min_size=3, max_size=3))
def test_loads_of_age_groups_in_any_layout_belong_to_the_same_divisions(pairs):
    groups = ["40-44", "45-49", "50+"]
    rows = {
        sex: [(group, f"{pair[at]:g} kg") for group, pair in zip(groups, pairs, strict=True)]
        for at, sex in enumerate(("Men", "Women"))
    }
    layouts = [
        "\n".join(f"{sex} {', '.join(f'{group} {load}' for group, load in row)}" for sex, row in rows.items()),
        "\n".join(f"{sex} {', '.join(f'{group}: {load}' for group, load in row)}" for sex, row in rows.items()),
        "\n".join(f"{sex}: {'; '.join(f'{group} {load}' for group, load in row)}" for sex, row in rows.items()),
        "\n".join(f"{sex} {group}: {load}" for sex, row in rows.items() for group, load in row),
    ]
    found = {
        tuple(
            sorted(
                zip(names.removeprefix("divisions ").split("/"), work.split(" @ ")[1][:-3].split("/"), strict=True)
            )
        )
        for layout in layouts
        for names, _, work in [read(f"For time, cap 6\n30 deadlifts\n{layout}").splitlines()]
    }
    wanted = {
        (f"masters {sex.lower()} {group}", load.removesuffix(" kg"))
        for sex, row in rows.items()
        for group, load in row
    }
    assert found == {tuple(sorted(wanted))}


@pytest.mark.parametrize("first", [1, 2, 3])
def test_work_that_grows_by_the_minute_is_the_same_however_it_is_told(first):
    counts = [first * minute for minute in (1, 2, 3)]
    death = read_alike(
        "Death by burpees\n" + "\n".join(f"Minute {m}: {n} reps" for m, n in enumerate(counts, 1)),
        f"Death by burpees: minute 1: {counts[0]} reps, minute 2: {counts[1]} reps, minute 3: {counts[2]} reps",
        f"Death by burpees. {counts[0]} reps in the first minute, {counts[1]} in the second minute,"
        f" {counts[2]} in the third minute",
        *(["Death by burpees"] if first == 1 else []),
    )
    assert death == f"windows 1:00, until missed\nladder {first},+{first}:\n  burpee"
    minutes = "Minute 1: 1 rep\nMinute 2: 2 reps"
    marks = read_prose(f"Death by burpees\n{minutes}", LIBRARY).marks
    assert {mark.fate for mark in marks if mark.start >= len("Death by burpees\n")} == {Fate.USED}


@settings(max_examples=20, deadline=None)
@given(st.integers(1, 12), st.sampled_from(["each arm", "per arm", "on each side", "per side"]))
def test_reps_of_one_side_count_twice_and_halves_of_a_count_once(count, side):
    text = "AMRAP 9\n{} DB snatches{} 22.5/15 kg\n9 burpees"
    assert f"\n{2 * count} dumbbell snatches" in read(text.format(count, f" {side.removeprefix('on ')},"))
    assert f"\n{2 * count} dumbbell snatches" in read(text.format(2 * count, f", {count} {side},"))


def test_odd_and_even_rounds_are_half_as_many_of_both():
    work = "Odd rounds: 10 burpees\nEven rounds: 10 pull-ups"
    assert "3 rounds:\n  10 burpees\n  10 pull-ups" in read(f"6 rounds for time, cap 9\n{work}")
    assert "which is the last?" in read(f"7 rounds for time, cap 9\n{work}")


@pytest.mark.parametrize(
    ("words", "asked"),
    [
        ("in teams of two", True),
        ("with a partner: partner A rows, partner B works", True),
        ("you go, I go in pairs", True),
        ("only one athlete per lane", False),
        ("in pairs of movements", False),
        ("no teams of two: this is individual", False),
    ],
)
def test_partners_are_asked_about_and_lanes_are_not(words, asked):
    assert ("no words for partners" in read(f"AMRAP 9, {words}\n10 burpees\n10 pull-ups")) == asked


@settings(max_examples=30, deadline=None)
@given(st.integers(8, 20), st.integers(2, 7), heavy, light)
def test_what_a_level_does_reads_alike_in_brackets_below_behind_a_stroke_and_by_a_star(reps, fewer, men, women):
    lighter = f"{men - 10:g}/{women - 10:g} kg"
    work = [f"{reps} toes-to-bar", f"{reps} power cleans {men:g}/{women:g} kg", f"{reps}/{reps - 1} cal row"]
    scaled = [f"{reps} knee raises", f"{fewer} power cleans {lighter}", f"{fewer} cal row"]
    short = [scaled[0], f"{fewer} @ {lighter}", f"{fewer} cal"]
    lines = list(zip(work, scaled, short, strict=True))
    text = read_alike(
        "AMRAP 9\n" + "\n".join(f"{line}\nScaled: {other}" for line, other, _ in lines),
        "AMRAP 9\n" + "\n".join(f"{line} (scaled: {other})" for line, other, _ in lines),
        "AMRAP 9\n" + "\n".join(f"{line} (Scaled {brief})" for line, _, brief in lines),
        "AMRAP 9 (RX / Scaled)\n" + "\n".join(f"{line} / {other}" for line, other, _ in lines),
        "RX | Scaled\nAMRAP 9\n" + "\n".join(f"{line} | {other}" for line, other, _ in lines),
        "AMRAP 9\n" + "\n".join(f"{work[i]}{'*' * i}" for i in range(3)) + f"\nScaled: {scaled[0]}\n"
        f"*scaled: {fewer} reps, {lighter}\n** scaled {fewer} cal",
    )
    assert text.splitlines()[2] == f"{reps} toes-to-bar | scaled: hanging knee raise"
    assert text.splitlines()[3].startswith(f"{reps}/{reps}/{fewer}/{fewer} power cleans @ {men:g}/{women:g}/")
    assert "# ?" not in text


@settings(max_examples=60, deadline=None)
@given(
    st.integers(6, 60),
    st.sampled_from(
        ["box ovr", "kettlebell flips", "bar kicks", "ball ups", "rope swirls", "ring things", "plate zaps"]
    ),
    st.sampled_from(["", " 60/50 cm", " 24/16 kg", ", 9/6 kg"]),
    st.sampled_from(["AMRAP 10", "5 rounds for time", "For time (cap 9)"]),
    st.booleans(),
)
def test_counted_work_of_no_known_name_is_asked_about_and_never_passed_over(count, name, size, form, first):
    lines = [f"{count} {name}{size}", "11 toes-to-bar"]
    text = read("\n".join([form, *(lines if first else lines[::-1])]))
    doubts = [line for line in text.splitlines() if "# ?" in line]
    assert any(name in line for line in doubts)
    assert any("11 toes-to-bar" in line for line in text.splitlines() if "# ?" not in line)


@settings(max_examples=30, deadline=None)
@given(st.integers(20, 60), st.integers(2, 9), st.integers(5, 15), st.sampled_from(["for time", "AMRAP 14 min"]))
def test_a_buy_in_may_be_told_above_or_below_what_it_is_done_before(calories, rounds, reps, form):
    work = f"{reps} burpees, {reps} toes-to-bar"
    told = f"{rounds} rounds {form}: {work}" if form == "for time" else f"{form}: {work}"
    text = read_alike(
        f"{told}\nBuy-in: {calories} cal row",
        f"{told}\nAt the start: {calories} cal row",
        f"{form}\nBuy-in: {calories} cal row\nthen {f'{rounds} rounds of ' if form == 'for time' else ''}{work}",
    )
    assert text.splitlines()[1:3] == [
        f"{calories} cal row",
        f"{rounds} rounds:" if form == "for time" else "repeat:",
    ]


@settings(max_examples=30, deadline=None)
@given(st.lists(st.integers(6, 60), min_size=3, max_size=3), st.sampled_from(["", " reps"]), st.booleans())
def test_rows_of_a_table_of_counts_read_as_lines_and_none_is_lost(counts, word, turned):
    work = ["thrusters 43/30 kg", "pull-ups", "zork flips"]
    cells = [(f"{count}{word}", name)[:: -1 if turned else 1] for count, name in zip(counts, work, strict=True)]
    head = ["| Movement | Reps |" if turned else "| Reps | Movement |", "|---|---|"]
    text = read("\n".join(["For time", *head, *(f"| {a} | {b} |" for a, b in cells)]))
    assert text.splitlines()[1:3] == [f"{counts[0]} thrusters @ 43/30 kg", f"{counts[1]} pull-ups"]
    assert any("zork" in line for line in text.splitlines() if "# ?" in line)


@settings(max_examples=30, deadline=None)
@given(st.integers(5, 40), st.integers(3, 15), st.lists(st.integers(8, 30), min_size=4, max_size=4, unique=True))
def test_a_bar_that_gets_heavier_every_round_stays_at_the_last_load(jumps, reps, steps):
    loads = [f"{4 * step}/{3 * step}" for step in sorted(steps)]
    work, row = f"AMRAP 12 min\n{jumps} double-unders\n{reps} power snatches", ", ".join(loads)
    told = read_alike(
        f"{work}\nEvery round the bar gets heavier: {row} kg (stay there).",
        f"{work} ({loads[0]} kg)\n*Each round the snatches go up: {row} kg",
        f"{work}\nThe bar gets heavier every round: {', '.join(loads[:-1])} and from then on {loads[-1]} kg.",
        f"{work}\nWeight: " + ", ".join(f"round {turn} {load} kg" for turn, load in enumerate(loads, 1)),
    )
    written = [line.split(" @ ")[1] for line in told.splitlines() if "@" in line]
    assert written == [f"{load} kg" for load in loads]
    assert told.splitlines()[-3:-2] == ["repeat:"]


@settings(max_examples=30, deadline=None)
@given(st.lists(st.integers(5, 60), min_size=3, max_size=5, unique=True))
def test_counts_that_only_sum_up_a_chipper_are_no_series(counts):
    names = [*NAMES, "lunges"][: len(counts)]
    lines, row = "\n".join(f"{n} {name}" for n, name in zip(counts, names, strict=True)), "-".join(map(str, counts))
    plain = f"For time, cap 15 min\n{lines}"
    assert "reps" not in read_alike(
        plain, f"For time, cap 15 min\n{row}\n{lines}", f"{row} for time\n{lines}\nCap 15 min"
    )


@pytest.mark.parametrize(
    "told", ["One dumbbell: 22.5/15 kg", "one dumbbell only, 22.5/15 kg", "Single dumbbell: 22.5/15 kg"]
)
def test_one_dumbbell_is_one(told):
    text = read(f"AMRAP 10\n10 dumbbell hang clean and jerks\n20 air squats\n{told}")
    assert "single-arm dumbbell clean-and-jerks @ 22.5/15 kg" in text


@pytest.mark.parametrize(
    "line", ["Masters 50+ use the legs", "Scaled may use a band.", "Intermediate athletes can jump to the bar"]
)
def test_what_a_level_does_is_never_passed_over(line):
    assert "# ?" in read(f"For time, cap 12 min\n5 legless rope climbs\n10 pull-ups\n{line}")


@pytest.mark.parametrize("told", ["4 rope pulls from lying", "6 ring things", "4 rope pulls from lying, 45/30 kg"])
@pytest.mark.parametrize("mark", ["", "— ", "* "])
def test_counted_work_of_a_level_that_is_not_known_is_asked_about(told, mark):
    text = read(f"AMRAP 16 min\n2 rope climbs\n4 sandbag cleans (70/45 kg)\n200 m run\n{mark}Scaled: {told}")
    assert any(told.split(",")[0] in line for line in text.splitlines() if "# ?" in line)
    assert "200 m run" in text  # “4 …” is no count of it


@settings(max_examples=20, deadline=None)
@given(st.integers(20, 60), st.integers(5, 20))
def test_an_emom_names_its_minutes_in_any_way(calories, reps):
    work = [f"{calories} cal row", f"{reps} toes-to-bar", f"{reps} burpees"]
    heads = [["1st:", "2nd:", "3rd:"], ["Minute 1:", "Minute 2:", "Minute 3:"], ["1.", "2.", "3."]]
    rounds = ["EMOM 15", "15 min EMOM", "EMOM 15"]
    texts = [
        "\n".join([first, *(f"{head} {line}" for head, line in zip(row, work, strict=True))])
        for first, row in zip(rounds, heads, strict=True)
    ]
    assert read_alike(*texts).startswith("for reps\n5 rounds:\n  part 1:00, once:")


@settings(max_examples=20, deadline=None)
@given(st.integers(4, 15), st.sampled_from([20, 30, 40, 45]))
def test_seconds_of_work_and_rest_that_fill_a_minute_are_rounds(rounds, work):
    rest = 60 - work
    assert read_alike(
        f"EMOM {rounds}: {work} sec work, {rest} sec rest: burpees",
        f"EMOM {rounds}\n{work} seconds of burpees, {rest} seconds rest",
        f"{rounds} rounds: {work} sec work, {rest} sec rest: burpees",
        f"Every minute for {rounds} minutes: {work} s max burpees, {rest} s rest",
        f'{rounds} rounds\n{work}" Max burpees\n{rest}" Rest',
    ).startswith(f"for reps\n{rounds} rounds:\n  part 0:{work}:")


def test_singles_are_turns_of_a_rope_only_where_there_are_many():
    assert "single-under" in read("AMRAP 10\n50 double-unders\n10 deadlifts 70/47 kg\nScaled: 100 singles")
    assert "single-under" not in read("AMRAP 10\n30 double-unders\n3 singles of power clean 60/40 kg")


def test_counts_beside_a_word_of_rising_are_no_loads():
    text = read("3 rounds for time, climbing up: 15/12 cal row, 20/15 push-ups, 12/9 burpees")
    assert "which load in which round" not in text
    assert "20/15 push-ups" in text


@settings(max_examples=40, deadline=None)
@given(st.integers(9, 30), st.integers(2, 8), heavy, st.sampled_from(["for time", "AMRAP 9 min"]))
def test_what_women_do_and_lift_may_stand_in_brackets_as_behind_a_stroke(calories, less, load, form):
    fewer, lighter = calories - min(less, calories // 2 - 1), load - 10
    text = read_alike(
        f"{form}\n{calories}/{fewer} cal row\n10 thrusters {load:g}/{lighter:g} kg",
        f"{form}\n{calories} ({fewer}) cal row\n10 thrusters {load:g} ({lighter:g}) kg",
        f"{form}\n{calories} cal row (women {fewer})\n10 thrusters {load:g} kg ({lighter:g} kg)",
        f"{form}\n{calories} cal club-type row (W: {fewer})\n10 thrusters, {load:g} kg ({lighter:g})",
    )
    assert text.splitlines()[-2:] == [f"{calories}/{fewer} cal row", f"10 thrusters @ {load:g}/{lighter:g} kg"]


@pytest.mark.parametrize(
    "done",
    [
        "Once all {n} are done, they",
        "When those are completed, athletes",
        "As soon as the {n} reps are finished the athlete",
        "After the {n} toes-to-bar have been completed, the athlete",
        "Then they",
    ],
)
def test_that_work_is_done_is_no_more_work(done):
    begin, end = "Athletes begin with 30 toes-to-bar.", "There are 9 minutes to do it."
    text = f"{begin} {done.format(n=30)} move on to 20 burpees. {end}"
    assert read(text).splitlines() == ["for time, cap 9:00", "30 toes-to-bar", "20 burpees"]


def test_six_a_side_are_no_womens_count():
    assert "12 " in read("For time:\n12 (6) lunges\n20 burpees").splitlines()[1]


@settings(max_examples=30, deadline=None)
@given(
    st.lists(st.tuples(heavy, light), min_size=3, max_size=5, unique_by=(lambda bar: bar[0], lambda bar: bar[1])),
    st.sampled_from(["clean", "thruster"]),
)
def test_womens_loads_of_a_bar_that_changes_may_be_told_in_one_line(bars, name):
    """As many as there are bars, or they are asked about."""
    men = "\n".join(f"{5 - at} {name}s @ {load:g} kg\n10 burpees" for at, (load, _) in enumerate(bars))
    bars = list(zip([load for load, _ in bars], sorted(load for _, load in bars), strict=True))
    loads = [f"{load:g}" for _, load in bars]
    text = read_alike(
        f"For time, cap 9 min:\n{men}\nWomen: {' / '.join(loads)}",
        f"For time, cap 9 min:\n{men}\nWomen use {', '.join(loads)} kg.",
    )
    assert all(f"@ {load:g}/{her:g} kg" in text for load, her in bars)
    assert "# ?" in read(f"For time, cap 9 min:\n{men}\nWomen: {' / '.join([*loads, '100'])}")


@settings(max_examples=30, deadline=None)
@given(st.sampled_from([60, 90, 120, 180]), st.integers(3, 12), st.integers(4, 12))
def test_how_many_intervals_there_are_may_be_told_behind_the_work(every, count, reps):
    work = f"{reps} pull-ups\n{reps} burpees"
    paced = read_alike(
        f"Every {every} seconds for {count} rounds:\n{work}",
        f"Every {every} seconds do\n{work}\n{count} rounds in all.",
        f"Every {every} seconds:\n{work}\n{count} rounds.",
    )
    assert f"x {count}:" in paced
    missed = read_alike(
        f"Every {every} seconds for {count} rounds:\n{work}\nIf you miss one you are out.",
        f"Every {every} seconds do\n{work}\n{count} rounds in all. If you miss one you are out.",
    )
    assert missed.startswith("windows")
    assert f"{count} rounds:" in missed


@pytest.mark.parametrize(("ball", "high"), [("9/6 kg", "3/2.75 m"), ("20/14 lb", "10/9 ft")])
def test_a_ball_and_its_target_need_no_units(ball, high):
    bare = f"{ball.split()[0]} to {high.split()[0]}"
    for told in (f"wall balls, {ball} to {high}", f"wall balls {bare}", f"wall balls ({bare} {high.split()[1]})"):
        assert f"30 wall balls @ {ball} to {high}" in read(f"For time:\n30 {told}\n20 burpees")


@pytest.mark.parametrize("words", ["Note: Masters (35+) and scaled athletes may {}", "Scaled and teens can {}"])
def test_what_levels_may_do_is_asked_about_behind_any_head(words):
    text = read(f"AMRAP 9\n10 pull-ups\n10 burpees\n{words.format('step up and use a band')}.")
    assert "what does that change?" in text


def test_death_by_two_movements_names_the_second_minute_by_its_counts():
    for second in ("Minute 2: 2 and 2.", "Minute 2: 2 thrusters, 2 pull-ups."):
        work = f"Minute 1: 1 thruster, 1 pull-up. {second} Carry on adding one of each till you can't. 40/30 kg."
        text = read(f"Death by thruster + pull-up\n{work}")
        assert text.splitlines()[1:] == [
            "windows 1:00, until missed",
            "ladder 1,+1:",
            "  thruster @ 40/30 kg",
            "  pull-up",
        ]
