"""Heats and who warms up on which machine when: in a heat of six with two machines nobody waits.

Turns are given backwards from the start: whoever must be done last gets the latest turn there is. For turns of one
length no other order makes people come earlier by less in sum (tests hold it against brute force).
"""

from collections.abc import Sequence
from dataclasses import dataclass

from sorvek.core.errors import PrepError

MOST_LANES, MOST_MACHINES, LONGEST_GAP_S = 40, 40, 4 * 3600.0


@dataclass(frozen=True, slots=True)
class Hall:
    """What the hall has: lanes of a heat, machines to warm up on, and the seconds from one start to the next.

    `mixed` heats take some of every tier; else equals start together.
    """

    lanes: int = 6
    machines: int = 2
    between_s: float = 1200.0
    mixed: bool = False

    def check(self) -> None:
        """Raise PrepError naming what cannot be."""
        for name, value, most in (("lanes", self.lanes, MOST_LANES), ("machines", self.machines, MOST_MACHINES)):
            if not 1 <= value <= most:
                raise PrepError(f"{value} {name}: give 1 to {most}")
        if not 60 <= self.between_s <= LONGEST_GAP_S:
            raise PrepError("heats follow each other after 1 to 240 minutes")


@dataclass(frozen=True, slots=True)
class Heat:
    """One heat: its number from 1, its start in s after the first, and who is in it by lane."""

    number: int
    starts_s: float
    names: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Need:
    """A turn on a machine somebody needs: so long, and done by `due_s` on the clock of the first start."""

    name: str
    due_s: float
    length_s: float


@dataclass(frozen=True, slots=True)
class Turn:
    """A turn on a machine (from 1), from when to when, and by how much it ends earlier than it would alone."""

    name: str
    machine: int
    begins_s: float
    ends_s: float
    early_s: float


def heats_of(names: Sequence[str], hall: Hall) -> tuple[Heat, ...]:
    """Return athletes in heats, evenly: no heat has two lanes fewer than another.

    In their order from the first heat to the last, or for mixed heats dealt out like cards.

    Raises: PrepError for a hall that cannot be.
    """
    hall.check()
    count = -(-len(names) // hall.lanes)
    if hall.mixed:
        dealt = (names[i::count] for i in range(count))
        return tuple(Heat(i + 1, i * hall.between_s, tuple(there)) for i, there in enumerate(dealt))
    found, at = [], 0
    for i in range(count):
        size = len(names) // count + (1 if i < len(names) % count else 0)
        found.append(Heat(i + 1, i * hall.between_s, tuple(names[at : at + size])))
        at += size
    return tuple(found)


def machine_turns(needs: Sequence[Need], machines: int) -> tuple[Turn, ...]:
    """Return a turn for every need, no two at once on a machine, each as late as those after it allow."""
    free = [float("inf")] * machines
    turns = []
    for need in sorted(needs, key=lambda need: -need.due_s):
        machine = max(range(machines), key=lambda i: free[i])
        ends_s = min(need.due_s, free[machine])
        free[machine] = ends_s - need.length_s
        turns.append(Turn(need.name, machine + 1, free[machine], ends_s, need.due_s - ends_s))
    return tuple(sorted(turns, key=lambda turn: (turn.begins_s, turn.name)))
