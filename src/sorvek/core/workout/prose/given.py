"""Which of the numbers an announcement tells belong to which of its lines of work."""

from collections.abc import Sequence
from dataclasses import replace

from sorvek.core.quantities import KG_PER_LB
from sorvek.core.workout.movements import Library, SizeKind
from sorvek.core.workout.notation import DEFAULT_DIVISIONS
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.amounts import IMPLEMENTS, THROWING
from sorvek.core.workout.prose.divisions import PLAIN, level_of
from sorvek.core.workout.prose.draft import Node, Said, means
from sorvek.core.workout.prose.headings import Section
from sorvek.core.workout.prose.sizes import Quantity, fitting
from sorvek.core.workout.prose.targets import label_before
from sorvek.core.workout.prose.words import Kind

# What another level lifts, as a share of the first one's load; judgement.
LEAST_SHARE, MOST_SHARE = 0.5, 1.4
LEAST_OF_WOMEN, MOST_OF_WOMEN = 0.6, 0.8  # women's load as a share of men's; judgement
LEAST_OF_ONE = 0.3  # the same where only one movement has a load; judgement
WEIGHTS, WEIGHT_NEAR = {"heavy", "light", "medium", "moderate"}, 3  # words of lines and right before loads
MOST_AHEAD = 8  # words behind a movement that may say whose load it has
MOST_APART = 5.0  # no division lifts so many times what another one does; judgement
FAR = 3.0  # a load so many times the usual one, or less than its inverse, is of another movement; judgement


