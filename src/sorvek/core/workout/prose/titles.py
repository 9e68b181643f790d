"""The title of a workout, and words at its head that are no work."""

from collections.abc import Sequence
from itertools import pairwise, takewhile

from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.build import TURNS, Draft
from sorvek.core.workout.prose.draft import Said, means
from sorvek.core.workout.prose.headings import Section
from sorvek.core.workout.prose.kinds import SHORT_FORM
from sorvek.core.workout.prose.rep_counts import COUNTDOWN
from sorvek.core.workout.prose.words import Kind, Token

LONGEST_LIFT = 6  # a line of more words with a lift in it is no title
MOST_PART = 10  # no announcement has so many parts; “Couplet 18” is a title
LONGEST_TITLE = 9

NUMBERED, NUMBERED_TO = {"event", "workout", "wod", "test", "qualifier", "week"}, 2


def take_title(draft: Draft) -> None:
    """Take the first line as the title if it names nothing."""
    said = next(iter(draft.said), None)
    if said is None:
        return
    sentence = said.sentence
    works = said.of(p.WorkLine)
    numbered = len(works) == 1 and _numbers_it(sentence.tokens, works[0])  # “EVENT 3 – SNATCH LADDER”
    named = numbered or (not any(work.counts for work in works) and _worked_later(draft, said))
    forms = ("amrap", "for_time", "for_reps", "emom", "cap")
    last = sentence.tokens[-1]
    headed = sentence.words + len(sentence.lead) > SHORT_FORM and not (
        last.mark(":,") or last.low in ("of", "for", "in")
    )
    again = headed and any(other.cue(*forms) for other in draft.said[1:])
    kinds = (p.WorkLine, p.RepCounts, p.RoundCount, p.Range, *(() if again else (p.Span,)))
    plain = named or (sentence.heading and not said.of(p.Range)) or not said.has(*kinds)
    timed = bool(said.of(p.Span)) and said.cue("amrap")  # “2 min AMRAP x 4, rest 2 min between”
    bounding = any(token.cue(*forms) for token in sentence.tokens) and (timed or not again)
    headed_line = bool(sentence.lead) or sentence.heading
    alone = len(draft.said) == 1 or draft.said[1].sentence.line != sentence.line or headed_line
    parted = any(cue.name in ("part", "stage") and 0 < cue.number < MOST_PART for cue in said.of(p.Cue))
    parted = parted or any(token.cue("part", "stage") for token in sentence.lead)
    part = parted and (sentence.words <= 3 or any(token.cue(*forms) for token in sentence.tokens))
    labelled = bool(sentence.lead) and sentence.section not in (Section.WORK, Section.STORY)
    addressed = labelled or sentence.tokens[-1].mark(",")
    again_lift = any(other.has(p.Lift) for other in draft.said[1:])
    lifting = bool(said.of(p.Lift)) and (sentence.words > LONGEST_LIFT or not again_lift)
    labels = all(token.cue("men", "women", "level") or token.kind is Kind.MARK for token in sentence.tokens)
    addressed = addressed or labels or sentence.section is Section.LOADS  # the heads of a table
    weights = said.of(p.Loads)
    addressed = addressed or (bool(weights) and weights[0].lo == 0)  # “60/43 kg, 9/6 kg ball”
    outside = list(takewhile(lambda token: not token.mark("("), sentence.tokens))
    short = sum(token.kind is not Kind.MARK for token in outside) <= LONGEST_TITLE
    if plain and alone and short and not (bounding or part or lifting or addressed):
        draft.title = said
        said.used = True
        said.phrases = [] if numbered else said.phrases


def take_quoted_title(draft: Draft) -> None:
    """Take a name on a line of its own as the title where the first line is none: “Dear all,”, then “Kelp”.

    It stands in quotes or behind “Name:”.
    """
    quoted = (said for said in draft.said if said.sentence.heading and said.sentence.tokens[0].mark('“"'))
    keyed = (s for s in draft.said if s.sentence.words > 1 and s.sentence.tokens[0].low in ("name", "title"))
    keyed = (said for said in keyed if said.sentence.tokens[1].mark(":") and not said.phrases)
    title = next(iter((*quoted, *keyed)), None) if draft.title is None else None
    if title is not None:
        draft.title, title.used, title.phrases = title, True, []


