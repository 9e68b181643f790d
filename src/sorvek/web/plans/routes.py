"""Break: one athlete's plan as a pace tape, with sets that can be typed."""

import time
from dataclasses import replace
from functools import lru_cache

from flask import Blueprint, abort, flash, jsonify, redirect, render_template, request, session, url_for
from flask.typing import ResponseReturnValue
from werkzeug.datastructures import MultiDict

from sorvek.core.advice import (
    Briefing,
    brief,
    compare_schools,
    exchange_rates,
    first_round_line,
    gap_text,
    milestones,
    must_be_true,
    recommendation,
    split_targets,
    stretches,
)
from sorvek.core.athlete import body_figure, read_athlete, with_substitutes
from sorvek.core.club import outlook_of, plan_of
from sorvek.core.errors import CoreError
from sorvek.core.plan import Edit, Phase, Plan, Scope, check_sets, edit_plan, parse_shorthand, shorthand
from sorvek.core.planner import plan_workout
from sorvek.core.quantities import clock
from sorvek.core.simulation import Problem, ScoreKind, problem_for, score_text
from sorvek.core.workout import Form, Library, Workout, parse_workout, workout_text
from sorvek.figures.pace_tape import View, pace_tape, tape_end_s
from sorvek.store.athletes import SavedAthlete, all_athletes
from sorvek.store.library import club_library
from sorvek.store.outlooks import SavedOutlook, outlooks_of, save_outlook
from sorvek.store.placings import Placing, placings_of
from sorvek.store.plans import drop_plan, load_plan, plan_versions, save_plan
from sorvek.store.workouts import SavedWorkout
from sorvek.web.people import athlete_or_404, beside, held_page, is_held, listed_ids
from sorvek.web.read.routes import workout_or_404

bp = Blueprint("plans", __name__, url_prefix="/workouts/<int:workout_id>/break")

# Computed plans by workout text and athlete file: a plan changes only when one of them does.
KEPT_PLANS = 256


@lru_cache(maxsize=KEPT_PLANS)
def _briefed(workout_text: str, athlete_text: str, schemes: tuple[str, ...], library: Library) -> Briefing:
    problem = problem_for(parse_workout(workout_text, library), read_athlete(athlete_text, library))
    return brief(problem, plan_of(schemes))


@lru_cache(maxsize=KEPT_PLANS)
def _computed(workout_text: str, athlete_text: str, library: Library) -> Briefing:
    problem = problem_for(parse_workout(workout_text, library), read_athlete(athlete_text, library))
    return brief(problem, plan_workout(problem).plan)


def effective_workout(saved: SavedWorkout, athlete: SavedAthlete) -> Workout:
    """Return the workout with the substitutes chosen for an athlete."""
    instead = placings_of(saved.id).get(athlete.id, Placing()).substitutes
    return with_substitutes(saved.workout, instead) if instead else saved.workout


def effective_text(saved: SavedWorkout, athlete: SavedAthlete) -> str:
    """Return the workout's text with the substitutes chosen for an athlete."""
    workout = effective_workout(saved, athlete)
    return saved.text if workout is saved.workout else workout_text(workout)


def _recommended(saved: SavedWorkout, athlete: SavedAthlete) -> Briefing:
    """Return the computed plan's briefing, stored for Place if it is new there.

    A plan that was computed with the club and still fits is taken as it is.
    """
    text, kept = effective_text(saved, athlete), outlooks_of(saved.id).get(athlete.id)
    if kept and (kept.workout_version, kept.athlete_version) == (saved.version, athlete.version):
        return _briefed(text, athlete.data, kept.outlook.schemes, club_library())
    briefing = _computed(text, athlete.data, club_library())
    save_outlook(saved.id, athlete.id, SavedOutlook(outlook_of(briefing), saved.version, athlete.version))
    return briefing


