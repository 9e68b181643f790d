"""How many plans look like plans a coach would call: shares of made-up cases in which each of its marks holds."""

import statistics
from collections import defaultdict
from collections.abc import Iterable, Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass

import numpy as np

from sorvek.bench.cases import WORKOUTS, Case, cases
from sorvek.core.advice.briefing import Briefing, brief
from sorvek.core.advice.schools import school_plan, schools_for
from sorvek.core.advice.tempers import compare_tempers
from sorvek.core.plan import UNBROKEN, Phase, Plan, Scheme
from sorvek.core.planner.candidates import daily_losses
from sorvek.core.planner.planner import plan_workout
from sorvek.core.planner.set_rules import School
from sorvek.core.simulation import columns as k
from sorvek.core.simulation.days import draw_samples
from sorvek.core.simulation.forecast import run_samples
from sorvek.core.simulation.problem import Problem
from sorvek.core.simulation.timeline import Split, run_plan
from sorvek.core.workout.course import LEAST_ALIKE
from sorvek.core.workout.tree import Form

# What a coach would call, as numbers: the least share of a middle round that round one takes, how far middle
# rounds may lie apart, the fewest reps in reserve and the seconds at the end where they do not count, the share
# of days on which a movement may break, what makes another plan better, what a change of scheme must be worth,
# and what a hot start should cost. Common practice, no source.
ROUND_ONE, ROUNDS_APART, RESERVE, LAST_S, DAYS_BROKEN = 0.87, 0.08, 0.8, 25.0, 0.35
BETTER, CHANGE_WORTH, HOT_COST = 0.005, 0.015, 0.03
# A gate missed by so few reps is missed by a hair.
NEARLY_REPS = 2
# Plans this close in reps are equal, and a tie-break must be so much earlier to count.
HALF_A_REP, TIE_S = 0.5, 1.0


@dataclass(frozen=True, slots=True)
class Mark:
    """One number of one case: whether it holds, and what was seen."""

    name: str
    holds: bool
    seen: str


def better_by(problem: Problem, plan: Plan, other: Plan) -> float:
    """Return by what share of the score `plan` beats `other` at the mean of 400 likely days."""
    gap_s = float(daily_losses(problem, other).mean() - daily_losses(problem, plan).mean())
    return gap_s / max(1.0, run_plan(problem, plan).end_s)


def _alike(briefing: Briefing) -> Iterator[tuple[list[Split], int]]:
    """Yield the complete rounds of every stretch of rounds that are alike, and the number of the first of them."""
    numbers = {s.round: n for s, n in zip(briefing.course.segments, briefing.course.alike_rounds(), strict=True)}
    rounds = list(zip(briefing.timeline.splits, sorted(numbers), strict=False))
    for i, (_, first) in enumerate(rounds):
        if numbers[first] == 1:
            stretch = [s for s, r in rounds[i:] if s.complete and numbers[r] == r - first + 1]
            if len(stretch) >= LEAST_ALIKE:
                yield stretch, first


def _changes(briefing: Briefing) -> set[int]:
    """Return the last rounds before a change of scheme, over all movements."""
    course, changes = briefing.course, set[int]()
    for segment, rank in zip(course.segments, briefing.problem.ranks, strict=True):
        phases = briefing.plan.slots[segment.slot]
        changes |= {segment.round for phase in phases[:-1] if phase.until == rank}
    reached = max((course.segments[b.segment].round for b in briefing.blocks), default=0)
    return {change for change in changes if change < reached}


def _even(briefing: Briefing) -> Iterator[Mark]:
    for stretch, first in _alike(briefing):
        takes = [split.end_s - split.start_s for split in stretch]
        middle = statistics.median(takes[1:-1])
        groups: dict[int, list[float]] = defaultdict(list)
        for i, seconds in enumerate(takes[1:-1], first + 1):
            groups[sum(change < i for change in _changes(briefing))].append(seconds)
        apart = max(abs(s / statistics.median(group) - 1) for group in groups.values() for s in group)
        shown = " ".join(f"{s:.0f}" for s in takes)
        if first == 1:
            yield Mark("1 even: round one", takes[0] >= ROUND_ONE * middle, shown)
        yield Mark("1 even: middle rounds", apart <= ROUNDS_APART, shown)


def _reserve(briefing: Briefing) -> Iterator[Mark]:
    blocks = [b for b in briefing.blocks if max(b.sets) > 1]
    if blocks:
        end_s = max(b.end_s for b in blocks)
        early = [b for b in blocks if b.end_s < end_s - LAST_S]
        thin = [f"{b.label} {b.min_reps_in_reserve:.1f}" for b in early if b.min_reps_in_reserve < RESERVE]
        yield Mark("2 in reserve", not thin, ", ".join(dict.fromkeys(thin)))
        loud = [
            f"{slot.label} {share:.0%}"
            for slot, share in zip(briefing.course.slots, briefing.band.forced_break_frac, strict=True)
            if share >= DAYS_BROKEN
        ]
        yield Mark("3 chosen breaks", not loud, ", ".join(loud))


def _beats(other: Briefing, briefing: Briefing) -> bool:
    timed = briefing.band.timed
    pairs = zip(other.band.ends(timed), briefing.band.ends(timed), strict=True)
    return all(a < b * (1 - BETTER) if timed else a > b * (1 + BETTER) for a, b in pairs)


