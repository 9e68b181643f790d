"""Which of the numbers an announcement tells belong to which of its lines of work."""

from collections.abc import Sequence
from dataclasses import replace

from sorvek.core.workout.movements import Library, SizeKind
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.amounts import IMPLEMENTS, THROWING
from sorvek.core.workout.prose.divisions import PLAIN, level_of
from sorvek.core.workout.prose.draft import Node, Said, means
from sorvek.core.workout.prose.in_order import (
    take_by_sentence,
    take_in_order,
    take_levels_in_order,
    take_pairs,
    too_unlike,
)
from sorvek.core.workout.prose.ledger import Ledger, labelled, nothing_but_loads, sexed_name
from sorvek.core.workout.prose.sizes import Quantity, fitting
from sorvek.core.workout.prose.targets import label_before
from sorvek.core.workout.prose.words import Kind, Token

# What another level lifts, as a share of the first one's load; judgement.
LEAST_SHARE, MOST_SHARE = 0.5, 1.4
LEAST_OF_ONE = 0.3  # the same where only one movement has a load; judgement
WEIGHTS, WEIGHT_NEAR = {"heavy", "light", "medium", "moderate"}, 3  # words of lines and right before loads
MOST_AHEAD = 8  # words behind a movement that may say whose load it has


class Given(Ledger):
    """The ledger of an announcement, filled: every line of work with the amounts that are its own."""

    def __init__(self, said: Sequence[Said], items: Sequence[Node], library: Library) -> None:
        super().__init__(said, items, library)
        self._beside()
        self._further()
        self.unclear |= {key for key, amounts in self.found.items() if too_unlike(amounts)}

    def _beside(self) -> None:
        """Take what stands beside lines of work, for levels as well, or beside others of the same."""
        for item in self.items:
            self._own(item)
        self.own = dict(self.found)
        for item in self.items:
            self._of_levels(item)
        for item in self.items:
            if id(item) not in self.found and not self._same_as(item):
                self._same(item)
        self._below()
        take_pairs(self)
        self.own = dict(self.found)
        for item in self.items:
            self._of_levels(item)

    def _by_weight(self, item: Node) -> None:
        """Take the load of a word that says how heavy a line is: “8 deadlifts (heavy)”, “Heavy: 120/85 kg”."""
        assert item.work is not None
        tokens = self.said[item.sentence].sentence.tokens
        around = {token.low for token in tokens[max(0, item.work.lo) : item.work.hi + 2]} & WEIGHTS
        if self.kind(item) is not SizeKind.LOAD or len(around) != 1:
            return
        for said, load in self.apart:
            before = [*said.sentence.lead, *said.sentence.tokens[: load.lo]][-WEIGHT_NEAR:]
            amounts = fitting(load.sizes, self.library.movements[item.work.movement])
            if amounts and around & {token.low for token in before}:
                self.found[id(item)] = (*self.found.get(id(item), ()), *amounts)
                self.taken.add(id(load))
                item.tokens += said.tokens(load)

    def _further(self) -> None:
        """Take what stands farther away: by its noun, as the only thing left, in order, or in the hand."""
        for item in self.items:
            if id(item) not in self.found:
                self._by_weight(item)
        take_levels_in_order(self)
        take_by_sentence(self)
        for _ in range(2):  # what is said of nothing is for the only thing left
            for item in self.items:
                if all(level_of(amount.division) for amount in self.found.get(id(item), ())):
                    self._apart(item)
        take_in_order(self)
        for item in self.items:
            if id(item) not in self.found:
                self._in_the_hand(item)

    def _own(self, item: Node) -> None:
        assert item.work is not None
        amounts = fitting(item.work.sizes, self.library.movements[item.work.movement])
        if amounts:
            self.found[id(item)] = amounts
            if item.work.sizes and item.work.sizes.row:
                self.unclear.add(id(item))

    def _of_levels(self, item: Node) -> None:
        """Add what levels use instead, where it is told by name: “Masters: deadlifts at 100/70 kg”."""
        assert item.work is not None
        own = self.found.get(id(item), ())
        for said, load in self.apart:
            label = label_before(said, load)
            named = any(self._names(n, item.work.movement) for n in load.nouns)
            named = named or self.gear(item) in load.nouns
            weighed = self.kind(item) is SizeKind.LOAD and load.sizes.amounts[0].unit in ("kg", "lb")
            nouns = set(load.nouns) - ({"box", "target"} if weighed else set())  # “Teens: 12/8 kg, box 40 cm”
            named = named or (not nouns and self._only_one(item, load.sizes.amounts[0]))
            if self.kind(item) is SizeKind.HEIGHT and not (load.nouns or load.sizes.amounts[0].unit):
                named = named and all(self.kind(other) is not SizeKind.LOAD for other in self.items)
            amounts = fitting(load.sizes, self.library.movements[item.work.movement])
            label = "" if label in PLAIN else label
            told = [labelled(a, label) for a in amounts]
            level = any(level_of(a.division) for a in told)
            new = not {level_of(a.division) for a in told} & {
                level_of(a.division) for a in own if level_of(a.division)
            }
            if told and own and level and named and new:
                self.found[id(item)] = (*self.found[id(item)], *told)
                self.taken.add(id(load))
                item.tokens += said.tokens(load)

    def _names(self, noun: str, movement: str) -> bool:
        """Return whether a word of loads names a movement, and no other of the work by its whole name."""
        others = {item.work.movement for item in self.items if item.work} - {movement}
        return noun in self.library.movements and noun not in others and means(noun, movement)

    def _only_one(self, item: Node, told: Quantity) -> bool:
        """Return whether a level's load can only be for this line: no other load of the work is like it."""
        loads = [self.own.get(id(other), ()) for other in self.items if self.kind(other) is self.kind(item)]
        least = LEAST_SHARE if len({row for row in loads if row}) > 1 else LEAST_OF_ONE
        alike = {row for row in loads if row and row[0].value and least <= told.value / row[0].value <= MOST_SHARE}
        return alike == {self.own.get(id(item), ())}

    def _same(self, item: Node) -> None:
        """Take the size of the same movement where it is written with one."""
        assert item.work is not None
        for other in self.items:
            if other.work and other.work.movement == item.work.movement and id(other) in self.found:
                self.found[id(item)] = self.found[id(other)]
                return
        if self.kind(item) is not SizeKind.LOAD:
            return
        named = [t.name for t in self.said[item.sentence].sentence.tokens if t.cue(*IMPLEMENTS)]
        if named and "same" in self.said[item.sentence].low():
            # “8 goblet squats with the same dumbbell”
            before = [o for o in self.items[: self.items.index(item)] if id(o) in self.found]
            alike = [o for o in before if named[0] in self.gear(o)]
            if alike:
                self.found[id(item)] = self.found[id(alike[-1])]
                return
        later = [
            o for o in self.items if o.sentence == item.sentence and id(o) in self.found and o.work and item.work
        ]
        for other in later:
            behind = other.work is not None and other.work.lo > item.work.lo
            if (behind or self.same) and self.gear(other) == self.gear(item) and not item.work.sizes:
                self.found[id(item)] = self.found[id(other)]
                return
        if self.same and not item.work.sizes:
            above = self.items[: self.items.index(item)]
            alike = [o for o in above if id(o) in self.found and self.gear(o) == self.gear(item)]
            if alike:
                self.found[id(item)] = self.found[id(alike[-1])]

    def _same_as(self, item: Node) -> bool:
        """Take the load of another line where it is told to be the same: “at the same weight as the cleans”."""
        assert item.work is not None
        ahead = self.said[item.sentence].sentence.tokens[item.work.hi : item.work.hi + MOST_AHEAD]
        lows = [token.low for token in ahead]
        names = [token.name for token in ahead if token.name in self.library.movements]
        if "same" not in lows or "as" not in lows or not names:
            return False
        for other in self.items:
            if other.work and id(other) in self.found and means(names[0], other.work.movement):
                self.found[id(item)] = self.found[id(other)]
                return True
        return False

    def _below(self) -> None:
        """Give lines of work the loads on the line right below each, where more than one line has such."""
        bare = {number for number, said in enumerate(self.said) if nothing_but_loads(said)}
        below: dict[int, list[int]] = {}
        beside = [i.sentence for i in self.items if id(i) not in self.found and self.kind(i) is SizeKind.LOAD]
        for item in self.items:
            at = item.sentence + 1
            while (
                beside.count(item.sentence) == 1
                and at in bare
                and id(item) not in self.found
                and self.kind(item) is SizeKind.LOAD
            ):
                below.setdefault(id(item), []).append(at)
                at += 1
        if len(below) < 2:
            return
        for item in self.items:
            for said in (self.said[number] for number in below.get(id(item), ())):
                for load in said.of(p.Loads):
                    label = label_before(said, load)
                    named = [labelled(a, label) for a in load.sizes.amounts]
                    self.found[id(item)] = _distinct([*self.found.get(id(item), ()), *named])
                    self.taken |= {id(other) for at, other in self.apart if at is said}
                    item.tokens += said.tokens(load)

    def _in_the_hand(self, item: Node) -> None:
        """Take the only kettlebell, dumbbell, ball or box there is, where nothing is said of this line."""
        words = {word for token in item.tokens for word in token.low.split()}
        gear = "dumbbell" if {"db", "dumbbell"} & words else self.gear(item)
        same = [o for o in self.items if id(o) in self.found and (self.gear(o) == gear or self._in_words(o, gear))]
        kind = {"box": SizeKind.HEIGHT}.get(gear, SizeKind.LOAD)
        same = [other for other in same if self.kind(other) is kind]
        alike = {self.found[id(o)] for o in same}
        held = self.kind(item) is kind and gear in ("kettlebell", "dumbbell", "ball", "plate", "box", "sandbag")
        bare = item.work is not None and not fitting(item.work.sizes, self.library.movements[item.work.movement])
        if held and len(alike) == 1 and bare and item.work:
            amounts = alike.pop()
            pairs = all(amount.pair for amount in amounts) and "front-rack" in item.work.movement
            single = not (self.two_handed(item) or pairs)  # two dumbbells rest on the shoulders as well
            self.found[id(item)] = tuple(replace(a, pair=False) for a in amounts) if single else amounts
            two = any(self.two_handed(o) or any(a.pair for a in self.found[id(o)]) for o in same)
            two = two or any(_both_told(s) for s in self.said)
            if self.two_handed(item) and not two:
                self.single.add(id(item))

    def _in_words(self, item: Node, gear: str) -> bool:
        """Return whether a line names what it is done with: “overhead lunges (45/25 lb plate)”."""
        return gear in self.said[item.sentence].low()

    def _apart(self, item: Node) -> None:
        """Take amounts that stand in a sentence of their own: with the movement's name, its implement, or alone."""
        assert item.work is not None
        movement = self.library.movements[item.work.movement]
        if movement.size not in (SizeKind.LOAD, SizeKind.HEIGHT, SizeKind.DISTANCE):
            return
        named: list[Quantity] = []
        row = False
        for said, load in self.apart:
            amounts = fitting(load.sizes, movement)
            if id(load) in self.placed or not (amounts and self._is_for(item, said, load)):
                continue
            if self.two_handed(item) and _one_of_them(said, load):
                self.single.add(id(item))
            label = label_before(said, load)
            both = len(amounts) == 2 and amounts[0].unit == amounts[1].unit and not amounts[0].division
            label = "" if both and label in ("men", "women") else label  # “…, the box is 60 and 50 cm”
            named += [labelled(a, label) for a in amounts]
            self.taken.add(id(load))
            row = row or load.sizes.row
            item.tokens += said.tokens(load)
        if named and all(level_of(a.division) for a in named) and (like := self._with_base(item)):
            self.found[id(item)] = like  # “Scaled: 2 x 15 kg” of all that is done with the dumbbells
        elif named:
            self.found[id(item)] = _distinct([*named, *self.found.get(id(item), ())])
            if row or _too_many([a.division for a in self.found[id(item)]]):
                self.unclear.add(id(item))

    def _is_for(self, item: Node, said: Said, load: p.Loads) -> bool:
        """Return whether loads in a sentence of their own are for a line of work."""
        assert item.work is not None
        movement = self.library.movements[item.work.movement]
        gear = movement.gear.split(";")[0]
        implements = {name for name in ("barbell", "dumbbell", "kettlebell", "ball", "box") if name in gear}
        nouns = set(_context(said, load)) - {"plural"}
        if movement.size is SizeKind.LOAD:
            if nouns == {"box"} and not any(a.unit for a in load.sizes.amounts):
                return False  # “DB 22.5/15, box 60/50”
            nouns -= {"box", "target"}
        if any(self._names(noun, item.work.movement) for noun in nouns):
            return True
        others = [o.work.movement for o in self.items if o.work and self.kind(o) is SizeKind.LOAD]
        if implements & nouns and not any(self._names(noun, other) for other in others for noun in nouns):
            return True  # “squats with a second bar at 60 kg” are not for what is done with the first
        if nouns or not self._only(movement.size):
            return False
        bare = not any(a.unit for a in load.sizes.amounts)  # “Scaled: 30/20” beside a box of 60/50
        loaded = any(self.kind(other) is SizeKind.LOAD for other in self.items)
        return not (movement.size is SizeKind.HEIGHT and bare and loaded)

    def _with_base(self, item: Node) -> tuple[Quantity, ...]:
        """Return the load of the only other gear alike, if it names more than levels; nothing otherwise."""
        same = [o for o in self.items if o is not item and id(o) in self.found and self.gear(o) == self.gear(item)]
        rows = {self.found[id(o)] for o in same if self.two_handed(o) == self.two_handed(item)}
        row = rows.pop() if len(rows) == 1 else ()
        return row if any(not level_of(a.division) for a in row) else ()

    def _lacks(self, item: Node) -> bool:
        """Return whether a line has no size yet, or only those of levels told in the order of the work."""
        levels = id(item) in self.levelled and all(level_of(a.division) for a in self.found[id(item)])
        return levels or id(item) not in self.found

    def _only(self, kind: SizeKind) -> bool:
        """Return whether all lines of work of a kind that lack a size use one implement."""
        lacking = {
            self.gear(item) for item in self.items if item.work and self.kind(item) is kind and self._lacks(item)
        }
        return len(lacking) <= 1


