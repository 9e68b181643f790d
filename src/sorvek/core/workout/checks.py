"""What the grammar cannot see: characters, indentation and numbers before it reads, blocks out of place after."""

import re
from collections.abc import Iterator, Sequence
from dataclasses import replace

from sorvek.core.errors import NotationError, Place
from sorvek.core.quantities import clock
from sorvek.core.workout import tree as w

MAX_CHARACTERS = 20_000
MAX_LINES = 400
MAX_DEPTH = 6
MAX_DIGITS = 6
TAB_WIDTH = 2
DOUBT_LINE = re.compile(r"\s*#\s*\?")
_LONG_NUMBER = re.compile(rf"[0-9]{{{MAX_DIGITS + 1},}}")


def bare_line(line: str) -> str:
    """Return a line without its comment; a doubt is no comment."""
    return line if DOUBT_LINE.match(line) else line.partition("#")[0]


def check_length(text: str) -> None:
    """Refuse a text that is far too long to be an announcement.

    Raises: NotationError naming the limit.
    """
    lines = text.splitlines()
    if len(text) > MAX_CHARACTERS or len(lines) > MAX_LINES:
        problem = f"the text has {len(text)} characters on {len(lines)} lines"
        remedy = f"keep it to {MAX_CHARACTERS} characters and {MAX_LINES} lines"
        raise NotationError(Place(max(1, min(len(lines), MAX_LINES)), 1), problem, remedy)


def check_text(text: str) -> None:
    """Refuse a text that is too long, holds numbers nobody can do, or whose indentation cannot be followed.

    Raises: NotationError naming the place, the limit and the remedy.
    """
    check_length(text)
    lines = text.splitlines()
    for number, line in enumerate(lines, 1):
        if found := _LONG_NUMBER.search(line.partition("#")[0]):
            problem = f"a number of {len(found[0])} digits"
            raise NotationError(Place(number, found.start() + 1), problem, f"write at most {MAX_DIGITS} digits")
    _check_indentation(lines)


def _check_indentation(lines: Sequence[str]) -> None:
    open_at = [0]
    for number, line in enumerate(lines, 1):
        if not bare_line(line).strip():
            continue
        bare = line.lstrip(" \t")
        space = line[: len(line) - len(bare)]
        width = len(space) + (TAB_WIDTH - 1) * space.count("\t")
        if width > open_at[-1]:
            open_at.append(width)
            if len(open_at) - 1 > MAX_DEPTH:
                remedy = f"nest at most {MAX_DEPTH} levels deep"
                raise NotationError(Place(number, 1), f"this line stands {len(open_at) - 1} levels deep", remedy)
        while width < open_at[-1]:
            open_at.pop()
        if width != open_at[-1]:
            remedy = "indent it like one of the lines above it, or not at all"
            raise NotationError(Place(number, 1), f"{width} spaces before this line fit no block above", remedy)


def check_tree(workout: w.Workout, lines: list[str]) -> None:
    """Refuse counts left open, numbers that do not fit the divisions, and blocks out of place.

    Raises: NotationError naming the place and the remedy.
    """
    if not workout.body and workout.lift is None:
        raise NotationError(Place(len(lines), 1), "no work is written", "add a line such as “12 burpees”")
    for item, counted in _items(workout.body, inside=False):
        if item.count == w.RISING and not counted:
            place = _place_of(item, lines)
            raise NotationError(place, f"{item.movement} has no count", "write how many, or put it in a series")
        if item.counts and len(item.counts) != len(workout.divisions):
            divisions = "/".join(workout.divisions)
            problem = f"{len(item.counts)} counts for {len(workout.divisions)} divisions ({divisions})"
            remedy = "give one count for all or one for each division"
            raise NotationError(_place_of(item, lines), problem, remedy)
        numbers = next((size.values for size in (item.size, item.target) if _misfits(size, workout)), ())
        if numbers:
            divisions = "/".join(workout.divisions)
            problem = f"{len(numbers)} numbers for {len(workout.divisions)} divisions ({divisions})"
            remedy = "give one number for all or one for each division"
            raise NotationError(_place_of(item, lines), problem, remedy)
    _check_scored(workout, lines)
    flat = replace(workout, body=w.written_out(workout.body))
    _check_blocks(flat)
    _check_nesting(flat, lines)
    _check_clock(workout, lines)


