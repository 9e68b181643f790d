"""Two scores in one session: what the conditioning piece costs the lift, and the reverse.

The points run from everything spent on the first part to little of it: the plan of every temperament, each also at
an easier pace with longer rests, each with the lift that is left in it. At the far end stands who hardly does the
first part and builds up for the lift in its time.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import cache

from sorvek.core.constants import ATTEMPT_S
from sorvek.core.errors import LiftError
from sorvek.core.lift.attempts import AttemptPlan, plan_attempts
from sorvek.core.lift.task import LiftTask
from sorvek.core.plan import Phase, Plan, Scheme
from sorvek.core.planner import Temper
from sorvek.core.simulation import Problem, Score, ScoreKind, Tank, run_plan

# Pace factors of the points, and how much faster the rests grow than the pace; judgement.
EASES = (1.0, 1.06, 1.12, 1.2, 1.3, 1.45, 1.65, 1.9)
REST_GROWTH = 3.0
MOST_PACE, MOST_REST_S = 3.0, 60.0
# A point whose lift betters that of the one before by less than this share is left out; judgement.
LEAST_STEP_FRAC = 0.0025
# One rep is a score; the rest of the first part is for the bar.
ONE_REP = Score(ScoreKind.REPS, 1.0, False, None, None, "1 rep")


class Profile(StrEnum):
    """How athletes go about two scores."""

    ALL_OUT = "all out first"
    MEASURED = "measured"
    SAVE = "save for the lift"
    BUILD_UP = "build up in part one"


@dataclass(frozen=True, slots=True)
class Point:
    """One way through both parts: the plan of the first (None: one rep and out), its score, and the attempts.

    `ease` is the factor on the plan's pace; `cost_kg` what it takes from the lift expected in the same window;
    `places` the sum of both expected places, None without a field; `profiles` are those it stands for; `better` is,
    for the plan in force, a point that beats it in one score and is no worse in the other.
    """

    temper: Temper
    ease: float
    plan: Plan | None
    score: Score
    lift: AttemptPlan
    cost_kg: float
    places: float | None
    profiles: tuple[Profile, ...] = ()
    better: "Point | None" = None


def eased(plan: Plan, ease: float) -> Plan:
    """Return a plan at `ease` times its pace, its rests longer by three times as much."""

    def scheme(old: Scheme) -> Scheme:
        rest_s = min(MOST_REST_S, old.rest_s * (1 + REST_GROWTH * (ease - 1)))
        return replace(
            old, pace=round(min(MOST_PACE, old.pace * ease), 2), rest_s=float(round(max(old.rest_s, rest_s)))
        )

    return Plan(tuple(tuple(Phase(p.until, scheme(p.scheme)) for p in phases) for phases in plan.slots))


def _beats(a: Score, b: Score) -> bool:
    """Return whether score `a` is better than `b`."""
    if a.finished != b.finished and ScoreKind.TIME in (a.kind, b.kind):
        return a.finished
    return a.value < b.value if a.kind is ScoreKind.TIME else a.value > b.value


def trade_off(
    problem: Problem,
    plans: Mapping[Temper, Plan],
    task_after: Callable[[Tank | None], LiftTask],
    place_of: Callable[[Score], float] | None = None,
) -> tuple[Point, ...]:
    """Return the points worth having, from the best first score to the best lift; none is beaten by another.

    `plans` are those of the temperaments, the one in force first. `task_after` gives the lift for what the first
    part leaves in the tank, and for somebody fresh (None). `place_of` says which place a first score takes; with it
    and a field of lifts the sums of places are known and “measured” is the lowest sum, otherwise the best sum of
    shares of the best score and of the best lift. The plan in force is among them in any case, at the head if it is
    beaten; the last point is that of building up during the first part, where that leaves a window. A plan that
    leaves no time for the lift is not among them.
    Raises: as `plan_attempts` and `task_after` for the plan in force; SetsError if a plan does not fit.
    """
    alone = task_after(None)

    @cache
    def fresh(window_s: float) -> AttemptPlan:
        return plan_attempts(replace(alone, window_s=window_s))

    def point(temper: Temper, ease: float, plan: Plan | None, score: Score, task: LiftTask) -> Point:
        lift, unspent = plan_attempts(task), fresh(task.window_s)
        places = place_of(score) + lift.places if place_of is not None and lift.places is not None else None
        return Point(temper, ease, plan, score, lift, unspent.expected_kg - lift.expected_kg, places)

    points: list[Point] = []
    for temper, plan in plans.items():
        for ease in EASES:
            easier = eased(plan, ease)
            timeline = run_plan(problem, easier)
            try:
                task = task_after(timeline.tank)
            except LiftError:
                if not points:
                    raise
                continue  # so much slower that no time is left for the lift
            points.append(point(temper, ease, easier, timeline.score, task))
    # Who does one rep uses up the cap: a lift that ends with it has no window then.
    ends = [point(Temper.STEADY, 1.0, None, ONE_REP, alone)] if alone.window_s >= ATTEMPT_S else []
    return _named([*_worth_having(points), *ends])


def _worth_having(points: Sequence[Point]) -> list[Point]:
    """Return the points beaten by none, less those hardly unlike their neighbour; the first is kept as it is."""
    in_force = points[0]
    free = [
        p for i, p in enumerate(points) if not any(_dominates(q, p, j < i) for j, q in enumerate(points) if j != i)
    ]
    free.sort(key=lambda p: p.lift.expected_kg)
    kept = free[:1]
    for p in free[1:]:
        step_kg = p.lift.expected_kg - kept[-1].lift.expected_kg
        if p in (in_force, free[-1]) or step_kg >= LEAST_STEP_FRAC * p.lift.expected_kg:
            kept.append(p)
    if in_force in free:
        return kept
    return [replace(in_force, better=next(p for p in free if _dominates(p, in_force, False))), *kept]


def _dominates(a: Point, b: Point, earlier: bool) -> bool:
    """Return whether point `a` is as good as `b` in both and better in one, or the same and stands before it."""
    worse_first = _beats(b.score, a.score)
    worse_lift = b.lift.expected_kg > a.lift.expected_kg + 1e-9
    same = a.score.value == b.score.value and abs(a.lift.expected_kg - b.lift.expected_kg) < 1e-9
    return not worse_first and not worse_lift and (not same or earlier)


def _named(points: Sequence[Point]) -> tuple[Point, ...]:
    planned = [p for p in points if p.plan is not None and not p.better]
    best_lift = max(planned, key=lambda p: p.lift.expected_kg)
    first = planned[0].score
    most = max(p.score.value for p in planned)

    def share(point: Point) -> float:
        if point.score.kind is ScoreKind.TIME and first.kind is ScoreKind.TIME:
            own = first.value / point.score.value
        else:
            own = point.score.value / max(1.0, most)
        return own + point.lift.expected_kg / max(1.0, best_lift.lift.expected_kg)

    if all(p.places is not None for p in points):
        measured = min(points, key=lambda p: p.places or 0.0)
    else:
        measured = max(planned, key=share)
    names = {id(planned[0]): [Profile.ALL_OUT]}
    names.setdefault(id(measured), []).append(Profile.MEASURED)
    names.setdefault(id(best_lift), []).append(Profile.SAVE)
    for build_up in (p for p in points if p.plan is None):
        names.setdefault(id(build_up), []).append(Profile.BUILD_UP)
    return tuple(replace(p, profiles=tuple(names.get(id(p), ()))) for p in points)
