"""The search for a plan: many cheap beginnings, annealing from unlike ones, mixing, annealing over likely days.

The landscape is rugged: descent alone gets stuck hanging on to ten unbroken with failed reps where singles are
far better. What counts is the mean over uncertain days: the best plan for the nominal day alone fits that day so
tightly that it loses up to a tenth on others. The random numbers come from a fixed seed: the same problem gives
the same plan.
"""

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
from sorvek.core.plan import Phase, Plan
from sorvek.core.problem import Floats, Ints, Problem, typical_course
from sorvek.core.set_rules import School, school_rules, set_rules

SEED = 1
BEGINNINGS = 192
# Walks of the annealing: several short hot ones on the nominal day from unlike beginnings, then a cooler one
# from the best mixture over all days. Heats are shares of the loss; the third says how far behind a candidate
# may be before it is given up with days still to come. Tried on the demo week's workouts and four tiers
# against differential evolution with twenty times the simulations, with three seeds.
WALKS, WALK_STEPS, WALK_HEAT = 6, 240, (0.03, 0.002, 0.0)
LAST_STEPS, LAST_HEAT = 250, (0.006, 0.0003, 0.003)
# Then one movement at a time is planned anew, hot, while all others stay: two things must often change together.
MORE_FRAC, ROUND_STEPS, ROUND_HEAT = 1.5, 180, (0.05, 0.001, 0.02)
# Neighbours of a descent that are tried on all days: the best on the nominal one.
SCREENED = 8
# How far behind a neighbour may fall on the first days before it is given up.
BEHIND_FRAC = 0.04
# With so few movements a descent is cheap, so that every walk gets its own.
FEW_SLOTS = 2
USUAL_REPS, LEAST_PATIENCE, MOST_PATIENCE = 200, 0.5, 3.0
ELIGIBLE = 60
MIXTURES = 60
FINALISTS = 32
DAYS = 8
# Scores count whole reps: what moves less than half of one is not worth remembering.
HALF_A_REP = 0.5
# Slowing down inside a set is for steady work; sets are slowed by rest, which gives more back.
BROKEN_PACES = int(np.searchsorted(cand.PACE_GRID, 1.3)) + 1
COARSE_RESTS = np.searchsorted(cand.REST_GRID, [0.0, 2.0, 5.0, 10.0, 15.0, 25.0, 50.0])
LATE = {RULE: RULE_LATE, REST: REST_LATE, PACE: PACE_LATE, WAIT: WAIT_LATE}

Columns = list[tuple[int, Ints]]
Heat = tuple[float, float, float]


@dataclass(frozen=True, slots=True)
class Planned:
    """A plan with what the search thinks of it: its mean loss in seconds and the simulations spent."""

    plan: Plan
    loss_s: float
    simulations: int


def likely_days(problem: Problem) -> tuple[Floats, Floats]:
    """Return the days a plan is weighed on: the nominal one first, then uncertain ones."""
    us, whos = draw_samples(problem, DAYS)
    us[0], whos[0] = problem.unbroken, problem.who
    return us, whos


def _largest_sets(bench: Bench, slot: int) -> Ints:
    """Return the largest set of every rule on a slot's menu."""
    menu = bench.menu
    rows = []
    for rule in range(len(menu.rules[slot])):
        spans = zip(menu.first[slot, rule], menu.length[slot, rule], strict=True)
        rows.append(max(int(menu.sizes[first : first + length].max()) for first, length in spans if length))
    return np.array(rows)


def _domain(bench: Bench, slot: int) -> dict[int, Ints]:
    """Return the values each free column of a slot may take; nothing is free where a coach has locked it."""
    if slot in bench.kept:
        return {}
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


