"""The max lift of an announcement: what is lifted, in what time, how often, before or after the work, or rising."""

from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise

from sorvek.core.workout import tree as w
from sorvek.core.workout.movements import Library
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.bounding import SILENT, ask, start_of
from sorvek.core.workout.prose.bounds import times_of_lifts
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import LONGEST_DOUBT, Node, Said, means, words_of
from sorvek.core.workout.prose.interval_lifts import ADDED_UP, BEST, STARTS, is_lift
from sorvek.core.workout.prose.lines import Section
from sorvek.core.workout.prose.words import MOST, Kind, Token

MOST_BETWEEN = 3  # words between a time and the lift it is for
HAVE = {"have", "has", "get", "gets", "given", "allowed"}
TRIES = {"attempt", "attempts", "lifts", "tries"}
MOST_TRIES = 9
AT_ONCE = ("as soon as", "once you finish", "once you are done", "when you finish", "when you are done")
LEFT = {"time", "left"}
AFTERWARDS = {"after", "afterwards", "following", "remaining", "immediately", "straight"}
BESIDE = 2  # lines around the parts of a complex, and their words, that may call it one: “COMPLEX”, “Max weight”


def mark_lift_ends(draft: Draft) -> None:
    """Mark the clock at which a lift ends, “You have until 14:00”: it extends nothing."""
    for at, said in enumerate(draft.said):
        near = draft.said[at : at + 2]
        for other in near if said.of(p.Lift) and not any(one.cue("if") for one in near) else ():
            marked = [
                replace(x, role="until") if isinstance(x, p.Span) and x.role == "extend" and _until(other, x) else x
                for x in other.phrases
            ]
            other.phrases = marked


def read_lift_starts(draft: Draft) -> None:
    """Give a lift the clock told on the line above it: “Starts at 8:00”, “4 minutes to find a 1RM”."""
    spans_of = [(said, span) for said in draft.said for span in said.of(p.Span)]
    capped = any(span.role == "cap" or said.sentence.section is Section.CAP for said, span in spans_of)
    for head, said in pairwise(draft.said) if capped else ():  # without a cap that clock ends the work before
        clocks = [b.number for a, b in pairwise(head.sentence.tokens) if a.low == "at" and b.kind is Kind.CLOCK]
        spans = [span for span in said.of(p.Span) if span.role in ("", "within")]
        if len(clocks) == len(spans) == 1 and STARTS & head.low() and said.has(p.Lift) and not head.has(p.WorkLine):
            clocked = p.Range(spans[0].lo, spans[0].hi, clocks[0], clocks[0] + spans[0].seconds)
            said.phrases = [clocked if phrase is spans[0] else phrase for phrase in said.phrases]
            draft.facts.used += head.sentence.tokens
            head.phrases, head.used = [], True


def read_split_lifts(draft: Draft) -> None:
    """Read a lift whose movement stands on the next line: “For max load (6 min):”, “Clean & jerk”."""
    for head, said in pairwise(draft.said):
        works = said.of(p.WorkLine)
        bare = len(works) == 1 and not works[0].counts and not works[0].sizes
        rest = said.sentence.tokens[works[0].hi :] if bare else []
        styled = len(rest) > 1 and rest[0].mark("(") and rest[-1].mark(")")  # “Hang clean (any style)”
        bare = bare and works[0].lo == 0 and (len(rest) <= 1 or styled)
        named = any(token.kind is Kind.MOVEMENT for token in head.sentence.tokens)
        heading = head.cue("lift") and not (head.has(p.Lift, p.WorkLine) or named or MOST & head.low() - {"max"})
        if bare and heading and head.cue("lift") and is_lift(draft.library, works[0].movement):
            times = [span.seconds for span in head.of(p.Span) if span.role in ("", "cap", "within")]
            lift = p.Lift(works[0].lo, works[0].hi, works[0].movement, window_s=times[0] if times else 0.0)
            said.phrases = [lift if phrase is works[0] else phrase for phrase in said.phrases]


