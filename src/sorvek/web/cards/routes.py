"""What leaves the building: athlete cards, the tier sheet, text, calendar, JSON and SVG."""

from datetime import UTC, datetime, time, timedelta
from functools import lru_cache

import segno
from flask import Blueprint, Response, abort, flash, json, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from icalendar import Calendar, Event

from sorvek.core.advice import Briefing, briefing_data
from sorvek.core.athlete import read_athlete
from sorvek.core.club import DEVIATION_FRAC, Outlook, TierPlan, tier_plan
from sorvek.core.workout import Form, Library, form_text, parse_workout
from sorvek.figures.pace_tape import View, pace_tape, tape_end_s
from sorvek.paper.card import Card, card_text, lift_card, make_card, with_lift
from sorvek.paper.pdf import cards_pdf
from sorvek.store.athletes import SavedAthlete, all_athletes, load_athlete
from sorvek.store.cards import card_owner, card_token, make_card_link, revoke_card
from sorvek.store.library import club_library
from sorvek.store.outlooks import outlooks_of
from sorvek.store.placings import Placing, placings_of
from sorvek.store.workouts import SavedWorkout, load_workout
from sorvek.web.lift.routes import attempt_plan
from sorvek.web.people import athlete_or_404, is_held
from sorvek.web.place.routes import OUTCOMES, lane_of
from sorvek.web.plans.routes import effective_workout, plan_in_force
from sorvek.web.read.routes import workout_or_404

bp = Blueprint("cards", __name__)


def _made(saved: SavedWorkout, athlete: SavedAthlete) -> tuple[Briefing | None, Card | None]:
    """Return the plan in force and its card with the attempts; no card where somebody is held back."""
    if is_held(saved, athlete):
        return None, None
    workout, lift = effective_workout(saved, athlete), saved.workout.lift
    attempts = attempt_plan(saved, athlete) if lift else None
    if workout.form is Form.LIFT:
        alone = lift_card(workout, athlete.athlete, workout.lift, attempts) if workout.lift and attempts else None
        return None, alone
    briefing = plan_in_force(saved, athlete)
    if briefing is None:
        return None, None
    made = make_card(briefing, form_text(saved.workout))
    return briefing, with_lift(made, workout.lift, attempts) if workout.lift and attempts else made


def _card(saved: SavedWorkout, athlete: SavedAthlete) -> tuple[Briefing | None, Card]:
    """Return the plan in force and its card; ends with 404 where there is none."""
    briefing, made = _made(saved, athlete)
    if made is None:
        abort(404)
    return briefing, made


@bp.get("/c/<token>")
def card(token: str) -> ResponseReturnValue:
    """Show one athlete's card to whoever holds the link; no account, nothing else in reach."""
    owner = card_owner(token)
    saved = load_workout(owner[0]) if owner else None
    athlete = load_athlete(owner[1]) if owner else None
    made = _made(saved, athlete)[1] if saved and athlete else None
    if made is None:
        return render_template("cards/gone.html"), 404
    response = Response(render_template("cards/card.html", card=made))
    response.headers["Cache-Control"] = "no-store"
    response.headers["X-Robots-Tag"] = "noindex"
    return response


