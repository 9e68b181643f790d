"""All that a sentence says, in the order of its words: work, rounds, times, lifts, loads and cues."""

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import replace
from itertools import pairwise

from sorvek.core.workout import tree as w
from sorvek.core.workout.movements import Library
from sorvek.core.workout.prose.amounts import sizes_at
from sorvek.core.workout.prose.divisions import division_at
from sorvek.core.workout.prose.headings import Section
from sorvek.core.workout.prose.heaviest import lift_at
from sorvek.core.workout.prose.lines import Sentence
from sorvek.core.workout.prose.load_rows import load_row_at
from sorvek.core.workout.prose.manner import SHORT_SIDES
from sorvek.core.workout.prose.phrases import (
    ELLIPSES,
    NUMBERED,
    Cue,
    Instead,
    Loads,
    Phrase,
    RepCounts,
    Span,
    Step,
    Unknown,
    WordRow,
    WorkLine,
    harmless,
    skip,
    whole,
)
from sorvek.core.workout.prose.rep_counts import climb_by, series_at, step_at
from sorvek.core.workout.prose.round_counts import numbered_at, rounds_at
from sorvek.core.workout.prose.times import duration, minutes_at, range_at, span_at
from sorvek.core.workout.prose.words import Kind, Token, vocabulary
from sorvek.core.workout.prose.works import bare_at, counted_at, work_at


def loads_at(row: WordRow, at: int) -> Loads | None:
    """Read amounts that stand apart from work."""
    sizes = sizes_at(row.tokens, at, row.works)
    if sizes is None:
        return None
    return Loads(at, sizes.hi, sizes, sizes.nouns)


def unknown_at(row: WordRow, at: int) -> WorkLine | Unknown | None:
    """Read a count that nothing is made of with the words up to the next comma; calories are of the one machine."""
    token = row.tokens[at]
    unit = row.token(skip(row.tokens, at + 1, {"more"}))
    hers = row.token(at + 2) if unit is not None and unit.mark("/") and whole(row.token(at + 2)) else None
    paired = hers is not None and row.token(at + 3) is not None and row.tokens[at + 3].unit("cal")
    if row.machine and whole(token) and hers is not None and paired:
        return WorkLine(
            at, at + 4, row.machine, (int(token.number), int(hers.number)), "cal", pointed=row.points(at)
        )
    if row.machine and whole(token) and unit is not None and unit.unit("cal"):
        end = skip(row.tokens, at + 1, {"more"}) + 1
        named = [i for i in (end, end + 1) if i < len(row.tokens) and row.tokens[i].name == row.machine]
        return WorkLine(
            at,
            named[0] + 1 if named else end,
            row.machine,
            (int(token.number),),
            "cal",
            pointed=row.points(at),
        )
    if row.lead(at) == "+" and at > 1 and row.tokens[at - 2].mark("(/"):
        return None  # “2-4-6-8-… (+2)”
    if unit is not None and unit.low in ("movements", "exercises"):
        return None  # “EMOM 20 (4 movements, 5 rounds)”
    aged = at > 0 and row.tokens[at - 1].cue("level", "men", "women") and at + 1 < len(row.tokens)
    if (token.kind is Kind.CLOCK and not token.number) or (aged and row.tokens[at + 1].mark("+-–")):
        return None  # “from 0:00”, “masters 45+”
    if token.kind not in (Kind.NUMBER, Kind.CLOCK) or harmless(row.tokens, at) or _a_side(row, at):
        return None
    end, depth = at + 1, 0
    while end < len(row.tokens):
        behind = row.tokens[end]
        depth += behind.mark("([") - behind.mark(")]")
        bounding = (
            behind.cue("lift", "cap", "amrap", "for_time", "rest", "within") or duration(row, end) is not None
        )
        if (
            depth < 0
            or (not depth and bounding)
            or (not depth and (behind.mark(",;:.") or behind.low in ("and", "then") or end in row.works))
        ):
            break
        end += 1
    return Unknown(at, end)


