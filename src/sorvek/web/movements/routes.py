"""Movements: the library with search; numbers and movements of the club's own, with a preview of what changes."""

from flask import Blueprint, abort, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from sorvek.actions.movements import Preview, change_movement, is_own, preview, undo_change, using
from sorvek.core.errors import MovementFileError
from sorvek.core.workout import Movement, shipped_library
from sorvek.store.accounts import Role
from sorvek.store.errors import ConflictError
from sorvek.store.library import Cells, club_library, last_changed, own_rows, own_version
from sorvek.web.access import needs
from sorvek.web.movements.fields import BY_STYLE, COMMON, LABELS, rows_from, rows_of

bp = Blueprint("movements", __name__, url_prefix="/movements")

LONGEST_NAME = 60


def _movement_or_404(name: str) -> Movement:
    return club_library().movements.get(name) or abort(404)


def _page(
    name: str, rows: list[Cells], problem: str = "", shown: Preview | None = None, status: int = 200
) -> ResponseReturnValue:
    page = render_template(
        "movements/edit.html",
        name=name,
        rows=rows,
        common=COMMON,
        by_style=BY_STYLE,
        labels=LABELS,
        problem=problem,
        shown=shown,
        own=is_own(name),
        ships=name in shipped_library().movements,
        used=using(name),
        version=request.form.get("version") or own_version(),
        undoable=last_changed(),
    )
    return page, status


def _sent(name: str) -> list[Cells]:
    styles = min(max(1, request.form.get("styles", 1, type=int)), 4)
    return rows_from(request.form, name, styles)


@bp.get("/")
def index() -> str:
    """Show the library; `q` narrows it to what is found in names, spellings and families."""
    asked = request.args.get("q", "").strip().lower()
    own = {row["name"] for row in own_rows()}
    found = [
        movement
        for movement in sorted(club_library().movements.values(), key=lambda m: m.name.lower())
        if asked in " ".join((movement.name, movement.plural, *movement.aliases, movement.family)).lower()
    ]
    return render_template(
        "movements/index.html",
        movements=found,
        own=own,
        asked=asked,
        undoable=last_changed(),
        version=own_version(),
    )


@bp.get("/new")
def new() -> ResponseReturnValue:
    """Show the form of a new movement: a copy of the one it is most like."""
    like = request.args.get("like", "")
    movement = club_library().movements.get(like)
    names = sorted(club_library().movements)
    if movement is None:
        return render_template("movements/new.html", names=names, problem="")
    name = " ".join(request.args.get("name", "").split())[:LONGEST_NAME]
    if not name or club_library().named_like(name):
        taken = f"“{name}” is a movement already" if name else "Give it a name"
        return render_template("movements/new.html", names=names, problem=taken), 422
    rows = [{**row, "name": name, "plural": f"{name}s", "aliases": ""} for row in rows_of(movement)]
    return _page(name, rows)


@bp.get("/<path:name>")
def show(name: str) -> ResponseReturnValue:
    """Show everything a plan uses of a movement."""
    return _page(name, rows_of(_movement_or_404(name)))


@bp.post("/<path:name>/preview")
@needs(Role.ASSISTANT)
def try_out(name: str) -> ResponseReturnValue:
    """Show what a change would change, without making it."""
    rows = _sent(name)
    try:
        return _page(name, rows, shown=preview(name, rows))
    except MovementFileError as error:
        return _page(name, rows, str(error), status=422)


@bp.post("/undo")
@needs(Role.COACH)
def undo() -> ResponseReturnValue:
    """Take the last change of the club's movements back."""
    try:
        name = undo_change(request.form.get("version", ""))
    except (MovementFileError, ConflictError) as error:
        flash(str(error), "warn")
        return redirect(url_for("movements.index"))
    flash(f"{name} is as it was before.", "done")
    there = name in club_library().movements
    return redirect(url_for("movements.show", name=name) if there else url_for("movements.index"))


@bp.post("/<path:name>/restore")
@needs(Role.COACH)
def restore(name: str) -> ResponseReturnValue:
    """Take the club's own numbers of a movement away: those that ship are back, or the movement is gone."""
    try:
        change_movement(name, [], request.form.get("version", ""))
    except MovementFileError as error:
        flash(str(error), "warn")
        return redirect(url_for("movements.show", name=name))
    flash(f"The club’s own numbers of {name} are gone.", "done")
    back = name in shipped_library().movements
    return redirect(url_for("movements.show", name=name) if back else url_for("movements.index"))


@bp.post("/<path:name>")
@needs(Role.COACH)
def save(name: str) -> ResponseReturnValue:
    """Save a movement; what cannot be right is shown again and not saved."""
    rows = _sent(name)
    try:
        count = change_movement(name, rows, request.form.get("version", ""))
    except MovementFileError as error:
        return _page(name, rows, str(error), status=422)
    except ConflictError as error:
        return _page(name, rows, f"{error} What you typed stands below; reload the page to see theirs.", status=409)
    again = f" Plans of {count} workout{'s' if count != 1 else ''} are computed again." if count else ""
    flash(f"Saved {name}.{again}", "done")
    return redirect(url_for("movements.show", name=name))
