"""Times, rounds and rep series in a row of words."""

from itertools import pairwise

from sorvek.core.workout.prose.divisions import age_groups
from sorvek.core.workout.prose.phrases import (
    Cue,
    Numbered,
    Phrase,
    Range,
    RepCounts,
    RoundCount,
    Span,
    Step,
    Unknown,
    WordRow,
    skip,
    whole,
)
from sorvek.core.workout.prose.words import Kind, ordinal

# “3 more minutes” extend the clock.
MORE = {"more", "extra", "additional", "further"}

PASSED = (["have", "passed"], ["have", "elapsed"], ["are", "over"], ["are", "up"], ["are", "gone"])
CHANGING = (["to", "change"], ["to", "rotate"], ["for", "transition"], ["to", "transition"])
PAUSES = {"between", "transition", "changeover", "break"}
LEAST_EXTENSION_S = 30.0
LEAST_ROW = 4  # three numbers with two dashes between are no age group
LEAST_CLIMB = 5  # “1 – 20” with a dash is a ladder, “1 – 2” is none
COUNTDOWN = {"go", "start", "call", "count", "countdown", "counts", "beep", "lift"}


def duration(row: WordRow, at: int) -> tuple[float, int] | None:
    """Return seconds and the tokens they take for a time that begins at a token."""
    token = row.token(at)
    if token is None:
        return None
    if token.kind is Kind.CLOCK:
        behind = row.token(at + 1)
        return token.number, 2 if behind is not None and behind.unit("min") else 1
    if [other.low for other in row.tokens[at : at + 5]] == ["a", "quarter", "of", "an", "hour"]:
        return 900.0, 5
    if token.kind is not Kind.NUMBER and token.low != "a":
        return None
    index = skip(row.tokens, at + 1, MORE)
    unit = row.token(index)
    behind = row.token(index + 1)
    told = row.capping or (behind is not None and behind.cue("amrap", "cap", "emom", "for_time"))
    told = told or (
        behind is not None and (behind.cue("rest", "lift") or (at == 0 and behind.low in ("to", "of", "for")))
    )
    primed = unit is not None and unit.text in "'’′" and told
    if unit is None or not (unit.unit("min", "s", "h") or primed):
        return None
    if unit.low == "s" and row.token(at - 1) is not None and row.tokens[at - 1].mark("/") and row.number_at(at - 2):
        return None  # “a pair of 50/35s”
    scale = {"min": 60.0, "s": 1.0, "h": 3600.0, "ft": 60.0}
    value = (token.number if token.kind is Kind.NUMBER else 1.0) * scale.get(unit.name, 60.0)  # a prime: minutes
    end = index + 1
    more = skip(row.tokens, end, {"and", "."}, ",.")
    behind = row.token(more)
    if unit.name == "min" and behind is not None and behind.kind is Kind.NUMBER:
        seconds = row.token(more + 1)
        if seconds is not None and seconds.unit("s"):
            return value + behind.number, more + 2 - at
    return value, end - at


def range_at(row: WordRow, at: int) -> Range | None:
    """Read “from 8:00 to 13:00”, “minutes 0–8” and “between 8 and 13 minutes”."""
    first = duration(row, at)
    token = row.tokens[at]
    minutes = (
        row.lead(at) in ("minute", "minutes", "min", "mins")
        or _minutes_behind(row, at)
        or (row.minutes and at == 0)
    )
    if first is None and not (token.kind is Kind.NUMBER and (minutes or row.lead(at) in ("from", "between"))):
        return None
    start, used = first if first else (60.0 * token.number, 1)
    index = at + used
    joint = row.token(index)
    if joint is None or not (joint.low in ("to", "and", "until", "till", "through") or joint.mark("-–—")):
        return None
    index = skip(row.tokens, index + 1, {"minute", "the", "min"})
    end = duration(row, index)
    second = row.token(index)
    if minutes and first is None and index in row.works and not row.minutes:
        return None  # “Min 2 – 12 wall balls”
    if end is None and minutes and second is not None and second.kind is Kind.NUMBER:
        end = (60.0 * second.number, 1)
    if end is None or end[0] <= start:
        return None
    if first is None and row.lead(at) in ("from", "between") and second is not None and second.kind is Kind.CLOCK:
        return None
    return Range(at, index + end[1], start, end[0])


def _minutes_behind(row: WordRow, at: int) -> bool:
    """Return whether two numbers head a stretch of the clock: “0-10 min: …”."""
    tokens = row.tokens[at : at + 5]
    numbered = len(tokens) == 5 and tokens[0].kind is tokens[2].kind is Kind.NUMBER and tokens[1].mark("-–—")
    return numbered and tokens[3].unit("min") and tokens[4].mark(":") and tokens[0].number < tokens[2].number


