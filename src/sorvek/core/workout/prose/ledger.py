"""The loads of an announcement and its lines of work: what is given out, and to which of them."""

from collections.abc import Sequence
from dataclasses import replace

from sorvek.core.workout.movements import Library, SizeKind
from sorvek.core.workout.notation_reader import DEFAULT_DIVISIONS
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.amounts import IMPLEMENTS
from sorvek.core.workout.prose.divisions import PLAIN
from sorvek.core.workout.prose.draft import Node, Said
from sorvek.core.workout.prose.headings import Section
from sorvek.core.workout.prose.sizes import Quantity
from sorvek.core.workout.prose.words import Kind


class Ledger:
    """The amounts `found` for every line of work, by its identity, and the loads `apart` that are `taken` for them.

    `unclear` are lines whose loads may be others', `single` those of which it is not told how many implements,
    `placed` the loads of levels given out in the order of the work, `levelled` the lines that have such; `own` is
    what lines have before loads of levels are looked for.
    """

    def __init__(self, said: Sequence[Said], items: Sequence[Node], library: Library) -> None:
        self.library = library
        self.said = said
        self.items = items
        self.apart = self._told_apart()
        self.same = any({"same"} & s.low() and s.cue("barbell", "dumbbell", "kettlebell") for s in said)
        self.taken: set[int] = set()
        self.placed: set[int] = set()
        self.levelled: set[int] = set()
        self.unclear: set[int] = set()
        self.single: set[int] = set()
        self.found: dict[int, tuple[Quantity, ...]] = {}
        self.own: dict[int, tuple[Quantity, ...]] = {}

    def _told_apart(self) -> list[tuple[Said, p.Loads]]:
        """Return the loads that stand apart from counted work, with their sentences."""
        found = [
            (s, load)
            for s in self.said
            for load in s.of(p.Loads)
            if not s.doubted and s.sentence.section not in (Section.SCALED, Section.STORY)
            if not (_titled(s, load) or _rungs(load) or _plates(s, load) or _counts_only(s, load))
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

    def _others(self, work: p.WorkLine) -> tuple[Quantity, ...]:
        """Return the loads behind work that cannot be its own: “box jump-overs; men 60 kg and 60 cm”."""
        if self.library.movements[work.movement].size is SizeKind.LOAD or not work.sizes:
            return ()
        none = self.library.movements[work.movement].size is SizeKind.NONE and len(work.sizes.amounts) > 1
        return tuple(a for a in work.sizes.amounts if a.unit in ("kg", "lb") or (none and not a.unit))

    def kind(self, item: Node) -> SizeKind:
        """Return what a size of a line of work means."""
        assert item.work is not None
        return self.library.movements[item.work.movement].size

    def two_handed(self, item: Node) -> bool:
        """Return whether a line of work is done with two implements."""
        return item.work is not None and self.library.movements[item.work.movement].gear.startswith("two")

    def gear(self, item: Node) -> str:
        """Return the implement a line of work is done with, else its gear, else its name."""
        assert item.work is not None
        gear = self.library.movements[item.work.movement].gear.split(";")[0]
        return next((name for name in IMPLEMENTS if name in gear), gear or item.work.movement)


def _titled(said: Said, load: p.Loads) -> bool:
    """Return whether a number belongs to the name of a workout: “Open 3: two parts”."""
    slashed = any(token.mark("/") for token in said.tokens(load))
    return said.sentence.line == 1 and not slashed and not any(a.unit for a in load.sizes.amounts)


def _plates(said: Said, load: p.Loads) -> bool:
    """Return whether an amount is a plate that is to be at hand: “standard plates (45 lb / 20 kg)”."""
    before = [token.low for token in said.sentence.tokens[max(0, load.lo - 2) : load.lo]]
    return said.sentence.section is Section.LOADS and bool({"plates", "collars"} & set(before))


def _counts_only(said: Said, load: p.Loads) -> bool:
    """Return whether bare numbers are all a line holds, and more than two: “27 / 21 / 15” are counts."""
    bare = all(token.kind in (Kind.NUMBER, Kind.MARK) for token in said.sentence.tokens)
    return bare and len(load.sizes.amounts) > len(DEFAULT_DIVISIONS)


def _rungs(load: p.Loads) -> bool:
    """Return whether numbers in pairs are counts of further rungs: “add 5 to each (10/10, 15/15, 20/20 …)”."""
    values = [a.value for a in load.sizes.amounts]
    pairs = list(zip(values[::2], values[1::2], strict=False))
    plain = not any(a.unit or a.division for a in load.sizes.amounts) and len(values) % 2 == 0
    return plain and len(pairs) > 1 and all(a == b for a, b in pairs)


def labelled(amount: Quantity, label: str) -> Quantity:
    """Return an amount with the division named before it: “Scaled: 42.5 kg men / 30 kg women”."""
    if not amount.division or not label:
        return replace(amount, division=amount.division or label)
    mixed = amount.division in DEFAULT_DIVISIONS and label not in PLAIN and not sexed_name(label)
    return replace(amount, division=f"{label} {amount.division}") if mixed else amount


def sexed_name(division: str) -> bool:
    """Return whether a division names a sex."""
    return bool({"men", "women"} & set(division.split()))


def nothing_but_loads(said: Said) -> bool:
    """Return whether a sentence is a line of loads: “Men 35 kg, women 25 kg”."""
    loads = said.of(p.Loads)
    words = sum(load.hi - load.lo for load in loads)
    named = [t for t in said.sentence.tokens if not t.mark(",.:;-–/()") and not t.cue("men", "women", "level")]
    numbers = [t for load in loads for t in said.tokens(load) if t in named]
    return bool(words) and len(numbers) == len(named) and not said.sentence.lead
