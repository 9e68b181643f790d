"""What the club stores: outlooks, placings, leaderboards, versions, cards, the log; and older files."""

import sqlite3
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from datetime import date

import pytest

from sorvek.core.athlete.athlete import Athlete
from sorvek.core.club.board import Result, order_key
from sorvek.core.club.outlook import Outlook
from sorvek.core.errors import NotationError
from sorvek.core.workout.movements import shipped_library
from sorvek.demo.club import PEOPLE, club, fill, season
from sorvek.store import tables
from sorvek.store.athletes import (
    add_athlete,
    all_athletes,
    broken_athletes,
    change_athlete,
    load_athlete,
    name_taken,
    remove_athlete,
    removed_athletes,
    restore_athlete,
    save_athlete,
    store_roster,
)
from sorvek.store.cards import card_owner, card_token, make_card_link, revoke_card
from sorvek.store.database import connect, connection, disconnect, open_database
from sorvek.store.errors import ConflictError
from sorvek.store.field import boards_of, field_sizes, replace_results, results_of
from sorvek.store.log import LoggedAttempt, add_attempt, attempts_of
from sorvek.store.migrations import STEPS
from sorvek.store.outlooks import SavedOutlook, drop_outlook, outlooks_of, planned_counts, save_outlook
from sorvek.store.placings import Placing, placings_of, save_placing
from sorvek.store.plans import NEVER_KEPT, drop_plan, load_plan, plan_versions, save_plan
from sorvek.store.settings import save_setting, setting
from sorvek.store.workouts import (
    add_workout,
    all_workouts,
    broken_workouts,
    earlier_texts,
    load_text,
    load_workout,
    remove_workout,
    removed_workouts,
    restore_workout,
    save_workout,
)

DAYS = (date(2026, 3, 5), date(2026, 3, 9))
TEXT = "Short\namrap 5:00\n5 burpees\n"
ENDS = ((False, 64.0, ""), (False, 60.0, ""), (False, 55.0, ""))
OUTLOOK = Outlook(
    *(("unbroken",), "reps", "60 reps", 55, 60, 64, *ENDS, ((60.0, 0.3),), (("window 2", 0.8),), 0.0),
    *("will finish", "burpee", 40, "more"),
)


@pytest.fixture
def database(tmp_path):
    open_database(tmp_path / "test.db")
    connect()
    yield tables.database
    disconnect()


@pytest.fixture
def pair(database):
    return add_workout(TEXT, *DAYS), add_athlete(Athlete("Ada", "building"))


def test_an_outlook_comes_back_with_its_versions_and_replaces_the_one_before(pair):
    save_outlook(*pair, SavedOutlook(OUTLOOK, 1, 1))
    newer = SavedOutlook(replace(OUTLOOK, p50=61), 2, 3)
    save_outlook(*pair, newer)
    assert outlooks_of(pair[0]) == {pair[1]: newer}
    assert planned_counts() == {pair[0]: 1}
    drop_outlook(*pair)
    assert outlooks_of(pair[0]) == {}


def test_a_placing_holds_tier_substitutes_and_who_is_left_out(pair):
    assert placings_of(pair[0]) == {}
    save_placing(*pair, Placing("races for place", {"burpee": "air squat"}, left_out=False), seen_version=0)
    save_placing(*pair, Placing("", {"burpee": "air squat"}, left_out=True), seen_version=1)
    assert placings_of(pair[0]) == {pair[1]: Placing("", {"burpee": "air squat"}, left_out=True)}


def test_a_leaderboard_is_replaced_as_a_whole_and_its_boards_follow(pair):
    workout_id = pair[0]
    first = [Result(f"r{i}", "men" if i % 2 else "women", False, float(i)) for i in range(400)]
    replace_results(workout_id, first)
    assert results_of(workout_id) == sorted(first, key=order_key)
    assert field_sizes() == {workout_id: 400}
    boards = boards_of(workout_id)
    assert set(boards) == {"", "men", "women"}
    assert len(boards["men"].results) == 200
    assert boards_of(workout_id) is boards  # kept in memory until results change
    replace_results(workout_id, first[:10])
    assert len(boards_of(workout_id)[""].results) == 10


def test_an_athlete_changed_by_somebody_else_is_not_overwritten(database):
    athlete_id = add_athlete(Athlete("Ada", "building"))
    saved = load_athlete(athlete_id)
    save_athlete(athlete_id, replace(saved.athlete, mass_kg=60.0), saved.version)
    with pytest.raises(ConflictError, match="Somebody changed Ada"):
        save_athlete(athlete_id, replace(saved.athlete, mass_kg=90.0), saved.version)
    now = load_athlete(athlete_id)
    assert (now.athlete.mass_kg, now.version) == (60.0, 2)
    assert name_taken("Ada")
    assert not name_taken("Ada", by_other_than=athlete_id)


