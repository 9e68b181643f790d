"""What a level does instead, told below the work: “Masters: pull-ups instead of chest-to-bar pull-ups”."""

from collections.abc import Iterator, Sequence
from dataclasses import replace
from itertools import pairwise

from sorvek.core.workout import tree as w
from sorvek.core.workout.movements import SizeKind
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.divisions import age_groups, division_at, level_of
from sorvek.core.workout.prose.draft import LONGEST_DOUBT, Node, Said, means, words_of
from sorvek.core.workout.prose.headings import Section
from sorvek.core.workout.prose.sizes import Quantity, fitting
from sorvek.core.workout.prose.words import Kind, Token

# Between two movements these words put the second in the place of the first, and the first in that of the second.
BECOMES = {"become", "becomes", "→", "->", "changes", "change"}
SWAPPED = {"replace", "replaces", "replaced", "swap", "swaps", "substitute", "exchange"}  # … “with”, “by” or “for”
FOR = {"instead", "place", "rather", "for", "replace", "replaces"}
HOLDING = {"hold", "holds", "holding"}
OPTIONAL = {"allowed", "may", "can", "permitted", "ok"}
# What levels do instead of each other (common practice, no source): pull-ups for muscle-ups, push-ups on the feet.
KIN = ({"vertical pull", "muscle-up"}, {"inverted press", "horizontal press"})
PLAINLY = {"chin", "kipping", "normal", "regular", "standard", "usual"}  # words of a movement as it is usually done
ARTICLES = {
    "a",
    "an",
    "the",
    "all",
    "their",
    "only",
    "just",
    "this",
    "it",
    "them",
    "these",
    "every",
    "so",
    "as",
    "not",
}
JOINTS = {"and", "the", "with", "on", "in", "for"}
MOST_TIMES = 3  # “single-unders x 2” is twice as many; more is a count
OTHERWISE = {"with", "on", "from", "to", "off"}  # how a movement is done: “with feet on the box”
MOST_LABEL = 5  # words and marks up to the colon behind a level: “Masters 45+:”
LONGEST_SHORT = 4  # letters of a short name of a movement
SAME = {"same", "none", "only", "also", "all", "tbd", "tba", "rx", "no", "yes", "as"}
NEAR = 3  # words behind a movement that say that it is only allowed


def settle_others(draft: Draft) -> None:
    """Read who does another movement: “masters do knees-to-elbow instead of toes-to-bar”."""
    before: tuple[str, ...] = ()
    for at, said in enumerate(draft.said):
        for other in said.of(p.Instead):
            _settle_bracket(draft, said, other)
        if not (said.used or said is draft.title) and _does_unknown(said):
            said.used = True
            words = f"{said.text()[:LONGEST_DOUBT]}: instead of what?"
            draft.builder.body.append(Node(said.sentence.tokens, w.Doubt(words)))
        if said.used or said is draft.title or HOLDING & said.low():
            continue  # “… and hold the dumbbell in the front rack” is asked about
        same_line = at > 0 and draft.said[at - 1].sentence.line == said.sentence.line and not said.sentence.first
        before = _settle(draft, said, before if same_line else ())


def _does_unknown(said: Said) -> bool:
    """Return whether a level does something that is no movement of the library: “masters do knee hugs”."""
    if not _levels([*said.sentence.lead, *said.sentence.tokens]):
        return False
    colon = next((i + 1 for i, token in enumerate(said.sentence.tokens[:MOST_LABEL]) if token.mark(":")), 0)
    if (colon or said.sentence.lead) and _short_names(said.sentence.tokens[colon:]):
        return True
    after = [b for a, b in pairwise(said.sentence.tokens) if a.low in ("do", "does", "perform", "performs")]
    return any(token.kind is Kind.WORD and token.low not in JOINTS | ARTICLES | PLAINLY for token in after)


