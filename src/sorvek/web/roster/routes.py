"""Roster: athletes and what is known of them, test entry, import and export."""

import json
from collections.abc import Mapping

from flask import Blueprint, Response, abort, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from sorvek.actions.athletes import asked_movements, current_workout, gaps_of, known_numbers
from sorvek.core.athlete import (
    BODY,
    IGNORE,
    Athlete,
    Origin,
    RosterImport,
    Trial,
    athlete_data,
    athlete_from_data,
    read_athlete,
    read_roster,
    roster_csv,
    typed_over,
    with_test,
)
from sorvek.core.errors import CoreError, RosterError
from sorvek.core.table import read_text
from sorvek.store.accounts import Role
from sorvek.store.athletes import (
    SavedAthlete,
    add_athlete,
    all_athletes,
    broken_athletes,
    change_athlete,
    name_taken,
    remove_athlete,
    removed_athletes,
    restore_athlete,
    save_athlete,
    store_roster,
)
from sorvek.store.changes import Changed, change_kept, changes_of
from sorvek.store.database import one_change
from sorvek.store.errors import ConflictError
from sorvek.store.library import club_library
from sorvek.store.log import attempts_of
from sorvek.web.access import needs
from sorvek.web.conflict import conflict_page, differences
from sorvek.web.entries import athlete_or_404, today
from sorvek.web.once import once
from sorvek.web.paging import paged
from sorvek.web.roster.forms import LABELS, AthleteForm, TestForm, form_values, read_form
from sorvek.web.undo import offer_undo

ROWS_A_PAGE = 100

bp = Blueprint("roster", __name__, url_prefix="/roster")

SAME_NAME = "There is an athlete of this name; add something to tell them apart."


def _has(athlete: Athlete, words: str) -> bool:
    """Return whether all words are in an athlete's name, division, tier or flags."""
    text = " ".join((athlete.name, athlete.division, athlete.tier, *athlete.flags)).casefold()
    return all(word in text for word in words.split())


@bp.get("/")
def index() -> str:
    """Show the roster with what is missing for the workout at hand."""
    workout, athletes = current_workout(today()), all_athletes()
    sought = request.args.get("q", "").strip()
    found = [saved for saved in athletes if _has(saved.athlete, sought.casefold())]
    return render_template(
        "roster/index.html",
        page=paged(found, ROWS_A_PAGE),
        sought=sought,
        athletes=athletes,
        broken=broken_athletes(),
        removed=removed_athletes(),
        workout=workout,
        wanted=asked_movements(workout),
    )


def _page(
    saved: SavedAthlete | None, form: AthleteForm, test: TestForm | None = None, status: int = 200
) -> ResponseReturnValue:
    workout = current_workout(today())
    page = render_template(
        "roster/edit.html",
        saved_athlete=saved,
        form=form,
        test=test or TestForm(formdata=None),
        workout=workout,
        gaps=gaps_of(saved, workout) if saved and workout else (),
        numbers=known_numbers(saved.athlete, workout) if saved and workout else (),
        movements=sorted(club_library().movements),
        athlete=saved.athlete if saved else None,
        was=json.dumps(form_values(saved.athlete)) if saved else "",
        attempts=attempts_of(saved.id) if saved else [],
        measured=Origin.MEASURED,
        changes=changes_of(Changed.ATHLETE, saved.id) if saved else [],
    )
    return page, status


def _filled(saved: SavedAthlete) -> AthleteForm:
    """Return the form as it shows a stored athlete."""
    return AthleteForm(formdata=None, data={**form_values(saved.athlete), "version": saved.version})


@bp.get("/new")
def new() -> ResponseReturnValue:
    """Show an empty athlete."""
    return _page(None, AthleteForm(tier="building", sex="m"))


@bp.get("/<int:athlete_id>")
def show(athlete_id: int) -> ResponseReturnValue:
    """Show an athlete."""
    saved = athlete_or_404(athlete_id)
    return _page(saved, _filled(saved))


