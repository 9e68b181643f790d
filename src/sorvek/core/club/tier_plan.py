"""One plan for a tier, the one its members lose least by, and who would lose too much by following it."""

from collections.abc import Sequence
from dataclasses import dataclass

from sorvek.core.advice import Briefing, brief, compare_tempers
from sorvek.core.athlete import Athlete
from sorvek.core.club.outlook import Outlook, plan_of
from sorvek.core.club.tiering import median_member
from sorvek.core.club.tiers_by_plan import STAR_FRAC, plan_tiers
from sorvek.core.errors import CoreError
from sorvek.core.plan import Plan
from sorvek.core.planner import Temper, plan_workout
from sorvek.core.simulation import Problem, problem_for
from sorvek.core.workout import Workout


@dataclass(frozen=True, slots=True)
class Follower:
    """A member who follows the tier's plan: what it gives, and what it loses against the own plan.

    `loss_frac` is a share of the own score; infinite where the own plan finishes and the tier's does not, or
    where the tier's plan does not fit (another movement stands in).
    """

    athlete: Athlete
    briefing: Briefing | None
    loss_frac: float

    @property
    def deviates(self) -> bool:
        """Return whether this athlete should not follow the tier's plan."""
        return self.loss_frac > STAR_FRAC


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


def loss_frac(own: Outlook, followed: Briefing) -> float:
    """Return the share of the own plan's middle score that is lost by following another plan; below 0 it wins."""
    if (own.kind == "time") is not followed.band.timed:
        return float("inf") if own.kind == "time" else -1.0
    if own.kind == "time":
        return (followed.band.p50 - own.p50) / own.p50
    return (own.p50 - followed.band.p50) / max(1.0, own.p50)


def _fitting(workout: Workout, members: Sequence[tuple[Athlete, Outlook]]) -> list[tuple[Problem, Plan]]:
    """Return problem and own plan of every member whose plan is for this course, not for one with a substitute."""
    found = []
    for athlete, own in members:
        problem, plan = problem_for(workout, athlete), plan_of(own.schemes)
        try:
            plan.check(problem.course)
        except CoreError:
            continue
        found.append((problem, plan))
    return found


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
    middle = median_member(name, tiers[len(tiers) // 2], athletes)
    problem = problem_for(workout, middle)
    fitting = _fitting(workout, members) if temper is Temper.STEADY else []
    if chosen is not None and temper is Temper.STEADY:
        briefing = brief(problem, chosen)
    elif fitting:
        (tier,) = plan_tiers([own for own, _ in fitting], [plan for _, plan in fitting], 1)
        briefing = brief(problem, tier.plan)
    else:
        (result,) = compare_tempers(problem, plan_workout(problem).plan, (temper,))
        briefing = result.briefing
    followers = []
    for athlete, own in members:
        try:
            followed = brief(problem_for(workout, athlete), briefing.plan)
            followers.append(Follower(athlete, followed, loss_frac(own, followed)))
        except CoreError:
            followers.append(Follower(athlete, None, float("inf")))
    return TierPlan(briefing, tuple(followers))
