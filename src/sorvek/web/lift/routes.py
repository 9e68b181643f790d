"""Lift: attempts in the window, plates on the bar, two scores, and bars that get heavier inside the work."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

from flask import Blueprint, abort, flash, jsonify, redirect, render_template, request, session, url_for
from flask.typing import ResponseReturnValue

from sorvek.core.advice import Briefing
from sorvek.core.athlete import read_athlete
from sorvek.core.club import Leaderboard, lifts_of, plan_of
from sorvek.core.club import Result as FieldResult
from sorvek.core.errors import CoreError
from sorvek.core.lift import (
    Aim,
    Attempt,
    AttemptPlan,
    Crew,
    Ramp,
    SchoolRun,
    Setup,
    WarmUpSet,
    Wishes,
    best_style,
    build_up,
    change,
    compare_attempts,
    eased,
    expected_last_rung,
    find_ramps,
    gym_text,
    has_ramp,
    lift_setup,
    parse_gym,
    pounds_doubt,
    staging,
    trade_off,
)
from sorvek.core.plan import shorthand
from sorvek.core.quantities import lb_from_kg, plain
from sorvek.core.simulation import Score, ScoreKind, problem_for, score_text
from sorvek.core.workout import Form, Library, Workout, parse_workout, workout_text
from sorvek.figures.bar_drawing import bar_drawing
from sorvek.figures.lift_tape import lift_tape
from sorvek.figures.trade import trade_curve
from sorvek.store.athletes import SavedAthlete, all_athletes
from sorvek.store.field import boards_of
from sorvek.store.library import club_library
from sorvek.store.lifts import drop_wishes, load_wishes, save_gym, save_wishes, the_gym
from sorvek.store.plans import save_plan
from sorvek.store.workouts import SavedWorkout
from sorvek.web.lift.forms import ROWS, Result, form_of, load_text, parse_wishes
from sorvek.web.people import athlete_or_404, beside, held_page, is_held, listed_ids
from sorvek.web.plans.routes import effective_workout, plan_in_force
from sorvek.web.read.routes import workout_or_404

bp = Blueprint("lift", __name__, url_prefix="/workouts/<int:workout_id>/lift")


def load_words(load_kg: float, unit: str = "kg") -> str:
    """Return a load with its unit: pounds as whole numbers."""
    return f"{lb_from_kg(load_kg):.0f} lb" if unit == "lb" else f"{plain(round(load_kg, 1))} kg"


def has_lift_stage(workout: Workout) -> bool:
    """Return whether a workout gives the Lift page anything to say."""
    return workout.lift is not None or has_ramp(workout)


@dataclass(frozen=True, slots=True)
class Case:
    """One athlete's lift on one workout with everything it needs."""

    saved: SavedWorkout
    athlete: SavedAthlete
    workout: Workout
    before: Briefing | None
    board: Leaderboard

    def setup(self, wishes: Wishes) -> Setup:
        """Return the task behind wishes."""
        tank = self.before.timeline.tank if self.before else None
        lifts = lifts_of(self.board.results)
        return lift_setup(self.workout, self.athlete.athlete, the_gym(), wishes, tank, lifts)

    def place_of(self, score: Score) -> float:
        """Return the place a first score would take."""
        timed = score.kind is ScoreKind.TIME
        result = FieldResult("", "", timed, float(round(score.value)))
        return float(self.board.standing(result, result).place)


def case_of(saved: SavedWorkout, athlete: SavedAthlete) -> Case:
    """Return an athlete's lift with the plan in force before it; ends with 404 for who is held back."""
    if is_held(saved, athlete):
        abort(404)
    workout = effective_workout(saved, athlete)
    before = None if workout.form is Form.LIFT else plan_in_force(saved, athlete)
    boards = boards_of(saved.id)
    return Case(saved, athlete, workout, before, boards.get(athlete.athlete.division, boards[""]))


def attempt_plan(saved: SavedWorkout, athlete: SavedAthlete) -> AttemptPlan | None:
    """Return the attempts in force for a card: as kept, else as computed; None where they cannot be planned."""
    case = case_of(saved, athlete)
    if case.workout.lift is None:
        return None
    wishes = load_wishes(saved.id, athlete.id)
    try:
        return _computed(case.setup(wishes), wishes)[0]
    except CoreError:
        return None


