"""Rounds, and numbers of rounds, parts and stages, in a row of words."""

from sorvek.core.workout.movements import SizeKind
from sorvek.core.workout.prose.phrases import (
    Cue,
    Numbered,
    Phrase,
    RoundCount,
    Unknown,
    WordRow,
    skip,
    whole,
)
from sorvek.core.workout.prose.times import duration
from sorvek.core.workout.prose.words import Kind, ordinal

MOST_HEAD = 5  # words and marks of a line that only says how many sets follow


def rounds_at(row: WordRow, at: int) -> RoundCount | None:
    """Read “4 rounds”, “5 RFT”, “twice”, “3 x:”."""
    token = row.tokens[at]
    if token.low in ("twice", "thrice"):
        if row.lead(at) == "it" and row.lead(at - 1) not in ("do", "repeat"):
            return None  # “Read it twice!”
        return RoundCount(at, at + 1, 2 if token.low == "twice" else 3, row.points(at))
    if not whole(token):
        return None
    return _headed_rounds(row, at) or _timed_rounds(row, at) or _named_rounds(row, at)


def _headed_rounds(row: WordRow, at: int) -> RoundCount | None:
    """Read “Rounds: 3”, and “x 4” behind a time: “2 min AMRAP x 4”."""
    count = int(row.tokens[at].number)
    headed = at > 1 and row.tokens[at - 1].mark(":|=") and row.tokens[at - 2].low in ("rounds", "sets")
    if headed and (row.token(at + 1) is None or row.tokens[at + 1].mark("|.,;")):
        return RoundCount(at - 2, at + 1, count)
    ends = row.token(at + 1) is None or row.tokens[at + 1].mark(",.;(")
    if at == 1 and row.lead(at) in ("x", "×") and ends and count > 1:
        return RoundCount(0, 2, count)  # “x 2, for time”
    them = [token.low for token in row.tokens[at + 1 : at + 3]] == ["of", "them"]
    if them and any(token.cue("window", "amrap") for token in row.tokens[:at]):
        return RoundCount(at, at + 3, count)  # “3-minute windows, 3 of them”
    timed = at > 0 and row.lead(at) in ("x", "×") and _timed_before(row, at)
    return RoundCount(at - 1, at + 1, count) if timed else None


def _behind_count(row: WordRow, at: int) -> int:
    """Return where the word stands that says what a number counts."""
    words = {"full", "total", "complete", "quick", "unbroken", "hard", "even", "more", "such"}
    return skip(row.tokens, at + 1, words, "-–)")


def _timed_rounds(row: WordRow, at: int) -> RoundCount | None:
    """Read “4 x 2 minutes on”, “three 5-minute AMRAPs”, “4 intervals of 2 minutes”."""
    index, count = _behind_count(row, at), int(row.tokens[at].number)
    behind = row.token(index)
    if behind is None:
        return None
    ways = row.tokens[at + 2 : at + 5]  # “4 x 400 m run”
    way = len(ways) > 2 and ways[0].kind is Kind.NUMBER and ways[1].unit("m", "km", "cal")
    way = way and ways[2].kind is Kind.MOVEMENT and row.library.movements[ways[2].name].size is SizeKind.UNIT
    way = way or row.cue_at(at + 2, "amrap")  # “3 x AMRAP 3'”
    if behind.low in ("x", "×") and index == at + 1 and (way or duration(row, at + 2) is not None):
        return RoundCount(at, at + 2, count)
    amraps = duration(row, index)
    ahead = skip(row.tokens, index + amraps[1], set(), "-–") if amraps else 0
    each = ahead and any(
        row.cue_at(ahead, name) for name in ("amrap", "window", "rounds")
    )  # “three 90-second rounds”
    plural = each and row.tokens[ahead].low[-1] == "s"
    if plural and count > 1:
        return RoundCount(at, at + 1, count)
    lasting = skip(row.tokens, index + 1, {"of"}, "-–(:")
    several = behind.cue("amrap") and behind.low[-1] == "s"  # “three AMRAPs of 3 minutes”
    if (behind.cue("window") or several) and duration(row, lasting) is not None:
        return RoundCount(at, index + 1, count)
    return None


