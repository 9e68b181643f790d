"""A plan with everything said about it: forecast, splits, blocks, warnings. What the pages and the shell show."""

from dataclasses import dataclass

from sorvek.core.advice.margin import cost_words, first_failed, margin_warning, rested, thin_margins
from sorvek.core.plan import UNBROKEN, Plan, SetRule, shorthand
from sorvek.core.quantities import clock
from sorvek.core.simulation import Band, Problem, ScoreKind, SetRecord, Timeline, forecast, run_plan
from sorvek.core.workout import NO_LIMIT_S, Course

# What a warning about breaks tries instead; between singles, where a rest comes after every rep, the shorter one.
MORE_REST_S, MORE_REST_SINGLES_S = 5.0, 1.0


@dataclass(frozen=True, slots=True)
class BlockRun:
    """One visit to a movement as planned and as it went; `sets` are the planned ones, `records` what was done."""

    segment: int
    slot: int
    label: str
    reps: int
    sets: tuple[int, ...]
    rest_s: float
    pace: float
    style: str
    start_s: float
    end_s: float
    min_reps_in_reserve: float
    failed_reps: int
    records: tuple[SetRecord, ...]


@dataclass(frozen=True, slots=True)
class Briefing:
    """One athlete's plan for one workout with its forecast."""

    problem: Problem
    plan: Plan
    timeline: Timeline
    band: Band
    blocks: tuple[BlockRun, ...]
    warnings: tuple[str, ...]

    @property
    def course(self) -> Course:
        """Return the course the plan is for."""
        return self.problem.course


def _blocks(problem: Problem, plan: Plan, timeline: Timeline) -> tuple[BlockRun, ...]:
    by_segment: dict[int, list[SetRecord]] = {}
    for record in timeline.sets:
        by_segment.setdefault(record.segment, []).append(record)
    blocks = []
    for index, records in by_segment.items():
        segment = problem.course.segments[index]
        scheme = plan.scheme(segment.slot, problem.ranks[index])
        slot = problem.course.slots[segment.slot]
        blocks.append(
            BlockRun(
                segment=index,
                slot=segment.slot,
                label=slot.label,
                reps=sum(record.reps for record in records),
                sets=scheme.rule.sets(segment.reps)[: len(records) if segment.endless else None],
                rest_s=scheme.rest_s,
                pace=scheme.pace,
                style=slot.movement.style(scheme.style).name,
                start_s=records[0].start_s,
                end_s=records[-1].end_s,
                min_reps_in_reserve=min(record.reps_in_reserve for record in records),
                failed_reps=sum(record.failed_reps for record in records),
                records=tuple(records),
            )
        )
    return tuple(blocks)


def _singles(plan: Plan, slot: int) -> bool:
    return all(phase.scheme.rule == SetRule(then=1) for phase in plan.slots[slot])


def _with_more_rest(problem: Problem, plan: Plan, slot: int, band: Band, tries: bool = False) -> str:
    """Return what a few seconds more rest would do about breaks, and what that costs in the middle of the days."""
    if all(phase.scheme.rule == UNBROKEN for phase in plan.slots[slot]):
        return "; smaller sets would break less."
    more_s = MORE_REST_SINGLES_S if _singles(plan, slot) and not tries else MORE_REST_S
    other = forecast(problem, rested(plan, slot, more_s))
    if other.timed != band.timed:
        return "."
    gain = other.p50 - band.p50
    cost = cost_words(gain if band.timed else -gain, band.timed)
    share = f"{(other.failed_try_frac if tries else other.forced_break_frac)[slot]:.0%}"
    return f"; {more_s:g} s more rest makes that {share} and {cost} in the middle of the days."


