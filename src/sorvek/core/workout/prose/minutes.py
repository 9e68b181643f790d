"""Work that begins anew by the clock: every so often, minute by minute, or beside other work."""

from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise

from sorvek.core.workout import tree as w
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.bounding import MOST_START, Bounding, ask, each, set_form
from sorvek.core.workout.prose.build import TURNS, Draft
from sorvek.core.workout.prose.draft import LONGEST_DOUBT, Said
from sorvek.core.workout.prose.intervals import MINUTE_S, interval_of
from sorvek.core.workout.prose.words import Kind, Token, ordinal

ALTERNATE = {"alternate", "alternates"}
MOST_ROUNDS = 5  # words of “Ten rounds in all”
STARTING = {"starting", "start", "starts", "beginning", "begin", "begins"}


def on_the_minute(draft: Draft, told: Bounding) -> bool:
    """Take work that begins anew every so often: “every 2:00 for 8 rounds”, “EMOM 10”."""
    open_ended = told.has(p.Step) or told.cue("until_missed")
    turned = next((said for said, span in told.spans if each(said, span) and ALTERNATE & said.low()), None)
    if turned is not None:
        words = f"{turned.text()[:LONGEST_DOUBT].rstrip(':')}: how often, and what in which of them?"
        ask(draft, words, turned.sentence.tokens)
        turned.used = True
        return True
    for said, span in told.spans:
        rounds = said.of(p.RoundCount)
        if each(said, span) and rounds and not open_ended:
            tokens = [*said.tokens(span), *said.tokens(rounds[0])]
            return _pace(draft, w.Every(span.seconds, rounds[0].count, ()), tokens)
        whole = [other for other in said.of(p.Span) if other.role == "" and other.seconds % span.seconds == 0]
        if each(said, span) and len(whole) == 1 and whole[0].seconds > span.seconds and not open_ended:
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


def until_missed(draft: Draft, told: Bounding) -> bool:
    """Take an EMOM with the same work every minute, in which a missed one is the last: windows of a minute."""
    missed, emom = told.cue("until_missed"), told.role("emom")
    if missed and _rounds_apart(draft, told, missed[0]):
        return True
    emom = emom or [pair for pair in told.role("") if pair[0].cue("emom")]  # “for 12 minutes, every minute on …”
    if not (missed and emom) or told.has(p.Step) or _apart(told):
        return False
    said, span = emom[0]
    draft.builder.intervals, said.used = round(span.seconds / MINUTE_S), True
    set_form(draft, w.Form.WINDOWS, MINUTE_S, said.sentence.tokens, missed[:1])
    return True


def _rounds_apart(draft: Draft, told: Bounding, missed: Said) -> bool:
    """Take windows whose number is told apart: “every 90 seconds …”, “Ten rounds”, “miss one and you are out”."""
    paced = [(said, span) for said, span in told.spans if each(said, span)]
    counts = [said for said in told.usable if _only_rounds(told, said)]
    if len(paced) != 1 or len(counts) != 1 or told.has(p.Step) or paced[0][0] is counts[0] or _apart(told):
        return False
    (said, span), rounds = paced[0], counts[0]
    draft.builder.intervals, rounds.used, rounds.phrases = rounds.of(p.RoundCount)[0].count, True, []
    set_form(draft, w.Form.WINDOWS, span.seconds, [*said.tokens(span), *rounds.sentence.tokens], [missed])
    return True


def _only_rounds(told: Bounding, said: Said) -> bool:
    """Return whether a sentence behind all work only says how many rounds there are: “Ten rounds in all”."""
    if any(other.has(p.WorkLine) for other in told.usable[told.usable.index(said) :]):
        return False
    counts = [x for x in said.of(p.RoundCount) if x.count > 1 and not x.pointed]
    return len(counts) == 1 and len(said.phrases) == 1 and said.sentence.words <= MOST_ROUNDS


def ask_interruptions(draft: Draft, told: Bounding) -> None:
    """Ask about work that interrupts other work: “75 thrusters for time; every minute on the minute 5 burpees”."""
    bounded = told.cue("for_time", "amrap") or told.role("cap")
    paced = [said for said, span in told.role("every") if each(said, span) and _in_between(draft, said)]
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


