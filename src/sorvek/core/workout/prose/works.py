"""Lines of work, lifts and loads in a row of words; and all that a sentence says, in order."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace

from sorvek.core.workout import tree as w
from sorvek.core.workout.movements import Library, PowerKind, SizeKind
from sorvek.core.workout.prose.counts import (
    duration,
    minutes_at,
    numbered_at,
    range_at,
    rounds_at,
    series_at,
    span_at,
    step_at,
)
from sorvek.core.workout.prose.phrases import (
    ELLIPSES,
    Cue,
    Instead,
    Lift,
    Loads,
    Phrase,
    Span,
    Step,
    Unknown,
    WordRow,
    WorkLine,
    harmless,
    skip,
    whole,
)
from sorvek.core.workout.prose.sizes import Sizes, division_at, sizes_at
from sorvek.core.workout.prose.words import Kind, Token, vocabulary

M_PER_UNIT = {"m": 1.0, "km": 1000.0, "ft": 0.3048, "mile": 1609.344}
COUNTED = ("cal", *M_PER_UNIT)
STYLE_WORDS = {
    **dict.fromkeys(("step", "stepping", "stepped", "steps"), "step"),
    **dict.fromkeys(("kipping", "kip", "kips", "no-kip"), "kipping"),
    "strict": "strict",
}
STYLE_TAILS = {"down", "over", "only", "required", "in", "out", "back", "up", "each", "rep"}


def counted_at(row: WordRow, at: int) -> int | None:
    """Return where the movement stands if counted work begins at a number, None if none does."""
    if not whole(row.tokens[at]):
        return None
    index = at + 1
    while index < len(row.tokens) and row.tokens[index].mark("/") and row.number_at(index + 1):
        index += 2
    index = skip(row.tokens, index, vocabulary("adjectives") - {"of"})
    token = row.token(index)
    if token is not None and token.unit(*COUNTED):
        index += 1
        index += row.token(index) is not None and row.tokens[index].mark(".")
    elif token is not None and token.unit():
        return None
    limit = index + 14
    while index < min(len(row.tokens), limit):
        token = row.tokens[index]
        if token.kind is Kind.MOVEMENT:
            return index
        skipped = _between(row, index) or _implement(row, index)
        if not skipped:
            return None
        index += skipped
    return None


def _between(row: WordRow, at: int) -> int:
    """Return how many tokens may stand between a count and its movement here: an adjective, a side, a load."""
    token = row.tokens[at]
    if (
        token.low in vocabulary("adjectives")
        or token.mark("-–(")
        or (token.mark(".") and row.lead(at) == "alt")
        or token.cue("left", "right", "barbell")
        or token.low in ("on the", "on a", "at")
    ):
        return 1
    if token.kind is Kind.NUMBER and not duration(row, at):
        behind = row.token(skip(row.tokens, at + 1, set()))
        if behind is not None and (behind.unit("kg", "lb", "m", "ft", "cm", "in", "pood") or behind.mark("/")):
            return 1
    if (token.mark("/)") or token.unit("kg", "lb", "m", "ft", "cm", "in", "pood")) and at > 1:
        return 1
    return 0


def _implement(row: WordRow, at: int) -> int:
    """Return 1 for the implement before a movement that is done with it: “10 KB goblet squats”."""
    token, movement = row.tokens[at], row.token(at + 1)
    if movement is None or movement.kind is not Kind.MOVEMENT or not token.cue("dumbbell", "kettlebell", "pair"):
        return 0
    if token.cue("pair"):  # “10 double dumbbell deadlifts”
        return int(row.library.movements[movement.name].gear.startswith("two"))
    return int(token.name in row.library.movements[movement.name].gear)


def work_at(row: WordRow, at: int) -> WorkLine | None:
    """Read counted work: “9 power cleans (60/42.5 kg)”, “50 cal row”, “12 left-arm dumbbell snatches”."""
    place = counted_at(row, at)
    if place is None:
        return None
    counts, index = [int(row.tokens[at].number)], at + 1
    while index < place and row.tokens[index].mark("/") and row.number_at(index + 1):
        counts.append(int(row.tokens[index + 1].number))
        index += 2
    index = skip(row.tokens, index, vocabulary("adjectives"))
    unit = ""
    if row.tokens[index].unit(*COUNTED):
        unit = row.tokens[index].name
        index += 1
    inner = [i for i in range(index, place) if row.tokens[i].kind is Kind.NUMBER]
    sizes = sizes_at(row.tokens[:place], inner[0], set()) if inner else None
    movement = row.library.movements[row.tokens[place].name]
    if unit in M_PER_UNIT and movement.size is SizeKind.DISTANCE and not sizes:
        inner_sizes = sizes_at(row.tokens[:place], at, set())
        return _finished(row, at, place, (1,), "", inner_sizes)
    return _finished(row, at, place, tuple(counts), unit, sizes)


def _finished(
    row: WordRow, lo: int, place: int, counts: tuple[int, ...], unit: str, sizes: Sizes | None
) -> WorkLine:
    """Complete work whose movement is found: what stands behind the movement, and what is odd about it."""
    side, end = _side(row, lo, place)
    style, end = _style(row, lo, place, end)
    behind = _sizes(row, end)
    if behind is not None:
        end = behind.hi
        sizes = behind if sizes is None else replace(sizes, amounts=(*sizes.amounts, *behind.amounts))
        late, after = _side(row, end, end - 1)
        side, end = (late, after) if late is not w.Side.BOTH and side is w.Side.BOTH else (side, end)
    name = _completed(row, place)
    name, unsure = _one_armed(row, name) if side is not w.Side.BOTH else (name, "")
    if unit in M_PER_UNIT:
        counts, unit = tuple(round(count * M_PER_UNIT[unit]) for count in counts), "m"
    if len(counts) == 1 and (hers := _hers(row, end, name)):
        counts, end = (*counts, hers[0]), hers[1]
    odd = unsure or _odd(row, lo, place)
    return WorkLine(lo, end, name, counts, unit, side, sizes, row.points(lo), odd, style)


def _completed(row: WordRow, place: int) -> str:
    """Return the movement with what stands behind it: “burpees to a six-inch target”, “lunges with dumbbells”."""
    ahead = row.tokens[place + 1 : place + 7]
    carried = [t for t in ahead[1:4] if t.cue("dumbbell", "kettlebell")] if ahead else []
    if carried and ahead[0].low in ("with", "holding", "carrying"):
        plain = row.tokens[place].name.removesuffix(" step")
        return row.library.named_like(f"{carried[0].name} {plain}") or row.tokens[place].name
    aimed = bool(ahead) and ahead[0].low == "to" and any(token.cue("target") for token in ahead)
    known = f"{row.tokens[place].name} to target"
    return known if aimed and known in row.library.movements else row.tokens[place].name


def _one_armed(row: WordRow, name: str) -> tuple[str, str]:
    """Return the movement with one dumbbell for work of one side, and what is unsure where there is none."""
    if not row.library.movements[name].gear.startswith("two"):
        return name, ""
    known = (f"single-arm {name}", f"single-arm {name.replace('hang ', '')}")
    found = next((one for one in known if one in row.library.movements), "")
    return (found, "") if found else (name, "with one or with two of them?")


def _style(row: WordRow, lo: int, place: int, end: int) -> tuple[str, int]:
    """Return the style demanded or forbidden beside a movement, “(step-down)”, “no kipping”, and where it ends.

    What is only allowed, “step-down is allowed”, is no demand.
    """
    known = {style.name for style in row.library.movements[row.tokens[place].name].styles if style.name}
    words = {word: name for word, name in STYLE_WORDS.items() if name in known}
    found, last, denied = "", end, False
    for index in [*range(lo, place), *range(end, min(len(row.tokens), end + 10))]:
        token = row.tokens[index]
        step = token.low.startswith("step")
        if index >= end and (token.kind in (Kind.NUMBER, Kind.MOVEMENT) or token.mark(";.:/|")) and not step:
            break
        if token.low in ("allowed", "permitted", "optional", "or", "may", "can"):
            return (f"no {found}", index + 1) if found and denied else ("", end)
        denied = denied or token.low in ("no", "not", "without", "no-kip")
        name = words.get("step" if step else token.low)
        if name is not None and not (name == "kipping" and not denied):
            found, last = name, max(last, index + 1)
    if not found:
        return "", end
    while (
        last > end
        and last < len(row.tokens)
        and (row.tokens[last].low in STYLE_TAILS or row.tokens[last].mark("-)"))
    ):
        last += 1
    return ("no " if denied else "") + found, last


def _hers(row: WordRow, at: int, movement: str) -> tuple[int, int] | None:
    """Return the women's count in brackets behind work, “(women 15)”, “(16 cal for women)”, and where it ends."""
    close = next((i for i in range(at, min(len(row.tokens), at + 9)) if row.tokens[i].mark(")")), None)
    if close is None or not row.tokens[at].mark("("):
        return None
    inner = row.tokens[at + 1 : close]
    numbers = [token for token in inner if token.kind is Kind.NUMBER]
    plain = all(
        token.cue("women")
        or token.unit("cal", "m")
        or whole(token)
        or token.mark(":-–=")
        or token.low in ("for", "reps", "rep", "the")
        for token in inner
    )
    bare = row.library.movements[movement].size in (SizeKind.NONE, SizeKind.UNIT)
    if not (plain and bare and len(numbers) == 1 and any(token.cue("women") for token in inner)):
        return None
    return int(numbers[0].number), close + 1


