"""Reading the workout notation: text to `Workout`, or an error with line, column and remedy."""

import re
from dataclasses import replace
from functools import cache
from importlib.resources import files
from typing import Any, NamedTuple, cast

from lark import Lark, UnexpectedCharacters, UnexpectedInput, UnexpectedToken
from lark.exceptions import VisitError
from lark.indenter import Indenter

from sorvek.core.errors import CoreError, NotationError, Place
from sorvek.core.workout import tree as w
from sorvek.core.workout.checks import DOUBT_LINE, bare_line, check_text, check_tree
from sorvek.core.workout.limits import check_limits
from sorvek.core.workout.movements import Library, shipped_library
from sorvek.core.workout.notation_reader import ScoredNames, TreeReader, doubt_in

# How a line begins that bounds the work; “Windows of Opportunity” and “For Time and Tide” are titles.
FORM_LINE = re.compile(r"(amrap|windows)(\s*[0-9]|$)|for\s+time\s*(,|cap\b|$)|for\s+reps\s*(,|$)", re.IGNORECASE)
LIFT_LINE = re.compile(r"max\s.{1,80}\s(in|every)\s+[0-9]{1,5}\s*(:[0-5][0-9]|m|s)", re.IGNORECASE)
DIVISIONS_LINE = re.compile(r"divisions\b\s*:?[^/]{1,60}(/|$)", re.IGNORECASE)
FORM_HELP = (
    "type “amrap 11:00”, “for time, cap 13:00”, “for reps”, “windows 3:30, until missed” or “max deadlift in 6:00”"
)

# What each terminal is called when it was expected and something else stood there.
EXPECTED = {
    "CLOCK": "a time such as 11:00",
    "INT": "a whole number",
    "DECIMAL": "a number",
    "WORD": "a movement",
    "N": "n",
    "_NL": "the end of the line",
    "SIZE_UNIT": "kg, lb, cm, in, m or ft",
    "UNIT": "cal or m",
    "COLON": "a colon",
    "_INDENT": "an indented line",
    "__ANON_0": "two dots",
    "COMMA": "a comma",
    "SLASH": "a slash",
    "AT": "@ and a load",
    "VBAR": "a bar and a division",
    "MINUTES": "min",
    "SECONDS": "s",
    "PLUS": "a plus sign",
}


class _Indenter(Indenter):
    """Indentation as blocks, as Python does it."""

    NL_type = "_NL"
    OPEN_PAREN_types: list[str] = []  # noqa: RUF012  lark's own interface
    CLOSE_PAREN_types: list[str] = []  # noqa: RUF012
    INDENT_type = "_INDENT"
    DEDENT_type = "_DEDENT"
    tab_len = 2


@cache
def _parser() -> Lark:
    grammar = files("sorvek.core.workout").joinpath("notation.lark").read_text(encoding="utf-8")
    return Lark(grammar, parser="lalr", postlex=_Indenter(), maybe_placeholders=True)


def _is_form(line: str) -> bool:
    return any(form.match(line) for form in (FORM_LINE, LIFT_LINE, DIVISIONS_LINE))


def _is_title(bare: list[str]) -> bool:
    """Return whether the first line that holds anything is a title: no format line, or one before another."""
    first, *others = bare
    below = others[0] if others else ""
    if DIVISIONS_LINE.match(first):
        return not (FORM_LINE.match(below) or LIFT_LINE.match(below)) or "/" not in first
    return not _is_form(first) or bool(FORM_LINE.match(below) or DIVISIONS_LINE.match(below))


class _Head(NamedTuple):
    """What stands above the work, and the text with it blanked so that places stay true."""

    title: str
    comment: str
    doubts: tuple[w.Doubt, ...]
    text: str


def _split_head(text: str) -> _Head:
    """Take the title off, and the doubts that stand above the format line; without one the first doubt is it."""
    lines = text.splitlines()
    bare = [bare_line(line).strip() for line in lines]
    title = comment = ""
    said = [i for i, words in enumerate(bare) if words and not DOUBT_LINE.match(words)]
    asked = [i for i, words in enumerate(bare) if DOUBT_LINE.match(words)]
    # Behind a doubt only what stands above a format line is a title: the doubt may be in that line's place.
    titled = said and (not asked or said[0] < asked[0] or any(_is_form(bare[i]) for i in said[1:2]))
    if titled and _is_title([bare[i] for i in said]):
        at = said.pop(0)
        title, comment = bare[at], lines[at].partition("#")[2].strip()
        lines[at] = ""
    form = next((i for i in said if not DIVISIONS_LINE.match(bare[i])), len(lines))
    above = [i for i in asked if i < form]
    if form == len(lines) or not _is_form(bare[form]):
        above = above[1:]
    doubts = tuple(w.Doubt(doubt_in(bare[i])) for i in above)
    for i in (*above, *(i for i, words in enumerate(bare) if not words)):
        lines[i] = ""
    return _Head(title, comment, doubts, "\n".join(lines))


