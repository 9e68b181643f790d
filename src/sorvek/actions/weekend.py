"""The weekend's calendar: what is to be placed, the search in the background, changes by hand, what clashes."""

import math
import threading
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, datetime, timedelta

from sorvek.actions import kept
from sorvek.actions.entry import entry_of
from sorvek.actions.hall import barred_of, equipment_of, judging_of, most_at_once, slots_of
from sorvek.core.calendar import (
    Assigned,
    JudgingAthlete,
    OpenWorkout,
    Schedule,
    Try,
    Weekend,
    clashes,
    schedule,
)
from sorvek.core.errors import CalendarError, CoreError
from sorvek.core.season import still_gone, taken
from sorvek.core.simulation import ScoreKind
from sorvek.store.athletes import SavedAthlete, all_athletes
from sorvek.store.database import connection
from sorvek.store.log import attempts_on
from sorvek.store.placings import placing_of, placings_of
from sorvek.store.weekend import PlacedTry, SavedWeekend, WeekendHall, load_weekend, save_weekend
from sorvek.store.workouts import SavedWorkout, all_workouts

SEARCH_S = 9.0
MOST_DAYS = 21


def open_workouts(today: date) -> list[SavedWorkout]:
    """Return the workouts whose scores are not due yet."""
    return [saved for saved in all_workouts() if saved.due_on >= today and not saved.workout.doubts]


def open_days(workouts: Sequence[SavedWorkout], today: date) -> list[date]:
    """Return the days on which something is open, from today on."""
    if not workouts:
        return []
    first = max(today, min(saved.opens_on for saved in workouts))
    last = max(saved.due_on for saved in workouts)
    return [first + timedelta(days=i) for i in range(min(MOST_DAYS, (last - first).days + 1))]


@dataclass(frozen=True, slots=True)
class Calendar:
    """Everything about a weekend: the days and heats, who and what its numbers stand for, the model."""

    first: date
    weekend: Weekend
    keys: tuple[tuple[int, int, bool], ...]
    names: dict[int, str]
    titles: dict[int, str]

    def when(self, slot: int) -> datetime:
        """Return the time of a heat."""
        return datetime.combine(self.first, datetime.min.time()) + timedelta(
            minutes=self.weekend.slots[slot].begins_min
        )

    def slot_at(self, at: str) -> int | None:
        """Return the heat at a time, None for none or one the hall is not open for any more."""
        return next((i for i in range(len(self.weekend.slots)) if f"{self.when(i):%Y-%m-%dT%H:%M}" == at), None)

    def assigned(self, tries: Sequence[PlacedTry]) -> Assigned:
        """Return where stored tries go, in the order of the model."""
        stored = {(one.athlete_id, one.workout_id, one.second): one.at for one in tries}
        return tuple(self.slot_at(stored.get(key, "")) for key in self.keys)


def calendar_of(hall: WeekendHall, today: date, stored: Sequence[PlacedTry] = ()) -> Calendar:
    """Return the weekend as it is to be placed; what a coach fixed in `stored` stays.

    Raises: CalendarError naming the hours or the wish that cannot be read.
    """
    workouts, athletes = open_workouts(today), all_athletes()
    days = open_days(workouts, today)
    if not days:
        raise CalendarError("no workout is open or ahead; nothing is to be placed")
    slots, names = slots_of(hall, days), [athlete.athlete.name for athlete in athletes]
    barred, equipment = barred_of(hall, days, slots, names), equipment_of(hall)
    judging = tuple(JudgingAthlete(name, frozenset(barred.get(name, ()))) for name in judging_of(hall, names))
    works = tuple(_open(saved, hall, equipment, days[0], athletes) for saved in workouts)
    fixed = {(one.athlete_id, one.workout_id, one.second): one.at for one in stored if one.fixed}
    calendar = Calendar(
        days[0],
        Weekend(slots, works, (), hall.lanes, hall.judges, judging),
        (),
        {athlete.id: athlete.athlete.name for athlete in athletes},
        {saved.id: saved.title for saved in workouts},
    )
    tries, keys = list[Try](), list[tuple[int, int, bool]]()
    for w, saved in enumerate(workouts):
        out = {placing_id for placing_id, placing in placings_of(saved.id).items() if placing.left_out}
        for athlete, second, after_min in _wanted(saved, athletes, days[0], out):
            key = (athlete.id, saved.id, second)
            name = athlete.athlete.name
            at = calendar.slot_at(fixed.get(key, ""))
            tries.append(Try(name, w, second, at, frozenset(barred.get(name, ())), after_min))
            keys.append(key)
    return replace(calendar, weekend=replace(calendar.weekend, tries=tuple(tries)), keys=tuple(keys))


