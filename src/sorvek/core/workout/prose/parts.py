"""Work in parts with a time each: several AMRAPs one after the other, with rests between them."""

from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise

from sorvek.core.workout import tree as w
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.bounding import SILENT, ask, denied, start_of
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.caps import per_round
from sorvek.core.workout.prose.draft import LONGEST_DOUBT, Said
from sorvek.core.workout.prose.headings import Section
from sorvek.core.workout.prose.intervals import MINUTE_S, interval_of
from sorvek.core.workout.prose.own_minutes import own_minutes
from sorvek.core.workout.prose.part_begins import BREAKS, MOST_TIMES, Parts, asks_most, find_begins, numbered
from sorvek.core.workout.prose.stations import find_stations
from sorvek.core.workout.prose.words import MOST, Kind, ordinal

LETTERS = [*"ABCDEF"]  # names of parts: “AMRAP A: …”
STATIONS = {"station", "stations", "movements", "exercises"}
SHORT = 3  # words of a line that only says how often all parts are done
# How stretches of work may be labelled in a row.
LABELS = (
    LETTERS,
    tuple(f"#{n}" for n in range(1, 7)),
    ("I", "II", "III", "IV", "V"),
    *(tuple(f"{x}{n}" for n in range(1, 7)) for x in "ABC"),
)
APART = {"separate", "separately", "apart", "individually", "independently"}
MOST_LISTED = 6  # lines below “every 2:00” that may end with as many as possible
MOST_LABEL = 3  # words at the head of a line that may number it: “AMRAP 2:”


def find_parts(draft: Draft) -> Parts:
    """Find where parts begin that have a time each and count reps; none where the work is bounded otherwise."""
    told = [said for said in draft.said if said.sentence.section not in SILENT and said is not draft.title]
    told = _without_last_lift(told)
    if capped := _capped(told):
        draft.facts.form = w.Form.FOR_TIME
        return capped
    _one_rest_between(told)
    _reps_not_loads(told)
    _numbered_amraps(told)
    minutes = own_minutes(told)
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
        counted = repeats is not None and repeats[0].cue("amrap", "window") and not repeats[0].cue("rounds")
        once = counted and found.times == len(stations.begins)  # “three 3-minute AMRAPs: 1) …, 2) …, 3) …”
        found = Parts(stations.begins, times=stations.times or (1 if once else found.times))
        draft.facts.used += stations.tokens
    rests = any(span.role == "rest" for said in told for span in said.of(p.Span))
    if len(found.begins) < 2 and not (found.begins and found.times > 1 and (rests or found.clocked)):
        return Parts()
    _drop_number(told, len(found.begins))
    _times_each(draft, told, found)
    _ask_about(draft, told)
    _rest_by_the_clock(told)
    if not rests and not found.ranges and found.times == 1:
        _rest_till_start(told, found)
    draft.facts.form = w.Form.PARTS
    if repeats:
        said, rounds = repeats
        said.phrases = [phrase for phrase in said.phrases if phrase is not rounds]
        draft.facts.used += said.tokens(rounds)
        said.used = True
    return found


def _without_last_lift(told: list[Said]) -> list[Said]:
    """Return sentences up to a lift behind several AMRAPs, which has a window of its own; all where none is so."""
    lifts = [i for i, said in enumerate(told) if said.has(p.Lift)]
    amraps = sum(said.cue("amrap") and said.has(p.Span) for said in told[: min(lifts, default=0)])
    alone = bool(lifts) and all(len(told[i].of(p.Span)) == 1 for i in lifts) and amraps > 1
    last = alone and not any(said.has(p.WorkLine) for said in told[lifts[0] :])
    return told[: lifts[0]] if last else told


