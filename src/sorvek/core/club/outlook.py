"""What the club wants to know of one athlete on one workout: a plan, its forecast and the tier it means."""

from dataclasses import astuple, dataclass

from sorvek.core.advice import Briefing, brief, find_crux
from sorvek.core.club.tiering import Outcomes, capacity_band
from sorvek.core.plan import Plan, parse_shorthand, shorthand
from sorvek.core.planner import plan_workout
from sorvek.core.simulation import Problem, ScoreKind

# Counts up whenever the model or the planner says something else of the same athlete on the same workout.
MODEL = 5


@dataclass(frozen=True, slots=True)
class Outlook:
    """An athlete's plan and forecast in plain values, so that it can be stored and sent between processes.

    `kind` is that of the middle of the days, and `p10`, `p50`, `p90` are seconds or reps as it says; `planned` is
    the planned day's score in words. `good`, `middle` and `bad` are days as (finished, value, rounds), `heaps` rep
    counts on which many days end with their share, `gates` the chances to pass each; `finish` is 0–1. `crux` names
    the movement that decides the score, `crux_reps` the longest fresh set there.
    """

    schemes: tuple[str, ...]
    kind: str
    planned: str
    p10: float
    p50: float
    p90: float
    good: tuple[bool, float, str]
    middle: tuple[bool, float, str]
    bad: tuple[bool, float, str]
    heaps: tuple[tuple[float, float], ...]
    gates: tuple[tuple[str, float], ...]
    finish: float
    outcome: str
    crux: str
    crux_reps: float
    crux_band: str


def outlook_of(briefing: Briefing) -> Outlook:
    """Return the outlook of a plan that has been worked out."""
    crux = find_crux(briefing.problem, briefing.plan)
    score, band = briefing.timeline.score, briefing.band
    return Outlook(
        schemes=tuple(shorthand(phases) for phases in briefing.plan.slots),
        kind=(ScoreKind.TIME if band.timed else ScoreKind.REPS).value,
        planned=score.text,
        p10=band.p10,
        p50=band.p50,
        p90=band.p90,
        good=astuple(band.good),
        middle=astuple(band.middle),
        bad=astuple(band.bad),
        heaps=band.heaps,
        gates=tuple(band.gates.items()),
        finish=band.finish_probability,
        outcome=Outcomes.of(briefing.course).reached(briefing),
        crux=crux.label,
        crux_reps=crux.unbroken,
        crux_band=capacity_band(crux.unbroken),
    )


def plan_of(schemes: tuple[str, ...]) -> Plan:
    """Return the plan behind the shorthand of an outlook.

    Raises: NotationError if a line is not shorthand.
    """
    return Plan(tuple(parse_shorthand(scheme) for scheme in schemes))


def plan_outlook(problem: Problem) -> Outlook:
    """Return the recommended plan's outlook: one search, one forecast."""
    return outlook_of(brief(problem, plan_workout(problem).plan))
