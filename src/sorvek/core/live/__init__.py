"""A heat as it runs: what was tapped, what the athlete is believed to have left, how it may end."""

from sorvek.core.live.days import LiveDays, LiveForecast, days_at_start, follow, likeliest, live_forecast, observe
from sorvek.core.live.replan import Offer, offer
from sorvek.core.live.stand_in import StandIn, rehearse
from sorvek.core.live.taps import LaneState, SetDone, Tap, TapKind, fold, next_set, sets_left

__all__ = [
    "LaneState",
    "LiveDays",
    "LiveForecast",
    "Offer",
    "SetDone",
    "StandIn",
    "Tap",
    "TapKind",
    "days_at_start",
    "fold",
    "follow",
    "likeliest",
    "live_forecast",
    "next_set",
    "observe",
    "offer",
    "rehearse",
    "sets_left",
]
