"""From an athlete's plan in force to the start line: warm-up, gear, standards, cues."""

from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from sorvek.actions import kept
from sorvek.actions.cards import takers, tiers_of
from sorvek.actions.entry import Entry, entry_of
from sorvek.actions.lifts import lift_entry
from sorvek.actions.plans import in_force, kept_on, plan_in_force
from sorvek.core.advice import Briefing
from sorvek.core.lift import Gym
from sorvek.core.prep import (
    CueLine,
    Hall,
    Heat,
    LanePlan,
    Need,
    PrepWishes,
    Standard,
    Timetable,
    Turn,
    WarmKind,
    WarmSchool,
    cues,
    gear_list,
    heats_of,
    lane_plan,
    lift_gear,
    lift_timetable,
    machine_turns,
    movement_cues,
    standards,
)
from sorvek.store.athletes import SavedAthlete
from sorvek.store.lifts import load_wishes, the_gym
from sorvek.store.placings import Placing, placings_of
from sorvek.store.preps import load_heats, load_prep, preps_on
from sorvek.store.workouts import SavedWorkout


@dataclass(frozen=True, slots=True)
class Prep:
    """An athlete's way to the start line; a max lift alone has neither sets to brief nor a lane."""

    briefing: Briefing | None
    table: Timetable
    gear: tuple[str, ...]
    standards: tuple[Standard, ...]
    cues: tuple[CueLine, ...]
    lane: LanePlan | None
    gym: Gym


def prep_of(entry: Entry, wishes: PrepWishes) -> Prep:
    """Return the way to the start line of somebody who is not held back, for the plan in force.

    Raises: PlatesError if the hall has nothing to load; LiftError if a max lift alone cannot be planned.
    """
    if entry.lift_alone:
        return _lift_prep(entry, wishes)
    briefing, gym = in_force(entry).briefing, the_gym()
    table = kept.timetable_of(entry, briefing.plan, gym, replace(wishes, starts_at=""))
    problem = briefing.problem
    return Prep(
        briefing,
        table,
        gear_list(problem, briefing.timeline, gym),
        standards(problem.course.movements),
        cues(problem, briefing.timeline),
        lane_plan(problem, briefing.timeline, gym),
        gym,
    )


def _lift_prep(entry: Entry, wishes: PrepWishes) -> Prep:
    """Return the way to the platform for a max lift alone, for the attempts as they are in force."""
    lifts, gym = entry.workout.lifts, the_gym()
    asked = load_wishes(entry.saved.id, entry.athlete.id).wishes
    setups = [lift_entry(entry, number).setup(asked.part(number)) for number in range(1, len(lifts) + 1)]
    found = [kept.attempts_of(setup, asked.part(number)) for number, setup in enumerate(setups, 1)]
    names = dict.fromkeys(name for lift in lifts for name, _ in lift.parts)
    movements = [entry.workout.library.movements[name] for name in names]
    openings = [plan.attempts[0].stack for plan, _, _ in found if plan.attempts]
    table = lift_timetable(movements, found[0][2], replace(wishes, school=WarmSchool.FRESH))
    gear = lift_gear(movements, setups[0].task.bar, openings)
    return Prep(None, table, gear, standards(movements), movement_cues(movements), None, gym)


def prep_in_force(entry: Entry) -> Prep:
    """Return the way to the start line as it was kept, else as the rule makes it."""
    return prep_of(entry, load_prep(entry.saved.id, entry.athlete.id).wishes)


@dataclass(frozen=True, slots=True)
class HeatsPlan:
    """A workout's heats with everybody's turn on a machine, and how long warm-ups are; all by name."""

    heats: tuple[Heat, ...]
    turns: dict[str, Turn]
    lengths_s: dict[str, float]
    ids: dict[str, int]


def _in_order(saved: SavedWorkout) -> list[SavedAthlete]:
    """Return who is planned and not left out, the weakest tier first."""
    if not saved.workout.body:
        return takers(saved)
    return [member for tier in reversed(tiers_of(saved)) for member in tier.members]


class _Tables:
    """The warm-ups of everybody on a workout, with what is stored of them read once."""

    def __init__(self, saved: SavedWorkout) -> None:
        self._known, self._wishes = kept_on(saved.id), preps_on(saved.id)

    def of(self, entry: Entry) -> Timetable:
        """Return the warm-up of an athlete as it was kept, else as the rule makes it."""
        wishes = self._wishes(entry.athlete.id)
        if entry.lift_alone:
            return _lift_prep(entry, wishes).table
        plan = plan_in_force(entry, self._known)
        return kept.timetable_of(entry, plan, self._known.gym, replace(wishes, starts_at=""))


def plan_heats(saved: SavedWorkout, hall: Hall) -> HeatsPlan:
    """Return the heats of a workout with turns on the machines.

    Whoever has an earlier turn than alone fills the time with mobility.
    Raises: PrepError for a hall that cannot be.
    """
    members = _in_order(saved)
    heats = heats_of([member.athlete.name for member in members], hall)
    ids, placings = {member.athlete.name: member.id for member in members}, placings_of(saved.id)
    entries = {m.athlete.name: entry_of(saved, m, placings.get(m.id, Placing())) for m in members}
    tables, needs, lengths = _Tables(saved), [], {}
    for heat in heats:
        for name in heat.names:
            if entries[name].held:
                continue
            table = tables.of(entries[name])
            lengths[name] = table.length_s
            for part in table.parts:
                if part.kind is WarmKind.RAISE:
                    needs.append(Need(name, heat.starts_s - part.before_s + part.length_s, part.length_s))
    return HeatsPlan(heats, {turn.name: turn for turn in machine_turns(needs, hall.machines)}, lengths, ids)


def laid_out_heats(saved: SavedWorkout) -> list[tuple[Heat, tuple[SavedAthlete, ...]]]:
    """Return the heats of a workout as laid out, each with its athletes in lane order."""
    members = {member.athlete.name: member for member in _in_order(saved)}
    heats = heats_of(list(members), load_heats(saved.id).hall)
    return [(heat, tuple(members[name] for name in heat.names)) for heat in heats]


def start_of(saved: SavedWorkout, athlete: SavedAthlete) -> str:
    """Return when an athlete's heat starts by the heats as laid out, `YYYY-MM-DDTHH:MM`; empty if nobody said."""
    laid_out = load_heats(saved.id)
    if not laid_out.starts_at:
        return ""
    for heat in heats_of([member.athlete.name for member in _in_order(saved)], laid_out.hall):
        if athlete.athlete.name in heat.names:
            start = datetime.fromisoformat(laid_out.starts_at) + timedelta(seconds=heat.starts_s)
            return start.strftime("%Y-%m-%dT%H:%M")
    return ""
