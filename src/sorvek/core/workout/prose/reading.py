"""An announcement as it is published, read into notation; every word of it is accounted for."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from sorvek.core.errors import CoreError
from sorvek.core.workout import tree as w
from sorvek.core.workout.checks import DOUBT_LINE, check_length
from sorvek.core.workout.movements import Library
from sorvek.core.workout.notation import DIVISIONS_LINE, FORM_LINE, LIFT_LINE, parse_workout
from sorvek.core.workout.notation_print import doubt_text, workout_text
from sorvek.core.workout.notation_reader import DEFAULT_DIVISIONS
from sorvek.core.workout.prose.build import Draft
from sorvek.core.workout.prose.draft import Node, Said, origins, words_of
from sorvek.core.workout.prose.lines import unwrap
from sorvek.core.workout.prose.loads import Sized
from sorvek.core.workout.prose.part_ends import in_rounds
from sorvek.core.workout.prose.pipeline import draft_of
from sorvek.core.workout.prose.words import Kind, Token, tokenize, without_pictures


class Fate(StrEnum):
    """What became of words of the source."""

    USED = "used"
    NO_ACCOUNT = "no account"
    DOUBT = "doubt"


@dataclass(frozen=True, slots=True)
class Passage:
    """The source from character `start` to `end` and its fate; `line` of the notation it is in, 0 for none."""

    start: int
    end: int
    fate: Fate
    line: int


@dataclass(frozen=True, slots=True)
class Question:
    """A line of the notation (from 1) that nobody should trust yet, and what is asked on it."""

    line: int
    words: str


@dataclass(frozen=True, slots=True)
class Reading:
    """Notation made from prose, what in it is in doubt, and the fate of every word of the source."""

    text: str
    doubts: tuple[Question, ...]
    marks: tuple[Passage, ...]

    @property
    def found(self) -> bool:
        """Return whether anything but a title and doubts was read."""
        said = [row for row in self.text.splitlines() if row.strip() and not DOUBT_LINE.match(row)]
        return len(said) > 1 or any(FORM_LINE.match(row) or LIFT_LINE.match(row) for row in said)


@dataclass(slots=True)
class _Written:
    """A workout, and for every line of its print the words it came from."""

    workout: w.Workout
    origin: list[list[Token]]


def _written(draft: Draft) -> _Written:
    """Return the workout a draft amounts to, with the loads of every line of work."""
    facts = draft.facts
    loads = Sized(draft.said, draft.top(), draft.library, draft.facts.alike)
    item_of: dict[int, w.Block] = {id(item): loads.item(item) for node in draft.top() for item in node.items()}
    works = {block.movement for block in item_of.values() if isinstance(block, w.Item)}
    if not set(facts.scored) <= works:  # what counts is in doubt itself
        facts.asked.append((f"the score is {' and '.join(facts.scored)} only", facts.tokens))
        facts.scored = ()
    if set(facts.scored) == works:
        facts.scored = ()
    asked = [Node(tokens, w.Doubt(words)) for words, tokens in facts.asked]
    form, comment = facts.form, ""
    lift = facts.lift
    if form is w.Form.LIFT and lift is None:
        form = w.Form.UNKNOWN
    if form is w.Form.UNKNOWN:
        first = asked.pop(0) if asked else Node([], w.Doubt("it is not said how the work is bounded"))
        comment = first.block.words if isinstance(first.block, w.Doubt) else ""
        facts.tokens = first.tokens
    lift = _rested(draft, lift) if lift is not None else None
    kept = [node for node in (_kept(node) for node in draft.top()) if node is not None]
    if facts.every is not None:
        work = [node for node in kept if not isinstance(node.block, w.Doubt)]
        kept = [node for node in kept if isinstance(node.block, w.Doubt)]
        kept.insert(0, Node(facts.every_tokens, facts.every, inner=work))
    nodes = [*asked, *in_rounds(kept), *loads.unused()]
    body = tuple(_frozen(node, item_of) for node in nodes)
    title = _name_of(draft.title) if draft.title else ""
    alone = form is w.Form.LIFT and lift is not None
    cap_s = lift.window_s if alone and lift else facts.cap_s
    workout = w.Workout(title, loads.divisions, form, cap_s, body, lift, "", comment, draft.library, facts.scored)
    origin = [[*draft.title.sentence.lead, *draft.title.sentence.tokens]] if title and draft.title else []
    origin += [[]] if loads.divisions != DEFAULT_DIVISIONS else []
    origin.append([*facts.tokens, *(facts.lift_tokens if alone else [])])
    if lift is not None and not alone and lift.first:
        origin.append(facts.lift_tokens)
    origin += [tokens for node in nodes for _, tokens in origins(node)]
    if lift is not None and (not alone or lift.second) and not lift.first:
        origin.append(facts.second_tokens if alone else facts.lift_tokens)
    return _Written(workout, origin)


def _rested(draft: Draft, lift: w.MaxLift) -> w.MaxLift:
    """Return a lift with the rest before it, or before the second of two; ask about a rest behind a first lift."""
    top = draft.top()
    place = 0 if lift.first else -1
    node = top[place] if top else None
    if node is None or not isinstance(node.block, w.Rest):
        return lift
    if lift.first:
        draft.builder.body.remove(node)
        draft.facts.lift_tokens += node.tokens
        return replace(lift, rest_s=node.block.seconds)
    draft.builder.body.remove(node)
    draft.facts.second_tokens += node.tokens
    draft.facts.lift_tokens += node.tokens
    if lift.second is not None:
        return replace(lift, second=replace(lift.second, rest_s=node.block.seconds))
    return replace(lift, rest_s=node.block.seconds)


def _frozen(node: Node, item_of: dict[int, w.Block]) -> w.Block:
    """Return the block a node has grown into; `item_of` has the finished lines of work by the node's id."""
    if node.work is not None:
        return item_of[id(node)]
    assert node.block is not None
    if isinstance(node.block, w.Rest | w.TieBreak | w.Doubt | w.Item):
        return node.block
    return replace(node.block, body=tuple(_frozen(inner, item_of) for inner in node.inner))


