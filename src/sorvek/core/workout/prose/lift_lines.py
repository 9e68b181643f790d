"""Lines about max lifts made into what the lift is read from: starts, parts of a complex, attempts."""

from dataclasses import replace
from itertools import pairwise

from sorvek.core.workout import tree as w
from sorvek.core.workout.movements import Library
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.bounding import SILENT
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import Said
from sorvek.core.workout.prose.headings import Section
from sorvek.core.workout.prose.interval_lifts import ADDED_UP, BEST, STARTS, is_lift
from sorvek.core.workout.prose.lift_times import tries_told, until_clock
from sorvek.core.workout.prose.words import MOST, Kind

BESIDE = 2  # lines around the parts of a complex, and their words, that may call it one: “COMPLEX”, “Max weight”
MOST_BETWEEN = 3  # words between a time and the lift it is for


def mark_lift_ends(draft: Draft) -> None:
    """Mark the clock at which a lift ends, “You have until 14:00”: it extends nothing."""
    for at, said in enumerate(draft.said):
        near = draft.said[at : at + 2]
        for other in near if said.of(p.Lift) and not any(one.cue("if") for one in near) else ():
            marked = [
                replace(x, role="until")
                if isinstance(x, p.Span) and x.role == "extend" and until_clock(other, x)
                else x
                for x in other.phrases
            ]
            other.phrases = marked


def read_lift_starts(draft: Draft) -> None:
    """Give a lift the clock told on the line above it: “Starts at 8:00”, “4 minutes to find a 1RM”."""
    spans_of = [(said, span) for said in draft.said for span in said.of(p.Span)]
    capped = any(span.role == "cap" or said.sentence.section is Section.CAP for said, span in spans_of)
    for head, said in pairwise(draft.said) if capped else ():  # without a cap that clock ends the work before
        clocks = [b.number for a, b in pairwise(head.sentence.tokens) if a.low == "at" and b.kind is Kind.CLOCK]
        spans = [span for span in said.of(p.Span) if span.role in ("", "within")]
        if len(clocks) == len(spans) == 1 and STARTS & head.low() and said.has(p.Lift) and not head.has(p.WorkLine):
            clocked = p.Range(spans[0].lo, spans[0].hi, clocks[0], clocks[0] + spans[0].seconds)
            said.phrases = [clocked if phrase is spans[0] else phrase for phrase in said.phrases]
            draft.facts.used += head.sentence.tokens
            head.phrases, head.used = [], True


def read_split_lifts(draft: Draft) -> None:
    """Read a lift whose movement stands on the next line: “For max load (6 min):”, “Clean & jerk”."""
    for head, said in pairwise(draft.said):
        works = said.of(p.WorkLine)
        bare = len(works) == 1 and not works[0].counts and not works[0].sizes
        rest = said.sentence.tokens[works[0].hi :] if bare else []
        styled = len(rest) > 1 and rest[0].mark("(") and rest[-1].mark(")")  # “Hang clean (any style)”
        bare = bare and works[0].lo == 0 and (len(rest) <= 1 or styled)
        named = any(token.kind is Kind.MOVEMENT for token in head.sentence.tokens)
        heading = head.cue("lift") and not (head.has(p.Lift, p.WorkLine) or named or MOST & head.low() - {"max"})
        if bare and heading and head.cue("lift") and is_lift(draft.library, works[0].movement):
            times = [span.seconds for span in head.of(p.Span) if span.role in ("", "cap", "within")]
            lift = p.Lift(works[0].lo, works[0].hi, works[0].movement, window_s=times[0] if times else 0.0)
            said.phrases = [lift if phrase is works[0] else phrase for phrase in said.phrases]


