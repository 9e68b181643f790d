"""What a coach asks of an athlete's lift, and the task that follows from it."""

from dataclasses import dataclass, replace

from pydantic import TypeAdapter, ValidationError

from sorvek.core.athlete import Athlete, Figure, Origin
from sorvek.core.constants import AFTER_A_LIFT_FRAC, ATTEMPT_S, COMPLEX_FRAC
from sorvek.core.errors import LiftError
from sorvek.core.lift.hall.crew import Crew
from sorvek.core.lift.hall.plates import Gym
from sorvek.core.lift.levels import (
    best_style,
    bounding_lift,
    ready_shares,
    spread_of,
    starting_lift,
    technique_of,
)
from sorvek.core.lift.solve import HIGHEST_FRAC
from sorvek.core.lift.task import LONGEST_WINDOW_S, Aim, LiftTask, Typed
from sorvek.core.planner import Temper
from sorvek.core.quantities import clock
from sorvek.core.simulation import Tank
from sorvek.core.workout import MaxLift, RisingBar, Style, Workout


@dataclass(frozen=True, slots=True)
class Wishes:
    """What was typed for one athlete on one workout; None and empty leave it to the athlete's file and the gym.

    `second` is the same for the second lift where two are added up.
    """

    one_rep_max_kg: float | None = None
    goal_kg: float | None = None
    aim: Aim = Aim.LOAD
    opening_kg: float | None = None
    crew: Crew = Crew.ONE
    bar: str = ""
    temper: Temper = Temper.STEADY
    rows: tuple[Typed, ...] = ()
    second: "Wishes | None" = None

    def part(self, number: int) -> "Wishes":
        """Return what is asked of lift 1 or 2 of a total."""
        return replace(self, second=None) if number == 1 else self.second or Wishes()

    def with_part(self, number: int, wishes: "Wishes") -> "Wishes":
        """Return these wishes with those of one lift replaced."""
        return replace(wishes, second=self.second) if number == 1 else replace(self, second=wishes)


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
    """A lift made ready: the task, the style the athlete lifts most in, and where the 1RM comes from.

    `movement` is the one the 1RM belongs to: the part that bounds a complex, or the lift that starts and bounds it.
    """

    task: LiftTask
    style: Style
    one_rep_max: Figure
    movement: str


def lift_setup(
    workout: Workout,
    athlete: Athlete,
    gym: Gym,
    wishes: Wishes,
    tank: Tank | None = None,
    field_kg: tuple[float, ...] = (),
    number: int = 1,
) -> Setup:
    """Return the task of an athlete's max lift; `tank` is what the conditioning piece before it leaves.

    `number` says which of two lifts that are added up, `wishes` are those for it. A 1RM that is only the tier's
    gives way to a goal, if there is one. A max of several reps or of a complex is planned as what the athlete's
    numbers give for it (`_best`).
    Raises: LiftError if the workout has no such lift, its movement has no 1RM, or the work leaves no time for it.
    """
    lift = workout.lift if number == 1 or workout.lift is None else workout.lift.second
    if lift is None:
        raise LiftError("this workout has no max lift; add a last line such as “then max clean-and-jerk in 5:00”")
    name, style, figure, share = _best(workout, lift, athlete)
    if wishes.one_rep_max_kg is not None:
        figure = Figure(wishes.one_rep_max_kg, Origin.MEASURED)
    elif figure.origin is Origin.TIER and wishes.goal_kg is not None:
        figure = Figure(wishes.goal_kg, Origin.RELATED)
    best_kg = figure.value * share
    window_s = _window_s(lift, tank)
    ready = _ready(workout, lift, athlete, style, figure, tank) if tank and not lift.first else ()
    given = _given(lift.rising, window_s, workout.division_index(athlete.division, athlete.sex), best_kg)
    task = LiftTask(
        one_rep_max_kg=best_kg,
        window_s=min(window_s, len(given) * lift.rising.every_s) if lift.rising else window_s,
        gym=gym,
        bar=gym.bar(wishes.bar, athlete.sex),
        crew=wishes.crew,
        spread_frac=spread_of(athlete, name, figure),
        technique=technique_of(athlete, workout.library.movements[lift.movement]),
        ready=ready if number == 1 else (AFTER_A_LIFT_FRAC,),
        attempts=lift.attempts,
        given=given,
        temper=wishes.temper,
        aim=wishes.aim if wishes.aim is not Aim.PLACES or field_kg else Aim.LOAD,
        goal_kg=wishes.goal_kg,
        opening_kg=wishes.opening_kg,
        field_kg=field_kg,
        reference="the 1RM" if share == 1 else "the best to expect of it",
    )
    return Setup(task, style, figure, name)


def _window_s(lift: MaxLift, tank: Tank | None) -> float:
    """Return how long a lift lasts behind the work that left `tank`, at most as long as can be planned."""
    if tank is None or not lift.ends_s:
        return lift.window_s
    lasts_s = lift.lasts_s(tank.end_s)
    if lasts_s < ATTEMPT_S:
        raise LiftError(
            f"the work takes until {clock(tank.end_s)} and the lift ends at {clock(lift.ends_s)}:"
            " no time is left for an attempt; a plan that is done earlier leaves some"
        )
    return min(LONGEST_WINDOW_S, lasts_s)


def _best(workout: Workout, lift: MaxLift, athlete: Athlete) -> tuple[str, Style, Figure, float]:
    """Return name, style and 1RM of the part of a lift that bounds it, and the share of that 1RM to be had.

    A set of several reps is the share the athlete's repetition curve gives; every further part of a complex costs
    COMPLEX_FRAC more.
    """
    movements, found = workout.library.movements, []
    for name, reps in lift.parts:
        style, figure = best_style(athlete, movements[name], workout.library)
        bound = bounding_lift(athlete, movements[name], workout.library).name
        found.append((bound, style, figure, athlete.share_of_max(reps)))
    name, style, figure, share = min(found, key=lambda one: one[2].value * one[3])
    return name, style, figure, share * COMPLEX_FRAC ** (len(found) - 1)


def _given(rising: RisingBar | None, window_s: float, division: int, best_kg: float) -> tuple[Typed, ...]:
    """Return the attempts of a bar that rises, one an interval, as far as anybody could get."""
    if rising is None:
        return ()
    starts = int((window_s - ATTEMPT_S) // rising.every_s) + 1
    loads = rising.loads_kg(division, HIGHEST_FRAC * best_kg)[:starts]
    return tuple(Typed(load, i * rising.every_s) for i, load in enumerate(loads))


def _ready(
    workout: Workout, lift: MaxLift, athlete: Athlete, style: Style, figure: Figure, tank: Tank
) -> tuple[float, ...]:
    """Return the shares that are there after the work; a lift that starts with another is bounded by that one."""
    pause_s, window_s = lift.pause_s(tank.end_s), _window_s(lift, tank)
    shares = ready_shares(tank, style, window_s, pause_s)
    starting = starting_lift(workout.library.movements[lift.movement], workout.library)
    if starting is None:
        return shares
    first_style, first = best_style(athlete, starting, workout.library)
    more = first.value / figure.value
    others = ready_shares(tank, first_style, window_s, pause_s)
    return tuple(min(own, more * other) for own, other in zip(shares, others, strict=True))