def _times_each(draft: Draft, told: Sequence[Said], found: Parts) -> None:
    """Read how often single parts are done: “8 rounds of 20 s max rowing, 10 s rest; 8 rounds of 20 s …”."""
    counts: dict[int, tuple[Said, p.RoundCount]] = {}
    for before, said in pairwise([None, *told]):
        if said is None or id(said) not in found.begins:
            continue
        alone = before is not None and not before.has(p.WorkLine, p.Span)
        heads = [(s, one) for s in (before if alone else None, said) if s for one in s.of(p.RoundCount)]
        works = [work.lo for work in said.of(p.WorkLine)]
        first = [
            (s, one) for s, one in heads if one.count > 1 and (s is not said or one.lo < min(works, default=0))
        ]
        counts |= {id(said): pair for pair in first[:1]}
    if len(counts) < 2 or len(counts) < len(found.begins):
        return
    found.times = 1
    for key, (said, rounds) in counts.items():
        found.each[key] = min(rounds.count, MOST_TIMES)
        said.phrases = [phrase for phrase in said.phrases if phrase is not rounds]
        draft.facts.used += said.tokens(rounds)
        said.used = True


def _drop_number(told: Sequence[Said], parts: int) -> None:
    """Leave out how many parts there are where nothing else is said: “Three AMRAPs on one clock:”."""
    for said in told:
        if said.sentence.tokens[0].number == parts and said.cue("amrap") and not said.has(p.WorkLine):
            said.phrases = [phrase for phrase in said.phrases if not isinstance(phrase, p.Unknown)]
            said.used = not said.has(p.Span)
        of_all = [x for x in said.of(p.Unknown) if said.tokens(x)[0].number == parts]
        stations = [
            x for x in of_all if STATIONS & {token.low for token in said.tokens(x)}
        ]  # “each of the four stations”
        said.phrases = [phrase for phrase in said.phrases if phrase not in stations]


def _numbered_amraps(told: Sequence[Said]) -> None:
    """Read “AMRAP 1: …”, “AMRAP 2: …” as numbers of parts and no minutes."""
    heads = [(said, [*said.sentence.lead, *said.sentence.tokens][:3]) for said in told]
    several = [
        s for s in told if sum(span.role == "amrap" for span in s.of(p.Span)) > 1
    ]  # “AMRAP 4, rest 2, AMRAP 4”
    heads = [(said, h) for said, h in heads if len(h) > 1 and said not in several]
    digits = [(said, int(h[1].number)) for said, h in heads if h[0].cue("amrap") and h[1].kind is Kind.NUMBER]
    words = [(said, ordinal(h[0].low)) for said, h in heads if h[1].cue("amrap") and ordinal(h[0].low)]
    lettered = [(said, h[1].text) for said, h in heads if h[0].cue("amrap") and len(h[1].text) == 1]
    letters = [(said, LETTERS.index(text) + 1) for said, text in lettered if text in LETTERS]
    rows = (row for row in (digits, words, letters) if len(row) > 1)
    row = next((row for row in rows if [number for _, number in row] == list(range(1, len(row) + 1))), [])
    for said, number in row:
        timed = [x for x in said.of(p.Span) if x.seconds == MINUTE_S * number and x.lo < MOST_LABEL]
        said.phrases = [p.Cue(0, 1, "window", number), *(x for x in said.phrases if x not in timed)]


