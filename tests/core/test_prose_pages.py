"""Whole pages as organisers publish them: the work among title, levels, loads, tie-break, score, rules and gear."""

from dataclasses import replace
from itertools import pairwise

from hypothesis import given, settings
from hypothesis import strategies as st

from sorvek.core.workout import tree as w
from sorvek.core.workout.movements import shipped_library
from sorvek.core.workout.notation_print import workout_text
from sorvek.core.workout.prose import read_prose

LIBRARY = shipped_library()
# One of a kind, one pull, one box: with two it would not be clear which of them a level does otherwise.
BARS = ["power clean", "thruster", "deadlift", "front squat", "power snatch", "overhead squat"]
HELD, BOXES, PULLS = ["dumbbell snatch"], ["box jump", "box jump-over"], ["pull-up", "chest-to-bar pull-up"]
FREE = ["toes-to-bar", "double-under", "pistol", "burpee", "sit-up"]
# What a level does instead (common practice, no source).
EASIER = {
    "toes-to-bar": "hanging knee raise",
    "double-under": "single-under",
    "pistol": "air squat",
    "chest-to-bar pull-up": "jumping pull-up",
}
# Sizes of everybody and of two levels, by the implement they are told of.
SIZES = {
    "barbell": [
        ((60.0, 42.5), (40.0, 27.5), (50.0, 35.0)),
        ((43.0, 30.0), (30.0, 20.0), (35.0, 25.0)),
        ((100.0, 70.0), (70.0, 50.0), (80.0, 55.0)),
    ],
    "dumbbell": [((22.5, 15.0), (15.0, 10.0), (17.5, 12.5)), ((25.0, 17.5), (17.5, 12.5), (20.0, 15.0))],
    "box": [((60.0, 50.0), (50.0, 40.0), (55.0, 45.0)), ((75.0, 60.0), (60.0, 50.0), (70.0, 55.0))],
}
UNITS = {"barbell": "kg", "dumbbell": "kg", "box": "cm"}
LEVELS = [("Scaled", "scaled"), ("Intermediate", "intermediate"), ("Masters 40+", "masters 40+")]
TITLES = ["WORKOUT 2", "EVENT 3 – “Copper Kettle”", "Qualifier 1: Long Meadow", "“Paper Lantern”"]
STORIES = [
    "",
    "Welcome to the second week. We are glad that so many of you have signed up again.",
    "This one looks easy on paper. It is not.",
]
SCORES = [
    "Score: total reps.",
    "SCORING\nYour score is the number of repetitions you complete.",
    "Score\nReps, or the time if you finish.",
]
RULES = [
    "Standards\nThe hips must pass below the knees, and the bar must be locked out overhead.",
    "MOVEMENT STANDARDS\nEvery rep begins with straight arms. The judge calls a no-rep where a rep is not valid.",
    "Notes: the bar may be dropped, but it must come to rest before the next rep.",
]
GEAR = [
    "Equipment\n• Barbell and plates\n• Pull-up bar\n• Jump rope",
    "What you need: a barbell, collars, plates, a rope and a clock that can be seen.",
    "EQUIPMENT: barbell, dumbbell, box, pull-up bar, rope",
]
FILMS = [
    "VIDEO\nFilm the plates before you start. The video must not be cut.",
    "Submission: upload your video by Monday evening.",
    "",
]


def sexes(level):
    """Return the divisions of men and women of a level."""
    name, _, age = level.partition(" ")
    return tuple(" ".join(filter(None, (name, sex, age))) for sex in ("men", "women"))


def by_division(usual, levels):
    """Return the counts of men and women and of every level twice, nothing if all are alike."""
    counts = (usual, usual, *(count for level in levels for count in (level, level)))
    return counts if len(set(counts)) > 1 else ()


def change(draw, name, easier, count):
    """Return what a level does instead of a movement, perhaps with a count of its own."""
    told = f"{count} {LIBRARY.movements[easier].plural}".strip()
    return told + draw(st.sampled_from(["", f" instead of {LIBRARY.movements[name].plural}"]))


