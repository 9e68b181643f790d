"""Floor: heats are set up, started and run; the clock page of the coach."""

import segno
from flask import Blueprint, abort, current_app, flash, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from sorvek.actions.floor import (
    accept_offer,
    hold_plans,
    keep_results,
    keep_when_over,
    let_stand_ins_tap,
    set_up_heat,
)
from sorvek.actions.preps import laid_out_heats
from sorvek.actions.watched import forget
from sorvek.core.errors import CoreError
from sorvek.core.live import read_sent
from sorvek.store.accounts import Role
from sorvek.store.athletes import all_athletes
from sorvek.store.floor import SavedHeat, add_taps, heats_run, load_heat, name_judge, new_lane_link, start_heat
from sorvek.store.hall import public_address
from sorvek.web.access import needs
from sorvek.web.entries import today, workout_or_404
from sorvek.web.floor.shown import heat_data, now_s
from sorvek.web.once import once

bp = Blueprint("floor", __name__, url_prefix="/workouts/<int:workout_id>/floor")

COUNTDOWN_S = 10.0
SPEEDS = (1.0, 4.0, 16.0)


def _heat_or_404(workout_id: int, heat_id: int) -> SavedHeat:
    workout_or_404(workout_id)
    heat = load_heat(heat_id)
    return heat if heat is not None and heat.workout_id == workout_id else abort(404)


def _names() -> dict[int, str]:
    return {athlete.id: athlete.athlete.name for athlete in all_athletes()}


@bp.get("/")
def index(workout_id: int) -> str:
    """Show the heats as laid out, to be set up, and those that were."""
    saved = workout_or_404(workout_id)
    return render_template(
        "floor/index.html",
        saved=saved,
        laid_out=laid_out_heats(saved),
        run=heats_run(workout_id),
        names=_names(),
        speeds=SPEEDS,
        now=now_s(),
    )


@bp.post("/")
@needs(Role.ASSISTANT)
@once
def set_up(workout_id: int) -> ResponseReturnValue:
    """Set up a heat of the layout: its lanes begin with the plans in force now."""
    saved, form = workout_or_404(workout_id), request.form
    number, stand_ins = form.get("number", 0, int), bool(form.get("stand_ins"))
    speed = form.get("speed", 1.0, float)
    members = next((members for heat, members in laid_out_heats(saved) if heat.number == number), ())
    ids = [member.id for member in members]
    chosen_speed = speed if stand_ins and speed in SPEEDS else 1.0
    problem = "Nobody of this heat can be planned; look at Place."
    try:
        heat_id = set_up_heat(workout_id, number, ids, stand_ins, chosen_speed) if ids else None
    except CoreError as error:
        heat_id, problem = None, str(error)
    if heat_id is None:
        flash(problem, "problem")
        return redirect(url_for("floor.index", workout_id=workout_id))
    return redirect(url_for("floor.show", workout_id=workout_id, heat_id=heat_id))


@bp.get("/<int:heat_id>")
def show(workout_id: int, heat_id: int) -> str:
    """Show the clock page of a heat."""
    heat = _heat_or_404(workout_id, heat_id)
    saved = workout_or_404(workout_id)
    return render_template("floor/show.html", saved=saved, heat=heat, names=_names(), data=heat_data(heat))


@bp.get("/<int:heat_id>/state")
def state(workout_id: int, heat_id: int) -> ResponseReturnValue:
    """Return where all lanes stand now."""
    return jsonify(heat_data(_heat_or_404(workout_id, heat_id)))


@bp.post("/<int:heat_id>/start")
@needs(Role.ASSISTANT)
def start(workout_id: int, heat_id: int) -> ResponseReturnValue:
    """Start the clock after a countdown, or stop the countdown while it runs."""
    heat, now = _heat_or_404(workout_id, heat_id), now_s()
    if heat.started_s is None:
        hold_plans(heat)
        start_heat(heat_id, now + COUNTDOWN_S)
    elif heat.started_s > now:
        start_heat(heat_id, None)
    forget(heat)
    return jsonify(heat_data(_heat_or_404(workout_id, heat_id)))


