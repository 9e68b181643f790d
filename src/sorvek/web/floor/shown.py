"""A heat as data for the pages that show it."""

import time
from typing import Any

from sorvek.actions.floor import LaneView, lane_views
from sorvek.core.live import LiveForecast, Offer
from sorvek.core.quantities import clock
from sorvek.store.floor import SavedHeat, SavedLane


def now_s() -> float:
    """Return the server's time (epoch) that all clocks of a heat go by."""
    return time.time()


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
    return f"better by about {gain}, on {10 * offer.better_frac:.0f} days of 10"


def lane_data(view: LaneView) -> dict[str, Any]:
    """Return one lane as texts and numbers."""
    call, asked = view.call, view.state.asked
    against = "" if call.against_s is None else f"{call.against_s:+.0f} s"
    return {
        "lane": view.lane.number,
        "name": view.name,
        "movement": call.movement,
        "set": f"{call.set_reps} of {call.left}" if call.left else "",
        "round": call.round,
        "call": call.call,
        "against": against.replace("-", "−"),
        "late": call.against_s is not None and call.against_s > 1.5,
        "reps": view.reps,
        "forecast": _forecast(view.forecast),
        "better": _better(view.offer),
        "rests_until_s": call.rests_until_s,
        "asked": {"of": asked.tap, "reps": asked.reps} if asked else None,
        "no_reps": len(view.state.no_reps),
        "last": view.state.last,
        "finished": view.finished,
    }


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
