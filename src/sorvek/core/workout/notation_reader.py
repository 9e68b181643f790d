"""What the grammar of the notation found, turned into the tree."""

from collections.abc import Sequence
from dataclasses import replace
from typing import Any, NamedTuple

from lark import Token, Transformer, v_args

from sorvek.core.errors import NotationError, Place, UnknownMovementError
from sorvek.core.quantities import seconds_from_clock
from sorvek.core.workout import tree as w
from sorvek.core.workout.movements import Library, Movement, SizeKind

MAX_COUNT = 10_000
MAX_PARTS = 200  # parts of a block of rounds written out; judgement: more than three hours of minutes
MAX_TIME_S = 4 * 3600
MAX_DIVISIONS = 24
MOST_LIFT_REPS = 10  # above, the repetition curves no longer agree (judgement)
# What is walked may be counted in metres; a metre is planned like a step, which is about as long (judgement).
BY_DISTANCE = ("lunge", "carry")
DEFAULT_DIVISIONS = ("men", "women")
TARGETS_M = (1.5, 4.5)  # heights a ball is thrown to; judgement


class Divisions(NamedTuple):
    """The divisions a workout names, in its order."""

    names: tuple[str, ...]


class ScoredNames(NamedTuple):
    """The movements whose reps alone count."""

    names: tuple[str, ...]


def place_of(token: Token) -> Place:
    """Return line and column of a token."""
    return Place(token.line or 1, token.column or 1)


def _whole(token: Token, what: str, least: int = 1) -> int:
    value = int(str(token).replace("−", "-"))
    if not least <= value <= MAX_COUNT:
        raise NotationError(place_of(token), f"{value} {what}", f"give a whole number from {least} to {MAX_COUNT}")
    return value


def _comment(token: Token | None) -> str:
    return str(token)[1:].strip() if token else ""


def doubt_in(line: str) -> str:
    """Return the words of a line that begins with `# ?`."""
    return line.strip()[1:].strip()[1:].strip()


def _flat(parts: Sequence[Any]) -> tuple[tuple[w.Block, ...], str]:
    """Split a block's parts into its body and the comment on its heading."""
    comment, *body = parts
    return tuple(body), _comment(comment)