def _one_scheme(briefing: Briefing) -> Iterator[Mark]:
    """A plan changes once on the way, and the best way not to change in any one movement loses enough by it."""
    changes = _changes(briefing)
    if not changes:
        yield Mark("5 one scheme", True, "")
        return
    problem, plan = briefing.problem, briefing.plan
    worth = 1.0
    for slot, phases in enumerate(plan.slots):
        if len(phases) > 1:
            for phase in phases:
                constant = plan.with_slot(slot, (Phase(None, phase.scheme),))
                other = brief(problem, constant).timeline
                if other.failed_reps <= briefing.timeline.failed_reps:
                    worth = min(worth, better_by(problem, plan, constant))
    yield Mark("5 one scheme", len(changes) == 1 and worth >= CHANGE_WORTH, f"{len(changes)} changes, {worth:.1%}")


def _hot(briefing: Briefing) -> Iterator[Mark]:
    """Two rounds unbroken at full speed, then the plan's own sets."""
    problem, plan = briefing.problem, briefing.plan
    big = [
        segment
        for segment in briefing.course.segments
        if segment.round <= 2
        and problem.variants[problem.first_variant[segment.slot], k.STEADY] == 0
        and segment.reps > 0.5 * problem.unbroken[problem.first_variant[segment.slot]] >= 0.5
    ]
    if not big or not any(True for _ in _alike(briefing)):
        return
    slots = []
    for phases in plan.slots:
        style, last = phases[0].scheme.style, phases[-1].scheme
        slots.append((Phase(2, Scheme(UNBROKEN, style=style)), Phase(None, last)))
    cost = better_by(problem, plan, Plan(tuple(slots)))
    yield Mark("6 hot start costs", cost >= HOT_COST, f"{cost:.1%}")


def _later_tie(briefing: Briefing, other: Briefing) -> bool:
    """Return whether another plan has the earlier tie-break with as many reps, as planned and on all days."""
    one, two = briefing.timeline.score, other.timeline.score
    if one.finished or two.finished or one.tiebreak_s is None or two.tiebreak_s is None:
        return False
    own, there = ((s.value, b.p10, b.p50, b.p90) for s, b in ((one, briefing.band), (two, other.band)))
    fewer = any(theirs < mine - HALF_A_REP for mine, theirs in zip(own, there, strict=True))
    return not fewer and abs(one.value - two.value) <= HALF_A_REP and two.tiebreak_s < one.tiebreak_s - TIE_S


def _unreached(briefing: Briefing) -> Iterator[Mark]:
    """Movements no likely day gets to are planned without sets."""
    problem = briefing.problem
    us, whos = draw_samples(problem)
    done = float(run_samples(problem, problem.choices(briefing.plan), us, whos)[:, k.DONE].max())
    begins = np.cumsum([0.0, *(segment.counted for segment in problem.course.segments)])
    reached = {s.slot for s, begin in zip(problem.course.segments, begins, strict=False) if begin <= done}
    never = [phases for slot, phases in enumerate(briefing.plan.slots) if slot not in reached]
    if never:
        plain = all(len(p) == 1 and p[0].scheme.rule == UNBROKEN for p in never)
        yield Mark("9 nothing for the unreached", plain, "")


def gates_passed(briefing: Briefing) -> int:
    """Return how many windows or stages are done in time on the planned day."""
    score, course = briefing.timeline.score, briefing.course
    done = course.total_reps if score.finished else score.value
    return sum(done >= reps for reps in course.gates().values())


def marks_of(case: Case, schools: Iterable[School] | None = None) -> list[Mark]:
    """Return the marks of one case, beside `schools`, or beside those that are shown."""
    problem = case.problem
    shown = schools_for(problem) if schools is None else schools
    plan = plan_workout(problem).plan
    briefing = brief(problem, plan)
    marks = [*_even(briefing), *_reserve(briefing), *_one_scheme(briefing), *_hot(briefing), *_unreached(briefing)]
    others = {school.value: brief(problem, school_plan(problem, school, plan)) for school in shown}
    if others:
        others |= {r.temper.value: r.briefing for r in compare_tempers(problem, plan)}
        better = [name for name, other in others.items() if _beats(other, briefing)]
        marks.append(Mark("4 not dominated", not better, ", ".join(better)))
        if briefing.timeline.score.tiebreak_s is not None and not briefing.timeline.score.finished:
            earlier = [name for name, other in others.items() if _later_tie(briefing, other)]
            marks.append(Mark("7 tie-break", not earlier, ", ".join(earlier)))
        if problem.course.workout.form in (Form.WINDOWS, Form.STAGES):
            own = gates_passed(briefing)
            ahead = [name for name, other in others.items() if gates_passed(other) > own]
            done = briefing.timeline.score.value
            if not any(0 < reps - done <= NEARLY_REPS for reps in problem.course.gates().values()):
                ahead = []
            marks.append(Mark("8 gates", not ahead, ", ".join(ahead)))
    return marks


def _tally(case: Case) -> list[tuple[str, bool]]:
    return [(mark.name, mark.holds) for mark in marks_of(case)]


def called_shares(seed: int, count: int = WORKOUTS) -> dict[str, tuple[int, int]]:
    """Return for every mark in how many cases it holds and to how many it applies; on all processors."""
    shares: dict[str, list[bool]] = defaultdict(list)
    with ProcessPoolExecutor() as pool:
        for marks in pool.map(_tally, cases(seed, count), chunksize=6):
            for name, holds in marks:
                shares[name].append(holds)
    return {name: (sum(held), len(held)) for name, held in sorted(shares.items())}
