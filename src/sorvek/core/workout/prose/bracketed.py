"""Lines that hold what several levels do: in brackets, where that is told once, or one behind the other."""

from collections.abc import Sequence

from sorvek.core.workout.prose.divisions import PLAIN, division_at
from sorvek.core.workout.prose.lines import TextLine
from sorvek.core.workout.prose.words import Kind, Token

BRACKETS = {"brackets", "bracket", "parentheses"}


def name_brackets(lines: Sequence[TextLine]) -> None:
    """Put the level into every bracket of its own kind: “9 thrusters 40/30 kg [30/20 kg]”."""
    told = next((name for one in lines if (name := _level_in_brackets(one.tokens))), [])
    square = any(token.mark("[") for one in lines for token in one.tokens)
    for one in lines if told else ():
        counted = one.tokens[0].kind is Kind.NUMBER or any(t.kind is Kind.NUMBER for t in one.tokens[1:2])
        at = next((i for i, token in enumerate(one.tokens) if token.mark("[" if square else "(")), None)
        if counted and at is not None:
            here = one.tokens[at].end
            name = [Token(t.kind, t.text, here, here, t.number, t.name) for t in told]
            one.tokens[at + 1 : at + 1] = [*name, Token(Kind.MARK, ":", here, here)]


def _level_in_brackets(tokens: list[Token]) -> list[Token]:
    """Return the words of the level that a line says to be in brackets, none if it says nothing of it."""
    name, used = division_at(tokens, 0)
    lows = [token.low for token in tokens[used:]]
    return tokens[:used] if name not in PLAIN and "in" in lows and BRACKETS & {*lows} else []


def name_columns(lines: Sequence[TextLine]) -> None:
    """Put what other levels do into brackets where all stand in one line: “RX / Scaled”, “13 T2B / 13 sit-ups”.

    What Rx does stands first, what the first one does where nobody is called so.
    """
    levels: list[list[Token]] = []
    for one in lines:
        told = _levels_in_turn(one.tokens)
        opens = next((i for i, token in enumerate(one.tokens) if token.mark("([")), len(one.tokens))
        alone = bool(told) and any(token.kind is Kind.MOVEMENT for token in one.tokens[:opens])
        levels = levels if alone else told or levels
        names, work = (
            (told, one.tokens[:opens]) if alone else (levels, one.tokens)
        )  # “100 DU / 50 SU (RX / scaled)”
        pieces = _completed(_apart(work, spaced=True), len(names))
        if len(pieces) != len(names) or len(names) < 2 or _level(work):
            continue
        rest = list(zip(names, pieces, strict=True))
        _, plain = rest.pop(next((i for i, (name, _) in enumerate(rest) if division_at(name, 0)[0] in PLAIN), 0))
        kept = list(plain)
        for name, piece in rest:
            own = _unlike(piece, plain)
            if own:
                here, end = own[0].start, own[-1].end
                named = [Token(t.kind, t.text, here, here, t.number, t.name) for t in name]
                opened, colon = Token(Kind.MARK, "(", here, here), Token(Kind.MARK, ":", here, here)
                kept += [opened, *named, colon, *own, Token(Kind.MARK, ")", end, end)]
        one.tokens[:] = kept


def _completed(pieces: list[list[Token]], levels: int) -> list[list[Token]]:
    """Return pieces with what they share: “20 / 10 cleans” or “20 / 10 cleans 60 kg / 40 kg”."""
    counts = pieces[: levels - 1]
    bare = len(pieces) >= levels > 1 and all(len(p) == 1 and p[0].kind is Kind.NUMBER for p in counts)
    if not bare or pieces[levels - 1][0].kind is not Kind.NUMBER:
        return _all_named(pieces)
    counts.append(pieces[levels - 1][:1])
    shared, loads = pieces[levels - 1][1:], pieces[levels:]
    if not loads:
        return [[*count, *shared] for count in counts]
    at = next((i for i, token in enumerate(shared) if token.kind is Kind.NUMBER), len(shared))
    loads = [shared[at:], *loads]
    return [[*count, *shared[:at], *load] for count, load in zip(counts, loads, strict=False)]


def _all_named(pieces: list[list[Token]]) -> list[list[Token]]:
    """Return pieces, mere loads among them behind count and movement of the first: “9 jumps 60 cm / 50 cm”."""
    first = pieces[0] if pieces else []
    at = next((i for i, token in enumerate(first) if token.kind is Kind.MOVEMENT), len(first))
    loads = next(
        (i for i in range(at, len(first)) if first[i].kind is Kind.NUMBER or first[i].text == "@"), len(first)
    )
    sized = [any(token.unit("kg", "lb", "cm", "in") for token in piece) for piece in pieces]
    named = [any(token.kind is Kind.MOVEMENT for token in piece) for piece in pieces]
    return [
        piece if is_named or not is_sized else [*first[:loads], *piece]
        for piece, is_named, is_sized in zip(pieces, named, sized, strict=True)
    ]


def _unlike(piece: Sequence[Token], plain: Sequence[Token]) -> list[Token]:
    """Return what of a piece is not as in the plain one: all of it, its loads where only these are others."""
    alike = next((i for i, (a, b) in enumerate(zip(piece, plain, strict=False)) if a.low != b.low), len(piece))
    if alike == len(piece) == len(plain):
        return []
    named = any(token.kind is Kind.MOVEMENT for token in piece[:alike])
    return list(piece[alike:] if named and piece[alike:] else piece)


def _levels_in_turn(tokens: Sequence[Token]) -> list[list[Token]]:
    """Return the names of levels that a line or its bracket holds in a row, none if it says more."""
    at = next((i for i, token in enumerate(tokens) if token.mark("([")), None)
    inside = tokens if at is None else [token for token in tokens[at + 1 :] if not token.mark(")]")]
    pieces = _apart(inside, spaced=False)
    others = [piece for piece in pieces[1:] if division_at(piece, 0)[1] != len(piece) or not _level(piece)]
    first = bool(pieces) and all(token.cue("level") or token.low in ("&", "and") for token in pieces[0])
    return pieces if first and len(pieces) > 1 and not others else []


def _level(tokens: Sequence[Token]) -> bool:
    return any(token.cue("level") for token in tokens)


def _apart(tokens: Sequence[Token], spaced: bool) -> list[list[Token]]:
    """Return tokens in pieces, cut at upright strokes and at slashes, if `spaced` at those between spaces."""
    pieces: list[list[Token]] = [[]]
    for i, token in enumerate(tokens):
        inner = 0 < i < len(tokens) - 1
        free = inner and tokens[i - 1].end < token.start and token.end < tokens[i + 1].start
        if token.mark("|") or (token.mark("/") and (free or not spaced)):
            pieces.append([])
        else:
            pieces[-1].append(token)
    return [piece for piece in pieces if piece]
