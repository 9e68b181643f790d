"""One plan for a tier, the one its members lose least by, and who would lose too much by following it."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import inf

from sorvek.core.advice import Briefing, brief, compare_tempers
from sorvek.core.athlete import Athlete
from sorvek.core.club.following import Club, Following
from sorvek.core.club.outlook import Outlook, plan_of
from sorvek.core.club.tiering import median_member
from sorvek.core.club.tiers_by_plan import plan_tiers
from sorvek.core.errors import CoreError
from sorvek.core.plan import Plan
from sorvek.core.planner import Temper, plan_workout
from sorvek.core.simulation import Problem, problem_for
from sorvek.core.workout import Workout


@dataclass(frozen=True, slots=True)
class Follower:
    """A member who follows the tier's plan: what it gives with the member's rests, and what it loses.

    There is no briefing where the tier's plan does not fit: another movement stands in.
    """

    athlete: Athlete
    briefing: Briefing | None
    following: Following


@dataclass(frozen=True, slots=True)
class TierPlan:
    """The plan of a tier, shown as its median member would carry it out."""

    briefing: Briefing
    followers: tuple[Follower, ...]

    @property
    def labels(self) -> tuple[str, ...]:
        """Return what every slot is called, with the sizes of all divisions among the followers."""
        first, *others = [f.briefing.course for f in self.followers if f.briefing] or [self.briefing.course]
        return first.labels(others)


@dataclass(frozen=True, slots=True)
class _Member:
    """A member with the own plan, None where that is for a course with a substitute."""

    athlete: Athlete
    problem: Problem
    own: Plan | None


def _member(workout: Workout, athlete: Athlete, outlook: Outlook) -> _Member:
    problem, own = problem_for(workout, athlete), plan_of(outlook.schemes)
    try:
        own.check(problem.course)
    except CoreError:
        return _Member(athlete, problem, None)
    return _Member(athlete, problem, own)


def _follower(member: _Member, plan: Plan) -> Follower:
    """Return how a member follows a plan."""
    following = Club([member.problem], [member.own]).follow(0, plan) if member.own else Following(inf)
    if following.loss == inf:
        return Follower(member.athlete, None, following)
    return Follower(member.athlete, brief(member.problem, plan.with_rests(following.rests.value)), following)


def tier_plan(
    workout: Workout,
    name: str,
    members: Sequence[tuple[Athlete, Outlook]],
    temper: Temper = Temper.STEADY,
    chosen: Plan | None = None,
) -> TierPlan:
    """Return the tier's plan and how it suits each member; members come with the outlook of their own plan.

    A steady tier takes the plan `chosen`, or that its members lose least by. On the other temperaments it takes its
    median member's.
    Raises: InfeasibleError if the workout has no work to plan.
    """
    athletes = [athlete for athlete, _ in members]
    tiers = sorted(athlete.tier for athlete in athletes)
    problem = problem_for(workout, median_member(name, tiers[len(tiers) // 2], athletes))
    everybody = [_member(workout, athlete, outlook) for athlete, outlook in members]
    fitting = [(member.problem, member.own) for member in everybody if member.own]
    if temper is not Temper.STEADY or not (chosen or fitting):
        (result,) = compare_tempers(problem, plan_workout(problem).plan, (temper,))
        briefing = result.briefing
    elif chosen:
        briefing = brief(problem, chosen)
    else:
        (tier,) = plan_tiers([own for own, _ in fitting], [plan for _, plan in fitting], 1)
        briefing = brief(problem, tier.plan)
    return TierPlan(briefing, tuple(_follower(member, briefing.plan) for member in everybody))
