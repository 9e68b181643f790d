"""Lines written in another way than most put the usual way: “From 0 to 5: …”, “(M50+): …”, “run 4 x 10 m”."""

from collections.abc import Sequence
from dataclasses import replace

from sorvek.core.workout.prose.divisions import AGES, WHO, division_at
from sorvek.core.workout.prose.lines import TextLine
from sorvek.core.workout.prose.tables import COUNTS
from sorvek.core.workout.prose.words import REPS, Kind, Token

MOST_TABATA = 3  # words of what is done
WORKOUTS = {"workout", "wod", "version", "work", "event"}
LEAST_TURNS = 10  # of a rope; fewer singles are lifts; judgement
LEAST_ROWS = 2  # of a table
ONCE, ARE = {"once", "when", "after"}, {"are", "is", "been"}
ALL_OF_IT = {"all", "the", "these", "those", "they", "of", "them", "reps", "repetitions", "that", "have", "has"}
DONE = {"done", "complete", "completed", "finished", "over"}
TARGETS = {"m": (2.2, 3.8), "ft": (8.0, 12.0)}  # what a ball is thrown to; judgement
HEAVIEST_BALL_KG = 12.0
TWIN_SHARE = 0.5  # of the men's number is the least that is the women's; “12 (6)” is six a side; judgement


def slash_twins(lines: Sequence[TextLine]) -> None:
    """Put a stroke between numbers of which one stands in brackets: “43 (30)”, “95 (65) lb”, “15 (12) cal”."""
    for line in lines:
        tokens = line.tokens
        for at in reversed(range(1, len(tokens) - 2)):
            unit = tokens[at - 1] if tokens[at - 1].unit() else None
            if not tokens[at].mark("(") or at - 1 < (unit is not None):
                continue
            first, second = tokens[at - 1 - (unit is not None)], tokens[at + 1]
            close = at + 2 + tokens[at + 2].unit()
            twins = first.kind is second.kind is Kind.NUMBER and close < len(tokens) and tokens[close].mark(")")
            series = tokens[at - 2 - (unit is not None)].mark("-–/") if at > 1 + (unit is not None) else False
            if twins and not series and TWIN_SHARE < second.number / max(first.number, 1.0) < 1.0:
                behind = tokens[at + 2 : close] or (
                    [replace(unit, start=second.end, end=second.end)] if unit else []
                )
                tokens[at : close + 1] = [replace(tokens[at], text="/"), second, *behind]


def drop_done(lines: Sequence[TextLine]) -> None:
    """Leave out that what was told is done before what follows: “Once all 30 are done, they move on to …”."""
    for line in lines:
        tokens = line.tokens
        for at in reversed(range(len(tokens) - 2)):
            soon = at > 1 and [token.low for token in tokens[at - 2 : at + 1]] == ["as", "soon", "as"]
            if tokens[at].low not in ONCE and not soon:
                continue
            end = at + 1
            while end < len(tokens) and (
                tokens[end].low in ALL_OF_IT or tokens[end].kind in (Kind.NUMBER, Kind.MOVEMENT)
            ):
                end += 1
            done = end > at + 1 and end + 1 < len(tokens) and tokens[end].low in ARE and tokens[end + 1].low in DONE
            told = any(token.low in ALL_OF_IT or token.kind is Kind.NUMBER for token in tokens[at + 1 : end])
            end += 2
            end += end < len(tokens) and tokens[end].mark(",")
            if done and told and end < len(tokens) and tokens[end].kind is not Kind.MARK:
                del tokens[at - 2 * soon : end]


def name_targets(lines: Sequence[TextLine]) -> None:
    """Put units behind bare pairs of a ball and its target: “wall balls 9/6 to 3/2.75”, “20/14 to 10/9 ft”."""
    for line in lines:
        tokens = line.tokens
        for at in reversed(range(3, len(tokens) - 3)):
            load, high = tokens[at - 3 : at], tokens[at + 1 : at + 4]
            if tokens[at].low != "to" or not (_falling_pair(load) and _falling_pair(high)):
                continue
            unit = next((name for name, (low, top) in TARGETS.items() if low <= high[2].number <= top), "")
            if unit and not any(token.unit() for token in tokens[at + 4 : at + 5]):
                tokens[at + 4 : at + 4] = [_unit(unit, high[2])]
            if unit:
                tokens[at:at] = [_unit("kg" if load[0].number <= HEAVIEST_BALL_KG else "lb", load[2])]


def _falling_pair(tokens: Sequence[Token]) -> bool:
    """Return whether words are two numbers at a stroke, the second one less."""
    numbers = tokens[0].kind is tokens[2].kind is Kind.NUMBER
    return numbers and tokens[1].mark("/") and tokens[0].number > tokens[2].number


def _unit(name: str, behind: Token) -> Token:
    return Token(Kind.UNIT, name, behind.end, behind.end, name=name)


