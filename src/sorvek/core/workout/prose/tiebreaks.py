"""The tie-break goes where the announcement says that the clock is read."""

from dataclasses import replace
from itertools import accumulate, pairwise

from sorvek.core.workout import tree as w
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.by_round import of_one_round, rounds_of, series_of
from sorvek.core.workout.prose.divisions import division_at
from sorvek.core.workout.prose.draft import LONGEST_DOUBT, Node, Said, means
from sorvek.core.workout.prose.headings import Section
from sorvek.core.workout.prose.rungs import period
from sorvek.core.workout.prose.words import Kind, ordinal

LAST = 99  # the place “last” names


def place_tiebreaks(draft: Draft) -> None:
    """Put the tie-break where the text says the clock is read."""
    placed, unplaced, none = False, list[Said](), False
    for said in draft.said:
        if none and not said.cue("tiebreak"):
            continue  # “Tie-break: none. Your score is …”
        if (
            not (said.cue("tiebreak") or said.sentence.section is Section.TIE or _headed_tie(said))
            or (said.sentence.heading and not any(token.kind is Kind.NUMBER for token in said.sentence.tokens))
            or draft.title is said
            or _of_a_level(said)
        ):
            continue
        said.used = True
        none = said.sentence.tokens[0].low == "none"
        if draft.facts.form is w.Form.STAGES and (said.cue("stage", "part") or not said.of(p.WorkLine)):
            continue
        one = _one_of_a_series(draft, said)
        if said.cue("buy_in") and _after_what_is_first(draft, said):
            placed = True
            continue
        found = _after_one_set(draft, said) if one else _last_round(draft, said) or _tiebreak(draft, said)
        told_again = placed and not said.has(p.WorkLine, p.RoundCount)
        placed = placed or found
        if not found and not told_again and not _no_tiebreak(draft, said):
            unplaced.append(said)
    _drop_doubled(draft.builder.body)
    for said in unplaced:
        numbered = any(token.kind is Kind.NUMBER for token in said.sentence.tokens)
        if not placed or numbered or said.has(p.WorkLine, p.RoundCount):
            words = f"{said.text()[:LONGEST_DOUBT]}: where is the tie-break?"
            draft.builder.body.append(Node(said.sentence.tokens, w.Doubt(words)))


def _headed_tie(said: Said) -> bool:
    """Return whether a tie stands before a colon or an equals sign: “score = reps, tie = end of the last round”.

    So does a time that decides: “if two are equal, the time after the burpees decides”.
    """
    tokens = [*said.sentence.lead, *said.sentence.tokens]
    if {"decides", "decide"} & said.low() and "time" in said.low():
        return True
    if {"tie", "tied", "ties"} & said.low() and {"time"} <= said.low() and {"after", "behind"} & said.low():
        return True  # “in case of a tie your time after the 30 thrusters counts”
    if {"tie", "tied", "ties", "equal"} & said.low() and {"faster", "quicker", "earlier", "first"} & said.low():
        return True  # “if two athletes tie, whoever was faster through the third round is ranked higher”
    return any(a.low in ("tie", "ties") and b.mark(":=") for a, b in pairwise(tokens))


def _after_what_is_first(draft: Draft, said: Said) -> bool:
    """Read the clock after what is done once: “tie-break: time after the buy-in”."""
    body = draft.builder.body
    again = next((i for i, node in enumerate(body) if node.block == w.Rounds(0, ())), 0)
    if again:
        body.insert(again, Node(list(said.sentence.tokens), w.TieBreak()))
    return bool(again)


def _drop_doubled(body: list[Node]) -> None:
    """Leave out a clock that is read again where it was read just before: told in two sentences."""
    for before, node in pairwise(list(body)):
        if isinstance(node.block, w.TieBreak) and node.work is None and isinstance(before.block, w.TieBreak):
            before.tokens += node.tokens
            body[:] = [other for other in body if other is not node]


