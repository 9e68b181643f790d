"""Which loads, heights and distances belong to which lines of work, and the divisions they name."""

from collections.abc import Iterator, Sequence
from dataclasses import replace

from sorvek.core.quantities import KG_PER_LB
from sorvek.core.workout import tree as w
from sorvek.core.workout.movements import Library, Movement, SizeKind
from sorvek.core.workout.notation import BY_DISTANCE, DEFAULT_DIVISIONS
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.alike import levels_alike, of_the_other
from sorvek.core.workout.prose.draft import LONGEST_DOUBT, Node, Said, means, words_of
from sorvek.core.workout.prose.lines import Section
from sorvek.core.workout.prose.sizes import (
    IMPLEMENTS,
    PLAIN,
    THROWING,
    Quantity,
    division_at,
    fitting,
    for_divisions,
    sexed,
    size_of,
)
from sorvek.core.workout.prose.targets import label_before, target_of
from sorvek.core.workout.prose.words import Kind, Token

# Kettlebells as they are cast in kg; none of these is a size in lb (common practice, no source).
KETTLEBELLS_KG = {8, 12, 16, 20, 24, 28, 32, 36, 40}


# Balls as they are sold in kg and in lb, and the dumbbell from which on it is lb; common practice, no source.
BALLS = {"kg": {3, 4, 5, 6, 7, 8, 9, 12}, "lb": {14, 16, 18, 20, 30}}
LEAST_DUMBBELL_LB = 35
# An empty bar in lb weighs that much for men and for women; less on it is kg (trade measures, no source).
BARE_LB = (45, 35)
# What another level lifts, as a share of the first one's load; judgement.
LEAST_SHARE, MOST_SHARE = 0.5, 1.4
# A qualifier's bar as a share of the usual load; judgement.
LEAST_USUAL, MOST_USUAL = 0.6, 1.8
MOST_AHEAD = 8  # words behind a movement that may say whose load it has
FAR = 3.0  # a load so many times the usual one, or less than its inverse, is of another movement; judgement
# Bare numbers behind “run” and behind a machine that are metres: nobody rows 300 calories (judgement).
LEAST_RUN_M, LEAST_MACHINE_M = 100, 300
LEAST_WAY_M = 5  # no rope or target is that high, so that it is a way; judgement


def _cast(movement: Movement, values: Sequence[float]) -> str:
    """Return the unit sizes can only be in, empty where both are made."""
    if "ball" in movement.gear:
        return next((unit for unit, sizes in BALLS.items() if sizes.issuperset(values)), "")
    if movement.gear.startswith("barbell") and any(a < b for a, b in zip(values, BARE_LB, strict=False)):
        return "kg"
    held = movement.gear.split(";")[0] in ("dumbbell", "two dumbbells")
    return "lb" if held and max(values) >= LEAST_DUMBBELL_LB else ""


def _likely(movement: Movement, values: Sequence[float]) -> str:
    """Return the unit in which loads of a bar are near the usual ones, empty where both or none would be.

    Loads in lb end in 5, as plates of 10, 25 and 45 lb on a bar of 45 or 35 lb do (common practice, no source).
    """
    if "barbell" not in movement.gear or len(values) < 2:
        return ""
    shares = {unit: values[0] * per / movement.ref_men for unit, per in (("kg", 1.0), ("lb", KG_PER_LB))}
    near = [unit for unit, share in shares.items() if LEAST_USUAL <= share <= MOST_USUAL]
    if any(value % 10 != 5 for value in values):
        near = [unit for unit in near if unit != "lb"]
    return near[0] if len(near) == 1 else ""


