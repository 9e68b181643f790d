"""From what a search has seen to a plan a coach can call: the simplest among near-equals."""

import numpy as np
from numpy.typing import NDArray

from sorvek.core.constants import NEAR_EQUAL_FRAC
from sorvek.core.planner.batch import CHANGE, PACE, PACE_LATE, REST, RULE, RULE_LATE, STYLE, WAIT, WAIT_LATE
from sorvek.core.planner.candidates import REST_GRID, Bench
from sorvek.core.planner.search import COARSE_RESTS, LATE, Search, largest_sets, likely_days, same_late
from sorvek.core.simulation import Floats, Ints, forecast
from sorvek.core.simulation import columns as k

FINALISTS = 32
# How far behind a simpler plan may fall on the first days before it is given up.
BEHIND_FRAC = 0.04
# Scores count whole reps: what moves less than half of one is not worth remembering.
HALF_A_REP = 0.5
# A tie-break later than this is later.
TIE_S = 0.5
# How often something is changed for an earlier tie-break.
MOST_SOONER = 6
# Simpler plans are looked at in portions, the simplest first.
PORTION = 24
# A movement that breaks on so many days is to break on fewer, for at most this share of the score. So many steps
# more on the grid of rests are tried, so many candidates in full, on so many days (half tell breaks); judgement.
LOUD, CALM_FRAC, MORE_RESTS, CALM_TRIES, CALM_DAYS = 0.3, 0.015, (0, 1, 2, 3), 8, 200
# Paces, waits and rests are weighed again on so many other days; so many changes are made at most.
MORE_DAYS, MOST_SETTLED = 96, 8
PLAIN = (PACE, WAIT, PACE_LATE, WAIT_LATE)


def _rule_complexity(bench: Bench) -> Floats:
    """Return how much there is to remember in every set rule of every slot: sets, and sizes beyond two."""
    menu = bench.menu
    table = np.zeros(menu.length.shape[:2])
    for slot, rules in enumerate(menu.rules):
        for r, rule in enumerate(rules):
            sets, sizes = int(menu.length[slot, r].max()), len(set(rule.sizes))
            table[slot, r] = 0.3 * (min(sets, 6) - 1) + 0.3 * max(0, sizes - 2)
    return table


def _plain_in(x: Ints, slot: int, column: int) -> Ints:
    """Return a candidate with the usual value in a column of a slot."""
    plain: Ints = x.copy()
    plain[slot, column] = 0
    return plain


