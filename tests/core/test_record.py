"""What was done is kept as taps: written, corrected and read back without loss."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from examples import problem
from sorvek.core.errors import FloorError
from sorvek.core.live import Tap, TapKind
from sorvek.core.plan import Phase, Plan, Scheme, SetRule
from sorvek.core.season import DoneRow, Record, of_splits, read_record, record_text

COURSE = problem("for time, cap 12:00\n3 rounds:\n  15 toes-to-bar\n  10 power clean @ 60 kg\n").course
PLAN = Plan(((Phase(None, Scheme(SetRule(then=5), 5.0)),), (Phase(None, Scheme(SetRule(), 5.0)),)))
RECORD = of_splits(("8/7", "5/5"), (90.0, 190.0, 300.0))


def rows(record):
    return [DoneRow(one.at_s, one.reps) for one in record.state(COURSE, PLAN).done if one.at_s is not None]


def test_ends_of_rounds_are_rounds_tapped_as_a_whole_by_the_plan_it_began_with():
    state = RECORD.state(COURSE, PLAN)
    assert state.finished(COURSE)
    assert [one.reps for one in state.done] == [8, 7, 5, 5] * 3
    assert [one.at_s for one in state.done if one.at_s] == [90.0, 190.0, 300.0]


def test_sets_that_do_not_fit_any_more_give_way_to_the_plan_at_hand():
    assert Record(("no sets", "at all")).plan(COURSE, PLAN) == PLAN


def test_a_corrected_record_has_the_sets_that_were_written_and_keeps_the_rest():
    no_rep = Tap("no-rep-0001", TapKind.NO_REP, 20.0)
    record = Record(("8/7", "5/5"), (Tap("set-a", TapKind.SET, 15.0), no_rep))
    corrected = record.corrected(COURSE, PLAN, [DoneRow(16.0, 8), DoneRow(31.0, 4), DoneRow(40.0, 3)])
    state = corrected.state(COURSE, PLAN)
    assert [(one.reps, one.at_s) for one in state.done] == [(8, 16.0), (4, 31.0), (3, 40.0)]
    assert [one.broken for one in state.done] == [False, True, False]
    assert state.no_reps == ((0, 20.0),)
    assert state.segment == 1


@given(st.lists(st.integers(1, 15), min_size=1, max_size=20), st.data())
def test_whatever_sets_are_written_down_are_what_was_done(wanted, data):
    """Sets of any size that fit come back as written, and the text of the record brings them back once more."""
    written, at_s, segment, begun = [], 0.0, 0, 0
    for most in wanted:
        if segment == len(COURSE.segments):
            break
        reps = min(most, COURSE.segments[segment].reps - begun)
        at_s += data.draw(st.floats(1.0, 30.0))
        written.append(DoneRow(at_s, reps))
        begun += reps
        if begun == COURSE.segments[segment].reps:
            segment, begun = segment + 1, 0
    record = RECORD.corrected(COURSE, PLAN, written)
    assert rows(record) == written
    assert read_record(record_text(record)) == record


@pytest.mark.parametrize(
    ("wrong", "told"),
    [
        ([DoneRow(10.0, 16)], "set 1 has 16 reps, but 15 are left"),
        ([DoneRow(10.0, 8), DoneRow(10.0, 7)], "set 2 does not end after the one before it"),
        ([DoneRow(10.0, 0)], "set 1 has 0 reps"),
        ([DoneRow(float(i), 1) for i in range(1, 800)], "799 sets are more than anybody does"),
    ],
)
def test_a_row_that_cannot_be_is_named(wrong, told):
    with pytest.raises(FloorError, match=told):
        RECORD.corrected(COURSE, PLAN, wrong)


def test_splits_that_run_backwards_are_named():
    with pytest.raises(FloorError, match="round 2 does not end after"):
        of_splits((), (90.0, 80.0))


def test_a_text_that_is_no_record_is_told_and_an_empty_one_is_empty():
    assert read_record("") == Record()
    with pytest.raises(FloorError, match="cannot be read"):
        read_record('{"taps": [{"id": 3}]}')
