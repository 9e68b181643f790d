"""Rep series and steps in a row of words: “21-15-9”, “10 down to 1”, “adding 2 each round”."""

from itertools import pairwise

from sorvek.core.workout.prose.divisions import age_groups
from sorvek.core.workout.prose.phrases import (
    RepCounts,
    Step,
    WordRow,
    skip,
    whole,
)
from sorvek.core.workout.prose.times import duration
from sorvek.core.workout.prose.words import Kind

COUNTDOWN = {"go", "start", "call", "count", "countdown", "counts", "beep", "lift"}
LEAST_CLIMB = 5  # “1 – 20” with a dash is a ladder, “1 – 2” is none
LEAST_ROW = 4  # three numbers with two dashes between are no age group


def series_at(row: WordRow, at: int) -> RepCounts | None:
    """Read “21-15-9”, “24, 18 and 12 reps”, “10 to 1”, “1 up to 8 and back to 1”, “2-4-6-8-…”."""
    if not whole(row.tokens[at]) or _ages(row, at) or (at == 0 and age_groups(row.tokens, at)[0]):
        return None
    found = _climb(row, at) or _listed(row, at)
    named = found is not None and row.lead(at) == "the" and found.hi == len(row.tokens)  # “Event 5: The 3-2-1”
    return None if named else found


def _ages(row: WordRow, at: int) -> bool:
    while at > 1 and row.tokens[at - 1].mark("-–") and row.number_at(at - 2):
        at -= 2  # “(women 8-16-24-32)”
    before, end = row.token(at - 1), at
    while end + 2 < len(row.tokens) and row.tokens[end + 1].mark("-–") and whole(row.tokens[end + 2]):
        end += 2
    if end - at >= LEAST_ROW and not _unit_soon(row, end + 1):
        return False  # “women 18-12-6”
    return before is not None and (before.cue("men", "women", "level") or before.low in ("age", "aged", "ages"))


def _listed(row: WordRow, at: int) -> RepCounts | None:
    counts, index, commas, dots = [int(row.tokens[at].number)], at + 1, False, False
    while index < len(row.tokens):
        over = row.tokens[index].low in ("reps", "repetitions") or row.tokens[index].mark(",")
        if len(counts) > 2 and len(set(counts)) > 1 and not commas and over:
            break  # “15-12-9 reps, 35/25 kg”
        joint, parted = index, False
        while joint < len(row.tokens) and (
            row.tokens[joint].mark("-–—,/")
            or row.tokens[joint].low in ("and", "then", "reps", "each")
            or row.dots(joint)
        ):
            dots = dots or bool(row.dots(joint))
            parted = parted or row.tokens[joint].mark(",") or row.tokens[joint].low in ("and", "then")
            joint += row.dots(joint) or 1
        if joint == index or joint >= len(row.tokens) or not whole(row.tokens[joint]) or _said(row, joint):
            open_end = joint > index and bool(row.dots(joint - 1) or row.tokens[joint - 1].text in ("…", "."))
            return _series_of(
                row, at, joint if dots and joint > index else index, counts, commas, dots and open_end
            )
        counts.append(int(row.tokens[joint].number))
        index, commas = joint + 1, commas or parted
    return _series_of(row, at, index, counts, commas, False)


def _said(row: WordRow, at: int) -> bool:
    """Return whether a number begins something else: a load, a time, the next line of work."""
    behind = row.token(at + 1)
    listed = behind is None or behind.mark('-–—,/.:;)…"”') or behind.kind in (Kind.WORD, Kind.CUE, Kind.MOVEMENT)
    timed = duration(row, at) is not None
    divided = row.token(at + 2)
    listed = listed or (behind is not None and behind.mark("(") and divided is not None and divided.cue("women"))
    dashed = row.tokens[at - 1].mark("-–—") and (at > 3 and row.tokens[at - 3].mark("-–—"))
    if (
        behind is not None
        and (behind.unit("cal") or (behind.unit("m") and dashed))
        and row.tokens[at - 1].mark("-–—")
    ):
        return False  # “25-20-15-10-5 cal ski”, “500-400-300 m row”
    return timed or not listed or (behind is not None and behind.low in ("x", "×"))