def span_at(row: WordRow, at: int) -> Span | None:
    """Read a time and what it is for."""
    found = duration(row, at)
    if found is None or not 1 <= found[0] <= 4 * 3600:
        return None
    hi = at + found[1]
    before = row.token(at - 1)
    gated = before is not None and before.cue("adding") and any(t.cue("if", "before") for t in row.tokens[:at])
    # “If you are done before 6:00, add 3 minutes”; a second is a penalty.
    role = "extend" if gated and found[0] >= LEAST_EXTENSION_S else _role(row, at, hi)
    return Span(at, hi, found[0], role)


def _role(row: WordRow, lo: int, hi: int) -> str:
    """Return the cue a time belongs to: one right beside it, else the nearest before it."""
    beside = row.token(lo - 1)
    if beside is not None and beside.cue("cap", "rest"):
        return beside.name
    again = row.lead(lo) in ("last", "final") and any(token.cue("if") for token in row.tokens[:lo])
    if again or any(token.low in MORE for token in row.tokens[lo:hi]):  # “if you make that too, a last 6 minutes”
        return "" if {"keeps", "keep"} & {token.low for token in row.tokens[:lo]} else "extend"
    if row.token(hi) is not None and row.tokens[hi].mark("'’′"):
        hi += 1  # “2 minutes' rest”
    ahead = row.token(hi)
    if ahead is not None and ahead.low == "off":
        return "rest"  # “2 minutes on, 1 minute off”
    colon = ahead is not None and ahead.mark(":-–")
    if colon and row.cue_at(hi + 1, "rest"):
        return "rest"  # “1 min: rest”
    if ahead is not None and ahead.low == "per" and row.cue_at(hi + 1, "barbell"):
        return "every"  # “1 minute per bar”
    if row.cue_at(hi, "rest") or (ahead is not None and ahead.low == "of" and _rest_soon(row, hi + 1)):
        return "rest"
    moving = [token.low for token in row.tokens[hi : hi + 3]] == ["to", "move", "on"]
    if moving or [token.low for token in row.tokens[hi : hi + 2]] in CHANGING or row.lead(hi + 1) in PAUSES:
        return "rest"  # “1 minute to change”, “1 minute between windows”, “1-minute transition”
    before = {word for token in row.tokens[:lo] for word in token.low.split()}
    if [token.low for token in row.tokens[hi : hi + 2]] in PASSED and {"ends", "stops"} & before:
        return "cap"  # “the workout ends when 15 minutes have passed”
    return _role_behind(row, lo, hi) or _role_before(row, lo)


def _rest_soon(row: WordRow, at: int) -> bool:
    """Return whether a rest is named here, “of rest”, “of compulsory rest”."""
    return row.cue_at(at, "rest") or row.cue_at(at + 1, "rest")


def _role_behind(row: WordRow, lo: int, hi: int) -> str:
    for place, behind in enumerate(row.tokens[hi : hi + 4]):
        if behind.cue("cap", "amrap", "window", "emom") or (behind.cue("extend") and not place):
            return "every" if behind.name == "window" else behind.name
        if behind.low in ("clock", "running") and _every(row, lo):
            return "every"
        if behind.kind is not Kind.WORD and not behind.mark("-–.") and not behind.cue("part"):
            break
        if behind.low in ("to", "of", "and", "in", "for", ":", "after", "following"):
            break  # “in the 5 minutes after the AMRAP”
    return ""


def _role_before(row: WordRow, lo: int) -> str:
    depth = 0  # of brackets: “the cap (rests too) is sixteen minutes”
    for index in range(lo - 1, max(-1, lo - 10), -1):
        token = row.tokens[index]
        depth += token.mark(")") - token.mark("(")
        if depth > 0 and token.kind is not Kind.CLOCK:
            continue
        if token.cue("cap", "rest", "within", "before", "every", "extend", "remaining", "emom"):
            return token.name
        if token.mark(",;") or token.kind in (Kind.CLOCK, Kind.MOVEMENT, Kind.UNIT):
            break
    return ""


def _every(row: WordRow, lo: int) -> bool:
    return any(token.cue("every") for token in row.tokens[max(0, lo - 2) : lo])


