"""Stations: so long at each, then a rest, and on to the next: “40 s on, 20 s off: box jumps, swings”."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from itertools import dropwhile, pairwise, takewhile

from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.chunks import chunk
from sorvek.core.workout.prose.draft import Said
from sorvek.core.workout.prose.intervals import MINUTE_S, interval_of
from sorvek.core.workout.prose.phrases import whole
from sorvek.core.workout.prose.words import Kind, Token

LEAST_STATIONS = 2
SHORT = 4  # words of a line that is only a rest
MOST_BEHIND = 4  # words behind a rest that say what it follows
NUMBERED = {"station", "exercise", "movement", "amrap"}
EACH = {"each", "per", "every", "apiece"}


@dataclass(slots=True)
class Stations:
    """Sentences with which a station begins, by identity: its seconds and words; `times` 0 if it is not said.

    `tokens` are the words that tell how long the whole lasts.
    """

    begins: dict[int, tuple[float, list[Token]]] = field(default_factory=dict)
    times: int = 0
    tokens: list[Token] = field(default_factory=list)


def find_stations(told: Sequence[Said]) -> Stations | None:
    """Find movements without a count, one a sentence, below a time to work and a time to rest at each."""
    for at, head in enumerate(told):
        working = [span for span in head.of(p.Span) if span.role in ("", "within", "amrap")]
        resting = [span for span in head.of(p.Span) if span.role == "rest"]
        apart = head.low() & EACH and not resting  # “each movement for one minute”
        rested = len(resting) == 1 and working and working[0].lo < resting[0].lo
        if not (working and (rested or apart)) or head.has(p.WorkLine):
            continue
        listed = takewhile(_station_or_rest if apart else _station, told[at + 1 :])
        stations = _without_loads([said for said in listed if _station(said)])
        if len(stations) < LEAST_STATIONS or all(said.has(p.Range) for said in stations):
            continue  # “Station 1 – 0:00-5:00: …” has its own time
        tokens = head.tokens(working[0])
        number = head.sentence.tokens[0].number
        for count in head.of(p.Unknown) if number == len(stations) else ():  # “4 x AMRAP 2 minutes”
            tokens = [*tokens, *head.tokens(count)]
            head.phrases = [phrase for phrase in head.phrases if phrase is not count]
        after_laps = resting and _of_laps(head, resting[0])
        if after_laps:  # it follows the last station of every round
            last, tokens = stations[-1], [*tokens, *head.tokens(resting[0])]
            end = len(last.sentence.tokens)
            last.phrases = [*last.phrases, p.Span(end, end, resting[0].seconds, "rest")]
            head.phrases = [phrase for phrase in head.phrases if phrase is not resting[0]]
        for rest in told[at + 1 + len(stations) : at + 2 + len(stations)]:
            if rest.sentence.words == 1 and rest.cue("rest"):  # a station of rest
                rest.phrases = [p.Span(0, len(rest.sentence.tokens), working[0].seconds, "rest")]
        found = Stations({id(said): (working[0].seconds, tokens) for said in stations})
        rests = 1 if after_laps else len(stations)
        lap_s = len(stations) * working[0].seconds + rests * sum(span.seconds for span in resting)
        whole = [span for span in working[1:] if span.seconds % lap_s == 0]
        if whole:
            found.times, found.tokens = round(whole[0].seconds / lap_s), head.tokens(whole[0])
        return found
    return None


def _station_or_rest(said: Said) -> bool:
    """Return whether a line is a station, or a rest between two: “rest 2 min”."""
    spans = said.of(p.Span)
    return _station(said) or (
        len(spans) == 1 and spans[0].role == "rest" and not said.has(p.WorkLine) and said.sentence.words <= SHORT
    )


def _of_laps(head: Said, rest: p.Span) -> bool:
    """Return whether a rest comes after a round of all stations: “no rest between them, 1:00 after each round”."""
    behind = head.sentence.tokens[rest.hi : rest.hi + MOST_BEHIND]
    return any(token.cue("each_round", "rounds") for token in behind)


def _without_loads(stations: list[Said]) -> list[Said]:
    """Return stations without what only gives one its load below them: “Wall balls: 9/6 kg”."""
    seen: set[str] = set()
    for at, said in enumerate(stations):
        work = said.of(p.WorkLine)[0]
        if work.movement in seen and work.sizes:
            return stations[:at]
        seen.add(work.movement)
    return stations


def unnumber_stations(draft: Draft) -> None:
    """Leave out the numbers of stations, which are no counts: “Station 1 - wall balls”, “AMRAP 2 box jumps”."""
    heads = [said for said in draft.said if _numbered(said)]
    numbers = [said.sentence.tokens[1].number for said in heads]
    if len(heads) < LEAST_STATIONS or numbers != list(range(1, len(heads) + 1)):
        return
    for said in heads:
        tokens = said.sentence.tokens
        named = list(dropwhile(lambda token: token.kind is Kind.MARK, tokens[2:]))
        draft.facts.used += tokens[: len(tokens) - len(named)]
        said.sentence = replace(said.sentence, tokens=named)
        said.phrases = chunk(said.sentence, draft.library)


def _numbered(said: Said) -> bool:
    """Return whether a sentence begins with a word for a station, its number, and one movement behind it."""
    tokens = said.sentence.tokens
    counted = len(tokens) > LEAST_STATIONS and tokens[0].low in NUMBERED and tokens[1].kind is Kind.NUMBER
    return counted and len(said.of(p.WorkLine)) == 1 and not said.has(p.Span)


def split_stations(draft: Draft) -> None:
    """Make a sentence of each station of a list: “one minute each: rowing (calories), wall balls, burpees”.

    Also of a list with the time at each: “1 minute of step-ups, 1 minute of rowing, 1 minute of rest”.
    """
    found: list[Said] = []
    for at, said in enumerate(draft.said):
        works = said.of(p.WorkLine)
        head = draft.said[at - 1] if at else said
        _take_rotation(said)
        spans = [span for span in said.of(p.Span) if span.role in ("", "within", "amrap")]
        listed = len(works) >= LEAST_STATIONS and not any(work.counts or work.pointed for work in works)
        behind = bool(spans) and bool(works) and all(span.hi <= works[0].lo for span in spans)
        starts = [work.lo for work in works] if behind and said.low() & EACH else _timed_starts(said, spans, works)
        timed = head.sentence.tokens[-1].mark(":") and head.low() & {*EACH, "station"} and not head.has(p.WorkLine)
        if timed and head.has(p.Span) and not spans:  # “1:00 per station, 15 s to change:”, and a list below
            starts = [x.lo - (x.lo > 0 and said.sentence.tokens[x.lo - 1].unit("cal")) for x in works]
        if said is draft.title or not (listed and starts and not said.has(p.Lift)):
            found.append(said)
            continue
        cuts = dict.fromkeys([0, *starts, len(said.sentence.tokens)])
        for lo, hi in pairwise(cuts):
            part = replace(said.sentence, tokens=said.sentence.tokens[lo:hi], first=lo == 0, lead=[])
            found.append(Said(part, chunk(part, draft.library)))
            _take_rotation(found[-1])
    draft.said[:] = found


def _take_rotation(said: Said) -> None:
    """Read “rotating every minute” as the time at each station."""
    tokens = said.sentence.tokens
    turns = {"rotating", "rotate"} & said.low() and interval_of(said) == MINUTE_S and not said.of(p.Span)
    at = next((i for i, token in enumerate(tokens) if token.low in ("minute", "every minute")), 0)
    if turns and at:
        said.phrases = sorted([*said.phrases, p.Span(at, at + 1, MINUTE_S)], key=lambda phrase: phrase.lo)


def _timed_starts(said: Said, spans: list[p.Span], works: list[p.WorkLine]) -> list[int]:
    """Return where the stations of a list begin that each have their time, and the rest behind them."""
    rests = [span for span in said.of(p.Span) if span.role == "rest"]
    times = sorted([*spans, *rests], key=lambda span: span.lo)
    ends = [*(span.lo for span in times[1:]), len(said.sentence.tokens)]
    end_of = {id(span): end for span, end in zip(times, ends, strict=True)} if times else {}
    paired = len(spans) == len(works) and all(a.hi <= b.lo for a, b in zip(spans, works, strict=True))
    in_turn = paired and all(work.hi <= end_of[id(span)] for span, work in zip(spans, works, strict=True))
    alike = len({span.seconds for span in spans}) == 1 and len({span.seconds for span in rests}) <= 1
    return [_start_of(said, span) for span in times] if in_turn and alike else []


def _start_of(said: Said, span: p.Span) -> int:
    """Return where a time begins with the word for a rest before it: “rest for 1 minute”."""
    near = range(span.lo - 1, max(-1, span.lo - MOST_BEHIND), -1)
    resting = (at for at in near if said.sentence.tokens[at].cue("rest"))
    return next(resting, span.lo) if span.role == "rest" else span.lo


def count_each(draft: Draft) -> None:
    """Give movements listed below their common count: “50 reps each for time:”, “7 rounds of 7 reps:”."""
    for at, head in enumerate(draft.said):
        tokens, behind = head.sentence.tokens, draft.said[at + 1 :]
        series = any(len(row.counts) > 1 for row in head.of(p.RepCounts))  # “21 reps each, then 15 reps each of:”
        each = {"each"} & {token.low for token in tokens[1:4]} and not head.has(p.RoundCount)
        counted = whole(tokens[0]) and bool(each) and not (series or head.has(p.WorkLine, p.Span))
        reps = int(tokens[0].number) if counted else _reps_of_each(head)
        in_one = reps and not counted and bool(behind) and _uncounted_list(behind[0])
        listed = behind[:1] if in_one else list(takewhile(_station, behind)) if reps else []
        if not in_one and len(listed) < LEAST_STATIONS:
            continue
        head.used = head.used or counted
        draft.facts.used += tokens
        head.phrases = [x for x in head.phrases if not isinstance(x, p.Unknown | p.RepCounts)]
        for said in listed:
            said.phrases = [replace(x, counts=(reps,)) if isinstance(x, p.WorkLine) else x for x in said.phrases]


def _reps_of_each(head: Said) -> int:
    """Return the reps of each movement behind a number of rounds, 0 for none.

    “7 rounds of 7 reps, for time:”, “9 rounds, 9 reps of each:”.
    """
    words = [word for token in head.sentence.tokens for word in token.low.split()]
    rows = list(zip(words, words[1:], words[2:], strict=False))
    told = [int(b) for a, b, c in rows if a == "of" and b.isdigit() and c in ("reps", "repetitions")]
    told += [int(a) for a, b, c in rows if a.isdigit() and b in ("reps", "of") and c in ("of", "each")]
    plain = head.has(p.RoundCount) and not head.has(p.WorkLine, p.RepCounts)
    return told[0] if plain and len(told) == 1 else 0


def _uncounted_list(said: Said) -> bool:
    works = said.of(p.WorkLine)
    return len(works) > 1 and not any(work.counts for work in works)


def _station(said: Said) -> bool:
    """Return whether a sentence names one movement and no count."""
    works = said.of(p.WorkLine)
    return len(works) == 1 and not works[0].counts and not said.has(p.Span, p.RoundCount, p.RepCounts)
