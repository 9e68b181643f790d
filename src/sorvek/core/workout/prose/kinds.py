"""Which sentences are work, and which say how reps are done, what is scored, or the same again."""

from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise, takewhile

from sorvek.core.workout import tree as w
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.build import TURNS, Draft
from sorvek.core.workout.prose.counts import COUNTDOWN
from sorvek.core.workout.prose.divisions import division_at, level_of
from sorvek.core.workout.prose.draft import Said, means
from sorvek.core.workout.prose.lines import Section
from sorvek.core.workout.prose.words import MOST, Kind, Token, ordinal, vocabulary

WORKING = (Section.WORK, Section.CAP)
SHORT = 8
# What an announcement is called before its number, and where the mark behind that stands: “EVENT 3 – …”.
MOST_NAMED = 4  # words of a movement that is not known
NO_MOVEMENT = {"rep", "reps", "round", "point", "points", "try", "attempt", "score", "of", "is", "are", "set", "no"}
NUMBERED, NUMBERED_TO = {"event", "workout", "wod", "test", "qualifier", "week"}, 2
LONGEST_TITLE = 9
SHORT_FORM = 4  # a line of no more words that names a form is no title
MOST_PART = 10  # no announcement has so many parts; “Couplet 18” is a title
LONGEST_LIFT = 6  # a line of more words with a lift in it is no title
# With these words an announcement says again what it has said.
AGAIN = (
    *(["(", word] for word in ("so", "i", "e")),
    *(["that", word] for word in ("is", "makes", "means")),
    *(["this", "means"], ["i", "."], ["so", ":"], ["meaning", ":"]),
)
SWAPS = {"instead", "substitute", "substituted", "replace", "replaces", "replaced", "swap", "become", "becomes"}
# “switch arms whenever you like” is no penalty.
SWITCHING, HANDS = {"switch", "change", "swap", "alternate"}, {"arms", "arm", "hands", "hand", "sides", "legs"}
PUTTING = {
    "put",
    "down",
    "drop",
    "dropped",
    "dropping",
    "drops",
    "rest",
    "rests",
    "break",
    "breaks",
    "stop",
    "stops",
}
MOST_CLAUSE = 10  # words in which a penalty says what it is for
MOST_BEFORE_LEVEL = 5  # words up to the level: “athletes in the scaled division”
DOING = {"do", "does", "perform", "performs"}
PEOPLE = {"athlete", "athletes", "you", "they", "competitor", "competitors", "she", "he", "move", "moves"}


def swaps(said: Said) -> bool:
    """Return whether a sentence puts one movement in the place of another."""
    return bool(SWAPS & said.low()) or "in place of" in said.text().lower()


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


def point_at_nothing(draft: Draft) -> None:
    """Take rounds that seem to point back as those of the work where no others are told: “each of the 4 rounds”."""
    told = [(said, x) for said in draft.said for x in said.of(p.RoundCount) if said.sentence.section in WORKING]
    if len(told) != 1 or not told[0][1].pointed or any(said.has(p.RepCounts) for said in draft.said):
        return
    said, rounds = told[0]
    if not said.has(p.WorkLine) and not said.cue("tiebreak", "score"):
        said.phrases = [replace(x, pointed=False) if x is rounds else x for x in said.phrases]


def _worked_later(draft: Draft, title: Said) -> bool:
    """Return whether all movements a line names are counted further down: “Row & Run” is a title."""
    names = {work.movement for work in title.of(p.WorkLine)}
    series = any(said.has(p.RepCounts) for said in draft.said[1:])
    works = [work for said in draft.said[1:] for work in said.of(p.WorkLine)]
    later = {work.movement for work in works if work.counts or series}
    return bool(names) and names <= later and not title.has(p.RepCounts, p.Span, p.RoundCount)


