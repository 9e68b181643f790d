"""The words of an announcement: numbers, units, movements and cue words, each with its place in the source."""

import re
import tomllib
import unicodedata
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from enum import StrEnum
from functools import cache
from importlib.resources import files
from itertools import takewhile

from sorvek.core.workout.movements import Library, normal_form

LONGEST_PHRASE = 14
_UNITS = {
    "kg": "kg kgs kilo kilos kilogram kilograms kilogramme kilogrammes",
    "lb": "lb lbs pound pounds",
    "pood": "pood poods",
    "cm": "cm centimetre centimetres centimeter centimeters",
    "in": "in inch inches",
    "m": "m metre metres meter meters",
    "km": "km kilometre kilometres kilometer kilometers",
    "ft": "ft foot feet",
    "mile": "mile miles",
    "cal": "cal cals calorie calories kcal kcals",
    "min": "min mins minute minutes",
    "s": "s sec secs second seconds",
    "h": "h hour hours",
}
UNITS = {word: unit for unit, words in _UNITS.items() for word in words.split()}
MARKS = {"#": "lb", '"': "in", "”": "in", "″": "in", "'": "ft", "’": "ft", "′": "ft"}
_ONES = "zero one two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen sixteen"
_ONES += " seventeen eighteen nineteen"
NUMBERS = {word: value for value, word in enumerate(_ONES.split())} | {"dozen": 12}
TENS = {
    word: 10 * value
    for value, word in enumerate(["twenty", "thirty", "forty", "fifty", "sixty", "seventy", "eighty", "ninety"], 2)
}
_FRACTIONS = {"½": 0.5, "¼": 0.25, "¾": 0.75}
_SCAN = re.compile(
    r"""(?P<clock>(?<![\d:])\d{1,3}:[0-5]\d(?!\d|:\d)|(?<![^\s(/]):[0-5]\d(?![\d:]))
    |(?P<ordinal>\d{1,2}(?:st|nd|rd|th)\b)
    |(?P<interval>\b[Ee]\d{1,3}(?:(?i:mom)|S|SEC|sec)\b)
    |(?P<number>\d{1,3}(?:,\d{3})+(?![\d,])|\d+\.\d+(?!\.\d)|\d+,\d{1,2}(?=\s*(?i:kg|lb|cm|m\b|/|x|×|\|))(?!\s*,)|\d+)
    |(?P<fraction>[½¼¾])
    |(?P<word>(?<!\d)[^\W\d_]{1,3}\d[^\W\d_]{1,3}(?![^\W_])|[^\W\d_]+(?:['’][^\W\d_]+)*)
    |(?P<newline>\n)
    |(?P<mark>[^\s])""",
    re.VERBOSE,
)


_INTERVAL = re.compile(r"[Ee]([0-9]{1,3})((?i:mom)|S|SEC|sec)")
_ORDINALS = "first second third fourth fifth sixth seventh eighth ninth tenth"
_ORDINAL = re.compile(r"([0-9]{1,2})(?:st|nd|rd|th)")
ORDINALS = {word: value for value, word in enumerate(_ORDINALS.split(), 1)} | {"last": 99, "final": 99}


REPS = {"rep", "reps", "repetition", "repetitions"}


class Kind(StrEnum):
    """What a token is."""

    NUMBER = "number"
    CLOCK = "clock"
    UNIT = "unit"
    MOVEMENT = "movement"
    CUE = "cue"
    WORD = "word"
    MARK = "mark"
    NEWLINE = "newline"


@dataclass(frozen=True, slots=True)
class Token:
    """A piece of the source from `start` to `end`; `name` is a movement, a cue or a unit, `number` a value.

    `low` is its text without case, kept as it is asked for all the time.
    """

    kind: Kind
    text: str
    start: int
    end: int
    number: float = 0.0
    name: str = ""
    low: str = field(init=False, repr=False, compare=False)

    def __post_init__(self) -> None:
        """Keep the text without case."""
        object.__setattr__(self, "low", self.text.lower())

    def cue(self, *names: str) -> bool:
        """Return whether this is one of the cues named."""
        return self.kind is Kind.CUE and self.name in names

    def mark(self, marks: str) -> bool:
        """Return whether this is one of the punctuation marks given."""
        return self.kind is Kind.MARK and self.text in marks

    def unit(self, *names: str) -> bool:
        """Return whether this is one of the units named, any without names."""
        return self.kind is Kind.UNIT and (not names or self.name in names)


