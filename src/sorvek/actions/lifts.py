"""An athlete's max lift on a workout: the task behind what was asked, attempts, heavy bars inside the work."""

from dataclasses import dataclass
from functools import cached_property

from sorvek.actions import kept
from sorvek.actions.entry import Entry
from sorvek.actions.plans import in_force
from sorvek.core.advice import Briefing
from sorvek.core.athlete import Figure
from sorvek.core.club import Leaderboard, Result, lifts_of
from sorvek.core.errors import CoreError
from sorvek.core.lift import AttemptPlan, Ramp, Setup, Wishes, best_style, has_ramp, lift_setup, pounds_doubt
from sorvek.core.simulation import Score, ScoreKind
from sorvek.core.workout import Workout
from sorvek.store.field import boards_of
from sorvek.store.lifts import load_wishes, the_gym


def has_lift_stage(workout: Workout) -> bool:
    """Return whether a workout gives the Lift page anything to say."""
    return workout.lift is not None or has_ramp(workout)


@dataclass(frozen=True)
class LiftEntry:
    """A entry with what its lift needs: the plan in force before it, and the field."""

    entry: Entry
    before: Briefing | None
    board: Leaderboard

    @cached_property
    def expected(self) -> Figure | None:
        """Return the 1RM on file of the lift, None where there is no lift."""
        lift = self.entry.workout.lift
        if lift is None:
            return None
        library = self.entry.workout.library
        return best_style(self.entry.athlete.athlete, library.movements[lift.movement], library)[1]

    def setup(self, wishes: Wishes) -> Setup:
        """Return the task behind wishes.

        Raises: LiftError if it cannot be planned.
        """
        tank = self.before.timeline.tank if self.before else None
        lifts = lifts_of(self.board.results)
        return lift_setup(self.entry.workout, self.entry.athlete.athlete, the_gym(), wishes, tank, lifts)

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
        return kept.ramps_of(self.entry, self.before.plan) if self.before else ()


def lift_entry(entry: Entry) -> LiftEntry:
    """Return the lift of a entry that is not held back."""
    boards = boards_of(entry.saved.id)
    board = boards.get(entry.athlete.athlete.division, boards[""])
    return LiftEntry(entry, None if entry.lift_alone else in_force(entry).briefing, board)


def attempts_in_force(entry: Entry) -> AttemptPlan | None:
    """Return the attempts as kept, else as computed; None where there is no lift or it cannot be planned."""
    if entry.workout.lift is None:
        return None
    lift, wishes = lift_entry(entry), load_wishes(entry.saved.id, entry.athlete.id).wishes
    try:
        setup = lift.setup(wishes)
        return kept.attempts_of(setup, wishes)[0]
    except CoreError:
        return None
