"""A heat as it runs: what was tapped, what the athlete is believed to have left, how it may end."""

from sorvek.core.live.calls import LaneCall, lane_call, planned_ends
from sorvek.core.live.clocks import ClockExchange, server_ahead_s
from sorvek.core.live.days import LiveDays, LiveForecast, days_at_start, follow, likeliest, live_forecast, observe
from sorvek.core.live.feed import read_feed
from sorvek.core.live.replan import Offer, offer
from sorvek.core.live.sent import Sent, SentTap, read_sent
from sorvek.core.live.stand_in import StandIn, rehearse
from sorvek.core.live.taps import LaneState, SetDone, Tap, TapKind, fold, next_set, sets_left
from sorvek.core.live.watch import LaneWatch

__all__ = [
    "ClockExchange",
    "LaneCall",
    "LaneState",
    "LaneWatch",
    "LiveDays",
    "LiveForecast",
    "Offer",
    "Sent",
    "SentTap",
    "SetDone",
    "StandIn",
    "Tap",
    "TapKind",
    "days_at_start",
    "fold",
    "follow",
    "lane_call",
    "likeliest",
    "live_forecast",
    "next_set",
    "observe",
    "offer",
    "planned_ends",
    "read_feed",
    "read_sent",
    "rehearse",
    "server_ahead_s",
    "sets_left",
]