def ordinal(word: str) -> int:
    """Return the place an ordinal names, “third” or “3rd”; 99 for the last, 0 for what is none."""
    digits = _ORDINAL.fullmatch(word)
    return int(digits[1]) if digits else ORDINALS.get(word, 0)


@cache
def _data() -> dict[str, dict[str, list[str]]]:
    text = files("sorvek.core.workout.prose").joinpath("vocabulary.toml").read_text(encoding="utf-8")
    return tomllib.loads(text)


@cache
def vocabulary(name: str) -> frozenset[str]:
    """Return a list of words by its name in `vocabulary.toml`."""
    return frozenset(_data()["words"][name])


@cache
def headings() -> dict[str, frozenset[str]]:
    """Return the words of every kind of heading, in the order in which they decide."""
    return {name: frozenset(words) for name, words in _data()["headings"].items()}


@cache
def cue_phrases() -> dict[str, str]:
    """Return the cue of every phrase by its normal form."""
    return {_plain(phrase): cue for cue, phrases in _data()["cues"].items() for phrase in phrases}


def _plain(text: str) -> str:
    return re.sub(r"[\s'’-]+", "", text.lower())


def _scan(text: str) -> list[Token]:
    kinds = {"clock": Kind.CLOCK, "number": Kind.NUMBER, "fraction": Kind.NUMBER, "word": Kind.WORD}
    kinds |= {"newline": Kind.NEWLINE, "mark": Kind.MARK, "ordinal": Kind.WORD, "interval": Kind.WORD}
    found = []
    for match in _SCAN.finditer(text):
        group = match.lastgroup or "mark"
        number = 0.0
        if group == "number":
            number = _value(match[0])
        elif group == "fraction":
            number = _FRACTIONS[match[0]]
        elif group == "clock":
            minutes, seconds = match[0].split(":")
            number = 60.0 * int(minutes or 0) + int(seconds)  # “:40 on”
        found.append(Token(kinds[group], match[0], match.start(), match.end(), number))
    return found


# Ask for as many as possible, beside the cues that do.
MOST = {"max", "maximum", "max - effort", "max effort"}
POINTED = {"at", "from", "to", "until", "till", "by", "before", "starts", "begins"}
DIGITS = "0123456789½¼¾"  # “nine”” is no nine inches
LONGEST_MANNER = 4  # words and hyphens of “(hand-release)”
MOST_KM = 43.0  # “2k row”; more is none


def _value(text: str) -> float:
    if re.fullmatch(r"\d{1,3}(?:,\d{3})+", text):
        return float(text.replace(",", ""))
    return min(float(text.replace(",", ".")), 1e7)


def tokenize(text: str, library: Library) -> list[Token]:
    """Return the tokens of a text in order; every character but spaces is in one of them."""
    raw = _one_armed(list(_clocked(token for token in _scan(text) if not _emphasis(token, text))))
    found: list[Token] = []
    at = 0
    while at < len(raw):
        token, used = _match(raw, at, library)
        found.append(token)
        at += used
    return _sprints(_clock_minutes(_units(_number_words(_told_behind(found, library)))))


def _told_behind(tokens: Sequence[Token], library: Library) -> list[Token]:
    """Read “push-ups (hand-release)”, and so behind a comma at the end of a line, as “hand-release push-ups”."""
    found = list(tokens)
    for at in reversed(range(len(found) - 2)):
        if found[at].kind is not Kind.MOVEMENT or not found[at + 1].mark("(,"):
            continue
        words = list(takewhile(lambda token: token.kind is Kind.WORD or token.mark("-‑"), found[at + 2 :]))
        end = at + 2 + len(words)
        bracket = found[at + 1].mark("(")
        ends = end == len(found) or found[end].kind is Kind.NEWLINE
        closed = (not ends and found[end].mark(")")) if bracket else ends
        form = normal_form(" ".join(token.text for token in (*words, found[at]) if token.kind is not Kind.MARK))
        name = library.named(form) if words and closed and len(words) <= LONGEST_MANNER else None
        if name and name != found[at].name:
            last = end if bracket else end - 1
            found[at : last + 1] = [replace(found[at], end=found[last].end, name=name)]
    return found


