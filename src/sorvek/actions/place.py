"""Who gets where on a workout: every athlete with forecast, tier and place in the field; what a coach decides."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from sorvek.actions.entry import Entry, entry_of
from sorvek.actions.plan_club import Job, Task
from sorvek.core.athlete import Athlete
from sorvek.core.club import (
    CRUX_BANDS,
    CRUX_TOP,
    Likeness,
    Outcomes,
    Outlook,
    Result,
    Standing,
    next_to,
    one_better,
)
from sorvek.core.workout import Movement
from sorvek.store.athletes import SavedAthlete, all_athletes
from sorvek.store.database import connection
from sorvek.store.field import boards_of, field_sizes
from sorvek.store.library import club_library
from sorvek.store.outlooks import SavedOutlook, drop_outlook, outlooks_of, save_outlook
from sorvek.store.placings import Placing, placings_of, save_placing
from sorvek.store.workouts import SavedWorkout, all_workouts

CRUXES = (CRUX_TOP, *(name for _, name in reversed(CRUX_BANDS)))
UNPLANNED = "not planned yet"
LEFT_OUT = "left out"


@dataclass(frozen=True, slots=True)
class TierLane:
    """The tier an athlete stands in; `overruled` if a coach put the athlete there."""

    name: str
    overruled: bool = False


@dataclass(frozen=True, slots=True)
class Line:
    """One athlete on the page."""

    entry: Entry
    outlook: Outlook | None
    stale: bool
    standing: Standing | None
    likeness: Likeness | None
    lane: TierLane

    @property
    def flags(self) -> tuple[str, ...]:
        """Return the flagged movements to decide about; none of somebody who is left out."""
        return () if self.entry.placing.left_out else self.entry.open_flags

    @property
    def offers(self) -> Mapping[str, tuple[Movement, ...]]:
        """Return what could stand in for each of them."""
        return {} if self.entry.placing.left_out else self.entry.offers

    @property
    def rank(self) -> tuple[bool, float]:
        """Return a key that sorts the best forecast first."""
        if self.outlook is None:
            return True, 0.0
        timed = self.outlook.kind == "time"
        return not timed, self.outlook.p50 if timed else -self.outlook.p50


@dataclass(frozen=True, slots=True)
class Counts:
    """How many athletes take part, and how many of them lack a plan or have one that is out of date."""

    taking: int
    missing: int
    stale: int


def store_outlook(job: Job, athlete_id: int, version: int, outlook: Outlook) -> bool:
    """Store what a worker computed, on the collecting thread's own connection; False if the athlete is gone."""
    with connection():
        return save_outlook(job.workout_id, athlete_id, SavedOutlook(outlook, job.workout_version, version))


def as_result(athlete: Athlete, outlook: Outlook) -> Result:
    """Return the middle of an athlete's forecast as a score on the leaderboard."""
    return Result(athlete.name, athlete.division, outlook.kind == "time", float(round(outlook.p50)))


def _stale(saved: SavedWorkout, athlete: SavedAthlete, kept: SavedOutlook | None) -> bool:
    return kept is not None and (kept.workout_version, kept.athlete_version) != (saved.version, athlete.version)


def outcomes_of(saved: SavedWorkout) -> tuple[str, ...]:
    """Return the tiers by outcome a workout has, the best first; none for a max lift alone."""
    course = saved.readout.course
    return Outcomes.of(course).names if course.segments else ()


def lane_of(tiers: Sequence[str], outlook: Outlook | None, placing: Placing, by_crux: bool) -> TierLane:
    """Return the tier an athlete stands in, of those by outcome or by capacity on the crux (`by_crux`)."""
    if placing.left_out:
        return TierLane(LEFT_OUT)
    if outlook is None:
        return TierLane(UNPLANNED)
    if placing.tier in tiers:
        return TierLane(placing.tier, True)
    return TierLane(outlook.crux_band if by_crux else outlook.outcome)


def workout_before(saved: SavedWorkout) -> SavedWorkout | None:
    """Return the latest workout before this one that has a leaderboard."""
    workouts, sizes = all_workouts(), field_sizes()
    at = [w.id for w in workouts].index(saved.id)
    return next((w for w in reversed(workouts[:at]) if sizes.get(w.id)), None)


def lines_of(saved: SavedWorkout, by_crux: bool) -> list[Line]:
    """Return everybody on the roster, by name."""
    outlooks, placings = outlooks_of(saved.id), placings_of(saved.id)
    boards = boards_of(saved.id)
    earlier, tiers = workout_before(saved), CRUXES if by_crux else outcomes_of(saved)
    earlier_outlooks = outlooks_of(earlier.id) if earlier else {}
    board_before = boards_of(earlier.id)[""] if earlier else boards[""]
    lines = []
    for athlete in all_athletes():
        kept, placing = outlooks.get(athlete.id), placings.get(athlete.id, Placing())
        standing = likeness = None
        if kept and boards[""].results:
            score = as_result(athlete.athlete, kept.outlook)
            standing = boards.get(athlete.athlete.division, boards[""]).standing(score, one_better(score))
            if athlete.id in earlier_outlooks:
                there = as_result(athlete.athlete, earlier_outlooks[athlete.id].outlook)
                likeness, _ = next_to(board_before, boards[""], board_before.standing(there, there).place)
        outlook = kept.outlook if kept else None
        lines.append(
            Line(
                entry=entry_of(saved, athlete, placing),
                outlook=outlook,
                stale=_stale(saved, athlete, kept),
                standing=standing,
                likeness=likeness,
                lane=lane_of(tiers, outlook, placing, by_crux),
            )
        )
    return lines


def counts_of(saved: SavedWorkout) -> Counts:
    """Return how far the planning of a workout is."""
    outlooks, placings = outlooks_of(saved.id), placings_of(saved.id)
    taking = [a for a in all_athletes() if not placings.get(a.id, Placing()).left_out]
    missing = sum(a.id not in outlooks for a in taking)
    return Counts(len(taking), missing, sum(_stale(saved, a, outlooks.get(a.id)) for a in taking))


def tasks_of(saved: SavedWorkout, everybody: bool) -> list[Task]:
    """Return what a batch has to plan: who lacks a plan or has a stale one, or everybody who takes part."""
    outlooks, placings = outlooks_of(saved.id), placings_of(saved.id)
    tasks = []
    for athlete in all_athletes():
        placing, kept = placings.get(athlete.id, Placing()), outlooks.get(athlete.id)
        if not placing.left_out and (everybody or kept is None or _stale(saved, athlete, kept)):
            known = entry_of(saved, athlete, placing).athlete
            tasks.append(Task(athlete.id, known.data, athlete.version, dict(placing.substitutes)))
    return tasks


def decide(entry: Entry, tier: str | None, flagged: str, instead: str, seen_version: int) -> None:
    """Overrule a tier (`None` leaves it), leave an athlete out, or choose a substitute for a flagged movement.

    Raises: ConflictError if somebody decided otherwise since `seen_version`.
    """
    placing, movements = entry.placing, club_library().movements
    substitutes = dict(placing.substitutes)
    chosen = flagged in movements and instead in movements
    if chosen:
        substitutes[flagged] = instead
    wanted = placing.tier if tier is None else tier
    left_out = placing.left_out if tier is None else tier == LEFT_OUT
    known = wanted if wanted in (*outcomes_of(entry.saved), *CRUXES) else ""
    save_placing(entry.saved.id, entry.athlete.id, Placing(known, substitutes, left_out), seen_version)
    if chosen:
        drop_outlook(entry.saved.id, entry.athlete.id)
