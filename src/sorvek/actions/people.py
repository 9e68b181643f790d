"""The roster as the list beside a page: groups by tier, who comes before and after."""

from dataclasses import dataclass

from sorvek.core.workout import TIERS
from sorvek.store.athletes import SavedAthlete, all_athletes


@dataclass(frozen=True, slots=True)
class Group:
    """A tier with its members."""

    tier: str
    members: tuple[SavedAthlete, ...]


@dataclass(frozen=True, slots=True)
class Beside:
    """The list beside a page, and the ids of the athletes before and after the one shown."""

    groups: tuple[Group, ...]
    before: int
    after: int


def grouped(athletes: list[SavedAthlete]) -> tuple[Group, ...]:
    """Return the tiers that have members, the strongest first."""
    found = (Group(tier, tuple(a for a in athletes if a.athlete.tier == tier)) for tier in reversed(TIERS))
    return tuple(group for group in found if group.members)


def listed_ids() -> list[int]:
    """Return athlete ids in the order of the list on a page."""
    return [member.id for group in grouped(all_athletes()) for member in group.members]


def beside(athlete_id: int) -> Beside:
    """Return the list of people for a page that shows one of them."""
    groups = grouped(all_athletes())
    ids = [member.id for group in groups for member in group.members]
    at = ids.index(athlete_id)
    return Beside(groups, ids[at - 1], ids[(at + 1) % len(ids)])
