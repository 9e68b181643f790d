"""What the words of one sentence say: work, rounds, rep series, times and what they are for."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from sorvek.core.workout import tree as w
from sorvek.core.workout.movements import Library, PowerKind, SizeKind
from sorvek.core.workout.prose.sizes import IMPLEMENTS, Sizes, sizes_at
from sorvek.core.workout.prose.words import WEAK, Kind, Token

M_PER_UNIT = {"m": 1.0, "km": 1000.0, "ft": 0.3048, "mile": 1609.344}
COUNTED = ("cal", *M_PER_UNIT)
ADJECTIVES = {
    "of",
    "reps",
    "rep",
    "repetitions",
    "total",
    "unbroken",
    "consecutive",
    "heavy",
    "light",
    "kipping",
    "the",
}
ADJECTIVES |= {
    "full",
    "controlled",
    "butterfly",
    "quick",
    "on",
    "single",
    "a",
    "good",
    "clean",
    "x",
    "×",
    "each",
    "fast",
}
ADJECTIVES |= {
    "alternating",
    "alternate",
    "consecutively",
    "standard",
    "regular",
    "no-kip",
    "steps",
    "hard",
    "more",
}
POINTERS = {
    "the",
    "all",
    "after",
    "last",
    "each",
    "their",
    "his",
    "her",
    "until",
    "when",
    "having",
    "those",
    "these",
}
POINTERS |= {
    "your",
    "nth",
    "whole",
    "once",
    "between",
    "during",
    "while",
    "where",
    "whose",
    "completing",
    "finishing",
}
# A noun right behind a movement makes it another one: “thruster jumps”, “snatch balance”, “pull-up negatives”.
COMPOUND = set(
    "jump jumps hold holds balance balances negative negatives grip complex pull pulls climber raise raises".split()
)
COMPOUND |= set(
    "walk walks press presses sit throw throws kick kicks twist twists crawl crawls shuffle drag pushes".split()
)
SCALED = {"scaled", "foundation", "foundations", "beginner", "beginners", "novice", "intermediate", "adaptive"}
ELLIPSES = {"…", "..."}


@dataclass(frozen=True, slots=True)
class Phrase:
    """Something said on the tokens `lo` to `hi` of a sentence."""

    lo: int
    hi: int


@dataclass(frozen=True, slots=True)
class Work(Phrase):
    """So many of a movement; no counts where a series gives them, two where the divisions differ."""

    movement: str
    counts: tuple[int, ...]
    unit: str = ""
    side: w.Side = w.Side.BOTH
    sizes: Sizes | None = None
    pointed: bool = False
    unsure: str = ""


@dataclass(frozen=True, slots=True)
class Rounds(Phrase):
    """So many rounds; `pointed` if the words point back at rounds named before."""

    count: int
    pointed: bool = False


@dataclass(frozen=True, slots=True)
class Numbered(Phrase):
    """Rounds by their numbers: “rounds 3-4”."""

    first: int
    last: int


@dataclass(frozen=True, slots=True)
class Series(Phrase):
    """Rep counts of one round after the other; `open` ones go on as they begin, `turns` are a ladder's ends."""

    counts: tuple[int, ...]
    open: bool = False
    turns: bool = False


@dataclass(frozen=True, slots=True)
class Step(Phrase):
    """So many more each round, of every movement or of those named."""

    step: int
    movements: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Span(Phrase):
    """A time; `role` is the cue that says what for, empty if none does."""

    seconds: float
    role: str = ""


@dataclass(frozen=True, slots=True)
class Range(Phrase):
    """From one time of the clock to another."""

    from_s: float
    to_s: float


@dataclass(frozen=True, slots=True)
class Lift(Phrase):
    """A max lift; `unsure` says what of it the notation has no words for."""

    movement: str
    unsure: str = ""


@dataclass(frozen=True, slots=True)
class Cue(Phrase):
    """A cue word, or a number with a part or stage."""

    name: str
    number: int = 0


@dataclass(frozen=True, slots=True)
class Unknown(Phrase):
    """A count of something the library does not have, or a scaled version in brackets."""


@dataclass(frozen=True, slots=True)
class Loads(Phrase):
    """Amounts that stand apart from work, with the movement or implements they are said of."""

    sizes: Sizes
    nouns: tuple[str, ...]


