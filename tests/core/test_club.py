"""What a club needs of the core: outlooks, gaps, substitutes, prospects, prose announcements."""

from examples import problem, typed
from sorvek.core.advice.briefing import brief
from sorvek.core.advice.gaps import missing_numbers
from sorvek.core.athlete.athlete import Athlete
from sorvek.core.athlete.substitute import flagged_movements, substitutes_for, with_substitutes
from sorvek.core.club.outlook import plan_of, plan_outlook
from sorvek.core.club.prospects import prospects
from sorvek.core.planner.planner import plan_workout
from sorvek.core.simulation.problem import problem_for
from sorvek.core.simulation.timeline import run_plan
from sorvek.core.workout.movements import shipped_library
from sorvek.core.workout.notation import parse_workout
from sorvek.core.workout.notation_print import workout_text

LIBRARY = shipped_library()
TWO_PART = "for time, cap 13:00\n4 rounds:\n  8 thrusters @ 40 kg\n  10 pull-ups\nrest 2:00\n9 bar muscle-ups"


def test_an_outlook_holds_the_plan_it_was_made_from():
    given_problem = problem("Two Lamps", "building")
    outlook = plan_outlook(given_problem)
    again = brief(given_problem, plan_of(outlook.schemes))
    assert again.timeline.score.text == outlook.planned
    assert (again.band.p10, again.band.p90) == (outlook.p10, outlook.p90)
    assert outlook.crux in [slot.label for slot in given_problem.course.slots]


def test_a_number_that_decides_between_finishing_and_not_is_asked_first_as_such():
    """A swing from a time to a rep count is no number of seconds."""
    text = "for time, cap {}\n3 rounds:\n  12 toes-to-bar\n  12 burpees\n"
    free = problem_for(parse_workout(text.format("20:00")), Athlete("A", "building"))
    plan = typed("4/4/4 r8", "unbroken")
    cap_s = int(run_plan(free, plan).score.value) + 2
    tight = problem_for(parse_workout(text.format(f"{cap_s // 60}:{cap_s % 60:02d}")), Athlete("A", "building"))
    assert all(gap.swing < 600 and gap.unit == "s" for gap in missing_numbers(free, plan))
    first = missing_numbers(tight, plan)[0]
    assert first.swing == float("inf")
    assert first.unit == "reps"


def test_numbers_nobody_measured_are_asked_for_by_how_much_they_move_the_score():
    workout = parse_workout(TWO_PART)
    athlete = Athlete("Ada", "building")
    given_problem = problem_for(workout, athlete)
    plan = plan_workout(given_problem, effort=0.3).plan
    gaps = missing_numbers(given_problem, plan)
    assert [g.swing for g in gaps] == sorted((g.swing for g in gaps), reverse=True)
    assert gaps[0].key in ("bar muscle-up", "pull-up", "thruster", "critical_power_w")
    measured = (
        Athlete("Ada", "building", unbroken={gaps[0].key: 5}) if gaps[0].key != "critical_power_w" else athlete
    )
    left = missing_numbers(problem_for(workout, measured), plan)
    assert gaps[0].key not in [g.key for g in left] or measured is athlete


def test_a_flagged_movement_is_found_and_replaced_wherever_it_stands():
    workout = parse_workout(TWO_PART)
    athlete = Athlete("Ada", "building", flags={"pull-up": "elbow", "rope climb": ""})
    assert flagged_movements(workout, athlete) == ("pull-up",)
    offers = substitutes_for(workout, "pull-up", athlete)
    assert offers
    # What stands in must not load what hurts.
    assert all(m.styles[0].weights[1] < 0.3 and m.name not in athlete.flags for m in offers)
    changed = with_substitutes(workout, {"pull-up": offers[0].name})
    assert flagged_movements(changed, athlete) == ()
    assert "40 kg" in workout_text(changed)
    assert parse_workout(workout_text(changed)).body == changed.body


def test_a_substitute_keeps_a_size_it_understands_and_drops_another():
    workout = parse_workout("for time\n10 thrusters @ 40 kg")
    assert "40 kg" in workout_text(with_substitutes(workout, {"thruster": "front squat"}))
    assert "kg" not in workout_text(with_substitutes(workout, {"thruster": "burpee"}))


def test_prototypes_of_higher_tiers_get_further_and_the_skill_stops_the_others():
    rows = prospects(parse_workout("for time, cap 8:00\n20 burpees\n10 ring muscle-ups"))
    assert [r.tier for r in rows] == ["racing", "competing", "building", "starting"]
    assert rows[0].stops_at == ""
    assert rows[-1].stops_at
    assert (rows[-1].limiter, rows[-1].reason) == ("skill", "the first rep is out of reach")
