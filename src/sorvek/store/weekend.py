"""The weekend's calendar as it was made and changed: the hall, wishes, and where every try goes."""

import json
from collections.abc import Sequence
from dataclasses import asdict, dataclass
from datetime import date

from sorvek.store.settings import save_setting, setting, setting_version

NAME = "weekend"


@dataclass(frozen=True, slots=True)
class WeekendHall:
    """What a coach says: hours by day (`2026-03-13`: `17:00-21:00`), minutes from heat to heat, lanes, judges.

    `judges` counts those who do not compete, `judging` names athletes who judge as well. `equipment` has a line for
    what there is less of than lanes (`rope: 2`), `wishes` one for everybody who cannot come always.
    """

    hours: dict[str, str]
    every_min: int = 30
    lanes: int = 6
    judges: int = 6
    equipment: str = "machine: 4"
    wishes: str = ""
    judging: str = ""


@dataclass(frozen=True, slots=True)
class UsualHall:
    """The hall on usual days: its hours on working days and at the weekend, and what is there."""

    week: str = "17:00-21:00"
    weekend: str = "9:00-14:00"
    every_min: int = 30
    lanes: int = 6
    judges: int = 6
    equipment: str = "machine: 4"

    def on(self, days: Sequence[date]) -> WeekendHall:
        """Return the hall on some days."""
        hours = {day.isoformat(): self.weekend if day.weekday() >= 5 else self.week for day in days}
        return WeekendHall(hours, self.every_min, self.lanes, self.judges, self.equipment)


USUAL_HALL = "usual_hall"


def usual_hall() -> UsualHall:
    """Return the hall on usual days."""
    return UsualHall(**setting(USUAL_HALL, {}))


def usual_hall_version() -> int:
    """Return the version of that."""
    return setting_version(USUAL_HALL)


def save_usual_hall(hall: UsualHall, seen_version: int) -> None:
    """Keep it.

    Raises: ConflictError if somebody changed it since `seen_version`.
    """
    save_setting(USUAL_HALL, asdict(hall), seen_version)


@dataclass(frozen=True, slots=True)
class PlacedTry:
    """A try with its heat (`2026-03-13T17:30`, empty where none was found), and why not.

    `fixed` where a coach put it there.
    """

    athlete_id: int
    workout_id: int
    second: bool
    at: str
    fixed: bool = False
    reason: str = ""


@dataclass(frozen=True, slots=True)
class SavedWeekend:
    """The calendar and its version, 0 and no hall before anybody made one."""

    hall: WeekendHall | None
    tries: tuple[PlacedTry, ...]
    version: int


def load_weekend() -> SavedWeekend:
    """Return the calendar, an empty one before anybody made one."""
    kept = setting(NAME, None)
    if not kept:
        return SavedWeekend(None, (), setting_version(NAME))
    data = json.loads(kept)
    tries = tuple(PlacedTry(**one) for one in data["tries"])
    hall = data["hall"]
    if "machines" in hall:  # kept before there was other equipment than machines
        hall["equipment"] = f"machine: {hall.pop('machines')}"
    return SavedWeekend(WeekendHall(**hall), tries, setting_version(NAME))


def save_weekend(hall: WeekendHall, tries: tuple[PlacedTry, ...], seen_version: int) -> None:
    """Keep the calendar.

    Raises: ConflictError if somebody changed it since `seen_version`.
    """
    data = {"hall": asdict(hall), "tries": [asdict(one) for one in tries]}
    save_setting(NAME, json.dumps(data), seen_version)
