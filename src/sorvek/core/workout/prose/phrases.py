"""What a sentence can say: work, rounds, rep series, times and what for; and the row of words it is read from."""

from collections.abc import Sequence, Set
from dataclasses import dataclass, field

from sorvek.core.workout import tree as w
from sorvek.core.workout.movements import Library
from sorvek.core.workout.prose.amounts import IMPLEMENTS
from sorvek.core.workout.prose.sizes import Sizes
from sorvek.core.workout.prose.words import Kind, Token, vocabulary

TURNING = {"alternate", "alternates", "alternating", "switch", "switches", "switching"}
POINTING = {"first", "second", "set of", "sets of", "every", "from"}
NUMBERED = {"workout", "event", "wod", "test", "week", "number", "qualifier"}  # a number behind them is a name
ELLIPSES = {"…", "..."}


@dataclass(frozen=True, slots=True)
class Phrase:
    """Something said on the tokens `lo` to `hi` of a sentence."""

    lo: int
    hi: int


@dataclass(frozen=True, slots=True)
class WorkLine(Phrase):
    """So many of a movement; no counts where a series gives them, two where the divisions differ.

    `others` are divisions that do another movement instead, with its name; `counts_of` levels that do another
    number of it; `by_round` sizes of one round after the other; `per_rep` metres that count as one rep.
    """

    movement: str
    counts: tuple[int, ...]
    unit: str = ""
    side: w.Side = w.Side.BOTH
    sizes: Sizes | None = None
    pointed: bool = False
    unsure: str = ""
    style: str = ""
    others: tuple[tuple[str, str], ...] = ()
    counts_of: tuple[tuple[str, tuple[int, ...]], ...] = ()
    by_round: tuple[Sizes, ...] = ()
    per_rep: float = 0.0


@dataclass(frozen=True, slots=True)
class RoundCount(Phrase):
    """So many rounds; `pointed` if the words point back at rounds named before."""

    count: int
    pointed: bool = False


@dataclass(frozen=True, slots=True)
class Numbered(Phrase):
    """Rounds by their numbers: “rounds 3-4”."""

    first: int
    last: int


@dataclass(frozen=True, slots=True)
class RepCounts(Phrase):
    """Rep counts of one round after the other; `open` ones go on as they begin, `turns` are a ladder's ends."""

    counts: tuple[int, ...]
    open: bool = False
    turns: bool = False


@dataclass(frozen=True, slots=True)
class Step(Phrase):
    """So many more each round, of every movement or of those named; `also` are others with steps of their own."""

    step: int
    movements: tuple[str, ...] = ()
    also: tuple[tuple[str, int], ...] = ()


@dataclass(frozen=True, slots=True)
class Span(Phrase):
    """A time; `role` is the cue that says what for, empty if none does."""

    seconds: float
    role: str = ""


@dataclass(frozen=True, slots=True)
class Range(Phrase):
    """From one time of the clock to another; `head` if only the beginning is told, “4:00: 25 burpees”."""

    from_s: float
    to_s: float
    head: bool = False


@dataclass(frozen=True, slots=True)
class Lift(Phrase):
    """A max lift; `unsure` says what of it the notation has no words for.

    `more` are the further parts of a complex, `window_s` a time among its words.
    """

    movement: str
    unsure: str = ""
    reps: int = 1
    more: tuple[tuple[str, int], ...] = ()
    window_s: float = 0.0


@dataclass(frozen=True, slots=True)
class Cue(Phrase):
    """A cue word, or a number with a part or stage."""

    name: str
    number: int = 0


@dataclass(frozen=True, slots=True)
class Unknown(Phrase):
    """A count of something the library does not have, or a scaled version in brackets."""


@dataclass(frozen=True, slots=True)
class Instead(Phrase):
    """Another movement for a division, in brackets behind work: “(masters 45+: knees-to-elbow)”.

    `counts` are its own where it has some: “(scaled: 60 single-unders)”.
    """

    division: str
    movement: str
    counts: tuple[int, ...] = ()


@dataclass(frozen=True, slots=True)
class Loads(Phrase):
    """Amounts that stand apart from work, with the movement or implements they are said of."""

    sizes: Sizes
    nouns: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class LoadRow(Phrase):
    """Loads of one round or bar after the other, apart from work."""

    sizes: tuple[Sizes, ...]


def whole(token: Token | None) -> bool:
    """Return whether a token is a whole number that can be a count."""
    return (
        token is not None
        and token.kind is Kind.NUMBER
        and token.number == int(token.number)
        and 0 < token.number <= 10_000
    )


