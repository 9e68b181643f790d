"""The weekend: all tries of all athletes in the hall's heats, by constraint programming (OR-Tools CP-SAT).

Hard: a heat is one workout, its lanes, judges and equipment are finite, nobody judges and competes at once, a
workout is open, an athlete is free, rests between two tries and is not in two heats, a second try comes a day after
the first. Wanted: everybody placed, first tries early, second tries late, workouts that tax the same muscles a day
apart, few heats.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import combinations
from typing import Any

MINUTES_A_DAY = 24 * 60
# Between two tries of one athlete, and between the first and the second at the same workout; common practice, no
# source, for the second; the first is judgement.
LEAST_GAP_MIN, AGAIN_GAP_MIN = 180, MINUTES_A_DAY
# What is given up: a try that is not placed, a day a first try comes later (or a second earlier), muscles that were
# taxed less than a day before (per 100 % shared), a heat more. Judgement.
UNPLACED, DAY, SHARED, HEAT = 10_000, 30, 80, 5


@dataclass(frozen=True, slots=True)
class HeatTime:
    """A time at which a heat can start, in minutes from midnight before the first day."""

    begins_min: int

    @property
    def day(self) -> int:
        """Return the day, counted from 0."""
        return self.begins_min // MINUTES_A_DAY


@dataclass(frozen=True, slots=True)
class OpenWorkout:
    """A workout of the weekend: when it is open, how many can do it at once, what it taxes (0–1 by resource)."""

    name: str
    opens_min: int
    closes_min: int
    at_once: int
    tax: tuple[float, ...]


@dataclass(frozen=True, slots=True)
class Try:
    """One attempt to be placed: whose, at which workout (index), first or second; `fixed` is a slot a coach chose.

    `barred` are slots at which the athlete cannot come; `after_min` is when a second try may come at the earliest
    where the first is done already.
    """

    athlete: str
    workout: int
    second: bool = False
    fixed: int | None = None
    barred: frozenset[int] = frozenset()
    after_min: int = 0


@dataclass(frozen=True, slots=True)
class JudgingAthlete:
    """An athlete who also judges; `barred` are slots at which they cannot come."""

    athlete: str
    barred: frozenset[int] = frozenset()


@dataclass(frozen=True, slots=True)
class Weekend:
    """All there is to place, and the heats it can go to; `lanes` and judges bound every heat.

    `judges` counts those who do not compete, `judging` are athletes who judge while they do not compete.
    """

    slots: tuple[HeatTime, ...]
    workouts: tuple[OpenWorkout, ...]
    tries: tuple[Try, ...]
    lanes: int
    judges: int
    judging: tuple[JudgingAthlete, ...] = ()

    def at_once(self, workout: int) -> int:
        """Return how many lanes and equipment let do a workout in one heat."""
        return min(self.lanes, self.workouts[workout].at_once)

    def can_judge(self, slot: int) -> tuple[str, ...]:
        """Return the athletes who judge and can come to a slot."""
        return tuple(one.athlete for one in self.judging if slot not in one.barred)

    def free_to_judge(self, slot: int, numbers: Sequence[int]) -> tuple[str, ...]:
        """Return the athletes who can judge at a slot while these tries are made there."""
        competing = {self.tries[number].athlete for number in numbers}
        return tuple(name for name in self.can_judge(slot) if name not in competing)

    def allowed(self, number: int) -> tuple[int, ...]:
        """Return the slots a try may go to, looked at alone."""
        one = self.tries[number]
        if one.fixed is not None:
            return (one.fixed,)
        work = self.workouts[one.workout]
        return tuple(
            i
            for i, slot in enumerate(self.slots)
            if work.opens_min <= slot.begins_min < work.closes_min
            and slot.begins_min >= one.after_min
            and i not in one.barred
        )

    def shared(self, one: int, other: int) -> float:
        """Return how much two tries tax the same muscles, from 0 to 1; the same workout twice counts in full."""
        a, b = (self.workouts[self.tries[i].workout].tax for i in (one, other))
        return sum(x * y for x, y in zip(a, b, strict=True)) / max(
            1e-9, sum(x * x for x in a), sum(y * y for y in b)
        )


Assigned = tuple[int | None, ...]
"""For every try the slot it goes to, None where it could not be placed."""


@dataclass(frozen=True, slots=True)
class Clash:
    """A hard rule that is broken: the tries it concerns, and what is wrong in words."""

    tries: tuple[int, ...]
    words: str


def clashes(weekend: Weekend, placed: Assigned) -> list[Clash]:
    """Return every hard rule a placing breaks, none for one that can be held."""
    found: list[Clash] = []
    by_slot: dict[int, list[int]] = {}
    for number, slot in enumerate(placed):
        if slot is None:
            continue
        by_slot.setdefault(slot, []).append(number)
        one, begins = weekend.tries[number], weekend.slots[slot].begins_min
        work = weekend.workouts[one.workout]
        if not work.opens_min <= begins < work.closes_min:
            found.append(Clash((number,), f"{work.name} is not open then"))
        if slot in one.barred:
            found.append(Clash((number,), f"{one.athlete} cannot come then"))
        if begins < one.after_min:
            found.append(Clash((number,), f"{one.athlete} did {work.name} less than a day before"))
    for slot, numbers in by_slot.items():
        works = {weekend.tries[number].workout for number in numbers}
        if len(works) > 1:
            names = " and ".join(sorted(weekend.workouts[w].name for w in works))
            found.append(Clash(tuple(numbers), f"one heat is one workout, not {names}"))
        most = min(weekend.at_once(w) for w in works)
        if len(numbers) > most:
            found.append(Clash(tuple(numbers), f"{len(numbers)} in a heat with room for {most}"))
        judges = weekend.judges + len(weekend.free_to_judge(slot, numbers))
        if len(numbers) > judges:
            found.append(Clash(tuple(numbers), f"{len(numbers)} in a heat with judges for {judges}"))
    return found + _too_close(weekend, placed)


def _too_close(weekend: Weekend, placed: Assigned) -> list[Clash]:
    found = []
    for a, b in _pairs(weekend):
        at, then = placed[a], placed[b]
        if at is None or then is None:
            continue
        gap = weekend.slots[then].begins_min - weekend.slots[at].begins_min
        who = weekend.tries[a].athlete
        if _again(weekend, a, b):
            if gap < AGAIN_GAP_MIN:
                found.append(Clash((a, b), f"{who}: a second try comes a day after the first"))
        elif abs(gap) < LEAST_GAP_MIN:
            found.append(Clash((a, b), f"{who}: two workouts within {LEAST_GAP_MIN // 60} hours"))
    return found


def _pairs(weekend: Weekend) -> list[tuple[int, int]]:
    """Return the pairs of tries of one athlete; of the same workout the first try comes first."""
    pairs = combinations(range(len(weekend.tries)), 2)
    own = [(a, b) for a, b in pairs if weekend.tries[a].athlete == weekend.tries[b].athlete]
    return [(b, a) if weekend.tries[a].second and not weekend.tries[b].second else (a, b) for a, b in own]


def _again(weekend: Weekend, a: int, b: int) -> bool:
    one, other = weekend.tries[a], weekend.tries[b]
    return one.workout == other.workout and not one.second and other.second


def duties(weekend: Weekend, placed: Assigned) -> dict[int, tuple[str, ...]]:
    """Return by slot the athletes who judge there: as few as are needed, those who judged least before."""
    count, found = dict.fromkeys((one.athlete for one in weekend.judging), 0), dict[int, tuple[str, ...]]()
    for slot in sorted({slot for slot in placed if slot is not None}):
        numbers = [n for n, there in enumerate(placed) if there == slot]
        free = sorted(weekend.free_to_judge(slot, numbers), key=lambda name: count[name])
        found[slot] = tuple(free[: max(0, len(numbers) - weekend.judges)])
        for name in found[slot]:
            count[name] += 1
    return {slot: names for slot, names in found.items() if names}


def cost(weekend: Weekend, placed: Assigned) -> int:
    """Return what a placing gives up, in the units above; the less the better."""
    total, last = 0, _last_day(weekend)
    for number, slot in enumerate(placed):
        total += UNPLACED if slot is None else _day_cost(weekend, number, slot, last)
    for a, b in _pairs(weekend):
        at, then = placed[a], placed[b]
        if at is None or then is None:
            continue
        if abs(weekend.slots[then].begins_min - weekend.slots[at].begins_min) < MINUTES_A_DAY:
            total += round(SHARED * weekend.shared(a, b))
    return total + HEAT * len({slot for slot in placed if slot is not None})


def _last_day(weekend: Weekend) -> int:
    return max((slot.day for slot in weekend.slots), default=0)


def _day_cost(weekend: Weekend, number: int, slot: int, last: int) -> int:
    day = weekend.slots[slot].day
    return DAY * (last - day if weekend.tries[number].second else day)


@dataclass(frozen=True, slots=True)
class Schedule:
    """Where every try goes, whether nothing better exists, and why those that are not placed are not."""

    placed: Assigned
    proven: bool
    reasons: dict[int, str]


def _begun(weekend: Weekend) -> list[int | None]:
    """Return a placing made heat by heat: first tries from the first heat on, second ones from the last."""
    placed: list[int | None] = [one.fixed for one in weekend.tries]
    order = range(len(weekend.slots))
    for second, slots in ((False, order), (True, order[::-1])):
        for s in slots:
            held = {weekend.tries[n].workout for n, slot in enumerate(placed) if slot == s}
            best: list[int] = []
            for w in held or range(len(weekend.workouts)):
                there = sum(slot == s for slot in placed)
                fitting = [
                    n
                    for n, one in enumerate(weekend.tries)
                    if placed[n] is None
                    and one.second == second
                    and one.workout == w
                    and _fits(weekend, placed, n, s)
                ][: max(0, weekend.at_once(w) - there)]
                best = max(best, fitting, key=len)
            for n in best:
                here = [n, *(other for other, slot in enumerate(placed) if slot == s)]
                judged = len(here) <= weekend.judges + len(weekend.free_to_judge(s, here))
                if judged and _fits(weekend, placed, n, s):
                    placed[n] = s
    return placed


def _fits(weekend: Weekend, placed: list[int | None], number: int, slot: int) -> bool:
    """Return whether a try may go to a slot, by itself and beside the athlete's others."""
    one, begins = weekend.tries[number], weekend.slots
    if slot not in weekend.allowed(number):
        return False
    for other, there in enumerate(placed):
        if there is None or weekend.tries[other].athlete != one.athlete:
            continue
        gap = begins[slot].begins_min - begins[there].begins_min
        same = weekend.tries[other].workout == one.workout
        if abs(gap) < LEAST_GAP_MIN or (same and one.second and gap < AGAIN_GAP_MIN):
            return False
    return True


