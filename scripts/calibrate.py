"""Fit local recovery and lasting fatigue to published repeated sets; show how far off the constants in force are.

    .venv/bin/python scripts/calibrate.py

One muscle that works alone, sets to failure or of a given size, whole rests: the equations of docs/model.md with
fractions of reps. Fitted are how fast push and squat refill, how fast lasting fatigue fades and what depth costs;
how far and how steeply ceilings fall is held, since levels of long workouts rest on them.
"""

import math
from dataclasses import dataclass

import numpy as np
from scipy.optimize import differential_evolution

from sorvek.core import constants as c

PUSH = c.RESOURCES.index("push")
REP_S = 2.5


@dataclass(frozen=True)
class Protocol:
    """Sets of one exercise as published: what is compared is reps set by set, else their sum or the last set."""

    source: str
    longest: float
    rest_s: float
    sets: int
    reps: tuple[float, ...] = ()
    total: float = 0.0
    size: float = math.inf
    last_at_least: float = 0.0
    slack: float = 1.5


# All from memory, slacks as they are remembered.
WB06 = "Willardson & Burkett 2006, J. Strength Cond. Res. 20(2)"
WB05 = "Willardson & Burkett 2005, J. Strength Cond. Res. 19(1)"
PROTOCOLS = (
    Protocol(WB06, 15, 30, 5, (15, 7, 5, 4, 3.5)),
    Protocol(WB06, 15, 60, 5, (15, 9.5, 7, 6, 5)),
    Protocol(WB06, 15, 120, 5, (15, 12, 10, 8.5, 7.5)),
    Protocol(WB05, 8, 60, 4, total=18.5, slack=2),
    Protocol(WB05, 8, 120, 4, total=21, slack=2),
    Protocol(WB05, 8, 300, 4, total=26.5, slack=2),
    Protocol("half sets are nearly free; judgement", 15, 60, 5, size=7, last_at_least=12.5, slack=0.1),
)


def sets_of(protocol: Protocol, tau_s: float, fade_s: float, depth_cost: float) -> list[float]:
    """Return the reps of every set; the last one always goes to failure."""
    b, f, k = 1.0, 0.0, 1.0 / protocol.longest
    lasting = protocol.longest**3 / (protocol.longest**3 + c.LASTING_HALF_U**3)
    restart = c.RESTART_REPS * protocol.longest / (protocol.longest + c.RESTART_HALF_U)
    done = []
    for number in range(protocol.sets):
        if number:
            ceiling = 1.0 - c.CEILING_DROP * (1.0 - math.exp(-f / c.CEILING_SCALE))
            b += max(0.0, ceiling - b) * (1.0 - math.exp(-protocol.rest_s / tau_s))
            f *= math.exp(-protocol.rest_s / fade_s)
            b = max(0.0, b - restart * k)
        last = number == protocol.sets - 1
        left = b / k if last else min(b / k, protocol.size)
        done.append(left)
        while left > 1e-9:
            part = min(1.0, left)
            left -= part
            b -= part * k
            deep = 1.0 + depth_cost * max(0.0, 1.0 - b) ** 6
            f = f * math.exp(-REP_S * part / fade_s) + lasting * part * k * deep
    return done


def residuals(protocol: Protocol, done: list[float]) -> list[float]:
    """Return what is off, in slacks: 1 is just within."""
    if protocol.reps:
        return [(a - b) / protocol.slack for a, b in zip(done[1:], protocol.reps[1:], strict=True)]
    if protocol.total:
        return [(sum(done) - protocol.total) / protocol.slack]
    return [min(0.0, done[-1] - protocol.last_at_least) / protocol.slack]


def misfit(constants: np.ndarray) -> float:
    """Return the sum of squared residuals; beyond the slack they count twenty times."""
    found = np.abs([r for p in PROTOCOLS for r in residuals(p, sets_of(p, *constants))])
    return float((found**2).sum() + 20 * (np.maximum(0.0, found - 1.0) ** 2).sum())


def show(title: str, constants: tuple[float, ...]) -> None:
    """Print what every protocol gives and how far off it is."""
    tau_s, fade_s, depth_cost = constants
    print(f"{title}: recovery {tau_s:.1f} s, fading {fade_s:.0f} s, depth cost {depth_cost:.1f};", end=" ")
    print(f"misfit {misfit(np.array(constants)):.2f}")
    for protocol in PROTOCOLS:
        done = sets_of(protocol, *constants)
        worst = max(residuals(protocol, done), key=abs)
        wanted = protocol.reps or protocol.total or f"last at least {protocol.last_at_least}"
        print(f"  {protocol.longest:g} reps, rest {protocol.rest_s:g} s ({protocol.source}):")
        print(
            f"    {[round(d, 1) for d in done]}, in all {sum(done):.1f}; wanted {wanted}; worst {worst:+.1f} slacks"
        )


if __name__ == "__main__":
    show("in force", (c.RECOVERY_TAU_S[PUSH], c.FATIGUE_TAU_S, c.DEPTH_COST))
    found = differential_evolution(misfit, [(8, 60), (60, 900), (0, 120)], rng=1, tol=1e-6)
    show("fitted", tuple(found.x))
