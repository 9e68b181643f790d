"""What everybody will do wrong on a workout and why, in a sentence or two; and where the bulk of the work lies.

Rules of thumb of coaches (common practice, no source), on usual working times: nobody is planned here.
"""

from itertools import pairwise

from sorvek.core.constants import RESOURCES
from sorvek.core.workout.course import Course
from sorvek.core.workout.tree import Form

MOST_TRAPS = 2
FEW_ROUNDS = 4  # whoever feels good after so many rounds of a ladder knows nothing yet
MOST_PARTS = 5  # parts whose shares are told one by one
SMALL_FRAC = 0.2  # share of the work up to which the first rounds are a small part of it
LARGE_FRAC = 0.38  # share from which the first of several rounds is a large one
SHARED = 0.55  # both movements load a resource at least so much: they tax the same muscles
LATE_SKILL = 0.05  # a skill from which the last movement of a chipper is a hard one

WORDS = {
    "grip": "the grip",
    "pull": "the pulling muscles",
    "push": "the pushing muscles",
    "squat": "the legs",
    "hinge": "the low back",
    "trunk": "the trunk",
}


def _work_by_round(course: Course) -> list[float]:
    """Return the usual seconds of every round, in order."""
    found: dict[int, float] = {}
    for segment in course.segments:
        seconds = course.slots[segment.slot].usual_s(segment.reps)
        found[segment.round] = found.get(segment.round, 0.0) + seconds
    return list(found.values())


def bulk_of(course: Course) -> str:
    """Return where the bulk of a workout with an end lies, empty where every round is alike."""
    if course.open_ended or not course.segments:
        return ""
    parts: dict[int, float] = {}
    for segment in course.segments:
        seconds = course.slots[segment.slot].usual_s(segment.reps)
        parts[segment.part] = parts.get(segment.part, 0.0) + seconds
    if len(parts) > MOST_PARTS:
        longest = max(parts, key=lambda part: parts[part])
        share = 100 * parts[longest] / sum(parts.values())
        return f"The longest of {len(parts)} parts by usual times is part {longest}: {share:.0f} % of the work."
    if len(parts) > 1:
        shares = (f"part {part} {100 * seconds / sum(parts.values()):.0f} %" for part, seconds in parts.items())
        return f"Of the work by usual times: {', '.join(shares)}."
    rounds = _work_by_round(course)
    if len(rounds) < FEW_ROUNDS or max(rounds) < 1.3 * min(rounds):
        return ""
    first = sum(rounds[:FEW_ROUNDS]) / sum(rounds)
    half = next(i for i in range(1, len(rounds) + 1) if sum(rounds[:i]) >= sum(rounds) / 2)
    said = f"The first four of {len(rounds)} rounds are {100 * first:.0f} % of the work"
    return f"{said}; half of it is done after round {half}."


def traps_of(course: Course) -> tuple[str, ...]:
    """Return at most two sentences on what goes wrong on such a workout, the one about its shape first."""
    if not course.segments:
        return ()
    found = [sentence for sentence in (_shape(course), _last_skill(course), _shared(course)) if sentence]
    return tuple(found[:MOST_TRAPS])


def _shape(course: Course) -> str:
    rounds = _work_by_round(course)
    form = course.workout.form
    if form is Form.WINDOWS:
        return "The first windows invite a sprint and a long wait: the rest is worth more inside the work."
    if form is Form.STAGES:
        return (
            "The first cap is made with time to spare; what opens next is harder, and many stop on its first rep."
        )
    if any(segment.part > 1 for segment in course.segments):
        return "Emptied before the rest, the second part begins with forced breaks: keep the first one even."
    if course.segments[-1].endless:
        last = course.slots[course.segments[-1].slot].movement.plural
        if len(course.segments) > 1:
            return f"The score is made in the time that is left: arrive at the {last} able to begin at once."
        return "One movement to the end: who goes to the limit in the first minute stands in most of the others."
    if form is Form.AMRAP and len(rounds) > 1 and all(b > a for a, b in pairwise(rounds[:FEW_ROUNDS])):
        return "Every round is longer than the last: who sprints the short ones stands still in the long ones."
    small = len(rounds) >= FEW_ROUNDS and sum(rounds[:FEW_ROUNDS]) < SMALL_FRAC * sum(rounds)
    if small and not course.open_ended and max(rounds) > 1.3 * min(rounds):
        return "The short rounds come first and feel free: the pace is the one of the longest round."
    if len(rounds) > 1 and not course.open_ended and rounds[0] >= LARGE_FRAC * sum(rounds):
        return (
            f"The first round is {100 * rounds[0] / sum(rounds):.0f} % of the work: break its sets before you must."
        )
    if len(rounds) > FEW_ROUNDS or course.open_ended:
        return "Round one feels free: the score is made by the round that is repeated, not by the first."
    return ""


def _last_skill(course: Course) -> str:
    last = course.slots[course.segments[-1].slot].movement
    chipper = len({segment.round for segment in course.segments}) == 1 and len(course.slots) > FEW_ROUNDS - 1
    if not chipper or course.open_ended or max(style.skill_frac for style in last.styles) < LATE_SKILL:
        return ""
    return f"The {last.plural} come last, when a fine skill goes first: arrive there with hands and breath left."


def _shared(course: Course) -> str:
    """Say which two movements that follow each other tax the same muscles most."""
    best, words = SHARED, ""
    followers = {(a.slot, b.slot) for a, b in pairwise(course.segments) if a.slot != b.slot}
    for a, b in sorted(followers):
        first, second = course.slots[a].movement, course.slots[b].movement
        if first.name == second.name:
            continue
        for r, name in enumerate(RESOURCES):
            both = min(first.styles[0].weights[r], second.styles[0].weights[r])
            if both > best:
                best = both
                words = f"{first.plural.capitalize()} and {second.plural} both take {WORDS[name]}"
    return f"{words}: what is saved on one is there on the other." if words else ""