class _Model:
    """The placing as a constraint model: a variable for every try and slot it may go to, and what is given up."""

    def __init__(self, weekend: Weekend) -> None:
        from ortools.sat.python import cp_model  # half a second to load: only who needs it waits

        self.cp, self.weekend, self.model = cp_model, weekend, cp_model.CpModel()
        tries = range(len(weekend.tries))
        self.at = {(n, s): self.model.new_bool_var(f"x{n}_{s}") for n in tries for s in weekend.allowed(n)}
        self.slots = [[s for m, s in self.at if m == n] for n in tries]
        self.there = [sum(self.at[n, s] for s in slots) for n, slots in enumerate(self.slots)]
        last = _last_day(weekend)
        self.costs: list[Any] = []
        for n, slots in enumerate(self.slots):
            self.model.add(self.there[n] <= 1)
            self.costs.append(UNPLACED * (1 - self.there[n]))
            self.costs += [_day_cost(weekend, n, s, last) * self.at[n, s] for s in slots]
        for s in range(len(weekend.slots)):
            self._hold_heat(s)
        names = dict.fromkeys(one.athlete for one in weekend.tries)
        for name in names:
            self._hold_rests([n for n in tries if weekend.tries[n].athlete == name])
        for a, b in _pairs(weekend):
            if weekend.tries[a].fixed is None or weekend.tries[b].fixed is None:
                self._hold_pair(a, b)
        self.begun = _begun(weekend)
        self._hint()
        self.model.minimize(sum(self.costs))

    def _hold_heat(self, s: int) -> None:
        """Hold one heat to one workout and to the room there is."""
        weekend, heats, fixed_works = self.weekend, [], set()
        for w in range(len(weekend.workouts)):
            here = [n for n, one in enumerate(weekend.tries) if one.workout == w and (n, s) in self.at]
            fixed = sum(weekend.tries[n].fixed == s for n in here)
            if not here:
                continue
            if fixed:
                fixed_works.add(w)
            heat = self.model.new_bool_var(f"h{s}_{w}")
            self.model.add(sum(self.at[n, s] for n in here) <= max(weekend.at_once(w), fixed) * heat)
            heats.append(heat)
        if heats:
            everybody = [n for n in range(len(weekend.tries)) if (n, s) in self.at]
            here_to_stay = [n for n in everybody if weekend.tries[n].fixed == s]
            self.model.add(sum(self.at[n, s] for n in everybody) <= max(len(here_to_stay), weekend.lanes))
            # Whoever judges here and competes takes a lane and a judge at once.
            judging = set(weekend.can_judge(s))
            taken = [*everybody, *(n for n in everybody if weekend.tries[n].athlete in judging)]
            held = len(here_to_stay) + sum(weekend.tries[n].athlete in judging for n in here_to_stay)
            self.model.add(sum(self.at[n, s] for n in taken) <= max(held, weekend.judges + len(judging)))
            self.model.add(sum(heats) <= max(1, len(fixed_works)))
            self.costs.append(HEAT * sum(heats))

    def _hold_rests(self, own: list[int]) -> None:
        """Hold the rest between any two tries of one athlete: of heats nearer to each other at most one."""
        weekend, begins = self.weekend, [slot.begins_min for slot in self.weekend.slots]
        free = [n for n in own if weekend.tries[n].fixed is None]
        for s, start in enumerate(begins):
            near = [t for t, other in enumerate(begins) if start <= other < start + LEAST_GAP_MIN]
            here = [self.at[n, t] for n in own for t in near if (n, t) in self.at]
            # What a coach fixed himself stands as it is.
            fixed = sum(weekend.tries[n].fixed in near for n in own)
            if len(here) > 1 and any((n, s) in self.at for n in own) and (free or fixed < 2):
                self.model.add(sum(here) <= max(1, fixed))

    def _hold_pair(self, a: int, b: int) -> None:
        """Hold the day between a first and a second try; count muscles taxed twice within a day."""
        weekend, begins = self.weekend, [slot.begins_min for slot in self.weekend.slots]
        again = _again(weekend, a, b)
        price = round(SHARED * weekend.shared(a, b))
        near = self.model.new_bool_var(f"n{a}_{b}") if not again and price else None
        for s in self.slots[b]:
            early = [
                self.at[a, t]
                for t in self.slots[a]
                if begins[t] > begins[s] - AGAIN_GAP_MIN and (again or begins[t] < begins[s] + MINUTES_A_DAY)
            ]
            if early and again:
                self.model.add(self.at[b, s] + sum(early) <= 1)
            elif early and near is not None:
                self.model.add(self.at[b, s] + sum(early) <= 1 + near)
        if near is not None:
            self.costs.append(price * near)

    def _hint(self) -> None:
        """Begin the search at a placing made heat by heat."""
        for (n, s), var in self.at.items():
            self.model.add_hint(var, self.begun[n] == s)

    def solved(self, seconds: float, told: Callable[[int, int], bool] | None) -> tuple[Assigned, bool]:
        """Return the best placing found within so many seconds, and whether nothing better exists."""
        solver, at = self.cp.CpSolver(), self.at
        solver.parameters.max_time_in_seconds = seconds
        solver.parameters.num_workers = 2
        solver.parameters.random_seed = 1

        class Heard(self.cp.CpSolverSolutionCallback):  # type: ignore[misc,name-defined]
            """Tells of every better placing."""

            def on_solution_callback(self) -> None:
                """Hear of a better placing."""
                count = sum(self.boolean_value(var) for var in at.values())
                if told and not told(count, int(self.objective_value)):
                    self.stop_search()

        status = solver.solve(self.model, Heard())
        if status not in (self.cp.OPTIMAL, self.cp.FEASIBLE):
            return (None,) * len(self.slots), False
        placed = (
            next((s for s in slots if solver.boolean_value(at[n, s])), None) for n, slots in enumerate(self.slots)
        )
        return tuple(placed), bool(status == self.cp.OPTIMAL)


