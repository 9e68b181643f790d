"""The pace tape: sets on a time axis, a lane for each movement, flags for rounds, reserves running under it."""

import math
from dataclasses import dataclass

from sorvek.core.advice import BlockRun, Briefing, Display
from sorvek.core.constants import RESOURCES
from sorvek.core.quantities import clock, rest_words
from sorvek.core.simulation import SetRecord
from sorvek.core.workout import NO_LIMIT_S, Segment
from sorvek.figures.colours import movement_resource

WIDTH = 1060.0
LEFT = 132.0
RIGHT = 18.0
FLAGS_HEIGHT = 34.0
LANE_HEIGHT = 30.0
BAR_GAP = 4.0  # between the edges of a lane and its sets
# A tape beside fields: lanes as high as a field with its label, no names in it, and just room for the first tick.
FIELD_LANE_HEIGHT, FIELD_LEFT, LEAST_WIDTH, MOST_WIDTH = 46.0, 16.0, 320.0, 3000.0
AXIS_HEIGHT = 22.0
TRACK_HEIGHT = 19.0
# Of the reserves those that get lowest are shown, unless all are asked for.
FEW_TRACKS, ALL_TRACKS = 3, 7
TRACK_GAP = 4.0
CAP_LABEL = 74.0  # room the cap's own label takes on the axis
TICK_PX = 66.0  # room a tick of the axis takes
LABEL_PX = 6.6  # width of a digit at the label size, measured in the browser
FLAG_PX = 6.0
ENGINE = "engine"
HARDLY_EVER_FRAC = 0.01
RISKY_FRAC = 0.25  # a set that breaks on more days than this is marked
QUIET = 0.97  # a reserve that never falls below this is not drawn


@dataclass(frozen=True, slots=True)
class SetBar:
    """One set (or a run of singles) in its lane.

    `risky` where it breaks on many of the likely days; `segment` and `index` say which set of which visit it is,
    counted from 0.
    """

    x: float
    y: float
    width: float
    height: float
    resource: str
    text: str
    title: str
    thin: bool
    failed: bool
    risky: bool
    segment: int
    index: int
    reps: int


@dataclass(frozen=True, slots=True)
class Lane:
    """A movement's lane; `met` tells whether the planned day gets to it."""

    y: float
    label: str
    detail: str
    resource: str
    met: bool


@dataclass(frozen=True, slots=True)
class Flag:
    """The end of a round or part; `text` is empty where flags stand too close to read."""

    x: float
    text: str
    title: str
    tiebreak: bool
    anchor: str


@dataclass(frozen=True, slots=True)
class Tick:
    """A mark of the time axis."""

    x: float
    text: str


@dataclass(frozen=True, slots=True)
class Track:
    """One reserve over time: `area` is the filled path, `low` its lowest share in per cent."""

    y: float
    height: float
    label: str
    resource: str
    area: str
    low: int
    warn: bool


@dataclass(frozen=True, slots=True)
class PaceTape:
    """All coordinates of one tape, in the units of its view box."""

    width: float
    height: float
    start_s: float
    end_s: float
    whole_s: float
    named: bool
    lane_height: float
    plot_left: float
    plot_right: float
    lanes_bottom: float
    axis_y: float
    lanes: tuple[Lane, ...]
    bars: tuple[SetBar, ...]
    rests: tuple[tuple[float, float, str], ...]
    flags: tuple[Flag, ...]
    ticks: tuple[Tick, ...]
    tracks: tuple[Track, ...]
    cap_x: float
    cap_text: str


@dataclass(frozen=True, slots=True)
class Frame:
    """How large a tape is, in pixels: its width, room for names, its lanes; `every` draws those not reached."""

    width: float = WIDTH
    left: float = LEFT
    lane_height: float = LANE_HEIGHT
    every: bool = False

    @property
    def right(self) -> float:
        """Return where the axis ends."""
        return self.width - RIGHT


def beside_fields(width: float) -> Frame:
    """Return the frame of a tape whose lanes continue a column of fields, so many pixels wide."""
    return Frame(min(MOST_WIDTH, max(LEAST_WIDTH, width)), FIELD_LEFT, FIELD_LANE_HEIGHT, True)


@dataclass(frozen=True, slots=True)
class View:
    """What of a tape is drawn: a stretch of the clock (`end_s` 0: all of it), and at most so many reserves."""

    start_s: float = 0.0
    end_s: float = 0.0
    reserves: bool = True
    most: int = ALL_TRACKS
    frame: Frame = Frame()


@dataclass(frozen=True, slots=True)
class _Scale:
    start_s: float
    end_s: float
    frame: Frame

    def x(self, time_s: float) -> float:
        """Return the place of a time; what lies outside the view is moved to its edge."""
        inside = min(self.end_s, max(self.start_s, time_s)) - self.start_s
        left = self.frame.left
        return left + (self.frame.right - left) * inside / (self.end_s - self.start_s)

    def shows(self, begin_s: float, end_s: float) -> bool:
        """Return whether some of a stretch lies inside the view."""
        return end_s > self.start_s and begin_s < self.end_s


