"""What results teach."""

from sorvek.core.season.learn import Kept, Lessons, aged, learn, lessons_of, unlearn
from sorvek.core.season.record import DoneRow, Record, of_splits, read_record, record_text

__all__ = [
    "DoneRow",
    "Kept",
    "Lessons",
    "Record",
    "aged",
    "learn",
    "lessons_of",
    "of_splits",
    "read_record",
    "record_text",
    "unlearn",
]