@st.composite
def pages(draw):
    """A workout that a level does otherwise, and a page that tells it."""
    gear = {draw(st.sampled_from(BARS)): "barbell"}
    gear |= {name: "dumbbell" for name in HELD if draw(st.booleans())}
    gear |= {draw(st.sampled_from(BOXES)): "box"} if draw(st.booleans()) else {}
    free = draw(
        st.lists(st.sampled_from([*FREE, draw(st.sampled_from(PULLS))]), min_size=1, max_size=3, unique=True)
    )
    names = draw(st.permutations([*free, *gear]))
    # Odd counts: twice one of them, as a level may have, is none of the others.
    odd = st.integers(1, 29).map(lambda half: 2 * half + 1)
    counts = dict(zip(names, draw(st.lists(odd, min_size=6, max_size=6, unique=True)), strict=False))
    sizes = {name: draw(st.sampled_from(SIZES[implement])) for name, implement in gear.items()}
    levels = draw(st.lists(st.sampled_from(LEVELS), min_size=1, max_size=2, unique=True))
    swaps = {
        level: {name: EASIER[name] for name in free if name in EASIER and draw(st.booleans())}
        for _, level in levels
    }
    fewer = {level: {name: 2 * counts[name] for name in swaps[level] if draw(st.booleans())} for _, level in levels}
    tied = draw(st.sampled_from([None, *free]))
    items = tuple(
        w.Item(
            name,
            counts[name],
            size=w.Size(sum(sizes[name][: 1 + len(levels)], ()), UNITS[gear[name]]) if name in gear else w.Size(),
            tiebreak=name == tied,
            counts=by_division(counts[name], [fewer[level].get(name, counts[name]) for _, level in levels]),
            others=tuple((level, swaps[level][name]) for _, level in levels if name in swaps[level]),
        )
        for name in names
    )
    title = draw(st.sampled_from(TITLES))
    name = title.strip("“”") if title.startswith("“") else title  # a name in quotes is the name
    divisions = ("men", "women", *(name for _, level in levels for name in sexes(level)))
    bullet = draw(st.sampled_from(["", "- ", "• "]))
    listed = [f"{bullet}{item.count} {LIBRARY.movements[item.movement].plural}" for item in items]
    shape = draw(st.sampled_from([amrap, for_time, rounds_for_time, two_parts, lift_behind]))
    if shape in (rounds_for_time, two_parts):
        items, tied = tuple(replace(item, tiebreak=False) for item in items), None
    bounded, work = shape(draw, items, listed)
    workout = replace(bounded, title=name, divisions=divisions)
    rows = {gear[name]: sizes[name] for name in gear}
    told = []
    for at, (written, level) in enumerate(levels, 1):
        changes = [change(draw, n, easier, fewer[level].get(n, "")) for n, easier in swaps[level].items()]
        theirs = {implement: row[at] for implement, row in rows.items()}
        told.append(draw(st.sampled_from(of_a_level(written, theirs, changes))))
    sections = [
        draw(st.sampled_from(everybody({implement: row[0] for implement, row in rows.items()}))),
        draw(st.sampled_from(["\n", "\n\n"])).join(told),
        draw(st.sampled_from(ties(LIBRARY.movements[tied].plural))) if tied else "",
        draw(st.sampled_from(flows(items))),
        *(draw(st.sampled_from(texts)) for texts in (SCORES, RULES, GEAR, FILMS)),
    ]
    page = [title, draw(st.sampled_from(STORIES)), work, *draw(st.permutations(sections))]
    return workout, "\n\n".join(filter(None, page))


def ties(plural):
    """Return ways to tell when the clock is read."""
    return [
        f"Tie-break: time after the {plural}.",
        f"TIEBREAK\nNote your time when the {plural} are done.",
        f"Tiebreak: the time at the end of each set of {plural}",
    ]


def flows(items):
    """Return ways to tell the work once more, and none."""
    told = [f"{item.count} {LIBRARY.movements[item.movement].plural}" for item in items]
    again = ", then ".join(told)
    return [
        "",
        f"FLOW\nAfter the call of “3, 2, 1 … go” the athlete performs {again}.",
        f"Workout flow: the athlete begins with the {told[0]} and moves on when they are done.",
    ]


def amrap(draw, items, listed):
    """Work for reps."""
    opening = draw(st.sampled_from(["AMRAP in 8 minutes of:", "As many rounds and reps as possible in 8 minutes:"]))
    return w.Workout("", (), w.Form.AMRAP, 480.0, items), "\n".join([opening, *listed])


