"""The lane from above, to scale: one metre has the same length both ways."""

from dataclasses import dataclass

from sorvek.core.prep import LanePlan

MOST_WIDTH, MOST_PER_M, TOP, FOOT = 1040.0, 92.0, 22.0, 30.0


@dataclass(frozen=True, slots=True)
class LaneThing:
    """One thing as drawn: its box, its class by kind, and its number in the key."""

    x: float
    y: float
    width: float
    height: float
    kind: str
    number: int
    label: str


@dataclass(frozen=True, slots=True)
class LaneDrawing:
    """All coordinates of a lane in pixels; `per_m` is the scale, `metre_x` where its bar of one metre ends."""

    width: float
    height: float
    top: float
    floor: float
    per_m: float
    things: tuple[LaneThing, ...]
    length_text: str


def lane_drawing(lane: LanePlan) -> LaneDrawing:
    """Return the drawing of a lane: x along it from the start line, y across it."""
    per_m = min(MOST_PER_M, MOST_WIDTH / lane.length_m)
    things = tuple(
        LaneThing(
            one.x_m * per_m,
            TOP + one.y_m * per_m,
            one.length_m * per_m,
            one.width_m * per_m,
            one.thing.name.lower().replace("_", "-"),
            number,
            one.label,
        )
        for number, one in enumerate(lane.things, 1)
    )
    floor = TOP + lane.width_m * per_m
    return LaneDrawing(
        lane.length_m * per_m,
        floor + FOOT,
        TOP,
        floor,
        per_m,
        things,
        f"{lane.length_m:.1f} × {lane.width_m:.1f} m",
    )
