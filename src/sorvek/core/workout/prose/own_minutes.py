"""Minutes that have work of their own: “Min 1: 15 cal row”, “odd: …”, a list below “EMOM 20”."""

from collections.abc import Sequence
from dataclasses import replace
from itertools import takewhile

from sorvek.core.workout.prose import phrases as p
from sorvek.core.workout.prose.draft import Said
from sorvek.core.workout.prose.intervals import MINUTE_S
from sorvek.core.workout.prose.part_begins import MOST_TIMES, Parts, asks_most
from sorvek.core.workout.prose.words import Kind, ordinal

ROTATING = {"alternate", "alternating", "rotate", "rotating", "rotation"}
MINUTES = {"minute", "minutes", "min", "mins"}
IN_TURN = ("odd", "even")  # minutes that have work of their own in turn


def own_minutes(told: Sequence[Said]) -> tuple[Parts, tuple[Said, p.RoundCount] | None] | None:
    """Return parts of a minute with work of their own, told by number: “Min 1: 15 cal row”, “Min 2: rest”."""
    lines = [said for said in told if _minute_of(said)]
    numbers, turn_s = [_minute_of(said) for said in lines], MINUTE_S
    if not lines:
        lines, turn_s = _listed_minutes(told)
        numbers = list(range(1, len(lines) + 1))
    works = [said for said in lines if said.has(p.WorkLine)]
    counts = [(said, one) for said in told for one in (*said.of(p.RoundCount), *_times_alone(said))]
    rounds = [(said, one) for said, one in counts if one.count > 1]
    emoms = [(said, span) for said in told for span in said.of(p.Span)]
    whole = [span for said, span in emoms if span.role == "emom" or (said.cue("emom") and not span.role)]
    whole = whole or [span for said, span in emoms if turn_s > MINUTE_S and span.seconds > turn_s and not span.role]
    lap_s = turn_s * len(lines)
    if any(said.cue("until_missed", "for_time") for said in told):
        return None
    once = not (rounds or whole) and all(asks_most(said) or said.cue("rest") for said in lines)
    if len(lines) < 2 or numbers != list(range(1, len(lines) + 1)) or not (rounds or whole or once):
        return None
    times = rounds[0][1].count if rounds else 1 if once else round(whole[0].seconds / lap_s)
    if times > MOST_TIMES or (whole and not rounds and whole[0].seconds % lap_s):
        return None
    for said in lines:
        _without_number(said)
        if asks_most(said):  # “even minutes: max shuttle runs (1 rep = 10 m)”
            one = [work for work in said.of(p.WorkLine) if work.counts == (1,)]
            said.phrases = [replace(x, counts=()) if x in one else x for x in said.phrases]
        if said.cue("rest") and not said.has(p.WorkLine):
            end = len(said.sentence.tokens)
            said.phrases = [p.Span(0, end, turn_s, "rest")]
    found = Parts({id(said): (turn_s, list(said.sentence.lead)) for said in works}, times=times, once=lines[0])
    return found, (rounds[0] if rounds else None)


def _listed_minutes(told: Sequence[Said]) -> tuple[list[Said], float]:
    """Return the lines of a list with one for each minute, “EMOM 20 (4 movements, 5 rounds)”, and four below.

    Also how long each has: “every 2 min for 20 min, alternating”.
    """
    for at, said in enumerate(told):
        minutes = [span.seconds for span in said.of(p.Span) if span.role == "emom"]
        labelled = list(takewhile(lambda pair: _label(pair[1]) == pair[0], enumerate(told[at + 1 :], 1)))
        if len(labelled) > 1 and len(minutes) == 1 and not minutes[0] % (MINUTE_S * len(labelled)):
            # “EMOM 15 / 1: 15 cal row / 2: max pull-ups / 3: rest”
            return [one for _, one in labelled], MINUTE_S
        turning = bool(ROTATING & said.low()) and not said.has(p.WorkLine)
        behind = _listed(told[at + 1 :], turning)
        lines = behind if said.cue("emom") and len(minutes) == 1 else []
        rounds = {one.count for one in said.of(p.RoundCount)}
        turns = bool(rounds) and minutes[:1] == [MINUTE_S * len(lines) * max(rounds)]
        if len(lines) > 1 and (turns or ROTATING & said.low()) and not minutes[0] % (MINUTE_S * len(lines)):
            return lines, MINUTE_S
        turns_s = [span.seconds for span in said.of(p.Span) if span.role == "every"]
        wholes_s = [span.seconds for span in said.of(p.Span) if span.role == "" and turns_s]
        paced = turning and len(turns_s) == len(wholes_s) == 1 and len(behind) > 1
        if paced and not wholes_s[0] % (turns_s[0] * len(behind)):
            return behind, turns_s[0]
    return [], MINUTE_S


def _listed(told: Sequence[Said], turning: bool) -> list[Said]:
    """Return the lines of work at the head of a text: one with bullets, or any where they are done in turn."""
    listed = takewhile(lambda one: one.sentence.bullet or (turning and one.sentence.first), told)
    return list(takewhile(lambda one: one.has(p.WorkLine) or one.cue("rest"), listed))


def _label(said: Said) -> int:
    """Return the number a line is labelled with before a colon, “2: max pull-ups”, 0 for none."""
    head = [*said.sentence.lead, *said.sentence.tokens][:2]
    labelled = len(head) > 1 and head[0].kind is Kind.NUMBER and (head[1].mark(":") or bool(said.sentence.lead))
    return int(head[0].number) if labelled else 0


def _minute_of(said: Said) -> int:
    """Return the number of the minute a sentence begins with, 0 for none; odd ones are the first of two."""
    tokens = [*said.sentence.lead, *said.sentence.tokens]
    head = tokens[1:3] if tokens and tokens[0].low in ("on", "in") else tokens[:2]
    named = bool(said.sentence.lead) or (len(head) > 1 and (head[1].mark(":-–") or head[1].low in MINUTES))
    if head and head[0].low in IN_TURN and named:
        return IN_TURN.index(head[0].low) + 1
    if len(head) > 1 and ordinal(head[0].low) and head[1].low in MINUTES:
        return ordinal(head[0].low)  # “1st minute: …”
    numbered = len(head) > 1 and head[0].low in ("minute", "min") and head[1].kind is Kind.NUMBER
    return int(head[1].number) if numbered else 0


def _times_alone(said: Said) -> list[p.RoundCount]:
    """Return how often minutes come again where a line says nothing else: “x4”, “4x”."""
    tokens = said.sentence.tokens
    numbers = [token for token in tokens if token.kind is Kind.NUMBER]
    alone = len(tokens) == 2 and len(numbers) == 1 and any(token.low in ("x", "×") for token in tokens)
    return [p.RoundCount(0, 2, int(numbers[0].number))] if alone and not said.has(p.RoundCount) else []


def _without_number(said: Said) -> None:
    """Leave out what was read of the number of a minute."""
    tokens = said.sentence.tokens
    numbers = (i for i, token in enumerate(tokens[:3]) if token.kind is Kind.NUMBER)
    named = any(token.low in ("minute", "min") for token in tokens[:2]) or _label(said)
    at = next(numbers, -1) if named else -1
    said.phrases = [x for x in said.phrases if not (isinstance(x, p.Unknown) and x.lo <= at < x.hi)]
