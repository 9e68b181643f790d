"""Lines of work with their loads, heights and distances, and the divisions that are named."""

from collections.abc import Iterator, Sequence
from dataclasses import replace
from itertools import pairwise

from sorvek.core.workout import tree as w
from sorvek.core.workout.movements import Library, Movement, SizeKind
from sorvek.core.workout.notation_reader import BY_DISTANCE, DEFAULT_DIVISIONS
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.alike import of_the_other
from sorvek.core.workout.prose.divisions import PLAIN, division_at, level_of, sexed
from sorvek.core.workout.prose.draft import LONGEST_DOUBT, Node, Said, words_of
from sorvek.core.workout.prose.given import Given
from sorvek.core.workout.prose.headings import Section
from sorvek.core.workout.prose.sizes import Quantity, for_divisions, size_of
from sorvek.core.workout.prose.targets import label_before, target_of
from sorvek.core.workout.prose.units import unit_of, usual_unit
from sorvek.core.workout.prose.words import Token

# Bare numbers behind “run” and behind a machine that are metres: nobody rows 300 calories (judgement).
LEAST_RUN_M, LEAST_MACHINE_M = 100, 300
ORDERED = {
    "numbers",
    "loads",
    "weights",
    "are",
    "is",
    "in",
    "order",
    "the",
    "all",
    "given",
    "as",
}  # “numbers are women / men”
FARTHEST_TARGET = 12.0  # in whatever unit: a ball flies no higher
LEAST_WAY_M = 5  # no rope or target is that high, so that it is a way; judgement
LEAST_ROW = 2  # bare loads of one division are for many bars: “Women: 47.5 / 52.5 / 60”


class Sized:
    """Which amounts belong to which lines of work, and the divisions they name."""

    def __init__(
        self, said: Sequence[Said], nodes: Sequence[Node], library: Library, alike: dict[str, str]
    ) -> None:
        self.library = library
        self.said = said
        self.items = [item for node in nodes for item in node.items()]
        self.counted = {id(item) for node in nodes for item in _counted(node)}
        self.nested = {id(item) for node in nodes for item in _nested(node)}
        self.alone = len(self.items) == 1
        self.endless = {id(item) for node in nodes for item in _endless(node)}
        self.given = Given(said, self.items, library)
        self.alike = alike
        self.found = {key: of_the_other(amounts, self.alike) for key, amounts in self.given.found.items()}
        self.found = _one_age(self.found)
        self.order = _order(said)
        self._in_order(self.order)
        self.unit = usual_unit([token for s in said for token in s.sentence.tokens])
        self.divisions = self._divisions()

    def _in_order(self, names: Sequence[str]) -> None:
        """Give numbers in a row the divisions that are named in a row; a level has men's and women's."""
        if names and not any({"men", "women"} & set(name.split()) for name in names):
            self._in_order([sexed(name, sex) for name in names for sex in ("men", "women")])
        for key, amounts in self.found.items():
            if len(names) == len(amounts) and not any(a.division for a in amounts):
                self.found[key] = tuple(replace(a, division=n) for a, n in zip(amounts, names, strict=True))

    def _divisions(self) -> tuple[str, ...]:
        names = list(dict.fromkeys(a.division for amounts in self.found.values() for a in amounts if a.division))
        levels = dict.fromkeys(level for item in self.items if item.work for level, _ in item.work.counts_of)
        told = {*map(level_of, levels)}
        all_told = bool(names) and told <= {*map(level_of, names)}  # nobody but levels: “35-39: …, 40+: …”
        names = [name for name in dict.fromkeys([*names, *levels]) if name not in PLAIN]
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
            or (levels and not all_told)
            or plain & set(found)
            or any(a.division in PLAIN[1:] for amounts in self.found.values() for a in amounts)
            else []
        )
        return tuple(dict.fromkeys([*base, *sorted(found, key=self._first_told)]))

    def _first_told(self, division: str) -> int:
        """Return where in the text the level of a division is named first."""
        level = level_of(division)
        tokens = [token for said in self.said for token in (*said.sentence.lead, *said.sentence.tokens)]
        named = (
            t.start for i, t in enumerate(tokens) if t.cue("level") and level == level_of(division_at(tokens, i)[0])
        )
        age = level.split()[-1].rstrip("+").partition("-")[0] if level else ""
        ages = (a.start for a, b in pairwise(tokens) if a.text == age and b.mark("+-–"))
        later = min(ages, default=tokens[-1].start)  # “…, 45+: 65/45”
        return min(named, default=later if level else 0)

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
        metres = metres or (alone and movement.family == "carry")  # as far as it goes in a minute
        unit = "m" if metres else work.unit or ("" if work.counts else self._told_unit(movement))  # “run 800”
        problems = (
            (count == w.RISING and id(node) not in self.counted, "how many?"),
            (bool(work.unsure), work.unsure),
            (bool(work.counts) and not by_division, "which count is for whom?"),
            (id(node) in self.given.unclear, "which of the loads?"),
            (bool(problem), problem),
            (len(dict(node.others)) < len(set(node.others)), "which movement for which level?"),
            (id(node) in self.given.single, "with one or with two of them?"),
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
            per_rep=work.per_rep if unit == "m" else 0.0,
        )

    def _told_unit(self, movement: Movement) -> str:
        """Return calories for a machine where the text speaks of them and of no metres: “for total calories”."""
        units = {token.name for s in self.said for token in s.sentence.tokens if token.unit("cal", "m", "km")}
        return "cal" if movement.family == "machine" and units == {"cal"} else ""

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
        problem, unit = unit_of(movement, amounts, self.unit)
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

    def unused(self) -> Iterator[Node]:
        """Yield a doubt for every load that stands apart and belongs to nothing."""
        for said, load in self.given.apart if self.items else ():
            level = level_of(label_before(said, load))
            used = id(load) in self.given.taken or all(self._known(a, level) for a in load.sizes.amounts)
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
        lifted = [self.library.movements[n] for n in load.nouns[:1] if n in self.library.movements]
        bare = [a for a in load.sizes.amounts if not a.unit]  # “AMRAP clean and jerks 90/62.5”
        paired = len(bare) > 1 and any(movement.size is SizeKind.LOAD for movement in lifted)
        named = [a.division for a in load.sizes.amounts if a.division]
        several = len(load.sizes.amounts) > 1 and any(level_of(name) or len(bare) > LEAST_ROW for name in named)
        return far or paired or several or any(a.unit in ("kg", "lb") for a in load.sizes.amounts)

    def _known(self, amount: Quantity, level: str) -> bool:
        """Return whether a line of work has an amount, that of a level if it is told of one."""
        level = level or level_of(amount.division)
        thrown = any(o.work and self.library.movements[o.work.movement].to_target for o in self.items)
        if thrown and amount.unit in ("ft", "m") and amount.value <= FARTHEST_TARGET:
            return True  # “wall balls 9/6 kg to 10/9 ft”: a target is no load
        return any(
            amount.value == other.value
            and amount.unit in ("", other.unit)
            and level in ("", level_of(other.division))
            for amounts in self.found.values()
            for other in amounts
        )


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


