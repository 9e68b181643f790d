"""Work for time, and its cap."""

from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise

from sorvek.core.workout import tree as w
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.bounding import LEAST_TIME_S, Spans, ask, ranged, set_form, start_of
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import LONGEST_DOUBT, Said
from sorvek.core.workout.prose.headings import Section
from sorvek.core.workout.prose.words import Kind

PIECES = {"couplets", "parts", "pieces", "workouts", "sections", "halves", "triplets", "blocks"}
HALL = {"heat", "heats", "lane", "lanes", "briefing", "video", "arrive", "doors"}
# Words beside a bare time that make it the time for the whole: “you've got 14 minutes”.
HAVE = {
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
    "got",
}
MOST_BEFORE = 7  # words between “each round” and its cap: “each round has a cap of 4 minutes”


def for_time(draft: Draft, timed: Sequence[Said], spans: Spans) -> None:
    """Take work for time with its cap, and what is told of caps of rounds and parts."""
    cues = [
        token
        for said in timed[:1]
        for token in (*said.sentence.lead, *said.sentence.tokens)
        if token.cue("for_time")
    ]
    spans = [(s, span) for s, span in spans if not _begins_at(s, span) and span.seconds >= LEAST_TIME_S]
    spans = [(s, span) for s, span in spans if not s.has(p.Lift) or s.has(p.WorkLine) or s.cue("cap", "for_time")]
    found = _limiting(draft, timed, spans)
    lifted = any(said.has(p.Lift) for said in draft.said)
    by_clock = [*ranged(draft, timed)] if timed and lifted else []  # “18-minute clock: 0 to 10: …, 10 to 18: …”
    bare = found and not any(span.role == "cap" for _, span in found)
    if by_clock and bare and all(span.seconds > by_clock[0][1].seconds for _, span in found):
        draft.facts.used += [token for said, span in found for token in said.tokens(span)]
        found = by_clock
    if timed and not found:
        found = [*_lift_opens(draft)] or [*ranged(draft, timed)]
    if not (timed or found):
        ask(draft, "it is not said how the work is bounded: for time, or as many reps as possible in a time?", [])
        return
    for said, span in found:
        if per_round(said, span):
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
    set_form(draft, w.Form.FOR_TIME, last, [*cues, *tokens])


def _limiting(draft: Draft, timed: Sequence[Said], spans: Spans) -> Spans:
    """Return the times that can be the cap: those called so, else those that sound like one, else what is left."""
    found = [(s, span) for s, span in spans if span.role == "cap"] or [
        (s, span) for s, span in spans if span.role == "within" and (not s.cue("if") or "not" in s.low())
    ]
    found = found or [(s, x) for s, x in spans if x.role in ("", "before", "every") and _limits(draft, s)]
    if not timed:  # “a 2k row; then you have until the 15 minute mark to find a max squat” bounds both
        return found or [(s, span) for s, span in spans if span.role == "until"]
    # “for time (25:00)”
    bare = [(s, span) for s, span in spans if span.role == "" and _bare_cap(s, span, timed)]
    return found or (bare if len({span.seconds for _, span in bare}) == 1 else [])


def _begins_at(said: Said, span: p.Span) -> bool:
    """Return whether a time is when the work of its line begins: “At 8:00: 2000 m row for time”."""
    at = span.lo == 1 and said.sentence.tokens[0].low == "at"
    return at and said.sentence.tokens[span.hi : span.hi + 1] != [] and said.has(p.WorkLine)


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
        start = start_of(said)
        if start and after.has(p.Lift):
            said.used = True
            return [(said, start)]
    return []


