"""Prep: the warm-up counted back from the start, gear, standards, cues, and the judge sheet."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from flask import Blueprint, Response, abort, flash, jsonify, redirect, render_template, request, session, url_for
from flask.typing import ResponseReturnValue
from icalendar import Alarm, Calendar, Event

from sorvek.actions import kept
from sorvek.actions.entry import Entry
from sorvek.actions.entry_rule import entry_lines
from sorvek.actions.people import beside
from sorvek.actions.preps import Prep, prep_in_force, prep_of, start_of
from sorvek.core.errors import CoreError, LiftError
from sorvek.core.prep import Part, PrepWishes, WarmKind, WarmSchool, judge_rows
from sorvek.core.quantities import clock, seconds_from_clock
from sorvek.figures.lane_drawing import lane_drawing
from sorvek.paper.words import load_words
from sorvek.store.accounts import Role
from sorvek.store.preps import load_prep, save_prep, save_template
from sorvek.web.access import needs
from sorvek.web.entries import entry_or_404, go_on, held_page, planned_entry_or_404, workout_or_404
from sorvek.web.prep.times import before_start, read_start

bp = Blueprint("prep", __name__, url_prefix="/workouts/<int:workout_id>/prep")
FIELD = {kind: kind.name.lower() for kind in WarmKind}


@dataclass(frozen=True, slots=True)
class AskedPrep:
    """What a form asks of a warm-up, and what in it cannot be read, by field."""

    wishes: PrepWishes
    errors: Mapping[str, str]


def _asked(form: Mapping[str, str]) -> AskedPrep:
    errors: dict[str, str] = {}
    lengths = []
    for kind, name in FIELD.items():
        text = form.get(name, "").strip()
        if not text:
            continue
        try:
            lengths.append((kind, seconds_from_clock(text)))
        except ValueError:
            errors[name] = f"{kind.value}: “{text[:20]}” is no length; write it as 4:30"
    starts_at = form.get("starts_at", "").strip()
    if starts_at and not read_start(starts_at):
        errors["starts_at"] = f"“{starts_at[:20]}” is no day and time; write it as 2026-03-13T18:40"
    school = form.get("school", "")
    wishes = PrepWishes(
        WarmSchool(school) if school in tuple(WarmSchool) else WarmSchool.BREATHE,
        bool(form.get("intervals")),
        tuple(lengths),
        starts_at if "starts_at" not in errors else "",
        _order(form.get("order", "")),
    )
    try:
        wishes.check()
    except CoreError as error:
        errors[""] = str(error)
    return AskedPrep(wishes, errors)


def _order(text: str) -> tuple[WarmKind, ...]:
    """Return the order of the parts in a field of names, nothing where it is the usual one or names others."""
    kinds = {name: kind for kind, name in FIELD.items()}
    order = tuple(kinds[name] for name in text.split() if name in kinds)
    return () if order == tuple(WarmKind) else order


def _fields(wishes: PrepWishes) -> dict[str, str]:
    """Return wishes as the fields of the form."""
    lengths = {FIELD[kind]: clock(length_s) for kind, length_s in wishes.lengths_s}
    return {
        "school": wishes.school.value,
        "intervals": "yes" if wishes.intervals else "",
        "starts_at": wishes.starts_at,
        "order": " ".join(FIELD[kind] for kind in wishes.order or WarmKind),
        **lengths,
    }


@dataclass(frozen=True, slots=True)
class WarmStrip:
    """A part as the strip and the table show it: width as a share of the line, its beginning in words."""

    part: Part
    field: str
    width: float
    at: str


def _strips(prep: Prep, wishes: PrepWishes) -> list[WarmStrip]:
    start = read_start(wishes.starts_at)
    return [
        WarmStrip(
            part, FIELD[part.kind], 100 * part.length_s / prep.table.length_s, before_start(start, part.before_s)
        )
        for part in prep.table.parts
    ]


@dataclass(frozen=True, slots=True)
class WarmRow:
    """A line of the timetable: when, and a part or something to have done by then."""

    before_s: float
    at: str
    mark: str
    strip: WarmStrip | None


def _rows(prep: Prep, strips: list[WarmStrip], start: datetime | None) -> list[WarmRow]:
    """Return parts and marks in the order of the clock."""
    marks = [
        WarmRow(mark.before_s, before_start(start, mark.before_s), mark.name, None) for mark in prep.table.marks
    ]
    parts = [WarmRow(strip.part.before_s, strip.at, "", strip) for strip in strips]
    return sorted([*marks, *parts], key=lambda row: -row.before_s)


def _board(entry: Entry, form: Mapping[str, str]) -> tuple[str, Mapping[str, str]]:
    """Return the part of the page that follows the form, or what is wrong in it."""
    asked = _asked(form)
    if asked.errors:
        return "", asked.errors
    try:
        prep = prep_of(entry, asked.wishes)
    except CoreError as error:
        return "", {"": str(error)}
    start, unit = read_start(asked.wishes.starts_at), prep.gym.unit
    html = render_template(
        "prep/_board.html",
        prep=prep,
        table=prep.table,
        strips=_strips(prep, asked.wishes),
        rows=_rows(prep, _strips(prep, asked.wishes), start),
        begins=before_start(start, prep.table.length_s),
        start=start.strftime("%H:%M") if start else "",
        form=form,
        unit=unit,
        words=lambda kg: load_words(kg, unit),
        kinds=[(kind, FIELD[kind]) for kind in WarmKind],
    )
    return html, {}


@bp.get("/")
def first(workout_id: int) -> ResponseReturnValue:
    """Go on with the athlete looked at last, or the first of the list."""
    return go_on(workout_or_404(workout_id), "prep.show")


@bp.get("/<int:athlete_id>")
def show(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Show an athlete's way to the start line."""
    entry = entry_or_404(workout_id, athlete_id)
    session["athlete"] = athlete_id
    if entry.held:
        return held_page(entry, "prep")
    try:
        return _page(entry)
    except LiftError as error:
        flash(f"{error}. Then the warm-up has a lift to lead to.", "problem")
        return redirect(url_for("lift.show", workout_id=workout_id, athlete_id=athlete_id))


