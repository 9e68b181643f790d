"""Work that is written once for every division, each under a heading: one line of work with the loads of all."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from sorvek.core.workout.movements import Library, SizeKind
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.amounts import IMPLEMENTS
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.divisions import PLAIN, division_at, level_of, level_only
from sorvek.core.workout.prose.draft import OwnSeries, Said
from sorvek.core.workout.prose.headings import Section
from sorvek.core.workout.prose.sizes import Sizes
from sorvek.core.workout.prose.words import Token

CALLED = {"division", "category", "version", "option", "athletes"}  # words behind the name of a level


@dataclass(frozen=True, slots=True)
class _Version:
    """What stands under the heading of one division or several."""

    divisions: tuple[str, ...]
    heading: Said
    said: list[Said]

    @property
    def for_all(self) -> bool:
        """Return whether it is for everybody who is not named elsewhere."""
        return self.divisions[0] in PLAIN

    @property
    def works(self) -> list[p.WorkLine]:
        """Return its work in order, counted or listed below a series."""
        works = [work for said in self.said for work in said.of(p.WorkLine) if not work.pointed]
        return works if self.series else [work for work in works if work.counts]

    @property
    def series(self) -> list[tuple[int, ...]]:
        """Return its rep series."""
        return [series.counts for said in self.said for series in said.of(p.RepCounts)]


def join_levels(draft: Draft) -> None:
    """Join versions of the work into the first; where one does not fit it is asked about.

    The words of the others belong to the first.
    """
    versions = _all_versions(draft)
    if len(versions) < 2:
        return
    first = next((version for version in versions if version.for_all), versions[0])
    others = [version for version in versions if version is not first]
    for said in first.said:
        said.sentence.section = Section.WORK
        head = division_at(said.sentence.tokens, 0)[1]  # “35-44: 10 muscle-ups, …”: its age is no count
        said.phrases = [x for x in said.phrases if not (isinstance(x, p.Unknown) and x.hi <= head)]
    for other in others:
        joined = _joined(first, other, draft.library)
        if joined is None:
            for said in other.said:
                said.sentence.section = Section.SCALED
            continue
        for said in first.said:
            said.phrases = [joined.get(id(phrase), phrase) for phrase in said.phrases]
        _use_up(draft, first, other)


def _use_up(draft: Draft, first: _Version, other: _Version) -> None:
    """Leave a version that is joined out of the rest, but for the cap of all that stands below it."""
    if other.series != first.series:
        tokens = [token for said in other.said for x in said.of(p.RepCounts) for token in said.tokens(x)]
        draft.facts.own_series.append(OwnSeries(other.divisions, other.series[0], tokens))
    for said in other.said:
        again = said is other.heading and _shape(first, True)[2] == _shape(other, True)[2]
        if said.has(p.Span) and not (said.has(p.WorkLine) or _capped(first) or again):
            if said.cue("cap"):
                said.sentence.section = Section.WORK
            continue
        draft.facts.used += said.sentence.tokens
        said.phrases, said.used = [], True


def _all_versions(draft: Draft) -> list[_Version]:
    """Return the versions of the work, the one above all headings among them; none where that is other work."""
    versions = [version for version in _versions(draft.said) if version.works]
    until = draft.said.index(versions[0].heading) if versions else 0
    above = [said for said in draft.said[:until] if said is not draft.title]
    if not any(said.of(p.WorkLine) for said in above):
        return versions
    if any(version.for_all for version in versions):
        return []
    above = [said for said in above if said.has(p.WorkLine, p.RoundCount, p.RepCounts)]
    above = [said for said in above if said.sentence.section not in (Section.TIE, Section.SCORE, Section.STANDARDS)]
    return [_Version(("",), above[0], above), *versions]  # “10 toes-to-bar … Scaled: 10 knee raises …”


def drop_forms_again(draft: Draft) -> None:
    """Pass over the form of all told again below the name of a level: “MASTERS 45+”, then “AMRAP 10”."""
    for at, (above, said) in enumerate(pairwise(draft.said)):
        name, used = division_at(above.sentence.tokens, 0)
        alone = used > 0 and all(token.mark(":") for token in above.sentence.tokens[used:])
        spans = {(span.seconds, span.role) for span in said.of(p.Span)}
        known = {(span.seconds, span.role) for other in draft.said[:at] for span in other.of(p.Span)}
        again = bool(spans) and spans <= known and not said.has(p.WorkLine)
        if alone and again and level_of(name) not in PLAIN:
            said.phrases, said.used, said.sentence.section = [], True, Section.SCALED
            draft.facts.used += said.sentence.tokens


def open_levels(draft: Draft) -> None:
    """Take what stands alone behind or below the name of a level, “Scaled: 70/47.5 kg”, for what it does."""
    heading: Said | None = None
    for said in draft.said:
        sentence = said.sentence
        if sentence.first and (sentence.heading or sentence.gap or heading is None or _level_alone(said)):
            heading = said if _level_alone(said) else None
        _free_loads(said, heading)
        named = bool(division_at(sentence.lead, 0)[1]) or _names_a_level(said)
        below = heading is not None and said is not heading and not (named or said.used)
        if heading and below and (sentence.section is Section.SCALED or said.has(p.Loads, p.LoadRow)):
            sentence.lead, sentence.section, named = heading.sentence.tokens, Section.SCALED, True
        loaded = said.has(p.Loads, p.LoadRow) and not said.has(p.WorkLine)
        if sentence.section is Section.SCALED and loaded and named:
            sentence.section = Section.LOADS


def _names_a_level(said: Said) -> bool:
    """Return whether a sentence names a level, and not only one to be like: “as RX, but 35/25 kg”."""
    tokens = said.sentence.tokens
    levels = [i for i, token in enumerate(tokens) if token.cue("level")]
    return any(not i or tokens[i - 1].low != "as" for i in levels)


def _free_loads(said: Said, heading: Said | None) -> None:
    """Take loads with their divisions for such wherever they stand: below “Video”, below a level's paragraph."""
    told = {
        a.division for load in said.of(p.Loads) for a in load.sizes.amounts if a.unit in ("kg", "lb", "cm", "in")
    }
    sexed = {"men", "women"} <= told
    divided = sexed or any(level_only(name) and name not in PLAIN for name in told)
    if said.sentence.section is Section.STORY and divided:
        said.sentence.section = Section.LOADS  # “Men use 60 kg, women use 42.5 kg”
    if said.sentence.section is Section.SCALED and sexed and heading is None and not said.cue("level"):
        said.sentence.section = Section.LOADS


