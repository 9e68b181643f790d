"""Week: the qualifier's workouts, their days, and what is planned."""

from dataclasses import dataclass
from datetime import date

from flask import Blueprint, render_template

from sorvek.figures.structure import Strip, structure_strip
from sorvek.store.athletes import all_athletes
from sorvek.store.cards import briefed_counts
from sorvek.store.log import AttemptCounts, counts_by_workout, done_counts
from sorvek.store.outlooks import planned_counts
from sorvek.store.workouts import SavedWorkout, all_workouts, broken_workouts, removed_workouts
from sorvek.web.entries import today

bp = Blueprint("week", __name__)


@dataclass(frozen=True, slots=True)
class When:
    """The state of a workout on a day, `closed`, `open` or `ahead`, and that in words."""

    state: str
    words: str


@dataclass(frozen=True, slots=True)
class WeekRow:
    """One workout of the week."""

    saved: SavedWorkout
    strip: Strip
    when: When
    planned: int
    briefed: int
    done: int
    counts: AttemptCounts


def when_of(opens_on: date, due_on: date, day: date) -> When:
    """Return how a workout stands on a day."""
    if day > due_on:
        days = (day - due_on).days
        return When("closed", "closed yesterday" if days == 1 else f"closed {days} days ago")
    if day < opens_on:
        days = (opens_on - day).days
        return When("ahead", "opens tomorrow" if days == 1 else f"opens in {days} days")
    days = (due_on - day).days
    return When("open", {0: "scores are due today", 1: "1 day left"}.get(days, f"{days} days left"))


@bp.get("/")
def index() -> str:
    """Show the week."""
    day = today()
    planned, briefed, done, counts = planned_counts(), briefed_counts(), done_counts(), counts_by_workout()
    entries = [
        WeekRow(
            saved,
            structure_strip(saved.readout.course),
            when_of(saved.opens_on, saved.due_on, day),
            planned.get(saved.id, 0),
            briefed.get(saved.id, 0),
            done.get(saved.title, 0),
            counts.get(saved.id, AttemptCounts()),
        )
        for saved in all_workouts()
    ]
    ahead = [row for row in entries if row.when.state != "closed"]
    return render_template(
        "week/index.html",
        entries=entries,
        due=min(ahead, key=lambda row: row.saved.due_on, default=None),
        broken=broken_workouts(),
        removed=removed_workouts(),
        athletes=len(all_athletes()),
        today=day,
    )
