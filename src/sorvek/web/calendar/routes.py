"""Calendar: the weekend's tries in the hall's heats; made by a search, overruled by hand, out as calendar files."""

from collections import defaultdict
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from flask import (
    Blueprint,
    Response,
    abort,
    current_app,
    jsonify,
    redirect,
    render_template,
    request,
    url_for,
)
from flask.typing import ResponseReturnValue
from icalendar import Calendar as CalendarFile
from icalendar import Event

from sorvek.actions.hall import gear_of, idle_equipment
from sorvek.actions.weekend import (
    Calendar,
    Searches,
    calendar_of,
    clashes_of,
    move,
    open_days,
    open_workouts,
)
from sorvek.core.calendar import duties
from sorvek.core.errors import CoreError
from sorvek.store.accounts import Role
from sorvek.store.weekend import PlacedTry, SavedWeekend, WeekendHall, load_weekend, usual_hall
from sorvek.web.access import needs
from sorvek.web.entries import today
from sorvek.web.undo import offer_undo

bp = Blueprint("calendar", __name__, url_prefix="/calendar")

# A time is one number in an address: minutes since the first day of the year 1.
MINUTES_A_DAY = 24 * 60


@dataclass(frozen=True, slots=True)
class Chip:
    """A try on the page: who, second or not, what is wrong with its place."""

    placed: PlacedTry
    name: str
    title: str
    wrong: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class HeatCell:
    """A heat on the page: when, its number for addresses, which workouts (one, unless a coach overruled), who.

    `judging` are athletes who judge it.
    """

    at: datetime
    number: int
    titles: tuple[str, ...]
    chips: tuple[Chip, ...]
    judging: tuple[str, ...]


def _searches() -> Searches:
    found: Searches = current_app.extensions.setdefault("searches", Searches())
    return found


def _number(at: datetime) -> int:
    return at.toordinal() * MINUTES_A_DAY + at.hour * 60 + at.minute


