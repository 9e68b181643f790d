"""How a movement is done: with which arm and implement, in which style, and what is odd about it."""

from itertools import dropwhile

from sorvek.core.workout import tree as w
from sorvek.core.workout.movements import SizeKind
from sorvek.core.workout.prose.phrases import (
    WordRow,
    skip,
)
from sorvek.core.workout.prose.words import Kind, Token, vocabulary

STYLE_TAILS = {"down", "over", "only", "required", "in", "out", "back", "up", "each", "rep"}
STYLE_WORDS = {
    **dict.fromkeys(("step", "stepping", "stepped", "steps"), "step"),
    **dict.fromkeys(("kipping", "kip", "kips", "no-kip"), "kipping"),
    "strict": "strict",
}
MOST_AHEAD = 11  # words behind a movement that may say how it is done
ARM_NEAR = 14  # words behind a movement that may say how many reps are for each arm
SHORT_SIDES = {"L": w.Side.LEFT, "R": w.Side.RIGHT}


def past_halves(row: WordRow, at: int, counts: tuple[int, ...]) -> int:
    """Return where the words go on behind the two halves of a count in a bracket: “8 dumbbell cleans (4/4)”."""
    ahead = row.tokens[at : at + 5]
    bracket = len(ahead) == 5 and ahead[0].mark("(") and ahead[2].mark("/") and ahead[4].mark(")")
    halves = bracket and ahead[1].number == ahead[3].number and (2 * ahead[1].number,) == counts
    return at + len(ahead) if halves else at


def completed(row: WordRow, place: int) -> str:
    """Return the movement with what stands behind it: “burpees to a six-inch target”, “lunges with dumbbells”."""
    ahead = row.tokens[place + 1 : place + MOST_AHEAD]
    carried = [*dropwhile(_of_a_load, ahead[1:])]
    if carried and carried[0].cue("dumbbell", "kettlebell") and _holding(ahead[0], carried[1:]):
        plain = row.tokens[place].name.removesuffix(" step")
        return row.library.named_like(f"{carried[0].name} {plain}") or row.tokens[place].name
    if [t.low for t in ahead[:3]] == ["(", "bar", ")"]:
        return row.library.named_like(f"bar {row.tokens[place].text}") or row.tokens[place].name
    lifted = [t.low for t in row.tokens[place + 1 : place + MOST_AHEAD]]
    if row.tokens[place].name == "walking lunge step" and "with" in lifted and "overhead" in lifted:
        return "overhead lunge step"  # “walking lunge with a 20/15-kg plate overhead”
    aimed = bool(ahead) and ahead[0].low == "to" and any(token.cue("target") for token in ahead)
    known = f"{row.tokens[place].name} to target"
    return known if aimed and known in row.library.movements else row.tokens[place].name


def _holding(before: Token, behind: list[Token]) -> bool:
    """Return whether an implement belongs to the movement before it: “with …”, “(two 22.5 kg dumbbells)”."""
    ends = bool(behind) and (behind[0].mark("),") or behind[0].low in ("at", "in", "by"))
    bracketed = before.mark("(") and ends
    return bracketed or before.low in ("with", "w", "holding", "carrying")


def _of_a_load(token: Token) -> bool:
    """Return whether a word only says how many implements there are and how heavy: “two 22.5/15 kg”."""
    counted = token.kind is Kind.NUMBER or token.cue("pair", "men", "women") or token.mark("/()x-,")
    return counted or token.unit("kg", "lb") or token.low in ("a", "an", "the", "one", "two", "of", "single")


def with_arm(row: WordRow, name: str) -> tuple[str, str]:
    """Return the movement with one implement for work of one side, and what is unsure where there is none."""
    named = [token.name for token in row.tokens if token.cue("dumbbell", "kettlebell")]
    implement = "kettlebell" if named and set(named) == {"kettlebell"} else "dumbbell"
    gear, held = row.library.movements[name].gear, f"single-arm {implement} {name}"
    usual = (held, held.replace("hang ", ""))
    if gear.startswith("barbell") and (one := next((x for x in usual if x in row.library.movements), "")):
        return one, ""  # “single-arm overhead squats”
    if not gear.startswith("two"):
        return name, ""
    known = (f"single-arm {name}", f"single-arm {name.replace('hang ', '')}")
    found = next((one for one in known if one in row.library.movements), "")
    return (found, "") if found else (name, "with one or with two of them?")


