"""What a level does in brackets behind a line of work, put on a line of its own: “(scaled: 10 ring rows)”."""

from collections.abc import Iterator, Sequence
from dataclasses import replace
from itertools import pairwise

from sorvek.core.workout.prose.divisions import PLAIN, division_at
from sorvek.core.workout.prose.lines import TextLine
from sorvek.core.workout.prose.words import REPS, Kind, Token

LONGEST_STARS = 5  # with the space before them


def split_heads(lines: Sequence[TextLine]) -> list[TextLine]:
    """Return lines with levels on lines of their own that stood behind a name told again, “WOD 1 SCALED”."""
    heads = [_name_and_level(line.tokens) for line in lines]
    names = [tuple(token.low for token in line.tokens[:at]) for line, at in zip(lines, heads, strict=True) if at]
    found: list[TextLine] = []
    for line, at in zip(lines, heads, strict=True):
        name = tuple(token.low for token in line.tokens[:at])
        if names.count(name) < 2:
            found.append(line)
            continue
        first = not any(tuple(token.low for token in other.tokens) == name for other in found)
        found += [replace(line, tokens=line.tokens[:at])] if first else []
        level = [token for token in line.tokens[at:] if not token.mark("-–—/|:")]
        found.append(replace(line, tokens=level, gap=not first))
    return found


def _name_and_level(tokens: Sequence[Token]) -> int:
    """Return where the level begins that ends a line behind a name, 0 if the line is no such head."""
    if any(token.kind is Kind.MOVEMENT or token.cue("amrap", "for_time") for token in tokens):
        return 0
    ends = len(tokens) - (1 if tokens[-1].mark(":") else 0)
    for at in range(1, ends):
        name, used = division_at(tokens, at)
        if used and at + used == ends and any(token.cue("level") for token in tokens[at:ends]) and name:
            return at - 1 if tokens[at - 1].mark("-–—/|:") and at > 1 else at
    return 0


def unfold(lines: Sequence[TextLine]) -> list[TextLine]:
    """Return lines with work of levels that stood in brackets behind each on lines of its own."""
    found: list[TextLine] = []
    mains: list[list[Token]] = []  # lines of work above, the last one empty where something else stood behind it
    for line in lines:
        below = bool(mains) and _level_at(line.tokens, 0) > 0
        main, bracket = (_above(mains, line.tokens), line.tokens) if below else _bracketed(line.tokens)
        named = below and any(token.kind is Kind.MOVEMENT for token in bracket)
        pieces = list(_pieces(bracket)) if _one(main) and not named else []
        told = [(name, _completed(piece, main, below)) for name, piece in pieces]
        if not below:
            work = main or line.tokens
            mains.append(work if _one(work) and work[0].kind is Kind.NUMBER else [])
        if not told or not all(piece for _, piece in told):
            found.append(line)
            continue
        if not below:
            found.append(replace(line, tokens=main))
        for name, piece in told:
            colon = Token(Kind.MARK, ":", name[-1].end, name[-1].end)
            found.append(TextLine([*name, colon, *piece], line.number, line.indent, False))
    return found


def _above(mains: Sequence[list[Token]], tokens: Sequence[Token]) -> list[Token]:
    """Return the line of work that a level's line without a movement is on: the only one in its unit, the last."""
    unit = next((token.name for token in tokens if token.unit("cal", "m")), "")
    alike = [main for main in mains if any(token.unit(unit) for token in main)] if unit else []
    return alike[0] if len(alike) == 1 else mains[-1]


def place_notes(lines: Sequence[TextLine], text: str) -> list[TextLine]:
    """Return lines with notes by stars below the work they are on: “cal bike*” and “*women: 15 cal”."""
    found = list(lines)
    for note in lines:
        words = [token for token in note.tokens if not token.mark("*")]
        name, used = division_at(words, 0)
        stars = stars_before(words[0], text) if name else ""
        told = words[used + words[used].mark(":") :] if used < len(words) else []
        if not stars or any(token.kind is Kind.MOVEMENT for token in told):
            continue
        starred = [line for line in lines if _one(line.tokens) and stars_behind(line.tokens, text) == stars]
        pieces = [(line, piece) for line in starred if (piece := _completed(told, line.tokens, below=True))]
        if len(pieces) == 1:
            line, piece = pieces[0]
            colon = Token(Kind.MARK, ":", words[used - 1].end, words[used - 1].end)
            own = TextLine([*words[:used], colon, *piece], line.number, line.indent, False)
            found = [other for other in found if other is not note]
            found.insert(next(i for i, other in enumerate(found) if other is line) + 1, own)
    return found


