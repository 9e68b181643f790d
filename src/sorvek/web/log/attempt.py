"""One attempt: planned against done, the sets as tapped and to be corrected, what somebody says of it."""

from flask import Blueprint, abort, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from sorvek.actions.log import Looked, correct, decide_again, describe, looked_at, mark_submitted
from sorvek.core.constants import RESOURCES
from sorvek.core.errors import CoreError
from sorvek.core.live import TapKind, standing_taps
from sorvek.core.quantities import seconds_from_clock
from sorvek.core.season import DoneRow
from sorvek.core.workout import read_workout
from sorvek.figures.two_tapes import two_tapes
from sorvek.store.accounts import Role
from sorvek.store.athletes import SavedAthlete
from sorvek.store.changes import Changed, change_kept, changes_of
from sorvek.store.library import club_library
from sorvek.store.log import LoggedAttempt, change_attempt, remove_attempt, restored_attempt
from sorvek.web.access import needs
from sorvek.web.entries import athlete_or_404, attempt_or_404, today
from sorvek.web.undo import offer_undo

bp = Blueprint("attempt", __name__, url_prefix="/roster/<int:athlete_id>/log/<int:attempt_id>")

GAVE_OUT = (*RESOURCES, "breath", "skill", "head")


def _page(saved: SavedAthlete, attempt: LoggedAttempt, problem: str = "") -> str:
    looked: Looked | None = None
    try:
        workout = read_workout(attempt.text, club_library()).workout
        looked = looked_at(saved, attempt)
    except CoreError as error:
        workout, problem = None, problem or str(error)
    course = looked.problem.course if looked else None
    sets = [one for one in looked.state.done if one.at_s is not None] if looked else []
    return render_template(
        "log/attempt.html",
        saved=saved,
        attempt=attempt,
        workout=workout,
        looked=looked,
        course=course,
        sets=sets,
        tapes=two_tapes(looked.problem, looked.planned, looked.state) if looked and looked.state.done else None,
        gave_out=GAVE_OUT,
        problem=problem,
        changes=changes_of(Changed.ATTEMPT, attempt.id),
        lifts=[tap for tap in standing_taps(attempt.record.taps) if tap.kind in (TapKind.MADE, TapKind.MISSED)],
    )


@bp.get("/")
def show(athlete_id: int, attempt_id: int) -> str:
    """Show an attempt; what it teaches is worked out behind the page."""
    return _page(*attempt_or_404(athlete_id, attempt_id))


@bp.post("/sets")
@needs(Role.ASSISTANT)
def sets(athlete_id: int, attempt_id: int) -> ResponseReturnValue:
    """Store the sets as they are in the table; empty rows fall, a row filled in at the end is added."""
    saved, attempt = attempt_or_404(athlete_id, attempt_id)
    rows, times, reps = list[DoneRow](), request.form.getlist("at"), request.form.getlist("reps")
    try:
        for number, (at, count) in enumerate(zip(times, reps, strict=False), 1):
            if not at.strip() or not count.strip():
                continue
            if not count.strip().isascii() or not count.strip().isdigit() or len(count.strip()) > 4:
                raise ValueError(f"row {number}: “{count[:10]}” is no number of reps")
            rows.append(DoneRow(seconds_from_clock(at.strip()), int(count)))
        correct(saved, attempt, rows, request.form.get("version", -1, int))
    except (CoreError, ValueError) as error:
        return _page(saved, attempt, str(error)), 422
    flash("Kept as corrected.", "done")
    return redirect(url_for("attempt.show", athlete_id=athlete_id, attempt_id=attempt_id))


@bp.post("/told")
@needs(Role.ASSISTANT)
def told(athlete_id: int, attempt_id: int) -> ResponseReturnValue:
    """Store what somebody says of an attempt."""
    saved, attempt = attempt_or_404(athlete_id, attempt_id)
    try:
        describe(attempt, request.form, today(), request.form.get("version", -1, int))
    except ValueError:
        return _page(saved, attempt, "that day is none; write it as 2026-03-14"), 422
    flash("Kept.", "done")
    return redirect(url_for("attempt.show", athlete_id=athlete_id, attempt_id=attempt_id))


@bp.post("/again")
@needs(Role.ASSISTANT)
def again(athlete_id: int, attempt_id: int) -> ResponseReturnValue:
    """Store whether the attempt is to be repeated."""
    _, attempt = attempt_or_404(athlete_id, attempt_id)
    decide_again(attempt, request.form.get("again", ""), request.form.get("version", -1, int))
    flash("Decided. The weekend calendar knows.", "done")
    return redirect(url_for("attempt.show", athlete_id=athlete_id, attempt_id=attempt_id))


@bp.post("/submitted")
@needs(Role.ASSISTANT)
def submitted(athlete_id: int, attempt_id: int) -> ResponseReturnValue:
    """Store whether the organiser has the score; back to the log of the workout."""
    _, attempt = attempt_or_404(athlete_id, attempt_id)
    mark_submitted(attempt, request.form.get("submitted") == "yes", request.form.get("version", -1, int))
    if attempt.workout_id is None:
        return redirect(url_for("attempt.show", athlete_id=athlete_id, attempt_id=attempt_id))
    return redirect(url_for("log.show", workout_id=attempt.workout_id))


@bp.post("/remove")
@needs(Role.ASSISTANT)
def remove(athlete_id: int, attempt_id: int) -> ResponseReturnValue:
    """Take an attempt out of the log; it can be put back."""
    _, attempt = attempt_or_404(athlete_id, attempt_id)
    remove_attempt(athlete_id, attempt_id)
    values = {"athlete_id": athlete_id, "attempt_id": attempt_id}
    offer_undo(f"{attempt.title} was taken out of the log.", "attempt.restore", **values)
    return redirect(url_for("roster.show", athlete_id=athlete_id))


@bp.post("/restore")
@needs(Role.ASSISTANT)
def restore(athlete_id: int, attempt_id: int) -> ResponseReturnValue:
    """Put an attempt back into the log."""
    athlete_or_404(athlete_id)
    if not remove_attempt(athlete_id, attempt_id, removed=False):
        abort(404)
    flash("Back in the log.", "done")
    return redirect(url_for("attempt.show", athlete_id=athlete_id, attempt_id=attempt_id))


@bp.post("/changes/<int:change_id>")
@needs(Role.ASSISTANT)
def go_back(athlete_id: int, attempt_id: int, change_id: int) -> ResponseReturnValue:
    """Put an attempt back as it stood after an earlier change; what stands now stays in the history."""
    _, attempt = attempt_or_404(athlete_id, attempt_id)
    kept = change_kept(Changed.ATTEMPT, attempt_id, change_id)
    if kept is None:
        abort(404)
    change_attempt(restored_attempt(attempt, kept), attempt.version)
    flash("As it was then. What stood here before is in the list of changes.", "done")
    return redirect(url_for("attempt.show", athlete_id=athlete_id, attempt_id=attempt_id))