def is_work(draft: Draft, said: Said) -> bool:
    """Return whether a sentence says what is to be done."""
    sentence = said.sentence
    if sentence.section not in (Section.WORK, Section.CAP) or (sentence.heading and not said.of(p.Range)):
        return False
    works = said.of(p.WorkLine)
    if of_the_level_before(draft, said):
        return False  # read where it is known what everybody does
    if _of_others(said) or (draft.builder.visits() and of_a_level(said)):
        return False
    firm = [work for work in works if not work.pointed and (work.counts or draft.builder.open)]
    if _standard(said, firm) or defines(said) or "example" in said.low():
        return False
    if said.cue("death") and not firm:
        return False  # “Death by burpees”
    if not works and _opens_rounds(draft, said):
        return True
    if works and not firm and sentence.words <= SHORT_FORM and "ladder" in said.low() and not _structured(said):
        return False  # “Double-under ladder”
    most = bool(MOST & said.low()) and draft.facts.form in (w.Form.AMRAP, w.Form.PARTS)
    if not (firm or _structured(said)):
        return bool(works) and not said.cue("score") and (_only_work(said) or bool(said.cue("amrap")) or most)
    scored = (bool(vocabulary("scores") & said.low()) and not most) or said.cue("score", "tiebreak")
    return any(work.counts for work in firm) or not scored


def _of_others(said: Said) -> bool:
    """Return whether a sentence says what somebody does in the place of the work."""
    counted = any(work.counts for work in said.of(p.WorkLine))
    if swaps(said) and (not counted or "instead of" in said.text().lower()):
        return True  # “10 wall walks instead of the handstand walk”
    return said.cue("level") and (swaps(said) or (bool(DOING & said.low()) and not counted))


def _opens_rounds(draft: Draft, said: Said) -> bool:
    """Return whether a line begins what is repeated behind work done once: “max rounds of”, then a list."""
    at = draft.said.index(said)
    behind = any(work.counts for other in draft.said[at + 1 : at + 2] for work in other.of(p.WorkLine))
    bare = said.cue("amrap") and sum(token.kind is not Kind.MARK for token in said.sentence.tokens) <= SHORT_FORM
    timed = draft.facts.form is w.Form.AMRAP and not said.has(p.Span, p.Range)
    return bare and behind and timed and bool(draft.builder.visits())


def of_a_level(said: Said) -> bool:
    """Return whether a sentence says what a level does: “Masters: 30 pull-ups”, “those in the scaled class”."""
    head = [*said.sentence.lead, *said.sentence.tokens]
    head = head[: MOST_BEFORE_LEVEL if head[0].low in PEOPLE else 3]
    levels = [token for token in head if token.cue("level") and token.low not in ("rx", "open")]
    aged = set(division_at(head, 0)[0].split()) & {"masters", "teens"}  # “50+: pull-ups”
    return bool(levels or aged) and said.has(p.WorkLine) and not said.has(p.RoundCount, p.RepCounts)


def conditional(said: Said) -> bool:
    """Return whether counted work is only done now and then: “every time you break, do 5 burpees”."""
    tokens = said.sentence.tokens
    if said.sentence.section is Section.TIE or said.cue("tiebreak"):
        return False  # “tie-break: record your time at the end of each 500 m row”
    after = any(
        a.low == "after" and b.low in ("each", "every") and (c.kind is Kind.NUMBER or ordinal(c.low))
        for a, b, c in zip(tokens, tokens[1:], tokens[2:], strict=False)
    )
    works = any(work.counts for work in said.of(p.WorkLine))
    lows = [word for token in tokens[:MOST_CLAUSE] for word in token.low.split()]
    if works and lows[:2] in (["every", "time"], ["each", "time"]) and PUTTING & set(lows):
        return True  # “Every time the dumbbell is put down: 3 burpees”
    if works and {"costs", "cost", "penalised", "penalized"} & said.low():
        return True  # “dropping the bar costs 5 burpees”
    if works and " i.e" in said.text().lower():
        return True  # “(one after the other, i.e. 21 squats, 15 calories, 15 squats …)”
    paced = any(
        a.low in ("every", "each") and b.kind is Kind.NUMBER and c.unit("m", "km", "cal")
        for a, b, c in zip(tokens, tokens[1:], tokens[2:], strict=False)
    )
    if works and _every_so_many(tokens):
        return True  # “50 burpees, every 10 burpees 1 rope climb”
    text = said.text().lower()
    if paced and works and not any(words in text for words in ("count", "is a rep", "is one rep")):
        return True  # “every 1,000 m do 10 burpees”
    told = ({t.low for t in tokens[max(0, i - 3) : i]} for i, token in enumerate(tokens) if token.cue("penalty"))
    handed = any(SWITCHING & words and HANDS & words for words in told)
    return (said.cue("penalty") and works and not handed) or (
        after and any(token.kind is Kind.MOVEMENT for token in tokens)
    )


