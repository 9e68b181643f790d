"""Work that is written once for men and once for women: one line of work with two counts and two loads."""

from collections.abc import Sequence
from dataclasses import replace

from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.bounding import ask
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.divisions import division_at
from sorvek.core.workout.prose.draft import LONGEST_DOUBT, OwnSeries, Said
from sorvek.core.workout.prose.headings import Section
from sorvek.core.workout.prose.sizes import Sizes
from sorvek.core.workout.prose.words import Kind

EVERY = {"every", "each", "all", "both"}
SEXES = ("men", "women")


def join_sexes(draft: Draft) -> None:
    """Join what men and women do into one sentence; what does not fit together becomes a doubt.

    The women's sentence is used up, its words belong to the men's.
    """
    _ask_levels(draft)
    by_sex = {sex: [s for s in draft.said if _addressed(s) == sex and _works(s)] for sex in SEXES}
    below = _below_headings(draft.said)
    if below["men"] and len(below["men"]) == len(below["women"]):
        by_sex = below
        for mine in below["men"]:
            mine.sentence.section = Section.WORK
    for mine, hers in zip(*by_sex.values(), strict=False):
        joined = _joined(mine, hers)
        if joined is None:
            words = (
                f"{mine.text()[:LONGEST_DOUBT]} / {hers.text()[:LONGEST_DOUBT]}: how does it differ by division?"
            )
            ask(draft, words, [*mine.sentence.tokens, *hers.sentence.tokens])
            mine.phrases = []
            mine.doubted = True
        else:
            mine.phrases = joined
            _own_series(draft, mine, hers)
            draft.facts.used += hers.sentence.tokens
        hers.phrases, hers.used = [], True


def calories_for_all(draft: Draft) -> None:
    """Read women's calories told once for all machines: “Women: 16 calories on every machine”."""
    lines = [(s, x) for s in draft.said for x in s.of(p.WorkLine) if x.unit == "cal" and len(x.counts) == 1]
    for said in draft.said:
        tokens = said.sentence.tokens
        at = next((i for i, token in enumerate(tokens) if token.unit("cal")), 0)
        alone = len({work.movement for _, work in lines}) == 1 and not any(t.kind is Kind.MOVEMENT for t in tokens)
        of_all = EVERY & said.low() or alone  # “Women 12 cal.” of the one machine
        told = tokens[0].cue("women") and at > 0 and tokens[at - 1].kind is Kind.NUMBER and of_all
        if not told or said.has(p.WorkLine) or len({work.counts for _, work in lines}) != 1:
            continue
        for other, work in lines:
            both = replace(work, counts=(*work.counts, int(tokens[at - 1].number)))
            other.phrases = [both if phrase is work else phrase for phrase in other.phrases]
        draft.facts.used += tokens
        said.phrases, said.used = [], True


def bracketed_counts(draft: Draft) -> None:
    """Read a bare number in brackets behind a count as women's where one before says so: “20 calories (16)”."""
    told = False
    for said in draft.said:
        tokens = said.sentence.tokens
        works = said.of(p.WorkLine)
        for phrase in said.of(p.Unknown):
            before = [work for work in works if work.hi == phrase.lo - 1 and len(work.counts) == 1]
            closed = tokens[phrase.lo - 1 : phrase.lo + 2]
            bare = (
                len(closed) == 3 and closed[0].mark("(") and closed[1].kind is Kind.NUMBER and closed[2].mark(")")
            )
            hers = told or any(len(work.counts) == 2 and work.unit for work in works if work.lo < phrase.lo)
            if not (bare and before and hers and closed[1].number < before[0].counts[0]):
                continue
            both = replace(before[0], counts=(*before[0].counts, int(closed[1].number)), hi=phrase.lo + 2)
            said.phrases = [both if other is before[0] else other for other in said.phrases if other is not phrase]
        told = told or any(len(work.counts) == 2 and work.unit for work in said.of(p.WorkLine))


def counts_in_order(draft: Draft) -> None:
    """Read women's counts of a movement told alone, in the order of its lines, or one that is for all of them.

    “Women row 20, 16, 12 and 7 calories”, “the bike calories for women: 12”.
    """
    for at, said in enumerate(draft.said):
        tokens = said.sentence.tokens
        named = {token.name for token in tokens if token.kind is Kind.MOVEMENT} or _by_calories(draft, at)
        counts = [int(token.number) for token in tokens if token.kind is Kind.NUMBER]
        works = [(other, work) for other in draft.said[:at] for work in other.of(p.WorkLine)]
        lines = [(other, work) for other, work in works if work.movement in named and len(work.counts) == 1]
        measured = any(token.unit("kg", "lb", "cm", "in", "ft") for token in tokens)  # loads, no counts
        hers = said.cue("women") and not said.cue("men", "level")
        told = said.has(p.WorkLine, p.RepCounts) or len(counts) == len(lines) > 1  # “(women 17/12/7 cal)”
        if not (hers and len(named) == 1 and told) or measured or said is draft.title:
            continue
        if len(counts) == 1 and {work.counts[0] for _, work in lines if work.counts[0] > counts[0]}:
            alike = len({work.counts for _, work in lines}) == 1
            counts = counts * len(lines) if alike else []
        elif not (any(token.cue("women") for token in tokens[:2]) and len(lines) > 1):
            continue
        if len(counts) != len(lines):
            continue
        for (other, work), count in zip(lines, counts, strict=True):
            both = replace(work, counts=(*work.counts, count))
            other.phrases = [both if phrase is work else phrase for phrase in other.phrases]
        draft.facts.used += tokens
        said.phrases, said.used = [], True