def read_attempts(draft: Draft) -> None:
    """Read a lift told by its attempts, “Snatch: 3 attempts within 6 min”, which is no count of it."""
    for said in draft.said:
        tokens, tries = said.sentence.tokens, tries_told(said)
        lifts = [i for i, t in enumerate(tokens) if t.kind is Kind.MOVEMENT and is_lift(draft.library, t.name)]
        timed = [span for span in said.of(p.Span) if span.role in ("", "within", "cap")]
        if tries is None or len(lifts) != 1 or len(timed) != 1 or said.has(p.Lift):
            continue
        lift = p.Lift(lifts[0], lifts[0] + 1, tokens[lifts[0]].name, window_s=timed[0].seconds)
        said.phrases = [lift, *(phrase for phrase in said.phrases if not isinstance(phrase, p.WorkLine))]


def read_complex(draft: Draft) -> None:
    """Read a complex for load whose parts are listed: “For load: 1 clean, 2 front squats, 1 jerk (complex)”."""
    usable = [said for said in draft.said if said.sentence.section not in SILENT]
    if any(said.of(p.Lift) for said in usable) or not any(said.cue("lift") for said in usable):
        return
    for at, said in enumerate(usable):
        works = said.of(p.WorkLine)
        plain = all(len(work.counts) == 1 and not work.sizes for work in works)
        near = [one for one in usable[max(0, at - BESIDE) : at + BESIDE + 1] if one.sentence.words <= BESIDE]
        near += [
            one for one in usable[max(0, at - 1) : at] if one.sentence.tokens[-1].mark(":") or _ends_with_of(one)
        ]
        near += [one for one in usable[at + 1 : at + 2] if not one.has(p.WorkLine)]  # “9 minutes for max load”
        named = said.cue("lift") or any("complex" in one.low() or one.cue("lift") for one in near)
        lifted = all(is_lift(draft.library, work.movement) for work in works)
        joined = sum(token.mark("+") for token in said.sentence.tokens) >= len(works) - 1 and named
        called = any("complex" in token.low for token in (*said.sentence.lead, *said.sentence.tokens))
        if len(works) > 1 and plain and lifted and (called or joined):
            first, *more = [(work.movement, work.counts[0]) for work in works]
            lift = p.Lift(works[0].lo, works[-1].hi, first[0], reps=first[1], more=tuple(more))
            said.phrases = [lift, *(x for x in said.phrases if not isinstance(x, p.WorkLine))]


def _ends_with_of(said: Said) -> bool:
    return said.sentence.tokens[-1].low == "of"


def read_timed_lifts(draft: Draft) -> bool:
    """Read lifts told by their minutes, and return whether there are any.

    “7 minutes for the snatch, then 7 minutes for the clean and jerk. The best of both are added up.”
    """
    usable = [said for said in draft.said if said.sentence.section not in SILENT]
    counted = any(work.counts or work.sizes for said in usable for work in said.of(p.WorkLine))
    summed = any((ADDED_UP | BEST) & said.low() for said in usable)
    works = [work for said in usable if said.has(p.Span) for work in said.of(p.WorkLine)]
    unlifted = any(not draft.library.movements[work.movement].styles[0].lift for work in works)  # “1:00 burpees”
    rounds = any(
        x.count > 1 for said in usable for x in said.of(p.RoundCount)
    )  # “5 rounds for total reps: 1 min …”
    if counted or unlifted or rounds or not summed or any(said.of(p.Lift) for said in usable):
        return False
    found = False
    for said in (said for said in usable if not MOST & said.low()):
        spans = [span for span in said.of(p.Span) if span.role != "rest"]
        lifts = [lift for span in spans if (lift := _lift_for(draft.library, said, span)) is not None]
        if lifts:
            others = [x for x in said.phrases if not isinstance(x, p.WorkLine)]
            said.phrases = sorted([*others, *lifts], key=lambda phrase: phrase.lo)
            draft.facts.form, found = w.Form.LIFT, True
    return found


def _lift_for(library: Library, said: Said, span: p.Span) -> p.Lift | None:
    """Return the lift close behind a time that is its window: “7 minutes for the snatch”."""
    for at, token in enumerate(said.sentence.tokens[span.hi : span.hi + MOST_BETWEEN], span.hi):
        if token.kind is Kind.MOVEMENT and is_lift(library, token.name):
            return p.Lift(at, at + 1, token.name, window_s=span.seconds)
    return None
