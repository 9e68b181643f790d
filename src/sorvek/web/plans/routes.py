"""Break: one athlete's plan as a pace tape, with sets that can be typed."""

import time
from collections.abc import Mapping
from dataclasses import asdict, dataclass

from flask import Blueprint, flash, jsonify, redirect, render_template, request, session, url_for
from flask.typing import ResponseReturnValue

from sorvek.actions.entry import Entry
from sorvek.actions.field_view import FieldView
from sorvek.actions.kept import tempers_of
from sorvek.actions.people import beside
from sorvek.actions.plans import InForce, in_force, keep_plan, recommended, try_sets
from sorvek.core.advice import (
    Briefing,
    brief,
    compare_schools,
    compare_tempers,
    exchange_rates,
    goals,
    nothing_won,
    origins,
)
from sorvek.core.club import result_text
from sorvek.core.errors import CoreError
from sorvek.core.plan import Edit, Scope, edit_plan, recast, shorthand, typed_plan
from sorvek.core.planner import Temper, plan_workout
from sorvek.core.workout import Form
from sorvek.store.accounts import Role
from sorvek.store.errors import ConflictError
from sorvek.store.outlooks import outlook_of_pair
from sorvek.store.plans import drop_plan, plan_versions
from sorvek.web.access import needs
from sorvek.web.conflict import conflict_page, differences
from sorvek.web.entries import entry_or_404, go_on, held_page, planned_entry_or_404, workout_or_404
from sorvek.web.plans.board import board_of, casts_of

bp = Blueprint("plans", __name__, url_prefix="/workouts/<int:workout_id>/break")

SETS = "sets-"


def _typed_texts(form: Mapping[str, str]) -> dict[int, str]:
    """Return the sets in a form by slot."""
    numbered = ((name.removeprefix(SETS), text) for name, text in form.items() if name.startswith(SETS))
    return {int(slot): text for slot, text in numbered if slot.isascii() and slot.isdecimal() and len(slot) < 4}


def _temper(form: Mapping[str, str]) -> Temper:
    """Return the temperament in a form, steady where it names none."""
    named = form.get("temper", "")
    return Temper(named) if named in tuple(Temper) else Temper.STEADY


@bp.get("/")
def first(workout_id: int) -> ResponseReturnValue:
    """Go on with the athlete looked at last, or the first of the list; a max lift alone has no sets to break."""
    saved = workout_or_404(workout_id)
    return go_on(saved, "lift.show" if saved.workout.form is Form.LIFT else "plans.show")