def read_attempts(draft: Draft) -> None:
    """Read a lift told by its attempts, “Snatch: 3 attempts within 6 min”, which is no count of it."""
    for said in draft.said:
        tokens, tries = said.sentence.tokens, _tries(said)
        lifts = [i for i, t in enumerate(tokens) if t.kind is Kind.MOVEMENT and is_lift(draft.library, t.name)]
        timed = [span for span in said.of(p.Span) if span.role in ("", "within", "cap")]
        if tries is None or len(lifts) != 1 or len(timed) != 1 or said.has(p.Lift):
            continue
        lift = p.Lift(lifts[0], lifts[0] + 1, tokens[lifts[0]].name, window_s=timed[0].seconds)
        said.phrases = [lift, *(phrase for phrase in said.phrases if not isinstance(phrase, p.WorkLine))]


def read_complex(draft: Draft) -> None:
    """Read a complex for load whose parts are listed: “For load: 1 clean, 2 front squats, 1 jerk (complex)”."""
    usable = [said for said in draft.said if said.sentence.section not in SILENT]
    if any(said.of(p.Lift) for said in usable) or not any(said.cue("lift") for said in usable):
        return
    for at, said in enumerate(usable):
        works = said.of(p.WorkLine)
        plain = all(len(work.counts) == 1 and not work.sizes for work in works)
        near = [one for one in usable[max(0, at - BESIDE) : at + BESIDE + 1] if one.sentence.words <= BESIDE]
        near += [
            one for one in usable[max(0, at - 1) : at] if one.sentence.tokens[-1].mark(":") or _ends_with_of(one)
        ]
        named = said.cue("lift") or any("complex" in one.low() or one.cue("lift") for one in near)
        lifted = all(is_lift(draft.library, work.movement) for work in works)
        joined = sum(token.mark("+") for token in said.sentence.tokens) >= len(works) - 1 and named
        if len(works) > 1 and plain and lifted and ("complex" in said.low() or joined):
            first, *more = [(work.movement, work.counts[0]) for work in works]
            lift = p.Lift(works[0].lo, works[-1].hi, first[0], reps=first[1], more=tuple(more))
            said.phrases = [lift, *(x for x in said.phrases if not isinstance(x, p.WorkLine))]


def _ends_with_of(said: Said) -> bool:
    return said.sentence.tokens[-1].low == "of"


def read_timed_lifts(draft: Draft) -> bool:
    """Read lifts told by their minutes, and return whether there are any.

    “7 minutes for the snatch, then 7 minutes for the clean and jerk. The best of both are added up.”
    """
    usable = [said for said in draft.said if said.sentence.section not in SILENT]
    counted = any(work.counts for said in usable for work in said.of(p.WorkLine))
    summed = any((ADDED_UP | BEST) & said.low() for said in usable)
    works = [work for said in usable if said.has(p.Span) for work in said.of(p.WorkLine)]
    unlifted = any(not draft.library.movements[work.movement].styles[0].lift for work in works)  # “1:00 burpees”
    rounds = any(
        x.count > 1 for said in usable for x in said.of(p.RoundCount)
    )  # “5 rounds for total reps: 1 min …”
    if counted or unlifted or rounds or not summed or any(said.of(p.Lift) for said in usable):
        return False
    found = False
    for said in (said for said in usable if not MOST & said.low()):
        spans = [span for span in said.of(p.Span) if span.role != "rest"]
        lifts = [lift for span in spans if (lift := _lift_for(draft.library, said, span)) is not None]
        if lifts:
            others = [x for x in said.phrases if not isinstance(x, p.WorkLine)]
            said.phrases = sorted([*others, *lifts], key=lambda phrase: phrase.lo)
            draft.facts.form, found = w.Form.LIFT, True
    return found


def _lift_for(library: Library, said: Said, span: p.Span) -> p.Lift | None:
    """Return the lift close behind a time that is its window: “7 minutes for the snatch”."""
    for at, token in enumerate(said.sentence.tokens[span.hi : span.hi + MOST_BETWEEN], span.hi):
        if token.kind is Kind.MOVEMENT and is_lift(library, token.name):
            return p.Lift(at, at + 1, token.name, window_s=span.seconds)
    return None