def _level_alone(said: Said) -> bool:
    """Return whether a line holds nothing but the name of a level: “INTERMEDIATE”, “Masters 40+:”."""
    words = [token for token in said.sentence.tokens if not token.mark(":")]
    names, used = _names(words)
    return bool(words) and used == len(words) and not said.sentence.lead and bool(level_of(names[0]))


def head_loads(draft: Draft) -> None:
    """Let loads below the name of an implement on a line of its own be of that: “DUMBBELLS”, “Men 2 x 22.5 kg”."""
    heading: Said | None = None
    for said in draft.said:
        sentence = said.sentence
        words = [token for token in sentence.tokens if not token.mark(":")]
        if words and not sentence.lead and all(token.cue(*IMPLEMENTS) for token in words):
            heading = said
            continue
        if not said.has(p.Loads) or said.has(p.WorkLine) or sentence.gap:
            heading = None
        if heading is not None and not sentence.lead:
            sentence.lead = heading.sentence.tokens


def take_units(draft: Draft) -> None:
    """Give loads of a level without a unit that of the sentence before: “… 35 kg; the masters take 30 and 20”."""
    for before, said in pairwise(draft.said):
        units = {a.unit for load in before.of(p.Loads) for a in load.sizes.amounts}
        for load in said.of(p.Loads):
            bare = all(a.division and not a.unit for a in load.sizes.amounts)
            if bare and len(units) == 1:
                amounts = tuple(replace(a, unit=next(iter(units))) for a in load.sizes.amounts)
                given = replace(load, sizes=replace(load.sizes, amounts=amounts))
                said.phrases = [given if phrase is load else phrase for phrase in said.phrases]


def _versions(said_of: Sequence[Said]) -> list[_Version]:
    found: list[_Version] = []
    inside, in_line, section = False, _in_line(said_of), Section.WORK
    for said in said_of:
        sentence = said.sentence
        names, used = _names(sentence.tokens) if sentence.heading or sentence.first else ((), 0)
        words = [token for token in sentence.tokens if not token.mark(":")]
        if id(said) in in_line:
            found.append(_Version((in_line[id(said)],), said, [said]))
            inside = False
        elif used and used == len(words):
            found.append(_Version(names, said, []))
            inside = True
            section = sentence.section
        elif name := _heads_with_form(said):
            found.append(_Version((name,), said, [said]))
            inside, section = True, Section.WORK
        elif sentence.heading or not inside or sentence.section is not section:
            inside = False
        elif names or "instead" in said.low() or (sentence.lead and sentence.lead[-1].low == "flow"):
            inside = False  # no line of the version, but what another level does, or a change of the first
        else:
            found[-1].said.append(said)
    return found


