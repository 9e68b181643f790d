"""The next decisions as a tree: an attempt, what follows if it is made or missed, and what follows that."""

from collections.abc import Callable
from dataclasses import dataclass

from sorvek.core.lift import Branch
from sorvek.core.quantities import clock

WIDTH, HEIGHT = 700.0, 184.0
# Left edges of the boxes by depth, and their size; the middle of a box halves its parent's room.
COLUMNS, BOX_WIDTH, BOX_HEIGHT = (4.0, 272.0, 540.0), 156.0, 34.0
DEPTH = len(COLUMNS)
LABEL_BELOW = 15.0


@dataclass(frozen=True, slots=True)
class TreeBox:
    """An attempt: its box, the load with its start, and its chance in words."""

    x: float
    y: float
    load: str
    chance: str


@dataclass(frozen=True, slots=True)
class TreeEdge:
    """The way from an attempt to the next: where it goes, and whether it is that of a make."""

    path: str
    x: float
    y: float
    made: bool


@dataclass(frozen=True, slots=True)
class LiftTree:
    """All coordinates of the tree; `ends` are places where nothing more is tried."""

    width: float
    height: float
    box_width: float
    box_height: float
    boxes: tuple[TreeBox, ...]
    edges: tuple[TreeEdge, ...]
    ends: tuple[tuple[float, float], ...]


def lift_tree(first: Branch, load_words: Callable[[float], str]) -> LiftTree:
    """Return the tree from an attempt on, made above and missed below."""
    boxes: list[TreeBox] = []
    edges: list[TreeEdge] = []
    ends: list[tuple[float, float]] = []

    def grow(branch: Branch, depth: int, top: float, room: float) -> None:
        x, y = COLUMNS[depth], top + room / 2
        words = f"{load_words(branch.load_kg)} at {clock(branch.start_s)}"
        boxes.append(TreeBox(x, y - BOX_HEIGHT / 2, words, f"goes up {100 * branch.chance:.0f} %"))
        if depth + 1 == DEPTH:
            return
        for made, then in ((True, branch.if_made), (False, branch.if_missed)):
            above = top if made else top + room / 2
            from_x, to_x, to_y = x + BOX_WIDTH, COLUMNS[depth + 1], above + room / 4
            bend = (from_x + to_x) / 2
            path = f"M{from_x:.1f} {y:.1f} C{bend:.1f} {y:.1f} {bend:.1f} {to_y:.1f} {to_x:.1f} {to_y:.1f}"
            edges.append(TreeEdge(path, to_x - 6, to_y + (-6 if made else LABEL_BELOW), made))
            if then is None:
                ends.append((to_x, to_y))
            else:
                grow(then, depth + 1, above, room / 2)

    grow(first, 0, 0.0, HEIGHT)
    return LiftTree(WIDTH, HEIGHT, BOX_WIDTH, BOX_HEIGHT, tuple(boxes), tuple(edges), tuple(ends))