def _until(said: Said, span: p.Span) -> bool:
    """Return whether a time is a point of the clock: “until 14:00”, “until the clock reads 8:00”."""
    before = {word for t in said.sentence.tokens[max(0, span.lo - 4) : span.lo] for word in t.low.split()}
    return bool({"until", "till"} & before) and said.sentence.tokens[span.lo].kind is Kind.CLOCK


def _by_the_clock(draft: Draft, said: Said) -> tuple[float, float, list[Token]] | None:
    """Return when a lift begins and how long it lasts, told by the clock of the whole, and where that is told.

    “Rest until the clock reads 8:00. Find your heaviest front squat; you have until 14:00.”
    """
    at = draft.said.index(said)
    if any(words in one.text().lower() for one in draft.said[max(0, at - 1) : at + 1] for words in AT_ONCE):
        return None
    rests = [(s, x) for s in draft.said[:at] for x in s.of(p.Span) if x.role == "rest" and _until(s, x)]
    ends = [(s, x) for s in draft.said[at : at + 2] for x in s.of(p.Span) if x.role == "until"]
    clocks = [(a.low, b.number) for a, b in pairwise(said.sentence.tokens) if b.kind is Kind.CLOCK]
    at_clock = [number for word, number in clocks if word in ("at", "after", "from")]
    own = [span for span in said.of(p.Span) if span.seconds not in at_clock]
    if len(at_clock) == len(own) == 1 and at_clock[0] >= draft.facts.cap_s > 0:
        # “At 10:00, 5 minutes to find a max deadlift”, “at 7:00 … until 12:00”.
        from_s = at_clock[0] if _until(said, own[0]) else 0.0
        return at_clock[0], own[0].seconds - from_s, said.sentence.tokens
    begins_s = rests[-1][1].seconds if rests else draft.facts.cap_s
    if not ends or not begins_s or not draft.facts.cap_s or ends[0][1].seconds <= begins_s:
        return None
    for other, _ in (*rests, *ends):
        other.used = True
    tokens = [t for s, x in (*rests[-1:], *ends[:1]) for t in s.tokens(x)]
    return begins_s, ends[0][1].seconds - begins_s, tokens


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
    clocked = _by_the_clock(draft, said)
    found = clocked[1:] if clocked else _lift_time(draft, said, lift) or _time_left(draft, said)
    if found is None:
        ask(draft, f"{words_of(said.tokens(lift))}: in what time?", said.tokens(lift))
        return
    seconds, tokens = found
    first = _comes_first(draft, said)
    seconds = _from_there(draft, said, seconds)
    at_s = 0.0 if first else clocked[0] if clocked else _opens_s(draft, said)
    rest_s = at_s - draft.facts.cap_s if at_s and draft.facts.form is w.Form.AMRAP else 0.0
    rest_s = _until_work_s(draft, said, seconds) if first else rest_s
    if draft.facts.form is not w.Form.FOR_TIME or not draft.facts.cap_s:
        at_s = 0.0
    if at_s:
        _drop_doubts(draft.builder.body, {token.start for token in tokens})
    tries = draft.facts.tries or None
    seconds = _for_all_tries(draft, seconds)
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


def _until_work_s(draft: Draft, said: Said, seconds: float) -> float:
    """Return the rest between a first lift and the work by the clock: “0:00–6:00 max thruster, 8:00–18:00 …”."""
    ends = [found.to_s for found in said.of(p.Range)] or [seconds]
    behind = draft.said[draft.said.index(said) + 1 :]
    starts = [(other, start) for other in behind if (start := start_of(other))]
    draft.facts.used += [token for other, start in starts for token in other.tokens(start)]
    begins = [*_work_begins(draft), *(start.seconds for _, start in starts)]
    later = [from_s for from_s in begins if from_s > ends[0]]
    return min(later) - ends[0] if later else 0.0


