"""Tiers by plan: the few plans that serve a club, and who follows which.

Every athlete is simulated on the plans of others over the same days; of those plans the few are chosen by which the
club loses least (the k-medoids problem, Kaufman & Rousseeuw 1987), tried out whole where that is possible.
"""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations
from math import comb

import numpy as np

from sorvek.core.club.following import DAYS, LITTLE_FRAC, STAR_FRAC, Club, Following, Rests
from sorvek.core.plan import Plan
from sorvek.core.simulation import Floats, Problem

# How many simulations comparing plans may take, other rests not counted: the more people, the fewer plans stand to
# choose, spread evenly from the best forecast to the worst.
MOST_RUNS = 36_000
# Of more people than this tiers are chosen for so many of them, with the plans of all those to choose; judgement.
MOST_PEOPLE, REPRESENTATIVES = 600, 240
# Up to so many choices of plans are all tried; beyond, plans are added and exchanged one by one.
MOST_CHOICES = 60_000
# How much of a club must lose little, how much of it may stand with a star, and the most tiers a coach can brief.
# Judgement.
SERVED_FRAC, STARRED_FRAC, MOST_TIERS = 0.85, 0.125, 5
# What losing much costs on top when plans are chosen, and where it makes no difference any more; judgement.
DEAR_FRAC, WORST_FRAC = 0.05, 0.15
# A tier's plan may take single movements from other plans, or rest otherwise: so many usual schemes of each and
# so many factors of its rests are tried, twice over.
OPTIONS, PASSES, MOST_MIXING_RUNS = 16, 2, 80_000
# So many members of a tier, from the best to the worst, speak for all of it then; half as many are asked first, and
# what serves those no better is not tried on the others. Judgement.
MIXED_BY, MIXED_FIRST_BY = 24, 12
REST_FACTORS = (0.5, 0.75, 1.35, 2.0)
# What it costs in the choice that somebody takes other rests than are written; judgement.
OTHER_RESTS_FRAC = 0.002


@dataclass(frozen=True, slots=True)
class PlanTier:
    """A plan and who follows it: `members` by their place in the club, the best first, and how each follows it."""

    plan: Plan
    members: tuple[int, ...]
    following: tuple[Following, ...]


def candidates(club: Club, runs: int = MOST_RUNS) -> list[Plan]:
    """Return the plans that stand to choose in so many simulations, of the best to the worst; each once."""
    order = np.argsort(club.own_s, kind="stable").tolist()
    some = _spread(order, max(MOST_TIERS, runs // (DAYS * len(order))))
    return list(dict.fromkeys(club.plans[who] for who in some))


def _spread(people: Sequence[int], count: int) -> list[int]:
    """Return at most so many of some people, evenly from the first to the last."""
    at = np.linspace(0, len(people) - 1, min(len(people), count)).round().astype(np.int64)
    return [people[i] for i in at.tolist()]


def mixed(club: Club, plan: Plan, members: Sequence[int]) -> Plan:
    """Return a plan that costs these members less, with single movements done as in other plans of the club.

    In the end its rests are written so that few take others.
    """
    slots, speakers = len(plan.slots), (_spread(members, MIXED_FIRST_BY), _spread(members, MIXED_BY))
    affordable = MOST_MIXING_RUNS // (DAYS * slots * PASSES * len(club.plans)) - len(REST_FACTORS)
    options = max(1, min(OPTIONS, affordable))
    for slot in range(slots + 1):
        if slot < slots:
            usual = Counter(own.slots[slot] for own in club.plans).most_common(options)
            others = [plan.with_slot(slot, phases) for phases, _ in usual]
            others += [plan.with_rests(factor, slot) for factor in REST_FACTORS]
        else:
            others = [plan.with_rests(rests.value) for rests in Rests]
        for other in dict.fromkeys(others):
            if all(_cost(club, other, some) < _cost(club, plan, some) - 1e-12 for some in speakers):
                plan = other
    return plan


def _cost(club: Club, plan: Plan, members: Sequence[int]) -> float:
    """Return what a plan costs its members in the choice, with a little for everybody who takes other rests."""
    following = [club.follow(who, plan) for who in members]
    others = sum(f.rests is not Rests.WRITTEN for f in following)
    return float(costs_of(np.array([f.loss for f in following])).sum()) + OTHER_RESTS_FRAC * others


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
    cheapest = [
        min(((club.follow(who, plan), plan) for plan in plans), key=lambda one: one[0].loss)
        for who in range(len(club.plans))
    ]
    tiers = []
    for plan in plans:
        members = [who for who, (_, own) in enumerate(cheapest) if own is plan]
        members.sort(key=lambda who: float(club.own_s[who]))
        if members:
            tiers.append(PlanTier(plan, tuple(members), tuple(cheapest[who][0] for who in members)))
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
    some = _spread(np.argsort(club.own_s, kind="stable").tolist(), REPRESENTATIVES)
    few = Club([club.problems[i] for i in some], [club.plans[i] for i in some])
    plans = [tier.plan for tier in _chosen(few, count, DAYS * REPRESENTATIVES**2)]
    return _ordered(club, _tiers(club, plans))


def _ordered(club: Club, tiers: Sequence[PlanTier]) -> tuple[PlanTier, ...]:
    return tuple(sorted(tiers, key=lambda tier: float(np.median(club.own_s[list(tier.members)]))))


def _chosen(club: Club, count: int | None, runs: int) -> tuple[PlanTier, ...]:
    """Return the tiers of a club whose losses may all be tried, in so many simulations."""
    standing = candidates(club, runs)
    losses = club.losses(standing, range(len(club.plans)))

    def cut(number: int) -> list[PlanTier]:
        tiers = _tiers(club, [standing[column] for column in best_plans(losses, number)])
        for _ in range(PASSES):
            better = dict.fromkeys(mixed(club, tier.plan, tier.members) for tier in tiers)
            tiers = _tiers(club, list(better))
        return tiers

    if count is not None:
        return _ordered(club, cut(count))
    numbers = range(1, MOST_TIERS + 1)
    plain = (n for n in numbers if serves(losses[:, best_plans(losses, n)].min(axis=1)))
    tiers = cut(next(plain, MOST_TIERS))
    # Mixed plans serve more than plain ones: fewer of them may do.
    while len(tiers) > 1:
        fewer = cut(len(tiers) - 1)
        if not serves(np.array([following.loss for tier in fewer for following in tier.following])):
            break
        tiers = fewer
    return _ordered(club, tiers)