def _of_a_level(said: Said) -> bool:
    """Return whether a sentence below the heading of the tie-break is about a level: “Scaled: 40/30 kg”."""
    named = division_at(said.sentence.lead, 0)[1] or division_at(said.sentence.tokens, 0)[1]
    return bool(named) and not said.cue("tiebreak")


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
    numbered = any(token.kind is Kind.NUMBER for token in said.sentence.tokens)  # “tie-break at 20 reps”
    return bool({"no", "not", "none", "shared", "equal"} & low) or not (
        "time" in low or after & low or numbered or said.cue("every", "each_round")
    )


def _one_of_a_series(draft: Draft, said: Said) -> bool:
    """Return whether the clock is read after one set of a series only: “after the set of 12 muscle-ups”."""
    tokens = said.sentence.tokens
    told = {t.number for t in tokens if t.kind is Kind.NUMBER and t.number > 1}
    names = {t.name for t in tokens if t.kind is Kind.MOVEMENT}
    items = [item.work for node in draft.builder.body for item in node.items() if item.work]
    named = [work for work in items if any(means(name, work.movement) for name in names) and not work.counts]
    return bool(told) and bool(named)


def _after_one_set(draft: Draft, said: Said) -> bool:
    """Read the clock after one set of a series, “after the 15 burpees” of 21-15-9: its lines are written out."""
    tokens, body = said.sentence.tokens, draft.builder.body
    told = {int(t.number) for t in tokens if t.kind is Kind.NUMBER}
    names = [t.name for t in tokens if t.kind is Kind.MOVEMENT]
    for at, node in enumerate(body):
        plain = all(inner.work is not None for inner in node.inner)
        if not (rounds_of(node) and node.inner and plain and isinstance(node.block, w.Series | w.Ladder)):
            continue
        lines = [of_one_round(inner, node, turn) for turn in range(rounds_of(node)) for inner in node.inner]
        ends = [n for n in lines if n.work and n.work.counts[0] in told and means(names[-1], n.work.movement)]
        if len(ends) == 1:
            ends[0].block = w.TieBreak()
            ends[0].tokens += tokens
            body[at : at + 1] = lines
            return True
    return False


def _last_round(draft: Draft, said: Said) -> bool:
    """Read “the time of your last full round” in an AMRAP: the clock is read after every round."""
    rounds = {"full", "finished", "completed", "complete"} & said.low() and said.cue("rounds")
    if not rounds or "last" not in said.low():
        return False
    blocks = [node for node in draft.builder.body if isinstance(node.block, w.Rounds | w.Series | w.Ladder)]
    if draft.facts.form is w.Form.AMRAP:
        _after_every_round(draft.builder.body, said)
    elif draft.facts.form is w.Form.FOR_TIME and len(blocks) == 1:
        blocks[0].inner.append(Node(said.sentence.tokens, w.TieBreak()))
    return draft.facts.form is w.Form.AMRAP or (draft.facts.form is w.Form.FOR_TIME and len(blocks) == 1)


def _after_every_round(body: list[Node], said: Said) -> None:
    """Read the clock at the end of an AMRAP's rounds, also of those that are written out before it repeats."""
    repeat = next((node for node in body if node.block == w.Rounds(0, ())), None)
    if repeat is None:
        body.append(Node(said.sentence.tokens, w.TieBreak()))
        return
    repeat.inner.append(Node(said.sentence.tokens, w.TieBreak()))
    size, before = len(repeat.inner) - 1, body.index(repeat)
    names = [line.work.movement for line in repeat.inner if line.work]
    for end in range(before, 0, -size):
        lines = [line.work.movement for line in body[max(0, end - size) : end] if line.work]
        if lines != names:
            break  # “400 m run, then as many rounds as possible of …”
        body.insert(end, Node([], w.TieBreak()))


