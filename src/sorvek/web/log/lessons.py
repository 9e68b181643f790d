"""What a logged result says about an athlete's numbers: shown first, kept when the coach says so, taken back."""

from flask import Blueprint, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from sorvek.actions.study import studied
from sorvek.core.errors import CoreError
from sorvek.core.season import learn, unlearn
from sorvek.store.accounts import Role
from sorvek.store.errors import ConflictError
from sorvek.store.log import save_taught
from sorvek.web.access import needs
from sorvek.web.entries import attempt_or_404

bp = Blueprint("lessons", __name__, url_prefix="/roster/<int:athlete_id>/log/<int:attempt_id>")

# So many usual days away something else was wrong, and nothing is ticked; judgement.
STRANGE_DAYS = 3.0


@bp.get("/lessons")
def lessons(athlete_id: int, attempt_id: int) -> str:
    """Return the part of the page that takes a moment."""
    saved, attempt = attempt_or_404(athlete_id, attempt_id)
    found, problem = None, ""
    try:
        found = studied(saved, attempt)
    except CoreError as error:
        problem = str(error)
    strange = found is not None and abs(found.lessons.surprise) > STRANGE_DAYS
    return render_template(
        "log/_lessons.html",
        saved=saved,
        attempt=attempt,
        found=found.lessons if found else None,
        problem=problem,
        strange=strange,
        blame=found.blame if found else None,
        again=found.again if found else None,
    )


@bp.post("/keep")
@needs(Role.COACH)
def keep(athlete_id: int, attempt_id: int) -> ResponseReturnValue:
    """Store the numbers that are ticked."""
    saved, attempt = attempt_or_404(athlete_id, attempt_id)
    here = url_for("attempt.show", athlete_id=athlete_id, attempt_id=attempt_id)
    seen = request.form.get("version", -1, int)
    if seen != saved.version or attempt.taught:
        raise ConflictError(saved.athlete.name)
    ticked = request.form.getlist("key")
    chosen = [lesson for lesson in studied(saved, attempt).lessons.lessons if lesson.key in ticked]
    if not chosen:
        flash("Nothing was ticked, so nothing was changed.", "warn")
        return redirect(here)
    athlete, before = learn(saved.athlete, chosen, attempt.done_on.isoformat())
    save_taught(saved, attempt_id, athlete, before, seen)
    flash(f"Learnt from {attempt.title}. Plans made with the old numbers are marked on Place.", "done")
    return redirect(here)


@bp.post("/back")
@needs(Role.COACH)
def take_back(athlete_id: int, attempt_id: int) -> ResponseReturnValue:
    """Put back what stood there before an attempt taught."""
    saved, attempt = attempt_or_404(athlete_id, attempt_id)
    before = unlearn(saved.athlete, attempt.taught)
    save_taught(saved, attempt_id, before, {}, request.form.get("version", -1, int))
    flash("Taken back; what was measured or learnt since was left alone.", "done")
    return redirect(url_for("attempt.show", athlete_id=athlete_id, attempt_id=attempt_id))
