"""Log: what everybody did on a workout; written down by hand, from a file, out as a file."""

from collections.abc import Sequence

from flask import Blueprint, Response, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from sorvek.actions.log import LogLine, log_of, log_rows
from sorvek.actions.log_csv import LogRow, log_csv, read_log, row_of
from sorvek.core.errors import CellError, CoreError
from sorvek.core.table import RowError, read_text
from sorvek.store.accounts import Role
from sorvek.store.athletes import all_athletes
from sorvek.store.log import attempts_on
from sorvek.store.workouts import SavedWorkout
from sorvek.web.access import needs
from sorvek.web.entries import today, workout_or_404
from sorvek.web.once import once
from sorvek.web.paging import paged

LINES_A_PAGE = 100

bp = Blueprint("log", __name__, url_prefix="/workouts/<int:workout_id>/log")


def _page(
    saved: SavedWorkout, problem: str = "", wrong: str = "", errors: Sequence[RowError] = ()
) -> ResponseReturnValue:
    shown = paged(attempts_on(saved.id), LINES_A_PAGE)
    page = render_template(
        "log/index.html",
        saved=saved,
        page=shown,
        lines=log_of(saved, shown.items),
        names=[athlete.athlete.name for athlete in all_athletes()],
        form=request.form,
        problem=problem,
        wrong=wrong,
        errors=errors,
        today=today(),
    )
    return page, 422 if problem or errors else 200


@bp.get("/")
def show(workout_id: int) -> ResponseReturnValue:
    """Show everybody's attempts at a workout."""
    return _page(workout_or_404(workout_id))


@bp.post("/")
@needs(Role.ASSISTANT)
@once
def add(workout_id: int) -> ResponseReturnValue:
    """Log an attempt that somebody writes down."""
    saved = workout_or_404(workout_id)
    cells = {name.replace("_", " "): value.strip() for name, value in request.form.items()}
    try:
        row = row_of(cells, saved.workout, today())
    except CellError as error:
        return _page(saved, error.problem, error.column)
    errors = log_rows(saved, [row])
    if errors:
        return _page(saved, errors[0].problem, errors[0].column)
    flash(f"In the log: {row.athlete}.", "done")
    return redirect(url_for("log.show", workout_id=workout_id))


@bp.post("/import")
@needs(Role.ASSISTANT)
@once
def take_in(workout_id: int) -> ResponseReturnValue:
    """Log the attempts of a file, all or none."""
    saved = workout_or_404(workout_id)
    file = request.files.get("file")
    try:
        rows, errors = read_log(read_text(file.read() if file else b""), saved.workout, today())
    except CoreError as error:
        return _page(saved, str(error), "file")
    errors = errors or [RowError(e.row + 1, e.column, e.problem) for e in log_rows(saved, rows)]
    if errors:
        return _page(saved, errors=errors)
    flash(f"In the log: {len(rows)} attempts.", "done")
    return redirect(url_for("log.show", workout_id=workout_id))


@bp.get("/log.csv")
def as_csv(workout_id: int) -> Response:
    """Return the log of a workout as a file that can be taken in again."""
    saved = workout_or_404(workout_id)
    response = Response(log_csv([_row(line) for line in log_of(saved, attempts_on(saved.id))]), mimetype="text/csv")
    response.headers["Content-Disposition"] = f"attachment; filename=log-{workout_id}.csv"
    return response


def _row(line: LogLine) -> LogRow:
    attempt = line.attempt
    return LogRow(
        line.name, attempt.done_on, attempt.result, line.splits, attempt.gave_out, attempt.torn, attempt.notes
    )
