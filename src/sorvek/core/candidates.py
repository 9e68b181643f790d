"""The plans the search may choose from, and their compiled evaluation in batches.

A candidate is a row of small integers for every slot (columns in `batch`): indices into the grids here and
into the slot's table of set rules. Early and late values differ only behind the slot's change of scheme.
"""

from dataclasses import dataclass

import numpy as np

from sorvek.core import kernel as k
from sorvek.core.batch import CHANGE, PACE, REST, RULE, STYLE, WAIT, evaluate
from sorvek.core.plan import UNBROKEN, Phase, Plan, Scheme, SetRule
from sorvek.core.problem import Floats, Ints, Problem, typical_course
from sorvek.core.workout import Form

NO_CHANGE = 1_000_000

REST_GRID = np.array([0.0, 1.0, 2.0, 3.0, 4.0, 5.0, 6.0, 8.0, 10.0, 12.0, 15.0, 20.0, 25.0, 35.0, 50.0])
LEAST_REST_S = 2.0
# Prices in the objective, in seconds; judgement: the simulation already charges the time that a failed
# rep or a missing margin costs, the price stands for what one nominal run does not see. Where many
# uncertain days are simulated they show most of it themselves.
NOMINAL_PRICES_S = (1.0, 15.0)
SAMPLED_PRICES_S = (0.2, 3.0)
PACE_GRID = np.array([1.0, 1.05, 1.1, 1.15, 1.2, 1.3, 1.4, 1.5, 1.75, 2.0])
WAIT_GRID = np.array([0.0, 3.0, 6.0, 10.0, 15.0, 25.0])


@dataclass(frozen=True, slots=True)
class Menu:
    """The set rules of every slot and the tables the compiled expansion reads.

    `first` and `length` (slot, rule, count) point into `sizes`; `seg_count` says which count a segment has,
    `least_rest_s` (slot, rule) the shortest rest that makes sense: 0 only where a bar is dropped and reset.
    """

    rules: tuple[tuple[SetRule, ...], ...]
    first: Ints
    length: Ints
    sizes: Ints
    seg_count: Ints
    least_rest_s: Floats
    ranks: Ints
    rounds: tuple[int, ...]


def _descending(count: int, sets: int) -> SetRule | None:
    """Return a staircase of `sets` falling sets that adds up to `count`, None where none fits."""
    base = count - sets * (sets - 1) // 2
    smallest, extra = divmod(base, sets)
    if smallest < 1:
        return None
    return SetRule(tuple(smallest + sets - 1 - i + (1 if i < extra else 0) for i in range(sets)))