def _a_side(row: WordRow, at: int) -> bool:
    """Return whether a count only says how many of them are on each side: “8 lunges (4 per leg)”."""
    words = " ".join(token.low for token in row.tokens[at + 1 : at + 4]).split()
    if words[:1] in (["left"], ["right"]) and any(token.mark("(") for token in row.tokens[max(0, at - 4) : at]):
        return True  # “(5 left, 5 right)”
    other = row.tokens[at + 2 : at + 5]
    done = any(token.kind is Kind.MOVEMENT for token in row.tokens[:at])
    if done and row.token(at + 1) is not None and row.tokens[at + 1].text in SHORT_SIDES:
        return True  # “(20 R / 20 L)”
    if done and words[:1] == ["left"] and len(other) == 3 and other[0].mark("/,") and other[2].cue("right"):
        return True  # “3 left / 3 right”
    if done and words[:1] == ["right"] and row.lead(at) in ("/", ",") and row.cue_at(at - 2, "left"):
        return True
    if row.token(at + 1) is not None and row.tokens[at + 1].mark("/"):
        return words[1:2] != [] and words[1] in SIDES  # “(6/leg)”
    each = words[1:] if words[:1] == ["on"] else words
    return bool(each) and each[0] in ("per", "each", "every", "a") and bool(set(each[1:2]) & SIDES)


def scaled_at(row: WordRow, at: int) -> Unknown | Instead | None:
    """Read a bracket that holds another version: “(scaled: jumping pull-ups)”, “(masters: ring rows)”."""
    end = next((i for i in range(at, len(row.tokens)) if row.tokens[i].mark(")]")), None)
    inner = row.tokens[at : end or at]
    division, used = division_at(row.tokens, at + 1)
    rest = [token for token in inner[1 + used :] if token.kind is not Kind.MARK]
    counts = tuple(int(token.number) for token in rest if whole(token))
    names = [token.name for token in rest if token.kind is Kind.MOVEMENT]
    before = next((t.name for t in reversed(row.tokens[:at]) if t.kind is Kind.MOVEMENT), "")
    if end and used and before and len(rest) == 1 and rest[0].kind is Kind.WORD:
        how = row.library.named_like(f"{rest[0].low} {before}")  # “pull-ups (scaled: jumping)”
        return Instead(at, end + 1, division, how) if how else None
    words = [token for token in inner[1:] if token.kind is not Kind.MARK]
    other, long = division_at(words, 2) if len(words) > 2 and words[1].low == "for" else ("", 0)
    if end and before and other and len(words) == 2 + long:
        how = row.library.named_like(f"{words[0].low} {before}")  # “rope climbs (legless for Elite)”
        return Instead(at, end + 1, other, how) if how else None
    ends = rest and Kind.MOVEMENT in (rest[0].kind, rest[-1].kind)  # “(scaled: single-unders 100)”
    if end and used and ends and len(names) == 1 and len(counts) == len(rest) - 1 <= MOST_COUNTS:
        return Instead(at, end + 1, division, names[0], counts)
    level = _other_level(inner)
    return Unknown(at, end + 1) if level and end and any(t.kind is Kind.MOVEMENT for t in inner) else None


def _other_level(tokens: Sequence[Token]) -> bool:
    return any(token.cue("level") and token.low in vocabulary("other_levels") for token in tokens)


MOST_MINUTES = 60  # no work by the minute is longer; judgement
MOST_COUNTS = 2  # men's and women's
SIDES = {"leg", "arm", "side", "hand", "foot"}


def minutes_before(row: WordRow, at: int) -> Span | None:
    """Read minutes at the head of a line, right before what they are for: “15 EMOM:”."""
    behind = row.token(at + 1)
    headed = at == 0 and whole(row.tokens[0]) and row.tokens[0].number <= MOST_MINUTES
    return Span(0, 1, 60.0 * row.tokens[0].number, "emom") if headed and behind and behind.cue("emom") else None


READERS: tuple[Callable[[WordRow, int], Phrase | None], ...] = (
    range_at,
    load_row_at,
    climb_by,
    minutes_before,
    span_at,
    series_at,
    step_at,
    rounds_at,
    work_at,
    lift_at,
    loads_at,
)


