"""Counted work in a row of words: “9 power cleans (60/42.5 kg)”, “Thrusters x 21”, “50 cal row”."""

from dataclasses import replace

from sorvek.core.workout import tree as w
from sorvek.core.workout.movements import PowerKind, SizeKind
from sorvek.core.workout.notation_reader import BY_DISTANCE
from sorvek.core.workout.prose.amounts import IMPLEMENTS, sizes_at
from sorvek.core.workout.prose.load_rows import sizes_by_round
from sorvek.core.workout.prose.manner import (
    completed,
    half_an_arm,
    odd_about,
    past_halves,
    side_before,
    side_of,
    style_of,
    with_arm,
    with_one,
)
from sorvek.core.workout.prose.phrases import (
    WordRow,
    WorkLine,
    skip,
    whole,
)
from sorvek.core.workout.prose.sizes import Sizes
from sorvek.core.workout.prose.times import duration
from sorvek.core.workout.prose.words import MOST, Kind, vocabulary

M_PER_UNIT = {"m": 1.0, "km": 1000.0, "ft": 0.3048, "mile": 1609.344}
EVENTS = {"event", "workout", "wod", "test", "qualifier", "quali", "week"}  # what a number at the head may number
COUNTED = ("cal", *M_PER_UNIT)
SIDED = {
    "dumbbell",
    "kettlebell",
    "lunge",
    "step-up",
    "pistol",
    "single-arm",
}  # words of movements done side by side
TURNING = {"alternating", "alternate", "alt"}


def counted_at(row: WordRow, at: int) -> int | None:
    """Return where the movement stands if counted work begins at a number, None if none does."""
    long = row.token(at + 1)
    some = row.tokens[at].kind is Kind.NUMBER and long is not None and long.unit("km", "mile")
    before = row.token(at - 1)
    label = before is not None and before.kind is Kind.WORD and before.end == row.tokens[at].start
    label = label and before is not None and before.text.isalpha() and before.low != "x"
    label = label or (at == 1 and before is not None and before.low in EVENTS)
    if not (whole(row.tokens[at]) or some) or label:
        return None  # “Q1 – Row & Press”, “WOD 2 (Row & Rise)”
    index = at + 1
    while index < len(row.tokens) and row.tokens[index].mark("/") and row.number_at(index + 1):
        index += 2
    slashed = index > at + 1 or row.lead(at) == "/"
    if slashed and _parted(row, index):
        return None  # “35/25 - toes-to-bar - 30 double-unders”: dashes stand between things
    token, behind = row.token(index), row.token(index + 1)
    if (
        token is not None
        and token.kind is Kind.MOVEMENT
        and (behind is None or behind.kind in (Kind.MARK, Kind.NUMBER))
    ):
        return index  # “1 clean (80/55 kg)”, “5 clean 80/55 kg”: no adjective
    index = skip(row.tokens, index, vocabulary("adjectives") - {"of"})
    token = row.token(index)
    if token is not None and token.unit(*COUNTED):
        index += 1
        index += row.token(index) is not None and row.tokens[index].mark(".")
        index += _make_of_a_machine(row, index)
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


def _parted(row: WordRow, at: int) -> bool:
    """Return whether a dash stands here, and another one behind it, with spaces around both."""
    dashes = [
        i
        for i in range(at, len(row.tokens) - 1)
        if row.tokens[i].mark("-–—")
        and row.tokens[i - 1].end < row.tokens[i].start
        and row.tokens[i].end < row.tokens[i + 1].start
    ]
    return len(dashes) > 1 and dashes[0] == at


def _make_of_a_machine(row: WordRow, at: int) -> int:
    """Return how many tokens only say which machine of a kind it is: “fan”, “air-style” before a bike."""
    word, dash = row.token(at), row.token(at + 1)
    used = 3 if dash is not None and dash.mark("-") else 1
    machine = row.token(at + used)
    named = machine is not None and machine.kind is Kind.MOVEMENT
    plain = word is not None and word.kind is Kind.WORD and word.low not in ("and", "or", "to")
    return used if plain and named and machine and row.library.movements[machine.name].family == "machine" else 0


