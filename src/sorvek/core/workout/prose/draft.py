"""What grows while an announcement is read: sentences with what they say, blocks, and what is found beside them."""

from collections.abc import Iterator, Sequence, Set
from dataclasses import dataclass, field
from itertools import pairwise
from typing import TypeVar

from sorvek.core.workout import tree as w
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.lines import Sentence
from sorvek.core.workout.prose.words import Kind, Token

LONGEST_DOUBT = 160
T = TypeVar("T", bound=p.Phrase)


@dataclass(slots=True)
class Node:
    """A block that grows: an item is known by its `work` until all loads are read."""

    tokens: list[Token]
    block: w.Block | None = None
    work: p.WorkLine | None = None
    inner: list["Node"] = field(default_factory=list)
    sentence: int = 0
    rising: bool = False
    times: int = 1  # a rising line has so many times the count of its rung, and `more`
    more: int = 0
    others: tuple[tuple[str, str], ...] = ()

    def items(self) -> Iterator["Node"]:
        """Yield every line of work in here, in order."""
        if self.work is not None:
            yield self
        for node in self.inner:
            yield from node.items()


@dataclass(slots=True)
class Said:
    """A sentence, what it says, whether it was needed, whether it says what metres are worth."""

    sentence: Sentence
    phrases: list[p.Phrase]
    used: bool = False
    doubted: bool = False
    valued: bool = False

    def of(self, kind: type[T]) -> list[T]:
        """Return its phrases of one kind."""
        return [phrase for phrase in self.phrases if isinstance(phrase, kind)]

    def has(self, *kinds: type[p.Phrase]) -> bool:
        """Return whether a phrase of one of the kinds is among them."""
        return any(isinstance(phrase, kinds) for phrase in self.phrases)

    def cue(self, *names: str) -> bool:
        """Return whether one of the cues is in it, at the head of a time included."""
        return any(token.cue(*names) for token in (*self.sentence.lead, *self.sentence.tokens))

    def opens_with(self, words: Set[str]) -> bool:
        """Return whether it begins with one of the words, a label before it left out: “Level 4: max pull-ups”."""
        tokens = self.sentence.tokens
        heads = [behind for token, behind in pairwise(tokens) if token.mark(":")]
        return any(token.low in words for token in (tokens[0], *heads[:1]))

    def stage(self) -> p.Cue | None:
        """Return the number of a stage, or of a part that must be done in time, None if there is none."""
        gated = bool({"must", "until"} & self.low()) or self.cue("if")
        kinds = ("stage", "part") if gated else ("stage",)
        return next((c for c in self.of(p.Cue) if c.name in kinds and c.number), None)

    def low(self) -> set[str]:
        """Return its words without case."""
        return {token.low for token in self.sentence.tokens}

    def tokens(self, phrase: p.Phrase) -> list[Token]:
        """Return the tokens of one of its phrases."""
        return self.sentence.tokens[phrase.lo : phrase.hi]

    def text(self) -> str:
        """Return the sentence as one line."""
        colon = (
            [Token(Kind.MARK, ":", self.sentence.lead[-1].end, self.sentence.lead[-1].end + 1)]
            if self.sentence.lead
            else []
        )
        return words_of([*self.sentence.lead, *colon, *self.sentence.tokens])


def words_of(tokens: Sequence[Token]) -> str:
    """Return tokens as they were written, spaces as they stood, line breaks as spaces."""
    pieces = []
    for before, token in zip([None, *tokens], tokens, strict=False):
        pieces.append(" " if before is not None and token.start > before.end else "")
        pieces.append(token.text.replace(" - ", "-"))
    return "".join(pieces).strip(" .,;")


@dataclass(frozen=True, slots=True)
class OwnSeries:
    """The rep series that some divisions do instead of that for all, and the words it came from.

    It is that of the `movements` named and of what is counted in `unit` only, empty for all.
    """

    divisions: tuple[str, ...]
    counts: tuple[int, ...]
    tokens: list[Token]
    movements: tuple[str, ...] = ()
    unit: str = ""


@dataclass(slots=True)
class Facts:
    """What was found beside the work: the form and its time, amounts that stand apart, the lift, the tie-break.

    `alike` are levels that do as another one, by name; `tries` how many attempts the clock gives, 0 for any number;
    `scored` are the only movements that count, `lift_ends_s` is when a lift in the time that is left ends.
    """

    form: w.Form = w.Form.UNKNOWN
    cap_s: float = 0.0
    tokens: list[Token] = field(default_factory=list)
    lift: w.MaxLift | None = None
    lift_tokens: list[Token] = field(default_factory=list)
    second_tokens: list[Token] = field(default_factory=list)
    asked: list[tuple[str, list[Token]]] = field(default_factory=list)
    used: list[Token] = field(default_factory=list)
    round_cap_s: float = 0.0
    round_cap_tokens: list[Token] = field(default_factory=list)
    every: w.Every | None = None
    every_tokens: list[Token] = field(default_factory=list)
    tries: int = 0
    lift_ends_s: float = 0.0
    scored: tuple[str, ...] = ()
    alike: dict[str, str] = field(default_factory=dict)
    own_series: list[OwnSeries] = field(default_factory=list)


def means(name: str, movement: str) -> bool:
    """Return whether a movement may be named so for short: the burpees of a “lateral burpee over dumbbell”."""
    short, full = name.replace("-", " ").split(), movement.replace("-", " ").split()
    return set(short) <= set(full) or short[-1] == full[-1]


def origins(node: Node) -> Iterator[tuple[Node, list[Token]]]:
    """Yield a block and all inside it in the order in which they are printed, with the words they came from."""
    yield node, node.tokens
    if node.work is None:
        for inner in node.inner:
            yield from origins(inner)
