"""From the address of a page to what it shows: a workout, an athlete, both; 404 where there is none."""

from datetime import date

from flask import abort, current_app, redirect, render_template, session, url_for
from flask.typing import ResponseReturnValue

from sorvek.actions.entry import Entry, load_entry
from sorvek.actions.people import beside, listed_ids
from sorvek.core.errors import UnsettledError
from sorvek.store.athletes import SavedAthlete, load_athlete
from sorvek.store.log import LoggedAttempt, load_attempt
from sorvek.store.workouts import SavedWorkout, load_workout


def today() -> date:
    """Return today, or the day the application was started for."""
    day: date | None = current_app.config["TODAY"]
    return day or date.today()


def workout_or_404(workout_id: int, settled: bool = True) -> SavedWorkout:
    """Return a stored workout or end the request with 404.

    Raises: UnsettledError for one whose announcement holds doubts, unless it need not be `settled`.
    """
    saved: SavedWorkout = load_workout(workout_id) or abort(404)
    if settled and saved.workout.doubts:
        raise UnsettledError(saved.workout.doubts)
    return saved


def athlete_or_404(athlete_id: int) -> SavedAthlete:
    """Return a stored athlete or end the request with 404."""
    return load_athlete(athlete_id) or abort(404)


def attempt_or_404(athlete_id: int, attempt_id: int) -> tuple[SavedAthlete, LoggedAttempt]:
    """Return an athlete with a logged attempt or end the request with 404."""
    return athlete_or_404(athlete_id), load_attempt(athlete_id, attempt_id) or abort(404)


def entry_or_404(workout_id: int, athlete_id: int) -> Entry:
    """Return an athlete on a workout or end the request with 404.

    Raises: UnsettledError for a workout whose announcement holds doubts.
    """
    entry: Entry = load_entry(workout_id, athlete_id) or abort(404)
    if entry.saved.workout.doubts:
        raise UnsettledError(entry.saved.workout.doubts)
    return entry


def planned_entry_or_404(workout_id: int, athlete_id: int) -> Entry:
    """Return a entry somebody may be planned for; who is held back has no plan to try anything on."""
    entry = entry_or_404(workout_id, athlete_id)
    return abort(404) if entry.held else entry


def go_on(saved: SavedWorkout, page: str) -> ResponseReturnValue:
    """Go on with a page of the athlete looked at last, else of the first of the list."""
    ids = listed_ids()
    if not ids:
        return render_template("plans/nobody.html", saved=saved)
    chosen = session.get("athlete") if session.get("athlete") in ids else ids[0]
    return redirect(url_for(page, workout_id=saved.id, athlete_id=chosen))


def held_page(entry: Entry, stage: str) -> str:
    """Return the page of an athlete who is held back, with what can be done about it."""
    return render_template(
        "plans/held.html",
        entry=entry,
        saved=entry.saved,
        people=beside(entry.athlete.id),
        offers=entry.offers,
        stage=stage,
    )
