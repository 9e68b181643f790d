"""Invariants every simulated plan must keep."""

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from examples import BY_TITLE, TITLES, problem, typed
from sorvek.core.advice.briefing import brief
from sorvek.core.constants import (
    CEILING_DROP,
    CEILING_SCALE,
    DEPTH_COST,
    LASTING_HALF_U,
    RECOVERY_TAU_S,
    TAU_SLOWING,
)
from sorvek.core.errors import InfeasibleError, NotationError
from sorvek.core.plan.plan import Phase, Plan, Scheme, SetRule
from sorvek.core.simulation import columns as k
from sorvek.core.simulation.problem import problem_for
from sorvek.core.simulation.timeline import ScoreKind, run_plan
from sorvek.core.workout.course import NO_LIMIT_S
from strategies import athletes, workouts

ROUNDING_S = 1e-6
plain_rules = st.sampled_from([SetRule(), SetRule(then=5), SetRule(then=3), SetRule(then=1)])


def same_for_all(given_problem, rule=SetRule(), rest_s=5.0, pace=1.0):  # noqa: B008  frozen
    return Plan(((Phase(None, Scheme(rule, rest_s, pace)),),) * len(given_problem.course.slots))


def counted(given_problem, timeline):
    """Return the reps of all sets that count for the score, visit by visit."""
    done = [sum(r.reps for r in timeline.sets if r.segment == i) for i in range(len(given_problem.course.segments))]
    return sum(visit.counted_of(n) for visit, n in zip(given_problem.course.segments, done, strict=True))


@given(workouts, athletes, plain_rules)
def test_any_workout_is_run_to_a_sane_end(workout, athlete, rule):
    """No NaN, time never runs backwards, reps add up, nothing lasts past its deadline; and it ends at all."""
    try:
        given_problem = problem_for(workout, athlete)
    except InfeasibleError:
        return
    timeline = run_plan(given_problem, same_for_all(given_problem, rule))
    clock_s = 0.0
    for record in timeline.sets:
        assert clock_s <= record.start_s + ROUNDING_S
        assert record.start_s <= record.end_s
        segment = given_problem.course.segments[record.segment]
        assert record.end_s <= segment.deadline_s + ROUNDING_S
        assert all(0 <= value <= 1 for value in (*record.before, *record.after))
        assert 0 <= record.engine_after <= 1
        clock_s = record.end_s
    segments = given_problem.course.segments
    every = sum(record.reps for record in timeline.sets)
    done = counted(given_problem, timeline)
    assert done <= given_problem.course.total_reps
    assert timeline.score.finished == (every == sum(segment.reps for segment in segments))
    assert timeline.score.value == pytest.approx(timeline.end_s if timeline.score.kind is ScoreKind.TIME else done)


@pytest.mark.parametrize("title", TITLES)
def test_splits_cover_the_work_in_order(title):
    given_problem = problem(title, "building")
    timeline = run_plan(given_problem, same_for_all(given_problem))
    ends = [split.end_s for split in timeline.splits]
    assert ends == sorted(ends)
    assert [split.reps for split in timeline.splits] == sorted(split.reps for split in timeline.splits)
    assert timeline.splits[-1].reps == counted(given_problem, timeline)


def better(one, other) -> bool:
    """Return whether the first timeline is no worse, in the order of the workout's score.

    Half a per cent, or the rep before the cap that the faster one fails and the slower one has no time to try.
    """
    a, b = one.score, other.score
    if a.finished and b.finished and a.kind is ScoreKind.TIME:
        return a.value <= b.value * 1.005 + ROUNDING_S
    return sum(s.reps for s in one.sets) >= sum(s.reps for s in other.sets) * 0.995 - 1


@pytest.mark.parametrize("title", TITLES)
@pytest.mark.parametrize("tier", ["building", "competing"])
def test_a_stronger_athlete_is_never_slower_with_the_same_plan(title, tier):
    base = problem(title, tier)
    plan = same_for_all(base, SetRule(then=3), 8.0)
    before = run_plan(base, plan)
    assert better(run_plan(replace(base, unbroken=base.unbroken * 1.2), plan), before)
    assert better(run_plan(replace(base, who=base.who * [1.1, *5 * [1.0]]), plan), before)
    assert better(run_plan(replace(base, who=base.who * [1.0, 1.2, *4 * [1.0]]), plan), before)