class Given:
    """The amounts `found` for every line of work, by its identity, and the loads `apart` that are `taken` for them.

    `unclear` are lines whose loads may be others', `single` those of which it is not told how many implements.
    """

    def __init__(self, said: Sequence[Said], items: Sequence[Node], library: Library) -> None:
        self.library = library
        self.said = said
        self.items = items
        self.apart = self._told_apart()
        self.same = any({"same"} & s.low() and s.cue("barbell", "dumbbell", "kettlebell") for s in said)
        self.taken: set[int] = set()
        self.placed: set[int] = set()  # loads of levels given out in the order of the work
        self.levelled: set[int] = set()  # lines of work that have such
        self.unclear: set[int] = set()
        self.single: set[int] = set()
        self.found: dict[int, tuple[Quantity, ...]] = {}
        self.own: dict[int, tuple[Quantity, ...]] = {}  # what lines have before loads of levels are looked for
        self._beside()
        self._further()
        self.unclear |= {key for key, amounts in self.found.items() if _too_unlike(amounts)}

    def _told_apart(self) -> list[tuple[Said, p.Loads]]:
        """Return the loads that stand apart from counted work, with their sentences."""
        found = [
            (s, load)
            for s in self.said
            for load in s.of(p.Loads)
            if not s.doubted and s.sentence.section not in (Section.SCALED, Section.STORY)
            if not (_rungs(load) or _plates(s, load))
        ]
        mine = {id(item.work) for item in self.items}
        found += [
            (s, p.Loads(work.lo, work.hi, work.sizes, (work.movement, *work.sizes.nouns)))
            for s in self.said
            for work in s.of(p.WorkLine)
            if work.sizes and not work.counts and id(work) not in mine
        ]
        found += [
            (self.said[i.sentence], p.Loads(i.work.lo, i.work.hi, replace(i.work.sizes, amounts=others), ()))
            for i in self.items
            if i.work and i.work.sizes and (others := self._others(i.work))
        ]
        return found

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
        self._pairs_in_order()
        self.own = dict(self.found)
        for item in self.items:
            self._of_levels(item)

    def _by_weight(self, item: Node) -> None:
        """Take the load of a word that says how heavy a line is: “8 deadlifts (heavy)”, “Heavy: 120/85 kg”."""
        assert item.work is not None
        tokens = self.said[item.sentence].sentence.tokens
        around = {token.low for token in tokens[max(0, item.work.lo) : item.work.hi + 2]} & WEIGHTS
        if self._kind(item) is not SizeKind.LOAD or len(around) != 1:
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
        self._in_all_places()
        self._by_sentence()
        for _ in range(2):  # what is said of nothing is for the only thing left
            for item in self.items:
                if all(level_of(amount.division) for amount in self.found.get(id(item), ())):
                    self._apart(item)
        self._in_their_order()
        for item in self.items:
            if id(item) not in self.found:
                self._in_the_hand(item)

    def _others(self, work: p.WorkLine) -> tuple[Quantity, ...]:
        """Return the loads behind work that cannot be its own: “box jump-overs; men 60 kg and 60 cm”."""
        if self.library.movements[work.movement].size is SizeKind.LOAD or not work.sizes:
            return ()
        return tuple(a for a in work.sizes.amounts if a.unit in ("kg", "lb"))

    def _kind(self, item: Node) -> SizeKind:
        assert item.work is not None
        return self.library.movements[item.work.movement].size

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
            named = named or self._gear(item) in load.nouns
            named = named or (not load.nouns and self._only_one(item, load.sizes.amounts[0]))
            if self._kind(item) is SizeKind.HEIGHT and not (load.nouns or load.sizes.amounts[0].unit):
                named = named and all(self._kind(other) is not SizeKind.LOAD for other in self.items)
            amounts = fitting(load.sizes, self.library.movements[item.work.movement])
            label = "" if label in PLAIN else label
            told = [_labelled(a, label) for a in amounts]
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
        loads = [self.own.get(id(other), ()) for other in self.items if self._kind(other) is self._kind(item)]
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
        if self._kind(item) is not SizeKind.LOAD:
            return
        named = [t.name for t in self.said[item.sentence].sentence.tokens if t.cue(*IMPLEMENTS)]
        if named and "same" in self.said[item.sentence].low():
            # “8 goblet squats with the same dumbbell”
            before = [o for o in self.items[: self.items.index(item)] if id(o) in self.found]
            alike = [o for o in before if named[0] in self._gear(o)]
            if alike:
                self.found[id(item)] = self.found[id(alike[-1])]
                return
        later = [
            o for o in self.items if o.sentence == item.sentence and id(o) in self.found and o.work and item.work
        ]
        for other in later:
            behind = other.work is not None and other.work.lo > item.work.lo
            if (behind or self.same) and self._gear(other) == self._gear(item) and not item.work.sizes:
                self.found[id(item)] = self.found[id(other)]
                return
        if self.same and not item.work.sizes:
            above = self.items[: self.items.index(item)]
            alike = [o for o in above if id(o) in self.found and self._gear(o) == self._gear(item)]
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
        bare = {number for number, said in enumerate(self.said) if _nothing_but_loads(said)}
        below: dict[int, list[int]] = {}
        beside = [i.sentence for i in self.items if id(i) not in self.found and self._kind(i) is SizeKind.LOAD]
        for item in self.items:
            at = item.sentence + 1
            while (
                beside.count(item.sentence) == 1
                and at in bare
                and id(item) not in self.found
                and self._kind(item) is SizeKind.LOAD
            ):
                below.setdefault(id(item), []).append(at)
                at += 1
        if len(below) < 2:
            return
        for item in self.items:
            for said in (self.said[number] for number in below.get(id(item), ())):
                for load in said.of(p.Loads):
                    label = label_before(said, load)
                    named = [_labelled(a, label) for a in load.sizes.amounts]
                    self.found[id(item)] = _distinct([*self.found.get(id(item), ()), *named])
                    self.taken |= {id(other) for at, other in self.apart if at is said}
                    item.tokens += said.tokens(load)

    def _pairs_in_order(self) -> None:
        """Take pairs of loads told in the order of the work: “9/6 kg, 22.5/15 kg, 60/50 cm”."""
        lacking = [i for i in self.items if id(i) not in self.found and self._kind(i) is SizeKind.LOAD]
        names = list(dict.fromkeys(item.work.movement for item in lacking if item.work))
        for said_of in self._rows_of_loads() if len(names) > 1 else ():
            loads = [load for one, load in self.apart if one in said_of]
            amounts = [a for load in loads for a in load.sizes.amounts if a.unit in ("kg", "lb")]
            plain = not any(set(load.nouns) - {"plural"} for load in loads) and not any(a.division for a in amounts)
            pairs = dict(zip(names, zip(amounts[::2], amounts[1::2], strict=False), strict=False))
            if not plain or len(amounts) != 2 * len(names) or not all(self._near(n, a) for n, a in pairs.items()):
                continue
            for item in lacking:
                assert item.work is not None
                self.found[id(item)] = pairs[item.work.movement]
                item.tokens += [token for load in loads for said in said_of for token in said.tokens(load)]
            heights = [load for load in loads if any(a.unit not in ("kg", "lb") for a in load.sizes.amounts)]
            self.taken |= {id(load) for load in loads if load not in heights}
            return

    def _rows_of_loads(self) -> list[list[Said]]:
        """Return the sentences with loads, each alone, and all of a line of nothing else: “20/14 lb; 60/43 kg”."""
        said_of = list({id(said): said for said, _ in self.apart}.values())
        lines: dict[int, list[Said]] = {}
        for said in filter(_nothing_but_loads, said_of):
            lines.setdefault(said.sentence.line, []).append(said)
        return [*([said] for said in said_of), *(row for row in lines.values() if len(row) > 1)]

    def _in_their_order(self) -> None:
        """Take loads told in the order of the work: “women use 6 kg and 42.5 kg” of wall balls and power cleans."""
        lacking = [i for i in self.items if id(i) not in self.found and self._kind(i) is SizeKind.LOAD]
        names = list(dict.fromkeys(item.work.movement for item in lacking if item.work))
        found: dict[str, tuple[Quantity, ...]] = {}
        rows: list[tuple[Said, p.Loads]] = []
        for said, load in self.apart if len(names) > 1 else ():
            if self._one_pair(said, load, names):
                for item in lacking:
                    self.found[id(item)] = load.sizes.amounts
                    item.tokens += said.tokens(load)
                self.taken.add(id(load))
                return
            told = self._by_place(said, load, names)
            if told and not any(a.division == b.division for a in told[names[0]] for b in found.get(names[0], ())):
                found = {name: (*found.get(name, ()), *told[name]) for name in names}
                rows.append((said, load))
        for item in lacking if found else ():
            assert item.work is not None
            self.found[id(item)] = found[item.work.movement]
            for said, load in rows:
                item.tokens += said.tokens(load)
        self.taken |= {id(load) for _, load in rows}

    def _in_all_places(self) -> None:
        """Take loads of a level that stand in the order of all loaded work: “Masters M: 9 kg / 50 kg”."""
        items = [item for item in self.items if self._kind(item) is SizeKind.LOAD]
        names = list(dict.fromkeys(item.work.movement for item in items if item.work))
        for said, load in self.apart if len(names) > 1 else ():
            weights = all(a.unit in ("kg", "lb") for a in load.sizes.amounts) and _too_unlike(load.sizes.amounts)
            told = self._by_place(said, load, names) if weights else {}
            for item in items if told and all(level_of(a.division) for row in told.values() for a in row) else ():
                assert item.work is not None
                self.found[id(item)] = (*self.found.get(id(item), ()), *told[item.work.movement])
                item.tokens += said.tokens(load)
                self.placed.add(id(load))
                self.levelled.add(id(item))

    def _by_sentence(self) -> None:
        """Take loads of a sentence told for men and for women in the order of the work, implements or not.

        “Men 9 kg ball and 24 kg bell, women 6 kg and 16 kg.”
        """
        items = [i for i in self.items if id(i) not in self.found and self._kind(i) is SizeKind.LOAD]
        names = list(dict.fromkeys(item.work.movement for item in items if item.work))
        for said in {id(said): said for said, _ in self.apart}.values() if len(names) > 1 else ():
            loads = [load for one, load in self.apart if one is said]
            cut = any(len({a.division for a in load.sizes.amounts}) > 1 for load in loads)  # one goes on to women's
            one = p.Loads(
                0, 0, replace(loads[0].sizes, amounts=tuple(a for x in loads for a in x.sizes.amounts)), ()
            )
            told = self._by_place(said, one, names) if len(loads) > 1 and cut else {}
            if {a.division for row in told.values() for a in row} != set(DEFAULT_DIVISIONS):
                continue
            for item in items:
                assert item.work is not None
                self.found[id(item)] = told[item.work.movement]
                item.tokens += said.sentence.tokens
            self.placed |= {id(load) for load in loads}
            self.taken |= {id(load) for load in loads}

    def _one_pair(self, said: Said, load: p.Loads, names: Sequence[str]) -> bool:
        """Return whether loads are men's and women's of everything: “Load 43/30 kg” of snatches and lunges."""
        amounts = load.sizes.amounts
        tokens = said.tokens(load)
        pair = len(amounts) == 2 and not (load.nouns or any(a.division for a in amounts)) and bool(amounts[1].unit)
        slashed = any(token.mark("/") for token in tokens) and pair
        share = amounts[1].value / amounts[0].value if slashed else 0.0
        usual = LEAST_OF_WOMEN <= share <= MOST_OF_WOMEN and amounts[0].unit in ("", amounts[1].unit)
        measured = [replace(a, unit=amounts[1].unit) for a in amounts] if usual else []
        weighed = bool(measured) and measured[0].unit in ("kg", "lb") and id(load) not in self.taken
        return weighed and not label_before(said, load) and all(self._near(name, measured) for name in names)

    def _by_place(self, said: Said, load: p.Loads, names: Sequence[str]) -> dict[str, tuple[Quantity, ...]]:
        """Return the loads of a sentence by the movement in whose place they stand; none if not as many."""
        label = label_before(said, load)
        loads = _filled([_labelled(a, label) for a in load.sizes.amounts if a.unit in ("kg", "lb")])
        rows = {name: [a for a in loads if a.division == name] for name in {a.division for a in loads}}
        mixed = len(loads) < len(load.sizes.amounts)  # “140 kg / 60 cm / 9 kg”: the height is that of the box
        taken = (id(load) in self.taken and not mixed) or load.nouns
        if taken or not rows or any(len(row) != len(names) for row in rows.values()):
            return {}
        told = {name: tuple(row[at] for row in rows.values()) for at, name in enumerate(names)}
        return told if all(self._near(name, amounts) for name, amounts in told.items()) else {}

    def _near(self, name: str, amounts: Sequence[Quantity]) -> bool:
        """Return whether loads are of the size a movement is usually done with."""
        usual = {"kg": self.library.movements[name].ref_men, "lb": self.library.movements[name].ref_men / KG_PER_LB}
        return all(1 / FAR < a.value / usual[a.unit] < FAR for a in amounts)

    def _in_the_hand(self, item: Node) -> None:
        """Take the only kettlebell, dumbbell, ball or box there is, where nothing is said of this line."""
        words = {word for token in item.tokens for word in token.low.split()}
        gear = "dumbbell" if {"db", "dumbbell"} & words else self._gear(item)
        same = [o for o in self.items if id(o) in self.found and (self._gear(o) == gear or self._in_words(o, gear))]
        kind = {"box": SizeKind.HEIGHT}.get(gear, SizeKind.LOAD)
        same = [other for other in same if self._kind(other) is kind]
        alike = {self.found[id(o)] for o in same}
        held = self._kind(item) is kind and gear in ("kettlebell", "dumbbell", "ball", "plate", "box", "sandbag")
        bare = item.work is not None and not fitting(item.work.sizes, self.library.movements[item.work.movement])
        if held and len(alike) == 1 and bare:
            amounts = alike.pop()
            single = not self._two_handed(item)
            self.found[id(item)] = tuple(replace(a, pair=False) for a in amounts) if single else amounts
            two = any(self._two_handed(o) or any(a.pair for a in self.found[id(o)]) for o in same)
            two = two or any(_both_told(s) for s in self.said)
            if self._two_handed(item) and not two:
                self.single.add(id(item))

    def _in_words(self, item: Node, gear: str) -> bool:
        """Return whether a line names what it is done with: “overhead lunges (45/25 lb plate)”."""
        return gear in self.said[item.sentence].low()

    def _two_handed(self, item: Node) -> bool:
        return item.work is not None and self.library.movements[item.work.movement].gear.startswith("two")

    def _gear(self, item: Node) -> str:
        """Return the implement a line of work is done with, else its gear, else its name."""
        assert item.work is not None
        gear = self.library.movements[item.work.movement].gear.split(";")[0]
        return next((name for name in IMPLEMENTS if name in gear), gear or item.work.movement)

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
            if self._two_handed(item) and _one_of_them(said, load):
                self.single.add(id(item))
            label = label_before(said, load)
            both = len(amounts) == 2 and amounts[0].unit == amounts[1].unit and not amounts[0].division
            label = "" if both and label in ("men", "women") else label  # “…, the box is 60 and 50 cm”
            named += [_labelled(a, label) for a in amounts]
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
        if any(self._names(noun, item.work.movement) for noun in nouns) or implements & nouns:
            return True
        if nouns or not self._only(movement.size):
            return False
        bare = not any(a.unit for a in load.sizes.amounts)  # “Scaled: 30/20” beside a box of 60/50
        loaded = any(self._kind(other) is SizeKind.LOAD for other in self.items)
        return not (movement.size is SizeKind.HEIGHT and bare and loaded)

    def _with_base(self, item: Node) -> tuple[Quantity, ...]:
        """Return the load of the only other gear alike, if it names more than levels; nothing otherwise."""
        same = [
            o for o in self.items if o is not item and id(o) in self.found and self._gear(o) == self._gear(item)
        ]
        rows = {self.found[id(o)] for o in same if self._two_handed(o) == self._two_handed(item)}
        row = rows.pop() if len(rows) == 1 else ()
        return row if any(not level_of(a.division) for a in row) else ()

    def _lacks(self, item: Node) -> bool:
        """Return whether a line has no size yet, or only those of levels told in the order of the work."""
        levels = id(item) in self.levelled and all(level_of(a.division) for a in self.found[id(item)])
        return levels or id(item) not in self.found

    def _only(self, kind: SizeKind) -> bool:
        """Return whether all lines of work of a kind that lack a size use one implement."""
        lacking = {
            self._gear(item) for item in self.items if item.work and self._kind(item) is kind and self._lacks(item)
        }
        return len(lacking) <= 1


