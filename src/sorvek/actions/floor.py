"""A heat as it runs: lanes as their taps leave them, calls, forecasts, better plans, results."""

from collections.abc import Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass, replace
from datetime import date
from threading import Lock

from sorvek.actions import kept
from sorvek.actions.entry import load_entry
from sorvek.actions.plans import in_force
from sorvek.core.club import Result
from sorvek.core.live import (
    LaneCall,
    LaneState,
    LaneWatch,
    LiveForecast,
    Offer,
    StandIn,
    Tap,
    TapKind,
    fold,
    lane_call,
    offer,
    planned_ends,
)
from sorvek.core.plan import Plan, shorthand, typed_plan
from sorvek.core.simulation import Problem, run_plan
from sorvek.core.workout import NO_LIMIT_S, Form
from sorvek.store.floor import NewLane, SavedHeat, SavedLane, add_taps, make_heat, save_schemes, tap_counts, taps_of
from sorvek.store.log import LoggedAttempt, add_attempt, attempts_of
from sorvek.store.workouts import load_workout

MOST_LANES, MOST_WATCHED = 12, 60
STAND_IN = "stand-in"


class Watched:
    """What is worked out of a lane and kept in memory; all of it can be worked out again from the taps."""

    def __init__(self, name: str, problem: Problem, plan: Plan, seed: int | None) -> None:
        self.name, self.problem, self.plan = name, problem, plan
        self.watch = LaneWatch(problem)
        self.ends = planned_ends(run_plan(problem, plan))
        self.taps: tuple[Tap, ...] = ()
        self.state = LaneState(plan)
        self.forecast: LiveForecast | None = self.watch.forecast(self.state)
        self.offer: Future[Offer | None] | None = None
        self.stand_in = StandIn(problem, seed) if seed is not None else None
        self.pending: Tap | None = None
        self.lock = Lock()

    def see(self, taps: tuple[Tap, ...]) -> None:
        """Bring the lane up to date with its taps."""
        if taps == self.taps:
            return
        before, self.taps = self.state, taps
        self.state = fold(self.problem.course, self.plan, taps)
        if self.state.done != before.done or self.state.plan != before.plan:
            self.forecast = self.watch.forecast(self.state)
            self.offer = None
            if self.state.begun == 0 and self.state.done and not self.state.finished(self.problem.course):
                days = self.watch.see(self.state)
                self.offer = _replanning.submit(offer, self.problem, self.state.plan, days)

    @property
    def better(self) -> Offer | None:
        """Return the better plan that was found for where the lane stands now, None while there is none."""
        return self.offer.result() if self.offer and self.offer.done() and not self.offer.exception() else None


_replanning = ThreadPoolExecutor(1, thread_name_prefix="replan")
# By the token of the lane, which no other lane ever has.
_watched: dict[str, Watched] = {}
_making = Lock()


def _watched_lane(heat: SavedHeat, lane: SavedLane) -> Watched | None:
    """Return what is known of a lane, None where its athlete cannot be planned any more."""
    with _making:
        return _known_or_made(heat, lane)


def _known_or_made(heat: SavedHeat, lane: SavedLane) -> Watched | None:
    if lane.token not in _watched:
        entry = load_entry(heat.workout_id, lane.athlete_id)
        if entry is None or entry.held or entry.lift_alone:
            return None
        problem = kept.problem_of(entry)
        typed = typed_plan(problem.course, in_force(entry).plan, dict(enumerate(lane.schemes)))
        while len(_watched) >= MOST_WATCHED:
            _watched.pop(next(iter(_watched)))
        _watched[lane.token] = Watched(entry.athlete.athlete.name, problem, typed.plan, lane.stand_in)
    return _watched[lane.token]


def hold_plans(heat: SavedHeat) -> None:
    """Write down the sets of lanes that go by the plan in force, so that a plan kept later does not change them."""
    for lane in heat.lanes:
        watched = None if lane.schemes else _watched_lane(heat, lane)
        if watched is not None:
            save_schemes(lane.id, [shorthand(phases) for phases in watched.plan.slots])


def forget(heat: SavedHeat) -> None:
    """Forget what is worked out of a heat; its taps stay."""
    for lane in heat.lanes:
        _watched.pop(lane.token, None)


def set_up_heat(
    workout_id: int, number: int, athlete_ids: Sequence[int], stand_ins: bool, speed: float
) -> int | None:
    """Store a heat of athletes in their order, each with the plan in force; return its id.

    None where nobody can be planned. With `stand_ins` simulated athletes tap for themselves.
    """
    lanes = []
    for athlete_id in athlete_ids[:MOST_LANES]:
        entry = load_entry(workout_id, athlete_id)
        if entry is None or entry.held or entry.lift_alone:
            continue
        schemes = [shorthand(phases) for phases in in_force(entry).plan.slots]
        lanes.append(NewLane(athlete_id, schemes, 1000 + athlete_id if stand_ins else None))
    return make_heat(workout_id, number, lanes, speed) if lanes else None


