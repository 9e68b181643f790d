"""Lift: attempts in the window, plates on the bar, two scores, and bars that get heavier inside the work."""

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import partial
from itertools import pairwise

from flask import Blueprint, abort, flash, jsonify, redirect, render_template, request, session, url_for
from flask.typing import ResponseReturnValue

from sorvek.actions import kept
from sorvek.actions.entry import Entry
from sorvek.actions.lifts import LiftEntry, attempts_in_force, lift_entry
from sorvek.actions.people import beside
from sorvek.actions.plans import in_force, keep_plan
from sorvek.core.club import lifts_of
from sorvek.core.errors import CoreError, LiftError
from sorvek.core.lift import (
    Aim,
    Attempt,
    Branch,
    Crew,
    Stack,
    Told,
    Total,
    Typed,
    Wishes,
    change,
    eased,
    expected_last_rung,
    gym_text,
    parse_gym,
    staging,
)
from sorvek.core.planner import Temper
from sorvek.core.quantities import clock
from sorvek.figures.bar_drawing import BarDrawing, bar_drawing
from sorvek.figures.lift_tape import lift_tape
from sorvek.figures.lift_tree import lift_tree
from sorvek.figures.trade import trade_curve
from sorvek.paper.words import load_words
from sorvek.store.accounts import Role
from sorvek.store.lifts import gym_version, load_wishes, save_gym, save_wishes, the_gym
from sorvek.web.access import needs
from sorvek.web.entries import entry_or_404, go_on, held_page, planned_entry_or_404, workout_or_404
from sorvek.web.lift.forms import ROWS, AttemptResult, form_of, load_text, parse_wishes

bp = Blueprint("lift", __name__, url_prefix="/workouts/<int:workout_id>/lift")


def _unit() -> str:
    """Return the unit loads are shown in: as chosen here, else as most plates of the hall bear it."""
    chosen = request.values.get("unit")
    if chosen in ("kg", "lb"):
        session["lift_unit"] = chosen
    return str(session.get("lift_unit") or the_gym().unit)


@dataclass(frozen=True, slots=True)
class LadderPart:
    """The part of the page that follows the form, or what is wrong in it by field."""

    html: str
    errors: Mapping[str, str]


def _part() -> int:
    """Return which of two lifts is looked at, 1 or 2."""
    return 2 if request.values.get("part") == "2" else 1


def _lift_or_404(entry: Entry) -> LiftEntry:
    """Return the lift of a workout that is looked at; without one there is nothing here."""
    number = _part()
    if number > len(entry.workout.lifts):
        abort(404)
    return lift_entry(entry, number)


def _ladder(lift: LiftEntry, form: Mapping[str, str], unit: str) -> LadderPart:
    parsed = parse_wishes(form, unit)
    errors = dict(parsed.errors)
    doubt = "" if form.get("sure") else lift.doubt(parsed.wishes)
    if doubt:
        errors["one_rm"] = doubt
    if errors:
        return LadderPart("", errors)
    try:
        setup = lift.setup(parsed.wishes)
        plan, schools, warm_up = kept.attempts_of(setup, parsed.wishes)
    except CoreError as error:
        return LadderPart("", {"": str(error)})
    told = Told(plan, setup.task, partial(load_words, unit=unit))
    html = render_template(
        "lift/_ladder.html",
        setup=setup,
        lift=lift.lift,
        pause_s=lift.pause_s,
        total=_total(lift.entry, lift.number, form, unit),
        plan=plan,
        told=told,
        notes=[line for line in (told.bar(), *map(told.typing, plan.typing)) if line],
        tree=lift_tree(plan.next, told.words) if plan.next and not setup.task.given else None,
        schools=schools,
        begun=any(a.made is not None for a in plan.attempts),
        warm_up=warm_up,
        form=form,
        rows=[*plan.attempts, None][:ROWS] if not setup.task.given else plan.attempts,
        results=tuple(AttemptResult),
        bars=[bar_drawing(attempt.stack) for attempt in plan.attempts],
        changes=[""] + [_change_words(a, b) for a, b in pairwise(plan.attempts)],
        warm_bars=[bar_drawing(one.stack).words for one in warm_up],
        staged=", ".join(piece.label for piece in staging([a.stack for a in plan.attempts])),
        tape=lift_tape(
            setup.task,
            plan,
            partial(load_words, unit=unit),
            lift.before,
            rest_s=lift.pause_s,
        ),
        before=lift.before.timeline.score.text if lift.before else "",
        unit=unit,
        words=told.words,
        bare=partial(load_text, unit=unit),
        of=len(setup.task.field_kg),
    )
    return LadderPart(html, {})


