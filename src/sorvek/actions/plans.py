"""The plan in force of an athlete on a workout: what a coach kept, else the computed one; sets typed over it."""

from collections.abc import Mapping
from dataclasses import dataclass

from sorvek.actions import kept
from sorvek.actions.case import Case
from sorvek.core.advice import Briefing, brief
from sorvek.core.club import outlook_of
from sorvek.core.plan import Plan, TypedPlan, shorthand, typed_plan
from sorvek.store.outlooks import SavedOutlook, outlook_of_pair, save_outlook
from sorvek.store.plans import NEVER_KEPT, SavedPlan, load_plan, save_plan


@dataclass(frozen=True, slots=True)
class InForce:
    """The computed plan's briefing, the plan in force, and the one that was kept, if any.

    `stale` tells that the kept plan was made for an earlier text and is not in force.
    """

    recommended: Briefing
    plan: Plan
    kept: SavedPlan | None
    stale: bool

    @property
    def version(self) -> int:
        """Return the version of the kept plan, to be sent along with every change of it."""
        return self.kept.version if self.kept else NEVER_KEPT

    @property
    def briefing(self) -> Briefing:
        """Return the briefing of the plan in force."""
        return (
            self.recommended if self.plan == self.recommended.plan else brief(self.recommended.problem, self.plan)
        )


def recommended(case: Case) -> Briefing:
    """Return the computed plan's briefing; a plan computed with the club that still fits is taken as it is."""
    stored = outlook_of_pair(case.saved.id, case.athlete.id)
    if stored and (stored.workout_version, stored.athlete_version) == (case.saved.version, case.athlete.version):
        return kept.briefed(case, stored.outlook.schemes)
    return kept.computed(case)


def in_force(case: Case) -> InForce:
    """Return which plan holds for a case."""
    computed, stored = recommended(case), load_plan(case.saved.id, case.athlete.id)
    if stored is None:
        return InForce(computed, computed.plan, None, False)
    if stored.workout_version != case.saved.version or len(stored.schemes) != len(computed.plan.slots):
        return InForce(computed, computed.plan, stored, True)
    typed = typed_plan(computed.course, computed.plan, dict(enumerate(stored.schemes)))
    return InForce(computed, typed.plan, stored, bool(typed.errors))


def try_sets(case: Case, texts: Mapping[int, str]) -> tuple[Briefing, TypedPlan]:
    """Return the computed plan's briefing, and that plan with the sets typed for some movements."""
    computed = recommended(case)
    return computed, typed_plan(computed.course, computed.plan, texts)


def note_outlook(case: Case) -> None:
    """Store the computed plan's outlook for Place if it is new there: where a coach acts, never where one looks."""
    stored = outlook_of_pair(case.saved.id, case.athlete.id)
    if stored and (stored.workout_version, stored.athlete_version) == (case.saved.version, case.athlete.version):
        return
    outlook = outlook_of(kept.computed(case))
    save_outlook(case.saved.id, case.athlete.id, SavedOutlook(outlook, case.saved.version, case.athlete.version))


def keep_plan(case: Case, plan: Plan, seen_version: int, author: str) -> None:
    """Keep a plan for a case.

    Raises: ConflictError if another one was kept or dropped since `seen_version`.
    """
    schemes = [shorthand(phases) for phases in plan.slots]
    save_plan(case.saved.id, case.athlete.id, schemes, case.saved.version, seen_version, author)
    note_outlook(case)