def _short_names(tokens: Sequence[Token]) -> bool:
    """Return whether something between commas is a short name that is not known: “Masters: PUS, 9/6”."""
    ends = [i for i, token in enumerate(tokens) if token.mark(",;+&/")]
    groups = [list(tokens[a + 1 : b]) for a, b in pairwise([-1, *ends, len(tokens)])]
    alone = [group[0] for group in groups if len(group) == 1 and group[0].kind is Kind.WORD]
    return any(t.text.isupper() and 1 < len(t.text) <= LONGEST_SHORT and t.low not in SAME for t in alone)


def _settle(draft: Draft, said: Said, levels: tuple[str, ...]) -> tuple[str, ...]:
    """Give levels the movements a sentence names for them, if all are clear; return the levels named last.

    `levels` are those named before on the same line.
    """
    _ways(draft, said)
    told = list(_told(said, levels))
    if any(work.unsure for _, work, _ in told):
        return levels
    if not told and said.has(p.Loads):  # “35-39 / 40-44: 22.5/15 kg; pull-ups”
        return _levels([*said.sentence.lead, *said.sentence.tokens[: said.of(p.Loads)[0].hi]]) or levels
    if not any(names for names, _, _ in told) or said.has(p.RoundCount, p.RepCounts):
        return levels
    if _sexes_and_levels(said):
        draft.builder.body.append(
            Node(said.sentence.tokens, w.Doubt(f"{said.text()[:LONGEST_DOUBT]}: who does what?"))
        )
        said.used = True
        return told[-1][0]
    found: list[tuple[list[Node], tuple[str, ...], p.WorkLine]] = []
    for names, new, old in _pairs(draft, said, told):
        items = [line for line in draft.lines() if line.work and line.work.movement == old]
        sizes = [draft.library.movements[name].size for name in (new.movement, old) if name]
        each = {"each", "every", "per"} & said.low()  # “replace each rope climb with 3 pull-ups”
        other_unit = any(line.work and line.work.unit != new.unit for line in items)
        several = len({line.work.counts for line in items if line.work}) > 1
        unlike = new.counts and (several or each or other_unit)
        if not names or not items or sizes[0] not in (SizeKind.NONE, sizes[-1]) or unlike:
            _ask(draft, said)
            return told[-1][0]
        found.append((items, names, new))
    if not found and not said.has(p.Loads):
        return told[-1][0]
    for items, names, new in found:
        for item in items:
            _give(item, names, _multiplied(said, new, item))
            item.tokens += [token for token in said.sentence.tokens if token.kind is not Kind.MARK]
    _free_loads(draft, said)
    said.used = True
    return told[-1][0]


def _ways(draft: Draft, said: Said) -> None:
    """Take bare metres and calories for those of the only line counted so: “Masters 50+: 400 m, 12 burpees”."""
    if not _levels([*said.sentence.lead, *said.sentence.tokens]) or not said.of(p.WorkLine):
        return
    for phrase in said.of(p.Loads):
        numbers = [int(amount.value) for amount in phrase.sizes.amounts]
        around = said.sentence.tokens[phrase.lo : phrase.hi + 1]
        units = {token.name for token in around if token.kind is Kind.UNIT}
        plain = 0 < len(numbers) <= 2 and units in ({"m"}, {"cal"})
        lines = {line.work.movement for line in draft.lines() if line.work and {line.work.unit} == units}
        if plain and len(lines) == 1:
            lo = next(i for i in range(phrase.lo, phrase.hi) if said.sentence.tokens[i].number == numbers[0])
            way = p.WorkLine(lo, phrase.hi, lines.pop(), tuple(numbers), next(iter(units)))
            said.phrases = [way if other is phrase else other for other in said.phrases]


def _give(item: Node, names: Sequence[str], new: p.WorkLine) -> None:
    """Let levels do another movement on a line of work, and its own count where it has one."""
    if item.work and new.movement != item.work.movement:
        item.others = tuple(dict.fromkeys((*item.others, *((name, new.movement) for name in names))))
    if item.work and new.counts and new.counts != item.work.counts:
        more = (*item.work.counts_of, *((name, new.counts) for name in names))
        item.work = replace(item.work, counts_of=more)