def test_a_lighter_load_is_never_slower():
    times = [
        run_plan(problem(f"for time\n30 clean-and-jerks @ {load} kg", "building"), typed("singles r4")).score.value
        for load in (40, 50, 61, 70)
    ]
    assert times == sorted(times)


@given(rest_s=st.floats(0.0, 20.0))
def test_a_second_of_rest_between_quick_singles_is_a_second_from_none_on(rest_s):
    fresh = problem(
        "for time\n30 clean-and-jerks @ 20 kg", one_rep_max_kg={"clean-and-jerk": 500}, w_prime_j=90_000.0
    )
    plans = [Plan(((Phase(None, Scheme(SetRule(then=1), rest_s=seconds)),),)) for seconds in (0.0, rest_s)]
    none, rested = (run_plan(fresh, plan).score.value for plan in plans)
    assert rested - none == pytest.approx(29 * rest_s, abs=1e-6)


def test_a_longer_cap_never_gives_fewer_reps():
    text = "amrap {}:00\n10 toes-to-bar\n10 deadlifts @ 90 kg"
    plan = typed("5/5 r6", "6/4 r6")
    reps = [run_plan(problem(text.format(minutes)), plan).score.value for minutes in (4, 6, 8, 12)]
    assert reps == sorted(reps)
    assert reps[0] < reps[-1]


@pytest.mark.parametrize(
    ("text", "measured"),
    [("for time\n40 toes-to-bar", {"toes-to-bar": 20}), ("for time\n30 pull-ups", {"pull-up": 12})],
)
def test_the_longest_fresh_set_is_what_was_measured(text, measured):
    """Unbroken from fresh, the first failed rep comes right behind the measured longest set."""
    given_problem = problem(text, unbroken=measured)
    reps = next(iter(measured.values()))
    whole = run_plan(given_problem, typed(f"{reps} then singles r60"))
    assert whole.sets[0].failed_reps == 0
    over = run_plan(given_problem, typed(f"{reps + 1} then singles r60"))
    assert over.sets[0].failed_reps == 1


def test_a_failed_rep_costs_more_than_the_break_that_avoids_it():
    given_problem = problem("for time\n22 toes-to-bar", unbroken={"toes-to-bar": 20})
    failed, broken = (run_plan(given_problem, typed(sets)) for sets in ("unbroken", "13/9 r6"))
    assert failed.failed_reps > 0
    assert broken.failed_reps == 0
    assert broken.score.value < failed.score.value


def test_who_cannot_do_a_rep_scores_what_stands_before_it():
    """coaching: the crux out of reach, everything before it is the score and the tie-break."""
    given_problem = problem("Two Lamps", "building", unbroken={"bar muscle-up": 0})
    timeline = run_plan(given_problem, typed("4/4 r10", "5/5 r10", "3/3 r10", "singles r20"))
    assert timeline.score.stuck_s is not None
    assert timeline.score.value == 4 * 18 + 6
    assert timeline.end_s == 13 * 60


def test_one_sided_work_rests_the_other_arm():
    """Left then right leaves more in reserve than the same reps on one side twice."""
    text = "for time\n30 dumbbell snatches {} @ 22.5 kg\n30 dumbbell snatches {} @ 22.5 kg"
    change = run_plan(problem(text.format("left", "right")), typed("unbroken", "unbroken"))
    same = run_plan(problem(text.format("left", "left")), typed("unbroken"))
    grip = 0
    assert change.sets[-1].after[grip] > same.sets[-1].after[grip] + 0.1