class Search:
    """A search in progress; keeps every candidate weighed over all days with its mean loss."""

    def __init__(self, bench: Bench) -> None:
        self.bench = bench
        self.rng = np.random.Generator(np.random.PCG64(SEED))
        self.domains = [_domain(bench, slot) for slot in range(len(bench.menu.rules))]
        self.days = likely_days(bench.problem)
        self.rule_complexity = _rule_complexity(bench)
        self.seen: dict[bytes, tuple[float, Ints]] = {}
        self.known_days: dict[bytes, tuple[Floats, float]] = {}

    def complexity(self, xs: Ints) -> Floats:
        """Return how much there is to remember in candidates (..., slots, columns): sets, changes, paces, waits."""
        slots = np.arange(xs.shape[-2])
        changed = (xs[..., CHANGE] > 0) & (xs[..., CHANGE] < np.array(self.bench.menu.rounds))
        changed &= np.any([xs[..., early] != xs[..., late] for early, late in LATE.items()], axis=0)
        early, late = (
            self.rule_complexity[slots, xs[..., RULE + i]]
            + 1.0 * (xs[..., PACE + i] > 0)
            + 1.0 * (xs[..., WAIT + i] > 0)
            for i in (0, 1)
        )
        total: Floats = (early + changed * (late + 2.0)).sum(axis=-1).round(6)
        return total

    @property
    def best(self) -> tuple[float, Ints]:
        """Return the lowest mean loss seen, and its candidate."""
        return min(self.seen.values(), key=lambda entry: entry[0])

    def remember(self, xs: Ints, losses: Floats) -> None:
        """Keep candidates weighed over all days."""
        self.seen |= {x.tobytes(): (loss, x) for x, loss in zip(xs, losses.tolist(), strict=True)}

    def weigh(self, xs: Ints) -> None:
        """Simulate candidates on all days and keep them."""
        self.remember(xs, self.bench.evaluate(xs, self.days)[0])

    def beginnings(self) -> Ints:
        """Return plain plans: the same set count for every movement, then random set rules, rests and styles."""
        n = len(self.domains)
        xs = np.zeros((BEGINNINGS, n, N_COLUMNS), dtype=np.int64)
        shares = self.rng.uniform(0.2, 0.9, BEGINNINGS)
        first_variant = self.bench.problem.first_variant
        for slot, domain in enumerate(self.domains):
            xs[:, slot, CHANGE] = self.bench.menu.rounds[slot]
            xs[:, slot, REST] = COARSE_RESTS[2]
            if RULE in domain:
                sets = self.bench.menu.length[slot, : len(domain[RULE])].max(axis=1)
                xs[:, slot, RULE] = self.rng.choice(domain[RULE], BEGINNINGS)
                xs[:, slot, REST] = self.rng.choice(COARSE_RESTS[:-1], BEGINNINGS)
                for i, wanted in enumerate((1, 2, 4, 100)):
                    xs[i, slot, RULE] = np.argmin(np.abs(sets - min(wanted, sets.max())))
                    xs[i, slot, REST] = COARSE_RESTS[2]
                # Every other beginning sizes its sets by what this athlete has: one share of it for all movements.
                largest = _largest_sets(self.bench, slot)
                for i in range(5, BEGINNINGS, 2):
                    wanted = max(1.0, shares[i] * float(self.bench.problem.unbroken[first_variant[slot]]))
                    xs[i, slot, RULE] = np.argmin(np.abs(largest - wanted))
            if STYLE in domain:
                xs[4:, slot, STYLE] = self.rng.choice(domain[STYLE], BEGINNINGS - 4)
            _same_late(xs, slot)
        return xs

    def walk(self, x: Ints, steps: int, heat_frac: Heat, everyday: bool, only: int | None = None) -> Ints:
        """Return the best candidate of an annealing from `x`, over all days or on the nominal one alone.

        With `only`, nothing but that slot is changed.
        """
        moves = [
            (slot, column, values.min(), values.max())
            for slot, domain in enumerate(self.domains)
            for column, values in domain.items()
            if only in (None, slot)
        ]
        size = float(self.bench.evaluate(x[None])[1][0])
        first, last, behind = (size * frac for frac in heat_frac)
        days = self.days if everyday else None
        xs, losses = self.bench.anneal(
            x, np.array(moves, dtype=np.int64), steps, (first, last, behind), self.rng, days
        )
        if everyday:
            self.remember(xs, losses)
        best: Ints = xs[0]
        return best

    def rework(self, steps: int) -> None:
        """Plan one movement after the other anew in the best plan, until a whole round wins nothing."""
        most = MORE_FRAC * self.bench.simulations
        while self.bench.simulations < most:
            before, _ = self.best
            for slot, domain in enumerate(self.domains):
                if domain:
                    self.walk(self.best[1], steps, ROUND_HEAT, True, slot)
            if self.best[0] >= before:
                break

    def beat(self, x: Ints, xs: Ints) -> Ints:
        """Return the best of some neighbours of `x` over all days, or `x` itself."""
        key = x.tobytes()
        if key not in self.known_days:
            own, size = self.bench.each_sample(x, self.days)
            self.known_days = {key: (own, BEHIND_FRAC * size)}
        own, slack_s = self.known_days[key]
        if len(xs) > SCREENED:
            xs = xs[np.argsort(self.bench.evaluate(xs)[0], kind="stable")[:SCREENED]]
        losses = self.bench.evaluate(xs, self.days, own.cumsum() + slack_s)[0]
        better = np.flatnonzero(losses < own.mean() + slack_s)
        self.remember(xs[better], losses[better])
        best = int(np.argmin(losses))
        return xs[best] if losses[best] < own.mean() else x

    def descend(self, x: Ints) -> Ints:
        """Go once through all movements with one scheme each; where they are few, then with a change."""
        for slot, domain in enumerate(self.domains):
            for columns in self._moves(domain):
                x = self.beat(x, _same_late(_grid(x, slot, columns), slot))
        for slot, domain in enumerate(self.domains):
            if CHANGE in domain and len(self.domains) <= FEW_SLOTS:
                for columns in self._changes(domain):
                    x = self.beat(x, _grid(x, slot, columns))
        return x

    def _moves(self, domain: dict[int, Ints]) -> list[Columns]:
        moves: list[Columns] = []
        if RULE in domain:
            moves += [[(RULE, domain[RULE]), (REST, COARSE_RESTS)], [(REST, domain[REST])]]
        if STYLE in domain:
            moves.append([(STYLE, domain[STYLE]), (RULE, domain.get(RULE, np.zeros(1, dtype=np.int64)))])
        return moves + [[(column, domain[column])] for column in (PACE, WAIT) if column in domain]

    def _changes(self, domain: dict[int, Ints]) -> list[Columns]:
        change = (CHANGE, domain[CHANGE])
        moves: list[Columns] = [[change, (PACE_LATE, domain[PACE_LATE][:6])]]
        if RULE in domain:
            moves += [[change, (RULE_LATE, domain[RULE])], [change, (REST_LATE, COARSE_RESTS)]]
        return moves

    def mixed(self, parents: list[Ints]) -> Ints:
        """Return candidates that take every movement from one of the parents at random."""
        pick = self.rng.integers(0, len(parents), (MIXTURES, len(self.domains)))
        return np.stack(parents)[pick, np.arange(len(self.domains))]

    def different(self, xs: Ints, losses: Floats, count: int) -> list[Ints]:
        """Return the best candidate and good ones that break at least half the movements differently."""
        chosen: list[Ints] = []
        for i in np.argsort(losses, kind="stable")[:ELIGIBLE]:
            unlike = min((int((xs[i][:, RULE] != y[:, RULE]).sum()) for y in chosen), default=len(self.domains))
            if unlike >= max(1, len(self.domains) // 2):
                chosen.append(xs[i])
            if len(chosen) == count:
                break
        return chosen

    def finalists(self) -> Ints:
        """Return the best candidates that fail no rep on the nominal day, the best first; none if all fail.

        Many candidates differ only in columns that play no part; equal losses give them away.
        """
        xs = [x for _, x in self.seen.values()]
        _, order = np.unique(np.array([loss for loss, _ in self.seen.values()]).round(6), return_index=True)
        found: list[Ints] = []
        for start in range(0, len(order), FINALISTS):
            some = np.stack([xs[i] for i in order[start : start + FINALISTS]])
            found.extend(some[self.bench.evaluate(some)[2][:, k.FAILED] == 0])
            if len(found) >= FINALISTS:
                break
        return np.array(found[:FINALISTS])

    def simplest(self) -> tuple[float, Ints]:
        """Return the simplest of the candidates that uncertain days leave within the near-equal share.

        A plan with a failed rep on the nominal day is no plan: such candidates count only where there is no other.
        """
        xs = self.finalists()
        if not len(xs):
            xs = np.stack([x for _, x in sorted(self.seen.values(), key=lambda entry: entry[0])[:FINALISTS]])
        losses, values, _ = self.bench.evaluate(xs, self.days)
        best = int(np.argmin(losses))
        limit = losses[best] + max(NEAR_EQUAL_FRAC * values[best], HALF_A_REP * self._rep_s(xs[best]))
        complexity = self.complexity(xs)
        i = min(np.flatnonzero(losses <= limit).tolist(), key=lambda i: (complexity[i], losses[i]))
        return self._pruned(float(losses[i]), xs[i], float(limit))

    def _rep_s(self, x: Ints) -> float:
        """Return the typical seconds of the rep at which unfinished work ends; 0 if finished or stuck."""
        out = self.bench.evaluate(x[None])[2][0]
        reps, seconds = typical_course(self.bench.problem)
        if out[k.FINISHED] > 0 or out[k.STUCK] > 0:
            return 0.0
        at = min(int(np.searchsorted(reps, out[k.DONE], side="right")), len(reps) - 1)
        return float((seconds[at] - seconds[at - 1]) / (reps[at] - reps[at - 1]))

    def _pruned(self, loss: float, x: Ints, limit: float) -> tuple[float, Ints]:
        """Leave out one thing to remember after the other while the mean loss stays within `limit`."""
        while True:
            xs = self._simpler(x)
            if not len(xs):
                return loss, x
            own, size = self.bench.each_sample(x, self.days)
            par = own.cumsum() + len(own) * (limit - float(own.mean())) + BEHIND_FRAC * size
            now_failed = self.bench.evaluate(x[None])[2][0, k.FAILED]
            complexity = self.complexity(xs)
            for level in np.unique(complexity):
                level_xs = xs[complexity == level]
                losses, _, nominal = self.bench.evaluate(level_xs, self.days, par)
                losses[nominal[:, k.FAILED] > now_failed] = np.inf
                best = int(np.argmin(losses))
                if losses[best] <= limit:
                    loss, x = float(losses[best]), level_xs[best]
                    break
            else:
                return loss, x

    def _simpler(self, x: Ints) -> Ints:
        """Return the neighbours of `x` with less to remember."""
        found = []
        for slot, domain in enumerate(self.domains):
            found.append(_same_late(x[None].copy(), slot))
            late_only = x[None].copy()
            for early, late in LATE.items():
                late_only[:, slot, early] = late_only[:, slot, late]
            found.append(late_only)
            for column in (PACE, WAIT, PACE_LATE, WAIT_LATE):
                plain = x[None].copy()
                plain[:, slot, column] = 0
                found.append(plain)
            for column in (RULE, RULE_LATE) if RULE in domain else ():
                found.append(_grid(x, slot, [(column, domain[RULE])]))
        xs = np.concatenate(found)
        simpler = xs[self.complexity(xs) < self.complexity(x) - 1e-9]
        unlike = {y.tobytes(): y for y in simpler}
        return np.stack(list(unlike.values())) if unlike else simpler


def _rule_complexity(bench: Bench) -> Floats:
    """Return how much there is to remember in every set rule of every slot: sets, and sizes beyond two."""
    menu = bench.menu
    table = np.zeros(menu.length.shape[:2])
    for slot, rules in enumerate(menu.rules):
        for r, rule in enumerate(rules):
            sets, sizes = int(menu.length[slot, r].max()), len(set(rule.sizes))
            table[slot, r] = 0.3 * (min(sets, 6) - 1) + 0.3 * max(0, sizes - 2)
    return table


def search_plan(bench: Bench, effort: float = 1.0) -> Search:
    """Return a finished search over the candidates of a bench; `effort` scales the steps of its walks."""
    search = Search(bench)
    xs = search.beginnings()
    losses, _, outs = bench.evaluate(xs)
    search.weigh(xs[np.argsort(losses, kind="stable")[:WALKS]])
    if not any(search.domains):
        return search
    # Simulations of few reps are cheap, so that there may be more of them for the same patience.
    reps = max(1.0, float(outs[np.argmin(losses), k.DONE]))
    effort *= min(MOST_PATIENCE, max(LEAST_PATIENCE, USUAL_REPS / reps))
    few = len(search.domains) <= FEW_SLOTS
    effort *= 2 if few else 1
    starts = search.different(xs, losses, WALKS)
    steps = int(effort * WALK_STEPS * WALKS / len(starts))
    ends = [search.walk(x, steps, WALK_HEAT, everyday=False) for x in starts]
    search.weigh(np.concatenate([np.stack(ends), search.mixed(ends)]))
    end = search.walk(search.best[1], int(effort * LAST_STEPS), LAST_HEAT, everyday=True)
    if few:
        for x in (end, *ends):
            search.descend(x)
    search.rework(ROUND_STEPS // len(search.domains))
    if not len(search.finalists()):
        bench.prices_s = cand.STRICT_PRICES_S
        search.weigh(np.stack([search.walk(x, steps, WALK_HEAT, everyday=False) for x in starts]))
        bench.prices_s = cand.PRICES_S
    return search


def plan_workout(
    problem: Problem,
    kept: dict[int, tuple[Phase, ...]] | None = None,
    school: School | None = None,
    effort: float = 1.0,
) -> Planned:
    """Return the recommended plan for an athlete on a course.

    `kept` holds what a coach has locked, by slot; the rest is planned around it. `school` restricts the set
    rules to one school. The budget is counted in simulations, not seconds: the same problem gives the same
    plan anywhere.
    Raises: SetsError if a locked scheme does not fit its movement.
    """
    rules = set_rules if school is None else lambda counts: school_rules(school, counts)
    bench = Bench(problem, build_menu(problem, rules), kept)
    loss, x = search_plan(bench, effort).simplest()
    return Planned(bench.plan(x), loss, bench.simulations)
