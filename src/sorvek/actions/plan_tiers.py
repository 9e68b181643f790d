"""Tiers by plan as a coach keeps them on a workout: cut, renamed, merged, split, somebody moved; all undone."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from string import ascii_uppercase

from sorvek.actions.entry import entry_of
from sorvek.core.club import MOST_TIERS, Club, Following, Outlook, plan_of, plan_tiers
from sorvek.core.errors import CoreError
from sorvek.core.plan import Plan, shorthand
from sorvek.core.simulation import Problem, problem_for
from sorvek.store.athletes import all_athletes
from sorvek.store.outlooks import outlooks_of
from sorvek.store.placings import Placing, placings_of
from sorvek.store.settings import save_setting, setting, setting_version
from sorvek.store.workouts import SavedWorkout

MOST_BEFORE = 10  # so many steps back are kept
LONGEST_NAME = 40
USUAL_TIERS = "usual_tiers"


class TiersError(CoreError):
    """What was asked of the tiers cannot be done; the message says why."""


@dataclass(frozen=True, slots=True)
class KeptTier:
    """A tier of a coach: its plan in shorthand, and how everybody in it follows that, by id."""

    name: str
    schemes: tuple[str, ...]
    following: Mapping[int, Following]

    @property
    def plan(self) -> Plan:
        """Return the plan of the tier."""
        return plan_of(self.schemes)


@dataclass(frozen=True, slots=True)
class KeptTiers:
    """All tiers of a workout, the best first; none where tiers go by outcome. `before` holds the steps back."""

    tiers: tuple[KeptTier, ...] = ()
    version: int = 0
    before: tuple[object, ...] = ()

    def of(self, athlete_id: int) -> KeptTier | None:
        """Return the tier somebody is in."""
        return next((tier for tier in self.tiers if athlete_id in tier.following), None)

    def named(self, name: str) -> KeptTier:
        """Return a tier by its name.

        Raises: TiersError if there is none.
        """
        for tier in self.tiers:
            if tier.name == name:
                return tier
        raise TiersError(f"There is no tier “{name}” any more: look at the page again.")


@dataclass(frozen=True, slots=True)
class _Planned:
    """Who has a plan for the workout as it is written: problems and plans by athlete id."""

    problems: dict[int, Problem]
    plans: dict[int, Plan]
    outlooks: dict[int, Outlook]

    def cut(self, ids: Sequence[int], count: int | None) -> list[tuple[Plan, dict[int, Following]]]:
        """Return the plans that serve some athletes best, each with those who follow it."""
        found = plan_tiers([self.problems[i] for i in ids], [self.plans[i] for i in ids], count)
        return [(t.plan, dict(zip((ids[m] for m in t.members), t.following, strict=True))) for t in found]

    def follow(self, athlete_id: int, plan: Plan) -> Following:
        """Return how somebody follows a plan."""
        return Club([self.problems[athlete_id]], [self.plans[athlete_id]]).follow(0, plan)

    def outcome(self, following: Mapping[int, Following]) -> str:
        """Return the outcome of the one in the middle of a tier."""
        ids = list(following)
        return self.outlooks[ids[len(ids) // 2]].outcome


def _planned(saved: SavedWorkout) -> _Planned:
    outlooks, placings = outlooks_of(saved.id), placings_of(saved.id)
    found = _Planned({}, {}, {})
    for athlete in all_athletes():
        placing, kept = placings.get(athlete.id, Placing()), outlooks.get(athlete.id)
        entry = entry_of(saved, athlete, placing)
        if kept is None or entry.held or entry.substitutes:
            continue  # who does something else is no member of a tier
        problem, plan = problem_for(saved.workout, entry.athlete.athlete), plan_of(kept.outlook.schemes)
        try:
            plan.check(problem.course)
        except CoreError:
            continue
        found.problems[athlete.id], found.plans[athlete.id] = problem, plan
        found.outlooks[athlete.id] = kept.outlook
    return found


def _setting(saved: SavedWorkout) -> str:
    return f"plan_tiers_{saved.id}"


def plan_tiers_of(saved: SavedWorkout) -> KeptTiers:
    """Return the tiers by plan a coach keeps on a workout."""
    kept = setting(_setting(saved), {"tiers": [], "before": []})
    tiers = tuple(
        KeptTier(name, tuple(schemes), {int(i): Following.from_data(how) for i, how in following.items()})
        for name, schemes, following in kept["tiers"]
    )
    return KeptTiers(tiers, setting_version(_setting(saved)), tuple(kept["before"]))


def usual_tiers() -> int:
    """Return into how many tiers by plan the club usually cuts; 0 for as few as serve."""
    return int(setting(USUAL_TIERS, 0))


def usual_tiers_version() -> int:
    """Return the version of that number."""
    return setting_version(USUAL_TIERS)


def keep_usual_tiers(count: int, seen_version: int) -> None:
    """Keep it.

    Raises: ConflictError if somebody changed it since `seen_version`.
    """
    save_setting(USUAL_TIERS, max(0, min(MOST_TIERS, count)), seen_version)


def _data(tiers: Sequence[KeptTier]) -> list[object]:
    return [
        [tier.name, tier.schemes, {str(i): following.data for i, following in tier.following.items()}]
        for tier in tiers
    ]


def _save(saved: SavedWorkout, kept: KeptTiers, tiers: Sequence[KeptTier], seen_version: int) -> None:
    before = [*kept.before, _data(kept.tiers)][-MOST_BEFORE:]
    save_setting(_setting(saved), {"tiers": _data(tiers), "before": before}, seen_version)


def _tier(name: str, plan: Plan, following: Mapping[int, Following]) -> KeptTier:
    return KeptTier(name, tuple(shorthand(phases) for phases in plan.slots), following)


def cut_tiers(saved: SavedWorkout, count: int | None, seen_version: int) -> None:
    """Cut everybody who is planned into `count` tiers by plan, or into as few as keep losses small.

    Raises: TiersError if nobody is planned, ConflictError if somebody changed the tiers since `seen_version`.
    """
    planned = _planned(saved)
    if not planned.plans:
        raise TiersError("Nobody is planned yet: plan the club first.")
    tiers = planned.cut(list(planned.plans), count)
    named = [
        _tier(f"{letter} · {planned.outcome(following)}", plan, following)
        for letter, (plan, following) in zip(ascii_uppercase, tiers, strict=False)
    ]
    _save(saved, plan_tiers_of(saved), named, seen_version)


def merge_tiers(saved: SavedWorkout, name: str, into: str, seen_version: int) -> None:
    """Join two tiers; their plan is the one all of them lose least by.

    Raises: TiersError, ConflictError.
    """
    kept, planned = plan_tiers_of(saved), _planned(saved)
    gone, stays = kept.named(name), kept.named(into)
    if gone is stays:
        raise TiersError("A tier cannot be merged with itself.")
    ids = [i for i in (*stays.following, *gone.following) if i in planned.plans]
    ((plan, following),) = planned.cut(ids, 1)
    joined = _tier(into, plan, following)
    _save(saved, kept, [joined if t is stays else t for t in kept.tiers if t is not gone], seen_version)


def split_tier(saved: SavedWorkout, name: str, seen_version: int) -> None:
    """Cut one tier into two by plan.

    Raises: TiersError if one plan is as good for all of them, ConflictError.
    """
    kept, planned = plan_tiers_of(saved), _planned(saved)
    tier = kept.named(name)
    halves = planned.cut([i for i in tier.following if i in planned.plans], 2)
    if len(halves) < 2:
        raise TiersError(f"{name} cannot be split: one plan serves all of them best.")
    taken = {other.name for other in kept.tiers if other is not tier}
    names = [f"{name} {number}"[:LONGEST_NAME] for number in (1, 2)]
    if taken & set(names):
        raise TiersError(
            f"{name} cannot be split: there is a tier “{names[0]}” or “{names[1]}” already. Rename it."
        )
    new = [_tier(n, plan, following) for n, (plan, following) in zip(names, halves, strict=True)]
    _save(saved, kept, [t for old in kept.tiers for t in (new if old is tier else [old])], seen_version)


def move_to_tier(saved: SavedWorkout, athlete_id: int, name: str, seen_version: int) -> Following:
    """Put somebody into a tier; its plan stays. Return how it is followed.

    Raises: TiersError if the athlete has no plan for the workout as it is written, ConflictError.
    """
    kept, planned = plan_tiers_of(saved), _planned(saved)
    tier = kept.named(name)
    if athlete_id not in planned.plans:
        raise TiersError("Who has no plan, or does another movement, cannot follow a tier's plan.")
    now = planned.follow(athlete_id, tier.plan)
    tiers = []
    for old in kept.tiers:
        others = {i: following for i, following in old.following.items() if i != athlete_id}
        tiers.append(replace(old, following=others | ({athlete_id: now} if old is tier else {})))
    _save(saved, kept, [t for t in tiers if t.following], seen_version)
    return now


def rename_tier(saved: SavedWorkout, name: str, new: str, seen_version: int) -> None:
    """Call a tier otherwise.

    Raises: TiersError if the name is empty, too long or taken, ConflictError.
    """
    kept, new = plan_tiers_of(saved), " ".join(new.split())
    tier = kept.named(name)
    if not new or len(new) > LONGEST_NAME:
        raise TiersError(f"A tier needs a name of at most {LONGEST_NAME} characters.")
    if any(other.name == new for other in kept.tiers if other is not tier):
        raise TiersError(f"There is a tier “{new}” already.")
    _save(saved, kept, [replace(t, name=new) if t is tier else t for t in kept.tiers], seen_version)


def undo_tiers(saved: SavedWorkout, seen_version: int) -> None:
    """Take the last step back.

    Raises: TiersError if there is none, ConflictError.
    """
    kept = plan_tiers_of(saved)
    if not kept.before:
        raise TiersError("There is nothing to undo.")
    *before, last = kept.before
    save_setting(_setting(saved), {"tiers": last, "before": before}, seen_version)


def drop_tiers(saved: SavedWorkout, seen_version: int) -> None:
    """Let tiers go by outcome again; undoing brings them back.

    Raises: ConflictError.
    """
    _save(saved, plan_tiers_of(saved), [], seen_version)