def _series_of(row: WordRow, lo: int, hi: int, counts: list[int], commas: bool, dots: bool) -> RepCounts | None:
    behind = row.token(hi)
    dotted = any(row.dots(i) for i in range(lo, hi))
    reps = behind is not None and behind.low in ("reps", "repetitions", "rep", "of", "each")
    if counts in ([3, 2, 1], [2, 1]) and (commas or not reps) and _countdown(row, lo, hi):
        return None
    if behind is not None and behind.cue("etc") and (last := _down_to(row, hi + 1)):
        return _filled(row, lo, last + 1, [*counts, int(row.tokens[last].number)])
    etc = behind is not None and (behind.cue("etc") or (behind.mark(",") and row.cue_at(hi + 1, "etc")))
    if etc:
        dots, hi = True, hi + (1 if behind is not None and behind.cue("etc") else 2)
    least = 2 if reps or dots else 3
    alone = not any(token.kind is not Kind.MARK for token in (*row.tokens[:lo], *row.tokens[hi:]))
    falling = len(counts) > 2 and all(a > b for a, b in pairwise(counts))
    named = falling and behind is not None and behind.kind is Kind.MOVEMENT  # “15, 12, 9 thrusters”
    told = reps or dots or etc or alone or named or _colon(row, hi) or _rounds_before(row, lo)
    if len(counts) < least or (commas and not told):
        return None
    if any(t.mark("/") for t in row.tokens[lo:hi]) and not reps:
        return None
    if dotted and not dots:
        return _filled(row, lo, hi, counts)
    return RepCounts(lo, hi + (1 if reps and not dots else 0), tuple(counts), open=dots)


def _down_to(row: WordRow, at: int) -> int:
    """Return where the last count stands: “and so on down to one”; 0 if none does."""
    index = skip(row.tokens, at, {"down", "up", "all", "the", "way"}, ",")
    token = row.token(index)
    if token is None or token.low not in ("to", "until"):
        return 0
    number = row.token(index + 1)
    return index + 1 if number is not None and whole(number) else 0


def _rounds_before(row: WordRow, lo: int) -> bool:
    return any(token.low in ("reps", "repetitions", "of") for token in row.tokens[max(0, lo - 3) : lo])


def _colon(row: WordRow, at: int) -> bool:
    token = row.token(at)
    return token is not None and token.mark(":")


def _countdown(row: WordRow, lo: int, hi: int) -> bool:
    around = [*row.tokens[max(0, lo - 4) : lo], *row.tokens[hi : hi + 3]]
    return any(token.low in COUNTDOWN for token in around)


def _filled(row: WordRow, lo: int, hi: int, counts: list[int]) -> RepCounts | None:
    """Fill the gap an ellipsis leaves: “10-9-8-…-1”."""
    *first, last = counts
    if len(first) < 2 or first[-1] == first[-2]:
        return None
    step = first[-1] - first[-2]
    if (last - first[-1]) % step or (last - first[-1]) // step < 1 or (last - first[-1]) // step > 200:
        return None
    return RepCounts(lo, hi, (*first, *range(first[-1] + step, last + step, step)))


def _climb(row: WordRow, at: int) -> RepCounts | None:
    """Read counts that climb by one through turns: “1 to 10”, “10 down to 1”, “1 up to 8 and back down to 1”."""
    turns, index = [int(row.tokens[at].number)], at + 1
    if duration(row, at) is not None:
        return None
    while True:
        joint = skip(
            row.tokens,
            index,
            {"and", "then", "back", "down", "up", "all", "the", "way", "again", "reps", "rep"},
            ",",
        )
        middle = row.token(joint)
        if middle is None or not (middle.low in ("to", "until", "through") or _one_to(row, at, joint)):
            break
        number = row.token(joint + 1)
        if (
            number is None
            or not whole(number)
            or duration(row, joint + 1) is not None
            or _unit_soon(row, joint + 2)
        ):
            break
        turns.append(int(number.number))
        index = joint + 2
    if len(turns) < 2 or abs(turns[1] - turns[0]) < 2 or any(a == b for a, b in pairwise(turns)):
        return None
    return RepCounts(at, index, tuple(turns), turns=True)


def _one_to(row: WordRow, at: int, joint: int) -> bool:
    """Return whether a dash stands for “to”: “1 – 20 kettlebell swings”."""
    first, last, behind = row.tokens[at], row.token(joint + 1), row.token(joint + 2)
    climbs = first.number == 1 and last is not None and whole(last) and last.number >= LEAST_CLIMB
    apart = row.tokens[joint].mark("–—-") and row.tokens[joint].start > row.tokens[joint - 1].end
    return climbs and apart and joint == at + 1 and behind is not None and behind.kind is Kind.MOVEMENT


