"""An athlete's max lift on a workout: the task behind what was asked, attempts, heavy bars inside the work."""

from dataclasses import dataclass
from functools import cached_property

from sorvek.actions import kept
from sorvek.actions.case import Case
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
class LiftCase:
    """A case with what its lift needs: the plan in force before it, and the field."""

    case: Case
    before: Briefing | None
    board: Leaderboard

    @cached_property
    def expected(self) -> Figure | None:
        """Return the 1RM on file of the lift, None where there is no lift."""
        lift = self.case.workout.lift
        if lift is None:
            return None
        return best_style(self.case.athlete.athlete, self.case.workout.library.movements[lift.movement])[1]

    def setup(self, wishes: Wishes) -> Setup:
        """Return the task behind wishes.

        Raises: LiftError if it cannot be planned.
        """
        tank = self.before.timeline.tank if self.before else None
        lifts = lifts_of(self.board.results)
        return lift_setup(self.case.workout, self.case.athlete.athlete, the_gym(), wishes, tank, lifts)

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
        return kept.ramps_of(self.case, self.before.plan) if self.before else ()


def lift_case(case: Case) -> LiftCase:
    """Return the lift of a case that is not held back."""
    boards = boards_of(case.saved.id)
    board = boards.get(case.athlete.athlete.division, boards[""])
    return LiftCase(case, None if case.lift_alone else in_force(case).briefing, board)


def attempts_in_force(case: Case) -> AttemptPlan | None:
    """Return the attempts as kept, else as computed; None where there is no lift or it cannot be planned."""
    if case.workout.lift is None:
        return None
    wishes = load_wishes(case.saved.id, case.athlete.id).wishes
    try:
        return kept.attempts_of(lift_case(case).setup(wishes), wishes)[0]
    except CoreError:
        return None
