"""What following another's plan costs an athlete, and with how much of its rest it is best followed.

Sets can be shouted to a whole tier; how long one rests between them is everybody's own. So a follower does the
sets of a plan, with its rests or with half, two thirds, one and a half or twice of them.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import Enum
from math import inf
from typing import Any

import numpy as np

from sorvek.core.errors import CoreError
from sorvek.core.plan import Plan
from sorvek.core.simulation import Choices, Floats, Problem, run_samples, spread_samples
from sorvek.core.simulation import columns as k
from sorvek.core.workout import Form

# Days on which plans are compared.
DAYS = 12
# What other rests than those written must be worth to be spoken of, as a share of the own score. Judgement.
WORTH_FRAC = 0.01
# Whom a plan costs more than this no other rests help: so that hopeless plans take one trial instead of three.
HOPELESS_FRAC = 0.6
# Who loses so little by a tier's plan may follow it without a thought; who loses more than the second stands with a
# star and gets a card. Judgement.
LITTLE_FRAC, STAR_FRAC = 0.03, 0.06

# Visits as (slot, reps), and the styles of every slot.
Work = tuple[tuple[tuple[int, int], ...], tuple[tuple[str, ...], ...]]


class Rests(Enum):
    """The rests a follower may take, as shares of those written: few and far apart, to be shouted; judgement."""

    HALF = 0.5
    TWO_THIRDS = 2 / 3
    WRITTEN = 1.0
    HALF_MORE = 1.5
    DOUBLE = 2.0

    @property
    def sign(self) -> str:
        """Return how often those written are taken; nothing for once."""
        return {Rests.HALF: "×½", Rests.TWO_THIRDS: "×⅔", Rests.HALF_MORE: "×1½", Rests.DOUBLE: "×2"}.get(self, "")


SHORTER, LONGER = (Rests.TWO_THIRDS, Rests.HALF), (Rests.HALF_MORE, Rests.DOUBLE)


@dataclass(frozen=True, slots=True)
class Following:
    """What following a plan with these rests costs, a share of the own score; infinite where it does not fit."""

    loss: float
    rests: Rests = Rests.WRITTEN

    @classmethod
    def from_data(cls, data: Any) -> "Following":
        """Return what `data` gave; older versions gave the loss alone."""
        loss, rests = data if isinstance(data, list) else (data, Rests.WRITTEN.name)
        return cls(inf if loss is None else loss, Rests[rests])

    @property
    def data(self) -> list[object]:
        """Return it as JSON has it: the loss (null where the plan does not fit) and the name of the rests."""
        return [None if self.loss == inf else round(self.loss, 4), self.rests.name]

    @property
    def starred(self) -> bool:
        """Return whether somebody should rather go by a card of their own."""
        return self.loss > STAR_FRAC

    @property
    def sign(self) -> str:
        """Return which rests stand beside the name: nothing for those written, or for who goes by a card."""
        return "" if self.starred else self.rests.sign


def _work(problem: Problem) -> Work:
    """Return what plans as the kernel takes them depend on: the same for all whose work differs only in loads."""
    course = problem.course
    visits = tuple((visit.slot, visit.reps) for visit in course.segments)
    return visits, tuple(tuple(style.name for style in slot.movement.styles) for slot in course.slots)


class Club:
    """Athletes with their own plans, and what following other plans costs each over common days.

    A loss is the difference of the mean scores, as a share of the own one: of the time of who finishes on most
    days (missing reps on the others in typical seconds on top of the cap), else of the reps. One's own plan loses
    nothing. `own_s` orders everybody from the best to the worst.
    """

    def __init__(self, problems: Sequence[Problem], plans: Sequence[Plan]) -> None:
        self.problems, self.plans = problems, plans
        known: dict[Work, dict[Plan, Choices | None]] = {}
        self._known = [known.setdefault(_work(problem), {}) for problem in problems]
        self._followed: list[dict[Plan, Following]] = [{} for _ in problems]
        self.days = [spread_samples(problem, DAYS) for problem in problems]
        own = [self._outs(who, problems[who].choices(plan)) for who, plan in enumerate(plans)]
        timed = [problem.course.workout.form is Form.FOR_TIME for problem in problems]
        self.by_time = [
            t and bool((outs[:, k.FINISHED] > 0).mean() >= 0.5) for t, outs in zip(timed, own, strict=True)
        ]
        self.own_s = np.array([p.lost_s(outs).mean() for p, outs in zip(problems, own, strict=True)])
        self.own = [self._worse(who, outs) for who, outs in enumerate(own)]

    def _chosen(self, who: int, plan: Plan) -> Choices | None:
        """Return a plan as the kernel takes it, None where it does not fit; once for all who do the same work."""
        known = self._known[who]
        if plan not in known:
            try:
                known[plan] = self.problems[who].choices(plan)
            except CoreError:
                known[plan] = None
        return known[plan]

    def _outs(self, who: int, chosen: Choices) -> Floats:
        return run_samples(self.problems[who], chosen, *self.days[who])

    def _worse(self, who: int, outs: Floats) -> float:
        """Return the mean score of days (n, N_OUT), more for worse: seconds, or reps below 0."""
        return float(self.problems[who].lost_s(outs).mean() if self.by_time[who] else -outs[:, k.DONE].mean())

    def _loss(self, who: int, chosen: Choices) -> float:
        worse = self._worse(who, self._outs(who, chosen))
        return (worse - self.own[who]) / max(1.0, abs(self.own[who]))

    def follow(self, who: int, plan: Plan) -> Following:
        """Return how somebody follows a plan: with other rests than are written where that is worth it."""
        followed = self._followed[who]
        if plan not in followed:
            followed[plan] = self._tried(who, plan)
        return followed[plan]

    def _tried(self, who: int, plan: Plan) -> Following:
        if plan == self.plans[who]:
            return Following(0.0)
        chosen = self._chosen(who, plan)
        if chosen is None:
            return Following(inf)
        written = self._loss(who, chosen)
        best = Following(written)
        if not WORTH_FRAC <= written <= HOPELESS_FRAC:
            return best
        for way in (SHORTER, LONGER):
            for rests in way:
                tried = Following(self._loss(who, chosen.with_rests(rests.value)), rests)
                if tried.loss >= best.loss:
                    break
                best = tried
        return best if best.loss < written - WORTH_FRAC else Following(written)

    def losses(self, plans: Sequence[Plan], members: Sequence[int]) -> Floats:
        """Return what each plan costs each member (members, plans)."""
        return np.array([[self.follow(who, plan).loss for plan in plans] for who in members])
