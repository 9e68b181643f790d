"""Going on from a state in the middle of the work, and planning what is left of it."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from examples import problem
from sorvek.core.plan import Phase, Plan, Scheme, SetRule
from sorvek.core.planner import Towards, plan_rest
from sorvek.core.simulation import (
    after_set,
    at_start,
    columns,
    draw_samples,
    run_from,
    run_plan,
    run_samples,
    stand_at,
)

TRIPLET = "for time, cap 16:00\n4 rounds:\n  15 toes-to-bar\n  12 power clean @ 60 kg\n  200 m row\n"
COUNTED = "amrap 6:00\n15 m overhead lunge steps @ 20/15 kg, 1 rep per 4 m\n9 burpees"
COURSES = (TRIPLET, COUNTED, "Signal Mast", "Breakwater", "Fog Signal", "Harbour Steps", "Two Lamps")


def greedy(found):
    return Plan(tuple((Phase(None, Scheme(SetRule(), 2.0)),) for _ in found.course.slots))


@given(st.sampled_from(COURSES), st.integers(1, 12))
def test_going_on_from_a_state_ends_as_the_whole_run_does(text, segment):
    found = problem(text, "competing")
    segment = min(segment, len(found.course.segments) - 1)
    us, whos = draw_samples(found, 20, 5)
    standing = stand_at(found, greedy(found), segment, us, whos)
    whole = run_samples(found, found.choices(greedy(found)), us, whos)
    there = whole[:, columns.REACHED] >= segment
    assert len(standing.us) == there.sum()
    assert np.array_equal(run_from(found, greedy(found), standing), whole[there])


@pytest.mark.parametrize("text", COURSES)
@pytest.mark.parametrize("towards", list(Towards))
def test_what_is_left_is_planned_and_what_is_over_stays(text, towards):
    found, segment = problem(text, "building"), 3
    standing = stand_at(found, greedy(found), segment, *draw_samples(found, 60, 5))
    changed = plan_rest(found, greedy(found), standing, towards)
    for i in range(segment):
        slot, rank = found.course.segments[i].slot, found.ranks[i]
        assert changed.scheme(slot, rank) == greedy(found).scheme(slot, rank)
    before, after = (found.lost_s(run_from(found, one, standing)).mean() for one in (greedy(found), changed))
    assert after <= before
    paces = [phases[-1].scheme.pace for phases in changed.slots]
    assert towards is not Towards.EASIER or min(paces) >= 1.0
    assert towards is not Towards.HARDER or max(paces) <= 1.0


def test_planning_the_rest_helps_who_turns_out_weaker_on_days_it_was_not_sought_on():
    found = problem(TRIPLET, "building")
    weaker = replace(found, unbroken=0.9 * found.unbroken)
    standing = stand_at(weaker, greedy(found), 3, *draw_samples(weaker, 60, 5))
    changed = plan_rest(weaker, greedy(found), standing)
    others = stand_at(weaker, greedy(found), 3, *draw_samples(weaker, 200, 6))
    old, new = (weaker.lost_s(run_from(weaker, one, others)).mean() for one in (greedy(found), changed))
    assert new < 0.99 * old


def test_only_the_movements_named_are_planned_again():
    found = problem(TRIPLET, "building")
    standing = stand_at(found, greedy(found), 3, *draw_samples(found, 60, 5))
    changed = plan_rest(found, greedy(found), standing, slots=(0,))
    assert changed.slots[0] != greedy(found).slots[0]
    assert changed.slots[1:] == greedy(found).slots[1:]


SCHEMES = st.sampled_from([SetRule(), SetRule(then=1), SetRule(then=4), SetRule((3,), 2)])


@given(st.sampled_from(COURSES), SCHEMES, st.sampled_from([0.0, 4.0]), st.integers(0, 3))
def test_set_by_set_the_days_go_as_in_one_run(text, rule, rest_s, seed):
    found = problem(text, "competing")
    plan = Plan(tuple((Phase(None, Scheme(rule, rest_s)),) for _ in found.course.slots))
    us, whos = draw_samples(found, 2, seed)
    day = replace(found, unbroken=us[0], who=whos[0])
    midway = at_start(us, whos)
    for record in run_plan(day, plan).sets:
        if record.reps == 0 or record.end_s >= found.course.segments[record.segment].deadline_s:
            break  # time was up in this set
        after = after_set(found, plan, midway, record.reps)
        midway = after.midway
        assert midway.begins[0, columns.SNAP_T] == pytest.approx(record.end_s, abs=1e-9)
        assert after.in_reserve[0] == pytest.approx(record.reps_in_reserve, abs=1e-9)
        if midway.segment < len(found.course.segments):
            whole = run_samples(found, found.choices(plan), us, whos)
            kept = [
                i for i in range(columns.N_OUT) if i != columns.SHORTFALL
            ]  # the last set of a run has no margin
            assert run_from(found, plan, midway)[0, kept] == pytest.approx(whole[0, kept], abs=1e-9)


@given(st.integers(1, 60), SCHEMES, st.data())
def test_what_is_left_of_a_count_adds_up_and_goes_on_as_planned(count, rule, data):
    if rule.sizes and sum(rule.sizes) > count:
        return
    begun = data.draw(st.integers(0, count))
    left = rule.left(count, begun)
    assert sum(left) == count - begun
    assert all(size >= 1 for size in left)
    sizes = rule.sets(count)
    done = [sum(sizes[:i]) for i in range(len(sizes) + 1)]
    if begun in done:
        assert left == sizes[done.index(begun) :]
    elif left:
        assert max(left) <= max(sizes)
