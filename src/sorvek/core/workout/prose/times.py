"""Times in a row of words, and what each is for."""

from sorvek.core.workout.prose.phrases import (
    Range,
    Span,
    WordRow,
    skip,
    whole,
)
from sorvek.core.workout.prose.words import MOST, Kind, vocabulary

LEAST_EXTENSION_S = 30.0
PAUSES = {"between", "transition", "changeover", "break"}
CHANGING = (["to", "change"], ["to", "rotate"], ["for", "transition"], ["to", "transition"])
MOST_TIME = [[verb, "the", word] for verb in ("are", "is") for word in ("maximum", "limit", "cap", "most")]
PASSED = (["have", "passed"], ["have", "elapsed"], ["are", "over"], ["are", "up"], ["are", "gone"])
# “3 more minutes” extend the clock.
MORE = {"more", "extra", "additional", "further"}
OWNERS = {"athlete", "competitor", "participant", "has", "gets"}


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
    told = told or row.cue_at(at - 1, "rest")  # “Rest 3'”
    times = row.number_at(at - 2) and row.lead(at) in ("x", "×")
    told = told or row.cue_at(at + 2, "window") or (times and any(t.cue("rest") for t in row.tokens))  # “5 x 3'”
    primed = unit is not None and unit.text in "'’′" and told
    if unit is None or not (unit.unit("min", "s", "h") or primed):
        return None
    slash = row.token(at - 1) is not None and row.tokens[at - 1].mark("/")
    attached = unit.text == "s" and unit.start == token.end
    if unit.low == "s" and slash and (row.number_at(at - 2) or (attached and row.number_at(at - 3))):
        return None  # “a pair of 50/35s”
    ahead = row.token(index + 1)
    if attached and ahead is not None and ahead.mark("/") and row.number_at(index + 2):
        return None  # “a pair of 50s/35s”
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
    if primed := _primes_at(row, at):
        return primed
    if row.cue_at(at - 1, "rest"):
        return None  # “rest 4 min - 8 min”
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


def _primes_at(row: WordRow, at: int) -> Range | None:
    """Read minutes as primes from and to: “(0'-6')”."""
    ahead = row.tokens[at : at + 5]
    primes = len(ahead) == 5 and {ahead[1].text, ahead[4].text} <= set("'’′") and ahead[2].mark("-–—")
    rising = primes and ahead[0].kind is ahead[3].kind is Kind.NUMBER and ahead[0].number < ahead[3].number
    return Range(at, at + len(ahead), 60.0 * ahead[0].number, 60.0 * ahead[3].number) if rising else None


def _minutes_behind(row: WordRow, at: int) -> bool:
    """Return whether two numbers are a stretch of the clock: “0-10 min: …”, “Part A (0-10 min)”."""
    tokens = row.tokens[at : at + 5]
    numbered = len(tokens) == 5 and tokens[0].kind is tokens[2].kind is Kind.NUMBER and tokens[1].mark("-–—")
    bracketed = at > 0 and row.tokens[at - 1].mark("([") and numbered and tokens[4].mark(")]")
    headed = numbered and tokens[4].mark(":")
    return (headed or bracketed) and tokens[3].unit("min") and tokens[0].number < tokens[2].number


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
    if role == "extend" and vocabulary("around") & {token.low for token in row.tokens}:
        role = ""  # “you have until Monday 20:00 to submit”
    return Span(at, hi, found[0], role)


def _role(row: WordRow, lo: int, hi: int) -> str:
    """Return the cue a time belongs to: one right beside it, else the nearest before it."""
    beside = row.token(lo - 1)
    if beside is not None and beside.cue("cap", "rest"):
        return beside.name
    behind = row.token(hi)
    if beside is not None and beside.cue("within", "before") and behind is not None and behind.cue("extend"):
        return beside.name  # “who finishes within 5 minutes gets until 9:00”
    if beside is not None and beside.cue("every") and behind is not None and behind.cue("emom"):
        return "every"  # “every 3 minutes on the minute”
    again = row.lead(lo) in ("last", "final") and any(token.cue("if") for token in row.tokens[:lo])
    if again or any(token.low in MORE for token in row.tokens[lo:hi]):  # “if you make that too, a last 6 minutes”
        return "" if {"keeps", "keep"} & {token.low for token in row.tokens[:lo]} else "extend"
    if row.token(hi) is not None and row.tokens[hi].mark("'’′"):
        hi += 1  # “2 minutes' rest”
    ahead = row.token(hi)
    if ahead is not None and ahead.low == "off":
        return "rest"  # “2 minutes on, 1 minute off”
    colon = ahead is not None and ahead.mark(":-–")
    if colon and row.cue_at(hi + 1, "rest") and duration(row, hi + 2) is None:
        return "rest"  # “1 min: rest”, not “8 min - rest 4 min”
    if ahead is not None and ahead.low == "per" and row.cue_at(hi + 1, "barbell"):
        return "every"  # “1 minute per bar”
    if row.cue_at(hi, "rest") or (ahead is not None and ahead.low == "of" and _rest_soon(row, hi + 1)):
        return "rest"
    return _in_words(row, lo, hi) or _role_behind(row, lo, hi) or _role_before(row, lo)


def _in_words(row: WordRow, lo: int, hi: int) -> str:
    """Return the role that the words right behind a time say, empty if they say none."""
    ahead = [token.low for token in row.tokens[hi : hi + 3]]
    if ahead == ["to", "move", "on"] or ahead[:2] in CHANGING or row.lead(hi + 1) in PAUSES:
        return "rest"  # “1 minute to change”, “1 minute between windows”, “1-minute transition”
    before = {word for token in row.tokens[:lo] for word in token.low.split()}
    if lo == 1 and before & MOST and hi >= len(row.tokens) - 1:
        return "cap"  # “Max 15 minutes”
    if (ahead[:2] in PASSED and {"ends", "stops"} & before) or ahead in MOST_TIME:
        return "cap"  # “the workout ends when 15 minutes have passed”, “eleven minutes are the maximum”
    return ""


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
        if token.cue("every") and OWNERS & {word.low for word in row.tokens[index + 1 : lo]}:
            break  # “every athlete has 13 minutes”
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
        or behind.mark(":.,;()-–|“„")
        or (apart and behind.mark('"'))  # “AMRAP 20 "Grey Goose"”
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
