"""The set shorthand."""

from dataclasses import replace

import pytest
from hypothesis import given

from examples import problem, typed
from sorvek.core.errors import NotationError, SetsError
from sorvek.core.plan.plan import UNBROKEN, SetRule, check_sets
from sorvek.core.plan.shorthand import parse_shorthand, shorthand
from strategies import phases


@given(phases())
def test_what_is_printed_is_read_back(given_phases):
    """Rest plays no part in unbroken work and is not printed there; everything else comes back."""
    again = parse_shorthand(shorthand(given_phases))
    assert parse_shorthand(shorthand(again)) == again
    assert [p.until for p in again] == [p.until for p in given_phases]
    for found, given_phase in zip(again, given_phases, strict=True):
        wanted = given_phase.scheme
        rest_s = found.scheme.rest_s if wanted.rule == UNBROKEN else wanted.rest_s
        assert found.scheme == replace(wanted, rest_s=rest_s)


@pytest.mark.parametrize("text", ["singles 2.9br", "r6", "unbroken 2br", "5/5 r5.129", "sets of 5 pace 0.95"])
def test_what_was_found_by_mutating_texts_is_read_back(text):
    """Found by `make fuzz`: the canonical print of these was another plan, or refused."""
    phases = parse_shorthand(text)
    assert parse_shorthand(shorthand(phases)) == phases


@pytest.mark.parametrize("text", ["rounds 1" + "9" * 5000 + " 5/5, then singles", "6/4\nr5 r)", "9" * 5000])
def test_an_error_is_one_line_whatever_was_typed(text):
    with pytest.raises(NotationError) as caught:
        parse_shorthand(text)
    assert "\n" not in str(caught.value)


@pytest.mark.parametrize(
    ("text", "count", "sets"),
    [
        ("8/7 r6", 15, (8, 7)),
        ("5x3 r8", 15, (3, 3, 3, 3, 3)),
        ("6-5-4-3 then singles r3", 20, (6, 5, 4, 3, 1, 1)),
        ("8 then 4s", 18, (8, 4, 4, 2)),
        ("singles 2br", 4, (1, 1, 1, 1)),
        ("sets of 5", 12, (4, 4, 4)),
        ("sets of 5", 11, (4, 4, 3)),
        ("unbroken", 40, (40,)),
    ],
)
def test_sets_add_up_to_the_count(text, count, sets):
    assert parse_shorthand(text)[0].scheme.rule.sets(count) == sets
    assert sum(sets) == count


def test_two_breaths_are_four_and_a_half_seconds():
    """A breath of 2-2.5 s is common practice, no source."""
    assert parse_shorthand("singles 2br")[0].scheme.rest_s == 4.5


def test_a_change_of_scheme_holds_from_its_round_on():
    plan = typed("rounds 1-2 unbroken, then 6/4 r5")
    assert [plan.scheme(0, r).rule for r in (1, 2, 3, 9)] == [UNBROKEN, UNBROKEN, SetRule((6, 4)), SetRule((6, 4))]


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("8/7 zz", ["column 5", "“zz”", "8/7 r6"]),
        ("", ["column 1"]),
        ("8/0", ["a set of 0"]),
        ("8/7 r900", ["a rest of 900", "0 to 300"]),
        ("unbroken pace 0.5", ["a pace of 0.5"]),
        ("rounds 2-3 unbroken, then singles", ["go on at round 1"]),
        ("8/7, then 5/5/5", ["for which rounds"]),
    ],
)
def test_bad_shorthand_is_refused_with_the_place_and_a_remedy(text, words):
    with pytest.raises(NotationError) as caught:
        parse_shorthand(text)
    for word in words:
        assert word in str(caught.value)


def test_sets_that_do_not_add_up_name_movement_round_and_what_would_fit():
    course = problem("Breakwater").course
    with pytest.raises(
        SetsError, match=r"toes-to-bar, round 1: 8/7 adds up to 15, not 12; type 6/6 or “sets of 6”"
    ):
        check_sets(course, 0, parse_shorthand("8/7"))


def test_a_plan_for_another_workout_is_refused():
    with pytest.raises(SetsError, match="the plan has 1 movements, the workout 3"):
        problem("Breakwater").choices(typed("unbroken"))
