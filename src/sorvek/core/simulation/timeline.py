"""What happens when an athlete follows a plan: sets with their times, splits, the score."""

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from sorvek.core.constants import RESOURCES
from sorvek.core.plan import Plan
from sorvek.core.quantities import clock
from sorvek.core.simulation import columns as k
from sorvek.core.simulation.kernel import simulate
from sorvek.core.simulation.problem import Problem
from sorvek.core.simulation.steps import recover
from sorvek.core.workout import Course, Form


class ScoreKind(StrEnum):
    """What a score counts."""

    TIME = "time"
    REPS = "reps"
    LOAD = "load"


@dataclass(frozen=True, slots=True)
class Score:
    """A score in the workout's own order; `value` is seconds or reps, `tiebreak_s` None without one.

    `text` says it with its unit, for rounds of equal length also as rounds + reps.

    `stuck_s` is when a rep was reached that this athlete cannot do, None if there is none.
    """

    kind: ScoreKind
    value: float
    finished: bool
    tiebreak_s: float | None
    stuck_s: float | None
    text: str


@dataclass(frozen=True, slots=True)
class SetRecord:
    """One set as it went. `before` and `after` are the local reserves (0–1), `engine_*` W/W′."""

    segment: int
    reps: int
    start_s: float
    end_s: float
    reps_in_reserve: float
    failed_reps: int
    forced_rest_s: float
    engine_before: float
    engine_after: float
    before: tuple[float, ...]
    after: tuple[float, ...]


@dataclass(frozen=True, slots=True)
class Split:
    """A round, part or movement with its clock times; `reps` counts from the start of the workout."""

    label: str
    start_s: float
    end_s: float
    reps: int
    complete: bool


@dataclass(frozen=True, slots=True)
class Tank:
    """What is left at the end, `end_s`: local reserves (0–1), lasting fatigue, work above CP in J, and CP in W."""

    local: tuple[float, ...]
    fatigue: tuple[float, ...]
    work_j: float
    w_prime_j: float
    critical_power_w: float
    end_s: float = 0.0


@dataclass(frozen=True, slots=True)
class Timeline:
    """A plan carried out once."""

    sets: tuple[SetRecord, ...]
    splits: tuple[Split, ...]
    score: Score
    failed_reps: int
    forced_rest_s: float
    trips: float
    shortfall_reps: float
    end_s: float
    tank: Tank


def score_of(problem: Problem, out: np.ndarray[tuple[int], np.dtype[np.float64]]) -> Score:
    """Return the score a kernel result means for the workout's form."""
    finished = bool(out[k.FINISHED] > 0)
    by_time = problem.course.workout.form is Form.FOR_TIME and finished
    tiebreak = float(out[k.TIE_TIME]) or None
    value = float(out[k.TIME]) if by_time else float(out[k.DONE])
    return Score(
        kind=ScoreKind.TIME if by_time else ScoreKind.REPS,
        value=value,
        finished=finished,
        tiebreak_s=tiebreak,
        stuck_s=float(out[k.STUCK]) or None,
        text=clock(value) if by_time else _reps_text(problem.course, round(value)),
    )


def _merge_sides(values: list[float], worse: Callable[[float, float], float] = min) -> tuple[float, ...]:
    """Return the six resources of the kernel's lanes; of two arms the emptier one shows."""
    n = len(RESOURCES)
    if len(values) < k.LANES:
        return tuple(values[:n])
    return (*(worse(values[i], values[n + i]) for i in range(3)), *values[3:n])


def _sets(log: np.ndarray[tuple[int, int], np.dtype[np.float64]], lanes: int) -> tuple[SetRecord, ...]:
    records = []
    for row in log.tolist():
        records.append(
            SetRecord(
                segment=int(row[k.LOG_SEGMENT]),
                reps=int(row[k.LOG_REPS]),
                start_s=row[k.LOG_BEGIN],
                end_s=row[k.LOG_END],
                reps_in_reserve=row[k.LOG_RIR],
                failed_reps=int(row[k.LOG_FAILED]),
                forced_rest_s=row[k.LOG_FORCED_S],
                engine_before=row[k.LOG_W_BEGIN],
                engine_after=row[k.LOG_W_END],
                before=_merge_sides(row[k.LOG_BEFORE : k.LOG_BEFORE + lanes]),
                after=_merge_sides(row[k.LOG_AFTER : k.LOG_AFTER + lanes]),
            )
        )
    return tuple(records)


