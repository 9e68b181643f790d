"""How the work is bounded: the form and its time."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from itertools import pairwise

from sorvek.core.workout import tree as w
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.build import TURNS, Draft
from sorvek.core.workout.prose.draft import LONGEST_DOUBT, Said
from sorvek.core.workout.prose.intervals import MINUTE_S, interval_of
from sorvek.core.workout.prose.lines import Section
from sorvek.core.workout.prose.words import Kind, Token, ordinal, vocabulary

Spans = Sequence[tuple[Said, p.Span]]
MOST_START = 4  # words of a line that says when something begins
PIECES = {"couplets", "parts", "pieces", "workouts", "sections", "halves", "triplets", "blocks"}
ALTERNATE = {"alternate", "alternates"}
MOST_BEFORE = 7  # words between “each round” and its cap: “each round has a cap of 4 minutes”
HALL = {"heat", "heats", "lane", "lanes", "briefing", "video", "arrive", "doors"}
SHORTEST_FORM = 4  # words of a line that says nothing but “AMRAP in 8 minutes”
LEAST_TIME_S = 10  # no cap, window or obligatory rest is shorter; “a second for every rep” is
MOST = {"max", "maximum"}
FREE_ORDER = {"partition", "partitioned", "partitioning"}
SILENT = (Section.STANDARDS, Section.STORY, Section.SCALED)


@dataclass(slots=True)
class _Told:
    """The sentences and times that may say how the work is bounded."""

    usable: list[Said]
    spans: list[tuple[Said, p.Span]] = field(default_factory=list)
    ranges: list[tuple[Said, p.Range]] = field(default_factory=list)

    def cue(self, *names: str) -> list[Said]:
        """Return the sentences with one of the cues."""
        return [said for said in self.usable if said.cue(*names)]

    def role(self, *roles: str) -> list[tuple[Said, p.Span]]:
        """Return the times told for one of the purposes."""
        return [(said, span) for said, span in self.spans if span.role in roles]

    def has(self, kind: type[p.Phrase]) -> bool:
        """Return whether a phrase of a kind is said anywhere."""
        return any(said.has(kind) for said in self.usable)


def find_bounds(draft: Draft) -> None:
    """Find the form and its time."""
    told = _Told([said for said in draft.said if said.sentence.section not in SILENT])
    told.spans = [(said, span) for said in told.usable for span in said.of(p.Span)]
    owned = times_of_lifts(draft)
    told.spans = [pair for pair in told.spans if id(pair[0]) not in owned]
    told.ranges = [(said, found) for said in told.usable for found in said.of(p.Range)]
    _ask_interruptions(draft, told)
    if (
        _by_minutes(draft, told, told.cue("until_missed", "death"))
        or _on_the_minute(draft, told)
        or _windowed(draft, told)
    ):
        return
    _ask_parts(draft, told)
    amraps = [
        s for s in told.cue("amrap") if s.sentence.section is Section.WORK or not vocabulary("scores") & s.low()
    ]
    timed = [said for said in told.cue("for_time") if not said.cue("tiebreak") and not _denied(said)]
    if told.role("extend") or _numbered_stages(told.usable):
        draft.facts.form = w.Form.STAGES
        early = told.role("", "every", "cap", "within", "amrap", "before")
        draft.builder.first_s = early[0][1].seconds if early else 0.0
    elif amraps and not (timed and _later(draft, amraps, timed)):
        _amrap(draft, amraps, told.spans, told.ranges)
    elif not timed and (ahead := _over_again(told) or _until_time(told) or _as_many(draft, told)):
        said, span = ahead
        _form(draft, w.Form.AMRAP, span.seconds, said.tokens(span))
    elif timed or told.role("cap"):
        _ask_open_end(draft, told, timed)
        _for_time(draft, timed, told.spans)
    elif again := _repeated(told):
        said, span = again
        cues = [token for token in said.sentence.tokens if token.cue("repeat")]
        _form(draft, w.Form.AMRAP, span.seconds, [*cues, *said.tokens(span)])
    elif ahead := _unending(told):
        said, span = ahead
        _form(draft, w.Form.AMRAP, span.seconds, said.tokens(span))
    elif told.has(p.Lift) and not (
        told.has(p.RepCounts) or any(work.counts for said in told.usable for work in said.of(p.WorkLine))
    ):
        draft.facts.form = w.Form.LIFT
    else:
        _for_time(draft, [], told.spans)


def times_of_lifts(draft: Draft) -> dict[int, Spans]:
    """Return by sentence the times that are told right behind a max lift, before other work: its window.

    “1-rep-max snatch. Time cap: 7 minutes. … For time: 50 calories. Time cap: 8 minutes.”
    """
    owned: dict[int, Spans] = {}
    bounded = [said for said in draft.said if said.has(p.WorkLine) and not said.has(p.Lift)]
    for at, said in enumerate(draft.said):
        if not said.of(p.Lift) or said.has(p.WorkLine, p.Span, p.Range) or said is draft.title:
            continue
        for other in draft.said[at + 1 :]:
            ends = other.has(p.WorkLine, p.Lift, p.RoundCount, p.RepCounts) or other.cue("for_time", "amrap")
            if ends or other.sentence.section in SILENT:
                break
            found = [(other, span) for span in other.of(p.Span) if span.role in ("", "cap", "within")]
            later = any(draft.said.index(work) > draft.said.index(other) for work in bounded)
            if found and later:
                owned[id(other)] = found
    return owned


def _over_again(told: _Told) -> tuple[Said, p.Span] | None:
    """Return the time of work that begins again when it is done: “if you finish before the cap, start again”."""
    again = any(said.cue("repeat") and said.cue("if") for said in told.usable)
    spans = [pair for pair in told.spans if pair[1].role in ("cap", "within", "amrap", "")]
    return spans[0] if again and spans else None


def _until_time(told: _Told) -> tuple[Said, p.Span] | None:
    """Return the only time told of work that goes on “until the time is gone”."""
    spans = [pair for pair in told.role("", "cap", "within") if told.cue("until_time") and not pair[0].has(p.Lift)]
    return spans[0] if len({span.seconds for _, span in spans}) == 1 else None


def _repeated(told: _Told) -> tuple[Said, p.Span] | None:
    """Return where work is said to be repeated for so long: “keep repeating this for 9 minutes”."""
    bare = [pair for pair in told.role("") if pair[0].sentence.section is Section.WORK]
    endless = ("over and over", "again and again", "until the clock runs out")
    if len(bare) == 1 and any(words in said.text().lower() for said in told.usable for words in endless):
        return bare[0]  # “ten minutes: …, over and over until the clock runs out”
    for said, span in told.role(""):
        behind = said.sentence.tokens[span.hi : span.hi + 1]
        if behind and behind[0].low == "ladder":
            return said, span  # “10-minute ladder”
        again = said.cue("repeat") or "ladder" in said.low() or said.sentence.tokens[0].low == "rounds"
        before = [token.low for token in said.sentence.tokens[max(0, span.lo - 2) : span.lo]]
        if again and (before[-1:] == ["for"] or {"until", "till"} & set(before)):
            return said, span
    counted = [s for s in told.cue("score") if {"reps", "repetitions"} & s.low() and "time" not in s.low()]
    for said, span in told.role("") if counted and not told.cue("for_time") and not told.role("cap") else ():
        alone = span.hi - span.lo >= len(said.sentence.tokens) - 1
        if alone or (span.lo and said.sentence.tokens[span.lo - 1].low == "in"):
            return said, span  # “in 16 minutes: …; score: reps”
    return None


def _as_many(draft: Draft, told: _Told) -> tuple[Said, p.Span] | None:
    """Return the time of work that ends with as many as there is time for: “60 burpees, then max pull-ups”."""
    listed = [said for said in told.usable if said.sentence.section is Section.WORK]
    others = any(work.counts for said in listed for work in said.of(p.WorkLine))
    most = any(
        _most(said) and (said.cue("then", "remaining") or (others and said.sentence.tokens[0].low in MOST))
        for said in listed
    )
    roles = ("cap", "within", "")
    spans = [pair for pair in told.spans if pair[1].role in roles or _on_a_clock(*pair)]
    spans = [pair for pair in spans if not pair[0].has(p.Lift)] or spans
    working = [said for said in listed if said.has(p.WorkLine)]
    if len(working) == 1 and _most(working[0]) and not spans:
        spans = [*_ranged(draft, working)]  # “0:00 to 6:00: max calories on the rower”
    alone = len(working) == 1 and _most(working[0]) and len(spans) == 1  # “Ten minutes. Max calories on the rower.”
    return spans[0] if (most or alone) and spans else None


def _most(said: Said) -> bool:
    """Return whether a sentence asks for as many as possible of something, “max ring muscle-ups”, and no lift."""
    bare = [work for work in said.of(p.WorkLine) if not work.counts]
    return bool(MOST & said.low()) and bool(bare) and not said.has(p.Lift)


def _unending(told: _Told) -> tuple[Said, p.Span] | None:
    """Return the time of work that goes on and on: “9 minutes to climb: 2 …, 4 …, 6 … and so on”."""
    dots = any(cue.name == "etc" for said in told.usable for cue in said.of(p.Cue))
    if not (dots or told.cue("etc")):
        return None
    usable = [(said, span) for said, span in told.role("") if said.sentence.section is Section.WORK]
    return next((pair for pair in usable if not (pair[0].has(p.Lift) or pair[0].cue("if"))), None)


def _ask_parts(draft: Draft, told: _Told) -> None:
    """Ask about stretches of the clock with scores of their own, and about work in any order."""
    timed = [said for said, _ in told.ranges if said.cue("for_time")]
    open_ended = [
        said for said, _ in told.ranges if said.cue("amrap") or (MOST & said.low() and not said.has(p.Lift))
    ]
    if timed and open_ended:
        tokens = [token for said in (*timed, *open_ended) for token in said.sentence.tokens]
        ask(draft, "one part for time and one for reps: the notation has words for one score only", tokens)
    for said in told.usable:
        if said.cue("amrap") and said.cue("for_time") and said.cue("then") and len(said.of(p.Span)) > 1:
            ask(
                draft,
                "one part for time and one for reps: the notation has words for one score only",
                said.sentence.tokens,
            )
        free = FREE_ORDER & said.low() and not {"nothing", "no", "not", "never"} & said.low()
        if free or "any order" in said.text().lower():
            ask(
                draft,
                f"{said.text()[:LONGEST_DOUBT]}: the notation has no words for a free order",
                said.sentence.tokens,
            )


def _ask_open_end(draft: Draft, told: _Told, timed: Sequence[Said]) -> None:
    """Ask about work for as many reps as possible behind work for time."""
    for said in told.cue("amrap") if timed else ():
        conditional = said.cue("if", "score", "tiebreak") or {"not", "unfinished", "finish"} & said.low()
        alone = said.sentence.words <= SHORTEST_FORM and said.sentence.section is Section.WORK
        if (
            alone
            and not conditional
            and said is not timed[0]
            and draft.said.index(said) > draft.said.index(timed[0])
        ):
            words = "one part for time and one for reps: the notation has words for one score only"
            ask(draft, words, said.sentence.tokens)


def _on_the_minute(draft: Draft, told: _Told) -> bool:
    """Take work that begins anew every so often: “every 2:00 for 8 rounds”, “EMOM 10”."""
    open_ended = told.has(p.Step) or told.cue("until_missed")
    turned = next((said for said, span in told.spans if _each(said, span) and ALTERNATE & said.low()), None)
    if turned is not None:
        words = f"{turned.text()[:LONGEST_DOUBT].rstrip(':')}: how often, and what in which of them?"
        ask(draft, words, turned.sentence.tokens)
        turned.used = True
        return True
    for said, span in told.spans:
        rounds = said.of(p.RoundCount)
        if _each(said, span) and rounds and not open_ended:
            tokens = [*said.tokens(span), *said.tokens(rounds[0])]
            return _pace(draft, w.Every(span.seconds, rounds[0].count, ()), tokens)
        whole = [other for other in said.of(p.Span) if other.role == "" and other.seconds % span.seconds == 0]
        if _each(said, span) and len(whole) == 1 and whole[0].seconds > span.seconds and not open_ended:
            times = round(whole[0].seconds / span.seconds)  # “every two minutes for 20 minutes”
            return _pace(draft, w.Every(span.seconds, times, ()), [*said.tokens(span), *said.tokens(whole[0])])
        if span.role == "emom" and not _apart(told):
            return _pace(draft, w.Every(60.0, max(1, round(span.seconds / 60)), ()), said.tokens(span))
    if (paced := _told_apart(told)) and not open_ended:
        return _pace(draft, *paced)
    unsure = next(iter(told.cue("emom")), None)
    if unsure is not None and _in_turn(draft, told, unsure):
        return True
    apart = _apart(told)
    spans = [span for span in unsure.of(p.Span) if span.role == ""] if unsure is not None else []
    if unsure is not None and len(spans) == 1 and spans[0].seconds >= 120 and not (apart or open_ended):
        return _pace(draft, w.Every(60.0, round(spans[0].seconds / 60), ()), unsure.tokens(spans[0]))
    if unsure is not None:
        words = f"{unsure.text()[:LONGEST_DOUBT].rstrip(':')}: how often, and what in which minute?"
        ask(draft, words, unsure.sentence.tokens)
        unsure.used = True
    return unsure is not None


def _ask_interruptions(draft: Draft, told: _Told) -> None:
    """Ask about work that interrupts other work: “75 thrusters for time; every minute on the minute 5 burpees”."""
    bounded = told.cue("for_time", "amrap") or told.role("cap")
    paced = [said for said, span in told.role("every") if _each(said, span) and _in_between(draft, said)]
    apart = [said for said in told.usable if said.cue("emom") or any(said is other for other in paced)]
    for emom in apart if bounded else ():
        own = any(work.counts for work in emom.of(p.WorkLine))
        others = any(work.counts for said in told.usable if said is not emom for work in said.of(p.WorkLine))
        if own and others:
            words = f"{emom.text()[:LONGEST_DOUBT]}: the notation has no words for work that interrupts"
            ask(draft, words, emom.sentence.tokens)
            emom.phrases, emom.used, emom.doubted = [], True, True
            told.usable.remove(emom)
            told.spans = [pair for pair in told.spans if pair[0] is not emom]


def _in_between(draft: Draft, said: Said) -> bool:
    """Return whether a sentence has its own counted work at every interval, behind other work."""
    at = draft.said.index(said)
    works = [work for work in said.of(p.WorkLine) if work.counts]
    before = any(other.of(p.WorkLine) for other in draft.said[:at] if other is not draft.title)
    others = said.has(p.RoundCount, p.Step) or any(other.cue("until_missed") for other in draft.said)
    return bool(works) and before and not others


def _apart(told: _Told) -> bool:
    """Return whether the minutes of the clock have work of their own."""
    words = {"odd", "even", "alternating"} & set[str]().union(*(said.low() for said in told.usable))
    return bool(words) or len(_minutes(told)) > 1


def _told_apart(told: _Told) -> tuple[w.Every, list[Token]] | None:
    """Return rounds that begin by the clock, told in two sentences: “10 rounds. One starts every 2:00”."""
    counts = [(said, x) for said in told.usable for x in said.of(p.RoundCount) if x.count > 1 and not x.pointed]
    begins = ("rounds", "each_round")
    paced = [(said, span) for said, span in told.spans if _each(said, span) and said.cue(*begins)]
    if len(counts) != 1 or len(paced) != 1 or paced[0][0].has(p.WorkLine):
        return None
    (said, span), (other, rounds) = paced[0], counts[0]
    return w.Every(span.seconds, rounds.count, ()), [*said.tokens(span), *other.tokens(rounds)]


def _minutes(told: _Told) -> list[Said]:
    """Return sentences with the work of one numbered minute each: “Minute 1: 12 calories”, “Minute 2: …”."""
    heads = [(said, [*said.sentence.lead, *said.sentence.tokens][:2]) for said in told.usable]
    minutes = ("minute", "min")
    return [
        said
        for said, h in heads
        if len(h) > 1
        and ((h[0].low in minutes and h[1].kind is Kind.NUMBER) or (h[1].low in minutes and ordinal(h[0].low)))
    ]


def _in_turn(draft: Draft, told: _Told, said: Said) -> bool:
    """Take minutes that have work of their own in turn and are missed once: “odd minutes: …; even minutes: …”."""
    turns = {word for other in told.usable for word in TURNS & other.low()}
    missed, minutes = told.cue("until_missed"), _minutes(told)
    many = len(minutes) or 2
    spans = [span for span in said.of(p.Span) if span.seconds % (many * MINUTE_S) == 0]
    resting = any(other.cue("rest") for other in minutes)
    if (turns != TURNS and not minutes) or not missed or len(spans) > 1 or resting:
        return False
    draft.builder.alternating = said.used = True
    draft.builder.turns_at = {id(other) for other in minutes}
    draft.builder.intervals = round(spans[0].seconds / MINUTE_S / many) if spans else 0
    tokens = [token for token in said.sentence.tokens if token.cue("emom")]
    _form(draft, w.Form.WINDOWS, MINUTE_S, tokens + [t for span in spans for t in said.tokens(span)], missed[:1])
    return True


def _pace(draft: Draft, every: w.Every, tokens: Sequence[Token]) -> bool:
    draft.facts.every, draft.facts.every_tokens = every, list(tokens)
    draft.builder.intervals = every.count
    _form(draft, w.Form.FOR_TIME, every.seconds * every.count, [])
    return True


def _minute_by_minute(said: Said) -> int:
    """Return by how much work grows from minute to minute, 0 if that is not told.

    “In minute 1 do 1 clean, in minute 2 do 2”, “in the first minute one burpee, in the second two”.
    """
    tokens = said.sentence.tokens
    pairs: list[tuple[int, int]] = []
    for at, token in enumerate(tokens[:-1]):
        ahead = tokens[at + 1]
        named = token.unit("min") or token.low == "minute"
        numbered = named and ahead.kind is Kind.NUMBER
        place = int(ahead.number) if numbered else ordinal(token.low)
        behind = [t for t in tokens[at + 1 + numbered : at + 6] if t.kind is Kind.NUMBER]
        if place and behind:
            pairs.append((place, int(behind[0].number)))
    pairs = pairs or _counts_by_minute(tokens)
    steps = {b[1] - a[1] for a, b in pairwise(pairs)}
    in_turn = [place for place, _ in pairs] == list(range(1, len(pairs) + 1))
    return (
        max(0, steps.pop())
        if in_turn and len(steps) == 1 and any(t.low in ("minute", "min") for t in tokens)
        else 0
    )


def _counts_by_minute(tokens: Sequence[Token]) -> list[tuple[int, int]]:
    """Return minutes and counts told the other way round: “1 rep the first minute, 2 reps the second minute”."""
    pairs: list[tuple[int, int]] = []
    for at, token in enumerate(tokens):
        before = [t for t in tokens[max(0, at - MOST_START) : at] if t.kind is Kind.NUMBER]
        if ordinal(token.low) and before and any(t.low in ("minute", "min") for t in tokens[at : at + 3]):
            pairs.append((ordinal(token.low), int(before[-1].number)))
    return pairs


def _first_of(said: Said, step: int) -> list[p.WorkLine]:
    """Return the only movement of minutes told by their counts with the first of these."""
    named = said.of(p.WorkLine)
    first = next((count for place, count in _counts_by_minute(said.sentence.tokens) if place == 1), 0)
    return [replace(named[0], counts=(first,))] if step and first and len(named) == 1 else []


def _by_minutes(draft: Draft, told: _Told, missed: Sequence[Said]) -> bool:
    """Take a minute for every window, each with more work than the one before."""
    if missed and _minute_lines(draft, told, missed):
        return True
    for said in told.usable if missed else ():
        step = _minute_by_minute(said)
        works = [work for work in said.of(p.WorkLine) if work.counts]
        works = works or _first_of(said, step)
        if step and works:
            loads = said.of(p.Loads)
            alike = [work for work in works if work.counts == works[0].counts]  # “1 snatch + 1 burpee”
            said.phrases = [replace(work, pointed=False) for work in alike]
            said.phrases += [p.Step(alike[-1].hi, len(said.sentence.tokens), step), *loads]
            _form(draft, w.Form.WINDOWS, MINUTE_S, [], missed[:1])
            return True
    return False


def _minute_lines(draft: Draft, told: _Told, missed: Sequence[Said]) -> bool:
    """Take minutes told one by one with more of the same each time: “Minute 1: 1 burpee”, “Minute 2: 2 burpees”."""
    lines = [(said, said.of(p.WorkLine)) for said in _minutes(told)]
    if len(lines) < 2 or any(len(works) != 1 or len(works[0].counts) != 1 for _, works in lines):
        return False
    counts = [works[0].counts[0] for _, works in lines]
    steps, names = {b - a for a, b in pairwise(counts)}, {works[0].movement for _, works in lines}
    if len(steps) != 1 or len(names) != 1 or min(steps) <= 0:
        return False
    first, works = lines[0]
    first.phrases = [works[0], p.Step(works[0].hi, works[0].hi, steps.pop())]
    for said, _ in lines[1:]:
        draft.facts.used += said.sentence.tokens
        said.phrases, said.used = [], True
    _form(draft, w.Form.WINDOWS, MINUTE_S, [], missed[:1])
    return True


def _windowed(draft: Draft, told: _Told) -> bool:
    """Take windows of one length after the other, told by “every 3:00” or by the clock."""
    missed = told.cue("until_missed")
    every = [pair for pair in told.role("every") if not _on_a_clock(*pair)]
    every = every or ([pair for pair in told.role("") if _windows_of(*pair)] if missed else [])
    minutes = [said for said in told.usable if interval_of(said) == MINUTE_S and said.has(p.WorkLine)]
    if missed and minutes and not every:
        _form(draft, w.Form.WINDOWS, MINUTE_S, [], missed[:1])
        return True
    if _if_successful(draft, told):
        return True
    told_of = (Section.WORK, Section.CAP)
    each = [said for said in told.cue("each_round") if said.sentence.section in told_of]
    each = each if not any(told_of.count > 1 for said in told.usable for told_of in said.of(p.RoundCount)) else []
    if every and (missed or told.has(p.Step) or each):
        said, span = every[0]
        _form(draft, w.Form.WINDOWS, span.seconds, said.tokens(span), missed[:1])
        for rounds in said.of(p.RoundCount):
            near = said.sentence.tokens[max(0, rounds.lo - 1) : rounds.lo + 1]
            timed = any(token.low in ("x", "×") for token in near)  # “every 3 minutes x 5”
            if timed or any(token.cue("every") for token in said.sentence.tokens[rounds.hi : span.lo]):
                draft.builder.intervals = rounds.count
                draft.facts.tokens += said.tokens(rounds)
        return True
    if len(told.ranges) > 1 and (missed or told.cue("if", "window")) and not told.has(p.Lift):
        said, found = told.ranges[0]
        if len({r.to_s - r.from_s for _, r in told.ranges}) > 1 and not missed:
            draft.facts.form = w.Form.STAGES
            return True
        _form(draft, w.Form.WINDOWS, found.to_s - found.from_s, said.tokens(found), missed[:1])
        return True
    return False


def _if_successful(draft: Draft, told: _Told) -> bool:
    """Take windows told one by one: “In 3 minutes: … If successful, in the next 3 minutes: …”."""
    spans = [(said, span) for said, span in told.role("", "within") if said.has(p.WorkLine)]
    nexts = [said for said, _ in spans if said.cue("if") and "next" in said.low()]
    if len(spans) < 2 or len(nexts) != len(spans) - 1 or len({span.seconds for _, span in spans}) != 1:
        return False
    draft.builder.turns_at = {id(said) for said, _ in spans}
    _form(draft, w.Form.WINDOWS, spans[0][1].seconds, [t for said, span in spans for t in said.tokens(span)])
    return True


def _on_a_clock(said: Said, span: p.Span) -> bool:
    """Return whether a time is that of one clock: “on a clock of 6 minutes”."""
    before = said.sentence.tokens[max(0, span.lo - 3) : span.lo]
    return any(token.low == "on a" for token in before)


def _windows_of(said: Said, span: p.Span) -> bool:
    """Return whether a time is that of every window: “windows of two minutes”."""
    return any(token.cue("window") for token in said.sentence.tokens[max(0, span.lo - 2) : span.lo])


def _numbered_stages(usable: Sequence[Said]) -> bool:
    return sum(said.stage() is not None and bool(said.of(p.Span)) for said in usable) > 1


def _later(draft: Draft, amraps: Sequence[Said], timed: Sequence[Said]) -> bool:
    """Return whether “as many” is only said of who does not finish."""
    if any("time counts" in said.low() for said in timed):
        return True  # “finish early and your time counts”
    scoring = all(vocabulary("scores") & said.low() or said.cue("score", "if") for said in amraps)
    return scoring or draft.said.index(timed[0]) < draft.said.index(amraps[0])


def _form(draft: Draft, form: w.Form, cap_s: float, tokens: Sequence[Token], beside: Sequence[Said] = ()) -> None:
    draft.facts.form, draft.facts.cap_s = form, cap_s
    draft.facts.tokens += tokens
    for said in beside:
        draft.facts.tokens += [t for t in said.sentence.tokens if t.cue("until_missed")]


def _amrap(
    draft: Draft,
    amraps: Sequence[Said],
    spans: Sequence[tuple[Said, p.Span]],
    ranges: Sequence[tuple[Said, p.Range]],
) -> None:
    said = amraps[0]
    rested = any(span.role == "rest" for _, span in spans)
    again = [s for s, span in spans if span.role == "rest" and s.of(p.RoundCount) and not s.of(p.WorkLine)]
    if again:  # “3 min of work, 1 min of rest, 4 rounds”
        ask(draft, "more than one AMRAP: the notation has words for one only", again[0].sentence.tokens)
    working = [s for s in amraps if any(work.counts or rested for work in s.of(p.WorkLine))]
    if len(working) > 1:
        tokens = [token for s in working for token in s.sentence.tokens]
        ask(draft, "more than one AMRAP: the notation has words for one only", tokens)
    cues = [token for token in (*said.sentence.lead, *said.sentence.tokens) if token.cue("amrap", "possible")]
    resting = [s for s, _ in ranges if s.cue("rest") and not s.has(p.WorkLine)]  # “6:00-8:00 rest”
    ranges = [(s, found) for s, found in ranges if not s.of(p.Lift) and s not in resting]
    timed = [s for s, _ in ranges if s.cue("amrap")]
    if len(timed) > 1:
        tokens = [token for s in timed for token in s.sentence.tokens]
        ask(draft, "more than one AMRAP: the notation has words for one only", tokens)
    if ranges and not any(span.role == "amrap" for s, span in spans if s is said):
        at, found = ranges[0]
        _form(draft, w.Form.AMRAP, found.to_s - found.from_s, [*cues, *at.tokens(found)])
        return
    roles = ("amrap", "", "within", "every", "cap")
    own = [(s, span) for role in roles for s, span in spans if s is said and span.role == role]
    others = [
        (s, span)
        for role in ("amrap", "cap", "within", "every", "")
        for s, span in spans
        if s is not said and span.role == role
    ]
    others = [pair for pair in others if not pair[0].cue("lift", "tiebreak")]
    many = [s for s, span in spans if span.role == "amrap"]
    if len({span.seconds for _, span in spans if span.role == "amrap"}) > 1 or len(many) > 1:
        ask(
            draft,
            "more than one AMRAP: the notation has words for one only",
            [t for s in many for t in s.sentence.tokens],
        )
    if not (own or others):
        ask(draft, "as many reps as possible, but in what time?", cues)
        return
    at, span = (own or others)[0]
    _form(draft, w.Form.AMRAP, span.seconds, [*cues, *at.tokens(span)])


def _for_time(draft: Draft, timed: Sequence[Said], spans: Spans) -> None:
    cues = [
        token
        for said in timed[:1]
        for token in (*said.sentence.lead, *said.sentence.tokens)
        if token.cue("for_time")
    ]
    spans = [(s, span) for s, span in spans if not s.has(p.Lift) or s.has(p.WorkLine) or s.cue("cap", "for_time")]
    found = [(s, span) for s, span in spans if span.role == "cap"] or [
        (s, span) for s, span in spans if span.role == "within" and (not s.cue("if") or "not" in s.low())
    ]
    if not found:
        found = [(s, span) for s, span in spans if span.role in ("", "before", "every") and _limits(draft, s)]
    found = [(said, span) for said, span in found if span.seconds >= LEAST_TIME_S]
    if timed and not found:
        # “for time (25:00)”
        found = [(s, span) for s, span in spans if span.role == "" and _bare_cap(s, span, timed)]
        found = found if len({span.seconds for _, span in found}) == 1 else []
    if timed and not found:
        found = [*_lift_opens(draft)] or [*_ranged(draft, timed)]
    if not (timed or found):
        ask(draft, "it is not said how the work is bounded: for time, or as many reps as possible in a time?", [])
        return
    for said, span in found:
        if _per_round(said, span):
            draft.facts.round_cap_s, draft.facts.round_cap_tokens = span.seconds, said.tokens(span)
    found = list(_behind_a_lift(draft, found))
    last = max((span.seconds for _, span in found), default=0.0)
    _ask_caps(draft, found)
    for said, span in ((s, x) for s, x in spans if any(s is other for other, _ in found)):
        if span.seconds != last and said.sentence.tokens[span.lo - 1].cue("level", "men", "women"):
            words = f"{said.text()[:LONGEST_DOUBT]}: the notation has one cap for all divisions"
            ask(draft, words, said.sentence.tokens)
            said.used = True
    tokens = [token for s, span in found if span.seconds == last for token in s.tokens(span)]
    _form(draft, w.Form.FOR_TIME, last, [*cues, *tokens])


def _ranged(draft: Draft, timed: Sequence[Said]) -> Spans:
    """Return the time of the clock work has, “Part A (minutes 0 to 10): … for time”, as its cap."""
    ranges = [(said, found) for said in timed for found in said.of(p.Range)]
    before = draft.said[draft.said.index(timed[0]) - 1] if timed and timed[0] is not draft.said[0] else None
    if not ranges and before is not None and before.sentence.words <= MOST_START:
        ranges = [(before, found) for found in before.of(p.Range)]  # “0:00–6:00” on a line above “for time: …”
    return [(said, p.Span(found.lo, found.hi, found.to_s - found.from_s)) for said, found in ranges[:1]]


def _ask_caps(draft: Draft, found: Spans) -> None:
    """Ask about caps of different length."""
    if len({span.seconds for _, span in found}) > 1:
        ask(
            draft,
            "more than one time cap: " + "; ".join(s.text()[:60] for s, _ in found),
            [t for s, x in found for t in s.tokens(x)],
        )
        for said, _ in found:
            said.used = True


def _lift_opens(draft: Draft) -> Spans:
    """Return the clock at which a lift begins behind the work, “Starting at 12:00”: until then the work lasts."""
    for said, after in pairwise(draft.said):
        spans = [span for span in said.of(p.Span) if said.sentence.tokens[span.lo].kind is Kind.CLOCK]
        begins = {"starting", "start", "starts", "begin", "begins", "beginning", "at", "from"} & said.low()
        if spans and begins and spans[0].seconds and said.sentence.words <= MOST_START and after.has(p.Lift):
            said.used = True
            return [(said, spans[0])]
    return []


def _behind_a_lift(draft: Draft, found: Spans) -> Spans:
    """Return caps without what the clock reads then, where a lift goes before: “7 minutes (clock reads 13:00)”."""
    windows = {span.seconds for said in draft.said if said.has(p.Lift) for span in said.of(p.Span)}
    caps = {span.seconds for _, span in found}
    both = len(caps) == 2 and max(caps) - min(caps) in windows
    return [(said, span) for said, span in found if span.seconds == min(caps)] if both else found


def _bare_cap(said: Said, span: p.Span, timed: Sequence[Said]) -> bool:
    """Return whether a time without a word for what it is can be the cap of work for time.

    It stands beside “for time”, alone in its sentence, or behind “in”.
    """
    tokens = said.sentence.tokens
    bare = all(span.lo <= i < span.hi or token.kind is Kind.MARK for i, token in enumerate(tokens))
    within = span.lo > 0 and tokens[span.lo - 1].low == "in" and said.sentence.section is Section.WORK
    return span.seconds >= LEAST_TIME_S and (bare or within or any(said is other for other in timed))


def _per_round(said: Said, span: p.Span) -> bool:
    """Return whether a cap is one of every round: “cap per round 4:00”, “4:00 cap for each round”."""
    tokens = said.sentence.tokens
    near = [*tokens[max(0, span.lo - 1) : span.lo], *tokens[span.hi : span.hi + 3]]
    before = [token for token in tokens[max(0, span.lo - MOST_BEFORE) : span.lo] if "round" in token.low.split()]
    parts = any(a.low in ("each", "per", "every") and b.cue("part") for a, b in pairwise(tokens))
    both = zip(tokens, tokens[1:], tokens[2:], strict=False)  # “both couplets have a cap of 6 minutes”
    parts = parts or any(a.low == "both" and b.low in PIECES and c.low in ("have", "are") for a, b, c in both)
    return parts or any(token.cue("each_round") for token in (*near, *before))


def _limits(draft: Draft, said: Said) -> bool:
    """Return whether a sentence with a bare time gives the time for the whole: “you have 14 minutes”."""
    if said.sentence.section is Section.CAP:
        return True
    have = {
        "set",
        "stop",
        "stopped",
        "over",
        "closed",
        "ends",
        "have",
        "has",
        "get",
        "given",
        "clock",
        "limit",
        "allowed",
        "finish",
        "finished",
        "complete",
        "stops",
        "deadline",
    }
    chipper = any(token.low == "chipper" for token in said.sentence.tokens)  # “a 30-minute chipper”
    refused = said.cue("if") and "not" not in said.low()
    apart = said.cue("tiebreak", "lift", "extend") or {"warm", "briefing"} & said.low()
    stops = said.cue("cap") and len(said.of(p.Span)) == 1  # “the clock stops when 14 minutes are gone”
    if HALL & said.low():
        return False  # “heats start every 12 minutes”
    return (bool(have & said.low()) or stops or chipper) and not refused and not apart


def ask(draft: Draft, words: str, tokens: Sequence[Token]) -> None:
    """Note a doubt about the whole announcement; once if it is the same again."""
    if all(words != other for other, _ in draft.facts.asked):
        draft.facts.asked.append((words, list(tokens)))


def _denied(said: Said) -> bool:
    """Return whether “for time” is only said not to hold."""
    tokens = said.sentence.tokens
    return any(a.low == "not" and b.cue("for_time") for a, b in pairwise(tokens))


def _each(said: Said, span: p.Span) -> bool:
    """Return whether a time is told as “every 2:00”."""
    before = said.sentence.tokens[span.lo - 1].low if span.lo else ""
    clocked = before == "on the" and said.has(p.RoundCount)  # “6 rounds on the 2:00”
    return span.role == "every" and (before in ("every", "each") or clocked)