def _check_form(text: str) -> None:
    """Refuse a text whose first line behind the title neither bounds the work nor asks how it is bounded."""
    for number, line in enumerate(text.splitlines(), 1):
        bare = bare_line(line).strip()
        if bare and not (_is_form(bare) or DOUBT_LINE.match(bare)):
            place = Place(number, len(line) - len(line.lstrip()) + 1)
            raise NotationError(place, f"“{bare[:40]}” does not say how the work is bounded", FORM_HELP)
        if bare:
            return
    raise NotationError(Place(1, 1), "nothing is written that bounds the work", FORM_HELP)


def _unreadable(error: UnexpectedInput, text: str) -> NotationError:
    line, column, lines = error.line, error.column, text.splitlines()
    if isinstance(error, UnexpectedToken) and error.token.type == "_INDENT":
        below = next((n for n, text_line in enumerate(lines[line:], line + 1) if text_line.strip()), line)
        remedy = "remove the spaces before it, or end the line above in a colon, as in “3 rounds:”"
        return NotationError(Place(below, 1), "this line is indented, but the line above repeats nothing", remedy)
    if line is None or line < 1 or (isinstance(error, UnexpectedToken) and error.token.type == "$END"):
        line, column = max(1, len(lines)), 1
    found = "".join(lines[line - 1 : line])[max(0, column - 1) :].split("#")[0].strip()
    names = set(getattr(error, "accepts", None) or getattr(error, "allowed", None) or ())
    if len(names) > 1 and isinstance(error, UnexpectedCharacters):
        names.discard("_NL")  # the indenter always lets it through, expected or not
    expected = sorted({EXPECTED[name] for name in names if name in EXPECTED})
    if not found:
        return NotationError(Place(line, column), "the line ends too early", _wanted(expected))
    return NotationError(Place(line, column), f"“{found[:40]}” is not understood", _wanted(expected))


def _wanted(expected: list[str]) -> str:
    return f"expected {', '.join(expected)}" if expected else FORM_HELP


def _with_caps(body: list[Any]) -> list[Any]:
    """Give stages that say by how much they extend the clock (a cap below zero so far) their caps."""
    cap_s, found = 0.0, []
    for block in body:
        if isinstance(block, w.Stage):
            cap_s = block.cap_s if block.cap_s > 0 else cap_s - block.cap_s
            block = replace(block, cap_s=cap_s)  # noqa: PLW2901  the stage as it ends
        found.append(block)
    return found


def _taken_lift(body: list[Any]) -> w.MaxLift | None:
    """Take the max lift out of the lines at the margin: “first max …” on the first, “then max …” on the last."""
    told = [i for i, block in enumerate(body) if not isinstance(block, w.Doubt)]
    for at in (told[-1:], told[:1]):
        if at and isinstance(body[at[0]], w.MaxLift) and body[at[0]].first == (at[0] != told[-1]):
            return cast(w.MaxLift, body.pop(at[0]))
    return None


def parse_workout(text: str, library: Library | None = None) -> w.Workout:
    """Return the workout a text describes, its movements found in `library` or the one that ships.

    Raises: NotationError with line, column (both from 1), the problem and what was expected.
    """
    library = library or shipped_library()
    text = "\n".join(text.splitlines())
    check_text(text)
    head = _split_head(text)
    _check_form(head.text)
    try:
        tree = _parser().parse(head.text + "\n")
        parts = TreeReader(library).transform(tree)
    except UnexpectedInput as error:
        raise _unreadable(error, text) from error
    except VisitError as error:
        if isinstance(error.orig_exc, CoreError):
            raise error.orig_exc from error
        raise
    divisions, (form, cap_s, form_comment, *more), body = parts
    alone = [part for part in more if isinstance(part, w.MaxLift)]
    scored = next((part.names for part in more if isinstance(part, ScoredNames)), ())
    lift = _taken_lift(body)
    body = [*head.doubts, *_with_caps(body)]
    if alone and not all(isinstance(block, w.Doubt) for block in body):
        remedy = "bound the work with a line such as “amrap 8:00” and put “first max …” below it"
        raise NotationError(Place(1, 1), "a max lift as the format has no other work beside it", remedy)
    lift = replace(alone[0], second=lift) if alone else lift
    if form is w.Form.STAGES and any(
        isinstance(inner, w.TimedPart) for block in body for inner in (block, *w.body_of(block))
    ):
        form = w.Form.PARTS
    if form is w.Form.PARTS or (form is w.Form.FOR_TIME and not cap_s):
        cap_s = w.clocked_s(body)
    comments = (head.comment, form_comment)
    workout = w.Workout(head.title, divisions, form, cap_s, tuple(body), lift, *comments, library, scored)
    check_tree(workout, text.splitlines())
    check_limits(workout)
    return replace(workout, lift=_with_window(lift, workout.ends_s)) if lift else workout


def _with_window(lift: w.MaxLift, ends_s: float) -> w.MaxLift:
    """Return a lift, or the second of two, with what is left until its end behind work that ends at a time."""
    if lift.second:
        return replace(lift, second=_with_window(lift.second, ends_s))
    return replace(lift, window_s=lift.lasts_s(ends_s)) if lift.ends_s else lift
