"""The plans the search may choose from, and their compiled evaluation in batches.

A candidate is a row of small integers for every slot (columns in `batch`): indices into the grids here and
into the slot's table of set rules. Early and late values differ only behind the slot's change of scheme.
"""

from dataclasses import dataclass

import numpy as np
from numpy.random import Generator

from sorvek.core.plan import UNBROKEN, Phase, Plan, Scheme, SetRule
from sorvek.core.planner.batch import CHANGE, PACE, REST, RULE, STYLE, WAIT, evaluate, loss_s
from sorvek.core.planner.breeding import breed
from sorvek.core.planner.set_rules import School, set_rules
from sorvek.core.simulation import Floats, Ints, Problem, draw_samples, run_samples
from sorvek.core.simulation import columns as k
from sorvek.core.workout import Form

REST_GRID = np.array([0.0, 1.0, 2.0, 3.0, 4.0, 5.0, 6.0, 8.0, 10.0, 12.0, 15.0, 20.0, 25.0, 35.0, 50.0])
LEAST_REST_S = 2.0
# Prices in the objective: seconds for a rep short of the margin, and the share of the whole score for a failed rep;
# on the planned (nominal) day, then on each of the other days; judgement. What a failed rep costs is simulated; its
# price on each other day buys breaks that are chosen: at 1.2 % of that day the mean falls by 0.2 %, and movements
# that break on a third of days become half as many (docs/model.md). The
# margin stands for what the model does not know, and its price rises evenly towards the failed rep where the score
# falls off a cliff. A plan that fails as written is hardly a plan, so that to avoid a failed rep may cost so much
# of the score; not more: who has one rep of what comes next should get there and try, not dawdle before it.
PRICES = np.array([[3.0, 0.1, 2.0], [3.0, 0.012, 2.0]])
# A pace is counted in steps from the usual one; those below 0 are faster.
PACE_GRID = np.array([0.85, 0.9, 0.95, 1.0, 1.05, 1.1, 1.15, 1.2, 1.3, 1.4, 1.5, 1.75, 2.0])
USUAL_PACE = 3
WAIT_GRID = np.array([0.0, 3.0, 6.0, 10.0, 15.0, 25.0])
Samples = tuple[Floats, Floats]


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


def build_menu(problem: Problem, school: School | None = None) -> Menu:
    """Return the menu for a problem: all set rules, but where `school` has a say only its own."""
    course = problem.course
    counts = [sorted({s.reps for s in course.segments_of(i)}) for i in range(len(course.slots))]
    told = school.slots_of(problem) if school else ()
    rules = []
    for slot in range(len(course.slots)):
        steady = problem.variants[problem.first_variant[slot], k.STEADY] > 0
        allowed = school.rules if school and slot in told else set_rules
        rules.append((UNBROKEN,) if steady else allowed([s.reps for s in course.segments_of(slot)]))
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


def _goal(problem: Problem) -> tuple[Floats, Floats, bool, float]:
    """Return what a result is measured by: the course in reps and typical seconds, if it has no end, its cap."""
    deadline = float(problem.seg_f[-1, k.DEADLINE])
    open_ended = problem.course.open_ended or problem.course.workout.form is not Form.FOR_TIME
    return *problem.typical_course, open_ended, deadline if deadline < k.LONG_S else 0.0


def daily_losses(problem: Problem, plan: Plan) -> Floats:
    """Return what 400 likely days lose by a plan (days,), in the seconds plans are weighed in, without prices."""
    outs = run_samples(problem, problem.choices(plan), *draw_samples(problem))
    goal, free = _goal(problem), np.zeros(PRICES.shape[1])
    return np.array([loss_s(out, *goal, free)[0] for out in outs])


def _round_at(problem: Problem, menu: Menu) -> Ints:
    """Return in which round of the work (slots, most rounds + 1) a slot's rounds from 1 end, -1 for the last."""
    table = np.full((len(menu.rounds), max(menu.rounds) + 1), -1, dtype=np.int64)
    for segment, rank in zip(problem.course.segments, problem.ranks, strict=True):
        if rank < menu.rounds[segment.slot]:
            table[segment.slot, rank] = segment.round
    return table


