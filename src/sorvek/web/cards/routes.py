"""What leaves the building: athlete cards, the tier sheet, text, calendar, JSON and SVG."""

import re
import sys
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from pathlib import Path

import segno
from flask import Blueprint, Response, abort, current_app, flash, json, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from icalendar import Calendar, Event

from sorvek.actions.cards import (
    MadeCard,
    Tier,
    card_behind,
    cards_of,
    choose_tier_temper,
    own_card,
    takers,
    talk_of,
    tier_tempers_version,
    tiers_of,
)
from sorvek.actions.entry import Entry
from sorvek.actions.place import Cut
from sorvek.actions.plans import note_outlook
from sorvek.core.advice import briefing_data
from sorvek.core.club import STAR_FRAC, Follower
from sorvek.core.planner import Temper
from sorvek.figures.pace_tape import PaceTape, View, pace_tape, tape_end_s
from sorvek.paper.card import card_text, make_card
from sorvek.paper.pdf import cards_pdf
from sorvek.store.accounts import Role
from sorvek.store.cards import (
    card_ends_on,
    card_owner,
    card_token,
    end_card_on,
    make_card_link,
    revoke_card,
)
from sorvek.store.hall import public_address, public_address_version, save_public_address
from sorvek.store.links import link_ended
from sorvek.web.access import by_link, needs
from sorvek.web.entries import entry_or_404, today, workout_or_404
from sorvek.web.hosts import read_address
from sorvek.web.paging import paged

bp = Blueprint("cards", __name__)

# Twelve sheets of paper at a time; more members' tapes than these stand behind a link.
CARDS_A_PAGE, TAPES_A_TIER = 48, 24


def _made_or_404(entry: Entry) -> MadeCard:
    """Return the plan in force and its card, or end the request with 404 where there is none."""
    return own_card(entry) or abort(404)


def _over(token: str) -> date | None:
    """Return the last day of a card's link if it is past."""
    owner = card_owner(token)
    ends_on = card_ends_on(*owner) if owner else None
    return ends_on if ends_on and ends_on < today() else None


def _gone(token: str) -> ResponseReturnValue:
    """Say why a link opens nothing; 410 for one that was good once."""
    until = _over(token)
    why = "revoked" if link_ended(token) else "over" if until else "held" if card_owner(token) else ""
    return render_template("cards/gone.html", why=why, until=until), 410 if why in ("revoked", "over") else 404


@bp.get("/c/<token>")
@by_link
def card(token: str) -> ResponseReturnValue:
    """Show one athlete's card to whoever holds the link; no account, nothing else in reach."""
    made = card_behind(token)
    if made is None or _over(token):
        return _gone(token)
    response = Response(render_template("cards/card.html", card=made.card, token=token, style=""))
    response.headers["Cache-Control"] = "no-store"
    response.headers["X-Robots-Tag"] = "noindex"
    return response


@bp.get("/c/<token>/keep")
@by_link
def keep(token: str) -> ResponseReturnValue:
    """Return the card as one file that needs no network; over plain HTTP a phone has no other way to keep it."""
    made = card_behind(token)
    if made is None or _over(token):
        return _gone(token)
    style = Path(current_app.static_folder or "", "css", "card.css").read_text(encoding="utf-8")
    page = render_template("cards/card.html", card=made.card, token="", style=style)
    name = re.sub(r"[^a-z0-9]+", "-", f"{made.card.workout}-{made.card.athlete}".lower()).strip("-")
    return _file(page, "text/html; charset=utf-8", f"{name or 'card'}.html")


@bp.get("/workouts/<int:workout_id>/briefing")
def briefing(workout_id: int) -> str:
    """Show the talk before the heats for printing, one A4 page a tier."""
    saved = workout_or_404(workout_id)
    talks = [talk_of(saved, tier) for tier in tiers_of(saved)]
    return render_template("cards/briefing.html", saved=saved, talks=talks, readout=saved.readout)