@v_args(inline=True)
class TreeReader(Transformer[Any, Any]):
    """Turns the syntax tree into the dataclasses of `workout`."""

    def __init__(self, library: Library) -> None:
        super().__init__()
        self.library = library

    def start(self, *parts: Any) -> Any:
        names = parts[0].names if isinstance(parts[0], Divisions) else DEFAULT_DIVISIONS
        form, *body = [part for part in parts if not isinstance(part, Divisions) and part is not None]
        return names, form, body

    def division(self, *words: Token) -> str:
        return " ".join(words).lower()

    def divisions(self, *parts: Any) -> "Divisions":
        names = tuple(parts[:-1])
        if len(names) > MAX_DIVISIONS or len(set(names)) < len(names):
            remedy = f"name every division once, at most {MAX_DIVISIONS}"
            raise NotationError(Place(1, 1), f"{len(names)} divisions, {len(set(names))} of them unlike", remedy)
        return Divisions(names)

    def duration(self, number: Token, unit: Token | None = None) -> float:
        if unit is None:
            seconds = seconds_from_clock(number)
        else:
            seconds = _whole(number, "as a time") * (60.0 if unit.type == "MINUTES" else 1.0)
        if not 1 <= seconds <= MAX_TIME_S:
            raise NotationError(place_of(number), f"a time of {number}", "give one from 0:01 to 4:00:00")
        return seconds

    def amrap(self, cap_s: float, scored: "ScoredNames | None", comment: Any) -> Any:
        return w.Form.AMRAP, cap_s, _comment(comment), scored

    def scored(self, *parts: Any) -> "ScoredNames":
        return ScoredNames(tuple(dict.fromkeys(part[0] for part in parts if not isinstance(part, Token))))

    def for_time(self, *parts: Any) -> Any:
        return w.Form.FOR_TIME, parts[0] if len(parts) == 2 else 0.0, _comment(parts[-1])

    def for_reps(self, scored: "ScoredNames | None", comment: Any) -> Any:
        return w.Form.STAGES, 0.0, _comment(comment), scored

    def windows(self, cap_s: float, comment: Any) -> Any:
        return w.Form.WINDOWS, cap_s, _comment(comment)

    def unknown(self, token: Token) -> Any:
        return w.Form.UNKNOWN, 0.0, doubt_in(token)

    def doubt(self, token: Token) -> w.Doubt:
        return w.Doubt(doubt_in(token))

    def max_lift(self, parts: Any, rising: Any, window_s: float | None, tries: int | None, comment: Any) -> Any:
        lift = self._lift(parts, rising, window_s, tries, None)
        return w.Form.LIFT, lift.window_s, _comment(comment), lift

    def count(self, *parts: Any) -> tuple[tuple[Token, ...], str]:
        *numbers, unit = parts
        letter = str(unit)[0].lower() if unit else ""
        return tuple(numbers), {"c": "cal", "m": "m"}.get(letter, "")

    def movement(self, *words: Token) -> tuple[str, Token]:
        text = " ".join(words)
        try:
            return self.library.find(text).name, words[0]
        except UnknownMovementError as error:
            raise NotationError(place_of(words[0]), error.problem, error.remedy) from error

    def side(self, token: Token) -> w.Side:
        return w.Side(token.lower())

    def per_rep(self, number: Token, unit: Token | None) -> tuple[float, Token, str]:
        return *self.number(number), str(unit)[0].lower() if unit else ""

    def tie(self) -> bool:
        return True

    def number(self, token: Token) -> tuple[float, Token]:
        value = float(str(token).replace(",", ".").replace("−", "-"))
        if not 0 < value <= 100_000:
            raise NotationError(place_of(token), f"a size of {value:g}", "give a number above 0")
        return value, token

    def amount(self, pieces: Token | None, _times: Token | None, number: tuple[float, Token]) -> Any:
        if pieces is not None and str(pieces) != "2":
            raise NotationError(place_of(pieces), f"{pieces} implements", "write a pair as 2x20")
        return number, pieces is not None

    def size(self, *parts: Any) -> tuple[w.Size, Token, tuple[w.Size, Token] | None]:
        *amounts, target = parts
        return *self.bare(*amounts), target

    def target(self, *parts: Any) -> tuple[w.Size, Token]:
        *numbers, unit = parts
        return w.Size(tuple(value for value, _ in numbers), unit.lower()), numbers[0][1]

    def bare(self, *parts: Any) -> tuple[w.Size, Token]:
        *amounts, unit = parts
        pairs = {pair for _, pair in amounts}
        first = amounts[0][0][1]
        if len(pairs) > 1:
            raise NotationError(place_of(first), "some loads are pairs, some are not", "write 2x20/2x15 kg")
        letters = unit.lower().rstrip("s") if unit else "kg"
        return w.Size(tuple(value for (value, _), _ in amounts), letters, pairs.pop()), first

    def style(self, *words: Token) -> str:
        return " ".join(words).lower()

    def others(self, *parts: Any) -> tuple[tuple[str, str], ...]:
        pairs = zip(parts[::2], parts[1::2], strict=True)
        return tuple((label, movement[0]) for label, movement in pairs)

    def every(self, seconds: float, _times: Token, number: Token, *parts: Any) -> w.Every:
        return w.Every(seconds, _whole(number, "times"), *_flat(parts))

    def item(  # noqa: PLR0913, PLR0917  one argument a piece of the line
        self,
        count: Any,
        movement: Any,
        side: Any,
        style: Any,
        size: Any,
        per: Any,
        tie: Any,
        others: Any,
        comment: Any,
    ) -> w.Item:
        name, token = movement
        numbers, unit = count if count else (tuple[Token, ...](), "")
        named = bool(numbers) and numbers[0].type == "N"
        counts = () if named else tuple(_whole(number, unit or "reps") for number in numbers)
        times, more = _of_the_rung(numbers[0]) if named else (1, 0)
        load, at, target = size or (w.Size(), token, None)
        _check_size(self.library.find(name), load, unit, at)
        if target:
            _check_target(self.library.find(name), *target)
        return w.Item(
            movement=name,
            count=counts[0] if counts else w.RISING,
            unit=unit,
            size=load,
            side=side or w.Side.BOTH,
            tiebreak=bool(tie),
            rising=named,
            comment=_comment(comment),
            line=token.line or 0,
            counts=counts if len(counts) > 1 else (),
            style=_style_of(self.library.find(name), style, token) if style else "",
            others=tuple(_other(self.library, name, pair, token) for pair in others or ()),
            target=target[0] if target else w.Size(),
            times=times,
            more=more,
            per_rep=_per_rep(counts, unit, per) if per else 0.0,
        )

    def rounds(self, number: Token, *parts: Any) -> w.Rounds:
        count, (body, comment) = _whole(number, "rounds"), _flat(parts)
        written = count * sum(isinstance(block, w.TimedPart) for block in body)
        if written > MAX_PARTS:
            problem = f"the rounds hold {written:,} parts with a time each"
            raise NotationError(place_of(number), problem, f"write at most {MAX_PARTS} parts in a block of rounds")
        return w.Rounds(count, body, comment)

    def repeat(self, *parts: Any) -> w.Rounds:
        return w.Rounds(0, *_flat(parts))

    def series(self, *parts: Any) -> w.Series:
        counts = [p for p in parts if isinstance(p, Token) and p.type == "INT"]
        return w.Series(tuple(_whole(c, "reps") for c in counts), *_flat(parts[len(counts) :]))

    def climb(self, *turns: Token) -> Any:
        first, *rest = (_whole(t, "reps") for t in turns)
        return first, 0, tuple(rest)

    def rise(self, first: Token, _plus: Token, step: Token) -> Any:
        return _whole(first, "reps"), _whole(step, "more a round", 0), ()

    def ladder(self, shape: tuple[int, int, tuple[int, ...]], *parts: Any) -> w.Ladder:
        first, step, turns = shape
        return w.Ladder(first, step, turns, *_flat(parts))

    def rest(self, seconds: float, comment: Any) -> w.Rest:
        return w.Rest(seconds, _comment(comment))

    def tiebreak(self, comment: Any) -> w.TieBreak:
        return w.TieBreak(_comment(comment))

    def stage(self, cap_s: float, *parts: Any) -> w.Stage:
        return w.Stage(cap_s, *_flat(parts))

    def timed_part(self, cap_s: float, once: Token | None, *parts: Any) -> w.TimedPart:
        return w.TimedPart(cap_s, *_flat(parts), once is not None)

    def longer_stage(self, _plus: Token, more_s: float, *parts: Any) -> w.Stage:
        return w.Stage(-more_s, *_flat(parts))

    def window(self, *parts: Any) -> w.Window:
        return w.Window(*_flat(parts))

    def part(self, reps: Token | None, movement: tuple[str, Token]) -> tuple[str, int, Token]:
        name, token = movement
        if not self.library.find(name).styles[0].lift:
            raise NotationError(place_of(token), f"{name} has no one-rep maximum", "write a barbell lift")
        count = _whole(reps, "reps") if reps else 1
        if count > MOST_LIFT_REPS:
            raise NotationError(place_of(token), f"a max of {count} reps", f"give at most {MOST_LIFT_REPS}")
        return name, count, token

    def complex(self, *parts: Any) -> tuple[tuple[str, int, Token], ...]:
        return tuple(part for part in parts if not isinstance(part, Token))

    def tries(self, number: Token) -> int:
        return _whole(number, "attempts")

    def rising(self, start: Any, _plus: Token, step: Any, every_s: float) -> tuple[w.RisingBar, Token]:
        for size, token in (start, step):
            if size.unit not in ("kg", "lb") or size.pair:
                raise NotationError(place_of(token), "a bar rises by its load", "write “from 60/40 kg, +5/2.5 kg”")
        return w.RisingBar(start[0], step[0], every_s), start[1]

    def before(self, seconds: float) -> tuple[float, float]:
        return seconds, 0.0

    def at_clock(self, seconds: float) -> tuple[float, float]:
        return 0.0, seconds

    def behind(self, seconds: float) -> float:
        return seconds

    def lasting(self, seconds: float) -> tuple[float, float]:
        return seconds, 0.0

    def ending(self, seconds: float) -> tuple[float, float]:
        return 0.0, seconds

    def lift(self, when: Token | None, before: Any, *told: Any) -> w.MaxLift:
        parts, rising, lasting, tries, behind_s, comment = told
        window_s, ends_s = lasting or (None, 0.0)
        lift = self._lift(parts, rising, window_s, tries, comment)
        first = when is not None and str(when).lower() == "first"
        rest_s, at_s = before or (0.0, 0.0)
        if when is not None and first and before:
            place, remedy = place_of(when), "write “first max …, rest 2:00”, or “then rest 2:00, max …” last"
            raise NotationError(place, "nothing stands before a first lift to rest from", remedy)
        if when is not None and not first and behind_s:
            raise NotationError(
                place_of(when), "nothing comes behind the last lift to rest for", "leave the rest out"
            )
        if ends_s and (first or rising):
            problem = "a lift until a time of the clock stands behind work, with loads of one's own choice"
            raise NotationError(place_of(told[0][0][2]), problem, "write how long it lasts, as in “in 5:00”")
        return replace(lift, first=first, rest_s=behind_s or rest_s, at_s=at_s, ends_s=ends_s)

    def _lift(self, parts: Any, rising: Any, window_s: Any, tries: int | None, comment: Any) -> w.MaxLift:
        (name, reps, token), *others = parts
        if rising is None and window_s is None:
            raise NotationError(place_of(token), f"a max {name} has no window", "write how long, as in “in 5:00”")
        bar = rising[0] if rising else None
        if window_s is None:
            window_s = bar.longest_s if bar else 0.0
        more = tuple(part[:2] for part in others)
        return w.MaxLift(name, window_s, _comment(comment), reps, more, tries, bar)