def minutes_at(row: WordRow, at: int) -> int:
    """Return where a bare number behind “AMRAP” or “cap” stands that is its minutes, 0 if none does."""
    token, behind = row.token(at), row.token(at + 1)
    primed = behind is not None and behind.text in "'’′"
    apart = token is not None and behind is not None and behind.start > token.end  # “AMRAP 5 – 2 min rest – …”
    bare = (
        behind is None
        or primed
        or (apart and behind.mark("/"))
        or behind.mark(":.,;()-–|")
        or (behind.text.isalpha() and not behind.unit())
    )
    sized = behind is not None and behind.mark("-") and at + 2 < len(row.tokens) and row.tokens[at + 2].unit()
    counted = behind is not None and (
        behind.low
        in (
            "rounds",
            "reps",
            "rep",
            "repetition",
            "second",
            "point",
            "attempts",
            "tries",
            "lifts",
            "misses",
            "times",
            "athletes",
            "x",
            "×",
        )
        or (
            behind.mark("-–,")
            and row.number_at(at + 2)
            and at + 2 not in row.works
            and not (apart and duration(row, at + 2))
        )
    )
    if token is None or not whole(token) or token.number > 60 or at in row.works:
        return 0
    label = behind is not None and behind.start == token.end and len(behind.text) == 1 and behind.text.isalpha()
    return at if bare and not (counted or sized or label) else 0  # “the cap of 1A”


def series_at(row: WordRow, at: int) -> RepCounts | None:
    """Read “21-15-9”, “24, 18 and 12 reps”, “10 to 1”, “1 up to 8 and back to 1”, “2-4-6-8-…”."""
    if not whole(row.tokens[at]) or _ages(row, at) or (at == 0 and age_groups(row.tokens, at)[0]):
        return None
    return _climb(row, at) or _listed(row, at)


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
            row.tokens[joint].mark("-–—,/") or row.tokens[joint].low in ("and", "then", "reps") or row.dots(joint)
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
    listed = behind is None or behind.mark("-–—,/.:;)…") or behind.kind in (Kind.WORD, Kind.CUE, Kind.MOVEMENT)
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
    reps = behind is not None and behind.low in ("reps", "repetitions", "rep", "of")
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


def rounds_at(row: WordRow, at: int) -> RoundCount | None:
    """Read “4 rounds”, “5 RFT”, “twice”, “3 x:”."""
    token = row.tokens[at]
    if token.low in ("twice", "thrice"):
        if row.lead(at) == "it":
            return None  # “Read it twice!”
        return RoundCount(at, at + 1, 2 if token.low == "twice" else 3, row.points(at))
    if not whole(token):
        return None
    return _headed_rounds(row, at) or _timed_rounds(row, at) or _named_rounds(row, at)


def _headed_rounds(row: WordRow, at: int) -> RoundCount | None:
    """Read “Rounds: 3”, and “x 4” behind a time: “2 min AMRAP x 4”."""
    count = int(row.tokens[at].number)
    headed = at > 1 and row.tokens[at - 1].mark(":|=") and row.tokens[at - 2].low in ("rounds", "sets")
    if headed and (row.token(at + 1) is None or row.tokens[at + 1].mark("|.,;")):
        return RoundCount(at - 2, at + 1, count)
    ends = row.token(at + 1) is None or row.tokens[at + 1].mark(",.;(")
    if at == 1 and row.lead(at) in ("x", "×") and ends and count > 1:
        return RoundCount(0, 2, count)  # “x 2, for time”
    them = [token.low for token in row.tokens[at + 1 : at + 3]] == ["of", "them"]
    if them and any(token.cue("window", "amrap") for token in row.tokens[:at]):
        return RoundCount(at, at + 3, count)  # “3-minute windows, 3 of them”
    timed = at > 0 and row.lead(at) in ("x", "×") and _timed_before(row, at)
    return RoundCount(at - 1, at + 1, count) if timed else None


def _behind_count(row: WordRow, at: int) -> int:
    """Return where the word stands that says what a number counts."""
    words = {"full", "total", "complete", "quick", "unbroken", "hard", "even", "more", "such"}
    return skip(row.tokens, at + 1, words, "-–)")


def _timed_rounds(row: WordRow, at: int) -> RoundCount | None:
    """Read “4 x 2 minutes on”, “three 5-minute AMRAPs”, “4 intervals of 2 minutes”."""
    index, count = _behind_count(row, at), int(row.tokens[at].number)
    behind = row.token(index)
    if behind is None:
        return None
    if behind.low in ("x", "×") and index == at + 1 and duration(row, at + 2) is not None:
        return RoundCount(at, at + 2, count)
    amraps = duration(row, index)
    ahead = skip(row.tokens, index + amraps[1], set(), "-–") if amraps else 0
    plural = (
        ahead and (row.cue_at(ahead, "amrap") or row.cue_at(ahead, "window")) and row.tokens[ahead].low[-1] == "s"
    )
    if plural and count > 1:
        return RoundCount(at, at + 1, count)
    lasting = skip(row.tokens, index + 1, {"of"}, "-–(:")
    several = behind.cue("amrap") and behind.low[-1] == "s"  # “three AMRAPs of 3 minutes”
    if (behind.cue("window") or several) and duration(row, lasting) is not None:
        return RoundCount(at, index + 1, count)
    return None


