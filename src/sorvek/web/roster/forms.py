"""The athlete form and the quick test entry."""

from collections.abc import Mapping
from datetime import date
from typing import Any

from flask_wtf import FlaskForm
from wtforms import DateField, FloatField, IntegerField, SelectChoice, SelectField, StringField, TextAreaField
from wtforms.validators import DataRequired, InputRequired, Length, NumberRange, Optional, ValidationError

from sorvek.core.athlete import Athlete, athlete_data, athlete_from_data
from sorvek.core.quantities import seconds_from_clock
from sorvek.core.workout import TIERS, Library

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

    __test__ = False  # not a test entry, whatever its name

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


# The fields of the form with the names a coach knows them by; numbers by movement come as set-… and lift-….
LABELS = {
    "name": "Name",
    "tier": "Tier",
    "sex": "Sex",
    "division": "Division",
    "mass_kg": "Mass, kg",
    "stature_cm": "Stature, cm",
    "critical_power_w": "Critical power, W",
    "w_prime_j": "W′, J",
    "notes": "Notes",
    "flags": "Injury flags",
}
BY_MOVEMENT = {"set-": "unbroken", "lift-": "one_rep_max_kg"}


def form_values(athlete: Athlete) -> dict[str, str]:
    """Return an athlete as the text fields of the form."""
    values = {name: _field(getattr(athlete, name)) for name in LABELS if name != "flags"}
    values["flags"] = "\n".join(f"{name}: {why}" if why else name for name, why in athlete.flags.items())
    for prefix, field in BY_MOVEMENT.items():
        values |= {f"{prefix}{name}": f"{number:g}" for name, number in getattr(athlete, field).items()}
    return values


def _field(value: object) -> str:
    return "" if value is None else f"{value:g}" if isinstance(value, float) else str(value)


def read_form(form: Mapping[str, str], before: Athlete | None, library: Library) -> Athlete:
    """Return the athlete in a form; what it does not hold stays as it was `before`.

    Raises: CoreError naming the field that cannot be right.
    """
    data: dict[str, Any] = dict(athlete_data(before)) if before else {}
    for name in LABELS:
        text = form.get(name, "").strip()
        data.pop(name, None)
        if name == "flags":
            data[name] = _flags(text, library)
        elif text:
            data[name] = text.replace(",", ".") if name.endswith(("_kg", "_cm", "_w", "_j")) else text
    for prefix, field in BY_MOVEMENT.items():
        numbers = dict(getattr(before, field)) if before else {}
        for key, text in form.items():
            if key.startswith(prefix):
                name = key.removeprefix(prefix)
                numbers.pop(name, None)
                if text.strip():
                    numbers[name] = text.strip().replace(",", ".")  # pydantic says what is no number
        data[field] = numbers
    return athlete_from_data(data, library)


def _flags(text: str, library: Library) -> dict[str, str]:
    """Return flags typed one a line, `movement: reason`.

    Raises: UnknownMovementError for a movement nobody knows.
    """
    lines = [line.strip() for line in text.splitlines() if line.strip()]
    pairs = [(name.strip(), why.strip()) for name, _, why in (line.partition(":") for line in lines)]
    return {library.find(name).name: why for name, why in pairs}
