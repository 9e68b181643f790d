"""A heat as it runs: what was tapped, what the athlete is believed to have left, how it may end."""

from sorvek.core.live.calls import LaneCall, lane_call, planned_ends
from sorvek.core.live.days import LiveDays, LiveForecast, days_at_start, live_forecast, observe
from sorvek.core.live.feed import read_feed
from sorvek.core.live.lifting import (
    LaneLift,
    Lifted,
    LiftState,
    OpenWindow,
    lift_windows,
    lifted,
    on_works_clock,
    typed_rows,
    work_begins_s,
)
from sorvek.core.live.replan import Offer, offer
from sorvek.core.live.sent import Sent, read_sent
from sorvek.core.live.stand_in import StandIn, rehearse
from sorvek.core.live.taps import LaneState, SetDone, Tap, TapKind, fold, standing_taps
from sorvek.core.live.watch import LaneWatch

__all__ = [
    "LaneCall",
    "LaneLift",
    "LaneState",
    "LaneWatch",
    "LiftState",
    "Lifted",
    "LiveDays",
    "LiveForecast",
    "Offer",
    "OpenWindow",
    "Sent",
    "SetDone",
    "StandIn",
    "Tap",
    "TapKind",
    "days_at_start",
    "fold",
    "lane_call",
    "lift_windows",
    "lifted",
    "live_forecast",
    "observe",
    "offer",
    "on_works_clock",
    "planned_ends",
    "read_feed",
    "read_sent",
    "rehearse",
    "standing_taps",
    "typed_rows",
    "work_begins_s",
]
