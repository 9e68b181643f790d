"""Numbered schema changes, run in order; SQLite's own `user_version` remembers the last one.

A runner of our own on peewee's `playhouse.migrate`: the packaged tools for peewee keep a table and a folder
of generated files for what are here a few functions, and would import the tables as they are today, not as
they were when the step was written. Steps never change once they have landed.
"""

from collections.abc import Callable

from peewee import SqliteDatabase

from sorvek.store.errors import StoreError


def _first_tables(db: SqliteDatabase) -> None:
    db.execute_sql(
        "CREATE TABLE workout (id INTEGER PRIMARY KEY, title VARCHAR(255) NOT NULL, text TEXT NOT NULL,"
        " opens_on DATE NOT NULL, due_on DATE NOT NULL, version INTEGER NOT NULL)"
    )
    db.execute_sql(
        "CREATE TABLE athlete (id INTEGER PRIMARY KEY, name VARCHAR(255) NOT NULL UNIQUE, data TEXT NOT NULL)"
    )
    db.execute_sql(
        "CREATE TABLE plan (id INTEGER PRIMARY KEY,"
        " workout_id INTEGER NOT NULL REFERENCES workout (id) ON DELETE CASCADE,"
        " athlete_id INTEGER NOT NULL REFERENCES athlete (id) ON DELETE CASCADE,"
        " schemes TEXT NOT NULL, workout_version INTEGER NOT NULL, saved_at DATETIME NOT NULL)"
    )
    db.execute_sql("CREATE UNIQUE INDEX plan_workout_id_athlete_id ON plan (workout_id, athlete_id)")


def _club(db: SqliteDatabase) -> None:
    """Add what working with a whole club needs: versions, outlooks, placings, the field, earlier texts."""
    db.execute_sql("ALTER TABLE athlete ADD COLUMN version INTEGER NOT NULL DEFAULT 1")
    db.execute_sql(
        "CREATE TABLE workout_text (id INTEGER PRIMARY KEY,"
        " workout_id INTEGER NOT NULL REFERENCES workout (id) ON DELETE CASCADE,"
        " version INTEGER NOT NULL, text TEXT NOT NULL, saved_at DATETIME NOT NULL)"
    )
    db.execute_sql("CREATE UNIQUE INDEX workout_text_version ON workout_text (workout_id, version)")
    pair = (
        " workout_id INTEGER NOT NULL REFERENCES workout (id) ON DELETE CASCADE,"
        " athlete_id INTEGER NOT NULL REFERENCES athlete (id) ON DELETE CASCADE,"
    )
    db.execute_sql(
        f"CREATE TABLE outlook (id INTEGER PRIMARY KEY,{pair} workout_version INTEGER NOT NULL,"
        " athlete_version INTEGER NOT NULL, data TEXT NOT NULL)"
    )
    db.execute_sql("CREATE UNIQUE INDEX outlook_pair ON outlook (workout_id, athlete_id)")
    db.execute_sql(
        f"CREATE TABLE placing (id INTEGER PRIMARY KEY,{pair} tier VARCHAR(80) NOT NULL, substitutes TEXT NOT NULL,"
        " left_out INTEGER NOT NULL)"
    )
    db.execute_sql("CREATE UNIQUE INDEX placing_pair ON placing (workout_id, athlete_id)")
    db.execute_sql(
        "CREATE TABLE result (id INTEGER PRIMARY KEY,"
        " workout_id INTEGER NOT NULL REFERENCES workout (id) ON DELETE CASCADE, name VARCHAR(255) NOT NULL,"
        " division VARCHAR(255) NOT NULL, finished INTEGER NOT NULL, value REAL NOT NULL, tiebreak_s REAL)"
    )
    db.execute_sql("CREATE INDEX result_workout ON result (workout_id)")
    db.execute_sql("CREATE TABLE setting (name VARCHAR(80) PRIMARY KEY, value TEXT NOT NULL)")