def _check_scored(workout: w.Workout, lines: list[str]) -> None:
    """Refuse a score of movements that are not in the work, or where what counts is not reps."""
    names = {item.movement for item, _ in _items(workout.body, inside=False)}
    place = _line_with(("amrap", "for"), lines)
    unknown = [name for name in workout.scored if name not in names]
    if unknown:
        remedy = "name movements of the work behind “score”, or leave it out: then every rep counts"
        raise NotationError(place, f"{unknown[0]} is scored, but not in the work", remedy)
    if workout.scored and workout.form not in (w.Form.AMRAP, w.Form.PARTS):
        remedy = "leave “score” out: in stages every rep counts"
        raise NotationError(place, "only some movements count, but the work is done in stages", remedy)


def _check_clock(workout: w.Workout, lines: list[str]) -> None:
    """Refuse a lift that begins by the clock before the work is over, or beside work that has no end."""
    lift = workout.lift.second if workout.form is w.Form.LIFT and workout.lift else workout.lift
    if lift is None or not (lift.at_s or lift.ends_s):
        return
    ends_s = workout.ends_s
    if not ends_s:
        problem = "the lift goes by the clock, but nothing says by when the work is over"
        raise NotationError(_line_with(("then",), lines), problem, "write a cap, as in “for time, cap 7:00”")
    if lift.ends_s and lift.lasts_s(ends_s) < 0:
        problem = f"the lift ends at {clock(lift.ends_s)}, and the work may last until {clock(ends_s)}"
        raise NotationError(_line_with(("then",), lines), problem, "write a later end, or an earlier cap")
    if lift.at_s and lift.at_s < ends_s:
        problem = f"the lift begins at {clock(lift.at_s)}, before the work is over at {clock(ends_s)}"
        remedy = f"write “then at {clock(ends_s)}, max …” or later"
        raise NotationError(_line_with(("then",), lines), problem, remedy)


def _misfits(size: w.Size, workout: w.Workout) -> bool:
    """Return whether a size has neither one number for all nor one for each division."""
    return len(size.values) not in (0, 1, len(workout.divisions))


def _items(body: Sequence[w.Block], inside: bool) -> Iterator[tuple[w.Item, bool]]:
    """Yield every item, and whether a series or ladder around it gives it a count."""
    for block in body:
        if isinstance(block, w.Item):
            yield block, inside
        else:
            yield from _items(w.body_of(block), inside or isinstance(block, w.Series | w.Ladder))


def _place_of(item: w.Item, lines: list[str]) -> Place:
    line = lines[item.line - 1] if 0 < item.line <= len(lines) else ""
    return Place(max(1, item.line), len(line) - len(line.lstrip()) + 1)


PARTED = {w.TimedPart, w.Rest, w.TieBreak}  # what may stand beside parts with a time each


def _check_blocks(workout: w.Workout) -> None:
    kinds = {type(block) for block in workout.body} - {w.Doubt}
    wrong = None
    if workout.form is w.Form.STAGES and kinds - {w.Stage}:
        wrong = "“for reps” needs “stage cap 5:00:” blocks and nothing beside them"
    elif workout.form is not w.Form.STAGES and w.Stage in kinds:
        wrong = "stages belong under a “for reps” line"
    elif w.TimedPart in kinds and not (workout.form in (w.Form.PARTS, w.Form.FOR_TIME) and kinds <= PARTED):
        wrong = (
            "“part 5:00:” blocks stand under “for reps” or “for time”, with rests and tie-breaks only between them,"
            " some or all under “4 rounds:”"
        )
    elif workout.form is not w.Form.WINDOWS and w.Window in kinds:
        wrong = "“window:” blocks belong under a “windows 3:30, until missed” line"
    elif workout.form in (w.Form.FOR_TIME, w.Form.UNKNOWN) and any(map(_open, workout.body)):
        wrong = "work without an end needs a line “amrap 12:00” above it"
    elif w.Every in kinds and (workout.form is not w.Form.FOR_TIME or kinds != {w.Every} or _several(workout.body)):
        wrong = "“every 2:00 x 8:” stands alone under a “for time” line"
    elif workout.form is w.Form.WINDOWS and not _is_windows(workout.body):
        wrong = "windows need one ladder or “window:” blocks under them, all or some under “8 rounds:” or “repeat:”"
    wrong = wrong or _once_wrong(workout)
    if wrong:
        raise NotationError(Place(1, 1), f"the blocks do not fit “{workout.form}”", wrong)
    caps = [block.cap_s for block in workout.body if isinstance(block, w.Stage)]
    if caps != sorted(set(caps)):
        raise NotationError(Place(1, 1), "stage caps do not rise", "give each stage a later cap than the last")


