"""Which sentences are work, and which say how reps are done, what is scored, or the same again."""

from collections.abc import Sequence
from dataclasses import replace
from itertools import takewhile

from sorvek.core.workout import tree as w
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.divisions import division_at, level_of
from sorvek.core.workout.prose.draft import Said
from sorvek.core.workout.prose.headings import MOST_GEAR, Section
from sorvek.core.workout.prose.words import MOST, Kind, Token, ordinal, vocabulary

WORKING = (Section.WORK, Section.CAP)
SHORT = 8
MOST_NAMED = 4  # words of a movement that is not known
NO_MOVEMENT = {"rep", "reps", "round", "point", "points", "try", "attempt", "score", "of", "is", "are", "set", "no"}
SHORT_FORM = 4  # a line of no more words that names a form is no title
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


def point_at_nothing(draft: Draft) -> None:
    """Take rounds that seem to point back as those of the work where no others are told: “each of the 4 rounds”."""
    told = [(said, x) for said in draft.said for x in said.of(p.RoundCount) if said.sentence.section in WORKING]
    if len(told) != 1 or not told[0][1].pointed or any(said.has(p.RepCounts) for said in draft.said):
        return
    said, rounds = told[0]
    if not said.has(p.WorkLine) and not said.cue("tiebreak", "score"):
        said.phrases = [replace(x, pointed=False) if x is rounds else x for x in said.phrases]


KINDS = {"ladder", "couplet", "triplet"}  # of workouts, named for one of their movements
RULED = {"allowed", "permitted", "ok", "okay", "mandatory", "forbidden", "prohibited"}


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
    named = {line.work.movement for line in draft.lines() if line.work}
    ruled = bool(works) and all(work.movement in named and not work.counts for work in works)
    if ruled and RULED & said.low():
        return False  # “Deadlifts: touch and go allowed”
    if said.cue("death") and not firm:
        return False  # “Death by burpees”
    if not works and _opens_rounds(draft, said):
        return True
    if works and not firm and sentence.words <= SHORT_FORM and KINDS & said.low() and not _structured(said):
        return False  # “Double-under ladder”, “Snatch triplet”
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
    if works and tokens[0].low in PUTTING and any(token.mark("=:") for token in tokens[:MOST_CLAUSE]):
        return True  # “Drop the bar = 7 burpees”
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
    if not (listed and working) or defines(said) or sentence.heading or said.has(p.Span, p.Lift):
        return False
    named = any(token.kind is Kind.MOVEMENT for token in sentence.tokens)
    loaded = any(token.unit("kg", "lb") for token in sentence.tokens) and sentence.tokens[1].kind is Kind.WORD
    named = named or loaded  # “5 d-balls 70/50 kg”
    sized = len(sentence.tokens) > 1 and (sentence.tokens[1].unit() or sentence.tokens[1].mark("/-"))
    few = sentence.tokens[0].number <= MOST_GEAR or sized
    near = sentence.tokens if few else []
    # Not “15 toes 2 bar”, and not “15 bar hops”, where the gear only says what is hopped over.
    things = [a for a, b in zip(near, [*sentence.tokens[1:], None], strict=False) if not (b and _many(b))]
    gear = any(token.low in vocabulary("gear") for token in things) and not named
    one = sentence.tokens[0].number == 1 and _plain_words(sentence.tokens[1:])
    return not gear and not said.cue("level") and (one or not p.harmless(sentence.tokens, 0))


def _many(token: Token) -> bool:
    return token.kind is Kind.WORD and token.low.endswith("s") and token.low != "is"


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
    if said.cue("amrap"):
        return False  # “as many reps of 1 deadlift + 1 clean as possible (1 complex = 1 rep)”
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
