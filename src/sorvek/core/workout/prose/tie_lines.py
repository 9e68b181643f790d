"""Where the clock is read, told by a mark between lines of work or by a star, put behind the line above it."""

from collections.abc import Sequence

from sorvek.core.workout.prose.lines import TextLine
from sorvek.core.workout.prose.own_lines import stars_before, stars_behind
from sorvek.core.workout.prose.words import Kind, Token


def place_ties(lines: Sequence[TextLine], text: str) -> list[TextLine]:
    """Return lines with “— tie break —” between two of them, and “* tie-break” of a star, behind the work above."""
    found = list(lines)
    for at, line in enumerate(lines):
        if not _only_tie(line.tokens):
            continue
        stars = stars_before(next(token for token in line.tokens if not token.mark("*")), text)
        marked = [x for x in lines if stars and _is_work(x.tokens) and stars_behind(x.tokens, text) == stars]
        between = 0 < at < len(lines) - 1 and not (stars or (lines[at + 1].gap and not line.gap))
        if between and _is_work(lines[at - 1].tokens) and _is_new(lines, at + 1):
            marked = [lines[at - 1]]
        if len(marked) == 1:
            end = marked[0].tokens[-1].end
            cue = next(token for token in line.tokens if token.cue("tiebreak"))
            marked[0].tokens += [Token(Kind.MARK, "(", end, end), cue, Token(Kind.MARK, ")", cue.end, cue.end)]
            found = [other for other in found if other is not line]
    return found


def _only_tie(tokens: Sequence[Token]) -> bool:
    """Return whether a line says no more than that the clock is read."""
    words = [token for token in tokens if not (token.kind is Kind.MARK or token.low in ("time", "here", "point"))]
    colon = any(token.mark(":") for token in tokens)
    return len(words) == 1 and words[0].cue("tiebreak") and not colon


def _is_work(tokens: Sequence[Token]) -> bool:
    """Return whether a line is one counted movement."""
    return tokens[0].kind is Kind.NUMBER and sum(token.kind is Kind.MOVEMENT for token in tokens) == 1


def _is_new(lines: Sequence[TextLine], at: int) -> bool:
    """Return whether a line is work that no line above it is: what is told again says where the clock is read."""
    return _is_work(lines[at].tokens) and _work(lines[at]) not in [
        _work(x) for x in lines[:at] if _is_work(x.tokens)
    ]


def _work(line: TextLine) -> tuple[float, str]:
    """Return count and movement of a line."""
    return line.tokens[0].number, next(token.name for token in line.tokens if token.kind is Kind.MOVEMENT)
