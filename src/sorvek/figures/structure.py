"""The structure strip: a workout's work in order, each visit as wide as it usually takes."""

from dataclasses import dataclass

from sorvek.core.workout import Course
from sorvek.figures.colours import movement_resource

WIDTH = 600.0
HEIGHT = 44.0
MOST_SEGMENTS = 90


@dataclass(frozen=True, slots=True)
class StripBlock:
    """One visit: a bar; its count and movement are in the title."""

    x: float
    width: float
    resource: str
    title: str


@dataclass(frozen=True, slots=True)
class Strip:
    """Bars, gaps for obligatory rests, and the x of every round's beginning."""

    width: float
    height: float
    blocks: tuple[StripBlock, ...]
    rounds: tuple[float, ...]
    rests: tuple[tuple[float, float, str], ...]


def structure_strip(course: Course) -> Strip:
    """Return the strip of a course; open work shows its first four rounds or all its first windows.

    A max lift alone has none of it: its strip is empty.
    """
    segments = [s for s in course.segments if not course.open_ended or s.round <= 4][:MOST_SEGMENTS]
    seconds = [max(1.0, course.slots[s.slot].usual_s(s.reps)) for s in segments]
    rest_s = [segment.rest_before_s for segment in segments]
    scale = WIDTH / max(1.0, sum(seconds) + sum(rest_s))
    blocks, rounds, rests, x, before = [], [], [], 0.0, 0
    for segment, length, rest in zip(segments, seconds, rest_s, strict=True):
        if rest:
            rests.append((x, rest * scale, f"rest {rest:.0f} s"))
            x += rest * scale
        if segment.round != before:
            rounds.append(x)
            before = segment.round
        slot = course.slots[segment.slot]
        width = length * scale
        blocks.append(StripBlock(x, max(1.0, width - 1), movement_resource(slot.movement), slot.told(segment)))
        x += width
    return Strip(WIDTH, HEIGHT, tuple(blocks), tuple(rounds), tuple(rests))
