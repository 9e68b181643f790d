"""Whole pages as organisers publish them: the work among title, levels, loads, tie-break, score, rules and gear."""

from dataclasses import dataclass, replace

from hypothesis import given, settings
from hypothesis import strategies as st

from sorvek.core.workout import tree as w
from sorvek.core.workout.movements import shipped_library
from sorvek.core.workout.notation_print import workout_text
from sorvek.core.workout.prose import read_prose

LIBRARY = shipped_library()
BAR = ["power clean", "thruster", "deadlift", "front squat", "power snatch", "overhead squat"]
FREE, PULLS = ["toes-to-bar", "double-under", "pistol", "burpee", "sit-up"], ["pull-up", "chest-to-bar pull-up"]
# What a level does instead (common practice, no source).
EASIER = {
    "toes-to-bar": "hanging knee raise",
    "double-under": "single-under",
    "pistol": "air squat",
    "chest-to-bar pull-up": "jumping pull-up",
}
LOADS = [((60.0, 42.5), (40.0, 27.5)), ((43.0, 30.0), (30.0, 20.0)), ((100.0, 70.0), (70.0, 50.0))]
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
    "EQUIPMENT: barbell, pull-up bar, rope",
]
FILMS = [
    "VIDEO\nFilm the plates before you start. The video must not be cut.",
    "Submission: upload your video by Monday evening.",
    "",
]


@dataclass(frozen=True)
class Page:
    """A workout and how it is told; `swaps` and `counts` are what the level does instead, by movement."""

    workout: w.Workout
    level: str
    written: str
    plain: str


def sexes(level):
    """Return the divisions of men and women of a level."""
    name, _, age = level.partition(" ")
    return tuple(" ".join(filter(None, (name, sex, age))) for sex in ("men", "women"))


@st.composite
def pages(draw):
    """A workout with one barbell at most, a level that differs from it, and both as the sections of a page."""
    pull = draw(st.sampled_from(PULLS))  # with two of a kind it would not be clear which a level does otherwise
    free = draw(st.lists(st.sampled_from([*FREE, pull]), min_size=1, max_size=3, unique=True))
    bar = draw(st.sampled_from(BAR))
    names = draw(st.permutations([*free, bar]))
    counts = draw(st.lists(st.integers(2, 60), min_size=4, max_size=4, unique=True))
    load, lighter = draw(st.sampled_from(LOADS))
    told, level = draw(st.sampled_from(LEVELS))
    swaps = {name: EASIER[name] for name in free if name in EASIER and draw(st.booleans())}
    fewer = {name: 2 * count for name, count in zip(names, counts, strict=False) if name in swaps and draw(st.booleans())}
    tied = draw(st.sampled_from([None, *free]))
    items = tuple(
        w.Item(
            name,
            count,
            size=w.Size((*load, *lighter), "kg") if name == bar else w.Size(),
            tiebreak=name == tied,
            counts=(count, count, fewer[name], fewer[name]) if name in fewer else (),
            others=((level, swaps[name]),) if name in swaps else (),
        )
        for name, count in zip(names, counts, strict=False)
    )
    form = draw(st.sampled_from([w.Form.AMRAP, w.Form.FOR_TIME]))
    rounds = draw(st.integers(2, 6)) if form is w.Form.FOR_TIME and tied is None and draw(st.booleans()) else 0
    body = (w.Rounds(rounds, items),) if rounds else items
    title = draw(st.sampled_from(TITLES))
    cap_s = draw(st.sampled_from([480.0, 720.0, 900.0]))
    name = title.strip("“”") if title.startswith("“") else title  # a name in quotes is the name
    workout = w.Workout(name, ("men", "women", *sexes(level)), form, cap_s, body)
    rows = [f"{count} {LIBRARY.movements[name].plural}" for name, count in zip(names, counts, strict=False)]
    bullet = draw(st.sampled_from(["", "- ", "• "]))
    listed = "\n".join(bullet + row for row in rows)
    minutes = f"{cap_s / 60:.0f}"
    opening = {
        w.Form.AMRAP: [f"AMRAP in {minutes} minutes of:", f"As many rounds and reps as possible in {minutes} minutes:"],
        w.Form.FOR_TIME: [f"For time (cap {minutes} minutes):", f"For time\nTime cap: {minutes} min"],
    }[form]
    work = draw(st.sampled_from(opening)) + (f"\n{rounds} rounds of:" if rounds else "") + "\n" + listed
    changes = [
        f"{fewer.get(name, '')} {LIBRARY.movements[easier].plural}".strip() for name, easier in swaps.items()
    ]
    sections = [
        draw(st.sampled_from(loads_told(load))),
        draw(st.sampled_from(level_told(told, lighter, changes))),
        f"Tie-break: time after the {LIBRARY.movements[tied].plural}." if tied else "",
        *(draw(st.sampled_from(texts)) for texts in (SCORES, RULES, GEAR, FILMS)),
    ]
    story = draw(st.sampled_from(STORIES))
    page = [title, story, work, *draw(st.permutations(sections))]
    return Page(workout, level, "\n\n".join(filter(None, page)), "")


def loads_told(load):
    """Return ways to tell the loads of men and women."""
    men, women = (f"{value:g}" for value in load)
    return [
        f"Weights\nMen: {men} kg\nWomen: {women} kg",
        f"Barbell: {men} kg for men, {women} kg for women",
        f"Rx: {men}/{women} kg",
        f"Men use {men} kg, women use {women} kg.",
    ]


def level_told(level, load, changes):
    """Return ways to tell what a level does instead."""
    men, women = (f"{value:g}" for value in load)
    listed = "".join(f", {change}" for change in changes)
    done = f" and do {' and '.join(changes)}" if changes else ""
    behind = f"; {', '.join(changes)}" if changes else ""
    return [
        f"{level}: {men}/{women} kg{listed}",
        f"{level}: {men} kg / {women} kg{behind}",
        f"{level} athletes use {men}/{women} kg{done}.",
    ]


@settings(max_examples=200, deadline=None)
@given(pages())
def test_a_page_with_levels_rules_and_gear_becomes_its_workout(page):
    got = read_prose(page.written, LIBRARY).text
    assert got == workout_text(replace(page.workout, library=LIBRARY)), page.written