def _page(entry: Entry, typed: Mapping[str, str] | None = None, status: int = 200) -> ResponseReturnValue:
    saved = load_prep(entry.saved.id, entry.athlete.id)
    form = typed if typed is not None else _fields(saved.wishes)
    if typed is None and not form["starts_at"]:
        form = {**form, "starts_at": start_of(entry.saved, entry.athlete)}
    board, errors = _board(entry, form)
    prep = prep_in_force(entry)
    page = render_template(
        "prep/show.html",
        entry=entry,
        saved=entry.saved,
        people=beside(entry.athlete.id),
        workout=entry.workout,
        prep=prep,
        form=form,
        board=board,
        errors=errors,
        own=saved.own,
        version=saved.version,
        schools=tuple(WarmSchool),
        rules=kept.rules_of(entry, prep.briefing.plan) if prep.briefing else (),
        lane=lane_drawing(prep.lane) if prep.lane else None,
        entry_lines=entry_lines(entry),
        placing_version=entry.placing.version,
    )
    return page, status


@bp.post("/<int:athlete_id>/preview")
@needs(Role.ASSISTANT)
def preview(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Return the warm-up for what is being typed, or what is wrong with it."""
    html, errors = _board(planned_entry_or_404(workout_id, athlete_id), request.form)
    return (jsonify(errors=errors), 422) if errors else jsonify(html=html)


@bp.post("/<int:athlete_id>")
@needs(Role.COACH)
def save(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Keep the warm-up for this athlete, make it the club's template, or forget it."""
    entry, form = planned_entry_or_404(workout_id, athlete_id), request.form
    version, action = form.get("version", -1, int), form.get("action")
    back = redirect(url_for("prep.show", workout_id=workout_id, athlete_id=athlete_id))
    if action == "drop":
        save_prep(workout_id, athlete_id, None, version)
        flash("The warm-up follows the club's template or the rule again.", "done")
        return back
    if _board(entry, form)[1]:
        return _page(entry, form, 422)
    wishes = _asked(form).wishes
    save_prep(workout_id, athlete_id, wishes, version)
    name = entry.athlete.athlete.name
    if action == "template":
        save_template(replace(wishes, starts_at=""))
        flash(f"Kept for {name} and as the club's template: whoever has none of their own follows it.", "done")
    else:
        flash(f"Warm-up kept for {name}.", "done")
    return back


@bp.get("/<int:athlete_id>/judge")
def judge(workout_id: int, athlete_id: int) -> str:
    """Show the judge sheet for printing, one A4 page."""
    entry = planned_entry_or_404(workout_id, athlete_id)
    prep = prep_in_force(entry)
    rows = judge_rows(prep.briefing or abort(404))
    return render_template("prep/judge.html", entry=entry, saved=entry.saved, prep=prep, rows=rows)


@bp.get("/<int:athlete_id>/warm-up.ics")
def calendar(workout_id: int, athlete_id: int) -> ResponseReturnValue:
    """Return the warm-up as calendar entries, each with an alarm as it begins; needs the start of the heat."""
    entry = planned_entry_or_404(workout_id, athlete_id)
    wishes = load_prep(workout_id, athlete_id).wishes
    start = read_start(wishes.starts_at)
    if start is None:
        flash("Type the start of the heat and keep it; then the warm-up has times for a calendar.", "problem")
        return redirect(url_for("prep.show", workout_id=workout_id, athlete_id=athlete_id))
    found = Calendar()
    found.add("prodid", "-//Sorvek//EN")
    found.add("version", "2.0")
    for part in prep_of(entry, wishes).table.parts:
        begins = start - timedelta(seconds=part.before_s)
        event = Event()
        event.add("uid", f"prep-{workout_id}-{athlete_id}-{FIELD[part.kind]}@sorvek")
        event.add("summary", f"{entry.saved.title}: {part.kind.value}")
        event.add("description", "\n".join(part.lines))
        event.add("dtstart", begins)
        event.add("dtend", begins + timedelta(seconds=part.length_s))
        event.add("dtstamp", begins)
        alarm = Alarm()
        alarm.add("action", "DISPLAY")
        alarm.add("description", part.kind.value)
        alarm.add("trigger", timedelta(0))
        event.add_component(alarm)
        found.add_component(event)
    headers = {"Content-Disposition": "attachment; filename=warm-up.ics"}
    return Response(found.to_ical().decode(), mimetype="text/calendar", headers=headers)
