"""Forecasts in words, for pages, cards and the shell alike."""

from itertools import groupby
from operator import itemgetter

from sorvek.core.advice import Briefing
from sorvek.core.club import Outlook
from sorvek.core.quantities import clock, days_of_ten, lb_from_kg, plain
from sorvek.core.simulation import Band, DayScore

LEAST_ALIKE = 3  # gates with one chance in a row that are told as one


def day_words(day: DayScore) -> str:
    """Return one day's score: a time, or reps with the whole rounds in them."""
    if day.finished:
        return clock(day.value)
    return f"{day.value:.0f} reps" + (f" ({day.rounds})" if day.rounds else "")


def _span(good: DayScore, bad: DayScore, unit: str) -> str:
    if good.finished and bad.finished:
        return f"{clock(good.value)}–{clock(bad.value)}"
    if good.finished:
        return f"{clock(good.value)} to {bad.value:.0f} reps at the cap"
    low, high = f"{bad.value:.0f}", f"{good.value:.0f}"
    return (low if low == high else f"{low}–{high}") + unit


def outlook_band(outlook: Outlook) -> str:
    """Return the 80 % band of an outlook, reps without their unit."""
    return _span(DayScore(*outlook.good), DayScore(*outlook.bad), "")


def band_words(briefing: Briefing) -> str:
    """Return the 80 % band of a plan with its unit."""
    return _span(briefing.band.good, briefing.band.bad, " reps")


def middle_words(briefing: Briefing) -> str:
    """Return the middle of the likely days with its unit: the headline."""
    return day_words(briefing.band.middle)


def as_planned(briefing: Briefing) -> str:
    """Return the planned day's score where it differs from the middle of the days, else an empty text."""
    text = briefing.timeline.score.text
    return "" if text == middle_words(briefing) else text


def days_sentence(band: Band) -> str:
    """Return what the days bring, in one sentence: times, reps, or both; heaps as such."""
    if band.finish_s and band.short_reps:
        low, high = (clock(band.finish_s[i]) for i in (0, 2))
        few, many = (f"{band.short_reps[i]:.0f}" for i in (0, 2))
        reps = few if few == many else f"{few}–{many}"
        return f"finishes on {band.finish_probability:.0%} of days, {low}–{high}; else {reps} reps"
    ends = _span(band.good, band.bad, " reps")
    heap = max(band.heaps, key=lambda heap: heap[1], default=None)
    told = f"8 of 10 days {ends}"
    return f"{told}; {heap[1]:.0%} of all days end at {heap[0]:.0f}" if heap else told


def gate_words(gates: dict[str, float]) -> tuple[str, ...]:
    """Return the chance to pass each gate, in days of ten, as far as it is open; many that are alike in one.

    “windows 1 to 5: 10 days of 10”.
    """
    told = ((name, days_of_ten(chance)) for name, chance in gates.items() if round(10 * chance) > 0)
    words: list[str] = []
    for days, run in groupby(told, key=itemgetter(1)):
        names = [name for name, _ in run]
        kind, _, first = names[0].rpartition(" ")
        last = names[-1].removeprefix(f"{kind} ")
        if len(names) >= LEAST_ALIKE and first.isdigit() and last.isdigit():
            names = [f"{kind}s {first} to {last}"]
        words += [f"{name}: {days}" for name in names]
    return tuple(words)


def load_words(load_kg: float, unit: str) -> str:
    """Return a load with its unit, pounds as whole numbers."""
    return f"{lb_from_kg(load_kg):.0f} lb" if unit == "lb" else f"{plain(round(load_kg, 1))} kg"
