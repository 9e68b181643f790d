"""The weekend: every try of every athlete in the hall's heats."""

from sorvek.core.calendar.weekend import (
    Assigned,
    Clash,
    HeatTime,
    JudgingAthlete,
    OpenWorkout,
    Schedule,
    Try,
    Weekend,
    clashes,
    cost,
    duties,
    schedule,
)

__all__ = [
    "Assigned",
    "Clash",
    "HeatTime",
    "JudgingAthlete",
    "OpenWorkout",
    "Schedule",
    "Try",
    "Weekend",
    "clashes",
    "cost",
    "duties",
    "schedule",
]
