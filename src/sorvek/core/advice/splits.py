"""Splits to aim for: the line for round one, halves and parts, three ways to spread the effort over the rounds."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from sorvek.core.advice.briefing import Briefing
from sorvek.core.quantities import clock
from sorvek.core.workout import Form

# Round one comes in hot: this much under its target is the line nobody should cross; judgement.
FIRST_ROUND_FRAC = 0.97


def first_round_line(briefing: Briefing) -> str:
    """Return how fast the first round may be at most, empty for work without rounds."""
    splits = briefing.timeline.splits
    if len(splits) < 2:
        return ""
    return f"{splits[0].label} no faster than {clock(FIRST_ROUND_FRAC * splits[0].end_s)}"


@dataclass(frozen=True, slots=True)
class Stretch:
    """A half, a part or a window of the work, by the clock; `rest_s` is what is left of a window behind it."""

    label: str
    start_s: float
    end_s: float
    rest_s: float = 0.0


def stretches(briefing: Briefing) -> tuple[Stretch, ...]:
    """Return halves of the reps done, and parts if there are several; windows with the rest left in each."""
    sets, segments = briefing.timeline.sets, briefing.course.segments
    visits = [segments[record.segment] for record in sets]
    counted = [record.reps * visit.counted / visit.reps for record, visit in zip(sets, visits, strict=True)]
    done = sum(counted)
    if not done:
        return ()
    middle_s, total = 0.0, 0.0
    for record, reps in zip(sets, counted, strict=True):
        if total < done / 2 <= total + reps:
            share = (done / 2 - total) / reps
            middle_s = record.start_s + share * (record.end_s - record.start_s)
        total += reps
    end_s = sets[-1].end_s
    found = [Stretch("first half", 0.0, middle_s), Stretch("second half", middle_s, end_s)]
    windows = sorted({segments[record.segment].opens_s for record in sets})
    if len(windows) > 1:
        words = {Form.WINDOWS: "window", Form.PARTS: "part"}
        found, word = [], words.get(briefing.course.workout.form, "interval")
        for number, opens_s in enumerate(windows, 1):
            inside = [record for record in sets if segments[record.segment].opens_s == opens_s]
            ends_s = windows[number] if number < len(windows) else segments[inside[-1].segment].deadline_s
            found.append(
                Stretch(f"{word} {number}", opens_s, inside[-1].end_s, max(0.0, ends_s - inside[-1].end_s))
            )
        return tuple(found)
    parts = sorted({segments[record.segment].part for record in sets})
    for part in parts if len(parts) > 1 else ():
        inside = [record for record in sets if segments[record.segment].part == part]
        found.append(Stretch(f"part {part}", 0.0 if part == parts[0] else inside[0].start_s, inside[-1].end_s))
    return tuple(found)


@dataclass(frozen=True, slots=True)
class SplitTarget:
    """One way to spread the effort: clock times at the end of every round, and what each round takes."""

    name: str
    ends_s: tuple[float, ...]
    takes_s: tuple[float, ...]


def alike(briefing: Briefing) -> bool:
    """Return whether every round asks for the same work; windows and stages never do."""
    first, *others = briefing.course.work_by_round().values()
    return not briefing.course.gates() and all(done == first for done in others)


def split_targets(briefing: Briefing, first_frac: Sequence[float] = (1.0, 1.04, 0.96)) -> tuple[SplitTarget, ...]:
    """Return the plan's total spread even, held back and banked early over its complete rounds, if these are alike.

    Hold back makes the first half slower by 4 % and the second faster by
    the same, bank early the reverse (judgement: more than that costs more than it wins).
    """
    splits = [split for split in briefing.timeline.splits if split.complete]
    if len(splits) < 2 or not alike(briefing):
        return ()
    durations = [split.end_s - split.start_s for split in splits]
    rests = [split.start_s - before.end_s for before, split in pairwise(splits)]
    even = [sum(durations) / len(durations)] * len(durations)
    half = len(even) // 2
    found = []
    for name, frac in zip(("even", "hold back", "bank early"), first_frac, strict=True):
        first, second = sum(even[:half]), sum(even[len(even) - half :])
        late = 1 - (frac - 1) * first / second if second else 1.0
        spread = [d * (frac if i < half else late if i >= len(even) - half else 1.0) for i, d in enumerate(even)]
        clock_s, ends = splits[0].start_s, []
        for i, duration in enumerate(spread):
            clock_s += duration + (rests[i - 1] if i else 0.0)
            ends.append(clock_s)
        found.append(SplitTarget(name, tuple(ends), tuple(spread)))
    return tuple(found)