def _side(row: WordRow, lo: int, place: int) -> tuple[w.Side, int]:
    """Return the side said between count and movement or right behind it, and where the words end."""
    index = place + 1
    while index < len(row.tokens) and (
        row.tokens[index].mark("(-–,") or row.tokens[index].low in ("on", "with", "the", "all")
    ):
        index += 1
    behind = row.token(index)
    if behind is not None and behind.cue("left", "right"):
        end = index + 1
        while end < len(row.tokens) and (
            row.tokens[end].mark(")-") or row.tokens[end].low in ("arm", "hand", "side", "arms", "only")
        ):
            end += 1
        return w.Side(behind.name), end
    for token in row.tokens[lo:place]:
        if token.cue("left", "right"):
            return w.Side(token.name), place + 1
    return w.Side.BOTH, place + 1


def _sizes(row: WordRow, at: int) -> Sizes | None:
    """Return the amounts right behind a movement, across a comma or a bracket."""
    index = skip(
        row.tokens,
        at,
        {"each", "per", "with", "a", "an", "at", "using", "of", "over", "to", "onto", "from"},
        "-–,(:@",
    )
    if index in row.works:
        return None
    found = sizes_at(row.tokens, at, row.works)
    if found is None and index > at:
        found = sizes_at(row.tokens, index, row.works)
    return found