def _between(row: WordRow, at: int) -> int:
    """Return how many tokens may stand between a count and its movement here: an adjective, a side, a load."""
    token, ahead = row.tokens[at], row.token(at + 1)
    opens = token.mark("(") and not (ahead is not None and ahead.kind is Kind.MOVEMENT)
    if (
        token.low in vocabulary("adjectives")
        or token.mark("-–")
        or opens  # “9 (60/40 kg) power cleans”, not “2 x 22.5 kg (snatch with one)”
        or (token.mark(".") and row.lead(at) == "alt")
        or token.cue("left", "right", "barbell", "manner")
        or token.low in ("on the", "on a", "at")
    ):
        return 1
    if token.kind is Kind.NUMBER and not duration(row, at):
        behind = row.token(skip(row.tokens, at + 1, set()))
        if behind is not None and (behind.unit("kg", "lb", "m", "ft", "cm", "in", "pood") or behind.mark("/")):
            return 1
    parted = token.mark("/") and not row.number_at(at + 1)  # “9 kg to 3 m / snatch 60 kg”
    if (token.mark("/)") or token.unit("kg", "lb", "m", "ft", "cm", "in", "pood")) and at > 1 and not parted:
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
    if not whole(row.tokens[at]):  # “1.5 km row”
        metres = round(row.tokens[at].number * M_PER_UNIT[row.tokens[at + 1].name])
        return _finished(row, at, place, (metres,), "m", None)
    counts, index = [int(row.tokens[at].number)], at + 1
    while index < place and row.tokens[index].mark("/") and row.number_at(index + 1):
        counts.append(int(row.tokens[index + 1].number))
        index += 2
    index = skip(row.tokens, index, vocabulary("adjectives"))
    unit = ""
    if index < place and row.tokens[index].unit(*COUNTED):
        unit = row.tokens[index].name
        index += 1
    inner = [i for i in range(index, place) if row.tokens[i].kind is Kind.NUMBER]
    sizes = sizes_at(row.tokens[:place], inner[0], set()) if inner else None
    movement = row.library.movements[row.tokens[place].name]
    if unit in M_PER_UNIT and movement.size is SizeKind.DISTANCE and not sizes:
        inner_sizes = sizes_at(row.tokens[:place], at, set())
        return _finished(row, at, place, (1,), "", inner_sizes)
    long = sizes.amounts if sizes and not unit and counts == [1] else ()
    if len(long) == 1 and long[0].unit in M_PER_UNIT and movement.size is SizeKind.UNIT:
        return _finished(row, at, place, (int(long[0].value),), long[0].unit, None)  # “one 800-metre run”
    return _finished(row, at, place, tuple(counts), unit, sizes)