@lru_cache(maxsize=256)
def _computed(setup: Setup, wishes: Wishes) -> tuple[AttemptPlan, tuple[SchoolRun, ...], tuple[WarmUpSet, ...]]:
    plan, schools = compare_attempts(setup.task, wishes.rows)
    task = setup.task
    return plan, schools, build_up(task.one_rep_max_kg, task.gym, task.bar, task.crew)


def _unit() -> str:
    unit = request.values.get("unit") or session.get("lift_unit", "kg")
    session["lift_unit"] = unit if unit == "lb" else "kg"
    return str(session["lift_unit"])


def _doubt(case: Case, wishes: Wishes, form: Mapping[str, str]) -> str:
    """Return the question whether pounds were typed as kilograms, unless it was answered."""
    if case.workout.lift is None or wishes.one_rep_max_kg is None or form.get("sure"):
        return ""
    movement = case.workout.library.movements[case.workout.lift.movement]
    return pounds_doubt(wishes.one_rep_max_kg, best_style(case.athlete.athlete, movement)[1].value)


def _ladder(case: Case, form: Mapping[str, str], unit: str) -> tuple[str, dict[str, str]]:
    """Return the part of the page that follows the form, and what is wrong in it by field."""
    parsed = parse_wishes(form, unit)
    errors = dict(parsed.errors)
    doubt = _doubt(case, parsed.wishes, form)
    if doubt:
        errors["one_rm"] = doubt
    if errors:
        return "", errors
    try:
        setup = case.setup(parsed.wishes)
        plan, schools, warm_up = _computed(setup, parsed.wishes)
    except CoreError as error:
        return "", {"": str(error)}
    html = render_template(
        "lift/_ladder.html",
        setup=setup,
        plan=plan,
        schools=schools,
        warm_up=warm_up,
        form=form,
        rows=[*plan.attempts, None][:ROWS],
        results=tuple(Result),
        bars=[bar_drawing(attempt.stack) for attempt in plan.attempts],
        changes=[""] + [_change_words(a, b) for a, b in pairwise(plan.attempts)],
        warm_bars=[bar_drawing(one.stack).words for one in warm_up],
        staged=", ".join(piece.label for piece in staging([a.stack for a in plan.attempts])),
        tape=lift_tape(setup.task, plan, lambda kg: load_words(kg, unit), case.before),
        before=score_text(case.before.timeline.score, case.before.course) if case.before else "",
        unit=unit,
        words=lambda kg: load_words(kg, unit),
        bare=lambda kg: load_text(kg, unit),
        of=len(setup.task.field_kg),
    )
    return html, {}


def _change_words(before: Attempt, after: Attempt) -> str:
    """Return what loaders do on either side between two attempts."""
    moved = change(before.stack, after.stack)
    off, on = (", ".join(piece.label for piece in pieces) for pieces in (moved.off, moved.on))
    return " · ".join(filter(None, (f"off {off}" if off else "", f"on {on}" if on else ""))) or "stays"


@bp.get("/")
def first(workout_id: int) -> ResponseReturnValue:
    """Go on with the athlete looked at last, or the first of the list."""
    saved = workout_or_404(workout_id)
    athletes = all_athletes()
    if not athletes:
        return render_template("plans/nobody.html", saved=saved)
    ids = listed_ids(athletes)
    chosen = session.get("athlete") if session.get("athlete") in ids else ids[0]
    return redirect(url_for("lift.show", workout_id=workout_id, athlete_id=chosen))


