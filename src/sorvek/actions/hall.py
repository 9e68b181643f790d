"""What a coach says of the hall on a weekend, in words: hours, who cannot come, equipment, athletes who judge."""

import re
from collections.abc import Mapping, Sequence
from datetime import date

from sorvek.core.calendar import HeatTime
from sorvek.core.errors import CalendarError
from sorvek.store.weekend import WeekendHall
from sorvek.store.workouts import SavedWorkout

DAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
MOST_SLOTS = 300
MOST_OF_A_KIND, MOST_WORDS = 200, 2
EQUIPMENT = re.compile(r"(?P<what>[^:\d]{2,40}):\s*(?P<count>\d{1,3})")
HOURS = re.compile(r"(\d{1,2}):(\d{2})\s*[-–]\s*(\d{1,2}):(\d{2})")
WISH = re.compile(
    r"(?P<name>[^:]+):\s*"
    r"(?:not\s+(?P<days>.+)|(?P<day>\w+)\s+(?P<side>after|before)\s+(?P<h>\d{1,2}):(?P<m>\d{2}))"
)


def _minutes(hours: str, minutes: str, where: str) -> int:
    if int(hours) > 24 or int(minutes) > 59:
        raise CalendarError(f"{where}: {hours}:{minutes} is no time of the day")
    return 60 * int(hours) + int(minutes)


def slots_of(hall: WeekendHall, days: Sequence[date]) -> tuple[HeatTime, ...]:
    """Return the heats the hall has room for.

    Raises: CalendarError naming the day whose hours cannot be read.
    """
    if not 5 <= hall.every_min <= 240:
        raise CalendarError("heats follow each other after 5 to 240 minutes")
    found: list[HeatTime] = []
    for number, day in enumerate(days):
        text = hall.hours.get(day.isoformat(), "")
        for part in filter(None, (p.strip() for p in text.split(","))):
            match = HOURS.fullmatch(part)
            where = f"{day:%A %-d %B}"
            if match is None:
                raise CalendarError(f"{where}: “{part[:20]}” is not understood; write 17:00-21:00, or nothing")
            begins, ends = _minutes(match[1], match[2], where), _minutes(match[3], match[4], where)
            found += [
                HeatTime(number * 24 * 60 + at) for at in range(begins, ends - hall.every_min + 1, hall.every_min)
            ]
    if len(found) > MOST_SLOTS:
        raise CalendarError(
            f"{len(found)} heats are too many; at most {MOST_SLOTS}: take more minutes from heat to heat"
        )
    return tuple(sorted(found, key=lambda slot: slot.begins_min))


def barred_of(
    hall: WeekendHall, days: Sequence[date], slots: Sequence[HeatTime], names: Sequence[str]
) -> dict[str, set[int]]:
    """Return by name the heats somebody cannot come to.

    Raises: CalendarError naming the line that is not understood.
    """
    known, found = {name.casefold(): name for name in names}, dict[str, set[int]]()
    for number, line in enumerate(hall.wishes.splitlines(), 1):
        if not line.strip():
            continue
        match = WISH.fullmatch(line.strip())
        name = known.get(match["name"].strip().casefold()) if match else None
        if match is None or name is None:
            raise CalendarError(
                f"wishes, line {number}: “{line.strip()[:40]}” is not understood;"
                " write “Name: not Sat, Sun” or “Name: Fri after 18:00”"
            )
        found.setdefault(name, set()).update(
            i for i, slot in enumerate(slots) if _is_barred(match, days, slot, number)
        )
    return found


def _is_barred(match: re.Match[str], days: Sequence[date], slot: HeatTime, line: int) -> bool:
    day = DAYS[days[slot.day].weekday()]
    if match["days"]:
        named = [word.strip().casefold()[:3] for word in match["days"].split(",")]
        if any(word not in DAYS for word in named):
            raise CalendarError(f"wishes, line {line}: name days as Mon, Tue … Sun")
        return day in named
    if match["day"].casefold()[:3] not in DAYS:
        raise CalendarError(f"wishes, line {line}: name days as Mon, Tue … Sun")
    minute = _minutes(match["h"], match["m"], f"wishes, line {line}")
    late = slot.begins_min % (24 * 60) >= minute
    return day == match["day"].casefold()[:3] and late == (match["side"] == "before")


def gear_of(workouts: Sequence[SavedWorkout]) -> tuple[str, ...]:
    """Return what the workouts need that can be counted, as the movements table names it in one or two words."""
    totals = (total for saved in workouts for total in saved.readout.totals)
    parts = {part.strip().removeprefix("two ") for total in totals for part in total.movement.gear.split(";")}
    return tuple(sorted(part for part in parts if 0 < len(part.split()) <= MOST_WORDS and "marks" not in part))


def equipment_of(hall: WeekendHall) -> dict[str, int]:
    """Return what the hall has a counted number of, by a word the movements table has for it.

    Raises: CalendarError naming the line that is not understood.
    """
    found = dict[str, int]()
    for number, line in enumerate(filter(str.strip, re.split(r"[\n,]", hall.equipment)), 1):
        match = EQUIPMENT.fullmatch(line.strip())
        if match is None or not 1 <= int(match["count"]) <= MOST_OF_A_KIND:
            raise CalendarError(
                f"equipment, line {number}: “{line.strip()[:40]}” is not understood; write “rope: 2”,"
                f" one line each, at most {MOST_OF_A_KIND}"
            )
        found[match["what"].strip().casefold().removesuffix("s")] = int(match["count"])
    return found


def idle_equipment(hall: WeekendHall, workouts: Sequence[SavedWorkout]) -> tuple[str, ...]:
    """Return the equipment that no open workout needs under that name; none if it cannot be read."""
    try:
        words = equipment_of(hall)
    except CalendarError:
        return ()
    gear = [part.casefold() for part in gear_of(workouts)]
    return tuple(word for word in words if not any(word in part for part in gear))


def most_at_once(saved: SavedWorkout, equipment: Mapping[str, int], lanes: int) -> int:
    """Return how many can do a workout at once with what the hall has."""
    most = lanes
    for total in saved.readout.totals:
        for part in total.movement.gear.split(";"):
            each = 2 if part.strip().startswith("two ") else 1
            counts = [count for word, count in equipment.items() if word in part.casefold()]
            most = min([most, *(count // each for count in counts)])
    return most


def judging_of(hall: WeekendHall, names: Sequence[str]) -> list[str]:
    """Return the athletes who judge.

    Raises: CalendarError naming somebody who is not in the roster.
    """
    known = {name.casefold(): name for name in names}
    wanted = [part.strip() for part in re.split(r"[\n,]", hall.judging) if part.strip()]
    for name in wanted:
        if name.casefold() not in known:
            raise CalendarError(f"athletes who judge: nobody in the roster is called “{name[:40]}”")
    return list(dict.fromkeys(known[name.casefold()] for name in wanted))