def for_time(draw, items, listed):
    """Work for time."""
    opening = draw(st.sampled_from(["For time (cap 15 minutes):", "For time\nTime cap: 15 min"]))
    return w.Workout("", (), w.Form.FOR_TIME, 900.0, items), "\n".join([opening, *listed])


def rounds_for_time(draw, items, listed):
    """Rounds for time."""
    count = draw(st.integers(2, 6))
    opening = draw(st.sampled_from([f"{count} rounds for time of:", f"For time\n{count} rounds of:"]))
    rounds = w.Workout("", (), w.Form.FOR_TIME, 900.0, (w.Rounds(count, items),))
    return rounds, "\n".join([opening, *listed, "Time cap: 15 minutes"])


def two_parts(draw, items, listed):
    """Two AMRAPs with a rest between them."""
    parts = (w.TimedPart(240.0, items[:1]), w.Rest(120.0), w.TimedPart(240.0, items[1:]))
    heads = [
        ("AMRAP 4 minutes:", "Rest 2 minutes", "AMRAP 4 minutes:"),
        ("PART A (0:00-4:00)\nAMRAP:", "Rest 2:00", "PART B (6:00-10:00)\nAMRAP:"),
        ("0:00-4:00 AMRAP of", "4:00-6:00 rest", "6:00-10:00 AMRAP of"),
    ]
    first, rest, second = draw(st.sampled_from(heads))
    gap = draw(st.sampled_from(["\n", "\n\n"]))
    work = gap.join(["\n".join([first, *listed[:1]]), rest, "\n".join([second, *listed[1:]])])
    return w.Workout("", (), w.Form.PARTS, w.clocked_s(parts), parts), work


def lift_behind(draw, items, listed):
    """An AMRAP, and a max lift when it is over."""
    behind = [
        "Then 5 minutes to find a 1-rep-max snatch.",
        "From 8:00 to 13:00: establish a 1RM snatch",
        "Part 2 (8:00-13:00)\nFind your heaviest snatch",
    ]
    lift = w.MaxLift("snatch", 300.0)
    work = "\n".join(["AMRAP in 8 minutes of:", *listed]) + "\n\n" + draw(st.sampled_from(behind))
    return w.Workout("", (), w.Form.AMRAP, 480.0, items, lift), work


def everybody(sizes):
    """Return ways to tell the loads and heights of men and women, by implement."""
    pairs = {implement: ([f"{v:g}" for v in values], UNITS[implement]) for implement, values in sizes.items()}
    rows = [
        f"{implement}: {men} {unit} for men, {women} {unit} for women"
        for implement, ((men, women), unit) in pairs.items()
    ]
    by_sex = [
        ", ".join(f"{both[at]} {unit} {implement}" for implement, (both, unit) in pairs.items()) for at in (0, 1)
    ]
    listed = ", ".join(f"{men}/{women} {unit} {implement}" for implement, ((men, women), unit) in pairs.items())
    lines = "\n".join(row.capitalize() for row in rows)
    return [
        f"Weights and heights\nMen: {by_sex[0]}\nWomen: {by_sex[1]}",
        lines,
        f"Rx: {listed}",
        f"Rx men: {by_sex[0]}\nRx women: {by_sex[1]}",
    ]


def of_a_level(level, sizes, changes):
    """Return ways to tell what a level does instead."""
    pairs = [(implement, f"{a:g}", f"{b:g}", UNITS[implement]) for implement, (a, b) in sizes.items()]
    listed = ", ".join([*(f"{men}/{women} {unit} {what}" for what, men, women, unit in pairs), *changes])
    done = f" and do {' and '.join(changes)}" if changes else ""
    used = " and ".join(f"{men}/{women} {unit} {what}" for what, men, women, unit in pairs)
    return [f"{level}: {listed}", f"{level} athletes use {used}{done}.", f"{level.upper()}\n{listed}"]


@settings(max_examples=200, deadline=None)
@given(pages())
def test_a_page_with_levels_rules_and_gear_becomes_its_workout(page):
    workout, written = page
    assert read_prose(written, LIBRARY).text == workout_text(workout), written


