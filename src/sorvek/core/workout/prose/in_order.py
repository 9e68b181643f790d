"""Loads told in the order of the work: “9/6 kg, 22.5/15 kg”, “women use 6 kg and 42.5 kg”."""

from collections.abc import Sequence
from dataclasses import replace

from sorvek.core.quantities import KG_PER_LB
from sorvek.core.workout.movements import SizeKind
from sorvek.core.workout.notation_reader import DEFAULT_DIVISIONS
from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.divisions import level_of
from sorvek.core.workout.prose.draft import Said
from sorvek.core.workout.prose.ledger import Ledger, labelled, nothing_but_loads
from sorvek.core.workout.prose.sizes import Quantity
from sorvek.core.workout.prose.targets import label_before

LEAST_OF_WOMEN, MOST_OF_WOMEN = 0.6, 0.8  # women's load as a share of men's; judgement
MOST_APART = 5.0  # no division lifts so many times what another one does; judgement
FAR = 3.0  # a load so many times the usual one, or less than its inverse, is of another movement; judgement


def take_pairs(ledger: Ledger) -> None:
    """Take pairs of loads told in the order of the work: “9/6 kg, 22.5/15 kg, 60/50 cm”."""
    lacking = [i for i in ledger.items if id(i) not in ledger.found and ledger.kind(i) is SizeKind.LOAD]
    names = list(dict.fromkeys(item.work.movement for item in lacking if item.work))
    for said_of in _rows_of_loads(ledger) if len(names) > 1 else ():
        loads = [load for one, load in ledger.apart if one in said_of]
        amounts = [a for load in loads for a in load.sizes.amounts if a.unit in ("kg", "lb")]
        plain = not any(set(load.nouns) - {"plural"} for load in loads) and not any(a.division for a in amounts)
        pairs = dict(zip(names, zip(amounts[::2], amounts[1::2], strict=False), strict=False))
        if not plain or len(amounts) != 2 * len(names) or not all(_near(ledger, n, a) for n, a in pairs.items()):
            continue
        for item in lacking:
            assert item.work is not None
            ledger.found[id(item)] = pairs[item.work.movement]
            item.tokens += [token for load in loads for said in said_of for token in said.tokens(load)]
        heights = [load for load in loads if any(a.unit not in ("kg", "lb") for a in load.sizes.amounts)]
        ledger.taken |= {id(load) for load in loads if load not in heights}
        return


def _rows_of_loads(ledger: Ledger) -> list[list[Said]]:
    """Return the sentences with loads, each alone, and all of a line of nothing else: “20/14 lb; 60/43 kg”."""
    said_of = list({id(said): said for said, _ in ledger.apart}.values())
    lines: dict[int, list[Said]] = {}
    for said in filter(nothing_but_loads, said_of):
        lines.setdefault(said.sentence.line, []).append(said)
    return [*([said] for said in said_of), *(row for row in lines.values() if len(row) > 1)]


def take_in_order(ledger: Ledger) -> None:
    """Take loads told in the order of the work: “women use 6 kg and 42.5 kg” of wall balls and power cleans."""
    lacking = [i for i in ledger.items if id(i) not in ledger.found and ledger.kind(i) is SizeKind.LOAD]
    names = list(dict.fromkeys(item.work.movement for item in lacking if item.work))
    found: dict[str, tuple[Quantity, ...]] = {}
    rows: list[tuple[Said, p.Loads]] = []
    for said, load in ledger.apart if len(names) > 1 else ():
        if _one_pair(ledger, said, load, names):
            for item in lacking:
                ledger.found[id(item)] = load.sizes.amounts
                item.tokens += said.tokens(load)
            ledger.taken.add(id(load))
            return
        told = _by_place(ledger, said, load, names)
        if told and not any(a.division == b.division for a in told[names[0]] for b in found.get(names[0], ())):
            found = {name: (*found.get(name, ()), *told[name]) for name in names}
            rows.append((said, load))
    for item in lacking if found else ():
        assert item.work is not None
        ledger.found[id(item)] = found[item.work.movement]
        for said, load in rows:
            item.tokens += said.tokens(load)
    ledger.taken |= {id(load) for _, load in rows}


def take_levels_in_order(ledger: Ledger) -> None:
    """Take loads of a level that stand in the order of all loaded work: “Masters M: 9 kg / 50 kg”."""
    items = [item for item in ledger.items if ledger.kind(item) is SizeKind.LOAD]
    names = list(dict.fromkeys(item.work.movement for item in items if item.work))
    for said, load in ledger.apart if len(names) > 1 else ():
        weights = all(a.unit in ("kg", "lb") for a in load.sizes.amounts) and too_unlike(load.sizes.amounts)
        told = _by_place(ledger, said, load, names) if weights else {}
        for item in items if told and all(level_of(a.division) for row in told.values() for a in row) else ():
            assert item.work is not None
            ledger.found[id(item)] = (*ledger.found.get(id(item), ()), *told[item.work.movement])
            item.tokens += said.tokens(load)
            ledger.placed.add(id(load))
            ledger.levelled.add(id(item))


