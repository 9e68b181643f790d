"""Read-outs and plans as plain text and data for the shell."""

from sorvek.core.briefing import Briefing, score_text
from sorvek.core.quantities import clock, plain
from sorvek.core.readout import Readout
from sorvek.core.shorthand import shorthand
from sorvek.core.timeline import ScoreKind


def readout_text(readout: Readout) -> str:
    """Return the read-out as lines of text."""
    lines = ["", f"{readout.bound}: " + (f"{readout.total_reps} reps" if readout.total_reps else "open")]
    if readout.pace_s:
        lines.append(f"to finish: {readout.pace_s:.2f} s a rep on average")
    for end in readout.rounds:
        at = f"  by {clock(end.pace_s)}" if end.pace_s else ""
        lines.append(f"  {end.label:<28} {end.reps:>5} reps{at}{'  tie-break' if end.tiebreak else ''}")
    return "\n".join(lines)


def readout_data(readout: Readout) -> dict[str, object]:
    """Return the read-out as data."""
    return {
        "workout": readout.workout.title,
        "form": readout.bound,
        "total_reps": readout.total_reps,
        "pace_s": round(readout.pace_s, 2),
        "rounds": [{"label": e.label, "reps": e.reps, "tiebreak": e.tiebreak} for e in readout.rounds],
        "movements": [{"label": t.label, "reps": t.reps, "sizes": list(t.sizes)} for t in readout.totals],
        "taxes": {name: round(value, 3) for name, value in readout.taxes},
    }


def band_text(briefing: Briefing) -> str:
    """Return the 80 % band in words."""
    band, timed = briefing.band, briefing.timeline.score.kind is ScoreKind.TIME
    low, high = (clock(v) if timed else f"{v:.0f}" for v in (band.p10, band.p90))
    unit = "" if timed else " reps"
    return f"8 of 10 days between {low} and {high}{unit}"


def briefing_text(briefing: Briefing) -> str:
    """Return a plan as lines of text to paste anywhere."""
    course, timeline = briefing.course, briefing.timeline
    score = timeline.score
    lines = [
        f"{course.workout.title or 'Workout'}: {briefing.problem.athlete.name}",
        f"Forecast {score_text(score, course)}, {band_text(briefing)}",
    ]
    if course.workout.form.value == "for time":
        lines.append(f"Chance to finish {briefing.band.finish_probability:.0%}")
    if score.tiebreak_s:
        lines.append(f"Tie-break {clock(score.tiebreak_s)}")
    lines += ["", "Sets"]
    width = max(len(slot.label) for slot in course.slots)
    for slot, phases in zip(course.slots, briefing.plan.slots, strict=True):
        lines.append(f"  {slot.label:<{width}}  {shorthand(phases)}")
    lines += ["", "Splits"]
    for split in timeline.splits:
        part = "" if split.complete else "  (not finished)"
        lines.append(
            f"  {split.label:<24} {clock(split.end_s):>6}  {plain(round(split.end_s - split.start_s)):>4} s"
            f"  {split.reps:>4} reps{part}"
        )
    if briefing.warnings:
        lines += ["", "Watch", *(f"  {warning}" for warning in briefing.warnings)]
    return "\n".join(lines)
