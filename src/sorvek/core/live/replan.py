"""Whether what is left is done better by another plan, from where the athlete is believed to stand."""

from dataclasses import dataclass

from sorvek.core.live.days import LiveDays, likeliest
from sorvek.core.plan import Plan
from sorvek.core.planner import plan_rest
from sorvek.core.simulation import Problem, columns, run_from
from sorvek.core.workout import Form

DAYS = 60
# Another plan is offered where it wins in the mean, wins on half of the days and does not lose on most of them; on
# those found so, replanned heats rarely end behind the old plan (docs/performance.md).
LEAST_GAIN_S, LEAST_GAIN_FRAC = 2.0, 0.01
NOT_WORSE, BETTER, EQUAL_S = 0.85, 0.5, 0.5


@dataclass(frozen=True, slots=True)
class Offer:
    """Another plan for the rest: its mean gain in `unit` (s or reps), and the share of days (0–1) won."""

    plan: Plan
    gain: float
    unit: str
    better_frac: float


def offer(problem: Problem, plan: Plan, days: LiveDays) -> Offer | None:
    """Return a better plan for what is left, None where the plan in force is as good as any found.

    Raises: SetsError if the plan does not fit the course.
    """
    if days.midway.segment >= len(problem.course.segments):
        return None
    midway = likeliest(days, DAYS)
    found = plan_rest(problem, plan, midway)
    if found == plan:
        return None
    old, new = run_from(problem, plan, midway), run_from(problem, found, midway)
    won_s = problem.lost_s(old) - problem.lost_s(new)
    left_s = float(problem.lost_s(old).mean()) - float(midway.begins[0, columns.SNAP_T])
    worth = won_s.mean() > max(LEAST_GAIN_S, LEAST_GAIN_FRAC * left_s)
    if not worth or (won_s > -EQUAL_S).mean() < NOT_WORSE or (won_s > EQUAL_S).mean() < BETTER:
        return None
    better_frac = float((won_s > EQUAL_S).mean())
    timed = problem.course.workout.form is Form.FOR_TIME and (old[:, columns.FINISHED] > 0).mean() > 0.5
    if timed:
        return Offer(found, float(won_s.mean()), "s", better_frac)
    return Offer(found, float((new[:, columns.DONE] - old[:, columns.DONE]).mean()), "reps", better_frac)
