"""Is the live forecast honest, does planning the rest help, and how long do both take: simulated heats."""

import statistics
import time
from collections import defaultdict
from concurrent.futures import ThreadPoolExecutor, wait
from dataclasses import dataclass, field

import numpy as np

from sorvek.core.athlete.athlete import Athlete
from sorvek.core.live import LaneState, days_at_start, fold, live_forecast, observe, offer, rehearse
from sorvek.core.plan import Plan
from sorvek.core.planner.planner import plan_workout
from sorvek.core.prep.if_then import gone
from sorvek.core.simulation import Problem, columns, problem_for
from sorvek.core.workout.notation import parse_workout

TIERS = ("building", "competing")
WEAKER = 0.9
# Results closer than this share of the work are one result.
SAME_FRAC = 0.002


@dataclass
class LiveFound:
    """What was found over simulated heats.

    `inside` holds for every quarter of the work whether the result fell into the band, `width` the band's width as
    a share of that at the start; `gains` how much better replanned heats end than by the fixed plan, as shares.
    """

    inside: dict[str, list[bool]] = field(default_factory=lambda: defaultdict(list))
    width: dict[str, list[float]] = field(default_factory=lambda: defaultdict(list))
    forecast_ms: list[float] = field(default_factory=list)
    replan_ms: list[float] = field(default_factory=list)
    gains: list[float] = field(default_factory=list)


def live_heats(texts: list[str], heats: int) -> LiveFound:
    """Return what `heats` simulated heats a workout and tier show, for the forecast and for planning the rest."""
    found = LiveFound()
    for text in texts:
        for tier in TIERS:
            problem = problem_for(parse_workout(text), Athlete("Bench", tier))
            plan = plan_workout(problem).plan
            for seed in range(heats):
                _follow(found, problem, plan, seed)
                found.gains.append(_gain(problem, plan, seed))
    return found


def _follow(found: LiveFound, problem: Problem, plan: Plan, seed: int) -> None:
    """Compare the forecasts of a heat with its result, at the start and after every quarter of its sets."""
    final = fold(problem.course, plan, rehearse(problem, plan, seed))
    days, at_first = days_at_start(problem), 0.0
    quarters = {round(share * len(final.done)): f"{share:.0%}" for share in (0.0, 0.25, 0.5, 0.75)}
    for i, one in enumerate(final.done):
        if days.midway.segment >= len(problem.course.segments):
            break
        if i in quarters:
            begun = time.perf_counter()
            told = live_forecast(problem, plan, days)
            found.forecast_ms.append(1000 * (time.perf_counter() - begun))
            reps = final.reps(problem.course)
            late = np.inf if not final.finished(problem.course) else final.last_s
            value, slack = (late, 0.5) if told.timed else (reps, 0.5)
            found.inside[quarters[i]].append(bool(told.p10 - slack <= value <= told.p90 + slack))
            at_first = at_first or max(1.0, told.p90 - told.p10)
            found.width[quarters[i]].append((told.p90 - told.p10) / at_first)
            begun = time.perf_counter()
            offer(problem, plan, days)
            found.replan_ms.append(1000 * (time.perf_counter() - begun))
        days = observe(problem, plan, days, [one])


def _gain(problem: Problem, plan: Plan, seed: int) -> float:
    """Return how much better a replanned heat ends for an athlete who is weaker than believed, as a share."""
    weaker = gone(problem, WEAKER)
    fixed, coached = (
        _worth_s(problem, fold(problem.course, plan, rehearse(problem, plan, seed, weaker, coached)))
        for coached in (False, True)
    )
    return (coached - fixed) / fixed


def _worth_s(problem: Problem, state: LaneState) -> float:
    """Return a result in typical seconds of work, to be kept high; time left before the cap counts as well."""
    reps, seconds = problem.typical_course
    done_s = float(np.interp(state.reps(problem.course), reps, seconds))
    end_s = float(problem.seg_f[-1, columns.DEADLINE])
    saved_s = end_s if end_s < columns.LONG_S else float(seconds[-1])
    return max(1.0, done_s + (saved_s - state.last_s if state.finished(problem.course) else 0.0))


def together_ms(texts: list[str], times: int = 5) -> list[float]:
    """Return the ms until the last of twelve lanes that end a round together has its better plan."""
    lanes = []
    for text in texts:
        for tier in ("starting", *TIERS):
            problem = problem_for(parse_workout(text), Athlete("Bench", tier))
            plan, days = plan_workout(problem).plan, days_at_start(problem)
            done = fold(problem.course, plan, rehearse(problem, plan, 1)).done
            for one in done[: len(done) // 3]:
                days = observe(problem, plan, days, [one])
            lanes.append((problem, plan, days))
    found = []
    for _ in range(times):
        with ThreadPoolExecutor(1) as one_at_a_time:
            begun = time.perf_counter()
            waiting = [one_at_a_time.submit(offer, *lane) for lane in lanes[:12]]
            wait(waiting)
            found.append(1000 * (time.perf_counter() - begun))
    return found


def live_shares(found: LiveFound) -> dict[str, float]:
    """Return the figures of simulated heats in per cent."""
    inside = [held for values in found.inside.values() for held in values]
    shares = {"live band holds": 100 * statistics.mean(inside)}
    for quarter, widths in found.width.items():
        shares[f"live band after {quarter} of the sets, of its first width"] = 100 * statistics.median(widths)
    shares["replanned heats beat the fixed plan by"] = 100 * statistics.mean(found.gains)
    shares["replanned heats that end behind"] = 100 * statistics.mean(gain < -SAME_FRAC for gain in found.gains)
    return shares