def _too_many(divisions: Sequence[str]) -> bool:
    """Return whether there are more loads than divisions can use: two for a level, one where the sex is named."""
    plain = len(divisions) > 2 and not any(divisions)
    return plain or any(divisions.count(name) > 1 + (not _sexed(name)) for name in divisions if name)


def _too_unlike(amounts: Sequence[Quantity]) -> bool:
    """Return whether loads cannot all be of one movement: “Masters: 9 kg / 50 kg” of two."""
    rows = [[a.value for a in amounts if a.unit == unit and a.value] for unit in ("kg", "lb")]
    return any(row and max(row) / min(row) > MOST_APART for row in rows)


def _plates(said: Said, load: p.Loads) -> bool:
    """Return whether an amount is a plate that is to be at hand: “standard plates (45 lb / 20 kg)”."""
    before = [token.low for token in said.sentence.tokens[max(0, load.lo - 2) : load.lo]]
    return said.sentence.section is Section.LOADS and bool({"plates", "collars"} & set(before))


def _rungs(load: p.Loads) -> bool:
    """Return whether numbers in pairs are counts of further rungs: “add 5 to each (10/10, 15/15, 20/20 …)”."""
    values = [a.value for a in load.sizes.amounts]
    pairs = list(zip(values[::2], values[1::2], strict=False))
    plain = not any(a.unit or a.division for a in load.sizes.amounts) and len(values) % 2 == 0
    return plain and len(pairs) > 1 and all(a == b for a, b in pairs)


