"""The field: order, places, plateaus, likeness; the simulated one is plausible and the same every time."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from examples import BY_TITLE
from sorvek.core.club.board import Leaderboard, Result, next_to, one_better, order_key, plateaus
from sorvek.core.club.leaderboard_csv import leaderboard_csv, read_leaderboard
from sorvek.core.club.simulated import people, simulate_field
from sorvek.core.errors import RosterError
from sorvek.core.workout.notation import parse_workout

TIMED = parse_workout("for time, cap 5:00\n20 burpees")
COUNTED = parse_workout("amrap 5:00\n20 burpees")


def reps(name, value):
    return Result(name, "men", False, value)


def test_a_finish_beats_any_reps_and_the_tiebreak_decides_between_equals():
    order = [Result("a", "", True, 200), Result("b", "", True, 240), Result("c", "", False, 90, 100.0)]
    order += [Result("d", "", False, 90, 130.0), Result("e", "", False, 89, 50.0)]
    assert sorted([*order[2:], *order[:2]], key=order_key) == order


def test_places_count_from_one_and_equal_scores_share_a_place():
    board = Leaderboard([reps("a", 100), reps("b", 90), reps("c", 90), reps("d", 80)])
    standing = board.standing(reps("x", 90), one_better(reps("x", 90)))
    assert (standing.place, standing.of, standing.percent) == (2, 4, 25.0)
    assert standing.worth == 0  # 91 is still behind 100 and shares place 2
    below = board.standing(reps("x", 89), one_better(reps("x", 89)))
    assert (below.place, below.worth) == (4, 2)
    assert one_better(Result("t", "", True, 200)).value == 199


def test_a_pile_of_equal_scores_is_a_plateau_and_a_slope_is_none():
    slope = [reps(f"s{i}", i) for i in range(100)]
    pile = [reps(f"p{i}", 60) for i in range(30)]
    found = plateaus(slope + pile)
    assert [(p.reps, p.count) for p in found] == [(60, 31)]
    assert plateaus(slope) == []


def test_people_next_to_a_score_are_found_on_another_workout_by_name():
    before = Leaderboard([reps(f"p{i}", 200 - i) for i in range(200)])
    now = Leaderboard([reps(f"p{i}", 500 - 2 * i) for i in range(200)])
    likeness, pairs = next_to(before, now, place=100)
    assert likeness.people == 40
    assert likeness.low < 50 < likeness.high + 1
    # The quartiles of 40 people around place 100, each of whom has 500 less twice a place.
    assert [r.value for r in (likeness.worse, likeness.typical, likeness.better)] == [284, 304, 322]
    assert likeness.beside(good=reps("", 303), bad=reps("", 280)) == 1
    assert likeness.beside(good=reps("", 330), bad=reps("", 280)) == 0
    assert likeness.beside(good=reps("", 330), bad=reps("", 305)) == -1
    assert all(pair.here.name == pair.there.name for pair in pairs)
    assert next_to(before, Leaderboard([reps("stranger", 1)]), 100) == (None, [])


def test_a_simulated_field_covers_everybody_once_with_possible_scores():
    workout = parse_workout(BY_TITLE["Two Lamps"])
    competitors = people(120, seed=3)
    results = simulate_field(workout, competitors)
    assert sorted(r.name for r in results) == sorted(p.name for p in competitors)
    assert all(r.value >= 0 and np.isfinite(r.value) for r in results)
    assert results == simulate_field(workout, competitors)
    assert all(r.value <= workout.cap_s for r in results if r.finished and workout.cap_s)
    tier = {p.name: p.tier for p in competitors}
    top, bottom = results[:40], results[-40:]
    assert np.mean([tier[r.name] for r in top]) > np.mean([tier[r.name] for r in bottom]) + 0.8


def test_a_hard_first_rep_makes_a_plateau():
    """Many athletes stop at the first rep of a hard skill; common practice, no source."""
    workout = parse_workout("for time, cap 8:00\n20 burpees\n20 pull-ups\n10 ring muscle-ups")
    found = plateaus(simulate_field(workout, people(400, seed=5)))
    assert 40 in [p.reps for p in found]


names = (
    st.text(st.characters(categories=["L", "N", "P", "Zs"]), min_size=1, max_size=12).map(str.strip).filter(bool)
)


@given(st.lists(st.tuples(names, st.booleans(), st.integers(1, 5000)), min_size=1, max_size=20))
def test_a_leaderboard_survives_the_way_through_csv(rows):
    results = [Result(name, "men", done, float(value)) for name, done, value in rows]
    again, errors = read_leaderboard(leaderboard_csv(results), TIMED)
    assert errors == []
    assert [(r.finished, r.value) for r in again] == [(r.finished, r.value) for r in results]
    # A name no spreadsheet takes for a formula: it may have got an apostrophe in front.
    assert all(a.name.lstrip("'") == r.name.lstrip("'") for a, r in zip(again, results, strict=True))


@pytest.mark.parametrize(
    ("text", "workout", "words"),
    [
        ("name,division,score\nA,men,fast", TIMED, "no score"),
        ("name,division,score\nA,men,4:10", COUNTED, "counts reps"),
        ("name,division,score\n,men,10", COUNTED, "no name"),
        ("name,division,score,tiebreak\nA,men,10,soon", COUNTED, "not a time"),
    ],
)
def test_a_bad_row_is_named(text, workout, words):
    _, errors = read_leaderboard(text, workout)
    assert [(e.row, words in e.problem) for e in errors] == [(2, True)]


def test_a_leaderboard_without_a_column_or_rows_is_refused():
    with pytest.raises(RosterError, match="column “score” is missing"):
        read_leaderboard("name,division\nA,men", TIMED)
    with pytest.raises(RosterError, match="no row under"):
        read_leaderboard("name,division,score", TIMED)


scores = st.lists(st.tuples(st.booleans(), st.integers(1, 300)), min_size=1, max_size=40)


@given(scores, st.booleans(), st.integers(2, 300))
def test_a_better_score_never_stands_on_a_worse_place(rows, finished, value):
    board = Leaderboard([Result(f"r{i}", "", done, float(v)) for i, (done, v) in enumerate(rows)])
    score = Result("x", "", finished, float(value))
    standing = board.standing(score, one_better(score))
    assert 1 <= standing.place <= len(rows) + 1
    assert 0 <= standing.percent <= 100
    assert standing.worth >= 0
    assert standing.place == 1 + sum(order_key(r) < order_key(score) for r in board.results)