def _splits(problem: Problem, sets: tuple[SetRecord, ...]) -> tuple[Split, ...]:
    """Return one split a round; a workout of one round is split by movement, one movement in halves."""
    segments, labels = problem.course.segments, problem.course.round_labels
    reached = sorted({record.segment for record in sets})
    rounds = sorted({segments[i].round for i in reached})
    planned = {segment.round for segment in segments}
    if len(planned) == 1 and len(segments) == 1:
        return _halves(problem, sets)
    groups = (
        [[i] for i in reached]
        if len(planned) == 1
        else [[i for i in reached if segments[i].round == r] for r in rounds]
    )
    splits, total, begins = [], 0, 0.0
    for group in groups:
        inside = [record for record in sets if record.segment in group]
        total += sum(segments[i].counted_of(sum(r.reps for r in inside if r.segment == i)) for i in group)
        segment = segments[group[0]]
        whole = [s.reps for s in segments if s.round == segment.round] if len(planned) > 1 else [segment.reps]
        by_movement = problem.course.slots[segment.slot].movement.plural
        label = labels[segment.round] if len(planned) > 1 else by_movement
        complete = sum(record.reps for record in inside) == sum(whole)
        begins = max(begins, segment.opens_s)
        splits.append(Split(label, begins, inside[-1].end_s, total, complete))
        begins = inside[-1].end_s + (segments[group[-1] + 1].rest_before_s if group[-1] + 1 < len(segments) else 0)
    return tuple(splits)


def _halves(problem: Problem, sets: tuple[SetRecord, ...]) -> tuple[Split, ...]:
    half = problem.course.total_reps / 2
    splits, total, begins = [], 0, 0.0
    for record in sets:
        for _ in range(1):
            before, total = total, total + record.reps
        if before < half <= total and record is not sets[-1]:
            share = (half - before) / record.reps
            middle = record.start_s + share * (record.end_s - record.start_s)
            splits.append(Split("First half", begins, middle, int(half + 0.5), True))
            begins = middle
    label = "Second half" if splits else "Whole"
    splits.append(Split(label, begins, sets[-1].end_s, total, total == problem.course.total_reps))
    return tuple(splits)


def run_plan(problem: Problem, plan: Plan) -> Timeline:
    """Return the timeline of a plan for the athlete as entered, without any chance in it.

    Raises: SetsError if the plan does not fit the course.
    """
    chosen = problem.choices(plan)
    lanes = problem.variants.shape[1] - k.WEIGHTS
    out = np.zeros(k.N_OUT)
    log = np.zeros((len(chosen.sizes) + 1, k.N_LOG))
    state = np.zeros(k.STATE_SIZE)
    rows = simulate(
        problem.seg_i,
        problem.seg_f,
        problem.variants,
        problem.unbroken,
        problem.who,
        chosen.ints,
        chosen.floats,
        chosen.sizes,
        state,
        out,
        log,
        np.zeros((0, k.N_SNAP)),
        0,
        np.zeros(0),
    )
    sets = _sets(log[:rows], lanes)
    work_j, who = float(out[k.WORK_LEFT]), problem.who
    if out[k.STUCK] > 0 and out[k.TIME] > out[k.STUCK]:
        # Who meets a rep that cannot be done stands still until time is up.
        idle_s = out[k.TIME] - out[k.STUCK]
        work_j = float(recover(idle_s, state, lanes, work_j, who[k.W_PRIME], who[k.CP]))
    return Timeline(
        sets=sets,
        splits=_splits(problem, sets) if sets else (),
        score=score_of(problem, out),
        failed_reps=int(out[k.FAILED]),
        forced_rest_s=float(out[k.FORCED_S]),
        trips=float(out[k.N_TRIPS]),
        shortfall_reps=float(out[k.SHORTFALL]),
        end_s=float(out[k.TIME]),
        tank=Tank(
            local=_merge_sides(state[k.B : k.B + lanes].tolist()),
            fatigue=_merge_sides(state[k.F : k.F + lanes].tolist(), max),
            work_j=work_j,
            w_prime_j=float(who[k.W_PRIME]),
            critical_power_w=float(who[k.CP]),
            end_s=float(out[k.TIME]),
        ),
    )


def _reps_text(course: Course, reps: int) -> str:
    rounds = whole_rounds(course, reps)
    return f"{reps} reps ({rounds})" if rounds else f"{reps} reps"


def whole_rounds(course: Course, reps: int) -> str:
    """Return reps as `rounds + reps` for an AMRAP whose rounds are all alike, else an empty text."""
    if not course.open_ended or course.workout.form.value != "amrap":
        return ""
    by_round: dict[int, int] = {}
    if any(segment.endless for segment in course.segments):
        return ""
    for segment in course.segments:
        by_round[segment.round] = by_round.get(segment.round, 0) + segment.counted
    counted = [reps for reps in by_round.values() if reps]  # work that is done first may not count
    if len(set(counted)) != 1 or len(counted) < 2:
        return ""
    rounds, rest = divmod(reps, counted[0])
    return f"{rounds} + {rest}"