def _once_wrong(workout: w.Workout) -> str:
    """Return what is wrong with parts that are done once, empty if nothing is."""
    once = [block for block in workout.body if isinstance(block, w.TimedPart) and block.once]
    if once and workout.form is w.Form.FOR_TIME:
        return "parts for time are done once as it is; leave “once” out"
    if any(_open(inner) for block in once for inner in block.body):
        return "work that is done once has an end; leave “once” or “repeat:” out"
    return ""


def _several(body: Sequence[w.Block]) -> bool:
    return sum(isinstance(block, w.Every) for block in body) > 1


def _is_windows(blocks: Sequence[w.Block]) -> bool:
    body = [block for block in blocks if not isinstance(block, w.Doubt)]
    if len(body) == 1 and isinstance(body[0], w.Ladder):
        return True
    return bool(body) and all(isinstance(block, w.Window) or _of_windows(block) for block in body)


def _of_windows(block: w.Block) -> bool:
    """Return whether a block repeats windows and nothing else."""
    inner = [one for one in w.body_of(block) if not isinstance(one, w.Doubt)]
    return isinstance(block, w.Rounds) and bool(inner) and all(isinstance(one, w.Window) for one in inner)


def _open(block: w.Block) -> bool:
    if isinstance(block, w.Ladder) and not block.turns:
        return True
    if isinstance(block, w.Rounds) and block.count == 0:
        return True
    return any(_open(inner) for inner in w.body_of(block))


def _check_nesting(workout: w.Workout, lines: list[str]) -> None:
    """Refuse what may stand only at the margin, and blocks that hold no work."""
    parts = [block.body for block in workout.body if isinstance(block, w.TimedPart)]
    for body in (workout.body, *parts):
        _check_repeat(body, lines)
    for block in workout.body:
        if isinstance(block, w.MaxLift):
            place = _line_with(("then", "first", "max"), lines)
            remedy = "write “then max …” on the last line, or “first max …” on the first below the format"
            raise NotationError(place, "a max lift stands between other work", remedy)
        for inner in (one for one in _below(block) if not (_of_windows(block) and one in w.body_of(block))):
            if isinstance(inner, w.Stage | w.TimedPart | w.Window | w.Every | w.MaxLift):
                words = {w.Stage: "stage", w.TimedPart: "part", w.Window: "window", w.Every: "every"}.get(
                    type(inner), "max"
                )
                place = _line_with((words, "then"), lines, indented=True)
                raise NotationError(place, f"“{words} …” stands inside another block", "move it to the margin")
            at_margin = isinstance(block, w.TimedPart) and inner in block.body
            if isinstance(inner, w.Rounds) and inner.count == 0 and not at_margin:
                place = _line_with(("repeat",), lines, indented=True)
                raise NotationError(place, "“repeat:” stands inside another block", "write how many rounds it is")
        for outer in (block, *_below(block)):
            if not isinstance(outer, w.Item | w.Rest | w.TieBreak | w.MaxLift | w.Doubt) and not _works(
                w.body_of(outer)
            ):
                place = _line_with(("rest", "tiebreak"), lines, indented=True)
                raise NotationError(place, "a block holds no work", "add a line such as “12 burpees” to it")
    if workout.body and not _works(workout.body):
        place = _line_with(("rest", "tiebreak"), lines)
        raise NotationError(place, "no work is written", "add a line such as “12 burpees”")


def _check_repeat(body: Sequence[w.Block], lines: list[str]) -> None:
    """Refuse work behind what never ends."""
    again = next((i for i, b in enumerate(body) if isinstance(b, w.Rounds) and b.count == 0), len(body))
    if any(not isinstance(block, w.Doubt) for block in body[again + 1 :]):
        place = _line_with(("repeat",), lines)
        remedy = "put it before “repeat:” or inside it"
        raise NotationError(place, "work stands behind “repeat:”, which never ends", remedy)


def _below(block: w.Block) -> Iterator[w.Block]:
    for inner in w.body_of(block):
        yield inner
        yield from _below(inner)


def _works(body: Sequence[w.Block]) -> bool:
    return any(isinstance(block, w.Item | w.Doubt) or _works(w.body_of(block)) for block in body)


def _line_with(words: tuple[str, ...], lines: list[str], indented: bool = False) -> Place:
    """Return the place of the first line that begins with one of the words."""
    for number, line in enumerate(lines, 1):
        bare = line.lstrip()
        if bare.lower().startswith(words) and (len(bare) < len(line) or not indented):
            return Place(number, len(line) - len(bare) + 1)
    return Place(1, 1)
