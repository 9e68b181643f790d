"""Rests told by what begins when: “Part B starts 2 minutes after part A”, “between A and B rest 2 minutes”."""

from collections.abc import Sequence
from dataclasses import replace

from sorvek.core.workout.prose.lines import TextLine
from sorvek.core.workout.prose.words import Kind, Token, vocabulary

LETTERS = "abcdef"
STARTS = {"start", "starts", "begin", "begins", "starting", "beginning", "is", "to"}
BETWEEN = {"there", "are", "is", "of", "a", "the", "will", "be", "you", "have", "get", "with", "we", "take"}
MOST_APART = 8  # words that may stand between two parts and the rest


def place_pauses(lines: Sequence[TextLine]) -> list[TextLine]:
    """Return the lines with such rests where they are taken: before the part that begins with a line of its own."""
    found = list(lines)
    for line in lines:
        for at in range(len(line.tokens)):
            told = _begins_after(line.tokens, at) or _between(line.tokens, at)
            if told is None:
                continue
            part, seconds, lo, hi = told
            rest = _rest(seconds, line.tokens[lo:hi])
            own = line.tokens[:lo] + line.tokens[hi:]
            if _headed(own, part) and len(own) > _label(own, 0)[1] + 1:
                line.tokens[:] = [*rest, *own]
            else:
                later = next((one for one in found if one is not line and _headed(one.tokens, part)), None)
                if later is None:
                    break
                later.tokens[:0] = rest
                line.tokens[:] = own if len(own) > _label(own, 0)[1] + 1 else []
            break
    return [line for line in found if line.tokens]


def _label(tokens: Sequence[Token], at: int) -> tuple[str, int]:
    """Return what names a part here, “part B”, “event 2”, “WOD 1B” or “B”, and how many words that takes."""
    first = tokens[at] if at < len(tokens) else None
    named = first is not None and (first.cue("part") or first.low in vocabulary("parted"))
    index = at + named
    token = tokens[index] if index < len(tokens) else None
    if token is None:
        return "", 0
    letter = len(token.low) == 1 and token.low in LETTERS and token.kind is Kind.WORD
    if letter and (named or token.text.isupper()):
        return token.low, index + 1 - at
    if not named or token.kind is not Kind.NUMBER:
        return "", 0
    behind = tokens[index + 1] if index + 1 < len(tokens) else None
    if behind is not None and len(behind.low) == 1 and behind.low in LETTERS and behind.start == token.end:
        return behind.low, index + 2 - at  # “WOD 1B” is B of workout 1
    return f"{token.number:g}", index + 1 - at


def _headed(tokens: Sequence[Token], part: str) -> bool:
    """Return whether a line begins with the name of a part."""
    return _label(tokens, 0)[0] == part


def _time(tokens: Sequence[Token], at: int) -> tuple[float, int]:
    """Return the seconds told here and how many words they take; none for other words."""
    ahead = tokens[at : at + 3]
    if ahead and ahead[0].kind is Kind.CLOCK:
        return ahead[0].number, 1
    dashed = len(ahead) == 3 and ahead[1].mark("-")
    unit = ahead[1 + dashed] if len(ahead) > 1 + dashed else None
    if unit is None or ahead[0].kind is not Kind.NUMBER or not unit.unit("min", "s"):
        return 0.0, 0
    return ahead[0].number * (60 if unit.unit("min") else 1), 2 + dashed


def _past(tokens: Sequence[Token], at: int, words: frozenset[str] | set[str]) -> int:
    while at < len(tokens) and tokens[at].low in words:
        at += 1
    return at


def _begins_after(tokens: Sequence[Token], at: int) -> tuple[str, float, int, int] | None:
    """Return the part that begins here so long after another, the seconds, and the words that say so."""
    part, used = _label(tokens, at)
    if not part:
        return None
    lo = at + used
    bracket = lo < len(tokens) and tokens[lo].mark("(–—-,")
    index = _past(tokens, lo + bracket, STARTS)
    seconds, taken = _time(tokens, index)
    after = index + taken
    if not seconds or after >= len(tokens) or tokens[after].low != "after":
        return None
    index = _past(tokens, after + 1, vocabulary("before_end"))
    other, named = _label(tokens, index)
    if not other or other == part:
        return None
    hi = _past(tokens, index + named, vocabulary("ends"))
    hi += bool(bracket) and hi < len(tokens) and tokens[lo].mark("(") and tokens[hi].mark(")")
    return part, seconds, lo, hi


def _between(tokens: Sequence[Token], at: int) -> tuple[str, float, int, int] | None:
    """Return the second of two parts with a rest between them, the seconds, and the words that say so."""
    if tokens[at].low != "between":
        return None
    one, used = _label(tokens, at + 1)
    joint = at + 1 + used
    if not one or joint >= len(tokens) or tokens[joint].low not in ("and", "&"):
        return None
    part, named = _label(tokens, joint + 1)
    hi = joint + 1 + named
    behind = next((i for i in range(hi, min(hi + MOST_APART, len(tokens))) if _time(tokens, i)[0]), None)
    if (
        part
        and behind is not None
        and all(t.low in BETWEEN or t.mark(":,=") or t.cue("rest") for t in tokens[hi:behind])
    ):
        seconds, taken = _time(tokens, behind)
        rests = [i for i in range(hi, min(behind + taken + 2, len(tokens))) if tokens[i].cue("rest")]
        end = max(behind + taken, rests[-1] + 1 if rests else 0)
        return (part, seconds, at, end + (end < len(tokens) and tokens[end].mark("."))) if rests else None
    return None


def _rest(seconds: float, told: Sequence[Token]) -> list[Token]:
    """Return the words of a rest in a sentence of its own, where the words stand that told it."""
    at = next(i for i in range(len(told)) if _time(told, i)[0])
    number, unit = told[at], told[at + _time(told, at)[1] - 1]
    return [
        replace(told[0], kind=Kind.CUE, text="rest", name="rest", number=0.0),
        replace(number, kind=Kind.NUMBER, text=f"{seconds:g}", name="", number=seconds),
        replace(unit, kind=Kind.UNIT, text="s", name="s", number=0.0),
        replace(unit, kind=Kind.MARK, text=".", name="", number=0.0),
    ]
