"""Planned and done, one tape above the other on the same clock."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import NamedTuple

from sorvek.core.live import LaneState, SetDone
from sorvek.core.quantities import clock
from sorvek.core.simulation import Problem, SetRecord, Timeline
from sorvek.figures.colours import movement_resource

WIDTH, LEFT, RIGHT = 1060.0, 78.0, 14.0
PLANNED_Y, DONE_Y, TAPE, AXIS_Y = 8.0, 56.0, 36.0, 116.0
DIGIT_PX, TICK_PX = 7.5, 60.0


@dataclass(frozen=True, slots=True)
class Done:
    """A set on one of the tapes; `row` is its number among the sets that can be corrected, 0 for none."""

    x: float
    y: float
    width: float
    resource: str
    text: str
    title: str
    broken: bool
    row: int = 0


class RoundMark(NamedTuple):
    """Where a round ends on a tape, and when."""

    x: float
    y: float
    text: str


@dataclass(frozen=True, slots=True)
class TwoTapes:
    """All coordinates; `rounds` are the ends of rounds on either tape, `no_reps` marks on the lower one."""

    width: float
    height: float
    sets: tuple[Done, ...]
    rounds: tuple[RoundMark, ...]
    no_reps: tuple[float, ...]
    ticks: tuple[tuple[float, str], ...]


def two_tapes(problem: Problem, planned: Timeline, state: LaneState) -> TwoTapes:
    """Return both tapes; how long a set that was tapped lasted is taken from the plan's time for a rep."""
    end_s = max([planned.end_s, state.last_s, 1.0])
    per_s = (WIDTH - LEFT - RIGHT) / end_s

    def x(t: float) -> float:
        return LEFT + per_s * t

    def bar(y: float, segment: int, reps: int, start_s: float, end_s: float, broken: bool = False) -> Done:
        slot = problem.course.slots[problem.course.segments[segment].slot]
        width = max(1.0, x(end_s) - x(start_s) - 0.8)
        text = str(reps) if width > DIGIT_PX * len(str(reps)) + 3 else ""
        title = f"{reps} {slot.label}, done at {clock(end_s)}" + (", broken" if broken else "")
        return Done(x(start_s), y, width, movement_resource(slot.movement), text, title, broken)

    spans = _spans(problem, planned.sets, state.done)
    upper = [bar(PLANNED_Y, r.segment, r.reps, r.start_s, r.end_s) for r in planned.sets]
    lower, row = list[Done](), 0
    for one, start, end in spans:
        row += one.at_s is not None and one.reps > 0
        if one.reps:
            done = bar(DONE_Y, one.segment, one.reps, start, end, one.broken)
            lower.append(replace(done, row=row) if one.at_s is not None else done)
    step = next((s for s in (15.0, 30.0, 60.0, 120.0, 300.0) if s * per_s >= TICK_PX), 600.0)
    ticks = tuple((x(i * step), clock(i * step)) for i in range(int(end_s / step) + 1))
    return TwoTapes(
        WIDTH,
        AXIS_Y + 22,
        tuple(upper + lower),
        (
            *_rounds(problem, [(r.segment, r.end_s) for r in planned.sets], PLANNED_Y, per_s),
            *_rounds(problem, [(one.segment, end) for one, _, end in spans], DONE_Y, per_s),
        ),
        tuple(x(at_s) for _, at_s in state.no_reps),
        ticks,
    )


def _spans(
    problem: Problem, planned: Sequence[SetRecord], done: Sequence[SetDone]
) -> list[tuple[SetDone, float, float]]:
    """Return start and end of every set done; sets of a round tapped as a whole share its time."""
    rep_s: dict[int, float] = {}
    for record in planned:
        rep_s[problem.course.segments[record.segment].slot] = (record.end_s - record.start_s) / max(1, record.reps)
    found, waiting, before_s = list[tuple[SetDone, float, float]](), list[SetDone](), 0.0
    for one in done:
        waiting.append(one)
        if one.at_s is None:
            continue
        works = [w.reps * rep_s.get(problem.course.segments[w.segment].slot, 2.0) for w in waiting]
        room_s = max(0.1, one.at_s - before_s)
        scale = min(1.0, room_s / max(0.1, sum(works)))
        rest_s = (room_s - scale * sum(works)) / len(waiting)
        for w, work in zip(waiting, works, strict=True):
            start_s = before_s + rest_s
            before_s = start_s + scale * work
            found.append((w, start_s, before_s))
        waiting, before_s = [], one.at_s
    return found


def _rounds(problem: Problem, ends: Sequence[tuple[int, float]], y: float, per_s: float) -> list[RoundMark]:
    """Return where whole rounds end on a tape."""
    rounds, found = [segment.round for segment in problem.course.segments], []
    for i, (segment, end_s) in enumerate(ends):
        ends_visit = i + 1 == len(ends) or ends[i + 1][0] != segment
        if ends_visit and (segment + 1 == len(rounds) or rounds[segment + 1] != rounds[segment]):
            found.append(RoundMark(LEFT + per_s * end_s, y, clock(end_s)))
    return found