def _finished(
    row: WordRow, lo: int, place: int, counts: tuple[int, ...], unit: str, sizes: Sizes | None
) -> WorkLine:
    """Complete work whose movement is found: what stands behind the movement, and what is odd about it."""
    side, end = side_of(row, lo, place)
    side = side_before(row, lo) if side is w.Side.BOTH else side
    style, end = style_of(row, lo, place, end)
    told = row.tokens[place + 1 : end]
    split = bool(style) and any(token.cue("men", "women", "level") for token in row.tokens[place + 1 : end + 4])
    split = split and bool(told) and told[0].mark("(")  # “(strict for RX men, kipping for women)”
    end = past_halves(row, end, counts)
    by_round, end = sizes_by_round(row, end)
    bare = row.library.movements[row.tokens[place].name].size in (SizeKind.NONE, SizeKind.UNIT)
    hers = _hers(row, end, row.tokens[place].name) if len(counts) == 1 and bare else None
    behind = _sizes(row, end, row.tokens[place].name) if not by_round and hers is None else None
    if behind is not None:
        end = behind.hi
        sizes = behind if sizes is None else replace(sizes, amounts=(*sizes.amounts, *behind.amounts))
        late, after = side_of(row, end, end - 1)
        side, end = (late, after) if late is not w.Side.BOTH and side is w.Side.BOTH else (side, end)
    name = completed(row, place)
    bracket = row.token(end)
    late_one = sizes is not None and bracket is not None and bracket.mark("(") and with_one(row, end)
    one_armed = side is not w.Side.BOTH or with_one(row, place + 1) or late_one  # “22.5/15 kg (single DB)”
    name, unsure = with_arm(row, name) if one_armed else (name, "")
    near = {token.low for token in row.tokens[lo : place + 4]}
    if (
        near & {"single", "one", "single-arm", "one-arm"}
        and {"arm", "single-arm", "one-arm"} & near
        and not one_armed
    ):
        name, unsure = with_arm(row, name)
    turning = near & TURNING or half_an_arm(row, place, counts)
    if not one_armed and turning and not with_arm(row, name)[1]:
        name = with_arm(row, name)[0]  # “alternating dumbbell hang clean-and-jerks”
    sided = one_armed or {"arm", "single-arm", "leg", "side"} & near or set(name.split()) & SIDED
    if (
        not unit
        and len(set(counts)) == 1 < len(counts)
        and sided
        and not row.library.movements[name].gear.startswith("two")
    ):
        counts = (sum(counts),)  # “8/8 single-arm push presses”: so many on each side
    if unit in M_PER_UNIT:
        counts, unit = tuple(round(count * M_PER_UNIT[unit]) for count in counts), "m"
    if len(counts) == 1 and (hers := _hers(row, end, name)):
        counts, end = (*counts, hers[0]), hers[1]
    unsure = unsure or ("who does it how?" if split else "")
    odd = unsure or odd_about(row, lo, place)
    return WorkLine(lo, end, name, counts, unit, side, sizes, row.points(lo), odd, style, by_round=by_round)


def _hers(row: WordRow, at: int, movement: str) -> tuple[int, int] | None:
    """Return the women's count in brackets behind work, “(women 15)”, “(16 cal for women)”, and where it ends."""
    ahead = row.tokens[at : at + 3]  # “21 cal row / 18 women”
    if len(ahead) == 3 and ahead[0].mark("/") and whole(ahead[1]) and ahead[2].cue("women"):
        return int(ahead[1].number), at + 3
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


def _sizes(row: WordRow, at: int, movement: str) -> Sizes | None:
    """Return the amounts right behind a movement, across a comma or a bracket."""
    other = row.token(skip(row.tokens, at, set(), ","))
    gear = row.library.movements[movement].gear
    if other is not None and other.cue(*IMPLEMENTS) and other.name != "target" and other.name not in gear:
        return None  # “10 kettlebell swings, ball 9/6 kg”
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


def _loaded_label(row: WordRow, at: int) -> bool:
    """Return whether a movement stands between a colon and two loads: “Max reps in 1 minute: snatch 50/35”."""
    colon = row.token(at - 1) is not None and row.tokens[at - 1].mark(":")
    slash = row.token(at + 2)
    return colon and row.number_at(at + 1) and slash is not None and slash.mark("/") and row.number_at(at + 3)


