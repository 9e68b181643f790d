"""The canonical print of a workout: parsing it gives the same workout back."""

from collections.abc import Iterator

from sorvek.core.quantities import clock, plain
from sorvek.core.workout import tree as w
from sorvek.core.workout.movements import Library
from sorvek.core.workout.notation_reader import DEFAULT_DIVISIONS


def size_text(size: w.Size) -> str:
    """Return a size as written behind `@`, without the sign; empty for none."""
    if not size.values:
        return ""
    pair = "2x" if size.pair else ""
    return f"{'/'.join(pair + plain(value) for value in size.values)} {size.unit}"


def _rising_text(item: w.Item) -> str:
    return f"{item.times if item.times > 1 else ''}n{f'{item.more:+d}' if item.more else ''}"


def per_rep_text(per_rep: float, unit: str) -> str:
    """Return what counts as one rep together, as “1 rep per 10 m”; empty where every one counts."""
    return f"1 rep per {plain(per_rep)} {unit}".rstrip() if per_rep else ""


def item_text(item: w.Item, library: Library) -> str:
    """Return one line of work without its comment."""
    movement = library.movements[item.movement]
    told = "" if item.count == w.RISING else "/".join(map(str, item.counts or (item.count,)))
    count = _rising_text(item) if item.rising else told
    many = bool(count) and (item.counts or item.count != 1)
    words = [count, item.unit, movement.plural if many else movement.name, item.side.value]
    if item.style:
        words = [*filter(None, words)]
        words[-1] += f", {item.style}"
    size = size_text(item.size)
    to = size_text(item.target)
    words += [f"@ {size}" if size else "", f"to {to}" if to else ""]
    per = per_rep_text(item.per_rep, item.unit)
    words = [", ".join(filter(None, [" ".join(filter(None, words)), per])), "tiebreak" if item.tiebreak else ""]
    words += [f"| {label}: {library.movements[name].name}" for label, name in item.others]
    return " ".join(filter(None, words))


def _heading(block: w.Block, library: Library) -> str:  # noqa: C901, PLR0912  one case a kind of block
    match block:
        case w.Item():
            return item_text(block, library)
        case w.Every():
            return f"every {clock(block.seconds)} x {block.count}:"
        case w.Rounds(count=0):
            return "repeat:"
        case w.Rounds():
            return f"{block.count} rounds:"
        case w.Series():
            return f"reps {'-'.join(map(str, block.counts))}:"
        case w.Ladder(turns=()):
            return f"ladder {block.first},+{block.step}:"
        case w.Ladder():
            return f"ladder {'..'.join(map(str, (block.first, *block.turns)))}:"
        case w.Rest():
            return f"rest {clock(block.seconds)}"
        case w.TieBreak():
            return "tiebreak"
        case w.Stage():
            return f"stage cap {clock(block.cap_s)}:"
        case w.TimedPart():
            return f"part {clock(block.cap_s)}{', once' if block.once else ''}:"
        case w.Window():
            return "window:"
        case w.Doubt():
            return doubt_text(block.words)


def doubt_text(words: str) -> str:
    """Return the line on which a doubt stands."""
    return f"# ? {words}".rstrip()


def _lines(body: tuple[w.Block, ...], depth: int, library: Library) -> Iterator[str]:
    for block in body:
        yield "  " * depth + _with_comment(_heading(block, library), getattr(block, "comment", ""))
        yield from _lines(getattr(block, "body", ()), depth + 1, library)


def _with_comment(line: str, comment: str) -> str:
    return f"{line}  # {comment}" if comment else line


def lift_text(lift: w.MaxLift, library: Library) -> str:
    """Return a max lift with its window."""
    names = [name if reps == 1 else f"{reps} {library.movements[name].plural}" for name, reps in lift.parts]
    line = f"max {' + '.join(names)}"
    if lift.rising:
        bar = lift.rising
        line += f" from {size_text(bar.start)}, +{size_text(bar.step)} every {clock(bar.every_s)}"
    if lift.ends_s:
        line += f" until {clock(lift.ends_s)}"
    elif not lift.rising or lift.window_s != lift.rising.longest_s:
        line += f" in {clock(lift.window_s)}"
    return line + lift.tries


def form_text(workout: w.Workout) -> str:
    """Return the format line without its comment."""
    scored = (
        f", score {' + '.join(workout.library.movements[n].plural for n in workout.scored)}"
        if workout.scored
        else ""
    )
    if workout.form is w.Form.AMRAP:
        return f"amrap {clock(workout.cap_s)}{scored}"
    if workout.form is w.Form.WINDOWS:
        return f"windows {clock(workout.cap_s)}, until missed"
    if workout.form is w.Form.LIFT and workout.lift:
        return lift_text(workout.lift, workout.library)
    if workout.form is w.Form.UNKNOWN:
        return doubt_text(workout.form_comment)
    if workout.form is w.Form.FOR_TIME and workout.cap_s:
        return f"for time, cap {clock(workout.cap_s)}"
    return (w.Form.STAGES if workout.form is w.Form.PARTS else workout.form).value + scored


def workout_text(workout: w.Workout) -> str:
    """Return the canonical notation of a workout, ending in a newline."""
    lines = [_with_comment(workout.title, workout.title_comment)] if workout.title else []
    if workout.divisions != DEFAULT_DIVISIONS:
        lines.append(f"divisions {'/'.join(workout.divisions)}")
    comment = "" if workout.form is w.Form.UNKNOWN else workout.form_comment
    lines.append(_with_comment(form_text(workout), comment))
    work = [*_lines(workout.body, 0, workout.library)]
    lift = workout.lift.second if workout.form is w.Form.LIFT and workout.lift else workout.lift
    if lift:
        line = f"{'first' if lift.first else 'then'} {lift.begins}{lift_text(lift, workout.library)}{lift.rests}"
        work.insert(0 if lift.first else len(work), _with_comment(line, lift.comment))
    lines.extend(work)
    return "\n".join(lines) + "\n"