def whole(token: Token) -> bool:
    """Return whether a token is a whole number that can be a count."""
    return token.kind is Kind.NUMBER and token.number == int(token.number) and 0 < token.number <= 10_000


def harmless(tokens: Sequence[Token], at: int) -> bool:
    """Return whether a number counts down, numbers a heading, or is an ordinal."""
    behind = tokens[at + 1].low if at + 1 < len(tokens) else ""
    before = tokens[at - 1].low if at else ""
    if behind in ("st", "nd", "rd", "th", "%", "go") or before in (
        "workout",
        "event",
        "test",
        "wod",
        "no",
        "week",
        "#",
        "weight",
        "load",
    ):
        return True
    row = [t.number for t in tokens[max(0, at - 4) : at + 5] if t.kind is Kind.NUMBER]
    return any(row[i : i + 3] == [3, 2, 1] for i in range(len(row))) or tokens[at].number == 1


def _skip(tokens: Sequence[Token], at: int, words: set[str], marks: str = "-–") -> int:
    while at < len(tokens) and (tokens[at].low in words or tokens[at].mark(marks)):
        at += 1
    return at


class _Chunker:
    """Reads one sentence from left to right."""

    def __init__(self, tokens: Sequence[Token], library: Library, machine: str = "") -> None:
        self.tokens = tokens
        self.library = library
        self.machine = machine
        self.works = {i for i in range(len(tokens)) if self._counted(i) is not None}

    def token(self, at: int) -> Token | None:
        """Return the token at an index, None outside."""
        return self.tokens[at] if 0 <= at < len(self.tokens) else None

    def phrases(self) -> Iterator[Phrase]:
        """Yield what is said, in order."""
        at = 0
        while at < len(self.tokens):
            found = self._phrase(at) or self._unknown(at)
            if found is None:
                at += 1
            else:
                yield found
                at = max(found.hi, at + 1)

    def _phrase(self, at: int) -> Phrase | None:
        token = self.tokens[at]
        readers = [
            self._range,
            self._span,
            self._series,
            self._step,
            self._rounds,
            self._work,
            self._lift,
            self._loads,
        ]
        if (
            token.kind in (Kind.NUMBER, Kind.CLOCK)
            or token.low in ("a", "+", "twice", "thrice")
            or token.cue("pair")
        ):
            return next((found for read in readers if (found := read(at)) is not None), None)
        if token.mark("(["):
            return self._scaled(at)
        if token.kind is Kind.MOVEMENT:
            return self._bare(at)
        if token.cue("lift"):
            return self._lift(at) or None
        if token.cue("men", "women", "level"):
            return self._loads(at) or Cue(at, at + 1, token.name)
        if token.cue("adding"):
            return self._step(at) or Cue(at, at + 1, token.name)
        if token.cue("amrap", "cap") and (
            place := self._minutes(_skip(self.tokens, at + 1, {"of", "in", "at", "is"}, ":="))
        ):
            return Span(at, place + 1, 60.0 * self.tokens[place].number, token.name)
        if token.cue("part", "stage", "window", "rounds"):
            return self._numbered(at)
        if token.low in ELLIPSES or (token.mark(".…") and self._dots(at)):
            return Cue(at, at + 1, "etc")
        return Cue(at, at + 1, token.name) if token.kind is Kind.CUE else None

    def _minutes(self, at: int) -> int:
        """Return where a bare number behind “AMRAP” or “cap” stands that is its minutes, 0 if none does."""
        token, behind = self.token(at), self.token(at + 1)
        bare = behind is None or behind.mark(":.,;)-–|") or (behind.text.isalpha() and not behind.unit())
        counts = behind is not None and (
            behind.low in ("rounds", "reps", "rounds") or (behind.mark("-–,") and self._number_at(at + 2))
        )
        return (
            at
            if token is not None
            and whole(token)
            and token.number <= 60
            and at not in self.works
            and bare
            and not counts
            else 0
        )

    def _unknown(self, at: int) -> Work | Unknown | None:
        """Read a count that nothing is made of with the words up to the next comma; calories are of the one machine."""
        token = self.tokens[at]
        unit = self.token(_skip(self.tokens, at + 1, {"more"}))
        if self.machine and whole(token) and unit is not None and unit.unit("cal"):
            return Work(
                at,
                _skip(self.tokens, at + 1, {"more"}) + 1,
                self.machine,
                (int(token.number),),
                "cal",
                pointed=self._points(at),
            )
        if token.kind not in (Kind.NUMBER, Kind.CLOCK) or harmless(self.tokens, at):
            return None
        end, depth = at + 1, 0
        while end < len(self.tokens):
            behind = self.tokens[end]
            depth += behind.mark("([") - behind.mark(")]")
            if depth < 0 or (
                not depth and (behind.mark(",;:.") or behind.low in ("and", "then") or end in self.works)
            ):
                break
            end += 1
        return Unknown(at, end)

    def _scaled(self, at: int) -> Unknown | None:
        """Read a bracket that holds another version: “(scaled: jumping pull-ups)”."""
        end = next((i for i in range(at, len(self.tokens)) if self.tokens[i].mark(")]")), None)
        inner = self.tokens[at : end or at]
        level = any(token.cue("level") and token.low in SCALED for token in inner)
        return Unknown(at, end + 1) if level and end and any(t.kind is Kind.MOVEMENT for t in inner) else None

    def _dots(self, at: int) -> int:
        """Return how many tokens an ellipsis at a token takes, 0 if there is none."""
        if at < len(self.tokens) and self.tokens[at].text == "…":
            return 1
        dots = 0
        while at + dots < len(self.tokens) and self.tokens[at + dots].text == ".":
            dots += 1
        return dots if dots > 1 else 0

    # Times

    def duration(self, at: int) -> tuple[float, int] | None:
        """Return seconds and the tokens they take for a time that begins at a token."""
        token = self.token(at)
        if token is None:
            return None
        if token.kind is Kind.CLOCK:
            behind = self.token(at + 1)
            return token.number, 2 if behind is not None and behind.unit("min") else 1
        if token.kind is not Kind.NUMBER and token.low != "a":
            return None
        index = _skip(self.tokens, at + 1, set())
        unit = self.token(index)
        behind = self.token(index + 1)
        primed = (
            unit is not None
            and unit.text in "'’′"
            and behind is not None
            and behind.cue("amrap", "cap", "emom", "for_time")
        )
        if unit is None or not (unit.unit("min", "s", "h") or primed):
            return None
        scale = {"min": 60.0, "s": 1.0, "h": 3600.0, "ft": 60.0}
        value = (token.number if token.kind is Kind.NUMBER else 1.0) * scale[unit.name]
        end = index + 1
        more = _skip(self.tokens, end, {"and", "."}, ",.")
        behind = self.token(more)
        if unit.name == "min" and behind is not None and behind.kind is Kind.NUMBER:
            seconds = self.token(more + 1)
            if seconds is not None and seconds.unit("s"):
                return value + behind.number, more + 2 - at
        return value, end - at

    def _range(self, at: int) -> Range | None:
        """Read “from 8:00 to 13:00”, “minutes 0–8” and “between 8 and 13 minutes”."""
        first = self.duration(at)
        token = self.tokens[at]
        minutes = self._lead(at) in ("minute", "minutes")
        if first is None and not (token.kind is Kind.NUMBER and (minutes or self._lead(at) in ("from", "between"))):
            return None
        start, used = first if first else (60.0 * token.number, 1)
        index = at + used
        joint = self.token(index)
        if joint is None or not (joint.low in ("to", "and", "until", "till", "through") or joint.mark("-–—")):
            return None
        index = _skip(self.tokens, index + 1, {"minute", "the", "min"})
        end = self.duration(index)
        second = self.token(index)
        if end is None and minutes and second is not None and second.kind is Kind.NUMBER:
            end = (60.0 * second.number, 1)
        if end is None or end[0] <= start:
            return None
        if (
            first is None
            and self._lead(at) in ("from", "between")
            and second is not None
            and second.kind is Kind.CLOCK
        ):
            return None
        return Range(at, index + end[1], start, end[0])

    def _lead(self, at: int) -> str:
        before = self.token(at - 1)
        return before.low if before is not None else ""

    def _span(self, at: int) -> Span | None:
        found = self.duration(at)
        if found is None or not 1 <= found[0] <= 4 * 3600:
            return None
        hi = at + found[1]
        return Span(at, hi, found[0], self._role(at, hi))

    def _role(self, lo: int, hi: int) -> str:
        """Return the cue a time belongs to: the nearest before it, or one right behind it."""
        named = ("cap", "rest", "within", "before", "every", "extend", "remaining")
        for place, behind in enumerate(self.tokens[hi : hi + 4]):
            if behind.cue("cap", "rest", "amrap", "window", "emom") or (behind.cue("extend") and not place):
                return "every" if behind.name == "window" else behind.name
            if behind.low in ("clock", "running") and self._every(lo):
                return "every"
            if behind.kind is not Kind.WORD and not behind.mark("-–.") and not behind.cue("part"):
                break
            if behind.low in ("to", "of", "and", "in", "for", ":"):
                break
        for index in range(lo - 1, max(-1, lo - 10), -1):
            token = self.tokens[index]
            if token.cue(*named):
                return token.name
            if token.mark(",;") or token.kind in (Kind.CLOCK, Kind.MOVEMENT, Kind.UNIT):
                break
        return ""

    def _every(self, lo: int) -> bool:
        return any(token.cue("every") for token in self.tokens[max(0, lo - 2) : lo])

    # Counts

    def _series(self, at: int) -> Series | None:
        """Read “21-15-9”, “24, 18 and 12 reps”, “10 to 1”, “1 up to 8 and back to 1”, “2-4-6-8-…”."""
        if not whole(self.tokens[at]) or self._ages(at):
            return None
        return self._climb(at) or self._listed(at)

    def _ages(self, at: int) -> bool:
        before = self.token(at - 1)
        return before is not None and (before.cue("men", "women", "level") or before.low in ("age", "aged", "ages"))

    def _listed(self, at: int) -> Series | None:
        counts, index, commas, dots = [int(self.tokens[at].number)], at + 1, False, False
        while index < len(self.tokens):
            joint = index
            while joint < len(self.tokens) and (
                self.tokens[joint].mark("-–—,/")
                or self.tokens[joint].low in ("and", "then", "reps")
                or self._dots(joint)
            ):
                dots = dots or bool(self._dots(joint))
                commas = commas or self.tokens[joint].mark(",") or self.tokens[joint].low in ("and", "then")
                joint += self._dots(joint) or 1
            if joint == index or joint >= len(self.tokens) or not whole(self.tokens[joint]) or self._said(joint):
                open_end = joint > index and bool(
                    self._dots(joint - 1) or self.tokens[joint - 1].text in ("…", ".")
                )
                return self._series_of(
                    at, joint if dots and joint > index else index, counts, commas, dots and open_end
                )
            counts.append(int(self.tokens[joint].number))
            index = joint + 1
        return self._series_of(at, index, counts, commas, False)

    def _said(self, at: int) -> bool:
        """Return whether a number begins something else: a load, a time, the next line of work."""
        behind = self.token(at + 1)
        listed = behind is None or behind.mark("-–—,/.:;)") or behind.kind in (Kind.WORD, Kind.CUE, Kind.MOVEMENT)
        timed = self.duration(at) is not None
        return timed or not listed or (behind is not None and behind.low in ("x", "×"))

    def _series_of(self, lo: int, hi: int, counts: list[int], commas: bool, dots: bool) -> Series | None:
        behind = self.token(hi)
        dotted = any(self._dots(i) for i in range(lo, hi))
        reps = behind is not None and behind.low in ("reps", "repetitions", "rep", "of")
        if counts == [3, 2, 1] and (commas or not reps) and self._countdown(lo, hi):
            return None
        if behind is not None and behind.cue("etc") and (last := self._down_to(hi + 1)):
            return self._filled(lo, last + 1, [*counts, int(self.tokens[last].number)])
        etc = behind is not None and (behind.cue("etc") or (behind.mark(",") and self._cue_at(hi + 1, "etc")))
        if etc:
            dots, hi = True, hi + (1 if behind is not None and behind.cue("etc") else 2)
        least = 2 if reps or dots else 3
        if len(counts) < least or (
            commas and not (reps or dots or etc or self._colon(hi) or self._rounds_before(lo))
        ):
            return None
        if any(t.mark("/") for t in self.tokens[lo:hi]) and not reps:
            return None
        if dotted and not dots:
            return self._filled(lo, hi, counts)
        return Series(lo, hi + (1 if reps and not dots else 0), tuple(counts), open=dots)

    def _down_to(self, at: int) -> int:
        """Return where the last count stands: “and so on down to one”; 0 if none does."""
        index = _skip(self.tokens, at, {"down", "up", "all", "the", "way"}, ",")
        token = self.token(index)
        if token is None or token.low not in ("to", "until"):
            return 0
        number = self.token(index + 1)
        return index + 1 if number is not None and whole(number) else 0

    def _rounds_before(self, lo: int) -> bool:
        return any(token.low in ("reps", "repetitions", "of") for token in self.tokens[max(0, lo - 3) : lo])

    def _colon(self, at: int) -> bool:
        token = self.token(at)
        return token is not None and token.mark(":")

    def _cue_at(self, at: int, name: str) -> bool:
        token = self.token(at)
        return token is not None and token.cue(name)

    def _countdown(self, lo: int, hi: int) -> bool:
        around = [*self.tokens[max(0, lo - 4) : lo], *self.tokens[hi : hi + 3]]
        return any(token.low in ("go", "start", "call", "count", "countdown", "counts", "beep") for token in around)

    def _filled(self, lo: int, hi: int, counts: list[int]) -> Series | None:
        """Fill the gap an ellipsis leaves: “10-9-8-…-1”."""
        *first, last = counts
        if len(first) < 2 or first[-1] == first[-2]:
            return None
        step = first[-1] - first[-2]
        if (last - first[-1]) % step or (last - first[-1]) // step < 1 or (last - first[-1]) // step > 200:
            return None
        return Series(lo, hi, (*first, *range(first[-1] + step, last + step, step)))

    def _climb(self, at: int) -> Series | None:
        """Read counts that climb by one through turns: “1 to 10”, “10 down to 1”, “1 up to 8 and back down to 1”."""
        turns, index = [int(self.tokens[at].number)], at + 1
        if self.duration(at) is not None:
            return None
        while True:
            joint = _skip(
                self.tokens,
                index,
                {"and", "then", "back", "down", "up", "all", "the", "way", "again", "reps", "rep"},
                ",",
            )
            middle = self.token(joint)
            if middle is None or middle.low not in ("to", "until", "through"):
                break
            number = self.token(joint + 1)
            if (
                number is None
                or not whole(number)
                or self.duration(joint + 1) is not None
                or self._unit_soon(joint + 2)
            ):
                break
            turns.append(int(number.number))
            index = joint + 2
        if (
            len(turns) < 2
            or abs(turns[1] - turns[0]) < 2
            or any(a == b for a, b in zip(turns, turns[1:], strict=False))
        ):
            return None
        return Series(at, index, tuple(turns), turns=True)

    def _unit_soon(self, at: int) -> bool:
        token = self.token(at)
        return token is not None and (token.unit() or token.cue("rounds"))

    def _step(self, at: int) -> Step | None:
        """Read “adding 2 reps each round”, “+3 each round”, “two more of each every window”, “2 reps are added”."""
        token = self.tokens[at]
        if token.mark("+") or token.cue("adding"):
            index = _skip(self.tokens, at + 1, {"by", "another", "a", "further"})
            number = self.token(index)
            if number is not None and whole(number):
                return self._step_of(at, index + 1, int(number.number), token.cue("adding"))
            if token.cue("adding") and self._lead(index) in ("a",):
                return self._step_of(at, index, 1, True)
            return None
        if not whole(token):
            return None
        index = _skip(self.tokens, at + 1, {"reps", "rep", "repetitions", "are", "is", "extra", "of"})
        more = self.token(index)
        behind = self.token(index + 1)
        if (
            behind is not None
            and (behind.unit() or behind.kind is Kind.MOVEMENT)
            and not any(t.cue("each_round") for t in self.tokens)
        ):
            return None
        if more is not None and (more.low in ("more", "added") or (more.cue("adding") and more.low == "more")):
            return self._step_of(at, index + 1, int(token.number), True)
        return None

    def _step_of(self, lo: int, hi: int, step: int, sure: bool) -> Step | None:
        movements: list[str] = []
        each, end = False, hi
        for index in range(hi, min(len(self.tokens), hi + 10)):
            token = self.tokens[index]
            if token.kind is Kind.MOVEMENT:
                movements.append(token.name)
                end = index + 1
            elif token.cue("each_round", "every", "rounds", "window", "etc"):
                each, end = True, index + 1
            elif token.unit() or token.kind in (Kind.NUMBER, Kind.CLOCK):
                break
        if not movements:
            movements = [
                token.name for token in self.tokens[:lo] if token.kind is Kind.MOVEMENT and lo not in self.works
            ][-2:]
            movements = movements if not any(index < lo for index in self.works) else []
        return Step(lo, end, step, tuple(movements)) if sure or each else None

    def _rounds(self, at: int) -> Rounds | None:
        token = self.tokens[at]
        if token.low in ("twice", "thrice"):
            return Rounds(at, at + 1, 2 if token.low == "twice" else 3, self._points(at))
        if not whole(token):
            return None
        index = _skip(
            self.tokens, at + 1, {"full", "total", "complete", "quick", "unbroken", "hard", "even", "more", "such"}
        )
        behind = self.token(index)
        if behind is None:
            return None
        rft = behind.cue("for_time") and behind.low == "rft"
        listed = (
            behind.low in ("x", "×")
            and index == at + 1
            and (self.token(at + 2) is None or self.tokens[at + 2].mark(":("))
        )
        if behind.cue("rounds") or rft or listed:
            return Rounds(at, index if rft else index + 1, int(token.number), self._points(at))
        return None

    def _numbered(self, at: int) -> Phrase | None:
        """Read “part 2”, “stage B”, “round 1”."""
        token = self.tokens[at]
        behind = self.token(at + 1)
        ahead = self.tokens[at + 1 : at + 4]
        if token.cue("rounds") and len(ahead) == 3 and whole(ahead[0]) and whole(ahead[2]):
            if ahead[1].mark("-–&+") or ahead[1].low in ("and", "to"):
                return Numbered(at, at + 4, int(ahead[0].number), int(ahead[2].number))
        if behind is not None and whole(behind) and behind.number < 30 and self.duration(at + 1) is None:
            return Cue(at, at + 2, token.name, int(behind.number))
        letters = {"a": 1, "b": 2, "c": 3, "one": 1, "i": 1, "ii": 2, "iii": 3}
        if behind is not None and behind.low in letters and (behind.text.isupper() or behind.low == "one"):
            return Cue(at, at + 2, token.name, letters[behind.low])
        ordinals = {"first": 1, "second": 2, "third": 3, "fourth": 4, "last": 99, "final": 99}
        return Cue(at, at + 1, token.name, ordinals.get(self._lead(at), 0))

    # Work

    def _points(self, at: int) -> bool:
        """Return whether the words before a number point at work named before: “after the 21 thrusters”."""
        before = [token for token in self.tokens[max(0, at - 3) : at] if not token.mark("“”\"'(")]
        if not before:
            return False
        if before[-1].low in POINTERS or before[-1].low in ("first", "second", "set of", "sets of", "every"):
            return True
        for token in reversed(before):
            if token.mark(",:;") or token.kind in (Kind.NUMBER, Kind.MOVEMENT, Kind.CLOCK):
                return False
            if token.low in ("after", "until", "when", "during", "between", "having") or token.cue("before"):
                return True
        return False

    def _counted(self, at: int) -> int | None:
        """Return where the movement stands if counted work begins at a number, None if none does."""
        if not whole(self.tokens[at]):
            return None
        index = at + 1
        while index < len(self.tokens) and self.tokens[index].mark("/") and self._number_at(index + 1):
            index += 2
        index = _skip(self.tokens, index, ADJECTIVES - {"of"})
        token = self.token(index)
        if token is not None and token.unit(*COUNTED):
            index += 1
        elif token is not None and token.unit():
            return None
        limit = index + 14
        while index < min(len(self.tokens), limit):
            token = self.tokens[index]
            if token.kind is Kind.MOVEMENT:
                return index
            skipped = self._between(index)
            if not skipped:
                return None
            index += skipped
        return None

    def _between(self, at: int) -> int:
        """Return how many tokens may stand between a count and its movement here: an adjective, a side, a load."""
        token = self.tokens[at]
        if (
            token.low in ADJECTIVES
            or token.mark("-–(")
            or token.cue("left", "right", "barbell")
            or token.low in ("on the", "on a", "at")
        ):
            return 1
        if token.kind is Kind.NUMBER and not self.duration(at):
            behind = self.token(_skip(self.tokens, at + 1, set()))
            if behind is not None and (behind.unit("kg", "lb", "m", "ft", "cm", "in", "pood") or behind.mark("/")):
                return 1
        if (token.mark("/)") or token.unit("kg", "lb", "m", "ft", "cm", "in", "pood")) and at > 1:
            return 1
        return 0

    def _number_at(self, at: int) -> bool:
        token = self.token(at)
        return token is not None and token.kind is Kind.NUMBER

    def _work(self, at: int) -> Work | None:
        place = self._counted(at)
        if place is None:
            return None
        counts, index = [int(self.tokens[at].number)], at + 1
        while index < place and self.tokens[index].mark("/") and self._number_at(index + 1):
            counts.append(int(self.tokens[index + 1].number))
            index += 2
        index = _skip(self.tokens, index, ADJECTIVES)
        unit = ""
        if self.tokens[index].unit(*COUNTED):
            unit = self.tokens[index].name
            index += 1
        inner = [i for i in range(index, place) if self.tokens[i].kind is Kind.NUMBER]
        sizes = sizes_at(self.tokens[:place], inner[0], set()) if inner else None
        movement = self.library.movements[self.tokens[place].name]
        if unit in M_PER_UNIT and movement.size is SizeKind.DISTANCE and not sizes:
            inner_sizes = sizes_at(self.tokens[:place], at, set())
            return self._finished(at, place, (1,), "", inner_sizes)
        return self._finished(at, place, tuple(counts), unit, sizes)

    def _finished(self, lo: int, place: int, counts: tuple[int, ...], unit: str, sizes: Sizes | None) -> Work:
        """Complete work whose movement is found: what stands behind the movement, and what is odd about it."""
        side, end = self._side(lo, place)
        behind = self._sizes(end)
        if behind is not None:
            end = behind.hi
            sizes = behind if sizes is None else replace(sizes, amounts=(*sizes.amounts, *behind.amounts))
            late, after = self._side(end, end - 1)
            side, end = (late, after) if late is not w.Side.BOTH and side is w.Side.BOTH else (side, end)
        name = self.tokens[place].name
        if unit in M_PER_UNIT:
            counts, unit = tuple(round(count * M_PER_UNIT[unit]) for count in counts), "m"
        return Work(lo, end, name, counts, unit, side, sizes, self._points(lo), self._odd(lo, place))

    def _side(self, lo: int, place: int) -> tuple[w.Side, int]:
        """Return the side said between count and movement or right behind it, and where the words end."""
        index = place + 1
        while index < len(self.tokens) and (
            self.tokens[index].mark("(-–,") or self.tokens[index].low in ("on", "with", "the", "all")
        ):
            index += 1
        behind = self.token(index)
        if behind is not None and behind.cue("left", "right"):
            end = index + 1
            while end < len(self.tokens) and (
                self.tokens[end].mark(")-") or self.tokens[end].low in ("arm", "hand", "side", "arms", "only")
            ):
                end += 1
            return w.Side(behind.name), end
        for token in self.tokens[lo:place]:
            if token.cue("left", "right"):
                return w.Side(token.name), place + 1
        return w.Side.BOTH, place + 1

    def _sizes(self, at: int) -> Sizes | None:
        """Return the amounts right behind a movement, across a comma or a bracket."""
        index = _skip(
            self.tokens,
            at,
            {"each", "per", "with", "a", "an", "at", "using", "of", "over", "to", "onto", "from"},
            "-–,(:@",
        )
        if index in self.works:
            return None
        found = sizes_at(self.tokens, at, self.works)
        if found is None and index > at:
            found = sizes_at(self.tokens, index, self.works)
        return found

    def _odd(self, lo: int, place: int) -> str:
        """Return what makes it unsure that the movement is the one found, empty if nothing does."""
        behind = self.token(place + 1)
        if behind is not None and behind.low in COMPOUND:
            return f"“{self.tokens[place].text} {behind.text}” is no movement of the library"
        if (
            behind is not None
            and behind.mark("-")
            and self.token(place + 2) is not None
            and self.tokens[place + 2].low in COMPOUND
        ):
            return f"“{self.tokens[place].text}-{self.tokens[place + 2].text}” is no movement of the library"
        return ""

    def _bare(self, at: int) -> Work | None:
        """Read a movement without a count before it; one may stand behind: “Thrusters x 21”, “Row: 500 m”."""
        token = self.tokens[at]
        movement = self.library.movements[token.name]
        index = _skip(self.tokens, at + 1, {"x", "×", "for"}, ":-–(")
        number = self.token(index)
        counts, unit, end = (), "", at + 1
        if (
            number is not None
            and whole(number)
            and index not in self.works
            and (index > at + 1 or movement.size is SizeKind.UNIT)
        ):
            behind = self.token(_skip(self.tokens, index + 1, set()))
            counted = behind is not None and behind.unit(*COUNTED)
            if movement.size is SizeKind.UNIT and counted and behind is not None:
                counts, unit = (int(number.number),), behind.name
                end = _skip(self.tokens, index + 1, set()) + 1
            elif self.duration(index) is None and (behind is None or not (behind.unit() or behind.mark("/-–"))):
                counts = (int(number.number),)
                end = (
                    index + 2
                    if behind is not None and behind.low in ("reps", "rep", "repetitions", "times")
                    else index + 1
                )
        if (
            token.low in WEAK
            and not counts
            and movement.styles[0].power is PowerKind.WORK
            and not self._listed_alone(at)
        ):
            return None
        before = self.token(at - 1)
        unit = unit or self._unit_near(at)
        sided = at - 1 if before is not None and before.cue("left", "right") else at
        if not counts:
            return self._finished(sided, at, counts, unit, None)
        side, after = self._side(end, end - 1)
        side = w.Side(before.name) if before is not None and sided < at else side
        sizes = self._sizes(after)
        metres = tuple(round(c * M_PER_UNIT[unit]) for c in counts) if unit in M_PER_UNIT else counts
        return Work(
            at,
            sizes.hi if sizes else after,
            token.name,
            metres,
            "m" if unit in M_PER_UNIT else unit,
            side,
            sizes,
            self._points(at),
            self._odd(at, at),
        )

    def _unit_near(self, at: int) -> str:
        """Return what a machine is counted in where no number says it: “calorie row”, “row as many calories as”."""
        if self.library.movements[self.tokens[at].name].size is not SizeKind.UNIT:
            return ""
        near = [self.token(at - 1), *self.tokens[at + 1 : at + 6]]
        return next((t.name for t in near if t is not None and t.unit("cal", "m")), "")

    def _listed_alone(self, at: int) -> bool:
        """Return whether nothing but marks stands before a word in its sentence."""
        return all(token.kind is Kind.MARK for token in self.tokens[:at])

    def _lift(self, at: int) -> Lift | None:
        """Read “establish a 1RM clean and jerk”, “max thruster”, “heaviest front squat”."""
        unsure = ""
        token = self.tokens[at]
        if token.kind is Kind.NUMBER:
            index = _skip(self.tokens, at + 1, {"rep"})
            behind = self.token(index)
            if (
                behind is None
                or not behind.cue("lift")
                or behind.low not in ("rm", "rep max", "max", "repetition maximum")
            ):
                return None
            if token.number != 1:
                unsure = f"a max of {token.number:.0f} reps"
            at_cue = index
        elif token.cue("lift"):
            at_cue = at
        else:
            return None
        for index in range(at_cue + 1, min(len(self.tokens), at_cue + 9)):
            found = self.tokens[index]
            if found.kind is Kind.NUMBER and found.number > 1:
                if self._cue_at(index + 1, "lift"):
                    unsure = f"a max of {found.number:.0f} reps"
                    continue
                return None
            if found.kind is Kind.MOVEMENT:
                if not self.library.movements[found.name].styles[0].lift:
                    return None
                behind = self.token(index + 1)
                if behind is not None and behind.mark("+"):
                    unsure = unsure or "a complex of lifts"
                return Lift(at, index + 1, found.name, unsure)
            if found.low == "complex":
                unsure = "a complex of lifts"
            if found.mark(".;") or found.kind is Kind.CLOCK:
                return None
        return None

    # Amounts apart from work

    def _loads(self, at: int) -> Loads | None:
        sizes = sizes_at(self.tokens, at, self.works)
        if sizes is None:
            return None
        return Loads(at, sizes.hi, sizes, sizes.nouns)


def chunk(tokens: Sequence[Token], library: Library, machine: str = "") -> list[Phrase]:
    """Return what a sentence says, in the order of its words; bare calories are those of `machine`."""
    return list(_Chunker(tokens, library, machine).phrases())


def nouns_of(tokens: Sequence[Token]) -> list[str]:
    """Return the movements and implements a sentence names, in order."""
    return [t.name for t in tokens if t.kind is Kind.MOVEMENT or t.cue(*IMPLEMENTS)]