def _wanted(
    saved: SavedWorkout, athletes: Sequence[SavedAthlete], first: date, out: set[int]
) -> list[tuple[SavedAthlete, bool, int]]:
    """Return who is still to try a workout, whether for the second time, and from which minute on."""
    latest = {attempt.athlete_id: attempt for attempt in reversed(attempts_on(saved.id))}
    found = []
    for athlete in athletes:
        attempt = latest.get(athlete.id)
        if attempt is None and athlete.id not in out:
            found.append((athlete, False, 0))
        elif attempt is not None and attempt.again == "yes":
            hour = attempt.done_at.hour * 60 + attempt.done_at.minute if attempt.done_at else 18 * 60
            found.append((athlete, True, max(0, ((attempt.done_on - first).days + 1) * 24 * 60 + hour)))
    return found


def _open(
    saved: SavedWorkout,
    hall: WeekendHall,
    equipment: Mapping[str, int],
    first: date,
    athletes: Sequence[SavedAthlete],
) -> OpenWorkout:
    opens, closes = ((day - first).days * 24 * 60 for day in (saved.opens_on, saved.due_on + timedelta(days=1)))
    at_once = most_at_once(saved, equipment, hall.lanes)
    return OpenWorkout(saved.title, max(0, opens), closes, at_once, _tax(saved, athletes))


def _tax(saved: SavedWorkout, athletes: Sequence[SavedAthlete]) -> tuple[float, ...]:
    """Return what a workout takes from every resource, by the first athlete who can be planned."""
    for athlete in athletes:
        entry = entry_of(saved, athlete, placing_of(saved.id, athlete.id))
        if entry.held or entry.lift_alone:
            continue
        try:
            problem = kept.problem_of(entry)
            score = kept.computed(entry).timeline.score
            reps = score.value if score.kind is ScoreKind.REPS else math.inf
            return tuple(still_gone(taken(problem, reps), 0.0).values())
        except CoreError:
            continue
    return (0.0,) * 6


@dataclass(slots=True)
class PlacingRun:
    """A search in progress: how many tries are placed by now, of how many; `problem` where it failed."""

    total: int
    placed: int = 0
    done: bool = False
    stopped: bool = False
    problem: str = ""
    began: datetime = field(default_factory=datetime.now)


class Searches:
    """The one search for a calendar that runs at a time, in a thread of its own."""

    def __init__(self) -> None:
        self.latest: PlacingRun | None = None
        self._lock = threading.Lock()

    def start(self, hall: WeekendHall, today: date, seen_version: int) -> PlacingRun:
        """Begin to place the weekend, or return the search that runs.

        Raises: CalendarError naming what cannot be read.
        """
        with self._lock:
            if self.latest and not self.latest.done:
                return self.latest
            stored = load_weekend()
            calendar = calendar_of(hall, today, stored.tries)
            self.latest = PlacingRun(len(calendar.keys))
            work = threading.Thread(target=self._run, args=(self.latest, calendar, hall, seen_version), daemon=True)
            work.start()
            return self.latest

    def stop(self) -> None:
        """Take the best placing found so far."""
        if self.latest:
            self.latest.stopped = True

    def _run(self, search: PlacingRun, calendar: Calendar, hall: WeekendHall, seen_version: int) -> None:
        def told(count: int, _given_up: int) -> bool:
            search.placed = count
            return not search.stopped

        try:
            found = schedule(calendar.weekend, SEARCH_S, told)
            with connection():
                save_weekend(hall, _stored(calendar, found), seen_version)
        except Exception as error:
            search.problem = str(error)
        finally:
            search.done = True


def _stored(calendar: Calendar, found: Schedule) -> tuple[PlacedTry, ...]:
    return tuple(
        PlacedTry(
            *key,
            at="" if slot is None else f"{calendar.when(slot):%Y-%m-%dT%H:%M}",
            fixed=calendar.weekend.tries[n].fixed is not None,
            reason=found.reasons.get(n, ""),
        )
        for n, (key, slot) in enumerate(zip(calendar.keys, found.placed, strict=True))
    )


def move(saved: SavedWeekend, key: tuple[int, int, bool], at: str) -> PlacedTry | None:
    """Put a try where a coach wants it and return how it was before, None if there is no such try."""
    before = next((one for one in saved.tries if (one.athlete_id, one.workout_id, one.second) == key), None)
    if before is None or saved.hall is None:
        return None
    tries = tuple(replace(one, at=at, fixed=True, reason="") if one is before else one for one in saved.tries)
    save_weekend(saved.hall, tries, saved.version)
    return before


def clashes_of(calendar: Calendar, tries: Sequence[PlacedTry]) -> dict[int, list[str]]:
    """Return by the number of a try in the model what is wrong with where it is."""
    found: dict[int, list[str]] = {}
    for clash in clashes(calendar.weekend, calendar.assigned(tries)):
        for number in clash.tries:
            found.setdefault(number, []).append(clash.words)
    return found