def _named_rounds(row: WordRow, at: int) -> RoundCount | None:
    """Read “4 rounds”, “5 RFT”, “3 x:”, “4 rounds for reps”, and sets where they are rounds."""
    index, count = _behind_count(row, at), int(row.tokens[at].number)
    behind = row.token(index)
    if behind is None:
        return None
    if behind.cue("amrap") and behind.low.startswith("rounds for"):
        return RoundCount(at, index, count)
    rft = behind.cue("for_time") and behind.low == "rft"
    colon = row.token(at + 2) is None or row.tokens[at + 2].mark(":(")
    listed = behind.low in ("x", "×") and index == at + 1 and colon
    once = count == 1 and behind.low == "time"
    if behind.cue("rounds") or rft or listed or once or _sets_are_rounds(row, at, index):
        return RoundCount(at, index if rft else index + 1, count, row.points(at))
    return None


def _sets_are_rounds(row: WordRow, at: int, index: int) -> bool:
    """Return whether sets are rounds: “3 sets of 10”, “every 2:00 for 5 sets”, “2 sets, each for time”."""
    behind = row.tokens[index]
    if behind.cue("set") and behind.low == "sets of" and whole(row.token(skip(row.tokens, index + 1, set()))):
        return True
    paced = at > 0 and row.lead(at) in ("for", "x") and any(t.cue("every") for t in row.tokens[:at])
    rested = any(t.cue("rest") for t in row.tokens) and row.tokens[-1].mark(":")
    timed = any(t.cue("for_time") for t in row.tokens[index:])
    headed = row.tokens[-1].mark(":") and len(row.tokens) <= MOST_HEAD  # “Complete 3 sets:”
    return (paced and behind.cue("set")) or (behind.low == "sets" and (rested or timed or headed))


def _timed_before(row: WordRow, at: int) -> bool:
    """Return whether a number behind “x” is how often something with a time is done: “2 min AMRAP x 4, …”."""
    behind = row.token(at + 1)
    ends = behind is None or behind.mark(",.:;)(–-") or behind.low in ("with", "and", "plus")
    told = any(token.cue("amrap", "window", "every") or token.low in ("on", "off") for token in row.tokens[:at])
    return ends and told


def numbered_at(row: WordRow, at: int) -> Phrase | None:
    """Read “part 2”, “stage B”, “round 1”."""
    token = row.tokens[at]
    behind = row.token(at + 1)
    if token.low == "pt" and behind is not None and behind.mark("."):
        part = row.token(at + 2)  # “Pt. 2”
        return Cue(at, at + 3, token.name, int(part.number)) if part is not None and whole(part) else None
    ahead = row.tokens[at + 1 : at + 4]
    last = row.tokens[-1]
    if token.cue("rounds") and at == 0 and len(row.tokens) > 3 and whole(last) and row.tokens[-2].mark(":"):
        return RoundCount(at, len(row.tokens), int(last.number))  # “Rounds for time: 4”
    resting = any(other.cue("rest") for other in row.tokens) and not row.works
    if (
        token.cue("rounds")
        and resting
        and len(ahead) == 3
        and whole(ahead[0])
        and ahead[1].mark(",")
        and whole(ahead[2])
    ):
        end = at + 1
        while end < len(row.tokens) and (
            whole(row.tokens[end]) or row.tokens[end].mark(",") or row.tokens[end].low == "and"
        ):
            end += 1
        return Cue(at, end, "each_round")  # “rest 60 seconds after rounds 1, 2 and 3”
    pair = len(ahead) == 3 and whole(ahead[0]) and whole(ahead[2]) and ahead[2].number < 30
    apart = pair and (ahead[1].mark("&+") or ahead[1].low == "and") and ahead[2].number != ahead[0].number + 1
    if token.cue("rounds") and apart:
        return Unknown(at, at + 4)  # “rounds 1 and 3”: there is one between them
    if token.cue("rounds") and pair and (ahead[1].mark("-–&+") or ahead[1].low in ("and", "to")):
        return Numbered(at, at + 4, int(ahead[0].number), int(ahead[2].number))
    numbers_it = token.cue("rounds") or at + 1 not in row.works  # “max reps of the couplet 9 swings + 9 squats”
    if behind is not None and whole(behind) and behind.number < 30 and duration(row, at + 1) is None and numbers_it:
        return Cue(at, at + 2, token.name, int(behind.number))
    letters = {"a": 1, "b": 2, "c": 3, "one": 1, "i": 1, "ii": 2, "iii": 3}
    if behind is not None and behind.low in letters and (behind.text.isupper() or behind.low == "one"):
        return Cue(at, at + 2, token.name, letters[behind.low])
    return Cue(at, at + 1, token.name, ordinal(row.lead(at)))