def test_an_obligatory_rest_is_kept_to_the_second():
    timeline = run_plan(problem("Two Lamps", "racing"), typed(*["unbroken"] * 4))
    part_one = next(s for s in timeline.splits if s.label == "Part 1, round 4")
    first_of_two = next(r for r in timeline.sets if r.start_s > part_one.end_s)
    assert first_of_two.start_s - part_one.end_s == pytest.approx(120.0)
    assert timeline.score.tiebreak_s == pytest.approx(part_one.end_s)


def test_a_window_opens_on_its_own_minute_and_a_missed_one_ends_the_workout():
    given_problem = problem("Fog Signal")
    timeline = run_plan(given_problem, same_for_all(given_problem, SetRule(then=5)))
    segments = given_problem.course.segments
    for record in timeline.sets:
        assert segments[record.segment].opens_s <= record.start_s
    missed = segments[timeline.sets[-1].segment]
    assert timeline.end_s == missed.deadline_s < NO_LIMIT_S


def test_a_part_for_reps_alone_is_an_amrap_of_its_time():
    work = "12 thrusters @ 43/30 kg\n  repeat:\n    3 toes-to-bar\n    1 burpee"
    part = problem(f"for reps\npart 4:00:\n  {work}")
    amrap = problem("amrap 4:00\n" + work.replace("\n  ", "\n"))
    plan = typed("6/6 r8", "unbroken", "unbroken")
    assert run_plan(part, plan).score.value == run_plan(amrap, plan).score.value


def test_a_part_is_cut_at_its_cap_and_the_next_begins_when_its_rest_is_over():
    given_problem = problem(
        "for time\npart 1:00:\n  60 burpees\nrest 0:40\npart 2:00:\n  20 burpees\n  9 air squats"
    )
    timeline = run_plan(given_problem, typed("unbroken", "unbroken", "unbroken"))
    first, second, third = timeline.sets
    assert first.end_s <= 60.0
    assert 0 < first.reps < 60
    assert second.start_s == pytest.approx(100.0)
    assert (second.reps, third.reps) == (20, 9)
    assert not timeline.score.finished
    assert timeline.score.value == first.reps + 29


def test_a_part_that_is_done_once_leaves_the_rest_of_its_time_free():
    part = "part 2:00, once:\n  5 burpees\n"
    timeline = run_plan(
        problem(f"for reps\n{part}rest 0:30\n{part}part 1:00:\n  9 air squats"), typed("unbroken", "unbroken")
    )
    starts = {record.segment: record.start_s for record in reversed(timeline.sets)}
    assert [starts[0], starts[1], starts[2]] == [pytest.approx(at, abs=3.0) for at in (0.0, 150.0, 270.0)]
    assert timeline.end_s == 330.0
    for wrong in (
        "for time\npart 2:00, once:\n  5 burpees",
        "for reps\npart 2:00, once:\n  repeat:\n    5 burpees",
    ):
        with pytest.raises(NotationError, match="once"):
            problem(wrong)


def test_the_time_of_a_part_counts_from_its_own_beginning():
    text = "for time\npart 9:00:\n  5 burpees\nrest 0:40\npart 1:00:\n  60 burpees"
    first, second = run_plan(problem(text), typed("unbroken", "unbroken")).sets
    assert second.start_s == pytest.approx(first.end_s + 40.0)
    assert second.start_s + 55.0 < second.end_s <= second.start_s + 60.0


def test_one_movement_as_often_as_possible_costs_no_change_between_reps():
    """As many in the time that 45 take must be 45: the rounds of one rep are one visit."""
    fixed, free = (problem(f"{form}\n{n} thrusters @ 43 kg") for form, n in (("for time", 45), ("amrap 9:00", 1)))
    for given_problem in (fixed, free):
        given_problem.variants[:, k.FASTEST] = 1.0  # nobody sprints for a cap
    plan = typed("sets of 9 r12")
    ends_s = run_plan(fixed, plan).end_s
    free.seg_f[:, k.DEADLINE] = ends_s + 1e-6
    assert run_plan(free, plan).score.value == 45


def test_the_same_plan_gives_the_same_briefing_twice():
    given_problem = problem(BY_TITLE["Breakwater"], "building")
    plan = typed("6/6 r10", "singles r3", "unbroken")
    assert brief(given_problem, plan).band == brief(given_problem, plan).band


