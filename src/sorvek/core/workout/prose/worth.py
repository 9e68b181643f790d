"""What counts otherwise than metre by metre: “10 m of the run are one rep”, “a run counts as 5 reps”."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from sorvek.core.quantities import M_PER_FT
from sorvek.core.workout import tree as w
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.bounding import ask
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import LONGEST_DOUBT, Node, Said, means
from sorvek.core.workout.prose.words import REPS, Kind, Token, vocabulary

ONE = {"a", "one", "single"}
PER = {"per", "every", "each"}
# Words that are also of other kinds, with the movement they name here.
WAYS = {"run": "run", "row": "row", "ski": "ski", "bike": "bike", "shuttle": "shuttle run"}
WAYS |= {"carry": "carry", "carries": "carry", "carrying": "carry"}
OPEN = (w.Form.AMRAP, w.Form.PARTS)


@dataclass(frozen=True, slots=True)
class RepWorth:
    """So many reps for a length in m, 0 where it is all of a line; of what is named, of all if nothing is."""

    reps: float
    length_m: float
    feet: bool
    names: tuple[str, ...]


def set_worth_aside(draft: Draft) -> None:
    """Leave out work that is only named to say what it is worth: “(200 m run = 1 rep)”."""
    lines = [phrase for said in draft.said for phrase in said.of(p.WorkLine) if phrase.unit == "m"]
    for said in draft.said:
        for begin, end, worth in _values(said):
            inside = [phrase for phrase in said.phrases if begin <= phrase.lo < end]
            elsewhere = [line for line in lines if not any(line is phrase for phrase in inside)]
            works = {phrase.movement for phrase in inside if isinstance(phrase, p.WorkLine)}
            meant = any(_named(line.movement, worth) for line in elsewhere)
            if meant and works <= {line.movement for line in elsewhere}:
                said.phrases = [phrase for phrase in said.phrases if phrase not in inside]


def read_worth(draft: Draft) -> None:
    """Give lines counted in metres what counts as one rep of them; ask where a sentence says it in other words."""
    for said in draft.said:
        if said is draft.title or said.doubted:
            continue
        tokens = said.sentence.tokens
        lines = [(node, worth) for *_, worth in _values(said) for node in draft.lines() if _counted_so(node, worth)]
        for node, worth in lines:
            assert node.work is not None
            node.work = replace(node.work, per_rep=_per_rep(node.work, worth))
        if lines:
            draft.facts.tokens += [token for token in tokens if token.kind is not Kind.MARK]
            said.used = said.valued = True
        elif _weighed(draft, said):
            ask(draft, f"{said.text()[:LONGEST_DOUBT]}: the notation has no words for this score", tokens)
            said.used = said.doubted = said.valued = True


def _values(said: Said) -> list[tuple[int, int, RepWorth]]:
    """Return where a sentence says what is worth how much; in brackets behind work it is of that work."""
    tokens, found = said.sentence.tokens, list[tuple[int, int, RepWorth]]()
    for begin, end in _clauses(tokens):
        worth = _worth(tokens[begin:end])
        if worth is None or (end < len(tokens) and tokens[end].mark("?")):
            continue
        bracketed = begin > 0 and tokens[begin - 1].mark("(")
        before = [work.movement for work in said.of(p.WorkLine) if work.lo < begin and bracketed]
        found.append((begin, end, worth if worth.names else replace(worth, names=tuple(before[-1:]))))
    return found


def _clauses(tokens: Sequence[Token]) -> list[tuple[int, int]]:
    """Return where the pieces of a sentence begin and end: at brackets, commas, and where the next value begins."""
    cuts = [-1]
    for i, token in enumerate(tokens):
        behind = i > 0 and tokens[i - 1].low in REPS and token.mark(":")  # “worth 4 reps: 1 for every 50 m”
        if behind or token.mark("();,?"):
            cuts.append(i)
    return [(a + 1, b) for a, b in pairwise([*cuts, len(tokens)]) if a + 1 < b]


def _worth(tokens: Sequence[Token]) -> RepWorth | None:
    """Return what a clause says a length or a line is worth, None if it says anything else."""
    tokens = [token for token in tokens if not token.mark("-–")]  # “each 200-m run”
    pairs = list(enumerate(pairwise(tokens)))
    reps = next(((a, {i, i + 1}) for i, (a, b) in pairs if b.low in REPS and _number(a)), None)
    if reps is None and pairs and tokens[-2].low in ("as", "counts as") and _number(tokens[-1]):
        reps = tokens[-1], {len(pairs)}  # “each run counts as one”
    lengths = [(a, b, i) for i, (a, b) in pairs if a.kind is Kind.NUMBER and b.unit("m", "ft")]
    if reps is None or len({a.number for a, _, _ in lengths}) > 1:
        return None
    apart = reps[1] | {*(at for _, _, i in lengths for at in (i, i + 1))}
    beside = [token for i, token in enumerate(tokens) if i not in apart]
    valued = bool({token.low for token in tokens} & (vocabulary("valued") | PER))
    if not valued or not all(_plain(token) for token in beside):
        return None
    names = tuple(token.name if token.kind is Kind.MOVEMENT else WAYS[token.low] for token in beside if _way(token))
    if not lengths:
        return RepWorth(_number(reps[0]), 0.0, False, names) if names else None
    length, unit, _ = lengths[0]  # “10 m of the row and 10 m of the run”
    feet = unit.name == "ft"
    return RepWorth(_number(reps[0]), length.number * (M_PER_FT if feet else 1.0), feet, names)


def _number(token: Token) -> float:
    return token.number if token.kind is Kind.NUMBER else float(token.low in ONE)


def _way(token: Token) -> bool:
    return token.kind is Kind.MOVEMENT or token.low in WAYS


def _plain(token: Token) -> bool:
    """Return whether a word may stand beside a value and change nothing about it."""
    one = token.kind is Kind.NUMBER and token.number == 1  # “1 run = 10 reps”
    return one or _way(token) or token.kind is Kind.MARK or token.low in vocabulary("beside_worth")


def _counted_so(node: Node, worth: RepWorth) -> bool:
    """Return whether a line is of what a value names, and counted in metres."""
    work = node.work
    if work is None or work.unit != "m":
        return False
    alike = len(set(work.counts)) == 1 and not work.counts_of  # a run is worth as much for who runs less
    if not (worth.length_m or alike):
        return False
    return _named(work.movement, worth)


def _named(movement: str, worth: RepWorth) -> bool:
    return not worth.names or any(means(name, movement) for name in worth.names)


def _per_rep(work: p.WorkLine, worth: RepWorth) -> float:
    """Return the metres of a line that count as one rep, 0 if each does.

    Feet were made whole metres in the line, so that reps are counted first: 25 ft, 8 m here, are five times 5 ft.
    """
    count = max(work.counts, default=0)
    if not worth.length_m:
        per = count / worth.reps
    elif worth.feet and count:
        reps = max(1, round(count / worth.length_m * worth.reps))
        per = int(10 * count / reps) / 10
    else:
        per = round(worth.length_m / worth.reps, 1)
    return per if per > 1 else 0.0


def _weighed(draft: Draft, said: Said) -> bool:
    """Return whether what is counted in metres here scores otherwise, in words that are not read."""
    tokens = said.sentence.tokens
    metres = any(a.kind is Kind.NUMBER and b.unit("m", "ft") for a, b in pairwise(tokens))
    rep = any(a.kind is Kind.NUMBER and b.low in REPS for a, b in pairwise(tokens))
    valued = {"count", "counts", "counts as", "worth", "equals", "is", "="} & said.low()
    works = [line.work for line in draft.lines() if line.work and line.work.unit == "m"]
    named = [token.name or token.low for token in tokens if _way(token)]
    whole = any(means(name, work.movement) for name in named for work in works)  # “the run counts as one rep”
    return bool((metres or whole) and rep and valued and works) and draft.facts.form in OPEN