@bp.get("/<int:athlete_id>")
def show(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Show an athlete's lift; fields in the query are tried without being kept."""
    return _page(workout_id, athlete_id, request.args)


def _page(
    workout_id: int, athlete_id: int, typed: Mapping[str, str], status: int = 200, gym_problem: str = ""
) -> ResponseReturnValue:
    saved, athlete = workout_or_404(workout_id), athlete_or_404(athlete_id)
    session["athlete"] = athlete_id
    if is_held(saved, athlete):
        return held_page(saved, athlete, "lift"), status
    case, unit = case_of(saved, athlete), _unit()
    kept = load_wishes(workout_id, athlete_id)
    form = {**form_of(kept, unit), **{k: v for k, v in typed.items() if k not in ("csrf_token", "unit", "gym")}}
    html, errors = _ladder(case, form, unit) if case.workout.lift else ("", {})
    gym, expected = the_gym(), None
    if case.workout.lift:
        movement = case.workout.library.movements[case.workout.lift.movement]
        expected = best_style(athlete.athlete, movement)[1]
    page = render_template(
        "lift/show.html",
        **beside(saved, athlete),
        workout=case.workout,
        form=form,
        ladder=html,
        errors=errors,
        kept=kept != Wishes(),
        unit=unit,
        gym=gym,
        gym_text=typed.get("gym") or gym_text(gym),
        gym_problem=gym_problem,
        expected=expected,
        words=lambda kg: load_words(kg, unit),
        bare=lambda kg: load_text(kg, unit),
        aims=[aim for aim in Aim if aim is not Aim.PLACES or lifts_of(case.board.results)],
        crews=tuple(Crew),
        bar=gym.bar(form.get("bar", ""), athlete.athlete.sex).label,
        ramps=_ramps(case),
    )
    return page, status


def _ramps(case: Case) -> list[tuple[Ramp, int | None]]:
    if case.before is None:
        return []
    schemes = tuple(shorthand(phases) for phases in case.before.plan.slots)
    found = _computed_ramps(workout_text(case.workout), case.athlete.data, schemes, club_library())
    return [(ramp, expected_last_rung(ramp)) for ramp in found]


@lru_cache(maxsize=256)
def _computed_ramps(workout: str, athlete: str, schemes: tuple[str, ...], library: Library) -> tuple[Ramp, ...]:
    problem = problem_for(parse_workout(workout, library), read_athlete(athlete, library))
    return find_ramps(problem, plan_of(schemes))


@bp.post("/<int:athlete_id>/preview")
def preview(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Return the ladder for what is being typed, or what is wrong with it."""
    case = case_of(workout_or_404(workout_id), athlete_or_404(athlete_id))
    if case.workout.lift is None:
        abort(404)
    html, errors = _ladder(case, request.form, _unit())
    return (jsonify(errors=errors), 422) if errors else jsonify(html=html)


@bp.post("/<int:athlete_id>")
def save(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Keep what was typed, forget it, or store the gym's bars and plates."""
    saved, athlete = workout_or_404(workout_id), athlete_or_404(athlete_id)
    here = url_for("lift.show", workout_id=workout_id, athlete_id=athlete_id)
    if request.form.get("action") == "gym":
        try:
            save_gym(parse_gym(request.form.get("gym", "")))
        except CoreError as error:
            return _page(workout_id, athlete_id, request.form, 422, str(error))
        flash("Bars and plates stored for the whole club.", "done")
        return redirect(here)
    if request.form.get("action") == "drop":
        drop_wishes(workout_id, athlete_id)
        flash("The computed attempts are back.", "done")
        return redirect(here)
    case, unit = case_of(saved, athlete), _unit()
    _, errors = _ladder(case, request.form, unit)
    if errors:
        return _page(workout_id, athlete_id, request.form, 422)
    save_wishes(workout_id, athlete_id, parse_wishes(request.form, unit).wishes)
    flash(f"Attempts kept for {athlete.athlete.name}; they stand on the card.", "done")
    return redirect(here)


@bp.post("/<int:athlete_id>/two-scores")
def two_scores(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Return the curve of the first score against the lift, or keep the plan of one of its points."""
    saved, athlete = workout_or_404(workout_id), athlete_or_404(athlete_id)
    case, unit = case_of(saved, athlete), _unit()
    if case.before is None or case.workout.lift is None:
        abort(404)
    parsed = parse_wishes(request.form, unit)
    if parsed.errors:
        return jsonify(errors=parsed.errors), 422
    setup = case.setup(parsed.wishes)
    base = case.before.plan
    chosen = request.form.get("point", type=float)
    if chosen is not None:
        schemes = [shorthand(phases) for phases in eased(base, chosen).slots]
        save_plan(saved.id, athlete.id, schemes, saved.version, str(session.get("author", "")))
        flash("The plan of the first part is kept at this effort; the attempts below follow from it.", "done")
        return redirect(url_for("lift.show", workout_id=workout_id, athlete_id=athlete_id))
    course = case.before.course
    place_of = case.place_of if setup.task.field_kg else None
    points = trade_off(case.before.problem, base, setup.task, setup.style, place_of)
    current = next((i for i, point in enumerate(points) if point.ease == 1), -1)
    html = render_template(
        "lift/_two_scores.html",
        saved=saved,
        athlete=athlete,
        points=points,
        curve=trade_curve(points, lambda p: score_text(p.score, course), lambda kg: load_words(kg, unit), current),
        scores=[score_text(p.score, course) for p in points],
        words=lambda kg: load_words(kg, unit),
    )
    return jsonify(html=html)