def _odd(row: WordRow, lo: int, place: int) -> str:
    """Return what makes it unsure that the movement is the one found, empty if nothing does."""
    behind = row.token(place + 1)
    if behind is not None and behind.mark("("):
        behind = row.token(place + 2)
    carried = [t for t in row.tokens[place + 1 : place + 5] if t.cue("dumbbell", "kettlebell", "barbell")]
    gear = row.library.movements[row.tokens[place].name].gear
    if behind is not None and behind.low in ("holding", "carrying") and carried and carried[0].name not in gear:
        return f"“{row.tokens[place].text} {behind.low} a {carried[0].name}” is no movement of the library"
    behind, second = row.token(place + 1), row.token(place + 2)
    if behind is not None and behind.text in "&+" and second is not None and second.kind is Kind.MOVEMENT:
        return f"“{row.tokens[place].text} {behind.text} {second.text}” is no movement of the library"
    if row.tokens[place].name == "burpee" and behind is not None and behind.low == "over":
        return f"“{row.tokens[place].text} over …” is no movement of the library"
    if behind is not None and behind.low in vocabulary("compounds"):
        return f"“{row.tokens[place].text} {behind.text}” is no movement of the library"
    if (
        behind is not None
        and behind.mark("-")
        and row.token(place + 2) is not None
        and row.tokens[place + 2].low in vocabulary("compounds")
    ):
        return f"“{row.tokens[place].text}-{row.tokens[place + 2].text}” is no movement of the library"
    return ""


