"""From sentences to blocks: what repeats what, what comes after what."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from itertools import pairwise

from sorvek.core.workout import tree as w
from sorvek.core.workout.movements import Library
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.draft import Facts, Node, Said, words_of
from sorvek.core.workout.prose.lines import Sentence
from sorvek.core.workout.prose.words import Kind, Token, vocabulary

MOST_VISITS = 400
MOST_TIMES = 9  # what the notation has for times a rung
BUYING = {"buy in", "buy-in", "buyin", "cash in", "cash-in", "cashin"}
AGAIN = {"for", "total", "altogether", "times", "complete", "times through"}
TURNS = {"odd", "even"}  # minutes that have work of their own in turn


class Builder:
    """Takes sentences in order; `body` is what they add up to."""

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
        self.intervals = 0  # rounds that begin by the clock, told with the form
        self.alternating = False  # minutes have work of their own in turn
        self.turns_at: set[int] = set()  # sentences, by identity, with the work of one of them
        self.parting: Node | None = None  # a rest told to stand between parts that come later
        self.part_starts: list[int] = []  # where numbered parts behind the first begin
        self.bought = False  # work that is done once stands first
        self.said_again: list[Token] = []  # words that only say what is listed below them

    # Where things go

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

    # Sentences

    def take(self, number: int, said: Said) -> None:
        """Add what a sentence of work says."""
        self.number = number
        self._layout(said)
        said.used = True
        self._gate(said)
        if id(said) in self.turns_at:
            self._begin_window([*said.sentence.lead, *(said.sentence.tokens[:2] if self.alternating else [])])
        begun = len(self.place())
        firm = [i for i, phrase in enumerate(said.phrases) if isinstance(phrase, p.WorkLine) and not phrase.pointed]
        turns = [i for i, token in enumerate(said.sentence.tokens) if self.alternating and token.low in TURNS]
        for index, phrase in enumerate(said.phrases):
            if turns and isinstance(phrase, p.WorkLine):
                turns = self._turned(said, phrase, turns)
            # A count of rounds behind all work of its sentence is of that work.
            post = bool(firm) and firm[-1] < index
            match phrase:
                case p.RoundCount():
                    self._rounds(said, phrase, post, begun)
                case p.RepCounts():
                    self._series(said, phrase, post, begun)
                case p.WorkLine():
                    self._work(said, phrase)
                case p.Numbered():
                    self._numbered(said, phrase)
                case _:
                    self._beside(said, phrase)
        self._as_many(said)

    def _as_many(self, said: Said) -> None:
        """Repeat to the end what is done as often as there is time for: “then max ring muscle-ups”."""
        last = self.place()[-1] if self.place() else None
        work = last.work if last is not None and last.sentence == self.number else None
        opens = said.cue("then", "remaining") or said.sentence.tokens[0].low in ("max", "maximum")
        most = {"max", "maximum"} & said.low() and opens and not said.has(p.Lift)
        if (
            self.amrap
            and most
            and len(self.visits()) > 1
            and last is not None
            and work is not None
            and not work.counts
            and not self.open
        ):
            self.place().pop()
            self.put(Node([], w.Rounds(0, ()), inner=[last]))

    def _beside(self, said: Said, phrase: p.Phrase) -> None:
        """Take what is neither work nor repeats it."""
        match phrase:
            case p.Span(role="rest"):
                self._rest(said, phrase)
            case p.Step():
                self.steps.append((said, phrase))
            case p.Range():
                self._range(said, phrase)
            case p.Unknown() if self._counts_so(said.tokens(phrase)) or self._both_hands(said, phrase):
                pass  # “the squats stay at ten”
            case p.Unknown():
                self.doubt(words_of(said.tokens(phrase)), said.tokens(phrase))
            case p.Cue():
                self._cue(said, phrase)

    def take_doubt(self, number: int, said: Said, words: str) -> None:
        """Put a line that is not understood where it stands."""
        self.number = number
        self._layout(said)
        said.used = said.doubted = True
        self.doubt(words, [*said.sentence.lead, *said.sentence.tokens])

    def _layout(self, said: Said) -> None:
        """Close the open block where the layout or a “then” says that it is over."""
        sentence = said.sentence
        if not self.open or self.open_line is None:
            return
        begins = sentence.first or sentence.line > self.last_line  # “C.” before it is a sentence of its own
        self.last_line = sentence.line
        if begins and sentence.line != self.open_line.line:
            if sentence.indent > self.open_line.indent:
                self.deeper = True
            elif self.deeper or (self.open_item and sentence.bullet) or self._line_was_all(said):
                self.close()
        head = [token for token in sentence.tokens[:3] if token.kind is not Kind.MARK][:2]
        inner = self.open and isinstance(self.open[-1].block, w.Rounds) and self.open[-1].block.count == 0
        if head and head[0].low == "and":
            head = head[1:]
        then = any(token.cue("then") or token.low == "last" for token in head[:1])
        if (sentence.gap and self.gaps_mean and not inner) or then:
            self.close()

    def _line_was_all(self, said: Said) -> bool:
        """Return whether the line that opened a block holds all its work, and this one is not of every round."""
        return self.open_whole and not said.cue("each_round", "every")

    def _rounds(self, said: Said, phrase: p.RoundCount, post: bool, begun: int) -> None:
        tokens = said.tokens(phrase)
        told_late = self.amrap and not said.of(p.WorkLine) and bool(self.visits())
        if phrase.count == 1 and phrase.lo and said.sentence.tokens[phrase.lo - 1].cue("then"):
            self.close()  # “…, then once: 40 box jumps”
        if phrase.pointed or told_late or phrase.count in (1, self.intervals):
            return
        place = self.place()
        bare = [node for node in place if node.work is not None or isinstance(node.block, w.Rest)]
        again = said.cue("repeat") or bool(AGAIN & said.low())
        if post and not self.open and begun < len(place):
            self._wrap(place, begun, Node(tokens, w.Rounds(phrase.count, ())))
        elif not said.of(p.WorkLine) and again and bare and not self.open and bare[-1] is place[-1]:
            first = place.index(bare[0]) if len(bare) == len(place) else len(place) - len(_tail(place))
            self._wrap(place, first, Node(tokens, w.Rounds(phrase.count, ())))
        elif not post or self.open:
            if post and self.open and self.open[-1].sentence == self.number:
                return
            self.repeat(said, Node(tokens, w.Rounds(phrase.count, ())))

    def _numbered(self, said: Said, phrase: p.Numbered) -> None:
        """Open rounds told by their numbers; in an AMRAP the row of them is what repeats."""
        self.close()
        if phrase.last < phrase.first or any(work.lo < phrase.lo for work in said.of(p.WorkLine)):
            return
        node = Node(said.tokens(phrase), w.Rounds(phrase.last - phrase.first + 1, ()))
        if not self.amrap:
            self.repeat(said, node)
            return
        again = self.body[-1] if self.body and self.body[-1].block == w.Rounds(0, ()) else None
        if again is None:
            self.open = []
            again = Node([], w.Rounds(0, ()))
            self.put(again)
        self.open = [again]
        self.put(node)
        self.open.append(node)
        self.open_line, self.deeper = said.sentence, False

    def _wrap(self, place: list[Node], first: int, node: Node) -> None:
        node.inner = place[first:]
        node.sentence = self.number
        place[first:] = [node]

    def _series(self, said: Said, phrase: p.RepCounts, post: bool, begun: int) -> None:
        tokens = said.tokens(phrase)
        place = self.place()
        if phrase.turns and phrase.counts[0] == 0:
            self._climbed(phrase, tokens)
            return
        near = said.sentence.tokens[phrase.hi : phrase.hi + 3]
        before = said.sentence.tokens[max(0, phrase.lo - 1) : phrase.lo]
        if any(token.cue("women") for token in near) or any(token.cue("men", "women") for token in before):
            self.doubt(f"{words_of(said.sentence.tokens)}: which movements have other counts for women?", tokens)
            return
        if self._times_the_series(said, phrase):
            return
        block = _series_block(phrase, self.amrap)
        if block is None:
            self.doubt(f"{words_of(tokens)}: it is not clear how the counts go on", tokens)
            return
        beside = place[-1].work if len(place) > begun and not self.open else None
        if beside is not None and not beside.counts and phrase.open and phrase.lo - beside.hi <= 1:
            self._wrap(place, len(place) - 1, Node(tokens, block))  # “pull-ups 5, 10, 15 … with 5 front squats”
            return
        countless = [node for node in place[begun:] if node.work is not None and not node.work.counts]
        if post and countless and not self.open:
            self._wrap(place, place.index(countless[0]), Node(tokens, block))
        elif not post and not self.open and _tail(place) and not _later_work(said, phrase):
            tail = _tail(place)
            if any(node.work is not None and not node.work.counts for node in tail):
                self._wrap(place, len(place) - len(tail), Node(tokens, block))
            else:
                self.repeat(said, Node(tokens, block))
        elif self.open and self.open[-1].block == block and self._one_line_open(said):
            self.open[-1].tokens += tokens
        else:
            self.repeat(said, Node(tokens, block))

    def _times_the_series(self, said: Said, phrase: p.RepCounts) -> bool:
        """Read a line's own counts that are so many times those of its series: “double-unders (100-80-60)”."""
        series = self.open[-1] if self.open else None
        line = series.inner[-1] if series and series.inner else None
        if series is None or line is None or line.work is None or not isinstance(series.block, w.Series):
            return False
        bracket = phrase.lo > 0 and said.sentence.tokens[phrase.lo - 1].mark("(")
        beside = bracket and line.sentence == self.number and line.work.hi <= phrase.lo and not line.work.counts
        ratios = {b / a for a, b in zip(series.block.counts, phrase.counts, strict=False)}
        alike = len(series.block.counts) == len(phrase.counts) and len(ratios) == 1
        times = ratios.pop() if alike else 0
        if not (beside and 1 < times <= MOST_TIMES and not times % 1):
            return False
        line.times, line.rising = int(times), True
        line.tokens += said.tokens(phrase)
        return True

    def _one_line_open(self, said: Said) -> bool:
        """Return whether the open series has one line, or its last in this sentence: “21-15-9 A, 21-15-9 B”."""
        items = list(self.open[-1].items())
        return len(items) == 1 or bool(items and items[-1].sentence == self.number)

    def _climbed(self, phrase: p.RepCounts, tokens: list[Token]) -> None:
        """Fold a first rung that is listed, “1 deadlift, 1 burpee, … up to 8”, into a ladder."""
        place = self.place()
        tail = _tail(place)
        counts = [node.work.counts[0] for node in tail if node.work is not None and node.work.counts]
        if not counts:
            return
        first = counts[0]
        rung = [node for node in tail if node.work is not None and node.work.counts][: counts.count(first)]
        for node in rung:
            node.rising = True
        ladder = Node(
            tokens + [t for node in tail[len(rung) :] for t in node.tokens],
            w.Ladder(first, 0, phrase.counts[1:], ()),
        )
        ladder.inner = rung
        place[len(place) - len(tail) :] = [ladder]

    def _work(self, said: Said, phrase: p.WorkLine) -> None:
        tokens = said.tokens(phrase)
        if phrase.pointed:
            return
        listing = self._counting() and not self.open[-1].inner
        sided = phrase.side is not w.Side.BOTH
        asked = phrase.counts or sided or listing or self._most(said, phrase)
        if not asked and phrase.sizes and (self._known(phrase.movement) or self._shortened(phrase.movement)):
            return
        if not phrase.counts and said.has(p.Lift):
            return
        again = self.windowed and phrase.counts and said.has(p.Step)
        if again and (phrase.movement, phrase.counts[0]) in self.visits():
            return  # “each further window: 500 m row and 5 more cleans”
        open_ended = self._most(said, phrase) or said.cue("amrap")
        mention = not (phrase.counts or self._counting() or open_ended or self.parts)
        if mention and self._known(phrase.movement):
            return  # “bike for the calories”
        once = any(token.cue("buy_in") for token in (*said.sentence.lead, *said.sentence.tokens[: phrase.lo]))
        if self.bought and self.amrap and not self.open and self.body and not once:
            self.repeat(said, Node([], w.Rounds(0, ())))
        if (
            not phrase.counts
            and not self._counting()
            and not (_bare_list(said) and not said.has(p.Step))
            and not said.of(p.RepCounts)
            and not said.cue("amrap")
            and not self._most(said, phrase)
            and not (self.parts and not {"total", "count", "counts"} & said.low())
        ):
            return
        lo = phrase.lo
        if self.open and self._then_before(said, lo):
            self.close()
        self.put(Node(tokens, None, phrase))

    def _most(self, said: Said, phrase: p.WorkLine) -> bool:
        """Return whether an AMRAP is, or ends with, as many of a movement as there is time for: “max burpees”."""
        back = 4 if phrase.unit else 2  # “max calories on the rower”
        near = {token.low for token in said.sentence.tokens[max(0, phrase.lo - back) : phrase.hi]}
        near |= said.low() if said.cue("remaining") else set()  # “row for max calories in the time left”
        return self.amrap and bool({"max", "maximum"} & near)

    def _counts_so(self, tokens: Sequence[Token]) -> bool:
        """Return whether words are nothing but a count that was read before."""
        said = [token for token in tokens if token.kind is not Kind.MARK]
        return len(said) == 1 and said[0].number in {count for _, count in self.visits()}

    def _both_hands(self, said: Said, phrase: p.Phrase) -> bool:
        """Return whether words only say again that a movement is done with two: “power cleans (2 dumbbells)”."""
        tokens = said.sentence.tokens[phrase.lo : phrase.hi + 1]
        before = [work for work in said.of(p.WorkLine) if work.hi <= phrase.lo]
        held = before and self.library.movements[before[-1].movement].gear.startswith("two")
        return bool(held) and len(tokens) > 1 and tokens[0].number == 2 and tokens[1].cue("dumbbell", "kettlebell")

    def _known(self, movement: str) -> bool:
        """Return whether a movement is counted already: what comes with it now is its load."""
        if self.parts:
            return any(item.work.movement == movement for item in self.parts[-1].items() if item.work)
        return any(name == movement for name, _ in self.visits())

    def _shortened(self, movement: str) -> bool:
        """Return whether a name is a shorter one for work that is counted: “Snatch: 61/43 kg” of squat snatches."""
        words = set(movement.replace("-", " ").split())
        return not self.parts and any(words < set(name.replace("-", " ").split()) for name, _ in self.visits())

    def _counting(self) -> bool:
        """Return whether a series gives its count to what is listed."""
        return any(isinstance(node.block, w.Series | w.Ladder) for node in self.open)

    def _then_before(self, said: Said, at: int) -> bool:
        """Return whether “A and B, then C” takes C out of the block that A and B stand in."""
        tokens = said.sentence.tokens
        index = at - 1
        while index >= 0 and (
            tokens[index].kind is Kind.WORD
            or tokens[index].mark(",–-")
            or tokens[index].low in ("another", "extra", "max", "maximum")
        ):
            index -= 1
        if index < 1 or not tokens[index].cue("then"):
            return False
        if tokens[index].low in vocabulary("endings"):
            return True
        works = [phrase for phrase in said.of(p.WorkLine) if phrase.hi <= index and not phrase.pointed]
        between = tokens[works[-2].hi : works[-1].lo] if len(works) > 1 else []
        return any(token.low in ("and", "plus", "&") for token in between)

    def _rest(self, said: Said, phrase: p.Span) -> None:
        node = Node(said.tokens(phrase), w.Rest(phrase.seconds))
        before = {word for t in said.sentence.tokens[max(0, phrase.lo - 4) : phrase.lo] for word in t.low.split()}
        if {"until", "till"} & before or (phrase.lo and said.sentence.tokens[phrase.lo - 1].low == "to"):
            self.doubt(f"{words_of(said.sentence.tokens)}: how long is the rest?", said.tokens(phrase))
            return
        of_rounds = said.cue("rounds", "each_round", "set", "every") or said.has(p.RoundCount)
        node.rising = bool({"between", "after", "follows"} & said.low()) and of_rounds
        if self.parts and "between" in said.low() and not of_rounds and not said.of(p.WorkLine):
            self.parting = node  # “rest three minutes between the tests”
            return
        between = said.cue("part") or ("between" in said.low() and not of_rounds)
        apart = between and bool({"between", "after", "separated"} & said.low()) and not self.parts
        if not said.of(p.WorkLine) and apart:
            node.rising = False
            if self.body:
                self.between(node)
            else:
                self.parting = node
            return
        if node.rising and not self.open and self.place() and isinstance(self.place()[-1].block, w.Rounds):
            self.place()[-1].inner.append(node)
            return
        self.put(node)

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

    def _range(self, said: Said, phrase: p.Range) -> None:
        self.ranges.append(phrase)
        if said.cue("lift") and said.of(p.Lift):
            self.close()
            return
        if self.parts:
            return
        self._begin_window(said.tokens(phrase))

    def _cue(self, said: Said, phrase: p.Cue) -> None:
        again = phrase.name == "rounds" and not phrase.number and self.bought
        if phrase.name == "buy_in" and phrase_low(said, phrase) in BUYING:
            self.bought = True
        elif phrase.name in ("window", "amrap", "remaining") and self.parts:
            pass  # where parts have a time each these words say no more
        elif phrase.name == "window":
            self._window(said, phrase)
        elif phrase.name == "rounds" and phrase.number:
            self._numbered_round(said, phrase)
        elif phrase.name == "part" and phrase.number > 1:
            self.close()
            self.part_starts.append(len(self.body))
        elif phrase.name in ("etc", "until_missed"):
            self.etc = True
        elif phrase.name == "remaining" and self._countless(said, phrase):
            node = self.place().pop()
            self.put(Node(said.tokens(phrase), w.Rounds(0, ()), inner=[node]))
        elif again or phrase.name == "remaining" or (phrase.name == "amrap" and self._bought_in(said)):
            self.close()
            self.repeat(said, Node(said.tokens(phrase), w.Rounds(0, ())))

    def _numbered_round(self, said: Said, phrase: p.Cue) -> None:
        """Take a round told by its number."""
        if self._from_here(said, phrase):
            self._go_on(said, phrase)
        elif self.windowed and phrase.number == len(self.windows) + 1:
            self._begin_window(said.tokens(phrase))
        elif phrase.number == 1 and self.open and not self.open[-1].inner:
            self._drop_open()  # the rounds are listed one by one

    def _from_here(self, said: Said, phrase: p.Cue) -> bool:
        """Return whether a round is the first of those to the end of an AMRAP: “from round 7 on: …”."""
        before = said.sentence.tokens[phrase.lo - 1].low if phrase.lo else ""
        return self.amrap and before == "from" and bool(self.visits())

    def _go_on(self, said: Said, phrase: p.Cue) -> None:
        """Do the numbered rounds before once, and what comes now to the end."""
        self.close()
        self.open = []
        again = self.body[-1] if self.body and self.body[-1].block == w.Rounds(0, ()) else None
        if again is not None:
            self.body[-1:] = again.inner
        self.repeat(said, Node(said.tokens(phrase), w.Rounds(0, ())))

    def _drop_open(self) -> None:
        while self.open and not self.open[-1].inner:
            listed = self.open.pop()
            self.place().remove(listed)
            self.said_again += listed.tokens

    def _window(self, said: Said, phrase: p.Cue) -> None:
        """Begin a window that is numbered, or told as the next one with its work."""
        ahead = self.windowed and _next(said, phrase)
        if phrase.number == len(self.windows) + 2 and not self.windows and self.body:
            self.windows.append(Node([], w.Window(()), inner=self.body))  # the first is told with the form
            self.body = []
        here = any(node.sentence == self.number for node in self.body)
        if not (phrase.number or ahead) or (phrase.number == 1 and here and not self.windows):
            return
        if ahead and not self.windows and self.body:
            self.windows.append(Node([], w.Window(()), inner=self.body))
            self.body = []
        self._begin_window(said.tokens(phrase))

    def _turned(self, said: Said, work: p.WorkLine, turns: list[int]) -> list[int]:
        """Begin the window of a turn told before work, “odd minutes: …”, or behind it; return the turns to come."""
        behind = next((i for i in turns if i >= work.hi), 0)
        if turns[0] < work.lo or behind:
            at = turns[0] if turns[0] < work.lo else behind
            self._begin_window(said.sentence.tokens[at : at + 1])
            return [i for i in turns if i > at]
        return turns

    def _begin_window(self, tokens: list[Token]) -> None:
        self.close()
        self.open = []
        self.windows.append(Node(tokens, w.Window(())))

    def _countless(self, said: Said, phrase: p.Cue) -> bool:
        """Return whether a cue stands behind work without a count: “max wall walks in the remaining time”."""
        last = self.place()[-1] if self.place() else None
        work = last.work if last is not None and last.sentence == self.number else None
        return work is not None and not work.counts and work.hi <= phrase.lo and not self.open

    def _bought_in(self, said: Said) -> bool:
        """Return whether open rounds begin behind work that is done once."""
        return bool(self.body) and not self.open and any(True for node in self.body for _ in node.items())

    def begin_part(self, number: int, seconds: float, tokens: list[Token]) -> None:
        """Begin a part with a time of its own."""
        self.close()
        self.open = []
        self.parts.append(Node(list(tokens), w.TimedPart(seconds, ()), sentence=number))

    # Stages

    def _gate(self, said: Said) -> None:
        """Begin the next stage: “if done before 5:00 the cap is extended to 8:00”, “stage 2, cap 8:00”."""
        spans = said.of(p.Span)
        numbered = said.stage()
        caps = [span for span in spans if span.role in ("cap", "before", "within", "")]
        if numbered is not None and caps and (numbered.number == len(self.stages) + 1):
            self._next_stage(said, caps[0].seconds, said.tokens(numbered) + said.tokens(caps[0]))
            return
        extends = [span for span in spans if span.role == "extend"]
        until = [span for span in spans if span.lo and said.sentence.tokens[span.lo - 1].low in ("until", "till")]
        spans = [span for span in spans if span not in until]
        gates = [span for span in spans if span.role in ("before", "within", "cap", "")]
        last = self.stages[-1].block if self.stages else None
        opens = [span for span in gates if span.role == "" and span.lo == 0 and said.of(p.WorkLine)]
        if opens and isinstance(last, w.Stage) and 0 < last.cap_s < opens[0].seconds:
            self._next_stage(said, opens[0].seconds, said.tokens(opens[0]))  # “Fifteen minutes: 15 cal row, …”
        if extends and not (self.stages or self.body or self.windows):
            self.first_s = extends[0].seconds  # “You have until 3:00 to do …” extends nothing
            return
        if not extends:
            return
        gate = gates[0] if gates else None
        tokens = [token for span in (gate, extends[0]) if span for token in said.tokens(span)]
        if not self.stages:
            told = self.ranges[0].to_s if self.ranges else self.first_s
            first = gate.seconds if gate else told
            self.close()
            self.open = []
            inner = [*self.body, *(node for window in self.windows for node in window.inner)]
            self.stages.append(Node(said.tokens(gate) if gate else [], w.Stage(first, ()), inner=inner))
            self.body, self.windows = [], []
        elif gate and isinstance(self.stages[-1].block, w.Stage) and not self.stages[-1].block.cap_s:
            self.stages[-1].block = w.Stage(gate.seconds, ())
        last = self.stages[-1].block
        before = last.cap_s if isinstance(last, w.Stage) else 0.0
        later = extends[0].seconds if extends[0].seconds > before else before + extends[0].seconds
        self._next_stage(said, until[0].seconds if until and until[0] not in extends else later, tokens)

    def _next_stage(self, said: Said, cap_s: float, tokens: list[Token]) -> None:
        self.close()
        self.open = []
        if not self.stages and self.body:
            return
        self.stages.append(Node(tokens, w.Stage(cap_s, ())))

    # Doubts

    def doubt(self, words: str, tokens: Sequence[Token]) -> None:
        """Note what is not understood where the text stands."""
        self.put(Node(list(tokens), w.Doubt(words)))


