"""From sentences to blocks: what repeats what, what comes after what."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from itertools import pairwise

from sorvek.core.workout import tree as w
from sorvek.core.workout.movements import Library
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.blocks import Blocks, tail_of
from sorvek.core.workout.prose.draft import Facts, Node, Said, words_of
from sorvek.core.workout.prose.series import add_series
from sorvek.core.workout.prose.stages import open_stage
from sorvek.core.workout.prose.words import MOST, Kind, Token, vocabulary

BUYING = {"buy in", "buy-in", "buyin", "cash in", "cash-in", "cashin"}
AGAIN = {"are", "for", "total", "altogether", "times", "complete", "times through"}
NAMED = {"complex", "couplet", "triplet"}  # “then three rounds of the complex”
BEYOND = (["beyond"], ["up"], ["on"], ["onwards"], ["after"], ["later"])  # “round 5 and beyond”
TURNS = {"odd", "even"}  # minutes that have work of their own in turn


class Builder(Blocks):
    """Takes sentences in order; `body` is what they add up to."""

    def take(self, number: int, said: Said) -> None:
        """Add what a sentence of work says."""
        self.number = number
        self._layout(said)
        said.used = True
        open_stage(self, said)
        if id(said) in self.turns_at:
            self.begin_window([*said.sentence.lead, *(said.sentence.tokens[:2] if self.alternating else [])])
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
                    add_series(self, said, phrase, post, begun)
                case p.WorkLine() if self._counting() and self._open_ended(said, phrase):
                    self.close()
                    self.doubt(words_of(said.sentence.tokens), said.sentence.tokens)
                case p.WorkLine():
                    if self._slashed_off(said, phrase):
                        self.close()
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
        opens = said.cue("then", "remaining") or said.opens_with(MOST)
        opens = opens or any(_heads(said, work) for work in said.of(p.WorkLine))
        most = (MOST & said.low() or said.cue("amrap")) and opens and not said.has(p.Lift)
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
            case p.Unknown() if _same_way(said, phrase):
                pass  # “40 m shuttle run (4 x 10 m)”
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
            elif not _after_each_round(said) and (
                self.deeper or (self.open_item and sentence.bullet) or self._line_was_all(said)
            ):
                self.close()
        head = [token for token in sentence.tokens[:3] if token.kind is not Kind.MARK][:2]
        inner = self.open and isinstance(self.open[-1].block, w.Rounds) and self.open[-1].block.count == 0
        if head and head[0].low == "and":
            head = head[1:]
        then = any(token.cue("then") or token.low == "last" for token in head[:1])
        then = then or (sentence.tokens[-1].cue("then") and said.has(p.WorkLine))  # “40 m carry to finish”
        after = bool(head) and head[0].low == "after" and said.has(p.RoundCount)  # “After the 5 rounds: 50 burpees”
        after = after and not _after_each_round(said)
        after = after or self._behind_the_last(said)
        apart = sentence.gap and self.gaps_mean and not (inner or _after_each_round(said))
        parted = self.open_whole and sentence is not self.open_line and self.open_line.tokens[-1].mark(";")
        parted = parted and len(self.body) > 1  # nothing but rounds may have semicolons inside
        if apart or then or after or (parted and not said.cue("each_round", "every")):
            self.close()  # “1 mile run; 3 rounds of 20 swings, 20 box jumps; 1 mile run”

    def _behind_the_last(self, said: Said) -> bool:
        """Return whether a line of work is told to come after the last round: “400 m run after round 5” of five."""
        rounds = self.open[-1].block if self.open else None
        numbers = [cue.number for cue in said.of(p.Cue) if cue.name == "rounds" and cue.number]
        ends = isinstance(rounds, w.Rounds) and rounds.count > 1 and numbers == [rounds.count]
        return ends and "after" in said.low() and said.has(p.WorkLine)

    def _slashed_off(self, said: Said, phrase: p.WorkLine) -> bool:
        """Return whether slashes part a block from what follows: “800 m run / 21-15-9 squats / 800 m run”."""
        tokens = said.sentence.tokens
        heads = [x for x in said.phrases if isinstance(x, p.RepCounts | p.RoundCount) and x.hi <= phrase.lo]
        marked = [x for x in (*heads[-1:], phrase) if x.lo and tokens[x.lo - 1].mark("/")]
        inner = [x for x in said.of(p.WorkLine) if heads and heads[-1].hi <= x.lo < phrase.lo]
        parted = any(x.lo and tokens[x.lo - 1].mark("/") for x in inner)
        opened = bool(self.open) and self.open_line is said.sentence
        return opened and len(marked) > 1 and len(inner) > 1 and not parted and bool(phrase.counts)

    def _line_was_all(self, said: Said) -> bool:
        """Return whether the line that opened a block holds all its work, and this one is not of every round."""
        return self.open_whole and not said.cue("each_round", "every")

    def _rounds(self, said: Said, phrase: p.RoundCount, post: bool, begun: int) -> None:
        tokens = said.tokens(phrase)
        if self._named_before(said, phrase):
            return
        last = said.sentence.tokens[-1]
        heads = (last.mark(":") or last.low == "of") and said.sentence.tokens[0].cue("then")  # “Then, 3 rounds:”
        told_late = self.amrap and not (said.of(p.WorkLine) or heads) and bool(self.visits())
        if phrase.count == 1 and phrase.lo and said.sentence.tokens[phrase.lo - 1].cue("then"):
            self.close()  # “…, then once: 40 box jumps”
        if phrase.count == 1 and not said.of(p.WorkLine) and self.visits():
            self.one_round = True  # “This is one round. The athlete completes three rounds.”
        if phrase.pointed or told_late or phrase.count in (1, self.intervals) or self._of_the_series(said, phrase):
            return
        if self._opened_by(said, phrase):
            self.close()
            self.repeat(said, Node(tokens, w.Rounds(phrase.count, ())))
            return
        place = self.place()
        bare = [node for node in place if node.work is not None or isinstance(node.block, w.Rest)]
        again = said.cue("repeat") or bool(AGAIN & said.low()) or self.one_round
        again = again or said.sentence.tokens[0].low in ("x", "×")  # “x 2, for time”
        if post and not self.open and begun < len(place):
            self.wrap(place, begun, Node(tokens, w.Rounds(phrase.count, ())))
        elif not said.of(p.WorkLine) and again and bare and not self.open and bare[-1] is place[-1]:
            first = place.index(bare[0]) if len(bare) == len(place) else len(place) - len(tail_of(place))
            self.wrap(place, first, Node(tokens, w.Rounds(phrase.count, ())))
        elif not post or self.open:
            if post and self.open and self.open[-1].sentence == self.number:
                return
            self.repeat(said, Node(tokens, w.Rounds(phrase.count, ())))

    def _named_before(self, said: Said, phrase: p.RoundCount) -> bool:
        """Do the work of the rounds before once more, “2 rounds of the same triplet”; ask which where none is."""
        same = "of the same" in said.text().lower()
        named = same or (NAMED & said.low() and not said.sentence.tokens[-1].mark(":"))
        if not named or said.of(p.WorkLine) or not self.visits() or phrase.count == self.intervals:
            return False
        self.close()
        rounds = [node for node in self.body if isinstance(node.block, w.Rounds) and node.inner]
        if same and rounds:
            tokens, inner = said.tokens(phrase), [replace(line, tokens=[]) for line in rounds[-1].inner]
            self.body += [Node(tokens, w.Rounds(phrase.count, ()), inner=inner)] if phrase.count > 1 else inner
        else:
            self.doubt(f"{words_of(said.sentence.tokens)}: which work is that?", said.sentence.tokens)
        return True

    def _of_the_series(self, said: Said, phrase: p.RoundCount) -> bool:
        """Return whether a count says again how many sets a series has: “after every round …, 5 times in total”."""
        series = self.open[-1].block if self.open else None
        known = len(series.counts) if isinstance(series, w.Series) else 0
        known = len(series.counts()) if isinstance(series, w.Ladder) and series.turns else known
        return _after_each_round(said) and known == phrase.count

    def _opened_by(self, said: Said, phrase: p.RoundCount) -> bool:
        """Return whether rounds of the list below follow work of the same line: “Row 500 m, then 3 rounds of:”."""
        tokens = said.sentence.tokens
        works = said.of(p.WorkLine)
        behind = bool(works) and all(work.hi <= phrase.lo for work in works)
        return behind and tokens[phrase.lo - 1].cue("then") and tokens[-1].mark(":")

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

    def _work(self, said: Said, phrase: p.WorkLine) -> None:
        tokens = said.tokens(phrase)
        if phrase.pointed:
            return
        listing = self._counting() and not self.open[-1].inner
        sided = phrase.side is not w.Side.BOTH
        asked = phrase.counts or sided or listing or self._most(said, phrase)
        known = self._known(phrase.movement) or self._shortened(phrase.movement) or self._in_a_part(said, phrase)
        if not asked and phrase.sizes and known:
            return
        if not phrase.counts and said.has(p.Lift):
            return
        again = self.windowed and phrase.counts and said.has(p.Step)
        if again and (phrase.movement, phrase.counts[0]) in self.visits():
            return  # “each further window: 500 m row and 5 more cleans”
        open_ended = self._most(said, phrase) or said.cue("amrap")
        mention = not (phrase.counts or self._counting() or open_ended or self.parts)
        mention = mention or (not phrase.counts and said.cue("each_round"))  # “(run after every round)”
        if mention and self._known(phrase.movement):
            return  # “bike for the calories”
        once = any(token.cue("buy_in") for token in (*said.sentence.lead, *said.sentence.tokens[: phrase.lo]))
        if said.cue("buy_in") and [(phrase.movement, *phrase.counts[:1])] == self.visits():
            return  # “AMRAP with a 1 km bike buy-in”, then “1 km bike (once)”
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

    def _open_ended(self, said: Said, phrase: p.WorkLine) -> bool:
        """Return whether work for time names as many as possible: “max reps of push-ups in 3 minutes”."""
        before = said.sentence.tokens[max(0, phrase.lo - 2) : phrase.lo]
        most = any(token.cue("amrap") for token in before) and not phrase.counts
        return most and said.has(p.Span) and not (self.amrap or self.parts or self.windowed)

    def _most(self, said: Said, phrase: p.WorkLine) -> bool:
        """Return whether an AMRAP is, or ends with, as many of a movement as there is time for: “max burpees”."""
        back = 4 if phrase.unit else 3  # “max calories on the rower”, “max reps of thrusters”
        near = {token.low for token in said.sentence.tokens[max(0, phrase.lo - back) : phrase.hi]}
        near |= said.low() if said.cue("remaining") else set()  # “row for max calories in the time left”
        return self.amrap and (_heads(said, phrase) or bool(MOST & near))

    def _counts_so(self, tokens: Sequence[Token]) -> bool:
        """Return whether words are nothing but a count that was read before."""
        said = [t for t in tokens if t.kind is not Kind.MARK and t.low not in ("lifts", "reps", "repetitions")]
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

    def _in_a_part(self, said: Said, phrase: p.WorkLine) -> bool:
        """Return whether a line says nothing but the load of a movement of an earlier part: “Thruster 43/30 kg”."""
        works = (item.work.movement for part in self.parts[:-1] for item in part.items() if item.work)
        bare = len(said.phrases) == 1 and not MOST & said.low()
        return bare and phrase.movement in works

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
            or tokens[index].low in {"another", "extra", *MOST}
        ):
            index -= 1
        if index < 1 or not tokens[index].cue("then") or tokens[index - 1].cue("each_round"):
            return False  # “…, each round followed by a 100 m carry”
        if tokens[index].low in vocabulary("endings"):
            return True
        works = [phrase for phrase in said.of(p.WorkLine) if phrase.hi <= index and not phrase.pointed]
        between = tokens[works[-2].hi : works[-1].lo] if len(works) > 1 else []
        return any(token.low in ("and", "plus", "&", "+") for token in between)

    def _rest(self, said: Said, phrase: p.Span) -> None:
        if (
            {"left", "remains", "remaining"} & said.low()
            and said.low() & {"what", "rest"}
            and not said.of(p.WorkLine)
        ):
            return  # “Rest is what is left of the 3 minutes”
        node = Node(said.tokens(phrase), w.Rest(phrase.seconds))
        before = {word for t in said.sentence.tokens[max(0, phrase.lo - 4) : phrase.lo] for word in t.low.split()}
        if {"until", "till"} & before or (phrase.lo and said.sentence.tokens[phrase.lo - 1].low == "to"):
            self.doubt(f"{words_of(said.sentence.tokens)}: how long is the rest?", said.tokens(phrase))
            return
        of_rounds = said.cue("rounds", "each_round", "set", "every") or said.has(p.RoundCount)
        node.rising = bool({"between", "after", "follows"} & said.low()) and of_rounds
        after = [b.text for a, b in pairwise(said.sentence.tokens) if a.low == "after" and len(b.text) == 1]
        if self.parts and ("between" in said.low() or len(after) > 1) and not of_rounds and not said.of(p.WorkLine):
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

    def _range(self, said: Said, phrase: p.Range) -> None:
        self.ranges.append(phrase)
        if said.cue("lift") and said.of(p.Lift):
            self.close()
            return
        if self.parts:
            return
        self.begin_window(said.tokens(phrase))

    def _cue(self, said: Said, phrase: p.Cue) -> None:
        then = self.amrap and bool(self.body) and _then(said, phrase)
        again = phrase.name == "rounds" and not phrase.number and (self.bought or then)
        if phrase.name == "buy_in" and phrase_low(said, phrase) in BUYING:
            self.bought = True
        elif phrase.name == "amrap" and self.parts and self._behind_then(said, phrase):
            self.repeat(said, Node(said.tokens(phrase), w.Rounds(0, ())))  # “400 m run, then AMRAP of …”
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
            self.begin_window(said.tokens(phrase))
        elif phrase.number == 1 and self.open and not self.open[-1].inner:
            self._drop_open()  # the rounds are listed one by one

    def _from_here(self, said: Said, phrase: p.Cue) -> bool:
        """Return whether a round is the first of those to the end of an AMRAP: “from round 7 on: …”."""
        before = said.sentence.tokens[phrase.lo - 1].low if phrase.lo else ""
        behind = [token.low for token in said.sentence.tokens[phrase.hi : phrase.hi + 2]]
        on = behind[:1] in (["+"], ["onwards"], ["onward"]) or (behind[:1] == ["and"] and behind[1:] in BEYOND)
        return self.amrap and (before == "from" or on) and bool(self.visits())

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
        self.begin_window(said.tokens(phrase))

    def _turned(self, said: Said, work: p.WorkLine, turns: list[int]) -> list[int]:
        """Begin the window of a turn told before work, “odd minutes: …”, or behind it; return the turns to come."""
        behind = next((i for i in turns if i >= work.hi), 0)
        if turns[0] < work.lo or behind:
            at = turns[0] if turns[0] < work.lo else behind
            self.begin_window(said.sentence.tokens[at : at + 1])
            return [i for i in turns if i > at]
        return turns

    def _countless(self, said: Said, phrase: p.Cue) -> bool:
        """Return whether a cue stands behind work without a count: “max wall walks in the remaining time”."""
        last = self.place()[-1] if self.place() else None
        work = last.work if last is not None and last.sentence == self.number else None
        return work is not None and not work.counts and work.hi <= phrase.lo and not self.open

    def _behind_then(self, said: Said, phrase: p.Cue) -> bool:
        """Return whether a cue follows work of a part and “then”."""
        before = said.sentence.tokens[max(0, phrase.lo - 2) : phrase.lo]
        works = any(True for _ in self.parts[-1].items())
        return works and not self.open and any(token.cue("then") for token in before)

    def _bought_in(self, said: Said) -> bool:
        """Return whether open rounds begin behind work that is done once."""
        return bool(self.body) and not self.open and any(True for node in self.body for _ in node.items())


def _heads(said: Said, work: p.WorkLine) -> bool:
    """Return whether a line begins with as many as possible: “AMRAP snatches at 80/55 kg”, “Round 5: AMRAP …”."""
    tokens = said.sentence.tokens
    cue = work.lo > 0 and not work.counts and tokens[work.lo - 1].cue("amrap")
    return cue and (work.lo == 1 or tokens[work.lo - 2].mark(":"))


def _then(said: Said, phrase: p.Phrase) -> bool:
    """Return whether rounds follow what is done first: “10 burpees, then rounds of”, “after that: rounds of”."""
    tokens = said.sentence.tokens
    before = tokens[max(0, phrase.lo - 3) : phrase.lo]
    text = " ".join(token.low for token in before)
    of = tokens[phrase.hi : phrase.hi + 1]
    return bool(of) and of[0].low == "of" and (any(t.cue("then") for t in before) or "after that" in text)


def _same_way(said: Said, phrase: p.Phrase) -> bool:
    """Return whether words only say again how far the work before them goes, in legs: “(4 x 10 m)”."""
    numbers = [token.number for token in said.tokens(phrase) if token.kind is Kind.NUMBER]
    legs = len(numbers) == 2 and any(token.low in ("x", "×") for token in said.tokens(phrase))
    works = [work for work in said.of(p.WorkLine) if work.hi <= phrase.lo]
    told = {a.value for work in works[-1:] if work.sizes for a in work.sizes.amounts}
    told |= {count for work in works[-1:] if work.unit == "m" for count in work.counts}
    halves = len(numbers) == 2 and any(token.mark("+") for token in said.tokens(phrase))  # “10 snatches (5 + 5)”
    counts = {count for work in works[-1:] for count in work.counts}
    return (legs and numbers[0] * numbers[1] in told) or (halves and sum(numbers) in counts)


# What is done between rounds.
BETWEEN = tuple(f"between {the}{them}" for the in ("", "the ", "all ") for them in ("rounds", "sets"))


def _after_each_round(said: Said) -> bool:
    """Return whether a line says what comes at the end of every round, or of all but the last.

    “After every round: 40 m run”, “20 air squats between the sets”.
    """
    text = " ".join(token.low for token in (*said.sentence.lead, *said.sentence.tokens))
    ends = ("after each round", "after every round", "at the end of each round", *BETWEEN)
    return text.startswith(ends) or (text.endswith(ends) and said.has(p.WorkLine))


def _next(said: Said, phrase: p.Phrase) -> bool:
    """Return whether a window follows that before, with work of its own: “the next three-minute window”."""
    before = {token.low for token in said.sentence.tokens[max(0, phrase.lo - 5) : phrase.lo]}
    works = any(work.counts and work.lo > phrase.lo for work in said.of(p.WorkLine))
    return works and bool({"next", "following", "second", "third", "fourth"} & before)


def phrase_low(said: Said, phrase: p.Phrase) -> str:
    """Return the words of a phrase without case."""
    return " ".join(token.low.replace(" - ", "-") for token in said.tokens(phrase))


def _bare_list(said: Said) -> bool:
    """Return whether a sentence is a line of a list that holds nothing but work."""
    covered = sum(
        phrase.hi - phrase.lo for phrase in said.phrases if isinstance(phrase, p.WorkLine | p.Cue | p.RepCounts)
    )
    words = {"the", "and", "then", "with", "reps", "rep", "of", "for"}
    free = [t for t in said.sentence.tokens if t.kind is Kind.WORD and t.low not in words]
    return covered > 0 and len(free) <= 1


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