def bare_at(row: WordRow, at: int) -> WorkLine | None:
    """Read a movement without a count before it; one may stand behind: “Thrusters x 21”, “Row: 500 m”."""
    token = row.tokens[at]
    movement = row.library.movements[token.name]
    far = movement.size is SizeKind.UNIT
    index = skip(row.tokens, at + 1, {"x", "×", "for", "of"} if far else {"x", "×", "for"}, ":-–(")
    listed = row.token(at + 1)
    if listed is not None and listed.mark(",") and row.number_at(at + 2) and _told(row, at + 3):
        index = at + 2  # “pull-ups, 20 reps”
    number = row.token(index)
    counts, unit, end = _count_behind(row, at, index) if number is not None else ((), "", at + 1)
    if (
        token.low in vocabulary("weak")
        and not counts
        and movement.styles[0].power is PowerKind.WORK
        and not _listed_alone(row, at)
    ):
        return None
    before = row.token(at - 1)
    unit = unit or _unit_near(row, at)
    sided = at - 1 if before is not None and before.cue("left", "right") else at
    if not counts:
        work = _finished(row, sided, at, counts, unit, None)
        return _counted_late(row, work) if work.sizes else work
    side, after = _side(row, end, end - 1)
    side = w.Side(before.name) if before is not None and sided < at else side
    sizes = _sizes(row, after)
    metres = tuple(round(c * M_PER_UNIT[unit]) for c in counts) if unit in M_PER_UNIT else counts
    if len(counts) == 1 and (hers := _hers(row, after, token.name)):
        counts, after = (*counts, hers[0]), hers[1]
        metres = tuple(round(c * M_PER_UNIT[unit]) for c in counts) if unit in M_PER_UNIT else counts
        sizes = None
    return WorkLine(
        at,
        sizes.hi if sizes else after,
        token.name,
        metres,
        "m" if unit in M_PER_UNIT else unit,
        side,
        sizes,
        row.points(at),
        _odd(row, at, at),
    )


def _told(row: WordRow, at: int) -> bool:
    token = row.token(at)
    return token is not None and token.low in ("reps", "rep", "repetitions")


def _counted_late(row: WordRow, work: WorkLine) -> WorkLine:
    """Return work with the count that stands behind its load: “Deadlift 100/70 kg: 40 reps”."""
    index = skip(row.tokens, work.hi, {"x", "×"}, ":-–,")
    number, behind = row.token(index), row.token(index + 1)
    told = behind is not None and behind.low in ("reps", "rep", "repetitions")
    if index == work.hi or number is None or not whole(number) or not told:
        return work
    return replace(work, counts=(int(number.number),), hi=index + 2)


def _count_behind(row: WordRow, at: int, index: int) -> tuple[tuple[int, ...], str, int]:
    """Return count and unit that stand behind a movement, “Thrusters x 21”, “Row: 500 m”, and where they end."""
    if row.number_at(index + 1):
        return (), "", at + 1  # “(one 22.5 kg dumbbell)”
    number, movement = row.tokens[index], row.library.movements[row.tokens[at].name]
    machine = movement.size is SizeKind.UNIT
    if not whole(number) or index in row.works or not (index > at + 1 or machine):
        return (), "", at + 1
    place = skip(row.tokens, index + 1, set())
    behind = row.token(place)
    counts: tuple[int, ...] = (int(number.number),)
    if machine and behind is not None and behind.mark("/") and row.number_at(place + 1):
        counts, behind = (*counts, int(row.tokens[place + 1].number)), row.token(place + 2)
    if machine and behind is not None and behind.unit(*COUNTED):
        return counts, behind.name, place + 2 * len(counts) - 1
    behind = row.token(index + 1)
    if behind is not None and behind.low in ("x", "×"):
        return (), "", at + 1
    if duration(row, index) is not None or (behind is not None and (behind.unit() or behind.mark("/-–"))):
        return (), "", at + 1
    told = behind is not None and behind.low in ("reps", "rep", "repetitions", "times")
    return (int(number.number),), "", index + 2 if told else index + 1


def _unit_near(row: WordRow, at: int) -> str:
    """Return what a machine is counted in where no number says it: “calorie row”, “row as many calories as”."""
    if row.library.movements[row.tokens[at].name].size is not SizeKind.UNIT:
        return ""
    near = [*row.tokens[max(0, at - 3) : at], *row.tokens[at + 1 : at + 6]]
    return next((t.name for t in near if t.unit("cal", "m")), "")