def _work_begins(draft: Draft) -> list[float]:
    """Return where on the clock stretches of work begin."""
    working = (other for other in draft.said if other.has(p.WorkLine) or other.cue("amrap"))
    return [found.from_s for other in working for found in other.of(p.Range)]


def _opens_s(draft: Draft, said: Said) -> float:
    """Return when a lift begins on the clock of the whole: “0:00–8:00 AMRAP …, 10:00–15:00 max clean”; else 0."""
    at = draft.said.index(said)
    near = [said, *(other for other in draft.said[max(0, at - 1) : at] if not other.has(p.WorkLine))]
    ranges = [found for one in near for found in one.of(p.Range) if found.from_s >= draft.facts.cap_s > 0]
    return ranges[0].from_s if ranges else 0.0


def _drop_doubts(nodes: list[Node], starts: set[int]) -> None:
    """Leave out doubts about words that are read now."""
    for node in list(nodes):
        _drop_doubts(node.inner, starts)
        if isinstance(node.block, w.Doubt) and node.tokens and {t.start for t in node.tokens} <= starts:
            nodes.remove(node)


def _from_there(draft: Draft, said: Said, seconds: float) -> float:
    """Return the window of a lift, and end the work before it, where the lift begins by the clock of the whole.

    “12-minute clock … at 6:00 one-rep-max deadlift”.
    """
    tokens = said.sentence.tokens
    begins = [b.number for a, b in pairwise(tokens) if a.low in ("at", "from") and b.kind is Kind.CLOCK]
    whole = draft.facts.cap_s
    if len(begins) != 1 or not 0 < begins[0] < whole or begins[0] != seconds or draft.facts.form is w.Form.LIFT:
        return seconds
    draft.facts.cap_s = begins[0]
    return whole - begins[0]


def _lift_time(draft: Draft, said: Said, lift: p.Lift) -> tuple[float, list[Token]] | None:
    """Return the length of a lift's window and where it is told."""
    own = _own_time(draft, said, lift)
    if own:
        return own
    owned = times_of_lifts(draft)
    behind = [pair for other in draft.said[draft.said.index(said) :] for pair in owned.get(id(other), ())]
    if behind:
        for other, span in behind:
            draft.facts.used += other.tokens(span)
            other.used = True
        return behind[0][1].seconds, behind[0][0].tokens(behind[0][1])
    if draft.facts.form is w.Form.LIFT:
        spans = [
            (s, span)
            for s in draft.said
            for span in s.of(p.Span)
            if span.role in ("", "cap", "within", "amrap") or (span.role == "every" and s.cue("window"))
        ]
        return (spans[0][1].seconds, spans[0][0].tokens(spans[0][1])) if spans else None
    before = draft.said[: draft.said.index(said)][-1:]
    for other in before:
        for found in other.of(p.Range):
            return found.to_s - found.from_s, other.tokens(found)
        for span in other.of(p.Span):
            if span.seconds != draft.facts.cap_s and not other.of(p.WorkLine):
                return span.seconds, other.tokens(span)
    return None


def _time_left(draft: Draft, said: Said) -> tuple[float, list[Token]] | None:
    """Return the time of the whole for a lift in what the work leaves of it, “in the remaining time”.

    The work has that time for its cap, if it has none.
    """
    if not (said.cue("remaining") or said.low() >= LEFT) or draft.facts.form is w.Form.AMRAP:
        return None
    above = draft.said[: draft.said.index(said)]
    roles = ("", "within", "cap", "every")  # “within a 20 minute window”
    times = [(x.seconds, other, other.tokens(x)) for other in above for x in other.of(p.Span) if x.role in roles]
    times += [(x.to_s, other, other.tokens(x)) for other in above for x in other.of(p.Range) if not x.from_s]
    if not times:
        return None
    ends_s, other, tokens = max(times, key=lambda one: one[0])
    draft.facts.lift_ends_s = ends_s
    _drop_doubts(draft.builder.body, {token.start for token in other.sentence.tokens})
    draft.facts.asked = [one for one in draft.facts.asked if one[1]]  # how the work is bounded is told now
    return max(0.0, ends_s - draft.facts.cap_s), tokens


