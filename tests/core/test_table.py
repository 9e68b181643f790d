"""Tables as coaches send them: any line end and delimiter, cells of any length, formulas guarded and read back."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from examples import BY_TITLE
from sorvek.core.athlete.athlete import Athlete
from sorvek.core.athlete.repetition import CurveName
from sorvek.core.athlete.roster_csv import read_roster, roster_csv
from sorvek.core.club.leaderboard_csv import read_leaderboard
from sorvek.core.errors import CellError, RosterError
from sorvek.core.table import MOST_CELL, read_table, safe_cell, typed_cell
from sorvek.core.workout.movements import shipped_library
from sorvek.core.workout.notation import parse_workout

LIBRARY = shipped_library()
AMRAP = parse_workout(BY_TITLE["Breakwater"])
TIMED = parse_workout(BY_TITLE["Two Lamps"])


@pytest.mark.parametrize("end", ["\n", "\r\n", "\r"])
@pytest.mark.parametrize("delimiter", [",", ";", "\t"])
def test_any_line_end_and_delimiter_gives_the_same_rows(end, delimiter):
    lines = [delimiter.join(cells) for cells in (("name", "tier"), ("Ada", "racing"), ("", ""), ("Bo", "building"))]
    table = read_table(end.join(lines), 10)
    assert table.headings == ("name", "tier")
    assert table.rows == ((2, ("Ada", "racing")), (4, ("Bo", "building")))  # numbered as a spreadsheet shows them


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("name\n" + "x" * (MOST_CELL + 1), "row 2: a cell of more than"),
        ("name\n" + "x" * 200_000, "field"),
        ('name\n"' + "A\n" * 3000, "quotation mark"),
        ("name\n", "no row under"),
        ("", "no row under"),
        ("name\n" + "A\n" * 11, "more than 10 rows"),
    ],
)
def test_a_table_that_cannot_be_read_says_why(text, words):
    with pytest.raises(RosterError, match=words):
        read_table(text, 10)


@given(st.text(max_size=30).map(str.strip))
def test_a_guarded_cell_is_no_formula_and_reads_back_as_it_was(text):
    cell = safe_cell(text)
    assert cell[:1] not in ("=", "+", "-", "@", "\t", "\r")
    assert typed_cell(cell) == text


def test_a_formula_is_refused_and_a_signed_number_is_not():
    with pytest.raises(CellError, match="formula"):
        typed_cell("=1+1")
    assert typed_cell("-3") == "-3"


def test_an_exported_roster_comes_in_again_with_everything_in_it():
    athletes = [
        Athlete("=Ada", "racing", "f", "women", 61.5, flags={"deadlift": "low back", "burpee": ""}, notes="-tall"),
        Athlete("'Bo", "building", unbroken={"toes-to-bar": 12.0}, measured_on={"toes-to-bar": "2026-03-01"}),
        Athlete(
            "Cy", "competing", curve=CurveName.BRZYCKI, cycle_s={"burpee": 3.4}, one_rep_max_kg={"deadlift": 180.0}
        ),
    ]
    found = read_roster(roster_csv(athletes), LIBRARY, {})
    assert found.errors == ()
    assert list(found.athletes) == athletes


@pytest.mark.parametrize("score", ["9" * 400, "inf", "1e400", "nan", "1000001", "²"])
def test_an_impossible_count_is_named_in_its_row_and_nothing_is_taken(score):
    results, errors = read_leaderboard(f"name,division,score\nAda,women,{score}\nBo,men,90\n", AMRAP)
    assert [(e.row, e.column) for e in errors] == [(2, "score")]
    assert [r.name for r in results] == ["Bo"]


@pytest.mark.parametrize("time", ["99999:59", "9" * 400 + ":00", "0:00"])
def test_an_impossible_time_is_named_in_its_column(time):
    _, errors = read_leaderboard(f"name,division,score,tiebreak\nAda,women,9:41,{time}\n", TIMED)
    assert [e.column for e in errors] == ["tiebreak"]


@pytest.mark.parametrize("cell", ["inf", "nan", "1e400", "9" * 400])
def test_a_number_nobody_can_measure_is_named(cell):
    found = read_roster(f"name,pull-up\nAda,{cell}\n", LIBRARY, {})
    assert [e.column for e in found.errors] == ["pull-up"]
