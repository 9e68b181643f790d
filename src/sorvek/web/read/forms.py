"""The workout form."""

from flask_wtf import FlaskForm
from wtforms import DateField, HiddenField, IntegerField, TextAreaField
from wtforms.validators import DataRequired, Length, Optional, ValidationError


class WorkoutForm(FlaskForm):
    """Text and days of a workout; `version` is the one the text was read from."""

    text = TextAreaField("Announcement", [DataRequired("Type the announcement."), Length(max=20_000)])
    source = HiddenField("As published", [Length(max=20_000)])
    opens_on = DateField("Scores from", [DataRequired("Give the first day, as 2026-03-05.")])
    due_on = DateField("Scores until", [DataRequired("Give the last day, as 2026-03-09.")])
    version = IntegerField("Version", [Optional()])

    def validate_due_on(self, field: DateField) -> None:
        """Refuse a last day before the first."""
        if self.opens_on.data and field.data and field.data < self.opens_on.data:
            raise ValidationError("The last day lies before the first; swap them.")
