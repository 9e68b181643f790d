"""Rep series of a division's own: “21-15-9 …; women 18-12-6”, “Masters 50+: 15-12-9”."""

from collections.abc import Sequence
from dataclasses import replace

from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.bounding import ask
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.by_round import series_of
from sorvek.core.workout.prose.divisions import division_at, level_of
from sorvek.core.workout.prose.draft import LONGEST_DOUBT, Node, OwnSeries, Said
from sorvek.core.workout.prose.headings import Section
from sorvek.core.workout.prose.words import Kind, Token

JOINTS = {"do", "does", "perform", "complete", "reps", "repetitions", "rep", "of", "for", "will", "the", "are"}
MOST_BEFORE = 6  # words between a division and its counts


def take_own_series(draft: Draft) -> None:
    """Set the series apart that only one division does, where there is another one for all."""
    told = [(said, phrase, _whose(said, phrase)) for said in draft.said for phrase in said.of(p.RepCounts)]
    usual = any(not name for _, _, name in told)
    for said, phrase, name in told:
        works = said.of(p.WorkLine)
        counted = any(work.counts for work in works)
        if name and usual and not counted:
            behind = said.sentence.tokens[phrase.hi : phrase.hi + 1]
            unit = "cal" if behind and behind[0].unit("cal") else ""
            movements = tuple(work.movement for work in works)
            own = OwnSeries((name,), phrase.counts, _with_name(said, phrase), movements, unit)
            draft.facts.own_series.append(own)
        elif name == "women":
            ask(draft, f"{said.text()[:LONGEST_DOUBT]}: which movements have other counts for women?", _all(said))
        else:
            continue
        said.phrases.remove(phrase)
        if said.sentence.tokens[0].cue("women"):  # “Women: 15-12-9 on the bike” only points at the bike
            said.phrases = [x for x in said.phrases if not isinstance(x, p.WorkLine | p.Cue)]
        if not said.phrases or (said.sentence.section is Section.SCALED and not works):
            said.used = True


def _all(said: Said) -> list[Token]:
    return [*said.sentence.lead, *said.sentence.tokens]


def _with_name(said: Said, phrase: p.RepCounts) -> list[Token]:
    """Return the words of a series, all of its sentence if that says nothing else."""
    alone = all(isinstance(other, p.RepCounts | p.Cue) for other in said.phrases)
    return said.sentence.tokens if alone else said.tokens(phrase)


def _whose(said: Said, phrase: p.RepCounts) -> str:
    """Return the division that does a series: named right before or behind it, or at the head of its line."""
    tokens = said.sentence.tokens
    for at in range(max(0, phrase.lo - MOST_BEFORE), phrase.lo):
        name, used = division_at(tokens, at)
        if used and all(_joint(token) for token in tokens[at + used : phrase.lo]):
            return _own(name)
    at = phrase.hi
    while at < len(tokens) and _joint(tokens[at]) and not tokens[at].mark("("):
        at += 1
    name, used = division_at(tokens, at)
    closed = at + used == len(tokens) or tokens[at + used].mark("),;.")
    if used and closed:
        return _own(name)
    name, used = division_at(said.sentence.lead, 0)
    return _own(name) if used else ""


def _own(name: str) -> str:
    return name if level_of(name) or name == "women" else ""


def _joint(token: Token) -> bool:
    return (token.kind is Kind.MARK and token.mark(":-–(")) or token.low in JOINTS or token.kind is Kind.MOVEMENT


def write_out(draft: Draft) -> None:
    """Write the rounds of a series one by one where divisions have counts of their own; ask where that fails."""
    place = next(iter(_places(draft.builder.body)), None)
    told: list[OwnSeries] = []
    for own in draft.facts.own_series:
        known = _of_known(own, place[0][place[1]]) if place else None
        told += [known] if known else []
        if known is None:
            counts = "-".join(map(str, own.counts))
            ask(draft, f"{own.divisions[0]}: {counts}: which movements have these counts?", own.tokens)
    if place is None or not told:
        return
    siblings, at = place
    series = siblings[at]
    draft.facts.used += [token for own in told for token in own.tokens]
    siblings[at : at + 1] = [
        _of_round(line, series, turn, told) for turn in range(len(series_of(series))) for line in series.inner
    ]


def _of_known(own: OwnSeries, series: Node) -> OwnSeries | None:
    """Return an own series with only those of its movements that the series for all has: the others are instead.

    None if it does not fit that series.
    """
    works = [line.work for line in series.inner if line.work]
    known = replace(own, movements=tuple(name for name in own.movements if name in {w.movement for w in works}))
    fits = len(series_of(series)) == len(own.counts) and any(_concerns(known, work) for work in works)
    return known if fits else None


def _concerns(own: OwnSeries, work: p.WorkLine) -> bool:
    return (not own.movements or work.movement in own.movements) and own.unit in ("", work.unit)


def _places(siblings: list[Node]) -> list[tuple[list[Node], int]]:
    """Return where a series of plain lines stands, none where there are several."""
    found: list[tuple[list[Node], int]] = []
    for at, node in enumerate(siblings):
        if series_of(node) and all(inner.work is not None for inner in node.inner):
            found.append((siblings, at))
        found += _places(node.inner)
    return found if len(found) == 1 else []


def _of_round(line: Node, series: Node, turn: int, told: Sequence[OwnSeries]) -> Node:
    """Return a line of one round, with the count of every division."""
    assert line.work is not None
    if line.work.counts and not line.rising:
        return replace(line, tokens=list(line.tokens))
    counts: tuple[int, ...] = (line.times * series_of(series)[turn] + line.more,)
    others: list[tuple[str, tuple[int, ...]]] = []
    for own in (own for own in told if line.work and _concerns(own, line.work)):
        count = line.times * own.counts[turn] + line.more
        if own.divisions == ("women",):
            counts = (counts[0], count) if count != counts[0] else counts
        else:
            others += [(name, (count,)) for name in own.divisions]
    work = replace(line.work, counts=counts, counts_of=tuple(others))
    tokens = [*line.tokens, *series.tokens]
    return replace(line, work=work, rising=False, times=1, more=0, tokens=tokens)
