"""Which unmeasured numbers of an athlete matter on a workout: what to ask first."""

from dataclasses import dataclass

import numpy as np

from sorvek.core.athlete import Figure, Origin, body_figure
from sorvek.core.plan import Plan
from sorvek.core.planner import N_COLUMNS, Bench, build_menu
from sorvek.core.simulation import Problem
from sorvek.core.simulation import columns as k
from sorvek.core.workout import Form

BODY_NUMBERS = (
    ("critical_power_w", "critical power", "W"),
    ("w_prime_j", "W′", "J"),
    ("mass_kg", "mass", "kg"),
    ("stature_cm", "stature", "cm"),
)


@dataclass(frozen=True, slots=True)
class Gap:
    """A number nobody measured: `key` is the field to fill, `swing` how far the score moves within its doubt.

    `swing` is in `unit`: seconds of a finished workout, else reps.
    """

    key: str
    ask: str
    figure: Figure
    swing: float
    unit: str


def missing_numbers(problem: Problem, plan: Plan) -> tuple[Gap, ...]:
    """Return the unmeasured numbers the plan's score depends on, the one that moves it most first.

    Each is moved down and up by its doubt while everything else stays.
    Raises: SetsError if the plan does not fit the course.
    """
    bench = Bench(problem, build_menu(problem), dict(enumerate(plan.slots)))
    kept = np.zeros((1, len(plan.slots), N_COLUMNS), dtype=np.int64)
    timed = problem.course.workout.form is Form.FOR_TIME

    def score(u: np.ndarray, who: np.ndarray) -> tuple[float, bool]:
        out = bench.evaluate(kept, (u[None], who[None]))[2][0]
        done = bool(out[k.FINISHED] > 0) and timed
        return (float(out[k.TIME]) if done else float(out[k.DONE]), done)

    def gap(key: str, ask: str, figure: Figure, index: int, of_who: bool) -> Gap | None:
        doubt = problem.athlete.doubt_frac(key, figure)
        results = []
        for factor in (1 - doubt, 1 + doubt):
            u, who = problem.unbroken.copy(), problem.who.copy()
            (who if of_who else u)[index] *= factor
            results.append(score(u, who))
        same = results[0][1] == results[1][1]
        swing = abs(results[0][0] - results[1][0]) if same else float("inf")
        return Gap(key, ask, figure, swing, "s" if results[0][1] and same else "reps") if swing > 0 else None

    found: dict[str, Gap] = {}
    for index, slot in enumerate(problem.course.slots):
        variant = problem.first_variant[index] + _style_index(problem, plan, index)
        able = problem.capacities[index][variant - problem.first_variant[index]]
        if able.unbroken.origin is Origin.MEASURED:
            continue
        name = slot.movement.name
        ask = f"1RM {name}" if able.one_rep_max_kg and slot.movement.styles[0].lift else f"longest set of {name}"
        new = gap(name, ask, able.unbroken, variant, of_who=False)
        if new and (name not in found or found[name].swing < new.swing):
            found[name] = new
    for key, ask, column in (("critical_power_w", "critical power", 0), ("w_prime_j", "W′ (work above CP)", 1)):
        figure = body_figure(problem.athlete, key)
        new = gap(key, ask, figure, column, of_who=True) if figure.origin is not Origin.MEASURED else None
        if new:
            found[key] = new
    return tuple(sorted(found.values(), key=lambda g: -g.swing))


def _style_index(problem: Problem, plan: Plan, slot: int) -> int:
    movement = problem.course.slots[slot].movement
    return movement.styles.index(movement.style(plan.slots[slot][-1].scheme.style))


@dataclass(frozen=True, slots=True)
class NumberOrigin:
    """One number behind a plan: its label, its value with unit, where it comes from and the day it was measured."""

    label: str
    value: str
    origin: str
    day: str


def origins(problem: Problem) -> tuple[NumberOrigin, ...]:
    """Return where the numbers behind a plan come from."""
    athlete = problem.athlete
    rows = []
    for slot, styles in zip(problem.course.slots, problem.capacities, strict=True):
        day = athlete.measured_on.get(slot.movement.name, "")
        for style, able in zip(slot.movement.styles, styles, strict=True):
            label = f"{slot.label}{', ' + style.name if style.name and len(styles) > 1 else ''}"
            origin = able.unbroken.origin.value
            rows.append(NumberOrigin(f"{label}: longest set", f"{able.unbroken.value:.1f} reps", origin, day))
            if able.one_rep_max_kg:
                formula = f"{origin}; reps at the load by {athlete.curve.value}"
                rows.append(NumberOrigin(f"{label}: 1RM", f"{able.one_rep_max_kg:.1f} kg", formula, day))
            rows.append(NumberOrigin(f"{label}: one rep", f"{able.cycle.value:.2f} s", able.cycle.origin.value, ""))
    for key, label, unit in BODY_NUMBERS:
        figure = body_figure(athlete, key)
        day = athlete.measured_on.get(key, "")
        rows.append(NumberOrigin(label, f"{figure.value:.0f} {unit}", figure.origin.value, day))
    return tuple(dict.fromkeys(rows))