def open_heads(lines: Sequence[TextLine]) -> None:
    """Take the brackets off the divisions a line begins with: “(M50+, M55+): 3 snatches …”."""
    for line in lines:
        end = next((i for i, token in enumerate(line.tokens[:-1]) if token.mark(")")), 0)
        inner = line.tokens[1:end]
        named = bool(inner) and line.tokens[0].mark("(") and division_at(inner, 0)[1] > 0
        if named and line.tokens[end + 1].mark(":") and not any(token.kind is Kind.MOVEMENT for token in inner):
            line.tokens[:] = [*inner, *line.tokens[end + 1 :]]


def name_singles(lines: Sequence[TextLine]) -> None:
    """Read “100 singles” beside double-unders as single-unders; elsewhere singles are lifts."""
    tokens = [token for line in lines for token in line.tokens]
    if any(token.kind is Kind.MOVEMENT and token.name == "double-under" for token in tokens):
        for line in lines:
            for at in range(1, len(line.tokens)):
                token = line.tokens[at]
                if token.low == "singles" and line.tokens[at - 1].number >= LEAST_TURNS:
                    line.tokens[at] = replace(token, kind=Kind.MOVEMENT, name="single-under")


def strip_heads(lines: Sequence[TextLine]) -> None:
    """Begin a line with the level that its work is for: “Workout for the Elite: 5 rounds of …”."""
    for line in lines:
        words = [token.low for token in line.tokens[:LEAST_ROWS]]
        at = 2 if words[1:] == ["for"] and words[0] in WORKOUTS else 0
        at += bool(at) and line.tokens[at : at + 1] != [] and line.tokens[at].low == "the"
        used = division_at(line.tokens, at)[1] if 0 < at < len(line.tokens) else 0
        if used and line.tokens[at + used :][:1] and line.tokens[at + used].mark(":"):
            line.tokens[:] = line.tokens[at:]


def name_ages(lines: Sequence[TextLine]) -> None:
    """Name those who are told by their age, “Athletes over 55 do …”, as the masters they are."""
    for line in lines:
        begins = [0, *(at + 1 for at, token in enumerate(line.tokens[:-1]) if token.mark(".;"))]
        for at in reversed(begins):
            name, used = division_at(line.tokens, at)
            level, _, age = name.partition(" ")
            first = line.tokens[at]
            if used and first.low in {*WHO, *AGES} and age:
                number = next(token for token in line.tokens[at:] if token.kind is Kind.NUMBER)
                told = [Token(Kind.CUE, level, first.start, first.end, name="level"), number]
                told += [Token(Kind.MARK, "+", number.end, number.end)] if age.endswith("+") else []
                line.tokens[at : at + used] = told


def name_lifts(lines: Sequence[TextLine]) -> None:
    """Put a lift that heads its line behind its cue: “Snatch – 8 minutes to find your 1RM”."""
    for line in lines:
        tokens = line.tokens
        first = next((i for i, token in enumerate(tokens[:3]) if token.kind is Kind.MOVEMENT), None)
        cues = [i for i, token in enumerate(tokens) if token.cue("lift") and token.low not in ("lift", "lifts")]
        if first is None or not cues or len(tokens) <= first + 1 or not tokens[first + 1].mark(":–—-."):
            continue
        named = any(token.kind is Kind.MOVEMENT for token in tokens[first + 1 :])
        counted = any(token.kind is Kind.NUMBER for token in tokens[:first]) and not tokens[first - 1].mark(".):")
        if not named and not counted and cues[0] > first:
            tokens.insert(cues[-1] + 1, tokens[first])
            del tokens[first : first + 2]


def lead_rounds(lines: Sequence[TextLine]) -> None:
    """Put the number before the word: “RFT (3)” and “RFT: 3” are “3 RFT”."""
    for line in lines:
        tokens = line.tokens
        for at in reversed(range(len(tokens) - 2)):
            name, mark, number = tokens[at : at + 3]
            counted = name.low == "rft" and mark.mark("(:x") and number.kind is Kind.NUMBER
            closed = tokens[at + 3 : at + 4]
            if counted and (not closed or closed[0].mark("),.:")):
                tokens[at : at + 3 + (mark.mark("(") and len(closed))] = [number, name]


def write_tabatas(lines: Sequence[TextLine]) -> None:
    """Write out “Tabata push-ups”: eight times 20 s of work and 10 s of rest (common practice, no source)."""
    for line in lines:
        token, work = line.tokens[0], line.tokens[1:]
        if token.low == "tabata" and work and work[0].kind is Kind.MOVEMENT and len(work) <= MOST_TABATA:
            told = [(Kind.NUMBER, "8", 8.0, ""), (Kind.CUE, "rounds", 0.0, "rounds"), (Kind.WORD, "of", 0.0, "")]
            told += [(Kind.NUMBER, "20", 20.0, ""), (Kind.UNIT, "s", 0.0, "s"), (Kind.WORD, "max", 0.0, "")]
            rest = [(Kind.MARK, ",", 0.0, ""), (Kind.NUMBER, "10", 10.0, ""), (Kind.UNIT, "s", 0.0, "s")]
            rest += [(Kind.CUE, "rest", 0.0, "rest")]
            line.tokens[:] = [*_written(told, token), *work, *_written(rest, token)]