@bp.post("/workouts/<int:workout_id>/break/<int:athlete_id>/card")
@needs(Role.COACH)
def link(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Make a card's link, or revoke it."""
    entry = entry_or_404(workout_id, athlete_id)
    if request.form.get("action") == "revoke":
        revoke_card(workout_id, athlete_id)
        flash(f"The link is revoked: {entry.athlete.athlete.name}'s card opens for nobody now.", "done")
    elif request.form.get("action") == "until":
        try:
            day = date.fromisoformat(request.form.get("until", ""))
        except ValueError:
            abort(400)
        end_card_on(workout_id, athlete_id, day)
        flash(f"The link opens the card until {day:%-d %B %Y}.", "done")
    else:
        make_card_link(workout_id, athlete_id)
        if not (entry.held or entry.lift_alone):
            note_outlook(entry)
    return redirect(url_for("cards.share", workout_id=workout_id, athlete_id=athlete_id))


@bp.post("/workouts/<int:workout_id>/break/<int:athlete_id>/card/address")
@needs(Role.COACH)
def address(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Keep the address under which phones reach this server; every link begins with it."""
    entry = entry_or_404(workout_id, athlete_id)
    typed = request.form.get("address", "")
    try:
        found = read_address(typed)
    except ValueError as error:
        return _share(entry, typed, str(error))
    save_public_address(found, request.form.get("version", -1, int))
    return redirect(url_for("cards.share", workout_id=workout_id, athlete_id=athlete_id))


@bp.get("/workouts/<int:workout_id>/break/<int:athlete_id>/card")
def share(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Show the card as the athlete will see it, with its link, QR code and everything to take along."""
    return _share(entry_or_404(workout_id, athlete_id))


def _share(entry: Entry, typed: str = "", problem: str = "") -> ResponseReturnValue:
    made, token = _made_or_404(entry), card_token(entry.saved.id, entry.athlete.id)
    # Never from the Host header, which anybody can write: a link must not lead elsewhere.
    base = public_address() or current_app.config["OWN_ADDRESS"]
    link_address = base + url_for("cards.card", token=token) if token else ""
    code = segno.make(link_address, error="m").svg_data_uri(scale=4, dark="#17201f", light="#fff") if token else ""
    page = render_template(
        "cards/share.html",
        until=card_ends_on(entry.saved.id, entry.athlete.id),
        entry=entry,
        saved=entry.saved,
        athlete=entry.athlete,
        card=made.card,
        text=card_text(made.card),
        address=link_address,
        code=code,
        base=typed or base,
        set_by_coach=bool(public_address()),
        version=public_address_version(),
        problem=problem,
    )
    return page, 422 if problem else 200


@bp.get("/workouts/<int:workout_id>/cards")
def print_cards(workout_id: int) -> str:
    """Show all cards for printing, four A6 on a page."""
    saved = workout_or_404(workout_id)
    page = paged(takers(saved), CARDS_A_PAGE)
    return render_template("cards/print.html", saved=saved, cards=cards_of(saved, page.items), page=page)


@bp.get("/workouts/<int:workout_id>/cards.pdf")
def cards_as_pdf(workout_id: int) -> ResponseReturnValue:
    """Return cards as PDF, four A6 on an A4 page; `athlete` asks for one, `page` for more than the first."""
    saved, only = workout_or_404(workout_id), request.args.get("athlete", type=int)
    people = takers(saved)
    made = cards_of(saved, [a for a in people if a.id == only] if only else paged(people, CARDS_A_PAGE).items)
    if not made:
        abort(404)
    headers = {"Content-Disposition": "attachment; filename=cards.pdf"}
    return Response(cards_pdf(made), mimetype="application/pdf", headers=headers)


@bp.get("/workouts/<int:workout_id>/sheet")
def sheet(workout_id: int) -> str:
    """Show the tier sheet for the wall: one landscape page, A4 or A3, legible from three metres."""
    saved = workout_or_404(workout_id)
    tiers = tiers_of(saved)
    return render_template(
        "cards/sheet.html",
        saved=saved,
        tiers=tiers,
        cards=[make_card(tier.planned.briefing, saved.readout.bound, tier.planned.labels) for tier in tiers],
        bound=saved.readout.bound,
        threshold=STAR_FRAC,
        paper=request.args.get("paper", "a4"),
    )


@dataclass(frozen=True, slots=True)
class MemberTape:
    """A member who follows a tier's plan, as a tape."""

    follower: Follower
    athlete_id: int
    tape: PaceTape


@dataclass(frozen=True, slots=True)
class TierTapes:
    """A tier's tape with those of its members, all on one axis; `left` members are not shown."""

    tier: Tier
    tape: PaceTape
    members: tuple[MemberTape, ...]
    left: int


def _tapes(tier: Tier, most: int) -> TierTapes:
    """Return a tier's tape with those of so many members, of them first who loses most with it."""
    everybody = [(f, f.briefing) for f in tier.planned.followers if f.briefing]
    shown = sorted(everybody, key=lambda one: -one[0].following.loss)[:most] if len(everybody) > most else everybody
    ends_s = [tape_end_s(tier.planned.briefing), *(tape_end_s(briefing) for _, briefing in shown)]
    view = View(0.0, max(ends_s), reserves=False)
    members = [MemberTape(f, tier.id_of(f.athlete.name), pace_tape(briefing, view)) for f, briefing in shown]
    return TierTapes(tier, pace_tape(tier.planned.briefing, view), tuple(members), len(everybody) - len(shown))


@bp.get("/workouts/<int:workout_id>/tiers")
def tiers(workout_id: int) -> str:
    """Show every tier's plan with all its members' tapes on one axis."""
    saved = workout_or_404(workout_id)
    most = TAPES_A_TIER if request.args.get("all") != "yes" else sys.maxsize
    shown = [_tapes(tier, most) for tier in tiers_of(saved)]
    return render_template(
        "cards/tiers.html",
        saved=saved,
        tiers=shown,
        threshold=STAR_FRAC,
        tempers=list(Temper),
        version=tier_tempers_version(workout_id),
    )


@bp.post("/workouts/<int:workout_id>/tiers")
@needs(Role.COACH)
def tier_temper(workout_id: int) -> ResponseReturnValue:
    """Keep the temperament a tier's plan is made with."""
    saved = workout_or_404(workout_id)
    tier, wanted = request.form.get("tier", ""), request.form.get("temper", "")
    if tier not in Cut.of(saved).names or wanted not in tuple(Temper):
        abort(400)
    choose_tier_temper(workout_id, tier, Temper(wanted), request.form.get("version", -1, int))
    flash(f"{tier}: {wanted}.", "done")
    return redirect(url_for("cards.tiers", workout_id=workout_id))


def _file(text: str, kind: str, name: str) -> Response:
    return Response(text, mimetype=kind, headers={"Content-Disposition": f"attachment; filename={name}"})


@bp.get("/workouts/<int:workout_id>/break/<int:athlete_id>/plan.<any(txt, json, svg):kind>")
def take(workout_id: int, athlete_id: int, kind: str) -> ResponseReturnValue:
    """Return the plan as text, JSON or SVG."""
    made = _made_or_404(entry_or_404(workout_id, athlete_id))
    if kind == "txt":
        return _file(card_text(made.card), "text/plain; charset=utf-8", "plan.txt")
    if made.briefing is None:
        abort(404)
    if kind == "json":
        return _file(json.dumps(briefing_data(made.briefing), indent=2), "application/json", "plan.json")
    drawing = render_template("shared/figures/pace.svg", tape=pace_tape(made.briefing))
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
    event.add("description", saved.readout.bound)
    event.add("dtstart", saved.opens_on)
    event.add("dtend", saved.due_on + timedelta(days=1))
    # Not the time of making: the same workout gives the same file.
    event.add("dtstamp", datetime.combine(saved.opens_on, time.min, UTC))
    calendar = Calendar()
    calendar.add("prodid", "-//Sorvek//EN")
    calendar.add("version", "2.0")
    calendar.add_component(event)
    return _file(calendar.to_ical().decode(), "text/calendar; charset=utf-8", "workout.ics")
