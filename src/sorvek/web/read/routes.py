"""Read: the notation on the left, what it says on the right, as it is typed."""

from datetime import timedelta

from flask import Blueprint, abort, flash, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from sorvek.actions.kept import prospects_of
from sorvek.core.club import plateaus
from sorvek.core.errors import CoreError, NotationError
from sorvek.core.workout import Readout, read_announcement, read_workout
from sorvek.figures.structure import structure_strip
from sorvek.store.accounts import Role
from sorvek.store.changes import Changed, changes_of
from sorvek.store.errors import ConflictError
from sorvek.store.field import boards_of, is_simulated
from sorvek.store.library import club_library
from sorvek.store.workouts import (
    WorkoutText,
    add_workout,
    earlier_texts,
    load_text,
    remove_workout,
    restore_workout,
    save_workout,
)
from sorvek.web.access import needs
from sorvek.web.conflict import conflict_page, differences
from sorvek.web.entries import today
from sorvek.web.once import once
from sorvek.web.read.forms import WorkoutForm
from sorvek.web.read.source import pieces_of
from sorvek.web.undo import offer_undo

bp = Blueprint("read", __name__)

STARTER = "Untitled\namrap 10:00\n10 burpees\n"
FIELDS = {"text": "Announcement", "opens_on": "Scores from", "due_on": "Scores until"}


def _html(readout: Readout) -> str:
    return render_template("read/_readout.html", readout=readout, strip=structure_strip(readout.course))


def _text_or_404(workout_id: int) -> WorkoutText:
    """Return a workout as typed, readable or not, or end the request with 404."""
    return load_text(workout_id) or abort(404)


def _page(form: WorkoutForm, typed: WorkoutText | None, status: int = 200) -> ResponseReturnValue:
    readout, html, problem = None, "", ""
    try:
        readout = read_workout(form.text.data or "", club_library())
        html = _html(readout)
    except CoreError as error:
        problem = str(error)
    piles = plateaus(boards_of(typed.id)[""].results) if typed else []
    pieces = pieces_of(form.source.data or "", club_library()) if form.source.data else []
    page = render_template(
        "read/edit.html",
        form=form,
        saved=typed,
        workout=readout.workout if readout else None,
        readout=html,
        problem=problem,
        pieces=pieces,
        earlier=earlier_texts(typed.id) if typed else [],
        changes=changes_of(Changed.WORKOUT, typed.id) if typed else [],
        piles=piles,
        ahead={p.reps: readout.course.ahead_of(p.reps) for p in piles} if readout else {},
        simulated=is_simulated(typed.id) if typed else False,
        names=[m.plural for m in club_library().movements.values()],
    )
    return page, 422 if problem and status == 200 and request.method == "POST" else status


@bp.post("/read/preview")
@needs(Role.ASSISTANT)
def preview() -> ResponseReturnValue:
    """Return the read-out of a text that is being typed, or where it stops making sense."""
    try:
        readout = read_workout(request.form.get("text", ""), club_library())
        return jsonify(html=_html(readout), canonical=readout.text)
    except NotationError as error:
        return jsonify(error=str(error), line=error.place.line, column=error.place.column, prose=_is_prose()), 422
    except CoreError as error:
        return jsonify(error=str(error), line=1, column=1, prose=False), 422


def _is_prose() -> bool:
    """Return whether the text sent is an announcement rather than notation that is broken."""
    try:
        return read_announcement(request.form.get("text", ""), club_library()).found
    except CoreError:
        return False


@bp.post("/read/prospects")
@needs(Role.ASSISTANT)
def who_gets_where() -> ResponseReturnValue:
    """Return where every tier's prototype ends on a text: half a second of work, asked for after the read-out."""
    text = request.form.get("text", "")
    try:
        men, women = (prospects_of(text, sex, club_library()) for sex in ("m", "f"))
    except CoreError as error:
        return jsonify(error=str(error)), 422
    return jsonify(html=render_template("read/_prospects.html", men=men, women=women))


