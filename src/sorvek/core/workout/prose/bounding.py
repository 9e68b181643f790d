"""What an announcement tells of how the work is bounded, and how that is written down."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from itertools import pairwise

from sorvek.core.workout import tree as w
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import Said
from sorvek.core.workout.prose.headings import Section
from sorvek.core.workout.prose.words import Kind, Token

Spans = Sequence[tuple[Said, p.Span]]
LEAST_TIME_S = 10  # no cap, window or obligatory rest is shorter; “a second for every rep” is
MOST_START = 4  # words of a line that says when something begins
MOST_RANGE = 5  # words of a line that gives a stretch of the clock: “from 0 to 10 min:”
STARTS, AT = {"starting", "start", "starts", "begin", "begins", "beginning"}, {"at", "from"}
SILENT = (Section.STANDARDS, Section.STORY, Section.SCALED)


@dataclass(slots=True)
class Bounding:
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


def set_form(
    draft: Draft, form: w.Form, cap_s: float, tokens: Sequence[Token], beside: Sequence[Said] = ()
) -> None:
    """Note the form with its time and the words that say both."""
    draft.facts.form, draft.facts.cap_s = form, cap_s
    draft.facts.tokens += tokens
    for said in beside:
        draft.facts.tokens += [t for t in said.sentence.tokens if t.cue("until_missed")]


def ask(draft: Draft, words: str, tokens: Sequence[Token]) -> None:
    """Note a doubt about the whole announcement; once if it is the same again."""
    if all(words != other for other, _ in draft.facts.asked):
        draft.facts.asked.append((words, list(tokens)))


def ranged(draft: Draft, timed: Sequence[Said]) -> Spans:
    """Return the time of the clock work has, “Part A (minutes 0 to 10): … for time”, as its cap."""
    ranges = [(said, found) for said in timed for found in said.of(p.Range)]
    before = draft.said[draft.said.index(timed[0]) - 1] if timed and timed[0] is not draft.said[0] else None
    if not ranges and before is not None and before.sentence.words <= MOST_RANGE:
        ranges = [(before, found) for found in before.of(p.Range)]  # “0:00–6:00” on a line above “for time: …”
    return [(said, p.Span(found.lo, found.hi, found.to_s - found.from_s)) for said, found in ranges[:1]]


def start_of(said: Said) -> p.Span | None:
    """Return when the clock says that something begins: “Part B (starts at 7:00)”, “At 12:00” on a line alone."""
    tokens = said.sentence.tokens
    short = said.sentence.words - sum(token.cue("part") for token in tokens) <= MOST_START and not said.cue("cap")
    for span in said.of(p.Span):
        before = {token.low for token in tokens[max(0, span.lo - 2) : span.lo]}
        headed = (
            span.lo == 1 and tokens[0].low == "at" and tokens[span.hi : span.hi + 1] and tokens[span.hi].mark(":")
        )
        opens = span.lo and tokens[span.lo - 1].low == "at" and any(t.low in STARTS for t in tokens[span.hi :])
        headed = headed or bool(opens)  # “At 8:00: 2000 m row”, “at 6:00, an AMRAP begins”
        told = STARTS & before or (short and AT & before) or headed  # “At 8:00: 2000 m row”
        if tokens[span.lo].kind is Kind.CLOCK and span.seconds and told:
            return span
    return None


def each(said: Said, span: p.Span) -> bool:
    """Return whether a time is told as “every 2:00”."""
    before = said.sentence.tokens[span.lo - 1].low if span.lo else ""
    clocked = before == "on the" and said.has(p.RoundCount)  # “6 rounds on the 2:00”
    return span.role == "every" and (before in ("every", "each", "e") or clocked)  # “E2MOM”


def denied(said: Said) -> bool:
    """Return whether “for time” is only said not to hold."""
    tokens = said.sentence.tokens
    return any(a.low == "not" and b.cue("for_time") for a, b in pairwise(tokens))