def _sprints(tokens: list[Token]) -> list[Token]:
    """Read a sprint of so many metres as a run; any other sprint is a way to speak."""
    return [
        replace(token, kind=Kind.MOVEMENT, name="run")
        if token.low in ("sprint", "sprints") and before is not None and before.unit("m")
        else token
        for before, token in zip([None, *tokens], tokens, strict=False)
    ]


def _clock_minutes(tokens: list[Token]) -> list[Token]:
    """Read minutes that are pointed at as times of the clock: “starting at minute 12”, “cap: minute 22”."""
    found: list[Token] = []
    for index, token in enumerate(tokens):
        behind = tokens[index + 1] if index + 1 < len(tokens) else None
        labelled = behind is not None and behind.mark("–-")
        last = [other for other in found[-4:] if other.low != "the"]
        minute = len(last) > 1 and last[-1].text.lower() == "minute"
        capped = minute and len(last) > 2 and last[-2].mark(":-–") and last[-3].cue("cap")
        at = minute and (last[-2].low.split(" ")[-1] in POINTED or capped)
        if at and token.kind is Kind.NUMBER and not token.number % 1 and not labelled:
            word = found.pop()
            text = f"{word.text} {token.text}"
            found.append(Token(Kind.CLOCK, text, word.start, token.end, 60.0 * token.number))
        else:
            found.append(token)
    return found


def _clocked(raw: Iterable[Token]) -> Iterator[Token]:
    """Yield tokens; “E2MOM” and “E90S” are intervals: every 2 minutes, every 90 seconds."""
    for token in raw:
        short = _INTERVAL.fullmatch(token.text)
        if short is None:
            yield token
            continue
        middle, end = token.start + 1, token.start + 1 + len(short[1])
        yield Token(Kind.CUE, token.text[0], token.start, middle, name="every")
        yield Token(Kind.NUMBER, short[1], middle, end, float(short[1]))
        yield Token(Kind.UNIT, short[2], end, token.end, name="min" if short[2].lower() == "mom" else "s")


def _one_armed(raw: list[Token]) -> list[Token]:
    """Read “1-arm” as a word: it is no count."""
    found: list[Token] = []
    for token in raw:
        before = found[-2:]
        hand = token.low in ("arm", "armed", "arms") and len(before) == 2 and before[1].mark("-‑")
        if hand and before[0].low in ("1", "one"):
            found[-2:] = [Token(Kind.WORD, "single-arm", before[0].start, token.end)]
        else:
            found.append(token)
    return found


def without_pictures(tokens: Sequence[Token]) -> list[Token]:
    """Return tokens without pictures; at the head of a line one stays and stands for a bullet."""
    found: list[Token] = []
    for token in tokens:
        headed = not found or found[-1].kind is Kind.NEWLINE
        if not picture(token) or (headed and unicodedata.category(token.text) == "So"):
            found.append(token)
    return found


def picture(token: Token) -> bool:
    """Return whether a mark is a picture, or a part of one: “🔥”."""
    plain = token.kind is not Kind.MARK or len(token.text) != 1 or token.text in "♂♀°™"
    return not plain and unicodedata.category(token.text) in ("So", "Sk", "Mn", "Me", "Cf")


def _emphasis(token: Token, text: str) -> bool:
    """Return whether a mark only makes words bold or slanted; a star before a space is a bullet."""
    if not token.mark("*_`"):
        return False
    return (
        token.text != "*"
        or not text[token.end : token.end + 1].isspace()
        or bool(text[: token.start].rpartition("\n")[2].strip())
    )


def _match(raw: list[Token], at: int, library: Library) -> tuple[Token, int]:
    """Return the longest movement or cue that begins at a token, or the token itself."""
    first = raw[at]
    if first.kind not in (Kind.WORD, Kind.NUMBER) and first.text not in "♂♀":
        return first, 1
    movement, long = _movement(raw, at, library) if first.kind is Kind.WORD else ("", 0)
    cue, wide = _cue(raw, at)
    if long and long >= wide:
        return _joined(Kind.MOVEMENT, raw[at : at + long], movement), long
    if wide:
        return _joined(Kind.CUE, raw[at : at + wide], cue), wide
    return first, 1


def _joined(kind: Kind, tokens: Sequence[Token], name: str) -> Token:
    text = " ".join(token.text for token in tokens)
    return Token(kind, text, tokens[0].start, tokens[-1].end, name=name)