def _behind_a_lift(draft: Draft, found: Spans) -> Spans:
    """Return caps without what the clock reads then, where a lift goes before: “7 minutes (clock reads 13:00)”.

    A cap by the clock, “until minute 22”, lasts from where the clock says that the work begins.
    """
    lifted = next((at for at, said in enumerate(draft.said) if said.has(p.Lift)), len(draft.said))
    starts = [start.seconds for said in draft.said[lifted:] if (start := start_of(said)) and not said.has(p.Lift)]
    if len(starts) == 1 and all(said.sentence.tokens[span.hi - 1].kind is Kind.CLOCK for said, span in found):
        later = [(said, span) for said, span in found if span.seconds > starts[0]]
        found = [(s, replace(span, seconds=span.seconds - starts[0])) for s, span in later] or found
    windows = {span.seconds for said in draft.said if said.has(p.Lift) for span in said.of(p.Span)}
    caps = {span.seconds for _, span in found}
    both = len(caps) == 2 and max(caps) - min(caps) in windows
    return [(said, span) for said, span in found if span.seconds == min(caps)] if both else found


def _bare_cap(said: Said, span: p.Span, timed: Sequence[Said]) -> bool:
    """Return whether a time without a word for what it is can be the cap of work for time.

    It stands beside “for time”, alone in its sentence, or behind “in”.
    """
    tokens = said.sentence.tokens
    plain = [t for i, t in enumerate(tokens) if not (span.lo <= i < span.hi or t.kind is Kind.MARK)]
    bare = all(token.low in ("max", "maximum", "at", "most") for token in plain)  # “20 minutes max.”
    within = span.lo > 0 and tokens[span.lo - 1].low == "in" and said.sentence.section is Section.WORK
    return span.seconds >= LEAST_TIME_S and (bare or within or any(said is other for other in timed))


def per_round(said: Said, span: p.Span) -> bool:
    """Return whether a cap is one of every round: “cap per round 4:00”, “4:00 cap for each round”."""
    tokens = said.sentence.tokens
    near = [*tokens[max(0, span.lo - 1) : span.lo], *tokens[span.hi : span.hi + 3]]
    before = [token for token in tokens[max(0, span.lo - MOST_BEFORE) : span.lo] if "round" in token.low.split()]
    words = [*said.sentence.lead, *tokens]  # “Time cap per part: 7 minutes”
    parts = any(a.low in ("each", "per", "every") and b.cue("part") for a, b in pairwise(words))
    both = zip(tokens, tokens[1:], tokens[2:], strict=False)  # “both couplets have a cap of 6 minutes”
    parts = parts or any(a.low == "both" and b.low in PIECES and c.low in ("have", "are") for a, b, c in both)
    return parts or any(token.cue("each_round") for token in (*near, *before))


SHORTEST_CAP = 6  # words of a line that says how long all lasts with its rests
INCLUDED = {"incl", "incl.", "including", "included", "with"}


def _limits(draft: Draft, said: Said) -> bool:
    """Return whether a sentence with a bare time gives the time for the whole: “you have 14 minutes”."""
    if said.sentence.section is Section.CAP:
        return True
    chipper = any(token.low == "chipper" for token in said.sentence.tokens)  # “a 30-minute chipper”
    refused = said.cue("if") and "not" not in said.low()
    apart = said.cue("tiebreak", "lift", "extend") or {"warm", "briefing"} & said.low()
    tokens = said.sentence.tokens
    included = any(a.low in INCLUDED and b.cue("rest") for a, b in pairwise(tokens))  # “17 min incl. rest”
    included = included or any(a.low in INCLUDED and b.mark(".") for a, b in pairwise(tokens))
    if included and said.cue("rest") and said.sentence.words <= SHORTEST_CAP:
        return True
    stops = said.cue("cap") and len(said.of(p.Span)) == 1  # “the clock stops when 14 minutes are gone”
    stops = stops or (tokens[0].low == "there" and "to" in said.low())  # “there are 12 minutes to do it”
    if HALL & said.low():
        return False  # “heats start every 12 minutes”
    refused = refused and tokens[0].low != "there"
    return (bool(HAVE & said.low()) or stops or chipper) and not refused and not apart
