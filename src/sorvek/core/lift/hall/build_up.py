"""The build-up before the clock: singles on the way to 75–80 %, timed back from the start."""

from dataclasses import dataclass
from itertools import pairwise

from sorvek.core.constants import WARM_UP_TOP_FRAC
from sorvek.core.lift.hall.crew import Crew, loading_s
from sorvek.core.lift.hall.plates import Gym, Piece, Stack, loads, nearest
from sorvek.core.lift.hall.stacks import moved, stacks_for

# Shares of the 1RM, reps there, and rest after each; common practice (75–80 % at the end), else judgement.
STEPS = ((0.40, 3, 60.0), (0.55, 2, 75.0), (0.65, 1, 90.0), (0.72, 1, 105.0), (WARM_UP_TOP_FRAC, 1, 0.0))
BAR_REPS, BAR_REST_S = 5, 60.0
# The last single ends so long before the start; judgement.
CALM_S = 300.0
SET_S = 15.0


@dataclass(frozen=True, slots=True)
class WarmUpSet:
    """One set of the build-up: load, plates on a side, reps, and the seconds left to the start as it begins."""

    load_kg: float
    stack: Stack
    reps: int
    before_s: float


def build_up(one_rep_max_kg: float, gym: Gym, bar: Piece, crew: Crew) -> tuple[WarmUpSet, ...]:
    """Return the warm-up sets in order, the empty bar first; loads rounded to what the plates allow.

    Two steps that round to the same load count once; a rest is never shorter than changing the plates takes.
    """
    empty_kg = bar.mass_kg + gym.collars_kg
    found = loads(gym, bar, 0.0, 10 * (max(empty_kg, one_rep_max_kg) // 10 + 1))
    chosen = [(found[0], BAR_REPS, BAR_REST_S)]
    for share, reps, rest_s in STEPS:
        load = nearest(found, share * one_rep_max_kg)
        if load.mass_kg > chosen[-1][0].mass_kg:
            chosen.append((load, reps, rest_s))
    stacks = stacks_for([load for load, _, _ in chosen])
    changes_s = [loading_s(moved(a, b), crew) for a, b in pairwise(stacks)]
    before_s, sets = CALM_S, []
    for i in range(len(chosen) - 1, -1, -1):
        load, reps, rest_s = chosen[i]
        if i < len(chosen) - 1:
            before_s += max(rest_s, changes_s[i])
        before_s += SET_S
        sets.append(WarmUpSet(load.mass_kg, stacks[i], reps, before_s))
    return tuple(reversed(sets))
