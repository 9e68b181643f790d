"""Which muscle resource a movement shows as: one code for all pictures."""

from sorvek.core.constants import RESOURCES
from sorvek.core.workout import Movement


def movement_resource(movement: Movement) -> str:
    """Return the resource a movement loads most; the first of equals in the order of the body."""
    weights = movement.styles[0].weights
    return RESOURCES[max(range(len(RESOURCES)), key=lambda r: weights[r])]