def _unit_soon(row: WordRow, at: int) -> bool:
    token = row.token(at)
    return token is not None and (token.unit() or token.cue("rounds"))


def _slashed_steps(row: WordRow, at: int) -> bool:
    """Return whether a step is one of several with slashes between: “+2/+4/+6”."""
    before, behind = row.token(at - 1), row.token(at + 2)
    return (before is not None and before.mark("/")) or (behind is not None and behind.mark("/"))


CLIMBING = {"ladder", "ascending", "rising", "increasing"}


def climb_by(row: WordRow, at: int) -> RepCounts | None:
    """Read a ladder told by its step alone, “ascending ladder by 3s”: it begins with that."""
    number, plural = row.tokens[at], row.token(at + 1)
    climbing = row.lead(at) in ("by", "in") and any(t.low in CLIMBING for t in row.tokens[:at])
    if not climbing or plural is None or not whole(number):
        return None
    step = int(number.number)
    threes = plural.text == "s" and plural.start == number.end
    return RepCounts(at, at + 2, (step, 2 * step, 3 * step), open=True) if threes else None


def step_at(row: WordRow, at: int) -> Step | None:
    """Read “adding 2 reps each round”, “+3 each round”, “two more of each every window”, “2 reps are added”."""
    token = row.tokens[at]
    adding = token.cue("adding") or token.low == "keep adding"
    if token.mark("+") and any(t.mark("(") for t in row.tokens[max(0, at - 8) : at]) and _slashed_steps(row, at):
        return None  # “and so on (+2/+4/+6)” says again what the rungs listed say
    if token.mark("+") or adding:
        index = skip(row.tokens, at + 1, {"by", "another", "a", "further"})
        number = row.token(index)
        if number is not None and whole(number) and duration(row, index) is None:
            rises = any(t.cue("each_round") for t in row.tokens[index:]) or any(
                t.cue("etc") for t in row.tokens[:at]
            )
            listed = token.end == number.start and rises
            return _step_of(row, at, index + 1, int(number.number), adding or listed)
        one = number is not None and (number.low in ("rep", "repetition") or number.kind is Kind.MOVEMENT)
        if adding and row.lead(index) == "a" and one:
            return _step_of(row, at, index, 1, True)
        return None
    if not whole(token) or row.lead(at) in ("all", "both"):
        return None
    index = skip(row.tokens, at + 1, {"reps", "rep", "repetitions", "are", "is", "extra", "of"})
    more = row.token(index)
    behind = row.token(index + 1)
    if (
        behind is not None
        and (behind.unit() or behind.kind is Kind.MOVEMENT)
        and not any(t.cue("each_round") or t.low in ("each", "every") for t in row.tokens)
    ):
        return None
    if more is not None and more.kind is Kind.MOVEMENT and behind is not None and behind.low == "more":
        return Step(at, index + 2, int(token.number), (more.name,))  # “one snatch more”
    added = skip(row.tokens, index + 1, {"is", "are"})
    if more is not None and more.kind is Kind.MOVEMENT and added > index + 1 and row.lead(added + 1) == "added":
        return Step(at, added + 1, int(token.number), (more.name,))  # “one snatch is added”
    if more is not None and (more.low in ("more", "added") or (more.cue("adding") and more.low == "more")):
        return _step_of(row, at, index + 1, int(token.number), True)
    return None


def _step_of(row: WordRow, lo: int, hi: int, step: int, sure: bool) -> Step | None:
    movements: list[str] = []
    each, end = False, hi
    for index in range(hi, min(len(row.tokens), hi + 10)):
        token = row.tokens[index]
        if token.kind is Kind.MOVEMENT:
            movements.append(token.name)
            end = index + 1
        elif token.cue("each_round", "every", "rounds", "window", "etc"):
            each, end = True, index + 1
        elif token.unit() or token.kind in (Kind.NUMBER, Kind.CLOCK):
            break
    if not movements:
        movements = [
            token.name for token in row.tokens[:lo] if token.kind is Kind.MOVEMENT and lo not in row.works
        ][-2:]
        movements = movements if not any(index < lo for index in row.works) else []
    return Step(lo, end, step, tuple(movements)) if sure or each else None