def _next(said: Said, phrase: p.Phrase) -> bool:
    """Return whether a window follows that before, with work of its own: “the next three-minute window”."""
    before = {token.low for token in said.sentence.tokens[max(0, phrase.lo - 5) : phrase.lo]}
    works = any(work.counts and work.lo > phrase.lo for work in said.of(p.WorkLine))
    return works and bool({"next", "following", "second", "third", "fourth"} & before)


def phrase_low(said: Said, phrase: p.Phrase) -> str:
    """Return the words of a phrase without case."""
    return " ".join(token.low.replace(" - ", "-") for token in said.tokens(phrase))


def _tail(place: Sequence[Node]) -> list[Node]:
    """Return the lines of work at the end that stand in no block yet."""
    tail: list[Node] = []
    for node in reversed(place):
        if node.work is None:
            break
        tail.insert(0, node)
    return tail


def _later_work(said: Said, phrase: p.Phrase) -> bool:
    return any(work.lo > phrase.lo and not work.pointed for work in said.of(p.WorkLine))


def _bare_list(said: Said) -> bool:
    """Return whether a sentence is a line of a list that holds nothing but work."""
    covered = sum(
        phrase.hi - phrase.lo for phrase in said.phrases if isinstance(phrase, p.WorkLine | p.Cue | p.RepCounts)
    )
    words = {"the", "and", "then", "with", "reps", "rep", "of", "for"}
    free = [t for t in said.sentence.tokens if t.kind is Kind.WORD and t.low not in words]
    return covered > 0 and len(free) <= 1


