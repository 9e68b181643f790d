"""What holds of any workout's way to the start line, whoever goes there."""

from dataclasses import replace

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from examples import given_case, problem
from sorvek.core.advice.briefing import brief
from sorvek.core.lift.hall.plates import USUAL_GYM, parse_gym
from sorvek.core.plan import Phase, Plan, Scheme, SetRule
from sorvek.core.prep.gear import cues, gear_list, standards
from sorvek.core.prep.if_then import after_rounds, gone, if_then, saved
from sorvek.core.prep.judge import MOST_ROWS, judge_rows
from sorvek.core.prep.primer import MOST_MOVEMENTS, MOST_OF_SET, find_primer, too_dear
from sorvek.core.prep.timetable import PrepWishes, WarmKind, WarmSchool, reached, rule_s, timetable
from sorvek.core.workout.movements import TIERS
from strategies import workouts

GYM = parse_gym(USUAL_GYM)
HALLS = (USUAL_GYM, "bar 45 lb\nbar 35 lb\npairs 4x45 2x25 2x10 2x5 2x2.5 lb", "bar 20 kg\npairs 1x10 kg")


@settings(max_examples=25, suppress_health_check=[HealthCheck.filter_too_much, HealthCheck.too_slow])
@given(
    workouts,
    st.sampled_from(TIERS),
    st.sampled_from(["m", "f"]),
    st.sampled_from(WarmSchool),
    st.booleans(),
    st.sampled_from(HALLS),
)
def test_any_warm_up_counts_back_to_the_start_without_a_gap(workout, tier, sex, school, intervals, hall):
    found, plan, timeline = given_case(workout, tier, sex)
    gym = parse_gym(hall)
    table = timetable(found, plan, timeline, gym, PrepWishes(school, intervals))
    ends = [part.before_s - part.length_s for part in table.parts]
    assert ends == [part.before_s for part in table.parts[1:]] + [0]
    assert table.parts[-1].kind is WarmKind.REST
    assert table.length_s >= table.by_rule_s == rule_s(timeline.end_s)
    assert all(part.length_s > 0 and part.lines is not None for part in table.parts)
    bar = gym.bar("", sex)
    for loaded in table.loads:
        assert loaded.sets
        for one in loaded.sets:
            mass = bar.mass_kg + gym.collars_kg + 2 * sum(piece.mass_kg for piece in one.stack)
            assert one.load_kg == pytest.approx(mass, abs=0.11)
    assert gear_list(found, timeline, gym)
    names = {slot.movement.name for slot in found.course.slots}
    assert {line.movement for line in standards(found.course.movements)} == names
    told = {line.movement for line in cues(found, timeline)}
    assert {name for name in told if not name.startswith(("rest of", "before"))} <= names


@settings(max_examples=25, suppress_health_check=[HealthCheck.filter_too_much, HealthCheck.too_slow])
@given(workouts, st.sampled_from(TIERS), st.sampled_from(["m", "f"]))
def test_any_primer_is_short_and_made_of_the_first_round(workout, tier, sex):
    found, plan, timeline = given_case(workout, tier, sex)
    primer = find_primer(found, plan)
    first = [s for s in found.course.segments if s.round == found.course.segments[0].round]
    allowed = {found.course.slots[s.slot].label for s in first if not too_dear(found, s.slot)}
    if primer is None:
        assert not allowed
        return
    labels = [line.label for line in primer.lines]
    assert set(labels) <= allowed
    assert len(labels) == len(set(labels)) <= MOST_MOVEMENTS
    longest = {slot.label: found.capacities[i][0].unbroken.value for i, slot in enumerate(found.course.slots)}
    most = {found.course.slots[s.slot].label: s.reps for s in reversed(first)}
    for line in primer.lines:
        assert 1 <= line.reps <= max(1, most[line.label], int(MOST_OF_SET * longest[line.label]))
    assert 0 <= primer.least_reserve <= 1
    assert primer.length_s > 0
    assert reached(found, timeline) >= {found.course.segments[0].slot}


@settings(max_examples=25, suppress_health_check=[HealthCheck.filter_too_much, HealthCheck.too_slow])
@given(workouts, st.sampled_from(TIERS))
def test_any_judge_sheet_counts_up_and_fits_a_page(workout, tier):
    found, plan, _ = given_case(workout, tier, "f")
    rows = judge_rows(brief(found, plan))
    assert 0 < len(rows) <= MOST_ROWS
    totals = [cell.total for row in rows for cell in row.cells]
    assert totals == sorted(totals)
    assert all(cell.reps > 0 for row in rows for cell in row.cells)


GREEDY = "for time, cap 20:00\n5 rounds:\n  15 toes-to-bar\n  12 power clean @ 60 kg\n  10 thruster @ 43 kg\n"


@given(st.integers(1, 5), st.sampled_from([0.8, 0.9, 1.1]))
def test_a_rule_changes_nothing_before_it_holds(rounds, share):
    found = problem(GREEDY, "competing")
    plan = Plan(tuple((Phase(None, Scheme(SetRule(), 5.0)),) for _ in found.course.slots))
    changed = after_rounds(gone(found, share), plan, rounds, share < 1)
    for slot in range(len(plan.slots)):
        for number in range(1, rounds + 1):
            assert changed.scheme(slot, number) == plan.scheme(slot, number)
    assert saved(gone(found, share), plan, changed)[0] >= -1


def test_rules_on_a_plan_that_hangs_on_are_found_and_say_what_to_do():
    found = problem(GREEDY, "building")
    greedy = Plan(tuple((Phase(None, Scheme(SetRule(), 2.0)),) for _ in found.course.slots))
    rules = if_then(found, greedy)
    assert rules
    assert rules == tuple(sorted(rules, key=lambda rule: -rule.saves))
    for rule in rules:
        assert rule.text.startswith(rule.when)
        assert all(replace(rule, then=(line,)).text.count(line) == 1 for line in rule.then)
