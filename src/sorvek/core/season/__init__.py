"""What results teach."""

from sorvek.core.season.again import AgainOrNot, FirstTry, SecondTry, again_or_not, hours_until, still_gone
from sorvek.core.season.beside import Blame, DoneStretch, blame, stretches_of, told
from sorvek.core.season.learn import Kept, Lessons, aged, learn, lessons_of, unlearn
from sorvek.core.season.record import DoneRow, Record, of_splits, read_record, record_text
from sorvek.core.season.weekend import (
    Assigned,
    Clash,
    HeatTime,
    OpenWorkout,
    Schedule,
    Try,
    Weekend,
    clashes,
    cost,
    schedule,
)

__all__ = [
    "AgainOrNot",
    "Assigned",
    "Blame",
    "Clash",
    "DoneRow",
    "DoneStretch",
    "FirstTry",
    "HeatTime",
    "Kept",
    "Lessons",
    "OpenWorkout",
    "Record",
    "Schedule",
    "SecondTry",
    "Try",
    "Weekend",
    "again_or_not",
    "aged",
    "blame",
    "clashes",
    "cost",
    "hours_until",
    "learn",
    "lessons_of",
    "of_splits",
    "read_record",
    "record_text",
    "schedule",
    "still_gone",
    "stretches_of",
    "told",
    "unlearn",
]
