"""Where a plan's sets end too near to the last rep there is, and what a longer rest would change about it."""

from dataclasses import dataclass, replace

from sorvek.core.constants import LAST_PUSH_S, MARGIN_REPS, MARGIN_U_FRAC
from sorvek.core.plan import UNBROKEN, Phase, Plan, SetRule
from sorvek.core.quantities import clock, plain
from sorvek.core.simulation import Problem, ScoreKind, SetRecord, Timeline, run_plan
from sorvek.core.simulation import columns as k

# Below this a set is said to end thin: the lower end of what the margin aims at, less for who has only a few.
THIN_REPS = 1.0
MORE_REST_S = (1.0, 3.0, 6.0, 10.0, 15.0)


@dataclass(frozen=True, slots=True)
class ThinMargin:
    """One movement's thinnest planned end of a set, in reps in reserve, and what is aimed at.

    `singles` tells that the sets cannot be smaller. `more_rest_s` is the shortest tried that mends it, None where
    none does or where there is one set only; `then_reps` is the thinnest end with it and `cost` what the score
    loses by it, in seconds or reps.
    """

    slot: int
    label: str
    reps: float
    aim: float
    singles: bool
    more_rest_s: float | None = None
    then_reps: float = 0.0
    cost: str = ""


def thinnest(problem: Problem, plan: Plan, timeline: Timeline) -> dict[int, tuple[float, float]]:
    """Return by slot the fewest reps in reserve at the end of a set, and how many are the least that is not thin.

    Left out, as in the planner's margin: steady work, the last set of all and whatever ends in the last 20 s.
    """
    course, found = problem.course, dict[int, tuple[float, float]]()
    variants = problem.choices(plan).ints[:, k.VARIANT]
    for record in timeline.sets[: -1 if timeline.score.finished else None]:
        segment, variant = course.segments[record.segment], variants[record.segment]
        steady = problem.variants[variant, k.STEADY] > 0
        if not steady and segment.deadline_s - record.end_s > LAST_PUSH_S:
            least = min(THIN_REPS, MARGIN_U_FRAC * float(problem.unbroken[variant]))
            here = record.reps_in_reserve, least
            found[segment.slot] = min(found.get(segment.slot, here), here)
    return found


def rested(plan: Plan, slot: int, more_s: float) -> Plan:
    """Return a plan with so many seconds more rest between the sets of one slot."""
    phases = plan.slots[slot]
    return plan.with_slot(
        slot,
        tuple(Phase(p.until, replace(p.scheme, rest_s=p.scheme.rest_s + more_s)) for p in phases),
    )


def first_failed(problem: Problem, timeline: Timeline, slot: int) -> SetRecord | None:
    """Return the first set of a movement in which a rep fails, None if none does."""
    segments = problem.course.segments
    return next((r for r in timeline.sets if r.failed_reps and segments[r.segment].slot == slot), None)


def cost_words(lost: float, timed: bool) -> str:
    """Return what a score loses, or wins where that is below 0, in words."""
    worse = round(lost)
    unit = "s" if timed else "rep" if abs(worse) == 1 else "reps"
    if worse == 0:
        return "costs nothing" if timed else "costs no rep"
    return f"costs {worse} {unit}" if worse > 0 else f"wins {-worse} {unit}"


def _cost(before: Timeline, after: Timeline) -> str | None:
    """Return what the score loses, in words; None if the work no longer gets done."""
    if before.score.kind is not after.score.kind:
        return None
    timed = before.score.kind is ScoreKind.TIME
    gain = after.score.value - before.score.value
    return cost_words(gain if timed else -gain, timed)


def thin_margins(problem: Problem, plan: Plan, timeline: Timeline) -> tuple[ThinMargin, ...]:
    """Return the movements of which a planned set ends with less than a rep in reserve, in the order of slots."""
    margins = []
    for slot, (reps, least) in sorted(thinnest(problem, plan, timeline).items()):
        if reps >= least:
            continue
        rules = {phase.scheme.rule for phase in plan.slots[slot]}
        label, singles = problem.course.slots[slot].said, rules == {SetRule(then=1)}
        margin = ThinMargin(slot, label, max(0.0, reps), MARGIN_REPS if least == THIN_REPS else least, singles)
        for more_s in MORE_REST_S if rules != {UNBROKEN} else ():
            longer = rested(plan, slot, more_s)
            other = run_plan(problem, longer)
            then, enough = thinnest(problem, longer, other).get(slot, (0.0, least))
            cost = _cost(timeline, other)
            if then >= enough and cost is not None and first_failed(problem, other, slot) is None:
                margin = replace(margin, more_rest_s=more_s, then_reps=then, cost=cost)
                break
        margins.append(margin)
    return tuple(margins)


def margin_warning(margin: ThinMargin, failed: SetRecord | None = None) -> str:
    """Return one margin in words, with what can be done about it; `failed` is the first set that fails a rep."""
    said = f"{margin.label}: the thinnest set ends with {margin.reps:.1f} reps in reserve"
    said += (
        f"; {margin.aim:.1f} is the aim."
        if failed is None
        else f", and a rep fails in the set at {clock(failed.start_s)}."
    )
    if margin.more_rest_s is None and margin.singles:
        return f"{said} Singles cannot be smaller: rest by feel, and expect no-reps."
    if margin.more_rest_s is None:
        return f"{said} A little more rest does not mend that: make the sets smaller, or be ready to break."
    then = f"leaves {margin.then_reps:.1f} and {margin.cost}"
    return f"{said} {plain(margin.more_rest_s)} s more rest between sets {then}."