@bp.post("/read/announcement")
@needs(Role.ASSISTANT)
def announcement() -> ResponseReturnValue:
    """Return the notation of a pasted announcement, and the source with what became of its words."""
    source = request.form.get("text", "")
    try:
        reading = read_announcement(source, club_library(), prose=True)
    except CoreError as error:
        return jsonify(error=str(error)), 422
    pieces = pieces_of(source, club_library())
    return jsonify(text=reading.text, html=render_template("read/_source.html", pieces=pieces))


@bp.get("/workouts/<int:workout_id>/read")
def show(workout_id: int) -> ResponseReturnValue:
    """Show a workout's notation and read-out; an earlier version of the text can be looked at unsaved."""
    typed = _text_or_404(workout_id)
    wanted = request.args.get("version", type=int)
    text = next((e.text for e in earlier_texts(workout_id) if e.version == wanted), typed.text)
    days = {"opens_on": typed.opens_on, "due_on": typed.due_on}
    return _page(WorkoutForm(text=text, source=typed.source, version=typed.version, **days), typed)


@bp.post("/workouts/<int:workout_id>/read")
@needs(Role.COACH)
def save(workout_id: int) -> ResponseReturnValue:
    """Save a changed text and days; what cannot be read is shown again and not saved."""
    typed, form = _text_or_404(workout_id), WorkoutForm()
    if not form.validate():
        return _page(form, typed, 422)
    days = (form.opens_on.data, form.due_on.data)
    try:
        changed = save_workout(
            workout_id, form.text.data or "", *days, form.version.data or 0, form.source.data or ""
        )
    except CoreError:
        return _page(form, typed)
    except ConflictError:
        return _conflict(typed, form)
    flash(
        "Saved. Plans made for the old text are marked on Place and Break." if changed else "The days are saved.",
        "done",
    )
    return redirect(url_for("read.show", workout_id=workout_id))


def _conflict(typed: WorkoutText, form: WorkoutForm) -> ResponseReturnValue:
    """Return the page that sets two versions of a workout side by side."""
    seen = next((e.text for e in earlier_texts(typed.id) if e.version == form.version.data), "")
    mine = {"text": form.text.data or "", "opens_on": str(form.opens_on.data), "due_on": str(form.due_on.data)}
    theirs = {"text": typed.text, "opens_on": str(typed.opens_on), "due_on": str(typed.due_on)}
    mine["text"], seen = ("\n".join(text.splitlines()) for text in (mine["text"], seen))
    theirs["text"] = "\n".join(typed.text.splitlines())
    found = differences(FIELDS, mine, theirs, {**theirs, "text": seen})
    same = {name: value for name, value in mine.items() if value == theirs[name]}
    return conflict_page(typed.title, found, same, typed.version, url_for("read.show", workout_id=typed.id))


@bp.post("/workouts/<int:workout_id>/remove")
@needs(Role.COACH)
def remove(workout_id: int) -> ResponseReturnValue:
    """Take a workout away; it can be put back."""
    typed = _text_or_404(workout_id)
    remove_workout(workout_id)
    offer_undo(f"{typed.title} was removed with its plans and results.", "read.restore", workout_id=workout_id)
    return redirect(url_for("week.index"))


@bp.post("/workouts/<int:workout_id>/restore")
@needs(Role.COACH)
def restore(workout_id: int) -> ResponseReturnValue:
    """Put a removed workout back."""
    if not restore_workout(workout_id):
        abort(404)
    flash("The workout is back, with everything that belongs to it.", "done")
    return redirect(url_for("week.index"))


@bp.get("/workouts/new")
def new() -> ResponseReturnValue:
    """Show an empty editor."""
    day = today()
    return _page(WorkoutForm(text=STARTER, opens_on=day, due_on=day + timedelta(days=4)), None)


@bp.post("/workouts/new")
@needs(Role.COACH)
@once
def create() -> ResponseReturnValue:
    """Store a new workout."""
    form = WorkoutForm()
    if not form.validate():
        return _page(form, None, 422)
    try:
        days = (form.opens_on.data, form.due_on.data)
        workout_id = add_workout(form.text.data or "", *days, form.source.data or "")
    except CoreError:
        return _page(form, None)
    return redirect(url_for("read.show", workout_id=workout_id))
