"""The max lift of an announcement: what is lifted, in what time, how often, before or after the work, or rising."""

from collections.abc import Sequence
from dataclasses import replace

from sorvek.core.workout import tree as w
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.bounding import SILENT, ask
from sorvek.core.workout.prose.bounds import times_of_lifts
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import LONGEST_DOUBT, Said, means, words_of
from sorvek.core.workout.prose.headings import Section
from sorvek.core.workout.prose.interval_lifts import ADDED_UP
from sorvek.core.workout.prose.lift_times import (
    by_the_clock,
    drop_doubts_about,
    for_all_tries,
    from_there,
    lift_time,
    opens_s,
    own_time,
    time_left,
    tries_told,
    until_work_s,
    work_begins,
)
from sorvek.core.workout.prose.words import Token

AFTERWARDS = {"after", "afterwards", "following", "remaining", "immediately", "straight"}


def find_lifts(draft: Draft) -> None:
    """Find the max lift with its window, or two that are added up."""
    said_of = [
        (said, lift)
        for said in draft.said
        for lift in said.of(p.Lift)
        if said.sentence.section in (Section.WORK, Section.SCORE, Section.CAP, Section.LOADS)
        and not _of_windows(draft, said, lift)
    ]
    if not said_of or draft.facts.lift is not None:
        return
    main = [(said, lift) for said, lift in said_of if said is not draft.title] or said_of
    timed = [(said, lift) for said, lift in main if said.has(p.Span, p.Range)]
    said, lift = (timed or main)[0]
    for other, again in said_of:
        other.used = True
        draft.facts.used += other.tokens(again)
    others = [pair for pair in main if (pair[1].movement, pair[1].more) != (lift.movement, lift.more)]
    # “Max effort clean complex” at the head of “clean + front squat + jerk”
    begun = (lift.movement, ()) if lift.more else None
    others = [
        pair for pair in others if (pair[1].movement, pair[1].more) != begun or "complex" not in pair[0].low()
    ]
    if lift.unsure:
        words = f"{words_of(said.tokens(lift))}: {lift.unsure} has no words in the notation yet"
        ask(draft, words, said.tokens(lift))
    clocked = by_the_clock(draft, said)
    found = clocked[1:] if clocked else lift_time(draft, said, lift) or time_left(draft, said)
    if found is None:
        ask(draft, f"{words_of(said.tokens(lift))}: in what time?", said.tokens(lift))
        return
    seconds, tokens = found
    first = _comes_first(draft, said)
    seconds = from_there(draft, said, seconds)
    at_s = 0.0 if first else clocked[0] if clocked else opens_s(draft, said)
    rest_s = at_s - draft.facts.cap_s if at_s and draft.facts.form is w.Form.AMRAP else 0.0
    rest_s = until_work_s(draft, said, seconds) if first else rest_s
    if draft.facts.form is not w.Form.FOR_TIME or not draft.facts.cap_s:
        at_s = 0.0
    if at_s:
        drop_doubts_about(draft.builder.body, {token.start for token in tokens})
    tries = draft.facts.tries or None
    seconds = for_all_tries(draft, seconds)
    lift_of = w.MaxLift(lift.movement, seconds, "", lift.reps, lift.more, attempts=tries, first=first)
    lift_of = replace(lift_of, ends_s=draft.facts.lift_ends_s)
    if lift_of.ends_s and not draft.facts.cap_s:
        draft.facts.form, draft.facts.cap_s = w.Form.FOR_TIME, lift_of.ends_s
    draft.facts.lift = replace(lift_of, rest_s=rest_s, at_s=at_s)
    _drop_names(draft, draft.facts.lift)
    draft.facts.lift_tokens = [*said.tokens(lift), *tokens]
    _add_second(draft, others)
    _limit(draft, [said, *(other for other, _ in others)])


def _drop_names(draft: Draft, lift: w.MaxLift) -> None:
    """Leave out a movement without a count that only names a lift which is all there is: “Event 3: snatch test”."""
    body = draft.builder.body
    names = {name for name, _ in lift.parts}
    works = [node.work for node in body if node.work is not None]
    if draft.facts.form is w.Form.LIFT and works and all(not x.counts for x in works):
        body[:] = [n for n in body if not (n.work and any(means(n.work.movement, name) for name in names))]


def _of_windows(draft: Draft, said: Said, lift: p.Lift) -> bool:
    """Return whether words only name windows with a bar that rises: “Max clean and jerk ladder”."""
    counted = lift.movement in {movement for movement, _ in draft.builder.visits()}
    return draft.facts.form is w.Form.WINDOWS and counted and "ladder" in said.low()


