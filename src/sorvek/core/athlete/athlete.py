"""An athlete: what was measured, and what the model takes instead where nothing was."""

import math
import tomllib
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum
from functools import cache
from importlib.resources import files
from typing import Any

from sorvek.core.athlete.repetition import CurveName, one_rep_max, reps_at_load
from sorvek.core.constants import ERG_CAL_BASE_H, ERG_CAL_W, ERG_W_S3_M3, GRAVITY_M_S2, MODEL_STATURE_CM
from sorvek.core.workout import TIERS, Movement, PowerKind, SizeKind, Slot, Style, shipped_library

# Machines are pulled a little above critical power when nobody says otherwise; judgement.
MACHINE_POWER_FRAC = 1.15
# Balls are thrown to 10 and 9 ft where nothing is said (common practice, no source). Of somebody of the model's
# stature the ball is so high at the bottom of the squat, and the hands when it leaves and comes back; judgement.
USUAL_TARGET_M = {"m": 3.05, "f": 2.75}
BALL_LOW_M, HANDS_HIGH_M = 1.05, 2.2


class Origin(StrEnum):
    """Where a number comes from."""

    MEASURED = "measured"
    LEARNT = "learnt from a result"
    RELATED = "inferred from related movements"
    TIER = "tier default"


# How far a number may be off (one standard deviation), as a share of it; judgement.
DOUBT_FRAC = {Origin.MEASURED: 0.05, Origin.LEARNT: 0.15, Origin.RELATED: 0.15, Origin.TIER: 0.30}


@dataclass(frozen=True, slots=True)
class Figure:
    """A number that knows where it came from."""

    value: float
    origin: Origin


@dataclass(frozen=True, slots=True)
class Athlete:
    """What a coach entered. Reps by movement are longest fresh sets at the movement's reference load.

    `flags` names movements not to be done and why; `measured_on` the day (ISO) of a number, by its movement or
    field; `learnt` the doubt, as a share, of those that were not measured but learnt from a result, `together` how
    the doubts of two of those go together (a correlation; the earlier name first).
    """

    name: str
    tier: str
    sex: str = "m"
    division: str = ""
    mass_kg: float | None = None
    stature_cm: float | None = None
    critical_power_w: float | None = None
    w_prime_j: float | None = None
    unbroken: Mapping[str, float] = field(default_factory=dict)
    one_rep_max_kg: Mapping[str, float] = field(default_factory=dict)
    cycle_s: Mapping[str, float] = field(default_factory=dict)
    curve: CurveName = CurveName.EPLEY
    notes: str = ""
    flags: Mapping[str, str] = field(default_factory=dict)
    measured_on: Mapping[str, str] = field(default_factory=dict)
    learnt: Mapping[str, float] = field(default_factory=dict)
    together: Mapping[str, Mapping[str, float]] = field(default_factory=dict)

    def share_of_max(self, reps: int) -> float:
        """Return what can be lifted so many times in a row as a share of the 1RM, by the athlete's curve."""
        return 1.0 / one_rep_max(1.0, reps, self.curve)

    def origin(self, key: str) -> Origin:
        """Return where an entered number comes from; `key` is a movement or a field."""
        return Origin.LEARNT if key in self.learnt else Origin.MEASURED

    def doubt_frac(self, key: str, figure: Figure) -> float:
        """Return how far a number may be off, as a share of it; a learnt one carries its own doubt.

        `key` is a movement or a field.
        """
        usual = DOUBT_FRAC[figure.origin]
        return self.learnt.get(key, usual) if figure.origin is Origin.LEARNT else usual


@dataclass(frozen=True, slots=True)
class Capacity:
    """What one athlete brings to one slot in one style.

    `unbroken` is the longest fresh set in reps at the slot's load, `one_rep_max_kg` 0 where none matters;
    `coefficient` turns seconds a rep into watts (see `power_w`).
    """

    unbroken: Figure
    cycle: Figure
    one_rep_max_kg: float
    endurance_reps: float
    power: str
    coefficient: float


def typed_over(before: Athlete, after: Athlete, key: str = "") -> Athlete:
    """Return `after` with the learnt mark gone from numbers that differ from those `before`, and from `key`."""

    def entered(athlete: Athlete, name: str) -> tuple[float | None, ...]:
        body = getattr(athlete, name, None) if name.endswith(("_w", "_j")) else None
        return body, athlete.unbroken.get(name), athlete.one_rep_max_kg.get(name)

    same = {
        name: doubt
        for name, doubt in after.learnt.items()
        if name != key and entered(before, name) == entered(after, name)
    }
    return replace(after, learnt=same)