def tick_step_s(end_s: float, most: int = 16) -> int:
    """Return the step of the time axis: the smallest round one that gives at most `most` ticks."""
    steps = (5, 10, 15, 30, 60, 120, 300, 600, 1200)
    return next((step for step in steps if end_s / step <= most), 3600)


def _runs(records: tuple[SetRecord, ...]) -> list[list[SetRecord]]:
    """Group consecutive single reps into one run; every other set stands alone."""
    runs: list[list[SetRecord]] = []
    for record in records:
        before = runs[-1][-1] if runs else None
        if before and record.reps == before.reps == 1 and record.start_s - before.end_s < 8:
            runs[-1].append(record)
        else:
            runs.append([record])
    return runs


def _title(briefing: Briefing, block: BlockRun, run: list[SetRecord], chance: float, last: bool) -> str:
    """Return what is said of a set that is pointed at: when, how near to failure or how fast, what rest follows."""
    reps, start_s, end_s = sum(record.reps for record in run), run[0].start_s, run[-1].end_s
    said = f"{reps} {block.label}{', singles' if len(run) > 1 else ''}, {clock(start_s)}–{clock(end_s)}"
    if display := Display.of(briefing.course.slots[block.slot]):
        return f"{said}, {display.words(reps, end_s - start_s)}"
    said += f", {max(0.0, min(record.reps_in_reserve for record in run)):.1f} reps in reserve"
    if not last and block.rest_s:
        said += f", then rest {rest_words(block.rest_s)}"
    return said + (f", breaks on {chance:.0%} of days" if chance >= HARDLY_EVER_FRAC else ", hardly ever breaks")


def _bars(briefing: Briefing, scale: _Scale, lane_y: dict[int, float]) -> list[SetBar]:
    bars = []
    chances = iter(briefing.band.set_break_frac)
    for block in briefing.blocks:
        resource = movement_resource(briefing.course.slots[block.slot].movement)
        index = 0
        for run in _runs(block.records):
            reps = sum(record.reps for record in run)
            chance = max(next(chances) for _ in run)
            at = index
            index += len(run)
            if not scale.shows(run[0].start_s, run[-1].end_s):
                continue
            x, right = scale.x(run[0].start_s), scale.x(run[-1].end_s)
            width = max(1.5, right - x)
            text = f"{reps}×1" if len(run) > 1 else str(reps)
            if width < LABEL_PX * len(text) + 3:
                text = str(reps) if width >= LABEL_PX * len(str(reps)) + 1 else ""
            least = min(record.reps_in_reserve for record in run)
            title = _title(briefing, block, run, chance, last=index >= len(block.sets))
            failed = any(record.failed_reps for record in run)
            y, high = lane_y[block.slot] + BAR_GAP, scale.frame.lane_height - 2 * BAR_GAP
            place = (block.segment, at, reps)
            risky = chance >= RISKY_FRAC
            bars.append(SetBar(x, y, width, high, resource, text, title, least < 1, failed, risky, *place))
    return bars


def _flags(briefing: Briefing, scale: _Scale) -> list[Flag]:
    ties = {
        round(record.end_s, 3)
        for record in briefing.timeline.sets
        if briefing.course.segments[record.segment].tiebreak
    }
    flags: list[Flag] = []
    taken = 0.0
    for split in briefing.timeline.splits:
        if not scale.shows(split.end_s - 0.01, split.end_s):
            continue
        x = scale.x(split.end_s)
        text = clock(split.end_s)
        half = FLAG_PX * len(text) / 2
        fits = x - half >= taken and split.complete
        anchor = "end" if x + half > scale.frame.width - 2 else "middle"
        if fits:
            taken = x + half + 4
        title = f"{split.label}: {text}, {split.reps} reps"
        tie = any(abs(split.end_s - t) < 0.01 for t in ties)
        flags.append(Flag(x, text if fits else "", title, tie, anchor))
    return flags


def _tracks(briefing: Briefing, scale: _Scale, top: float, most: int) -> list[Track]:
    """Return the reserves that get lowest, at most so many, in their usual order."""
    names = [*RESOURCES, ENGINE]
    curves = {name: _reserve(briefing, index, name) for index, name in enumerate(names)}
    lows = {name: min(value for _, value in points) for name, points in curves.items()}
    shown = sorted((name for name in names if lows[name] <= QUIET), key=lambda name: lows[name])[:most]
    tracks: list[Track] = []
    for name in names:
        if name not in shown:
            continue
        points, low = curves[name], lows[name]
        y = top + len(tracks) * (TRACK_HEIGHT + TRACK_GAP)
        path = " ".join(f"L{scale.x(t):.1f} {y + TRACK_HEIGHT * (1 - v):.1f}" for t, v in points)
        left, right = f"{scale.x(scale.start_s):.1f}", f"{scale.x(points[-1][0]):.1f}"
        bottom = f"{y + TRACK_HEIGHT:.1f}"
        area = f"M{left} {bottom} {path} L{right} {bottom} Z"
        tracks.append(Track(y, TRACK_HEIGHT, name, name, area, max(0, math.floor(100 * low)), low < 0.1))
    return tracks


