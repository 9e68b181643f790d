"""A heat as it runs: lanes as their taps leave them, calls, forecasts, better plans, results."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime

from sorvek.actions.entry import load_entry
from sorvek.actions.plans import in_force
from sorvek.actions.watched import Watched, WatchedWork, watched_lane
from sorvek.core.club import Result
from sorvek.core.errors import InfeasibleError
from sorvek.core.live import (
    LaneCall,
    LaneState,
    LiftState,
    Tap,
    TapKind,
    fold,
    lane_call,
    on_works_clock,
    standing_taps,
)
from sorvek.core.plan import shorthand
from sorvek.core.season import Record
from sorvek.core.workout import Form, Workout
from sorvek.store.floor import NewLane, SavedHeat, SavedLane, add_taps, make_heat, save_schemes, tap_counts, taps_of
from sorvek.store.log import Expected, LoggedAttempt, add_attempt, attempts_of, change_attempt
from sorvek.store.outlooks import outlooks_of
from sorvek.store.workouts import load_workout

MOST_LANES = 12
# So long taps of the last set may be on their way; judgement.
LATE_TAPS_S = 10.0
STAND_IN = "stand-in"


def hold_plans(heat: SavedHeat) -> None:
    """Write down the sets of lanes that go by the plan in force, so that a plan kept later does not change them."""
    for lane in heat.lanes:
        watched = None if lane.schemes else watched_lane(heat, lane)
        if watched is not None and watched.work:
            save_schemes(lane.id, [shorthand(phases) for phases in watched.work.plan.slots])


def set_up_heat(
    workout_id: int, number: int, athlete_ids: Sequence[int], stand_ins: bool, speed: float
) -> int | None:
    """Store a heat of athletes in their order, each with the plan in force; return its id.

    None where nobody can be planned. With `stand_ins` simulated athletes tap for themselves.
    Raises: InfeasibleError for parts with a time each: taps say reps, and there reps say no place.
    """
    lanes = []
    for athlete_id in athlete_ids[:MOST_LANES]:
        entry = load_entry(workout_id, athlete_id)
        if entry is None or entry.held:
            continue
        if entry.workout.untold_by_taps:
            raise InfeasibleError(entry.workout.untold_by_taps)
        slots = () if entry.lift_alone else in_force(entry).plan.slots
        schemes = [shorthand(phases) for phases in slots]
        lanes.append(NewLane(athlete_id, schemes, 1000 + athlete_id if stand_ins else None))
    return make_heat(workout_id, number, lanes, speed) if lanes else None


@dataclass(frozen=True, slots=True)
class LaneView:
    """A lane as it is shown: the work with its call, the lifts with what is lifted, or both.

    `lifting` says that the bar is what counts now, `ends_s` when the whole heat is over in this lane, on the heat's
    clock.
    """

    lane: SavedLane
    name: str
    workout: Workout
    begins_s: float
    work: WatchedWork | None
    call: LaneCall | None
    lift: LiftState | None
    lifting: bool
    finished: bool
    ends_s: float
    last: str


def let_stand_ins_tap(heat: SavedHeat, now_s: float) -> None:
    """Store what simulated athletes have tapped by a time of the server."""
    counts = tap_counts(heat.id)
    for lane in heat.lanes:
        watched = watched_lane(heat, lane) if lane.stand_in is not None and heat.started_s is not None else None
        if watched is None:
            continue
        with watched.lock:
            if counts.get(lane.id, 0) != len(watched.taps):
                watched.see(taps_of(lane.id))
            new = _work_taps(watched, heat.clock_s(now_s))
            if watched.lift:
                seed = lane.stand_in or 0
                new += watched.lift.simulated(watched.taps, watched.windows, seed, heat.clock_s(now_s))
            add_taps(lane.id, STAND_IN, [(tap, 0.0) for tap in new])


def lane_views(heat: SavedHeat, now_s: float, only: SavedLane | None = None) -> list[LaneView]:
    """Return all lanes of a heat, or one, at a time of the server."""
    counts, at_s = tap_counts(heat.id), heat.clock_s(now_s)
    views = []
    for lane in heat.lanes if only is None else (only,):
        watched = watched_lane(heat, lane)
        if watched is None:
            continue
        with watched.lock:
            if counts.get(lane.id, 0) != len(watched.taps):
                watched.see(taps_of(lane.id))
            views.append(_view(lane, watched, at_s))
    return views


def _view(lane: SavedLane, watched: Watched, at_s: float) -> LaneView:
    work, lift = watched.work, watched.lifts(at_s)
    call = lane_call(work.problem, work.state, work.ends, at_s - watched.begins_s) if work else None
    before = at_s < watched.begins_s
    after = watched.begins_s == 0.0 and (watched.work_finished or at_s >= watched.work_over_s)
    return LaneView(
        lane,
        watched.name,
        watched.workout,
        watched.begins_s,
        work,
        call,
        lift,
        lift is not None and (before or after),
        watched.finished(at_s),
        watched.over_s(at_s),
        _last(work, lift),
    )


def _last(work: WatchedWork | None, lift: LiftState | None) -> str:
    """Return the tap that one key undoes: the last attempt, else the last tap of the work that counts."""
    if lift and lift.done:
        return lift.done[-1].tap
    return work.state.last if work else ""


def _work_taps(watched: Watched, now_s: float) -> list[Tap]:
    """Return what a simulated athlete has tapped in the work since it was last asked."""
    work = watched.work
    if work is None or work.stand_in is None:
        return []
    done = on_works_clock(watched.taps, watched.begins_s)
    made = sum(tap.kind in (TapKind.SET, TapKind.BROKEN) for tap in done)
    if work.stand_in.number > made + (work.pending is not None) or work.stand_in.number < made:
        _catch_up(work, done)
    new: list[Tap] = []
    while True:
        work.pending = work.pending or work.stand_in.next_tap(work.state)
        tap = work.pending
        if tap is None or tap.at_s + watched.begins_s > now_s:
            break
        work.pending = None
        at_s = tap.at_s + watched.begins_s
        new.append(replace(tap, at_s=at_s, reps=0))
        if tap.kind is TapKind.BROKEN:
            new.append(Tap(f"{tap.id}-reps", TapKind.REPS, at_s + 0.01, of=tap.id, reps=tap.reps))
        watched.see((*watched.taps, *new[-2 if tap.kind is TapKind.BROKEN else -1 :]))
    return new


def _catch_up(work: WatchedWork, taps: Sequence[Tap]) -> None:
    """Bring a simulated athlete to where the stored taps leave the lane, as after a restart."""
    assert work.stand_in is not None
    work.stand_in = stand_in = work.stand_in.again()
    work.pending, state = None, LaneState(work.plan)
    for i, tap in enumerate(taps):
        if tap.kind in (TapKind.SET, TapKind.BROKEN):
            stand_in.next_tap(state)
        state = fold(work.problem.course, work.plan, taps[: i + 1])


def accept_offer(heat: SavedHeat, lane: SavedLane, now_s: float, tap_id: str) -> bool:
    """Go on by the better plan that is shown for a lane; return whether there was one."""
    watched = watched_lane(heat, lane)
    better = watched.work.better if watched and watched.work else None
    if better is None:
        return False
    texts = tuple(shorthand(phases) for phases in better.plan.slots)
    add_taps(lane.id, "coach", [(Tap(tap_id, TapKind.PLAN, heat.clock_s(now_s), texts=texts), now_s)])
    return True


def keep_results(heat: SavedHeat, today: date) -> list[str]:
    """Write what every lane did into its athlete's log, once however often it is asked; return whose.

    Taps that came in since it was last asked are added; what somebody corrected in the log stays.
    """
    saved, names, outlooks = load_workout(heat.workout_id), list[str](), outlooks_of(heat.workout_id)
    started = datetime.fromtimestamp(heat.started_s) if heat.started_s is not None else None
    for lane in heat.lanes:
        watched, taps = watched_lane(heat, lane), taps_of(lane.id)
        if saved is None or watched is None or not taps:
            continue
        with watched.lock:
            watched.see(taps)
        attempt = LoggedAttempt(
            saved.title,
            saved.text,
            today,
            _result(watched, taps[-1].at_s),
            workout_id=saved.id,
            done_at=started,
            record=Record(lane.schemes, on_works_clock(standing_taps(taps), watched.begins_s)),
            expected=Expected.of(outlooks[lane.athlete_id].outlook) if lane.athlete_id in outlooks else None,
        )
        _keep(lane.athlete_id, attempt, {tap.id for tap in taps})
        names.append(watched.name)
    return names


def _keep(athlete_id: int, attempt: LoggedAttempt, tapped: set[str]) -> None:
    """Log an attempt of a heat, or bring the one that was logged up to date unless it was corrected by hand."""
    earlier = next((one for one in attempts_of(athlete_id) if one.done_at == attempt.done_at), None)
    if earlier is None:
        add_attempt(athlete_id, attempt)
        return
    known = {tap.id for tap in earlier.record.taps}
    if known <= tapped and (earlier.record, earlier.result) != (attempt.record, attempt.result):
        change_attempt(replace(earlier, record=attempt.record, result=attempt.result), earlier.version)


# How many taps a heat had when its results were last written, by its id.
_written: dict[int, int] = {}


def keep_when_over(heat: SavedHeat, now_s: float, today: date) -> bool:
    """Write the results of a heat once it is over and whenever taps come in after; return whether it is over."""
    if heat.started_s is None or not heat.lanes:
        return False
    watched = [lane for lane in (watched_lane(heat, lane) for lane in heat.lanes) if lane is not None]
    clock_s = heat.clock_s(now_s)
    all_done = all(lane.finished(clock_s) for lane in watched)
    if not all_done and clock_s < max(lane.over_s(clock_s) for lane in watched) + LATE_TAPS_S:
        return False
    count = sum(tap_counts(heat.id).values())
    if count and _written.get(heat.id) != count:
        keep_results(heat, today)
        _written[heat.id] = count
    return True


def _result(watched: Watched, at_s: float) -> Result:
    """Return what a lane reached."""
    lift, work = watched.lifts(at_s), watched.work
    lift_kg = sum(lift.bests_kg) if lift and lift.done else None
    if work is None:
        return Result("", "", False, lift_kg or 0.0)
    state, course = work.state, work.problem.course
    timed = state.finished(course) and watched.workout.form is Form.FOR_TIME
    ties = [one.at_s for one in state.done if course.segments[one.segment].tiebreak and one.at_s is not None]
    value = state.last_s if timed else float(state.reps(course))
    return Result("", "", timed, value, max(ties, default=None), lift_kg)