def _movement(raw: list[Token], at: int, library: Library) -> tuple[str, int]:
    """Return the movement with the longest spelling from a token on, and how many tokens it takes."""
    pieces: list[str] = []
    best = ("", 0)
    for index in range(at, min(len(raw), at + LONGEST_PHRASE)):
        token = raw[index]
        if token.kind is Kind.WORD or token.text == "&" or (pieces and token.text == "2"):  # “toes 2 bar”
            if pieces and token.low in vocabulary("articles"):
                continue
            pieces.append(token.text)
            form = normal_form(" ".join(pieces))
            if (
                len(form) > 1
                and (form not in ("kettlebell", "dumbbell", "barbell") or pieces == ["KBS"])
                and (name := library.named(form))
            ):
                best = (name, index - at + 1)
        elif token.kind is Kind.NEWLINE or not token.mark("-–‑") or not pieces:
            break
    return best


def _cue(raw: list[Token], at: int) -> tuple[str, int]:
    phrases = cue_phrases()
    said, best = "", ("", 0)
    for index in range(at, min(len(raw), at + LONGEST_PHRASE)):
        token = raw[index]
        if token.mark("-–‑"):
            continue
        if token.kind not in (Kind.WORD, Kind.NUMBER) and token.text not in "♂♀":
            break
        said += _plain(token.text)
        if said in phrases and not _no_label(raw, at, index, said):
            best = (phrases[said], index - at + 1)
    return best


def _no_label(raw: list[Token], at: int, index: int, said: str) -> bool:
    """Return whether a single letter is no division: metres, or part of a word."""
    if said not in ("m", "w", "f"):
        return said.isdigit()
    before = raw[at - 1] if at else None
    behind = raw[index + 1] if index + 1 < len(raw) else None
    numbered = before is not None and before.kind is Kind.NUMBER
    hers = said in ("w", "f") and at > 1 and raw[at - 2].mark("(") and behind is not None and behind.mark(")")
    numbered = numbered and not hers  # “10 calories (8 F)”
    labels = behind is not None and (behind.kind is Kind.NUMBER or behind.mark(":=)/|"))
    beside = raw[index + 2].low if index + 2 < len(raw) else ""
    numbered = numbered and not (said == "m" and behind is not None and behind.mark("/") and beside in ("w", "f"))
    if (
        said == "w"
        and behind is not None
        and behind.mark("/")
        and beside != "m"
        and not (before and before.mark("/|"))
    ):
        return True  # “w/ 2 kettlebells”
    if behind is not None and behind.kind is Kind.NUMBER and behind.start == raw[index].end:
        unit = raw[index + 2] if index + 2 < len(raw) else None
        labels = unit is not None and (unit.low in UNITS or unit.mark("/|"))  # “W1” is a name, “W40kg” a load
    loaded = before is not None and before.low in ("kg", "lb", "lbs", "cm")  # “60 kg M / 42.5 kg F”
    return numbered or not (hers or labels or loaded or (before is not None and before.mark("/(|")))


def _number_words(tokens: list[Token]) -> list[Token]:
    """Join number words, “twenty-one”, “one hundred and fifty”, “1½”, into numbers."""
    found: list[Token] = []
    at = 0
    while at < len(tokens):
        value, used = _spelled(tokens, at)
        if used:
            used += _said_twice(tokens, at + used, value)
            number = _joined(Kind.NUMBER, tokens[at : at + used], "")
            found.append(replace(number, number=float(value)))
        else:
            found.append(tokens[at])
        at += used or 1
    return found


def _said_twice(tokens: list[Token], at: int, value: float) -> int:
    """Return how many tokens say a number again in brackets: “seventeen (17)”."""
    again = tokens[at : at + 3]
    twice = len(again) == 3 and again[0].mark("(") and again[1].number == value and again[2].mark(")")
    return 3 if twice else 0