class Sized:
    """Which amounts belong to which lines of work, and the divisions they name."""

    def __init__(self, said: Sequence[Said], nodes: Sequence[Node], library: Library) -> None:
        self.library = library
        self.said = said
        self.words = [token for s in said for token in s.sentence.tokens]
        self.items = [item for node in nodes for item in node.items()]
        self.apart = [
            (s, load)
            for s in said
            for load in s.of(p.Loads)
            if not s.doubted and s.sentence.section not in (Section.SCALED, Section.STORY) and not _rungs(load)
        ]
        mine = {id(item.work) for item in self.items}
        self.apart += [
            (s, p.Loads(work.lo, work.hi, work.sizes, (work.movement, *work.sizes.nouns)))
            for s in said
            for work in s.of(p.WorkLine)
            if work.sizes and not work.counts and id(work) not in mine
        ]
        self.apart += [
            (said[item.sentence], p.Loads(item.work.lo, item.work.hi, replace(item.work.sizes, amounts=others), ()))
            for item in self.items
            if item.work and item.work.sizes and (others := self._others(item.work))
        ]
        self.same = any({"same"} & s.low() and s.cue("barbell", "dumbbell", "kettlebell") for s in said)
        self.counted = {id(item) for node in nodes for item in _counted(node)}
        self.nested = {id(item) for node in nodes for item in _nested(node)}
        self.alone = len(self.items) == 1
        self.endless = {id(item) for node in nodes for item in _endless(node)}
        self.taken: set[int] = set()
        self.unclear: set[int] = set()
        self.single: set[int] = set()
        self.found: dict[int, tuple[Quantity, ...]] = {}
        self.tokens: dict[int, list[Token]] = {}
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
        for _ in range(2):  # what is said of nothing is for the only thing left
            for item in self.items:
                if id(item) not in self.found:
                    self._apart(item)
        self._in_their_order()
        for item in self.items:
            if id(item) not in self.found:
                self._in_the_hand(item)
        self.alike = levels_alike(said)
        self.found = {key: of_the_other(amounts, self.alike) for key, amounts in self.found.items()}
        self.order = _order(said)
        self._in_order(self.order)
        self.unit = self._usual_unit()
        self.divisions = self._divisions()

    def _others(self, work: p.WorkLine) -> tuple[Quantity, ...]:
        """Return the loads behind work that cannot be its own: “box jump-overs; men 60 kg and 60 cm”."""
        if self.library.movements[work.movement].size is SizeKind.LOAD or not work.sizes:
            return ()
        return tuple(a for a in work.sizes.amounts if a.unit in ("kg", "lb"))

    def _in_order(self, names: Sequence[str]) -> None:
        """Give numbers in a row the divisions that are named in a row; a level has men's and women's."""
        if names and not any({"men", "women"} & set(name.split()) for name in names):
            self._in_order([sexed(name, sex) for name in names for sex in ("men", "women")])
        for key, amounts in self.found.items():
            if len(names) == len(amounts) and not any(a.division for a in amounts):
                self.found[key] = tuple(replace(a, division=n) for a, n in zip(amounts, names, strict=True))

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
            level = {word for a in told for word in a.division.split()} - {"men", "women", "rx", "open"}
            if told and own and level and named and all(a.division in ("", "men", "women") for a in own):
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
        alike = {
            row for row in loads if row and row[0].value and LEAST_SHARE <= told.value / row[0].value <= MOST_SHARE
        }
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
            before = self.items[: self.items.index(item)]
            alike = [o for o in before if id(o) in self.found and self._gear(o) == self._gear(item)]
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
        by_said = {id(said): said for said, _ in self.apart}
        for said in by_said.values() if len(names) > 1 else ():
            loads = [load for one, load in self.apart if one is said]
            amounts = [a for load in loads for a in load.sizes.amounts if a.unit in ("kg", "lb")]
            plain = not any(set(load.nouns) - {"plural"} for load in loads) and not any(a.division for a in amounts)
            pairs = dict(zip(names, zip(amounts[::2], amounts[1::2], strict=False), strict=False))
            if not plain or len(amounts) != 2 * len(names) or not all(self._near(n, a) for n, a in pairs.items()):
                continue
            for item in lacking:
                assert item.work is not None
                self.found[id(item)] = pairs[item.work.movement]
                item.tokens += said.sentence.tokens
            heights = [load for load in loads if any(a.unit not in ("kg", "lb") for a in load.sizes.amounts)]
            self.taken |= {id(load) for load in loads if load not in heights}
            return

    def _in_their_order(self) -> None:
        """Take loads told in the order of the work: “women use 6 kg and 42.5 kg” of wall balls and power cleans."""
        lacking = [i for i in self.items if id(i) not in self.found and self._kind(i) is SizeKind.LOAD]
        names = list(dict.fromkeys(item.work.movement for item in lacking if item.work))
        found: dict[str, tuple[Quantity, ...]] = {}
        rows: list[tuple[Said, p.Loads]] = []
        for said, load in self.apart if len(names) > 1 else ():
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
        held = self._kind(item) is kind and gear in ("kettlebell", "dumbbell", "ball", "plate", "box")
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
        gear = movement.gear.split(";")[0]
        implements = {name for name in ("barbell", "dumbbell", "kettlebell", "ball", "box") if name in gear}
        named: list[Quantity] = []
        row = False
        for said, load in self.apart:
            nouns = set(_context(said, load)) - {"plural"}
            if movement.size is SizeKind.LOAD:
                nouns -= {"box", "target"}
            named_here = {n for n in nouns if n in self.library.movements}
            mine = {n for n in named_here if self._names(n, item.work.movement)}
            fits = bool(mine) or bool(implements & nouns)
            alone = not nouns and self._only(movement.size)
            bare = not any(a.unit for a in load.sizes.amounts)  # “Scaled: 30/20” beside a box of 60/50
            if (
                movement.size is SizeKind.HEIGHT
                and bare
                and any(self._kind(o) is SizeKind.LOAD for o in self.items)
            ):
                alone = False
            if (fits or alone) and (mine or implements & nouns or not named_here):
                amounts = fitting(load.sizes, movement)
                if amounts:
                    if gear.startswith("two") and _one_of_them(said, load):
                        self.single.add(id(item))
                    label = label_before(said, load)
                    both = len(amounts) == 2 and amounts[0].unit == amounts[1].unit and not amounts[0].division
                    label = "" if both and label in ("men", "women") else label  # “…, the box is 60 and 50 cm”
                    named += [_labelled(a, label) for a in amounts]
                    self.taken.add(id(load))
                    row = row or load.sizes.row
                    item.tokens += said.tokens(load)
        if named and all(_level_of(a.division) for a in named) and (like := self._with_base(item)):
            self.found[id(item)] = like  # “Scaled: 2 x 15 kg” of all that is done with the dumbbells
        elif named:
            self.found[id(item)] = _distinct(named)
            by_division = [a.division for a in self.found[id(item)]]
            plain = len(by_division) > 2 and not any(by_division)
            if (
                plain
                or row
                or any(by_division.count(name) > 1 + (not _sexed(name)) for name in by_division if name)
            ):
                self.unclear.add(id(item))

    def _with_base(self, item: Node) -> tuple[Quantity, ...]:
        """Return the load of the only other gear alike, if it names more than levels; nothing otherwise."""
        same = [
            o for o in self.items if o is not item and id(o) in self.found and self._gear(o) == self._gear(item)
        ]
        rows = {self.found[id(o)] for o in same if self._two_handed(o) == self._two_handed(item)}
        row = rows.pop() if len(rows) == 1 else ()
        return row if any(not _level_of(a.division) for a in row) else ()

    def _only(self, kind: SizeKind) -> bool:
        """Return whether all lines of work of a kind that lack a size use one implement."""
        lacking = {
            self._gear(item)
            for item in self.items
            if item.work and self._kind(item) is kind and id(item) not in self.found
        }
        return len(lacking) <= 1

    def _usual_unit(self) -> str:
        """Return kg or lb if the announcement speaks of one of them only."""
        units = {
            t.low.rstrip("s")
            for t in self.words
            if t.unit("kg", "lb") or t.low in ("kg", "lb", "lbs", "pounds", "kilos")
        }
        units = {{"pound": "lb", "kilo": "kg", "kilogram": "kg", "#": "lb"}.get(unit, unit) for unit in units}
        return next(iter(units)) if len(units) == 1 else ""

    def _divisions(self) -> tuple[str, ...]:
        names = list(dict.fromkeys(a.division for amounts in self.found.values() for a in amounts if a.division))
        levels = dict.fromkeys(level for item in self.items if item.work for level, _ in item.work.counts_of)
        names = [name for name in dict.fromkeys([*names, *levels]) if name not in ("rx", "open")]
        plain = {"men", "women"}
        found: list[str] = []
        for name in names:
            pairs = any(
                len({a.value for a in amounts if a.division == name}) == 2 for amounts in self.found.values()
            )
            split = (pairs or name in levels) and not plain & set(name.split())
            found += [sexed(name, sex) for sex in ("men", "women")] if split else [name]
        if set(found) <= plain:
            return DEFAULT_DIVISIONS
        open_too = any(
            a.division == "" for amounts in self.found.values() if any(a.division for a in amounts) for a in amounts
        )
        base = (
            list(DEFAULT_DIVISIONS)
            if open_too
            or levels
            or plain & set(found)
            or any(a.division in ("rx", "open") for amounts in self.found.values() for a in amounts)
            else []
        )
        return tuple(dict.fromkeys([*base, *found]))

    def item(self, node: Node) -> w.Block:
        """Return a line of work with its size; a doubt where it is not clear how many, of what, or how heavy."""
        work = node.work
        assert work is not None
        movement = self.library.movements[work.movement]
        counted = bool(work.counts) and not node.rising
        alone = not counted and id(node) not in self.counted and (self.alone or id(node) in self.endless)
        count = 1 if alone else work.counts[0] if counted else w.RISING
        amounts = self.found.get(id(node), ())
        size, problem = self._size(work, amounts) if amounts else (w.Size(), "")
        target = target_of(node, self.said, self.items, self.divisions) if movement.to_target else w.Size()
        counts = work.counts[::-1] if self.order[:2] == ["women", "men"] and len(work.counts) == 2 else work.counts
        by_division = self._counts(work, for_divisions(counts, self.divisions))
        least = LEAST_RUN_M if movement.name == "run" else LEAST_MACHINE_M
        metres = movement.size is SizeKind.UNIT and counted and not work.unit and count >= least
        unit = "m" if metres else work.unit  # “run 800”
        problems = (
            (count == w.RISING and id(node) not in self.counted, "how many?"),
            (bool(work.unsure), work.unsure),
            (bool(work.counts) and not by_division, "which count is for whom?"),
            (id(node) in self.unclear, "which of the loads?"),
            (bool(problem), problem),
            (id(node) in self.single, "with one or with two of them?"),
            (movement.size is SizeKind.LOAD and not amounts, "no load is given"),
            (target is None or self._falling(target), "which target is for whom?"),
            (
                bool(work.unit) and not _counted_in(work.unit, movement),
                f"{movement.name} is not counted in {work.unit}",
            ),
            (movement.size is SizeKind.UNIT and not unit, "in cal or m?"),
        )
        asked = next((words for wrong, words in problems if wrong), "")
        if asked:
            return w.Doubt(f"{words_of(node.tokens)[:LONGEST_DOUBT]}: {asked}")
        rising = count == w.RISING and (
            id(node) in self.nested or bool(work.unit) or (node.times, node.more) != (1, 0)
        )
        tiebreak = isinstance(node.block, w.TieBreak)
        counts = by_division if counted and len(set(by_division)) > 1 else ()
        return w.Item(
            work.movement,
            count,
            unit,
            size,
            work.side,
            tiebreak,
            rising,
            counts=counts,
            style=work.style,
            others=self._others_of((*node.others, *work.others)),
            target=target or w.Size(),
            times=node.times,
            more=node.more,
        )

    def _others_of(self, others: tuple[tuple[str, str], ...]) -> tuple[tuple[str, str], ...]:
        """Return what levels do instead, those that do as another one among them."""
        return (
            *others,
            *((n, name) for n, other in self.alike.items() for level, name in others if level == other),
        )

    def _counts(self, work: p.WorkLine, usual: tuple[int, ...]) -> tuple[int, ...]:
        """Return the count of every division: `usual` ones, and those of levels that do another number."""
        if not work.counts_of or not usual:
            return usual
        found = dict(zip(self.divisions, usual * len(self.divisions) if len(usual) == 1 else usual, strict=False))
        told = (
            *work.counts_of,
            *((n, c) for n, o in self.alike.items() for level, c in work.counts_of if level == o),
        )
        for level, counts in told:
            mine = [name for name in self.divisions if set(level.split()) <= set(name.split())]
            theirs = for_divisions(counts, mine) if mine else ()
            if not theirs:
                return ()
            found |= dict(zip(mine, theirs * len(mine) if len(theirs) == 1 else theirs, strict=False))
        return tuple(found.values())

    def _size(self, work: p.WorkLine, amounts: Sequence[Quantity]) -> tuple[w.Size, str]:
        """Return the size of every division, and what is not clear about it."""
        movement = self.library.movements[work.movement]
        problem, unit = self._unit(movement, amounts)
        if problem:
            return w.Size(), problem
        if len(amounts) == 2 and movement.size is SizeKind.DISTANCE and amounts[0].value == 2 * amounts[1].value:
            amounts = amounts[:1]  # “20 m (10 m out and back)”
        if movement.size is SizeKind.DISTANCE:  # “one rep is 2 x 7.5 m”
            amounts = [replace(a, value=a.value * (2 if a.pair else 1), pair=False) for a in amounts]
        plural = bool(work.sizes and "plural" in work.sizes.nouns and len(amounts) == 1)
        pair = movement.size is SizeKind.LOAD and (movement.gear.startswith("two") or plural)
        size = size_of([replace(a, unit=unit) for a in amounts], self.divisions, pair)
        if size is None:
            return w.Size(), "which number is for whom?"
        return size, "the women’s number is above the men’s, is that so?" if self._falling(size) else ""

    def _falling(self, size: w.Size) -> bool:
        """Return whether women would use more than men: rather misread than meant."""
        return self.divisions == DEFAULT_DIVISIONS and len(size.values) == 2 and size.values[0] < size.values[1]

    def _unit(self, movement: Movement, amounts: Sequence[Quantity]) -> tuple[str, str]:
        """Return what is wrong with the unit of amounts (empty if nothing) and the unit."""
        kind = movement.size
        if amounts[0].unit:
            return "", amounts[0].unit
        if kind is SizeKind.HEIGHT:
            return "", "in" if max(a.value for a in amounts) <= 40 else "cm"
        if kind is SizeKind.DISTANCE:
            return "in m or ft?", ""
        cast_kg = "kettlebell" in movement.gear and all(a.value in KETTLEBELLS_KG for a in amounts)
        halves = any(a.value % 1 for a in amounts)  # 22.5 and 42.5 are sizes in kg only
        values = [a.value for a in amounts]
        unit = self.unit or ("kg" if cast_kg or halves else _cast(movement, values) or _likely(movement, values))
        return ("", unit) if unit else ("in kg or lb?", "")

    def unused(self) -> Iterator[Node]:
        """Yield a doubt for every load that stands apart and belongs to nothing."""
        for said, load in self.apart if self.items else ():
            used = id(load) in self.taken or all(self._known(a) for a in load.sizes.amounts)
            if not used and said.sentence.section in (Section.WORK, Section.LOADS) and self._matters(said, load):
                yield Node(said.tokens(load), w.Doubt(f"{said.text()[:LONGEST_DOUBT]}: what is it for?"))

        for said in self.said:
            open_rows = said.sentence.section in (Section.WORK, Section.LOADS) and not (said.used or said.doubted)
            for row in said.of(p.LoadRow) if open_rows else ():
                words = f"{said.text()[:LONGEST_DOUBT]}: which of them for which round?"
                yield Node(said.tokens(row), w.Doubt(words))

    def _matters(self, said: Said, load: p.Loads) -> bool:
        works = any(work.counts for work in said.of(p.WorkLine))
        far = works and any(
            a.unit in ("m", "km") and a.value >= LEAST_WAY_M for a in load.sizes.amounts
        )  # “walks 30 m on …”
        return far or any(a.unit in ("kg", "lb") for a in load.sizes.amounts)

    def _known(self, amount: Quantity) -> bool:
        return any(
            amount.value == other.value and amount.unit in ("", other.unit)
            for amounts in self.found.values()
            for other in amounts
        )