def _total(entry: Entry, number: int, form: Mapping[str, str], unit: str) -> Total | None:
    """Return the total with one lift as typed and the other as kept; None where there is one lift or an error."""
    if len(entry.workout.lifts) < 2:
        return None
    wishes = parse_wishes(form, unit).wishes
    try:
        own = kept.attempts_of(lift_entry(entry, number).setup(wishes), wishes)[0]
    except CoreError:
        return None
    other = attempts_in_force(entry, 3 - number)
    if other is None:
        return None
    return Total((own, other))


def _change_words(before: Attempt, after: Attempt) -> str:
    """Return what loaders do on either side between two attempts."""
    return _plates_words(before.stack, after.stack)


def _plates_words(before: Stack, after: Stack) -> str:
    moved = change(before, after)
    off, on = (", ".join(piece.label for piece in pieces) for pieces in (moved.off, moved.on))
    return " · ".join(filter(None, (f"off {off}" if off else "", f"on {on}" if on else ""))) or "stays"


@bp.get("/")
def first(workout_id: int) -> ResponseReturnValue:
    """Go on with the athlete looked at last, or the first of the list."""
    return go_on(workout_or_404(workout_id), "lift.show")


@bp.get("/<int:athlete_id>")
def show(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Show an athlete's lift; fields in the query are tried without being kept."""
    entry = entry_or_404(workout_id, athlete_id)
    session["athlete"] = athlete_id
    return held_page(entry, "lift") if entry.held else _page(entry, request.args)


def _page(
    entry: Entry, typed: Mapping[str, str], status: int = 200, gym_problem: str = "", clash: bool = False
) -> ResponseReturnValue:
    number = min(_part(), max(1, len(entry.workout.lifts)))
    lift, unit = lift_entry(entry, number), _unit()
    wanted = load_wishes(entry.saved.id, entry.athlete.id)
    wishes = wanted.wishes.part(number)
    own = {k: v for k, v in typed.items() if k not in ("csrf_token", "unit", "gym", "version", "part")}
    form = {**form_of(wishes, unit), **own}
    ladder = _ladder(lift, form, unit) if entry.workout.lift else LadderPart("", {})
    gym = the_gym()
    page = render_template(
        "lift/show.html",
        entry=entry,
        saved=entry.saved,
        people=beside(entry.athlete.id),
        workout=entry.workout,
        form=form,
        ladder=ladder.html,
        errors=ladder.errors,
        lift=lift.lift,
        part=number,
        kept=wishes != Wishes(),
        version=wanted.version,
        theirs=form_of(wishes, unit) if clash else {},
        unit=unit,
        gym=gym,
        gym_text=typed.get("gym") or gym_text(gym),
        gym_version=gym_version(),
        gym_problem=gym_problem,
        expected=lift.expected,
        words=partial(load_words, unit=unit),
        bare=partial(load_text, unit=unit),
        aims=[aim for aim in Aim if aim is not Aim.PLACES or lifts_of(lift.board.results)],
        crews=tuple(Crew),
        tempers=tuple(Temper),
        bar=gym.bar(form.get("bar", ""), entry.athlete.athlete.sex).label,
        ramps=[(ramp, expected_last_rung(ramp)) for ramp in lift.ramps],
    )
    return page, status


@bp.post("/<int:athlete_id>/preview")
@needs(Role.ASSISTANT)
def preview(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Return the ladder for what is being typed, or what is wrong with it."""
    lift = _lift_or_404(planned_entry_or_404(workout_id, athlete_id))
    ladder = _ladder(lift, request.form, _unit())
    return (jsonify(errors=ladder.errors), 422) if ladder.errors else jsonify(html=ladder.html)


@bp.post("/gym")
@needs(Role.COACH)
def save_hall(workout_id: int) -> ResponseReturnValue:
    """Store the bars and plates of the hall, for the whole club."""
    athlete_id = request.form.get("athlete", 0, int)
    entry = entry_or_404(workout_id, athlete_id)
    try:
        gym = parse_gym(request.form.get("gym", ""))
    except CoreError as error:
        return _page(entry, request.form, 422, str(error))
    save_gym(gym, request.form.get("version", -1, int))
    flash("Bars and plates stored for the whole club.", "done")
    return redirect(url_for("lift.show", workout_id=workout_id, athlete_id=athlete_id))


@bp.post("/<int:athlete_id>")
@needs(Role.COACH)
def save(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Keep what was typed, or forget it."""
    entry, form, unit = planned_entry_or_404(workout_id, athlete_id), request.form, _unit()
    lift, seen = _lift_or_404(entry), form.get("version", -1, int)
    wanted, back = load_wishes(workout_id, athlete_id), _back(workout_id, athlete_id)
    if form.get("action") == "drop":
        save_wishes(workout_id, athlete_id, wanted.wishes.with_part(lift.number, Wishes()), seen)
        flash("The computed attempts are back.", "done")
        return redirect(back)
    if _ladder(lift, form, unit).errors:
        return _page(entry, form, 422)
    if wanted.version != seen:
        return _page(entry, form, 409, clash=True)
    typed = parse_wishes(form, unit).wishes
    save_wishes(workout_id, athlete_id, wanted.wishes.with_part(lift.number, typed), seen)
    flash(f"Attempts kept for {entry.athlete.athlete.name}; they stand on the card.", "done")
    return redirect(back)


def _back(workout_id: int, athlete_id: int, page: str = "lift.show") -> str:
    """Return the address of an athlete's page that shows the lift looked at."""
    part = _part() if _part() > 1 else None
    return url_for(page, workout_id=workout_id, athlete_id=athlete_id, part=part)


@dataclass(frozen=True, slots=True)
class LoaderCase:
    """What loaders do for one result of the attempt on the bar: the next load, when, and the plates of a side."""

    result: str
    load: str
    at: str
    off: str
    on: str
    bar: BarDrawing | None


def _loader_case(result: str, before: Stack, then: Branch | None, unit: str) -> LoaderCase:
    if then is None:
        return LoaderCase(result, "", "", "", "", None)
    moved = change(before, then.stack)
    off, on = (" · ".join(piece.label for piece in pieces) for pieces in (moved.off, moved.on))
    return LoaderCase(result, load_words(then.load_kg, unit), clock(then.start_s), off, on, bar_drawing(then.stack))


@bp.get("/<int:athlete_id>/loader")
def loader(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Show those at the bar what is on it, and what comes off and on if it is made or missed."""
    entry, unit = planned_entry_or_404(workout_id, athlete_id), _unit()
    lift, wanted = _lift_or_404(entry), load_wishes(workout_id, athlete_id)
    plan = attempts_in_force(entry, lift.number)
    if plan is None:
        abort(404)
    now = plan.next
    cases = (
        [
            _loader_case(result, now.stack, then, unit)
            for result, then in (("made", now.if_made), ("missed", now.if_missed))
        ]
        if now
        else []
    )
    done = [a for a in plan.attempts if a.made is not None]
    return render_template(
        "lift/loader.html",
        entry=entry,
        lift=lift.lift,
        part=lift.number,
        now=now,
        number=len(done) + 1,
        bar=bar_drawing(now.stack) if now else None,
        the_bar=the_gym().bar(wanted.wishes.part(lift.number).bar, entry.athlete.athlete.sex),
        cases=cases,
        done=[f"{load_words(a.load_kg, unit)} {'made' if a.made else 'missed'}" for a in done],
        best=max((a.load_kg for a in done if a.made), default=0.0),
        words=partial(load_words, unit=unit),
        version=wanted.version,
    )


@bp.post("/<int:athlete_id>/loader")
@needs(Role.ASSISTANT)
def mark(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Write down what became of the attempt on the bar, or take the last result back."""
    entry = planned_entry_or_404(workout_id, athlete_id)
    number, wanted = _lift_or_404(entry).number, load_wishes(workout_id, athlete_id)
    plan = attempts_in_force(entry, number)
    if plan is None:
        abort(404)
    done = [Typed(a.load_kg, a.start_s, a.made) for a in plan.attempts if a.made is not None]
    if request.form.get("result") == "undo":
        rows = done[:-1]
    elif plan.next is None:
        rows = done
    else:
        rows = [*done, Typed(plan.next.load_kg, plan.next.start_s, request.form.get("result") == "made")]
    wishes = wanted.wishes.with_part(number, replace(wanted.wishes.part(number), rows=tuple(rows)))
    save_wishes(workout_id, athlete_id, wishes, request.form.get("version", -1, int))
    return redirect(_back(workout_id, athlete_id, "lift.loader"))


@bp.post("/<int:athlete_id>/two-scores")
@needs(Role.ASSISTANT)
def two_scores(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Return the curve of the first score against the lift, or keep the plan of one of its points."""
    entry, unit = planned_entry_or_404(workout_id, athlete_id), _unit()
    if entry.lift_alone or entry.workout.lift is None or entry.workout.lift.first:
        abort(404)
    if "point" in request.form:
        return _keep_point(entry, request.form["point"])
    parsed = parse_wishes(request.form, unit)
    if parsed.errors:
        return jsonify(errors=parsed.errors), 422
    force = in_force(entry)
    try:
        points = lift_entry(entry).trade_off(parsed.wishes)
    except LiftError as error:  # the ladder of the same form says so on the page
        return jsonify(errors={"": str(error)}), 422
    planned = [point for point in points if point.plan is not None]
    current = next(i for i, p in enumerate(planned) if (p.temper, p.ease) == (force.temper, 1))
    html = render_template(
        "lift/_two_scores.html",
        saved=entry.saved,
        athlete=entry.athlete,
        version=force.version,
        points=points,
        current=planned[current],
        stuck=force.briefing.timeline.score.stuck_s is not None,
        warm_up=kept.attempts_of(lift_entry(entry).setup(parsed.wishes), parsed.wishes)[2],
        curve=trade_curve(planned, lambda p: p.score.text, partial(load_words, unit=unit), current),
        words=partial(load_words, unit=unit),
    )
    return jsonify(html=html)


def _keep_point(entry: Entry, point: str) -> ResponseReturnValue:
    """Keep the plan of the first part for a temperament at an effort, as “steady 1.12”."""
    match = re.fullmatch(r"(safe|steady|attack) ([12]\.[0-9]{1,2})", point)
    if match is None:
        abort(404)
    temper, force = Temper(match[1]), in_force(entry)
    base = force.plan
    if temper is not force.temper:
        found = kept.tempers_of(entry, force.recommended.plan)
        base = next(one.briefing.plan for one in found if one.temper is temper)
    plan = eased(base, float(match[2]))
    keep_plan(entry, plan, temper, request.form.get("version", -1, int), str(session.get("author", "")))
    flash("The plan of the first part is kept at this effort; the attempts below follow from it.", "done")
    return redirect(url_for("lift.show", workout_id=entry.saved.id, athlete_id=entry.athlete.id))
