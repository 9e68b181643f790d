"""Who changes the plates, and how long that takes."""

from enum import StrEnum

from sorvek.core.constants import COLLARS_S, PLATE_S


class Crew(StrEnum):
    """Who changes the plates."""

    ALONE = "alone"
    ONE = "one loader"
    TWO = "two loaders"


def loading_s(handled: int, crew: Crew) -> float:
    """Return the seconds a change takes that moves `handled` plates on each side.

    Two loaders take a side each; alone or with one loader the sides come one after the other.
    """
    if handled == 0:
        return 0.0
    one_side = PLATE_S * handled + COLLARS_S
    return one_side if crew is Crew.TWO else 2 * one_side


def plates_in(rest_s: float, crew: Crew) -> int:
    """Return how many plates on each side can be moved in a rest; the reverse of `loading_s`."""
    one_side = rest_s if crew is Crew.TWO else rest_s / 2
    return max(0, int((one_side - COLLARS_S) // PLATE_S))
