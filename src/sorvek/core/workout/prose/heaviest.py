"""Max lifts in a row of words: “establish a 1RM clean and jerk”, “heaviest front squat”, complexes."""

from sorvek.core.workout.prose.amounts import sizes_at
from sorvek.core.workout.prose.phrases import (
    Lift,
    WordRow,
    skip,
)
from sorvek.core.workout.prose.times import duration
from sorvek.core.workout.prose.words import Kind, Token

# So many words behind the cue the lift is looked for, farther where the parts of a complex follow.
FARTHEST, FARTHEST_PART = 8, 16
LEAST_LOAD = 20  # no barbell is lighter, in kg or lb; “max snatches 135/95”
REPS = {"single": 1, "double": 2, "triple": 3}
# Words that stand between the parts of a complex.
JOINS = {"and", "then", "into", "plus", "followed by"}


def lift_at(row: WordRow, at: int) -> Lift | None:
    """Read “establish a 1RM clean and jerk”, “max thruster”, “heaviest front squat”."""
    token = row.tokens[at]
    cue, reps = at, 1
    beside = row.token(at + 1)
    if token.low == "best" and beside is not None and beside.kind is Kind.MOVEMENT:
        second = lifted(row, beside) and any(other.cue("lift") for other in row.tokens[:at])
        return Lift(at, at + 2, beside.name, "") if second else None  # “find your best snatch and best jerk”
    if token.kind is Kind.NUMBER:
        cue = skip(row.tokens, at + 1, {"rep"})
        behind = row.token(cue)
        if behind is None or behind.low.replace(" - ", " ") not in ("rm", "rep max", "max", "repetition maximum"):
            return None
        reps = int(token.number)
    elif not token.cue("lift") or _reps_behind(row, at):
        return None
    before = row.token(skip_back(row, at))
    ahead = row.token(cue + 1)
    named = ahead is not None and ahead.kind is Kind.MOVEMENT
    short = token.low in ("1 rm", "1rm", "rm", "one rep max")
    later = any(other.kind is Kind.MOVEMENT for other in row.tokens[cue + 1 :])
    headed = (
        at > 1 and row.tokens[at - 1].mark(":–-") and token.low in ("find", "establish", "build to", "build up to")
    )
    short = short or (headed and not later)  # “Clean & jerk: find a heavy single in 10 minutes”
    ahead_of = [other for other in row.tokens[:at] if other.kind is Kind.MOVEMENT]
    counted = any(other.kind is Kind.NUMBER for other in row.tokens[:at])
    if short and not (later or counted) and len(ahead_of) == 1 and at < FARTHEST:
        before = ahead_of[0]  # “Hang snatch, any style, 1RM in 12 minutes”
    if before is not None and before.kind is Kind.MOVEMENT and short and not named:
        return Lift(at, at + 1, before.name, "", reps) if lifted(row, before) else None
    return _lift_behind(row, at, cue, reps)


def _reps_behind(row: WordRow, at: int) -> bool:
    """Return whether reps are asked for and no load: “max rep overhead squats with the time left”."""
    behind = row.token(at + 1)
    return behind is not None and behind.low in ("rep", "reps", "repetitions") and not row.cue_at(at + 2, "lift")


def _lift_behind(row: WordRow, at: int, cue: int, reps: int) -> Lift | None:
    """Read the movement a cue is for, with the further parts if it is a complex."""
    joined, window_s = False, 0.0
    for index in range(cue + 1, min(len(row.tokens), cue + FARTHEST_PART)):
        found = row.tokens[index]
        time = duration(row, index)
        if found.mark(".;") or (not joined and (index > cue + FARTHEST or found.kind is Kind.CLOCK)):
            return None
        if found.kind is Kind.MOVEMENT:
            counted = row.token(index + 1) is not None and row.tokens[index + 1].low in ("x", "×")
            if counted or _loaded(row, index):
                return None  # “max thrusters at 40/30 kg” are reps, “back squat x 3 + …” is a complex
            end, more, known = _parts_behind(row, index + 1, joined)
            alone = (
                joined and reps > 1 and (row.token(end) is None or row.tokens[end].mark(".;"))
            )  # “the complex 2 thrusters”
            unsure = "" if known and (more or not joined or alone) else "a complex with a part that is not known"
            behind = row.token(end + 1)
            behind = row.token(end)
            if behind is not None and behind.low in REPS:
                reps, end = REPS[behind.low], end + 1  # “a heavy front squat triple”
            behind = row.token(end + 1)
            if row.cue_at(end, "then") or (row.token(end) is not None and row.tokens[end].low == "and"):
                also = behind is not None and behind.kind is Kind.MOVEMENT and lifted(row, behind)
                unsure = unsure or ("one after the other, or two lifts?" if also else "")
            return Lift(at, end, found.name, unsure, reps, more, window_s) if lifted(row, found) else None
        reps = REPS.get(found.low, reps)
        if time is not None:
            window_s = window_s or time[0]
        elif found.kind is Kind.NUMBER and time is None:
            reps, plus = int(found.number), row.token(index + 2)
            told = row.lead(index) == "set of" or (plus is not None and plus.mark("+"))
            behind = row.token(skip(row.tokens, index + 1, set(), "-–"))
            told = told or (behind is not None and behind.low == "rep")  # “heaviest two-rep back squat”
            if not (reps <= 1 or row.cue_at(index + 1, "lift") or joined or told):
                return None
        joined = joined or found.low == "complex"
    return None


def _loaded(row: WordRow, at: int) -> bool:
    """Return whether a movement in the plural has its load right behind it."""
    sizes = sizes_at(row.tokens, skip(row.tokens, at + 1, {"at", "with", "a", "plate"}, ",(@-–:"), set())
    plural = row.tokens[at].low.endswith("s")
    if plural and {"same", "again"} & {token.low for token in row.tokens[at + 1 : at + 5]}:
        return True  # “max clean and jerks at the same weight”
    if plural and any(token.cue("remaining") for token in row.tokens):
        return True  # “max overhead squats in the remaining time”
    given = sizes is not None and len(sizes.amounts) == 2 and all(a.unit in ("kg", "lb") for a in sizes.amounts)
    bare = sizes is not None and len(sizes.amounts) == 2  # “max shoulder-to-overhead 60/40”
    bare = bare and sizes is not None and all(not a.unit and a.value >= LEAST_LOAD for a in sizes.amounts)
    if not (plural or given or bare) or sizes is None:
        return False
    return bare or any(amount.unit in ("kg", "lb") for amount in sizes.amounts)


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