def _listed_alone(row: WordRow, at: int) -> bool:
    """Return whether nothing but marks stands before a word in its sentence."""
    return all(token.kind is Kind.MARK for token in row.tokens[:at])


# So many words behind the cue the lift is looked for, farther where the parts of a complex follow.
FARTHEST, FARTHEST_PART = 8, 16
# Words that stand between the parts of a complex.
JOINS = {"and", "then", "into", "plus", "followed by"}


def lift_at(row: WordRow, at: int) -> Lift | None:
    """Read “establish a 1RM clean and jerk”, “max thruster”, “heaviest front squat”."""
    token = row.tokens[at]
    cue, reps = at, 1
    if token.kind is Kind.NUMBER:
        cue = skip(row.tokens, at + 1, {"rep"})
        behind = row.token(cue)
        if behind is None or behind.low.replace(" - ", " ") not in ("rm", "rep max", "max", "repetition maximum"):
            return None
        reps = int(token.number)
    elif not token.cue("lift"):
        return None
    before = row.token(skip_back(row, at))
    ahead = row.token(cue + 1)
    named = ahead is not None and ahead.kind is Kind.MOVEMENT
    short = token.low in ("1 rm", "1rm", "rm", "one rep max")
    if before is not None and before.kind is Kind.MOVEMENT and short and not named:
        return Lift(at, at + 1, before.name, "", reps) if lifted(row, before) else None
    return _lift_behind(row, at, cue, reps)


def _lift_behind(row: WordRow, at: int, cue: int, reps: int) -> Lift | None:
    """Read the movement a cue is for, with the further parts if it is a complex."""
    joined, window_s = False, 0.0
    for index in range(cue + 1, min(len(row.tokens), cue + FARTHEST_PART)):
        found = row.tokens[index]
        time = duration(row, index)
        if found.mark(".;") or (not joined and (index > cue + FARTHEST or found.kind is Kind.CLOCK)):
            return None
        if found.kind is Kind.MOVEMENT:
            end, more, known = _parts_behind(row, index + 1, joined)
            unsure = "" if known and (more or not joined) else "a complex with a part that is not known"
            behind = row.token(end + 1)
            if row.cue_at(end, "then") or (row.token(end) is not None and row.tokens[end].low == "and"):
                also = behind is not None and behind.kind is Kind.MOVEMENT and lifted(row, behind)
                unsure = unsure or ("one after the other, or two lifts?" if also else "")
            return Lift(at, end, found.name, unsure, reps, more, window_s) if lifted(row, found) else None
        if joined and time is not None:
            window_s = time[0]
        elif found.kind is Kind.NUMBER:
            reps, plus = int(found.number), row.token(index + 2)
            if not (reps <= 1 or row.cue_at(index + 1, "lift") or joined or (plus and plus.mark("+"))):
                return None
        joined = joined or found.low == "complex"
    return None


def _parts_behind(row: WordRow, at: int, joined: bool) -> tuple[int, tuple[tuple[str, int], ...], bool]:
    """Return where a complex ends, its further parts (“+ 2 push jerks”), and whether they are all known.

    Commas and “then” join only what is called a complex or has a plus in it.
    """
    more: list[tuple[str, int]] = []
    while True:
        place, plus = at, False
        while (link := row.token(place)) is not None and (
            link.mark("+") or ((joined or more) and (link.mark(",&-–•*") or link.low in JOINS))
        ):
            plus, place = plus or link.mark("+"), place + 1
        number = row.token(place)
        count = int(number.number) if number is not None and number.kind is Kind.NUMBER else 0
        movement = row.token(place + bool(count))
        known = movement is not None and movement.kind is Kind.MOVEMENT and lifted(row, movement)
        if place == at or movement is None or not known:
            return at, tuple(more), not plus
        more.append((movement.name, count or 1))
        at = place + bool(count) + 1


def lifted(row: WordRow, token: Token) -> bool:
    """Return whether a movement is one that has a one-rep maximum."""
    return bool(row.library.movements[token.name].styles[0].lift)


def skip_back(row: WordRow, at: int) -> int:
    """Return the place before a token, a comma or dash between them left out."""
    return at - 2 if at > 1 and row.tokens[at - 1].mark(",-–:(") else at - 1