def _both_told(said: Said) -> bool:
    """Return whether a sentence says which work is done with one and which with two dumbbells."""
    numbers = {token.number for token in said.sentence.tokens if token.kind is Kind.NUMBER}
    return {1.0, 2.0} <= numbers and said.cue("dumbbell", "kettlebell")


def _labelled(amount: Quantity, label: str) -> Quantity:
    """Return an amount with the division named before it: “Scaled: 42.5 kg men / 30 kg women”."""
    if not amount.division or not label:
        return replace(amount, division=amount.division or label)
    mixed = amount.division in DEFAULT_DIVISIONS and label not in PLAIN and not _sexed(label)
    return replace(amount, division=f"{label} {amount.division}") if mixed else amount


def _filled(amounts: Sequence[Quantity]) -> list[Quantity]:
    """Return amounts with the division named last before each: “women use 6 kg and 42.5 kg”."""
    found: list[Quantity] = []
    for amount in amounts:
        found.append(amount if amount.division or not found else replace(amount, division=found[-1].division))
    return found


def _nothing_but_loads(said: Said) -> bool:
    """Return whether a sentence is a line of loads: “Men 35 kg, women 25 kg”."""
    loads = said.of(p.Loads)
    words = sum(load.hi - load.lo for load in loads)
    named = [t for t in said.sentence.tokens if not t.mark(",.:;-–/()") and not t.cue("men", "women", "level")]
    numbers = [t for load in loads for t in said.tokens(load) if t in named]
    return bool(words) and len(numbers) == len(named) and not said.sentence.lead