def _name_of(title: Said) -> str:
    """Return the title as the notation can hold it; empty for one that would be read as a line of another kind."""
    tokens = title.sentence.tokens
    labelled = len(tokens) > 2 and tokens[0].low in ("name", "title") and tokens[1].mark(":-–")
    colon = next((i for i, token in enumerate(tokens) if token.mark(":")), 0)
    text = words_of(tokens[2:]) if labelled else title.text()
    if colon and any(token.cue("for_time", "amrap") for token in tokens[colon:]):
        text = words_of(tokens[:colon])  # “Qualifier A: complete the following for time”
    text = text.replace("#", "")
    bare = text.strip(" *_`“”\"'=-–—:")
    closed = any(bare.count(mark) % 2 for mark in "\"'") or bare.count("“") + bare.count("„") > bare.count("”")
    text = " ".join((text.strip(" *_`=-–—:") if closed else bare).split())
    text = text.strip(" |")
    if text.lower() in ("type", "format", "workout type"):
        return ""  # the head of a list of keys
    return "" if any(line.match(text) for line in (FORM_LINE, LIFT_LINE, DIVISIONS_LINE)) else text


def _kept(node: Node) -> Node | None:
    """Return a node without blocks that hold no work, None if nothing is left of it."""
    if node.work is not None or not isinstance(
        node.block, w.Rounds | w.Series | w.Ladder | w.Stage | w.TimedPart | w.Window
    ):
        return node
    node.inner = [inner for inner in (_kept(inner) for inner in node.inner) if inner is not None]
    works = any(True for _ in node.items()) or any(isinstance(inner.block, w.Doubt) for inner in node.inner)
    return node if works else None


def read_prose(prose: str, library: Library) -> Reading:
    """Return the notation of an announcement, its doubts on lines that begin with `# ?`, and every word's fate.

    Raises: NotationError for a text that is far too long.
    """
    check_length(prose)
    source = unwrap("\n".join(prose.splitlines()))
    tokens = tokenize(source, library)
    draft = draft_of(without_pictures(tokens), source, library)
    written = _written(draft)
    text = _readable(written, library)
    rows = text.splitlines()
    doubts = tuple(
        Question(i, DOUBT_LINE.sub("", row).strip()) for i, row in enumerate(rows, 1) if DOUBT_LINE.match(row)
    )
    return Reading(text, doubts, tuple(_marks(tokens, rows, written.origin, draft.facts.used)))


def _readable(written: _Written, library: Library) -> str:
    """Return notation that can be read again: what does not fit together becomes doubts."""
    text = workout_text(written.workout)
    try:
        parse_workout(text, library)
    except CoreError as error:
        lines = [line for line in text.splitlines() if line.strip()]
        head = 1 if written.workout.title else 0
        problem = str(error).partition(": ")[2] or str(error)
        asked = doubt_text(f"what was read does not fit together: {problem}")
        body = [doubt_text(DOUBT_LINE.sub("", line).strip()) for line in lines[head:]]
        written.origin.insert(head, [token for row in written.origin for token in row])
        return "\n".join([*lines[:head], asked, *body]) + "\n"
    return text


def _marks(
    tokens: Sequence[Token], rows: Sequence[str], origin: Sequence[Sequence[Token]], used: Sequence[Token]
) -> Iterator[Passage]:
    """Yield what became of every token, in the order of the source."""
    line_of: dict[int, tuple[Fate, int]] = {}
    for number, (row, words) in enumerate(zip(rows, origin, strict=False), 1):
        fate = Fate.DOUBT if DOUBT_LINE.match(row) else Fate.USED
        for token in words:
            if fate is Fate.DOUBT or token.start not in line_of:
                line_of[token.start] = (fate, number)
    for token in used:
        line_of.setdefault(token.start, (Fate.USED, 0))
    for token in tokens:
        if token.kind is not Kind.NEWLINE:
            fate, number = line_of.get(token.start, (Fate.NO_ACCOUNT, 0))
            yield Passage(token.start, token.end, fate, number)
