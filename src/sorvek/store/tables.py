"""The tables; rows are seen only inside `store`."""

from peewee import (
    AutoField,
    BooleanField,
    CharField,
    CompositeKey,
    DateField,
    DateTimeField,
    FloatField,
    ForeignKeyField,
    IntegerField,
    Model,
    SqliteDatabase,
    TextField,
)

database = SqliteDatabase(None)


class Row(Model):
    """What all tables share: the one database, opened by `database.open_database`."""

    class Meta:
        """Bind to the database."""

        database = database


class NumberedRow(Row):
    """What most tables share: a number of their own."""

    id = AutoField()


class WorkoutRow(NumberedRow):
    """An announcement as typed, as published (empty if it was typed), and the days on which scores are taken."""

    title = CharField()
    text = TextField()
    source = TextField(default="")
    opens_on = DateField()
    due_on = DateField()
    version = IntegerField(default=1)
    removed_at = DateTimeField(null=True)

    class Meta:
        """Name the table."""

        table_name = "workout"


class AthleteRow(NumberedRow):
    """An athlete file as JSON; the name is kept beside it for order and uniqueness."""

    name = CharField(unique=True)
    data = TextField()
    version = IntegerField(default=1)
    removed_at = DateTimeField(null=True)

    class Meta:
        """Name the table."""

        table_name = "athlete"


class PlanRow(NumberedRow):
    """A coach's plan: one line of shorthand for each movement, in the order of the workout."""

    workout = ForeignKeyField(WorkoutRow, on_delete="CASCADE", backref="plans")
    workout_id: int
    athlete = ForeignKeyField(AthleteRow, on_delete="CASCADE", backref="plans")
    athlete_id: int
    schemes = TextField()
    temper = CharField(default="steady")
    workout_version = IntegerField()
    saved_at = DateTimeField()
    version = IntegerField(default=1)

    class Meta:
        """Name the table; one plan for an athlete on a workout."""

        table_name = "plan"
        indexes = ((("workout", "athlete"), True),)


class TextRow(NumberedRow):
    """An earlier text of a workout."""

    workout = ForeignKeyField(WorkoutRow, on_delete="CASCADE")
    workout_id: int
    version = IntegerField()
    text = TextField()
    saved_at = DateTimeField()

    class Meta:
        """Name the table."""

        table_name = "workout_text"


class OutlookRow(NumberedRow):
    """A computed plan with its forecast as JSON, and the versions it was computed from."""

    workout = ForeignKeyField(WorkoutRow, on_delete="CASCADE")
    workout_id: int
    athlete = ForeignKeyField(AthleteRow, on_delete="CASCADE")
    athlete_id: int
    workout_version = IntegerField()
    athlete_version = IntegerField()
    data = TextField()

    class Meta:
        """Name the table; one outlook for an athlete on a workout."""

        table_name = "outlook"


class PlacingRow(NumberedRow):
    """What a coach decided about an athlete on a workout: tier (empty: as computed), substitutes, left out."""

    workout = ForeignKeyField(WorkoutRow, on_delete="CASCADE")
    workout_id: int
    athlete = ForeignKeyField(AthleteRow, on_delete="CASCADE")
    athlete_id: int
    tier = CharField(default="")
    substitutes = TextField(default="{}")
    left_out = BooleanField(default=False)
    version = IntegerField(default=1)

    class Meta:
        """Name the table; one placing for an athlete on a workout."""

        table_name = "placing"


class ResultRow(NumberedRow):
    """One line of a workout's leaderboard."""

    workout = ForeignKeyField(WorkoutRow, on_delete="CASCADE")
    workout_id: int
    name = CharField()
    division = CharField()
    finished = BooleanField()
    value = FloatField()
    tiebreak_s = FloatField(null=True)
    lift_kg = FloatField(null=True)

    class Meta:
        """Name the table."""

        table_name = "result"


class BoardRow(Row):
    """How often a workout's leaderboard was replaced: row ids are used again and cannot tell two boards apart."""

    workout = ForeignKeyField(WorkoutRow, on_delete="CASCADE", primary_key=True)
    version = IntegerField()

    class Meta:
        """Name the table."""

        table_name = "board"


class LiftRow(NumberedRow):
    """What a coach asks of an athlete's max lift on a workout, as JSON."""

    workout = ForeignKeyField(WorkoutRow, on_delete="CASCADE")
    workout_id: int
    athlete = ForeignKeyField(AthleteRow, on_delete="CASCADE")
    athlete_id: int
    wishes = TextField()
    version = IntegerField(default=1)

    class Meta:
        """Name the table; one row for an athlete on a workout."""

        table_name = "lift"


class SettingRow(Row):
    """A setting of the club, as JSON."""

    name = CharField(primary_key=True)
    value = TextField()
    version = IntegerField(default=1)

    class Meta:
        """Name the table."""

        table_name = "setting"


