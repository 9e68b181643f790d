"""The plan in force of an athlete on a workout: what a coach kept, else the computed one; sets typed over it."""

from collections.abc import Mapping
from dataclasses import dataclass

from sorvek.actions import kept
from sorvek.actions.entry import Entry
from sorvek.core.advice import Briefing, brief
from sorvek.core.club import outlook_of, plan_of
from sorvek.core.lift import Gym
from sorvek.core.plan import Plan, TypedPlan, shorthand, typed_plan
from sorvek.core.planner import Temper
from sorvek.store.lifts import the_gym
from sorvek.store.outlooks import SavedOutlook, outlook_of_pair, outlooks_of, save_outlook
from sorvek.store.plans import NEVER_KEPT, SavedPlan, load_plan, plans_on, save_plan


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
    def temper(self) -> Temper:
        """Return the temperament of the plan in force."""
        return Temper(self.kept.temper) if self.kept and not self.stale else Temper.STEADY

    @property
    def briefing(self) -> Briefing:
        """Return the briefing of the plan in force."""
        return (
            self.recommended if self.plan == self.recommended.plan else brief(self.recommended.problem, self.plan)
        )


def _fits(entry: Entry, stored: SavedOutlook | None) -> bool:
    """Return whether a stored outlook is that of the versions an entry is made of."""
    now = (entry.saved.version, entry.athlete.version)
    return stored is not None and (stored.workout_version, stored.athlete_version) == now


def _recommended(entry: Entry, stored: SavedOutlook | None) -> Briefing:
    """Return the computed plan's briefing; a plan computed with the club that still fits is taken as it is."""
    if stored and _fits(entry, stored):
        return kept.briefed(entry, stored.outlook.schemes)
    return kept.computed(entry)


def recommended(entry: Entry) -> Briefing:
    """Return the computed plan's briefing."""
    return _recommended(entry, outlook_of_pair(entry.saved.id, entry.athlete.id))


@dataclass(frozen=True, slots=True)
class KeptOn:
    """What is stored of a workout, read once for many: kept plans and outlooks by athlete, the club's gym."""

    plans: Mapping[int, SavedPlan]
    outlooks: Mapping[int, SavedOutlook]
    gym: Gym


def kept_on(workout_id: int) -> KeptOn:
    """Return what is stored of everybody on a workout."""
    return KeptOn(plans_on(workout_id), outlooks_of(workout_id), the_gym())


def in_force(entry: Entry, known: KeptOn | None = None) -> InForce:
    """Return which plan holds for an entry; `known` saves reading what is stored once more."""
    workout_id, athlete_id = entry.saved.id, entry.athlete.id
    if known is None:
        stored, outlook = load_plan(workout_id, athlete_id), outlook_of_pair(workout_id, athlete_id)
    else:
        stored, outlook = known.plans.get(athlete_id), known.outlooks.get(athlete_id)
    computed = _recommended(entry, outlook)
    if stored is None:
        return InForce(computed, computed.plan, None, False)
    if stored.workout_version != entry.saved.version or len(stored.schemes) != len(computed.plan.slots):
        return InForce(computed, computed.plan, stored, True)
    typed = typed_plan(computed.course, computed.plan, dict(enumerate(stored.schemes)))
    return InForce(computed, typed.plan, stored, bool(typed.errors))


def plan_in_force(entry: Entry, known: KeptOn) -> Plan:
    """Return the plan that holds for an entry; nothing is forecast where a computed one stands for it."""
    outlook = known.outlooks.get(entry.athlete.id)
    if outlook and _fits(entry, outlook) and entry.athlete.id not in known.plans:
        return plan_of(outlook.outlook.schemes)
    return in_force(entry, known).plan


def try_sets(entry: Entry, texts: Mapping[int, str]) -> tuple[Briefing, TypedPlan]:
    """Return the computed plan's briefing, and that plan with the sets typed for some movements."""
    computed = recommended(entry)
    return computed, typed_plan(computed.course, computed.plan, texts)


def note_outlook(entry: Entry) -> None:
    """Store the computed plan's outlook for Place if it is new there: where a coach acts, never where one looks."""
    stored = outlook_of_pair(entry.saved.id, entry.athlete.id)
    if stored and (stored.workout_version, stored.athlete_version) == (entry.saved.version, entry.athlete.version):
        return
    outlook = outlook_of(kept.computed(entry))
    save_outlook(
        entry.saved.id, entry.athlete.id, SavedOutlook(outlook, entry.saved.version, entry.athlete.version)
    )


def keep_plan(entry: Entry, plan: Plan, temper: Temper, seen_version: int, author: str) -> None:
    """Keep a plan and its temperament for a entry.

    Raises: ConflictError if another one was kept or dropped since `seen_version`.
    """
    schemes = [shorthand(phases) for phases in plan.slots]
    save_plan(entry.saved.id, entry.athlete.id, schemes, entry.saved.version, seen_version, author, temper.value)
    note_outlook(entry)
