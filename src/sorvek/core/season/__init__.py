"""What was done in an attempt, what it teaches, and whether to try again."""

from sorvek.core.season.again import (
    AgainOrNot,
    FirstTry,
    SecondTry,
    again_at_bar,
    again_or_not,
    hours_until,
    still_gone,
    taken,
)
from sorvek.core.season.bar import lessons_of_lift, with_bar
from sorvek.core.season.beside import Blame, DoneStretch, blame, stretches_of, told
from sorvek.core.season.learn import Lessons, lessons_of
from sorvek.core.season.numbers import Kept, aged, learn, unlearn
from sorvek.core.season.record import DoneRow, Record, of_splits, read_record, record_text

__all__ = [
    "AgainOrNot",
    "Blame",
    "DoneRow",
    "DoneStretch",
    "FirstTry",
    "Kept",
    "Lessons",
    "Record",
    "SecondTry",
    "again_at_bar",
    "again_or_not",
    "aged",
    "blame",
    "hours_until",
    "learn",
    "lessons_of",
    "lessons_of_lift",
    "of_splits",
    "read_record",
    "record_text",
    "still_gone",
    "stretches_of",
    "taken",
    "told",
    "unlearn",
    "with_bar",
]