def half_an_arm(row: WordRow, place: int, counts: tuple[int, ...]) -> bool:
    """Return whether half of the reps are for each arm: “8 dumbbell cleans, 4 per arm”."""
    words = zip(row.tokens[place:], row.tokens[place + 1 :], row.tokens[place + 2 : place + ARM_NEAR], strict=False)
    halves = (a.number for a, b, c in words if b.low in ("per", "each", "every", "a") and c.low in ("arm", "side"))
    return any(counts == (int(2 * half),) for half in halves)


def with_one(row: WordRow, at: int) -> bool:
    """Return whether a movement is said to be done with one dumbbell: “(single DB)”, “with a 22.5 kg dumbbell”."""
    at = skip(row.tokens, at, {"with", "using"}, "(,")
    ahead = row.tokens[at : at + MOST_AHEAD]
    if ahead and ahead[0].low == "a":
        held = [*dropwhile(_of_a_load, ahead)]
        both = any(token.cue("each_hand", "pair") for token in held[1:3])  # “a dumbbell in each hand”
        if held and held[0].cue("dumbbell") and not held[0].low.endswith("s") and not both:
            return True
        ahead = ahead[1:]
    single = len(ahead) > 1 and (ahead[0].low in ("single", "one") or ahead[0].number == 1)
    return single and any(token.cue("dumbbell") for token in ahead[1:3])


def style_of(row: WordRow, lo: int, place: int, end: int) -> tuple[str, int]:
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


def side_of(row: WordRow, lo: int, place: int) -> tuple[w.Side, int]:
    """Return the side said between count and movement or right behind it, and where the words end."""
    index = place + 1
    while index < len(row.tokens) and (
        row.tokens[index].mark("(-–,") or row.tokens[index].low in ("on", "with", "the", "all")
    ):
        index += 1
    behind = row.token(index)
    if behind is not None and behind.text in SHORT_SIDES:
        return SHORT_SIDES[behind.text], index + 1
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


def side_before(row: WordRow, at: int) -> w.Side:
    """Return the side told before a count: “on the left arm 15 dumbbell snatches”."""
    for token in reversed(row.tokens[max(0, at - 4) : at]):
        if token.cue("left", "right"):
            return w.Side(token.name)
        if not (token.mark(":") or token.low in ("arm", "hand", "side", "do", "you")):
            break
    return w.Side.BOTH


def odd_about(row: WordRow, lo: int, place: int) -> str:
    """Return what makes it unsure that the movement is the one found, empty if nothing does."""
    behind = row.token(place + 1)
    if behind is not None and behind.mark("("):
        behind = row.token(place + 2)
    carried = [t for t in row.tokens[place + 1 : place + 5] if t.cue("dumbbell", "kettlebell", "barbell")]
    gear = row.library.movements[row.tokens[place].name].gear
    if behind is not None and behind.low in ("holding", "carrying") and carried and carried[0].name not in gear:
        return f"“{row.tokens[place].text} {behind.low} a {carried[0].name}” is no movement of the library"
    other = [t.low for t in row.tokens[place + 1 : place + 5] if t.low in ("plate", "sandbag", "vest")]
    unloaded = row.library.movements[row.tokens[place].name].size is not SizeKind.LOAD
    aloft = any(token.low == "overhead" for token in row.tokens[place + 1 : place + MOST_AHEAD])
    if behind is not None and behind.low in ("with", "holding", "carrying") and other and unloaded and not aloft:
        return f"“{row.tokens[place].text} {behind.low} a {other[0]}” is no movement of the library"
    behind, second = row.token(place + 1), row.token(place + 2)
    low = row.tokens[place].low
    several = second is not None and second.low.endswith("s") and low.endswith(("s", "bar"))  # “…s & …s”
    joined = behind is not None and behind.text in "&+" and second is not None and second.kind is Kind.MOVEMENT
    machine = row.library.movements[row.tokens[place].name].family == "machine"  # “cal row + thruster” are two
    if joined and behind is not None and second is not None and not (several or machine):
        return f"“{row.tokens[place].text} {behind.text} {second.text}” is no movement of the library"
    if row.tokens[place].name == "burpee" and behind is not None and behind.low == "over":
        return f"“{row.tokens[place].text} over …” is no movement of the library"
    if behind is not None and second is not None and behind.low == "from" and second.low in vocabulary("lying"):
        return f"“{row.tokens[place].text} from {second.text}” is no movement of the library"
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
