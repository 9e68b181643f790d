"""Tiers by plan: who follows which, what that costs, and that the few plans are well chosen."""

from itertools import combinations, product

import numpy as np
import pytest

from examples import problem
from sorvek.bench.cases import athletes
from sorvek.core.club import following as rooms_of_rest
from sorvek.core.club import tiers_by_plan as rooms
from sorvek.core.club.following import WORTH_FRAC, Club, Following, Rests
from sorvek.core.club.tiers_by_plan import best_plans, mixed, plan_tiers, serves
from sorvek.core.planner.planner import plan_workout
from sorvek.core.simulation import columns as k
from sorvek.core.simulation import run_samples
from sorvek.core.simulation.problem import problem_for
from sorvek.core.workout.notation import parse_workout

TEXT = "for time, cap 12:00\n4 rounds:\n  10 toes-to-bar\n  8 thrusters @ 40/30 kg"


@pytest.fixture(scope="module")
def club():
    workout = parse_workout(TEXT)
    problems = [problem_for(workout, athlete) for athlete in athletes(3, 2)]
    return problems, [plan_workout(p, effort=0.2).plan for p in problems]


def test_everybody_stands_in_one_tier_and_each_follows_the_plan_that_costs_least(club):
    tiers = plan_tiers(*club, 3)
    assert sorted(who for tier in tiers for who in tier.members) == list(range(len(club[0])))
    measured = Club(*club)
    for tier in tiers:
        for who, following in zip(tier.members, tier.following, strict=True):
            assert following == measured.follow(who, tier.plan)
            assert following.loss <= min(measured.follow(who, other.plan).loss for other in tiers) + 1e-9
    # The best first.
    bests = [float(np.median(measured.own_s[list(tier.members)])) for tier in tiers]
    assert bests == sorted(bests)


def test_more_tiers_never_lose_more_and_ones_own_plan_loses_nothing(club):
    costs = []
    for count in (1, 2, 4):
        losses = [following.loss for tier in plan_tiers(*club, count) for following in tier.following]
        costs.append(np.minimum(losses, rooms.WORST_FRAC).sum())
    assert costs == sorted(costs, reverse=True)
    assert Club(*club).follow(0, club[1][0]).loss == 0.0


def test_as_few_as_serve_are_the_fewest_that_do(club):
    few = plan_tiers(*club)
    lost = {n: [f.loss for tier in plan_tiers(*club, n) for f in tier.following] for n in range(1, len(few) + 1)}
    assert [f.loss for tier in few for f in tier.following] == lost[len(few)]
    assert serves(np.array(lost[len(few)]))
    assert not any(serves(np.array(lost[n])) for n in range(1, len(few)))


def test_of_very_many_some_stand_for_all_and_everybody_follows_the_cheapest(club, monkeypatch):
    monkeypatch.setattr(rooms, "MOST_PEOPLE", 6)
    monkeypatch.setattr(rooms, "REPRESENTATIVES", 5)
    tiers, measured = plan_tiers(*club, 2), Club(*club)
    assert len(tiers) == 2
    assert sorted(who for tier in tiers for who in tier.members) == list(range(len(club[0])))
    for tier in tiers:
        for who, following in zip(tier.members, tier.following, strict=True):
            assert following.loss == pytest.approx(min(measured.follow(who, other.plan).loss for other in tiers))


def test_mixing_schemes_never_costs_more_than_the_plan_it_began_with(club):
    measured, members = Club(*club), range(4)
    before = club[1][0]
    after = mixed(measured, before, members)
    cost = [float(rooms.costs_of(measured.losses([plan], members)).sum()) for plan in (before, after)]
    assert cost[1] <= cost[0]


def test_a_plan_that_does_not_fit_costs_everything():
    short, long = problem("for time\n20 pull-ups"), problem("for time\n20 pull-ups\n20 burpees")
    plans = [plan_workout(p, effort=0.1).plan for p in (short, long)]
    assert Club([short, long], plans).follow(0, plans[1]).loss == float("inf")


def test_rests_written_for_many_are_taken_as_they_suit(club):
    """The reference is brute force: every follower simulated with every rest, by plans written out anew."""
    measured, (problems, plans) = Club(*club), club
    signs = set()
    for who, plan in product(range(len(problems)), plans):
        found = measured.follow(who, plan)
        signs.add(found.rests.sign)
        if plan == plans[who]:
            continue
        written = loss(measured, who, plan)
        assert found.loss == pytest.approx(loss(measured, who, plan.with_rests(found.rests.value)))
        if found.rests is Rests.WRITTEN:
            gain = written - min(loss(measured, who, plan.with_rests(r.value)) for r in (Rests(2 / 3), Rests(1.5)))
            assert gain <= WORTH_FRAC or not WORTH_FRAC <= written <= rooms_of_rest.HOPELESS_FRAC
        else:
            assert found.loss < written - WORTH_FRAC
    assert {"×½", "×2"} <= signs


def loss(club, who, plan):
    """Return what a plan costs to the letter, by arithmetic of its own over the same days."""
    problem, days = club.problems[who], club.days[who]
    own, followed = (run_samples(problem, problem.choices(p), *days) for p in (club.plans[who], plan))
    timed = (own[:, k.FINISHED] > 0).mean() >= 0.5
    if timed:
        return problem.lost_s(followed).mean() / problem.lost_s(own).mean() - 1
    return 1 - followed[:, k.DONE].mean() / own[:, k.DONE].mean()


def test_who_goes_by_a_card_of_their_own_has_no_rests_beside_the_name():
    assert Following(0.05, Rests.DOUBLE).sign == "×2"
    assert Following(0.07, Rests.DOUBLE).sign == ""
    assert Following(0.0).sign == ""


@pytest.mark.parametrize("seed", range(6))
def test_exchanging_plans_one_by_one_finds_nearly_what_trying_all_finds(monkeypatch, seed):
    """An independent exhaustive choice over all combinations of small made-up clubs."""
    rng = np.random.Generator(np.random.PCG64(seed))
    places = rng.normal(size=(14, 2))
    losses = 0.05 * np.linalg.norm(places[:, None] - places[None], axis=2)
    costs = rooms.costs_of(losses)
    lowest = min(costs[:, list(some)].min(axis=1).sum() for some in combinations(range(14), 3))
    assert costs[:, best_plans(losses, 3)].min(axis=1).sum() == pytest.approx(lowest)
    monkeypatch.setattr(rooms, "MOST_CHOICES", 0)
    assert costs[:, best_plans(losses, 3)].min(axis=1).sum() <= 1.1 * lowest


def test_a_club_is_served_when_few_lose_a_little_and_fewer_lose_much():
    assert serves(np.array([0.0] * 17 + [0.05] * 3))
    assert not serves(np.array([0.0] * 16 + [0.05] * 4))
    assert not serves(np.array([0.0] * 17 + [0.07] * 3))


def test_a_style_that_can_be_done_beats_one_that_stops_at_once():
    """Two kipping handstand push-ups and no strict one: the plan does those it can, with long rests."""
    text = "for time, cap 12:00\n21 deadlifts @ 60 kg\n21 handstand push-ups"
    given = problem(text, "starting", one_rep_max_kg={"deadlift": 92}, unbroken={"handstand push-up": 2})
    plan = plan_workout(given).plan
    assert plan.slots[1][0].scheme.style != "strict"
    assert plan.slots[1][0].scheme.rule.sets(21) == (1,) * 21
