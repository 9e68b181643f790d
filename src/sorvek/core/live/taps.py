"""What is tapped in a lane, and what became of the lane by it: a fold over taps, in any order they come in.

A tap is made once, with an id of its own, on the device that made it. Nothing is changed afterwards: a mistake is
undone by another tap that names it. The same taps give the same lane whatever way they arrived.
"""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from enum import StrEnum

from sorvek.core.plan import Plan, typed_plan
from sorvek.core.workout import Course

# A set that ended with the buzzer is tapped a moment later.
LATE_S = 3.0


class TapKind(StrEnum):
    """What a judge or a coach can say of a lane."""

    SET = "set"
    BROKEN = "broken"
    REPS = "reps"
    NO_REP = "no-rep"
    FAILED = "failed"
    ROUND = "round"
    MADE = "made"
    MISSED = "missed"
    PLAN = "plan"
    UNDO = "undo"


ATTEMPTS = (TapKind.MADE, TapKind.MISSED)


@dataclass(frozen=True, slots=True)
class Tap:
    """One tap: its id, when it was made in s on the heat's clock, and what it says.

    `of` is the id of the tap it speaks of (undone, or the broken set whose reps it tells), `reps` those reps,
    `texts` the sets of a new plan by movement, in shorthand; `load_kg` what was on the bar of an attempt.
    """

    id: str
    kind: TapKind
    at_s: float
    of: str = ""
    reps: int = 0
    texts: tuple[str, ...] = ()
    load_kg: float = 0.0


@dataclass(frozen=True, slots=True)
class SetDone:
    """A set as it was tapped; `at_s` is None inside a round that was tapped as a whole.

    `broken` where it ended before the plan said, `asked` where nobody has told its reps yet and they are assumed.
    """

    segment: int
    reps: int
    at_s: float | None
    broken: bool = False
    asked: bool = False
    tap: str = ""


@dataclass(frozen=True, slots=True)
class LaneState:
    """A lane as the taps leave it: which visit, how many of its reps are begun, what was done, by which plan.

    `segment` is the number of visits when all are done. `no_reps` and `failed` are pairs of visit and time.
    `last` is the id of the last tap that counts, the one a single key undoes.
    """

    plan: Plan
    segment: int = 0
    begun: int = 0
    done: tuple[SetDone, ...] = ()
    no_reps: tuple[tuple[int, float], ...] = ()
    failed: tuple[tuple[int, float], ...] = ()
    last: str = ""

    def finished(self, course: Course) -> bool:
        """Return whether all the work is done."""
        return self.segment >= len(course.segments)

    def reps(self, course: Course) -> int:
        """Return the reps done that count for the score."""
        begun = 0 if self.finished(course) else course.segments[self.segment].counted_of(self.begun)
        return sum(segment.counted for segment in course.segments[: self.segment]) + begun

    def place(self, course: Course) -> int:
        """Return all reps done, those that do not count among them."""
        return sum(segment.reps for segment in course.segments[: self.segment]) + self.begun

    def left_of_visit(self, course: Course) -> int:
        """Return the reps that are left of the visit a lane is in, 0 when all is done."""
        return 0 if self.finished(course) else course.segments[self.segment].reps - self.begun

    def sets_left(self, course: Course) -> tuple[int, ...]:
        """Return the sets that are left of the visit a lane is in."""
        if self.finished(course):
            return ()
        segment, rank = course.segments[self.segment], course.slot_rounds()[self.segment]
        return self.plan.scheme(segment.slot, rank).rule.left(segment.reps, self.begun)

    def next_set(self, course: Course) -> int:
        """Return the reps of the set that comes next by the plan, 0 when all is done."""
        sets = self.sets_left(course)
        return sets[0] if sets else 0

    @property
    def last_s(self) -> float:
        """Return when the last set ended, 0 before the first."""
        return max((one.at_s for one in self.done if one.at_s is not None), default=0.0)

    @property
    def asked(self) -> SetDone | None:
        """Return the broken set whose reps are still to be told, the latest if there are several."""
        return next((one for one in reversed(self.done) if one.asked), None)