def ask_last_window(draft: Draft) -> None:
    """Ask about as many reps as possible in the last window: “if you reach the last bar, do as many as you can”."""
    for said in draft.said:
        most = said.cue("if") and said.cue("amrap") and {"last", "final"} & said.low()
        if draft.facts.form is w.Form.WINDOWS and most and not said.cue("score", "tiebreak"):
            words = f"{said.text()[:LONGEST_DOUBT]}: the notation has no words for an open end of the last window"
            ask(draft, words, said.sentence.tokens)
            said.used = said.doubted = True


def _in_between(draft: Draft, said: Said) -> bool:
    """Return whether a sentence has its own counted work at every interval, behind other work."""
    at = draft.said.index(said)
    works = [work for work in said.of(p.WorkLine) if work.counts]
    before = any(other.of(p.WorkLine) for other in draft.said[:at] if other is not draft.title)
    others = said.has(p.RoundCount, p.Step) or any(other.cue("until_missed") for other in draft.said)
    return bool(works) and before and not others


def _apart(told: Bounding) -> bool:
    """Return whether the minutes of the clock have work of their own."""
    words = {"odd", "even", "alternating"} & set[str]().union(*(said.low() for said in told.usable))
    return bool(words) or len(_minutes(told)) > 1


def _told_apart(told: Bounding) -> tuple[w.Every, list[Token]] | None:
    """Return rounds that begin by the clock, told in two sentences: “10 rounds. One starts every 2:00”."""
    counts = [(said, x) for said in told.usable for x in said.of(p.RoundCount) if x.count > 1 and not x.pointed]
    begins = ("rounds", "each_round")
    paced = [(said, span) for said, span in told.spans if each(said, span)]
    alone = [said for said, _ in counts if _only_rounds(told, said)]  # “Every 90 seconds: …”, “Ten rounds”
    paced = [(s, span) for s, span in paced if alone or (s.cue(*begins) and not s.has(p.WorkLine))]
    if len(counts) != 1 or len(paced) != 1:
        return None
    (said, span), (other, rounds) = paced[0], counts[0]
    if alone:
        other.used, other.phrases = True, []
    return w.Every(span.seconds, rounds.count, ()), [*said.tokens(span), *other.tokens(rounds)]


def _minutes(told: Bounding) -> list[Said]:
    """Return sentences with the work of one numbered minute each: “Minute 1: 12 calories”, “Minute 2: …”."""
    heads = [(said, [*said.sentence.lead, *said.sentence.tokens][:2]) for said in told.usable]
    minutes = ("minute", "min")
    return [
        said
        for said, h in heads
        if len(h) > 1
        and ((h[0].low in minutes and h[1].kind is Kind.NUMBER) or (h[1].low in minutes and ordinal(h[0].low)))
    ]


def _in_turn(draft: Draft, told: Bounding, said: Said) -> bool:
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
    set_form(draft, w.Form.WINDOWS, MINUTE_S, tokens + [t for span in spans for t in said.tokens(span)], missed[:1])
    return True


def _pace(draft: Draft, every: w.Every, tokens: Sequence[Token]) -> bool:
    draft.facts.every, draft.facts.every_tokens = every, list(tokens)
    draft.builder.intervals = every.count
    set_form(draft, w.Form.FOR_TIME, every.seconds * every.count, [])
    return True


def _minute_by_minute(tokens: Sequence[Token]) -> tuple[int, int]:
    """Return the count of the first minute and how many more each next one has, zeros if that is not told.

    “In minute 1 do 1 clean, in minute 2 do 2”, “in the first minute one burpee, in the second two”.
    """
    pairs: list[tuple[int, int]] = []
    for at, token in enumerate(tokens[:-1]):
        ahead = tokens[at + 1]
        named = token.unit("min") or token.low == "minute"
        numbered = named and ahead.kind is Kind.NUMBER
        place = int(ahead.number) if numbered else ordinal(token.low)
        behind = [t for t in tokens[at + 1 + numbered : at + 6] if t.kind is Kind.NUMBER]
        if place and behind:
            pairs.append((place, int(behind[0].number)))
    before = _counts_by_minute(tokens)
    pairs = before if before and before[0][0] == 1 and len(before) >= len(pairs) else pairs
    steps = {b[1] - a[1] for a, b in pairwise(pairs)}
    in_turn = [place for place, _ in pairs] == list(range(1, len(pairs) + 1))
    told = in_turn and len(steps) == 1 and any(t.low in ("minute", "min") for t in tokens)
    return (pairs[0][1], step) if told and (step := steps.pop()) > 0 else (0, 0)