def _tiebreak(draft: Draft, said: Said) -> bool:
    """Read “after every set of double-unders”, “at the end of part one”, “after each round”, “after the row”."""
    if _after_rounds(draft, said) or _in_series(draft, said) or _here(draft, said):
        return True
    if _after_written_round(draft, said):
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
        tokens = said.sentence.tokens
        after = max((i for i, token in enumerate(tokens) if token.low == "after"), default=len(tokens))
        behind = [token.name for token in tokens[after:] if token.kind is Kind.MOVEMENT]
        counted = any(work.counts for work in works)
        listed = behind if len(behind) > 1 and not counted else names[-1:]  # “after the DUs, the T2B and the C&J”
        placed = [_after_work(draft, said, name) for name in dict.fromkeys(listed)]
        return any(placed)
    rests = [i for i, node in enumerate(body) if isinstance(node.block, w.Rest)]
    blocks = [node for node in body if node.inner and isinstance(node.block, w.Rounds | w.Series | w.Ladder)]
    if parts or (rests and not said.cue("each_round", "rounds")):
        if rests:
            body.insert(rests[0], Node(said.sentence.tokens, w.TieBreak()))
        elif len(blocks) > 1:
            body.insert(body.index(blocks[0]) + 1, Node(said.sentence.tokens, w.TieBreak()))
        return bool(rests) or len(blocks) > 1
    return _after_lines(draft, said) or _after_each(draft, said, [block.inner for block in blocks])


def _after_lines(draft: Draft, said: Said) -> bool:
    """Read the clock after every line of work but the last: “tie-break: after each movement”."""
    items = [item for node in draft.builder.body for item in node.items()]
    told = {"movement", "exercise", "station"} & said.low() and {"each", "every"} & said.low()
    if not told or len(items) < 2:
        return False
    for item in items[:-1]:
        item.block = w.TieBreak()
        item.tokens += said.sentence.tokens
    return True


def _after_each(draft: Draft, said: Said, rounds: list[list[Node]]) -> bool:
    """Read the clock after each round of all blocks, or of an AMRAP."""
    each = said.cue("each_round", "every") or bool({"each", "every"} & said.low())
    targets = rounds or ([draft.builder.body] if draft.facts.form is w.Form.AMRAP else [])
    if not each or not said.cue("each_round", "rounds", "set"):
        return False
    written = [] if targets else period(draft.builder.body)
    for rung in written if len(written) > 1 else ():  # rounds written out
        rung[-1].block = w.TieBreak()
        rung[-1].tokens += said.sentence.tokens
        targets = [[]]
    for target in targets:
        target.append(Node(said.sentence.tokens, w.TieBreak()))
    return bool(targets)


def _after_work(draft: Draft, said: Said, name: str) -> bool:
    """Read the clock after lines of work: every one of a movement, that with a count told, or the nth."""
    works = said.of(p.WorkLine)
    items = [item for node in draft.builder.body for item in node.items() if item.work]
    found = [item for item in items if item.work and item.work.movement == name]
    found = found or [item for item in items if item.work and means(name, item.work.movement)]
    counts = works[-1].counts if works else ()
    found = [item for item in found if counts and item.work and item.work.counts == counts] or found
    nth = next((place for word in said.low() if (place := ordinal(word))), 0)
    if nth and not said.cue("each_round") and len(found) > 1:
        found = found[-1:] if nth == LAST else found[nth - 1 : nth]
    elif 1 < nth < LAST and any(item in node.inner for node in draft.builder.body for item in found):
        return False  # “the time of the third run” of four rounds
    if "before" in said.low() and not said.cue("each_round"):  # “time before the second run”
        body = draft.builder.body
        places = [i for i, node in enumerate(body) if i and any(item in found for item in node.items())]
        found = [body[i - 1] for i in places if body[i - 1].work is not None]
        for i in reversed([i for i in places if body[i - 1].work is None]):
            body.insert(i, Node(said.sentence.tokens, w.TieBreak()))
        if places and not found:
            return True
    for item in found:
        item.tokens += said.tokens(works[-1]) if works else []
        item.block = w.TieBreak()
    return bool(found)


