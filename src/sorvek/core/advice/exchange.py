"""Where a second comes cheap: what going faster or resting less on one movement wins, and costs later."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import accumulate

import numpy as np

from sorvek.core.plan import UNBROKEN, Phase, Plan, Scheme
from sorvek.core.simulation import Problem, ScoreKind, Timeline, run_plan
from sorvek.core.workout import NO_LIMIT_S, Course, Form

FASTER = 0.95
LESS_REST = 0.80
LEAST_WON = 0.05  # reps or seconds; less reads as nothing


@dataclass(frozen=True, slots=True)
class Exchange:
    """One movement's rates. `won` is in seconds for a finished timed workout, else in reps; more is better.

    `*_direct_s` is the time saved on the movement itself, `*_cost_s` what of it is lost again elsewhere.
    """

    slot: int
    label: str
    unit: str
    pace_won: float
    pace_direct_s: float
    pace_cost_s: float
    rest_won: float
    rest_direct_s: float
    rest_cost_s: float


def _altered(plan: Plan, slot: int, pace: float, rest: float) -> Plan:
    def change(scheme: Scheme) -> Scheme:
        return replace(scheme, pace=scheme.pace * pace, rest_s=scheme.rest_s * rest)

    phases = tuple(Phase(phase.until, change(phase.scheme)) for phase in plan.slots[slot])
    return plan.with_slot(slot, phases)


def _seconds(problem: Problem, timeline: Timeline, segments: set[int]) -> dict[int, float]:
    """Return the seconds from first to last rep for each of the given segments that was finished."""
    spans: dict[int, list[float]] = {}
    for record in timeline.sets:
        if record.segment in segments:
            spans.setdefault(record.segment, [record.start_s, 0.0])[1] = record.end_s
    last = timeline.sets[-1].segment if timeline.sets else -1
    return {s: end - begin for s, (begin, end) in spans.items() if s != last}


def _rates(problem: Problem, base: Timeline, other: Timeline, slot: int) -> tuple[float, float, float]:
    timed = base.score.kind is ScoreKind.TIME and other.score.kind is ScoreKind.TIME
    won = base.score.value - other.score.value if timed else other.score.value - base.score.value
    own = {i for i, segment in enumerate(problem.course.segments) if segment.slot == slot}
    rest = set(range(len(problem.course.segments))) - own
    before, after = (_seconds(problem, t, own) for t in (base, other))
    direct = sum(before[s] - after[s] for s in before.keys() & after.keys())
    before, after = (_seconds(problem, t, rest) for t in (base, other))
    cost = sum(after[s] - before[s] for s in before.keys() & after.keys())
    return won, direct, cost


def nothing_won(rates: Sequence[Exchange]) -> bool:
    """Return whether no movement wins or loses anything: what is asked for is done in any case."""
    return all(abs(won) < LEAST_WON for row in rates for won in (row.pace_won, row.rest_won))


def exchange_rates(problem: Problem, plan: Plan) -> tuple[Exchange, ...]:
    """Return for every movement what 5 % faster reps, or 20 % less rest, win and what they cost later."""
    base = run_plan(problem, plan)
    unit = "s" if base.score.kind is ScoreKind.TIME else "reps"
    rows = []
    for slot, phases in enumerate(plan.slots):
        faster = _rates(problem, base, run_plan(problem, _altered(plan, slot, FASTER, 1.0)), slot)
        rests = any(phase.scheme.rule != UNBROKEN for phase in phases)
        less = (
            _rates(problem, base, run_plan(problem, _altered(plan, slot, 1.0, LESS_REST)), slot)
            if rests
            else (0.0, 0.0, 0.0)
        )
        rows.append(Exchange(slot, problem.course.slots[slot].said, unit, *faster, *less))
    return tuple(rows)


@dataclass(frozen=True, slots=True)
class Milestone:
    """A target with the even pace it asks for: seconds a round (or a rep), and whether the plan holds it."""

    target: str
    pace_s: float
    unit: str
    held: bool


def _in_metres(course: Course) -> bool:
    """Return whether a movement of the work is counted in metres."""
    return any(slot.unit == "m" for slot in course.slots)


def _round_reps(course: Course) -> list[int]:
    reps: dict[int, int] = {}
    for segment in course.segments:
        reps[segment.round] = reps.get(segment.round, 0) + segment.reps
    return list(reps.values())


@dataclass(frozen=True, slots=True)
class Goals:
    """Targets around a plan's score, and what has to hold for the work to be finished, in words."""

    milestones: tuple[Milestone, ...]
    to_finish: str


def goals(problem: Problem, timeline: Timeline) -> Goals:
    """Return what a plan's score is near to: milestones, and what finishing asks for."""
    return Goals(milestones(problem, timeline), must_be_true(problem, timeline))


def milestones(problem: Problem, timeline: Timeline) -> tuple[Milestone, ...]:
    """Return the paces that round targets around the plan's score ask for, or what finishing asks for."""
    course = problem.course
    deadline = course.segments[-1].deadline_s
    if deadline >= NO_LIMIT_S:
        return ()
    rounds = _round_reps(course)
    done = sum(record.reps for record in timeline.sets)
    rest_s = sum(segment.rest_before_s for segment in course.segments)
    if course.cut:
        return ()
    if not course.open_ended:
        # Where metres are counted, seconds a rep say nothing.
        paces = [] if _in_metres(course) else [((deadline - rest_s) / course.total_reps, "s a rep")]
        if len(set(rounds)) == 1 and len(rounds) > 1:
            paces.append(((deadline - rest_s) / len(rounds), "s a round"))
        return tuple(Milestone("finish", *pace, timeline.score.finished) for pace in paces)
    if course.workout.form is not Form.AMRAP or any(segment.endless for segment in course.segments):
        return ()
    ends = list(accumulate(rounds))
    full = sum(end <= done for end in ends)
    alike = len(set(rounds)) == 1
    if not alike and _in_metres(course):
        return ()
    # Of rounds that grow an even pace is one of reps.
    targets = list(enumerate(ends, start=1))[max(0, full - 2) : full + 2]
    unit = "s a round" if alike else "s a rep"
    return tuple(
        Milestone(f"{n} round{'' if n == 1 else 's'}", deadline / (n if alike else end), unit, n <= full)
        for n, end in targets
    )


def must_be_true(problem: Problem, timeline: Timeline) -> str:
    """Return what has to hold for the workout to be finished, in words; empty for open work."""
    course = problem.course
    deadline = course.segments[-1].deadline_s
    if course.open_ended or course.cut or deadline >= NO_LIMIT_S:
        return ""
    if timeline.score.finished:
        return f"Finished with {deadline - timeline.end_s:.0f} s to spare: that much may go wrong."
    done = sum(record.reps for record in timeline.sets)
    left = course.total_reps - done
    if timeline.score.stuck_s is not None:
        return "To finish, one rep of the movement that stops this athlete would have to come first."
    reps, seconds = problem.typical_course
    share = 1 - float(np.interp(done, reps, seconds)) / seconds[-1]
    shorter = f"every rep and rest would have to be {share:.0%} shorter"
    if _in_metres(course):
        return f"To finish, {shorter}."
    return f"To finish, {left} more rep{'' if left == 1 else 's'} must fit: {shorter}."