def _of_the_rung(token: Token) -> tuple[int, int]:
    """Return how many times the rung's count, and how many more, `n`, `2n`, `n+5` or `n-2` says."""
    times, _, more = str(token).lower().replace(" ", "").replace("\t", "").partition("n")
    return int(times or 1), int(more or 0)


def _per_rep(counts: Sequence[int], unit: str, told: tuple[float, Token, str]) -> float:
    """Return how much of a line counts as one rep, refused where it is in another unit or never reached."""
    value, token, letter = told
    if letter != unit[:1]:
        remedy = f"write it in {unit}" if unit else "leave the unit out"
        raise NotationError(
            place_of(token), f"the line is not counted in {'cal' if letter == 'c' else 'm'}", remedy
        )
    least = min((count for count in counts if count > 1), default=MAX_COUNT)  # one alone is as often as possible
    if not 1 < value <= least:
        raise NotationError(place_of(token), f"1 rep per {value:g}", f"give a number above 1, at most {least}")
    return value


def _style_of(movement: Movement, words: str, token: Token) -> str:
    """Return the style words demand, or `no` and the style they forbid: “step down”, “no kipping”."""
    forbidden = words.startswith("no ")
    said = set(words.split())
    found = next((style.name for style in movement.styles if style.name and set(style.name.split()) <= said), "")
    if not found:
        known = ", ".join(style.name for style in movement.styles if style.name) or "one style only"
        raise NotationError(place_of(token), f"{movement.name} has no style “{words}”", f"it has: {known}")
    return f"no {found}" if forbidden else found


