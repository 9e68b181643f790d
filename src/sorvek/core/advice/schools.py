"""The schools of breaking and pacing, each tried on one athlete beside the recommendation."""

import math
from dataclasses import dataclass, replace

from sorvek.core.advice.briefing import Briefing, brief
from sorvek.core.advice.explain import verdict
from sorvek.core.plan import Phase, Plan
from sorvek.core.planner import PACE_SCHOOLS, School, build_menu, plan_workout
from sorvek.core.simulation import Problem, ScoreKind, Timeline, run_plan
from sorvek.core.workout import Form

# A school has few set rules left to choose from, a short search is enough.
EFFORT = 0.25
# Paces early and late, as factors of an even plan's, of who holds back; who banks early has them the other way.
HELD_BACK = ((1.05, 0.95), (1.1, 0.95), (1.1, 0.9), (1.05, 1.0), (1.1, 1.0), (1.2, 1.0))
# In windows what is over is rest: who holds their pace spreads it inside, the slowest way that passes as many; who
# banks works fast and waits. Paces as factors, waits added before every movement (s), rests as factors; judgement.
HELD = ((1.35, 10.0, 1.5), (1.2, 10.0, 1.5), (1.2, 6.0, 1.25), (1.1, 6.0, 1.25), (1.1, 3.0, 1.0), (1.05, 3.0, 1.0))
BANKED = ((0.85, 0.0, 0.5), (0.9, 0.0, 0.5), (0.9, 0.0, 0.75), (0.95, 0.0, 0.75), (0.95, 0.0, 1.0), (1.0, 0.0, 1.0))


@dataclass(frozen=True, slots=True)
class SchoolResult:
    """A school's best plan for an athlete: its briefing and one sentence beside the recommendation."""

    school: School
    briefing: Briefing
    verdict: str

    @property
    def name(self) -> str:
        """Return what coaches call the school; in windows holding back is holding the window's pace."""
        if self.school is School.HOLD_BACK and self.briefing.course.workout.form is Form.WINDOWS:
            return "hold window's pace"
        return self.school.value


def _spread(problem: Problem, plan: Plan, early: float, late: float) -> Plan:
    """Return an even plan with its paces scaled, as far as the movements allow, by one factor early, another late.

    Late begins behind half of the rounds that are reached; a movement that comes once is early if it begins in the
    first half of the time.
    """
    timeline = run_plan(problem, plan)
    begins = {problem.course.segments[r.segment].slot: r.start_s for r in reversed(timeline.sets)}
    rounds = {problem.course.segments[r.segment].slot: problem.ranks[r.segment] for r in timeline.sets}
    slots: list[tuple[Phase, ...]] = []
    for slot, (phase,) in enumerate(plan.slots):
        style = problem.course.slots[slot].movement.style(phase.scheme.style)
        first, last = (
            replace(phase.scheme, pace=min(max(factor * phase.scheme.pace, style.pace_fast), style.pace_slow))
            for factor in (early, late)
        )
        half = rounds.get(slot, 0) // 2
        if half:
            slots.append((Phase(half, first), Phase(None, last)))
        else:
            slots.append((Phase(None, first if begins.get(slot, math.inf) < timeline.end_s / 2 else last),))
    return Plan(tuple(slots))


def _inside_windows(problem: Problem, plan: Plan, pace: float, wait_s: float, rest: float) -> Plan:
    """Return a plan with every scheme's pace and rest scaled, as far as the movement allows, and another wait."""
    slots: list[tuple[Phase, ...]] = []
    for slot, phases in zip(problem.course.slots, plan.slots, strict=True):
        style = slot.movement.styles[0]
        usual = min(max(pace, style.pace_fast), style.pace_slow)
        slots.append(
            tuple(
                Phase(p.until, replace(p.scheme, pace=usual, wait_s=wait_s, rest_s=round(rest * p.scheme.rest_s)))
                for p in phases
            )
        )
    return Plan(tuple(slots))


def _even_pace(plan: Plan) -> Plan:
    """Return a plan with every movement's last scheme from start to end."""
    return Plan(tuple((Phase(None, phases[-1].scheme),) for phases in plan.slots))


def _rank(timeline: Timeline) -> tuple[bool, float]:
    """Return a key that sorts timelines best first."""
    timed = timeline.score.kind is ScoreKind.TIME
    return (not timed, timeline.score.value if timed else -timeline.score.value)


def _keeps_to(problem: Problem, school: School, plan: Plan) -> bool:
    """Return whether every set rule of a plan is one of the school's."""
    menu = build_menu(problem, school)
    return all(
        phase.scheme.rule in rules for rules, phases in zip(menu.rules, plan.slots, strict=True) for phase in phases
    )


def school_plan(problem: Problem, school: School, recommended: Plan) -> Plan:
    """Return the best plan of a school; pace schools keep the recommended sets and spread the pace.

    Where the plan it is compared with keeps to the school's own sets, the school does at least as well.
    """
    if school not in PACE_SCHOOLS:
        found = plan_workout(problem, school=school, effort=EFFORT).plan
        plans = [found, recommended] if _keeps_to(problem, school, recommended) else [found]
        return min(plans, key=lambda plan: _rank(run_plan(problem, plan)))
    if school is School.EVEN_PACE:
        return _even_pace(recommended)
    base = _even_pace(recommended)
    held = school is School.HOLD_BACK
    if problem.course.workout.form is Form.WINDOWS:
        plans = [_inside_windows(problem, recommended, *how) for how in (HELD if held else BANKED)]
        return min(plans, key=lambda plan: _rank(run_plan(problem, plan)))
    plans = [_spread(problem, base, *(pair if held else pair[::-1])) for pair in HELD_BACK]
    return min(plans, key=lambda plan: _rank(run_plan(problem, plan)))


def schools_for(problem: Problem) -> tuple[School, ...]:
    """Return the schools that have a say on this work."""
    return tuple(school for school in School if school in PACE_SCHOOLS or school.slots_of(problem))


def compare_schools(problem: Problem, recommended: Plan) -> tuple[SchoolResult, ...]:
    """Return the best plan of every school that has a say on this work, best in the middle of the days first."""
    best = brief(problem, recommended)
    results = []
    for school in schools_for(problem):
        briefing = brief(problem, school_plan(problem, school, recommended))
        results.append(SchoolResult(school, briefing, verdict(briefing, best)))
    return tuple(sorted(results, key=lambda result: _middle(result.briefing)))


def _middle(briefing: Briefing) -> tuple[bool, float]:
    day = briefing.band.middle
    return (not day.finished, day.value if day.finished else -day.value)
