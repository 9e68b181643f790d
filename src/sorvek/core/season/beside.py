"""Planned against done: where the seconds of an attempt went, and what is to blame: plan, execution or capacity."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import groupby

import numpy as np

from sorvek.core.athlete import Athlete
from sorvek.core.club import Result, result_text
from sorvek.core.live import LaneState
from sorvek.core.plan import Plan
from sorvek.core.planner import plan_workout
from sorvek.core.quantities import clock
from sorvek.core.simulation import (
    Floats,
    Problem,
    Timeline,
    after_set,
    at_start,
    draw_samples,
    problem_for,
    run_from,
    run_samples,
)
from sorvek.core.simulation import columns as k
from sorvek.core.workout import Course, Form

DAYS = 200
# What is nearer to the plan is as planned; judgement.
TELLING_S, TELLING_FRAC = 2.5, 0.02


@dataclass(frozen=True, slots=True)
class DoneStretch:
    """Visits that end with a time, and what they took beside the plan; `first` and `last` count visits from 0.

    `more_sets` is how many sets more than planned, None where only the end of a round is known.
    """

    first: int
    last: int
    label: str
    round: int
    planned_s: float
    done_s: float
    more_sets: int | None
    no_reps: int

    @property
    def late_s(self) -> float:
        """Return how much longer it took than planned."""
        return self.done_s - self.planned_s


def stretches_of(problem: Problem, planned: Timeline, state: LaneState) -> tuple[DoneStretch, ...]:
    """Return the visits of an attempt that plan and athlete both got through, beside the plan."""
    course, ends, sets = problem.course, dict[int, float](), dict[int, int]()
    for record in planned.sets:
        ends[record.segment] = record.end_s
        sets[record.segment] = sets.get(record.segment, 0) + 1
    found: list[DoneStretch] = []
    first, before_s = 0, 0.0
    for segment, group in groupby(state.done, key=lambda one: one.segment):
        done = list(group)
        if segment >= state.segment or segment not in ends or done[-1].at_s is None:
            continue
        began_s = ends[first - 1] if first else 0.0
        alone = first == segment
        found.append(
            DoneStretch(
                first=first,
                last=segment,
                label=course.slots[course.segments[segment].slot].label if alone else "",
                round=course.segments[segment].round,
                planned_s=ends[segment] - began_s,
                done_s=done[-1].at_s - before_s,
                more_sets=len(done) - sets[segment] if alone else None,
                no_reps=sum(first <= at <= segment for at, _ in state.no_reps),
            )
        )
        first, before_s = segment + 1, done[-1].at_s
    return tuple(found)


def told(course: Course, found: Sequence[DoneStretch]) -> tuple[str, ...]:
    """Return in words where the seconds went: by rounds, then by movements."""
    by_round: dict[int, float] = {}
    for one in found:
        by_round[one.round] = by_round.get(one.round, 0.0) + one.late_s
    lines = [*_rounds(course, by_round), *_movements(found)]
    return tuple(lines) or (("Every part took what the plan said.",) if found else ())


def _rounds(course: Course, by_round: dict[int, float]) -> list[str]:
    """Return runs of rounds that were all fast or all slow."""
    if len(by_round) < 2:
        return []

    def side(late_s: float) -> int:
        return 0 if abs(late_s) < TELLING_S else 1 if late_s > 0 else -1

    lines = []
    for which, run in groupby(by_round.items(), key=lambda one: side(one[1])):
        rounds = list(run)
        if which == 0:
            continue
        first, last = (course.round_labels.get(rounds[i][0], str(rounds[i][0] + 1)) for i in (0, -1))
        names = first if len(rounds) == 1 else f"{first} to {last[:1].lower()}{last[1:]}"
        late_s = sum(s for _, s in rounds)
        lines.append(
            f"{names}: {abs(late_s):.0f} s {'longer than planned' if late_s > 0 else 'faster than planned'}."
        )
    return lines


def _movements(found: Sequence[DoneStretch]) -> list[str]:
    lines, movements = [], dict[str, list[DoneStretch]]()
    for one in found:
        if one.label:
            movements.setdefault(one.label, []).append(one)
    for label, group in movements.items():
        late_s, planned_s = sum(s.late_s for s in group), sum(s.planned_s for s in group)
        more, missed = sum(s.more_sets or 0 for s in group), sum(s.no_reps for s in group)
        if abs(late_s) < max(TELLING_S, TELLING_FRAC * planned_s) and not missed:
            continue
        how = f"{abs(late_s):.0f} s {'longer' if late_s > 0 else 'shorter'} than planned"
        why = [f"{abs(more)} set{'s' if abs(more) > 1 else ''} {'more' if more > 0 else 'fewer'}"] if more else []
        why += [f"{missed} no-rep{'s' if missed > 1 else ''}"] if missed else []
        lines.append(f"{label[:1].upper()}{label[1:]}: {how}" + (f", {' and '.join(why)}." if why else "."))
    return lines


@dataclass(frozen=True, slots=True)
class Blame:
    """Scores in words: as planned, by the sets really done, and for who we believe in now by the plan and the best.

    `execution_s`, `capacity_s` and `plan_s` are what each is to blame for, in seconds of work (above 0: lost), of
    `work_s` in all.
    """

    planned: str
    executed: str
    followed: str
    best: str
    execution_s: float
    capacity_s: float
    plan_s: float
    work_s: float

    @property
    def verdict(self) -> str:
        """Return who is to blame, in one sentence."""
        parts = {
            "capacity: the numbers believed in were too high": self.capacity_s,
            "execution: sets and rests other than planned": self.execution_s,
            "the plan: another one suits the athlete better": self.plan_s,
        }
        worst = max(parts, key=lambda name: parts[name])
        if parts[worst] < max(TELLING_S, TELLING_FRAC * self.work_s):
            return "Nothing was lost: what is known now explains the result, and the plan was right for it."
        return f"Mostly {worst} (about {clock(parts[worst])} of work)."


def blame(problem: Problem, plan: Plan, state: LaneState, now: Athlete) -> Blame:
    """Return what plan, execution and capacity are to blame for; `now` is the athlete as believed in afterwards.

    Raises: InfeasibleError if the workout cannot be planned for the athlete now.
    """
    after = problem_for(problem.course.workout, now)
    planned, executed = _days(problem, plan), _executed(problem, plan, state)
    followed, best = _days(after, plan), _days(after, plan_workout(after).plan)
    # Means: the middle of days that fall into heaps jumps from one heap to the next.
    lost = [float(np.mean(problem.lost_s(outs))) for outs in (planned, executed, followed, best)]
    return Blame(
        planned=_middle(problem, planned),
        executed=_middle(problem, executed),
        followed=_middle(problem, followed),
        best=_middle(problem, best),
        execution_s=lost[1] - lost[0],
        capacity_s=lost[2] - lost[0],
        plan_s=lost[2] - lost[3],
        work_s=float(planned[:, k.TIME].mean()),
    )


def _days(problem: Problem, plan: Plan) -> Floats:
    return run_samples(problem, problem.choices(plan), *draw_samples(problem, DAYS, doubts=0.0))


def _executed(problem: Problem, plan: Plan, state: LaneState) -> Floats:
    """Return the results of likely days on which the sets really done are carried out, the rest by the plan."""
    midway, broke = at_start(*draw_samples(problem, DAYS, doubts=0.0)), False
    for one in state.done:
        if one.reps > 0 and midway.segment < len(problem.course.segments):
            midway = after_set(problem, plan, midway, one.reps, broke).midway
        broke = one.broken
    if midway.segment >= len(problem.course.segments):
        outs = np.zeros((DAYS, k.N_OUT))
        outs[:, k.TIME] = midway.begins[:, k.SNAP_T]
        outs[:, k.DONE] = midway.begins[:, k.SNAP_DONE]
        outs[:, k.FINISHED] = 1.0
        return outs
    return run_from(problem, plan, midway)


def _middle(problem: Problem, outs: Floats) -> str:
    form = problem.course.workout.form
    lost_s = problem.lost_s(outs)
    middle = outs[np.argmin(np.abs(lost_s - lost_s.mean()))]
    finished = form is Form.FOR_TIME and bool(middle[k.FINISHED] > 0)
    return result_text(Result("", "", finished, float(middle[k.TIME if finished else k.DONE])), form)
