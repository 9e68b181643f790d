"""Who gets where on a workout: every athlete with forecast, tier and place in the field; what a coach decides."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum

from sorvek.actions.entry import Entry, entry_of
from sorvek.actions.field_view import FieldView, HeapWorth, SecondForecast
from sorvek.actions.plan_club import Job, Task
from sorvek.actions.plan_tiers import KeptTiers, plan_tiers_of
from sorvek.core.club import CRUXES, Following, Outcomes, Outlook, Standing
from sorvek.core.workout import Movement
from sorvek.store.athletes import SavedAthlete, all_athletes
from sorvek.store.database import connection
from sorvek.store.library import club_library
from sorvek.store.outlooks import SavedOutlook, drop_outlook, outlooks_of, save_outlook
from sorvek.store.placings import Placing, placings_of, save_placing
from sorvek.store.workouts import SavedWorkout

NO_TIER = "in no tier yet"
UNPLANNED = "not planned yet"
LEFT_OUT = "left out"


class Tiering(StrEnum):
    """What tiers are cut by: the plan they follow, the outcome, or the capacity on the crux."""

    PLAN = "plan"
    OUTCOME = "outcome"
    CRUX = "crux"


@dataclass(frozen=True, slots=True)
class TierLane:
    """The tier an athlete stands in; `overruled` if a coach put the athlete there.

    `following` says how the tier's plan is followed; None where tiers have no plan.
    """

    name: str
    overruled: bool = False
    following: Following | None = None


@dataclass(frozen=True, slots=True)
class Cut:
    """How a workout's tiers are cut: their names, the best first, and who stands where."""

    names: tuple[str, ...]
    by: Tiering
    kept: KeptTiers = field(default_factory=KeptTiers)

    @classmethod
    def of(cls, saved: SavedWorkout, by: Tiering | None = None) -> "Cut":
        """Return the tiers of a workout; by plan where a coach keeps such and nothing else is asked for."""
        kept = plan_tiers_of(saved) if by in (None, Tiering.PLAN) else KeptTiers()
        if by is Tiering.PLAN or (by is None and kept.tiers):
            names = tuple(tier.name for tier in kept.tiers)
            return cls((*names, NO_TIER) if names else (NO_TIER,), Tiering.PLAN, kept)
        if by is Tiering.CRUX:
            return cls(CRUXES, by)
        return cls(outcomes_of(saved), Tiering.OUTCOME)

    def lane(self, athlete_id: int, outlook: Outlook | None, placing: Placing) -> TierLane:
        """Return the tier an athlete stands in."""
        if placing.left_out:
            return TierLane(LEFT_OUT)
        if outlook is None:
            return TierLane(UNPLANNED)
        if self.by is Tiering.PLAN:
            tier = self.kept.of(athlete_id)
            return TierLane(tier.name, False, tier.following[athlete_id]) if tier else TierLane(NO_TIER)
        if placing.tier in self.names:
            return TierLane(placing.tier, True)
        return TierLane(outlook.crux_band if self.by is Tiering.CRUX else outlook.outcome)

    def schemes(self, name: str) -> tuple[str, ...]:
        """Return the plan a coach keeps for a tier, in shorthand; nothing where it follows from the members."""
        return next((tier.schemes for tier in self.kept.tiers if tier.name == name), ())


@dataclass(frozen=True, slots=True)
class Line:
    """One athlete on the page."""

    entry: Entry
    outlook: Outlook | None
    stale: bool
    standing: Standing | None
    second: SecondForecast | None
    heaps: tuple[HeapWorth, ...]
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


def _stale(saved: SavedWorkout, athlete: SavedAthlete, kept: SavedOutlook | None) -> bool:
    return kept is not None and (kept.workout_version, kept.athlete_version) != (saved.version, athlete.version)


def outcomes_of(saved: SavedWorkout) -> tuple[str, ...]:
    """Return the tiers by outcome a workout has, the best first; none for a max lift alone."""
    course = saved.readout.course
    return Outcomes.of(course).names if course.segments else ()


def lines_of(saved: SavedWorkout, cut: Cut) -> list[Line]:
    """Return everybody on the roster, by name."""
    outlooks, placings = outlooks_of(saved.id), placings_of(saved.id)
    view, lines = FieldView(saved), []
    for athlete in all_athletes():
        kept, placing = outlooks.get(athlete.id), placings.get(athlete.id, Placing())
        outlook = kept.outlook if kept else None
        lines.append(
            Line(
                entry=entry_of(saved, athlete, placing),
                outlook=outlook,
                stale=_stale(saved, athlete, kept),
                standing=view.standing(athlete.athlete, outlook) if outlook else None,
                second=view.second(athlete.id, athlete.athlete, outlook) if outlook else None,
                heaps=view.heaps(athlete.athlete, outlook) if outlook else (),
                lane=cut.lane(athlete.id, outlook, placing),
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
