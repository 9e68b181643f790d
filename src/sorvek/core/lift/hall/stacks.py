"""Stacks of plates: what a change from one load to the next takes, and the stacks that make a ladder quick.

Plates go on heaviest first, so to reach an inner one the outer come off.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from sorvek.core.lift.hall.plates import BIN_KG, Gym, Load, Piece, Stack, stack_of
from sorvek.core.simulation import Floats, Ints

# For the few loads of a ladder more ways are looked at, and of all there may be no more than so many.
LADDER_WAYS, MOST_WAYS = 16, 200
# A change there is no time for counts as so many plates for every plate too many.
LATE_PLATES = 1000
NEVER = 9_999


@dataclass(frozen=True, slots=True)
class Change:
    """What happens to one side of the bar: `off` from the outside in, then `on` from the inside out."""

    off: Stack
    on: Stack


def change(before: Stack, after: Stack) -> Change:
    """Return the least that must be moved: what both have in common from the inside stays."""
    kept = (len(before) + len(after) - moved(before, after)) // 2
    return Change(before[kept:][::-1], after[kept:])


def moved(before: Stack, after: Stack) -> int:
    """Return how many plates a change moves on one side."""
    kept = 0
    for a, b in zip(before, after, strict=False):
        if a is not b and a != b:
            break
        kept += 1
    return len(before) + len(after) - 2 * kept


def _bins(masses_kg: Floats) -> Ints:
    return np.round(masses_kg / (BIN_KG / 2) + 1e-6).astype(np.int64)


def _fewest_plates(pairs: Sequence[tuple[Piece, int]], top: int) -> list[NDArray[np.int16]]:
    """Return for the plates from every kind on the fewest that make each mass on one side; NEVER for none.

    A list of arrays (top + 1,) over bins of half a BIN_KG; the last is for no plates at all.
    """
    made = {0: (0, 0.0)}
    tables = []
    for kind in range(len(pairs), -1, -1):
        if kind < len(pairs):
            piece, count = pairs[kind]
            wider: dict[int, tuple[int, float]] = {}
            for plates, mass in made.values():
                for n in range(count + 1):
                    total = mass + n * piece.mass_kg
                    key = round(total / (BIN_KG / 2) + 1e-6)
                    if key > top:
                        break
                    wider[key] = min(wider.get(key, (NEVER, 0.0)), (plates + n, total))
            made = wider
        table = np.full(top + 1, NEVER, dtype=np.int16)
        for key, (plates, _) in made.items():
            table[key] = plates
        tables.append(table)
    return tables[::-1]


@lru_cache(maxsize=64)
def fewest_moved(gym: Gym, sides_kg: tuple[float, ...]) -> NDArray[np.int64]:
    """Return the fewest plates that must be moved on one side between any two of these loads; shape (L, L).

    `sides_kg` are the masses of the plates on one side. Over all stacks of both: it stands for the change from
    one to the other wherever the loaders know what comes next and stack both to fit. More plates in the hall
    never make any of these numbers larger. What two stacks have in common is a core, heaviest plates first; for
    every core the fewest plates that complete it to each load are known, and the best core for both counts.
    """
    x = np.array(sides_kg)
    tables = _fewest_plates(gym.pairs, int(_bins(x.max(initial=0.0))))
    completions = [tables[0][_bins(x)][:, None]]
    cores = np.zeros(1)
    for kind, (piece, count) in enumerate(gym.pairs):
        longer = [cores]
        fewest = np.full((len(x), len(cores)), NEVER, dtype=np.int16)
        # A core is completed by lighter plates, or by one more of its last kind and what completes that.
        for n in range(min(count, int(x.max() / piece.mass_kg + 1e-6)), 0, -1):
            masses = cores + n * piece.mass_kg
            rest = _bins(x[:, None] - masses)
            fits = np.where(rest >= 0, tables[kind + 1][np.maximum(rest, 0)], NEVER)
            fewest = np.minimum(np.minimum(fewest + 1, NEVER), fits).astype(np.int16)
            # What fewer than two loads are completed from is no core of a change.
            completions.append(fewest[:, (fewest < NEVER).sum(axis=0) > 1])
            longer.append(masses[masses <= x.max() + BIN_KG / 4])
        _, kept = np.unique(_bins(np.concatenate(longer)), return_index=True)
        cores = np.concatenate(longer)[kept]
    by_core = np.concatenate(completions, axis=1)
    between = np.stack([(row + by_core).min(axis=1) for row in by_core]).astype(np.int64)
    np.fill_diagonal(between, 0)
    return between


@lru_cache(maxsize=512)
def with_more_ways(gym: Gym, bar: Piece, load: Load) -> Load:
    """Return a load with up to LADDER_WAYS ways to make it, those with the fewest plates first."""
    found: list[tuple[int, ...]] = []
    left_kg = [sum(p.mass_kg * n for p, n in gym.pairs[kind:]) for kind in range(len(gym.pairs) + 1)]

    def complete(counts: tuple[int, ...], rest_kg: float) -> None:
        kind = len(counts)
        if rest_kg < -1e-6 or rest_kg > left_kg[kind] + 1e-6 or len(found) > MOST_WAYS:
            return
        if kind == len(gym.pairs):
            found.append(counts)
            return
        piece, count = gym.pairs[kind]
        for n in range(count, -1, -1):
            complete((*counts, n), rest_kg - n * piece.mass_kg)

    complete((), (load.mass_kg - bar.mass_kg - gym.collars_kg) / 2)
    stacks = sorted((stack_of(gym, counts) for counts in found), key=len)
    return Load(load.mass_kg, tuple(dict.fromkeys([*load.ways, *stacks]))[:LADDER_WAYS])


def stacks_for(ladder: Sequence[Load], at_most: Sequence[int] = ()) -> tuple[Stack, ...]:
    """Return for every load of a ladder the way to load it, so that fewest plates are handled in all.

    Plates of the first load count as handled. `at_most` says how many there is time for in each change; no more
    are moved there if it can be helped. Exact over the ways known for each load (dynamic programming).
    """
    if not ladder:
        return ()
    limits = at_most or [LATE_PLATES] * (len(ladder) - 1)
    best: dict[Stack, tuple[int, tuple[Stack, ...]]] = {way: (len(way), (way,)) for way in ladder[0].ways}
    for load, limit in zip(ladder[1:], limits, strict=True):

        def dear(before: Stack, way: Stack, limit: int = limit) -> int:
            plates = moved(before, way)
            return plates + LATE_PLATES * max(0, plates - limit)

        best = {
            way: min(
                ((cost + dear(before, way), (*path, way)) for before, (cost, path) in best.items()),
                key=lambda entry: entry[0],
            )
            for way in load.ways
        }
    return min(best.values(), key=lambda entry: entry[0])[1]


def handled(stacks: Sequence[Stack]) -> int:
    """Return the plates moved on one side over a whole ladder, the first load included."""
    return len(stacks[0]) + sum(moved(a, b) for a, b in pairwise(stacks)) if stacks else 0


def staging(stacks: Sequence[Stack]) -> tuple[Piece, ...]:
    """Return the plates to lay beside the bar, one side, in the order in which they go on after the first load."""
    return tuple(piece for a, b in pairwise(stacks) for piece in change(a, b).on)
