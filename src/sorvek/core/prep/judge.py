"""The judge sheet: a line of boxes for every round, with the target splits and the tie-break where it is taken."""

import math
from dataclasses import dataclass

from sorvek.core.advice import Briefing
from sorvek.core.quantities import clock

# Open work gets room for so much more than is planned.
ROOM_FRAC = 1.3
MOST_ROWS = 24


@dataclass(frozen=True, slots=True)
class JudgeCell:
    """One visit to a movement: what, how many, the reps that stand at its end, whether the tie-break is taken."""

    movement: str
    reps: int
    total: int
    tiebreak: bool


@dataclass(frozen=True, slots=True)
class JudgeRow:
    """A round: its label, its visits, the planned clock at its end, empty past the plan."""

    label: str
    cells: tuple[JudgeCell, ...]
    target: str


def judge_rows(briefing: Briefing) -> tuple[JudgeRow, ...]:
    """Return the rows of a judge sheet for a plan, at most MOST_ROWS; open work goes on past what is planned."""
    course, timeline = briefing.course, briefing.timeline
    done = sum(record.reps for record in timeline.sets)
    room = ROOM_FRAC * done if course.open_ended else sum(segment.reps for segment in course.segments)
    targets = {split.label: clock(split.end_s) for split in timeline.splits if split.complete}
    rounds: dict[int, list[JudgeCell]] = {}
    total = score = 0
    for segment in course.segments:
        if rounds and total >= room and segment.round not in rounds:
            break
        reps = max(1, math.ceil(room - total)) if segment.endless else segment.reps
        total += reps
        score += segment.counted_of(reps)
        slot = course.slots[segment.slot]
        rounds.setdefault(segment.round, []).append(JudgeCell(slot.label, reps, score, segment.tiebreak))
    rows = []
    for number, cells in list(rounds.items())[:MOST_ROWS]:
        label = course.round_labels.get(number, f"Round {number}")
        rows.append(JudgeRow(label, tuple(cells), targets.get(label, "")))
    return tuple(rows)
