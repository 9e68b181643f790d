"""What the score is, where it is not simply a time, reps or a load: “score: burpees”, “the row does not count”."""

from collections.abc import Sequence
from itertools import accumulate, pairwise

from sorvek.core.workout import tree as w
from sorvek.core.workout.prose.bounding import ask
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import LONGEST_DOUBT, Node, Said, means
from sorvek.core.workout.prose.headings import Section
from sorvek.core.workout.prose.words import Kind, Token, vocabulary

NOT = {"not", "don't", "don’t", "doesn't", "doesn’t", "isn't", "isn’t"}
CLOSE = 3  # words between “not” and “count”
POINTS = {"divided", "multiplied", "points"}
ODD_SCORES = {
    "slowest",
    "fastest",
    "lowest",
    "highest",
    "best",
    "worst",
    "average",
    "lower",
    "better",
    "higher",
    "worse",
}
PAIRS = ("of the two", "of both", "of the 2")
# “Number of minutes completed”, “completed minutes”.
PACES, DONE = {"minutes", "intervals", "windows"}, {"completed", "finished", "survived", "done", "made"}
OPEN = (w.Form.AMRAP, w.Form.PARTS)


UNITS = {"calories": "cal", "metres": "m", "meters": "m"}
SUMMED = {"reps", "repetitions", "and", "plus", "&", "everything", "rounds", "if", "after"}


def read_score(draft: Draft) -> None:
    """Read which movements count, and ask about scores that are neither a time nor reps nor a load."""
    for said in draft.said:
        bare = said.sentence.heading and not ODD_SCORES & said.low()  # “Score = slowest interval” is no heading
        if bare or said is draft.title or said.valued:
            continue
        totalled = said.sentence.tokens[0].low == "total" and "=" in said.low()  # “Total = metres/10 + reps”
        only = "only" in said.low() and bool({"count", "counts", "scored"} & said.low())
        scored = said.cue("score") or said.sentence.section is Section.SCORE or only or totalled
        told = (_of_some(draft, said) or _of_the_rest(draft, said)) if scored else _uncounted(draft, said)
        told = told or (_uncounted(draft, said) if scored else [])
        told = [] if _first_of_it(said) else told
        if told and draft.facts.form in OPEN:
            several = scored and draft.facts.scored  # “Score A: burpees”, “Score B: squats”
            told = [
                name for name in _names(draft.top()) if name in told or (several and name in draft.facts.scored)
            ]
            draft.facts.scored = tuple(told)
            draft.facts.tokens += [token for token in said.sentence.tokens if token.kind is not Kind.MARK]
            said.used = True
        elif told or (scored and _odd(draft, said)) or _first_of_it(said):
            words = f"{said.text()[:LONGEST_DOUBT]}: the notation has no words for this score"
            ask(draft, words, said.sentence.tokens)
            said.used = said.doubted = True


def _first_of_it(said: Said) -> bool:
    """Return whether only the first of some work do not count: “the first 30 calories of the bike do not count”."""
    tokens = said.sentence.tokens
    first = any(a.low == "first" and b.kind is Kind.NUMBER for a, b in pairwise(tokens))
    return first and bool(NOT & said.low()) and bool({"count", "counts", "counted", "scored"} & said.low())


def _odd(draft: Draft, said: Said) -> bool:
    """Return whether a score is that of one round, or worked out: “your score is the slowest round”."""
    paired = any(words in said.text().lower() for words in PAIRS)  # “the better of the two”
    tied = {"tie", "tied", "ties"} & said.low()
    best = bool(not tied and said.low() & ODD_SCORES and (said.cue("rounds", "window", "part", "set") or paired))
    best = best or bool(said.cue("amrap") and _partly_once(draft))  # “score: the reps of the AMRAP”
    best = best or ({"kg", "reps", "+"} <= said.low() and draft.facts.lift is not None)  # “your score is kg + reps”
    paced = draft.facts.every and {"reps", "repetitions", "total", "sum", "added", "rounds"} & said.low()
    told = said.sentence.section is Section.SCORE
    summed = told and draft.facts.form is w.Form.PARTS and "times" in said.low()  # “sum of the three times”
    summed = summed and bool({"sum", "total", "added"} & said.low())
    pairs = [{a.low, b.low} for a, b in pairwise(said.sentence.tokens)]
    minutes = told and any(pair & PACES and pair & DONE for pair in pairs)
    worked_out = told and (POINTS & said.low() or {"plus", "times"} <= said.low())
    worked_out = worked_out or (_divided(said) and (told or said.sentence.tokens[0].low == "total"))
    return bool(best or paced or worked_out or summed or minutes)


def _names(nodes: Sequence[Node]) -> list[str]:
    return list(dict.fromkeys(line.work.movement for node in nodes for line in node.items() if line.work))


