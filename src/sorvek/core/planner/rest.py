"""Planning what is left of the work from where an athlete stands, not from the start line.

The sets, rests and paces that are left are sought one movement after the other over the days that may be: a
coordinate descent, which takes a fraction of the search for a whole plan. What is over stays as it was.
"""

from collections.abc import Sequence
from dataclasses import replace
from enum import StrEnum

from sorvek.core.plan import UNBROKEN, Phase, Plan, Scheme, SetRule
from sorvek.core.simulation import Midway, Problem, run_from

# A movement's sets as shares of a visit, rests in s, paces of what is done without breaks.
PARTS, RESTS_S, PACES = (2, 3, 4), (2.0, 5.0, 10.0), (0.9, 1.0, 1.1, 1.2, 1.35)
PASSES = 2
WORTH_CHANGING_S = 0.3
# A change is looked at on a few days first; what is no better on those is given up.
FIRST_DAYS = 20


class Towards(StrEnum):
    """Which changes are allowed: those that make it easier, those that make it harder, or any."""

    EASIER = "easier"
    HARDER = "harder"
    ANY = "any"


def plan_rest(
    problem: Problem, plan: Plan, midway: Midway, towards: Towards = Towards.ANY, slots: Sequence[int] = ()
) -> Plan:
    """Return the plan with other sets and rests for what is left, as days that stand there lose least in the mean.

    One movement after the other takes the scheme that loses least, PASSES times. Nothing before changes. `slots`
    names the movements that may, all that are left if it is empty.
    Raises: SetsError if the plan does not fit the course.
    """
    segments = problem.course.segments
    done = {segment.slot: problem.ranks[i] for i, segment in enumerate(segments[: midway.segment])}
    slots = slots or list(dict.fromkeys(segment.slot for segment in segments[midway.segment :]))

    some = midway.first(FIRST_DAYS)

    def lost(one: Plan, days: Midway) -> float:
        return float(problem.lost_s(run_from(problem, one, days)).mean())

    best, least, least_first = plan, lost(plan, midway), lost(plan, some)
    for slot in [*slots] * PASSES:
        for scheme in _schemes(problem, plan, slot, towards):
            tried = best.with_slot(slot, _joined(plan.slots[slot], scheme, done.get(slot, 0)))
            first = lost(tried, some)
            if first < least_first and (value := lost(tried, midway)) < least - WORTH_CHANGING_S:
                best, least, least_first = tried, value, first
    return best


def _allowed(change: float, towards: Towards) -> bool:
    """Return whether a change may be tried: above 0 makes it easier, below 0 harder."""
    return change > 0 if towards is Towards.EASIER else change < 0 if towards is Towards.HARDER else change != 0


def _schemes(problem: Problem, plan: Plan, slot: int, towards: Towards) -> list[Scheme]:
    """Return the schemes that are tried for the rest of a slot: other sets with other rests, or another pace."""
    old = plan.slots[slot][-1].scheme
    style = problem.course.slots[slot].movement.style(old.style)
    most = max(segment.reps for segment in problem.course.segments_of(slot))
    paces = [pace for pace in PACES if style.pace_fast <= pace <= style.pace_slow]
    paced = [replace(old, pace=pace) for pace in paces if _allowed(pace - old.pace, towards)]
    if style.steady:
        return paced
    largest = max(old.rule.sets(most)) if not old.rule.sizes or sum(old.rule.sizes) == most else max(old.rule.sizes)
    sizes = sorted({most, *(-(-most // parts) for parts in PARTS), 1})
    rules = [SetRule((), size) if size < most else UNBROKEN for size in sizes if _allowed(largest - size, towards)]
    sets = [replace(old, rule=rule, rest_s=rest_s) for rule in rules for rest_s in RESTS_S]
    if towards is Towards.ANY:
        sets += [replace(old, rest_s=rest_s) for rest_s in RESTS_S if old.rule != UNBROKEN]
    return [*sets, *paced]


def _joined(old: tuple[Phase, ...], scheme: Scheme, rank: int) -> tuple[Phase, ...]:
    """Return the old phases up to a round of the slot, then a scheme to the end; rank 0 for a slot not met yet."""
    before = [phase for phase in old if phase.until is not None and phase.until < rank]
    now = next(phase for phase in old if phase.until is None or phase.until >= rank)
    return (*before, Phase(rank, now.scheme), Phase(None, scheme)) if rank else (Phase(None, scheme),)
