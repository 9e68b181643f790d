"""Forms of a max lift: complexes, few attempts, a bar that rises, two lifts added up, a lift before the work."""

from dataclasses import replace
from itertools import product

import pytest
from hypothesis import given

from sorvek.core.athlete.athlete import Athlete
from sorvek.core.club.prospects import prospects
from sorvek.core.club.simulated import people, simulate_field
from sorvek.core.errors import LiftError, NotationError
from sorvek.core.lift.attempts import Total, plan_attempts
from sorvek.core.lift.hall.plates import USUAL_GYM, parse_gym
from sorvek.core.lift.schools import compare_attempts
from sorvek.core.lift.task import Typed
from sorvek.core.lift.wishes import Wishes, lift_setup
from sorvek.core.planner.planner import plan_workout
from sorvek.core.quantities import clock
from sorvek.core.simulation.problem import problem_for
from sorvek.core.simulation.timeline import run_plan
from sorvek.core.workout.notation import parse_workout
from sorvek.core.workout.notation_print import workout_text
from strategies import lift_workouts

GYM = parse_gym(USUAL_GYM)
KNOWN = Athlete("Ada", "building", "f", one_rep_max_kg={"clean": 90.0, "push jerk": 80.0, "snatch": 65.0})
WORK = "amrap 8:00\n10 thruster @ 43/29 kg\n10 burpee"
RESTS = {0: "", 60: "rest 1:00, ", 180: "rest 3:00, "}


def task_of(text, number=1, tank=None):
    return lift_setup(parse_workout(f"Work\n{text}\n"), KNOWN, GYM, Wishes(), tank, number=number).task


@given(lift_workouts)
def test_every_form_survives_print_and_parse(workout):
    assert parse_workout(workout_text(workout)) == workout


def test_a_complex_is_bounded_by_its_weakest_part_and_costs_something_more():
    whole = task_of("max clean + push jerk in 7:00").one_rep_max_kg
    assert task_of("max push jerk in 7:00").one_rep_max_kg * 0.95 < whole < 80
    assert task_of("max clean + 2 push jerks in 7:00").one_rep_max_kg < whole
    assert parse_workout("max clean + 2 push jerks in 7:00").lift.called == "max clean + 2-rep push jerk in 7:00"


def test_who_may_try_three_times_is_planned_three_attempts_and_so_are_the_schools():
    task = task_of("max snatch in 8:00, 3 attempts")
    plan, schools = compare_attempts(task)
    assert len(plan.attempts) == 3
    assert all(len(run.plan.attempts) <= 3 for run in schools)
    assert all(run.plan.expected_kg <= plan.expected_kg * 1.015 for run in schools)


def test_a_rising_bar_is_lifted_as_the_organiser_says_until_a_miss():
    task = task_of("max clean from 60/40 kg, +5/2.5 kg every 1:00")
    plan = plan_attempts(task, [Typed(made=True), Typed(made=True), Typed(made=False)])
    fresh = plan_attempts(task)
    assert [a.load_kg for a in fresh.attempts[:4]] == [40, 42.5, 45, 47.5]
    assert [a.start_s for a in fresh.attempts[:4]] == [0, 60, 120, 180]
    assert all(a.if_missed is None for a in fresh.attempts)
    assert fresh.attempts[-1].load_kg >= 1.05 * task.one_rep_max_kg
    chances = [a.chance for a in fresh.attempts]
    assert chances[-1] < 0.5 < chances[0]
    # The best is the last step before the first miss: the outcomes are those of the line itself.
    reached = [a.reached_frac * a.chance for a in fresh.attempts]
    assert fresh.reached(fresh.attempts[5].load_kg) == pytest.approx(reached[5], abs=1e-3)
    assert plan.outcomes == ((42.5, 1.0),)
    short = task_of("max clean from 60/40 kg, +5/2.5 kg every 1:00 in 4:00")
    assert len(plan_attempts(short).attempts) == 4


def test_two_lifts_are_added_up_over_all_pairs_of_their_ends():
    text = "max snatch in 6:00, 2 attempts\nthen max clean in 6:00, 2 attempts"
    first, second = (plan_attempts(task_of(text, number)) for number in (1, 2))
    total = Total((first, second))
    pairs = list(product(first.outcomes, second.outcomes))
    assert sum(share for _, share in total.outcomes) == pytest.approx(1)
    mean = sum(kg * share for kg, share in total.outcomes)
    assert mean == pytest.approx(sum((a + b) * p * q for (a, p), (b, q) in pairs))
    assert total.quantile(0.1) <= total.quantile(0.5) <= total.quantile(0.9)
    assert total.short_frac == pytest.approx(sum(p * q for (a, p), (b, q) in pairs if not a or not b))
    # What the first takes out of the second is known: it is planned a little lower than alone.
    alone = plan_attempts(task_of("max clean in 6:00, 2 attempts"))
    assert alone.expected_kg * 0.95 < second.expected_kg < alone.expected_kg