def _every_so_many(tokens: Sequence[Token]) -> bool:
    """Return whether other work is done at every so many reps: “every 10 burpees 1 rope climb”."""
    rows = zip(tokens, tokens[1:], tokens[2:], tokens[3:], strict=False)
    return any(
        a.low in ("every", "each")
        and b.kind is Kind.NUMBER
        and c.kind is Kind.MOVEMENT
        and (d.kind is Kind.NUMBER or d.mark(","))
        for a, b, c, d in rows
    )


def not_for_all(draft: Draft, said: Said) -> bool:
    """Return whether counted work is only done now and then, or is a series that only a level does."""
    return conditional(said) or (said.has(p.RepCounts) and of_the_level_before(draft, said))


def of_the_level_before(draft: Draft, said: Said) -> bool:
    """Return whether work stands behind the loads of a level on its line: “60+: 15/10 kg; 2 wall walks”.

    So does a series of its own: “scaled 35/25 kg with 10-20-30-… single-unders”.
    """
    series = next((counts.lo for counts in said.of(p.RepCounts)), 0)
    named = any(t.cue("level") and t.low not in ("rx", "open") for t in said.sentence.tokens[:series])
    if named and draft.builder.visits():
        return True
    led = bool(division_at(said.sentence.lead, 0)[1])  # it is known whose work it is
    if said.sentence.first or led or of_a_level(said) or not said.of(p.WorkLine):
        return False
    above = takewhile(lambda other: other is not said, draft.said)
    before = [other for other in above if other.sentence.line == said.sentence.line]
    names = {a.division for other in before for load in other.of(p.Loads) for a in load.sizes.amounts}
    return any(level_of(name) for name in names)


def _structured(said: Said) -> bool:
    """Return whether a sentence without work says how work is arranged."""
    if said.sentence.words <= SHORT and said.sentence.tokens[0].cue("then"):
        return True
    spans = any(span.role in ("rest", "extend") for span in said.of(p.Span))
    cues = any(cue.name in ("etc", "until_missed", "remaining") for cue in said.of(p.Cue))
    parts = any(cue.name in ("part", "stage") and cue.number for cue in said.of(p.Cue))
    return said.has(p.RoundCount, p.Numbered, p.RepCounts, p.Range, p.Step) or spans or cues or parts


def _standard(said: Said, firm: Sequence[p.WorkLine]) -> bool:
    """Return whether a sentence says how reps are done rather than which."""
    strong = vocabulary("standards") & said.low()
    if {"weight", "weights", "load", "loads"} & said.low():
        strong -= {"below"}  # “2 cleans at the weight below”
    lists = len(firm) >= 2 or said.has(p.RoundCount, p.RepCounts) or said.cue("amrap", "for_time")
    return bool(strong) and not lists and not (firm and said.sentence.words <= SHORT)


def ends_with_rounds(draft: Draft, number: int) -> bool:
    """Return whether rounds are told alone behind all work: a list, and below it “2 rounds. For time.”."""
    said, behind = draft.said[number], draft.said[number + 1 :]
    later = any(w.counts for one in behind if one.sentence.section in WORKING for w in one.of(p.WorkLine))
    series = any(one.has(p.RepCounts) or any(x.sizes is None for x in one.of(p.WorkLine)) for one in behind[:2])
    return said.has(p.RoundCount) and not said.has(p.WorkLine) and not (later or series)


