"""Two scores in one session: what the conditioning piece costs the lift, and the reverse.

The curve runs from everything spent on the first part to little of it: the same plan at an easier pace with
longer rests, each point with the lift that is left in it.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from sorvek.core.lift.attempts import AttemptPlan, plan_attempts
from sorvek.core.lift.levels import ready_shares
from sorvek.core.lift.task import LiftTask
from sorvek.core.plan import Phase, Plan, Scheme
from sorvek.core.simulation import Problem, Score, ScoreKind, Timeline, run_plan
from sorvek.core.workout import Style

# Pace factors of the points, and how much faster the rests grow than the pace; judgement.
EASES = (1.0, 1.06, 1.12, 1.2, 1.3, 1.45, 1.65, 1.9)
REST_GROWTH = 3.0
MOST_PACE, MOST_REST_S = 3.0, 60.0


class Profile(StrEnum):
    """How athletes go about two scores."""

    ALL_OUT = "all out first"
    MEASURED = "measured"
    SAVE = "save for the lift"


@dataclass(frozen=True, slots=True)
class Point:
    """One way through both parts: the plan of the first, its score, and the attempts of the second.

    `places` is the sum of both expected places, None without a field; `profiles` are those it stands for.
    """

    ease: float
    plan: Plan
    score: Score
    lift: AttemptPlan
    places: float | None
    profiles: tuple[Profile, ...]


def eased(plan: Plan, ease: float) -> Plan:
    """Return a plan at `ease` times its pace, its rests longer by three times as much."""

    def scheme(old: Scheme) -> Scheme:
        rest_s = min(MOST_REST_S, old.rest_s * (1 + REST_GROWTH * (ease - 1)))
        return replace(
            old, pace=round(min(MOST_PACE, old.pace * ease), 2), rest_s=float(round(max(old.rest_s, rest_s)))
        )

    return Plan(tuple(tuple(Phase(p.until, scheme(p.scheme)) for p in phases) for phases in plan.slots))


def task_after(task: LiftTask, timeline: Timeline, style: Style) -> LiftTask:
    """Return the lift task as a conditioning piece leaves it."""
    return replace(task, ready=ready_shares(timeline.tank, style, task.window_s))


def _beats(a: Score, b: Score) -> bool:
    """Return whether score `a` is better than `b`."""
    if a.finished != b.finished and ScoreKind.TIME in (a.kind, b.kind):
        return a.finished
    return a.value < b.value if a.kind is ScoreKind.TIME else a.value > b.value


def trade_off(
    problem: Problem,
    plan: Plan,
    task: LiftTask,
    style: Style,
    place_of: Callable[[Score], float] | None = None,
) -> tuple[Point, ...]:
    """Return the points worth having, from the best first score to the best lift; none is beaten in both.

    `place_of` says which place a first score takes; with it and a field of lifts the sums of places are known
    and “measured” is the lowest sum, otherwise the best sum of shares of the best score and of the best lift.
    Raises: as `plan_attempts`; SetsError if the plan does not fit.
    """
    points: list[Point] = []
    for ease in EASES:
        easier = eased(plan, ease)
        timeline = run_plan(problem, easier)
        lift = plan_attempts(task_after(task, timeline, style))
        places = None
        if place_of is not None and lift.places is not None:
            places = place_of(timeline.score) + lift.places
        points.append(Point(ease, easier, timeline.score, lift, places, ()))
    kept = [p for p in points if not any(_dominates(q, p) for q in points if q is not p)]
    return _named(kept)


def _dominates(a: Point, b: Point) -> bool:
    worse_first = _beats(b.score, a.score)
    worse_lift = b.lift.expected_kg > a.lift.expected_kg + 1e-9
    same = a.score.value == b.score.value and abs(a.lift.expected_kg - b.lift.expected_kg) < 1e-9
    return not worse_first and not worse_lift and (not same or a.ease < b.ease)


def _named(points: Sequence[Point]) -> tuple[Point, ...]:
    best_lift = max(points, key=lambda p: p.lift.expected_kg)
    first = points[0].score
    most = max(p.score.value for p in points)

    def share(point: Point) -> float:
        if point.score.kind is ScoreKind.TIME and first.kind is ScoreKind.TIME:
            own = first.value / point.score.value
        else:
            own = point.score.value / max(1.0, most)
        return own + point.lift.expected_kg / max(1.0, best_lift.lift.expected_kg)

    if all(p.places is not None for p in points):
        measured = min(points, key=lambda p: p.places or 0.0)
    else:
        measured = max(points, key=share)
    names = {id(points[0]): [Profile.ALL_OUT]}
    names.setdefault(id(measured), []).append(Profile.MEASURED)
    names.setdefault(id(best_lift), []).append(Profile.SAVE)
    return tuple(replace(p, profiles=tuple(names.get(id(p), ()))) for p in points)
