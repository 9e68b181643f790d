"""Roster: athletes and what is known of them, test entry, import and export."""

import json
from dataclasses import replace

from flask import Blueprint, Response, current_app, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from sorvek.core.advice import Gap, doubt_frac, missing_numbers
from sorvek.core.athlete import (
    BODY,
    IGNORE,
    Athlete,
    Origin,
    Outcome,
    RosterImport,
    athlete_data,
    athlete_from_data,
    body_figure,
    capacity,
    read_athlete,
    read_roster,
    roster_csv,
    typed_over,
    with_test,
)
from sorvek.core.club import plan_of
from sorvek.core.errors import CoreError, RosterError
from sorvek.core.lift import best_style
from sorvek.core.simulation import problem_for
from sorvek.core.table import read_text
from sorvek.core.workout import Form, unroll
from sorvek.store.athletes import (
    SavedAthlete,
    add_athlete,
    all_athletes,
    name_taken,
    remove_athlete,
    save_athlete,
    store_roster,
)
from sorvek.store.attempts import attempts_of
from sorvek.store.library import club_library
from sorvek.store.outlooks import outlooks_of
from sorvek.store.workouts import SavedWorkout, all_workouts
from sorvek.web.people import athlete_or_404
from sorvek.web.roster.forms import AthleteForm, TestForm

bp = Blueprint("roster", __name__, url_prefix="/roster")

ASK_FIRST = 3


def _current(workouts: list[SavedWorkout]) -> SavedWorkout | None:
    """Return the workout that is open or next, else the last."""
    from datetime import date

    today = current_app.config["TODAY"] or date.today()
    return next((w for w in workouts if w.due_on >= today), workouts[-1] if workouts else None)


def _gaps(saved: SavedAthlete, workout: SavedWorkout) -> tuple[Gap, ...]:
    """Return the numbers that would narrow an athlete's forecast most; none before there is a plan."""
    kept = outlooks_of(workout.id).get(saved.id)
    if kept is None or workout.workout.form is Form.LIFT:
        return ()
    problem = problem_for(workout.workout, saved.athlete)
    try:
        return missing_numbers(problem, plan_of(kept.outlook.schemes))[:ASK_FIRST]
    except CoreError:
        return ()  # the plan belongs to an earlier text


def _numbers(athlete: Athlete, workout: SavedWorkout) -> list[tuple[str, str, str, str, str]]:
    """Return what a workout asks of an athlete: label, value with unit, origin, day, certainty."""
    course = unroll(workout.workout, athlete.division, athlete.sex)
    rows = []
    for slot in course.slots:
        figure = capacity(athlete, slot, slot.movement.styles[0]).unbroken
        rows.append((slot.label, f"{figure.value:.0f} in a row", figure, slot.movement.name))
    if workout.workout.lift:
        name = workout.workout.lift.movement
        figure = best_style(athlete, workout.workout.library.movements[name])[1]
        rows.append((f"1RM {name}", f"{figure.value:.1f} kg", figure, name))
    for key, label, unit in (("critical_power_w", "critical power", "W"), ("w_prime_j", "W′", "J")):
        figure = body_figure(athlete, key)
        rows.append((label, f"{figure.value:.0f} {unit}", figure, key))
    return [
        (
            label,
            value,
            figure.origin.value,
            athlete.measured_on.get(key, ""),
            f"±{doubt_frac(athlete, key, figure):.0%}",
        )
        for label, value, figure, key in rows
    ]


def _measured(athlete: Athlete, movement: str) -> bool:
    return movement in athlete.unbroken or movement in athlete.one_rep_max_kg


@bp.get("/")
def index() -> str:
    """Show the roster with what is missing for the workout at hand."""
    workouts, athletes = all_workouts(), all_athletes()
    workout = _current(workouts)
    wanted: list[str] = []
    if workout:
        course = unroll(workout.workout, workout.workout.divisions[0])
        lift = [workout.workout.lift.movement] if workout.workout.lift else []
        wanted = list(dict.fromkeys([*(slot.movement.name for slot in course.slots), *lift]))
    known = {a.id: [_measured(a.athlete, name) for name in wanted] for a in athletes}
    return render_template("roster/index.html", athletes=athletes, workout=workout, wanted=wanted, known=known)


def _flags_text(athlete: Athlete) -> str:
    return "\n".join(f"{name}: {why}" if why else name for name, why in athlete.flags.items())


def _flags(text: str) -> dict[str, str]:
    """Return flags typed one a line, `movement: reason`.

    Raises: UnknownMovementError for a movement nobody knows.
    """
    lines = [line.strip() for line in text.splitlines() if line.strip()]
    pairs = [(name.strip(), why.strip()) for name, _, why in (line.partition(":") for line in lines)]
    return {club_library().find(name).name: why for name, why in pairs}


def _page(saved: SavedAthlete | None, form: AthleteForm, test: TestForm | None = None, status: int = 200):  # type: ignore[no-untyped-def]
    workouts = all_workouts()
    workout = _current(workouts)
    athlete = saved.athlete if saved else None
    return render_template(
        "roster/edit.html",
        saved_athlete=saved,
        form=form,
        test=test or TestForm(formdata=None),
        workout=workout,
        gaps=_gaps(saved, workout) if saved and workout else (),
        numbers=_numbers(athlete, workout) if athlete and workout else [],
        movements=sorted(club_library().movements),
        athlete=athlete,
        attempts=attempts_of(saved.id) if saved else [],
        measured=Origin.MEASURED.value,
    ), status


