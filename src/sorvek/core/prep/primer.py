"""The primer: two or three short rounds of the workout at race pace, made so that they wake up and do not tire.

Every candidate is carried out by the simulation: breathing must be reached (the work above critical power falls to
between 50 and 75 %), and no local reserve may fall under 70 %. Source of both limits: common practice, no source.
"""

from dataclasses import dataclass
from itertools import product

from sorvek.core.constants import RESOURCES
from sorvek.core.plan import UNBROKEN, Phase, Plan, Scheme
from sorvek.core.simulation import Problem, problem_for, run_plan
from sorvek.core.workout import Form, Item, Rest, Size, Slot, Workout

LEAST_RESERVE, LOW_ENGINE, HIGH_ENGINE = 0.70, 0.50, 0.75
# A movement of which one rep takes more than this share of the longest set belongs to the drills.
DEAREST_REP = 0.30
MOST_MOVEMENTS = 4
# No set of a primer takes more than this share of the longest one; judgement.
MOST_OF_SET = 0.2
ROUNDS, SHARES, RESTS_S = (2, 3), (0.15, 0.25, 0.35, 0.5, 0.7, 1.0), (15.0, 30.0, 60.0)
# How the distance from what is wanted is weighed: a tired muscle is worse than a dry shirt; judgement.
TIRED_PRICE, LENGTH_PRICE = 4.0, 0.0003


@dataclass(frozen=True, slots=True)
class PrimerLine:
    """One movement of a primer's round."""

    reps: int
    label: str


@dataclass(frozen=True, slots=True)
class Primer:
    """Rounds at race pace with a rest between them, what they take, and the lowest that they leave.

    `least_reserve` and `least_engine` are shares (0–1) of the local reserves and of the work above critical power;
    `fits` says whether both lie where they should.
    """

    rounds: int
    lines: tuple[PrimerLine, ...]
    rest_s: float
    length_s: float
    least_reserve: float
    least_engine: float

    @property
    def fits(self) -> bool:
        """Return whether breathing is reached and nothing gets tired."""
        return self.least_reserve >= LEAST_RESERVE and LOW_ENGINE <= self.least_engine <= HIGH_ENGINE


def too_dear(problem: Problem, slot: int) -> bool:
    """Return whether one rep of a slot takes so much that it belongs to the drills and not to the primer."""
    return problem.capacities[slot][0].unbroken.value < 1 / DEAREST_REP


def find_primer(problem: Problem, plan: Plan) -> Primer | None:
    """Return the primer nearest to what is wanted, None where no movement can be in one.

    Movements are those of the first round, at most MOST_MOVEMENTS, without those that are too dear.
    """
    segments = [segment for segment in problem.course.segments if segment.round == problem.course.segments[0].round]
    reps: dict[int, int] = {}
    named: set[str] = set()  # two lines may be one movement for this athlete and two for another division
    for segment in segments:
        label = problem.course.slots[segment.slot].label
        if label not in named and not too_dear(problem, segment.slot):
            reps[segment.slot] = segment.reps
            named.add(label)
    chosen = dict(list(reps.items())[:MOST_MOVEMENTS])
    if not chosen:
        return None
    rows = dict.fromkeys(tuple(_counts(problem, chosen, share).items()) for share in SHARES)
    tried = (_tried(problem, plan, dict(row), *rest) for row, *rest in product(rows, ROUNDS, RESTS_S))
    return min(tried, key=_price)


def _counts(problem: Problem, chosen: dict[int, int], share: float) -> dict[int, int]:
    """Return a share of the first round's reps by slot, no set over MOST_OF_SET of the longest."""
    most = {slot: int(MOST_OF_SET * problem.capacities[slot][0].unbroken.value) for slot in chosen}
    return {slot: max(1, min(round(share * reps), most[slot])) for slot, reps in chosen.items()}


def _price(primer: Primer) -> float:
    tired = max(0.0, LEAST_RESERVE - primer.least_reserve)
    dry = max(0.0, primer.least_engine - HIGH_ENGINE, LOW_ENGINE - primer.least_engine)
    return TIRED_PRICE * tired + dry + LENGTH_PRICE * primer.length_s


def _tried(problem: Problem, plan: Plan, counts: dict[int, int], rounds: int, rest_s: float) -> Primer:
    """Return the primer of so many rounds of counts by slot, carried out."""
    slots = problem.course.slots
    items = tuple(_item(slots[slot], count) for slot, count in counts.items())
    body: list[Item | Rest] = [*items]
    for _ in range(rounds - 1):
        body += [Rest(rest_s), *items]
    workout = problem.course.workout
    short = problem_for(
        Workout("", workout.divisions, Form.FOR_TIME, 0.0, tuple(body), library=workout.library), problem.athlete
    )
    planned = {slots[slot].label: plan.slots[slot][0].scheme for slot in counts}
    schemes = [planned[slot.label] for slot in short.course.slots]
    fast = Plan(tuple((Phase(None, Scheme(UNBROKEN, 0.0, min(1.0, s.pace), s.style)),) for s in schemes))
    timeline = run_plan(short, fast)
    return Primer(
        rounds=rounds,
        lines=tuple(PrimerLine(count, slots[slot].label) for slot, count in counts.items()),
        rest_s=rest_s,
        length_s=timeline.end_s,
        least_reserve=min(min(record.after[: len(RESOURCES)]) for record in timeline.sets),
        least_engine=min(record.engine_after for record in timeline.sets),
    )


def _item(slot: Slot, count: int) -> Item:
    value = slot.size / 2 if slot.pair else slot.size
    unit = {"load": "kg", "height": "cm", "distance": "m"}.get(slot.movement.size.value, "")
    size = Size((value,), unit, slot.pair) if slot.size and unit else Size()
    target = Size((slot.target_m,), "m") if slot.target_m else Size()
    return Item(slot.movement.name, count, unit=slot.unit, size=size, side=slot.side, target=target)
