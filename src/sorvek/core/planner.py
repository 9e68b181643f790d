"""The search for a plan: many cheap beginnings, descent from the best, kicks, then the simplest near-equal.

Descent changes one or two columns of one movement at a time. From a single start it gets stuck (hanging on
to ten unbroken with failed reps where singles are far better), so it starts from a few hundred plans that
differ in set size, rest and style, and later from disturbed copies of the best. The random numbers come
from a fixed seed: the same problem gives the same plan.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from sorvek.core import candidates as cand
from sorvek.core import kernel as k
from sorvek.core.batch import (
    CHANGE,
    N_COLUMNS,
    PACE,
    PACE_LATE,
    REST,
    REST_LATE,
    RULE,
    RULE_LATE,
    STYLE,
    WAIT,
    WAIT_LATE,
)
from sorvek.core.candidates import Bench, build_menu
from sorvek.core.constants import NEAR_EQUAL_FRAC
from sorvek.core.forecast import draw_samples
from sorvek.core.plan import Plan
from sorvek.core.problem import Ints, Problem, typical_course

MAX_SIMULATIONS = 6_000
SEED = 1
BEGINNINGS = 256
DESCENTS = 5
FULL_DESCENTS = 2
PASSES = 3
GAIN_S = 0.05
FINALISTS = 32
FINAL_SAMPLES = 16
KEPT_A_BATCH = 12
# Scores count whole reps: what moves less than half of one is not worth remembering.
HALF_A_REP = 0.5
# Slowing down inside a set is for steady work; sets are slowed by rest, which gives more back.
BROKEN_PACES = int(np.searchsorted(cand.PACE_GRID, 1.3)) + 1
COARSE_RESTS = np.searchsorted(cand.REST_GRID, [2.0, 5.0, 10.0, 15.0, 25.0, 50.0])
LATE = {RULE: RULE_LATE, REST: REST_LATE, PACE: PACE_LATE, WAIT: WAIT_LATE}

Columns = list[tuple[int, Ints]]


@dataclass(frozen=True, slots=True)
class Planned:
    """A plan with what the search thinks of it: its mean loss in seconds and the simulations spent."""

    plan: Plan
    loss_s: float
    simulations: int


@dataclass(frozen=True, slots=True)
class _Seen:
    """A candidate that was worth keeping."""

    loss_s: float
    failed: bool
    x: Ints


def _domain(bench: Bench, slot: int) -> dict[int, Ints]:
    """Return the values each free column of a slot may take."""
    n_rules, rounds = len(bench.menu.rules[slot]), bench.menu.rounds[slot]
    n_styles = len(bench.problem.course.slots[slot].movement.styles)
    rules, rests = np.arange(n_rules), np.arange(len(cand.REST_GRID))
    paces = np.arange(len(cand.PACE_GRID) if n_rules == 1 else BROKEN_PACES)
    waits = np.arange(len(cand.WAIT_GRID))
    domain = {RULE: rules, REST: rests} if n_rules > 1 else {}
    domain |= {PACE: paces, WAIT: waits}
    if n_styles > 1:
        domain[STYLE] = np.arange(n_styles)
    if rounds > 1:
        points = (1, rounds // 4, rounds // 3, rounds // 2, 2 * rounds // 3, 3 * rounds // 4, rounds - 1, rounds)
        domain[CHANGE] = np.unique(np.array(points)).clip(1)
        domain |= {LATE[column]: domain[column] for column in LATE if column in domain}
    return domain


def _grid(x: Ints, slot: int, columns: Columns) -> Ints:
    """Return copies of `x` with every combination of values in the given columns of one slot."""
    mesh = np.meshgrid(*(values for _, values in columns), indexing="ij")
    xs = np.repeat(x[None], mesh[0].size, axis=0)
    for (column, _), values in zip(columns, mesh, strict=True):
        xs[:, slot, column] = values.ravel()
    return xs


def _same_late(xs: Ints, slot: int) -> Ints:
    for early, late in LATE.items():
        xs[:, slot, late] = xs[:, slot, early]
    return xs


class _Search:
    """Keeps every candidate that came near the best of its batch."""

    def __init__(self, bench: Bench) -> None:
        self.bench = bench
        self.rng = np.random.Generator(np.random.PCG64(SEED))
        self.domains = [_domain(bench, slot) for slot in range(len(bench.menu.rules))]
        self.seen: dict[bytes, _Seen] = {}

    def better(self, loss: float, x: Ints, xs: Ints) -> tuple[float, Ints]:
        """Return the best of a batch if it beats `x`, else `x`."""
        losses, _, outs = self.bench.evaluate(xs)
        order = np.argsort(losses, kind="stable")[:KEPT_A_BATCH]
        for i in order:
            self.seen[xs[i].tobytes()] = _Seen(float(losses[i]), bool(outs[i, k.FAILED] > 0), xs[i].copy())
        best = order[0]
        return (float(losses[best]), xs[best].copy()) if losses[best] < loss - 1e-9 else (loss, x)

    def beginnings(self) -> Ints:
        """Return plain plans: the same set count for every movement, then random set rules, rests and styles."""
        n = len(self.domains)
        xs = np.zeros((BEGINNINGS, n, N_COLUMNS), dtype=np.int64)
        for slot, domain in enumerate(self.domains):
            xs[:, slot, CHANGE] = self.bench.menu.rounds[slot]
            xs[:, slot, REST] = COARSE_RESTS[1]
            if RULE in domain:
                sets = self.bench.menu.length[slot, : len(domain[RULE])].max(axis=1)
                xs[:, slot, RULE] = self.rng.choice(domain[RULE], BEGINNINGS)
                xs[:, slot, REST] = self.rng.choice(COARSE_RESTS[:-1], BEGINNINGS)
                for i, wanted in enumerate((1, 2, 4, 100)):
                    xs[i, slot, RULE] = np.argmin(np.abs(sets - min(wanted, sets.max())))
                    xs[i, slot, REST] = COARSE_RESTS[1]
            if STYLE in domain:
                xs[4:, slot, STYLE] = self.rng.choice(domain[STYLE], BEGINNINGS - 4)
            _same_late(xs, slot)
        return xs

    def descend(self, loss: float, x: Ints) -> tuple[float, Ints]:
        """Go once through all movements, each with one scheme for all its rounds."""
        for slot, domain in enumerate(self.domains):
            moves: list[Columns] = []
            if RULE in domain:
                moves += [[(RULE, domain[RULE]), (REST, COARSE_RESTS)], [(REST, domain[REST])]]
            if STYLE in domain:
                moves.append([(STYLE, domain[STYLE]), (RULE, domain.get(RULE, np.zeros(1, dtype=np.int64)))])
            moves += [[(PACE, domain[PACE])], [(WAIT, domain[WAIT])]]
            for columns in moves:
                loss, x = self.better(loss, x, _same_late(_grid(x, slot, columns), slot))
        return loss, x

    def refine(self, loss: float, x: Ints) -> tuple[float, Ints]:
        """Go once through all movements that come more than once, allowing one change of scheme."""
        for slot, domain in enumerate(self.domains):
            if CHANGE not in domain:
                continue
            change = (CHANGE, domain[CHANGE])
            moves: list[Columns] = [[change, (PACE_LATE, domain[PACE_LATE][:6])]]
            if RULE in domain:
                moves += [[change, (RULE_LATE, domain[RULE])], [change, (REST_LATE, COARSE_RESTS)]]
                moves += [[(column, domain[column])] for column in (RULE, REST, REST_LATE)]
            moves += [[(column, domain[column])] for column in (PACE, WAIT, WAIT_LATE)]
            for columns in moves:
                loss, x = self.better(loss, x, _grid(x, slot, columns))
        return loss, x

    def kicks(self, loss: float, x: Ints, budget: int) -> tuple[float, Ints]:
        """Disturb the best plan in two or three places and go down again, until the budget is spent."""
        columns = [(slot, column) for slot, domain in enumerate(self.domains) for column in domain]
        while self.bench.simulations < budget:
            y = x.copy()
            for _ in range(int(self.rng.integers(2, 4))):
                slot, column = columns[self.rng.integers(len(columns))]
                y[slot, column] = self.rng.choice(self.domains[slot][column])
            y_loss, y = self.better(np.inf, y, y[None])
            for i in self.rng.permutation(len(columns)):
                slot, column = columns[i]
                y_loss, y = self.better(y_loss, y, _grid(y, slot, [(column, self.domains[slot][column])]))
            if y_loss < loss - 1e-9:
                loss, x = y_loss, y
        return loss, x

    def simplest(self) -> tuple[float, Ints]:
        """Return the simplest of the candidates that uncertain days leave within the near-equal share.

        A plan with a failed rep in it is no plan: such candidates count only where there is no other.
        """
        clean = [entry for entry in self.seen.values() if not entry.failed]
        # Many candidates differ only in columns that play no part; equal losses give them away.
        different = {round(entry.loss_s, 6): entry for entry in clean or self.seen.values()}
        order = [different[loss] for loss in sorted(different)[:FINALISTS]]
        xs = np.stack([entry.x for entry in order])
        losses, values, _ = self.bench.evaluate(xs, draw_samples(self.bench.problem, FINAL_SAMPLES))
        best = int(np.argmin(losses))
        limit = losses[best] + max(NEAR_EQUAL_FRAC * values[best], HALF_A_REP * self._rep_s(xs[best]))
        i = min(np.flatnonzero(losses <= limit).tolist(), key=lambda i: (_complexity(self.bench, xs[i]), losses[i]))
        return self._pruned(float(losses[i]), xs[i], float(limit))

    def _rep_s(self, x: Ints) -> float:
        """Return the typical seconds of the rep at which unfinished work ends; 0 for finished work."""
        out = self.bench.evaluate(x[None])[2][0]
        reps, seconds = typical_course(self.bench.problem)
        if out[k.FINISHED] > 0:
            return 0.0
        at = min(int(np.searchsorted(reps, out[k.DONE], side="right")), len(reps) - 1)
        return float((seconds[at] - seconds[at - 1]) / (reps[at] - reps[at - 1]))

    def _pruned(self, loss: float, x: Ints, limit: float) -> tuple[float, Ints]:
        """Leave out one thing to remember after the other while the mean loss stays within `limit`."""
        samples = draw_samples(self.bench.problem, FINAL_SAMPLES)
        while True:
            xs = self._simpler(x)
            if not len(xs):
                return loss, x
            losses, _, outs = self.bench.evaluate(xs, samples)
            clean = outs[:, k.FAILED] <= self.bench.evaluate(x[None])[2][0, k.FAILED]
            good = np.flatnonzero((losses <= limit) & clean).tolist()
            if not good:
                return loss, x
            i = min(good, key=lambda i: (_complexity(self.bench, xs[i]), losses[i]))
            loss, x = float(losses[i]), xs[i]

    def _simpler(self, x: Ints) -> Ints:
        """Return the neighbours of `x` with less to remember."""
        xs = []
        for slot, domain in enumerate(self.domains):
            moves: list[Columns] = [[(PACE, np.zeros(1, dtype=np.int64))], [(WAIT, np.zeros(1, dtype=np.int64))]]
            if RULE in domain:
                moves += [[(RULE, domain[RULE])], [(REST, domain[REST])]]
            for columns in moves:
                xs += list(_grid(x, slot, columns))
                xs += list(_same_late(_grid(x, slot, columns), slot))
            swapped = x[None].copy()
            for early, late in LATE.items():
                swapped[:, slot, early] = swapped[:, slot, late]
            xs.append(swapped[0])
        limit = _complexity(self.bench, x) - 1e-9
        return (
            np.stack(kept) if (kept := [y for y in xs if _complexity(self.bench, y) < limit]) else np.stack(xs)[:0]
        )


def _repeat(one_pass: Callable[[float, Ints], tuple[float, Ints]], loss: float, x: Ints) -> tuple[float, Ints]:
    """Repeat a pass until one gains nothing worth having."""
    for _ in range(PASSES):
        before = loss
        loss, x = one_pass(loss, x)
        if before - loss < GAIN_S:
            break
    return loss, x


def _complexity(bench: Bench, x: Ints) -> float:
    """Return how much there is to remember: sets, odd sizes, changes, paces, waits."""
    total = 0.0
    for slot, row in enumerate(x.tolist()):
        changed = 0 < row[CHANGE] < bench.menu.rounds[slot] and any(row[i] != row[j] for i, j in LATE.items())
        for late in (0, 1) if changed else (0,):
            rule = bench.menu.rules[slot][row[RULE + late]]
            sets = bench.menu.length[slot, row[RULE + late]].max()
            total += 0.3 * (min(sets, 6) - 1) + 0.3 * max(0, len(set(rule.sizes)) - 2)
            total += 1.0 * (row[PACE + late] > 0) + 1.0 * (row[WAIT + late] > 0)
        total += 2.0 * changed
    return total


def search_plan(bench: Bench, max_simulations: int = MAX_SIMULATIONS) -> _Search:
    """Return a finished search over the candidates of a bench."""
    search = _Search(bench)
    xs = search.beginnings()
    losses, _, _ = bench.evaluate(xs)
    order = np.argsort(losses, kind="stable")[:DESCENTS]
    ends = [search.descend(float(losses[i]), xs[i]) for i in order]
    ends = [_repeat(search.descend, *end) for end in sorted(ends, key=lambda end: end[0])[:FULL_DESCENTS]]
    loss, x = _repeat(search.refine, *min(ends, key=lambda end: end[0]))
    search.kicks(loss, x, max_simulations)
    return search


def plan_workout(problem: Problem, max_simulations: int = MAX_SIMULATIONS) -> Planned:
    """Return the recommended plan for an athlete on a course.

    The budget is counted in simulations, not seconds: the same problem gives the same plan anywhere.
    """
    bench = Bench(problem, build_menu(problem))
    loss, x = search_plan(bench, max_simulations).simplest()
    return Planned(bench.plan(x), loss, bench.simulations)