def loads_at(row: WordRow, at: int) -> Loads | None:
    """Read amounts that stand apart from work."""
    sizes = sizes_at(row.tokens, at, row.works)
    if sizes is None:
        return None
    return Loads(at, sizes.hi, sizes, sizes.nouns)


def unknown_at(row: WordRow, at: int) -> WorkLine | Unknown | None:
    """Read a count that nothing is made of with the words up to the next comma; calories are of the one machine."""
    token = row.tokens[at]
    unit = row.token(skip(row.tokens, at + 1, {"more"}))
    if row.machine and whole(token) and unit is not None and unit.unit("cal"):
        end = skip(row.tokens, at + 1, {"more"}) + 1
        named = [i for i in (end, end + 1) if i < len(row.tokens) and row.tokens[i].name == row.machine]
        return WorkLine(
            at,
            named[0] + 1 if named else end,
            row.machine,
            (int(token.number),),
            "cal",
            pointed=row.points(at),
        )
    aged = at > 0 and row.tokens[at - 1].cue("level", "men", "women") and at + 1 < len(row.tokens)
    if (token.kind is Kind.CLOCK and not token.number) or (aged and row.tokens[at + 1].mark("+-–")):
        return None  # “from 0:00”, “masters 45+”
    if token.kind not in (Kind.NUMBER, Kind.CLOCK) or harmless(row.tokens, at) or _a_side(row, at):
        return None
    end, depth = at + 1, 0
    while end < len(row.tokens):
        behind = row.tokens[end]
        depth += behind.mark("([") - behind.mark(")]")
        bounding = (
            behind.cue("lift", "cap", "amrap", "for_time", "rest", "within") or duration(row, end) is not None
        )
        if (
            depth < 0
            or (not depth and bounding)
            or (not depth and (behind.mark(",;:.") or behind.low in ("and", "then") or end in row.works))
        ):
            break
        end += 1
    return Unknown(at, end)


def _a_side(row: WordRow, at: int) -> bool:
    """Return whether a count only says how many of them are on each side: “8 lunges (4 per leg)”."""
    words = " ".join(token.low for token in row.tokens[at + 1 : at + 4]).split()
    each = words[1:] if words[:1] == ["on"] else words
    return bool(each) and each[0] in ("per", "each", "every", "a") and bool(set(each[1:2]) & SIDES)


def scaled_at(row: WordRow, at: int) -> Unknown | Instead | None:
    """Read a bracket that holds another version: “(scaled: jumping pull-ups)”, “(masters: ring rows)”."""
    end = next((i for i in range(at, len(row.tokens)) if row.tokens[i].mark(")]")), None)
    inner = row.tokens[at : end or at]
    division, used = division_at(row.tokens, at + 1)
    rest = [token for token in inner[1 + used :] if token.kind is not Kind.MARK]
    if end and used and len(rest) == 1 and rest[0].kind is Kind.MOVEMENT and not _other_level(inner):
        return Instead(at, end + 1, division, rest[0].name)
    level = _other_level(inner)
    return Unknown(at, end + 1) if level and end and any(t.kind is Kind.MOVEMENT for t in inner) else None


def _other_level(tokens: Sequence[Token]) -> bool:
    return any(token.cue("level") and token.low in vocabulary("other_levels") for token in tokens)


SIDES = {"leg", "arm", "side", "hand", "foot"}
READERS: tuple[Callable[[WordRow, int], Phrase | None], ...] = (
    range_at,
    span_at,
    series_at,
    step_at,
    rounds_at,
    work_at,
    lift_at,
    loads_at,
)


def _phrases(row: WordRow) -> Iterator[Phrase]:
    """Yield what is said, in order."""
    at = 0
    while at < len(row.tokens):
        found = _phrase(row, at) or unknown_at(row, at)
        if found is None:
            at += 1
        else:
            yield found
            at = max(found.hi, at + 1)