def _by_calories(draft: Draft, at: int) -> set[str]:
    """Return what is counted in calories before a sentence that speaks of them alone: “women: 34-24-14 cal”."""
    lows = draft.said[at].low()
    if not lows & {"cal", "cals", "calories", "calorie"}:
        return set()
    return {work.movement for said in draft.said[:at] for work in said.of(p.WorkLine) if work.unit == "cal"}


def _below_headings(said_of: Sequence[Said]) -> dict[str, list[Said]]:
    """Return the sentences of counted work below “Men:” and below “Women:” on lines of their own."""
    found: dict[str, list[Said]] = {sex: [] for sex in SEXES}
    current = ""
    for said in said_of:
        tokens = [token for token in said.sentence.tokens if not token.mark(":")]
        name, used = division_at(tokens, 0) if tokens else ("", 0)
        if said.sentence.heading or used == len(tokens):
            current = name if used == len(tokens) and name in SEXES else ""
        elif current and any(work.counts for work in said.of(p.WorkLine)):
            found[current].append(said)
    return found


def _works(said: Said) -> bool:
    """Return whether a sentence holds work, not what a level does instead of that told above, with its loads."""
    works = said.of(p.WorkLine)
    swaps = said.sentence.section is Section.SCALED and said.has(p.Loads) and not any(work.counts for work in works)
    return bool(works) and not swaps


def _ask_levels(draft: Draft) -> None:
    """Ask about work that is written once for each of several levels: “RX: …”, “Masters 50+: …”."""
    levels = [said for said in draft.said if _level(said) and any(work.counts for work in said.of(p.WorkLine))]
    above = draft.said[: draft.said.index(levels[0])] if levels else []
    told = any(work.counts for said in above if said is not draft.title for work in said.of(p.WorkLine))
    if told or len({_level(said) for said in levels}) < 2:
        return  # what levels do instead of the work above is read with it
    words = " / ".join(said.text()[: LONGEST_DOUBT // 2] for said in levels)[:LONGEST_DOUBT]
    ask(draft, f"{words}: how does it differ by division?", [t for s in levels for t in s.sentence.tokens])
    for said in levels:
        said.phrases, said.used, said.doubted = [], True, True


def _level(said: Said) -> str:
    """Return the division a sentence is headed or begun with, empty for none or one of the sexes."""
    name, used = division_at(said.sentence.lead, 0) if said.sentence.lead else ("", 0)
    name = name if used and used == len([t for t in said.sentence.lead if not t.mark(":")]) else _addressed(said)
    return "" if name in SEXES else name


def _addressed(said: Said) -> str:
    """Return the division a sentence begins with, “Men: 40 pull-ups …”, empty if it is for all."""
    tokens = said.sentence.tokens
    name, used = division_at(tokens, 0)
    return name if used < len(tokens) and tokens[used].mark(":-–") else ""


def _joined(mine: Said, hers: Said) -> list[p.Phrase] | None:
    """Return the men's phrases with the women's counts and loads beside their own; None if the work is another."""
    his, her = mine.of(p.WorkLine), hers.of(p.WorkLine)
    series = [said.of(p.RepCounts) for said in (mine, hers)]
    lengths = [[len(x.counts) for x in row] for row in series]
    alike = [x.counts for x in series[0]] == [x.counts for x in series[1]]
    alike = alike or (lengths[0] == lengths[1] and len(lengths[0]) == 1)
    if [w.movement for w in his] != [w.movement for w in her] or not alike:
        return None
    apart = [said.of(p.Loads) for said in (mine, hers)]
    if apart[1] and len(apart[0]) != len(apart[1]):
        return None
    other_of: dict[int, p.Phrase] = dict(zip(map(id, [*his, *apart[0]]), [*her, *apart[1]], strict=False))
    return [_both(phrase, other_of.get(id(phrase))) for phrase in mine.phrases]


def _own_series(draft: Draft, mine: Said, hers: Said) -> None:
    """Keep the women's rep series where it is another one than the men's."""
    for his, her in zip(mine.of(p.RepCounts), hers.of(p.RepCounts), strict=True):
        if his.counts != her.counts:
            draft.facts.own_series.append(OwnSeries(("women",), her.counts, hers.tokens(her)))


def _both(his: p.Phrase, her: p.Phrase | None) -> p.Phrase:
    """Return work, or loads apart from it, with the women's counts and loads beside the men's."""
    if isinstance(his, p.WorkLine) and isinstance(her, p.WorkLine):
        counts = (*his.counts, *her.counts) if his.counts != her.counts else his.counts
        return replace(his, counts=counts, sizes=_sized(his.sizes, her.sizes))
    sizes = _sized(his.sizes, her.sizes) if isinstance(his, p.Loads) and isinstance(her, p.Loads) else None
    return replace(his, sizes=sizes) if isinstance(his, p.Loads) and sizes else his


def _sized(his: Sizes | None, her: Sizes | None) -> Sizes | None:
    if his is None or her is None:
        return his or her
    amounts = [
        replace(a, division=a.division or sex)
        for sex, sizes in zip(SEXES, (his, her), strict=True)
        for a in sizes.amounts
    ]
    return replace(his, amounts=tuple(amounts))
