"""The roster as CSV: guessed columns, units, errors by row, a round trip; one test entry."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from sorvek.core.athlete.athlete import Athlete
from sorvek.core.athlete.roster_csv import MOST_ROWS, guess_target, read_roster, roster_csv
from sorvek.core.athlete.trial import Trial, row_power_w, with_test
from sorvek.core.errors import CoreError, RosterError
from sorvek.core.table import read_text, safe_cell
from sorvek.core.workout.movements import shipped_library

LIBRARY = shipped_library()


@pytest.mark.parametrize(
    ("heading", "target", "unit"),
    [
        ("Athlete", "name", ""),
        ("Weight lb", "mass_kg", "lb"),
        ("height (in)", "ignore", ""),
        ("height in", "stature_cm", "in"),
        ("T2B", "set:toes-to-bar", ""),
        ("max pull ups", "set:pull-up", ""),
        ("1RM Power Clean (lb)", "1rm:power clean", "lb"),
        ("clean & jerk 1rm", "1rm:clean-and-jerk", ""),
        ("favourite colour", "ignore", ""),
    ],
)
def test_a_heading_is_read_as_what_it_most_likely_means(heading, target, unit):
    assert guess_target(heading, LIBRARY) == (target, unit)


def test_numbers_are_converted_and_other_numbers_of_known_athletes_stay():
    known = {"Ada": Athlete("Ada", "racing", unbroken={"burpee": 50})}
    found = read_roster("name,mass lb,t2b\nAda,150,22\nBo,160,9\n", LIBRARY, known)
    ada, bo = found.athletes
    assert ada.mass_kg == pytest.approx(150 * 0.45359237, abs=0.01)
    assert dict(ada.unbroken) == {"burpee": 50, "toes-to-bar": 22}
    assert (ada.tier, bo.tier) == ("racing", "building")
    assert found.errors == ()


def test_a_coach_chooses_what_a_column_means():
    found = read_roster("who,x\nAda,12\n", LIBRARY, {}, {0: ("name", ""), 1: ("set:pull-up", "")})
    assert dict(found.athletes[0].unbroken) == {"pull-up": 12}


@pytest.mark.parametrize(
    ("row", "words"),
    [
        (",m,10", "no name"),
        ("Ada,x,10", "write m or f"),
        ("Ada,m,many", "is no number"),
        ("Ada,m,=1+1", "formula"),
        ("Ada,m,-3", "greater than or equal to 0"),
        ("@Ada,m,3", "formula"),
    ],
)
def test_a_bad_cell_is_named_with_its_row_and_the_others_are_still_read(row, words):
    found = read_roster(f"name,sex,pull-up\nBo,f,5\n{row}\n", LIBRARY, {})
    assert [(e.row, words in e.problem) for e in found.errors] == [(3, True)]
    assert [a.name for a in found.athletes] == ["Bo"]


def test_the_same_name_twice_is_refused_with_both_rows():
    found = read_roster("name\nAda\nBo\nAda\n", LIBRARY, {})
    assert "row 2 already" in found.errors[0].problem
    assert found.errors[0].row == 4


def test_pounds_typed_as_kilograms_are_asked_about():
    pounds = "name,1RM deadlift\nAda,405\nBo,385\nCy,425\n"
    assert "look like pounds" in read_roster(pounds, LIBRARY, {}).questions[0]
    assert read_roster(pounds, LIBRARY, {}, {1: ("1rm:deadlift", "lb")}).questions == ()


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("name\n", "no row"),
        ("colour\nblue\n", "no column holds the name"),
        ("name\n" + "A\n" * (MOST_ROWS + 1), "more than 2000 rows"),
    ],
)
def test_a_table_that_cannot_be_read_as_a_whole_says_why(text, words):
    with pytest.raises(RosterError, match=words):
        read_roster(text, LIBRARY, {})


def test_a_file_of_another_encoding_is_refused_with_the_line():
    with pytest.raises(RosterError, match="line 2: this is not UTF-8"):
        read_text("name\nJosé\n".encode("cp1252"))
    with pytest.raises(RosterError, match="spreadsheet"):
        read_text(b"PK\x03\x04\xff\xfe")
    assert read_text("\ufeffname".encode()) == "name"


plain_names = st.text(st.characters(categories=["Lu", "Ll"]), min_size=1, max_size=10)
some = st.dictionaries(st.sampled_from(["pull-up", "burpee", "toes-to-bar"]), st.integers(0, 90).map(float))
lifts = st.dictionaries(st.sampled_from(["deadlift", "power clean"]), st.integers(20, 90).map(float))


@given(st.dictionaries(plain_names, st.tuples(some, lifts), min_size=1, max_size=6))
def test_the_roster_survives_the_way_through_csv(rows):
    athletes = [Athlete(name, "competing", unbroken=s, one_rep_max_kg=k) for name, (s, k) in rows.items()]
    found = read_roster(roster_csv(athletes), LIBRARY, {})
    assert found.errors == ()
    assert list(found.athletes) == athletes


@given(st.text(max_size=20))
def test_no_exported_cell_starts_a_formula(text):
    assert safe_cell(text)[:1] not in ("=", "+", "-", "@", "\t", "\r")


def test_two_kilometres_in_eight_minutes_take_203_watts():
    """2:00 per 500 m is 202.5 W: ergometer pace-power table, from P = 2.80/(s per m)³ (from memory)."""
    assert row_power_w(480) == pytest.approx(202.5, abs=0.1)


@pytest.mark.parametrize(
    ("test", "field", "key", "value"),
    [
        (Trial("set", "t2b", "21", 0, "kg", "2026-03-01"), "unbroken", "toes-to-bar", 21),
        (Trial("1rm", "deadlift", "400", 0, "lb", "2026-03-01"), "one_rep_max_kg", "deadlift", 181.4),
        # Epley: 100 · (1 + 5/30)
        (Trial("repmax", "power clean", "5", 100, "kg", "2026-03-01"), "one_rep_max_kg", "power clean", 116.7),
    ],
)
def test_a_test_result_becomes_a_dated_number(test, field, key, value):
    athlete = with_test(Athlete("Ada", "building"), LIBRARY, test)
    assert getattr(athlete, field)[key] == pytest.approx(value, abs=0.05)
    assert athlete.measured_on[key] == "2026-03-01"


def test_critical_power_follows_from_one_effort_and_the_reserve():
    """P = CP + 0.95·W′/t: 300 W for 5:00 with 18 kJ leaves 300 − 17100/300 = 243 W."""
    athlete = with_test(
        Athlete("Ada", "building", w_prime_j=18_000), LIBRARY, Trial("time", "", "300 in 5:00", 0, "kg", "")
    )
    assert athlete.critical_power_w == pytest.approx(243.0)


@pytest.mark.parametrize(
    "test",
    [
        Trial("repmax", "deadlift", "5", 0, "kg", ""),
        Trial("1rm", "burpee", "5", 0, "kg", ""),
        Trial("set", "wiggle", "5", 0, "kg", ""),
        Trial("row", "", "2:00", 0, "kg", ""),
        Trial("time", "", "300", 0, "kg", ""),
        Trial("1rm", "deadlift", "2000", 0, "kg", ""),
    ],
)
def test_an_impossible_test_is_refused(test):
    with pytest.raises(CoreError):
        with_test(Athlete("Ada", "building"), LIBRARY, test)
