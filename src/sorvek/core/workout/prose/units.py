"""The unit of numbers that are written without one: what bars, balls and dumbbells come in."""

from collections.abc import Sequence

from sorvek.core.quantities import KG_PER_LB
from sorvek.core.workout.movements import Movement, SizeKind
from sorvek.core.workout.prose.sizes import Quantity
from sorvek.core.workout.prose.words import Token

# Kettlebells as they are cast in kg; none of these is a size in lb (common practice, no source).
KETTLEBELLS_KG = {8, 12, 16, 20, 24, 28, 32, 36, 40}
# Balls as they are sold in kg and in lb, and the dumbbell from which on it is lb; common practice, no source.
BALLS = {"kg": {3, 4, 5, 6, 7, 8, 9, 12}, "lb": {14, 16, 18, 20, 30}}
LEAST_DUMBBELL_LB = 35
# An empty bar in lb weighs that much for men and for women; less on it is kg (trade measures, no source).
BARE_LB = (45, 35)
# A qualifier's bar as a share of the usual load; judgement.
LEAST_USUAL, MOST_USUAL = 0.6, 1.8


def usual_unit(words: Sequence[Token]) -> str:
    """Return kg or lb if an announcement speaks of one of them only; kg also where it measures in cm alone."""
    units = {
        t.low.rstrip("s") for t in words if t.unit("kg", "lb") or t.low in ("kg", "lb", "lbs", "pounds", "kilos")
    }
    units = {{"pound": "lb", "kilo": "kg", "kilogram": "kg", "#": "lb"}.get(unit, unit) for unit in units}
    metric = any(t.unit("cm") for t in words) and not any(t.unit("in", "ft") for t in words)
    return next(iter(units)) if len(units) == 1 else "kg" if metric and not units else ""


def unit_of(movement: Movement, amounts: Sequence[Quantity], usual: str) -> tuple[str, str]:
    """Return what is wrong with the unit of amounts (empty if nothing) and the unit; the text's is `usual`."""
    kind = movement.size
    if amounts[0].unit:
        return "", amounts[0].unit
    if kind is SizeKind.HEIGHT:
        return "", "in" if max(a.value for a in amounts) <= 40 else "cm"
    if kind is SizeKind.DISTANCE:
        return "in m or ft?", ""
    cast_kg = "kettlebell" in movement.gear and all(a.value in KETTLEBELLS_KG for a in amounts)
    halves = any(a.value % 1 for a in amounts)  # 22.5 and 42.5 are sizes in kg only
    values = [a.value for a in amounts]
    unit = usual or ("kg" if cast_kg or halves else _cast(movement, values) or _likely(movement, values))
    return ("", unit) if unit else ("in kg or lb?", "")


def _cast(movement: Movement, values: Sequence[float]) -> str:
    """Return the unit sizes can only be in, empty where both are made."""
    if "ball" in movement.gear:
        return next((unit for unit, sizes in BALLS.items() if sizes.issuperset(values)), "")
    if movement.gear.startswith("barbell") and any(a < b for a, b in zip(values, BARE_LB, strict=False)):
        return "kg"
    held = movement.gear.split(";")[0] in ("dumbbell", "two dumbbells")
    return "lb" if held and max(values) >= LEAST_DUMBBELL_LB else ""


def _likely(movement: Movement, values: Sequence[float]) -> str:
    """Return the unit in which loads of a bar are near the usual ones, empty where both or none would be.

    Loads in lb end in 5, as plates of 10, 25 and 45 lb on a bar of 45 or 35 lb do (common practice, no source).
    """
    if "barbell" not in movement.gear or len(values) < 2:
        return ""
    shares = {unit: values[0] * per / movement.ref_men for unit, per in (("kg", 1.0), ("lb", KG_PER_LB))}
    near = [unit for unit, share in shares.items() if LEAST_USUAL <= share <= MOST_USUAL]
    if any(value % 10 != 5 for value in values):
        near = [unit for unit in near if unit != "lb"]
    return near[0] if len(near) == 1 else ""
