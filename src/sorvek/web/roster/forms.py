"""The athlete form and the quick test entry."""

from datetime import date

from flask_wtf import FlaskForm
from wtforms import DateField, FloatField, IntegerField, SelectChoice, SelectField, StringField, TextAreaField
from wtforms.validators import DataRequired, InputRequired, Length, NumberRange, Optional, ValidationError

from sorvek.core.quantities import seconds_from_clock
from sorvek.core.workout import TIERS

UNITS = ("kg", "lb")
TESTS = (
    SelectChoice("set", "longest unbroken set (reps)"),
    SelectChoice("1rm", "1RM (weight)"),
    SelectChoice("repmax", "rep max (reps at a weight)"),
    SelectChoice("row", "2 km row (time)"),
    SelectChoice("time", "all-out effort (mean watts over a time)"),
)


class AthleteForm(FlaskForm):
    """What is known of the person; measured reps and lifts have a table of their own."""

    name = StringField("Name", [DataRequired("Give a name."), Length(max=80)])
    tier = SelectField("Tier", choices=list(TIERS))
    sex = SelectField("Sex", choices=["m", "f"])
    division = StringField("Division", [Length(max=40)])
    mass_kg = FloatField("Mass (kg)", [Optional(), NumberRange(25, 250, "25 to 250 kg; was this in pounds?")])
    stature_cm = FloatField("Stature (cm)", [Optional(), NumberRange(120, 230, "120 to 230 cm.")])
    critical_power_w = FloatField("Critical power (W)", [Optional(), NumberRange(50, 600, "50 to 600 W.")])
    w_prime_j = FloatField("W′ (J)", [Optional(), NumberRange(2_000, 60_000, "2,000 to 60,000 J.")])
    notes = TextAreaField("Notes", [Length(max=2_000)])
    flags = TextAreaField("Injury flags", [Length(max=2_000)])
    version = IntegerField("Version", [Optional()])


class TestForm(FlaskForm):
    """One test result: what was done, how much, when."""

    __test__ = False  # not a test case, whatever its name

    kind = SelectField("Test", choices=list(TESTS))
    movement = StringField("Movement", [Length(max=80)])
    value = StringField("Result", [InputRequired("Give the result.")])
    weight = FloatField("Weight", [Optional(), NumberRange(1, 1_500, "1 to 1,500.")])
    unit = SelectField("Unit", choices=list(UNITS))
    day = DateField("On", [Optional()], default=date.today)

    def validate_value(self, field: StringField) -> None:
        """Refuse a result that is no number, or no clock time where one is asked for."""
        text = (field.data or "").strip()
        if self.kind.data == "row":
            try:
                seconds_from_clock(text)
            except ValueError as error:
                raise ValidationError(f"Write the time as 7:12; {error}.") from error
            return
        first = text.split(" in ")[0]
        try:
            if not 0 <= float(first.replace(",", ".")) <= 20_000:
                raise ValidationError("Give a number from 0 to 20,000.")
        except ValueError:
            raise ValidationError(f"“{text[:20]}” is no number.") from None