class Bench:
    """Evaluates candidates of one problem, counting simulations.

    `kept` holds the phases of slots a coach has locked: candidates say nothing about those. `prices` (2, 3)
    holds what `PRICES` does. `weights` say how much each day counts, None before they are known: all the same.
    """

    def __init__(
        self,
        problem: Problem,
        menu: Menu,
        kept: dict[int, tuple[Phase, ...]] | None = None,
        prices: Floats = PRICES,
    ) -> None:
        self.problem, self.menu, self.kept, self.prices = problem, menu, kept or {}, prices
        self.simulations = 0
        self.weights: Floats | None = None
        plain = ((Phase(None, Scheme()),),) * len(menu.rules)
        fixed = problem.choices(Plan(tuple(self.kept.get(slot, plain[slot]) for slot in range(len(plain)))))
        # What is locked is written once; its set sizes lie behind those of the menu.
        self._ints, self._floats = fixed.ints.copy(), fixed.floats.copy()
        self._ints[:, k.FIRST_SIZE] += len(menu.sizes)
        self._tables = (
            menu.ranks,
            menu.seg_count,
            menu.first,
            menu.length,
            np.concatenate([menu.sizes, fixed.sizes]),
            np.array(problem.first_variant, dtype=np.int64),
            menu.least_rest_s,
            np.array([slot in self.kept for slot in range(len(plain))]),
            _round_at(problem, menu),
        )
        self._arrays = (problem.seg_i, problem.seg_f, problem.variants)
        self._grids = (REST_GRID, PACE_GRID, WAIT_GRID, USUAL_PACE)
        self._goal = _goal(problem)
        self.nominal = (problem.unbroken[None, :], problem.who[None, :])

    def evaluate(
        self, xs: Ints, samples: Samples | None = None, par: Floats | None = None
    ) -> tuple[Floats, Floats, Floats]:
        """Return losses (n,), their sizes (n,) and first results (n, N_OUT) of candidates (n, slots, columns).

        With `par`, a sum of losses (samples,) not to be passed, candidates that pass it get an infinite loss.
        """
        return self._evaluated(xs, samples, par)[:3]

    def each_sample(self, x: Ints, samples: Samples) -> tuple[Floats, float]:
        """Return one candidate's loss on every sample (samples,) and the mean size of its score."""
        _, values, _, daily = self._evaluated(x[None], samples, None)
        return daily[0], float(values[0])

    def _daily_weights(self, days: int) -> Floats:
        return self.weights if self.weights is not None and len(self.weights) == days else np.ones(days)

    def _daily_prices(self, days: int) -> Floats:
        """Return the prices of every day (days, 3) such that the planned day's share stands in their mean."""
        daily = self.prices[[0] + [1] * (days - 1)]
        daily[0, 1] *= days
        return daily

    def _evaluated(
        self, xs: Ints, samples: Samples | None, par: Floats | None
    ) -> tuple[Floats, Floats, Floats, Floats]:
        us, whos = samples or self.nominal
        n = len(xs)
        daily = np.full((n, len(us)), np.inf)
        losses, values, outs = np.empty(n), np.empty(n), np.empty((n, k.N_OUT))
        self.simulations += evaluate(
            xs,
            self._tables,
            self._arrays,
            self._grids,
            (us, whos),
            self._goal,
            self._daily_prices(len(us)),
            self._daily_weights(len(us)),
            np.full(len(us), np.inf) if par is None else par,
            self._ints,
            self._floats,
            losses,
            values,
            outs,
            daily,
        )
        return losses, values, outs, daily

    def breed(
        self, xs: Ints, moves: Ints, budget: int, slack_s: float, rng: Generator, days: Samples
    ) -> tuple[Ints, Floats]:
        """Return a population bred from `xs` (n, slots, columns) and its mean losses; each is no worse than it was.

        `budget` counts simulations; a child is given up once it is `slack_s` behind its parent.
        """
        pop, daily = xs.copy(), np.full((len(xs), len(days[0])), np.inf)
        setting = (
            self._tables,
            self._arrays,
            self._grids,
            days,
            self._goal,
            self._daily_prices(len(days[0])),
            self._daily_weights(len(days[0])),
            self._ints,
            self._floats,
        )
        self.simulations += breed(pop, daily, moves, budget, slack_s, rng, *setting)
        return pop, daily.mean(axis=1)

    def _scheme(self, slot: int, row: list[int], late: int, style: str) -> Scheme:
        rule = self.menu.rules[slot][row[RULE + late]]
        rest_s = max(float(REST_GRID[row[REST + late]]), float(self.menu.least_rest_s[slot, row[RULE + late]]))
        if rule == UNBROKEN:
            rest_s = Scheme().rest_s  # plays no part, so that it must not make two schemes differ
        return Scheme(
            rule, rest_s, float(PACE_GRID[USUAL_PACE + row[PACE + late]]), style, float(WAIT_GRID[row[WAIT + late]])
        )

    def plan(self, x: Ints) -> Plan:
        """Return a candidate as a plan."""
        slots: list[tuple[Phase, ...]] = []
        for slot, row in enumerate(x.tolist()):
            if slot in self.kept:
                slots.append(self.kept[slot])
                continue
            # The usual style goes without saying.
            style = self.problem.course.slots[slot].movement.styles[row[STYLE]].name if row[STYLE] else ""
            early, late = (self._scheme(slot, row, i, style) for i in (0, 1))
            if 0 < row[CHANGE] < self.menu.rounds[slot] and early != late:
                slots.append((Phase(row[CHANGE], early), Phase(None, late)))
            else:
                slots.append((Phase(None, early),))
        return Plan(tuple(slots))
