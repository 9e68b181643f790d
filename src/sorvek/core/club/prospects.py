"""Who gets where before anybody is planned: every tier's prototype on a workout, its crux and its limiter."""

from dataclasses import dataclass

from sorvek.core.advice import brief, find_crux
from sorvek.core.athlete import Athlete
from sorvek.core.constants import RESOURCES
from sorvek.core.lift import USUAL_GYM, Wishes, lift_setup, parse_gym
from sorvek.core.planner import plan_workout
from sorvek.core.simulation import problem_for
from sorvek.core.workout import TIERS, Form, Workout

# A prototype's plan need not be the best one to show where it ends.
EFFORT = 0.3
PLAIN_GYM = parse_gym(USUAL_GYM)
ENGINE = "breath"
# Reps in reserve are compared with the engine by how empty each gets; a stuck rep or strength comes before both.
LOW_FRAC = 0.5


@dataclass(frozen=True, slots=True)
class Prospect:
    """One tier's prototype: the score, the movement that decides it, what gives out first and why we say so."""

    tier: str
    score: str
    stops_at: str
    crux: str
    limiter: str
    reason: str


def _limiter(athlete: Athlete, workout: Workout) -> tuple[str, str, str, str, str]:
    if workout.form is Form.LIFT and workout.lift:
        setups = [
            lift_setup(workout, athlete, PLAIN_GYM, Wishes(), number=i + 1) for i in range(len(workout.lifts))
        ]
        about_kg = sum(setup.task.one_rep_max_kg for setup in setups)
        return f"about {about_kg:.0f} kg", "", workout.lift.words, "maximal strength", setups[0].style.name
    problem = problem_for(workout, athlete)
    briefing = brief(problem, plan_workout(problem, effort=EFFORT).plan)
    timeline, course = briefing.timeline, briefing.course
    crux = find_crux(problem, briefing.plan)
    score = timeline.score.text
    done = timeline.sets[-1] if timeline.sets else None
    last = course.slots[course.segments[done.segment].slot].movement.plural if done else ""
    stops_at = "" if timeline.score.finished else last
    if timeline.score.stuck_s is not None:
        slot = course.slots[crux.slot]
        what = "strength for the load" if slot.load_kg else "skill"
        return score, stops_at, crux.label, what, "the first rep is out of reach"
    lows: dict[str, tuple[float, str]] = {}
    for record in timeline.sets:
        slot = course.slots[course.segments[record.segment].slot]
        weights = slot.movement.styles[0].weights
        values = [(RESOURCES[r], record.after[r]) for r in range(len(RESOURCES)) if weights[r] >= LOW_FRAC]
        for name, value in [*values, (ENGINE, record.engine_after)]:
            if name not in lows or value < lows[name][0]:
                lows[name] = (value, slot.movement.plural)
    name, (value, where) = min(lows.items(), key=lambda entry: entry[1][0])
    return score, stops_at, crux.label, name, f"down to {value:.0%} in the {where}"


def prospects(workout: Workout, sex: str = "m") -> tuple[Prospect, ...]:
    """Return every tier's prospect, the strongest tier first.

    Raises: InfeasibleError if the workout has no work to plan.
    """
    return tuple(Prospect(tier, *_limiter(Athlete(tier, tier, sex), workout)) for tier in reversed(TIERS))