def _heads_with_form(said: Said) -> str:
    """Return the level of a line that says how its work below is bounded, “SCALED: AMRAP 10 min”, or nothing."""
    tokens = said.sentence.tokens
    name, used = division_at(said.sentence.lead or tokens, 0)
    named = bool(said.sentence.lead) or (tokens[used : used + 1] != [] and tokens[used].mark(":"))
    heads = said.cue("amrap", "for_time") and said.has(p.Span) and not said.has(p.WorkLine, p.Loads)
    return name if used and named and heads else ""


def _names(tokens: Sequence[Token]) -> tuple[tuple[str, ...], int]:
    """Return the divisions a line begins with, “Masters 55+ & Scaled”, and how many tokens they take."""
    names: list[str] = []
    at = end = 0
    while (found := division_at(tokens, at))[1]:
        names.append(found[0])
        end = at + found[1]
        end += bool(tokens[end : end + 1]) and tokens[end].low in CALLED  # “SCALED DIVISION”
        joined = tokens[end : end + 1] and (tokens[end].mark("/&,+") or tokens[end].low == "and")
        at = end + 1 if joined else len(tokens)
    return tuple(names), end


def _in_line(said_of: Sequence[Said]) -> dict[int, str]:
    """Return the sentences, by identity, that hold the whole work of a level behind its name, and the level.

    “RX: 3 rounds for time of 12 bar muscle-ups, 12 power snatches”, “35-44: 21-15-9 …”; none unless there are two.
    """
    found: dict[int, str] = {}
    for at, said in enumerate(said_of):
        tokens = said.sentence.lead or said.sentence.tokens
        name, used = division_at(tokens, 0)
        behind = tokens[used : used + 1]
        named = used and (bool(said.sentence.lead) or (behind and behind[0].mark(":–-")))
        works = said.of(p.WorkLine)
        counted = [work for work in works if work.counts]
        repeated = said.has(p.RepCounts) or (said.has(p.RoundCount) and bool(counted))
        begun = bool(found) or not any(x.counts for other in said_of[:at] for x in other.of(p.WorkLine))
        listed = len(works) > 1 and len(counted) == len(works) and begun  # “35-44: 10 muscle-ups, 10 snatches”
        if named and works and (repeated or listed):
            found[id(said)] = name
    return found if len(found) > 1 else {}


def _joined(first: _Version, other: _Version, library: Library) -> dict[int, p.Phrase] | None:
    """Return the first version's lines, by identity, with what the other does; None if its work is another."""
    caps = [_capped(version) for version in (first, other)]
    shape = [_shape(version, all(caps)) for version in (first, other)]
    repeated = any(shape[1]) and shape[0] != shape[1]  # lines alone are done as often as those of the first
    if repeated or len(first.works) != len(other.works):
        return None
    found: dict[int, p.Phrase] = {}
    for mine, theirs in zip(first.works, other.works, strict=True):
        if theirs.unsure:
            return None
        kinds = [library.movements[work.movement].size for work in (mine, theirs)]
        alike = mine.movement == theirs.movement or kinds[0] is kinds[1] or kinds[1] is SizeKind.NONE
        if not alike or (mine.unit, mine.side) != (theirs.unit, theirs.side):
            return None
        swaps, counts = mine.others, mine.counts_of
        if mine.movement != theirs.movement:
            swaps = (*swaps, *((name, theirs.movement) for name in other.divisions))
        if mine.counts != theirs.counts:
            counts = (*counts, *((name, theirs.counts) for name in other.divisions))
        sizes = _sizes(first, mine.sizes, other, theirs.sizes)
        found[id(mine)] = replace(mine, sizes=sizes, others=swaps, counts_of=counts)
    return found


def _capped(version: _Version) -> bool:
    return any(span.role == "cap" for said in version.said for span in said.of(p.Span))


def _shape(version: _Version, capped: bool) -> list[object]:
    """Return what repeats the work of a version, its cap among it if each has one of its own."""
    counts = [phrase.count for said in version.said for phrase in said.of(p.RoundCount)]
    series: object = [len(version.series[0])] if len(version.series) == 1 else version.series
    spans = [(x.role, x.seconds) for said in version.said for x in said.of(p.Span) if capped or x.role != "cap"]
    return [counts, series, spans]


def _sizes(first: _Version, mine: Sizes | None, other: _Version, theirs: Sizes | None) -> Sizes | None:
    if theirs is None:
        return mine
    named = [
        replace(amount, division=amount.division or (division if division not in PLAIN else ""))
        for version, sizes in ((first, mine), (other, theirs))
        for division in version.divisions
        for amount in (sizes.amounts if sizes else ())
    ]
    return replace(mine or theirs, amounts=tuple(named))
