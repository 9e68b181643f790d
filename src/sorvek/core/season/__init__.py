"""What results teach."""

from sorvek.core.season.beside import Blame, DoneStretch, blame, stretches_of, told
from sorvek.core.season.learn import Kept, Lessons, aged, learn, lessons_of, unlearn
from sorvek.core.season.record import DoneRow, Record, of_splits, read_record, record_text

__all__ = [
    "Blame",
    "DoneRow",
    "DoneStretch",
    "Kept",
    "Lessons",
    "Record",
    "aged",
    "blame",
    "learn",
    "lessons_of",
    "of_splits",
    "read_record",
    "record_text",
    "stretches_of",
    "told",
    "unlearn",
]