def take_numbered_title(draft: Draft) -> None:
    """Take the second line as the title below the name of the event: “Harbour Qualifier”, “WORKOUT 2 – Kelp”."""
    event = draft.title
    rest = draft.said[draft.said.index(event) + 1 :] if event else []
    below = rest[0] if rest else None
    if event is None or below is None or not below.sentence.heading or len(below.sentence.tokens) < NUMBERED_TO:
        return
    head, number = below.sentence.tokens[:NUMBERED_TO]
    named = head.low in NUMBERED and number.kind is Kind.NUMBER
    kinds = (p.WorkLine, p.RepCounts, p.RoundCount, p.Span, p.Lift)
    if named and event.sentence.tokens[0].low not in NUMBERED and not below.has(*kinds):
        draft.title, below.used, below.phrases = below, True, []


def unnumber_rounds(draft: Draft) -> None:
    """Take for a label which rounds of an AMRAP in turn have their own work: “Odd rounds (1, 3, 5 …): 5 cleans”."""
    heads = [(s, [*s.sentence.lead, *s.sentence.tokens][:2]) for s in draft.said if s.of(p.WorkLine)]
    told = [s for s, head in heads if len(head) > 1 and head[0].low in TURNS and head[1].cue("rounds")]
    if len(told) != len(TURNS):
        return
    for said in told:
        first = said.of(p.WorkLine)[0].lo
        draft.facts.used += said.sentence.tokens[:first]
        said.phrases = [x for x in said.phrases if x.lo >= first]


def drop_named(draft: Draft) -> None:
    """Take movements in a head for its name where they are counted below: “AMRAP 10: Dubs & Cleans”."""
    for said in draft.said[:1]:  # “QUALIFIER #2 “Up Down””
        marks = [i for i, token in enumerate(said.sentence.tokens) if token.mark('"“”')]
        quoted = [x for x in said.of(p.WorkLine) if len(marks) > 1 and marks[0] < x.lo < marks[-1] and not x.counts]
        said.phrases = [x for x in said.phrases if x not in quoted]
    for at, said in enumerate(draft.said[:2]):
        works = said.of(p.WorkLine)
        later = {x.movement for other in draft.said[at + 1 :] for x in other.of(p.WorkLine) if x.counts}
        named = all(any(means(work.movement, name) for name in later) and not work.counts for work in works)
        if works and named and said.cue("amrap", "for_time") and said.has(p.Span) and "max" not in said.low():
            draft.facts.used += [token for work in works for token in said.tokens(work)]
            said.phrases = [x for x in said.phrases if x not in works]


def set_aside(draft: Draft) -> None:
    """Take for story what calls counted reps a race, questions that are denied, and the countdown.

    “A race in three acts”; “2000 m row for time? No, better:”; “Start: 3-2-1, go”.
    """
    for at, (said, behind) in enumerate(pairwise(draft.said)):
        line = list(takewhile(lambda one: not one.sentence.first, draft.said[at + 1 :]))
        denied = said.sentence.tokens[-1].mark("?") and line and behind.sentence.tokens[0].low == "no"
        mended = any(one.has(p.Loads, p.Span) for one in line) and not any(one.has(p.WorkLine) for one in line)
        if denied and not mended:  # “50 squats at 60 %? No: at 80/55 kg” is work
            said.phrases, said.sentence.section = [], Section.STORY
        if (
            said.sentence.heading
            and COUNTDOWN & said.low()
            and any(x.counts == (3, 2, 1) for x in behind.of(p.RepCounts))
        ):
            behind.phrases, behind.sentence.section = [], Section.STORY
    reps = any(said.cue("amrap") for said in draft.said)
    for said in draft.said:
        racing = [token for token in said.sentence.tokens if token.cue("for_time")]
        bounds = said.has(p.WorkLine, p.RepCounts, p.RoundCount, p.Span)
        if reps and racing and not bounds and all("clock" in token.low for token in racing):
            said.sentence.section = Section.STORY


def _numbers_it(tokens: Sequence[Token], work: p.WorkLine) -> bool:
    """Return whether the count of work in a first line is the number of the event."""
    head = tokens[: work.hi]
    number = next((i for i, token in enumerate(head) if token.kind is Kind.NUMBER), 0)
    if number != 1 or work.counts != (int(head[1].number),) or len(head) <= NUMBERED_TO:
        return False
    return head[0].low in NUMBERED and head[NUMBERED_TO].mark("–—-:")


def _worked_later(draft: Draft, title: Said) -> bool:
    """Return whether all movements a line names are counted further down: “Row & Run” is a title."""
    names = {work.movement for work in title.of(p.WorkLine)}
    series = any(said.has(p.RepCounts) for said in draft.said[1:])
    works = [work for said in draft.said[1:] for work in said.of(p.WorkLine)]
    later = {work.movement for work in works if work.counts or series}
    return bool(names) and names <= later and not title.has(p.RepCounts, p.Span, p.RoundCount)
