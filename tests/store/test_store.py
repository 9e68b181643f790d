"""The database: schema, pragmas, and that bad input changes nothing."""

from datetime import date

import pytest

from sorvek.core.athlete.athlete import Athlete
from sorvek.core.errors import NotationError
from sorvek.demo.club import fill
from sorvek.store import tables
from sorvek.store.athletes import add_athlete, all_athletes, load_athlete
from sorvek.store.database import connect, disconnect, open_database
from sorvek.store.errors import ConflictError, StoreError
from sorvek.store.migrations import STEPS, migrate
from sorvek.store.plans import NEVER_KEPT, drop_plan, load_plan, save_plan
from sorvek.store.workouts import add_workout, all_workouts, load_workout, save_workout

DAYS = (date(2026, 3, 5), date(2026, 3, 9))
TEXT = "Short\namrap 5:00\n5 burpees\n"


@pytest.fixture
def database(tmp_path):
    open_database(tmp_path / "test.db")
    connect()
    yield tables.database
    disconnect()


def test_the_database_runs_in_wal_mode_with_foreign_keys(database):
    assert database.pragma("journal_mode") == "wal"
    assert database.pragma("foreign_keys") == 1
    assert database.pragma("user_version") == len(STEPS)


def test_the_migrated_schema_is_the_one_the_tables_describe(database):
    """Every column and index of the peewee classes exists, and nothing else."""
    for model in (*tables.NumberedRow.__subclasses__(), tables.SettingRow, tables.BoardRow):
        wanted = {field.column_name: field.null for field in model._meta.sorted_fields}
        found = {column.name: column.null for column in database.get_columns(model._meta.table_name)}
        key = model._meta.primary_key.column_name
        assert {**found, key: False} == {**wanted, key: False}
    assert [index.unique for index in database.get_indexes("plan")].count(True) == 1


def test_migrating_twice_changes_nothing_and_a_newer_file_is_refused(database):
    migrate(database)
    database.pragma("user_version", len(STEPS) + 1)
    with pytest.raises(StoreError, match="newer Sorvek"):
        migrate(database)


def test_a_workout_is_kept_as_typed_and_versions_count_up(database):
    workout_id = add_workout(TEXT, *DAYS)
    assert load_workout(workout_id).text == TEXT
    assert save_workout(workout_id, TEXT.replace("5 burpees", "6 burpees"), *DAYS, seen_version=1)
    assert load_workout(workout_id).version == 2


def test_saving_over_somebody_elses_text_is_refused(database):
    workout_id = add_workout(TEXT, *DAYS)
    save_workout(workout_id, TEXT + "5 push-ups\n", *DAYS, seen_version=1)
    with pytest.raises(ConflictError):
        save_workout(workout_id, TEXT, *DAYS, seen_version=1)
    assert load_workout(workout_id).text == TEXT + "5 push-ups\n"


def test_a_text_that_does_not_parse_is_not_saved(database):
    workout_id = add_workout(TEXT, *DAYS)
    with pytest.raises(NotationError):
        save_workout(workout_id, "amrap\n5 burpees", *DAYS, seen_version=1)
    with pytest.raises(NotationError):
        add_workout("amrap 5:00\n0 burpees", *DAYS)
    assert load_workout(workout_id).text == TEXT
    assert len(all_workouts()) == 1


def test_an_athlete_comes_back_as_entered_and_names_are_unique(database):
    athlete = Athlete("Test Person", "racing", "f", "women", unbroken={"pull-up": 20.0})
    assert load_athlete(add_athlete(athlete)).athlete == athlete
    with pytest.raises(ConflictError):
        add_athlete(athlete)


def test_a_kept_plan_replaces_the_one_before_and_goes_with_its_athlete(database):
    workout_id, athlete_id = add_workout(TEXT, *DAYS), add_athlete(Athlete("A", "racing"))
    save_plan(workout_id, athlete_id, ["unbroken"], 1, NEVER_KEPT)
    save_plan(workout_id, athlete_id, ["3/2 r4"], 1, load_plan(workout_id, athlete_id).version)
    kept = load_plan(workout_id, athlete_id)
    assert kept.schemes == ("3/2 r4",)
    drop_plan(workout_id, athlete_id, kept.version)
    assert load_plan(workout_id, athlete_id) is None
    save_plan(workout_id, athlete_id, ["unbroken"], 1, NEVER_KEPT)
    tables.AthleteRow.delete_by_id(athlete_id)


def test_the_demo_club_is_the_same_every_time_and_filled_once(tmp_path):
    rosters = []
    for name in ("one.db", "two.db"):
        open_database(tmp_path / name)
        fill(date(2026, 3, 12))
        connect()
        rosters.append([saved.data for saved in all_athletes()])
        opened = [saved.opens_on for saved in all_workouts()]
        disconnect()
    assert rosters[0] == rosters[1]
    assert len(rosters[0]) == 24
    assert opened[1] == date(2026, 3, 11)


def test_the_demo_week_moves_on_with_the_days_and_keeps_what_a_coach_did(tmp_path):
    open_database(tmp_path / "demo.db")
    fill(date(2026, 3, 12))
    connect()
    save_plan(2, 5, ["unbroken"] * 4, 1, NEVER_KEPT)
    disconnect()
    fill(date(2026, 4, 1))
    connect()
    assert [saved.opens_on for saved in all_workouts()][1] == date(2026, 3, 31)
    assert len(all_athletes()) == 24
    assert load_plan(2, 5) is not None
    disconnect()


def test_the_clubs_own_movements_lie_beside_the_database(database, tmp_path):
    header = (
        "name,plural,style,aliases,family,grip,pull,push,squat,hinge,trunk,cycle_s,setup_s,single_s,body_m,bar_m,"
    )
    header += (
        "steady,power,size,ref_men,ref_women,lift,lift_factor,u_starting,u_building,u_competing,u_racing,skill,"
    )
    header += "trip,standard,gear,caution"
    row = "rope pull,rope pulls,,,rope,1,1,0,0,.3,.2,4,2,0,.2,0,0,work,,,,,,3,6,9,14,0,0,Hand over hand,rope,"
    with pytest.raises(NotationError):
        add_workout("amrap 5:00\n5 rope pulls", *DAYS)
    (tmp_path / "movements.csv").write_text(f"{header}\n{row}\n", encoding="utf-8")
    workout_id = add_workout("amrap 5:00\n5 rope pulls", *DAYS)
    assert load_workout(workout_id).workout.body[0].movement == "rope pull"
