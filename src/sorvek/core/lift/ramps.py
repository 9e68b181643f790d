"""Bars that get heavier inside a conditioning piece: which reps go up, in which style, after which rest."""

from collections import defaultdict
from dataclasses import dataclass, replace

import numpy as np

from sorvek.core.athlete import lift_figure
from sorvek.core.plan import Phase, Plan
from sorvek.core.simulation import Floats, Problem, draw_samples, run_samples
from sorvek.core.simulation import columns as k
from sorvek.core.workout import Course, Form, Workout, unroll

# From this share of the 1RM on a bar is heavy, and rests before its first rep are tried; judgement.
HEAVY_FRAC = 0.75
WAITS_S = (0.0, 5.0, 10.0, 15.0, 20.0, 30.0)
DAYS = 200
# A style or a rest is only worth mentioning if it wins so much of a rep or so many seconds; judgement.
WORTH_REPS, WORTH_S = 0.1, 0.5
POWER, SQUAT = "power", "squat"


@dataclass(frozen=True, slots=True)
class Rung:
    """One bar of a ramp. `rep_chances` has the chance (0–1) of every rep to be done within the time, in order.

    `share` is load / 1RM in the style planned; `wait_s` the rest before the first rep that pays best, `wait_gain`
    what it wins in the score's own unit (reps, or seconds saved).
    """

    slot: int
    label: str
    load_kg: float
    share: float
    rep_chances: tuple[float, ...]
    style: str
    wait_s: float
    wait_gain: float


@dataclass(frozen=True, slots=True)
class Ramp:
    """Bars of one family in the order of the work.

    `switch_at` is the index of the first rung that is better in full depth (None: one style throughout),
    `primer_s` what one deep rep on the bar before costs.
    """

    rungs: tuple[Rung, ...]
    switch_at: int | None
    primer_s: float
    unit: str


def _rising(course: Course) -> list[list[int]]:
    """Return the slots of every barbell family whose load rises in the order of the work."""
    families: dict[str, list[int]] = defaultdict(list)
    for index, slot in enumerate(course.slots):
        if slot.load_kg and slot.movement.styles[0].lift:
            families[slot.movement.family].append(index)
    rising = []
    for slots in families.values():
        climb = [slots[0]]
        for later in slots[1:]:
            if course.slots[later].load_kg > course.slots[climb[-1]].load_kg:
                climb.append(later)
        if len(climb) > 1:
            rising.append(climb)
    return rising


def has_ramp(workout: Workout) -> bool:
    """Return whether a workout holds bars of one family that get heavier on the way."""
    course = unroll(workout, workout.divisions[0])
    return bool(_rising(course))


def _days(problem: Problem, plan: Plan, samples: tuple[Floats, Floats]) -> Floats:
    return run_samples(problem, problem.choices(plan), *samples)


def merit(problem: Problem, outs: Floats) -> float:
    """Return the mean score of days (days, N_OUT), more being better: reps, or minus seconds.

    A rep missing at the cap counts as the seconds a rep of this course usually takes.
    """
    if problem.course.workout.form is not Form.FOR_TIME:
        return float(outs[:, k.DONE].mean())
    _, ahead_s = problem.typical_course
    missing = problem.course.total_reps - outs[:, k.DONE]
    rep_s = float(ahead_s[-1]) / problem.course.total_reps
    return -float((outs[:, k.TIME] + missing * rep_s).mean())


def _with(plan: Plan, slot: int, **changes: object) -> Plan:
    phases = tuple(Phase(p.until, replace(p.scheme, **changes)) for p in plan.slots[slot])  # type: ignore[arg-type]
    return plan.with_slot(slot, phases)


def _rep_chances(problem: Problem, slot: int, done: Floats) -> tuple[float, ...]:
    before, chances = 0, []
    for segment in problem.course.segments:
        if segment.slot == slot:
            chances += [float((done >= before + rep).mean()) for rep in range(1, segment.reps + 1)]
        before += segment.reps
    # Rounds nobody gets to are left out; the first visit always shows.
    first = next(segment.reps for segment in problem.course.segments if segment.slot == slot)
    reached = max((i for i, chance in enumerate(chances, 1) if chance > 0), default=0)
    return tuple(chances[: max(first, reached)])