def _multiplied(said: Said, work: p.WorkLine, item: Node) -> p.WorkLine:
    """Return a level's work with its count where that is a multiple of the usual one: “single-unders x 2”."""
    behind = said.sentence.tokens[work.lo : work.hi]
    times = any(a.low in ("x", "×") and b.kind is Kind.NUMBER for a, b in pairwise(behind))
    if not (times and item.work and work.counts and work.counts[0] <= MOST_TIMES):
        return work
    return replace(work, counts=tuple(work.counts[0] * count for count in item.work.counts))


def _ask(draft: Draft, said: Said) -> None:
    """Ask about a level's movement where it is not clear what it is done instead of; loads alone are read."""
    if said.sentence.section is not Section.SCALED and said.has(p.Loads):
        words = f"{said.text()[:LONGEST_DOUBT]}: instead of what?"
        draft.builder.body.append(Node(said.sentence.tokens, w.Doubt(words)))
        _free_loads(draft, said)
        said.used = True


def _told(said: Said, levels: tuple[str, ...]) -> Iterator[tuple[tuple[str, ...], p.WorkLine, list[Token]]]:
    """Yield the movements a sentence names, each with its levels and the words up to the next."""
    tokens = said.sentence.tokens
    works = [x for x in said.of(p.WorkLine) if not x.lo or tokens[x.lo - 1].low not in ("no", "without")]
    levels = _levels(said.sentence.lead) or levels
    at = 0
    for index, work in enumerate(works):
        levels = _levels(tokens[at : work.lo]) or levels
        end = works[index + 1].lo if index + 1 < len(works) else len(tokens)
        if index == 0:  # “…, for the masters”
            levels = levels or _levels(tokens[work.hi :])
        # “Scaled women: 20 kg, hanging knee raises for both”, “scaled male 80 kg, female 55 kg – knee raises”
        sexes = [sex for sex in ("men", "women") if any(token.cue(sex) for token in tokens[at : work.lo])]
        if "both" in said.low() or (len(sexes) > 1 and len(levels) == 1 and not work.counts):
            levels = tuple(dict.fromkeys(level_of(name) or name for name in levels))
        yield levels, work, list(tokens[work.hi : end])
        at = work.sizes.lo if work.sizes else work.hi


def _levels(tokens: Sequence[Token]) -> tuple[str, ...]:
    """Return the level named last among words, with sex and age where they stand beside it, or several joined."""
    found: list[str] = []
    at, joined = 0, False
    while at < len(tokens):
        name, used = division_at(tokens, at)
        groups, colon = age_groups(tokens, at)
        if len(groups) > 1:
            found, joined, used = groups, True, colon - at
        elif level_of(name):
            found = [*found, name] if joined else [name]
            joined = True
        elif not used:
            joined = joined and (tokens[at].mark(",/&+") or tokens[at].low in ("and", "or"))
        at += max(1, used)
    return tuple(found)


def _pairs(
    draft: Draft, said: Said, told: Sequence[tuple[tuple[str, ...], p.WorkLine, list[Token]]]
) -> Iterator[tuple[tuple[str, ...], p.WorkLine, str]]:
    """Yield who do which work instead of which movement; the last is empty where that is not clear."""
    mine = {item.work.movement for node in draft.top() for item in node.items() if item.work}
    movements = draft.library.movements
    swapping = bool({"swap", "swaps", "replace", "replaces"} & said.low())
    index = 0
    while index < len(told):
        names, work, behind = told[index]
        later = told[index + 1][1] if index + 1 < len(told) else None
        words = {token.low for token in behind} | {word for token in behind for word in token.low.split()}
        index += 1
        if later is not None and (BECOMES & words or (SWAPPED & said.low() and {"with", "by"} & words)):
            index += 1
            yield names, later, _meant(work.movement, mine)
        elif later is not None and FOR & words:
            index += 1
            new, old = (later, work) if swapping and "for" in words else (work, later)
            yield names, new, _meant(old.movement, mine)
        elif optional(said, work) or (work.style and _over(said, work)):
            continue  # “burpees may step over”, “burpees stepping over the bar”
        elif work.movement in mine:
            if _done_otherwise(said, work):
                yield names, work, ""
            elif work.counts:
                yield names, work, work.movement
        elif work.sizes and movements[work.movement].size is SizeKind.NONE and _loaded_kin(draft, work, mine):
            continue  # “lunges with 15/10 kg” of dumbbell lunges
        elif _qualified(said, work):
            yield names, work, ""  # “box push-ups”, “step-overs with burpee”
        else:
            kind, alike = _of_its_kind(draft, work.movement, mine), _of_its_count(draft, work)
            counts = {line.work.counts for line in draft.lines() if line.work and line.work.movement == kind}
            unclear = kind and alike not in ("", kind) and work.counts not in counts
            yield (
                names,
                work,
                "" if unclear else kind or alike or (_beside(draft, said, mine) if len(told) == 1 else ""),
            )