def _phrases(row: WordRow) -> Iterator[Phrase]:
    """Yield what is said, in order."""
    at = 0
    while at < len(row.tokens):
        found = _phrase(row, at) or unknown_at(row, at)
        if found is None:
            at += 1
        else:
            yield found
            at = max(found.hi, at + 1)


def _told_time(row: WordRow, at: int) -> Span | None:
    """Read a time behind its cue: “cap 12”, “AMRAP: 9”, “Rest 1”, and “another minute”."""
    token, ahead = row.tokens[at], row.token(at + 1)
    if token.low == "another" and ahead is not None and ahead.unit("min"):
        return Span(at, at + 2, 60.0, "rest" if row.cue_at(at - 1, "rest") else "")
    if row.lead(at) in ("until", "till") and token.kind is Kind.CLOCK and not token.text[0].isdigit():
        return Span(at, at + 1, token.number, "cap")  # “until minute 12”
    minuted = any(a.cue("amrap") and b.kind is Kind.NUMBER for a, b in pairwise(row.tokens))  # “AMRAP 4 – rest 2”
    alone = token.cue("rest") and (len(row.tokens) == 2 or minuted)
    place = skip(row.tokens, at + 1, {"of", "in", "at", "is", *(("x", "×") if token.cue("emom") else ())}, ":=")
    if (token.cue("amrap", "cap", "emom") or alone) and (place := minutes_at(row, place)):
        return Span(at, place + 1, 60.0 * row.tokens[place].number, token.name)
    return None


def _phrase(row: WordRow, at: int) -> Phrase | None:
    token = row.tokens[at]
    if token.kind in (Kind.NUMBER, Kind.CLOCK) or token.low in ("a", "+", "twice", "thrice") or token.cue("pair"):
        return next((found for read in READERS if (found := read(row, at)) is not None), None)
    if token.mark("(["):
        return scaled_at(row, at)
    if token.kind is Kind.MOVEMENT:
        return bare_at(row, at)
    if token.cue("lift") or token.low == "best":
        return lift_at(row, at) or None
    under = token.low == "under" and division_at(row.tokens, at)[1]  # “under-18 boys”
    if token.cue("men", "women", "level") or under:
        return _of_a_division(row, at)
    if token.cue("adding") or token.low == "keep adding":
        return step_at(row, at) or Cue(at, at + 1, token.name)
    if (time := _told_time(row, at)) is not None:
        return time
    if token.cue("part", "stage", "window", "rounds"):
        return numbered_at(row, at)
    if token.low in ELLIPSES or (token.mark(".…") and row.dots(at)):
        return Cue(at, at + 1, "etc")
    return Cue(at, at + 1, token.name) if token.kind is Kind.CUE else None


def _of_a_division(row: WordRow, at: int) -> Phrase:
    """Return what is told of the division named at a token: its loads, or only that it is named."""
    name = Cue(at, at + max(1, division_at(row.tokens, at)[1]), row.tokens[at].name)
    if row.tokens[at].cue("level") and row.lead(at) == "as":
        return name  # “as RX, but 35/25 kg”
    return load_row_at(row, at) or loads_at(row, at) or name


STARTING = {
    "beginning",
    "starting",
    "begin",
    "start",
    "begins",
    "starts",
    "beginning at",
    "start with",
    "begin with",
}
MOST_JOINED = 3  # words between a step and what else rises with it


def chunk(sentence: Sentence, library: Library, machine: str = "", minutes: bool = False) -> list[Phrase]:
    """Return what a sentence says, in the order of its words; bare calories are those of `machine`.

    With `minutes` two numbers at its head are those of the clock: “4-8 power snatches”.
    """
    tokens = sentence.tokens
    row = WordRow(tokens, library, machine, sentence.section is Section.CAP, minutes)
    if row.capping and len(tokens) == 1 and whole(tokens[0]):
        return [Span(0, 1, 60.0 * tokens[0].number, "cap")]  # “Cap: 20”
    if len(tokens) == 1 and tokens[0].kind is Kind.NUMBER and NUMBERED & {token.low for token in sentence.lead}:
        return []  # “Workout: 2”
    row.works = {i for i in range(len(tokens)) if counted_at(row, i) is not None}
    phrases = _without_heads(row, list(_elided(row, _phrases(row))))
    return _of_the_step(row, _by_sex(row, [_of_both_sides(row, x) for x in _of_each(row, phrases)]))


