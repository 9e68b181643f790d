"""An announcement as it is published, read into notation; every word of it is accounted for."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from sorvek.core.errors import CoreError
from sorvek.core.workout import tree as w
from sorvek.core.workout.checks import DOUBT_LINE, check_length
from sorvek.core.workout.movements import Library
from sorvek.core.workout.notation import DEFAULT_DIVISIONS, DIVISIONS_LINE, FORM_LINE, LIFT_LINE, parse_workout
from sorvek.core.workout.notation_print import doubt_text, workout_text
from sorvek.core.workout.prose.alike import find_alike
from sorvek.core.workout.prose.backwards import climb_back
from sorvek.core.workout.prose.bare_counts import count_once, read_counts
from sorvek.core.workout.prose.bare_metres import read_metres
from sorvek.core.workout.prose.bounds import find_bounds
from sorvek.core.workout.prose.bracketed import name_brackets, name_columns
from sorvek.core.workout.prose.build import Builder, Draft
from sorvek.core.workout.prose.by_level import drop_forms_again, head_loads, join_levels, open_levels, take_units
from sorvek.core.workout.prose.by_round import (
    before_the_first,
    beside_each,
    between_rounds,
    drop_summaries,
    halve_turns,
    interleave_endless,
    interleave_opposites,
    interleave_series,
    untie_twins,
)
from sorvek.core.workout.prose.by_sex import bracketed_counts, calories_for_all, counts_in_order, join_sexes
from sorvek.core.workout.prose.chunks import chunk
from sorvek.core.workout.prose.columns import read_columns, read_more_rows
from sorvek.core.workout.prose.doubts import (
    doubt_choices,
    doubt_empty,
    doubt_levels,
    doubt_lost,
    doubt_missing,
    doubt_numbers,
    doubt_other_lifts,
    doubt_out,
    doubt_partners,
    doubt_rounds,
    doubt_scaled,
    doubt_shares,
    doubt_times,
    doubt_unbroken,
    doubt_unread,
    doubt_ways,
    drop_totals,
)
from sorvek.core.workout.prose.draft import LONGEST_DOUBT, Node, Said, origins, words_of
from sorvek.core.workout.prose.gates import read_gates
from sorvek.core.workout.prose.heavier_rounds import load_rounds
from sorvek.core.workout.prose.interval_lifts import find_rising, read_interval_lifts
from sorvek.core.workout.prose.kinds import (
    ends_with_rounds,
    gaps_mean,
    is_work,
    listed,
    not_for_all,
    point_at_nothing,
    restated,
)
from sorvek.core.workout.prose.late_buy_ins import move_buy_ins
from sorvek.core.workout.prose.level_lines import settle_others
from sorvek.core.workout.prose.lift_lines import (
    mark_lift_ends,
    read_attempts,
    read_complex,
    read_lift_starts,
    read_split_lifts,
    read_timed_lifts,
)
from sorvek.core.workout.prose.lifts import find_lifts
from sorvek.core.workout.prose.lines import TextLine, lines_of, minutes_in_turn, sentences_of, unwrap
from sorvek.core.workout.prose.loads import Sized
from sorvek.core.workout.prose.one_dumbbell import take_one_dumbbell
from sorvek.core.workout.prose.order_doubts import (
    doubt_going_on,
    doubt_late_starts,
    doubt_order,
    doubt_single_rests,
    doubt_turns,
)
from sorvek.core.workout.prose.own_lines import place_notes, split_heads, unfold
from sorvek.core.workout.prose.own_series import take_own_series, write_out
from sorvek.core.workout.prose.paired_counts import split_pairs
from sorvek.core.workout.prose.part_begins import Parts
from sorvek.core.workout.prose.part_ends import cap_rounds, close_parts, in_rounds
from sorvek.core.workout.prose.parts import find_parts
from sorvek.core.workout.prose.plain_lines import (
    clock_ranges,
    fill_minutes,
    join_cells,
    name_ages,
    name_reps,
    open_heads,
    prime_minutes,
    turn_ways,
    write_tabatas,
)
from sorvek.core.workout.prose.restarts import start_again
from sorvek.core.workout.prose.rising_loads import spread_loads
from sorvek.core.workout.prose.rungs import drop_named_rungs, fold_rungs
from sorvek.core.workout.prose.scores import read_score
from sorvek.core.workout.prose.series_lines import (
    cash_out_first,
    dash_series,
    minutes_of_one,
    spread_movement,
    times_for_time,
)
from sorvek.core.workout.prose.split_lines import split_lines
from sorvek.core.workout.prose.starts import join_lone_ranges, read_starts
from sorvek.core.workout.prose.stations import count_each, split_stations, unnumber_stations
from sorvek.core.workout.prose.tables import loads_of, tables_in
from sorvek.core.workout.prose.tie_lines import place_ties
from sorvek.core.workout.prose.tiebreaks import place_tiebreaks
from sorvek.core.workout.prose.titles import (
    drop_named,
    set_aside,
    take_numbered_title,
    take_quoted_title,
    take_title,
    unnumber_rounds,
)
from sorvek.core.workout.prose.windows import fold_windows
from sorvek.core.workout.prose.words import Kind, Token, tokenize, without_pictures
from sorvek.core.workout.prose.worth import read_worth, set_worth_aside

Step = Callable[[Draft], None]


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


# Lines are put the usual way before sentences are made of them.
LINES: tuple[Callable[[Sequence[TextLine]], None], ...] = (
    name_brackets,
    name_columns,
    open_heads,
    name_ages,
    clock_ranges,
    turn_ways,
    join_cells,
    name_reps,
    write_tabatas,
    fill_minutes,
    prime_minutes,
    dash_series,
    times_for_time,
    cash_out_first,
    minutes_of_one,
    spread_movement,
)
# What several divisions do becomes one version, before anything is built.
VERSIONS: tuple[Step, ...] = (
    take_title,
    take_quoted_title,
    take_numbered_title,
    set_aside,
    unnumber_rounds,
    drop_named,
    read_metres,
    read_counts,
    count_once,
    halve_turns,
    set_worth_aside,
    read_gates,
    join_levels,
    drop_forms_again,
    open_levels,
    head_loads,
    take_units,
    join_sexes,
    counts_in_order,
    take_own_series,
    calories_for_all,
    bracketed_counts,
)
# Blocks that are built are folded, loads and tie-breaks find their places.
FOLDS: tuple[Step, ...] = (
    move_buy_ins,
    drop_summaries,
    untie_twins,
    find_lifts,
    load_rounds,
    spread_loads,
    beside_each,
    before_the_first,
    between_rounds,
    interleave_series,
    interleave_endless,
    interleave_opposites,
    write_out,
    fold_windows,
    fold_rungs,
    drop_named_rungs,
    start_again,
    climb_back,
    cap_rounds,
    place_tiebreaks,
    take_one_dumbbell,
)
# What is read and fits nowhere, what is passed over and what no line holds is asked about.
DOUBTS: tuple[Step, ...] = (
    find_alike,
    settle_others,
    read_worth,
    read_score,
    drop_totals,
    doubt_going_on,
    doubt_single_rests,
    doubt_turns,
    doubt_scaled,
    doubt_levels,
    doubt_late_starts,
    doubt_shares,
    doubt_other_lifts,
    doubt_out,
    doubt_partners,
    doubt_unbroken,
    doubt_order,
    doubt_unread,
    doubt_lost,
    doubt_missing,
    doubt_times,
    doubt_numbers,
    doubt_ways,
    doubt_rounds,
    doubt_choices,
    doubt_empty,
)


def _said(tokens: Sequence[Token], text: str, library: Library) -> Iterator[Said]:
    """Yield the sentences of a text in order; the rows of a table are sentences that say loads."""
    lines = lines_of(tokens, text)
    tables = dict(tables_in(lines, text))
    tabled = {id(line) for start, end in tables.items() for line in lines[start:end]}
    rows = [Said(s, list(f)) for start, end in tables.items() for s, f in loads_of(lines[start:end], text, library)]
    plain = split_heads([line for line in lines if id(line) not in tabled])
    machines = {t.name for t in tokens if t.kind is Kind.MOVEMENT and library.movements[t.name].family == "machine"}
    machine = machines.pop() if len(machines) == 1 else ""
    for mend in LINES:
        mend(plain)
    sentences = list(sentences_of(unfold(place_notes(place_ties(split_pairs(split_lines(plain)), text), text))))
    clocked = minutes_in_turn(sentences)
    prose = [Said(s, chunk(s, library, machine, id(s) in clocked)) for s in sentences]
    yield from sorted([*prose, *rows], key=lambda said: said.sentence.line)


def _bounds(draft: Draft) -> tuple[list[Said], Parts]:
    """Find how the work is bounded; return the sentences of a rising bar, and the parts with a time each."""
    read_columns(draft)
    read_more_rows(draft)
    join_lone_ranges(draft)
    read_starts(draft)
    unnumber_stations(draft)
    split_stations(draft)
    count_each(draft)
    point_at_nothing(draft)
    rising = find_rising(draft)
    read_split_lifts(draft)
    read_lift_starts(draft)
    read_complex(draft)
    read_attempts(draft)
    lifting = bool(rising) or read_interval_lifts(draft) or read_timed_lifts(draft)
    mark_lift_ends(draft)
    parts = Parts() if lifting else find_parts(draft)
    if not lifting and not parts.begins:
        find_bounds(draft)
    return rising, parts


def _draft(tokens: Sequence[Token], text: str, library: Library) -> Draft:
    """Return what an announcement says, its blocks in order, what is doubtful among them."""
    draft = Draft(list(_said(tokens, text, library)), library, Builder(library))
    for step in VERSIONS:
        step(draft)
    rising, parts = _bounds(draft)
    draft.builder.amrap = draft.facts.form is w.Form.AMRAP
    draft.builder.windowed = draft.facts.form is w.Form.WINDOWS
    draft.builder.gaps_mean = gaps_mean(draft)
    for number, said in enumerate(draft.said):
        if said is draft.title or said in rising:
            continue
        if id(said) in parts.begins:
            draft.builder.begin_part(number, *parts.begins[id(said)])
            draft.builder.take(number, said)
        elif not_for_all(draft, said):
            draft.builder.take_doubt(number, said, said.text()[:LONGEST_DOUBT])
        elif is_work(draft, said) and not restated(draft, said):
            draft.builder.one_round |= ends_with_rounds(draft, number)
            draft.builder.take(number, said)
        elif not said.used and listed(said):
            draft.builder.take_doubt(number, said, said.text()[:LONGEST_DOUBT])
    draft.builder.close()
    draft.builder.rest_inside()
    if parts.begins:
        close_parts(draft, parts)
    else:
        draft.builder.part()
    for step in (*FOLDS, *DOUBTS):
        step(draft)
    return draft


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
    draft = _draft(without_pictures(tokens), source, library)
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
