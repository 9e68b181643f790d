"""The tie-break goes where the announcement says that the clock is read."""

from sorvek.core.workout import tree as w
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import LONGEST_DOUBT, Node, Said, means
from sorvek.core.workout.prose.lines import Section
from sorvek.core.workout.prose.words import Kind

ORDINALS = {"first": 0, "second": 1, "third": 2, "fourth": 3, "last": -1, "final": -1}


def place_tiebreaks(draft: Draft) -> None:
    """Put the tie-break where the text says the clock is read."""
    placed = False
    for said in draft.said:
        if (
            not (said.cue("tiebreak") or said.sentence.section is Section.TIE)
            or said.sentence.heading
            or draft.title is said
        ):
            continue
        said.used = True
        if draft.facts.form is w.Form.STAGES and (said.cue("stage", "part") or not said.of(p.WorkLine)):
            continue
        found = not _one_of_a_series(draft, said) and (_last_round(draft, said) or _tiebreak(draft, said))
        told_again = placed and not said.has(p.WorkLine, p.RoundCount)
        placed = placed or found
        if not found and not told_again and not _no_tiebreak(draft, said):
            draft.builder.body.append(
                Node(said.sentence.tokens, w.Doubt(f"{said.text()[:LONGEST_DOUBT]}: where is the tie-break?"))
            )


def _no_tiebreak(draft: Draft, said: Said) -> bool:
    """Return whether a sentence about ties places no clock: “there is no tie-break”, “ties stay ties”."""
    low = said.low()
    after = {
        "after",
        "when",
        "end",
        "completion",
        "once",
        "finish",
        "finishes",
        "every",
        "each",
        "behind",
        "following",
    }
    return bool({"no", "not", "none", "shared", "equal"} & low) or not (
        "time" in low or after & low or said.cue("every", "each_round")
    )


def _one_of_a_series(draft: Draft, said: Said) -> bool:
    """Return whether the clock is read after one set of a series only: “after the set of 12 muscle-ups”."""
    tokens = said.sentence.tokens
    told = {t.number for t in tokens if t.kind is Kind.NUMBER and t.number > 1}
    names = {t.name for t in tokens if t.kind is Kind.MOVEMENT}
    items = [item.work for node in draft.builder.body for item in node.items() if item.work]
    return bool(told) and any(work.movement in names and not work.counts for work in items)


def _last_round(draft: Draft, said: Said) -> bool:
    """Read “the time of your last full round” in an AMRAP: the clock is read after every round."""
    rounds = {"full", "finished", "completed", "complete"} & said.low() and said.cue("rounds")
    if not rounds or "last" not in said.low():
        return False
    blocks = [node for node in draft.builder.body if isinstance(node.block, w.Rounds)]
    if draft.facts.form is w.Form.AMRAP:
        draft.builder.body.append(Node(said.sentence.tokens, w.TieBreak()))
    elif draft.facts.form is w.Form.FOR_TIME and len(blocks) == 1:
        blocks[0].inner.append(Node(said.sentence.tokens, w.TieBreak()))
    return draft.facts.form is w.Form.AMRAP or (draft.facts.form is w.Form.FOR_TIME and len(blocks) == 1)


def _tiebreak(draft: Draft, said: Said) -> bool:
    """Read “after every set of double-unders”, “at the end of part one”, “after each round”, “after the row”."""
    if (at := _after_round(draft, said)) is not None:
        _split_rounds(draft, said, at)
        return True
    once = {"second", "third", "fourth", "last", "final"} & said.low()
    if once and said.cue("rounds") and not said.cue("each_round"):
        return False
    body = draft.builder.body
    works = said.of(p.WorkLine)
    for told in said.of(p.RepCounts):
        series = [node for node in body if node.block == w.Series(told.counts, ())]
        if len(series) == 1:  # “after the first 21-15-9”
            body.insert(body.index(series[0]) + 1, Node(said.sentence.tokens, w.TieBreak()))
            return True
    parts = any(cue.name in ("part", "stage") for cue in said.of(p.Cue))
    names = [work.movement for work in works] or [t.name for t in said.sentence.tokens if t.kind is Kind.MOVEMENT]
    if names and not parts:
        return _after_work(draft, said, names[-1])
    rests = [i for i, node in enumerate(body) if isinstance(node.block, w.Rest)]
    blocks = [node for node in body if node.inner and isinstance(node.block, w.Rounds | w.Series | w.Ladder)]
    if parts or (rests and not said.cue("each_round", "rounds")):
        if rests:
            body.insert(rests[0], Node(said.sentence.tokens, w.TieBreak()))
        elif len(blocks) > 1:
            body.insert(body.index(blocks[0]) + 1, Node(said.sentence.tokens, w.TieBreak()))
        return bool(rests) or len(blocks) > 1
    each = said.cue("each_round", "every") or bool({"each", "every"} & said.low())
    target = blocks[0].inner if blocks else (body if draft.facts.form is w.Form.AMRAP else None)
    if each and said.cue("each_round", "rounds", "set") and target:
        target.append(Node(said.sentence.tokens, w.TieBreak()))
        return True
    return False


def _after_work(draft: Draft, said: Said, name: str) -> bool:
    """Read the clock after lines of work: every one of a movement, that with a count told, or the nth."""
    works = said.of(p.WorkLine)
    items = [item for node in draft.builder.body for item in node.items() if item.work]
    found = [item for item in items if item.work and item.work.movement == name]
    found = found or [item for item in items if item.work and means(name, item.work.movement)]
    counts = works[-1].counts if works else ()
    found = [item for item in found if counts and item.work and item.work.counts == counts] or found
    nth = next((ORDINALS[word] for word in ORDINALS if word in said.low()), None)
    if nth is not None and not said.cue("each_round") and len(found) > 1:
        found = found[nth : nth + 1 or None]
    elif nth is not None and nth > 0 and any(item in node.inner for node in draft.builder.body for item in found):
        return False  # “the time of the third run” of four rounds
    for item in found:
        item.tokens += said.tokens(works[-1]) if works else []
        item.block = w.TieBreak()
    return bool(found)


def _after_round(draft: Draft, said: Said) -> int | None:
    """Return after how many rounds of the only block the clock is read once: “time after round 3”."""
    blocks = [node for node in draft.builder.body if isinstance(node.block, w.Rounds) and node.block.count > 1]
    told = [cue.number for cue in said.of(p.Cue) if cue.name == "rounds" and cue.number]
    told += [round_.count for round_ in said.of(p.RoundCount)]
    told += [
        ORDINALS[word] + 1 for word in ORDINALS if ORDINALS[word] >= 0 and word in said.low() and said.cue("rounds")
    ]
    if len(blocks) != 1 or len(set(told)) != 1 or said.has(p.WorkLine) or said.cue("each_round", "every"):
        return None
    assert isinstance(blocks[0].block, w.Rounds)
    return told[0] if told[0] < blocks[0].block.count else None


def _split_rounds(draft: Draft, said: Said, at: int) -> None:
    """Read the clock after so many rounds of a block: the block becomes two, of one round its lines."""
    body = draft.builder.body
    node = next(n for n in body if isinstance(n.block, w.Rounds) and n.block.count > 1)
    assert isinstance(node.block, w.Rounds)
    halves = [
        [Node(list(node.tokens), w.Rounds(count, ()), inner=node.inner)] if count > 1 else node.inner
        for count in (at, node.block.count - at)
    ]
    place = body.index(node)
    body[place : place + 1] = [*halves[0], Node(said.sentence.tokens, w.TieBreak()), *halves[1]]