def _beside(draft: Draft, said: Said, mine: set[str]) -> str:
    """Return the movement of the work on whose line a sentence stood in brackets, empty if it stood in none."""
    at = next(i for i, other in enumerate(draft.said) if other is said)
    works = [
        line
        for other in draft.said[:at]
        if other.sentence.line == said.sentence.line
        for line in other.of(p.WorkLine)
    ]
    return works[0].movement if works and works[0].movement in mine else ""


def _done_otherwise(said: Said, work: p.WorkLine) -> bool:
    """Return whether words beside a movement of the work make it another one for a level.

    “Jumping chest-to-bars”, “handstand push-ups with feet on the box”.
    """
    tokens = said.sentence.tokens
    before, behind = tokens[max(0, work.lo - 1) : work.lo], tokens[work.hi : work.hi + 2]
    how = len(behind) > 1 and behind[0].low in OTHERWISE and behind[1].kind in (Kind.WORD, Kind.UNIT)
    how = how and not work.counts and behind[1].low not in ARTICLES
    return how or any(token.kind is Kind.WORD and token.low not in JOINTS for token in before)


def _qualified(said: Said, work: p.WorkLine) -> bool:
    """Return whether the word before a movement makes it another: “box push-ups”, “step-overs with burpee”."""
    before = said.sentence.tokens[max(0, work.lo - 1) : work.lo]
    beside = any(token.low == "with" for token in before) and "same" not in said.low()
    return beside or any(token.cue("box", "ball") for token in before)


def optional(said: Said, work: p.WorkLine) -> bool:
    """Return whether a movement is only allowed, or only how another one may be done: “burpees may step over”."""
    beside = [*said.sentence.tokens[max(0, work.lo - 1) : work.lo], *said.sentence.tokens[work.hi : work.hi + NEAR]]
    return bool(OPTIONAL & {token.low for token in beside})


def _sexes_and_levels(said: Said) -> bool:
    """Return whether counts are told of a sex and of a level: “40 cal for women rx, 40/32 cal scaled”."""
    sexes = any(token.cue("men", "women") for token in said.sentence.tokens)
    counted = [work for work in said.of(p.WorkLine) if work.counts]
    return sexes and len(counted) > 1 and len({work.movement for work in counted}) == 1


def _over(said: Said, work: p.WorkLine) -> bool:
    """Return whether the words of a movement only say how something is crossed: “stepping over the bar”."""
    return any(token.low == "over" for token in said.tokens(work))


def _meant(name: str, mine: set[str]) -> str:
    """Return the movement of the work that is named, perhaps for short: the rope climbs of legless rope climbs."""
    alike = {other for other in mine if means(name, other)}
    return name if name in mine or len(alike) != 1 else alike.pop()


def _loaded_kin(draft: Draft, work: p.WorkLine, mine: set[str]) -> bool:
    """Return whether a movement named without its implement is one of the work that is done with a load."""
    movements = draft.library.movements
    family = movements[work.movement].family
    return any(movements[name].family == family and movements[name].size is SizeKind.LOAD for name in mine)


