"""An athlete's numbers beside the workout at hand: what is known, where from, and what to ask first."""

from dataclasses import dataclass
from datetime import date

from sorvek.actions.entry import entry_of
from sorvek.actions.kept import problem_of
from sorvek.core.advice import BODY_NUMBERS, Gap, missing_numbers
from sorvek.core.athlete import Athlete, Figure, body_figure, capacity
from sorvek.core.club import plan_of
from sorvek.core.errors import CoreError
from sorvek.core.lift import best_style
from sorvek.core.workout import Form, unroll
from sorvek.store.athletes import SavedAthlete
from sorvek.store.outlooks import outlook_of_pair
from sorvek.store.placings import placing_of
from sorvek.store.workouts import SavedWorkout, all_workouts

ASK_FIRST = 3
ENGINE = ("critical_power_w", "w_prime_j")


@dataclass(frozen=True, slots=True)
class KnownNumber:
    """A number a workout asks of an athlete, in words, with its doubt."""

    label: str
    value: str
    figure: Figure
    day: str
    doubt_frac: float


def current_workout(today: date) -> SavedWorkout | None:
    """Return the workout that is open or next, else the last."""
    workouts = all_workouts()
    return next((w for w in workouts if w.due_on >= today), workouts[-1] if workouts else None)


def gaps_of(saved: SavedAthlete, workout: SavedWorkout) -> tuple[Gap, ...]:
    """Return the numbers that would narrow an athlete's forecast most; none before there is a plan."""
    kept = outlook_of_pair(workout.id, saved.id)
    if kept is None or workout.workout.form is Form.LIFT:
        return ()
    problem = problem_of(entry_of(workout, saved, placing_of(workout.id, saved.id)))
    try:
        return missing_numbers(problem, plan_of(kept.outlook.schemes))[:ASK_FIRST]
    except CoreError:
        return ()  # the plan belongs to an earlier text


def known_numbers(athlete: Athlete, workout: SavedWorkout) -> tuple[KnownNumber, ...]:
    """Return what a workout asks of an athlete."""

    def number(label: str, value: str, figure: Figure, key: str) -> KnownNumber:
        return KnownNumber(label, value, figure, athlete.measured_on.get(key, ""), athlete.doubt_frac(key, figure))

    rows = []
    for slot in unroll(workout.workout, athlete.division, athlete.sex).slots:
        figure = capacity(athlete, slot, slot.movement.styles[0]).unbroken
        rows.append(number(slot.label, f"{figure.value:.0f} in a row", figure, slot.movement.name))
    library = workout.workout.library
    for name in workout.workout.lifted:
        figure = best_style(athlete, library.movements[name], library)[1]
        rows.append(number(f"1RM {name}", f"{figure.value:.1f} kg", figure, name))
    for key, label, unit in BODY_NUMBERS:
        if key in ENGINE:
            figure = body_figure(athlete, key)
            rows.append(number(label, f"{figure.value:.0f} {unit}", figure, key))
    return tuple(rows)


def asked_movements(workout: SavedWorkout | None) -> list[str]:
    """Return the movements a workout asks for, a max lift last."""
    return [movement.name for movement in workout.readout.movements] if workout else []
