"""What was computed and is kept in memory: bounded, by the versions of what it was computed from."""

from concurrent.futures import ThreadPoolExecutor
from functools import lru_cache

from sorvek.actions.entry import Entry
from sorvek.core.advice import Briefing, TemperResult, brief, compare_tempers
from sorvek.core.club import Outlook, Prospect, TierPlan, plan_of, prospects, tier_plan
from sorvek.core.lift import (
    AttemptPlan,
    Gym,
    Ramp,
    SchoolRun,
    Setup,
    WarmUpSet,
    Wishes,
    build_up,
    compare_attempts,
    find_ramps,
)
from sorvek.core.plan import Plan
from sorvek.core.planner import Temper, plan_workout
from sorvek.core.prep import IfThen, PrepWishes, Timetable, if_then, timetable
from sorvek.core.simulation import Problem, problem_for, run_plan
from sorvek.core.workout import Library, read_workout
from sorvek.store.athletes import SavedAthlete
from sorvek.store.workouts import SavedWorkout

KEPT_PLANS = 256
_threads = ThreadPoolExecutor(2, thread_name_prefix="temper")
KEPT_TIERS = 64
# Warm-ups are small, and the heats want those of everybody at once.
KEPT_TIMETABLES = 2048


@lru_cache(maxsize=KEPT_PLANS)
def problem_of(entry: Entry) -> Problem:
    """Return a entry as the simulation takes it.

    Raises: InfeasibleError for a max lift alone.
    """
    return problem_for(entry.workout, entry.athlete.athlete)


@lru_cache(maxsize=KEPT_PLANS)
def computed(entry: Entry) -> Briefing:
    """Return the briefing of the plan the search finds."""
    problem = problem_of(entry)
    return brief(problem, plan_workout(problem).plan)


@lru_cache(maxsize=KEPT_PLANS)
def briefed(entry: Entry, schemes: tuple[str, ...]) -> Briefing:
    """Return the briefing of a plan in shorthand."""
    return brief(problem_of(entry), plan_of(schemes))


@lru_cache(maxsize=KEPT_PLANS)
def tempers_of(entry: Entry, steady: Plan) -> tuple[TemperResult, ...]:
    """Return safe, steady and attack side by side, beside the computed plan."""
    return in_threads(problem_of(entry), steady)


def in_threads(problem: Problem, steady: Plan) -> tuple[TemperResult, ...]:
    """Return the temperaments beside a steady plan, searched for at once: compiled code holds no lock."""
    return compare_tempers(problem, steady, run=_threads.map)


@lru_cache(maxsize=KEPT_PLANS)
def attempts_of(setup: Setup, wishes: Wishes) -> tuple[AttemptPlan, tuple[SchoolRun, ...], tuple[WarmUpSet, ...]]:
    """Return the attempts of a lift, the schools beside them, and the build-up."""
    plan, schools = compare_attempts(setup.task, wishes.rows)
    task = setup.task
    return plan, schools, build_up(task.one_rep_max_kg, task.gym, task.bar, task.crew)


@lru_cache(maxsize=KEPT_PLANS)
def ramps_of(entry: Entry, plan: Plan) -> tuple[Ramp, ...]:
    """Return the bars that get heavier inside the work, for a plan."""
    return find_ramps(problem_of(entry), plan)


@lru_cache(maxsize=KEPT_TIMETABLES)
def timetable_of(entry: Entry, plan: Plan, gym: Gym, wishes: PrepWishes) -> Timetable:
    """Return the warm-up of an athlete for a plan."""
    problem = problem_of(entry)
    return timetable(problem, plan, run_plan(problem, plan), gym, wishes)


@lru_cache(maxsize=KEPT_PLANS)
def rules_of(entry: Entry, plan: Plan) -> tuple[IfThen, ...]:
    """Return what to do when the day goes otherwise than the plan."""
    return if_then(problem_of(entry), plan)


@lru_cache(maxsize=KEPT_TIERS)
def tier_plan_of(
    saved: SavedWorkout,
    tier: str,
    members: tuple[tuple[SavedAthlete, Outlook], ...],
    temper: Temper,
    schemes: tuple[str, ...] = (),
) -> TierPlan:
    """Return a tier's plan, `schemes` if it is chosen, for its members with the outlooks of their own plans."""
    pairs = [(member.athlete, outlook) for member, outlook in members]
    return tier_plan(saved.workout, tier, pairs, temper, plan_of(schemes) if schemes else None)


@lru_cache(maxsize=KEPT_TIERS)
def prospects_of(text: str, sex: str, library: Library) -> tuple[Prospect, ...]:
    """Return where every tier's prototype ends on a text.

    Raises: CoreError if it cannot be read.
    """
    return prospects(read_workout(text, library).workout, sex)