def _log(db: SqliteDatabase) -> None:
    """Add attempts, kept plan versions, and card links."""
    db.execute_sql(
        "CREATE TABLE attempt (id INTEGER PRIMARY KEY,"
        " athlete_id INTEGER NOT NULL REFERENCES athlete (id) ON DELETE CASCADE,"
        " title VARCHAR(255) NOT NULL, text TEXT NOT NULL, done_on DATE NOT NULL, finished INTEGER NOT NULL,"
        " value REAL NOT NULL, tiebreak_s REAL)"
    )
    db.execute_sql("CREATE INDEX attempt_athlete ON attempt (athlete_id)")
    pair = (
        " workout_id INTEGER NOT NULL REFERENCES workout (id) ON DELETE CASCADE,"
        " athlete_id INTEGER NOT NULL REFERENCES athlete (id) ON DELETE CASCADE,"
    )
    db.execute_sql(
        f"CREATE TABLE plan_version (id INTEGER PRIMARY KEY,{pair} schemes TEXT NOT NULL,"
        " author VARCHAR(80) NOT NULL, saved_at DATETIME NOT NULL)"
    )
    db.execute_sql("CREATE INDEX plan_version_pair ON plan_version (workout_id, athlete_id)")
    db.execute_sql(
        f"CREATE TABLE card (id INTEGER PRIMARY KEY,{pair} token VARCHAR(64) NOT NULL UNIQUE,"
        " made_at DATETIME NOT NULL)"
    )
    db.execute_sql("CREATE UNIQUE INDEX card_pair ON card (workout_id, athlete_id)")


def _lift(db: SqliteDatabase) -> None:
    """Add lifts to results, and what a coach set for an athlete's lift."""
    db.execute_sql("ALTER TABLE result ADD COLUMN lift_kg REAL")
    db.execute_sql(
        "CREATE TABLE lift (id INTEGER PRIMARY KEY,"
        " workout_id INTEGER NOT NULL REFERENCES workout (id) ON DELETE CASCADE,"
        " athlete_id INTEGER NOT NULL REFERENCES athlete (id) ON DELETE CASCADE,"
        " wishes TEXT NOT NULL)"
    )
    db.execute_sql("CREATE UNIQUE INDEX lift_pair ON lift (workout_id, athlete_id)")


def _taught(db: SqliteDatabase) -> None:
    """Add to attempts what was learnt from them."""
    db.execute_sql("ALTER TABLE attempt ADD COLUMN taught TEXT NOT NULL DEFAULT ''")


def _seen(db: SqliteDatabase) -> None:
    """Add what lets nothing be overwritten unseen or lost for good: versions, the time of removal."""
    for table in ("plan", "placing", "lift", "setting"):
        db.execute_sql(f"ALTER TABLE {table} ADD COLUMN version INTEGER NOT NULL DEFAULT 1")
    for table in ("workout", "athlete"):
        db.execute_sql(f"ALTER TABLE {table} ADD COLUMN removed_at DATETIME")
    db.execute_sql(
        "CREATE TABLE board (workout_id INTEGER PRIMARY KEY REFERENCES workout (id) ON DELETE CASCADE,"
        " version INTEGER NOT NULL)"
    )


def _tempers(db: SqliteDatabase) -> None:
    """Add to plans the temperament they were kept with."""
    for table in ("plan", "plan_version"):
        db.execute_sql(f"ALTER TABLE {table} ADD COLUMN temper VARCHAR(10) NOT NULL DEFAULT 'steady'")


def _sourced(db: SqliteDatabase) -> None:
    """Add to workouts the announcement as it was published, where one was pasted."""
    db.execute_sql("ALTER TABLE workout ADD COLUMN source TEXT NOT NULL DEFAULT ''")


