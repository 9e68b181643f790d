"""What can be read off an announcement before anyone is planned: totals, round ends, pace, load on the body."""

from dataclasses import dataclass

from sorvek.core.constants import RESOURCES
from sorvek.core.quantities import clock
from sorvek.core.workout.course import NO_LIMIT_S, Course, Segment, size_words, unroll
from sorvek.core.workout.movements import Library, Movement
from sorvek.core.workout.notation import parse_workout
from sorvek.core.workout.notation_print import form_text, per_rep_text, workout_text
from sorvek.core.workout.traps import bulk_of, traps_of
from sorvek.core.workout.tree import Form, Workout

MOST_ROUNDS = 12
MOST_UNLIKE = 40  # rounds that differ are shown to their end


@dataclass(frozen=True, slots=True)
class RoundEnd:
    """Reps done at the end of a round, and the clock there when just finishing (0 if open).

    Every movement goes as much faster or slower than usual as that takes.
    """

    label: str
    reps: int
    pace_s: float
    tiebreak: bool


@dataclass(frozen=True, slots=True)
class SlotTotal:
    """A movement with its reps over the workout (in one round of an AMRAP) and its size in every division.

    `instead` says for every division what it does other than `reps` of `movement`, empty where it does the same;
    `scored` whether its reps count for the score, `per_rep` how many of them count as one rep (0: each of them).
    """

    label: str
    movement: Movement
    reps: int
    unit: str
    share_frac: float
    sizes: tuple[str, ...]
    instead: tuple[str, ...]
    scored: bool
    per_rep: float

    @property
    def how_counted(self) -> str:
        """Return “does not count” or “1 rep per 10 m”, empty where every rep counts."""
        return per_rep_text(self.per_rep, self.unit) if self.scored else "does not count"


@dataclass(frozen=True, slots=True)
class Readout:
    """The read-out of one workout. `total_reps` and `pace_s` are 0 for open work."""

    workout: Workout
    course: Course
    bound: str
    total_reps: int
    pace_s: float
    rounds: tuple[RoundEnd, ...]
    more_rounds: bool
    totals: tuple[SlotTotal, ...]
    taxes: tuple[tuple[str, float], ...]
    bulk: str
    traps: tuple[str, ...]

    @property
    def text(self) -> str:
        """Return the workout in its canonical notation: reading it gives the same workout again."""
        return workout_text(self.workout)

    @property
    def movements(self) -> tuple[Movement, ...]:
        """Return every movement once, in the order of the work, a max lift last."""
        found = [total.movement for total in self.totals]
        found += [self.workout.library.movements[name] for name in self.workout.lifted]
        return tuple(dict.fromkeys(found))


def _round_ends(course: Course, work_s: float) -> tuple[RoundEnd, ...]:
    """Return the ends of rounds; `work_s` is the time there is for the work, 0 if it is open."""
    ends: list[RoundEnd] = []
    segments = [segment for segment in course.segments if not segment.endless]
    if course.workout.form is Form.PARTS and course.open_ended:
        segments = [segment for segment in segments if segment.part == 1]  # later ones begin where this one ends
    usual = [course.slots[segment.slot].usual_s(segment.reps) for segment in segments]
    scale = work_s / sum(usual) if usual else 0.0
    total, rest_s, done_s = 0, 0.0, 0.0
    single = len({segment.round for segment in segments}) == 1
    for index, segment in enumerate(segments):
        total += segment.counted
        rest_s += segment.rest_before_s if work_s else 0.0
        done_s += usual[index] * scale
        last = index + 1 == len(segments) or segments[index + 1].round != segment.round
        if (last or single or segment.tiebreak) and total:  # nothing is scored before what counts
            name = course.slots[segment.slot].movement.plural
            label = name if single else course.round_labels[segment.round]
            if not last and not single:
                label = f"{label}, after {name}"
            ends.append(RoundEnd(label, total, done_s + rest_s, segment.tiebreak))
    return tuple(ends)