def fold(course: Course, plan: Plan, taps: Iterable[Tap]) -> LaneState:
    """Return what became of a lane that began with a plan, by all its taps in whatever order they are given.

    Taps count by their time on the heat's clock, at the same time by id; one that comes twice counts once.
    """
    standing = standing_taps(taps)
    told = {tap.of: tap.reps for tap in standing if tap.kind is TapKind.REPS}
    state = LaneState(plan)
    for tap in standing:
        state = _after(course, state, tap, told)
    return state


def standing_taps(taps: Iterable[Tap]) -> list[Tap]:
    """Return the taps that are not undone in their order; an undo that is itself undone undoes nothing."""
    by_id = {tap.id: tap for tap in taps}
    order = sorted(by_id.values(), key=lambda tap: (tap.at_s, tap.id))
    undos: dict[str, list[Tap]] = {}
    for tap in order:
        if tap.kind is TapKind.UNDO:
            undos.setdefault(tap.of, []).append(tap)
    known: dict[str, bool] = {}

    def stands(tap: Tap, above: frozenset[str] = frozenset()) -> bool:
        if tap.id not in known:
            # Undos that name each other in a circle cannot come from a device; they undo nothing.
            inside = above | {tap.id}
            known[tap.id] = not any(u.id not in inside and stands(u, inside) for u in undos.get(tap.id, ()))
        return known[tap.id]

    return [tap for tap in order if tap.kind is not TapKind.UNDO and stands(tap)]


def _after(course: Course, state: LaneState, tap: Tap, told: dict[str, int]) -> LaneState:
    """Return the lane after one tap more."""
    if tap.kind is TapKind.PLAN:
        typed = typed_plan(course, state.plan, dict(enumerate(tap.texts)))
        return state if typed.errors else replace(state, plan=typed.plan, last=tap.id)
    # What is tapped before the start was a slip of the finger.
    if tap.kind in (TapKind.REPS, *ATTEMPTS) or state.finished(course) or tap.at_s < 0:
        return state
    if tap.kind is TapKind.NO_REP:
        return replace(state, no_reps=(*state.no_reps, (state.segment, tap.at_s)), last=tap.id)
    if tap.kind is TapKind.FAILED:
        return replace(state, failed=(*state.failed, (state.segment, tap.at_s)), last=tap.id)
    if tap.at_s > course.segments[state.segment].deadline_s + LATE_S:
        return state
    segment = course.segments[state.segment]
    at_s = min(tap.at_s, segment.deadline_s)
    if tap.kind is TapKind.ROUND and not segment.endless:
        return _after_round(course, state, replace(tap, at_s=at_s))
    planned = state.next_set(course)
    # A set without an end is never done: whatever is tapped, it is asked how many they were.
    endless = segment.endless and planned == state.left_of_visit(course)
    if tap.kind is TapKind.SET and not endless:
        return _with_set(course, state, SetDone(state.segment, planned, at_s, tap=tap.id))
    asked = tap.id not in told
    likely = int((at_s - state.last_s) / course.slots[segment.slot].usual_s(1)) if endless else planned - 1
    reps = max(0, min(likely, planned - 1)) if asked else min(max(0, told[tap.id]), state.left_of_visit(course))
    return _with_set(course, state, SetDone(state.segment, reps, at_s, True, asked, tap.id))


def _with_set(course: Course, state: LaneState, one: SetDone) -> LaneState:
    begun = state.begun + one.reps
    over = begun >= course.segments[state.segment].reps
    segment = state.segment + 1 if over else state.segment
    return replace(state, segment=segment, begun=0 if over else begun, done=(*state.done, one), last=one.tap)


def _after_round(course: Course, state: LaneState, tap: Tap) -> LaneState:
    """Return a lane after all sets up to the end of its round; only the last of them has a time."""
    number = course.segments[state.segment].round
    while not state.finished(course) and course.segments[state.segment].round == number:
        state = _with_set(course, state, SetDone(state.segment, state.next_set(course), None, tap=tap.id))
    *before, last = state.done
    return replace(state, done=(*before, replace(last, at_s=tap.at_s)))
