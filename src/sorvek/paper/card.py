"""What fits in an athlete's head: a scheme per movement, splits, the one change, the fallback, three cues."""

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from functools import partial

from sorvek.core.advice import Briefing, Display, find_crux, first_round_line
from sorvek.core.athlete import Athlete
from sorvek.core.errors import LiftError
from sorvek.core.lift import Attempt, AttemptPlan, Total
from sorvek.core.plan import UNBROKEN, Phase, Scheme
from sorvek.core.quantities import clock, rest_words
from sorvek.core.workout import MaxLift, Workout
from sorvek.paper.words import band_words, gate_words, load_words

MOST_SPLITS = 6
CUES = 3
# A gate passed on ten days of ten is not worth a line.
SURE = "10 days of 10"
NOTICEABLE_PACE = 1.1


@dataclass(frozen=True, slots=True)
class CardLine:
    """One movement: what it is, how it is broken, and the change on the way if there is one."""

    what: str
    how: str
    change: str


@dataclass(frozen=True, slots=True)
class LiftLine:
    """One attempt: load, start in the window, plates on one side, and what comes after a miss."""

    load: str
    start: str
    plates: str
    if_missed: str


@dataclass(frozen=True, slots=True)
class CardLift:
    """The attempts of a max lift under what is lifted; `first` if it comes before the other work."""

    head: str
    attempts: tuple[LiftLine, ...]
    first: bool


@dataclass(frozen=True, slots=True)
class SplitLine:
    """One split: its label, the clock at its end, and what it takes."""

    label: str
    at: str
    takes: str


@dataclass(frozen=True, slots=True)
class Card:
    """One athlete's plan for one workout in words, with the attempts of the max lifts that belong to it."""

    workout: str
    athlete: str
    bound: str
    target: str
    range: str
    lines: tuple[CardLine, ...]
    splits: tuple[SplitLine, ...]
    first_round: str
    fallback: str
    tiebreak: str
    cues: tuple[str, ...]
    lifts: tuple[CardLift, ...] = ()
    chances: str = ""
    rules: tuple[str, ...] = ()
    warm_up: str = ""


def warm_up_words(length_s: float, starts_at: str) -> str:
    """Return when to begin to warm up: so long before the start, and at what time where that is known."""
    words = f"Begin to warm up {round(length_s / 60)} min before your start"
    if not starts_at:
        return words
    start = datetime.fromisoformat(starts_at)
    return f"{words}: at {(start - timedelta(seconds=length_s)).strftime('%H:%M')} for {start.strftime('%H:%M')}"


def wall_words(words: str) -> str:
    """Return words for a wall, where letters must be large: no breaths beside seconds, no break before a unit."""
    return re.sub(r"(\d) (?=s\b|%)", "\\1\N{NO-BREAK SPACE}", re.sub(r" \(\d+ breaths?\)", "", words))


def scheme_words(scheme: Scheme) -> str:
    """Return a scheme as a coach would call it."""
    words = [scheme.rule.text()]
    if scheme.rule != UNBROKEN:
        words.append(f"rest {rest_words(scheme.rest_s)}" if scheme.rest_s else "no rest")
    if scheme.style:
        words.append(scheme.style)
    if scheme.pace >= NOTICEABLE_PACE:
        words.append(f"{100 * (scheme.pace - 1):.0f} % easier pace")
    if scheme.wait_s:
        words.append(f"first breathe {rest_words(scheme.wait_s)}")
    return ", ".join(words)


def _change(phases: tuple[Phase, ...]) -> str:
    if len(phases) < 2 or phases[0].until is None:
        return ""
    return f"from round {phases[0].until + 1}: {scheme_words(phases[1].scheme)}"


