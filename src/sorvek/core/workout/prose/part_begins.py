"""Where parts with a time each begin, and how long they are."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from itertools import pairwise

from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.bounding import LEAST_TIME_S
from sorvek.core.workout.prose.draft import Said
from sorvek.core.workout.prose.headings import Section
from sorvek.core.workout.prose.words import MOST, Token, ordinal

MOST_TIMES = 20  # all parts are done no more often
EACH = {"each", "per"}
EARLY = {"early", "remaining", "remainder", "left", "leftover"}
MOST_LIMIT = 3  # words of a line that only says how long the whole lasts at most
LEAST_GROUPS = 3  # two parts and the rest between them
LEAST_PART_S = 60.0  # a part with counted work is no shorter; judgement
OF_A_ROUND = {"each", "every", "until", "till"}
BREAKS = {"transition", "changeover", "break"}
HAVE = {"have", "has", "get", "gets", "in", "within"}


@dataclass(slots=True)
class Parts:
    """Sentences with which a part begins, by identity: its seconds and words; all of it is done `times` times.

    `clocked` if they follow each other by the clock; `once` is where it is told that who is done early rests,
    `alone` holds the numbers of parts that are done once beside AMRAPs, `each` how often single parts are done, by
    the identity of their sentence.
    """

    begins: dict[int, tuple[float, list[Token]]] = field(default_factory=dict)
    ranges: list[p.Range] = field(default_factory=list)
    times: int = 1
    clocked: bool = False
    once: Said | None = None
    alone: set[int] = field(default_factory=set)
    each: dict[int, int] = field(default_factory=dict)


def find_begins(told: Sequence[Said]) -> Parts:
    """Find the sentences with which parts begin, each with its own time."""
    found = Parts(once=next((said for said in told if _rests_early(said)), None))
    climbing = [said for said in told if any(counts.open for counts in said.of(p.RepCounts))]
    open_ended = any(said.cue("amrap") for said in told)
    open_ended = open_ended or any(said.has(p.Range) and (MOST & said.low() or said in climbing) for said in told)
    for at, said in enumerate(told):
        begun = _begin(said, told[at + 1] if at + 1 < len(told) else None, open_ended)
        begun = begun or _listed(told, at) or (_timed_work(said) if found.once else None)
        begun = begun or _of_each_length(told, said) or _of_each_round(told, at)
        begun = begun or (_in_turn(told, said) if open_ended else None)
        if begun is not None:
            found.begins[id(said)] = begun
            found.ranges += said.of(p.Range)
    for said, behind in pairwise(told):
        one, two = found.begins.get(id(said)), found.begins.get(id(behind))
        told_of = said.has(p.WorkLine, p.Range) or numbered(said) or said.has(p.Loads)
        if one and two and one[0] == two[0] and not told_of:
            del found.begins[id(said)]  # “4 x 2 minutes on, 1 minute off. In each 2-minute window: …”
    heads = [said for said in told if id(said) in found.begins and any(x.head for x in said.of(p.Range))]
    if heads and not any(said.cue("amrap") for said in heads):
        found.once = found.once or heads[0]  # what is told with its start is done once
    _drop_said_again(told, found)
    begun_by = [said for said in told if id(said) in found.begins]
    if any(said.has(p.Range) and said.cue("amrap") for said in begun_by):
        found.alone = {number for number, said in enumerate(begun_by) if _counted_once(said)}
    lengths = [begun[0] for begun in found.begins.values()]
    if len(lengths) > LEAST_GROUPS - 1 and lengths[0] == sum(lengths[1:]) and not begun_by[0].has(p.WorkLine):
        del found.begins[id(begun_by[0])]  # “In a time window of 9 minutes: first 3 minutes …”
    if len(found.ranges) > 1:  # “AMRAP in 10 min: from 0:00 to 5:00 …, from 5:00 to 10:00 …”
        whole_s = found.ranges[-1].to_s - found.ranges[0].from_s
        found.begins = {key: begun for key, begun in found.begins.items() if begun[0] != whole_s}
    return found


def _counted_once(said: Said) -> bool:
    """Return whether a stretch of the clock holds counted work and no word of more: “0-10 minutes: run 2 km”."""
    counted = any(work.counts for work in said.of(p.WorkLine))
    return counted and said.has(p.Range) and not (said.cue("amrap", "repeat") or MOST & said.low())


def _rests_early(said: Said) -> bool:
    """Return whether the time somebody has left is rest: “any remaining time is rest”, “finish early and rest”."""
    words = {word for token in said.sentence.tokens for word in token.low.split()}
    return "rest" in words and bool(EARLY & words) and not (said.has(p.Span) or "off" in words)


def _timed_work(said: Said) -> tuple[float, list[Token]] | None:
    """Return the time told before counted work: “the athlete has 4 minutes to complete 25 burpees”."""
    works = [work for work in said.of(p.WorkLine) if work.counts]
    for found in said.of(p.Range) if works else ():
        return found.to_s - found.from_s, said.tokens(found)  # “0:00–4:00 30 cal row, 30 wall balls”
    spans = [span for span in said.of(p.Span) if works and span.hi <= works[0].lo and span.seconds >= LEAST_PART_S]
    return (spans[-1].seconds, said.tokens(spans[-1])) if spans and HAVE & said.low() else None


def _of_each_length(told: Sequence[Said], said: Said) -> tuple[float, list[Token]] | None:
    """Return the time told once for all numbered parts: “Three couplets. 4 minutes each … Couplet 1: …”."""
    heads = [one for one in told if numbered(one) and any(work.counts for work in one.of(p.WorkLine))]
    if len(heads) < 2 or not any(said is one for one in heads) or any(one.has(p.Span, p.Range) for one in heads):
        return None
    if not any(one.cue("amrap") for one in told):
        return None
    each = [
        (span.seconds, one.tokens(span))
        for one in told
        for span in one.of(p.Span)
        if span.role in ("", "amrap") and span.seconds >= LEAST_PART_S and EACH & one.low()
    ]
    return each[0] if each else None


def _in_turn(told: Sequence[Said], said: Said) -> tuple[float, list[Token]] | None:
    """Return the time of one of several heads that only count minutes: “First 10 minutes:”, “Next 5 minutes:”."""
    heads = [one for one in told if _counts_minutes(one)]
    if len(heads) < 2 or not any(said is one for one in heads):
        return None
    return said.of(p.Span)[0].seconds, said.sentence.tokens


def _counts_minutes(said: Said) -> bool:
    """Return whether a sentence is an ordinal and a time, and no more."""
    rest = [token for token in said.sentence.tokens if not token.mark(":-–")]
    spans = [span for span in said.of(p.Span) if span.role == ""]
    return len(rest) == 3 and len(spans) == 1 and (ordinal(rest[0].low) > 0 or rest[0].cue("then"))


def _of_each_round(told: Sequence[Said], at: int) -> tuple[float, list[Token]] | None:
    """Return how long each of several rounds is, with rests between them: “5 rounds of 3 minutes each”."""
    said = told[at]
    rounds = [
        x for one in told[max(0, at - 1) : at + 1] for x in one.of(p.RoundCount) if x.count > 1 and not x.pointed
    ]
    rested = any(span.role == "rest" for one in told for span in one.of(p.Span))
    most = any(MOST & one.low() or one.cue("amrap") for one in told) and not any(
        one.cue("for_time") for one in told
    )
    spans = [span for span in said.of(p.Span) if span.role in ("", "within", "every", "cap")]
    joined = any(
        0 <= span.lo - x.hi <= 1 for span in spans for x in said.of(p.RoundCount)
    )  # “3 rounds of 3 minutes”
    later = all(work.lo > span.lo for work in said.of(p.WorkLine) for span in spans[:1])
    capped = any(span.role == "cap" for span in spans) and MOST & said.low() and later
    each = ({"each", "long", "lasts"} & said.low() or said.cue("each_round") or joined) and (
        capped or not said.has(p.WorkLine)
    )
    return (
        (spans[0].seconds, said.tokens(spans[0]))
        if rounds and rested and most and each and len({span.seconds for span in spans}) == 1
        else None
    )


def _drop_said_again(told: Sequence[Said], found: Parts) -> None:
    """Leave out a part that only says again what is done in the one before it."""
    heads = [said for said in told if id(said) in found.begins]
    lengths = [found.begins[id(said)][0] for said in heads]
    for (said, behind), (one_s, two_s) in zip(pairwise(heads), pairwise(lengths), strict=True):
        clocked = not said.has(p.WorkLine, p.Range) and behind.has(p.Range) and not numbered(said)
        if one_s == two_s and clocked:
            del found.begins[id(said)]  # “AMRAP 12 with a running clock”, “0:00–12:00”
        elif one_s == two_s and _said_again(said, behind):
            del found.begins[id(behind)]


def _said_again(said: Said, behind: Said) -> bool:
    """Return whether a sentence says again what is done in the time before, “Seven minutes of burpees”."""
    names = [{work.movement for work in one.of(p.WorkLine)} for one in (said, behind)]
    counted = any(work.counts for one in (said, behind) for work in one.of(p.WorkLine))
    again = behind.cue("then", "rest", "again", "repeat") or behind.has(p.Range) or numbered(behind)
    listed = said.sentence.bullet or behind.sentence.bullet or behind.sentence.first
    return len(names[0]) == 1 and names[0] == names[1] and not (counted or again or listed)


def numbered(said: Said) -> bool:
    """Return whether a sentence begins with the number of a part, “Part A: …”, or holds nothing else."""
    cues = [cue for cue in said.of(p.Cue) if cue.name == "part" and cue.number and cue.lo < 4]
    return bool(cues) or any(token.cue("part") for token in said.sentence.lead)


def _begin(said: Said, ahead: Said | None, open_ended: bool) -> tuple[float, list[Token]] | None:
    """Return the seconds of a part that begins with a sentence, and the words that say them.

    `open_ended` if the work is said to be as many reps as possible anywhere.
    """
    spans = [
        span
        for span in said.of(p.Span)
        if span.role in ("amrap", "", "within", "every") and span.seconds >= LEAST_TIME_S
    ]
    limit = said.sentence.words <= MOST_LIMIT and not (said.cue("amrap") or said.has(p.WorkLine))
    most = asks_most(said) and not limit  # “(max 24 minutes)”
    for found in said.of(p.Range):
        rest = bool(BREAKS & said.low()) or any(token.cue("rest") for token in said.sentence.tokens)
        follows = ahead is not None and (ahead.cue("amrap") or bool(MOST & ahead.low()))
        listed = said.of(p.WorkLine) or (ahead is not None and ahead.of(p.WorkLine))
        follows = follows or (open_ended and bool(listed))
        if not rest and (most or follows):
            return found.to_s - found.from_s, said.tokens(found)
    spans = [
        span
        for span in spans
        if not OF_A_ROUND & {t.low for t in said.sentence.tokens[max(0, span.lo - 2) : span.lo]}
        or any(t.cue("rounds", "window") for t in said.sentence.tokens[span.hi : span.hi + 1])
    ]
    window = said.cue("window") and not said.cue("score", "if")
    working = bool({"work", "working", "on"} & said.low()) and said.of(p.Span) != spans
    window = window or (numbered(said) and bool({"same", "again"} & said.low()))
    works = said.of(p.WorkLine)
    stationed = works and not any(work.counts for work in works) and spans and spans[0].lo < 2
    scored = any(token.cue("score") for token in said.sentence.tokens)
    if spans and not scored and (most or window or working or stationed):
        cues = [token for token in said.sentence.tokens if token.cue("amrap", "possible", "window")]
        return spans[0].seconds, [*cues, *said.tokens(spans[0])]
    return None


def _listed(told: Sequence[Said], at: int) -> tuple[float, list[Token]] | None:
    """Return the time told above a list that ends with as many as possible.

    “Athletes have 3 minutes to do: 30 double-unders, …, max snatches. Rest 1 minute. Repeat for 4 rounds.”
    """
    said = told[at]
    spans = [span for span in said.of(p.Span) if span.role in ("", "within")]
    opens = bool(HAVE & said.low()) or (len(spans) == 1 and spans[0].lo == 0)
    opens = opens or (len(spans) == 1 and any(one.hi == spans[0].lo for one in said.of(p.RoundCount)))  # “5 x 2:00”
    if len(spans) != 1 or said.has(p.WorkLine) or not opens or spans[0].seconds < LEAST_TIME_S:
        return None
    timed = (i for i in range(at + 1, len(told)) if told[i].has(p.Span, p.Range) and not _work_then_rest(told[i]))
    listed = [
        other for other in told[at + 1 : next(timed, len(told))] if other.has(p.WorkLine) and not _scores(other)
    ]
    most = listed and asks_most(listed[-1]) and any(not work.counts for work in listed[-1].of(p.WorkLine))
    return (spans[0].seconds, said.tokens(spans[0])) if most else None


def _work_then_rest(said: Said) -> bool:
    """Return whether a line of work ends with the rest behind it: “max power cleans, then rest 1:30”."""
    spans = said.of(p.Span)
    return said.has(p.WorkLine) and not said.has(p.Range) and all(span.role == "rest" for span in spans)


def _scores(said: Said) -> bool:
    only = "only" in said.low() and bool({"count", "counts"} & said.low())  # “Only cleans count.”
    return only or said.cue("score") or said.sentence.section is Section.SCORE


def asks_most(said: Said) -> bool:
    """Return whether a sentence asks for as many as possible: “max push-ups”, “max reps of burpees”."""
    return said.cue("amrap", "until_time") or any(token.low.split()[0] in MOST for token in said.sentence.tokens)
