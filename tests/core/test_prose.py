"""Announcements in prose: what each must become, and that no word of them is lost."""

import re
from dataclasses import replace
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from sorvek.core.athlete.athlete import Athlete
from sorvek.core.errors import CoreError, NotationError, UnsettledError
from sorvek.core.simulation.problem import problem_for
from sorvek.core.workout import tree as w
from sorvek.core.workout.announcement import read_announcement
from sorvek.core.workout.course import unroll
from sorvek.core.workout.movements import shipped_library
from sorvek.core.workout.notation import parse_workout
from sorvek.core.workout.notation_print import workout_text
from sorvek.core.workout.prose import Fate, read_prose
from sorvek.core.workout.prose.words import tokenize
from sorvek.core.workout.readout import read_workout

LIBRARY = shipped_library()
CORPUS = Path(__file__).parent.parent / "data" / "announcements"


def cases():
    """Return name, source and wanted notation of every announcement of the corpus."""
    found = {}
    for file in sorted(CORPUS.glob("*.txt")):
        for part in re.split(r"^=== ", file.read_text("utf-8"), flags=re.MULTILINE)[1:]:
            name, _, rest = part.partition("\n")
            source, _, wanted = rest.partition("\n---\n")
            found[f"{file.stem}: {name}"] = (source, wanted.strip().split("\n"))
    return found


CASES = cases()
SOURCES = [source for source, _ in CASES.values()]


def settled(line):
    """Return a line as it is compared: of a doubt only that it is one, and how deep it stands."""
    return re.sub(r"# \?.*", "# ?", line)


@pytest.mark.parametrize("name", CASES)
def test_an_announcement_becomes_the_notation_it_means(name):
    source, wanted = CASES[name]
    got = read_prose(source, LIBRARY).text.strip().split("\n")
    assert [settled(line) for line in got] == [settled(line) for line in wanted]
    for mine, theirs in zip(got, wanted, strict=True):
        assert theirs.strip().removeprefix("# ?").strip() in mine
    parse_workout("\n".join(got), LIBRARY)


@pytest.mark.parametrize("name", CASES)
def test_every_word_of_an_announcement_is_accounted_for(name):
    source, _ = CASES[name]
    reading = read_prose(source, LIBRARY)
    told = {at for mark in reading.marks for at in range(mark.start, mark.end)}
    assert [c for at, c in enumerate(source) if at not in told and not c.isspace() and c not in "*_`"] == []
    lines = reading.text.splitlines()
    for mark in reading.marks:
        assert mark.line <= len(lines)
        doubted = mark.line > 0 and lines[mark.line - 1].strip().startswith("# ?")
        assert (mark.fate is Fate.DOUBT) == doubted


def test_marks_lead_from_a_line_to_its_words_and_back():
    source, _ = CASES["amrap_rounds: one paragraph, loads in a sentence of their own"]
    reading = read_prose(source, LIBRARY)
    line = reading.text.splitlines().index("9 power cleans @ 60/42.5 kg") + 1
    words = [source[mark.start : mark.end] for mark in reading.marks if mark.line == line]
    assert {"9", "power cleans", "42.5"} <= set(words)
    story = [source[mark.start : mark.end] for mark in reading.marks if mark.fate is Fate.NO_ACCOUNT]
    assert "week" in story


def test_numbers_units_and_names_are_read_in_many_spellings():
    told = [
        (t.kind.value, t.name or t.number) for t in tokenize("twenty-one C2B, 1½ pood; 12:30, 1,000 m", LIBRARY)
    ]
    names = [("movement", "chest-to-bar pull-up"), ("unit", "pood"), ("unit", "m")]
    assert {*names, ("number", 21.0), ("number", 1.5), ("clock", 750.0), ("number", 1000.0)} <= set(told)
    assert [t.number for t in tokenize("one hundred and fifty; four and a half", LIBRARY) if t.number] == [150, 4.5]


# Trees written as prose in three styles by a generator of its own, and read back.