@bp.post("/new")
@needs(Role.COACH)
@once
def create() -> ResponseReturnValue:
    """Store a new athlete."""
    form = AthleteForm()
    if not form.validate():
        return _page(None, form, status=422)
    try:
        return redirect(
            url_for("roster.show", athlete_id=add_athlete(read_form(request.form, None, club_library())))
        )
    except CoreError as error:
        form.name.errors = [*form.name.errors, str(error)]
    except ConflictError:
        form.name.errors = [SAME_NAME]
    return _page(None, form, status=422)


@bp.post("/<int:athlete_id>")
@needs(Role.COACH)
def save(athlete_id: int) -> ResponseReturnValue:
    """Save a changed athlete; what is wrong comes back as typed, what was changed meanwhile is set beside it."""
    saved, form = athlete_or_404(athlete_id), AthleteForm()
    if not form.validate():
        return _page(saved, form, status=422)
    try:
        athlete = read_form(request.form, saved.athlete, club_library())
    except CoreError as error:
        flash(str(error), "warn")
        return _page(saved, form, status=422)
    if name_taken(athlete.name, athlete_id):
        form.name.errors = [SAME_NAME]
        return _page(saved, form, status=422)
    try:
        save_athlete(athlete_id, typed_over(saved.athlete, athlete), form.version.data or 0)
    except ConflictError:
        return _conflict(athlete_or_404(athlete_id), athlete)
    flash("Saved. Plans made with the old numbers are marked on Place.", "done")
    return redirect(url_for("roster.show", athlete_id=athlete_id))


def _conflict(saved: SavedAthlete, typed: Athlete) -> ResponseReturnValue:
    """Return the page that sets two versions of an athlete side by side."""
    mine, theirs = form_values(typed), form_values(saved.athlete)
    found = differences(LABELS | {key: key for key in (*mine, *theirs) if key not in LABELS}, mine, theirs, _was())
    same = {key: value for key, value in mine.items() if value == theirs.get(key, "")}
    here = url_for("roster.show", athlete_id=saved.id)
    return conflict_page(saved.athlete.name, found, same, saved.version, here)


def _was() -> Mapping[str, str]:
    """Return the fields as they stood when the form was opened, as far as the form says so."""
    try:
        was = json.loads(request.form.get("was", "{}"))
    except ValueError:
        return {}
    return {str(k): str(v) for k, v in was.items()} if isinstance(was, dict) else {}


@bp.post("/<int:athlete_id>/changes/<int:change_id>")
@needs(Role.COACH)
def go_back(athlete_id: int, change_id: int) -> ResponseReturnValue:
    """Put an athlete back as they stood after an earlier change; what stands now stays in the history."""
    saved, kept = athlete_or_404(athlete_id), change_kept(Changed.ATHLETE, athlete_id, change_id)
    if kept is None:
        abort(404)
    athlete = athlete_from_data({**kept, "name": saved.athlete.name}, club_library())
    save_athlete(athlete_id, athlete, saved.version)
    flash("As it was then. What stood here before is in the list of changes.", "done")
    return redirect(url_for("roster.show", athlete_id=athlete_id))


@bp.post("/<int:athlete_id>/remove")
@needs(Role.COACH)
def remove(athlete_id: int) -> ResponseReturnValue:
    """Take an athlete off the roster; they can be put back."""
    saved = athlete_or_404(athlete_id)
    remove_athlete(athlete_id)
    offer_undo(f"{saved.athlete.name} was removed with all plans.", "roster.restore", athlete_id=athlete_id)
    return redirect(url_for("roster.index"))


@bp.post("/<int:athlete_id>/restore")
@needs(Role.COACH)
def restore(athlete_id: int) -> ResponseReturnValue:
    """Put a removed athlete back."""
    name = restore_athlete(athlete_id)
    if not name:
        abort(404)
    flash(f"{name} is back, with all plans.", "done")
    return redirect(url_for("roster.index"))