def harmless(tokens: Sequence[Token], at: int) -> bool:
    """Return whether a number counts down, numbers a heading, or is an ordinal."""
    behind = tokens[at + 1].low if at + 1 < len(tokens) else ""
    opened = sum(token.mark("(") - token.mark(")") for token in tokens[:at])
    if behind == ")" and not opened:
        return True  # “1) max wall balls, 2) max calories”
    if at == 0 and (behind == ")" or (behind == ":" and not any(t.kind is Kind.MOVEMENT for t in tokens[1:4]))):
        return True  # “2) Rest”, “5.1: for time”
    before = tokens[at - 1].low if at else ""
    # “AMRAP 2 (9:00–15:00)”
    clocked = at == 1 and behind == "(" and len(tokens) > 3 and tokens[3].kind is Kind.CLOCK
    if clocked or (at == 1 and tokens[0].kind is Kind.WORD and behind in (":", "(")):
        return True  # “Flight 2: …”, “Act 2 (5:00–9:00)”
    switched = before in ("every", "after") and any(
        t.low in ("switch", "switching", "change", "changing", "alternate", "alternating") for t in tokens[:at]
    )
    if switched:
        return True  # “one arm, switch every 5 reps”
    pointing = before in ("those", "these", "them") and tokens[at].text.isalpha()  # “you repeat those two for …”
    if (
        pointing
        or behind in ("%", "go", "scores")
        or before
        in (
            "arm",
            "workout",
            "event",
            "test",
            "wod",
            "no",
            "week",
            "#",
            "weight",
            "load",
            "minute",
        )
    ):
        return True
    if at and tokens[at - 1].end == tokens[at].start and tokens[at - 1].kind is Kind.WORD and before not in "x×":
        return True  # a label: “E4”
    if at + 1 < len(tokens) and tokens[at + 1].cue("part", "stage", "window"):
        return True
    if before == "of" and at + 1 < len(tokens) and tokens[at + 1].cue("barbell"):
        return True  # “each of eight bars”
    if at + 1 < len(tokens) and tokens[at + 1].start == tokens[at].end and len(behind) == 1 and behind.isalpha():
        return True  # a label: “6A”
    row = [t.number for t in tokens[max(0, at - 4) : at + 5] if t.kind is Kind.NUMBER]
    way = at + 1 < len(tokens) and tokens[at + 1].unit("m", "km", "mile")  # “1 mile on the air runner”
    return any(row[i : i + 3] == [3, 2, 1] for i in range(len(row))) or (tokens[at].number == 1 and not way)


def skip(tokens: Sequence[Token], at: int, words: Set[str], marks: str = "-–") -> int:
    """Return the first place from a token on that holds none of the words and marks."""
    while at < len(tokens) and (tokens[at].low in words or tokens[at].mark(marks)):
        at += 1
    return at


@dataclass(slots=True)
class WordRow:
    """The words of one sentence; `works` are the places where counted work begins, `machine` the only one named.

    `capping` if they stand under a heading for the time cap, `minutes` if two numbers head a stretch of the clock.
    """

    tokens: Sequence[Token]
    library: Library
    machine: str = ""
    capping: bool = False
    minutes: bool = False
    works: set[int] = field(default_factory=set)

    def token(self, at: int) -> Token | None:
        """Return the token at an index, None outside."""
        return self.tokens[at] if 0 <= at < len(self.tokens) else None

    def lead(self, at: int) -> str:
        """Return the word before a token, without case."""
        before = self.token(at - 1)
        return before.low if before is not None else ""

    def dots(self, at: int) -> int:
        """Return how many tokens an ellipsis at a token takes, 0 if there is none."""
        if at < len(self.tokens) and self.tokens[at].text == "…":
            return 1
        dots = 0
        while at + dots < len(self.tokens) and self.tokens[at + dots].text == ".":
            dots += 1
        return dots if dots > 1 else 0

    def cue_at(self, at: int, name: str) -> bool:
        """Return whether a cue stands at a place."""
        token = self.token(at)
        return token is not None and token.cue(name)

    def number_at(self, at: int) -> bool:
        """Return whether a number stands at a place."""
        token = self.token(at)
        return token is not None and token.kind is Kind.NUMBER

    def points(self, at: int) -> bool:
        """Return whether the words before a number point at work named before: “after the 21 thrusters”."""
        before = [token for token in self.tokens[max(0, at - 3) : at] if not token.mark("“”\"'(")]
        if not before or self._begins(at, before):
            return False
        begun = before[-1].low == "at" and len(before) > 1 and before[-2].low.startswith(("begin", "start"))
        if begun or before[-1].low in vocabulary("pointers") or before[-1].low in POINTING:
            return True
        for token in reversed(before):
            if token.mark(",:;") or token.kind in (Kind.NUMBER, Kind.MOVEMENT, Kind.CLOCK):
                return False
            if token.cue("each_round") and {"round", "set", "rung"} & set(token.low.split()):
                return False  # “after each round do 15 double-unders”
            if token.low in ("after", "until", "when", "during", "between", "having") or token.cue("before"):
                return True
        return False

    def _begins(self, at: int, before: Sequence[Token]) -> bool:
        """Return whether the words before a number lead to new work, though one of them may point back."""
        last, ahead = before[-1], before[-2] if len(before) > 1 else None
        if last.cue("each_round") and {"round", "set", "rung"} & set(last.low.split()):
            return True  # “after each round 20 double-unders”
        opening = ahead is None or ahead.mark(":,;–—-")
        if last.low in ("sets", "rounds") and {"between"} & {token.low for token in before[:-1]}:
            return True  # “between the sets 20 air squats”
        if last.low == "first" and opening and any(token.cue("then") for token in self.tokens[at:]):
            return True  # “10 minutes: first 50 double-unders, then …”
        if last.low == "between" and ahead is not None and ahead.low in TURNING:
            return True  # “you alternate between 15 calories and 9 burpees”
        unit = self.token(at + 3)
        told = self.number_at(at + 2) and self.lead(at + 2) == "for" and unit is not None and unit.unit("cal", "m")
        if told and self.tokens[at].kind is Kind.MOVEMENT:
            return True  # “back to the rower for 20 calories”
        return last.low == "sets of" and whole(self.token(at - 2))  # “5 sets of 12 wall balls”


def nouns_of(tokens: Sequence[Token]) -> list[str]:
    """Return the movements and implements a sentence names, in order."""
    return [t.name for t in tokens if t.kind is Kind.MOVEMENT or t.cue(*IMPLEMENTS)]