def test_a_roster_is_stored_all_or_nothing(database):
    add_athlete(Athlete("Ada", "building"))
    assert store_roster([Athlete("Ada", "racing"), Athlete("Bo", "starting")]) == (1, 1)
    assert {a.athlete.name: a.athlete.tier for a in all_athletes()} == {"Ada": "racing", "Bo": "starting"}
    broken = Athlete("Cy", "building", unbroken={"burpee": object()})
    with pytest.raises(TypeError):
        store_roster([Athlete("Dot", "building"), broken])
    assert [a.athlete.name for a in all_athletes()] == ["Ada", "Bo"]


def test_every_text_a_workout_had_is_kept(database):
    workout_id = add_workout(TEXT, *DAYS)
    assert earlier_texts(workout_id) == []
    for reps, version in ((6, 1), (7, 2)):
        assert save_workout(workout_id, TEXT.replace("5 burpees", f"{reps} burpees"), *DAYS, version)
    with pytest.raises(ConflictError):
        save_workout(workout_id, TEXT, *DAYS, seen_version=1)
    with pytest.raises(NotationError):
        save_workout(workout_id, "amrap 5:00\n5 wiggles", *DAYS, seen_version=3)
    kept = [(earlier.version, earlier.text) for earlier in earlier_texts(workout_id)]
    assert kept == [(2, TEXT.replace("5 burpees", "6 burpees")), (1, TEXT)]
    assert "7 burpees" in load_workout(workout_id).text


def test_kept_plans_pile_up_as_versions_with_their_authors(pair):
    save_plan(*pair, ["unbroken"], 1, NEVER_KEPT, "Ida")
    save_plan(*pair, ["3/2 r5"], 1, load_plan(*pair).version)
    assert [(v.schemes, v.author) for v in plan_versions(*pair)] == [(("3/2 r5",), ""), (("unbroken",), "Ida")]


def test_a_card_link_belongs_to_one_pair_and_never_comes_back(pair):
    token = make_card_link(*pair)
    assert make_card_link(*pair) == token == card_token(*pair)
    assert len(token) >= 24
    assert card_owner(token) == pair
    assert card_owner("x") is None
    revoke_card(*pair)
    assert card_owner(token) is None
    assert make_card_link(*pair) != token


def test_everything_of_an_athlete_goes_with_the_athlete_and_comes_back(pair):
    workout_id, athlete_id = pair
    save_outlook(*pair, SavedOutlook(OUTLOOK, 1, 1))
    save_placing(*pair, Placing("races for place"), seen_version=0)
    save_plan(*pair, ["unbroken"], 1, NEVER_KEPT)
    token = make_card_link(*pair)
    add_attempt(athlete_id, LoggedAttempt("Old", TEXT, date(2025, 3, 1), Result("", "", False, 50)))
    remove_athlete(athlete_id)
    assert all_athletes() == []
    assert load_athlete(athlete_id) is None
    assert outlooks_of(workout_id) == placings_of(workout_id) == planned_counts() == {}
    assert card_owner(token) is None
    assert load_workout(workout_id) is not None
    assert [(gone.id, gone.name) for gone in removed_athletes()] == [(athlete_id, "Ada")]
    assert restore_athlete(athlete_id) == "Ada"
    assert [a.athlete.name for a in all_athletes()] == ["Ada"]
    assert list(outlooks_of(workout_id)) == list(placings_of(workout_id)) == [athlete_id]
    assert plan_versions(*pair)[0].schemes == ("unbroken",)
    assert attempts_of(athlete_id)[0].result.value == 50
    assert card_owner(token) == pair
    assert restore_athlete(athlete_id) == ""  # nobody to put back any more


def test_a_name_is_free_while_its_owner_is_away_and_never_given_to_two(pair):
    remove_athlete(pair[1])
    add_athlete(Athlete("Ada", "racing"))
    with pytest.raises(ConflictError, match="another Ada"):
        restore_athlete(pair[1])
    with pytest.raises(ConflictError):
        add_athlete(Athlete("Ada", "starting"))
    assert [a.athlete.tier for a in all_athletes()] == ["racing"]


def test_a_workout_comes_back_with_its_plans(pair):
    save_plan(*pair, ["unbroken"], 1, NEVER_KEPT)
    remove_workout(pair[0])
    assert all_workouts() == []
    assert load_workout(pair[0]) is load_text(pair[0]) is None
    assert [gone.title for gone in removed_workouts()] == ["Short"]
    assert restore_workout(pair[0])
    assert not restore_workout(pair[0])
    assert load_plan(*pair).schemes == ("unbroken",)


@pytest.mark.parametrize("change", ["keep", "drop"])
def test_a_plan_kept_by_somebody_else_is_neither_overwritten_nor_dropped_unseen(pair, change):
    save_plan(*pair, ["unbroken"], 1, NEVER_KEPT)
    seen = load_plan(*pair).version
    save_plan(*pair, ["3/2 r5"], 1, seen)
    with pytest.raises(ConflictError):
        save_plan(*pair, ["singles r2"], 1, seen) if change == "keep" else drop_plan(*pair, seen)
    assert load_plan(*pair).schemes == ("3/2 r5",)