def test_a_lift_before_the_work_is_fresh_and_the_one_after_it_is_not():
    before, after = (f"amrap 8:00\nfirst max snatch in 5:00\n{WORK[11:]}", f"{WORK}\nthen max snatch in 5:00")
    problem = problem_for(parse_workout(f"Work\n{after}\n"), KNOWN)
    tank = run_plan(problem, plan_workout(problem).plan).tank
    assert task_of(before, tank=tank).ready == ()
    assert (
        plan_attempts(task_of(before, tank=tank)).expected_kg > plan_attempts(task_of(after, tank=tank)).expected_kg
    )


@pytest.mark.parametrize(
    ("text", "more"),
    [
        ("max snatch in 6:00\nthen max clean in 6:00", "max snatch in 6:00"),
        ("max clean in 6:00", "max clean + 2 push jerk in 6:00"),
        (f"amrap 8:00\nfirst max clean in 5:00\n{WORK[11:]}", f"{WORK}\nthen max clean in 5:00"),
    ],
)
def test_a_field_lifts_by_the_form(text, more):
    # The first of each pair lets everybody lift at least as much as the second.
    heavy, light = (
        {r.name: r.lift_kg for r in simulate_field(parse_workout(f"Work\n{one}\n"), people(40, seed=3))}
        for one in (text, more)
    )
    assert all(heavy[name] >= light[name] for name in heavy)
    assert sum(heavy.values()) > sum(light.values())


def test_prospects_of_a_total_add_both_lifts():
    scores = [
        float(prospects(parse_workout(f"Work\n{text}\n"))[0].score.split()[1])
        for text in ("max snatch in 6:00\nthen max clean in 6:00", "max snatch in 6:00", "max clean in 6:00")
    ]
    assert scores[0] == pytest.approx(scores[1] + scores[2], abs=1)


def test_wishes_keep_both_lifts_of_a_total_apart():
    first, second = Wishes(goal_kg=80.0), Wishes(goal_kg=100.0)
    both = Wishes().with_part(2, second).with_part(1, first)
    assert (both.part(1), both.part(2)) == (first, second)
    assert both.with_part(1, Wishes()).part(2) == second
    assert replace(both, second=None).part(2) == Wishes()


def test_an_obligatory_rest_before_the_lift_gives_back_what_the_work_took():
    texts = {rest_s: f"Work\n{WORK}\nthen {rest}max snatch in 4:00\n" for rest_s, rest in RESTS.items()}
    work = problem_for(parse_workout(texts[0]), KNOWN)
    tank = run_plan(work, plan_workout(work, effort=0.1).plan).tank
    ready = {
        rest_s: lift_setup(parse_workout(text), KNOWN, GYM, Wishes(), tank).task.ready
        for rest_s, text in texts.items()
    }
    assert ready[0][0] < ready[60][0] < ready[180][0] <= 1
    assert ready[60][0] == pytest.approx(ready[0][60 // 5])  # the same moment, 5 s a step
    by_clock = parse_workout(texts[0].replace("then max", f"then at {clock(tank.end_s + 180)}, max"))
    later = lift_setup(by_clock, KNOWN, GYM, Wishes(), replace(tank, end_s=tank.end_s - 60)).task.ready
    assert lift_setup(by_clock, KNOWN, GYM, Wishes(), tank).task.ready == pytest.approx(ready[180])
    assert later[0] > ready[180][0]  # who is done a minute sooner has rested longer when the bar is loaded
    with pytest.raises(NotationError, match="nothing stands before a first lift"):
        parse_workout(f"{WORK}\nfirst rest 1:00, max snatch in 4:00\n")


def test_who_is_done_earlier_has_longer_where_the_lift_ends_by_the_clock():
    text = "Work\nfor time, cap 9:00\n60 wall balls @ 9/6 kg\nthen max snatch until 14:00\n"
    workout = parse_workout(text)
    tank = run_plan(problem := problem_for(workout, KNOWN), plan_workout(problem).plan).tank
    assert workout.lift.window_s == 300  # what is left for who uses up the cap
    tasks = [lift_setup(workout, KNOWN, GYM, Wishes(), replace(tank, end_s=end_s)).task for end_s in (540, 240)]
    assert [task.window_s for task in tasks] == [300, 600]
    assert plan_attempts(tasks[1]).expected_kg > plan_attempts(tasks[0]).expected_kg
    late = parse_workout(text.replace("14:00", "9:00"))  # who uses up the cap has no time left
    with pytest.raises(LiftError, match="takes until 9:00 and the lift ends at 9:00: no time is left"):
        lift_setup(late, KNOWN, GYM, Wishes(), replace(tank, end_s=540))
    with pytest.raises(NotationError, match="the work may last until 9:00"):
        parse_workout(text.replace("14:00", "8:50"))
    with pytest.raises(NotationError, match="nothing says by when the work is over"):
        parse_workout(text.replace(", cap 9:00", ""))
