"""Every form in the wordings organisers use, with drawn work and numbers: all must become the same notation.

The wordings are common practice, no source. `{list}` is the work line by line, `{text}` the same in a sentence.
"""

from textwrap import indent

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from sorvek.core.workout.movements import shipped_library
from sorvek.core.workout.notation import parse_workout
from sorvek.core.workout.notation_print import workout_text
from sorvek.core.workout.prose import read_prose

LIBRARY = shipped_library()
FREE = ["toes-to-bar", "burpees", "pull-ups", "air squats", "sit-ups", "push-ups", "double-unders"]
SIZED = [
    ("power cleans", 60, 42.5, "kg"),
    ("thrusters", 43, 30, "kg"),
    ("deadlifts", 100, 70, "kg"),
    ("wall balls", 9, 6, "kg"),
    ("kettlebell swings", 24, 16, "kg"),
    ("box jumps", 60, 50, "cm"),
    ("dumbbell snatches", 22.5, 15, "kg"),
]
WORDINGS = {
    "amrap": (
        "amrap {m}:00\n{work}",
        [
            "{m} minute AMRAP\n{list}",
            "AMRAP {m}\n{list}",
            "AMRAP {m}':\n{list}",
            "AMRAP ({m} minutes)\n{list}",
            "AMRAP – {m}:00\n{list}",
            "{m}-min AMRAP\n{list}",
            "{list}\nAMRAP {m} minutes",
            "Max rounds and reps in {m} min:\n{list}",
            "As many rounds and reps as possible in {m} minutes of\n{list}",
            "{m} min AMRAP of: {text}.",
            "In {m} minutes, do as many rounds and repetitions as you can of {text}.",
            "You have {m} minutes to complete as many reps as possible of {text}.",
            "{m} minutes on the clock. As many rounds as possible of {text}.",
            "Athletes have {m} minutes for as many rounds as they can manage: {text}.",
            "How far can you get in {m} minutes? Round after round of {text}.",
            "For {m}:00, repeat:\n{list}",
        ],
    ),
    "rounds for time": (
        "for time, cap {m}:00\n{n} rounds:\n{inner}",
        [
            "{n} rounds for time ({m} minute cap)\n{list}",
            "{n} RFT\n{list}\nTime cap: {m} minutes",
            "{n}x for time:\n{list}\n{m} min cap",
            "For time: {n} rounds of {text}. Time cap {m} minutes.",
            "Complete {n} rounds of {text} as fast as possible. The time cap is {m} minutes.",
            "For time\n{n} rounds\n{list}\nTC {m}:00",
            "{n} rds for time\n{list}\nT.C. {m} min",
            "{m} minute time cap\n{n} rounds for time:\n{list}",
            "For Time (TC: {m}')\n{n} Rounds:\n{list}",
            "Repeat {n} times for time:\n{list}\nCap: {m}:00",
            "{n} rounds of:\n{list}\nfor time, {m} min. cap",
            "{n} rounds, each of {text}, for time. We stop the clock at {m}:00.",
            "For time, with a {m}-minute limit, {n} rounds of:\n{list}",
        ],
    ),
    "once": (
        "for time, cap {m}:00\n{work}",
        [
            "For time (cap {m} min)\n{list}",
            "One time through for time, {m}-minute cap:\n{list}",
            "Work through the following once, for time: {text}. Limit {m} minutes.",
            "For time: {text}. Cap: {m}:00.",
            "Complete for time within {m} minutes:\n{list}",
        ],
    ),
    "work before and after": (
        "for time, cap {m}:00\n800 m run\n{n} rounds:\n{inner}\n50 lunges",
        [
            "For time, {m} min cap\nBuy-in: 800 m run\n{n} rounds of:\n{list}\nCash-out: 50 lunges",
            "For time: 800 m run, then {n} rounds of {text}, then 50 lunges. Cap {m} minutes.",
            "For time ({m}:00 cap)\n800 m run\nthen {n} rounds:\n{list}\nthen\n50 lunges",
            "For time\n800 m run\n-then-\n{n} RFT\n{list}\n-then-\n50 lunges\nTime cap {m} minutes",
            "800 m run buy in, {n} rounds of {text}, 50 lunges cash out. For time, {m} min cap.",
            "Start with an 800 m run. After that complete {n} rounds of {text}. Finish with 50 lunges. For time; "
            "time cap {m} minutes.",
        ],
    ),
    "in what is left": (
        "amrap {m}:00\n1000 m row\nrepeat:\n{inner}",
        [
            "AMRAP {m}\nBuy-in: 1000 m row\nthen AMRAP in remaining time:\n{list}",
            "{m} min AMRAP\n1000 m row, then\nas many rounds as possible of:\n{list}",
            "In {m} minutes: row 1000 m, then in the remaining time as many rounds as possible of {text}.",
            "1000m row buy-in\nthen in the time remaining until {m}:00\nAMRAP\n{list}",
        ],
    ),
    # Two alike would be written out.
    "parts alike": (
        "for reps\n{n3} rounds:\n  part 2:00:\n{deeper}\n  rest 1:00",
        [
            "{n3} rounds of 2 minutes work, 1 minute rest:\n{list}\nScore: total reps",
            "{n3} x 2 min AMRAP, 1 min rest between\n{list}",
            "{n3} sets: AMRAP 2:00 of {text}, rest 1:00",
            "{n3} rounds:\nAMRAP 2:00\n{list}\nrest 1:00",
        ],
    ),
    "a lift behind": (
        "amrap {m}:00\n{work}\nthen max clean-and-jerk in 6:00",
        [
            "A) AMRAP {m}: {text}\nB) 6 minutes to find a max clean & jerk",
            "Part 1: {m} min AMRAP\n{list}\nPart 2: straight after, 6 minutes for a 1RM clean and jerk",
            "{m}-minute AMRAP:\n{list}\n\nImmediately into 6 minutes to establish a heavy clean and jerk",
        ],
    ),
    "minutes in turn": (
        "for reps\n{n} rounds:\n  part 1:00, once:\n    12 wall walks\n  part 1:00, once:\n    10 lunges",
        [
            "EMOM {double}\nOdd minutes: 12 wall walks\nEven minutes: 10 lunges",
            "EMOM {double} minutes, alternating: 12 wall walks / 10 lunges",
            "{double}-minute EMOM alternating between 12 wall walks and 10 lunges",
            "EMOM {double} min, alternate 12 wall walks and 10 lunges",
            "Every minute on the minute for {double} minutes\nminute 1: 12 wall walks\nminute 2: 10 lunges",
        ],
    ),
    "a minute more each time": (
        "windows 1:00, until missed\nladder {n},+{step}:\n  lunges",
        [
            "Every minute on the minute: {n} lunges, adding {step} each minute until failure",
            "EMOM until failure: minute 1: {n} lunges, minute 2: {n2} lunges, minute 3: {n3} lunges, etc.",
            "Every minute on the minute: {n} lunges in minute 1, {n2} in minute 2, and so on until failure",
        ],
    ),
    "a ladder": (
        "amrap {m}:00\nladder {n},+{step}:\n  power snatches @ 43/30 kg\n  lunges",
        [
            "AMRAP {m}\n{n}-{n2}-{n3}-… power snatches (43/30 kg), lunges",
            "{m}:00 AMRAP\n{n}/{n2}/{n3}...\nPower snatch 43/30 kg\nLunges",
            "AMRAP {m} min\n{n} power snatches (43/30 kg)\n{n} lunges\nadd {step} reps each round",
            "As many reps as possible in {m} minutes:\nPower snatch (43/30 kg) {n}-{n2}-{n3}-etc.\n"
            "Lunges {n}-{n2}-{n3}-etc.",
        ],
    ),
    "windows": (
        "windows 3:00, until missed\nladder {n},+{step}:\n  toes-to-bar\n  overhead squats @ 43/30 kg",
        [
            "Every 3 minutes for as long as possible complete:\n{n} toes-to-bar\n{n} overhead squats (43/30 kg)\n"
            "adding {step} reps to each every window",
            "Every 3 minutes for as long as possible:\n0:00-3:00: {n} toes-to-bar, {n} overhead squats (43/30 kg)\n"
            "3:00-6:00: {n2} + {n2}\n6:00-9:00: {n3} + {n3}\nand so on",
            "For as long as you can, every 3 minutes: from 0:00 to 3:00 do {n} toes-to-bar and {n} overhead squats "
            "(43/30 kg), from 3:00 to 6:00 do {n2} and {n2}, and so on until you do not finish in the window.",
        ],
    ),
    "stages": (
        "for reps\nstage cap 5:00:\n  {n} toes-to-bar\n  {n} thrusters @ 43/30 kg\n"
        "stage cap 9:00:\n  {n2} toes-to-bar\n  {n2} thrusters @ 60/42.5 kg",
        [
            "Before 5:00 complete {n} toes-to-bar and {n} thrusters (43/30 kg). If done before 5:00 the cap is "
            "extended to 9:00 and you go on with {n2} toes-to-bar and {n2} thrusters (60/42.5 kg).",
            "Cap 5:00\n{n} toes-to-bar\n{n} thrusters (43/30 kg)\n"
            "Athletes who finish within 5 minutes get until minute 9 for:\n"
            "{n2} toes-to-bar\n{n2} thrusters (60/42.5 kg)",
        ],
    ),
    "a bar that is loaded": (
        "amrap {m}:00\n20 snatches @ 35/25 kg\n20 snatches @ 50/35 kg\nrepeat:\n  1 snatch @ 60/42.5 kg",
        [
            "AMRAP {m} min\n20 snatches 35/25 kg\n20 snatches 50/35 kg\nmax snatches 60/42.5 kg",
            "{m} minutes for as many snatches as possible: 20 at 35/25 kg, 20 at 50/35 kg, then as many as "
            "possible at 60/42.5 kg.",
        ],
    ),
    "the clock is read": (
        "for time, cap {m}:00\n30 power snatches @ 35/25 kg\n{n} wall balls @ 9/6 kg tiebreak\n50 lunges",
        [
            "For time, cap {m} min\n30 power snatches (35/25 kg)\n{n} wall balls (9/6 kg)\n50 lunges\n"
            "Tiebreak: time after the wall balls",
            "For time, cap {m} min\n30 power snatches 35/25 kg\n{n} wall balls 9/6 kg\n— tie break —\n50 lunges",
            "For time, cap {m} min\n30 power snatches 35/25 kg\n{n} wall balls 9/6 kg\nTie-break\n50 lunges",
            "{m}:00 cap, for time\n30 power snatches, 35/25 kg\n{n} wall balls, 9/6 kg*\n50 lunges\n*tiebreak time",
            "For time: 30 power snatches (35/25 kg), {n} wall balls (9/6 kg), 50 lunges. Time cap {m} minutes. "
            "Note the time when you finish the wall balls; it is the tie-break.",
        ],
    ),
    "one movement": (
        "amrap {m}:00\n1 burpee",
        [
            "{m} minutes of burpees",
            "Max burpees in {m} minutes",
            "{m} min AMRAP: burpees",
            "Perform as many burpees as you can in {m} minutes.",
        ],
    ),
    "a lift": (
        "max snatch in {m}:00",
        [
            "Establish a 1-rep-max snatch in {m} minutes.",
            "{m} minutes to find your max snatch",
            "Heaviest snatch in {m}:00",
            "Max snatch. Time limit: {m} minutes.",
            "1RM snatch\nTime cap: {m} min",
        ],
    ),
}