HEAVY = {"kg": [(60.0, 42.5), (100.0, 70.0), (43.0, 30.0)], "lb": [(95.0, 65.0), (135.0, 95.0)]}
PLAIN = ["toes-to-bar", "pull-up", "burpee", "double-under", "push-up", "air squat", "ring dip", "pistol"]
LOADED = ["power clean", "thruster", "deadlift", "front squat", "power snatch", "overhead squat"]


@st.composite
def works(draw, counted=True):
    """Lines of work, each movement once."""
    names = draw(st.lists(st.sampled_from(PLAIN + LOADED), min_size=2, max_size=4, unique=True))
    unit = draw(st.sampled_from(["kg", "lb"]))
    return tuple(
        w.Item(
            name,
            draw(st.integers(2, 60)) if counted else w.RISING,
            size=w.Size(draw(st.sampled_from(HEAVY[unit])), unit) if name in LOADED else w.Size(),
        )
        for name in names
    )


rounds = st.builds(lambda count, body: (w.Rounds(count, body),), st.integers(2, 8), works())
falling = st.sampled_from([(21, 15, 9), (30, 20, 10), (15, 12, 9), (50, 40, 30, 20, 10)])
series = st.builds(lambda counts, body: (w.Series(counts, body),), falling, works(counted=False))
trees = st.one_of(
    st.builds(
        w.Workout,
        st.just(""),
        st.just(("men", "women")),
        st.just(w.Form.AMRAP),
        st.sampled_from([420.0, 720.0]),
        works(),
    ),
    st.builds(
        w.Workout,
        st.just(""),
        st.just(("men", "women")),
        st.just(w.Form.FOR_TIME),
        st.sampled_from([600.0, 870.0]),
        works() | rounds | series,
    ),
)


def line_of(item, bracket):
    movement = LIBRARY.movements[item.movement]
    size = "/".join(f"{v:g}" for v in item.size.values) + f" {item.size.unit}" if item.size.values else ""
    count = "" if item.count == w.RISING else f"{item.count} "
    return f"{count}{movement.plural}" + (bracket.format(size) if size else "")


def clock_of(seconds, style):
    minutes, rest = divmod(int(seconds), 60)
    if style == "clock" or rest:
        return f"{minutes}:{rest:02d}"
    return (
        f"{minutes} minutes"
        if style == "digits"
        else f"{['seven', 'ten', 'twelve'][[7, 10, 12].index(minutes)]} minutes"
    )


def board(workout, body, head):
    lines = [f"AMRAP {clock_of(workout.cap_s, 'digits')}:" if workout.form is w.Form.AMRAP else "For time:", *head]
    lines += ["- " + line_of(item, " ({})") for item in body]
    if workout.form is w.Form.FOR_TIME:
        lines += ["", f"Time cap: {clock_of(workout.cap_s, 'digits')}"]
    return "\n".join(lines)


def sentence(workout, body, head):
    rows = [line_of(item, " at {}") for item in body]
    listed = ", ".join(rows[:-1]) + " and " + rows[-1]
    if workout.form is w.Form.AMRAP:
        time = clock_of(workout.cap_s, "words")
        return f"Athletes have {time} to complete as many rounds and reps as possible of {listed}. Good luck!"
    opening = f"{head[0].rstrip(':')} of " if head else ""
    return f"Complete {opening}{listed}, for time and with a cap of {clock_of(workout.cap_s, 'words')}."


def sheet(workout, body, head):
    form = "AMRAP" if workout.form is w.Form.AMRAP else "for time"
    rows = [f"Format: {form}", f"Time cap: {clock_of(workout.cap_s, 'clock')}", *head]
    rows += [line_of(replace_size(item), "") for item in body]
    rows += ["Loads:"]
    for item in body:
        if item.size.values:
            men, women = item.size.values
            name, unit = LIBRARY.movements[item.movement].name, item.size.unit
            rows.append(f"{name}: men {men:g} {unit}, women {women:g} {unit}")
    return "\n".join(rows)


def replace_size(item):
    return w.Item(item.movement, item.count)