def _after_rounds(draft: Draft, said: Said) -> bool:
    """Read the clock once after so many rounds: “time after round 3”, “after the first 2 rounds”.

    They are some of the only block, or all of the first of several.
    """
    body = draft.builder.body
    blocks = [(node, n.count) for node in body if isinstance(n := node.block, w.Rounds) and n.count > 1]
    told = _rounds_told(said)
    if len(told) != 1 or said.has(p.WorkLine) or said.cue("each_round", "every"):
        return False
    if len(blocks) == 1 and told[0] < blocks[0][1]:
        _split_rounds(draft, said, told[0])
        return True
    if len(blocks) == 1 and told[0] == blocks[0][1] and blocks[0][0] is not body[-1]:
        body.insert(body.index(blocks[0][0]) + 1, Node(said.sentence.tokens, w.TieBreak()))
        return True  # “after the four rounds”
    done = accumulate(count for _, count in blocks)
    ends = [node for (node, _), count in zip(blocks, done, strict=True) if count == told[0]]
    if len(blocks) > 1 and ends:
        body.insert(body.index(ends[0]) + 1, Node(said.sentence.tokens, w.TieBreak()))
    return len(blocks) > 1 and bool(ends)


def _here(draft: Draft, said: Said) -> bool:
    """Read the clock where a line stands between lines of work: “HALFWAY: the tie-break is taken here”."""
    if not (said.low() & {"here", "point"} and not said.has(p.WorkLine)):
        return False
    number = next(i for i, one in enumerate(draft.said) if one is said)
    above = [item for node in draft.builder.body for item in node.items() if item.sentence < number]
    below = [item for node in draft.builder.body for item in node.items() if item.sentence > number]
    if above and below:
        above[-1].block = w.TieBreak()
        above[-1].tokens += said.sentence.tokens
    return bool(above and below)


def _in_series(draft: Draft, said: Said) -> bool:
    """Read the clock between two rounds of the only series: “end of the round of 9”, “after the set of 12s”."""
    body = draft.builder.body
    told = [token.number for token in said.sentence.tokens if token.kind is Kind.NUMBER]
    nodes = [node for node in body if series_of(node)]
    if len(nodes) != 1 or len(told) != 1 or said.has(p.WorkLine) or not said.cue("rounds", "set"):
        return False
    node = nodes[0]
    counts = series_of(node)
    at = counts.index(int(told[0])) + 1 if counts.count(int(told[0])) == 1 else len(counts)
    if at == len(counts):
        return False
    first, second = (_of_counts(node, row) for row in (counts[:at], counts[at:]))
    place = body.index(node)
    body[place : place + 1] = [*first, Node(said.sentence.tokens, w.TieBreak()), *second]
    return True


def _after_written_round(draft: Draft, said: Said) -> bool:
    """Read the clock after lines that all have the count told: “after the round of 15” of 21, 21, 15, 15, …."""
    told = [int(token.number) for token in said.sentence.tokens if token.kind is Kind.NUMBER]
    lines = list(draft.builder.body)
    row = [i for i, line in enumerate(lines) if line.work and told and line.work.counts[:1] == (told[0],)]
    together = row == list(range(row[0], row[0] + len(row))) if row else False
    tokens = said.sentence.tokens
    plural = any(
        a.kind is Kind.NUMBER and b.low == "s" and a.end == b.start for a, b in pairwise(tokens)
    )  # “the 15s”
    named = said.cue("rounds", "set") or plural
    if len(told) != 1 or said.has(p.WorkLine) or not named or not together or len(row) < 2:
        return False
    lines[row[-1]].block = w.TieBreak()
    lines[row[-1]].tokens += said.sentence.tokens
    return True


def _of_counts(node: Node, counts: tuple[int, ...]) -> list[Node]:
    """Return some rounds of a series as one, of a single round its lines."""
    ladder = isinstance(node.block, w.Ladder) and len(node.block.turns) == 1
    block = w.Ladder(counts[0], 0, (counts[-1],), ()) if ladder else w.Series(counts, ())
    part = replace(node, block=block, tokens=list(node.tokens))
    return [of_one_round(inner, part, 0) for inner in node.inner] if len(counts) == 1 else [part]


def _rounds_told(said: Said) -> list[int]:
    """Return the numbers of rounds a sentence names: “after round 3”, “after 2 rounds”, “the third round”."""
    told = [cue.number for cue in said.of(p.Cue) if cue.name == "rounds" and cue.number]
    told += [round_.count for round_ in said.of(p.RoundCount)]
    if said.cue("rounds") and not told:
        told += [place for word in said.low() if 0 < (place := ordinal(word)) < LAST]
    return list(dict.fromkeys(told))


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