def told_series(who, counts):
    """Return ways to tell the series of a division."""
    row = "-".join(map(str, counts))
    return [f"{who}: {row}", f"{who}: {row} reps", f"{who} do {row}."]


@st.composite
def series_pages(draw):
    """Rounds of a bar and of something else, with a series of its own for women or for a level, and a page."""
    rounds = draw(st.integers(3, 5))
    rows = st.lists(st.integers(3, 50), min_size=rounds, max_size=rounds, unique=True).map(
        lambda row: tuple(sorted(row, reverse=True))
    )
    usual = draw(rows.filter(lambda row: any(a - b != 1 for a, b in pairwise(row))))
    own = draw(rows.filter(lambda row: row != usual))
    bar, free = draw(st.sampled_from(BARS)), draw(st.sampled_from(FREE))
    sizes = draw(st.sampled_from(SIZES["barbell"]))
    written, level = draw(st.sampled_from([("Women", ""), *LEVELS]))
    divisions = ("men", "women", *(sexes(level) if level else ()))
    names = draw(st.permutations([bar, free]))
    items = tuple(
        w.Item(
            name,
            count,
            size=w.Size(sum(sizes[: 1 + bool(level)], ()), "kg") if name == bar else w.Size(),
            counts=(count, count, mine, mine)
            if level and mine != count
            else (count, mine)
            if mine != count
            else (),
        )
        for count, mine in zip(usual, own, strict=True)
        for name in names
    )
    workout = w.Workout("WORKOUT 2", divisions, w.Form.FOR_TIME, 720.0, items)
    loads = [f"{written}: {sizes[1][0]:g}/{sizes[1][1]:g} kg"] if level else []
    sections = [
        f"Barbell: {sizes[0][0]:g} kg for men, {sizes[0][1]:g} kg for women",
        "\n".join([*loads, draw(st.sampled_from(told_series(written, own)))]),
        *(draw(st.sampled_from(texts)) for texts in (SCORES, RULES, GEAR, FILMS)),
    ]
    work = ["For time, cap 12 minutes", "-".join(map(str, usual)), *(LIBRARY.movements[n].plural for n in names)]
    page = ["WORKOUT 2", "\n".join(work), *draw(st.permutations(sections))]
    return workout, "\n\n".join(filter(None, page))


@settings(max_examples=100, deadline=None)
@given(series_pages())
def test_a_series_of_a_division_is_written_out_round_by_round(page):
    workout, written = page
    assert read_prose(written, LIBRARY).text == workout_text(workout), written


@st.composite
def scored_pages(draw):
    """An AMRAP with a run before it, and a page that says that only some of it counts."""
    free = draw(st.lists(st.sampled_from(FREE), min_size=2, max_size=3, unique=True))
    counts = draw(st.lists(st.integers(3, 40), min_size=3, max_size=3, unique=True))
    items = [w.Item(name, count) for name, count in zip(free, counts, strict=False)]
    plural = {name: LIBRARY.movements[name].plural for name in free}
    scored, told = draw(
        st.sampled_from(
            [
                (free, ["The run does not count.", "Score: total reps after the run."]),
                (free[:1], [f"Score: total {plural[free[0]]}", f"Your score is the number of {plural[free[0]]}."]),
                (free[:2], [f"Score = {plural[free[0]]} and {plural[free[1]]}"]),
            ]
        )
    )
    body = (w.Item("run", 400, "m"), w.Rounds(0, tuple(items)))
    workout = w.Workout("WORKOUT 2", ("men", "women"), w.Form.AMRAP, 720.0, body, scored=tuple(scored))
    listed = [
        "400 m run",
        "then as many rounds as possible of",
        *(f"{i.count} {plural[i.movement]}" for i in items),
    ]
    sections = [draw(st.sampled_from(told)), *(draw(st.sampled_from(texts)) for texts in (RULES, GEAR, FILMS))]
    page = ["WORKOUT 2", "\n".join(["AMRAP in 12 minutes:", *listed]), *draw(st.permutations(sections))]
    return workout, "\n\n".join(filter(None, page))


@settings(max_examples=60, deadline=None)
@given(scored_pages())
def test_what_counts_of_the_work_is_read(page):
    workout, written = page
    assert read_prose(written, LIBRARY).text == workout_text(workout), written