@settings(max_examples=150, deadline=None)
@given(trees, st.sampled_from([board, sentence, sheet]))
def test_a_tree_written_as_prose_comes_back(workout, style):
    block = workout.body[0]
    body = block.body if isinstance(block, w.Rounds | w.Series) else workout.body
    head = [f"{block.count} rounds:"] if isinstance(block, w.Rounds) else []
    head = ["-".join(map(str, block.counts)) + " reps:"] if isinstance(block, w.Series) else head
    prose = style(workout, body, head)
    assert read_prose(prose, LIBRARY).text == workout_text(workout), prose


# Windows, stages and parts, each in three styles

gated = st.tuples(st.sampled_from([180.0, 210.0, 240.0]), st.integers(2, 12), st.integers(1, 4), works(), works())


def listed(body, more=0):
    rows = [line_of(replace(item, count=item.count + more), " ({})") for item in body]
    return ", ".join(rows[:-1]) + " and " + rows[-1]


def window_prose(style, length_s, body, step):
    at = [clock_of(i * length_s, "clock") for i in range(4)]
    if style == "sentence":
        return (
            f"Every {at[1]}, for as long as possible, complete {listed(body)}."
            f" Add {step} reps to each movement every window."
        )
    if style == "clock":
        rows = [f"{at[i]}-{at[i + 1]}: {listed(body, i * step)}" for i in range(3)]
        return "\n".join([*rows, "and so on, until you fail to finish in time."])
    rows = [f"Window {i + 1}: {listed(body, i * step)}" for i in range(3)]
    return "\n".join([f"Every {at[1]} until you fail, a new window:", *rows, "and so on."])


def stage_prose(style, length_s, bodies):
    first, second = clock_of(length_s, "clock"), clock_of(2 * length_s, "clock")
    work, then = map(listed, bodies)
    if style == "sentence":
        return (
            f"You have until {first} to do {work}. Those who are done before {first} have their cap extended to"
            f" {second} and go on with {then}. Score: total reps."
        )
    if style == "clock":
        return f"For reps.\nStage 1 (cap {first}): {work}\nStage 2 (cap {second}): {then}"
    return f"Complete {work} before {first}.\nIf you do, the clock is extended to {second} for:\n{then}"


def part_prose(style, length_s, bodies):
    minutes, ends = (
        f"{length_s / 60:g}",
        [clock_of(s, "clock") for s in (length_s, length_s + 60, 2 * length_s + 60)],
    )
    work, then = map(listed, bodies)
    if style == "sentence":
        opening = f"as many reps as possible in {clock_of(length_s, 'clock')} of"
        return f"First, {opening} {work}. Rest for one minute. Then {opening} {then}. Both results are added up."
    if style == "clock":
        return f"0:00-{ends[0]} AMRAP\n{work}\n{ends[0]}-{ends[1]} rest\n{ends[1]}-{ends[2]} AMRAP\n{then}"
    return f"AMRAP {minutes} minutes: {work}\nRest 1 minute\nAMRAP {minutes} minutes: {then}"


@settings(max_examples=150, deadline=None)
@given(gated, st.sampled_from(["windows", "stages", "parts"]), st.sampled_from(["sentence", "clock", "list"]))
def test_windows_stages_and_parts_written_as_prose_come_back(drawn, form, style):
    length_s, first, step, body, other = drawn
    if form == "windows":
        body = tuple(replace(item, count=first) for item in body)
        rising = tuple(replace(item, count=w.RISING) for item in body)
        wanted = w.Workout("", ("men", "women"), w.Form.WINDOWS, length_s, (w.Ladder(first, step, (), rising),))
        prose = window_prose(style, length_s, body, step)
    elif form == "stages":
        stages = (w.Stage(length_s, body), w.Stage(2 * length_s, other))
        wanted = w.Workout("", ("men", "women"), w.Form.STAGES, 0.0, stages)
        prose = stage_prose(style, length_s, (body, other))
    else:
        parts = (w.TimedPart(length_s, body), w.Rest(60.0), w.TimedPart(length_s, other))
        wanted = w.Workout("", ("men", "women"), w.Form.PARTS, w.clocked_s(parts), parts)
        prose = part_prose(style, length_s, (body, other))
    assert read_prose(prose, LIBRARY).text == workout_text(wanted), prose


# Broken prose

