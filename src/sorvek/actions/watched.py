"""What is worked out of the lanes of running heats and kept in memory; all of it follows from the stored taps."""

from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass
from threading import Lock

from sorvek.actions import kept
from sorvek.actions.entry import Entry, load_entry
from sorvek.actions.lifts import lift_entry
from sorvek.actions.plans import in_force
from sorvek.core.errors import CoreError
from sorvek.core.live import (
    LaneLift,
    LaneState,
    LaneWatch,
    LiftState,
    LiveForecast,
    Offer,
    OpenWindow,
    StandIn,
    Tap,
    fold,
    lift_windows,
    offer,
    on_works_clock,
    planned_ends,
    work_begins_s,
)
from sorvek.core.plan import Plan, typed_plan
from sorvek.core.prep import IfThen
from sorvek.core.simulation import Problem, run_plan
from sorvek.core.workout import NO_LIMIT_S, Workout
from sorvek.store.floor import SavedHeat, SavedLane
from sorvek.store.lifts import load_wishes

MOST_WATCHED = 60
_background = ThreadPoolExecutor(1, thread_name_prefix="replan")


class WatchedWork:
    """The work of a lane: its state, how it may end, and a better plan once one is found."""

    def __init__(self, problem: Problem, plan: Plan, seed: int | None) -> None:
        self.problem, self.plan = problem, plan
        self.watch = LaneWatch(problem)
        self.ends = planned_ends(run_plan(problem, plan))
        self.state = LaneState(plan)
        self.forecast: LiveForecast | None = self.watch.forecast(self.state)
        self.first = self.forecast
        self.set_ends_s = self.watch.set_ends_s(self.state)
        self.stand_in = StandIn(problem, seed) if seed is not None else None
        self.pending: Tap | None = None
        self._offer: Future[Offer | None] | None = None
        self._fallback: Future[tuple[IfThen, ...]] | None = None

    def see(self, taps: tuple[Tap, ...]) -> None:
        """Bring the work up to date with its taps, which are on the work's own clock."""
        before = self.state
        self.state = fold(self.problem.course, self.plan, taps)
        if self.state.done != before.done or self.state.plan != before.plan:
            self.forecast = self.watch.forecast(self.state)
            self.set_ends_s = self.watch.set_ends_s(self.state)
            self._offer = None
            if self.state.begun == 0 and self.state.done and not self.state.finished(self.problem.course):
                days = self.watch.see(self.state)
                self._offer = _background.submit(offer, self.problem, self.state.plan, days)

    @property
    def better(self) -> Offer | None:
        """Return the better plan that was found for where the lane stands now, None while there is none."""
        found = self._offer
        return found.result() if found and found.done() and not found.exception() else None

    def ready_fallback(self, entry: Entry) -> None:
        """Begin to work out what to do if the day goes otherwise."""
        self._fallback = self._fallback or _background.submit(kept.rules_of, entry, self.plan)

    @property
    def fallback(self) -> IfThen | None:
        """Return the first rule for a day that goes otherwise, None until it is known and where there is none."""
        found = self._fallback
        rules = found.result() if found and found.done() and not found.exception() else ()
        return rules[0] if rules else None


@dataclass(slots=True)
class Watched:
    """A lane: its work, its lifts, or both; the taps it was last brought up to date with."""

    name: str
    workout: Workout
    work: WatchedWork | None
    lift: LaneLift | None
    lock: Lock
    taps: tuple[Tap, ...] = ()

    @property
    def begins_s(self) -> float:
        """Return when the work begins on the heat's clock."""
        return work_begins_s(self.workout)

    @property
    def work_over_s(self) -> float:
        """Return when the time for the work is up on the heat's clock, 0 without work."""
        if self.work is None:
            return 0.0
        return self.begins_s + min(self.work.problem.course.segments[-1].deadline_s, NO_LIMIT_S)

    @property
    def work_finished(self) -> bool:
        """Return whether all the work is done, also where there is none."""
        return self.work is None or self.work.state.finished(self.work.problem.course)

    def finished(self, now_s: float) -> bool:
        """Return whether nothing is left to do in this lane at a time of the heat's clock."""
        lift = self.lifts(now_s)
        return self.work_finished and (lift is None or lift.over(now_s))

    def over_s(self, now_s: float) -> float:
        """Return when the whole heat is over in this lane, by what is known at a time of the heat's clock."""
        lift = self.lifts(now_s)
        return max(self.work_over_s, lift.last_closes_s if lift else 0.0)

    def see(self, taps: tuple[Tap, ...]) -> None:
        """Bring the lane up to date with its taps."""
        if taps == self.taps:
            return
        self.taps = taps
        if self.work:
            self.work.see(on_works_clock(taps, self.begins_s))

    @property
    def windows(self) -> tuple[OpenWindow, ...]:
        """Return the windows of the lifts as far as they are known, on the heat's clock."""
        course, state = (self.work.problem.course, self.work.state) if self.work else (None, None)
        return lift_windows(self.workout, course, state)

    def lifts(self, now_s: float) -> LiftState | None:
        """Return the lifts at a time of the heat's clock, None where there is none or none can open yet."""
        return self.lift.see(self.taps, self.windows, now_s) if self.lift else None


# By the token of the lane, which no other lane ever has.
_watched: dict[str, Watched] = {}
_making = Lock()


def watched_lane(heat: SavedHeat, lane: SavedLane) -> Watched | None:
    """Return what is known of a lane, None where its athlete cannot be planned any more."""
    with _making:
        if lane.token not in _watched:
            entry = load_entry(heat.workout_id, lane.athlete_id)
            made = _made(entry, lane) if entry and not entry.held else None
            if made is None:
                return None
            while len(_watched) >= MOST_WATCHED:
                _watched.pop(next(iter(_watched)))
            _watched[lane.token] = made
        return _watched[lane.token]


def _made(entry: Entry, lane: SavedLane) -> Watched | None:
    work = None
    if not entry.lift_alone:
        problem = kept.problem_of(entry)
        typed = typed_plan(problem.course, in_force(entry).plan, dict(enumerate(lane.schemes)))
        work = WatchedWork(problem, typed.plan, lane.stand_in)
        work.ready_fallback(entry)
    lift = _lift_of(entry)
    return Watched(entry.athlete.athlete.name, entry.workout, work, lift, Lock()) if work or lift else None


def _lift_of(entry: Entry) -> LaneLift | None:
    """Return the lifts of an entry made ready, None where there are none or no plates make them."""
    wishes, tasks = load_wishes(entry.saved.id, entry.athlete.id).wishes, []
    try:
        for number in range(1, len(entry.workout.lifts) + 1):
            tasks.append(lift_entry(entry, number).setup(wishes.part(number)).task)
        return LaneLift(tasks) if tasks else None
    except CoreError:
        return None


def forget(heat: SavedHeat) -> None:
    """Forget what is worked out of a heat; its taps stay."""
    for lane in heat.lanes:
        _watched.pop(lane.token, None)
