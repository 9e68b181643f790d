"""Tiers by plan: the few plans that serve a club, and who follows which.

Every athlete is simulated on the plans of others over the same days; of those plans the few are chosen by which the
club loses least (the k-medoids problem, Kaufman & Rousseeuw 1987), tried out whole where that is possible.
"""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import combinations
from math import comb

import numpy as np

from sorvek.core.errors import CoreError
from sorvek.core.plan import Phase, Plan
from sorvek.core.simulation import Floats, Problem, run_samples, spread_samples
from sorvek.core.simulation import columns as k
from sorvek.core.workout import Form

# Days on which plans are compared, and how many simulations that may take: the more people, the fewer plans stand
# to choose, spread evenly from the best forecast to the worst.
DAYS, MOST_RUNS = 12, 36_000
# Of more people than this tiers are chosen for so many of them, with the plans of all those to choose; judgement.
MOST_PEOPLE, REPRESENTATIVES = 600, 240
# Up to so many choices of plans are all tried; beyond, plans are added and exchanged one by one.
MOST_CHOICES = 60_000
# Who loses so little by a tier's plan may follow it without a thought; who loses more than the second stands with a
# star and gets a card. How much of a club that may be, and the most tiers a coach can brief. Judgement.
LITTLE_FRAC, STAR_FRAC = 0.03, 0.06
SERVED_FRAC, STARRED_FRAC, MOST_TIERS = 0.85, 0.125, 5
# What losing much costs on top when plans are chosen, and where it makes no difference any more; judgement.
DEAR_FRAC, WORST_FRAC = 0.05, 0.15
# A tier's plan may take single movements from other plans, or rest otherwise: so many usual schemes of each and
# so many factors of its rests are tried, twice over.
OPTIONS, PASSES, MOST_MIXING_RUNS = 16, 2, 80_000
REST_FACTORS = (0.5, 0.75, 1.35, 2.0)


@dataclass(frozen=True, slots=True)
class PlanTier:
    """A plan and who follows it: `members` by their place in the club, the best first.

    `losses` are shares of the members' own scores that following costs; infinite where the plan does not fit.
    """

    plan: Plan
    members: tuple[int, ...]
    losses: tuple[float, ...]