def _best_wait(problem: Problem, plan: Plan, slot: int, samples: tuple[Floats, Floats]) -> tuple[float, float]:
    tries = [(merit(problem, _days(problem, _with(plan, slot, wait_s=w), samples)), w) for w in WAITS_S]
    worth = WORTH_S if problem.course.workout.form is Form.FOR_TIME else WORTH_REPS
    none = tries[0][0]
    best, wait_s = max(tries, key=lambda entry: entry[0])
    return (wait_s, best - none) if best - none >= worth else (0.0, 0.0)


def _switch(problem: Problem, plan: Plan, slots: list[int], samples: tuple[Floats, Floats]) -> int | None:
    """Return the first bar of a ramp that is better in full depth, None where the movement leaves no choice."""
    names = [{style.name for style in problem.course.slots[slot].movement.styles} for slot in slots]
    if not all({POWER, SQUAT} <= own for own in names):
        return None
    merits = []
    for at in range(len(slots) + 1):
        tried = plan
        for i, slot in enumerate(slots):
            tried = _with(tried, slot, style=SQUAT if i >= at else POWER)
        merits.append(merit(problem, _days(problem, tried, samples)))
    worth = WORTH_S if problem.course.workout.form is Form.FOR_TIME else WORTH_REPS
    # The latest switch among near-equals: full depth costs legs and breath that the means do not show.
    best = max(i for i, merit in enumerate(merits) if merit >= max(merits) - worth)
    return best if best < len(slots) else None


def find_ramps(problem: Problem, plan: Plan, days: int = DAYS) -> tuple[Ramp, ...]:
    """Return the ramps of a course on one athlete: chances rep by rep, style and rest, over `days` uncertain days.

    Raises: SetsError if the plan does not fit the course.
    """
    found = []
    samples = draw_samples(problem, days)
    for slots in _rising(problem.course):
        switch = _switch(problem, plan, slots, samples)
        used = plan
        if switch is not None:
            for i, slot in enumerate(slots):
                used = _with(used, slot, style=SQUAT if i >= switch else POWER)
        done = _days(problem, used, samples)[:, k.DONE]
        rungs = tuple(_rung(problem, used, slot, done, samples) for slot in slots)
        unit = "s" if problem.course.workout.form is Form.FOR_TIME else "reps"
        found.append(Ramp(rungs, switch, _primer_s(problem, slots, switch), unit))
    return tuple(found)


def _rung(problem: Problem, plan: Plan, slot: int, done: Floats, samples: tuple[Floats, Floats]) -> Rung:
    course_slot = problem.course.slots[slot]
    style = course_slot.movement.style(plan.slots[slot][0].scheme.style)
    limit_kg = lift_figure(problem.athlete, course_slot.movement, style).value
    share = course_slot.load_kg / limit_kg
    chances = _rep_chances(problem, slot, done)
    reached = bool(chances and chances[0] > 0)
    heavy = share >= HEAVY_FRAC and (reached or share <= 1.05)
    wait_s, gain = _best_wait(problem, plan, slot, samples) if heavy else (0.0, 0.0)
    return Rung(slot, course_slot.label, course_slot.load_kg, share, chances, style.name, wait_s, gain)


def _primer_s(problem: Problem, slots: list[int], switch: int | None) -> float:
    """Return what one deep rep on the bar before the switch costs, in seconds; 0 where there is none."""
    if not switch:
        return 0.0
    slot = problem.course.slots[slots[switch - 1]]
    by_name = dict(zip((s.name for s in slot.movement.styles), problem.capacities[slots[switch - 1]], strict=True))
    return max(0.0, by_name[SQUAT].cycle.value - by_name[POWER].cycle.value)


def expected_last_rung(ramp: Ramp) -> int | None:
    """Return the index of the last bar on which at least one rep is more likely than not, None if there is none."""
    likely = [i for i, rung in enumerate(ramp.rungs) if rung.rep_chances and rung.rep_chances[0] >= 0.5]
    return max(likely, default=None)


def mean_reps(rung: Rung) -> float:
    """Return the reps of a bar to expect."""
    return float(np.sum(rung.rep_chances))