def _typed(problem: Problem, plan: Plan, form: MultiDict[str, str]) -> tuple[Plan, dict[int, str]]:
    """Return the plan with every scheme the coach typed, and a message for each that does not fit."""
    errors: dict[int, str] = {}
    for slot in range(len(plan.slots)):
        text = form.get(f"sets-{slot}")
        if text is None:
            continue
        try:
            phases: tuple[Phase, ...] = parse_shorthand(text)
            check_sets(problem.course, slot, phases)
            plan = plan.with_slot(slot, phases)
        except CoreError as error:
            errors[slot] = str(error).removeprefix("line 1, ")
    return plan, errors


def _zoomed(briefing: Briefing, label: str) -> View:
    """Return the view of one round, of the whole tape for a label that is none."""
    found = next((s for s in briefing.timeline.splits if s.label == label), None)
    return View(found.start_s, found.end_s) if found else View()


def _board(briefing: Briefing, recommended: Briefing, form: MultiDict[str, str]) -> str:
    """Return the part of the page that follows the sets: score, tape, splits, warnings."""
    zoom = form.get("zoom", "")
    view = _zoomed(briefing, zoom)
    other, gaps = None, []
    if briefing.plan != recommended.plan:
        ends = {s.label: s.end_s for s in recommended.timeline.splits if s.complete}
        gaps = [
            s.end_s - ends[s.label] if s.complete and s.label in ends else None for s in briefing.timeline.splits
        ]
        if form.get("beside"):
            if not view.end_s:
                view = View(0.0, max(tape_end_s(briefing), tape_end_s(recommended)))
            other = pace_tape(recommended, replace(view, reserves=False))
    return render_template(
        "plans/_board.html",
        briefing=briefing,
        tape=pace_tape(briefing, view),
        other=other,
        gaps=gaps,
        zoom=zoom,
        score=score_text(briefing.timeline.score, briefing.course),
        band=_band_words(briefing),
        against=_against(briefing, recommended),
        reason=recommendation(briefing),
        targets=split_targets(briefing),
        first_round=first_round_line(briefing),
        stretches=stretches(briefing),
    )


def _band_words(briefing: Briefing) -> str:
    band = briefing.band
    if briefing.timeline.score.kind is ScoreKind.TIME:
        return f"{clock(band.p10)}–{clock(band.p90)}"
    return f"{band.p10:.0f}–{band.p90:.0f} reps"


def _against(briefing: Briefing, recommended: Briefing) -> str:
    """Return how a typed plan compares with the computed one, empty if it is that plan."""
    if briefing.plan == recommended.plan:
        return ""
    gap = gap_text(briefing, recommended)
    link = "as" if gap.startswith("the same") else "than"
    return f"{gap}, computed plan" if "instead" in gap else f"{gap} {link} the computed plan"


def breaks_to_remember(briefing: Briefing) -> int:
    """Return the planned breaks in the first visit to every movement: what has to be kept in mind."""
    first = {block.slot: len(block.sets) - 1 for block in reversed(briefing.blocks)}
    return sum(first.values())


@bp.get("/")
def first(workout_id: int) -> ResponseReturnValue:
    """Go on with the athlete looked at last, or the first of the list; a max lift alone has no sets to break."""
    saved = workout_or_404(workout_id)
    if saved.workout.form is Form.LIFT:
        return redirect(url_for("lift.first", workout_id=workout_id))
    athletes = all_athletes()
    if not athletes:
        return render_template("plans/nobody.html", saved=saved)
    ids = listed_ids(athletes)
    chosen = session.get("athlete") if session.get("athlete") in ids else ids[0]
    return redirect(url_for("plans.show", workout_id=workout_id, athlete_id=chosen))


def _start(saved: SavedWorkout, athlete: SavedAthlete) -> tuple[Briefing, Plan, bool]:
    """Return the computed plan's briefing, the plan in force, and whether a kept plan is out of date."""
    recommended = _recommended(saved, athlete)
    computed = recommended.plan
    kept = load_plan(saved.id, athlete.id)
    if kept is None:
        return recommended, computed, False
    if kept.workout_version != saved.version or len(kept.schemes) != len(computed.slots):
        return recommended, computed, True
    form = MultiDict({f"sets-{slot}": text for slot, text in enumerate(kept.schemes)})
    plan, errors = _typed(recommended.problem, computed, form)
    return recommended, plan, bool(errors)


