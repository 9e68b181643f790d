"""Who does it: an athlete's numbers and where each comes from, files and tables, tests, substitutes."""

from sorvek.core.athlete.athlete import (
    DOUBT_FRAC,
    Athlete,
    Capacity,
    Figure,
    Origin,
    body_figure,
    capacity,
    entered_figure,
    lift_figure,
    tier_table,
    typed_over,
)
from sorvek.core.athlete.file import athlete_data, athlete_from_data, read_athlete
from sorvek.core.athlete.repetition import reps_at_limits
from sorvek.core.athlete.roster_csv import BODY, IGNORE, RosterImport, read_roster, roster_csv
from sorvek.core.athlete.substitute import flagged_movements, substitutes_for, with_substitutes
from sorvek.core.athlete.together import Together
from sorvek.core.athlete.trial import Trial, with_test

__all__ = [
    "BODY",
    "DOUBT_FRAC",
    "IGNORE",
    "Athlete",
    "Capacity",
    "Figure",
    "Origin",
    "RosterImport",
    "Together",
    "Trial",
    "athlete_data",
    "athlete_from_data",
    "body_figure",
    "capacity",
    "entered_figure",
    "flagged_movements",
    "lift_figure",
    "read_athlete",
    "read_roster",
    "reps_at_limits",
    "roster_csv",
    "substitutes_for",
    "tier_table",
    "typed_over",
    "with_substitutes",
    "with_test",
]