def _level_of(division: str) -> bool:
    """Return whether a division is one of a level that is not everybody's."""
    return bool(set(division.split()) - {"men", "women", "rx", "open"})


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


def _counted_in(unit: str, movement: Movement) -> bool:
    """Return whether a movement may be counted in a unit."""
    return movement.size is SizeKind.UNIT or (unit == "m" and movement.family in BY_DISTANCE)


def _counted(node: Node) -> Iterator[Node]:
    """Yield the lines of work that a series or ladder gives its count to."""
    if isinstance(node.block, w.Series | w.Ladder):
        yield from node.items()
    for inner in node.inner:
        yield from _counted(inner)


def _endless(node: Node) -> Iterator[Node]:
    """Yield lines of work that are alone in what is repeated to the end: “then as many burpees as possible”."""
    if (node.block == w.Rounds(0, ()) or isinstance(node.block, w.TimedPart)) and len(
        items := list(node.items())
    ) == 1:
        yield from items
    for inner in node.inner:
        yield from _endless(inner)


def _sexed(division: str) -> bool:
    return bool({"men", "women"} & set(division.split()))


def _nested(node: Node) -> Iterator[Node]:
    """Yield the lines of work in rounds inside a series or ladder, whose count is written `n`."""
    for inner in node.inner:
        if isinstance(node.block, w.Series | w.Ladder) and inner.work is None:
            yield from inner.items()
        yield from _nested(inner)


