"""One end of a loaded bar, plates from the inside out."""

from collections.abc import Sequence
from dataclasses import dataclass

from sorvek.core.lift import Piece

HEIGHT = 56.0
SHAFT = 16.0  # the piece of bar inside the collar
GAP = 1.0
# Colours of discs by the technical rules of international weightlifting (from memory): 25 red, 20 blue, 15 yellow,
# 10 green, 5 white, 2.5 red, 2 blue, 1.5 yellow, 1 green, 0.5 white. Others are steel. The number stands on each.
COLOURS = {
    25.0: "red",
    20.0: "blue",
    15.0: "yellow",
    10.0: "green",
    5.0: "white",
    2.5: "red",
    2.0: "blue",
    1.5: "yellow",
    1.0: "green",
    0.5: "white",
}
# Share of the full height from a mass on: bumpers are of one size, what is lighter shrinks.
HEIGHTS = ((9.9, 1.0), (4.4, 0.62), (2.2, 0.5), (0.0, 0.42))
FULL_KG = 20.0


@dataclass(frozen=True, slots=True)
class PlateBox:
    """One plate: its box, colour class and label; `upright` labels fit across it."""

    x: float
    y: float
    width: float
    height: float
    colour: str
    label: str
    upright: bool


@dataclass(frozen=True, slots=True)
class BarDrawing:
    """All coordinates of one end of a bar, and in words what is on it."""

    width: float
    height: float
    plates: tuple[PlateBox, ...]
    collar_x: float
    words: str


def colour_of(piece: Piece) -> str:
    """Return the colour class of a plate: by the rules for kg, steel for lb and for odd ones."""
    return "steel" if piece.unit == "lb" else COLOURS.get(piece.stamp, "steel")


def bar_drawing(stack: Sequence[Piece]) -> BarDrawing:
    """Return the drawing of the plates on one side."""
    x, plates = SHAFT, []
    for piece in stack:
        width = 20.0 + 8.0 * min(1.0, piece.mass_kg / FULL_KG)
        height = HEIGHT * next(share for least_kg, share in HEIGHTS if piece.mass_kg >= least_kg)
        label = piece.label.removesuffix(" lb")
        plates.append(PlateBox(x, (HEIGHT - height) / 2, width, height, colour_of(piece), label, len(label) <= 2))
        x += width + GAP
    words = " + ".join(piece.label for piece in stack) or "empty bar"
    return BarDrawing(x + 22.0, HEIGHT, tuple(plates), x, words)