@cache
def tier_table() -> dict[str, Any]:
    """Return the prototypes and the factors for women from `tiers.toml`."""
    return tomllib.loads(files("sorvek.core.athlete").joinpath("tiers.toml").read_text(encoding="utf-8"))


def _women(athlete: Athlete, what: str) -> float:
    return float(tier_table()["women"][what]) if athlete.sex == "f" else 1.0


def body_figure(athlete: Athlete, what: str) -> Figure:
    """Return `mass_kg`, `stature_cm`, `critical_power_w` or `w_prime_j`, measured or from the tier."""
    measured = getattr(athlete, what)
    if measured is not None:
        return Figure(float(measured), athlete.origin(what))
    factors = {"mass_kg": "mass", "critical_power_w": "critical_power", "w_prime_j": "w_prime"}
    factor = _women(athlete, factors[what]) if what in factors else 0.94 if athlete.sex == "f" else 1.0
    return Figure(tier_table()[athlete.tier][what] * factor, Origin.TIER)


def _ratio(pairs: list[tuple[float, float]]) -> float | None:
    """Return the geometric mean of measured over default, None without a measurement."""
    usable = [(measured, default) for measured, default in pairs if measured > 0 and default > 0]
    if not usable:
        return None
    return math.exp(sum(math.log(m / d) for m, d in usable) / len(usable))


def _default_unbroken(athlete: Athlete, movement: Movement, style: Style) -> float:
    reps = style.unbroken[TIERS.index(athlete.tier)]
    if athlete.sex == "f" and movement.size not in (SizeKind.LOAD, SizeKind.UNIT) and not style.steady:
        reps *= 1 - _women(athlete, "upper_body") * max(style.weights[1], style.weights[2])
    return reps


def _unbroken_at_reference(athlete: Athlete, movement: Movement, style: Style) -> Figure:
    default = _default_unbroken(athlete, movement, style)
    if movement.name in athlete.unbroken:
        usual = _default_unbroken(athlete, movement, movement.styles[0])
        scale = default / usual if usual else 1.0
        return Figure(athlete.unbroken[movement.name] * scale, athlete.origin(movement.name))
    library = shipped_library().movements
    family = [
        (athlete.unbroken[m.name], _default_unbroken(athlete, m, m.styles[0]))
        for m in library.values()
        if m.family == movement.family and m.name in athlete.unbroken
    ]
    ratio = _ratio(family)
    if ratio is None:
        return Figure(default, Origin.TIER)
    return Figure(default * ratio, Origin.RELATED)


def lift_figure(athlete: Athlete, movement: Movement, style: Style) -> Figure:
    """Return the 1RM in kg of a barbell movement."""
    if movement.name in athlete.one_rep_max_kg:
        return Figure(athlete.one_rep_max_kg[movement.name], athlete.origin(movement.name))
    if movement.name in athlete.unbroken:
        load = movement.reference(athlete.sex)
        reps = max(1.0, athlete.unbroken[movement.name])
        return Figure(one_rep_max(load, min(reps, 36), athlete.curve), athlete.origin(movement.name))
    factor = style.lift_factor * _women(athlete, "one_rep_max")
    if style.lift in athlete.one_rep_max_kg:
        value = athlete.one_rep_max_kg[style.lift] * style.lift_factor
        return Figure(value, athlete.origin(style.lift) if style.lift_factor == 1 else Origin.RELATED)
    defaults = tier_table()[athlete.tier]["one_rep_max_kg"]
    scale = _women(athlete, "one_rep_max")
    ratio = _ratio([(v, defaults[k] * scale) for k, v in athlete.one_rep_max_kg.items() if k in defaults])
    if ratio is None:
        return Figure(defaults[style.lift] * factor, Origin.TIER)
    return Figure(defaults[style.lift] * factor * ratio, Origin.RELATED)


def entered_figure(athlete: Athlete, movement: Movement) -> Figure:
    """Return the number a coach enters for a movement: the 1RM in kg of a barbell lift, else the longest set."""
    style = movement.styles[0]
    return lift_figure(athlete, movement, style) if style.lift else _unbroken_at_reference(athlete, movement, style)