class Simplifier:
    """Chooses among the candidates of a finished search."""

    def __init__(self, search: Search) -> None:
        self.search, self.bench = search, search.bench
        self.best = np.full(k.N_OUT, np.inf)
        self.rule_complexity = _rule_complexity(search.bench)

    def complexity(self, xs: Ints) -> Floats:
        """Return how much there is to remember in candidates (..., slots, columns): sets, changes, paces, waits."""
        slots = np.arange(xs.shape[-2])
        changed = (xs[..., CHANGE] > 0) & (xs[..., CHANGE] < self.search.rounds)
        changed &= np.any([xs[..., early] != xs[..., late] for early, late in LATE.items()], axis=0)
        early, late = (
            self.rule_complexity[slots, xs[..., RULE + i]]
            + 1.0 * (xs[..., PACE + i] != 0)
            + 1.0 * (xs[..., WAIT + i] > 0)
            for i in (0, 1)
        )
        total: Floats = (early + changed * (late + 2.0)).sum(axis=-1).round(6)
        return total

    def finalists(self) -> Ints:
        """Return the best candidates, the best first, without those that fail more reps on the nominal day than it.

        Many candidates differ only in columns that play no part; equal losses give them away.
        """
        entries = list(self.search.seen.values())
        least = self.bench.evaluate(self.search.best[1][None])[2][0, k.FAILED]
        _, order = np.unique(np.array([loss for loss, _ in entries]).round(6), return_index=True)
        found: list[Ints] = []
        for start in range(0, len(order), FINALISTS):
            some = np.stack([entries[i][1] for i in order[start : start + FINALISTS]])
            found.extend(some[self.bench.evaluate(some)[2][:, k.FAILED] <= least])
            if len(found) >= FINALISTS:
                break
        return np.array(found[:FINALISTS])

    def simplest(self) -> tuple[float, Ints]:
        """Return the simplest of the candidates that uncertain days leave within the near-equal share."""
        xs = self.finalists()
        losses = np.array([self.search.seen[x.tobytes()][0] for x in xs])
        size_s = self.bench.each_sample(xs[0], self.search.days)[1]
        room = max(NEAR_EQUAL_FRAC * size_s, HALF_A_REP * self.rep_s(xs[0]))
        limit = float(losses[0]) + room
        complexity = self.complexity(xs)
        outs = self.bench.evaluate(xs)[2]
        self.best = outs[0]
        good = (losses <= limit) & ~self._later(outs)
        i = min(np.flatnonzero(good).tolist(), key=lambda i: (complexity[i], losses[i]))
        loss, x = float(losses[i]), xs[i]
        if (self.bench.problem.seg_i[:, k.TIE] > 0).any():
            # An earlier tie-break may cost as much again: equal reps are those within half a rep.
            loss, x = self._sooner(loss, x, loss + room)
            limit, self.best = max(limit, loss), self.bench.evaluate(x[None])[2][0]
        return self._pruned(loss, x, limit)

    def _later(self, outs: Floats) -> NDArray[np.bool_]:
        """Return which results (n, N_OUT) have a later tie-break than the best plan's without a rep more."""
        later: NDArray[np.bool_] = outs[:, k.TIE_TIME] > self.best[k.TIE_TIME] + TIE_S
        later &= (outs[:, k.FINISHED] == 0) & (outs[:, k.DONE] <= self.best[k.DONE])
        return later

    def _sooner(self, loss: float, x: Ints, limit: float) -> tuple[float, Ints]:
        """Bring the tie-break forward, one change after the other, while reps stay and the loss within `limit`.

        A change is another value in a column, or another set rule with a rest beside it.
        """
        for _ in range(MOST_SOONER):
            now = self.bench.evaluate(x[None])[2][0]
            if now[k.FINISHED] > 0 or now[k.TIE_TIME] == 0:
                break
            found = []
            for slot, domain in enumerate(self.search.domains):
                for column, values in domain.items():
                    if column not in (CHANGE, STYLE):
                        changed = np.repeat(x[None], len(values), axis=0)
                        changed[:, slot, column] = values
                        found.append(self._together(changed, x, slot, column))
                if RULE in domain:
                    rests = np.tile(COARSE_RESTS, len(domain[RULE]))
                    changed = np.repeat(x[None], len(rests), axis=0)
                    changed[:, slot, RULE] = np.repeat(domain[RULE], len(COARSE_RESTS))
                    changed[:, slot, REST] = rests
                    found.append(self._together(self._together(changed, x, slot, RULE), x, slot, REST))
            xs = np.concatenate(found)
            outs = self.bench.evaluate(xs)[2]
            sooner = (outs[:, k.TIE_TIME] < now[k.TIE_TIME] - TIE_S) & (outs[:, k.FAILED] <= now[k.FAILED])
            sooner &= (outs[:, k.DONE] >= now[k.DONE]) & (outs[:, k.TIE_TIME] > 0)
            xs, ties = xs[sooner], outs[sooner, k.TIE_TIME]
            losses = self.bench.evaluate(xs, self.search.days)[0] if len(xs) else np.zeros(0)
            good = losses <= limit
            if not good.any():
                break
            best = int(np.where(good, ties, np.inf).argmin())
            loss, x = float(losses[best]), xs[best]
        return loss, x

    def _together(self, xs: Ints, x: Ints, slot: int, column: int) -> Ints:
        """Return candidates with the late column following the early one where `x` has one scheme all the way."""
        if column in LATE and x[slot, CHANGE] >= self.bench.menu.rounds[slot]:
            xs[:, slot, LATE[column]] = xs[:, slot, column]
        return xs

    def rep_s(self, x: Ints) -> float:
        """Return the typical seconds of the rep at which unfinished work ends; 0 if finished or stuck."""
        out = self.bench.evaluate(x[None])[2][0]
        reps, seconds = self.bench.problem.typical_course
        if out[k.FINISHED] > 0 or out[k.STUCK] > 0:
            return 0.0
        at = min(int(np.searchsorted(reps, out[k.DONE], side="right")), len(reps) - 1)
        return float((seconds[at] - seconds[at - 1]) / max(1.0, reps[at] - reps[at - 1]))

    def _plain(self, x: Ints) -> Ints:
        """Return a candidate without what plays no part: schemes behind the last round, of what no day gets to."""
        plain: Ints = x.copy()
        reached = max(
            self.bench.evaluate(x[None], (us[None], who[None]))[2][0, k.REACHED]
            for us, who in zip(*self.search.days, strict=True)
        )
        in_reach = set(self.bench.problem.seg_i[: int(reached) + 1, k.SLOT].tolist())
        for slot, domain in enumerate(self.search.domains):
            if slot not in in_reach:
                plain[slot] = 0
            else:
                self._said_plainly(plain[slot], slot, int(reached))
            if not domain or plain[slot, CHANGE] >= self.search.rounds[slot]:
                same_late(plain[None], slot)
                plain[slot, CHANGE] = self.bench.menu.rounds[slot]
        return plain

    def _said_plainly(self, row: Ints, slot: int, reached: int) -> None:
        """Call sets unbroken, in place, that are larger than any count this athlete gets to."""
        menu, seg_i = self.bench.menu, self.bench.problem.seg_i[: reached + 1]
        counts = np.unique(menu.seg_count[: reached + 1][seg_i[:, k.SLOT] == slot])
        for column in (RULE, RULE_LATE):
            if (menu.length[slot, row[column], counts] == 1).all():
                row[column] = 0

    def _pruned(self, loss: float, x: Ints, limit: float) -> tuple[float, Ints]:
        """Leave out one thing to remember after the other while the mean loss stays within `limit`."""
        x = self._plain(x)
        now_failed = self.bench.evaluate(x[None])[2][0, k.FAILED]
        while True:
            own, size = self.bench.each_sample(x, self.search.days)
            par = own.cumsum() + len(own) * (limit - float(own.mean())) + BEHIND_FRAC * size
            xs = self._simpler(x)
            for start in range(0, len(xs), PORTION):
                some = xs[start : start + PORTION]
                losses, _, nominal = self.bench.evaluate(some, self.search.days, par)
                calm = (nominal[:, k.FAILED] <= now_failed) & ~self._later(nominal)
                good = np.flatnonzero((losses <= limit) & calm)
                if len(good):
                    loss, x = float(losses[good[0]]), some[good[0]]
                    break
            else:
                return loss, x

    def settled(self, x: Ints) -> Ints:
        """Return a plan as more days than those of the search would have it.

        Paces and waits that only pay on those few go, rests become a step or two longer or shorter.
        """
        days = likely_days(self.bench.problem, MORE_DAYS)
        now_failed = self.bench.evaluate(x[None])[2][0, k.FAILED]
        for _ in range(MOST_SETTLED):
            own, size = self.bench.each_sample(x, days)
            some = [_plain_in(x, slot, column) for slot in range(len(x)) for column in PLAIN]
            for slot, domain in enumerate(self.search.domains):
                some += self._rested(x, slot) if REST in domain else []
            xs = np.stack([y for y in some if not (y == x).all()] or [x])
            losses, _, nominal = self.bench.evaluate(xs, days, own.cumsum() + BEHIND_FRAC * size)
            calm = (nominal[:, k.FAILED] <= now_failed) & ~self._later(nominal)
            losses = np.where(calm, losses, np.inf)
            best = int(losses.argmin())
            if losses[best] >= own.mean():
                break
            x = xs[best]
        return x

    def _rested(self, x: Ints, slot: int) -> list[Ints]:
        """Return candidates with the rests of a slot a step or two longer or shorter."""
        found = []
        for step in (-2, -1, 1, 2):
            y = x.copy()
            for column in (REST, LATE[REST]):
                y[slot, column] = min(len(REST_GRID) - 1, max(0, y[slot, column] + step))
            found.append(y)
        return found

    def calmed(self, x: Ints) -> Ints:
        """Return a plan in which no movement breaks on too many days, where smaller sets or more rest can do that.

        Tried, the cheapest first, are a few that cost at most `CALM_FRAC` of the score over the days of the search.
        """
        shares = self._broken(x)
        for slot in [
            slot for slot, share in enumerate(shares) if share >= LOUD and RULE in self.search.domains[slot]
        ]:
            losses, sizes, _ = self.bench.evaluate(x[None], self.search.days)
            most = losses[0] + CALM_FRAC * sizes[0]
            xs = self._calmer(x, slot)
            losses = self.bench.evaluate(xs, self.search.days)[0]
            payable = [xs[i] for i in losses.argsort(kind="stable") if losses[i] <= most]
            some = sorted({round(i) for i in np.linspace(0, max(0, len(payable) - 1), CALM_TRIES) if payable})
            x = next((payable[i] for i in some if self._broken(payable[i])[slot] < LOUD), x)
        return x

    def _broken(self, x: Ints) -> tuple[float, ...]:
        """Return the share of days on which each slot's movement breaks."""
        return forecast(self.bench.problem, self.bench.plan(x), CALM_DAYS).forced_break_frac

    def _calmer(self, x: Ints, slot: int) -> Ints:
        """Return candidates with smaller sets or more rest for a slot, all the way."""
        domain, sets = self.search.domains[slot], largest_sets(self.bench, slot)
        found = []
        for rule in domain[RULE].tolist():
            if sets[rule] <= sets[x[slot, RULE]]:
                for more in MORE_RESTS:
                    y = x.copy()
                    y[slot, RULE], y[slot, REST] = rule, min(x[slot, REST] + more, len(REST_GRID) - 1)
                    found.append(same_late(y[None], slot)[0])
        return np.stack(found)

    def _simpler(self, x: Ints) -> Ints:
        """Return the neighbours of `x` with less to remember, the simplest first."""
        found = []
        for slot, domain in enumerate(self.search.domains):
            found.append(same_late(x[None].copy(), slot))
            late_only = x[None].copy()
            for early, late in LATE.items():
                late_only[:, slot, early] = late_only[:, slot, late]
            found.append(late_only)
            for column in (PACE, WAIT, PACE_LATE, WAIT_LATE):
                plain = x[None].copy()
                plain[:, slot, column] = 0
                found.append(plain)
            for column in (RULE, RULE_LATE) if RULE in domain else ():
                ruled = np.repeat(x[None], len(domain[RULE]), axis=0)
                ruled[:, slot, column] = domain[RULE]
                found.append(ruled)
        xs = np.concatenate(found)
        complexity = self.complexity(xs)
        order = np.argsort(complexity, kind="stable")
        simpler = xs[order[complexity[order] < self.complexity(x) - 1e-9]]
        unlike = {y.tobytes(): y for y in simpler}
        return np.stack(list(unlike.values())) if unlike else simpler