def _own_time(draft: Draft, said: Said, lift: p.Lift) -> tuple[float, list[Token]] | None:
    """Return the time told in a lift's own sentence, the one nearest to it."""
    if lift.window_s:
        return lift.window_s, []
    for found in said.of(p.Range):
        return found.to_s - found.from_s, said.tokens(found)
    own = [span for span in said.of(p.Span) if span.role not in ("rest", "amrap")]
    if draft.facts.form is w.Form.AMRAP and len(own) > 1:
        own = [span for span in own if span.seconds != draft.facts.cap_s] or own
    until = [
        s
        for s in own
        if s.seconds > draft.facts.cap_s > 0
        and s.lo
        and (_until(said, s) or said.sentence.tokens[s.lo - 1].low in ("until", "till", "to"))
    ]
    if until and draft.facts.form is w.Form.AMRAP and said.sentence.tokens[until[0].lo].kind is Kind.CLOCK:
        return until[0].seconds - draft.facts.cap_s, said.tokens(until[0])
    left = until or [s for s in own if s.seconds > draft.facts.cap_s and said.cue("remaining")]
    if left and draft.facts.form is w.Form.FOR_TIME:
        draft.facts.lift_ends_s = left[0].seconds
        return left[0].seconds - draft.facts.cap_s, said.tokens(left[0])
    near = sorted(own, key=lambda span: abs(span.lo - lift.lo))
    return (near[0].seconds, said.tokens(near[0])) if near else None


def _comes_first(draft: Draft, said: Said) -> bool:
    """Return whether a lift is told, with its time, before all other work and not as what follows it."""
    timed = said.has(p.Range, p.Span) or bool(times_of_lifts(draft))
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
    ends, begins = [found.to_s for found in said.of(p.Range)], _work_begins(draft)
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


def _for_all_tries(draft: Draft, seconds: float) -> float:
    """Return the window of all attempts where that of each is told: “three attempts, 2 minutes per attempt”."""
    told = next((found[0] for other in draft.said if (found := _tries(other))), 1)
    for said in draft.said:
        for span in said.of(p.Span):
            behind = [token.low for token in said.sentence.tokens[span.hi : span.hi + 2]]
            if span.seconds == seconds and len(behind) > 1 and behind[0] in ("per", "each") and behind[1] in TRIES:
                draft.facts.lift_tokens += said.tokens(span)
                said.used = True
                return seconds * told
    return seconds


def _one_window(said: Said) -> bool:
    """Return whether two lifts share one time: “15 minutes to establish a 1RM snatch and a 1RM clean and jerk”."""
    return len(said.of(p.Lift)) > 1 and len(said.of(p.Span)) == 1 and not {"each", "per", "every"} & said.low()


def _second_time(draft: Draft, said: Said, lift: p.Lift) -> tuple[float, list[Token]] | None:
    """Return the window of a second lift: its own, or one that holds for each."""
    own = _own_time(draft, said, lift)
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
        found = _tries(said)
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


def _tries(said: Said) -> tuple[int, list[Token]] | None:
    tokens = said.sentence.tokens
    if "between" in said.low() and any(token.kind is Kind.CLOCK for token in tokens):
        return None  # “one attempt between Thursday 12:00 and Monday 18:00” is one at the workout
    for at, token in enumerate(tokens):
        behind = next((i for i in range(at + 1, min(at + 4, len(tokens))) if tokens[i].low in TRIES), None)
        counted = behind is not None and tokens[behind].low == "lifts"
        if counted and not (at and behind == at + 1 and tokens[at - 1].low in HAVE):
            continue  # “the total of the two lifts”
        timed = at + 1 < len(tokens) and tokens[at + 1].unit("min", "s")  # “2 minutes per attempt”
        if token.kind is Kind.NUMBER and behind is not None and 1 <= token.number <= MOST_TRIES and not timed:
            return int(token.number), list(tokens[at : behind + 1])
    return None