def _unbroken(athlete: Athlete, slot: Slot, style: Style) -> tuple[Figure, float, float]:
    """Return longest set at the slot's load, the 1RM behind it, and the cap light loads run into."""
    movement = slot.movement
    tier = tier_table()[athlete.tier]
    if style.lift:
        lift = lift_figure(athlete, movement, style)
        endurance = float(tier["deadlift_reps" if style.lift == "deadlift" else "endurance_reps"])
        reps = min(endurance, reps_at_load(slot.load_kg, lift.value, athlete.curve))
        return Figure(reps, lift.origin), lift.value, endurance
    reference = _unbroken_at_reference(athlete, movement, style)
    if movement.size is not SizeKind.LOAD:
        return reference, 0.0, 0.0
    load = movement.reference(athlete.sex)
    # Lighter implements give more reps along the same curve, but endurance ends at three times the set.
    endurance = 3 * max(1.0, reference.value)
    limit = one_rep_max(load, max(1.0, reference.value), CurveName.EPLEY)
    reps = min(endurance, reps_at_load(slot.load_kg, limit, CurveName.EPLEY))
    return Figure(reps if reference.value >= 1 else 0.0, reference.origin), limit, endurance


def power_w(power: str, coefficient: float, cycle_s: float) -> float:
    """Return the mechanical power of one rep done in `cycle_s` seconds.

    Source: work over time; for machines P = 2.80/(s per m)³ and kcal/h = 3.4416·P + 300 (from memory).
    """
    if power == "cal":
        return max(0.0, (3600 / cycle_s - ERG_CAL_BASE_H) / ERG_CAL_W)
    return coefficient / cycle_s**3 if power == "metre" else coefficient / cycle_s


def cycle_at_power_s(power: str, coefficient: float, watts: float) -> float:
    """Return the seconds a rep takes at a given mechanical power: the inverse of `power_w`."""
    if power == "cal":
        return 3600 / (ERG_CAL_W * watts + ERG_CAL_BASE_H)
    return float((coefficient / watts) ** (1 / 3)) if power == "metre" else coefficient / watts


def _size_factor(slot: Slot) -> float:
    """Return how much further the body travels than at the reference height or distance."""
    if slot.movement.size in (SizeKind.HEIGHT, SizeKind.DISTANCE) and slot.size:
        return slot.size / slot.movement.ref_men
    return 1.0


def _longer_flight_s(athlete: Athlete, slot: Slot) -> float:
    """Return how much longer a ball flies to the slot's target and back than to the usual one."""
    if not slot.target_m:
        return 0.0
    hands_m = HANDS_HIGH_M * body_figure(athlete, "stature_cm").value / MODEL_STATURE_CM
    heights_m = (slot.target_m - hands_m, USUAL_TARGET_M[athlete.sex] - hands_m)
    told_s, usual_s = (2 * math.sqrt(2 * max(0.0, height_m) / GRAVITY_M_S2) for height_m in heights_m)
    return told_s - usual_s


def capacity(athlete: Athlete, slot: Slot, style: Style) -> Capacity:
    """Return what the athlete brings to a slot in a style."""
    unbroken, limit_kg, endurance = _unbroken(athlete, slot, style)
    size = _size_factor(slot)
    if style.power is PowerKind.METRE:
        power = "cal" if slot.unit == "cal" else "metre"
        coefficient = ERG_W_S3_M3 * style.body_m**3
        watts = MACHINE_POWER_FRAC * body_figure(athlete, "critical_power_w").value
        cycle = Figure(cycle_at_power_s(power, coefficient, watts), Origin.TIER)
    else:
        power = "work"
        stature = body_figure(athlete, "stature_cm").value / MODEL_STATURE_CM
        mass = body_figure(athlete, "mass_kg").value
        body_m = style.body_m * (size if slot.movement.size in (SizeKind.HEIGHT, SizeKind.DISTANCE) else stature)
        bar_m = slot.target_m - BALL_LOW_M * stature if slot.target_m else style.bar_m * stature
        coefficient = (mass * body_m + slot.load_kg * bar_m) * GRAVITY_M_S2
        tier_s = style.cycle_s * tier_table()[athlete.tier]["cycle_factor"]
        cycle = Figure(tier_s * (size if slot.movement.size is SizeKind.DISTANCE else 1.0), Origin.TIER)
    measured = athlete.cycle_s.get(slot.movement.name)
    if measured is not None:
        scale = style.cycle_s / slot.movement.styles[0].cycle_s
        cycle = Figure(measured * scale, Origin.MEASURED)
    cycle = replace(cycle, value=cycle.value + _longer_flight_s(athlete, slot))
    return Capacity(unbroken, cycle, limit_kg, endurance, power, coefficient)
