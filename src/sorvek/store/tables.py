"""The tables; rows are seen only inside `store`."""

from peewee import (
    CharField,
    DateField,
    DateTimeField,
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


class WorkoutRow(Row):
    """An announcement as typed, with the days on which scores are taken."""

    title = CharField()
    text = TextField()
    opens_on = DateField()
    due_on = DateField()
    version = IntegerField(default=1)

    class Meta:
        """Name the table."""

        table_name = "workout"


class AthleteRow(Row):
    """An athlete file as JSON; the name is kept beside it for order and uniqueness."""

    name = CharField(unique=True)
    data = TextField()

    class Meta:
        """Name the table."""

        table_name = "athlete"


class PlanRow(Row):
    """A coach's plan: one line of shorthand for each movement, in the order of the workout."""

    workout = ForeignKeyField(WorkoutRow, on_delete="CASCADE", backref="plans")
    athlete = ForeignKeyField(AthleteRow, on_delete="CASCADE", backref="plans")
    schemes = TextField()
    workout_version = IntegerField()
    saved_at = DateTimeField()

    class Meta:
        """Name the table; one plan for an athlete on a workout."""

        table_name = "plan"
        indexes = ((("workout", "athlete"), True),)
