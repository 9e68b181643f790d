"""Forecasts in words, for pages, cards and the shell alike."""

from sorvek.core.advice import Briefing
from sorvek.core.club import Outlook
from sorvek.core.quantities import clock


def _band(low: float, high: float, timed: bool) -> str:
    return f"{clock(low)}–{clock(high)}" if timed else f"{low:.0f}–{high:.0f}"


def outlook_band(outlook: Outlook) -> str:
    """Return the 80 % band of an outlook, without its unit."""
    return _band(outlook.p10, outlook.p90, outlook.kind == "time")


def band_words(briefing: Briefing) -> str:
    """Return the 80 % band of a plan with its unit."""
    band = briefing.band
    return _band(band.p10, band.p90, band.timed) + ("" if band.timed else " reps")


def middle_words(briefing: Briefing) -> str:
    """Return the middle of the likely days with its unit."""
    band = briefing.band
    return clock(band.p50) if band.timed else f"{band.p50:.0f} reps"