def _other(library: Library, name: str, pair: tuple[str, str], token: Token) -> tuple[str, str]:
    """Return a division and its movement, refused where it takes another size than the first one."""
    kinds = (SizeKind.NONE, library.movements[name].size)
    if library.movements[pair[1]].size not in kinds:
        remedy = "write a movement that takes the same number behind @, or none"
        raise NotationError(place_of(token), f"{pair[1]} does not fit the line of {name}", remedy)
    return pair


def _check_size(movement: Movement, size: w.Size, unit: str, token: Token) -> None:
    """Refuse a size that means nothing for the movement."""
    name, kind = movement.name, movement.size
    fits = {
        SizeKind.LOAD: ("kg", "lb"),
        SizeKind.HEIGHT: ("cm", "in"),
        SizeKind.DISTANCE: ("m", "ft"),
    }.get(kind, ())
    if size.values and size.unit not in fits:
        wanted = f"write it in {' or '.join(fits)}" if fits else f"{name} takes no number behind @"
        raise NotationError(place_of(token), f"{size.unit} does not fit {name}", wanted)
    if kind is SizeKind.LOAD and not size.values:
        raise NotationError(place_of(token), f"{name} has no load", f"write “{name} @ 60/42.5 kg”")
    paced = unit == "m" and movement.family in BY_DISTANCE
    if unit and kind is not SizeKind.UNIT and not paced:
        raise NotationError(place_of(token), f"{name} is not counted in {unit}", "leave the unit out")
    if unit == "cal" and name in ("run", "handstand walk"):
        raise NotationError(place_of(token), f"{name} is not counted in cal", "count it in m")


def _check_target(movement: Movement, target: w.Size, token: Token) -> None:
    """Refuse a target for what is not thrown to one, and a height nobody throws from or to."""
    if not movement.to_target:
        raise NotationError(place_of(token), f"{movement.name} has no target", "leave “to …” out")
    low, high = TARGETS_M
    if not all(low <= target.metres(division) <= high for division in range(len(target.values))):
        problem = f"a target at {token} {target.unit}"
        raise NotationError(place_of(token), problem, f"give heights from {low:g} to {high:g} m")