@bp.get("/<int:athlete_id>")
def show(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Show an athlete's plan; sets in the query are tried without being kept."""
    entry = entry_or_404(workout_id, athlete_id)
    session["athlete"] = athlete_id
    if entry.lift_alone:
        return redirect(url_for("lift.show", workout_id=workout_id, athlete_id=athlete_id))
    return held_page(entry, "break") if entry.held else _page(entry, request.args)


def _page(entry: Entry, form: Mapping[str, str], status: int = 200) -> ResponseReturnValue:
    force: InForce = in_force(entry)
    problem = force.recommended.problem
    typed = typed_plan(problem.course, force.plan, _typed_texts(form))
    texts = [shorthand(phases) for phases in typed.plan.slots]
    page = render_template(
        "plans/show.html",
        entry=entry,
        saved=entry.saved,
        people=beside(entry.athlete.id),
        slots=problem.course.slots,
        counts=[
            sorted({s.reps for s in problem.course.segments_of(i) if not s.endless}) for i in range(len(texts))
        ],
        texts=[form.get(f"{SETS}{slot}", text) for slot, text in enumerate(texts)],
        computed=[shorthand(phases) for phases in force.recommended.plan.slots],
        errors=typed.errors,
        force=force,
        temper=form.get("temper", force.temper.value),
        board=board_of(brief(problem, typed.plan), force.recommended, form),
        lift=entry.saved.workout.lift,
        rounds=[split.label for split in force.recommended.timeline.splits],
        view=form.get("view", ""),
        casts=casts_of(problem.course, typed.plan),
        author=session.get("author", ""),
        versions=plan_versions(entry.saved.id, entry.athlete.id),
        origins=origins(problem),
        **_in_the_field(entry),
    )
    return page, status


def _in_the_field(entry: Entry) -> dict[str, object]:
    """Return what the leaderboards say of an athlete's forecast, for `_field.html`; of the forecast on Place."""
    kept, athlete = outlook_of_pair(entry.saved.id, entry.athlete.id), entry.athlete.athlete
    if kept is None:
        return {"heaps": (), "second": None}
    view = FieldView(entry.saved, entry.athlete.id)
    return {
        "simulated": view.simulated,
        "heaps": view.heaps(athlete, kept.outlook),
        "second": view.second(entry.athlete.id, athlete, kept.outlook),
        "crux": kept.outlook.crux,
        "name": athlete.name,
        "text": result_text,
    }


@bp.post("/<int:athlete_id>/preview")
@needs(Role.ASSISTANT)
def preview(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Return the board for sets that are being typed, or what is wrong with them."""
    begun = time.perf_counter()
    computed, typed = try_sets(planned_entry_or_404(workout_id, athlete_id), _typed_texts(request.form))
    if typed.errors:
        return jsonify(errors=typed.errors), 422
    board = board_of(brief(computed.problem, typed.plan), computed, request.form)
    casts = [{"pace": cast.pace.value, "style": cast.style.value} for cast in casts_of(computed.course, typed.plan)]
    response = jsonify(asdict(board) | {"casts": casts})
    response.headers["Server-Timing"] = f"plan;dur={1000 * (time.perf_counter() - begun):.1f}"
    return response


@bp.post("/<int:athlete_id>/edit")
@needs(Role.ASSISTANT)
def edit(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Return the sets after an edit on the tape: which set of which visit, what, how far it reaches."""
    computed, typed = try_sets(planned_entry_or_404(workout_id, athlete_id), _typed_texts(request.form))
    if typed.errors:
        return jsonify(errors=typed.errors), 422
    form = request.form
    try:
        what, scope = Edit(form.get("edit", "")), Scope(form.get("scope") or Scope.ALL)
        place = (form.get("segment", -1, int), form.get("set", 0, int))
        changed = edit_plan(computed.course, typed.plan, *place, what, scope, form.get("by", 1, int))
    except ValueError as error:
        return jsonify(errors={}, problem=str(error)), 422
    return jsonify(texts=[shorthand(phases) for phases in changed.slots])


@bp.post("/<int:athlete_id>/cast")
@needs(Role.ASSISTANT)
def cast(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Return the sets after pace or style of a movement was chosen for all its rounds."""
    computed, typed = try_sets(planned_entry_or_404(workout_id, athlete_id), _typed_texts(request.form))
    if typed.errors:
        return jsonify(errors=typed.errors), 422
    form = request.form
    asked = form.get("slot", -1, int), form.get("pace", 0.0, float), form.get("style", "")
    try:
        plan = recast(computed.course, typed.plan, *asked)
    except CoreError as error:
        return jsonify(errors={}, problem=str(error)), 422
    return jsonify(texts=[shorthand(phases) for phases in plan.slots])


@bp.post("/<int:athlete_id>/replan")
@needs(Role.ASSISTANT)
def replan(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Return the best sets for everything that is not locked."""
    computed, typed = try_sets(planned_entry_or_404(workout_id, athlete_id), _typed_texts(request.form))
    if typed.errors:
        return jsonify(errors=typed.errors), 422
    locked = {slot: phases for slot, phases in enumerate(typed.plan.slots) if request.form.get(f"lock-{slot}")}
    steady = plan_workout(computed.problem, locked).plan if locked else computed.plan
    (result,) = compare_tempers(computed.problem, steady, (_temper(request.form),), locked)
    return jsonify(texts=[shorthand(phases) for phases in result.briefing.plan.slots])


@bp.get("/<int:athlete_id>/tempers")
def tempers(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Return safe, steady and attack side by side: two more searches, a quarter of a second."""
    entry = planned_entry_or_404(workout_id, athlete_id)
    found = tempers_of(entry, in_force(entry).recommended.plan)
    rows = [SchoolRow(r.temper.value, r.briefing, r.difference) for r in found]
    texts = {r.temper.value: [shorthand(phases) for phases in r.briefing.plan.slots] for r in found}
    return jsonify(html=render_template("plans/_tempers.html", rows=rows), texts=texts)


@dataclass(frozen=True, slots=True)
class SchoolRow:
    """One line of the table of schools; `breaks` are the planned ones in the first visit to every movement."""

    name: str
    briefing: Briefing
    verdict: str

    @property
    def score(self) -> str:
        """Return the score of the planned day."""
        return self.briefing.timeline.score.text

    @property
    def forced_frac(self) -> float:
        """Return the share of days on which a set of the worst movement breaks."""
        return max(self.briefing.band.forced_break_frac)

    @property
    def breaks(self) -> int:
        """Return how many breaks have to be kept in mind."""
        first_visits = {block.slot: len(block.sets) - 1 for block in reversed(self.briefing.blocks)}
        return sum(first_visits.values())


@bp.post("/<int:athlete_id>/advice")
@needs(Role.ASSISTANT)
def advice(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Return schools, exchange rates and milestones for the sets in the form: half a second of work."""
    computed, typed = try_sets(planned_entry_or_404(workout_id, athlete_id), _typed_texts(request.form))
    if typed.errors:
        return jsonify(errors=typed.errors), 422
    problem = computed.problem
    briefing, rates = brief(problem, typed.plan), exchange_rates(problem, typed.plan)
    html = render_template(
        "plans/_advice.html",
        own=SchoolRow("these sets", briefing, ""),
        schools=[SchoolRow(r.name, r.briefing, r.verdict) for r in compare_schools(problem, typed.plan)],
        rates=rates,
        nothing_won=nothing_won(rates),
        goals=goals(problem, briefing.timeline),
    )
    return jsonify(html=html)


@bp.post("/<int:athlete_id>")
@needs(Role.COACH)
def save(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Keep the typed plan, or forget it again."""
    entry, form = planned_entry_or_404(workout_id, athlete_id), request.form
    seen = form.get("version", 0, int)
    if form.get("action") == "drop":
        drop_plan(workout_id, athlete_id, seen)
        flash("The computed plan is back. The kept versions stay in the list below.", "done")
        return redirect(url_for("plans.show", workout_id=workout_id, athlete_id=athlete_id))
    if form.get("workout_version", entry.saved.version, int) != entry.saved.version:
        flash("The workout was changed while you planned. Your sets are below, tried on the new text.", "warn")
        return _page(entry, form, 409)
    _, typed = try_sets(entry, _typed_texts(form))
    if typed.errors:
        return _page(entry, form, 422)
    session["author"] = form.get("author", "").strip()[:80]
    try:
        keep_plan(entry, typed.plan, _temper(form), seen, session["author"])
    except ConflictError:
        return _conflict(entry, [shorthand(phases) for phases in typed.plan.slots])
    flash(f"Plan kept for {entry.athlete.athlete.name}.", "done")
    return redirect(url_for("plans.show", workout_id=workout_id, athlete_id=athlete_id))


def _conflict(entry: Entry, mine: list[str]) -> ResponseReturnValue:
    """Return the page that sets two plans side by side, movement by movement."""
    force = in_force(entry)
    before = {f"{SETS}{i}": shorthand(phases) for i, phases in enumerate(recommended(entry).plan.slots)}
    names = {f"{SETS}{i}": slot.label for i, slot in enumerate(force.recommended.course.slots)}
    theirs = {f"{SETS}{i}": shorthand(phases) for i, phases in enumerate(force.plan.slots)}
    own = {f"{SETS}{i}": text for i, text in enumerate(mine)}
    same = {name: text for name, text in own.items() if text == theirs[name]}
    same |= {
        "action": "keep",
        "temper": _temper(request.form).value,
        "author": session["author"],
        "workout_version": str(entry.saved.version),
    }
    here = url_for("plans.show", workout_id=entry.saved.id, athlete_id=entry.athlete.id)
    what = f"the plan of {entry.athlete.athlete.name}"
    return conflict_page(what, differences(names, own, theirs, before), same, force.version, here)
