"""The weekend's calendar: best on small cases by brute force, no hard rule ever broken, reasons that are true."""

from dataclasses import replace
from itertools import product

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from sorvek.core.calendar import (
    HeatTime,
    JudgingAthlete,
    OpenWorkout,
    Try,
    Weekend,
    clashes,
    cost,
    duties,
    schedule,
)

DAY = 24 * 60
LEGS, ARMS = (0.0, 0.0, 0.0, 1.0, 0.6, 0.2), (0.8, 1.0, 0.3, 0.0, 0.0, 0.2)


def weekend(tries, times=(600, 700, 800, DAY + 600, DAY + 850), lanes=2, judges=2, closes=3 * DAY, at_once=9):
    works = (OpenWorkout("One", 0, closes, at_once, LEGS), OpenWorkout("Two", 0, closes, at_once, ARMS))
    return Weekend(tuple(map(HeatTime, times)), works, tuple(tries), lanes, judges)


tries = st.builds(
    Try,
    athlete=st.sampled_from(["Ada", "Ben"]),
    workout=st.integers(0, 1),
    second=st.booleans(),
    barred=st.frozensets(st.integers(0, 4), max_size=2),
)


judging = st.dictionaries(
    st.sampled_from(["Ada", "Ben", "Gil"]), st.frozensets(st.integers(0, 4), max_size=2), max_size=3
).map(lambda found: tuple(JudgingAthlete(name, barred) for name, barred in found.items()))


@settings(max_examples=15, deadline=None)
@given(st.lists(tries, min_size=1, max_size=4), st.integers(1, 2), judging, st.integers(0, 2))
def test_nothing_better_exists_on_small_weekends(wanted, lanes, judging, judges):
    """All placings there are, by brute force, against the solver."""
    given_weekend = replace(weekend(wanted, lanes=lanes, judges=judges), judging=judging)
    found = schedule(given_weekend)
    choices = [(None, *given_weekend.allowed(n)) for n in range(len(wanted))]
    best = min(cost(given_weekend, p) for p in product(*choices) if not clashes(given_weekend, p))
    assert found.proven
    assert cost(given_weekend, found.placed) == best


@settings(max_examples=10, deadline=None)
@given(st.data())
def test_no_hard_rule_is_ever_broken_and_whoever_has_no_place_has_a_reason(data):
    names = ["Ada", "Ben", "Cai", "Dee", "Eli", "Fay"]
    wanted = [
        Try(name, workout, second, barred=data.draw(st.frozensets(st.integers(0, 7), max_size=6)))
        for name in names
        for workout in (0, 1)
        for second in (False, True)
        if data.draw(st.booleans())
    ]
    times = data.draw(
        st.lists(st.integers(0, 3 * DAY // 30).map(lambda n: 30 * n), min_size=8, max_size=8, unique=True)
    )
    given_weekend = weekend(wanted, sorted(times), lanes=data.draw(st.integers(1, 3)), closes=2 * DAY)
    given_weekend = replace(given_weekend, judges=data.draw(st.integers(0, 2)), judging=data.draw(judging))
    found = schedule(given_weekend, seconds=3.0)
    assert clashes(given_weekend, found.placed) == []
    assert set(found.reasons) == {n for n, slot in enumerate(found.placed) if slot is None}
    for n, why in found.reasons.items():
        assert ("at no time" in why) == (not given_weekend.allowed(n))


def test_first_tries_come_early_second_ones_late_and_like_muscles_a_day_apart():
    two_legs = weekend([Try("Ada", 0), Try("Ada", 1), Try("Ada", 0, second=True)])
    placed = schedule(two_legs).placed
    times = [two_legs.slots[slot].begins_min for slot in placed]
    assert times[0] < DAY
    assert times[2] == DAY + 850
    same = replace(two_legs, workouts=(two_legs.workouts[0], replace(two_legs.workouts[1], tax=LEGS)))
    alike = replace(same, tries=(Try("Ada", 0), Try("Ada", 1)))
    a, b = (alike.slots[slot].begins_min for slot in schedule(alike).placed)
    assert abs(a - b) >= DAY


def test_who_cannot_be_placed_is_told_why():
    full = weekend([Try("Ada", 0), Try("Ben", 0), Try("Cai", 0)], times=(600,), lanes=2)
    (why,) = schedule(full).reasons.values()
    assert "is full" in why
    away = weekend([Try("Ada", 0, barred=frozenset(range(5)))])
    assert "at no time at which Ada can come" in schedule(away).reasons[0]
    near = weekend([Try("Ada", 0), Try("Ada", 1)], times=(600, 640))
    (why,) = schedule(near).reasons.values()
    assert "too near" in why


def test_what_a_coach_fixed_stays_and_its_clashes_are_told():
    fixed = weekend(
        [Try("Ada", 0, fixed=0), Try("Ben", 1, fixed=0), Try("Ada", 1, fixed=1), Try("Cai", 0)], lanes=2
    )
    found = schedule(fixed)
    assert found.placed[:3] == (0, 0, 1)
    assert found.placed[3] is not None
    words = [clash.words for clash in clashes(fixed, found.placed)]
    assert words == ["one heat is one workout, not One and Two", "Ada: two workouts within 3 hours"]


@pytest.mark.parametrize("gap", [LEGS, ARMS])
def test_a_second_try_after_a_first_that_is_done_waits_a_day(gap):
    later = weekend([Try("Ada", 0, second=True, after_min=700)])
    later = replace(later, workouts=(replace(later.workouts[0], tax=gap), later.workouts[1]))
    assert later.slots[schedule(later).placed[0]].begins_min >= 700
    early = clashes(later, (0,))
    assert early[0].words == "Ada did One less than a day before"


def test_the_search_can_be_stopped_and_tells_how_far_it_is():
    heard = []
    many = weekend([Try(f"A{i}", i % 2) for i in range(8)])
    schedule(many, told=lambda count, given_up: heard.append((count, given_up)) is not None)
    assert len(heard) == 1
    assert 0 <= heard[0][0] <= 8


def test_nobody_judges_and_competes_at_once_and_the_work_is_shared():
    """Two athletes judge each other, one heat after the other; alone in a heat together they have no judge."""
    pair = replace(
        weekend([Try("Ada", 0), Try("Ben", 0)], judges=0), judging=(JudgingAthlete("Ada"), JudgingAthlete("Ben"))
    )
    placed = schedule(pair).placed
    assert None not in placed
    assert placed[0] != placed[1]
    assert duties(pair, placed) == {placed[0]: ("Ben",), placed[1]: ("Ada",)}
    assert [clash.words for clash in clashes(pair, (0, 0))] == ["2 in a heat with judges for 0"]
    away = replace(pair, judging=(JudgingAthlete("Ada"), JudgingAthlete("Ben", frozenset({0, 1}))))
    assert schedule(away).placed[0] not in (0, 1)
    many = replace(
        weekend([Try(name, 0) for name in ("Cai", "Dee", "Eli", "Fay")], lanes=1, judges=0), judging=pair.judging
    )
    shared = list(duties(many, schedule(many).placed).values())
    assert sorted(shared) == [("Ada",), ("Ada",), ("Ben",), ("Ben",)]
