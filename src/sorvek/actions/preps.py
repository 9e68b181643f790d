"""From an athlete's plan in force to the start line: warm-up, gear, standards, cues."""

from dataclasses import dataclass, replace

from sorvek.actions import kept
from sorvek.actions.entry import Entry
from sorvek.actions.plans import in_force
from sorvek.core.advice import Briefing
from sorvek.core.lift import Gym
from sorvek.core.prep import CueLine, PrepWishes, Standard, Timetable, cues, gear_list, standards
from sorvek.store.lifts import the_gym
from sorvek.store.preps import load_prep


@dataclass(frozen=True, slots=True)
class Prep:
    """An athlete's way to the start line."""

    briefing: Briefing
    table: Timetable
    gear: tuple[str, ...]
    standards: tuple[Standard, ...]
    cues: tuple[CueLine, ...]
    gym: Gym


def prep_of(entry: Entry, wishes: PrepWishes) -> Prep:
    """Return the way to the start line of somebody who is not held back, for the plan in force.

    Raises: PlatesError if the hall has nothing to load.
    """
    briefing, gym = in_force(entry).briefing, the_gym()
    table = kept.timetable_of(entry, briefing.plan, gym, replace(wishes, starts_at=""))
    problem = briefing.problem
    return Prep(
        briefing,
        table,
        gear_list(problem, briefing.timeline, gym),
        standards(problem),
        cues(problem, briefing.timeline),
        gym,
    )


def prep_in_force(entry: Entry) -> Prep:
    """Return the way to the start line as it was kept, else as the rule makes it."""
    return prep_of(entry, load_prep(entry.saved.id, entry.athlete.id).wishes)