@bp.post("/<int:athlete_id>/test")
@needs(Role.COACH)
@once
def test_result(athlete_id: int) -> ResponseReturnValue:
    """Enter one test result, whatever else of the athlete was changed meanwhile."""
    saved, test = athlete_or_404(athlete_id), TestForm()
    if not test.validate():
        return _page(saved, _filled(saved), test, 422)
    day = test.day.data.isoformat() if test.day.data else ""
    typed = (test.kind.data, test.movement.data or "", (test.value.data or "").strip(), test.weight.data or 0.0)
    trial, library = Trial(*typed, test.unit.data, day), club_library()

    def entered(athlete: Athlete) -> Athlete:
        return athlete_from_data(athlete_data(with_test(athlete, library, trial)), library)

    try:
        change_athlete(athlete_id, entered)
    except ValueError as error:  # every refusal of the core is one, and so is a clock time that is none
        test.value.errors = [str(error)]
        return _page(saved, _filled(saved), test, 422)
    flash("Test entered.", "done")
    return redirect(url_for("roster.show", athlete_id=athlete_id))


@bp.get("/<int:athlete_id>.json")
def as_json(athlete_id: int) -> Response:
    """Return the athlete file."""
    return _download(json.dumps(athlete_data(athlete_or_404(athlete_id).athlete), indent=2), "athlete.json")


@bp.get("/roster.csv")
def as_csv() -> Response:
    """Return the roster as CSV."""
    return _download(roster_csv([saved.athlete for saved in all_athletes()]), "roster.csv")


def _download(text: str, name: str) -> Response:
    kind = "application/json" if name.endswith("json") else "text/csv; charset=utf-8"
    return Response(text, mimetype=kind, headers={"Content-Disposition": f"attachment; filename={name}"})


def _targets() -> list[tuple[str, str]]:
    """Return what a column may be read as."""
    movements = club_library().movements
    body = [(name, name.replace("_", " ")) for name in BODY]
    sets = [(f"set:{name}", f"longest set of {name}") for name in sorted(movements)]
    lifts = [(f"1rm:{name}", f"1RM {name}") for name in sorted(movements) if movements[name].styles[0].lift]
    cycles = [(f"cycle:{name}", f"seconds a rep of {name}") for name in sorted(movements)]
    return [(IGNORE, "leave out"), *body, *sets, *lifts, *cycles]


def _import_page(text: str, found: RosterImport | None, problem: str, status: int = 200) -> ResponseReturnValue:
    known = {saved.athlete.name for saved in all_athletes()}
    page = render_template(
        "roster/import.html", text=text, found=found, problem=problem, targets=_targets(), known=known
    )
    return page, status


@bp.get("/import")
def import_page() -> ResponseReturnValue:
    """Show where a table goes."""
    return _import_page("", None, "")


@bp.post("/import")
@needs(Role.COACH)
def import_roster() -> ResponseReturnValue:
    """Show what a table would bring in; store it once it is without errors and confirmed."""
    upload = request.files.get("file")
    text = request.form.get("text", "")
    try:
        if upload and upload.filename:
            data = upload.read()
            if upload.filename.lower().endswith(".json"):
                return _import_json(data)
            text = read_text(data)
        # What is known and what is stored belong together: nobody may save an athlete in between.
        with one_change():
            return _read_table(text)
    except CoreError as error:
        return _import_page(text, None, str(error), 422)


def _read_table(text: str) -> ResponseReturnValue:
    known = {saved.athlete.name: saved.athlete for saved in all_athletes()}
    found = read_roster(text, club_library(), known, _chosen_columns())
    doubts = found.questions and request.form.get("sure") != "yes"
    if request.form.get("action") != "store" or found.errors or doubts:
        return _import_page(text, found, "", 422 if found.errors else 200)
    added, changed = store_roster(found.athletes)
    flash(f"{added} athletes added, {changed} updated.", "done")
    return redirect(url_for("roster.index"))


def _chosen_columns() -> dict[int, tuple[str, str]]:
    """Return what a coach chose columns to mean, by their number from 0: target and unit."""
    known = {target for target, _ in _targets()}
    chosen = {}
    for key, target in request.form.items():
        number = key.removeprefix("target-")
        if number != key and number.isascii() and number.isdecimal() and len(number) < 5 and target in known:
            chosen[int(number)] = (target, request.form.get(f"unit-{number}", ""))
    return chosen


def _import_json(data: bytes) -> ResponseReturnValue:
    athlete = read_athlete(read_text(data), club_library())
    if name_taken(athlete.name):
        raise RosterError(f"there is an athlete called {athlete.name}; rename one of them first")
    return redirect(url_for("roster.show", athlete_id=add_athlete(athlete)))
