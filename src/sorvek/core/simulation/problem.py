"""Course and athlete as the arrays the kernel eats, prepared once."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sorvek.core.athlete import Athlete, Capacity, body_figure, capacity
from sorvek.core.constants import TRANSITION_S
from sorvek.core.errors import InfeasibleError, UnsettledError
from sorvek.core.plan import Plan
from sorvek.core.simulation import columns as k
from sorvek.core.workout import Course, Form, Side, Workout, unroll

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
# Rest that goes with the reps of one whole fresh set, spread over them; judgement.
REST_PER_SET_S = 40.0
_POWER = {"work": k.POWER_WORK, "metre": k.POWER_METRE, "cal": k.POWER_CAL}


@dataclass(frozen=True, slots=True)
class Choices:
    """A plan as kernel arrays: see the column names in `kernel`."""

    ints: Ints
    floats: Floats
    sizes: Ints

    def with_rests(self, share: float) -> "Choices":
        """Return them with so many times the rest between sets, in whole seconds."""
        floats = self.floats.copy()
        floats[:, k.REST] = np.round(share * floats[:, k.REST])
        return Choices(self.ints, floats, self.sizes)


@dataclass(frozen=True, slots=True)
class Problem:
    """Everything about one athlete on one course that does not depend on the plan.

    `variants` has a row for each slot and style, `first_variant[slot]` says where a slot's rows begin.
    `typical_course` has the counted reps and the typical seconds from the start to the end of every segment, both
    (segments + 1,): a rep is taken to cost its cycle and the rest a set of that capacity needs; only ratios matter.
    """

    course: Course
    athlete: Athlete
    capacities: tuple[tuple[Capacity, ...], ...]
    seg_i: Ints
    seg_f: Floats
    variants: Floats
    unbroken: Floats
    who: Floats
    first_variant: tuple[int, ...]
    ranks: tuple[int, ...]
    typical_course: tuple[Floats, Floats]

    def lost_s(self, outs: Floats) -> Floats:
        """Return results (n, N_OUT) as seconds (n,) to be kept low.

        Finished work against the clock counts its time; missing reps count in typical seconds on top of the cap.
        """
        reps, seconds = self.typical_course
        end_s = float(self.seg_f[-1, k.DEADLINE])
        done_s = np.interp(outs[:, k.DONE], reps, seconds)
        finished = (outs[:, k.FINISHED] > 0) & (self.course.workout.form is Form.FOR_TIME)
        missing_s = (end_s if end_s < k.LONG_S else 0.0) + seconds[-1] - done_s
        lost: Floats = np.where(finished, outs[:, k.TIME], missing_s)
        return lost

    def variant_of(self, slot: int, style: str) -> int:
        """Return the row of `variants` for a slot done in a style."""
        movement = self.course.slots[slot].movement
        return self.first_variant[slot] + movement.styles.index(movement.style(style))

    def choices(self, plan: Plan, segment: int = 0, begun: int = 0) -> Choices:
        """Return a plan as kernel arrays; of the visit in which so many reps are begun only the sets that are left.

        Raises: SetsError if sets do not add up or the plan is for another course.
        """
        course = self.course
        plan.check(course)
        ints, floats = [], []
        sizes: list[int] = []
        for i, (visit, rank) in enumerate(zip(course.segments, self.ranks, strict=True)):
            scheme = plan.scheme(visit.slot, rank)
            sets = scheme.rule.left(visit.reps, begun) if i == segment and begun else scheme.rule.sets(visit.reps)
            ints.append([len(sizes), len(sets), self.variant_of(visit.slot, scheme.style)])
            floats.append([scheme.rest_s, scheme.pace, TRANSITION_S + scheme.wait_s])
            sizes.extend(sets)
        return Choices(
            np.array(ints, dtype=np.int64), np.array(floats, dtype=np.float64), np.array(sizes, dtype=np.int64)
        )


def fresh_reps(longest: Floats) -> Floats:
    """Return what a longest set counted in whole reps stands for: who does one and not two has between one and two.

    Half a rep more for one, less and less for longer sets; half a rep and more counts as one. Judgement.
    """
    whole = np.maximum(longest, 1.0)
    return np.where(longest < 0.5, 0.0, whole + 0.5 / whole)


def _weights(weights: tuple[float, ...], side: Side, sided: bool) -> list[float]:
    """Return the weights of the kernel's lanes: resources, then the left arm's own where work is one-sided."""
    none = [0.0, 0.0, 0.0]
    arms = list(weights[:3])
    right = none if side is Side.LEFT else arms
    left = none if side is Side.RIGHT or not sided else arms
    lanes = [*right, *weights[3:], *left]
    n_lanes = k.LANES if sided else -(-len(weights) // k.VECTOR) * k.VECTOR
    return (lanes + none)[:n_lanes]


def _typical_course(seg_i: Ints, variants: Floats, fresh: Floats, rows: Ints) -> tuple[Floats, Floats]:
    """Return a problem's typical course; `rows` (segments,) says in which row of `variants` each is done."""
    rest_s = np.where(variants[rows, k.STEADY] > 0, 0.0, REST_PER_SET_S / np.maximum(fresh[rows], 1.0))
    seconds = seg_i[:, k.REPS] * (variants[rows, k.CYCLE] + rest_s)
    reps = np.concatenate([[0], seg_i[:, k.COUNTED].cumsum()]).astype(np.float64)
    return reps, np.concatenate([[0.0], seconds.cumsum()])


