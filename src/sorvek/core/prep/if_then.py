"""If-then rules: a day gone worse, or better, is simulated, and what is left of the work is planned again for it.

A rule says by what the day is known (the end of the first round that tells), what changes from then on, and what
that saves on days of that kind. The changes are sought set rule by set rule and rest by rest on some likely days,
and what they save is counted on others.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace

from sorvek.core.advice import find_crux
from sorvek.core.plan import Phase, Plan, shorthand
from sorvek.core.planner import Towards, plan_rest
from sorvek.core.quantities import clock
from sorvek.core.simulation import Problem, draw_samples, run_plan, run_samples, stand_at
from sorvek.core.simulation import columns as k
from sorvek.core.workout import Form

# Days are known as worse or better by so much of longest sets and critical power; judgement.
WORSE, BAD, BETTER = 0.93, 0.85, 1.07
# A movement that breaks early has so much of its usual longest set left.
BREAKS = 0.8
# Days on which changes are sought, and others on which their worth is counted.
SEARCH_DAYS, SEARCH_SEED = 80, 31
CHECK_DAYS, CHECK_SEED = 240, 77
# Rules that save less than this are not worth remembering; judgement.
LEAST_S, LEAST_REPS = 3.0, 1.0
# Ends of a round nearer than this cannot be told apart on the floor.
APART_S = 2.0


@dataclass(frozen=True, slots=True)
class IfThen:
    """A rule: when it holds, what then changes, and what that saves in `unit` (s or reps) in the mean.

    `day` is the kind of day, `plan` the plan and `changed` the one that follows the rule.
    """

    when: str
    then: tuple[str, ...]
    saves: float
    unit: str
    day: Problem = field(repr=False, compare=False)
    plan: Plan = field(repr=False, compare=False)
    changed: Plan = field(repr=False, compare=False)

    @property
    def text(self) -> str:
        """Return the rule as one sentence."""
        unit = "s" if self.unit == "s" else "rep" if round(self.saves) == 1 else "reps"
        return f"{self.when}: {'; '.join(self.then)} (saves about {self.saves:.0f} {unit})"

    def worth(self, seed: int) -> float:
        """Return what the rule saves in its unit on other days of its kind."""
        return saved(self.day, self.plan, self.changed, seed)[0]


def gone(problem: Problem, share: float) -> Problem:
    """Return a problem on a day with so much of the usual longest sets, critical power and work above it."""
    who = problem.who.copy()
    who[k.CP] *= share
    who[k.W_PRIME] *= share
    return replace(problem, unbroken=problem.unbroken * share, who=who)


def if_then(problem: Problem, plan: Plan) -> tuple[IfThen, ...]:
    """Return at most three rules for a plan, those that save most first.

    Raises: SetsError if the plan does not fit its course.
    """
    crux = find_crux(problem, plan).slot
    worse = [rule for share in (WORSE, BAD) if (rule := _round_rule(problem, plan, share))]
    found = [*worse[:1], _break_rule(problem, plan, crux), _round_rule(problem, plan, BETTER)]
    return tuple(sorted((rule for rule in found if rule), key=lambda rule: -rule.saves))


def _break_rule(problem: Problem, plan: Plan, slot: int) -> IfThen | None:
    """Return what to do when a movement begins to break earlier than planned."""
    weak = problem.unbroken.copy()
    first = problem.first_variant[slot]
    weak[first : first + len(problem.capacities[slot])] *= BREAKS
    day = replace(problem, unbroken=weak)
    segments = problem.course.segments
    broken = next(
        (
            record.segment
            for record in run_plan(day, plan).sets
            if record.forced_rest_s > 0 and segments[record.segment].slot == slot
        ),
        None,
    )
    if broken is None or not any(segment.slot == slot for segment in segments[broken + 1 :]):
        return None
    changed = _replanned(day, plan, broken + 1, Towards.EASIER, (slot,))
    label = problem.course.round_labels.get(segments[broken].round, "")
    plural = problem.course.slots[slot].movement.plural
    return _told(day, plan, changed, f"{plural.capitalize()} break{' in ' + label.lower() if label else ''}")


def _round_rule(problem: Problem, plan: Plan, share: float) -> IfThen | None:
    """Return what to do when a round ends off the plan, as it does on a day gone worse or better."""
    day = gone(problem, share)
    planned, other = run_plan(problem, plan).splits, run_plan(day, plan).splits
    pairs = list(zip(planned, other, strict=False))[:-1]
    told = [i for i, (a, b) in enumerate(pairs) if _apart(a.end_s, b.end_s) and a.complete and b.complete]
    if not told:
        return None
    here, there = pairs[told[0]]
    border = clock((here.end_s + there.end_s) / 2)
    when = f"{here.label} ends {'after' if there.end_s > here.end_s else 'before'} {border}"
    return _told(day, plan, after_rounds(day, plan, told[0] + 1, share < 1), when)


def after_rounds(day: Problem, plan: Plan, rounds: int, easier: bool) -> Plan:
    """Return a plan that is as it was for so many rounds and then loses least on such a day.

    On a day gone worse (`easier`) nothing is made harder, on a better one nothing easier.
    """
    towards = Towards.EASIER if easier else Towards.HARDER
    return _replanned(day, plan, _visits_over(day, rounds), towards)


def _replanned(day: Problem, plan: Plan, over: int, towards: Towards, slots: Sequence[int] = ()) -> Plan:
    """Return a plan with what is left after so many visits planned again for likely days of a kind."""
    if over >= len(day.course.segments):
        return plan
    standing = stand_at(day, plan, over, *draw_samples(day, SEARCH_DAYS, SEARCH_SEED))
    return plan_rest(day, plan, standing, towards, slots) if len(standing.us) else plan


def _told(day: Problem, plan: Plan, changed: Plan, when: str) -> IfThen | None:
    """Return a rule in words, None where nothing changes or what it saves is not worth remembering."""
    if changed == plan:
        return None
    saves, unit = saved(day, plan, changed)
    if saves < (LEAST_S if unit == "s" else LEAST_REPS):
        return None
    then = tuple(
        f"{slot.said} {shorthand((Phase(None, new[-1].scheme),))}"
        for slot, old, new in zip(day.course.slots, plan.slots, changed.slots, strict=True)
        if old != new
    )
    return IfThen(when, then, saves, unit, day, plan, changed)


def _apart(a_s: float, b_s: float) -> bool:
    """Return whether two times can be told apart on the floor."""
    return abs(a_s - b_s) >= APART_S


def _visits_over(problem: Problem, rounds: int) -> int:
    """Return how many visits are over after so many rounds; a course of one round counts visits."""
    segments = problem.course.segments
    order = list(dict.fromkeys(segment.round for segment in segments))
    if len(order) == 1:
        return rounds
    return sum(segment.round in order[:rounds] for segment in segments)


def saved(day: Problem, plan: Plan, changed: Plan, seed: int = CHECK_SEED) -> tuple[float, str]:
    """Return what a changed plan saves in the mean over likely days of a kind: s where most finish, else reps."""
    us, whos = draw_samples(day, CHECK_DAYS, seed)
    old, new = (run_samples(day, day.choices(one), us, whos) for one in (plan, changed))
    if day.course.workout.form is Form.FOR_TIME and (old[:, k.FINISHED] > 0).mean() > 0.5:
        return float((day.lost_s(old) - day.lost_s(new)).mean()), "s"
    return float((new[:, k.DONE] - old[:, k.DONE]).mean()), "reps"
