"""The search for a plan: many cheap beginnings, the best of them bred over likely days.

The landscape is rugged: descent alone gets stuck hanging on to ten unbroken with failed reps where singles are
far better. What counts is the mean over uncertain days: the best plan for the nominal day alone fits that day so
tightly that it loses up to a tenth on others. The random numbers come from a fixed seed: the same problem gives
the same plan.
"""

import numpy as np

from sorvek.core.plan import UNBROKEN
from sorvek.core.planner import candidates as cand
from sorvek.core.planner.batch import (
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
from sorvek.core.planner.candidates import Bench, Samples
from sorvek.core.planner.temper import Temper
from sorvek.core.simulation import Floats, Ints, Problem, spread_samples
from sorvek.core.simulation import columns as k

# Any would do; what others find stands in docs/model.md.
SEED = 6
# The nominal day and others spread evenly; more days make the landscape smoother and each member dearer.
DAYS = 1 + 16
BEGINNINGS = 192
# The numbers of the search were tried on made-up workouts and athletes, each against what searches with four times
# the simulations found.
# The population: a few mixtures in time of the very best beginnings, since a change of scheme seldom pays, and
# every other of those behind them. Who founds it matters more than how it breeds: unlike ones more than good ones.
STAGED = 8
POPULATION, POPULATION_EVERY = 56, 2
BREED_SIMULATIONS, SLACK_FRAC = 6_800, 0.02
# Simulations of few steps are cheap, so that there may be more of them for the same patience.
USUAL_STEPS, LEAST_PATIENCE, MOST_PATIENCE = 140, 0.6, 2.2
# A planned athlete gets so much farther than one with the best of the plain beginnings, at the very most.
FARTHER = 1.3
COARSE_RESTS = np.searchsorted(cand.REST_GRID, [0.0, 2.0, 5.0, 10.0, 15.0, 25.0])
USUAL_REST = int(COARSE_RESTS[2])
LATE = {RULE: RULE_LATE, REST: REST_LATE, PACE: PACE_LATE, WAIT: WAIT_LATE}


def likely_days(problem: Problem, days: int = DAYS) -> Samples:
    """Return the days a plan is weighed on: the nominal one first, then uncertain ones."""
    us, whos = spread_samples(problem, days - 1)
    return np.vstack([problem.unbroken, us]), np.vstack([problem.who, whos])


def largest_sets(bench: Bench, slot: int) -> Ints:
    """Return the largest set of every rule on a slot's menu."""
    menu = bench.menu
    rows = []
    for first, length in zip(menu.first[slot], menu.length[slot], strict=True):
        spans = [menu.sizes[a : a + n] for a, n in zip(first, length, strict=True) if n]
        rows.append(max((int(sizes.max()) for sizes in spans), default=0))
    return np.array(rows[: len(menu.rules[slot])])


def _domain(bench: Bench, slot: int, rounds: int) -> dict[int, Ints]:
    """Return the values each free column of a slot may take if it comes up in so many rounds.

    Nothing is free where a coach has locked it or where nobody gets to.
    """
    if slot in bench.kept or rounds == 0:
        return {}
    rules = bench.menu.rules[slot]
    n_styles = len(bench.problem.course.slots[slot].movement.styles)
    # Who never breaks a set never rests in one; of a school with one way to break, the rests are free all the same.
    domain = {RULE: np.arange(len(rules))} if len(rules) > 1 else {}
    if rules != (UNBROKEN,):
        domain[REST] = np.arange(len(cand.REST_GRID))
    style = bench.problem.course.slots[slot].movement.styles[0]
    fastest, slowest = np.searchsorted(cand.PACE_GRID, [style.pace_fast - 1e-9, style.pace_slow + 1e-9])
    domain[PACE] = np.arange(fastest, slowest) - cand.USUAL_PACE
    domain[WAIT] = np.arange(len(cand.WAIT_GRID))
    if n_styles > 1:
        domain[STYLE] = np.arange(n_styles)
    if rounds > 1:
        points = (1, rounds // 4, rounds // 3, rounds // 2, 2 * rounds // 3, 3 * rounds // 4, rounds - 1, rounds)
        domain[CHANGE] = np.unique(np.array(points)).clip(1)
        domain |= {LATE[column]: domain[column] for column in LATE if column in domain}
    return domain


def same_late(xs: Ints, slot: int) -> Ints:
    """Give a slot of candidates (n, slots, columns) one scheme for all rounds, in place; return them."""
    for early, late in LATE.items():
        xs[:, slot, late] = xs[:, slot, early]
    return xs


class Search:
    """A search in progress; keeps every candidate weighed over all days with its mean loss."""

    def __init__(self, bench: Bench) -> None:
        self.bench = bench
        self.rng = np.random.Generator(np.random.PCG64(SEED))
        self.rounds = np.array(bench.menu.rounds)
        self.domains = [_domain(bench, slot, rounds) for slot, rounds in enumerate(bench.menu.rounds)]
        self.days = likely_days(bench.problem)
        self.seen: dict[bytes, tuple[float, Ints]] = {}

    @property
    def best(self) -> tuple[float, Ints]:
        """Return the lowest mean loss seen, and its candidate."""
        return min(self.seen.values(), key=lambda entry: entry[0])

    def remember(self, xs: Ints, losses: Floats) -> None:
        """Keep candidates weighed over all days."""
        self.seen |= {
            x.tobytes(): (loss, x) for x, loss in zip(xs, losses.tolist(), strict=True) if np.isfinite(loss)
        }

    def beginnings(self) -> Ints:
        """Return plain plans: the same set count for every movement, then random set rules, rests and styles."""
        n = len(self.domains)
        xs = np.zeros((BEGINNINGS, n, N_COLUMNS), dtype=np.int64)
        # Every other beginning sizes its sets by what this athlete has: one share of it for all movements.
        shares, sized = self.rng.uniform(0.2, 0.9, BEGINNINGS), np.arange(5, BEGINNINGS, 2)
        fresh = self.bench.problem.unbroken[list(self.bench.problem.first_variant)]
        for slot, domain in enumerate(self.domains):
            xs[:, slot, CHANGE] = self.bench.menu.rounds[slot]
            xs[:, slot, REST] = USUAL_REST
            if REST in domain:
                rules = len(self.bench.menu.rules[slot])
                sets = self.bench.menu.length[slot, :rules].max(axis=1)
                xs[:, slot, RULE] = self.rng.choice(rules, BEGINNINGS)
                xs[:, slot, REST] = self.rng.choice(COARSE_RESTS, BEGINNINGS)
                for i, wanted in enumerate((1, 2, 4, 100)):
                    xs[i, slot, RULE] = np.argmin(np.abs(sets - min(wanted, sets.max())))
                    xs[i, slot, REST] = USUAL_REST
                sizes = np.maximum(1.0, shares[sized] * fresh[slot])
                off = np.abs(largest_sets(self.bench, slot)[:, None] - sizes)
                xs[sized, slot, RULE] = off.argmin(axis=0)
                # Where a bar is dropped and reset no rest is needed: half of those go without.
                at_once = self.bench.menu.least_rest_s[slot, xs[:, slot, RULE]] == 0.0
                xs[at_once & (self.rng.random(BEGINNINGS) < 0.5), slot, REST] = 0
            if STYLE in domain:
                xs[4:, slot, STYLE] = self.rng.choice(domain[STYLE], BEGINNINGS - 4)
            same_late(xs, slot)
        return xs

    def staged(self, xs: Ints) -> Ints:
        """Return `xs`, each going on like another one of them from some round of every movement."""
        mixed, after = xs.copy(), xs[self.rng.permutation(len(xs))]
        for slot, domain in enumerate(self.domains):
            if CHANGE in domain:
                mixed[:, slot, CHANGE] = self.rng.choice(domain[CHANGE], len(xs))
                for early, late in LATE.items():
                    mixed[:, slot, late] = after[:, slot, early]
        return mixed

    def founders(self, xs: Ints, losses: Floats) -> Ints:
        """Return who is to breed: the very best of `xs` mixed in time, and of those behind them the better ones.

        Equal losses are those of one plan written in different ways: such come behind all that are unlike.
        """
        _, unlike = np.unique(losses.round(6), return_index=True)
        again = np.setdiff1d(np.argsort(losses, kind="stable"), unlike, assume_unique=True)
        order = np.concatenate([unlike, again])
        every = POPULATION_EVERY if len(unlike) >= POPULATION * POPULATION_EVERY else 1
        plain = xs[order[: POPULATION * every : every]]
        return np.unique(np.concatenate([self.staged(xs[order[:STAGED]]), plain[STAGED:]]), axis=0)

    def narrow(self, reached: int) -> None:
        """Leave out what lies behind the segments this athlete may get to; `reached` is a plain plan's last."""
        problem = self.bench.problem
        seen = slice(0, int(FARTHER * (reached + 1)) + 1)
        slots, ranks = problem.seg_i[seen, k.SLOT], np.array(problem.ranks[seen])
        self.rounds = np.array([ranks[slots == slot].max(initial=0) for slot in range(len(self.domains))])
        self.domains = [_domain(self.bench, slot, int(rounds)) for slot, rounds in enumerate(self.rounds)]

    def _moves(self) -> Ints:
        rows = [
            (slot, column, values.min(), values.max())
            for slot, domain in enumerate(self.domains)
            for column, values in domain.items()
        ]
        return np.array(rows, dtype=np.int64)

    def breed(self, xs: Ints, budget: int) -> None:
        """Breed a population over all days, keeping what becomes of it."""
        size_s = float(self.bench.evaluate(xs[:1])[1][0])
        self.remember(*self.bench.breed(xs, self._moves(), budget, SLACK_FRAC * size_s, self.rng, self.days))


def search_plan(bench: Bench, effort: float = 1.0, temper: Temper = Temper.STEADY) -> Search:
    """Return a finished search over the candidates of a bench; `effort` scales the simulations it spends."""
    search = Search(bench)
    xs = search.beginnings()
    losses, _, outs = bench.evaluate(xs)
    search.narrow(int(outs[:, k.REACHED].max()))
    best = int(losses.argmin())
    bench.weights = temper.weights(bench.each_sample(xs[best], search.days)[0])
    if not any(search.domains):
        only = xs[best : best + 1]
        search.remember(only, bench.evaluate(only, search.days)[0])
        return search
    effort *= min(MOST_PATIENCE, max(LEAST_PATIENCE, USUAL_STEPS / max(1.0, outs[best, k.STEPS])))
    founders = search.founders(xs, losses)
    search.breed(founders, DAYS * len(founders) + int(effort * BREED_SIMULATIONS))
    return search
