"""The steps by which an announcement becomes blocks, in their order: here stands where something is read."""

from collections.abc import Callable, Iterator, Sequence

from sorvek.core.workout import tree as w
from sorvek.core.workout.movements import Library
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
from sorvek.core.workout.prose.clock_lines import clock_ranges, clock_rests, until_shown
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
from sorvek.core.workout.prose.draft import LONGEST_DOUBT, Said
from sorvek.core.workout.prose.falling import fall
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
from sorvek.core.workout.prose.lines import TextLine, lines_of, minutes_in_turn, sentences_of
from sorvek.core.workout.prose.minute_lines import (
    fill_minutes,
    number_minutes,
    prime_minutes,
    rounds_of_minutes,
    second_marks,
)
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
from sorvek.core.workout.prose.part_ends import cap_rounds, close_parts, each_in_turn
from sorvek.core.workout.prose.parts import find_parts
from sorvek.core.workout.prose.pauses import place_pauses
from sorvek.core.workout.prose.plain_lines import (
    count_amraps,
    drop_done,
    join_cells,
    lead_rounds,
    name_ages,
    name_lifts,
    name_singles,
    name_targets,
    open_heads,
    slash_twins,
    strip_heads,
    write_tabatas,
)
from sorvek.core.workout.prose.rep_lengths import name_reps, name_sections, turn_ways
from sorvek.core.workout.prose.restarts import do_again, start_again
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
from sorvek.core.workout.prose.words import Kind, Token
from sorvek.core.workout.prose.worth import read_worth, set_worth_aside

Step = Callable[[Draft], None]


# Lines are put the usual way before sentences are made of them.
LINES: tuple[Callable[[Sequence[TextLine]], None], ...] = (
    name_brackets,
    name_columns,
    drop_done,
    lead_rounds,
    name_lifts,
    slash_twins,
    name_targets,
    strip_heads,
    open_heads,
    name_ages,
    name_singles,
    second_marks,
    rounds_of_minutes,
    number_minutes,
    clock_ranges,
    until_shown,
    clock_rests,
    turn_ways,
    name_sections,
    join_cells,
    name_reps,
    write_tabatas,
    count_amraps,
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
    each_in_turn,
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
    fall,
    fold_rungs,
    drop_named_rungs,
    start_again,
    do_again,
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


def said_in(tokens: Sequence[Token], text: str, library: Library) -> Iterator[Said]:
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
    plain = place_pauses(plain)
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


def draft_of(tokens: Sequence[Token], text: str, library: Library) -> Draft:
    """Return what an announcement says, its blocks in order, what is doubtful among them."""
    draft = Draft(list(said_in(tokens, text, library)), library, Builder(library))
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