class AttemptRow(NumberedRow):
    """An attempt as it was logged; the workout's text is kept with it, and what was learnt from it.

    `workout` is None for one of an earlier season, `done` holds what was tapped, as JSON.
    """

    athlete = ForeignKeyField(AthleteRow, on_delete="CASCADE")
    athlete_id: int
    title = CharField()
    text = TextField()
    done_on = DateField()
    finished = BooleanField()
    value = FloatField()
    tiebreak_s = FloatField(null=True)
    workout = ForeignKeyField(WorkoutRow, on_delete="SET NULL", null=True)
    workout_id: int | None
    done_at = DateTimeField(null=True)
    lift_kg = FloatField(null=True)
    done = TextField(default="")
    gave_out = CharField(default="")
    torn = BooleanField(default=False)
    notes = TextField(default="")
    soreness = IntegerField(default=0)
    again = CharField(default="")
    submitted = BooleanField(default=False)
    expected = TextField(default="")
    version = IntegerField(default=1)
    removed_at = DateTimeField(null=True)
    taught = TextField(default="")

    class Meta:
        """Name the table."""

        table_name = "attempt"


class PlanVersionRow(NumberedRow):
    """A plan as it was kept once, with author and time."""

    workout = ForeignKeyField(WorkoutRow, on_delete="CASCADE")
    workout_id: int
    athlete = ForeignKeyField(AthleteRow, on_delete="CASCADE")
    athlete_id: int
    schemes = TextField()
    temper = CharField(default="steady")
    author = CharField()
    saved_at = DateTimeField()

    class Meta:
        """Name the table."""

        table_name = "plan_version"


class CardRow(NumberedRow):
    """The unguessable address of one athlete's card for one workout."""

    workout = ForeignKeyField(WorkoutRow, on_delete="CASCADE")
    workout_id: int
    athlete = ForeignKeyField(AthleteRow, on_delete="CASCADE")
    athlete_id: int
    token = CharField(unique=True)
    made_at = DateTimeField()
    ends_on = DateField(null=True)

    class Meta:
        """Name the table."""

        table_name = "card"


class DeadLinkRow(Row):
    """A link that was revoked, so that its page can say so."""

    token = CharField(primary_key=True)
    ended_at = DateTimeField()

    class Meta:
        """Name the table."""

        table_name = "dead_link"


class OnceRow(Row):
    """A form that was carried out, by its own number, and where it led."""

    token = CharField(primary_key=True)
    answer = CharField()
    made_at = DateTimeField()

    class Meta:
        """Name the table."""

        table_name = "once"


class AccountRow(NumberedRow):
    """Somebody who may sign in; sessions begun before `sessions_from` (epoch, s) are over."""

    name = CharField(unique=True)
    role = CharField()
    password = TextField()
    sessions_from = FloatField()
    made_at = DateTimeField()

    class Meta:
        """Name the table."""

        table_name = "account"


class ChangeRow(NumberedRow):
    """Who changed what and when; `kept` is how the thing stood afterwards, as JSON, empty where it is gone."""

    made_at = DateTimeField()
    who = CharField()
    kind = CharField()
    thing_id = IntegerField()
    what = CharField()
    kept = TextField()

    class Meta:
        """Name the table."""

        table_name = "change"


class HeatRow(NumberedRow):
    """A heat: `started_s` is the server's time at its start (epoch), None before it."""

    workout = ForeignKeyField(WorkoutRow, on_delete="CASCADE")
    workout_id: int
    number = IntegerField()
    started_s = FloatField(null=True)
    speed = FloatField(default=1.0)
    version = IntegerField(default=1)

    class Meta:
        """Name the table."""

        table_name = "heat"


class FloorLaneRow(NumberedRow):
    """A lane of a heat: who, by which sets, who judges; `stand_in` is the seed of a simulated athlete."""

    heat = ForeignKeyField(HeatRow, on_delete="CASCADE")
    heat_id: int
    number = IntegerField()
    athlete = ForeignKeyField(AthleteRow, on_delete="CASCADE")
    athlete_id: int
    schemes = TextField()
    judge = CharField()
    token = CharField(unique=True)
    stand_in = IntegerField(null=True)

    class Meta:
        """Name the table."""

        table_name = "lane"


class TapRow(Row):
    """One tap as a device made it; `at_s` is its time on the heat's clock."""

    lane = ForeignKeyField(FloorLaneRow, on_delete="CASCADE")
    lane_id: int
    id = CharField()
    device = CharField()
    kind = CharField()
    made_s = FloatField()
    at_s = FloatField()
    of = CharField()
    reps = IntegerField()
    texts = TextField()
    load_kg = FloatField(default=0.0)

    class Meta:
        """Name the table; a tap is in it once."""

        table_name = "tap"
        primary_key = CompositeKey("lane", "id")