class Club:
    """Athletes with their own plans, and what following other plans costs each over common days.

    A loss is the difference of the mean scores, as a share of the own one: of the time of who finishes on most
    days (missing reps on the others in typical seconds on top of the cap), else of the reps. One's own plan loses
    nothing. `own_s` orders everybody from the best to the worst.
    """

    def __init__(self, problems: Sequence[Problem], plans: Sequence[Plan]) -> None:
        self.problems, self.plans = problems, plans
        self.days = [spread_samples(problem, DAYS) for problem in problems]
        own = [self._outs(who, plan) for who, plan in enumerate(plans)]
        timed = [problem.course.workout.form is Form.FOR_TIME for problem in problems]
        self.by_time = [
            t and bool((outs[:, k.FINISHED] > 0).mean() >= 0.5) for t, outs in zip(timed, own, strict=True)
        ]
        self.own_s = np.array([p.lost_s(outs).mean() for p, outs in zip(problems, own, strict=True)])
        self.own = [self._worse(who, outs) for who, outs in enumerate(own)]

    def _outs(self, who: int, plan: Plan) -> Floats:
        problem = self.problems[who]
        return run_samples(problem, problem.choices(plan), *self.days[who])[0]

    def _worse(self, who: int, outs: Floats) -> float:
        """Return the mean score of days (n, N_OUT), more for worse: seconds, or reps below 0."""
        return float(self.problems[who].lost_s(outs).mean() if self.by_time[who] else -outs[:, k.DONE].mean())

    def loss(self, who: int, plan: Plan) -> float:
        """Return the share of the own score that a plan costs somebody; infinite where it does not fit."""
        if plan == self.plans[who]:
            return 0.0
        try:
            worse = self._worse(who, self._outs(who, plan))
        except CoreError:
            return float("inf")
        return (worse - self.own[who]) / max(1.0, abs(self.own[who]))

    def losses(self, plans: Sequence[Plan], members: Sequence[int]) -> Floats:
        """Return what each plan costs each member (members, plans)."""
        return np.array([[self.loss(who, plan) for plan in plans] for who in members])

    def candidates(self, runs: int = MOST_RUNS) -> list[Plan]:
        """Return the plans that stand to choose in so many simulations, of the best to the worst; each once."""
        order = np.argsort(self.own_s, kind="stable")
        count = min(len(order), max(MOST_TIERS, runs // (DAYS * len(order))))
        spread = order[np.linspace(0, len(order) - 1, count).round().astype(np.int64)]
        return list(dict.fromkeys(self.plans[who] for who in spread.tolist()))

    def mixed(self, plan: Plan, members: Sequence[int]) -> Plan:
        """Return a plan that costs these members less, with single movements done as in other plans of the club."""
        slots = len(plan.slots)
        options = max(
            1, min(OPTIONS, MOST_MIXING_RUNS // (DAYS * slots * PASSES * len(self.plans)) - len(REST_FACTORS))
        )
        lowest = float(costs_of(self.losses([plan], members)).sum())
        for slot in range(slots):
            usual = Counter(own.slots[slot] for own in self.plans).most_common(options)
            schemes = dict.fromkeys([*(phases for phases, _ in usual), *_other_rests(plan.slots[slot])])
            others = [plan.with_slot(slot, phases) for phases in schemes if phases != plan.slots[slot]]
            costs = costs_of(self.losses(others, members)).sum(axis=0) if others else np.zeros(0)
            if len(costs) and costs.min() < lowest - 1e-12:
                lowest, plan = float(costs.min()), others[int(costs.argmin())]
        return plan


def _other_rests(phases: tuple[Phase, ...]) -> list[tuple[Phase, ...]]:
    """Return the same sets with shorter and longer rests."""
    return [
        tuple(replace(p, scheme=replace(p.scheme, rest_s=float(round(factor * p.scheme.rest_s)))) for p in phases)
        for factor in REST_FACTORS
    ]


def costs_of(losses: Floats) -> Floats:
    """Return what losses cost in the choice: themselves, and more beyond what may be lost without a thought."""
    capped = np.minimum(losses, WORST_FRAC)
    costs: Floats = capped + DEAR_FRAC * ((losses > LITTLE_FRAC) + 1.0 * (losses > STAR_FRAC))
    return costs


def best_plans(losses: Floats, count: int) -> tuple[int, ...]:
    """Return the `count` columns of `losses` (n, c) by which the club loses least, each member by the cheapest."""
    costs, plans = costs_of(losses), range(losses.shape[1])
    if count >= losses.shape[1]:
        return tuple(plans)
    if comb(losses.shape[1], count) <= MOST_CHOICES:
        choices = np.array(list(combinations(plans, count)))
        lowest = costs[:, choices[:, 0]]
        for column in range(1, count):
            lowest = np.minimum(lowest, costs[:, choices[:, column]])
        return tuple(choices[lowest.sum(axis=0).argmin()].tolist())
    found: list[int] = []
    while len(found) < count:
        found.append(min(plans, key=lambda plan: float(costs[:, [*found, plan]].min(axis=1).sum())))
    better = True
    while better:
        now = float(costs[:, found].min(axis=1).sum())
        swaps = [[*found[:i], plan, *found[i + 1 :]] for i in range(count) for plan in plans if plan not in found]
        swap = min(swaps, key=lambda some: float(costs[:, some].min(axis=1).sum()))
        better = float(costs[:, swap].min(axis=1).sum()) < now - 1e-12
        found = swap if better else found
    return tuple(sorted(found))


def serves(losses: Floats) -> bool:
    """Return whether few enough lose too much, by everybody's loss (n,)."""
    return bool((losses < LITTLE_FRAC).mean() >= SERVED_FRAC and (losses > STAR_FRAC).mean() <= STARRED_FRAC)


def _tiers(club: Club, plans: list[Plan]) -> list[PlanTier]:
    """Return everybody with the cheapest of some plans; plans nobody follows are left out."""
    losses = club.losses(plans, range(len(club.plans)))
    at = losses.argmin(axis=1)
    tiers = []
    for column, plan in enumerate(plans):
        members = sorted(np.flatnonzero(at == column).tolist(), key=lambda who: float(club.own_s[who]))
        if members:
            tiers.append(PlanTier(plan, tuple(members), tuple(losses[members, column].tolist())))
    return tiers


def plan_tiers(
    problems: Sequence[Problem], plans: Sequence[Plan], count: int | None = None
) -> tuple[PlanTier, ...]:
    """Return the tiers of a club, the best first: `count` of them, or as few as serve.

    `plans` holds everybody's own plan; a tier's is the one of them that its members lose least by, with single
    movements from others. Of very many people some stand for all when tiers are chosen. At least one athlete is
    needed. No two tiers have the same plan: there may be fewer.
    """
    club = Club(problems, plans)
    if len(plans) > MOST_PEOPLE:
        return _tiers_of_many(club, count)
    return _chosen(club, count, MOST_RUNS)


def _tiers_of_many(club: Club, count: int | None) -> tuple[PlanTier, ...]:
    """Return the tiers of very many: chosen for some of them, then everybody follows the cheapest.

    Those some are spread evenly from the best to the worst, and all their plans stand to choose.
    """
    order = np.argsort(club.own_s, kind="stable")
    some = order[np.linspace(0, len(order) - 1, REPRESENTATIVES).round().astype(np.int64)].tolist()
    few = Club([club.problems[i] for i in some], [club.plans[i] for i in some])
    plans = [tier.plan for tier in _chosen(few, count, DAYS * REPRESENTATIVES**2)]
    return _ordered(club, _tiers(club, plans))


def _ordered(club: Club, tiers: Sequence[PlanTier]) -> tuple[PlanTier, ...]:
    return tuple(sorted(tiers, key=lambda tier: float(np.median(club.own_s[list(tier.members)]))))


def _chosen(club: Club, count: int | None, runs: int) -> tuple[PlanTier, ...]:
    """Return the tiers of a club whose losses may all be tried, in so many simulations."""
    plans, standing = club.plans, club.candidates(runs)
    losses = club.losses(standing, range(len(plans)))
    chosen: tuple[int, ...] = ()
    for number in range(1, MOST_TIERS + 1) if count is None else (count,):
        chosen = best_plans(losses, number)
        if serves(losses[:, chosen].min(axis=1)):
            break
    tiers = _tiers(club, [standing[column] for column in chosen])
    for _ in range(PASSES):
        mixed = [club.mixed(tier.plan, tier.members) for tier in tiers]
        tiers = _tiers(club, list(dict.fromkeys(mixed)))
    return _ordered(club, tiers)
