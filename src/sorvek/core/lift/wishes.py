"""What a coach asks of an athlete's lift, and the task that follows from it."""

from dataclasses import dataclass

from pydantic import TypeAdapter, ValidationError

from sorvek.core.athlete import Athlete, Figure, Origin
from sorvek.core.errors import LiftError
from sorvek.core.lift.hall.crew import Crew
from sorvek.core.lift.hall.plates import Gym
from sorvek.core.lift.levels import best_style, ready_shares, spread_of, starting_lift, technique_of
from sorvek.core.lift.task import Aim, LiftTask, Typed
from sorvek.core.planner import Temper
from sorvek.core.simulation import Tank
from sorvek.core.workout import Style, Workout


@dataclass(frozen=True, slots=True)
class Wishes:
    """What was typed for one athlete on one workout; None and empty leave it to the athlete's file and the gym."""

    one_rep_max_kg: float | None = None
    goal_kg: float | None = None
    aim: Aim = Aim.LOAD
    opening_kg: float | None = None
    crew: Crew = Crew.ONE
    bar: str = ""
    temper: Temper = Temper.STEADY
    rows: tuple[Typed, ...] = ()


_ADAPTER = TypeAdapter(Wishes)


def wishes_text(wishes: Wishes) -> str:
    """Return wishes as JSON."""
    return _ADAPTER.dump_json(wishes).decode()


def read_wishes(text: str) -> Wishes:
    """Return the wishes in a JSON text.

    Raises: LiftError if it is none.
    """
    try:
        return _ADAPTER.validate_json(text)
    except ValidationError as error:
        raise LiftError(f"what was kept for this lift cannot be read: {error.errors()[0]['msg']}") from error


@dataclass(frozen=True, slots=True)
class Setup:
    """A lift made ready: the task, the style the athlete lifts most in, and where the 1RM comes from."""

    task: LiftTask
    style: Style
    one_rep_max: Figure


def lift_setup(
    workout: Workout,
    athlete: Athlete,
    gym: Gym,
    wishes: Wishes,
    tank: Tank | None = None,
    field_kg: tuple[float, ...] = (),
) -> Setup:
    """Return the task of an athlete's max lift; `tank` is what the conditioning piece before it leaves.

    A 1RM that is only the tier's gives way to a goal, if there is one. A max of several reps is planned as the
    share of the 1RM that the athlete's repetition curve gives for so many.
    Raises: LiftError if the workout has no max lift or its movement has no 1RM.
    """
    if workout.lift is None:
        raise LiftError("this workout has no max lift; add a last line such as “then max clean-and-jerk in 5:00”")
    movement = workout.library.movements[workout.lift.movement]
    style, figure = best_style(athlete, movement, workout.library)
    if wishes.one_rep_max_kg is not None:
        figure = Figure(wishes.one_rep_max_kg, Origin.MEASURED)
    elif figure.origin is Origin.TIER and wishes.goal_kg is not None:
        figure = Figure(wishes.goal_kg, Origin.RELATED)
    window_s = workout.lift.window_s
    task = LiftTask(
        one_rep_max_kg=figure.value * athlete.share_of_max(workout.lift.reps),
        window_s=window_s,
        gym=gym,
        bar=gym.bar(wishes.bar, athlete.sex),
        crew=wishes.crew,
        spread_frac=spread_of(figure.origin),
        technique=technique_of(athlete, movement),
        ready=_ready(workout, athlete, style, figure, tank) if tank else (),
        temper=wishes.temper,
        aim=wishes.aim if wishes.aim is not Aim.PLACES or field_kg else Aim.LOAD,
        goal_kg=wishes.goal_kg,
        opening_kg=wishes.opening_kg,
        field_kg=field_kg,
    )
    return Setup(task, style, figure)


def _ready(workout: Workout, athlete: Athlete, style: Style, figure: Figure, tank: Tank) -> tuple[float, ...]:
    """Return the shares that are there after the work; a lift that starts with another is bounded by that one."""
    assert workout.lift is not None
    shares = ready_shares(tank, style, workout.lift.window_s)
    starting = starting_lift(workout.library.movements[workout.lift.movement], workout.library)
    if starting is None:
        return shares
    first_style, first = best_style(athlete, starting, workout.library)
    more = first.value / figure.value
    return tuple(
        min(own, more * other)
        for own, other in zip(shares, ready_shares(tank, first_style, workout.lift.window_s), strict=True)
    )
