"""Read: the notation on the left, what it says on the right, as it is typed."""

from datetime import date, timedelta
from functools import lru_cache

from flask import Blueprint, abort, current_app, flash, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from sorvek.core.club import Prospect, plateaus, prospects
from sorvek.core.errors import CoreError, NotationError
from sorvek.core.workout import Library, parse_workout, read_announcement, read_out, workout_text
from sorvek.figures.structure import structure_strip
from sorvek.store.field import boards_of, field_sizes
from sorvek.store.library import club_library
from sorvek.store.workouts import SavedWorkout, add_workout, earlier_texts, load_workout, save_text
from sorvek.web.read.forms import WorkoutForm

bp = Blueprint("read", __name__)

STARTER = "Untitled\namrap 10:00\n10 burpees\n"


def _readout(text: str) -> str:
    readout = read_out(parse_workout(text, club_library()))
    return render_template("read/_readout.html", readout=readout, strip=structure_strip(readout.course))


def workout_or_404(workout_id: int) -> SavedWorkout:
    """Return a stored workout or end the request with 404."""
    saved = load_workout(workout_id)
    if saved is None:
        abort(404)
    return saved


def _page(form: WorkoutForm, saved: SavedWorkout | None, status: int = 200) -> ResponseReturnValue:
    readout, problem = "", ""
    try:
        readout = _readout(form.text.data or "")
    except CoreError as error:
        problem = str(error)
    page = render_template(
        "read/edit.html",
        form=form,
        saved=saved,
        readout=readout,
        problem=problem,
        earlier=earlier_texts(saved.id) if saved else [],
        piles=plateaus(boards_of(saved.id)[""].results) if saved and field_sizes().get(saved.id) else [],
        names=[m.plural for m in club_library().movements.values()],
    )
    return page, 422 if problem and status == 200 and request.method == "POST" else status


@bp.post("/read/preview")
def preview() -> ResponseReturnValue:
    """Return the read-out of a text that is being typed, or where it stops making sense."""
    text = request.form.get("text", "")
    try:
        return jsonify(html=_readout(text), canonical=workout_text(parse_workout(text, club_library())))
    except NotationError as error:
        return jsonify(error=str(error), line=error.place.line, column=error.place.column), 422
    except CoreError as error:
        return jsonify(error=str(error), line=1, column=1), 422


@lru_cache(maxsize=64)
def _prospects(text: str, sex: str, library: Library) -> tuple[Prospect, ...]:
    return prospects(parse_workout(text, library), sex)


@bp.post("/read/prospects")
def who_gets_where() -> ResponseReturnValue:
    """Return where every tier's prototype ends on a text: half a second of work, asked for after the read-out."""
    text = request.form.get("text", "")
    try:
        men, women = (_prospects(text, sex, club_library()) for sex in ("m", "f"))
    except CoreError as error:
        return jsonify(error=str(error)), 422
    return jsonify(html=render_template("read/_prospects.html", men=men, women=women))


@bp.post("/read/announcement")
def announcement() -> ResponseReturnValue:
    """Return the notation of a pasted announcement and what in it is in doubt."""
    reading = read_announcement(request.form.get("text", ""), club_library())
    return jsonify(text=reading.text, doubts=[f"line {line}: {words}" for line, words in reading.doubts])


@bp.get("/workouts/<int:workout_id>/read")
def show(workout_id: int) -> ResponseReturnValue:
    """Show a workout's notation and read-out; an earlier version of the text can be looked at unsaved."""
    saved = workout_or_404(workout_id)
    wanted = request.args.get("version", type=int)
    text = next((text for version, text, _ in earlier_texts(workout_id) if version == wanted), saved.text)
    form = WorkoutForm(text=text, version=saved.version, opens_on=saved.opens_on, due_on=saved.due_on)
    return _page(form, saved)


@bp.post("/workouts/<int:workout_id>/read")
def save(workout_id: int) -> ResponseReturnValue:
    """Save a changed text; what does not parse is shown again and not saved."""
    saved = workout_or_404(workout_id)
    form = WorkoutForm()
    if not form.validate():
        return _page(form, saved, 422)
    try:
        kept = save_text(workout_id, form.text.data or "", form.version.data or 0)
    except CoreError:
        return _page(form, saved)
    if not kept:
        flash("Somebody saved another text while you typed. Yours is below; compare, then save again.", "warn")
        form.version.data = saved.version
        return _page(form, saved, 409)
    flash("Saved. Plans made for the old text are marked on Place and Break.", "done")
    return redirect(url_for("read.show", workout_id=workout_id))


@bp.get("/workouts/new")
def new() -> ResponseReturnValue:
    """Show an empty editor."""
    today = current_app.config["TODAY"] or date.today()
    return _page(WorkoutForm(text=STARTER, opens_on=today, due_on=today + timedelta(days=4)), None)


@bp.post("/workouts/new")
def create() -> ResponseReturnValue:
    """Store a new workout."""
    form = WorkoutForm()
    if not form.validate():
        return _page(form, None, 422)
    try:
        workout_id = add_workout(form.text.data or "", form.opens_on.data, form.due_on.data)
    except CoreError:
        return _page(form, None)
    return redirect(url_for("read.show", workout_id=workout_id))