def take_by_sentence(ledger: Ledger) -> None:
    """Take loads of a sentence told for men and for women in the order of the work, implements or not.

    “Men 9 kg ball and 24 kg bell, women 6 kg and 16 kg.”
    """
    items = [i for i in ledger.items if id(i) not in ledger.found and ledger.kind(i) is SizeKind.LOAD]
    names = list(dict.fromkeys(item.work.movement for item in items if item.work))
    for said in {id(said): said for said, _ in ledger.apart}.values() if len(names) > 1 else ():
        loads = [load for one, load in ledger.apart if one is said]
        cut = any(len({a.division for a in load.sizes.amounts}) > 1 for load in loads)  # one goes on to women's
        one = p.Loads(0, 0, replace(loads[0].sizes, amounts=tuple(a for x in loads for a in x.sizes.amounts)), ())
        told = _by_place(ledger, said, one, names) if len(loads) > 1 and cut else {}
        if {a.division for row in told.values() for a in row} != set(DEFAULT_DIVISIONS):
            continue
        for item in items:
            assert item.work is not None
            ledger.found[id(item)] = told[item.work.movement]
            item.tokens += said.sentence.tokens
        ledger.placed |= {id(load) for load in loads}
        ledger.taken |= {id(load) for load in loads}


def _one_pair(ledger: Ledger, said: Said, load: p.Loads, names: Sequence[str]) -> bool:
    """Return whether loads are men's and women's of everything: “Load 43/30 kg” of snatches and lunges."""
    amounts = load.sizes.amounts
    tokens = said.tokens(load)
    pair = len(amounts) == 2 and not (load.nouns or any(a.division for a in amounts)) and bool(amounts[1].unit)
    slashed = any(token.mark("/") for token in tokens) and pair
    share = amounts[1].value / amounts[0].value if slashed else 0.0
    usual = LEAST_OF_WOMEN <= share <= MOST_OF_WOMEN and amounts[0].unit in ("", amounts[1].unit)
    measured = [replace(a, unit=amounts[1].unit) for a in amounts] if usual else []
    weighed = bool(measured) and measured[0].unit in ("kg", "lb") and id(load) not in ledger.taken
    return weighed and not label_before(said, load) and all(_near(ledger, name, measured) for name in names)


def _by_place(ledger: Ledger, said: Said, load: p.Loads, names: Sequence[str]) -> dict[str, tuple[Quantity, ...]]:
    """Return the loads of a sentence by the movement in whose place they stand; none if not as many."""
    label = label_before(said, load)
    loads = _filled([labelled(a, label) for a in load.sizes.amounts if a.unit in ("kg", "lb")])
    rows = {name: [a for a in loads if a.division == name] for name in {a.division for a in loads}}
    mixed = len(loads) < len(load.sizes.amounts)  # “140 kg / 60 cm / 9 kg”: the height is that of the box
    taken = (id(load) in ledger.taken and not mixed) or load.nouns
    if taken or not rows or any(len(row) != len(names) for row in rows.values()):
        return {}
    told = {name: tuple(row[at] for row in rows.values()) for at, name in enumerate(names)}
    return told if all(_near(ledger, name, amounts) for name, amounts in told.items()) else {}


def _near(ledger: Ledger, name: str, amounts: Sequence[Quantity]) -> bool:
    """Return whether loads are of the size a movement is usually done with."""
    usual = {"kg": ledger.library.movements[name].ref_men, "lb": ledger.library.movements[name].ref_men / KG_PER_LB}
    return all(1 / FAR < a.value / usual[a.unit] < FAR for a in amounts)


def too_unlike(amounts: Sequence[Quantity]) -> bool:
    """Return whether loads cannot all be of one movement: “Masters: 9 kg / 50 kg” of two."""
    rows = [[a.value for a in amounts if a.unit == unit and a.value] for unit in ("kg", "lb")]
    return any(row and max(row) / min(row) > MOST_APART for row in rows)


def _filled(amounts: Sequence[Quantity]) -> list[Quantity]:
    """Return amounts with the division named last before each: “women use 6 kg and 42.5 kg”."""
    found: list[Quantity] = []
    for amount in amounts:
        found.append(amount if amount.division or not found else replace(amount, division=found[-1].division))
    return found
