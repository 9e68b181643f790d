"""When a max lift begins and how long its window is."""

from itertools import pairwise

from sorvek.core.workout import tree as w
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.bounding import start_of
from sorvek.core.workout.prose.bounds import times_of_lifts
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import Node, Said
from sorvek.core.workout.prose.words import Kind, Token

LEFT = {"time", "left"}
AT_ONCE = ("as soon as", "once you finish", "once you are done", "when you finish", "when you are done")
MOST_TRIES = 9
TRIES = {"attempt", "attempts", "lifts", "tries"}
HAVE = {"have", "has", "get", "gets", "given", "allowed"}


def until_clock(said: Said, span: p.Span) -> bool:
    """Return whether a time is a point of the clock: “until 14:00”, “until the 8 minute mark”."""
    tokens = said.sentence.tokens
    before = {word for t in tokens[max(0, span.lo - 4) : span.lo] for word in t.low.split()}
    marked = any(token.low == "mark" for token in tokens[span.hi : span.hi + 1])
    return bool({"until", "till"} & before) and (marked or tokens[span.lo].kind is Kind.CLOCK)


def by_the_clock(draft: Draft, said: Said) -> tuple[float, float, list[Token]] | None:
    """Return when a lift begins and how long it lasts, told by the clock of the whole, and where that is told.

    “Rest until the clock reads 8:00. Find your heaviest front squat; you have until 14:00.”
    """
    at = draft.said.index(said)
    if any(words in one.text().lower() for one in draft.said[max(0, at - 1) : at + 1] for words in AT_ONCE):
        return None
    rests = [(s, x) for s in draft.said[:at] for x in s.of(p.Span) if x.role == "rest" and until_clock(s, x)]
    ends = [(s, x) for s in draft.said[at : at + 2] for x in s.of(p.Span) if x.role == "until"]
    clocks = [(a.low, b.number) for a, b in pairwise(said.sentence.tokens) if b.kind is Kind.CLOCK]
    at_clock = [number for word, number in clocks if word in ("at", "after", "from")]
    own = [span for span in said.of(p.Span) if span.seconds not in at_clock]
    if len(at_clock) == len(own) == 1 and at_clock[0] >= draft.facts.cap_s > 0:
        # “At 10:00, 5 minutes to find a max deadlift”, “at 7:00 … until 12:00”.
        from_s = at_clock[0] if until_clock(said, own[0]) else 0.0
        return at_clock[0], own[0].seconds - from_s, said.sentence.tokens
    begins_s = rests[-1][1].seconds if rests else draft.facts.cap_s
    if not ends or not begins_s or not draft.facts.cap_s or ends[0][1].seconds <= begins_s:
        return None
    for other, _ in (*rests, *ends):
        other.used = True
    tokens = [t for s, x in (*rests[-1:], *ends[:1]) for t in s.tokens(x)]
    return begins_s, ends[0][1].seconds - begins_s, tokens


def until_work_s(draft: Draft, said: Said, seconds: float) -> float:
    """Return the rest between a first lift and the work by the clock: “0:00–6:00 max thruster, 8:00–18:00 …”."""
    ends = [found.to_s for found in said.of(p.Range)] or [seconds]
    behind = draft.said[draft.said.index(said) + 1 :]
    starts = [(other, start) for other in behind if (start := start_of(other))]
    draft.facts.used += [token for other, start in starts for token in other.tokens(start)]
    begins = [*work_begins(draft), *(start.seconds for _, start in starts)]
    later = [from_s for from_s in begins if from_s > ends[0]]
    return min(later) - ends[0] if later else 0.0


def work_begins(draft: Draft) -> list[float]:
    """Return where on the clock stretches of work begin."""
    working = (other for other in draft.said if other.has(p.WorkLine) or other.cue("amrap"))
    return [found.from_s for other in working for found in other.of(p.Range)]


def opens_s(draft: Draft, said: Said) -> float:
    """Return when a lift begins on the clock of the whole: “0:00–8:00 AMRAP …, 10:00–15:00 max clean”; else 0."""
    at = draft.said.index(said)
    near = [said, *(other for other in draft.said[max(0, at - 1) : at] if not other.has(p.WorkLine))]
    ranges = [found for one in near for found in one.of(p.Range) if found.from_s >= draft.facts.cap_s > 0]
    return ranges[0].from_s if ranges else 0.0


def drop_doubts_about(nodes: list[Node], starts: set[int]) -> None:
    """Leave out doubts about words that are read now."""
    for node in list(nodes):
        drop_doubts_about(node.inner, starts)
        if isinstance(node.block, w.Doubt) and node.tokens and {t.start for t in node.tokens} <= starts:
            nodes.remove(node)


def from_there(draft: Draft, said: Said, seconds: float) -> float:
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


def lift_time(draft: Draft, said: Said, lift: p.Lift) -> tuple[float, list[Token]] | None:
    """Return the length of a lift's window and where it is told."""
    own = own_time(draft, said, lift)
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


def time_left(draft: Draft, said: Said) -> tuple[float, list[Token]] | None:
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
    drop_doubts_about(draft.builder.body, {token.start for token in other.sentence.tokens})
    draft.facts.asked = [one for one in draft.facts.asked if one[1]]  # how the work is bounded is told now
    return max(0.0, ends_s - draft.facts.cap_s), tokens


def own_time(draft: Draft, said: Said, lift: p.Lift) -> tuple[float, list[Token]] | None:
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
        if (s.seconds > draft.facts.cap_s or s.role == "until")
        and s.lo
        and (draft.facts.cap_s or _behind_work(draft, said))
        and (until_clock(said, s) or said.sentence.tokens[s.lo - 1].low in ("until", "till", "to"))
    ]
    if until and draft.facts.form is w.Form.AMRAP and said.sentence.tokens[until[0].lo].kind is Kind.CLOCK:
        return until[0].seconds - draft.facts.cap_s, said.tokens(until[0])
    remains = said.cue("remaining") or said.low() >= LEFT  # “in the remaining time of the 10 minutes”
    left = until or [s for s in own if remains and s.seconds >= draft.facts.cap_s]
    if left and draft.facts.form is w.Form.FOR_TIME:
        draft.facts.lift_ends_s = left[0].seconds
        return left[0].seconds - draft.facts.cap_s, said.tokens(left[0])
    near = sorted(own, key=lambda span: abs(span.lo - lift.lo))
    return (near[0].seconds, said.tokens(near[0])) if near else None


def _behind_work(draft: Draft, said: Said) -> bool:
    """Return whether counted work stands before a sentence."""
    return any(work.counts for other in draft.said[: draft.said.index(said)] for work in other.of(p.WorkLine))


def for_all_tries(draft: Draft, seconds: float) -> float:
    """Return the window of all attempts where that of each is told: “three attempts, 2 minutes per attempt”."""
    told = next((found[0] for other in draft.said if (found := tries_told(other))), 1)
    for said in draft.said:
        for span in said.of(p.Span):
            behind = [token.low for token in said.sentence.tokens[span.hi : span.hi + 2]]
            if span.seconds == seconds and len(behind) > 1 and behind[0] in ("per", "each") and behind[1] in TRIES:
                draft.facts.lift_tokens += said.tokens(span)
                said.used = True
                return seconds * told
    return seconds


def tries_told(said: Said) -> tuple[int, list[Token]] | None:
    """Return how many attempts a sentence allows and the words that say so, None if it says nothing of them."""
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