def _spelled(tokens: list[Token], at: int) -> tuple[float, int]:
    def word(index: int) -> str:
        token = tokens[index] if index < len(tokens) else None
        return token.low if token and token.kind is Kind.WORD else ""

    first = tokens[at]
    single = [token.low for token in tokens[at : at + 2]] == ["a", "single"] and len(tokens) > at + 2
    if single and tokens[at + 2].kind is Kind.MOVEMENT:
        return 1.0, 2  # “begin with a single deadlift”
    if first.kind is Kind.NUMBER:
        behind = tokens[at + 1] if at + 1 < len(tokens) else None
        half = behind is not None and behind.text in _FRACTIONS
        return (first.number + _FRACTIONS[behind.text], 2) if half and behind else (first.number, 0)
    value, used = _below_hundred(
        word(at), word(at + 1), word(at + 2), at + 1 < len(tokens) and tokens[at + 1].mark("-‑")
    )
    ahead = at + (used or (word(at) == "a"))
    if word(ahead) in ("hundred", "hundreds"):
        more, extra = _rest_of_hundred(word, ahead + 1)
        return 100 * (value or 1) + more, ahead - at + 1 + extra
    if used and [token.low for token in tokens[at + used : at + used + 3]] == ["and", "a", "half"]:
        return value + 0.5, used + 3
    return (value, used) if used else (0, 0)


def _below_hundred(first: str, second: str, third: str, hyphen: bool) -> tuple[float, int]:
    if NUMBERS.get(first):
        return NUMBERS[first], 1
    if first in TENS:
        ones = third if hyphen else second
        if 0 < NUMBERS.get(ones, 0) < 10:
            return TENS[first] + NUMBERS[ones], 3 if hyphen else 2
        return TENS[first], 1
    return 0, 0


def _rest_of_hundred(word: Callable[[int], str], at: int) -> tuple[float, int]:
    skip = 1 if word(at) == "and" else 0
    value, used = _below_hundred(word(at + skip), word(at + skip + 1), "", False)
    return (value, used + skip) if used else (0, 0)


def _units(tokens: list[Token]) -> list[Token]:
    """Turn words and marks behind a number into units; “in” before a time or an article stays a word."""
    found: list[Token] = []
    for index, token in enumerate(tokens):
        behind = tokens[index + 1] if index + 1 < len(tokens) else None
        before = [other for other in found[-2:] if not other.mark("-–‑")]
        counted = bool(before) and (before[-1].kind is Kind.NUMBER or before[-1].low in ("a", "per", "in", "of"))
        unit = UNITS.get(token.low, "") if token.kind is Kind.WORD or token.name in ("men",) else ""
        if token.cue("men") and any(other.cue("women") for other in tokens[index + 2 : index + 3]):
            unit = ""  # “Masters +40 M/W”
        beside = [other for other in (behind, *before[:-1]) if other is not None and other.kind is Kind.MOVEMENT]
        far = bool(beside) and bool(before) and before[-1].number < MOST_KM
        if token.low == "k" and far:
            unit, counted = "km", before[-1].kind is Kind.NUMBER  # “2k row”
        if token.kind is Kind.MARK and token.text in MARKS and found and found[-1].end == token.start:
            unit, counted = MARKS[token.text], found[-1].kind is Kind.NUMBER and found[-1].text[0] in DIGITS
        if token.kind is Kind.MARK and token.text in '"”' and _closes(found):
            unit = ""  # “"21-15-9"”
        if unit == "in" and token.low == "in" and behind is not None and _no_inch(behind, found):
            unit = ""
        if unit == "s" and token.text == "s" and found and found[-1].end == token.start and _of_a_pair(found):
            unit = ""  # “two 15s”
        if unit and (counted or len(token.text) > 2):
            found.append(replace(token, kind=Kind.UNIT, name=unit))
        else:
            found.append(token)
    return found


def _closes(found: list[Token]) -> bool:
    """Return whether a quotation that was opened on this line is still open."""
    start = max((i for i, token in enumerate(found) if token.kind is Kind.NEWLINE), default=-1)
    marks = [token.text for token in found[start + 1 :] if token.kind is Kind.MARK]
    return marks.count('"') % 2 == 1 or marks.count("“") > marks.count("”")


def _of_a_pair(found: list[Token]) -> bool:
    """Return whether the number last read is that of two things, or none of seconds: “two 15s”, “22.5s”."""
    return bool(found[-1].number % 1) or (len(found) > 1 and found[-2].number == 2 and found[-2].text.isalpha())


def _no_inch(behind: Token, found: list[Token]) -> bool:
    """Return whether “in” before this is the preposition."""
    if found and found[-1].mark("-"):
        return False
    return behind.kind in (Kind.NUMBER, Kind.CLOCK) or behind.low in {
        "the",
        "a",
        "an",
        "under",
        "less",
        "total",
        "each",
    }
