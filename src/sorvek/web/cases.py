"""From the address of a page to what it shows: a workout, an athlete, both; 404 where there is none."""

from flask import abort, render_template

from sorvek.actions.case import Case, load_case
from sorvek.actions.people import beside
from sorvek.store.athletes import SavedAthlete, load_athlete
from sorvek.store.workouts import SavedWorkout, load_workout


def workout_or_404(workout_id: int) -> SavedWorkout:
    """Return a stored workout or end the request with 404."""
    return load_workout(workout_id) or abort(404)


def athlete_or_404(athlete_id: int) -> SavedAthlete:
    """Return a stored athlete or end the request with 404."""
    return load_athlete(athlete_id) or abort(404)


def case_or_404(workout_id: int, athlete_id: int) -> Case:
    """Return an athlete on a workout or end the request with 404."""
    return load_case(workout_id, athlete_id) or abort(404)


def planned_case_or_404(workout_id: int, athlete_id: int) -> Case:
    """Return a case somebody may be planned for; who is held back has no plan to try anything on."""
    case = case_or_404(workout_id, athlete_id)
    return abort(404) if case.held else case


def held_page(case: Case, stage: str) -> str:
    """Return the page of an athlete who is held back, with what can be done about it."""
    return render_template(
        "plans/held.html",
        case=case,
        saved=case.saved,
        people=beside(case.athlete.id),
        offers=case.offers,
        stage=stage,
    )