def count_amraps(lines: Sequence[TextLine]) -> None:
    """Read “AMRAP 5 – rest 3 – AMRAP 5” as so many AMRAPs with a rest between: “2 x AMRAP 5 min, 3 min rest”."""
    for line in lines:
        pieces, piece = list[list[Token]](), list[Token]()
        for token in [*line.tokens, Token(Kind.MARK, "/", 0, 0)]:
            if token.mark("-–—/|+,;→>"):
                pieces, piece = [*pieces, piece] if piece else pieces, []
            else:
                piece.append(token)
        works, rests = pieces[::2], pieces[1::2]
        kinds = {_kind_and_minutes(piece) for piece in works}, {_kind_and_minutes(piece) for piece in rests}
        if len(works) < LEAST_ROWS or len(works) != len(rests) + 1 or any(len(kind) != 1 for kind in kinds):
            continue
        ((work, minutes),), ((rest, pause),) = kinds
        if work == "amrap" and rest == "rest" and minutes and pause:
            told = [(Kind.NUMBER, str(len(works)), float(len(works)), ""), (Kind.WORD, "x", 0.0, "")]
            told += [(Kind.CUE, "amrap", 0.0, "amrap"), (Kind.NUMBER, f"{minutes:g}", minutes, "")]
            told += [(Kind.UNIT, "min", 0.0, "min"), (Kind.MARK, ",", 0.0, "")]
            told += [(Kind.NUMBER, f"{pause:g}", pause, ""), (Kind.UNIT, "min", 0.0, "min")]
            told += [(Kind.CUE, "rest", 0.0, "rest")]
            line.tokens[:] = _written(told, line.tokens[0])


def _kind_and_minutes(piece: Sequence[Token]) -> tuple[str, float]:
    """Return of “AMRAP 5”, “5 min AMRAP” or “rest 3” the cue and the minutes, nothing of anything else."""
    cues = [token.name for token in piece if token.cue("amrap", "rest")]
    numbers = [token.number for token in piece if token.kind is Kind.NUMBER]
    beside = all(token.cue("amrap", "rest") or token.kind is Kind.NUMBER or token.unit("min") for token in piece)
    return (cues[0], numbers[0]) if beside and len(cues) == len(numbers) == 1 else ("", 0.0)


def _written(told: Sequence[tuple[Kind, str, float, str]], at: Token) -> list[Token]:
    """Return words that stand for one word of the text, where that stands."""
    return [Token(kind, text, at.start, at.end, number, name) for kind, text, number, name in told]


def join_cells(lines: Sequence[TextLine]) -> None:
    """Make lines of work of rows with a count and a movement: “| 40 | wall balls 9/6 kg |”; their head goes."""
    rows = [(line, _cells(line.tokens)) for line in lines]
    if sum(_counts_one(cells) for _, cells in rows) < LEAST_ROWS:
        return
    for line, cells in rows:
        if len(cells) != 2 or sum(map(_is_count, cells)) != 1:
            continue  # a movement that is not known is asked about as in any line
        count, work = cells if _is_count(cells[0]) else reversed(cells)
        line.tokens[:] = [*count, *work]
    for line, cells in rows:
        words = [token for cell in cells for token in cell]
        counted = any(token.kind in (Kind.NUMBER, Kind.MOVEMENT) for token in words)
        headed = len(cells) == 2 and not counted and any(token.low in COUNTS for token in words)
        if headed or (line.tokens[0].mark("|-") and all(token.mark("|-:") for token in line.tokens)):
            line.tokens[:] = line.tokens[:1]  # a stroke says nothing


def _cells(tokens: Sequence[Token]) -> list[list[Token]]:
    """Return what stands between the upright strokes of a line."""
    cells: list[list[Token]] = [[]]
    for token in tokens:
        if token.mark("|"):
            cells.append([])
        else:
            cells[-1].append(token)
    return [cell for cell in cells if cell]


def _counts_one(cells: Sequence[Sequence[Token]]) -> bool:
    """Return whether one of two cells is a count and the other names one movement."""
    works = [cell for cell in cells if sum(token.kind is Kind.MOVEMENT for token in cell) == 1]
    return len(cells) == 2 and len(works) == 1 and sum(map(_is_count, cells)) == 1


def _is_count(cell: Sequence[Token]) -> bool:
    """Return whether a cell holds a count, or two with a slash, and perhaps its unit."""
    bare = [token for token in cell if not (token.unit("cal", "m") or token.low in REPS)]
    return bool(bare) and all(token.kind is Kind.NUMBER or token.mark("/") for token in bare)