def _reserve(briefing: Briefing, index: int, name: str) -> list[tuple[float, float]]:
    """Return how a reserve goes: pairs of seconds and share left."""
    points: list[tuple[float, float]] = [(0.0, 1.0)]
    for record in briefing.timeline.sets:
        before = record.engine_before if name == ENGINE else record.before[index]
        after = record.engine_after if name == ENGINE else record.after[index]
        points += [(record.start_s, before), (record.end_s, after)]
    return points


def tape_end_s(briefing: Briefing) -> float:
    """Return where the axis of a whole tape ends: at the cap that ends the work, else with the work."""
    return max(_cap_s(briefing), briefing.timeline.end_s, 10.0)


def _cap_s(briefing: Briefing) -> float:
    """Return the cap that ends this athlete's work (of several: windows, stages), 0 without one."""
    ends = (s.deadline_s for s in briefing.course.segments)
    return min((end for end in ends if briefing.timeline.end_s <= end < NO_LIMIT_S), default=0.0)


def _rested(before: Segment, after: Segment) -> bool:
    """Return whether a rest lies between two visits: one that is written, or what is left of a window."""
    return after.rest_before_s > 0 or after.opens_s > before.opens_s


def pace_tape(briefing: Briefing, view: View | None = None) -> PaceTape:
    """Return the tape of one athlete's plan, or the part of it that a view shows.

    Coordinates: x grows with time from `plot_left`, y downwards; one unit is one pixel at full width.
    """
    course, timeline = briefing.course, briefing.timeline
    view = view or View()
    frame, whole_s = view.frame, tape_end_s(briefing)
    scale = _Scale(view.start_s, view.end_s or whole_s, frame)
    cap_s = _cap_s(briefing)
    cap_s = cap_s if scale.start_s < cap_s <= scale.end_s else 0.0
    used = range(len(course.slots)) if frame.every else sorted({block.slot for block in briefing.blocks})
    lane_y = {slot: FLAGS_HEIGHT + i * frame.lane_height for i, slot in enumerate(used)}
    lanes_bottom = FLAGS_HEIGHT + len(used) * frame.lane_height
    axis_y = lanes_bottom
    tracks = _tracks(briefing, scale, lanes_bottom + AXIS_HEIGHT + 6, view.most) if view.reserves else []
    bottom = tracks[-1].y + TRACK_HEIGHT if tracks else lanes_bottom + AXIS_HEIGHT
    step = tick_step_s(scale.end_s - scale.start_s, max(4, round(frame.width / TICK_PX)))
    cap_x = scale.x(cap_s) if cap_s else 0.0
    times = range(-(-int(scale.start_s) // step) * step, int(scale.end_s) + 1, step)
    ticks = [Tick(scale.x(t), clock(t)) for t in times if not cap_s or scale.x(t) < cap_x - CAP_LABEL]
    rests = [
        (
            scale.x(before.end_s),
            scale.x(after.start_s) - scale.x(before.end_s),
            clock(after.start_s - before.end_s),
        )
        for before, after in zip(timeline.sets, timeline.sets[1:], strict=False)
        if _rested(course.segments[before.segment], course.segments[after.segment])
        and after.segment != before.segment
        and scale.shows(before.end_s, after.start_s)
    ]
    slots = course.slots
    return PaceTape(
        width=frame.width,
        height=bottom + 6,
        start_s=scale.start_s,
        end_s=scale.end_s,
        whole_s=whole_s,
        named=frame.left >= LEFT,
        lane_height=frame.lane_height,
        plot_left=frame.left,
        plot_right=frame.right,
        lanes_bottom=lanes_bottom,
        axis_y=axis_y,
        lanes=tuple(
            Lane(
                lane_y[i],
                slots[i].movement.plural,
                slots[i].label.removeprefix(slots[i].movement.name).strip(),
                movement_resource(slots[i].movement),
                any(block.slot == i for block in briefing.blocks),
            )
            for i in used
        ),
        bars=tuple(_bars(briefing, scale, lane_y)),
        rests=tuple(rests),
        flags=tuple(_flags(briefing, scale)),
        ticks=tuple(ticks),
        tracks=tuple(tracks),
        cap_x=cap_x,
        cap_text=f"cap {clock(cap_s)}" if cap_s else "",
    )