def plan_in_force(saved: SavedWorkout, athlete: SavedAthlete) -> Briefing | None:
    """Return the kept plan, else the computed one; None where a flag or a coach holds the athlete back."""
    if is_held(saved, athlete):
        return None
    recommended, plan, _ = _start(saved, athlete)
    return recommended if plan == recommended.plan else brief(recommended.problem, plan)


@bp.get("/<int:athlete_id>")
def show(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Show an athlete's plan; sets in the query are tried without being kept."""
    return _page(workout_id, athlete_id, request.args)


def _page(workout_id: int, athlete_id: int, form: MultiDict[str, str], status: int = 200) -> ResponseReturnValue:
    saved, athlete = workout_or_404(workout_id), athlete_or_404(athlete_id)
    session["athlete"] = athlete_id
    if saved.workout.form is Form.LIFT:
        return redirect(url_for("lift.show", workout_id=workout_id, athlete_id=athlete_id))
    if is_held(saved, athlete):
        return held_page(saved, athlete, "break"), status
    placing = placings_of(workout_id).get(athlete_id, Placing())
    recommended, plan, stale = _start(saved, athlete)
    problem = recommended.problem
    kept = load_plan(workout_id, athlete_id) is not None and not stale
    plan, errors = _typed(problem, plan, form)
    texts = [shorthand(phases) for phases in plan.slots]
    page = render_template(
        "plans/show.html",
        **beside(saved, athlete),
        substitutes=placing.substitutes,
        slots=problem.course.slots,
        counts=[sorted({s.reps for s in problem.course.segments_of(i)}) for i in range(len(texts))],
        texts=[form.get(f"sets-{slot}", text) for slot, text in enumerate(texts)],
        computed=[shorthand(phases) for phases in recommended.plan.slots],
        errors=errors,
        stale=stale,
        kept=kept,
        board=_board(brief(recommended.problem, plan), recommended, form),
        lift=saved.workout.lift,
        rounds=[split.label for split in recommended.timeline.splits],
        zoom=form.get("zoom", ""),
        author=session.get("author", ""),
        versions=plan_versions(workout_id, athlete_id),
        origins=_origins(problem),
    )
    return page, status


def _origins(problem: Problem) -> list[tuple[str, str, str, str]]:
    """Return where the numbers behind a plan come from: label, value with unit, origin, day."""
    athlete = problem.athlete
    rows = []
    for slot, styles in zip(problem.course.slots, problem.capacities, strict=True):
        day = athlete.measured_on.get(slot.movement.name, "")
        for style, able in zip(slot.movement.styles, styles, strict=True):
            label = f"{slot.label}{', ' + style.name if style.name and len(styles) > 1 else ''}"
            rows.append(
                (f"{label}: longest set", f"{able.unbroken.value:.1f} reps", able.unbroken.origin.value, day)
            )
            if able.one_rep_max_kg:
                formula = f"{able.unbroken.origin.value}; reps at the load by {athlete.curve.value}"
                rows.append((f"{label}: 1RM", f"{able.one_rep_max_kg:.1f} kg", formula, day))
            rows.append((f"{label}: one rep", f"{able.cycle.value:.2f} s", able.cycle.origin.value, ""))
    for key, unit in (("critical_power_w", "W"), ("w_prime_j", "J"), ("mass_kg", "kg"), ("stature_cm", "cm")):
        figure = body_figure(athlete, key)
        label = key.rsplit("_", 1)[0].replace("_", " ").replace("w prime", "W′")
        rows.append((label, f"{figure.value:.0f} {unit}", figure.origin.value, athlete.measured_on.get(key, "")))
    return list(dict.fromkeys(rows))


def _tried(workout_id: int, athlete_id: int) -> tuple[Briefing, Plan, dict[int, str]]:
    """Return the computed plan's briefing, the plan with the sets in the form, and what is wrong with them.

    Ends the request with 404 for an athlete who is held back: there is no plan to try anything on.
    """
    saved, athlete = workout_or_404(workout_id), athlete_or_404(athlete_id)
    if is_held(saved, athlete):
        abort(404)
    recommended = _recommended(saved, athlete)
    return recommended, *_typed(recommended.problem, recommended.plan, request.form)


@bp.post("/<int:athlete_id>/preview")
def preview(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Return the board for sets that are being typed, or what is wrong with them."""
    begun = time.perf_counter()
    recommended, plan, errors = _tried(workout_id, athlete_id)
    if errors:
        return jsonify(errors=errors), 422
    response = jsonify(html=_board(brief(recommended.problem, plan), recommended, request.form))
    response.headers["Server-Timing"] = f"plan;dur={1000 * (time.perf_counter() - begun):.1f}"
    return response


@bp.post("/<int:athlete_id>/edit")
def edit(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Return the sets after an edit on the tape: which set of which visit, what, how far it reaches."""
    recommended, plan, errors = _tried(workout_id, athlete_id)
    if errors:
        return jsonify(errors=errors), 422
    form = request.form
    try:
        what, scope = Edit(form.get("edit", "")), Scope(form.get("scope") or Scope.ALL)
        place = (form.get("segment", -1, int), form.get("set", 0, int))
        changed = edit_plan(recommended.course, plan, *place, what, scope, form.get("by", 1, int))
    except ValueError as error:
        return jsonify(errors={}, problem=str(error)), 422
    return jsonify(texts=[shorthand(phases) for phases in changed.slots])


@bp.post("/<int:athlete_id>/replan")
def replan(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Return the best sets for everything that is not locked."""
    recommended, plan, errors = _tried(workout_id, athlete_id)
    if errors:
        return jsonify(errors=errors), 422
    kept = {slot: phases for slot, phases in enumerate(plan.slots) if request.form.get(f"lock-{slot}")}
    planned = plan_workout(recommended.problem, kept).plan if kept else recommended.plan
    return jsonify(texts=[shorthand(phases) for phases in planned.slots])


@bp.post("/<int:athlete_id>/advice")
def advice(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Return schools, exchange rates and milestones for the sets in the form: half a second of work."""
    recommended, plan, errors = _tried(workout_id, athlete_id)
    if errors:
        return jsonify(errors=errors), 422
    problem = recommended.problem
    briefing = brief(problem, plan)
    html = render_template(
        "plans/_advice.html",
        own=(
            score_text(briefing.timeline.score, briefing.course),
            _band_words(briefing),
            max(briefing.band.forced_break_frac),
            breaks_to_remember(briefing),
        ),
        schools=[
            (
                r.school.value,
                score_text(r.briefing.timeline.score, r.briefing.course),
                _band_words(r.briefing),
                max(r.briefing.band.forced_break_frac),
                breaks_to_remember(r.briefing),
                r.verdict,
            )
            for r in compare_schools(problem, plan)
        ],
        rates=exchange_rates(problem, plan),
        goals=milestones(problem, briefing.timeline),
        to_finish=must_be_true(problem, briefing.timeline),
    )
    return jsonify(html=html)


@bp.post("/<int:athlete_id>")
def save(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Keep the typed plan, or forget it again."""
    saved, athlete = workout_or_404(workout_id), athlete_or_404(athlete_id)
    here = url_for("plans.show", workout_id=workout_id, athlete_id=athlete_id)
    if request.form.get("action") == "drop":
        drop_plan(workout_id, athlete_id)
        flash("The computed plan is back.", "done")
        return redirect(here)
    _, plan, errors = _tried(workout_id, athlete_id)
    if errors:
        return _page(workout_id, athlete_id, request.form, 422)
    author = session["author"] = request.form.get("author", "").strip()[:80]
    save_plan(workout_id, athlete_id, [shorthand(phases) for phases in plan.slots], saved.version, author)
    flash(f"Plan kept for {athlete.athlete.name}.", "done")
    return redirect(here)