@bp.post("/<int:heat_id>/taps")
@needs(Role.ASSISTANT)
def taps(workout_id: int, heat_id: int) -> ResponseReturnValue:
    """Take in what the coach tapped in any lane."""
    heat = _heat_or_404(workout_id, heat_id)
    try:
        sent = read_sent(request.get_data())
    except CoreError as error:
        return jsonify(problem=str(error)), 422
    taken: list[str] = []
    let_stand_ins_tap(heat, now_s())
    if heat.started_s is not None:
        lanes = {lane.number: lane for lane in heat.lanes}
        for one, tap in sent.on_clock(heat.started_s, heat.speed, now_s()):
            if one.lane in lanes:
                add_taps(lanes[one.lane].id, sent.device, [(tap, one.made_s)])
                taken.append(tap.id)
    over = keep_when_over(heat, now_s(), today())
    return jsonify(heat_data(heat) | {"taken": taken, "over": over})


@bp.post("/<int:heat_id>/better/<int:number>")
@needs(Role.ASSISTANT)
def better(workout_id: int, heat_id: int, number: int) -> ResponseReturnValue:
    """Go on by the better plan that is shown for a lane."""
    heat = _heat_or_404(workout_id, heat_id)
    lane = next((lane for lane in heat.lanes if lane.number == number), None)
    now = now_s()
    if lane is None or not accept_offer(heat, lane, now, f"plan-{now:.3f}".replace(".", "-")):
        return jsonify(problem="There is no better plan for this lane any more."), 409
    return jsonify(heat_data(heat))


@bp.get("/<int:heat_id>/lanes")
def lanes(workout_id: int, heat_id: int) -> str:
    """Show the heat sheet: lanes, athletes, judges, and the link that opens a lane on a judge's phone."""
    heat = _heat_or_404(workout_id, heat_id)
    base = public_address() or current_app.config["OWN_ADDRESS"]
    links = {lane.number: base + url_for("lane.show", token=lane.token) for lane in heat.lanes}
    codes = {number: segno.make(link).svg_data_uri(scale=3, border=2) for number, link in links.items()}
    return render_template(
        "floor/lanes.html", saved=workout_or_404(workout_id), heat=heat, names=_names(), links=links, codes=codes
    )


@bp.post("/<int:heat_id>/judges")
@needs(Role.ASSISTANT)
def judges(workout_id: int, heat_id: int) -> ResponseReturnValue:
    """Keep who judges which lane; nobody judges and competes at once. Or give one lane another link."""
    heat, names = _heat_or_404(workout_id, heat_id), _names()
    renewed = next((lane for lane in heat.lanes if str(lane.number) == request.form.get("renew")), None)
    if renewed is not None:
        new_lane_link(renewed.id)
        flash(f"Lane {renewed.number} has a new link; the one before opens nothing now.", "done")
        return redirect(url_for("floor.lanes", workout_id=workout_id, heat_id=heat_id))
    competing = {names.get(lane.athlete_id, "").casefold() for lane in heat.lanes}
    refused = []
    for lane in heat.lanes:
        judge = request.form.get(f"judge-{lane.number}", "").strip()
        if judge.casefold() in competing and judge:
            refused.append(judge)
        else:
            name_judge(lane.id, judge)
    if refused:
        flash(f"{', '.join(refused)} competes in this heat and cannot judge in it.", "problem")
    else:
        flash("Judges kept.", "done")
    return redirect(url_for("floor.lanes", workout_id=workout_id, heat_id=heat_id))


@bp.post("/<int:heat_id>/keep")
@needs(Role.ASSISTANT)
def keep(workout_id: int, heat_id: int) -> ResponseReturnValue:
    """Write the results of a heat into the athletes' logs."""
    heat = _heat_or_404(workout_id, heat_id)
    kept = keep_results(heat, today())
    if kept:
        flash(f"In the log: {', '.join(kept)}. What it teaches stands on each athlete's page.", "done")
    else:
        flash("Nothing was tapped in this heat yet.", "problem")
    return redirect(url_for("floor.show", workout_id=workout_id, heat_id=heat_id))