def _comes_first(draft: Draft, said: Said) -> bool:
    """Return whether a lift is told, with its time, before all other work and not as what follows it."""
    own = any(lift.window_s for lift in said.of(p.Lift))  # “9 min: 5RM deadlift”
    timed = own or said.has(p.Range, p.Span) or bool(times_of_lifts(draft))
    if draft.facts.form is w.Form.LIFT or AFTERWARDS & said.low() or said.cue("then"):
        return False
    if any(found.from_s > 0 for found in said.of(p.Range)) or not timed:
        return False
    if _until_work_begins(draft, said):
        return True
    at = draft.said.index(said)
    bounds = {token.start for token in draft.facts.tokens}
    if any(token.start in bounds for token in said.sentence.tokens):
        return False  # the work and the lift are told in one sentence
    works = [
        i
        for i, other in enumerate(draft.said)
        if other not in (draft.title, said)
        and other.sentence.section is Section.WORK
        and other.has(p.WorkLine)
        and not (other.has(p.Lift) and not any(work.counts for work in other.of(p.WorkLine)))
    ]
    return bool(works) and at < works[0] and not _told_before(draft, at, bounds)


def _until_work_begins(draft: Draft, said: Said) -> bool:
    """Return whether a lift has the clock up to where the work begins: “0:00–5:00 max clean, 5:00–10:00 AMRAP”."""
    ends, begins = [found.to_s for found in said.of(p.Range)], work_begins(draft)
    return bool(ends) and bool(begins) and min(begins) >= ends[0]


def _told_before(draft: Draft, at: int, bounds: set[int]) -> bool:
    """Return whether the work is bounded above the sentence with the lift."""
    return any(token.start in bounds for said in draft.said[:at] for token in said.sentence.tokens)


def _add_second(draft: Draft, others: Sequence[tuple[Said, p.Lift]]) -> None:
    """Add up two lifts where the announcement says so; ask about any other lift."""
    lift = draft.facts.lift
    summed = any(ADDED_UP & said.low() for said in draft.said if said.sentence.section not in SILENT)
    timed = [(said, again, _second_time(draft, said, again)) for said, again in others]
    if lift and summed and draft.facts.form is w.Form.LIFT and timed and timed[0][2] is not None:
        said, again, found = timed.pop(0)
        if _one_window(said):
            words = f"{said.text()[:LONGEST_DOUBT]}: one window for both? In the notation each lift has its own"
            ask(draft, words, said.sentence.tokens)
        seconds, tokens = found or (0.0, [])
        second = w.MaxLift(again.movement, seconds, "", again.reps, again.more)
        parting = draft.builder.parting if not draft.builder.body else None  # “rest 4 min in between”
        if parting is not None and isinstance(parting.block, w.Rest):
            second, tokens = replace(second, rest_s=parting.block.seconds), [*tokens, *parting.tokens]
        draft.facts.lift = replace(lift, second=second)
        draft.facts.second_tokens = [*said.tokens(again), *tokens]
        named = (again.movement, again.more)
        timed = [one for one in timed if (one[1].movement, one[1].more) != named]
    for said, again, _ in timed:
        words = f"{said.text()[:LONGEST_DOUBT]}: another lift; two are read where it says that they are added up"
        ask(draft, words, said.tokens(again))


def _one_window(said: Said) -> bool:
    """Return whether two lifts share one time: “15 minutes to establish a 1RM snatch and a 1RM clean and jerk”."""
    return len(said.of(p.Lift)) > 1 and len(said.of(p.Span)) == 1 and not {"each", "per", "every"} & said.low()


def _second_time(draft: Draft, said: Said, lift: p.Lift) -> tuple[float, list[Token]] | None:
    """Return the window of a second lift: its own, or one that holds for each."""
    own = own_time(draft, said, lift)
    each = [
        (span.seconds, other.tokens(span))
        for other in draft.said
        for span in other.of(p.Span)
        if {"each", "per", "both"} & other.low()
    ]
    return own or next(iter(each), None)


def _limit(draft: Draft, said_of: Sequence[Said]) -> None:
    """Take how many attempts are allowed: in the sentence of a lift for that lift, elsewhere for both."""
    for said in draft.said:
        found = tries_told(said)
        lift = draft.facts.lift
        if found is None or lift is None or said.sentence.section in SILENT:
            continue
        count, tokens = found
        if lift.second and (said not in said_of or said is not said_of[0]):
            lift = replace(lift, second=replace(lift.second, attempts=count))
        if said not in said_of or said is said_of[0]:
            lift = replace(lift, attempts=count)
        draft.facts.lift = lift
        draft.facts.lift_tokens += tokens
        said.used = True
