"""Blocks in the order of the text: what is open, what repeats what, where the next one goes."""

from collections.abc import Sequence

from sorvek.core.workout import tree as w
from sorvek.core.workout.movements import Library
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.draft import Node, Said
from sorvek.core.workout.prose.lines import Sentence
from sorvek.core.workout.prose.words import Token

MOST_VISITS = 400


class Blocks:
    """The blocks an announcement adds up to, and where the next one goes."""

    def __init__(self, library: Library) -> None:
        self.library = library
        self.body: list[Node] = []
        self.open: list[Node] = []
        self.stages: list[Node] = []
        self.windows: list[Node] = []
        self.parts: list[Node] = []
        self.ranges: list[p.Range] = []
        self.open_line: Sentence | None = None
        self.last_line = 0
        self.deeper = False
        self.open_item = False  # the open block and its work are one item of a list
        self.open_whole = False  # the line that opened the block holds all its work
        self.etc = False
        self.steps: list[tuple[Said, p.Step]] = []
        self.number = 0
        self.gaps_mean = True
        self.amrap = False
        self.windowed = False
        self.first_s = 0.0
        self.one_round = False  # whether what was listed is said to be one round
        self.intervals = 0  # rounds that begin by the clock, told with the form
        self.alternating = False  # minutes have work of their own in turn
        self.turns_at: set[int] = set()  # sentences, by identity, with the work of one of them
        self.parting: Node | None = None  # a rest told to stand between parts that come later
        self.part_starts: list[int] = []  # where numbered parts behind the first begin
        self.bought = False  # work that is done once stands first
        self.said_again: list[Token] = []  # words that only say what is listed below them

    def place(self) -> list[Node]:
        """Return the list the next block goes into."""
        if self.open:
            return self.open[-1].inner
        if self.parts:
            return self.parts[-1].inner
        if self.windows:
            return self.windows[-1].inner
        return self.stages[-1].inner if self.stages else self.body

    def close(self) -> None:
        """End the repeated block that is open, if work stands in it."""
        while self.open and any(True for _ in self.open[-1].items()):
            closed = self.open.pop()
            if isinstance(closed.inner[0].block, w.Rest) and closed.inner[0].rising:
                closed.inner.append(closed.inner.pop(0))  # a rest between rounds that is told before the work
            # A rest alone in a block parts it from what comes behind, unless every round is told to have it.
            rests = [i for i, node in enumerate(closed.inner) if isinstance(node.block, w.Rest) and not node.rising]
            if len(rests) == 1 and rests[0]:
                self.place().extend(closed.inner[rests[0] :])
                del closed.inner[rests[0] :]
        if not self.open:
            self.deeper = False

    def rest_inside(self) -> None:
        """Put a rest at the very end into the rounds before it: nothing else comes that it could part them from."""
        last = [node for node in self.body if not isinstance(node.block, w.Doubt)][-2:]
        if len(last) == 2 and isinstance(last[0].block, w.Rounds) and isinstance(last[1].block, w.Rest):
            self.body.remove(last[1])
            last[0].inner.append(last[1])

    def put(self, node: Node) -> None:
        """Add a block where the text stands."""
        node.sentence = self.number
        self.place().append(node)

    def repeat(self, said: Said, node: Node) -> None:
        """Open a repeated block."""
        self.close()
        before = self.open[-1] if self.open else None
        counts = len(node.block.counts) if isinstance(node.block, w.Series) else 0
        if before is not None and not before.inner and before.block == w.Rounds(counts, ()):
            # “Three rounds with falling reps: 24, 18, 12” are the rounds of the series.
            self.open.pop()
            self.place().remove(before)
            node.tokens = before.tokens + node.tokens
        if self.open and not self.open[-1].inner and type(self.open[-1].block) is type(node.block):
            return
        resting = self.place()[-1:]
        if resting and isinstance(resting[0].block, w.Rest) and resting[0].rising and not self.visits():
            self.place().pop()  # “with 60 seconds of rest after each of the 4 rounds: …”
            node.inner += resting
        self.put(node)
        self.open.append(node)
        self.open_line, self.deeper = said.sentence, False
        works, last = said.of(p.WorkLine), said.sentence.tokens[-1]
        self.open_item = said.sentence.bullet and bool(works)
        self.open_whole = len(works) > 1 and not (last.mark(",:+&") or last.low in ("and", "plus"))

    def visits(self) -> list[tuple[str, int]]:
        """Return movement and count of every line of work, series unrolled, as far as it matters."""
        found: list[tuple[str, int]] = []
        _unrolled([*self.body, *self.stages, *self.windows, *self.parts], 0, found)
        return found

    def wrap(self, place: list[Node], first: int, node: Node) -> None:
        """Put the blocks of a list from one on into a block."""
        node.inner = place[first:]
        node.sentence = self.number
        place[first:] = [node]

    def part(self) -> None:
        """Put the rest that was told before between the blocks, if none stands there."""
        rests = any(isinstance(node.block, w.Rest) for node in self.body)
        if self.parting is None or rests:
            return
        parted: list[Node] = []
        for at, node in enumerate(self.body):
            again = (
                at in self.part_starts
                if self.part_starts
                else parted and not isinstance(node.block, w.Doubt | w.TieBreak)
            )
            parted += [Node(list(self.parting.tokens), self.parting.block), node] if again else [node]
        self.body = parted

    def between(self, node: Node) -> None:
        """Put a rest between two parts: here if the second is still to come, else before the last block."""
        self.close()
        blocks = [n for n in self.body if n.inner or n.work is not None]
        if len(blocks) == 2:
            self.body.insert(self.body.index(blocks[1]), node)
        else:
            self.put(node)

    def begin_window(self, tokens: list[Token]) -> None:
        """Begin the next window."""
        self.close()
        self.open = []
        self.windows.append(Node(tokens, w.Window(())))

    def begin_part(self, number: int, seconds: float, tokens: list[Token]) -> None:
        """Begin a part with a time of its own."""
        self.close()
        self.open = []
        self.parts.append(Node(list(tokens), w.TimedPart(seconds, ()), sentence=number))

    def doubt(self, words: str, tokens: Sequence[Token]) -> None:
        """Note what is not understood where the text stands."""
        self.put(Node(list(tokens), w.Doubt(words)))


def tail_of(place: Sequence[Node]) -> list[Node]:
    """Return the lines of work at the end that stand in no block yet."""
    tail: list[Node] = []
    for node in reversed(place):
        if node.work is None:
            break
        tail.insert(0, node)
    return tail


def _unrolled(nodes: Sequence[Node], count: int, found: list[tuple[str, int]]) -> None:
    for node in nodes:
        if len(found) > MOST_VISITS:
            return
        if node.work is not None:
            found.append((node.work.movement, node.work.counts[0] if node.work.counts else count))
        match node.block:
            case w.Rounds(count=times):
                for _ in range(max(1, min(times, 12))):
                    _unrolled(node.inner, count, found)
            case w.Series() | w.Ladder() as block:
                counts = block.counts if isinstance(block, w.Series) else block.counts()
                for rung in counts[:60]:
                    _unrolled(node.inner, rung, found)
            case _:
                _unrolled(node.inner, count, found)