def _counts_by_minute(tokens: Sequence[Token]) -> list[tuple[int, int]]:
    """Return minutes and counts told the other way round: “1 rep the first minute, 2 reps the second minute”."""
    pairs: list[tuple[int, int]] = []
    for at, token in enumerate(tokens):
        before = [t for t in tokens[max(0, at - MOST_START) : at] if t.kind is Kind.NUMBER]
        if ordinal(token.low) and before and any(t.low in ("minute", "min") for t in tokens[at : at + 3]):
            pairs.append((ordinal(token.low), int(before[-1].number)))
        numbered = tokens[at - 2 : at] if at > 1 and token.kind is Kind.NUMBER else []
        inside = [t.low for t in numbered] == ["in", "minute"]  # “1 burpee in minute 1, 2 in minute 2”
        counts = (
            [t for t in tokens[max(0, at - 2 - MOST_START) : at - 2] if t.kind is Kind.NUMBER] if inside else []
        )
        if counts:
            pairs.append((int(token.number), int(counts[-1].number)))
    return pairs


def _first_of(said: Said, step: int) -> list[p.WorkLine]:
    """Return the only movement of minutes told by their counts with the first of these."""
    named = said.of(p.WorkLine)
    first = next((count for place, count in _counts_by_minute(said.sentence.tokens) if place == 1), 0)
    return [replace(named[0], counts=(first,))] if step and first and len(named) == 1 else []


def by_minutes(draft: Draft, told: Bounding, missed: Sequence[Said]) -> bool:
    """Take a minute for every window, each with more work than the one before."""
    if missed and (_minute_lines(draft, told, missed) or _first_and_step(draft, told, missed)):
        return True
    for said in told.usable if missed else ():
        _, step = _minute_by_minute(said.sentence.tokens)
        works = [work for work in said.of(p.WorkLine) if work.counts]
        works = works or _first_of(said, step)
        if step and works:
            loads = said.of(p.Loads)
            alike = [work for work in works if work.counts == works[0].counts]  # “1 snatch + 1 burpee”
            said.phrases = [replace(work, pointed=False) for work in alike]
            said.phrases += [p.Step(alike[-1].hi, len(said.sentence.tokens), step), *loads]
            set_form(draft, w.Form.WINDOWS, MINUTE_S, [], missed[:1])
            return True
    return bool(missed) and _by_name(draft, told)


def _by_name(draft: Draft, told: Bounding) -> bool:
    """Take what is only named: “Death by burpees” is one in the first minute, two in the second, and so on.

    Counts told without the movement win: “minute 1: 2 reps, minute 2: 4 reps”. Common practice, no source.
    """
    named = [(said, said.of(p.WorkLine)) for said in told.usable if said.cue("death")]
    counts = [x for said in told.usable if not said.cue("death") for x in said.of(p.WorkLine) if x.counts]
    structured = any(said.has(p.RepCounts, p.RoundCount, p.Range) for said in told.usable)
    steps = [(said, x) for said in told.usable for x in said.of(p.Step)]
    structured = structured or bool(steps and (len(steps) > 1 or steps[0][1].step != 1))
    if len(named) != 1 or len(named[0][1]) != 1 or named[0][1][0].counts or counts or structured:
        return False
    (said, (work,)), first, step = named[0], 1, 1
    for others in [_minutes(told), *([one] for one in told.usable)]:
        counted = _minute_by_minute(
            [token for one in others for token in (*one.sentence.lead, *one.sentence.tokens)]
        )
        if counted != (0, 0):
            first, step = counted
            for one in others:
                one.phrases, one.used = [], True
                draft.facts.used += [*one.sentence.lead, *one.sentence.tokens]
            break
    for other, _ in steps:  # “every minute you do one more than in the minute before”
        other.phrases, other.used = [], True
        draft.facts.used += other.sentence.tokens
    loads = said.of(p.Loads)
    said.phrases = [replace(work, counts=(first,)), p.Step(work.hi, work.hi, step), *loads]
    set_form(draft, w.Form.WINDOWS, MINUTE_S, [], [said])
    return True


