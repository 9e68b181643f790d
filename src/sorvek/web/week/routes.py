"""Week: the qualifier's workouts, their days, and what is planned."""

from dataclasses import dataclass
from datetime import date

from flask import Blueprint, current_app, render_template

from sorvek.core.workout import Readout, read_out
from sorvek.figures.structure import Strip, structure_strip
from sorvek.store.athletes import all_athletes
from sorvek.store.outlooks import planned_counts
from sorvek.store.workouts import SavedWorkout, all_workouts

bp = Blueprint("week", __name__)


@dataclass(frozen=True, slots=True)
class Entry:
    """One workout of the week."""

    saved: SavedWorkout
    readout: Readout
    strip: Strip
    state: str
    when: str
    planned: int


def when_text(opens_on: date, due_on: date, today: date) -> tuple[str, str]:
    """Return the state of a workout on a day, `closed`, `open` or `ahead`, and that in words."""
    if today > due_on:
        return "closed", f"closed {(today - due_on).days} days ago"
    if today < opens_on:
        days = (opens_on - today).days
        return "ahead", "opens tomorrow" if days == 1 else f"opens in {days} days"
    days = (due_on - today).days
    left = {0: "scores are due today", 1: "1 day left"}.get(days, f"{days} days left")
    return "open", left


@bp.get("/")
def index() -> str:
    """Show the week."""
    today = current_app.config["TODAY"] or date.today()
    counts = planned_counts()
    entries = []
    for saved in all_workouts():
        readout = read_out(saved.workout)
        state, when = when_text(saved.opens_on, saved.due_on, today)
        strip = structure_strip(readout.course)
        entries.append(Entry(saved, readout, strip, state, when, counts.get(saved.id, 0)))
    return render_template("week/index.html", entries=entries, athletes=len(all_athletes()), today=today)
