"""Another movement in place of one an athlete must not do."""

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from sorvek.core.athlete.athlete import Athlete
from sorvek.core.workout import Item, MaxLift, Movement, Size, Workout, unroll

MOST_OFFERS = 6


def flagged_movements(workout: Workout, athlete: Athlete) -> tuple[str, ...]:
    """Return the movements of a workout that carry an injury flag of the athlete, in the order of the work."""
    if not athlete.flags:
        return ()
    course = unroll(workout, athlete.division, athlete.sex)
    names = dict.fromkeys(slot.movement.name for slot in course.slots)
    names |= dict.fromkeys(workout.lifted)
    return tuple(name for name in names if name in athlete.flags)


def substitutes_for(workout: Workout, name: str, athlete: Athlete) -> tuple[Movement, ...]:
    """Return movements that could stand in, those first that share least of the muscles the flagged one loads.

    Only such as need no size or the size that is announced, for a max lift only lifts; a coach and a
    professional decide, not this list.
    """
    movements = workout.library.movements
    flagged = movements[name]
    burden = flagged.styles[0].weights

    def shared(movement: Movement) -> float:
        return sum(a * b for a, b in zip(burden, movement.styles[0].weights, strict=True))

    fits = [
        m
        for m in movements.values()
        if m.name not in athlete.flags and m.name != name and m.size in ("", flagged.size) and m.size != "unit"
        if m.styles[0].lift or name not in workout.lifted
    ]
    return tuple(sorted(fits, key=lambda m: (shared(m), m.name)))[:MOST_OFFERS]


def with_substitutes(workout: Workout, instead: Mapping[str, str]) -> Workout:
    """Return the workout with every item of a movement replaced; a size it has no use for is dropped."""
    movements = workout.library.movements

    def swap(block: Any) -> Any:
        if isinstance(block, Item):
            if block.movement not in instead:
                others = tuple((label, instead.get(name, name)) for label, name in block.others)
                return replace(block, others=others)
            new = movements[instead[block.movement]]
            size = block.size if new.size == movements[block.movement].size else Size()
            return replace(block, movement=new.name, size=size, unit="", style="")
        body = getattr(block, "body", None)
        return block if body is None else replace(block, body=tuple(swap(inner) for inner in body))

    def swap_lift(lift: MaxLift | None) -> MaxLift | None:
        if lift is None:
            return None
        (name, _), *more = ((instead.get(part, part), reps) for part, reps in lift.parts)
        return replace(lift, movement=name, more=tuple(more), second=swap_lift(lift.second))

    return replace(workout, body=tuple(swap(block) for block in workout.body), lift=swap_lift(workout.lift))