def prepare(course: Course, athlete: Athlete) -> Problem:
    """Return the kernel arrays for an athlete on a course."""
    sided = any(slot.side is not Side.BOTH for slot in course.slots)
    rows: list[list[float]] = []
    unbroken, first, capacities = [], [], []
    for slot in course.slots:
        first.append(len(rows))
        own = tuple(capacity(athlete, slot, style) for style in slot.movement.styles)
        capacities.append(own)
        for style, able in zip(slot.movement.styles, own, strict=True):
            single_s = style.single_s * able.cycle.value / style.cycle_s
            row = [able.cycle.value, style.setup_s, single_s, float(style.steady), _POWER[able.power]]
            row += [able.coefficient, style.skill_frac, float(style.trips), style.pace_fast]
            row.append(style.no_rep_frac)
            rows.append(row + _weights(style.weights, slot.side, sided))
            unbroken.append(able.unbroken.value)
    segments = course.segments
    seg_i = np.array(
        [
            [s.reps, int(s.tiebreak), s.slot, alike, s.next_part, s.counted]
            for s, alike in zip(segments, course.alike_rounds(), strict=True)
        ],
        dtype=np.int64,
    )
    variants, fresh = np.array(rows, dtype=np.float64), fresh_reps(np.array(unbroken, dtype=np.float64))
    return Problem(
        course=course,
        athlete=athlete,
        capacities=tuple(capacities),
        seg_i=seg_i,
        seg_f=np.array([[s.rest_before_s, s.opens_s, s.deadline_s, s.cap_s] for s in segments], dtype=np.float64),
        variants=variants,
        unbroken=fresh,
        who=np.array(
            [
                body_figure(athlete, "critical_power_w").value,
                body_figure(athlete, "w_prime_j").value,
                *(1.0, 1.0, 1.0),
                0.0,  # the planned day counts every rep
            ],
            dtype=np.float64,
        ),
        first_variant=tuple(first),
        ranks=tuple(course.slot_rounds()),
        typical_course=_typical_course(seg_i, variants, fresh, np.array(first)[seg_i[:, k.SLOT]]),
    )


def problem_for(workout: Workout, athlete: Athlete) -> Problem:
    """Return the problem of an athlete on a workout, by the athlete's own division.

    Raises: InfeasibleError for a max lift alone, which has attempts and no sets; UnsettledError for doubts.
    """
    if workout.doubts:
        raise UnsettledError(workout.doubts)
    if workout.form is Form.LIFT:
        raise InfeasibleError("a max lift alone has no sets to plan; its attempts stand on Lift")
    return prepare(unroll(workout, athlete.division, athlete.sex), athlete)