def _with_repeats(told: Sequence[Said]) -> tuple[Parts, tuple[Said, p.RoundCount] | None]:
    """Return where parts begin, and where it is told how often all of them are done."""
    found = find_begins(told)
    repeats = _repeats(told, found)
    found.times = repeats[1].count if repeats else 1
    ranged = all(one.has(p.Range) or one.cue("amrap") for one in told if id(one) in found.begins)
    begun = [one for one in told if id(one) in found.begins]
    told_once = ranged or not any(one.has(p.Span) for one in begun)  # “three 3-minute AMRAPs: 1) …, 2) …, 3) …”
    if repeats and told_once and repeats[0].cue("amrap", "window") and found.times == len(found.begins):
        found.times = 1  # “2 x 6-minute AMRAP: 0:00–6:00 …, 9:00–15:00 …”
    lasting = {begun[0] for begun in found.begins.values()}
    outlined = repeats is not None and {span.seconds for span in repeats[0].of(p.Span)} == lasting  # “2 x 6 min”
    if repeats and (outlined or repeats[0].cue("window")) and found.times == len(found.ranges) == len(found.begins):
        found.times = 1  # “4-minute windows x 3: 0:00–4:00 …, 4:00–8:00 …, 8:00–12:00 …”
    numbered = [said for said in told if any(c.name == "window" and c.number for c in said.of(p.Cue))]
    numbered = numbered or _in_ordinals(told) or _lettered(told)
    if len(found.begins) == 1 and len(numbered) == found.times > 1:
        # “3 x 3-minute intervals with 1 minute of rest: Interval 1: …”
        length = next(iter(found.begins.values()))
        found.begins, found.times = {id(said): length for said in numbered}, 1
    heads = [said for said in told if id(said) in found.begins]
    if len(heads) == 1 and len(numbered) > 1 and "each" in heads[0].low() and not heads[0].has(p.WorkLine):
        # “Three AMRAPs, three minutes each: first: …, second: …”
        length = found.begins[id(heads[0])]
        found.begins = {id(said): length for said in numbered}
        heads = numbered
    outline = [said for said in heads if told.index(said) < min(map(told.index, numbered), default=0)]
    if len(outline) == len(numbered) > 1 and not any(said.has(p.WorkLine) for said in outline):
        # “5 min AMRAP, rest 2 min, 5 min AMRAP”, then “AMRAP 1: …”, “AMRAP 2: …”
        begun_as = [found.begins[id(said)] for said in outline]
        found.begins = {id(said): length for said, length in zip(numbered, begun_as, strict=True)}
    if not found.begins and len(numbered) > 1 and (told_each := _for_each(told)):
        said, span = told_each  # “Four minutes each: AMRAP A: …, AMRAP B: …”
        found.begins = {id(one): (span.seconds, said.tokens(span)) for one in numbered}
    lengths = [span for said in heads[:1] for span in said.of(p.Span) if span.role == "amrap"]
    if len(heads) == 1 and len(numbered) == len(lengths) > 1:  # “AMRAP 7, rest 3 min, AMRAP 7: first AMRAP: …”
        found.begins = {
            id(said): (span.seconds, heads[0].tokens(span)) for said, span in zip(numbered, lengths, strict=True)
        }
    return found, repeats


def _for_each(told: Sequence[Said]) -> tuple[Said, p.Span] | None:
    """Return the one time that is told for each of several parts, and where."""
    plain = [said for said in told if not said.has(p.WorkLine) and {"each", "apiece"} & said.low()]
    spans = [(said, span) for said in plain for span in said.of(p.Span) if span.role in ("", "amrap", "within")]
    return spans[0] if len(spans) == 1 else None


def _lettered(told: Sequence[Said]) -> list[Said]:
    """Return lines of work labelled in a row before a colon: “A: …”, “B: …”; also “A1:”, “I:”."""
    rows: list[tuple[str, Said]] = []
    for said, behind in pairwise([*told, None]):
        assert said is not None
        tokens = [*said.sentence.lead, *said.sentence.tokens]
        colon = len(said.sentence.lead) or next((i for i, token in enumerate(tokens[:3]) if token.mark(":)")), 0)
        label = "".join(token.text for token in tokens[:colon] if not token.mark(":"))
        alone = colon == len(tokens) - 1 and behind is not None and behind.has(p.WorkLine)  # “A:” above its work
        rows += [(label, said)] if label and (alone or said.has(p.WorkLine)) else []
    for labels in LABELS:
        lines = [said for label, said in rows if label in labels]
        if len(lines) > 1 and [label for label, _ in rows if label in labels] == list(labels[: len(lines)]):
            return lines
    return []


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


def _rest_till_start(told: Sequence[Said], found: Parts) -> None:
    """Read when a part begins by the clock as the rest before it: “Part II (starts at 8:00)”."""
    elapsed_s = 0.0
    for before, said in pairwise([None, *told]):
        if said is None or id(said) not in found.begins:
            continue
        start = start_of(before) if before is not None and id(before) not in found.begins else None
        if start is not None and before is not None and start.seconds > elapsed_s > 0:
            rest = replace(start, seconds=start.seconds - elapsed_s, role="rest")
            before.phrases = [rest if phrase is start else phrase for phrase in before.phrases]
            elapsed_s = start.seconds
        elapsed_s += found.begins[id(said)][0]