def _counted(course: Course) -> list[Segment]:
    """Return the visits that are added up: of open work those of a movement's first round in every part."""
    firsts = {(segment.part, segment.slot): segment.round for segment in reversed(course.segments)}
    once = course.open_ended and course.workout.form is not Form.WINDOWS
    return [s for s in course.segments if s.endless or not once or s.round == firsts[s.part, s.slot]]


def _reps(course: Course) -> list[int]:
    counted = _counted(course)
    return [sum(0 if s.endless else s.reps for s in counted if s.slot == i) for i in range(len(course.slots))]


def _totals(workout: Workout, course: Course) -> tuple[SlotTotal, ...]:
    first, reps = {segment.slot: segment for segment in reversed(_counted(course))}, _reps(course)
    divisions = [unroll(workout, name) for name in workout.divisions]
    theirs = [_reps(other) for other in divisions]
    work = [course.slots[i].usual_s(max(1, n)) for i, n in enumerate(reps)]
    rows = []
    for i, slot in enumerate(course.slots):
        sizes = tuple(size_words([other.slots[i]]) for other in divisions)
        instead = tuple(
            f"{n[i]} {other.slots[i].movement.plural}"
            if other.slots[i].movement.name != slot.movement.name
            else ("" if n[i] == reps[i] else f"{n[i]} {slot.unit}".strip())
            for other, n in zip(divisions, theirs, strict=True)
        )
        if i in first:
            share, visit = work[i] / sum(work), first[i]
            counts = visit.counted > 0, visit.per_rep
            rows.append(SlotTotal(slot.label, slot.movement, reps[i], slot.unit, share, sizes, instead, *counts))
    return tuple(rows)


def _taxes(course: Course) -> tuple[tuple[str, float], ...]:
    """Return each resource's load relative to the most loaded one: seconds of work times its weight.

    A max lift alone counts as one rep.
    """
    load = [0.0] * len(RESOURCES)
    if course.workout.lift and not course.segments:
        lifts = [course.workout.library.movements[name].styles[0].weights for name in course.workout.lifted]
        load = [max(weights) for weights in zip(*lifts, strict=True)]
    for segment in course.segments:
        seconds = course.slots[segment.slot].usual_s(segment.reps)
        for r, weight in enumerate(course.slots[segment.slot].movement.styles[0].weights):
            load[r] += weight * seconds
    top = max(load) or 1.0
    return tuple((name, value / top) for name, value in zip(RESOURCES, load, strict=True))


def _bound(workout: Workout) -> str:
    """Return how the work is bounded: the format line, for parts with a time each how many and how long in all."""
    if workout.form is Form.UNKNOWN:
        return "not said"
    parts = len(workout.timed_parts)
    return form_text(workout) + (f", {parts} parts, {clock(workout.cap_s)}" if workout.form is Form.PARTS else "")


def read_out(workout: Workout) -> Readout:
    """Return the read-out of a workout, counted for its first division.

    Raises: InfeasibleError if there is no work or far too much.
    """
    course = unroll(workout, workout.divisions[0])
    deadline = course.segments[-1].deadline_s if course.segments else NO_LIMIT_S
    total = 0 if course.open_ended else course.total_reps
    rest_s = sum(segment.rest_before_s for segment in course.segments)
    # Parts for reps have clocks of their own: no pace is that of the whole.
    paced = total > 0 and deadline < NO_LIMIT_S and workout.form is not Form.PARTS
    pace_s = (deadline - rest_s) / total if paced else 0.0
    ends = _round_ends(course, pace_s * total)
    most = MOST_ROUNDS if course.open_ended or not bulk_of(course) else MOST_UNLIKE
    return Readout(
        workout=workout,
        course=course,
        bound=_bound(workout),
        total_reps=total,
        pace_s=pace_s,
        rounds=ends[:most],
        more_rounds=len(ends) > most,
        totals=_totals(workout, course),
        taxes=_taxes(course),
        bulk=bulk_of(course),
        traps=traps_of(course),
    )


def read_workout(text: str, library: Library | None = None) -> Readout:
    """Return the read-out of a text: the one way a text becomes a workout that every page can show and plan.

    Raises: NotationError with line, column, problem and remedy; InfeasibleError for more work than can be planned.
    """
    return read_out(parse_workout(text, library))