def _first_and_step(draft: Draft, told: Bounding, missed: Sequence[Said]) -> bool:
    """Take minutes told by their first count and their step: “EMOM, starting with 3 reps and adding 1”."""
    works = [(said, work) for said in told.usable for work in said.of(p.WorkLine) if not said.cue("score")]
    heads = [said for said in told.usable if interval_of(said) == MINUTE_S and said.of(p.Step)]
    if len(works) != 1 or len(works[0][1].counts) > 1 or len(heads) != 1:
        return False
    head, (said, work) = heads[0], works[0]
    tokens = head.sentence.tokens
    if work.counts:  # “every minute: 1 burpee, adding one each minute”
        said.phrases = [work, *head.of(p.Step)[:1], *said.of(p.Loads)]
        set_form(draft, w.Form.WINDOWS, MINUTE_S, tokens, missed[:1])
        return True
    firsts = [b.number for a, b in pairwise(tokens) if STARTING & set(a.low.split()) and b.kind is Kind.NUMBER]
    firsts += [
        b.number
        for a, _, b in zip(tokens, tokens[1:], tokens[2:], strict=False)
        if STARTING & set(a.low.split()) and b.kind is Kind.NUMBER
    ]
    if len(firsts) != 1:
        return False
    step = head.of(p.Step)[0]
    head.phrases, head.used = [], True
    said.phrases = [replace(work, counts=(int(firsts[0]),)), p.Step(work.hi, work.hi, step.step)]
    set_form(draft, w.Form.WINDOWS, MINUTE_S, tokens, missed[:1])
    return True


def _same_work(said: Said, works: Sequence[p.WorkLine]) -> list[p.WorkLine]:
    """Return the work of the first minute with the only number a later one has: “Min 1: 6 burpees”, “Min 2: 7”."""
    numbers = [token for token in said.sentence.tokens if token.kind is Kind.NUMBER]
    counts = numbers[-len(works) :]  # “Min 1: 1 thruster, 1 pull-up”, “Min 2: 2 and 2”
    if len(works) > 1 and len(numbers) >= len(works) and len(said.phrases) <= len(numbers):
        return [replace(work, counts=(int(count.number),)) for work, count in zip(works, counts, strict=True)]
    ends = len(numbers) > len(said.sentence.lead[:1]) and said.sentence.tokens[-1] is numbers[-1]
    return [replace(works[0], counts=(int(numbers[-1].number),))] if ends and len(works) == 1 else []


def _minute_lines(draft: Draft, told: Bounding, missed: Sequence[Said]) -> bool:
    """Take minutes told one by one with more of the same each time: “Minute 1: 1 burpee”, “Minute 2: 2 burpees”."""
    lines = [(said, said.of(p.WorkLine)) for said in _minutes(told)]
    lines = [(said, works or _same_work(said, lines[0][1])) for said, works in lines]
    if len(lines) < 2 or any(not works or any(len(work.counts) != 1 for work in works) for _, works in lines):
        return False
    rows = [[work.counts[0] for work in works] for _, works in lines]
    names = {tuple(work.movement for work in works) for _, works in lines}
    if len(names) != 1 or any(said.has(p.Range) for said, _ in lines):
        return False  # “Minute 0 to 3: …” are windows of three minutes
    steps = {b - a for column in zip(*rows, strict=True) for a, b in pairwise(column)}
    if len(steps) != 1 or len(set(rows[0])) != 1 or min(steps) <= 0:
        return False
    first, works = lines[0]
    step = steps.pop()
    first.phrases = [*works, p.Step(works[-1].hi, works[-1].hi, step)]
    for said in told.usable:  # “carry on adding one of each per minute”
        if said is not first and said.has(p.Step) and all(x.step == step for x in said.of(p.Step)):
            said.used, said.phrases = True, [x for x in said.phrases if not isinstance(x, p.Step)]
            draft.facts.used += said.sentence.tokens
    for said, _ in lines[1:]:
        draft.facts.used += said.sentence.tokens
        said.phrases, said.used = [], True
    set_form(draft, w.Form.WINDOWS, MINUTE_S, [], missed[:1])
    return True