def _too_many(divisions: Sequence[str]) -> bool:
    """Return whether there are more loads than divisions can use: two for a level, one where the sex is named."""
    plain = len(divisions) > 2 and not any(divisions)
    return plain or any(divisions.count(name) > 1 + (not sexed_name(name)) for name in divisions if name)


def _both_told(said: Said) -> bool:
    """Return whether a sentence says which work is done with one and which with two dumbbells."""
    numbers = {token.number for token in said.sentence.tokens if token.kind is Kind.NUMBER}
    return {1.0, 2.0} <= numbers and said.cue("dumbbell", "kettlebell")


def _one_of_them(said: Said, load: p.Loads) -> bool:
    """Return whether loads are told of one implement: “use a 22.5 kg dumbbell”."""
    numbers = (i for i in range(load.lo, load.hi) if said.sentence.tokens[i].kind is Kind.NUMBER)
    first = next(numbers, load.lo)  # “men use a single 22.5 kg dumbbell”
    before = {token.low for token in said.sentence.tokens[max(0, load.lo - 1) : max(load.lo + 2, first)]}
    times = said.sentence.tokens[max(0, load.lo - 2) : load.lo]
    once = len(times) == 2 and times[0].number == 1 and times[1].low in ("x", "×")  # “1 x 22.5 kg”
    several = {"each", "hand", "pair", "two", "both"} & said.low()
    return (once or bool({"a", "one", "single"} & before)) and not several


