"""The uncertain athlete: perturbed samples of one athlete and the band of scores they reach."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sorvek.core.plan import Plan
from sorvek.core.simulation import columns as k
from sorvek.core.simulation.days import SAMPLES, SEED, draw_samples
from sorvek.core.simulation.many import simulate_many
from sorvek.core.simulation.problem import Choices, Floats, Problem
from sorvek.core.simulation.timeline import whole_rounds
from sorvek.core.workout import Form

# Who has fewer fresh reps of a movement than this makes tries of one: a try that fails is no broken set; judgement.
TRIES_BELOW_REPS = 3.0
# Where so many days end on one and the same rep the days are a heap, not a band; judgement.
HEAP_FRAC = 0.2
HARDLY_ANY_FRAC = 0.01


@dataclass(frozen=True, slots=True)
class DayScore:
    """What one day brings: seconds if the work gets done, else reps; `rounds` is `7 + 12` if the form counts so."""

    finished: bool
    value: float
    rounds: str = ""


@dataclass(frozen=True, slots=True)
class Band:
    """The 80 % band of a score: p10, p50 and p90 in seconds if `timed`, else in reps; worst first is not implied.

    For a timed workout a day that does not finish counts as the cap in `p10` to `p90`; `good`, `middle` and `bad`
    say what such days bring: the day that is better than nine in ten, than half, than one in ten.
    `finish_probability` is 0–1; `finish_s` are p10, p50 and p90 of the days that finish, `short_reps` those of the
    days that do not, None where hardly any is such (1 % of days). `heaps` holds rep counts on which many days end,
    with the share of days. `seconds` and `reps` are p10, p50 and p90 of all days in either measure, a day that does
    not finish counting as the cap. `forced_break_frac[slot]` is the share of days with a forced break there,
    `failed_try_frac[slot]` that of days on which a try fails: a set of one by who has hardly more of the movement.
    `block_break_frac`, `block_try_frac` and `set_break_frac` (tries too) the same for every segment or set, as
    far as any day came. Breaks are counted on days on which the numbers on file are right: the band tells the rest.
    `gates` holds the chance (0–1) to pass each window or stage that any day passes, to reach each later part and
    to finish under a cap.
    """

    p10: float
    p50: float
    p90: float
    timed: bool
    good: DayScore
    middle: DayScore
    bad: DayScore
    heaps: tuple[tuple[float, float], ...]
    finish_probability: float
    finish_s: tuple[float, float, float] | None
    short_reps: tuple[float, float, float] | None
    seconds: tuple[float, float, float]
    reps: tuple[float, float, float]
    forced_break_frac: tuple[float, ...]
    failed_try_frac: tuple[float, ...]
    block_break_frac: tuple[float, ...]
    block_try_frac: tuple[float, ...]
    set_break_frac: tuple[float, ...]
    gates: dict[str, float]

    def ends(self, timed: bool) -> tuple[float, float, float]:
        """Return p10, p50 and p90 in seconds, or in reps: to compare it with a band of that measure."""
        return self.seconds if timed else self.reps


def _percentiles(values: Floats) -> tuple[float, float, float]:
    p10, p50, p90 = np.percentile(values, [10, 50, 90]).tolist()
    return p10, p50, p90


def _tries(problem: Problem, chosen: Choices) -> NDArray[np.bool_]:
    """Return which sets of a plan are tries: of one, by who has hardly more of the movement."""
    fresh = np.repeat(problem.unbroken[chosen.ints[:, k.VARIANT]], chosen.ints[:, k.N_SIZES])
    tries: NDArray[np.bool_] = (chosen.sizes == 1) & (fresh < TRIES_BELOW_REPS)
    return tries


def run_samples(problem: Problem, chosen: Choices, us: Floats, whos: Floats) -> Floats:
    """Return one plan's results (samples, N_OUT)."""
    return _run(problem, chosen, us, whos, 0)[0]


def _broken_sets(problem: Problem, chosen: Choices, us: Floats, whos: Floats) -> Floats:
    """Return for one plan (samples, sets) what is above 0 where a set broke."""
    return _run(problem, chosen, us, whos, len(chosen.sizes))[1]