def bare_at(row: WordRow, at: int) -> WorkLine | None:
    """Read a movement without a count before it; one may stand behind: “Thrusters x 21”, “Row: 500 m”."""
    token = row.tokens[at]
    movement = row.library.movements[token.name]
    far = movement.size is SizeKind.UNIT
    index = skip(row.tokens, at + 1, {"x", "×", "for", "of"} if far else {"x", "×", "for"}, ":-–(")
    listed = row.token(at + 1)
    if listed is not None and listed.low in ("clock", "order"):
        return None  # “running clock”
    if listed is not None and listed.mark(",") and row.number_at(at + 2) and _told(row, at + 3):
        index = at + 2  # “pull-ups, 20 reps”
    number = row.token(index)
    most = any(other.low in MOST for other in row.tokens[max(0, at - 3) : at])
    counts, unit, end = _count_behind(row, at, index) if number is not None and not most else ((), "", at + 1)
    if (
        token.low in vocabulary("weak")
        and not counts
        and movement.styles[0].power is PowerKind.WORK
        and not (_listed_alone(row, at) or _between_marks(row, at) or _loaded_label(row, at))
    ):
        return None
    before = row.token(at - 1)
    unit = unit or _unit_near(row, at)
    sided = at - 1 if before is not None and before.cue("left", "right") else at
    if not counts:
        work = _finished(row, sided, at, counts, unit, None)
        return _counted_late(row, work) if work.sizes else work
    side, after = side_of(row, end, end - 1)
    side = w.Side(before.name) if before is not None and sided < at else side
    sizes = _sizes(row, after, row.tokens[at].name)
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
        odd_about(row, at, at),
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
    if row.number_at(index + 1) or row.cue_at(index + 1, "dumbbell") or row.cue_at(index + 1, "kettlebell"):
        return (), "", at + 1  # “(one 22.5 kg dumbbell)”, “(one dumbbell)”
    number, movement = row.tokens[index], row.library.movements[row.tokens[at].name]
    carried = movement.family in BY_DISTANCE and row.token(index + 1) is not None
    way = carried and row.tokens[index + 1].unit(*M_PER_UNIT)  # “farmers carry 400 m”
    machine = movement.size is SizeKind.UNIT or way
    told = index > at + 1 or machine or row.cue_at(index + 1, "each_round")  # “muscle-ups 3 per round”
    if not whole(number) or index in row.works or not told:
        return (), "", at + 1
    place = skip(row.tokens, index + 1, set())
    behind = row.token(place)
    counts: tuple[int, ...] = (int(number.number),)
    if machine and behind is not None and behind.mark("/") and row.number_at(place + 1):
        counts, behind = (*counts, int(row.tokens[place + 1].number)), row.token(place + 2)
    ahead = row.token(place + 2 * len(counts) - 1)
    if machine and ahead is not None and ahead.low in ("out", "there"):
        return (), "", at + 1  # “Run: 200 m out, 200 m back”
    if machine and behind is not None and behind.unit(*COUNTED):
        return counts, behind.name, place + 2 * len(counts) - 1
    behind = row.token(index + 1)
    if behind is not None and behind.low in ("x", "×"):
        return (), "", at + 1
    if duration(row, index) is not None or (behind is not None and (behind.unit() or behind.mark("/-–"))):
        return (), "", at + 1
    if behind is not None and behind.mark(",") and row.number_at(index + 2):
        return (), "", at + 1  # “burpees (4, 5, 6, …)”
    ends = (behind is not None and behind.low in ("reps", "rep", "repetitions", "times")) or row.cue_at(
        index + 1, "each_round"
    )
    return (int(number.number),), "", index + 2 if ends else index + 1


def _unit_near(row: WordRow, at: int) -> str:
    """Return what a machine is counted in where no number says it: “calorie row”, “row as many calories as”."""
    made = 3 if at > 3 and row.tokens[at - 2].mark("-") else 0  # “on the fan-type bike”
    near = [*row.tokens[max(0, at - 3 - made) : at], *row.tokens[at + 1 : at + 6]]
    far = any(token.low == "distance" for token in near) and any(token.low in MOST for token in near)
    movement = row.library.movements[row.tokens[at].name]
    if far and (movement.size is SizeKind.UNIT or movement.family in BY_DISTANCE):
        return "m"  # “max distance row”, “max distance: front-rack lunges”
    if movement.size is not SizeKind.UNIT:
        return ""
    return next((t.name for t in near if t.unit("cal", "m")), "")


def _between_marks(row: WordRow, at: int) -> bool:
    """Return whether a word stands in a list of words: “ring dips – GHD – wall balls”."""
    before, behind = row.token(at - 1), row.token(at + 1)
    return before is not None and behind is not None and before.mark("-–—|/") and behind.mark("-–—|/")


def _listed_alone(row: WordRow, at: int) -> bool:
    """Return whether nothing but marks stands before a word in its sentence."""
    return all(token.kind is Kind.MARK for token in row.tokens[:at])