def _time(number: int) -> datetime | None:
    try:
        return datetime.fromordinal(number // MINUTES_A_DAY) + timedelta(minutes=number % MINUTES_A_DAY)
    except (ValueError, OverflowError):
        return None


def _rows(calendar: Calendar, saved: SavedWeekend) -> tuple[dict[date, list[HeatCell]], list[Chip]]:
    """Return the heats by day with who is in them, and the tries without a place."""
    wrong = clashes_of(calendar, saved.tries)
    numbers = {key: n for n, key in enumerate(calendar.keys)}
    by_time: dict[str, list[Chip]] = defaultdict(list)
    for one in saved.tries:
        number = numbers.get((one.athlete_id, one.workout_id, one.second))
        if number is None:
            continue  # done, removed or closed since
        told = tuple(wrong.get(number, ()))
        chip = Chip(one, calendar.names[one.athlete_id], calendar.titles[one.workout_id], told)
        by_time[one.at].append(chip)
    days: dict[date, list[HeatCell]] = defaultdict(list)
    judging = duties(calendar.weekend, calendar.assigned(saved.tries))
    for slot in range(len(calendar.weekend.slots)):
        at = calendar.when(slot)
        chips = by_time.pop(f"{at:%Y-%m-%dT%H:%M}", [])
        titles = tuple(dict.fromkeys(chip.title for chip in chips))
        days[at.date()].append(HeatCell(at, _number(at), titles, tuple(chips), judging.get(slot, ())))
    return days, [chip for chips in by_time.values() for chip in chips]


def _page(hall: WeekendHall | None = None, problem: str = "") -> ResponseReturnValue:
    saved, day = load_weekend(), today()
    workouts = open_workouts(day)
    days = open_days(workouts, day)
    shown = hall or saved.hall or usual_hall().on(days)
    heats: dict[date, list[HeatCell]] = {}
    unplaced: list[Chip] = []
    if saved.hall and days:
        try:
            heats, unplaced = _rows(calendar_of(saved.hall, day, saved.tries), saved)
        except CoreError as error:
            problem = problem or str(error)
    page = render_template(
        "calendar/index.html",
        saved_weekend=saved,
        hall=shown,
        days=days,
        heats=heats,
        unplaced=unplaced,
        problem=problem,
        gear=gear_of(workouts),
        idle=idle_equipment(shown, workouts),
        search=_searches().latest,
    )
    return page, 422 if problem and hall else 200


@bp.get("/")
def show() -> ResponseReturnValue:
    """Show the calendar."""
    return _page()


@bp.post("/")
@needs(Role.COACH)
def make() -> ResponseReturnValue:
    """Begin to place everybody; what a coach fixed stays."""
    form = request.form
    hours = {name.removeprefix("hours-"): value[:80] for name, value in form.items() if name.startswith("hours-")}
    hall = WeekendHall(
        hours,
        form.get("every_min", 30, int),
        max(1, min(12, form.get("lanes", 6, int))),
        max(0, min(40, form.get("judges", 6, int))),
        form.get("equipment", "")[:1000],
        form.get("wishes", "")[:4000],
        form.get("judging", "")[:2000],
    )
    try:
        _searches().start(hall, today(), form.get("version", -1, int))
    except CoreError as error:
        return _page(hall, str(error))
    return redirect(url_for("calendar.show"))


@bp.get("/progress")
def progress() -> ResponseReturnValue:
    """Return how far the search is."""
    search = _searches().latest
    if search is None:
        return jsonify(done=True, placed=0, total=0, problem="")
    return jsonify(done=search.done, placed=search.placed, total=search.total, problem=search.problem)


@bp.post("/stop")
@needs(Role.COACH)
def stop() -> ResponseReturnValue:
    """Take the best placing found so far."""
    _searches().stop()
    return redirect(url_for("calendar.show"))


@bp.post("/move/<int:athlete_id>/<int:workout_id>/<int:second>/<int:number>")
@needs(Role.COACH)
def put(athlete_id: int, workout_id: int, second: int, number: int) -> ResponseReturnValue:
    """Put a try into a heat, whatever the rules say; what clashes is marked. 0 takes it out of the calendar."""
    at = _time(number) if number else None
    if number and at is None:
        abort(404)
    key = (athlete_id, workout_id, bool(second))
    before = move(load_weekend(), key, f"{at:%Y-%m-%dT%H:%M}" if at else "")
    if before is None:
        abort(404)
    back = _number(datetime.fromisoformat(before.at)) if before.at else 0
    values = {"athlete_id": athlete_id, "workout_id": workout_id, "second": second, "number": back}
    offer_undo("Moved." if at else "Taken out of the calendar.", "calendar.put", **values)
    return redirect(url_for("calendar.show"))


def _duties(calendar: Calendar, saved: SavedWeekend, athlete_id: int | None) -> list[tuple[datetime, str]]:
    """Return when athletes judge, and who; one athlete's only where an id is given."""
    found = duties(calendar.weekend, calendar.assigned(saved.tries))
    whose = [(calendar.when(slot), name) for slot, names in found.items() for name in names]
    return [(at, name) for at, name in whose if athlete_id is None or calendar.names.get(athlete_id) == name]


def _file(athlete_id: int | None) -> Response:
    """Return the tries and the judging of an athlete, or of everybody, as a calendar file."""
    saved, day = load_weekend(), today()
    hall = saved.hall or abort(404)
    calendar, found = calendar_of(hall, day, saved.tries), CalendarFile()
    found.add("prodid", "-//Sorvek//")
    found.add("version", "2.0")

    def add(at: datetime, summary: str, uid: str) -> None:
        event = Event()
        event.add("summary", summary)
        event.add("dtstart", at)
        event.add("dtend", at + timedelta(minutes=hall.every_min))
        event.add("dtstamp", datetime.combine(day, datetime.min.time()))
        event.add("uid", f"{uid}@sorvek")
        found.add_component(event)

    for one in saved.tries:
        open_still = one.workout_id in calendar.titles and one.athlete_id in calendar.names
        if one.at and open_still and athlete_id in (None, one.athlete_id):
            whose = f": {calendar.names[one.athlete_id]}" if athlete_id is None else ""
            again = ", second try" if one.second else ""
            uid = f"{one.workout_id}-{one.athlete_id}-{int(one.second)}"
            add(datetime.fromisoformat(one.at), f"{calendar.titles[one.workout_id]}{whose}{again}", uid)
    for at, name in _duties(calendar, saved, athlete_id):
        add(at, "Judge" if athlete_id else f"Judge: {name}", f"judge-{_number(at)}-{name.encode().hex()[:40]}")
    response = Response(found.to_ical(), mimetype="text/calendar")
    response.headers["Content-Disposition"] = f"attachment; filename={'mine' if athlete_id else 'hall'}.ics"
    return response


@bp.get("/hall.ics")
def hall_file() -> Response:
    """Return everybody's tries as a calendar file."""
    return _file(None)


@bp.get("/athlete/<int:athlete_id>.ics")
def athlete_file(athlete_id: int) -> Response:
    """Return one athlete's tries as a calendar file."""
    return _file(athlete_id)