def _phrase(row: WordRow, at: int) -> Phrase | None:
    token = row.tokens[at]
    if token.kind in (Kind.NUMBER, Kind.CLOCK) or token.low in ("a", "+", "twice", "thrice") or token.cue("pair"):
        return next((found for read in READERS if (found := read(row, at)) is not None), None)
    if token.mark("(["):
        return scaled_at(row, at)
    if token.kind is Kind.MOVEMENT:
        return bare_at(row, at)
    if token.cue("lift"):
        return lift_at(row, at) or None
    if token.cue("men", "women", "level"):
        return loads_at(row, at) or Cue(at, at + 1, token.name)
    if token.cue("adding") or token.low == "keep adding":
        return step_at(row, at) or Cue(at, at + 1, token.name)
    alone = token.cue("rest") and len(row.tokens) == 2  # “Rest 1”
    if (token.cue("amrap", "cap", "emom") or alone) and (
        place := minutes_at(row, skip(row.tokens, at + 1, {"of", "in", "at", "is"}, ":="))
    ):
        return Span(at, place + 1, 60.0 * row.tokens[place].number, token.name)
    if token.cue("part", "stage", "window", "rounds"):
        return numbered_at(row, at)
    if token.low in ELLIPSES or (token.mark(".…") and row.dots(at)):
        return Cue(at, at + 1, "etc")
    return Cue(at, at + 1, token.name) if token.kind is Kind.CUE else None


MOST_JOINED = 3  # words between a step and what else rises with it


def chunk(tokens: Sequence[Token], library: Library, machine: str = "") -> list[Phrase]:
    """Return what a sentence says, in the order of its words; bare calories are those of `machine`."""
    row = WordRow(tokens, library, machine)
    row.works = {i for i in range(len(tokens)) if counted_at(row, i) is not None}
    return _of_the_step(row, _by_sex(row, _of_each(row, list(_phrases(row)))))


def _of_the_step(row: WordRow, phrases: list[Phrase]) -> list[Phrase]:
    """Give a step what rises beside it: “adding one climb and ten double-unders every round”."""
    found: list[Phrase] = []
    for phrase in phrases:
        step = found[-1] if found else None
        between = row.tokens[step.hi : phrase.lo] if step is not None else ()
        joined = 0 < len(between) <= MOST_JOINED and any(token.low == "and" for token in between)
        if isinstance(step, Step) and isinstance(phrase, WorkLine) and phrase.counts and joined:
            found[-1] = replace(step, hi=phrase.hi, also=(*step.also, (phrase.movement, phrase.counts[0])))
        else:
            found.append(phrase)
    return found


def _by_sex(row: WordRow, phrases: list[Phrase]) -> list[Phrase]:
    """Join counts of men and women: “14 calories on the rower (men), 11 calories (women)”."""
    found: list[Phrase] = []
    for phrase in phrases:
        works = [other for other in found if isinstance(other, WorkLine)]
        last = works[-1] if works else None
        if (
            isinstance(phrase, WorkLine)
            and last is not None
            and (last.movement, last.unit, len(last.counts)) == (phrase.movement, phrase.unit, 1)
            and (_sexes_apart(row, last.hi, phrase) or [t.text for t in row.tokens[last.hi : phrase.lo]] == ["/"])
        ):
            found[found.index(last)] = replace(last, hi=phrase.hi, counts=(*last.counts, *phrase.counts))
        else:
            found.append(phrase)
    return found


def _sexes_apart(row: WordRow, end: int, phrase: Phrase) -> bool:
    """Return whether men are named before a phrase and women behind it."""
    men = any(token.cue("men") for token in row.tokens[end : phrase.lo])
    return men and any(token.cue("women") for token in row.tokens[phrase.hi : phrase.hi + 3])


def _of_each(row: WordRow, phrases: list[Phrase]) -> list[Phrase]:
    """Give a list its common count: “25 of each: toes-to-bar, burpees”."""
    for at, token in enumerate(row.tokens):
        each = skip(row.tokens, at + 1, {"of", "reps", "rep"})
        behind = row.token(each)
        if whole(token) and each > at + 1 and behind is not None and behind.low in ("each", "every"):
            count = (int(token.number),)
            kept = [phrase for phrase in phrases if not phrase.lo <= at < phrase.hi]
            return [
                replace(x, counts=count) if isinstance(x, WorkLine) and not x.counts and x.lo > at else x
                for x in kept
            ]
    return phrases
