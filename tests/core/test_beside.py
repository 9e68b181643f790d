"""Planned against done: seconds add up, words name where they went, and blame falls where it was put."""

from dataclasses import replace
from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from examples import problem, typed
from sorvek.actions.log_csv import LogRow, log_csv, read_log, row_of
from sorvek.core.club import Result
from sorvek.core.errors import CellError, RosterError
from sorvek.core.live import Tap, TapKind, fold, rehearse
from sorvek.core.season import blame, stretches_of, told
from sorvek.core.simulation import problem_for, run_plan

TEXT = "for time, cap 15:00\n4 rounds:\n  10 toes-to-bar\n  8 power cleans @ 60 kg"
GIVEN = problem(TEXT)
PLAN = typed("5/5 r5", "unbroken")
PLANNED = run_plan(GIVEN, PLAN)


def as_planned(late_s=None):
    """Return the taps of somebody who does as planned, each set late by what `late_s` says from its visit on."""
    taps, by = [], 0.0
    before = None
    for i, record in enumerate(PLANNED.sets):
        if record.segment != before:
            by += (late_s or {}).get(record.segment, 0.0)
            before = record.segment
        taps.append(Tap(f"tap-{i:04}", TapKind.SET, record.end_s + by))
    return taps


def test_who_does_as_planned_is_told_so():
    state = fold(GIVEN.course, PLAN, as_planned())
    found = stretches_of(GIVEN, PLANNED, state)
    assert len(found) == len(GIVEN.course.segments)
    assert all(abs(one.late_s) < 1e-6 for one in found)
    assert told(GIVEN.course, found) == ("Every part took what the plan said.",)


@given(st.dictionaries(st.integers(0, 7), st.floats(0, 40), max_size=8))
def test_the_parts_add_up_to_the_whole(late_s):
    state = fold(GIVEN.course, PLAN, as_planned(late_s))
    found = stretches_of(GIVEN, PLANNED, state)
    assert sum(one.done_s for one in found) == pytest.approx(state.last_s)
    assert sum(one.late_s for one in found) == pytest.approx(sum(late_s.values()), abs=1e-6)


def test_rounds_movements_further_sets_and_no_reps_are_named():
    taps = as_planned({4: 12.0, 6: 9.0})
    taps.append(Tap("no-rep-01", TapKind.NO_REP, PLANNED.sets[0].end_s + 0.1))
    lines = told(GIVEN.course, stretches_of(GIVEN, PLANNED, fold(GIVEN.course, PLAN, taps)))
    assert lines[0] == "Round 3 to round 4: 21 s longer than planned."
    assert lines[1] == "Toes-to-bar: 21 s longer than planned, 1 no-rep."
    broken = [
        Tap("set-a", TapKind.BROKEN, 12.0),
        Tap("set-a-reps", TapKind.REPS, 12.1, of="set-a", reps=3),
        Tap("set-b", TapKind.BROKEN, 30.0),
        Tap("set-b-reps", TapKind.REPS, 30.1, of="set-b", reps=3),
        Tap("set-c", TapKind.SET, 60.0),
    ]
    state = fold(GIVEN.course, typed("5/5 r5", "unbroken"), broken)
    found = stretches_of(GIVEN, PLANNED, state)
    assert [one.more_sets for one in found] == [1]


def test_rounds_of_which_only_the_end_is_known_stand_beside_the_plan_as_a_whole():
    ends = [PLANNED.splits[i].end_s + 5 * (i + 1) for i in range(2)]
    taps = [Tap(f"round-{i}", TapKind.ROUND, end) for i, end in enumerate(ends)]
    found = stretches_of(GIVEN, PLANNED, fold(GIVEN.course, PLAN, taps))
    assert [(one.first, one.last) for one in found] == [(0, 1), (2, 3)]
    assert [round(one.late_s) for one in found] == [5, 5]
    assert told(GIVEN.course, found)[0].startswith("Round 1 to round 2: 10 s longer")


