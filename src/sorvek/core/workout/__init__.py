"""What an announcement says: movements, notation and prose, the course that is set, the read-out."""

from sorvek.core.workout.announcement import read_announcement
from sorvek.core.workout.course import NO_LIMIT_S, Course, Segment, Slot, unroll
from sorvek.core.workout.movements import (
    ALL_COLUMNS,
    HINTS,
    TIERS,
    WORDS,
    Library,
    Movement,
    PowerKind,
    SizeKind,
    Style,
    shipped_library,
)
from sorvek.core.workout.prose import Fate, Reading
from sorvek.core.workout.readout import Readout, read_workout
from sorvek.core.workout.tree import Form, Item, MaxLift, Rest, RisingBar, Side, Size, Workout

__all__ = [
    "ALL_COLUMNS",
    "HINTS",
    "NO_LIMIT_S",
    "TIERS",
    "WORDS",
    "Course",
    "Fate",
    "Form",
    "Item",
    "Library",
    "MaxLift",
    "Movement",
    "PowerKind",
    "Reading",
    "Readout",
    "Rest",
    "RisingBar",
    "Segment",
    "Side",
    "Size",
    "SizeKind",
    "Slot",
    "Style",
    "Workout",
    "read_announcement",
    "read_workout",
    "shipped_library",
    "unroll",
]