def _fallback(briefing: Briefing, crux: int) -> str:
    """Return what to do when the crux starts to slip: half the sets, a few seconds more; of steady work, easier."""
    slot = briefing.course.slots[crux]
    if slot.movement.styles[0].steady:
        return f"If breath runs out on the {slot.said}: a tenth easier, do not stop."
    scheme = briefing.plan.slots[crux][-1].scheme
    counts = [segment.reps for segment in briefing.course.segments_of(crux)]
    largest = max(scheme.rule.sets(max(counts)))
    if largest == 1:
        return f"If {slot.movement.plural} slip: one breath more before every rep."
    smaller = max(1, largest // 2)
    how = "singles" if smaller == 1 else f"sets of {smaller}"
    return f"If {slot.movement.plural} slip: {how}, rest {rest_words(max(3.0, scheme.rest_s))}."


def _cues(briefing: Briefing, crux: int) -> tuple[str, ...]:
    order = [crux, *(i for i in range(len(briefing.course.slots)) if i != crux)]
    cues: list[str] = []
    for slot in order:
        standard = briefing.course.slots[slot].movement.standard.split(";")[0].strip()
        cue = f"{briefing.course.slots[slot].movement.name}: {standard[:1].lower()}{standard[1:]}"
        if standard and cue not in cues:
            cues.append(cue)
    return tuple(cues[:CUES])


def _splits(briefing: Briefing) -> tuple[SplitLine, ...]:
    splits = [split for split in briefing.timeline.splits if split.complete]
    step = -(-len(splits) // MOST_SPLITS)
    shown = [split for i, split in enumerate(splits, 1) if i % step == 0 or i == len(splits)] if splits else []
    return tuple(SplitLine(s.label, clock(s.end_s), clock(s.end_s - s.start_s)) for s in shown)


def with_lifts(card: Card, lifts: Sequence[tuple[MaxLift, AttemptPlan]], unit: str) -> Card:
    """Return a card with the attempts of its max lifts, loads in kg or lb."""
    words = partial(load_words, unit=unit)

    def line(attempt: Attempt) -> LiftLine:
        missed = attempt.if_missed
        load = "again" if missed and missed.load_kg == attempt.load_kg else words(missed.load_kg) if missed else ""
        return LiftLine(
            words(attempt.load_kg),
            clock(attempt.start_s),
            " + ".join(piece.label for piece in attempt.stack) or "empty bar",
            f"missed: {load} at {clock(missed.start_s)}" if missed else "",
        )

    found: list[CardLift] = []
    for lift, plan in lifts:
        when = "First " if card.lines and lift.first else "Then " if card.lines or found else ""
        found.append(CardLift(when + lift.called, tuple(line(attempt) for attempt in plan.attempts), lift.first))
    return replace(card, lifts=tuple(found))


def lift_card(workout: Workout, athlete: Athlete, plans: Sequence[AttemptPlan], bound: str, unit: str) -> Card:
    """Return the card of a max lift alone or of a total; `bound` is the format line of the workout.

    Raises: LiftError if the workout has none.
    """
    if workout.lift is None:
        raise LiftError("this workout has no max lift")
    movement = workout.library.movements[workout.lift.movement]
    cues = tuple(cue.strip() for cue in movement.standard.split(";"))[:CUES]
    total = Total(tuple(plans))
    low, middle, high = (load_words(total.quantile(share), unit) for share in (0.1, 0.5, 0.9))
    bare = Card(
        workout=workout.title or "Workout",
        athlete=athlete.name,
        bound=bound,
        target=middle,
        range=f"{low.split()[0]}–{high}",
        lines=(),
        splits=(),
        first_round="",
        fallback="",
        tiebreak="",
        cues=cues,
    )
    return with_lifts(bare, list(zip(workout.lifts, plans, strict=True)), unit)


def make_card(briefing: Briefing, bound: str, labels: Sequence[str] = ()) -> Card:
    """Return the card of a plan; `bound` is the format line of the workout, `labels` may call the slots otherwise.

    Raises: SetsError if the plan does not fit its course.
    """
    course = briefing.course
    crux = find_crux(briefing.problem, briefing.plan).slot
    reached = {course.segments[record.segment].slot for record in briefing.timeline.sets}
    lines = tuple(
        CardLine(
            labels[slot] if labels else course.slots[slot].said,
            Display.over(briefing, slot) or scheme_words(phases[0].scheme),
            _change(phases),
        )
        for slot, phases in enumerate(briefing.plan.slots)
        if slot in reached
    )
    open_gates = [gate for gate in gate_words(briefing.band.gates) if not gate.endswith(SURE)]
    tie = briefing.timeline.score.tiebreak_s
    return Card(
        workout=course.workout.title or "Workout",
        athlete=briefing.problem.athlete.name,
        bound=bound,
        target=briefing.timeline.score.text,
        range=band_words(briefing),
        lines=lines,
        splits=_splits(briefing),
        first_round=first_round_line(briefing),
        fallback=_fallback(briefing, crux),
        tiebreak=f"Tie-break at {clock(tie)}: the judge writes it down." if tie else "",
        cues=_cues(briefing, crux),
        chances=f"Chances: {'; '.join(open_gates)}." if open_gates else "",
    )


def card_text(card: Card) -> str:
    """Return a card as plain text to paste into a chat."""
    lines = [f"{card.athlete} · {card.workout} ({card.bound})", f"Aim: {card.target}, most days {card.range}"]
    lifts = [
        [f"{lift.head}:"]
        + [
            f"- {a.load} at {a.start} ({a.plates})" + (f"; {a.if_missed}" if a.if_missed else "")
            for a in lift.attempts
        ]
        for lift in card.lifts
    ]
    lines += [line for lift, told in zip(card.lifts, lifts, strict=True) if lift.first for line in told]
    for line in card.lines:
        lines.append(f"- {line.what}: {line.how}" + (f"; {line.change}" if line.change else ""))
    if card.splits:
        lines.append("Splits: " + ", ".join(f"{split.label} at {split.at}" for split in card.splits))
    lines += [line for lift, told in zip(card.lifts, lifts, strict=True) if not lift.first for line in told]
    lines += [card.warm_up] if card.warm_up else []
    lines += [text for text in (card.first_round, card.fallback, card.chances, card.tiebreak) if text]
    lines += [f"If {rule[:1].lower()}{rule[1:]}" for rule in card.rules]
    return "\n".join([*lines, *(f"* {cue}" for cue in card.cues)])
