"""Tiers for one workout: by outcome or by capacity on the crux, never a label for life."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from sorvek.core.advice import Briefing
from sorvek.core.athlete import Athlete
from sorvek.core.workout import Course, Form

# Upper ends of the bands of the longest set on the crux; from 16 reps on it is attacked. Coaching practice.
CRUX_BANDS = ((0, "cannot do it"), (5, "1–5 in a row"), (10, "6–10 in a row"), (15, "11–15 in a row"))
CRUX_TOP = "more than 15 in a row"
CRUXES = (CRUX_TOP, *(name for _, name in reversed(CRUX_BANDS)))
# Who finishes this far ahead of the cap races; judgement.
RACING_FRAC = 0.75
# Where an AMRAP is cut, as shares of what unhurried reps without rest give: about a racing, a competing and a
# building athlete; judgement.
AMRAP_FRACS = (0.75, 0.6, 0.42)


@dataclass(frozen=True, slots=True)
class Outcomes:
    """The tiers by outcome of a workout, the best first, and the reps from which each begins.

    Under a cap the first two are for who finishes and begin with no number of reps.
    """

    names: tuple[str, ...]
    least_reps: tuple[float, ...]

    @classmethod
    def of(cls, course: Course) -> "Outcomes":
        """Return the outcomes of a workout's form: parts, stages, windows, rounds, or halves of the work."""
        form = course.workout.form
        gates = list(course.gates().values())
        if form is Form.STAGES:
            return _stages(gates)
        if form is Form.WINDOWS:
            return _windows(gates)
        if form in (Form.AMRAP, Form.PARTS):
            return _rounds(course)
        starts = course.part_starts()
        if starts:
            names = (*FINISHING, "reaches the second part", "will not reach the second part")
            return cls(names, (*NO_REPS, starts[2] + 1, 0.0))
        names = (*FINISHING, "gets past half of the work", "stops in the first half")
        return cls(names, (*NO_REPS, course.total_reps / 2, 0.0))

    def reached(self, briefing: Briefing) -> str:
        """Return the outcome of the middle of a plan's days."""
        course, band = briefing.course, briefing.band
        if band.timed:
            races = band.p50 <= RACING_FRAC * course.segments[-1].deadline_s
            return self.names[0] if races else self.names[1]
        done = round(band.p50)
        return next(name for name, least in zip(self.names, self.least_reps, strict=True) if done >= least)


FINISHING = ("races for place", "will finish")
NO_REPS = (float("inf"), float("inf"))


def _stages(gates: Sequence[int]) -> Outcomes:
    found = {"finishes every stage": float(gates[-1])}
    if len(gates) > 2:
        found[f"reaches stage {len(gates)}"] = gates[-2] + 1.0
    if len(gates) > 1:
        found["reaches stage 2"] = gates[0] + 1.0
    found["stays in stage 1"] = 0.0
    return Outcomes(tuple(found), tuple(found.values()))


def _windows(gates: Sequence[int]) -> Outcomes:
    found: dict[str, float] = {}
    for number, name in ((4, "passes 4 windows or more"), (2, "passes 2 or 3 windows"), (1, "passes one window")):
        if len(gates) >= number:
            found[name] = gates[number - 1]
    found["passes no window"] = 0.0
    return Outcomes(tuple(found), tuple(found.values()))


def _rounds(course: Course) -> Outcomes:
    """Cut an AMRAP at shares of what unhurried reps without any rest would give; by rounds where they are alike."""
    usual = sum(_usual_reps(course, part) for part in dict.fromkeys(segment.part for segment in course.segments))
    rounds = list(course.work_by_round().values())
    first = course.segments[0].round
    size = max(1, sum(segment.counted for segment in course.segments if segment.round == first))
    cuts = [int(share * usual / size) for share in AMRAP_FRACS]
    alike = rounds[0] == rounds[min(1, len(rounds) - 1)] and not course.cut
    if alike and len({0, *cuts}) == len(cuts) + 1:
        high, middle, low = cuts
        names = (f"{high} rounds or more", f"from {middle} rounds", f"from {low} rounds", f"under {low} rounds")
        return Outcomes(names, (*(float(cut * size) for cut in cuts), 0.0))
    high, middle, low = (max(1, int(share * usual)) for share in AMRAP_FRACS)
    names = (f"{high} reps or more", f"from {middle} reps", f"from {low} reps", f"under {low} reps")
    return Outcomes(names, (float(high), float(middle), float(low), 0.0))


def _usual_reps(course: Course, part: int) -> int:
    """Return the reps of a part that unhurried reps without any rest give in its time."""
    segments = [segment for segment in course.segments if segment.part == part]
    left_s, usual = segments[0].cap_s or course.workout.cap_s, 0
    for segment in segments:
        rep_s = course.slots[segment.slot].usual_s(1)
        reps = int(left_s / rep_s) if segment.endless else segment.reps
        left_s -= reps * rep_s
        if left_s < 0:
            break
        usual += segment.counted_of(reps)
    return usual


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