def _series_block(phrase: p.RepCounts, amrap: bool) -> w.Block | None:
    """Return the block a rep series stands for; None if it does not say how it goes on."""
    counts = phrase.counts
    if phrase.turns:
        return w.Ladder(counts[0], 0, counts[1:], ())
    steps = {b - a for a, b in pairwise(counts)}
    step = next(iter(steps)) if len(steps) == 1 else 0
    if (phrase.open or amrap) and step > 0:
        return w.Ladder(counts[0], step, (), ())
    if phrase.open:
        return None
    if len(counts) > 3 and all(abs(b - a) == 1 for a, b in pairwise(counts)):
        turns = [b for a, b, c in zip(counts, counts[1:], counts[2:], strict=False) if (b - a) != (c - b)]
        return w.Ladder(counts[0], 0, (*turns, counts[-1]), ())
    return w.Series(counts, ())


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


@dataclass(slots=True)
class Draft:
    """Everything that is known of an announcement while it is read."""

    said: list[Said]
    library: Library
    builder: Builder
    facts: Facts = field(default_factory=Facts)
    title: Said | None = None

    def top(self) -> list[Node]:
        """Return the blocks at the margin, stages first."""
        return [*(self.builder.stages if self.facts.form is w.Form.STAGES else []), *self.builder.body]

    def lines(self) -> list[Node]:
        """Return every line of work once: parts that come again share theirs."""
        return [*{id(line): line for node in self.top() for line in node.items()}.values()]


def origins(node: Node) -> Iterator[tuple[Node, list[Token]]]:
    """Yield a block and all inside it in the order in which they are printed, with the words they came from."""
    yield node, node.tokens
    if node.work is None:
        for inner in node.inner:
            yield from origins(inner)
