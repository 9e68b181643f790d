"""Field: the leaderboards, what a score is worth, who is like whom."""

from flask import Blueprint, Response, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from sorvek.core.club import (
    Result,
    leaderboard_csv,
    next_to,
    one_better,
    people,
    plateaus,
    read_leaderboard,
    read_score,
    result_text,
    simulate_field,
)
from sorvek.core.errors import CoreError
from sorvek.core.table import RowError, read_text
from sorvek.figures.percentile import percentile_curve
from sorvek.store.athletes import all_athletes
from sorvek.store.field import boards_of, field_sizes, replace_results, results_of
from sorvek.store.outlooks import outlooks_of
from sorvek.store.workouts import all_workouts
from sorvek.web.place.routes import as_result
from sorvek.web.read.routes import workout_or_404

bp = Blueprint("field", __name__, url_prefix="/field")


@bp.get("/")
def first() -> ResponseReturnValue:
    """Go to the first workout that has a leaderboard, else the first there is."""
    workouts, sizes = all_workouts(), field_sizes()
    if not workouts:
        return render_template("field/nothing.html")
    chosen = next((w for w in workouts if sizes.get(w.id)), workouts[0])
    return redirect(url_for("field.show", workout_id=chosen.id))


def _page(
    workout_id: int, problem: str = "", errors: list[RowError] | None = None, status: int = 200
) -> ResponseReturnValue:
    saved, workouts = workout_or_404(workout_id), all_workouts()
    boards = boards_of(workout_id)
    division = request.args.get("division", "") if request.args.get("division", "") in boards else ""
    board = boards[division]
    results = board.results
    names = {a.id: a.athlete for a in all_athletes()}
    own = [
        (names[i].name, as_result(names[i], kept.outlook))
        for i, kept in outlooks_of(workout_id).items()
        if i in names and (not division or names[i].division == division)
    ]
    worth, worth_problem = None, ""
    if request.args.get("score"):
        try:
            finished, value = read_score(request.args["score"], saved.workout)
            score = Result("", division, finished, value)
            worth = board.standing(score, one_better(score))
        except ValueError as error:
            worth_problem = str(error)
    other_id = request.args.get("other", type=int)
    other = next((w for w in workouts if w.id == other_id and w.id != workout_id), None)
    likeness, pairs = None, []
    if worth and other:
        theirs = boards_of(other.id)
        likeness, pairs = next_to(board, theirs.get(division, theirs[""]), worth.place)
    page = render_template(
        "field/show.html",
        saved=saved,
        workouts=workouts,
        board=board,
        curve=percentile_curve(board, own) if results else None,
        divisions=[name for name in boards if name],
        division=division,
        piles=plateaus(results) if results else [],
        worth=worth,
        worth_problem=worth_problem,
        other=other,
        likeness=likeness,
        pairs=pairs,
        problem=problem,
        errors=errors or [],
        text=result_text,
    )
    return page, status


@bp.get("/<int:workout_id>")
def show(workout_id: int) -> ResponseReturnValue:
    """Show a workout's leaderboard."""
    return _page(workout_id)


@bp.post("/<int:workout_id>")
def store(workout_id: int) -> ResponseReturnValue:
    """Take a leaderboard in from CSV, or simulate one."""
    saved = workout_or_404(workout_id)
    if request.form.get("action") == "simulate":
        replace_results(workout_id, simulate_field(saved.workout, people()))
        flash("A simulated field stands in. Import the real leaderboard when it is public.", "done")
        return redirect(url_for("field.show", workout_id=workout_id))
    upload = request.files.get("file")
    try:
        text = read_text(upload.read()) if upload and upload.filename else request.form.get("text", "")
        results, errors = read_leaderboard(text, saved.workout)
    except CoreError as error:
        return _page(workout_id, str(error), status=422)
    if errors:
        return _page(workout_id, "Nothing was stored; correct these rows and send the file again.", errors, 422)
    replace_results(workout_id, results)
    flash(f"{len(results)} results stored.", "done")
    return redirect(url_for("field.show", workout_id=workout_id))


@bp.get("/<int:workout_id>.csv")
def as_csv(workout_id: int) -> Response:
    """Return the leaderboard as CSV."""
    workout_or_404(workout_id)
    headers = {"Content-Disposition": "attachment; filename=leaderboard.csv"}
    return Response(leaderboard_csv(results_of(workout_id)), mimetype="text/csv; charset=utf-8", headers=headers)
