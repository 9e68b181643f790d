"""Units: conversion at the edges, and how times and numbers are written.

Unit suffixes used everywhere: `_s` seconds, `_kg`, `_cm`, `_m`, `_w` watts, `_j` joules, `_frac` 0–1.
"""

import re
from typing import Final

from sorvek.core.constants import BREATH_S

KG_PER_LB: Final = 0.45359237  # exact: NIST SP 811 (2008), appendix B.8
CM_PER_IN: Final = 2.54  # exact: NIST SP 811 (2008), appendix B.8
M_PER_FT: Final = 0.3048  # exact: NIST SP 811 (2008), appendix B.8

# So many digits are enough for every workout; Python refuses to read numbers of thousands of them.
_CLOCK = re.compile(r"(?:([0-9]{1,3}):)?([0-9]{1,5}):([0-5][0-9])(\.[0-9]{1,9})?")


def kg_from_lb(mass_lb: float) -> float:
    """Return kilograms for a mass in avoirdupois pounds."""
    return mass_lb * KG_PER_LB


def lb_from_kg(mass_kg: float) -> float:
    """Return avoirdupois pounds for a mass in kilograms."""
    return mass_kg / KG_PER_LB


def seconds_from_clock(text: str) -> float:
    """Return seconds for `m:ss` or `h:mm:ss`.

    Raises: ValueError if the text is no such clock time.
    """
    match = _CLOCK.fullmatch(text.strip())
    if match is None:
        raise ValueError(f"“{text[:20]}” is not a time; write it as 11:00")
    hours, minutes, seconds, fraction = match.groups()
    return int(hours or 0) * 3600 + int(minutes) * 60 + int(seconds) + float(fraction or 0)


def clock(time_s: float) -> str:
    """Return `m:ss` for a time in seconds, rounded to the second."""
    whole = max(0, round(time_s))
    return f"{whole // 60}:{whole % 60:02d}"


def clock_exact(time_s: float) -> str:
    """Return `m:ss` with a tenth of a second where there is one."""
    tenths = max(0, round(10 * time_s))
    return f"{tenths // 600}:{tenths % 600 // 10:02d}" + (f".{tenths % 10}" if tenths % 10 else "")


def plain(value: float) -> str:
    """Return a number without needless zeros, at most two decimals."""
    return f"{value:.2f}".rstrip("0").rstrip(".")


def days_of_ten(chance: float) -> str:
    """Return a chance (0–1) as days: “8 days of 10”; near the ends “19 days of 20”, since 96 % is not every day."""
    of = 20 if 0.025 <= chance < 0.05 or 0.95 <= chance < 0.975 else 10
    count = round(of * chance)
    return f"{count} day{'' if count == 1 else 's'} of {of}"


def rest_words(rest_s: float) -> str:
    """Return a rest in seconds and breaths."""
    breaths = max(1, round(rest_s / BREATH_S))
    return f"{rest_s:.0f} s ({breaths} breath{'s' if breaths > 1 else ''})"