def even_rule(count: int, sets: int) -> SetRule:
    """Return `sets` sets as even as whole reps allow, larger ones first, in the form a coach would say."""
    small, larger = divmod(count, sets)
    if sets >= count or sets == 1:
        return SetRule(then=1) if sets > 1 else UNBROKEN
    if small == 1:
        return SetRule((2,) * larger, 1)
    if sets > 4 and -(-count // -(-count // sets)) == sets:
        return SetRule(then=-(-count // sets))
    return SetRule((small + 1,) * larger + (small,) * (sets - larger))


def set_rules(counts: list[int]) -> tuple[SetRule, ...]:
    """Return the set rules worth trying for a slot with these counts, unbroken first, singles last."""
    most = max(counts)
    if len(set(counts)) > 1:
        sizes = sorted({-(-most // sets) for sets in range(2, 13)} | {2, 3, 4, 5}, reverse=True)
        return (UNBROKEN, *(SetRule(then=size) for size in sizes if 1 < size < most), SetRule(then=1))
    even = [even_rule(most, sets) for sets in (1, 2, 3, 4, 5, 6, 7, 8, 10, 12, 15) if sets < most]
    big = [
        SetRule((first, most - first)) for first in {round(most * s) for s in (0.6, 0.7, 0.8)} if 0 < first < most
    ]
    stairs = [rule for sets in (3, 4, 5, 6) if (rule := _descending(most, sets)) and most >= 6]
    unique = dict.fromkeys([*even, *big, *stairs, SetRule(then=1)])
    return tuple(unique) if most > 1 else (UNBROKEN,)


def build_menu(problem: Problem, extra: dict[int, tuple[SetRule, ...]] | None = None) -> Menu:
    """Return the menu for a problem; `extra` adds rules for some slots."""
    course = problem.course
    counts = [sorted({s.reps for s in course.segments_of(i)}) for i in range(len(course.slots))]
    rules = []
    for slot in range(len(course.slots)):
        steady = problem.variants[problem.first_variant[slot], k.STEADY] > 0
        own = (UNBROKEN,) if steady else set_rules([s.reps for s in course.segments_of(slot)])
        rules.append(tuple(dict.fromkeys([*own, *(extra or {}).get(slot, ())])))
    shape = (len(rules), max(map(len, rules)), max(map(len, counts)))
    first, length = np.zeros(shape, dtype=np.int64), np.zeros(shape, dtype=np.int64)
    least_rest_s = np.full(shape[:2], LEAST_REST_S)
    sizes: list[int] = []
    for slot, own in enumerate(rules):
        drops = problem.variants[problem.first_variant[slot], k.SINGLE] > 0
        for r, rule in enumerate(own):
            if drops and rule == SetRule(then=1):
                least_rest_s[slot, r] = 0.0
            for c, count in enumerate(counts[slot]):
                sets = rule.sets(count)
                first[slot, r, c], length[slot, r, c] = len(sizes), len(sets)
                sizes.extend(sets)
    ranks = np.array(problem.ranks, dtype=np.int64)
    return Menu(
        rules=tuple(rules),
        first=first,
        length=length,
        sizes=np.array(sizes, dtype=np.int64),
        seg_count=np.array([counts[s.slot].index(s.reps) for s in course.segments], dtype=np.int64),
        least_rest_s=least_rest_s,
        ranks=ranks,
        rounds=tuple(int(ranks[problem.seg_i[:, k.SLOT] == i].max()) for i in range(len(rules))),
    )


class Bench:
    """Evaluates candidates of one problem, counting simulations; holds the scratch the kernel needs."""

    def __init__(self, problem: Problem, menu: Menu) -> None:
        self.problem, self.menu = problem, menu
        self.simulations = 0
        n_seg = len(problem.course.segments)
        deadline = float(problem.seg_f[-1, k.DEADLINE])
        self._tables = (
            menu.ranks,
            menu.seg_count,
            menu.first,
            menu.length,
            menu.sizes,
            np.array(problem.first_variant, dtype=np.int64),
            menu.least_rest_s,
        )
        self._arrays = (problem.seg_i, problem.seg_f, problem.variants)
        self._grids = (REST_GRID, PACE_GRID, WAIT_GRID)
        open_ended = problem.course.open_ended
        end_s = deadline if deadline < k.LONG_S else 0.0
        timed = problem.course.workout.form is Form.FOR_TIME
        course_reps, course_s = typical_course(problem)
        self._goal = (course_reps, course_s, open_ended or not timed, end_s)
        self._scratch = np.zeros((k.SCRATCH_ROWS, problem.n_resources))
        self._ints = np.zeros((n_seg, 3), dtype=np.int64)
        self._floats = np.zeros((n_seg, 3))
        self.nominal = (problem.unbroken[None, :], problem.who[None, :])

    def evaluate(self, xs: Ints, samples: tuple[Floats, Floats] | None = None) -> tuple[Floats, Floats, Floats]:
        """Return losses (n,), their sizes (n,) and nominal results (n, 10) of candidates (n, slots, columns)."""
        us, whos = samples or self.nominal
        n = len(xs)
        self.simulations += n * len(us)
        losses, values, outs = np.empty(n), np.empty(n), np.empty((n, k.N_OUT))
        evaluate(
            xs,
            self._tables,
            self._arrays,
            self._grids,
            (us, whos),
            self._goal,
            SAMPLED_PRICES_S if samples else NOMINAL_PRICES_S,
            self._scratch,
            self._ints,
            self._floats,
            losses,
            values,
            outs,
        )
        return losses, values, outs

    def _scheme(self, slot: int, row: list[int], late: int, style: str) -> Scheme:
        rule = self.menu.rules[slot][row[RULE + late]]
        rest_s = max(float(REST_GRID[row[REST + late]]), float(self.menu.least_rest_s[slot, row[RULE + late]]))
        if rule == UNBROKEN:
            rest_s = Scheme().rest_s  # plays no part, so that it must not make two schemes differ
        return Scheme(rule, rest_s, float(PACE_GRID[row[PACE + late]]), style, float(WAIT_GRID[row[WAIT + late]]))

    def plan(self, x: Ints) -> Plan:
        """Return a candidate as a plan."""
        slots: list[tuple[Phase, ...]] = []
        for slot, row in enumerate(x.tolist()):
            # The usual style goes without saying.
            style = self.problem.course.slots[slot].movement.styles[row[STYLE]].name if row[STYLE] else ""
            early, late = (self._scheme(slot, row, i, style) for i in (0, 1))
            if 0 < row[CHANGE] < self.menu.rounds[slot] and early != late:
                slots.append((Phase(row[CHANGE], early), Phase(None, late)))
            else:
                slots.append((Phase(None, early),))
        return Plan(tuple(slots))
