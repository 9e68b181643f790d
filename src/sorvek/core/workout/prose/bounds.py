"""How the work is bounded: the form and its time."""

from collections.abc import Sequence

from sorvek.core.workout import tree as w
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.bounding import SILENT, Bounding, Spans, ask, denied, set_form
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.caps import for_time
from sorvek.core.workout.prose.draft import LONGEST_DOUBT, Said
from sorvek.core.workout.prose.headings import Section
from sorvek.core.workout.prose.intervals import MINUTE_S, interval_of
from sorvek.core.workout.prose.minutes import (
    ask_interruptions,
    ask_last_window,
    by_minutes,
    on_the_minute,
    until_missed,
)
from sorvek.core.workout.prose.open_ended import (
    amrap,
    as_many,
    on_a_clock,
    over_again,
    repeated,
    unending,
    until_time,
)
from sorvek.core.workout.prose.words import MOST, Kind, vocabulary

FREE_ORDER = {"partition", "partitioned", "partitioning"}
SCORE_WORDS = {"score", "your", "the", "is", "total", "final", "finish", "finishing", "of", "completion"}
SCORE_WORDS |= {"incl", "including", "with", "rest", "rests", "all"}  # “total time incl. rests”
MOST_HEAD = 6  # words of a line that heads a part with its form and time
SHORTEST_FORM = 4  # words of a line that says nothing but “AMRAP in 8 minutes”


def find_bounds(draft: Draft) -> None:
    """Find the form and its time."""
    told = Bounding([said for said in draft.said if said.sentence.section not in SILENT])
    told.spans = [(said, span) for said in told.usable for span in said.of(p.Span)]
    owned = times_of_lifts(draft)
    told.spans = [pair for pair in told.spans if id(pair[0]) not in owned]
    told.ranges = [(said, found) for said in told.usable for found in said.of(p.Range)]
    ask_interruptions(draft, told)
    if (
        by_minutes(draft, told, told.cue("until_missed", "death"))
        or until_missed(draft, told)
        or on_the_minute(draft, told)
        or _windowed(draft, told)
    ):
        ask_last_window(draft)
        return
    _ask_parts(draft, told)
    amraps = [
        s for s in told.cue("amrap") if s.sentence.section is Section.WORK or not vocabulary("scores") & s.low()
    ]
    timed = [said for said in told.cue("for_time") if not said.cue("tiebreak") and not denied(said)]
    timed = timed or [said for said in told.usable if _score_is_time(said)]
    if told.role("extend") or _numbered_stages(told.usable):
        draft.facts.form = w.Form.STAGES
        early = told.role("", "every", "cap", "within", "amrap", "before")
        draft.builder.first_s = early[0][1].seconds if early else 0.0
    elif amraps and not (timed and _later(draft, amraps, timed)):
        amrap(draft, amraps, told.spans, told.ranges)
    elif not timed and (ahead := over_again(told) or until_time(told) or as_many(draft, told) or unending(told)):
        said, span = ahead
        set_form(draft, w.Form.AMRAP, span.seconds, said.tokens(span))
    elif timed or (told.role("cap") and not _only_lifts(told)):
        _ask_open_end(draft, told, timed)
        for_time(draft, timed, told.spans)
    elif again := repeated(told):
        said, span = again
        cues = [token for token in said.sentence.tokens if token.cue("repeat")]
        set_form(draft, w.Form.AMRAP, span.seconds, [*cues, *said.tokens(span)])
    elif ahead := unending(told):
        said, span = ahead
        set_form(draft, w.Form.AMRAP, span.seconds, said.tokens(span))
    elif _only_lifts(told):
        draft.facts.form = w.Form.LIFT
    else:
        for_time(draft, [], told.spans)


def _only_lifts(told: Bounding) -> bool:
    """Return whether there is a max lift and no counted work."""
    counted = told.has(p.RepCounts) or any(work.counts for said in told.usable for work in said.of(p.WorkLine))
    return bool(told.has(p.Lift)) and not counted


def _score_is_time(said: Said) -> bool:
    """Return whether a line says that the score is a time and nothing else: “Score: total time of all 6 rows”."""
    beside = (Kind.MARK, Kind.NUMBER, Kind.MOVEMENT) if "total" in said.low() else (Kind.MARK,)
    words = {t.low for t in said.sentence.tokens if t.kind not in beside} - SCORE_WORDS
    told = said.sentence.section is Section.SCORE or said.sentence.tokens[0].cue("score")
    return told and words == {"time"}


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