@bp.post("/workouts/<int:workout_id>/break/<int:athlete_id>/card")
def link(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Make a card's link, or revoke it."""
    saved, athlete = workout_or_404(workout_id), athlete_or_404(athlete_id)
    if request.form.get("action") == "revoke":
        revoke_card(saved.id, athlete.id)
        flash(f"The link is revoked: {athlete.athlete.name}'s card opens for nobody now.", "done")
    else:
        make_card_link(saved.id, athlete.id)
    return redirect(url_for("cards.share", workout_id=workout_id, athlete_id=athlete_id))


@bp.get("/workouts/<int:workout_id>/break/<int:athlete_id>/card")
def share(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Show the card as the athlete will see it, with its link, QR code and everything to take along."""
    saved, athlete = workout_or_404(workout_id), athlete_or_404(athlete_id)
    _, made = _card(saved, athlete)
    token = card_token(workout_id, athlete_id)
    address = url_for("cards.card", token=token, _external=True) if token else ""
    code = segno.make(address, error="m").svg_data_uri(scale=4, dark="#17201f", light="#fff") if address else ""
    return render_template(
        "cards/share.html",
        saved=saved,
        athlete=athlete,
        card=made,
        text=card_text(made),
        address=address,
        code=code,
    )


def _takers(saved: SavedWorkout) -> list[SavedAthlete]:
    """Return the athletes who are planned and not left out, by name; attempts of a lift alone need no planning."""
    alone = saved.workout.form is Form.LIFT
    planned, placings = outlooks_of(saved.id), placings_of(saved.id)
    return [a for a in all_athletes() if (alone or a.id in planned) and not placings.get(a.id, Placing()).left_out]


@bp.get("/workouts/<int:workout_id>/cards")
def print_cards(workout_id: int) -> str:
    """Show all cards for printing, four A6 on a page."""
    saved = workout_or_404(workout_id)
    made = [card for athlete in _takers(saved) if (card := _made(saved, athlete)[1])]
    return render_template("cards/print.html", saved=saved, cards=made)


@bp.get("/workouts/<int:workout_id>/cards.pdf")
def cards_as_pdf(workout_id: int) -> ResponseReturnValue:
    """Return all cards as PDF, four A6 on an A4 page; `athlete` asks for one."""
    saved, wanted = workout_or_404(workout_id), request.args.get("athlete", type=int)
    made = [card for a in _takers(saved) if wanted in (None, a.id) and (card := _made(saved, a)[1])]
    if not made:
        abort(404)
    headers = {"Content-Disposition": "attachment; filename=cards.pdf"}
    return Response(cards_pdf(made), mimetype="application/pdf", headers=headers)


def _tiers(saved: SavedWorkout) -> list[tuple[str, list[SavedAthlete]]]:
    """Return the tiers by outcome that have members, best first."""
    outlooks, placings = outlooks_of(saved.id), placings_of(saved.id)
    takers = [a for a in _takers(saved) if a.id in outlooks]
    lanes = {a.id: lane_of(outlooks[a.id].outlook, placings.get(a.id, Placing()), "outcome")[0] for a in takers}
    grouped = [(tier, [a for a in takers if lanes[a.id] == tier]) for tier in OUTCOMES]
    return [(tier, members) for tier, members in grouped if members]


@bp.get("/workouts/<int:workout_id>/sheet")
def sheet(workout_id: int) -> str:
    """Show the tier sheet for the wall: one landscape page, legible from three metres."""
    saved = workout_or_404(workout_id)
    columns = []
    for tier, members in _tiers(saved):
        planned = _tier_plan(saved, tier, members)
        made = make_card(planned.briefing, form_text(saved.workout))
        differ = [f.athlete.name for f in planned.followers if f.deviates]
        columns.append((tier, made, [a.athlete.name for a in members], differ))
    return render_template(
        "cards/sheet.html",
        saved=saved,
        columns=columns,
        bound=form_text(saved.workout),
        threshold=DEVIATION_FRAC,
    )


@lru_cache(maxsize=64)
def _computed_tier(workout: str, tier: str, members: tuple[tuple[str, Outlook], ...], library: Library) -> TierPlan:
    known = [(read_athlete(text, library), outlook) for text, outlook in members]
    return tier_plan(parse_workout(workout, library), tier, known)


def _tier_plan(saved: SavedWorkout, tier: str, members: list[SavedAthlete]) -> TierPlan:
    """Return a tier's plan, from memory if its members and the workout are the same."""
    outlooks = outlooks_of(saved.id)
    return _computed_tier(
        saved.text, tier, tuple((a.data, outlooks[a.id].outlook) for a in members), club_library()
    )


@bp.get("/workouts/<int:workout_id>/tiers")
def tiers(workout_id: int) -> str:
    """Show every tier's plan with all its members' tapes on one axis."""
    saved = workout_or_404(workout_id)
    found = []
    for tier, members in _tiers(saved):
        planned = _tier_plan(saved, tier, members)
        shown = [f for f in planned.followers if f.briefing]
        view = View(
            0.0, max(tape_end_s(b) for b in [planned.briefing, *(f.briefing for f in shown)]), reserves=False
        )
        ids = {a.athlete.name: a.id for a in members}
        tapes = [(f, ids[f.athlete.name], pace_tape(f.briefing, view)) for f in shown]
        found.append((tier, planned, pace_tape(planned.briefing, view), tapes))
    return render_template("cards/tiers.html", saved=saved, tiers=found, threshold=DEVIATION_FRAC)


def _file(text: str, kind: str, name: str) -> Response:
    return Response(text, mimetype=kind, headers={"Content-Disposition": f"attachment; filename={name}"})


@bp.get("/workouts/<int:workout_id>/break/<int:athlete_id>/plan.<any(txt, json, svg):kind>")
def take(workout_id: int, athlete_id: int, kind: str) -> ResponseReturnValue:
    """Return the plan as text, JSON or SVG."""
    saved, athlete = workout_or_404(workout_id), athlete_or_404(athlete_id)
    briefing, made = _card(saved, athlete)
    if kind == "txt":
        return _file(card_text(made), "text/plain; charset=utf-8", "plan.txt")
    if briefing is None:
        abort(404)
    if kind == "json":
        return _file(json.dumps(briefing_data(briefing), indent=2), "application/json", "plan.json")
    drawing = render_template("shared/figures/pace.svg", tape=pace_tape(briefing))
    style = render_template("cards/tape_style.svg")
    drawing = drawing.replace("<svg ", '<svg xmlns="http://www.w3.org/2000/svg" ', 1)
    return _file(drawing.replace("<title", f"{style}<title", 1), "image/svg+xml", "tape.svg")


@bp.get("/workouts/<int:workout_id>/calendar.ics")
def calendar(workout_id: int) -> Response:
    """Return the days on which scores of a workout are taken as a calendar entry."""
    saved = workout_or_404(workout_id)
    event = Event()
    event.add("uid", f"workout-{saved.id}-{saved.opens_on.isoformat()}@sorvek")
    event.add("summary", f"{saved.title}: scores until {saved.due_on.strftime('%-d %b')}")
    event.add("description", form_text(saved.workout))
    event.add("dtstart", saved.opens_on)
    event.add("dtend", saved.due_on + timedelta(days=1))
    # Not the time of making: the same workout gives the same file.
    event.add("dtstamp", datetime.combine(saved.opens_on, time.min, UTC))
    calendar = Calendar()
    calendar.add("prodid", "-//Sorvek//EN")
    calendar.add("version", "2.0")
    calendar.add_component(event)
    return _file(calendar.to_ical().decode(), "text/calendar; charset=utf-8", "workout.ics")
