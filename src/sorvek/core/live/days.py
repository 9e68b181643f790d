"""Live forecast: the uncertain days of an athlete, weighted by what was seen of the heat so far.

A particle filter (Gordon, Salmond & Smith 1993): every likely day is carried on set by set with the reps that were
really done; days that would have ended the set at another time lose weight. Where few days still count they are
drawn anew, and moved a little towards their mean so that they stay different without spreading (Liu & West 2001).
Both from memory.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from sorvek.core.live.taps import LaneState, SetDone
from sorvek.core.plan import Plan
from sorvek.core.quantities import clock, days_of_ten
from sorvek.core.simulation import Floats, Midway, Problem, after_set, at_start, columns, draw_samples, run_from
from sorvek.core.workout import Form

DAYS, SEED = 600, 9
# How a set's time scatters about what a day would give, as a share of it and in s (a tap comes late by half a
# second); the tails are those of Student's t, so that one wrong tap does not decide. Judgement.
SCATTER_FRAC, TAP_S, TAILS = 0.07, 0.8, 3.0
# A set that broke on purpose tells nothing; one that had to break says that little was in reserve. Judgement.
BREAK_RESERVE, NOT_FORCED = 2.0, 0.3
FEW = 0.4  # of the days still counting, below which they are drawn anew
SHRINK = 0.95
# What is left as a whole may go faster or slower by so much than a day's numbers say. Judgement.
DRIFT_FRAC = 0.05


@dataclass(frozen=True, slots=True)
class LiveDays:
    """Likely days of an athlete in a running heat: where they stand, and how much each counts (adds up to 1).

    `broke` says that the last set did.
    """

    midway: Midway
    weights: Floats
    seen: int = 0
    broke: bool = False

    @property
    def counting(self) -> float:
        """Return how many days still count: the effective sample size."""
        return float(1.0 / (self.weights**2).sum())


def days_at_start(problem: Problem, count: int = DAYS, seed: int = SEED) -> LiveDays:
    """Return the likely days of an athlete at the start line, all counting alike."""
    us, whos = draw_samples(problem, count, seed)
    return LiveDays(at_start(us, whos), np.full(count, 1.0 / count))


def observe(problem: Problem, plan: Plan, days: LiveDays, sets: Sequence[SetDone]) -> LiveDays:
    """Return the days after sets of which the last one has a time, weighted by that time.

    Sets between that were not timed count as done by the plan.
    Raises: SetsError if the plan does not fit the course.
    """
    before_s, midway = days.midway.begins[:, columns.SNAP_T], days.midway
    in_reserve, broke = np.zeros(len(before_s)), days.broke
    for one in sets:
        if one.reps > 0:
            after = after_set(problem, plan, midway, one.reps, broke)
            midway, in_reserve = after.midway, after.in_reserve
        broke = one.broken
    last = sets[-1]
    assert last.at_s is not None
    takes_s = midway.begins[:, columns.SNAP_T] - before_s
    scatter_s = np.hypot(SCATTER_FRAC * takes_s, TAP_S)
    off = (last.at_s - before_s - takes_s) / scatter_s
    weights = days.weights * (1.0 + off**2 / TAILS) ** (-0.5 * (TAILS + 1.0)) / scatter_s
    if last.broken:
        weights = weights * (NOT_FORCED + 1.0 / (1.0 + np.exp(np.clip(in_reserve - BREAK_RESERVE, -30, 30))))
    midway.begins[:, columns.SNAP_T] = last.at_s
    seen = LiveDays(midway, weights / weights.sum(), days.seen + 1, broke)
    return _drawn_anew(seen) if seen.counting < FEW * len(weights) else seen


def _drawn_anew(days: LiveDays) -> LiveDays:
    """Return days drawn by their weights, systematically, each moved towards the mean and scattered about it."""
    rng = np.random.Generator(np.random.PCG64([SEED, days.seen]))
    count = len(days.weights)
    positions = (rng.random() + np.arange(count)) / count
    chosen = np.minimum(np.searchsorted(np.cumsum(days.weights), positions), count - 1)
    drawn = days.midway.chosen(chosen)
    us, whos, begins = drawn.us, drawn.whos, drawn.begins.copy()
    of_body = [columns.CP, columns.W_PRIME, columns.SPEED, columns.CHANGES]
    logs = np.log(np.maximum(np.hstack([us, whos[:, of_body]]), 1e-9))
    known = np.log(np.maximum(np.hstack([days.midway.us, days.midway.whos[:, of_body]]), 1e-9))
    mean = days.weights @ known
    sd = np.sqrt(np.maximum(days.weights @ (known - mean) ** 2, 0.0))
    noise = np.sqrt(1.0 - SHRINK**2) * sd * rng.standard_normal(logs.shape)
    moved = np.exp(SHRINK * logs + (1.0 - SHRINK) * mean + noise)
    cut = us.shape[1]
    us = np.where(us > 0, moved[:, :cut], us)
    changed = whos.copy()
    changed[:, of_body] = moved[:, cut:]
    begins[:, columns.SNAP_W] *= changed[:, columns.W_PRIME] / whos[:, columns.W_PRIME]
    begins[:, columns.SNAP_CP] *= changed[:, columns.CP] / whos[:, columns.CP]
    midway = replace(drawn, us=us, whos=changed, begins=begins)
    return LiveDays(midway, np.full(count, 1.0 / count), days.seen, days.broke)


def follow(problem: Problem, plan: Plan, state: LaneState, count: int = DAYS) -> LiveDays:
    """Return the days after everything that was tapped in a lane, `plan` being the one it began with.

    Raises: SetsError if a plan does not fit the course.
    """
    days, waiting = days_at_start(problem, count), list[SetDone]()
    for one in state.done:
        waiting.append(one)
        if one.at_s is not None:
            days = observe(problem, plan, days, waiting)
            waiting = []
    return days


# Below this chance a gate or the finish is said to be in danger; judgement.
IN_DANGER = 0.6


@dataclass(frozen=True, slots=True)
class LiveForecast:
    """How a heat may end, from what was seen: p10, p50 and p90 of the score, in s if `timed`, else in reps.

    `finish_frac` is the chance (0–1) to finish, `gates` those to pass what is still to be passed.
    """

    p10: float
    p50: float
    p90: float
    timed: bool
    finish_frac: float
    gates: dict[str, float]

    def warnings(self, first: "LiveForecast") -> tuple[str, ...]:
        """Return in words what is in danger, and what is lost of the forecast at the start."""
        found = [f"{name}: {days_of_ten(chance)}" for name, chance in self.gates.items() if chance < IN_DANGER]
        if first.timed and self.finish_frac < IN_DANGER and not found:
            found = [f"finish: {days_of_ten(self.finish_frac)}"]
        lost = self.p10 > first.p50 if self.timed else self.p90 < first.p50
        if lost and self.timed == first.timed:
            goal = clock(first.p50) if self.timed else f"{first.p50:.0f} reps"
            found.append(f"{goal} is out of reach")
        return tuple(found)


def live_forecast(problem: Problem, plan: Plan, days: LiveDays) -> LiveForecast:
    """Return how a heat may end if the rest goes by a plan.

    Raises: SetsError if the plan does not fit the course.
    """
    outs = run_from(problem, plan, _carried_out(problem, plan, days))
    finished = (outs[:, columns.FINISHED] > 0) & (problem.course.workout.form is Form.FOR_TIME)
    finish_frac = float(days.weights @ finished)
    timed = finish_frac >= 0.5
    p10, p50, p90 = weighted_quantiles(outs[:, columns.TIME if timed else columns.DONE], days.weights)
    done = days.midway.begins[0, columns.SNAP_DONE]
    gates = {
        name: float(days.weights @ (outs[:, columns.DONE] >= reps))
        for name, reps in problem.course.gates().items()
        if reps > done
    }
    return LiveForecast(p10, p50, p90, timed, finish_frac, gates)


def _carried_out(problem: Problem, plan: Plan, days: LiveDays) -> Midway:
    """Return the days with what is left done faster or slower than their numbers say, as sets scatter."""
    midway = days.midway
    left = problem.choices(plan, midway.segment, midway.begun)
    sets = int(left.ints[midway.segment :, columns.N_SIZES].sum())
    rng = np.random.Generator(np.random.PCG64([SEED, days.seen, 1]))
    whos = midway.whos.copy()
    spread = np.hypot(SCATTER_FRAC / np.sqrt(max(1, sets)), DRIFT_FRAC)
    whos[:, columns.SPEED] *= np.exp(spread * rng.standard_normal(len(whos)))
    return replace(midway, whos=whos)


def weighted_quantiles(values: Floats, weights: Floats) -> tuple[float, float, float]:
    """Return the 10th, 50th and 90th percentile of weighted values, between the values by their shares."""
    order = np.argsort(values, kind="stable")
    shares = np.cumsum(weights[order]) - 0.5 * weights[order]
    p10, p50, p90 = np.interp([0.1, 0.5, 0.9], shares, values[order]).tolist()
    return p10, p50, p90


def likeliest(days: LiveDays, count: int) -> Midway:
    """Return so many days that stand for all of them, each as often as it counts."""
    positions = (0.5 + np.arange(count)) / count
    chosen = np.searchsorted(np.cumsum(days.weights), positions)
    return days.midway.chosen(np.minimum(chosen, len(days.weights) - 1))