@dataclass(frozen=True, slots=True)
class LaneView:
    """A lane as it is shown."""

    lane: SavedLane
    name: str
    state: LaneState
    call: LaneCall
    reps: int
    forecast: LiveForecast | None
    offer: Offer | None
    finished: bool
    ends_s: float


def let_stand_ins_tap(heat: SavedHeat, now_s: float) -> None:
    """Store what simulated athletes have tapped by a time of the server."""
    counts = tap_counts(heat.id)
    for lane in heat.lanes:
        watched = _watched_lane(heat, lane) if lane.stand_in is not None and heat.started_s is not None else None
        if watched is None:
            continue
        with watched.lock:
            if counts.get(lane.id, 0) != len(watched.taps):
                watched.see(taps_of(lane.id))
            _tap_for(lane, watched, watched.taps, heat.clock_s(now_s))


def lane_views(heat: SavedHeat, now_s: float, only: SavedLane | None = None) -> list[LaneView]:
    """Return all lanes of a heat, or one, at a time of the server."""
    counts, at_s = tap_counts(heat.id), heat.clock_s(now_s)
    views = []
    for lane in heat.lanes if only is None else (only,):
        watched = _watched_lane(heat, lane)
        if watched is None:
            continue
        with watched.lock:
            if counts.get(lane.id, 0) != len(watched.taps):
                watched.see(taps_of(lane.id))
            course = watched.problem.course
            views.append(
                LaneView(
                    lane,
                    watched.name,
                    watched.state,
                    lane_call(watched.problem, watched.state, watched.ends, at_s),
                    watched.state.reps(course),
                    watched.forecast,
                    watched.better,
                    watched.state.finished(course),
                    min(course.segments[-1].deadline_s, NO_LIMIT_S),
                )
            )
    return views


def _tap_for(lane: SavedLane, watched: Watched, taps: tuple[Tap, ...], now_s: float) -> None:
    """Store what a simulated athlete has tapped by now."""
    assert watched.stand_in is not None
    made = sum(tap.kind in (TapKind.SET, TapKind.BROKEN) for tap in taps)
    if watched.stand_in.number > made + (watched.pending is not None) or watched.stand_in.number < made:
        _catch_up(watched, taps)
    new: list[Tap] = []
    while True:
        watched.pending = watched.pending or watched.stand_in.next_tap(watched.state)
        tap = watched.pending
        if tap is None or tap.at_s > now_s:
            break
        watched.pending = None
        new.append(replace(tap, reps=0))
        if tap.kind is TapKind.BROKEN:
            new.append(Tap(f"{tap.id}-reps", TapKind.REPS, tap.at_s + 0.01, of=tap.id, reps=tap.reps))
        watched.see((*taps, *new))
    add_taps(lane.id, STAND_IN, [(tap, 0.0) for tap in new])


def _catch_up(watched: Watched, taps: tuple[Tap, ...]) -> None:
    """Bring a simulated athlete to where the stored taps leave the lane, as after a restart."""
    stand_in = watched.stand_in
    assert stand_in is not None
    watched.stand_in = stand_in = stand_in.again()
    watched.pending, state = None, LaneState(watched.plan)
    for i, tap in enumerate(taps):
        if tap.kind in (TapKind.SET, TapKind.BROKEN):
            stand_in.next_tap(state)
        state = fold(watched.problem.course, watched.plan, taps[: i + 1])


def accept_offer(heat: SavedHeat, lane: SavedLane, now_s: float, tap_id: str) -> bool:
    """Go on by the better plan that is shown for a lane; return whether there was one."""
    watched = _watched_lane(heat, lane)
    better = watched.better if watched else None
    if better is None:
        return False
    texts = tuple(shorthand(phases) for phases in better.plan.slots)
    add_taps(lane.id, "coach", [(Tap(tap_id, TapKind.PLAN, heat.clock_s(now_s), texts=texts), now_s)])
    return True


def keep_results(heat: SavedHeat, today: date) -> list[str]:
    """Write what every lane reached into its athlete's log, once however often it is asked; return whose."""
    saved, names = load_workout(heat.workout_id), list[str]()
    for lane in heat.lanes:
        watched, taps = _watched_lane(heat, lane), taps_of(lane.id)
        if saved is None or watched is None or not taps:
            continue
        with watched.lock:
            watched.see(taps)
        state, course = watched.state, watched.problem.course
        timed = state.finished(course) and saved.workout.form is Form.FOR_TIME
        ties = [one.at_s for one in state.done if course.segments[one.segment].tiebreak and one.at_s is not None]
        result = Result(
            "", "", timed, state.last_s if timed else float(state.reps(course)), max(ties, default=None)
        )
        attempt = LoggedAttempt(saved.title, saved.text, today, result)
        known = ((one.title, one.done_on, one.result) for one in attempts_of(lane.athlete_id))
        if (attempt.title, attempt.done_on, attempt.result) not in known:
            add_attempt(lane.athlete_id, attempt)
        names.append(watched.name)
    return names
