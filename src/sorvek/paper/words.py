"""Forecasts in words, for pages, cards and the shell alike."""

from sorvek.core.advice import Briefing
from sorvek.core.club import Outlook
from sorvek.core.quantities import clock
from sorvek.core.simulation import ScoreKind


def _band(low: float, high: float, timed: bool) -> str:
    return f"{clock(low)}–{clock(high)}" if timed else f"{low:.0f}–{high:.0f}"


def outlook_band(outlook: Outlook) -> str:
    """Return the 80 % band of an outlook, without its unit."""
    return _band(outlook.p10, outlook.p90, outlook.kind == "time")


def band_words(briefing: Briefing) -> str:
    """Return the 80 % band of a plan with its unit."""
    timed = briefing.timeline.score.kind is ScoreKind.TIME
    return _band(briefing.band.p10, briefing.band.p90, timed) + ("" if timed else " reps")