def test_a_restart_costs_its_share_of_a_rep():
    """A second set begins with the rest's recovery less 0.4 U/(U + 8) reps of cost, by hand for one resource."""
    given_problem = problem("for time\n10 strict handstand push-ups", unbroken={"strict handstand push-up": 20})
    first, second = run_plan(given_problem, typed("5/5 r6")).sets
    push, u, tau = 2, 20 + 0.5 / 20, RECOVERY_TAU_S[2]
    gap_s = second.start_s - first.end_s
    slow = 1 + TAU_SLOWING * (1 - first.engine_after)
    lasting = u**3 / (u**3 + LASTING_HALF_U**3) / u * sum(1 + DEPTH_COST * (i / u) ** 6 for i in range(1, 6))
    ceiling = 1 - CEILING_DROP * (1 - math.exp(-lasting / CEILING_SCALE))
    rested = ceiling - (ceiling - first.after[push]) * math.exp(-gap_s / (tau * slow))
    assert gap_s == pytest.approx(6 + 1 + 2.5)
    assert second.before[push] == pytest.approx(rested - 0.4 / (u + 8), abs=1e-3)


def test_forced_rest_is_counted_and_lasts_at_least_twelve_seconds():
    timeline = run_plan(problem("for time\n60 toes-to-bar", unbroken={"toes-to-bar": 15}), typed("unbroken"))
    assert timeline.failed_reps >= 2
    assert timeline.forced_rest_s >= 12 * timeline.failed_reps
    assert sum(record.forced_rest_s for record in timeline.sets) == pytest.approx(timeline.forced_rest_s)
    assert timeline.end_s > 60 * 1.6 + timeline.forced_rest_s


SCORED = "amrap 9:00{}\n300 m run\nrepeat:\n  6 power cleans @ 50/35 kg\n  9 burpees"


def test_work_that_is_done_first_and_does_not_count_is_taken_off_the_score():
    """What is done once costs the same time whether it counts or not, so that the score differs by its reps."""
    both = [problem(SCORED.format(words), "building") for words in ("", ", score power cleans + burpees")]
    whole, part = (run_plan(given_problem, same_for_all(given_problem)).score for given_problem in both)
    assert whole.value - part.value == 300
    rounds, rest = divmod(round(part.value), 15)
    assert part.text == f"{part.value:.0f} reps ({rounds} + {rest})"


def test_metres_that_make_a_rep_together_are_counted_when_all_of_them_are_done():
    """The same work takes the same time; what it counts is worked out from the metres of every visit."""
    lines = "amrap 9:00\n130 m row{}\n5 burpees\n15 m overhead lunge steps @ 20/15 kg{}"
    whole, some = (
        problem(lines.format(*words), "building") for words in (("", ""), (", 1 rep per 40 m", ", 1 rep per 1.5 m"))
    )
    plan = same_for_all(whole)
    before, after = run_plan(whole, plan), run_plan(some, plan)
    assert [record.end_s for record in after.sets] == [record.end_s for record in before.sets]
    done, by_slot = [0] * len(some.course.segments), {0: 40.0, 1: 1.0, 2: 1.5}
    for record in before.sets:
        done[record.segment] += record.reps
    slots = [segment.slot for segment in some.course.segments]
    assert after.score.value == sum(int(n / by_slot[slot]) for n, slot in zip(done, slots, strict=True) if n)
    assert after.score.value != before.score.value
    assert [split.reps for split in after.splits[:2]] == [18, 36]


def test_only_one_movement_of_rounds_counts():
    given_problem = problem(SCORED.format(", score burpees"), "building")
    timeline = run_plan(given_problem, same_for_all(given_problem))
    burpees = [r for r in timeline.sets if given_problem.course.segments[r.segment].slot == 2]
    assert timeline.score.value == sum(record.reps for record in burpees) > 0
    assert timeline.splits[-1].reps == timeline.score.value
    assert [split.reps for split in timeline.splits[:3]] == [0, 9, 18]