def _named_rounds(row: WordRow, at: int) -> RoundCount | None:
    """Read “4 rounds”, “5 RFT”, “3 x:”, “4 rounds for reps”, and sets where they are rounds."""
    index, count = _behind_count(row, at), int(row.tokens[at].number)
    behind = row.token(index)
    if behind is None:
        return None
    if behind.cue("amrap") and behind.low.startswith("rounds for"):
        return RoundCount(at, index, count)
    rft = behind.cue("for_time") and behind.low == "rft"
    colon = row.token(at + 2) is None or row.tokens[at + 2].mark(":(")
    listed = behind.low in ("x", "×") and index == at + 1 and colon
    once = count == 1 and behind.low == "time"
    if behind.cue("rounds") or rft or listed or once or _sets_are_rounds(row, at, index):
        return RoundCount(at, index if rft else index + 1, count, row.points(at))
    return None


def _sets_are_rounds(row: WordRow, at: int, index: int) -> bool:
    """Return whether sets are rounds: “3 sets of 10”, “every 2:00 for 5 sets”, “2 sets, each for time”."""
    behind = row.tokens[index]
    if behind.cue("set") and behind.low == "sets of" and whole(row.token(skip(row.tokens, index + 1, set()))):
        return True
    paced = at > 0 and row.lead(at) in ("for", "x") and any(t.cue("every") for t in row.tokens[:at])
    rested = any(t.cue("rest") for t in row.tokens) and row.tokens[-1].mark(":")
    timed = any(t.cue("for_time") for t in row.tokens[index:])
    return (paced and behind.cue("set")) or (behind.low == "sets" and (rested or timed))


def _timed_before(row: WordRow, at: int) -> bool:
    """Return whether a number behind “x” is how often something with a time is done: “2 min AMRAP x 4, …”."""
    behind = row.token(at + 1)
    ends = behind is None or behind.mark(",.:;)(–-")
    told = any(token.cue("amrap", "window", "every") or token.low in ("on", "off") for token in row.tokens[:at])
    return ends and told


def numbered_at(row: WordRow, at: int) -> Phrase | None:
    """Read “part 2”, “stage B”, “round 1”."""
    token = row.tokens[at]
    behind = row.token(at + 1)
    if token.low == "pt" and behind is not None and behind.mark("."):
        part = row.token(at + 2)  # “Pt. 2”
        return Cue(at, at + 3, token.name, int(part.number)) if part is not None and whole(part) else None
    ahead = row.tokens[at + 1 : at + 4]
    last = row.tokens[-1]
    if token.cue("rounds") and at == 0 and len(row.tokens) > 3 and whole(last) and row.tokens[-2].mark(":"):
        return RoundCount(at, len(row.tokens), int(last.number))  # “Rounds for time: 4”
    pair = len(ahead) == 3 and whole(ahead[0]) and whole(ahead[2]) and ahead[2].number < 30
    apart = pair and (ahead[1].mark("&+") or ahead[1].low == "and") and ahead[2].number != ahead[0].number + 1
    if token.cue("rounds") and apart:
        return Unknown(at, at + 4)  # “rounds 1 and 3”: there is one between them
    if token.cue("rounds") and pair and (ahead[1].mark("-–&+") or ahead[1].low in ("and", "to")):
        return Numbered(at, at + 4, int(ahead[0].number), int(ahead[2].number))
    numbers_it = token.cue("rounds") or at + 1 not in row.works  # “max reps of the couplet 9 swings + 9 squats”
    if behind is not None and whole(behind) and behind.number < 30 and duration(row, at + 1) is None and numbers_it:
        return Cue(at, at + 2, token.name, int(behind.number))
    letters = {"a": 1, "b": 2, "c": 3, "one": 1, "i": 1, "ii": 2, "iii": 3}
    if behind is not None and behind.low in letters and (behind.text.isupper() or behind.low == "one"):
        return Cue(at, at + 2, token.name, letters[behind.low])
    return Cue(at, at + 1, token.name, ordinal(row.lead(at)))
