"""Why one plan beats another, in plain words made from the two simulations."""

from dataclasses import dataclass
from itertools import pairwise

from sorvek.core.advice.briefing import Briefing, stuck_at
from sorvek.core.advice.exchange import exchange_rates
from sorvek.core.advice.margin import cost_words
from sorvek.core.constants import BREATH_FRAC, GRIND_REPS, LAST_PUSH_S, MARGIN_REPS, RESOURCES
from sorvek.core.quantities import clock
from sorvek.core.simulation import DayScore, SetRecord

# A plan "just holds" up to twice the margin the planner buys; judgement.
HOLDS_REPS = 2 * MARGIN_REPS
# A movement that breaks on so many more days is a reason; judgement.
WORTH_SAYING = 0.1
SAME = ("the same time", "the same reps")


@dataclass(frozen=True, slots=True)
class SlotTime:
    """Where the time of one movement goes, over the whole workout: all in seconds, `reps` done."""

    reps: int
    working_s: float
    resting_s: float
    forced_s: float

    @property
    def rep_s(self) -> float:
        """Return the seconds a rep takes with all its rests."""
        return (self.working_s + self.resting_s) / max(1, self.reps)


def time_by_slot(briefing: Briefing) -> tuple[SlotTime, ...]:
    """Return working, resting and forced time of every slot; work holds the forced rests inside its sets."""
    times = []
    for slot in range(len(briefing.course.slots)):
        blocks = [block for block in briefing.blocks if block.slot == slot]
        records = [record for block in blocks for record in block.records]
        working = sum(record.end_s - record.start_s for record in records)
        whole = sum(block.end_s - block.start_s for block in blocks)
        times.append(
            SlotTime(
                reps=sum(record.reps for record in records),
                working_s=working,
                resting_s=whole - working,
                forced_s=sum(record.forced_rest_s for record in records),
            )
        )
    return tuple(times)


def emptiest(briefing: Briefing, record: SetRecord) -> str:
    """Return the resource that is lowest after a set, among those the movement uses."""
    slot = briefing.course.slots[briefing.course.segments[record.segment].slot]
    used = [r for r, weight in enumerate(slot.movement.styles[0].weights) if weight >= 0.3]
    return RESOURCES[min(used or range(len(RESOURCES)), key=lambda r: record.after[r])]


def breakdown(briefing: Briefing) -> str:
    """Return what runs out first, when, and what it costs; an empty text if nothing does."""
    broken = [record for record in briefing.timeline.sets if record.failed_reps or record.forced_rest_s]
    if not broken:
        return ""
    first = broken[0]
    slot = briefing.course.slots[briefing.course.segments[first.segment].slot]
    cost_s = sum(record.forced_rest_s for record in broken)
    breaks = "one forced break" if len(broken) == 1 else f"{len(broken)} forced breaks"
    return (
        f"{emptiest(briefing, first)} runs out in the {slot.said} at {clock(first.start_s)};"
        f" {breaks} cost {cost_s:.0f} s"
    )


def _dearest(mine: Briefing, other: Briefing) -> str:
    """Return the movement on which `mine` spends more time a rep than `other`, and how."""
    gaps = [
        ((a.rep_s - b.rep_s) * min(a.reps, b.reps), slot, a, b)
        for slot, (a, b) in enumerate(zip(time_by_slot(mine), time_by_slot(other), strict=True))
    ]
    gap_s, slot, a, b = max(gaps, key=lambda entry: entry[0])
    if gap_s < 0.5:
        return "the time goes in changes of movement and waiting"
    label = mine.course.slots[slot].said
    rest_s = (a.resting_s / max(1, a.reps) - b.resting_s / max(1, b.reps)) * min(a.reps, b.reps)
    how = "in rests" if rest_s > 0.5 * gap_s else "in slower reps"
    return f"{gap_s:.0f} s more on the {label}, mostly {how}"


def verdict(mine: Briefing, best: Briefing) -> str:
    """Return one sentence on a plan beside the recommended one: by how much in the middle of the days, and why."""
    a, b = mine.band.middle, best.band.middle
    gap = gap_text(mine, best)
    if gap in SAME:
        return gap
    if _better(a, b):
        why = _why_not(mine, best)
    else:
        why = breakdown(mine) or _breaks_more(mine, best) or _on_other_days(mine, best) or _dearest(mine, best)
    return f"{gap}: {why}" if why else gap


def _better(a: DayScore, b: DayScore) -> bool:
    if a.finished is not b.finished:
        return a.finished
    return a.value < b.value if a.finished else a.value > b.value


def _on_other_days(mine: Briefing, best: Briefing) -> str:
    """Return what is left of a gap on the planned day where that is less than half of it, else an empty text."""
    a, b = mine.timeline.score, best.timeline.score
    days, other = mine.band.middle, best.band.middle
    if a.kind is not b.kind or days.finished is not other.finished or days.finished is not a.finished:
        return ""
    lost = a.value - b.value if a.finished else b.value - a.value
    if 2 * lost > abs(days.value - other.value):
        return ""
    if lost < 1:
        return "on days that go less well; as planned nothing is lost"
    unit = "s slower" if a.finished else "rep fewer" if round(lost) == 1 else "reps fewer"
    return f"on days that go less well; as planned {lost:.0f} {unit}"