def _ask_parts(draft: Draft, told: Bounding) -> None:
    """Ask about stretches of the clock with scores of their own, and about work in any order."""
    timed = [said for said, _ in told.ranges if said.cue("for_time")]
    if len(timed) > 1:
        words = "several parts for time that begin by the clock: the notation has no words for them"
        ask(draft, words, [token for said in timed for token in said.sentence.tokens])
    open_ended = [
        said for said, _ in told.ranges if said.cue("amrap") or (MOST & said.low() and not said.has(p.Lift))
    ]
    if timed and open_ended:
        tokens = [token for said in (*timed, *open_ended) for token in said.sentence.tokens]
        ask(draft, "one part for time and one for reps: the notation has words for one score only", tokens)
    heads = [said for said in told.usable if said.sentence.words <= MOST_HEAD and said.of(p.Span)]
    reps = [said for said in heads if said.cue("amrap") and not said.cue("for_time")]
    races = [said for said in heads if said.cue("for_time") and not said.cue("amrap")]
    if reps and races:  # “AMRAP in 6 min”, …, “for time (cap 6 min)”
        tokens = [token for said in (*reps, *races) for token in said.sentence.tokens]
        ask(draft, "one part for time and one for reps: the notation has words for one score only", tokens)
    for said in told.usable:
        last = _last_in_minutes(said)
        if last or (said.cue("amrap") and said.cue("for_time") and said.cue("then") and len(said.of(p.Span)) > 1):
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


def _last_in_minutes(said: Said) -> bool:
    """Return whether only the last of several things has a time: “2 km row, then max pull-ups in 2 minutes”."""
    then = next((i for i, token in enumerate(said.sentence.tokens) if token.cue("then")), 0)
    first = any(work.counts for work in said.of(p.WorkLine) if work.hi <= then)
    later = [work for work in said.of(p.WorkLine) if work.lo > then and not work.counts]
    spans = [span for span in said.of(p.Span) if span.role in ("", "within")]
    before = said.sentence.tokens[spans[0].lo - 1].low if spans else ""
    return bool(then and first and later) and len(spans) == 1 and spans[0].lo > later[0].lo and before == "in"


def _ask_open_end(draft: Draft, told: Bounding, timed: Sequence[Said]) -> None:
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


def _at_each_bar(said: Said, span: p.Span) -> bool:
    """Return whether a time is that at every bar of a ladder: “you have 45 seconds at each bar”."""
    behind = said.sentence.tokens[span.hi : span.hi + 3]
    return bool({"each", "every", "per"} & {token.low for token in behind}) and any(
        t.cue("barbell") for t in behind
    )


def _windowed(draft: Draft, told: Bounding) -> bool:
    """Take windows of one length after the other, told by “every 3:00” or by the clock."""
    missed = told.cue("until_missed")
    every = [pair for pair in told.role("every") if pair[0] in missed or not on_a_clock(*pair)]
    every = every or ([pair for pair in told.role("") if _windows_of(*pair)] if missed else [])
    rows = any(said.has(p.LoadRow) and not said.has(p.Span) for said in told.usable)
    if bars := [pair for pair in told.role("") if rows and told.has(p.WorkLine) and _at_each_bar(*pair)]:
        set_form(draft, w.Form.WINDOWS, bars[0][1].seconds, bars[0][0].tokens(bars[0][1]), missed[:1])
        return True
    minutes = [said for said in told.usable if interval_of(said) == MINUTE_S and said.has(p.WorkLine)]
    if missed and minutes and not every:
        set_form(draft, w.Form.WINDOWS, MINUTE_S, [], missed[:1])
        return True
    if _if_successful(draft, told):
        return True
    told_of = (Section.WORK, Section.CAP)
    each = [said for said in told.cue("each_round") if said.sentence.section in told_of]
    each = each if not any(told_of.count > 1 for said in told.usable for told_of in said.of(p.RoundCount)) else []
    if every and (missed or told.has(p.Step) or each):
        said, span = every[0]
        set_form(draft, w.Form.WINDOWS, span.seconds, said.tokens(span), missed[:1])
        for rounds in said.of(p.RoundCount):
            near = said.sentence.tokens[max(0, rounds.lo - 1) : rounds.lo + 1]
            timed = any(token.low in ("x", "×", "for") for token in near)  # “every 3 minutes x 5”, “… for 5 rounds”
            if timed or any(token.cue("every") for token in said.sentence.tokens[rounds.hi : span.lo]):
                draft.builder.intervals = rounds.count
                draft.facts.tokens += said.tokens(rounds)
        return True
    if len(told.ranges) > 1 and (missed or told.cue("if", "window")) and not told.has(p.Lift):
        said, found = told.ranges[0]
        if len({r.to_s - r.from_s for _, r in told.ranges}) > 1 and not missed:
            draft.facts.form = w.Form.STAGES
            return True
        set_form(draft, w.Form.WINDOWS, found.to_s - found.from_s, said.tokens(found), missed[:1])
        return True
    return False


def _if_successful(draft: Draft, told: Bounding) -> bool:
    """Take windows told one by one: “In 3 minutes: … If successful, in the next 3 minutes: …”."""
    spans = [(said, span) for said, span in told.role("", "within") if said.has(p.WorkLine)]
    gated = told.cue("until_missed") and told.cue("if")  # “If you finish, go on: next 3 min: …”
    nexts = [
        s for s, _ in spans if "next" in s.low() and (s.cue("if") or (gated and s.sentence.tokens[0].low == "next"))
    ]
    if len(spans) < 2 or len(nexts) != len(spans) - 1 or len({span.seconds for _, span in spans}) != 1:
        return False
    draft.builder.turns_at = {id(said) for said, _ in spans}
    set_form(draft, w.Form.WINDOWS, spans[0][1].seconds, [t for said, span in spans for t in said.tokens(span)])
    return True


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