def _of_its_kind(draft: Draft, name: str, mine: set[str]) -> str:
    """Return the only movement of the work that is of the family of another one, empty if there is none or more."""
    movements = draft.library.movements
    family = movements[name].family
    alike = {other for other in mine if movements[other].family == family}
    bare = {other for other in alike if movements[other].size is movements[name].size}
    alike = bare or alike  # air squats are for pistols, not for front squats
    alike = alike or {other for other in mine if {movements[other].family, family} in KIN}
    return alike.pop() if len(alike) == 1 else ""


def _free_loads(draft: Draft, said: Said) -> None:
    """Let the loads of a sentence stand apart: they are not those of the movements beside them."""
    works, loads = said.of(p.WorkLine), said.of(p.Loads)
    named = {i for work in works for i in range(work.lo, work.sizes.lo if work.sizes else work.hi)}
    place = {i: at for at, i in enumerate(i for i in range(len(said.sentence.tokens)) if i not in named)}
    mine = {line.work.movement for line in draft.lines() if line.work}
    for work in works:
        if work.sizes:
            fits = work.movement in mine and fitting(work.sizes, draft.library.movements[work.movement])
            loads.append(p.Loads(work.sizes.lo, work.sizes.hi, work.sizes, (work.movement,) if fits else ()))
    if not loads:
        return
    names = _levels([*said.sentence.lead, *said.sentence.tokens[: loads[0].lo]])
    if len(names) > 1:  # “Masters 45+ / Teens: 20/12 kg”
        loads = [
            replace(load, sizes=replace(load.sizes, amounts=_for_each(load.sizes.amounts, names))) for load in loads
        ]
    tokens = [said.sentence.tokens[i] for i in place]
    apart = replace(said.sentence, tokens=tokens, section=Section.LOADS)
    phrases = [replace(load, lo=place[load.lo], hi=place[load.hi - 1] + 1) for load in loads]
    draft.said.append(Said(apart, list[p.Phrase](phrases), used=True))
    draft.facts.used += [said.sentence.tokens[i] for load in loads for i in range(load.lo, load.hi)]
    said.phrases = [x for x in said.phrases if not isinstance(x, p.Loads | p.WorkLine)]


def _for_each(amounts: Sequence[Quantity], names: Sequence[str]) -> tuple[Quantity, ...]:
    """Return amounts that are told for several levels at once, each with the name of its own."""
    bare = [amount for amount in amounts if not amount.division]
    named = [amount for amount in amounts if amount.division]
    return (*(replace(amount, division=name) for name in names for amount in bare), *named)


def _of_its_count(draft: Draft, work: p.WorkLine) -> str:
    """Return the only movement of the work with the same count, “30 chest-to-bar pull-ups” for 30 muscle-ups."""
    movements = draft.library.movements
    lines = [line.work for line in draft.lines() if line.work]
    size = movements[work.movement].size
    lines = [line for line in lines if movements[line.movement].size is size or line.unit == work.unit == "m"]
    alike = {line.movement for line in lines if work.counts and line.counts == work.counts}
    return alike.pop() if len(alike) == 1 else ""


def _settle_bracket(draft: Draft, said: Said, other: p.Instead) -> None:
    """Give the line of work before a bracket the movement another division does instead."""
    works = [work for work in said.of(p.WorkLine) if work.hi <= other.lo]
    tokens, movements = said.tokens(other), draft.library.movements
    for item in (line for line in draft.lines() if works and line.work is works[-1]):
        if movements[other.movement].size in (SizeKind.NONE, movements[works[-1].movement].size):
            if item.work and other.movement != item.work.movement:
                item.others = (*item.others, (other.division, other.movement))
            if other.counts and item.work and other.counts != item.work.counts:
                more = (*item.work.counts_of, (other.division, other.counts))
                item.work = replace(item.work, counts_of=more)
            item.tokens += [token for token in tokens if token.kind is not Kind.MARK]
            return
    draft.builder.body.append(Node(list(tokens), w.Doubt(f"{words_of(tokens)}: instead of what?")))