@st.composite
def drawn(draw):
    """Numbers and lines of work, written in every way the wordings ask for."""
    free = draw(st.lists(st.sampled_from(FREE), min_size=1, max_size=2, unique=True))
    sized = draw(st.lists(st.sampled_from(SIZED), min_size=1, max_size=2, unique=True))
    counts = draw(st.lists(st.integers(5, 40), min_size=4, max_size=4, unique=True))
    lines, told = [], []
    for count, one in zip(counts, draw(st.permutations([*free, *sized])), strict=False):
        name, *size = one if isinstance(one, tuple) else (one,)
        sizes = f"{size[0]:g}/{size[1]:g} {size[2]}" if size else ""
        lines.append(f"{count} {name}" + (f" @ {sizes}" if size else ""))
        told.append(f"{count} {name}" + (f" ({sizes})" if size else ""))
    n, step, bullet = draw(st.integers(2, 9)), draw(st.integers(1, 4)), draw(st.sampled_from(["", "• ", "- "]))
    work = "\n".join(lines)
    numbers = {"n": n, "step": step, "n2": n + step, "n3": n + 2 * step, "double": 2 * n}
    indented = {"inner": indent(work, "  "), "deeper": indent(work, "    ")}
    written = {"list": "\n".join(bullet + line for line in told), "text": f"{', '.join(told[:-1])} and {told[-1]}"}
    return {"m": draw(st.integers(6, 25)), "work": work, **numbers, **indented, **written}


@pytest.mark.parametrize("form", WORDINGS)
@settings(max_examples=12, deadline=None)
@given(drawn())
def test_a_form_reads_alike_in_all_its_wordings(form, parts):
    notation, wordings = WORDINGS[form]
    wanted = workout_text(parse_workout(notation.format(**parts)))
    for wording in wordings:
        announced = wording.format(**parts)
        assert read_prose(announced, LIBRARY).text == wanted, announced