def _warnings(
    problem: Problem, plan: Plan, timeline: Timeline, blocks: tuple[BlockRun, ...], band: Band
) -> list[str]:
    course, score = problem.course, timeline.score
    warnings = []
    if score.stuck_s is not None and timeline.sets:
        stuck = course.slots[course.segments[stuck_at(course, timeline)].slot].said
        warnings.append(
            f"No rep of {stuck} is in reach with the numbers on file: the score is what comes before it,"
            f" reached at {clock(score.stuck_s)}. Use the time left for quality tries, or measure again."
        )
    failed = {slot: first_failed(problem, timeline, slot) for slot in range(len(course.slots))}
    thin = {margin.slot: margin for margin in thin_margins(problem, plan, timeline)}
    for slot, record in failed.items():
        if record is not None and slot not in thin:
            label = course.slots[slot].said
            warnings.append(f"{label}: a rep fails in the set at {clock(record.start_s)}: make the sets smaller.")
    for slot, chance in enumerate(band.forced_break_frac):
        if chance >= 0.25 and failed[slot] is None:
            label = course.slots[slot].said
            instead = _with_more_rest(problem, plan, slot, band)
            breaks = "a rep fails" if _singles(plan, slot) else "a set breaks before its end"
            warnings.append(f"{label}: on {chance:.0%} of days {breaks}{instead}")
    for slot, chance in enumerate(band.failed_try_frac):
        if chance >= 0.25 and failed[slot] is None:
            label = course.slots[slot].said
            instead = _with_more_rest(problem, plan, slot, band, tries=True)
            warnings.append(
                f"{label}: hardly more than one at a time: on {chance:.0%} of days a try fails{instead}"
            )
    warnings += [margin_warning(margin, failed[slot]) for slot, margin in thin.items()]
    deadline = course.segments[-1].deadline_s
    timed = score.kind is ScoreKind.TIME
    if timed and deadline < NO_LIMIT_S and deadline - timeline.end_s < 0.03 * deadline:
        warnings.append(f"Finishes {deadline - timeline.end_s:.0f} s before the cap: the cap decides on a bad day.")
    return warnings


def stuck_at(course: Course, timeline: Timeline) -> int:
    """Return the segment whose next rep the athlete of a stuck timeline cannot do."""
    last = timeline.sets[-1]
    done = sum(record.reps for record in timeline.sets if record.segment == last.segment)
    return (
        last.segment
        if done < course.segments[last.segment].reps
        else min(last.segment + 1, len(course.segments) - 1)
    )


def brief(problem: Problem, plan: Plan) -> Briefing:
    """Return the briefing of a plan for the athlete of a problem.

    Raises: SetsError if the plan does not fit the course.
    """
    timeline = run_plan(problem, plan)
    band = forecast(problem, plan)
    blocks = _blocks(problem, plan, timeline)
    return Briefing(problem, plan, timeline, band, blocks, tuple(_warnings(problem, plan, timeline, blocks, band)))


def _rounded(ends: tuple[float, float, float] | None) -> dict[str, float] | None:
    return None if ends is None else dict(zip(("p10", "p50", "p90"), (round(end, 1) for end in ends), strict=True))


def briefing_data(briefing: Briefing) -> dict[str, object]:
    """Return a briefing as the JSON contract of docs/formats.md."""
    problem, timeline, band = briefing.problem, briefing.timeline, briefing.band
    score = timeline.score
    return {
        "workout": problem.course.workout.title,
        "athlete": problem.athlete.name,
        "score": {
            "kind": score.kind.value,
            "value": round(score.value, 1),
            "p10": round(band.p10, 1),
            "p50": round(band.p50, 1),
            "p90": round(band.p90, 1),
            "band_kind": (ScoreKind.TIME if band.timed else ScoreKind.REPS).value,
            "finished": score.finished,
            "finish_probability": round(band.finish_probability, 3),
            "finish_s": _rounded(band.finish_s),
            "short_reps": _rounded(band.short_reps),
            "heaps": [{"reps": round(reps), "share": round(share, 3)} for reps, share in band.heaps],
            "tiebreak_s": None if score.tiebreak_s is None else round(score.tiebreak_s, 1),
        },
        "splits": [
            {"label": s.label, "start_s": round(s.start_s, 1), "end_s": round(s.end_s, 1), "reps": s.reps}
            for s in timeline.splits
        ],
        "blocks": [
            {
                "movement": b.label,
                "reps": b.reps,
                "load_kg": round(problem.course.slots[b.slot].load_kg, 2),
                "sets": list(b.sets),
                "rest_s": b.rest_s if len(b.sets) > 1 else 0.0,
                "pace": b.pace,
                "style": b.style,
                "start_s": round(b.start_s, 1),
                "end_s": round(b.end_s, 1),
                "min_reps_in_reserve": round(b.min_reps_in_reserve, 2),
                "failed_reps": b.failed_reps,
                "forced_break_frac": round(band.block_break_frac[b.segment], 3),
                "failed_try_frac": round(band.block_try_frac[b.segment], 3),
            }
            for b in briefing.blocks
        ],
        "schemes": {
            f"{index + 1} {slot.label}": shorthand(phases)
            for index, (slot, phases) in enumerate(zip(problem.course.slots, briefing.plan.slots, strict=True))
        },
        "gates": {name: round(chance, 3) for name, chance in band.gates.items()},
        "warnings": list(briefing.warnings),
    }