def _run(problem: Problem, chosen: Choices, us: Floats, whos: Floats, sets: int) -> tuple[Floats, Floats]:
    """Return results and what broke of so many sets; of none is faster."""
    outs, forced = np.zeros((len(us), k.N_OUT)), np.zeros((len(us), sets))
    simulate_many(
        problem.seg_i,
        problem.seg_f,
        problem.variants,
        us,
        whos,
        chosen.ints,
        chosen.floats,
        chosen.sizes,
        outs,
        forced,
        np.zeros((sets + 1 if sets else 0, k.N_LOG)),
    )
    return outs, forced


def forecast(problem: Problem, plan: Plan, count: int = SAMPLES, seed: int = SEED) -> Band:
    """Return the band of scores of `count` perturbed athletes who follow the plan.

    Raises: SetsError if the plan does not fit the course.
    """
    chosen = problem.choices(plan)
    us, whos = draw_samples(problem, count, seed)
    timed = problem.course.workout.form is Form.FOR_TIME
    outs = run_samples(problem, chosen, us, whos)
    forced = _broken_sets(problem, chosen, *draw_samples(problem, count // 2, seed, doubts=0.0))
    finished = (outs[:, k.FINISHED] > 0) & timed
    by_time = bool(finished.mean() >= 0.5)
    seconds, reps = _percentiles(outs[:, k.TIME]), _percentiles(outs[:, k.DONE])
    p10, p50, p90 = seconds if by_time else reps
    broke, tries = forced > 0, _tries(problem, chosen)
    first_set = np.cumsum(chosen.ints[:, k.N_SIZES]) - chosen.ints[:, k.N_SIZES]
    block_broke = np.logical_or.reduceat(broke & ~tries, first_set, axis=1)
    block_failed = np.logical_or.reduceat(broke & tries, first_set, axis=1)
    slot_of = problem.seg_i[:, k.SLOT]
    passed = {name: float((outs[:, k.DONE] >= reps).mean()) for name, reps in problem.course.gates().items()}
    good, middle, bad = _ranked(problem, outs, finished)
    by_slot, tries_by_slot = (
        tuple(float(days[:, slot_of == slot].any(axis=1).mean()) for slot in range(len(problem.course.slots)))
        for days in (block_broke, block_failed)
    )
    parts = problem.course.part_starts()
    passed |= {f"part {part}": float((outs[:, k.DONE] >= reps).mean()) for part, reps in parts.items()}
    if timed and problem.course.segments[-1].deadline_s < k.LONG_S:
        passed["finish"] = float(finished.mean())
    return Band(
        p10,
        p50,
        p90,
        by_time,
        good,
        middle,
        bad,
        _heaps(outs[~finished, k.DONE], len(outs)),
        float((outs[:, k.FINISHED] > 0).mean()),
        _middles(outs[finished, k.TIME], len(outs)),
        _middles(outs[~finished, k.DONE], len(outs)),
        seconds,
        reps,
        by_slot,
        tries_by_slot,
        tuple(block_broke.mean(axis=0).tolist()),
        tuple(block_failed.mean(axis=0).tolist()),
        tuple(broke.mean(axis=0).tolist()),
        {name: share for name, share in passed.items() if share > 0},
    )


def _ranked(problem: Problem, outs: Floats, finished: NDArray[np.bool_]) -> list[DayScore]:
    """Return the days that one in ten, half and nine in ten are better than."""
    order = np.lexsort((np.where(finished, outs[:, k.TIME], -outs[:, k.DONE]), ~finished))
    places = [order[int(share * (len(order) - 1))] for share in (0.1, 0.5, 0.9)]
    return [
        DayScore(True, float(outs[i, k.TIME]))
        if finished[i]
        else DayScore(False, float(outs[i, k.DONE]), whole_rounds(problem.course, int(outs[i, k.DONE])))
        for i in places
    ]


def _middles(scores: Floats, days: int) -> tuple[float, float, float] | None:
    if len(scores) <= HARDLY_ANY_FRAC * days:
        return None
    p10, p50, p90 = np.percentile(scores, [10, 50, 90]).tolist()
    return p10, p50, p90


def _heaps(reps: Floats, days: int) -> tuple[tuple[float, float], ...]:
    values, counts = np.unique(reps, return_counts=True)
    shares = counts / days
    return tuple((float(v), float(s)) for v, s in zip(values, shares, strict=True) if s >= HEAP_FRAC)