def _distinct(amounts: Sequence[Quantity]) -> tuple[Quantity, ...]:
    """Return amounts once each, all of the first unit that is said: “split it 6/4” is no load beside 60/42.5 kg."""
    unit = next((a.unit for a in amounts if a.unit), "")
    return tuple(dict.fromkeys(a for a in amounts if a.unit == unit))


def _told_for(tokens: Sequence[Token], load: p.Loads) -> list[str]:
    """Return the movements right behind loads that they are for: “the bar is 100/70 kg for the deadlifts”."""
    named: list[str] = []
    ahead = tokens[load.hi + 1 :] if tokens[load.hi : load.hi + 1] and tokens[load.hi].low == "for" else []
    for token in ahead:
        if token.kind is Kind.MOVEMENT:
            named.append(token.name)
        elif token.low not in ("the", "and", ",", "both"):
            break
    return named


def _context(said: Said, load: p.Loads) -> list[str]:
    """Return the movements and implements that loads are said of: between them, right before, or in the heading."""
    if load.nouns and not set(load.nouns) <= {*IMPLEMENTS, "plural"}:
        return [*load.nouns, *p.nouns_of(said.sentence.lead)]
    tokens = said.sentence.tokens
    if named := _told_for(tokens, load):
        return named
    others = [other for other in said.of(p.Loads) if other.lo < load.lo]
    sized = [work for work in said.of(p.WorkLine) if work.sizes and not work.counts and work.hi <= load.lo]
    start = max((other.hi for other in (*others, *sized)), default=0)
    later = [other for other in said.of(p.Loads) if other.lo > load.lo]
    end = min((other.lo for other in later), default=len(tokens))
    before = p.nouns_of(tokens[start : load.lo]) + list(load.nouns)
    thrown = any(token.low in THROWING for token in tokens)
    if thrown and not before and {"lift", "lifts"} & {token.low for token in tokens[load.lo : load.hi]}:
        return ["barbell"]  # “men lift 60 kg and throw 9 kg”
    if load.hi < end and tokens[load.hi].mark("/"):
        end = load.hi  # “9 kg @ 3 m / snatch 60 kg”
    behind = p.nouns_of(tokens[load.hi : end]) if not p.nouns_of(tokens[start : load.lo]) else []
    return before + behind + p.nouns_of(said.sentence.lead)
