"""Tiers for one workout: by outcome or by capacity on the crux, never a label for life."""

from collections.abc import Sequence
from enum import StrEnum

import numpy as np

from sorvek.core.advice import Briefing
from sorvek.core.athlete import Athlete
from sorvek.core.simulation import ScoreKind


class Outcome(StrEnum):
    """How far an athlete gets."""

    SHORT = "will not reach the second part"
    REACHES = "reaches the second part"
    FINISHES = "will finish"
    RACES = "races for place"


# Upper ends of the bands of the longest set on the crux; from 16 reps on it is attacked. Coaching practice.
CRUX_BANDS = ((0, "cannot do it"), (5, "1–5 in a row"), (10, "6–10 in a row"), (15, "11–15 in a row"))
CRUX_TOP = "more than 15 in a row"
# Who finishes this far ahead of the cap races; judgement.
RACING_FRAC = 0.75


def outcome(briefing: Briefing) -> Outcome:
    """Return the outcome tier: by parts or stages where the workout has them, else by halves of its work."""
    course, score = briefing.course, briefing.timeline.score
    if score.finished:
        deadline = course.segments[-1].deadline_s
        timed = score.kind is ScoreKind.TIME
        return Outcome.RACES if timed and score.value <= RACING_FRAC * deadline else Outcome.FINISHES
    done = [record for record in briefing.timeline.sets if record.reps]
    if not done:
        return Outcome.SHORT
    last = course.segments[done[-1].segment]
    if max(s.part for s in course.segments) > 1:
        reached = last.part > 1
    elif max(s.stage for s in course.segments) > 1:
        reached = last.stage > 1
    else:
        reached = sum(record.reps for record in done) >= course.total_reps / 2
    return Outcome.REACHES if reached else Outcome.SHORT


def capacity_band(unbroken: float) -> str:
    """Return the band of a longest set on the crux."""
    return next((name for top, name in CRUX_BANDS if unbroken < top + 1), CRUX_TOP)


def median_member(name: str, tier: str, members: Sequence[Athlete]) -> Athlete:
    """Return the athlete a tier's plan is made for: the median of what its members have measured.

    A number nobody measured stays open and is filled from the tier's prototype; an empty tier is its prototype.
    """
    if not members:
        return Athlete(name, tier)

    def middle(values: list[float | None]) -> float | None:
        known = [value for value in values if value is not None]
        return float(np.median(known)) if known else None

    def middles(what: str) -> dict[str, float]:
        keys = sorted({key for member in members for key in getattr(member, what)})
        return {
            key: float(np.median([getattr(m, what)[key] for m in members if key in getattr(m, what)]))
            for key in keys
        }

    women = sum(member.sex == "f" for member in members)
    return Athlete(
        name,
        tier,
        "f" if women > len(members) / 2 else "m",
        mass_kg=middle([m.mass_kg for m in members]),
        stature_cm=middle([m.stature_cm for m in members]),
        critical_power_w=middle([m.critical_power_w for m in members]),
        w_prime_j=middle([m.w_prime_j for m in members]),
        unbroken=middles("unbroken"),
        one_rep_max_kg=middles("one_rep_max_kg"),
        cycle_s=middles("cycle_s"),
    )
