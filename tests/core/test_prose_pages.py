"""Whole pages as organisers publish them: the work among title, levels, loads, tie-break, score, rules and gear."""

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
    counts = dict(zip(names, draw(st.lists(st.integers(2, 60), min_size=6, max_size=6, unique=True)), strict=False))
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
    form = draw(st.sampled_from([w.Form.AMRAP, w.Form.FOR_TIME]))
    rounds = draw(st.integers(2, 6)) if form is w.Form.FOR_TIME and tied is None and draw(st.booleans()) else 0
    title = draw(st.sampled_from(TITLES))
    name = title.strip("“”") if title.startswith("“") else title  # a name in quotes is the name
    body = (w.Rounds(rounds, items),) if rounds else items
    divisions = ("men", "women", *(name for _, level in levels for name in sexes(level)))
    workout = w.Workout(name, divisions, form, draw(st.sampled_from([480.0, 900.0])), body)
    rows = {gear[name]: sizes[name] for name in gear}
    told = []
    for at, (written, level) in enumerate(levels, 1):
        changes = [
            f"{fewer[level].get(n, '')} {LIBRARY.movements[easier].plural}".strip()
            for n, easier in swaps[level].items()
        ]
        theirs = {implement: row[at] for implement, row in rows.items()}
        told.append(draw(st.sampled_from(of_a_level(written, theirs, changes))))
    sections = [
        draw(st.sampled_from(everybody({implement: row[0] for implement, row in rows.items()}))),
        draw(st.sampled_from(["\n", "\n\n"])).join(told),
        f"Tie-break: time after the {LIBRARY.movements[tied].plural}." if tied else "",
        *(draw(st.sampled_from(texts)) for texts in (SCORES, RULES, GEAR, FILMS)),
    ]
    bullet = draw(st.sampled_from(["", "- ", "• "]))
    listed = [f"{bullet}{counts[n]} {LIBRARY.movements[n].plural}" for n in names]
    work = "\n".join(
        [draw(st.sampled_from(openings(workout))), *([f"{rounds} rounds of:"] if rounds else []), *listed]
    )
    page = [title, draw(st.sampled_from(STORIES)), work, *draw(st.permutations(sections))]
    return workout, "\n\n".join(filter(None, page))


def openings(workout):
    """Return ways to tell the form and its time."""
    minutes = f"{workout.cap_s / 60:.0f}"
    if workout.form is w.Form.AMRAP:
        return [f"AMRAP in {minutes} minutes of:", f"As many rounds and reps as possible in {minutes} minutes:"]
    return [f"For time (cap {minutes} minutes):", f"For time\nTime cap: {minutes} min"]


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