@bp.get("/new")
def new() -> ResponseReturnValue:
    """Show an empty athlete."""
    return _page(None, AthleteForm(tier="building", sex="m"))


@bp.get("/<int:athlete_id>")
def show(athlete_id: int) -> ResponseReturnValue:
    """Show an athlete."""
    saved = athlete_or_404(athlete_id)
    a = saved.athlete
    form = AthleteForm(obj=a)
    form.version.data, form.flags.data = saved.version, _flags_text(a)
    return _page(saved, form)


def _from_form(form: AthleteForm, before: Athlete | None) -> Athlete:
    """Return the athlete in the form, with the numbers typed in the table of reps and lifts.

    Raises: CoreError naming the field that cannot be right.
    """
    names = ("name", "tier", "sex", "division", "mass_kg", "stature_cm", "critical_power_w", "w_prime_j", "notes")
    data = athlete_data(before) if before else {}
    data |= {name: getattr(form, name).data for name in names}
    data = {name: value for name, value in data.items() if value not in (None, "")}
    data["flags"] = _flags(form.flags.data or "")
    for prefix, field in (("set-", "unbroken"), ("lift-", "one_rep_max_kg")):
        if before:
            kept = dict(getattr(before, field))
            for key, text in request.form.items():
                if key.startswith(prefix):
                    name = key.removeprefix(prefix)
                    kept.pop(name, None)
                    if text.strip():
                        kept[name] = text.strip().replace(",", ".")  # pydantic says what is no number
            data[field] = kept
    athlete = athlete_from_data(data, club_library())
    return typed_over(before, athlete) if before else athlete


@bp.post("/new")
def create() -> ResponseReturnValue:
    """Store a new athlete."""
    form = AthleteForm()
    if not form.validate():
        return _page(None, form, status=422)
    try:
        athlete = _from_form(form, None)
    except CoreError as error:
        form.name.errors = [*form.name.errors, str(error)]
        return _page(None, form, status=422)
    if name_taken(athlete.name):
        form.name.errors = ["There is an athlete of this name; add something to tell them apart."]
        return _page(None, form, status=422)
    return redirect(url_for("roster.show", athlete_id=add_athlete(athlete)))


@bp.post("/<int:athlete_id>")
def save(athlete_id: int) -> ResponseReturnValue:
    """Save a changed athlete; what is wrong, or was changed by somebody else meanwhile, comes back as typed."""
    saved, form = athlete_or_404(athlete_id), AthleteForm()
    if request.form.get("action") == "remove":
        remove_athlete(athlete_id)
        flash(f"{saved.athlete.name} was removed with all plans.", "done")
        return redirect(url_for("roster.index"))
    if not form.validate():
        return _page(saved, form, status=422)
    try:
        athlete = _from_form(form, saved.athlete)
    except CoreError as error:
        flash(str(error), "warn")
        return _page(replace(saved, athlete=saved.athlete), form, status=422)
    if name_taken(athlete.name, athlete_id):
        form.name.errors = ["There is an athlete of this name; add something to tell them apart."]
        return _page(saved, form, status=422)
    if not save_athlete(athlete_id, athlete, form.version.data or 0):
        flash("Somebody changed this athlete while you typed. Yours is below; compare, then save again.", "warn")
        form.version.data = saved.version
        return _page(saved, form, status=409)
    flash("Saved. Plans made with the old numbers are marked on Place.", "done")
    return redirect(url_for("roster.show", athlete_id=athlete_id))


@bp.post("/<int:athlete_id>/test")
def test_result(athlete_id: int) -> ResponseReturnValue:
    """Enter one test result."""
    saved, test = athlete_or_404(athlete_id), TestForm()
    form = AthleteForm(formdata=None, obj=saved.athlete)
    form.version.data, form.flags.data = saved.version, _flags_text(saved.athlete)
    if not test.validate():
        return _page(saved, form, test, 422)
    try:
        day = test.day.data.isoformat() if test.day.data else ""
        typed = (test.kind.data, test.movement.data or "", (test.value.data or "").strip(), test.weight.data or 0.0)
        athlete = with_test(saved.athlete, club_library(), Outcome(*typed, test.unit.data, day))
        athlete = athlete_from_data(athlete_data(athlete), club_library())
    except ValueError as error:  # every refusal of the core is one, and so is a clock time that is none
        test.value.errors = [str(error)]
        return _page(saved, form, test, 422)
    save_athlete(athlete_id, athlete, saved.version)
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
    return [(IGNORE, "leave out"), *body, *sets, *lifts]


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
        known = {saved.athlete.name: saved.athlete for saved in all_athletes()}
        chosen = {
            int(key.removeprefix("target-")): (target, request.form.get(key.replace("target", "unit"), ""))
            for key, target in request.form.items()
            if key.startswith("target-")
        }
        found = read_roster(text, club_library(), known, chosen)
    except CoreError as error:
        return _import_page(text, None, str(error), 422)
    doubts = found.questions and request.form.get("sure") != "yes"
    if request.form.get("action") != "store" or found.errors or doubts:
        return _import_page(text, found, "", 422 if found.errors else 200)
    added, changed = store_roster(found.athletes)
    flash(f"{added} athletes added, {changed} updated.", "done")
    return redirect(url_for("roster.index"))


def _import_json(data: bytes) -> ResponseReturnValue:
    athlete = read_athlete(read_text(data), club_library())
    if name_taken(athlete.name):
        raise RosterError(f"there is an athlete called {athlete.name}; rename one of them first")
    return redirect(url_for("roster.show", athlete_id=add_athlete(athlete)))
