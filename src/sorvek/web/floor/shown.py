"""A heat as data for the pages that show it."""

import time
from typing import Any

from sorvek.actions.floor import LaneView, lane_views
from sorvek.actions.watched import WatchedWork
from sorvek.core.lift import Branch, Gym
from sorvek.core.live import LaneCall, LiftState, LiveForecast, Offer
from sorvek.core.prep import IfThen
from sorvek.core.quantities import clock, days_of_ten
from sorvek.paper.words import load_words
from sorvek.store.floor import SavedHeat, SavedLane
from sorvek.store.lifts import the_gym

# More than so many seconds behind the plan are told as late.
LATE_S = 1.5


# The system's clock may be set while a heat runs; what counts from here on is time that only goes forward.
_BEGAN_S = time.time() - time.monotonic()


def now_s() -> float:
    """Return the server's time (epoch) that all clocks of a heat go by; setting the clock does not move it."""
    return _BEGAN_S + time.monotonic()


def _forecast(told: LiveForecast | None) -> str:
    if told is None:
        return ""
    if round(told.p10) == round(told.p90):
        return clock(told.p50) if told.timed else f"{told.p50:.0f} reps"
    if told.timed:
        return f"{clock(told.p50)} ({clock(told.p10)}–{clock(told.p90)})"
    return f"{told.p50:.0f} ({told.p10:.0f}–{told.p90:.0f})"


def _better(offer: Offer | None) -> str:
    if offer is None:
        return ""
    gain = f"{offer.gain:.0f} {'s' if offer.unit == 's' else 'reps'}"
    return f"better by about {gain}, on {days_of_ten(offer.better_frac)}"


def _so_far(work: WatchedWork, reps: int) -> str:
    missed = len(work.state.no_reps)
    return f"{reps} reps now" + (f", {missed} no-rep{'s' if missed > 1 else ''}" if missed else "")


def _fallback(rule: IfThen) -> str:
    return f"If {rule.when[:1].lower()}{rule.when[1:]}: {'; '.join(rule.then)}"


def _set(work: WatchedWork, call: LaneCall) -> str:
    """Return the set that runs, beside what is left of the visit if that has an end."""
    course, at = work.problem.course, work.state.segment
    endless = at < len(course.segments) and course.segments[at].endless
    if not call.set_reps:
        return ""
    return f"{call.set_reps} reps" if endless else f"{call.set_reps} of {call.left}"


def _work_data(view: LaneView, work: WatchedWork, call: LaneCall) -> dict[str, Any]:
    """Return the work of a lane as texts and numbers."""
    state = work.state
    against = "" if call.against_s is None else f"{round(call.against_s):+d} s"
    reps = state.reps(work.problem.course)
    warnings = work.forecast.warnings(work.first) if work.forecast and work.first and state.done else ()
    fallback = work.fallback if not state.done else None
    return {
        "movement": call.movement,
        "set": _set(work, call),
        "round": call.round,
        "call": call.call,
        "against": against.replace("-", "−"),
        "late": call.against_s is not None and call.against_s > LATE_S,
        "reps": reps,
        "so_far": _so_far(work, reps),
        "forecast": _forecast(work.forecast),
        "better": _better(work.better),
        "warn": " · ".join(warnings) or (_fallback(fallback) if fallback else ""),
        "rests_until_s": call.rests_until_s + view.begins_s if call.rests_until_s else 0.0,
        "set_ends_s": work.set_ends_s + view.begins_s if work.set_ends_s else 0.0,
        "ends_with": "break" if call.set_reps < call.left else "change",
        "asked": {"of": state.asked.tap, "reps": state.asked.reps} if state.asked else None,
        "no_reps": len(state.no_reps),
    }


def _branch(branch: Branch | None, gym: Gym) -> dict[str, Any] | None:
    """Return an attempt with what follows it, as a phone without network needs it."""
    if branch is None:
        return None
    return {
        "load_kg": branch.load_kg,
        "load": load_words(branch.load_kg, gym.unit),
        "plates": " + ".join(piece.label for piece in branch.stack) or "no plates",
        "made": _branch(branch.if_made, gym),
        "missed": _branch(branch.if_missed, gym),
    }


def _lift_data(view: LaneView, lift: LiftState) -> dict[str, Any]:
    """Return the lift of a lane as texts and numbers, in the same places as those of the work."""
    gym, attempt = the_gym(), lift.ahead.attempt
    one, best_kg = view.workout.lifts[lift.number - 1], lift.bests_kg[lift.number - 1]
    then = (
        [
            f"{said} → {load_words(branch.load_kg, gym.unit)}" if branch else f"{said} → that was it"
            for said, branch in (("made", attempt.if_made), ("missed", attempt.if_missed))
        ]
        if attempt
        else []
    )
    total = f" · both {load_words(sum(lift.bests_kg), gym.unit)}" if len(lift.bests_kg) > 1 else ""
    best = f"best {load_words(best_kg, gym.unit)}{total}" if best_kg or total else "nothing on the board yet"
    middle, low, high = (load_words(lift.ahead.quantile(share), gym.unit) for share in (0.5, 0.1, 0.9))
    reps = f"{view.work.state.reps(view.work.problem.course)} reps · " if view.work else ""
    return {
        "movement": one.words,
        "set": load_words(attempt.load_kg, gym.unit) if attempt else "",
        "round": f"attempt {lift.tries + 1}" if attempt else "",
        "call": "lift" if attempt else f"done: {load_words(best_kg, gym.unit)}" if best_kg else "done",
        "against": "",
        "late": False,
        "reps": 0,
        "so_far": f"{reps}{best} · closes {clock(lift.window.closes_s)}",
        "forecast": f"{middle} ({low.split()[0]}–{high.split()[0]})" if attempt else "",
        "better": "",
        "warn": " · ".join(then),
        "rests_until_s": lift.window.opens_s + attempt.start_s if attempt else 0.0,
        "asked": None,
        "no_reps": 0,
        "bar": _branch(attempt, gym),
        "step_kg": 2 * min((piece.mass_kg for piece, _ in gym.pairs), default=1.25),
        "lifting": True,
    }


def lane_data(view: LaneView) -> dict[str, Any]:
    """Return one lane as texts and numbers."""
    same = {"lane": view.lane.number, "name": view.name, "last": view.last, "finished": view.finished}
    if view.work and view.call and not (view.lifting and view.lift):
        return same | _work_data(view, view.work, view.call)
    return same | (_lift_data(view, view.lift) if view.lift else {})


def heat_data(heat: SavedHeat, only: SavedLane | None = None) -> dict[str, Any]:
    """Return a heat as it stands now, or one lane of it, with the time it was asked for."""
    now = now_s()
    views = lane_views(heat, now, only)
    return {
        "answered_s": now,
        "started_s": heat.started_s,
        "speed": heat.speed,
        "clock_s": heat.clock_s(now),
        "ends_s": max((view.ends_s for view in views), default=0.0),
        "lanes": [lane_data(view) for view in views],
    }