def _without_heads(row: WordRow, phrases: list[Phrase]) -> list[Phrase]:
    """Leave out a machine that only stands before its own count, “Row, 20 calories”; take what work is said closer.

    “50 pull-ups, chest to bar” are chest-to-bar pull-ups.
    """
    kept: list[Phrase] = []
    for phrase in phrases:
        head = kept[-1] if kept else None
        if isinstance(head, Loads) and isinstance(phrase, WorkLine) and _loaded_before(row, head, phrase):
            kept[-1] = replace(phrase, lo=head.lo, sizes=head.sizes)
            continue
        if isinstance(head, WorkLine) and isinstance(phrase, WorkLine) and head.movement == phrase.movement:
            beside = all(token.kind is Kind.MARK for token in row.tokens[head.hi : phrase.lo])
            again = beside and row.lead(phrase.lo) == "(" and not (phrase.counts or head.sizes)
            if again:  # “5 clusters (squat clean thrusters) at 70/50 kg”
                kept[-1] = replace(head, hi=phrase.hi, sizes=phrase.sizes)
                continue
            if beside and phrase.unit and not head.counts:
                kept[-1] = replace(phrase, lo=head.lo)
                continue
        if isinstance(head, WorkLine) and isinstance(phrase, WorkLine) and not phrase.counts:
            told = bool(head.counts) or (not head.sizes and row.lead(phrase.lo) == "(")  # “Pull-ups (chest-to-bar)”
            closer = told and phrase.movement.endswith(f" {head.movement}") and not phrase.pointed
            if closer and all(token.mark(",-–(") for token in row.tokens[head.hi : phrase.lo]):
                kept[-1] = replace(head, hi=phrase.hi, movement=phrase.movement, sizes=head.sizes or phrase.sizes)
                continue
        kept.append(phrase)
    return kept


def _loaded_before(row: WordRow, load: Loads, work: WorkLine) -> bool:
    """Return whether a load stands right before work without a count: “AMRAP: 50 kg / 35 kg power cleans”."""
    bare = not (work.counts or work.sizes or load.nouns)
    return bare and load.hi == work.lo and row.lead(load.lo) == ":"


def _elided(row: WordRow, phrases: Iterable[Phrase]) -> Iterator[Phrase]:
    """Yield phrases; a count with a load is of the movement before: “30 snatches at 35/25 kg, 25 at 45/32.5 kg”."""
    last: WorkLine | None = None
    for phrase in phrases:
        told = row.token(phrase.lo + 1)
        at = isinstance(phrase, Unknown) and told is not None and (told.low in ("at", "with") or told.mark("@"))
        sizes = sizes_at(row.tokens, phrase.lo + 2, set()) if at and last is not None and last.sizes else None
        if sizes is not None and last is not None and sizes.lo == phrase.lo + 2:
            count = (int(row.tokens[phrase.lo].number),)
            last = replace(last, lo=phrase.lo, hi=max(phrase.hi, sizes.hi), counts=count, sizes=sizes)
            yield last
            continue
        last = phrase if isinstance(phrase, WorkLine) and phrase.counts else last
        yield phrase


def _of_the_step(row: WordRow, phrases: list[Phrase]) -> list[Phrase]:
    """Give a step what rises beside it: “adding one climb and ten double-unders every round”."""
    found: list[Phrase] = []
    for phrase in phrases:
        step = found[-1] if found else None
        between = row.tokens[step.hi : phrase.lo] if step is not None else ()
        joined = 0 < len(between) <= MOST_JOINED and any(t.low == "and" or t.mark(",&") for t in between)
        if isinstance(step, Step) and isinstance(phrase, WorkLine) and phrase.counts and joined:
            found[-1] = replace(step, hi=phrase.hi, also=(*step.also, (phrase.movement, phrase.counts[0])))
        elif isinstance(step, Step) and isinstance(phrase, Step) and phrase.movements and joined:
            others = ((name, phrase.step) for name in phrase.movements)  # “(+2 muscle-ups, +4 cleans each round)”
            found[-1] = replace(step, hi=phrase.hi, also=(*step.also, *others, *phrase.also))
        else:
            found.append(phrase)
    return found


