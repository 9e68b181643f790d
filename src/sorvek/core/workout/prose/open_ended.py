"""Work for as many reps as possible, and its time."""

from collections.abc import Sequence

from sorvek.core.workout import tree as w
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.bounding import Bounding, ask, ranged, set_form
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import Said
from sorvek.core.workout.prose.headings import Section
from sorvek.core.workout.prose.part_begins import BREAKS
from sorvek.core.workout.prose.phrases import TURNING
from sorvek.core.workout.prose.restarts import begins_again
from sorvek.core.workout.prose.words import MOST


def amrap(
    draft: Draft,
    amraps: Sequence[Said],
    spans: Sequence[tuple[Said, p.Span]],
    ranges: Sequence[tuple[Said, p.Range]],
) -> None:
    """Take an AMRAP with its time; ask where there is more than one, or none told."""
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
    # “6:00-8:00 rest”, “5:00–6:00 transition”
    resting = [s for s, _ in ranges if (s.cue("rest") or BREAKS & s.low()) and not s.has(p.WorkLine)]
    ranges = [(s, found) for s, found in ranges if not s.of(p.Lift) and s not in resting]
    timed = [s for s, _ in ranges if s.cue("amrap")]
    if len(timed) > 1:
        tokens = [token for s in timed for token in s.sentence.tokens]
        ask(draft, "more than one AMRAP: the notation has words for one only", tokens)
    if ranges and not any(span.role == "amrap" for s, span in spans if s is said):
        at, found = ranges[0]
        set_form(draft, w.Form.AMRAP, found.to_s - found.from_s, [*cues, *at.tokens(found)])
        return
    roles = ("amrap", "", "within", "every", "cap", "remaining")
    own = [(s, span) for role in roles for s, span in spans if s is said and span.role == role]
    others = [
        (s, span)
        for role in ("amrap", "cap", "within", "every", "", "remaining")
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
    set_form(draft, w.Form.AMRAP, span.seconds, [*cues, *at.tokens(span)])


def over_again(told: Bounding) -> tuple[Said, p.Span] | None:
    """Return the time of work that begins again when it is done: “if you finish before the cap, start again”."""
    again = any(said.cue("if") and (said.cue("repeat") or begins_again(said)) for said in told.usable)
    spans = [pair for pair in told.spans if pair[1].role in ("cap", "within", "amrap", "", "before")]
    return spans[0] if again and spans else None


def until_time(told: Bounding) -> tuple[Said, p.Span] | None:
    """Return the only time told of work that goes on “until the time is gone”."""
    bounding = [pair for pair in told.spans if pair[1].role in ("", "cap", "within") or on_a_clock(*pair)]
    spans = [pair for pair in bounding if told.cue("until_time") and not pair[0].has(p.Lift)]
    return spans[0] if len({span.seconds for _, span in spans}) == 1 else None


def repeated(told: Bounding) -> tuple[Said, p.Span] | None:
    """Return where work is said to be repeated for so long: “keep repeating this for 9 minutes”."""
    bare = [pair for pair in told.role("") if pair[0].sentence.section is Section.WORK]
    endless = ("over and over", "again and again", "until the clock runs out")
    if len(bare) == 1 and any(words in said.text().lower() for said in told.usable for words in endless):
        return bare[0]  # “ten minutes: …, over and over until the clock runs out”
    for said, span in told.role(""):
        behind = said.sentence.tokens[span.hi : span.hi + 1]
        headed = "ladder" in said.low() and span.lo and said.sentence.tokens[span.lo - 1].mark(":,–-")
        if (behind and behind[0].low == "ladder") or (headed and not said.has(p.WorkLine, p.Lift)):
            return said, span  # “10-minute ladder”, “Ascending ladder: 8 minutes”
        again = said.cue("repeat") or "ladder" in said.low() or said.sentence.tokens[0].low == "rounds"
        again = again or bool(TURNING & said.low())  # “for twenty minutes you alternate between …”
        before = [token.low for token in said.sentence.tokens[max(0, span.lo - 2) : span.lo]]
        if again and (before[-1:] == ["for"] or {"until", "till"} & set(before)):
            return said, span
    for said, span in told.role(""):
        of = [token.low for token in said.sentence.tokens[span.hi :]]
        if span.lo == 0 and of in (["of"], ["of", ":"]) and not told.cue("for_time") and not told.role("cap"):
            return said, span  # “12 minutes of:”, and a list below
    scores = [s for s in told.usable if s.cue("score") or s.sentence.section is Section.SCORE]
    counted = [s for s in scores if {"reps", "repetitions"} & s.low() and "time" not in s.low()]
    counted = [s for s in counted if s.cue("score") or s.cue("rounds")]
    in_rounds = any(said.cue("rounds") for said in counted)  # “within 10 minutes: …; score: rounds + reps”
    roles = ("", "within") if in_rounds else ("",)
    for said, span in told.role(*roles) if counted and not told.cue("for_time") and not told.role("cap") else ():
        alone = span.hi - span.lo >= len(said.sentence.tokens) - 1
        if alone or (span.lo and said.sentence.tokens[span.lo - 1].low in ("in", "within")):
            return said, span  # “in 16 minutes: …; score: reps”
    return None


def as_many(draft: Draft, told: Bounding) -> tuple[Said, p.Span] | None:
    """Return the time of work that ends with as many as there is time for: “60 burpees, then max pull-ups”."""
    listed = [said for said in told.usable if said.sentence.section is Section.WORK]
    others = any(work.counts for said in listed for work in said.of(p.WorkLine))
    most = any(
        _most(said) and (said.cue("then", "remaining") or (others and said.opens_with(MOST))) for said in listed
    )
    roles = ("cap", "within", "")
    spans = [pair for pair in told.spans if pair[1].role in roles or on_a_clock(*pair)]
    spans = [pair for pair in spans if not pair[0].has(p.Lift)] or spans
    working = [said for said in listed if said.has(p.WorkLine)]
    if len(working) == 1 and _most(working[0]) and not spans:
        spans = [*ranged(draft, working)]  # “0:00 to 6:00: max calories on the rower”
    alone = len(working) == 1 and _most(working[0]) and len(spans) == 1  # “Ten minutes. Max calories on the rower.”
    return spans[0] if (most or alone) and spans else None


def _most(said: Said) -> bool:
    """Return whether a sentence asks for as many as possible of something, “max ring muscle-ups”, and no lift."""
    bare = [work for work in said.of(p.WorkLine) if not work.counts]
    return bool(MOST & said.low()) and bool(bare) and not said.has(p.Lift)


def unending(told: Bounding) -> tuple[Said, p.Span] | None:
    """Return the time of work that goes on and on: “9 minutes to climb: 2 …, 4 …, 6 … and so on”."""
    dots = any(cue.name == "etc" for said in told.usable for cue in said.of(p.Cue))
    climbs = any(row.open for said in told.usable for row in said.of(p.RepCounts))  # “in 9 minutes: 3-6-9-…”
    if not (dots or climbs or told.cue("etc")):
        return None
    climbing = any({"ladder", "climb"} & said.low() for said in told.usable) or climbs
    climbing = climbing and not told.has(p.RoundCount)
    roles = ("", "within", "cap") if climbing else ("",)  # “within a limit of 10 minutes go up the ladder”
    usable = [pair for pair in told.spans if pair[1].role in roles or on_a_clock(*pair)]
    usable = [(said, span) for said, span in usable if said.sentence.section is Section.WORK]
    return next((pair for pair in usable if not (pair[0].has(p.Lift) or pair[0].cue("if"))), None)


def on_a_clock(said: Said, span: p.Span) -> bool:
    """Return whether a time is that of one clock: “on a clock of 6 minutes”."""
    before = said.sentence.tokens[max(0, span.lo - 3) : span.lo]
    return any(token.low == "on a" for token in before)