def test_a_version_seen_before_a_plan_was_dropped_never_fits_a_later_plan(pair):
    save_plan(*pair, ["unbroken"], 1, NEVER_KEPT)
    seen = load_plan(*pair).version
    drop_plan(*pair, seen)
    save_plan(*pair, ["3/2 r5"], 1, NEVER_KEPT)
    with pytest.raises(ConflictError):
        save_plan(*pair, ["singles r2"], 1, seen)


def test_a_board_of_equal_size_takes_the_place_of_the_old_one(pair):
    """SQLite uses row ids again: the highest one does not tell two boards apart."""
    replace_results(pair[0], [Result("A", "men", False, 10.0)])
    assert boards_of(pair[0])[""].results[0].value == 10
    replace_results(pair[0], [Result("A", "men", False, 20.0)])
    assert boards_of(pair[0])[""].results[0].value == 20
    with pytest.raises(ConflictError):
        replace_results(pair[0], [], seen_version=1)


def test_tests_entered_at_once_are_all_kept(tmp_path):
    """Each changes what the other saved; none may vanish."""
    open_database(tmp_path / "busy.db")
    with connection():
        athlete_id = add_athlete(Athlete("Ada", "building"))

    movements = sorted(shipped_library().movements)[:24]

    def enter(name):
        with connection():
            change_athlete(athlete_id, lambda a: replace(a, cycle_s={**a.cycle_s, name: 1.0}))

    with ThreadPoolExecutor(8) as pool:
        list(pool.map(enter, movements))
    with connection():
        assert sorted(load_athlete(athlete_id).athlete.cycle_s) == movements


def test_one_row_that_cannot_be_read_does_not_hide_the_others(pair):
    tables.WorkoutRow.create(title="Old", text="amrap 10:00\nrest 1:00\n", opens_on=DAYS[0], due_on=DAYS[1])
    tables.AthleteRow.create(name="Bo", data='{"name": "Bo", "tier": "building", "unbroken": {"wiggle": 3}}')
    assert [w.title for w in all_workouts()] == ["Short"]
    assert [(w.title, "no work" in w.problem) for w in broken_workouts()] == [("Old", True)]
    assert [a.athlete.name for a in all_athletes()] == ["Ada"]
    assert [(a.name, "wiggle" in a.problem) for a in broken_athletes()] == [("Bo", True)]


def test_a_setting_is_kept_by_name_with_a_default(database):
    assert setting("entry_rules", {}) == {}
    save_setting("entry_rules", {"1": [["pull-up", 8]]}, seen_version=0)
    save_setting("entry_rules", {"1": [["pull-up", 10]]}, seen_version=1)
    with pytest.raises(ConflictError):
        save_setting("entry_rules", {}, seen_version=1)
    assert setting("entry_rules", {}) == {"1": [["pull-up", 10]]}


def test_a_file_of_the_first_version_is_brought_up_to_date_and_loses_nothing(tmp_path):
    path = tmp_path / "old.db"
    open_database(path)
    connect()
    STEPS[0](tables.database) if not tables.database.table_exists("workout") else None
    disconnect()
    path.unlink()
    for rest in tmp_path.glob("old.db-*"):
        rest.unlink()
    tables.database.init(str(path))
    with tables.database.connection_context():
        STEPS[0](tables.database)
        tables.database.pragma("user_version", 1)
    with sqlite3.connect(path) as plain:
        plain.execute(
            "INSERT INTO athlete (name, data) VALUES (?, ?)", ("Ada", '{"name": "Ada", "tier": "racing"}')
        )
        plain.execute(
            "INSERT INTO workout (title, text, opens_on, due_on, version) VALUES (?, ?, ?, ?, 4)",
            ("S", TEXT, *map(str, DAYS)),
        )
    plain.close()
    open_database(path)
    connect()
    assert [(a.athlete.name, a.version) for a in all_athletes()] == [("Ada", 1)]
    assert load_workout(1).version == 4
    assert tables.database.pragma("user_version") == len(STEPS)
    disconnect()


def test_the_demo_has_a_field_a_season_and_one_injury_flag(tmp_path):
    open_database(tmp_path / "demo.db")
    fill(date(2026, 3, 12))
    connect()
    assert list(field_sizes().values()) == [2_000] * 4
    logs = [attempts_of(saved.id) for saved in all_athletes()]
    assert sorted(len(log) for log in logs) == [3] * (len(PEOPLE) - 1) + [4]
    past = [attempt for log in logs for attempt in log if attempt.workout_id is None]
    assert all(attempt.done_on < date(2025, 4, 30) for attempt in past)
    assert all(attempt.record.taps for log in logs for attempt in log)
    assert [a.athlete.name for a in all_athletes() if a.athlete.flags] == ["Wendel Strand"]
    disconnect()


def test_the_demo_is_the_same_for_everybody_who_starts_it():
    assert club(date(2026, 3, 12)) == club(date(2026, 3, 12))
    titles = [past.title for past in season()]
    assert titles == ["Harbour Bell", "Low Water", "Mooring"]
    assert all(len(past.results) == len(past.done) == len(PEOPLE) for past in season())