def _nested(node: Node) -> Iterator[Node]:
    """Yield the lines of work in rounds inside a series or ladder, whose count is written `n`."""
    for inner in node.inner:
        if isinstance(node.block, w.Series | w.Ladder) and inner.work is None:
            yield from inner.items()
        yield from _nested(inner)


def _one_age(found: dict[int, tuple[Quantity, ...]]) -> dict[int, tuple[Quantity, ...]]:
    """Return amounts in which a level named with one age only has it everywhere: “Masters” of “Masters 45+”."""
    names = {a.division for amounts in found.values() for a in amounts}
    aged = {name for name in names if name[-1:] and name[-1] in "+0123456789"}
    bare: dict[str, set[str]] = {}
    for name in aged:
        bare.setdefault(" ".join(name.split()[:-1]), set()).add(name)
    rows = [{a.division for a in amounts} for amounts in found.values()]
    apart = {level for level, ages in bare.items() if any(level in row and ages & row for row in rows)}
    levels = {level for level in bare if level in names and set(level.split()) - {"men", "women"}} - apart
    only = {level: next(iter(bare[level])) for level in levels if len(bare[level]) == 1}
    return {
        key: tuple(replace(a, division=only.get(a.division, a.division)) for a in row) for key, row in found.items()
    }


def _order(said: Sequence[Said]) -> list[str]:
    """Return divisions that stand in a row and nothing beside them: “Elite men / Elite women / Men / Women”."""
    for other in said:
        tokens = [token for token in other.sentence.tokens if not (token.low in ORDERED or token.mark("."))]
        tokens = tokens[1:-1] if tokens and tokens[0].mark("(") and tokens[-1].mark(")") else tokens
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