def _breaks_more(mine: Briefing, best: Briefing) -> str:
    """Return the movement that breaks on more days than in another plan, and on how many; empty if none does."""
    both = list(zip(mine.band.forced_break_frac, best.band.forced_break_frac, strict=True))
    slot = max(range(len(both)), key=lambda i: both[i][0] - both[i][1])
    own, there = both[slot]
    if own - there < WORTH_SAYING:
        return ""
    return f"the {mine.course.slots[slot].said} breaks on {own:.0%} of days, {there:.0%} in the plan"


def _why_not(mine: Briefing, best: Briefing) -> str:
    """Return why a plan that scores better is not the one to choose, empty if nothing does."""
    if breaks := _breaks_more(mine, best):
        return f"but {breaks}"
    thin, least = (min((b.min_reps_in_reserve for b in briefing.blocks), default=0.0) for briefing in (mine, best))
    if thin < min(MARGIN_REPS, least):
        return f"but with only {max(0.0, thin):.1f} reps left in reserve, {least:.1f} in the plan"
    timed = best.band.timed
    bad, plan_bad = (b.band.ends(timed)[2 if timed else 0] for b in (mine, best))
    if (bad > plan_bad) is timed and bad != plan_bad:
        return "but not on bad days"
    return ""


def gap_text(mine: Briefing, best: Briefing) -> str:
    """Return by how much one plan's score differs from another's in the middle of the days, in words."""
    a, b = mine.band.middle, best.band.middle
    if a.finished is not b.finished:
        done = next(day for day in (a, b) if day.finished)
        return f"{'finishes' if done is a else 'does not finish'} in the middle of the days"
    # What is shown is whole seconds and reps: the gap is that between them.
    gap = round(a.value) - round(b.value)
    if gap == 0:
        return SAME[0 if a.finished else 1]
    if a.finished:
        return f"{abs(gap)} s {'slower' if gap > 0 else 'faster'}"
    return f"{abs(gap)} rep{'' if abs(gap) == 1 else 's'} {'more' if gap > 0 else 'fewer'}"


def recommendation(briefing: Briefing) -> str:
    """Return why a plan looks as it does: what is out of reach, what runs low and when, else where the time goes.

    A movement runs low below five reps in reserve, breath below 35 % of W′: from there on reps get slower.
    """
    records = [record for record in briefing.timeline.sets if record.reps]
    if not records:
        return "Nothing can be done here with the numbers on file."
    segments, slots = briefing.course.segments, briefing.course.slots
    next_slot = segments[stuck_at(briefing.course, briefing.timeline)].slot
    tried = briefing.timeline.sets[-1].failed_reps and not any(
        segments[r.segment].slot == next_slot for r in records
    )
    if tried or briefing.timeline.score.stuck_s is not None:
        return f"The {slots[next_slot].said} is what limits: no rep of it is in reach with the numbers on file."
    breakable = [r for r in records if not slots[segments[r.segment].slot].movement.styles[0].steady]
    # What ends empty in the last seconds was meant to.
    early = [r for r in breakable if r.end_s < briefing.timeline.end_s - LAST_PUSH_S or r.failed_reps]
    breakable = early or breakable
    thin = min(breakable, key=lambda record: record.reps_in_reserve, default=None)
    engine = min(records, key=lambda record: record.engine_after)
    if thin is not None and thin.reps_in_reserve < GRIND_REPS:
        failed = any(record.failed_reps for record in briefing.timeline.sets)
        if failed or thin.reps_in_reserve / GRIND_REPS <= engine.engine_after / BREATH_FRAC:
            label = slots[segments[thin.segment].slot].said
            why = (
                f"{emptiest(briefing, thin).capitalize()} is what limits: after the {label} at"
                f" {clock(thin.end_s)}, {max(0.0, thin.reps_in_reserve):.1f} reps are in reserve."
            )
            holds = not failed and thin.reps_in_reserve <= HOLDS_REPS
            return f"{why} Sets and rests are chosen so that it just holds." if holds else why
    breath = f"{100 * engine.engine_after:.0f} % of the work above critical power is left"
    if engine.engine_after < BREATH_FRAC:
        return f"Breath is what limits: at {clock(engine.end_s)} {breath}. Pace decides here more than sets do."
    if thin is not None:
        label = slots[segments[thin.segment].slot].said
        breath = (
            f"the {label} never has less than {thin.reps_in_reserve:.0f} reps in reserve, and {breath} at the least"
        )
    else:
        breath += " at the least"
    return f"Nothing runs out: {breath}. {_where_time_goes(briefing)}"


def _where_time_goes(briefing: Briefing) -> str:
    """Return what takes most of the time, prescribed rests left out, and where faster reps win most."""
    times = time_by_slot(briefing)
    change_s = 0.0
    for before, block in pairwise(briefing.blocks):
        segment = briefing.course.segments[block.segment]
        if not segment.rest_before_s and not segment.opens_s:
            change_s += block.start_s - before.end_s
    seconds = {
        "the reps themselves": sum(time.working_s for time in times),
        "rests between sets": sum(time.resting_s for time in times),
        "changes of movement": change_s,
    }
    most = max(seconds, key=lambda name: seconds[name])
    said = f"Time goes on {most} ({100 * seconds[most] / sum(seconds.values()):.0f} %)"
    best = max(exchange_rates(briefing.problem, briefing.plan), key=lambda row: row.pace_won)
    if best.pace_won < 1.0:
        return f"{said}."
    name = briefing.course.slots[best.slot].movement.name
    return f"{said}; 5 % faster on the {name} {cost_words(-best.pace_won, best.unit == 's')}."