def _of_some(draft: Draft, said: Said) -> list[str]:
    """Return the only movements that count: “your score is the total of burpees and double-unders”."""
    names, tokens = _names(draft.top()), said.sentence.tokens
    named = [token for token in _outside(tokens) if token.kind is Kind.MOVEMENT]
    if not named:
        return _of_unit(draft, said)
    told = [name for name in names if any(means(token.name, name) for token in named)]
    beside = all(_beside(token) for token in _outside(tokens))
    return told if beside and 0 < len(told) < len(names) else []


def _of_unit(draft: Draft, said: Said) -> list[str]:
    """Return the only movement that is counted in what the score is: “Score: total calories”."""
    tokens, works = said.sentence.tokens, [line.work for line in draft.lines() if line.work]
    units = {token.name for token in tokens if token.unit()} | {UNITS[t.low] for t in tokens if t.low in UNITS}
    names = list(dict.fromkeys(work.movement for work in works if work.unit in units))
    summed = bool(SUMMED & said.low()) or any(token.mark("+/") for token in tokens)
    beside = all(_beside(token) or token.unit() or token.low in UNITS for token in tokens)
    others = any(work.movement not in names for work in works)
    return names if beside and others and len(names) == len(units) == 1 and not summed else []


def _outside(tokens: Sequence[Token]) -> list[Token]:
    """Return the words that stand in no bracket."""
    depth = list(accumulate(token.mark("([") - token.mark(")]") for token in tokens))
    return [token for token, inside in zip(tokens, depth, strict=True) if not (inside or token.mark(")]"))]


def _beside(token: Token) -> bool:
    plain = token.kind in (Kind.MARK, Kind.MOVEMENT, Kind.NUMBER) or token.cue("score", "rounds", "part")
    return plain or token.low in vocabulary("beside_score")


def _uncounted(draft: Draft, said: Said) -> list[str]:
    """Return what counts beside work that does not: “the metres of the row do not count”."""
    tokens, lines = said.sentence.tokens, [line.work for line in draft.lines() if line.work]
    at = next((i for i, token in enumerate(tokens) if token.low in NOT), None)
    opens = max((i for i, token in enumerate(tokens[:at]) if token.mark("(")), default=0)
    about = {token.low for token in tokens[opens:]}  # “total reps (the row does not count)”
    if at is None or draft.facts.form is w.Form.FOR_TIME or {"rep", "reps", "if"} & about:
        return []
    counts = any(token.low in ("count", "counted", "counts", "scored") for token in tokens[at : at + CLOSE + 1])
    before = tokens[max(opens, at - CLOSE - 2) : at]
    named = [token.name for token in before if token.kind is Kind.MOVEMENT]
    units = {token.name for token in before if token.unit("m", "cal")} | {"m" for t in before if t.low == "metres"}
    units |= {"cal" for token in before if token.low == "calories"}
    out = {work.movement for work in lines if any(means(name, work.movement) for name in named)}
    out = out or {work.movement for work in lines if work.unit in units}
    return [name for name in _names(draft.top()) if name not in out] if counts and out else []


def _of_the_rest(draft: Draft, said: Said) -> list[str]:
    """Return the movements of what is repeated to the end where only that counts: “score: reps of the AMRAP”."""
    again = [node for node in _flat(draft.top()) if node.block == w.Rounds(0, ()) or _open_part(node)]
    within = {id(line) for node in again for line in node.items()}
    once = {line.work.movement for line in draft.lines() if line.work and id(line) not in within}
    behind = "after" in said.low() and any(
        token.kind is Kind.MOVEMENT and any(means(token.name, name) for name in once)
        for token in said.sentence.tokens
    )
    names = _names(again)
    most = "only" in said.low() and any(token.low.startswith("max") for token in said.sentence.tokens)
    told = behind or most or said.cue("amrap", "remaining") or {"after"} <= said.low()
    return names if told and once and names and not once & set(names) else []


def _flat(nodes: Sequence[Node]) -> list[Node]:
    return [inner for node in nodes for inner in (node, *_flat(node.inner))]


def _open_part(node: Node) -> bool:
    """Return whether a part is repeated until its time is up, as a whole."""
    part = isinstance(node.block, w.TimedPart) and not node.block.once
    return part and not any(inner.block == w.Rounds(0, ()) for inner in node.inner)


def _divided(said: Said) -> bool:
    """Return whether a score is worked out: “metres rowed / 10 + burpees”."""
    tokens = said.sentence.tokens
    rows = zip(tokens, tokens[1:], tokens[2:], [*tokens[3:], None], strict=False)
    return any(
        a.kind is not Kind.NUMBER and b.mark("/÷×*") and c.kind is Kind.NUMBER and (d is None or d.mark("+-–)."))
        for a, b, c, d in rows
    )


def _partly_once(draft: Draft) -> bool:
    """Return whether some parts are done once and others as often as possible."""
    return len({node.block.once for node in draft.top() if isinstance(node.block, w.TimedPart)}) > 1