def stars_before(token: Token, text: str) -> str:
    """Return the stars between the beginning of a line and its first word."""
    begun = text[text.rfind("\n", 0, token.start) + 1 : token.start].strip()
    return begun if begun and not begun.strip("*") else ""


def stars_behind(tokens: Sequence[Token], text: str) -> str:
    """Return the stars behind the movement of a line, or at its end, if it is not bold."""
    if stars_before(tokens[0], text):
        return ""
    named = next(token for token in tokens if token.kind is Kind.MOVEMENT)
    rests = (
        text[token.end : token.end + LONGEST_STARS].partition("\n")[0].lstrip() for token in (named, tokens[-1])
    )
    return max((rest[: len(rest) - len(rest.lstrip("*"))] for rest in rests), key=len)


def _one(tokens: Sequence[Token]) -> bool:
    """Return whether one movement is named."""
    return sum(token.kind is Kind.MOVEMENT for token in tokens) == 1


def _bracketed(tokens: Sequence[Token]) -> tuple[list[Token], list[Token]]:
    """Return a line without its first bracket of a level, and what stands in that; nothing if there is none."""
    begins = next((i for i, token in enumerate(tokens) if token.mark("([") and _level_at(tokens, i + 1)), None)
    if begins is None:
        return [], []
    ends = next((i for i in range(begins, len(tokens)) if tokens[i].mark(")]")), len(tokens))
    return [*tokens[:begins], *tokens[ends + 1 :]], list(tokens[begins + 1 : ends])


def _level_at(tokens: Sequence[Token], at: int) -> int:
    """Return how many tokens name a level from there on, 0 if none is named."""
    name, used = division_at(tokens, at)
    return used if used and name not in PLAIN and any(token.cue("level") for token in tokens[at : at + used]) else 0


def _pieces(tokens: Sequence[Token]) -> Iterator[tuple[list[Token], list[Token]]]:
    """Yield the levels in a bracket, each with what it does."""
    begins = [i for i in range(len(tokens)) if (i == 0 or tokens[i - 1].mark(",;/")) and _level_at(tokens, i)]
    for begin, end in pairwise([*begins, len(tokens)]):
        used = _level_at(tokens, begin)
        rest = list(tokens[begin + used : end])
        while rest and rest[0].mark(":-–="):
            rest.pop(0)
        while rest and rest[-1].mark(",;/"):
            rest.pop()
        yield list(tokens[begin : begin + used]), rest


def _completed(piece: list[Token], main: Sequence[Token], below: bool) -> list[Token]:
    """Return what a level does, with the movement of the line if it names none; nothing if only loads are told.

    Bare numbers `below` work without a unit may be its loads.
    """
    if any(token.kind is Kind.MOVEMENT for token in piece):
        return piece
    numbers = 0
    while numbers < len(piece) and (piece[numbers].kind is Kind.NUMBER or (numbers and piece[numbers].mark("/-–"))):
        numbers += 1
    rest = piece[numbers:]
    at = next(i for i, token in enumerate(main) if token.kind is Kind.MOVEMENT)
    unit = next((token for token in main[:at] if token.unit("cal", "m")), None)
    measured = bool(rest) and rest[0].unit() and rest[0].low not in REPS
    if not numbers or (measured and not (unit and rest[0].unit(unit.name))):
        return []
    if measured:
        return [*piece[:numbers], rest[0], main[at], *rest[1:]]
    loaded = below or any(token.kind is Kind.NUMBER for token in main[at:])
    worded = bool(rest) and rest[0].kind in (Kind.WORD, Kind.CUE) and rest[0].low not in REPS
    told = bool(rest) and (rest[0].low in REPS or rest[0].text == "@")
    if (unit and not worded) or (not rest and not loaded) or told:
        rest = rest[1:] if rest and rest[0].low in REPS else rest
        return [*piece[:numbers], *([unit] if unit else []), main[at], *rest]
    return []
