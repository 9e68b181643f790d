"""Workouts the tests share: every form of the notation once."""

from pathlib import Path

from hypothesis import assume

from sorvek.core.athlete.athlete import Athlete
from sorvek.core.errors import CoreError
from sorvek.core.plan.plan import Phase, Plan, Scheme, SetRule
from sorvek.core.plan.shorthand import parse_shorthand
from sorvek.core.simulation.problem import Problem, problem_for
from sorvek.core.simulation.timeline import Timeline, run_plan
from sorvek.core.workout import Workout
from sorvek.core.workout.notation import parse_workout

NOTATION = (Path(__file__).parent / "data" / "notation.txt").read_text(encoding="utf-8").split("\n===\n")
TITLES = [text.split("#")[0].strip() for text in NOTATION]
BY_TITLE = dict(zip(TITLES, NOTATION, strict=True))
# Pastes words into the announcement field of a page as a browser does.
PASTE = """(words) => {
  const text = document.getElementById("text");
  text.focus();
  text.dispatchEvent(new ClipboardEvent("paste", { bubbles: true }));
  document.execCommand("insertText", false, words);
}"""


def problem(text: str, tier: str = "competing", **fields: object) -> Problem:
    """Return the problem of an otherwise unmeasured athlete on a workout or on an example by title."""
    return problem_for(parse_workout(BY_TITLE.get(text, text)), Athlete("Test", tier, **fields))


def typed(*schemes: str) -> Plan:
    """Return the plan a coach types, one line a movement."""
    return Plan(tuple(parse_shorthand(scheme) for scheme in schemes))


def given_case(workout: Workout, tier: str, sex: str) -> tuple[Problem, Plan, Timeline]:
    """Return an athlete on a workout with the plainest plan, or skip what nobody can be planned for."""
    try:
        found = problem_for(workout, Athlete("Test", tier, sex))
        plan = Plan(tuple((Phase(None, Scheme(SetRule((), 5), 5.0)),) for _ in found.course.slots))
        timeline = run_plan(found, plan)
    except CoreError:
        assume(False)
    assume(timeline.sets)
    return found, plan, timeline