def test_blame_falls_on_capacity_where_the_numbers_were_too_high():
    weaker = replace(GIVEN.athlete, unbroken={"toes-to-bar": 6.0})
    state = fold(
        GIVEN.course, PLAN, rehearse(GIVEN, PLAN, 3, problem_for(GIVEN.course.workout, weaker), doubts=0.0)
    )
    found = blame(GIVEN, PLAN, state, weaker)
    assert found.capacity_s > max(found.execution_s, found.plan_s, 10.0)
    assert "capacity" in found.verdict


def test_blame_falls_on_the_plan_where_another_suits_better():
    slow = typed("singles r15", "singles r20")
    state = fold(GIVEN.course, slow, rehearse(GIVEN, slow, 3, doubts=0.0))
    found = blame(GIVEN, slow, state, GIVEN.athlete)
    assert found.plan_s > 30.0
    assert abs(found.capacity_s) < 1.0
    assert "the plan" in found.verdict


def test_blame_falls_on_execution_where_other_sets_were_done():
    taps, at_s, plan = [], 0.0, typed("unbroken", "unbroken")
    believed = problem_for(GIVEN.course.workout, replace(GIVEN.athlete, unbroken={"toes-to-bar": 40.0}))
    for i in range(40):
        at_s += 9.0
        taps += [
            Tap(f"set-{i:03}", TapKind.BROKEN, at_s),
            Tap(f"set-{i:03}-r", TapKind.REPS, at_s, of=f"set-{i:03}", reps=2),
        ]
    found = blame(believed, plan, fold(believed.course, plan, taps), believed.athlete)
    assert found.execution_s > 20.0
    assert "execution" in found.verdict


WORKOUT = GIVEN.course.workout
names = st.text(st.characters(codec="utf-8", exclude_categories=["C", "Z"]), min_size=1, max_size=20)
rows = st.builds(
    LogRow,
    athlete=names.filter(lambda name: name[0] not in "=+-@'"),
    done_on=st.dates(date(2020, 1, 1), date(2030, 1, 1)),
    result=st.builds(
        Result,
        st.just(""),
        st.just(""),
        st.just(True),
        st.integers(60, 3000).map(float),
        st.none() | st.integers(1, 3000).map(float),
        st.none() | st.integers(20, 200).map(float),
    ),
    splits_s=st.lists(st.integers(1, 900), max_size=6, unique=True).map(
        lambda s: tuple(float(x) for x in sorted(s))
    ),
    gave_out=st.sampled_from(["", "grip", "breath"]),
    torn=st.booleans(),
    notes=names.filter(lambda name: name[0] not in "=+-@'") | st.just(""),
)


@given(st.lists(rows, min_size=1, max_size=5))
def test_a_log_goes_out_and_comes_in_again(written):
    assert read_log(log_csv(written), WORKOUT, date(2026, 3, 12)) == (written, [])


@pytest.mark.parametrize(
    ("cells", "column"),
    [
        ({"athlete": "", "score": "9:42"}, "athlete"),
        ({"athlete": "Ada", "score": "fast"}, "score"),
        ({"athlete": "Ada", "score": "9:42", "date": "12 March"}, "date"),
        ({"athlete": "Ada", "score": "9:42", "splits": "2:00 1:00"}, "splits"),
        ({"athlete": "Ada", "score": "9:42", "splits": "soon"}, "splits"),
        ({"athlete": "Ada", "score": "9:42", "tiebreak": "x"}, "tiebreak"),
        ({"athlete": "Ada", "score": "9:42", "lift": "heavy"}, "lift"),
    ],
)
def test_what_cannot_be_read_is_told_by_its_column(cells, column):
    with pytest.raises(CellError) as told_:
        row_of(cells, WORKOUT, date(2026, 3, 12))
    assert told_.value.column == column


def test_a_file_without_scores_is_refused():
    with pytest.raises(RosterError, match="column “score” is missing"):
        read_log("athlete,time\nAda,9:42", WORKOUT, date(2026, 3, 12))