def _one_of_them(said: Said, load: p.Loads) -> bool:
    """Return whether loads are told of one implement: “use a 22.5 kg dumbbell”."""
    numbers = (i for i in range(load.lo, load.hi) if said.sentence.tokens[i].kind is Kind.NUMBER)
    first = next(numbers, load.lo)  # “men use a single 22.5 kg dumbbell”
    before = {token.low for token in said.sentence.tokens[max(0, load.lo - 1) : max(load.lo + 2, first)]}
    times = said.sentence.tokens[max(0, load.lo - 2) : load.lo]
    once = len(times) == 2 and times[0].number == 1 and times[1].low in ("x", "×")  # “1 x 22.5 kg”
    several = {"each", "hand", "pair", "two", "both"} & said.low()
    return (once or bool({"a", "one", "single"} & before)) and not several


def _sexed(division: str) -> bool:
    return bool({"men", "women"} & set(division.split()))


def _distinct(amounts: Sequence[Quantity]) -> tuple[Quantity, ...]:
    """Return amounts once each, all of the first unit that is said: “split it 6/4” is no load beside 60/42.5 kg."""
    unit = next((a.unit for a in amounts if a.unit), "")
    return tuple(dict.fromkeys(a for a in amounts if a.unit == unit))


def _context(said: Said, load: p.Loads) -> list[str]:
    """Return the movements and implements that loads are said of: between them, right before, or in the heading."""
    if load.nouns and not set(load.nouns) <= {*IMPLEMENTS, "plural"}:
        return [*load.nouns, *p.nouns_of(said.sentence.lead)]
    tokens = said.sentence.tokens
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
