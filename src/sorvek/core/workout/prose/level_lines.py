"""What a level does instead, told below the work: “Masters: pull-ups instead of chest-to-bar pull-ups”."""

from collections.abc import Iterator, Sequence
from dataclasses import replace

from sorvek.core.workout import tree as w
from sorvek.core.workout.movements import SizeKind
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import LONGEST_DOUBT, Node, Said, words_of
from sorvek.core.workout.prose.kinds import of_a_level
from sorvek.core.workout.prose.lines import Section
from sorvek.core.workout.prose.sizes import PLAIN, division_at
from sorvek.core.workout.prose.words import Kind, Token

# Between two movements these words put the second in the place of the first, and the first in that of the second.
BECOMES = {"become", "becomes", "→", "->", "with", "by", "changes", "change"}
FOR = {"instead", "place", "rather", "for"}
OPTIONAL = {"allowed", "may", "can", "permitted", "ok"}
# What levels do instead of each other (common practice, no source): pull-ups for muscle-ups, push-ups on the feet.
KIN = ({"vertical pull", "muscle-up"}, {"inverted press", "horizontal press"})
JOINTS = {"and", "the", "with", "on", "in", "for"}
NEAR = 3  # words behind a movement that say that it is only allowed


def settle_others(draft: Draft) -> None:
    """Read who does another movement: “masters do knees-to-elbow instead of toes-to-bar”."""
    before: tuple[str, ...] = ()
    for at, said in enumerate(draft.said):
        for other in said.of(p.Instead):
            _settle_bracket(draft, said, other)
        if said.used or said is draft.title:
            continue
        if of_a_level(said):
            _of_equal_count(draft, said)
            continue
        same_line = at > 0 and draft.said[at - 1].sentence.line == said.sentence.line and not said.sentence.first
        before = _settle(draft, said, before if same_line else ())


def _settle(draft: Draft, said: Said, levels: tuple[str, ...]) -> tuple[str, ...]:
    """Give levels the movements a sentence names for them, if all are clear; return the levels named last.

    `levels` are those named before on the same line.
    """
    told = list(_told(said, levels))
    if not any(names for names, _, _ in told) or any(work.counts for _, work, _ in told):
        return levels
    found: list[tuple[list[Node], tuple[str, ...], str]] = []
    for names, new, old in _pairs(draft, said, told):
        items = [line for line in draft.lines() if line.work and line.work.movement == old]
        sizes = [draft.library.movements[name].size for name in (new, old) if name]
        if not names or not items or sizes[0] not in (SizeKind.NONE, sizes[-1]):
            _ask(draft, said)
            return told[-1][0]
        found.append((items, names, new))
    if not found and not said.has(p.Loads):
        return told[-1][0]
    for items, names, new in found:
        for item in items:
            item.others = (*item.others, *((name, new) for name in names))
            item.tokens += [token for token in said.sentence.tokens if token.kind is not Kind.MARK]
    _free_loads(draft, said)
    said.used = True
    return told[-1][0]


def _ask(draft: Draft, said: Said) -> None:
    """Ask about a level's movement where it is not clear what it is done instead of; loads alone are read."""
    if said.sentence.section is not Section.SCALED and said.has(p.Loads):
        words = f"{said.text()[:LONGEST_DOUBT]}: instead of what?"
        draft.builder.body.append(Node(said.sentence.tokens, w.Doubt(words)))
        said.used = True


def _told(said: Said, levels: tuple[str, ...]) -> Iterator[tuple[tuple[str, ...], p.WorkLine, list[Token]]]:
    """Yield the movements a sentence names, each with its levels and the words up to the next."""
    tokens, works = said.sentence.tokens, said.of(p.WorkLine)
    levels = _levels(said.sentence.lead) or levels
    at = 0
    for index, work in enumerate(works):
        levels = _levels(tokens[at : work.lo]) or levels
        end = works[index + 1].lo if index + 1 < len(works) else len(tokens)
        if index == 0:  # “…, for the masters”
            levels = levels or _levels(tokens[work.hi :])
        yield levels, work, list(tokens[work.hi : end])
        at = work.sizes.lo if work.sizes else work.hi


