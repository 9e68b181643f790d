"""Numbers that were learnt: kept with their doubts and how these go together, aged, taken back."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from typing import NamedTuple

import numpy as np

from sorvek.core.athlete import DOUBT_FRAC, Athlete, Figure, Origin, Together

# A number drifts by so much a month, as a share of it; judgement.
DRIFT_A_MONTH = 0.015
# What moves a number or its doubt by less is not worth a line; judgement.
WORTH_TELLING_FRAC = 0.02
# A surprise beyond two doubts says that something else was wrong that day.
MOST_DOUBTS = 2.0
BODY = {"critical_power_w": ("critical power", "W"), "w_prime_j": ("W′ (work above CP)", "J")}


@dataclass(frozen=True, slots=True)
class Lesson:
    """One number before and after a result; doubts are shares of it (one standard deviation).

    `key` is a movement or a field of the athlete, `unit` that of the number; `together` says by key how its doubt
    goes together with those of other numbers afterwards.
    """

    key: str
    label: str
    unit: str
    before: Figure
    before_doubt_frac: float
    after: float
    after_doubt_frac: float
    together: Mapping[str, float] = field(default_factory=dict)

    def weight(self) -> float:
        """Return how much there is to tell: how far the number moved and its doubt shrank, in shares of it."""
        return abs(self.after / self.before.value - 1.0) + self.before_doubt_frac - self.after_doubt_frac

    def then(self, later: "Lesson") -> "Lesson":
        """Return the lesson of both: what a later one of the same number adds, from what stood before this one."""
        return replace(later, before=self.before, before_doubt_frac=self.before_doubt_frac, together=self.together)


class Kept(NamedTuple):
    """A number that was learnt, and what stood there before; None where there was nothing."""

    unit: str
    learnt: float
    value: float | None
    doubt_frac: float | None
    day: str | None
    together: Mapping[str, float] | None = None


def with_number(athlete: Athlete, key: str, unit: str, value: float | None) -> Athlete:
    """Return the athlete with a number entered where it belongs; None takes it out."""
    if key == "critical_power_w":
        return replace(athlete, critical_power_w=value)
    if key == "w_prime_j":
        return replace(athlete, w_prime_j=value)
    numbers = dict(athlete.one_rep_max_kg if unit == "kg" else athlete.unbroken)
    numbers.pop(key, None)
    if value is not None:
        numbers[key] = value
    return replace(athlete, one_rep_max_kg=numbers) if unit == "kg" else replace(athlete, unbroken=numbers)


def _entered(athlete: Athlete, key: str, unit: str) -> float | None:
    if key in BODY:
        number: float | None = getattr(athlete, key)
        return number
    return (athlete.one_rep_max_kg if unit == "kg" else athlete.unbroken).get(key)


def aged(athlete: Athlete, day: str) -> Athlete:
    """Return the athlete as known on a day (ISO): what was learnt long before is doubted more, as people change."""
    learnt, shares = dict(athlete.learnt), dict[str, float]()
    for key, doubt in athlete.learnt.items():
        since = athlete.measured_on.get(key, day)
        months = max(0, 12 * (int(day[:4]) - int(since[:4])) + int(day[5:7]) - int(since[5:7]))
        learnt[key] = max(doubt, min(DOUBT_FRAC[Origin.TIER], float(np.hypot(doubt, DRIFT_A_MONTH * months))))
        shares[key] = doubt / learnt[key]
    return Together(replace(athlete, learnt=learnt)).weakened(shares)


def learn(athlete: Athlete, lessons: Iterable[Lesson], day: str) -> tuple[Athlete, dict[str, Kept]]:
    """Return the athlete with numbers learnt on a day (ISO), and what stood there before."""
    before, lessons = {}, tuple(lessons)
    for lesson in lessons:
        key, unit = lesson.key, lesson.unit
        old = _entered(athlete, key, unit)
        together = Together(athlete).of(key) or None
        before[key] = Kept(unit, lesson.after, old, athlete.learnt.get(key), athlete.measured_on.get(key), together)
        athlete = replace(
            with_number(athlete, key, unit, lesson.after),
            learnt={**athlete.learnt, key: round(lesson.after_doubt_frac, 4)},
            measured_on={**athlete.measured_on, key: day},
        )
    for lesson in lessons:
        athlete = Together(athlete).replaced(lesson.key, lesson.together)
    return athlete, before


def unlearn(athlete: Athlete, before: Mapping[str, Kept]) -> Athlete:
    """Return the athlete with learnt numbers taken back; what was measured or learnt since stays."""
    for key, (unit, number, value, doubt, day, together) in before.items():
        if key not in athlete.learnt or _entered(athlete, key, unit) != number:
            continue
        learnt = {name: old for name, old in athlete.learnt.items() if name != key}
        days = {name: old for name, old in athlete.measured_on.items() if name != key}
        athlete = replace(
            with_number(athlete, key, unit, value),
            learnt=learnt if doubt is None else {**learnt, key: doubt},
            measured_on=days if day is None else {**days, key: day},
        )
        athlete = Together(athlete).replaced(key, together or {})
    return athlete