def _floor(db: SqliteDatabase) -> None:
    """Add heats with their lanes, and every tap made in them, once and for good."""
    db.execute_sql(
        "CREATE TABLE heat (id INTEGER PRIMARY KEY,"
        " workout_id INTEGER NOT NULL REFERENCES workout (id) ON DELETE CASCADE,"
        " number INTEGER NOT NULL, started_s REAL, speed REAL NOT NULL DEFAULT 1,"
        " version INTEGER NOT NULL DEFAULT 1)"
    )
    db.execute_sql("CREATE INDEX heat_workout ON heat (workout_id)")
    db.execute_sql(
        "CREATE TABLE lane (id INTEGER PRIMARY KEY,"
        " heat_id INTEGER NOT NULL REFERENCES heat (id) ON DELETE CASCADE, number INTEGER NOT NULL,"
        " athlete_id INTEGER NOT NULL REFERENCES athlete (id) ON DELETE CASCADE, schemes TEXT NOT NULL,"
        " judge VARCHAR(80) NOT NULL, token VARCHAR(64) NOT NULL UNIQUE, stand_in INTEGER)"
    )
    db.execute_sql("CREATE INDEX lane_heat ON lane (heat_id)")
    db.execute_sql(
        "CREATE TABLE tap (lane_id INTEGER NOT NULL REFERENCES lane (id) ON DELETE CASCADE,"
        " id VARCHAR(64) NOT NULL,"
        " device VARCHAR(64) NOT NULL, kind VARCHAR(10) NOT NULL, made_s REAL NOT NULL, at_s REAL NOT NULL,"
        " of VARCHAR(64) NOT NULL, reps INTEGER NOT NULL, texts TEXT NOT NULL, PRIMARY KEY (lane_id, id))"
    )


def _lifted(db: SqliteDatabase) -> None:
    """Add to taps what was on the bar, to attempts the lift, everything that was done and what was told of it."""
    db.execute_sql("ALTER TABLE tap ADD COLUMN load_kg REAL NOT NULL DEFAULT 0")
    columns = (
        "workout_id INTEGER REFERENCES workout (id) ON DELETE SET NULL",
        "done_at DATETIME",
        "lift_kg REAL",
        "done TEXT NOT NULL DEFAULT ''",
        "gave_out VARCHAR(40) NOT NULL DEFAULT ''",
        "torn INTEGER NOT NULL DEFAULT 0",
        "notes TEXT NOT NULL DEFAULT ''",
        "soreness INTEGER NOT NULL DEFAULT 0",
        "again VARCHAR(10) NOT NULL DEFAULT ''",
        "submitted INTEGER NOT NULL DEFAULT 0",
        "expected TEXT NOT NULL DEFAULT ''",
        "version INTEGER NOT NULL DEFAULT 1",
        "removed_at DATETIME",
    )
    for column in columns:
        db.execute_sql(f"ALTER TABLE attempt ADD COLUMN {column}")


def _trust(db: SqliteDatabase) -> None:
    """Add accounts, who changed what, days on which links end, and links that were revoked."""
    db.execute_sql(
        "CREATE TABLE account (id INTEGER PRIMARY KEY, name VARCHAR(80) NOT NULL UNIQUE, role VARCHAR(20) NOT NULL,"
        " password TEXT NOT NULL, sessions_from REAL NOT NULL, made_at DATETIME NOT NULL)"
    )
    db.execute_sql(
        "CREATE TABLE change (id INTEGER PRIMARY KEY, made_at DATETIME NOT NULL, who VARCHAR(80) NOT NULL,"
        " kind VARCHAR(20) NOT NULL, thing_id INTEGER NOT NULL, what VARCHAR(200) NOT NULL, kept TEXT NOT NULL)"
    )
    db.execute_sql("CREATE INDEX change_thing ON change (kind, thing_id)")
    db.execute_sql("ALTER TABLE card ADD COLUMN ends_on DATE")
    db.execute_sql("CREATE TABLE dead_link (token VARCHAR(64) PRIMARY KEY, ended_at DATETIME NOT NULL)")
    db.execute_sql(
        "CREATE TABLE once (token VARCHAR(64) PRIMARY KEY, answer VARCHAR(255) NOT NULL, made_at DATETIME NOT NULL)"
    )


STEPS: tuple[Callable[[SqliteDatabase], None], ...] = (
    _first_tables,
    _club,
    _log,
    _lift,
    _taught,
    _seen,
    _tempers,
    _sourced,
    _floor,
    _lifted,
    _trust,
)


def migrate(db: SqliteDatabase) -> None:
    """Bring the schema up to date, each step in a transaction of its own.

    Raises: StoreError if the file was written by a newer Sorvek.
    """
    done = db.pragma("user_version")
    if done > len(STEPS):
        raise StoreError("this database was written by a newer Sorvek; update the program, then open it again")
    for number, step in enumerate(STEPS[done:], done + 1):
        with db.atomic():
            step(db)
            db.pragma("user_version", number)