def schedule(weekend: Weekend, seconds: float = 8.0, told: Callable[[int, int], bool] | None = None) -> Schedule:
    """Return the best placing found within so many seconds; the same for the same weekend when it is proven.

    `told` hears how many tries are placed and what is given up whenever a better one is found, and stops the search
    by returning False. What a coach fixed stays where it is, also where it breaks a rule.
    """
    placed, proven = _Model(weekend).solved(seconds, told) if weekend.tries else ((), True)
    reasons = {n: _reason(weekend, placed, n) for n, slot in enumerate(placed) if slot is None}
    return Schedule(placed, proven, reasons)


def _reason(weekend: Weekend, placed: Sequence[int | None], number: int) -> str:
    """Return why a try has no place: never open and free, all full, or too near to the athlete's others."""
    one, allowed = weekend.tries[number], weekend.allowed(number)
    work = weekend.workouts[one.workout]
    if not allowed:
        return f"{work.name} is open at no time at which {one.athlete} can come"
    near = f"{one.athlete}'s other workouts lie too near to every heat of {work.name} that has room"
    for slot in allowed:
        trial = (*placed[:number], slot, *placed[number + 1 :])
        found = [clash for clash in clashes(weekend, trial) if number in clash.tries]
        if not found:
            return "the search ended before a place was found; give it more time"
        if all(len(clash.tries) == 2 and clash in _too_close(weekend, trial) for clash in found):
            return near
    return f"every heat open to {work.name} is full, without a judge, or another workout's"