def _one_rest_between(told: Sequence[Said]) -> None:
    """Keep one of several rests alike in a row of AMRAPs: “AMRAP 4 – rest 2 – AMRAP 4 – rest 2 – AMRAP 4”."""
    for said in told:
        rests = [span for span in said.of(p.Span) if span.role == "rest"]
        several = sum(span.role == "amrap" for span in said.of(p.Span)) > 1 and len(rests) > 1
        if several and len({span.seconds for span in rests}) == 1:
            said.phrases = [phrase for phrase in said.phrases if phrase not in rests[1:]]


def _bounded_otherwise(told: Sequence[Said]) -> bool:
    """Return whether the work is for time, in windows or stages, rises, or has a lift beside it."""
    # “every minute on the minute 5 pull-ups, burpees for the rest of the minute”
    filled = any(said.cue("remaining") and asks_most(said) for said in told)
    for said in told:
        extended = any(span.role == "extend" for span in said.of(p.Span))
        most = said.has(p.Range) and MOST & said.low()  # “0–5: 50 cal ski for time, then max wall walks”
        bounded = said.cue("until_missed", "tiebreak") or (said.cue("emom") and not filled)
        bounded = bounded or (said.cue("for_time") and not (most or denied(said)))
        if bounded or extended or said.has(p.Step, p.Lift) or _gated(said):
            return True
    return False


def _ask_about(draft: Draft, told: Sequence[Said]) -> None:
    """Ask about parts that go on where the last one ended, and about scores that are not added up."""
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
    starts = [i for i, said in enumerate(told) if numbered(said) and all(said is not one for one, _ in for_each)]
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


def _gated(said: Said) -> bool:
    """Return whether a sentence lets only some go on."""
    return said.cue("if") and bool({"continue", "advance", "proceed", "move"} & said.low())


def _reps_not_loads(told: Sequence[Said]) -> None:
    """Read “4 min max ground-to-overhead” as reps where the other parts are as many as possible of something."""
    timed = [said for said in told if said.of(p.Span) and said.of(p.Span)[0].lo == 0 and MOST & said.low()]
    timed = timed if any(said.of(p.WorkLine) for said in timed) else []
    heads = ((said, behind) for said, behind in pairwise(told) if not said.has(p.WorkLine, p.Lift))
    timed += [b for said, b in heads if said.cue("amrap") and said.has(p.Span) and b.sentence.words <= MOST_LISTED]
    for said in timed:
        for lift in said.of(p.Lift) if not said.cue("score") else ():
            if not lift.more and lift.reps == 1 and not {"rm", "1rm", "load", "weight"} & said.low():
                work = p.WorkLine(lift.lo, lift.hi, lift.movement, ())
                said.phrases = [work if phrase is lift else phrase for phrase in said.phrases]


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
            if (asks_most(other) or other.cue("remaining"))
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
    alike = len({span.seconds for span in spans}) == 1
    return [span for span in spans if span.seconds > length and not span.seconds % length] if alike else []


def _of_each(said: Said, rounds: p.RoundCount) -> bool:
    """Return whether rounds are told before the time of each: “six rounds, each with a cap of 2 minutes: …”."""
    spans = [span.lo for span in said.of(p.Span)]
    behind = [work.lo for work in said.of(p.WorkLine)]
    return "each" in said.low() and bool(spans and behind) and rounds.hi <= spans[0] < behind[0]


def _repeats(told: Sequence[Said], found: Parts) -> tuple[Said, p.RoundCount] | None:
    """Return where it is said how often all parts are done: “3 minutes of work, 1 minute of rest, 4 rounds”."""
    counts = [
        (said, rounds)
        for said in told
        for rounds in said.of(p.RoundCount)
        if (said.cue("window") or _of_each(said, rounds) or not any(x.counts for x in said.of(p.WorkLine)))
        and (
            id(said) in found.begins
            or any(span.role == "rest" for span in said.of(p.Span))
            or said is told[0]
            or (said.cue("repeat") and bool(found.begins))
            or bool({"around", "through"} & said.low())
            or (
                said.sentence.words <= SHORT
                and not any(
                    id(before) in found.begins and before.has(p.WorkLine) for before in told[: told.index(said)]
                )
            )
        )
    ]
    return counts[0] if len(counts) == 1 and counts[0][1].count <= MOST_TIMES else None
