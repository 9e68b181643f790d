"""The words in which a lift is asked for: aim, loading crew, attempts that are fixed."""

from dataclasses import dataclass
from enum import StrEnum


class Crew(StrEnum):
    """Who changes the plates."""

    ALONE = "alone"
    ONE = "one loader"
    TWO = "two loaders"


class Aim(StrEnum):
    """What the attempts are chosen for."""

    LOAD = "highest expected lift"
    GOAL = "best chance of the goal"
    PLACES = "most places"


@dataclass(frozen=True, slots=True)
class Typed:
    """An attempt a coach fixed: its load, its start, its result; what is None is filled in as the plan would."""

    load_kg: float | None = None
    start_s: float | None = None
    made: bool | None = None