pieces = st.sampled_from(SOURCES).flatmap(lambda text: st.integers(0, len(text)).map(lambda at: text[:at]))
noise = st.text(st.characters(exclude_categories=["Cs", "Cc"]), max_size=60)
cut = st.lists(
    pieces | noise | st.sampled_from(["\n", " / ", "12 ", ":", "(", "every 3:00 ", "# ? "]), max_size=6
).map("".join)


@settings(max_examples=200, deadline=None)
@given(cut)
def test_no_prose_ends_in_an_error_or_loses_a_word(prose):
    reading = read_prose(prose, LIBRARY)
    source = "\n".join(prose.splitlines())
    told = {at for mark in reading.marks for at in range(mark.start, mark.end)}
    assert [c for at, c in enumerate(source) if at not in told and not c.isspace() and c not in "*_`"] == []
    if reading.found:
        assert workout_text(parse_workout(reading.text, LIBRARY)) == reading.text


# Which texts are notation


def test_a_prime_apart_from_its_number_is_minutes():
    assert read_prose("12 ' AMRAP: 5 burpees, 10 air squats", LIBRARY).text.startswith("amrap 12:00")
    assert read_prose("12 'for time\nWall balls", LIBRARY).text  # found by fuzzing


def test_broken_notation_keeps_its_place_and_prose_can_be_forced():
    broken = "Breakwater\namrap 11:00\n12 toes-to-bra\n9 power cleans @ 60/42.5 kg\n"
    with pytest.raises(NotationError, match="line 3, column 4"):
        read_announcement(broken, LIBRARY)
    assert "# ? 12 toes-to-bra" in read_announcement(broken, LIBRARY, prose=True).text
    good = read_announcement("amrap 8:00\n# ? how high is the box\n10 box jumps @ 60/50 cm", LIBRARY)
    assert [(doubt.line, doubt.words) for doubt in good.doubts] == [(2, "how high is the box")]


def test_divisions_styles_and_intervals_reach_the_course():
    lines = (
        "for time",
        "every 2:00 x 3:",
        "  10/8 toes-to-bar | masters: knees-to-elbow",
        "  5 pull-ups, no kipping",
    )
    workout = parse_workout("\n".join(lines))
    assert workout.cap_s == 360
    men, women = unroll(workout, "men", "m"), unroll(workout, "masters women", "f")
    assert [slot.movement.name for slot in women.slots] == ["knees-to-elbow", "pull-up"]
    assert [style.name for style in men.slots[1].movement.styles] == ["strict"]
    assert [(s.opens_s, s.reps) for s in women.segments[::2]] == [(0, 8), (120, 8), (240, 8)]
    with pytest.raises(NotationError, match="it has: kipping, strict"):
        parse_workout("for time\n5 pull-ups, slow")
    with pytest.raises(NotationError, match="thruster does not fit the line of burpee"):
        parse_workout("for time\n5 burpees | masters: thruster")


DOUBTED = "Pier\n# ? by what time\n10 burpees\n3 rounds:\n  # ? which bar\n  5 pull-ups\n"


def test_a_round_of_nothing_but_doubts_is_refused_at_once():
    for form in ("amrap 9:00", "windows 3:00, until missed", "for time", "for reps"):
        block = {"w": "window:\n  ", "f": ""}.get(form[0], "") if form != "for reps" else "stage cap 3:00:\n  "
        with pytest.raises(CoreError, match="no conditioning work"):
            read_workout(f"{form}\n{block}# ? what", LIBRARY)


def test_doubts_belong_to_the_tree_and_nobody_is_planned_before_they_are_settled():
    workout = parse_workout(DOUBTED)
    assert workout_text(workout) == DOUBTED
    assert workout.form is w.Form.UNKNOWN
    assert workout.doubts == ("by what time", "which bar")
    with pytest.raises(UnsettledError, match="2 doubts"):
        problem_for(workout, Athlete("Ada", "building"))
    plain = parse_workout("for time\n10 burpees  # ? is a comment behind work\n# so is this\n")
    assert plain.doubts == ()
    with pytest.raises(CoreError):
        parse_workout("# ? only this")
