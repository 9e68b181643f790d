"""The search for a plan: coordinate descent from several starts, then the simplest of the near-equals."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from sorvek.core import batch
from sorvek.core import candidates as cand
from sorvek.core.candidates import Bench, build_menu
from sorvek.core.constants import NEAR_EQUAL_FRAC
from sorvek.core.forecast import draw_samples
from sorvek.core.plan import Plan
from sorvek.core.problem import Ints, Problem

PASSES = 4
GAIN_S = 0.05
USUAL_REST = int(np.searchsorted(cand.REST_GRID, 5.0))
# Slowing down inside a set is for steady work; sets are slowed by rest, which gives more back.
BROKEN_PACES = int(np.searchsorted(cand.PACE_GRID, 1.3)) + 1
FINALISTS = 32
KEPT_A_BATCH = 12
FINAL_SAMPLES = 16


@dataclass(frozen=True, slots=True)
class Planned:
    """A plan with what the search thinks of it: its loss in seconds and the simulations spent."""

    plan: Plan
    loss_s: float
    simulations: int


def _sets_of(bench: Bench, slot: int, rule: int) -> int:
    return int(bench.menu.length[slot, rule].max())


def _starts(bench: Bench) -> list[Ints]:
    """Return starting candidates from unbroken down to small sets, all at the usual pace."""
    n = len(bench.menu.rules)
    base = np.zeros((n, batch.N_COLUMNS), dtype=np.int64)
    base[:, batch.REST : batch.REST_LATE + 1] = USUAL_REST
    base[:, batch.CHANGE] = cand.NO_CHANGE
    starts = []
    for sets in (1, 2, 4, 100):
        x = base.copy()
        for slot, rules in enumerate(bench.menu.rules):
            counts = [_sets_of(bench, slot, r) for r in range(len(rules))]
            nearest = min(range(len(rules)), key=lambda r: (abs(counts[r] - min(sets, max(counts))), r))
            x[slot, batch.RULE : batch.RULE_LATE + 1] = nearest
        starts.append(x)
    return starts


def _grid(x: Ints, slot: int, columns: list[tuple[int, Ints]]) -> Ints:
    """Return copies of `x` with every combination of values in the given columns of one slot."""
    mesh = np.meshgrid(*(values for _, values in columns), indexing="ij")
    xs = np.repeat(x[None], mesh[0].size, axis=0)
    for (column, _), values in zip(columns, mesh, strict=True):
        xs[:, slot, column] = values.ravel()
    return xs


def _same_late(xs: Ints, slot: int) -> Ints:
    for column in (batch.RULE, batch.REST, batch.PACE, batch.WAIT):
        xs[:, slot, column + 1] = xs[:, slot, column]
    return xs


def _moves(bench: Bench, slot: int) -> list[Callable[[Ints], Ints]]:
    """Return what is tried in turn for one slot, each giving a batch of neighbours without a change of scheme."""
    n_rules = len(bench.menu.rules[slot])
    n_styles = len(bench.problem.course.slots[slot].movement.styles)
    rules, rests = np.arange(n_rules), np.arange(len(cand.REST_GRID))
    paces = np.arange(len(cand.PACE_GRID) if n_rules == 1 else BROKEN_PACES)
    grids = [[(batch.PACE, paces)], [(batch.WAIT, np.arange(len(cand.WAIT_GRID)))]]
    if n_styles > 1:
        grids.insert(0, [(batch.STYLE, np.arange(n_styles)), (batch.RULE, rules)])
    if n_rules > 1:
        grids.insert(0, [(batch.RULE, rules), (batch.REST, rests)])
    return [lambda x, grid=grid: _same_late(_grid(x, slot, grid), slot) for grid in grids]  # type: ignore[misc]


def _changes(bench: Bench, x: Ints, slot: int) -> list[Ints]:
    """Return neighbours whose late scheme differs, at most one change on the way."""
    rounds = bench.menu.rounds[slot]
    points = sorted({p for p in (1, rounds // 4, rounds // 2, 3 * rounds // 4, rounds - 1) if 0 < p < rounds})
    if not points:
        return []
    at = np.array(points)
    n_rules = len(bench.menu.rules[slot])
    batches = [_grid(x, slot, [(batch.CHANGE, at), (batch.PACE_LATE, np.arange(0, 8, 2))])]
    if n_rules > 1:
        rules, rests = np.arange(n_rules), np.arange(2, len(cand.REST_GRID), 2)
        batches.append(_grid(x, slot, [(batch.CHANGE, at), (batch.RULE_LATE, rules), (batch.REST_LATE, rests)]))
    return batches


@dataclass(frozen=True, slots=True)
class _Seen:
    """A candidate that was worth keeping."""

    loss_s: float
    failed: bool
    x: Ints


class _Search:
    """Keeps the best candidate and every one that came near it."""

    def __init__(self, bench: Bench, locked: frozenset[int]) -> None:
        self.bench, self.locked = bench, locked
        self.seen: dict[bytes, _Seen] = {}

    def best_of(self, xs: Ints) -> tuple[float, Ints]:
        losses, _, outs = self.bench.evaluate(xs)
        order = np.argsort(losses, kind="stable")[:KEPT_A_BATCH]
        for i in order:
            self.seen[xs[i].tobytes()] = _Seen(float(losses[i]), bool(outs[i, k.FAILED] > 0), xs[i].copy())
        return float(losses[order[0]]), xs[order[0]].copy()

    def descend(self, x: Ints, passes: int) -> tuple[float, Ints]:
        loss, x = self.best_of(x[None])
        for _ in range(passes):
            before = loss
            for slot in self._free():
                for move in _moves(self.bench, slot):
                    new_loss, new = self.best_of(move(x))
                    if new_loss < loss - 1e-9:
                        loss, x = new_loss, new
            if before - loss < GAIN_S:
                break
        return loss, x

    def change(self, loss: float, x: Ints) -> tuple[float, Ints]:
        for slot in self._free():
            for xs in _changes(self.bench, x, slot):
                new_loss, new = self.best_of(xs)
                if new_loss < loss - 1e-9:
                    loss, x = new_loss, new
        return loss, x

    def _free(self) -> list[int]:
        return [slot for slot in range(len(self.bench.menu.rules)) if slot not in self.locked]

    def simplest(self) -> tuple[float, Ints]:
        """Return the simplest of the candidates that uncertain days leave within the near-equal share.

        A plan with a failed rep in it is no plan: such candidates count only where there is no other.
        """
        clean = [entry for entry in self.seen.values() if not entry.failed]
        order = sorted(clean or self.seen.values(), key=lambda entry: entry.loss_s)[:FINALISTS]
        xs = np.stack([entry.x for entry in order])
        losses, values, _ = self.bench.evaluate(xs, draw_samples(self.bench.problem, FINAL_SAMPLES))
        best = int(np.argmin(losses))
        close = np.flatnonzero(losses <= losses[best] + NEAR_EQUAL_FRAC * values[best])
        i = min(close.tolist(), key=lambda i: (_complexity(self.bench, xs[i]), losses[i]))
        return float(losses[i]), xs[i]


def _complexity(bench: Bench, x: Ints) -> float:
    """Return how much there is to remember: sets, odd sizes, changes, paces, waits."""
    total = 0.0
    for slot, row in enumerate(x.tolist()):
        changed = 0 < row[batch.CHANGE] < bench.menu.rounds[slot]
        for late in (0, 1) if changed else (0,):
            rule = bench.menu.rules[slot][row[batch.RULE + late]]
            sets = bench.menu.length[slot, row[batch.RULE + late]].max()
            total += 0.3 * (min(sets, 6) - 1) + 0.3 * max(0, len(set(rule.sizes)) - 2)
            total += 0.5 * (row[batch.PACE + late] > 0) + 0.5 * (row[batch.WAIT + late] > 0)
        total += 2.0 * changed
    return total


def plan_workout(problem: Problem) -> Planned:
    """Return the recommended plan for an athlete on a course.

    The result is the same every time: there is no chance in the search.
    """
    bench = Bench(problem, build_menu(problem))
    search = _Search(bench, frozenset())
    starts = _starts(bench)
    bench.price_reps(np.stack(starts))
    ends = sorted((search.descend(x, 1) for x in starts), key=lambda end: end[0])
    ends = sorted((search.descend(x, PASSES) for _, x in ends[:2]), key=lambda end: end[0])
    search.change(*ends[0])
    loss, x = search.simplest()
    return Planned(bench.plan(x), loss, bench.simulations)
