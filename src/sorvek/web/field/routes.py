"""Field: the leaderboards, what a score is worth, who is like whom."""

from dataclasses import dataclass

from flask import Blueprint, Response, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from sorvek.actions.field_view import as_result
from sorvek.core.club import (
    Leaderboard,
    Likeness,
    Pair,
    Standing,
    leaderboard_csv,
    next_to,
    one_better,
    people,
    plateaus,
    read_leaderboard,
    result_text,
    score_typed,
    simulate_field,
)
from sorvek.core.errors import CoreError
from sorvek.core.table import RowError, read_text
from sorvek.figures.percentile import percentile_curve
from sorvek.store.accounts import Role
from sorvek.store.athletes import all_athletes
from sorvek.store.field import (
    board_version,
    boards_of,
    field_sizes,
    is_simulated,
    mark_simulated,
    replace_results,
    results_of,
)
from sorvek.store.outlooks import outlooks_of
from sorvek.store.workouts import SavedWorkout, all_workouts
from sorvek.web.access import needs
from sorvek.web.entries import workout_or_404

bp = Blueprint("field", __name__, url_prefix="/field")


@bp.get("/")
def first() -> ResponseReturnValue:
    """Go to the first workout that has a leaderboard, else the first there is."""
    workouts, sizes = all_workouts(), field_sizes()
    if not workouts:
        return render_template("field/nothing.html")
    chosen = next((w for w in workouts if sizes.get(w.id)), workouts[0])
    return redirect(url_for("field.show", workout_id=chosen.id))


@dataclass(frozen=True, slots=True)
class Worth:
    """What a score that was asked about is worth here, and how people like it did on another workout."""

    standing: Standing | None = None
    problem: str = ""
    other: SavedWorkout | None = None
    likeness: Likeness | None = None
    pairs: tuple[Pair, ...] = ()


def _worth(saved: SavedWorkout, board: Leaderboard, division: str, others: list[SavedWorkout]) -> Worth:
    """Return the answer to the question in the query; an empty one if nothing was asked."""
    asked = request.args.get("score", "")
    other = next((w for w in others if w.id == request.args.get("other", type=int)), None)
    if not asked:
        return Worth(other=other)
    try:
        score = score_typed(asked, division, saved.workout)
    except ValueError as error:
        return Worth(problem=str(error), other=other)
    standing = board.standing(score, one_better(score))
    if other is None:
        return Worth(standing)
    theirs = boards_of(other.id)
    likeness, pairs = next_to(board, theirs.get(division, theirs[""]), standing.place)
    return Worth(standing, "", other, likeness, tuple(pairs))


def _page(saved: SavedWorkout, problem: str = "", errors: list[RowError] | None = None) -> ResponseReturnValue:
    workouts, boards = all_workouts(), boards_of(saved.id)
    division = request.args.get("division", "") if request.args.get("division", "") in boards else ""
    board = boards[division]
    names = {a.id: a.athlete for a in all_athletes()}
    own = [
        (names[i].name, as_result(names[i], kept.outlook))
        for i, kept in outlooks_of(saved.id).items()
        if i in names and (not division or names[i].division == division)
    ]
    page = render_template(
        "field/show.html",
        saved=saved,
        workouts=workouts,
        board=board,
        version=board_version(saved.id),
        simulated=is_simulated(saved.id),
        curve=percentile_curve(board, own) if board.results else None,
        divisions=[name for name in boards if name],
        division=division,
        piles=plateaus(board.results),
        asked=_worth(saved, board, division, [w for w in workouts if w.id != saved.id]),
        problem=problem,
        errors=errors or [],
        text=result_text,
    )
    return page, 422 if problem else 200


@bp.get("/<int:workout_id>")
def show(workout_id: int) -> ResponseReturnValue:
    """Show a workout's leaderboard."""
    return _page(workout_or_404(workout_id, settled=False))


@bp.post("/<int:workout_id>")
@needs(Role.COACH)
def store(workout_id: int) -> ResponseReturnValue:
    """Take a leaderboard in from CSV, or simulate one."""
    saved, seen = workout_or_404(workout_id, settled=False), request.form.get("version", type=int)
    if request.form.get("action") == "simulate":
        replace_results(workout_id, simulate_field(saved.workout, people()), seen)
        mark_simulated(workout_id, True)
        flash("A simulated field stands in. Import the real leaderboard when it is public.", "done")
        return redirect(url_for("field.show", workout_id=workout_id))
    upload = request.files.get("file")
    try:
        text = read_text(upload.read()) if upload and upload.filename else request.form.get("text", "")
        results, errors = read_leaderboard(text, saved.workout)
    except CoreError as error:
        return _page(saved, str(error))
    if errors:
        return _page(saved, "Nothing was stored; correct these rows and send the file again.", errors)
    replace_results(workout_id, results, seen)
    mark_simulated(workout_id, False)
    flash(f"{len(results)} results stored.", "done")
    return redirect(url_for("field.show", workout_id=workout_id))


@bp.get("/<int:workout_id>.csv")
def as_csv(workout_id: int) -> Response:
    """Return the leaderboard as CSV."""
    workout_or_404(workout_id, settled=False)
    headers = {"Content-Disposition": "attachment; filename=leaderboard.csv"}
    return Response(leaderboard_csv(results_of(workout_id)), mimetype="text/csv; charset=utf-8", headers=headers)
