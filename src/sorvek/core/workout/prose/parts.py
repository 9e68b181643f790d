"""Work in parts with a time each: several AMRAPs one after the other, with rests between them."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from itertools import pairwise, takewhile

from sorvek.core.workout import tree as w
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.bounding import LEAST_TIME_S, SILENT, ask, denied
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.caps import per_round
from sorvek.core.workout.prose.draft import LONGEST_DOUBT, Node, Said
from sorvek.core.workout.prose.intervals import MINUTE_S, interval_of
from sorvek.core.workout.prose.lines import Section
from sorvek.core.workout.prose.rungs import folded, period
from sorvek.core.workout.prose.stations import find_stations
from sorvek.core.workout.prose.words import Kind, Token, ordinal

MOST_TIMES = 20
PARTED = (w.TimedPart, w.Rest, w.TieBreak)  # what rounds over parts may hold
SHORT = 3  # words of a line that only says how often all parts are done
APART = {"separate", "separately", "apart", "individually", "independently"}
MAX = {"max", "maximum"}
MOST_LISTED = 6  # lines below “every 2:00” that may end with as many as possible
EACH = {"each", "per"}
EARLY = {"early", "remaining", "remainder", "left", "leftover"}
MOST_LABEL = 3  # words at the head of a line that may number it: “AMRAP 2:”
LEAST_GROUPS = 3  # two parts and the rest between them
LEAST_PART_S = 60.0  # a part with counted work is no shorter; judgement
OF_A_ROUND = {"each", "every", "until", "till"}
ROTATING = {"alternate", "alternating", "rotate", "rotating", "rotation"}
BREAKS = {"transition", "changeover", "break"}
MINUTES = {"minute", "minutes", "min", "mins"}
IN_TURN = ("odd", "even")  # minutes that have work of their own in turn
HAVE = {"have", "has", "get", "gets", "in", "within"}


@dataclass(slots=True)
class Parts:
    """Sentences with which a part begins, by identity: its seconds and words; all of it is done `times` times.

    `clocked` if they follow each other by the clock; `once` is where it is told that who is done early rests,
    `alone` holds the numbers of parts that are done once beside AMRAPs.
    """

    begins: dict[int, tuple[float, list[Token]]] = field(default_factory=dict)
    ranges: list[p.Range] = field(default_factory=list)
    times: int = 1
    clocked: bool = False
    once: Said | None = None
    alone: set[int] = field(default_factory=set)


def find_parts(draft: Draft) -> Parts:
    """Find where parts begin that have a time each and count reps; none where the work is bounded otherwise."""
    told = [said for said in draft.said if said.sentence.section not in SILENT and said is not draft.title]
    if capped := _capped(told):
        draft.facts.form = w.Form.FOR_TIME
        return capped
    _one_rest_between(told)
    _reps_not_loads(told)
    _numbered_amraps(told)
    minutes = _own_minutes(told)
    if minutes is None and _bounded_otherwise(told):
        return Parts()
    found, repeats = _with_repeats(told)
    if len(found.begins) < 2 and (paced := _paced(told)):
        found, repeats = paced
    if minutes is not None:
        found, repeats = minutes
        for said in (one for one in told if one.cue("emom")):
            draft.facts.used += said.sentence.tokens
            said.used = True
    if stations := find_stations(told):
        found = Parts(stations.begins, times=stations.times or found.times)
        draft.facts.used += stations.tokens
    rests = any(span.role == "rest" for said in told for span in said.of(p.Span))
    if len(found.begins) < 2 and not (found.begins and found.times > 1 and (rests or found.clocked)):
        return Parts()
    _drop_number(told, len(found.begins))
    _ask_about(draft, told)
    _rest_by_the_clock(told)
    draft.facts.form = w.Form.PARTS
    if repeats:
        said, rounds = repeats
        said.phrases = [phrase for phrase in said.phrases if phrase is not rounds]
        draft.facts.used += said.tokens(rounds)
        said.used = True
    return found


def _drop_number(told: Sequence[Said], parts: int) -> None:
    """Leave out how many parts there are where nothing else is said: “Three AMRAPs on one clock:”."""
    for said in told:
        if said.sentence.tokens[0].number == parts and said.cue("amrap") and not said.has(p.WorkLine):
            said.phrases = [phrase for phrase in said.phrases if not isinstance(phrase, p.Unknown)]
            said.used = not said.has(p.Span)


def _numbered_amraps(told: Sequence[Said]) -> None:
    """Read “AMRAP 1: …”, “AMRAP 2: …” as numbers of parts and no minutes."""
    heads = [(said, [*said.sentence.lead, *said.sentence.tokens][:3]) for said in told]
    heads = [(said, h) for said, h in heads if len(h) > 1]
    digits = [(said, int(h[1].number)) for said, h in heads if h[0].cue("amrap") and h[1].kind is Kind.NUMBER]
    words = [(said, ordinal(h[0].low)) for said, h in heads if h[1].cue("amrap") and ordinal(h[0].low)]
    rows = (row for row in (digits, words) if len(row) > 1)
    row = next((row for row in rows if [number for _, number in row] == list(range(1, len(row) + 1))), [])
    for said, number in row:
        timed = [x for x in said.of(p.Span) if x.seconds == MINUTE_S * number and x.lo < MOST_LABEL]
        said.phrases = [p.Cue(0, 1, "window", number), *(x for x in said.phrases if x not in timed)]


def _with_repeats(told: Sequence[Said]) -> tuple[Parts, tuple[Said, p.RoundCount] | None]:
    """Return where parts begin, and where it is told how often all of them are done."""
    found = _begins(told)
    repeats = _repeats(told, found)
    found.times = repeats[1].count if repeats else 1
    ranged = all(one.has(p.Range) or one.cue("amrap") for one in told if id(one) in found.begins)
    if repeats and ranged and repeats[0].cue("amrap") and found.times == len(found.begins):
        found.times = 1  # “2 x 6-minute AMRAP: 0:00–6:00 …, 9:00–15:00 …”
    if repeats and repeats[0].cue("window") and found.times == len(found.ranges) == len(found.begins):
        found.times = 1  # “4-minute windows x 3: 0:00–4:00 …, 4:00–8:00 …, 8:00–12:00 …”
    numbered = [said for said in told if any(c.name == "window" and c.number for c in said.of(p.Cue))]
    numbered = numbered or _in_ordinals(told)
    if len(found.begins) == 1 and len(numbered) == found.times > 1:
        # “3 x 3-minute intervals with 1 minute of rest: Interval 1: …”
        length = next(iter(found.begins.values()))
        found.begins, found.times = {id(said): length for said in numbered}, 1
    heads = [said for said in told if id(said) in found.begins]
    lengths = [span for said in heads[:1] for span in said.of(p.Span) if span.role == "amrap"]
    if len(heads) == 1 and len(numbered) == len(lengths) > 1:  # “AMRAP 7, rest 3 min, AMRAP 7: first AMRAP: …”
        found.begins = {
            id(said): (span.seconds, heads[0].tokens(span)) for said, span in zip(numbered, lengths, strict=True)
        }
    return found, repeats


def _in_ordinals(told: Sequence[Said]) -> list[Said]:
    """Return sentences of work told in order: “1st: 10 cleans + 10 burpees”, “2nd: 10 cleans + 10 pull-ups”."""
    heads = [(one, [*one.sentence.lead, *one.sentence.tokens][:2]) for one in told if one.has(p.WorkLine)]
    rows = [
        (one, ordinal(head[0].low))
        for one, head in heads
        if len(head) > 1 and (one.sentence.lead or head[1].mark(":"))
    ]
    lines = [one for one, number in rows if number]
    return lines if [number for _, number in rows if number] == list(range(1, len(lines) + 1)) else []


def _rest_by_the_clock(told: Sequence[Said]) -> None:
    """Read a stretch of the clock that is rest, “3:00–4:00 rest”, as so long a rest."""
    for said in told:
        resting = said.cue("rest") or BREAKS & said.low()
        for found in said.of(p.Range) if resting and not said.has(p.WorkLine, p.Span) else ():
            rest = p.Span(found.lo, found.hi, found.to_s - found.from_s, "rest")
            said.phrases = [rest if phrase is found else phrase for phrase in said.phrases]


def _one_rest_between(told: Sequence[Said]) -> None:
    """Keep one of several rests alike in a row of AMRAPs: “AMRAP 4 – rest 2 – AMRAP 4 – rest 2 – AMRAP 4”."""
    for said in told:
        rests = [span for span in said.of(p.Span) if span.role == "rest"]
        several = sum(span.role == "amrap" for span in said.of(p.Span)) > 1 and len(rests) > 1
        if several and len({span.seconds for span in rests}) == 1:
            said.phrases = [phrase for phrase in said.phrases if phrase not in rests[1:]]


def _bounded_otherwise(told: Sequence[Said]) -> bool:
    """Return whether the work is for time, in windows or stages, rises, or has a lift beside it."""
    for said in told:
        extended = any(span.role == "extend" for span in said.of(p.Span))
        most = said.has(p.Range) and MAX & said.low()  # “0–5: 50 cal ski for time, then max wall walks”
        bounded = said.cue("until_missed", "emom", "tiebreak") or (
            said.cue("for_time") and not (most or denied(said))
        )
        if bounded or extended or said.has(p.Step, p.Lift) or _gated(said):
            return True
    return False


def _begins(told: Sequence[Said]) -> Parts:
    """Find the sentences with which parts begin, each with its own time."""
    found = Parts(once=next((said for said in told if _rests_early(said)), None))
    climbing = [said for said in told if any(counts.open for counts in said.of(p.RepCounts))]
    open_ended = any(said.cue("amrap") for said in told)
    open_ended = open_ended or any(said.has(p.Range) and (MAX & said.low() or said in climbing) for said in told)
    for at, said in enumerate(told):
        begun = _begin(said, told[at + 1] if at + 1 < len(told) else None, open_ended)
        begun = begun or _listed(told, at) or (_timed_work(said) if found.once else None)
        begun = begun or _of_each_length(told, said)
        if begun is not None:
            found.begins[id(said)] = begun
            found.ranges += said.of(p.Range)
    for said, behind in pairwise(told):
        one, two = found.begins.get(id(said)), found.begins.get(id(behind))
        if one and two and one[0] == two[0] and not (said.has(p.WorkLine, p.Range) or _numbered(said)):
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
    return counted and said.has(p.Range) and not (said.cue("amrap", "repeat") or MAX & said.low())


def _rests_early(said: Said) -> bool:
    """Return whether the time somebody has left is rest: “any remaining time is rest”, “finish early and rest”."""
    words = {word for token in said.sentence.tokens for word in token.low.split()}
    return "rest" in words and bool(EARLY & words) and not said.has(p.Span)


def _timed_work(said: Said) -> tuple[float, list[Token]] | None:
    """Return the time told before counted work: “the athlete has 4 minutes to complete 25 burpees”."""
    works = [work for work in said.of(p.WorkLine) if work.counts]
    for found in said.of(p.Range) if works else ():
        return found.to_s - found.from_s, said.tokens(found)  # “0:00–4:00 30 cal row, 30 wall balls”
    spans = [span for span in said.of(p.Span) if works and span.hi <= works[0].lo and span.seconds >= LEAST_PART_S]
    return (spans[-1].seconds, said.tokens(spans[-1])) if spans and HAVE & said.low() else None


def _of_each_length(told: Sequence[Said], said: Said) -> tuple[float, list[Token]] | None:
    """Return the time told once for all numbered parts: “Three couplets. 4 minutes each … Couplet 1: …”."""
    heads = [one for one in told if _numbered(one) and any(work.counts for work in one.of(p.WorkLine))]
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


def _drop_said_again(told: Sequence[Said], found: Parts) -> None:
    """Leave out a part that only says again what is done in the one before it."""
    heads = [said for said in told if id(said) in found.begins]
    lengths = [found.begins[id(said)][0] for said in heads]
    for (said, behind), (one_s, two_s) in zip(pairwise(heads), pairwise(lengths), strict=True):
        if one_s == two_s and _said_again(said, behind):
            del found.begins[id(behind)]


def _said_again(said: Said, behind: Said) -> bool:
    """Return whether a sentence says again what is done in the time before, “Seven minutes of burpees”."""
    names = [{work.movement for work in one.of(p.WorkLine)} for one in (said, behind)]
    counted = any(work.counts for one in (said, behind) for work in one.of(p.WorkLine))
    again = behind.cue("then", "rest", "again", "repeat") or behind.has(p.Range) or _numbered(behind)
    listed = said.sentence.bullet or behind.sentence.bullet or behind.sentence.first
    return len(names[0]) == 1 and names[0] == names[1] and not (counted or again or listed)


def _ask_about(draft: Draft, told: Sequence[Said]) -> None:
    """Ask about parts that go on where the last one ended, and about scores that are not added up."""
    if any("left off" in said.text().lower() for said in told):
        words = "the next part goes on where the last one was left: the notation has no words for it"
        ask(draft, words, [])
    again = [said for said in told if said.of(p.WorkLine) and any(x.count > 1 for x in said.of(p.RoundCount))]
    again = [said for said in again if any(span.role == "rest" for span in said.of(p.Span))]
    for said in again if len(again) > 1 else ():
        words = f"{said.text()[:LONGEST_DOUBT]}: how often, and with what rest between?"
        ask(draft, words, said.sentence.tokens)
    for said in told:
        if APART & said.low() and said.cue("score"):
            words = f"{said.text()[:LONGEST_DOUBT]}: the notation adds the reps of all parts up"
            ask(draft, words, said.sentence.tokens)


def _capped(told: Sequence[Said]) -> Parts | None:
    """Find numbered parts for time that have each a cap of its own, counted from when the part begins."""
    caps = [(s, x) for s in told for x in s.of(p.Span) if x.role == "cap" or s.sentence.section is Section.CAP]
    for_each = [(said, span) for said, span in caps if per_round(said, span)]
    starts = [i for i, said in enumerate(told) if _numbered(said) and all(said is not one for one, _ in for_each)]
    clocked = any(said.has(p.Range, p.Lift) or {"until", "running"} & said.low() for said in told)
    if len(starts) < 2 or clocked:
        return None
    if any(said.cue("amrap", "if", "extend") and said.sentence.section is Section.WORK for said in told):
        return None
    found = Parts()
    for begin, end in pairwise([*starts, len(told)]):
        caps = for_each or [
            (said, span) for said in told[begin:end] for span in said.of(p.Span) if span.role == "cap"
        ]
        if len(caps) != 1:
            return None
        said, span = caps[0]
        said.used = True
        found.begins[id(told[begin])] = span.seconds, said.tokens(span)
    return found


def _numbered(said: Said) -> bool:
    """Return whether a sentence begins with the number of a part, “Part A: …”, or holds nothing else."""
    cues = [cue for cue in said.of(p.Cue) if cue.name == "part" and cue.number and cue.lo < 4]
    return bool(cues) or any(token.cue("part") for token in said.sentence.lead)


def _gated(said: Said) -> bool:
    """Return whether a sentence lets only some go on."""
    return said.cue("if") and bool({"continue", "advance", "proceed", "move"} & said.low())


def _reps_not_loads(told: Sequence[Said]) -> None:
    """Read “4 min max ground-to-overhead” as reps where the other parts are as many as possible of something."""
    timed = [said for said in told if said.of(p.Span) and said.of(p.Span)[0].lo == 0 and MAX & said.low()]
    timed = timed if any(said.of(p.WorkLine) for said in timed) else []
    heads = ((said, behind) for said, behind in pairwise(told) if not said.has(p.WorkLine, p.Lift))
    timed += [b for said, b in heads if said.cue("amrap") and said.has(p.Span) and b.sentence.words <= MOST_LISTED]
    for said in timed:
        for lift in said.of(p.Lift) if not said.cue("score") else ():
            if not lift.more and lift.reps == 1 and not {"rm", "1rm", "load", "weight"} & said.low():
                work = p.WorkLine(lift.lo, lift.hi, lift.movement, ())
                said.phrases = [work if phrase is lift else phrase for phrase in said.phrases]


def _begin(said: Said, ahead: Said | None, open_ended: bool) -> tuple[float, list[Token]] | None:
    """Return the seconds of a part that begins with a sentence, and the words that say them.

    `open_ended` if the work is said to be as many reps as possible anywhere.
    """
    spans = [
        span
        for span in said.of(p.Span)
        if span.role in ("amrap", "", "within", "every") and span.seconds >= LEAST_TIME_S
    ]
    most = _most(said)
    for found in said.of(p.Range):
        rest = bool(BREAKS & said.low()) or any(token.cue("rest") for token in said.sentence.tokens)
        follows = ahead is not None and (ahead.cue("amrap") or bool(MAX & ahead.low()))
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
    window = window or (_numbered(said) and bool({"same", "again"} & said.low()))
    works = said.of(p.WorkLine)
    stationed = works and not any(work.counts for work in works) and spans and spans[0].lo < 2
    if spans and not said.cue("score") and (most or window or working or stationed):
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
    timed = (i for i in range(at + 1, len(told)) if told[i].has(p.Span, p.Range))
    listed = [
        other for other in told[at + 1 : next(timed, len(told))] if other.has(p.WorkLine) and not _scores(other)
    ]
    most = listed and _most(listed[-1]) and any(not work.counts for work in listed[-1].of(p.WorkLine))
    return (spans[0].seconds, said.tokens(spans[0])) if most else None


def _scores(said: Said) -> bool:
    return said.cue("score") or said.sentence.section is Section.SCORE


def _most(said: Said) -> bool:
    """Return whether a sentence asks for as many as possible: “max push-ups”, “max reps of burpees”."""
    return said.cue("amrap") or any(token.low.split()[0] in MAX for token in said.sentence.tokens)


def _paced(told: Sequence[Said]) -> tuple[Parts, tuple[Said, p.RoundCount] | None] | None:
    """Return parts that begin by the clock and end with as many as possible, and where their number is told.

    “Every minute for 15 minutes: 3 power cleans, then max burpees in what is left of the minute.”
    """
    for at, said in enumerate(told):
        length = interval_of(said) or _lasting(said)
        whole = [span for span in said.of(p.Span) if length and span.seconds > length and not span.seconds % length]
        rounds = [one for one in said.of(p.RoundCount) if one.count > 1]
        if length and said.has(p.WorkLine) and not (whole or rounds):
            whole = _whole_before(told[:at], length)  # “The clock runs for 10 minutes. At the start of each …”
        listed = [other for other in told[at : at + MOST_LISTED] if other.has(p.WorkLine)]
        most = [
            other
            for other in listed
            if (_most(other) or other.cue("remaining"))
            and (any(not x.counts for x in other.of(p.WorkLine)) or (other.cue("then") and other.cue("amrap")))
        ]
        if length and most and (whole or rounds):
            times = rounds[0].count if rounds else round(whole[0].seconds / length)
            found = Parts({id(listed[0]): (length, said.sentence.tokens)}, times=times, clocked=True)
            return found, ((said, rounds[0]) if rounds else None)
    return None


def _lasting(said: Said) -> float:
    """Return how long each round is told to last: “each round is 3:00 long”; 0 if it is not said."""
    spans = said.of(p.Span)
    told = said.cue("each_round") and {"long", "lasts", "takes"} & said.low()
    return spans[0].seconds if told and len(spans) == 1 else 0.0


def _whole_before(told: Sequence[Said], length: float) -> list[p.Span]:
    """Return the one time told before, of the whole, that holds several stretches of a length."""
    plain = [said for said in told if not any(work.counts for work in said.of(p.WorkLine))]
    spans = [span for said in plain for span in said.of(p.Span) if span.role in ("", "amrap", "within", "cap")]
    return (
        [span for span in spans if span.seconds > length and not span.seconds % length] if len(spans) == 1 else []
    )


def _own_minutes(told: Sequence[Said]) -> tuple[Parts, tuple[Said, p.RoundCount] | None] | None:
    """Return parts of a minute with work of their own, told by number: “Min 1: 15 cal row”, “Min 2: rest”."""
    lines = [said for said in told if _minute_of(said)]
    numbers = [_minute_of(said) for said in lines]
    if not lines:
        lines = _listed_minutes(told)
        numbers = list(range(1, len(lines) + 1))
    works = [said for said in lines if said.has(p.WorkLine)]
    counts = [(said, one) for said in told for one in (*said.of(p.RoundCount), *_times_alone(said))]
    rounds = [(said, one) for said, one in counts if one.count > 1]
    emoms = [(said, span) for said in told for span in said.of(p.Span)]
    whole = [span for said, span in emoms if span.role == "emom" or (said.cue("emom") and not span.role)]
    lap_s = MINUTE_S * len(lines)
    if any(said.cue("until_missed", "for_time") for said in told):
        return None
    if len(lines) < 2 or numbers != list(range(1, len(lines) + 1)) or not (rounds or whole):
        return None
    times = rounds[0][1].count if rounds else round(whole[0].seconds / lap_s)
    if times > MOST_TIMES or (not rounds and whole[0].seconds % lap_s):
        return None
    for said in lines:
        _without_number(said)
        if said.cue("rest") and not said.has(p.WorkLine):
            end = len(said.sentence.tokens)
            said.phrases = [p.Span(0, end, MINUTE_S, "rest")]
    found = Parts({id(said): (MINUTE_S, list(said.sentence.lead)) for said in works}, times=times, once=lines[0])
    return found, (rounds[0] if rounds else None)


def _listed_minutes(told: Sequence[Said]) -> list[Said]:
    """Return the lines of a list with one for each minute: “EMOM 20 (4 movements, 5 rounds)”, and four below."""
    for at, said in enumerate(told):
        minutes = [span.seconds for span in said.of(p.Span) if span.role == "emom"]
        listed = takewhile(lambda one: one.sentence.bullet, told[at + 1 :])
        behind = list(takewhile(lambda one: one.has(p.WorkLine) or one.cue("rest"), listed))
        lines = behind if said.cue("emom") and len(minutes) == 1 else []
        rounds = {one.count for one in said.of(p.RoundCount)}
        turns = bool(rounds) and minutes[:1] == [MINUTE_S * len(lines) * max(rounds)]
        if len(lines) > 1 and (turns or ROTATING & said.low()) and not minutes[0] % (MINUTE_S * len(lines)):
            return lines
    return []


def _minute_of(said: Said) -> int:
    """Return the number of the minute a sentence begins with, 0 for none; odd ones are the first of two."""
    head = [*said.sentence.lead, *said.sentence.tokens][:2]
    named = bool(said.sentence.lead) or (len(head) > 1 and (head[1].mark(":-–") or head[1].low in MINUTES))
    if head and head[0].low in IN_TURN and named:
        return IN_TURN.index(head[0].low) + 1
    numbered = len(head) > 1 and head[0].low in ("minute", "min") and head[1].kind is Kind.NUMBER
    return int(head[1].number) if numbered else 0


def _times_alone(said: Said) -> list[p.RoundCount]:
    """Return how often minutes come again where a line says nothing else: “x4”, “4x”."""
    tokens = said.sentence.tokens
    numbers = [token for token in tokens if token.kind is Kind.NUMBER]
    alone = len(tokens) == 2 and len(numbers) == 1 and any(token.low in ("x", "×") for token in tokens)
    return [p.RoundCount(0, 2, int(numbers[0].number))] if alone and not said.has(p.RoundCount) else []


def _without_number(said: Said) -> None:
    """Leave out what was read of the number of a minute."""
    tokens = said.sentence.tokens
    at = 1 if tokens[0].low in ("minute", "min") else -1
    said.phrases = [x for x in said.phrases if not (isinstance(x, p.Unknown) and x.lo <= at < x.hi)]


def _repeats(told: Sequence[Said], found: Parts) -> tuple[Said, p.RoundCount] | None:
    """Return where it is said how often all parts are done: “3 minutes of work, 1 minute of rest, 4 rounds”."""
    counts = [
        (said, rounds)
        for said in told
        for rounds in said.of(p.RoundCount)
        if (said.cue("window") or not any(work.counts for work in said.of(p.WorkLine)))
        and (
            id(said) in found.begins
            or any(span.role == "rest" for span in said.of(p.Span))
            or said is told[0]
            or (said.cue("repeat") and bool(found.begins))
            or (
                said.sentence.words <= SHORT
                and not any(
                    id(before) in found.begins and before.has(p.WorkLine) for before in told[: told.index(said)]
                )
            )
        )
    ]
    return counts[0] if len(counts) == 1 and counts[0][1].count <= MOST_TIMES else None


def close_parts(draft: Draft, parts: Parts) -> None:
    """Put the parts in order, what they rest between them, and the last movement without a count to the end."""
    builder = draft.builder
    nodes = builder.parts
    before = next((node for node in builder.body if isinstance(node.block, w.Rest)), None)
    if before is not None and (len(nodes) > 1 or parts.times > 1) and builder.parting is None:
        builder.body.remove(before)
        builder.parting = before
    body: list[Node] = []
    for number, node in enumerate(nodes):
        leading, trailing = _rests(node)
        gap_s = (
            parts.ranges[number].from_s - parts.ranges[number - 1].to_s if _ranged(parts, nodes, number) else 0.0
        )
        if number and not leading and not isinstance(body[-1].block, w.Rest):
            parting = builder.parting
            leading = [Node(list(parting.tokens), parting.block)] if parting else []
            leading = [Node([], w.Rest(gap_s))] if gap_s > 0 else leading
        if not any(True for _ in node.items()):
            _again(draft, node, nodes[number - 1] if number else None)
        _endless(node)
        _climb(draft, node)
        if parts.once is not None or number in parts.alone:
            _do_once(node)
        body += [*leading, node, *trailing]
    while body and isinstance(body[0].block, w.Rest):
        body.append(body.pop(0))  # a rest told before the first part comes behind every one
    rest = [body.pop()] if body and isinstance(body[-1].block, w.Rest) else []
    if not rest and builder.parting is not None:
        rest = [Node([], builder.parting.block)]
    once = list(body)
    for _ in range(parts.times - 1):
        body += [*rest, *once]
    builder.body = [*builder.body, *body]
    draft.facts.used += parts.once.sentence.tokens if parts.once else []
    draft.facts.cap_s = _lasts_s(body)


def in_rounds(nodes: list[Node]) -> list[Node]:
    """Return blocks with parts that come again and again in rounds; written out they are the same nodes."""
    begin = next((i for i, node in enumerate(nodes) if isinstance(node.block, w.TimedPart)), len(nodes))
    end = next((i for i in range(begin, len(nodes)) if not isinstance(nodes[i].block, PARTED)), len(nodes))
    row = nodes[begin:end]
    for size in range(1, len(row) // 2 + 1):
        times, left = divmod(len(row), size)
        rest = row[left:size] if left else []
        again = all(one is other for one, other in zip(row, row[size:], strict=False))
        if again and times > 1 and all(isinstance(node.block, w.Rest) for node in rest):
            rounds = Node([], w.Rounds(times + bool(left), ()), inner=row[:size])
            return [*nodes[:begin], rounds, *nodes[end:]]
    return nodes


def cap_rounds(draft: Draft) -> None:
    """Make parts of rounds that have a cap each: “3 rounds, 2:00 rest between rounds; cap per round 4:00”."""
    facts, body = draft.facts, draft.builder.body
    if not facts.round_cap_s:
        return
    if _cap_each(draft):
        return
    rounds = [node for node in body if not isinstance(node.block, w.Doubt)]
    block = rounds[0].block if len(rounds) == 1 else None
    if not isinstance(block, w.Rounds) or not 1 < block.count <= MOST_TIMES:
        ask(draft, "a cap for each round: how many rounds, and what rest between them?", facts.round_cap_tokens)
        return
    leading, trailing = _rests(rounds[0])
    part = Node(list(facts.round_cap_tokens), w.TimedPart(facts.round_cap_s, ()), inner=rounds[0].inner)
    at = body.index(rounds[0])
    body[at : at + 1] = [node for _ in range(block.count) for node in (*leading, *trailing, part)][
        len(leading + trailing) :
    ]
    facts.cap_s = _lasts_s(body)


def _cap_each(draft: Draft) -> bool:
    """Make parts of what rests separate at the margin: “Each part capped at 7 minutes”."""
    facts, body = draft.facts, draft.builder.body
    groups: list[list[Node]] = [[]]
    for node in body:
        if isinstance(node.block, w.Rest):
            groups += [[node], []]
        elif not isinstance(node.block, w.Doubt):
            groups[-1].append(node)
    if len(groups) < LEAST_GROUPS or not all(groups):
        return False
    doubts = [node for node in body if isinstance(node.block, w.Doubt)]
    parts = [
        group[0]
        if isinstance(group[0].block, w.Rest)
        else Node(list(facts.round_cap_tokens), w.TimedPart(facts.round_cap_s, ()), inner=group)
        for group in groups
    ]
    body[:] = [*parts, *doubts]
    facts.cap_s = _lasts_s(body)
    return True


def _lasts_s(body: Sequence[Node]) -> float:
    """Return how long parts and the rests between them last if none is done early."""
    caps = sum(node.block.cap_s for node in body if isinstance(node.block, w.TimedPart))
    return caps + sum(node.block.seconds for node in body if isinstance(node.block, w.Rest))


def _ranged(parts: Parts, nodes: Sequence[Node], number: int) -> bool:
    return number > 0 and len(parts.ranges) == len(nodes)


def _rests(node: Node) -> tuple[list[Node], list[Node]]:
    """Take the rests off both ends of a part."""
    leading, trailing = list[Node](), list[Node]()
    while node.inner and isinstance(node.inner[0].block, w.Rest):
        leading.append(node.inner.pop(0))
    while node.inner and isinstance(node.inner[-1].block, w.Rest):
        trailing.insert(0, node.inner.pop())
    return leading, trailing


def _again(draft: Draft, node: Node, before: Node | None) -> None:
    """Fill a part that only says “repeat” with the work of the one before, ask about others without work."""
    said = draft.said[node.sentence : node.sentence + 2]
    if before is not None and any(one.cue("repeat") or "same" in one.low() for one in said):
        node.inner = list(before.inner)
        return
    words = said[0].text()[:LONGEST_DOUBT] if said else "a part"
    node.inner.append(Node(list(node.tokens), w.Doubt(f"{words}: what is done in it?")))


def _climb(draft: Draft, node: Node) -> None:
    """Fold rungs that are listed in a part, “3 thrusters, 3 pull-ups, 6 thrusters, 6 pull-ups …”, into a ladder."""
    lines = node.inner
    rungs = period(lines) if len(lines) > 1 and all(line.work for line in lines) else []
    if len(rungs) < 2 or not (draft.builder.etc or len(rungs) > 2):
        return
    block = folded(rungs)
    if block is None:
        for line in lines:
            line.rising = False
        return
    tokens = [token for rung in rungs[1:] for line in rung for token in line.tokens]
    node.inner = [Node(tokens, block, inner=list(rungs[0]))]


def _do_once(node: Node) -> None:
    """Let a part be done once, unless it ends with as many as possible."""
    last = node.inner[-1] if node.inner else None
    counted = last is not None and all(item.work and item.work.counts for item in last.items())
    climbs = last is not None and isinstance(last.block, w.Ladder) and not last.block.turns
    if counted and not climbs and isinstance(node.block, w.TimedPart):
        node.block = replace(node.block, once=True)


def _endless(node: Node) -> None:
    """Repeat to the end the last movement of a part that has no count, where others stand before it."""
    last = node.inner[-1] if node.inner else None
    if last is not None and last.work is not None and not last.work.counts and len(node.inner) > 1:
        node.inner[-1] = Node([], w.Rounds(0, ()), inner=[last])
