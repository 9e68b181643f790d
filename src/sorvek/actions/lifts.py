"""An athlete's max lift on a workout: the task behind what was asked, attempts, heavy bars inside the work."""

from dataclasses import dataclass
from functools import cached_property

from sorvek.actions import kept
from sorvek.actions.entry import Entry
from sorvek.actions.plans import in_force
from sorvek.core.advice import Briefing
from sorvek.core.athlete import Figure
from sorvek.core.club import Leaderboard, Result, lifts_of
from sorvek.core.errors import CoreError, LiftError
from sorvek.core.lift import AttemptPlan, Point, Ramp, Setup, Wishes, has_ramp, lift_setup, pounds_doubt, trade_off
from sorvek.core.simulation import Score, ScoreKind, Tank
from sorvek.core.workout import MaxLift, Workout
from sorvek.store.field import boards_of
from sorvek.store.lifts import load_wishes, the_gym


def has_lift_stage(workout: Workout) -> bool:
    """Return whether a workout gives the Lift page anything to say."""
    return workout.lift is not None or has_ramp(workout)


@dataclass(frozen=True)
class LiftEntry:
    """An entry with what one of its lifts needs: the plan in force before it, and the field.

    `number` counts the lifts of a total from 1; `before` is None where no work comes before the lift.
    """

    entry: Entry
    before: Briefing | None
    board: Leaderboard
    number: int = 1

    @property
    def lift(self) -> MaxLift | None:
        """Return the lift, None where there is none and the page shows heavy bars inside the work."""
        lifts = self.entry.workout.lifts
        return lifts[self.number - 1] if lifts else None

    @property
    def pause_s(self) -> float:
        """Return the rest between the work and the window as the plan in force leaves it; 0 without work before."""
        return self.lift.pause_s(self.before.timeline.end_s) if self.lift and self.before else 0.0

    @cached_property
    def expected(self) -> Figure | None:
        """Return the 1RM on file of the lift, None where there is no lift; the work before it does not matter."""
        return self.setup_after(Wishes(), None).one_rep_max if self.lift else None

    @property
    def field_kg(self) -> tuple[float, ...]:
        """Return the lifts of the others, none where they stand only in a total."""
        return lifts_of(self.board.results) if len(self.entry.workout.lifts) < 2 else ()

    def setup(self, wishes: Wishes) -> Setup:
        """Return the task behind wishes.

        Raises: LiftError if it cannot be planned.
        """
        return self.setup_after(wishes, self.before.timeline.tank if self.before else None)

    def setup_after(self, wishes: Wishes, tank: Tank | None) -> Setup:
        """Return the task behind wishes after other work than that of the plan in force, fresh without any.

        Raises: LiftError if it cannot be planned.
        """
        athlete = self.entry.athlete.athlete
        return lift_setup(self.entry.workout, athlete, the_gym(), wishes, tank, self.field_kg, self.number)

    def trade_off(self, wishes: Wishes) -> tuple[Point, ...]:
        """Return what the first part and the lift cost each other, for the plan of every temperament.

        Raises: as `setup`.
        """
        force = in_force(self.entry)
        plans = {force.temper: force.plan}
        for found in kept.tempers_of(self.entry, force.recommended.plan):
            plans.setdefault(found.temper, found.briefing.plan)
        place_of = self.place_of if self.field_kg else None
        return trade_off(
            force.recommended.problem, plans, lambda tank: self.setup_after(wishes, tank).task, place_of
        )

    def doubt(self, wishes: Wishes) -> str:
        """Return the question whether pounds were typed as kilograms, empty if it does not arise."""
        if self.expected is None or wishes.one_rep_max_kg is None:
            return ""
        return pounds_doubt(wishes.one_rep_max_kg, self.expected.value)

    def place_of(self, score: Score) -> float:
        """Return the place a first score would take."""
        result = Result("", "", score.kind is ScoreKind.TIME, float(round(score.value)))
        return float(self.board.standing(result, result).place)

    @property
    def ramps(self) -> tuple[Ramp, ...]:
        """Return the bars that get heavier inside the work, for the plan in force."""
        if self.entry.lift_alone:
            return ()
        return kept.ramps_of(self.entry, in_force(self.entry).briefing.plan)


def lift_entry(entry: Entry, number: int = 1) -> LiftEntry:
    """Return a lift of an entry that is not held back, the first of a total unless `number` says otherwise.

    Raises: LiftError if there is no such lift.
    """
    if number > max(1, len(entry.workout.lifts)):
        raise LiftError("this workout has no second lift")
    boards = boards_of(entry.saved.id)
    board = boards.get(entry.athlete.athlete.division, boards[""])
    lift = entry.workout.lift
    fresh = entry.lift_alone or (lift is not None and lift.first)
    return LiftEntry(entry, None if fresh else in_force(entry).briefing, board, number)


def attempts_in_force(entry: Entry, number: int = 1) -> AttemptPlan | None:
    """Return the attempts as kept, else as computed; None where there is no lift or it cannot be planned."""
    if len(entry.workout.lifts) < number:
        return None
    wishes = load_wishes(entry.saved.id, entry.athlete.id).wishes.part(number)
    try:
        return kept.attempts_of(lift_entry(entry, number).setup(wishes), wishes)[0]
    except CoreError:
        return None