def _levels(tokens: Sequence[Token]) -> tuple[str, ...]:
    """Return the level named last among words, with sex and age where they stand beside it, or several joined."""
    found: list[str] = []
    at, joined = 0, False
    while at < len(tokens):
        name, used = division_at(tokens, at)
        if set(name.split()) - {"men", "women", *PLAIN}:
            found = [*found, name] if joined else [name]
            joined = True
        elif not used:
            joined = joined and (tokens[at].mark(",/&+") or tokens[at].low in ("and", "or"))
        at += max(1, used)
    return tuple(found)


def _pairs(
    draft: Draft, said: Said, told: Sequence[tuple[tuple[str, ...], p.WorkLine, list[Token]]]
) -> Iterator[tuple[tuple[str, ...], str, str]]:
    """Yield who do which movement instead of which; the last is empty where that is not clear."""
    mine = {item.work.movement for node in draft.top() for item in node.items() if item.work}
    swapping = bool({"swap", "swaps", "replace", "replaces"} & said.low())
    index = 0
    while index < len(told):
        names, work, behind = told[index]
        later = told[index + 1][1] if index + 1 < len(told) else None
        words = {token.low for token in behind} | {word for token in behind for word in token.low.split()}
        index += 1
        if later is not None and BECOMES & words:
            index += 1
            yield names, later.movement, work.movement
        elif later is not None and FOR & words:
            index += 1
            new, old = (later, work) if swapping and "for" in words else (work, later)
            yield names, new.movement, old.movement
        elif OPTIONAL & {token.low for token in behind[:NEAR]}:
            continue
        elif work.movement in mine:
            before = said.sentence.tokens[work.lo - 1 : work.lo] if work.lo else []
            if any(token.kind is Kind.WORD and token.low not in JOINTS for token in before):
                yield names, work.movement, ""  # “jumping chest-to-bars”
        else:
            yield names, work.movement, _of_its_kind(draft, work.movement, mine)


def _of_its_kind(draft: Draft, name: str, mine: set[str]) -> str:
    """Return the only movement of the work that is of the family of another one, empty if there is none or more."""
    movements = draft.library.movements
    family = movements[name].family
    alike = {other for other in mine if movements[other].family == family}
    alike = alike or {other for other in mine if {movements[other].family, family} in KIN}
    return alike.pop() if len(alike) == 1 else ""


def _free_loads(draft: Draft, said: Said) -> None:
    """Let the loads of a sentence stand apart: they are not those of the movements beside them."""
    works, loads = said.of(p.WorkLine), said.of(p.Loads)
    named = {i for work in works for i in range(work.lo, work.sizes.lo if work.sizes else work.hi)}
    place = {i: at for at, i in enumerate(i for i in range(len(said.sentence.tokens)) if i not in named)}
    loads += [p.Loads(work.sizes.lo, work.sizes.hi, work.sizes, ()) for work in works if work.sizes]
    if not loads:
        return
    tokens = [said.sentence.tokens[i] for i in place]
    apart = replace(said.sentence, tokens=tokens, section=Section.LOADS)
    phrases = [replace(load, lo=place[load.lo], hi=place[load.hi - 1] + 1) for load in loads]
    draft.said.append(Said(apart, list[p.Phrase](phrases), used=True))
    said.phrases = [x for x in said.phrases if not isinstance(x, p.Loads | p.WorkLine)]


def _of_equal_count(draft: Draft, said: Said) -> None:
    """Give a level its movements by their counts: “Masters women: 30 chest-to-bar pull-ups” for 30 muscle-ups."""
    tokens = [*said.sentence.lead, *said.sentence.tokens]
    label = next((division_at(tokens, i)[0] for i, token in enumerate(tokens) if token.cue("level")), "")
    items = draft.lines()
    movements, found = draft.library.movements, list[tuple[Node, str]]()
    for work in said.of(p.WorkLine):
        alike = [i for i in items if i.work and i.work.counts == work.counts and i.work.movement != work.movement]
        fits = [
            i
            for i in alike
            if i.work and movements[work.movement].size in (SizeKind.NONE, movements[i.work.movement].size)
        ]
        if len({i.work.movement for i in fits if i.work}) != 1 or work.sizes:
            return
        found += [(item, work.movement) for item in fits]
    for item, name in found:
        item.others = (*item.others, (label, name))
        item.tokens += [token for token in tokens if token.kind is not Kind.MARK]
    said.used = True


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