def _by_sex(row: WordRow, phrases: list[Phrase]) -> list[Phrase]:
    """Join counts of men and women: “14 calories on the rower (men), 11 calories (women)”."""
    found: list[Phrase] = []
    for phrase in phrases:
        works = [other for other in found if isinstance(other, WorkLine)]
        last = works[-1] if works else None
        if (
            isinstance(phrase, WorkLine)
            and last is not None
            and (last.movement, last.unit, len(last.counts)) == (phrase.movement, phrase.unit, 1)
            and (_sexes_apart(row, last.hi, phrase) or [t.text for t in row.tokens[last.hi : phrase.lo]] == ["/"])
        ):
            found[found.index(last)] = replace(last, hi=phrase.hi, counts=(*last.counts, *phrase.counts))
        elif isinstance(phrase, WorkLine) and last is not None and _for_women_instead(row, last, phrase):
            found[found.index(last)] = replace(last, others=(*last.others, ("women", phrase.movement)))
        else:
            found.append(phrase)
    return found


def _for_women_instead(row: WordRow, his: WorkLine, hers: WorkLine) -> bool:
    """Return whether women do the second movement instead: “ring muscle-ups / bar muscle-ups for women”."""
    between = row.tokens[his.hi : hers.lo]
    named = any(token.cue("women") for token in row.tokens[hers.hi : hers.hi + 3])
    apart = any(token.mark("/") or token.cue("men") for token in between)
    plain = all(
        token.kind is Kind.MARK or token.low in ("for", "or", "and") or token.cue("men") for token in between
    )
    alike = hers.counts in ((), his.counts) and not hers.sizes and his.movement != hers.movement
    return named and apart and plain and alike


def _sexes_apart(row: WordRow, end: int, phrase: Phrase) -> bool:
    """Return whether men are named before a phrase and women behind it."""
    men = any(token.cue("men") for token in row.tokens[end : phrase.lo])
    return men and any(token.cue("women") for token in row.tokens[phrase.hi : phrase.hi + 3])


def _of_both_sides(row: WordRow, phrase: Phrase) -> Phrase:
    """Return work with its reps of both sides where those of one are told: “4 snatches each arm” are 8."""
    if not isinstance(phrase, WorkLine) or phrase.unit or phrase.side is not w.Side.BOTH:
        return phrase
    bracket = row.token(phrase.hi)
    at = phrase.hi + (bracket is not None and bracket.mark("("))
    words = [word for token in row.tokens[at : at + 2] for word in token.low.split()]
    one = words[:1] in (["per"], ["each"], ["every"]) and words[1:2] in (["arm"], ["leg"], ["side"])
    return replace(phrase, counts=tuple(2 * count for count in phrase.counts)) if one else phrase


def _of_each(row: WordRow, phrases: list[Phrase]) -> list[Phrase]:
    """Give a list its common count: “25 of each: toes-to-bar, burpees”."""
    if any(isinstance(x, RepCounts) for x in phrases):
        return phrases  # “21 reps each, then 15 reps each, then 9 reps each of:”
    for at, token in enumerate(row.tokens):
        each = skip(row.tokens, at + 1, {"of", "reps", "rep"})
        behind = row.token(each)
        opening = {other.low for other in row.tokens[max(0, at - 3) : at]}
        before = bool(opening & STARTING)  # “snatches and burpees, beginning at 2 reps each”
        later = any(isinstance(x, WorkLine) and not x.counts and (x.lo > at) != before for x in phrases)
        if later and whole(token) and each > at + 1 and behind is not None and behind.low in ("each", "every"):
            count = (int(token.number),)
            kept = [phrase for phrase in phrases if not phrase.lo <= at < phrase.hi]
            return [
                replace(x, counts=count)
                if isinstance(x, WorkLine) and not x.counts and (x.lo > at) != before
                else x
                for x in kept
            ]
    return phrases
