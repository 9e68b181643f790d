"""A judge's phone: one lane behind a link, with taps that wait in the phone until the server has them."""

from datetime import timedelta

from flask import Blueprint, Response, jsonify, render_template, request
from flask.typing import ResponseReturnValue

from sorvek.core.errors import CoreError
from sorvek.core.live import read_feed, read_sent
from sorvek.store.floor import add_taps, heat_of_token
from sorvek.store.links import link_ended
from sorvek.store.workouts import load_workout
from sorvek.web.access import by_link
from sorvek.web.entries import today
from sorvek.web.floor.shown import heat_data, now_s

# A lane's link is good for so many days after scores are due: taps that waited in a phone still come in; judgement.
LASTS_DAYS = 7

bp = Blueprint("lane", __name__, url_prefix="/f/<token>")


@bp.get("/")
@by_link
def show(token: str) -> ResponseReturnValue:
    """Show a lane to whoever holds its link."""
    found = heat_of_token(token)
    saved = load_workout(found[0].workout_id) if found else None
    if found is None or saved is None:
        why = "revoked" if link_ended(token) else ""
        return render_template("cards/gone.html", why=why), 410 if why else 404
    until = saved.due_on + timedelta(days=LASTS_DAYS)
    if until < today():
        return render_template("cards/gone.html", why="over", until=until), 410
    page = render_template("floor/lane.html", saved=saved, heat=found[0], lane=found[1], data=heat_data(*found))
    response = Response(page)
    response.headers["Cache-Control"] = "no-store"
    response.headers["X-Robots-Tag"] = "noindex"
    return response


@bp.post("/splits")
@by_link
def splits(token: str) -> ResponseReturnValue:
    """Take in splits of a lap watch or a machine, as lines of `kind,elapsed` or a file; the link is the key."""
    found = heat_of_token(token)
    if found is None:
        return jsonify(problem="This lane is closed."), 404
    heat, lane = found
    device = request.args.get("device", "feed")[:64]
    file = request.files.get("file")
    text = (file.read() if file else request.get_data()).decode("utf-8", "replace")
    try:
        taps = read_feed(text, device)
    except CoreError as error:
        return jsonify(problem=str(error)), 422
    if heat.started_s is None:
        return jsonify(problem="The heat is not started yet; send again after the start."), 409
    add_taps(lane.id, device, [(tap, heat.started_s + tap.at_s / heat.speed) for tap in taps])
    return jsonify(heat_data(heat, lane) | {"taken": [tap.id for tap in taps]})


@bp.post("/taps")
@by_link
def send(token: str) -> ResponseReturnValue:
    """Take in taps; those named in the answer are stored for good, all others the phone sends again."""
    found = heat_of_token(token)
    if found is None:
        return jsonify(problem="This lane is closed."), 404
    heat, lane = found
    try:
        sent = read_sent(request.get_data())
    except CoreError as error:
        return jsonify(problem=str(error)), 422
    taken = []
    if heat.started_s is not None:
        taken = sent.on_clock(heat.started_s, heat.speed, now_s())
        add_taps(lane.id, sent.device, [(tap, one.made_s) for one, tap in taken])
    return jsonify(heat_data(heat, lane) | {"taken": [tap.id for _, tap in taken]})