def _distinct(amounts: Sequence[Quantity]) -> tuple[Quantity, ...]:
    """Return amounts once each, all of the first unit that is said: “split it 6/4” is no load beside 60/42.5 kg."""
    unit = next((a.unit for a in amounts if a.unit), "")
    return tuple(dict.fromkeys(a for a in amounts if a.unit == unit))


def _order(said: Sequence[Said]) -> list[str]:
    """Return divisions that stand in a row and nothing beside them: “Elite men / Elite women / Men / Women”."""
    for other in said:
        tokens = other.sentence.tokens
        opens = [i for i, token in enumerate(tokens) if token.mark("(")]
        closes = [i for i, token in enumerate(tokens) if token.mark(")")]
        inner = tokens[opens[0] + 1 : closes[-1]] if opens and closes and other is said[0] else []
        names = _in_a_row(tokens) or _in_a_row(inner)  # “Workout 4 (women / men)”
        if names:
            return names
    return []


def _in_a_row(tokens: Sequence[Token]) -> list[str]:
    """Return the divisions words name one by one, none if there is anything else or only one."""
    names, index = [], 0
    while index < len(tokens):
        name, used = division_at(tokens, index)
        if not used and not tokens[index].mark("/|,"):
            return []
        names += [name] if used else []
        index += max(1, used)
    return names if len(names) > 1 else []


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
    behind = p.nouns_of(tokens[load.hi : end]) if not p.nouns_of(tokens[start : load.lo]) else []
    return before + behind + p.nouns_of(said.sentence.lead)
