"""What to call in a lane now: the set, what comes behind it, how far off the plan."""

from dataclasses import dataclass

from sorvek.core.constants import BREATH_S
from sorvek.core.live.taps import LaneState
from sorvek.core.quantities import clock
from sorvek.core.simulation import Problem, Timeline
from sorvek.core.workout import NO_LIMIT_S

# Nobody counts more breaths than that. Judgement.
MOST_BREATHS = 6


@dataclass(frozen=True, slots=True)
class LaneCall:
    """What a lane shows: the movement, the set that runs, reps left of the visit, and the call in words.

    `against_s` is how late the last set ended against the plan, None before the first; `rests_until_s` when the
    next window or part opens, 0 where nothing has to be waited for.
    """

    movement: str
    set_reps: int
    left: int
    round: str
    call: str
    against_s: float | None
    rests_until_s: float


def planned_ends(timeline: Timeline) -> tuple[tuple[int, float], ...]:
    """Return reps from the start and the planned time in s at the end of every set."""
    ends, reps = [], 0
    for record in timeline.sets:
        reps += record.reps
        ends.append((reps, record.end_s))
    return tuple(ends)


def lane_call(problem: Problem, state: LaneState, ends: tuple[tuple[int, float], ...], now_s: float) -> LaneCall:
    """Return what a lane shows at a time of the heat's clock; `ends` are those of the plan the heat began with."""
    course = problem.course
    reps = state.place(course)
    against_s = _against_s(state, ends, reps)
    if state.finished(course):
        return LaneCall("", 0, 0, "", f"done in {clock(state.last_s)}", against_s, 0.0)
    segment = course.segments[state.segment]
    slot = course.slots[segment.slot]
    rank = course.slot_rounds()[state.segment]
    scheme = state.plan.scheme(segment.slot, rank)
    sets = state.sets_left(course)
    opens_s = max(segment.opens_s, state.last_s + segment.rest_before_s) if state.begun == 0 else 0.0
    waits = opens_s if opens_s > now_s and state.segment > 0 else 0.0
    if segment.deadline_s < NO_LIMIT_S and now_s >= segment.deadline_s:
        call = "time"
    elif segment.endless and len(sets) == 1:
        return LaneCall(slot.label, 0, 0, course.round_labels[segment.round], "on to the end", against_s, waits)
    elif len(sets) > 1:
        call = f"{'singles' if max(sets) == 1 else f'drop at {sets[0]}'}, {_pause(scheme.rest_s)}"
    else:
        behind = course.segments[state.segment + 1 :]
        after = f"then {course.slots[behind[0].slot].movement.plural}" if behind else "then time"
        call = f"{sets[0]}, {after}"
    return LaneCall(
        slot.label,
        sets[0],
        state.left_of_visit(course),
        course.round_labels.get(segment.round, ""),
        call,
        against_s,
        waits,
    )


def _pause(rest_s: float) -> str:
    """Return a rest between sets as it is called: in breaths, and in seconds where those would be too many."""
    breaths = round(rest_s / BREATH_S)
    if breaths == 0:
        return "at once"
    return f"{breaths} breath{'s' if breaths > 1 else ''}" if breaths <= MOST_BREATHS else f"rest {rest_s:.0f} s"


def _against_s(state: LaneState, ends: tuple[tuple[int, float], ...], reps: int) -> float | None:
    """Return how late the lane is where so many reps were to be done by the plan, between sets in proportion."""
    if not state.done or reps == 0:
        return None
    before_reps, before_s = 0, 0.0
    for planned_reps, planned_s in ends:
        if planned_reps >= reps:
            share = (reps - before_reps) / max(1, planned_reps - before_reps)
            return state.last_s - (before_s + share * (planned_s - before_s))
        before_reps, before_s = planned_reps, planned_s
    return None