def restated(draft: Draft, said: Said) -> bool:
    """Return whether a sentence only says again what was read before."""
    works = [work for work in said.of(p.WorkLine) if work.counts]
    opening = [token.low for token in said.sentence.tokens[:2]]
    if opening in AGAIN and works and draft.builder.visits():
        # “(so 10 deadlifts, 1 burpee, 9 deadlifts, …)”
        draft.facts.used += said.sentence.tokens
        said.phrases = [phrase for phrase in said.phrases if not isinstance(phrase, p.WorkLine)]
        said.used = True
        return True
    timed = said.cue("tiebreak") and bool({"after", "every", "each"} & said.low())
    if timed and works and {(work.movement, work.counts[0]) for work in works} <= set(draft.builder.visits()):
        return True  # “Record the time after each set of 30 double-unders (tie-break)”
    rests = {span.seconds for span in said.of(p.Span) if span.role == "rest"}
    known = {node.block.seconds for node in draft.builder.body if isinstance(node.block, w.Rest)}
    if not works and rests and rests <= known and said.low() & PEOPLE:
        said.used = True
        return True
    listed_again = any(cue.name == "rounds" and cue.number for cue in said.of(p.Cue)) and any(
        isinstance(node.block, w.Series | w.Ladder) for node in draft.builder.body
    )
    if not works or not (said.low() & PEOPLE or listed_again):
        return False
    seen = draft.builder.visits()
    row = [(work.movement, work.counts[0]) for work in works]
    if len(seen) < 2 or (said.cue("then", "again") and len(row) == 1 and said.sentence.tokens[0].cue("then")):
        return False
    again = any(seen[i : i + len(row)] == row for i in range(len(seen) - len(row) + 1))
    if again:
        draft.facts.used += [token for work in works for token in said.tokens(work)]
        said.used = True
    return again


def gaps_mean(draft: Draft) -> bool:
    """Return whether a blank line separates blocks, and does not just stand between all lines."""
    lines = [said.sentence for said in draft.said if said.sentence.first and said.of(p.WorkLine)]
    return not lines or sum(line.gap for line in lines[1:]) < max(1, 0.6 * (len(lines) - 1))


def listed(said: Said) -> bool:
    """Return whether a line of a list begins with a count and is not understood."""
    sentence = said.sentence
    loads = sum(load.hi - load.lo for load in said.of(p.Loads))
    if loads and loads >= len([token for token in sentence.tokens if not token.mark(".,;")]):
        return False  # “60/42.5 kg” on a line of its own
    if division_at(sentence.tokens, 0)[1]:
        return False  # “50+: 40/27.5 kg”
    if sentence.words == 1 and p.NUMBERED & {token.low for token in sentence.lead}:
        return False  # “Workout: 2”
    listed = sentence.words <= 9 and sentence.first and sentence.tokens[0].kind is Kind.NUMBER
    working = sentence.section in (Section.WORK, Section.CAP)
    if not (listed and working) or defines(said) or sentence.heading or said.of(p.Span):
        return False
    named = any(token.kind is Kind.MOVEMENT for token in sentence.tokens)
    loaded = any(token.unit("kg", "lb") for token in sentence.tokens) and sentence.tokens[1].kind is Kind.WORD
    named = named or loaded  # “5 d-balls 70/50 kg”
    gear = said.low() & vocabulary("gear") and not named
    one = sentence.tokens[0].number == 1 and _plain_words(sentence.tokens[1:])
    return not gear and not said.cue("level") and (one or not p.harmless(sentence.tokens, 0))


def _plain_words(tokens: Sequence[Token]) -> bool:
    """Return whether words behind a 1 may name a movement: “1 tyre flip”, not “1 rep”, “1 judge” or “1 point”."""
    plain = all(token.kind is Kind.WORD for token in tokens) and 1 < len(tokens) <= MOST_NAMED
    return plain and not {token.low for token in tokens} & (vocabulary("gear") | NO_MOVEMENT)


def defines(said: Said) -> bool:
    """Return whether a sentence says what one rep is: “one shuttle run is one rep”."""
    works = [work for work in said.of(p.WorkLine) if work.counts]
    head = said.sentence.tokens[:2]
    if len(head) == 2 and head[0].number == 1 and head[1].low in ("rep", "repetition"):
        return True  # “1 rep = 5 m of farmers carry”
    bracket = next((i for i, token in enumerate(said.sentence.tokens) if token.mark("(")), 0)
    if (
        bracket
        and works
        and works[0].lo == 0
        and not {"rep", "reps"} & {t.low for t in said.sentence.tokens[:bracket]}
    ):
        return False  # “20 m shuttle runs (down and back = 1 rep)”
    return (
        bool(works)
        and not said.has(p.Step)
        and all(work.counts == (1,) for work in works)
        and bool({"rep", "reps", "repetition"} & said.low())
    )


def _only_work(said: Said) -> bool:
    """Return whether a sentence is a bare line of a list, such as “Thrusters”."""
    if said.sentence.tokens[0].low == "no":
        return False  # “No muscle-ups?”
    return said.sentence.words <= 6 and isinstance(said.phrases[0], p.WorkLine) and said.phrases[0].lo <= 1
