"""What is asked about the order of the work: parts that go on, turns, rests behind one round, work in reverse."""

from sorvek.core.workout import tree as w
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.bounding import ask
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.divisions import division_at, level_of
from sorvek.core.workout.prose.draft import LONGEST_DOUBT, Said
from sorvek.core.workout.prose.headings import Section
from sorvek.core.workout.prose.words import MOST, Kind

CONTINUES = {"continue", "continues", "continuing", "resume", "resumes", "carry", "pick", "go", "starts", "start"}
STOPPED = {"stopped", "ended", "finished", "left"}
GOING_ON = ("left off", "where you stopped", "where they stopped", "where you left", "where they left")
FREE_START = ("where you want", "where they want", "where you like", "where they like", "anywhere", "wherever")
BACKWARDS = {"reverse", "reversed", "backwards"}
ONE_SET = (
    "in one set",
    "max unbroken",
    "maximum unbroken",
    "unbroken set",
    "without putting the bar down",
    "without letting go",
    "without dropping",
)
ONE_TRY = ("one attempt", "1 attempt", "single attempt")  # “max pull-ups, one attempt”; of a lift it is one try
STARTING = {"start", "starts", "begin", "begins", "finish", "finishes", "stop", "stops"}


def doubt_going_on(draft: Draft) -> None:
    """Ask about a part that begins where the one before it was left: “same, but from where you stopped”."""
    for said in [said for said in draft.said if _goes_on_from(said)][:1]:
        words = f"{said.text()[:LONGEST_DOUBT]}: the notation has no words for parts that begin midway"
        ask(draft, words, said.sentence.tokens)


def _goes_on_from(said: Said) -> bool:
    """Return whether a sentence says that something continues where something else stopped."""
    text = said.text().lower()
    named = any(words in text for words in GOING_ON)
    free = bool(STARTING & said.low()) and any(words in text for words in FREE_START)
    continues = "where" in said.low() and CONTINUES & said.low() and STOPPED & said.low()
    return named or free or bool(continues)


def doubt_single_rests(draft: Draft) -> None:
    """Ask about a rest behind one round only: “rest 1 min after round 5”."""
    for said in draft.said:
        behind = "after" in said.low() and any(span.role == "rest" for span in said.of(p.Span))
        numbers = {cue.number for cue in said.of(p.Cue) if cue.name == "rounds" and cue.number}
        rounds = {one.count for other in draft.said for one in other.of(p.RoundCount)}
        all_told = any(numbers == set(range(1, count)) for count in rounds)  # after the first one of two
        if behind and numbers and not (all_told or said.doubted) and said.sentence.section is Section.WORK:
            words = f"{said.text()[:LONGEST_DOUBT]}: the notation has no words for a rest after one round"
            ask(draft, words, said.sentence.tokens)


def doubt_turns(draft: Draft) -> None:
    """Ask about work of odd and even minutes that no part was made of: “6 min: odd minutes …, even minutes …”."""
    turning = [said for said in draft.said if {"odd", "even"} & said.low() and {"minutes", "minute"} & said.low()]
    for said in turning[:1] if draft.facts.form in (w.Form.AMRAP, w.Form.FOR_TIME) else ():
        if said.sentence.section is Section.WORK and not said.doubted:
            ask(draft, f"{said.text()[:LONGEST_DOUBT]}: how often, and what in which minute?", said.sentence.tokens)


def doubt_order(draft: Draft) -> None:
    """Ask about work in reverse and about reps that must be done in one set."""
    for said in draft.said:
        work = said.sentence.section is Section.WORK and not said.doubted and not said.sentence.heading
        text = said.text().lower()
        listed = sum(bool(line.counts) for line in said.of(p.WorkLine)) > 1  # “…: run 400 m, 25 burpees, …”
        if work and BACKWARDS & said.low() and {"same", "order", "again"} & said.low() and not listed:
            ask(draft, f"{said.text()[:LONGEST_DOUBT]}: what is done in reverse, and where?", said.sentence.tokens)
        numbered = any(token.kind is Kind.NUMBER for token in said.sentence.tokens)
        turned = any(counts.turns for counts in said.of(p.RepCounts))
        if work and numbered and "for every" in text and said.of(p.RepCounts):
            ask(draft, f"{said.text()[:LONGEST_DOUBT]}: how many for every one?", said.sentence.tokens)
        if work and numbered and "then back to" in text and not turned:
            ask(draft, f"{said.text()[:LONGEST_DOUBT]}: what is done on the way back?", said.sentence.tokens)
        if work and "unbroken" in text and {"again", "restart"} & said.low():
            ask(
                draft,
                f"{said.text()[:LONGEST_DOUBT]}: the notation has no words for sets begun anew",
                said.sentence.tokens,
            )
        most = bool(MOST & said.low()) or said.cue("amrap")
        tried = any(words in text for words in ONE_TRY) and said.of(p.WorkLine) and not said.has(p.Lift)
        if work and most and (tried or any(words in text for words in ONE_SET)):
            words = f"{said.text()[:LONGEST_DOUBT]}: the notation has no words for reps in one set"
            ask(draft, words, said.sentence.tokens)


def doubt_late_starts(draft: Draft) -> None:
    """Ask about a level that does only some rounds: “Scaled athletes start at 14”."""
    for said in draft.said:
        tokens = [*said.sentence.lead, *said.sentence.tokens]
        starts = any(
            a.low in STARTING and b.low in ("at", "with", "from") and c.kind is Kind.NUMBER
            for a, b, c in zip(tokens, tokens[1:], tokens[2:], strict=False)
        )
        leveled = starts and any(level_of(division_at(tokens, i)[0]) for i in range(len(tokens)))
        if leveled and not said.doubted:
            ask(draft, f"{said.text()[:LONGEST_DOUBT]}: which rounds do they do?", tokens)
