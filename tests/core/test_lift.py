"""Choosing attempts: against brute force, simulation and what practitioners see; its limits and messages."""

import math
from dataclasses import replace
from functools import lru_cache

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from sorvek.core.athlete.athlete import Athlete, Figure, Origin
from sorvek.core.constants import DAY_BEST_FRAC, HEAVY_FRAC, LEAST_REST_S, LIGHT_REST_S, SQUEEZED_REST_S
from sorvek.core.errors import CoreError, LiftError, OutOfRangeError
from sorvek.core.lift import kernel as ak
from sorvek.core.lift.attempts import expected_kg, plan_attempts, tempered_policy
from sorvek.core.lift.hall.build_up import build_up
from sorvek.core.lift.hall.crew import Crew, loading_s
from sorvek.core.lift.hall.plates import USUAL_GYM, Piece, parse_gym
from sorvek.core.lift.levels import best_style, pounds_doubt, ready_shares, spread_of
from sorvek.core.lift.reasons import Told
from sorvek.core.lift.schools import LiftSchool, compare_attempts
from sorvek.core.lift.solve import LiftWindow, Move
from sorvek.core.lift.task import Aim, LiftTask, Typed, steepness
from sorvek.core.simulation.timeline import Tank
from sorvek.core.workout.movements import shipped_library

GYM = parse_gym(USUAL_GYM)
FEW = parse_gym("bar 20 kg\npairs 1x20 1x15 1x10 1x5 kg")
TASK = LiftTask(100.0, 300.0, GYM, GYM.bar("20"))
LIBRARY = shipped_library()
MOVEMENTS = LIBRARY.movements


def brute_force(window):
    """Return the best mean lift by trying every move after every history, each with all it says of the day."""
    last = window.last_start

    def starts(end):
        return {s for s in range(0, last + 1, 3) if s >= end} | {last}

    def worth(state):
        best = float(window.kg[state.best - 1]) if state.best else 0.0
        for start in starts(state.end) if state.end <= last else ():
            for load in range(state.best, len(window.kg)):
                move = Move(load, start)
                p = window.chance(state, move)
                if allowed(state, move, p):
                    made, missed = (worth(window.after(state, move, result)) for result in (True, False))
                    best = max(best, p * made + (1 - p) * missed)
        return best

    def allowed(state, move, p):
        if state.last == ak.FIRST:
            return p >= window.task.least_opening_frac
        heavy = max(window.share[state.last], window.share[move.load]) >= HEAVY_FRAC
        rest_s = (move.start - state.end) * ak.STEP_S
        return (
            p >= window.least_chance
            and move.start >= window.ready_at(state, move.load)
            and (rest_s >= (LEAST_REST_S if heavy else LIGHT_REST_S) or squeezed(rest_s, move.start))
            and (
                not state.missed
                or move.load == state.last
                or (move.load < state.last and drops(window, state, move.load))
            )
        )

    def squeezed(rest_s, start):
        return start == last and (rest_s >= SQUEEZED_REST_S or last * ak.STEP_S < LEAST_REST_S + 10)

    return worth(window.start)


def drops(window, state, load):
    """Return whether a lighter load after a miss is worth it, or while nothing stands not too far down."""
    kg, one_rm_kg = window.kg[load], window.task.one_rep_max_kg
    if not state.best:
        return load == state.last - 1 or kg >= window.kg[state.last] - 0.1 * one_rm_kg
    return kg >= window.kg[state.best - 1] + 0.03 * one_rm_kg


@pytest.mark.parametrize("crew", Crew)
@pytest.mark.parametrize("window_s", [30.0, 100.0, 190.0])
@pytest.mark.parametrize("one_rm", [60.0, 75.0, 90.0])
def test_the_programme_finds_what_brute_force_finds(crew, window_s, one_rm):
    few = parse_gym("bar 20 kg\npairs 1x20 1x15 1x5 kg")
    task = LiftTask(one_rm, window_s, few, Piece(20), crew)
    window = LiftWindow(task)
    assert 2 <= len(window.kg) <= 4
    found, best = expected_kg(window, window.best_move), brute_force(window)
    # The programme keeps a normal belief on a grid, and of a missed bar only that there was one.
    assert best * 0.998 <= found <= best + 1e-9


@pytest.mark.parametrize("spread", [0.0, 0.1])
def test_what_is_promised_is_what_hidden_days_give(spread):
    # The day's form is drawn once and stays; every attempt has luck of its own on top.
    task = replace(TASK, window_s=360.0, spread_frac=spread)
    window, rng, runs = LiftWindow(task), np.random.Generator(np.random.PCG64(7)), 4000
    policy = tempered_policy(window)
    prior, bests, next_state = window.start.form, [], lru_cache(maxsize=None)(path_after(window, policy))
    for _ in range(runs):
        form, history = rng.choice(prior.values, p=prior.chances), ()
        while (found := next_state(history))[1] is not None:
            state, move = found
            beyond = window.demand(state, move) - form
            luck = rng.logistic(0, task.own_luck * math.sqrt(3) / math.pi)
            history = (*history, bool(luck > beyond))
        bests.append(float(window.kg[found[0].best - 1]) if found[0].best else 0.0)
    plan = plan_attempts(task)
    assert plan.expected_kg == pytest.approx(np.mean(bests), abs=4 * np.std(bests) / math.sqrt(runs))
    assert sum(share for _, share in plan.outcomes) == pytest.approx(1)


def path_after(window, policy):
    """Return a function from a history of results to the state it leads to and the move from there."""

    def follow(history):
        state = window.start
        for made in history:
            state = window.after(state, policy(state), made)
        return state, policy(state)

    return follow


def optimum(task):
    """Return what is to be had without the choice of a ladder that gets made."""
    return max(choice.value for choice in LiftWindow(task).openings[0])


@settings(max_examples=25)
@given(st.floats(50, 180), st.sampled_from([60.0, 150.0, 300.0]), st.sampled_from(list(Crew)), st.floats(1.01, 1.3))
def test_more_time_or_strength_or_hands_never_lowers_the_lift(one_rm, window_s, crew, factor):
    task = replace(TASK, one_rep_max_kg=one_rm, window_s=window_s, crew=crew)
    more = [replace(task, window_s=window_s + 35), replace(task, crew=Crew.TWO)]
    assert all(optimum(better) >= optimum(task) - 1e-9 for better in more)
    # The loads looked at move with the 1RM; what is cut off at the light end is worth less than a gram.
    stronger = replace(task, one_rep_max_kg=one_rm * factor)
    assert optimum(stronger) >= optimum(task) - 1e-3
    chosen = plan_attempts(task).expected_kg
    assert all(plan_attempts(better).expected_kg >= 0.985 * chosen for better in (*more, stronger))


def with_pair(gym, piece):
    counts = dict(gym.pairs)
    counts[piece] = counts.get(piece, 0) + 1
    return replace(gym, pairs=tuple(sorted(counts.items(), key=lambda item: -item[0].mass_kg)))


@settings(max_examples=40)
@given(
    st.floats(60, 160),
    st.sampled_from([FEW, GYM]),
    st.sampled_from([Piece(20), Piece(15), Piece(10), Piece(2.5), Piece(1.25)]),
    st.sampled_from(list(Crew)),
    st.sampled_from([150.0, 240.0, 360.0]),
)
def test_more_plates_never_lower_the_expected_best(one_rm, gym, extra, crew, window_s):
    # Without the rule for the first attempt: more plates can make a safe one possible that it then insists on.
    task = LiftTask(one_rm, window_s, gym, Piece(20), crew, least_opening_frac=0.0)
    more = replace(task, gym=with_pair(gym, extra))
    try:
        base, chosen = optimum(task), plan_attempts(task).expected_kg
    except LiftError:  # the few plates end far below the 1RM
        return
    assert optimum(more) >= base - 1e-9
    assert plan_attempts(more).expected_kg >= 0.985 * chosen


@settings(max_examples=40)
@given(st.floats(60, 150), st.sampled_from([60.0, 120.0, 180.0]), st.sampled_from(list(Crew)))
def test_every_change_of_plates_fits_its_rest(one_rm, window_s, crew):
    attempts = plan_attempts(replace(TASK, one_rep_max_kg=one_rm, window_s=window_s, crew=crew)).attempts
    assert all(a.loading_s <= a.rest_s for a in attempts[1:])


@pytest.mark.parametrize("one_rm", [60.0, 100.0, 140.0])
@pytest.mark.parametrize("window_s", [300.0, 360.0])
def test_three_or_four_good_attempts_come_out_by_themselves(one_rm, window_s):
    # common practice, no source: 3–4 good attempts in a window of 5–6 minutes; six is a lot
    attempts = plan_attempts(replace(TASK, one_rep_max_kg=one_rm, window_s=window_s)).attempts
    good = [a for a in attempts if a.load_kg >= 0.8 * one_rm]
    assert 3 <= len(good) <= 5
    assert attempts[0].chance >= 0.9
    assert all(a.chance >= 0.05 for a in attempts)
    # Rests of a minute and more; only before the latest start a little less.
    rests = [a.rest_s for a in attempts[1:]]
    assert min(rests[:-1]) >= 60
    assert rests[-1] >= 45


def test_the_chance_follows_the_stated_curve():
    # starting values of the model: about 50 % at the day's best, 97–98 % at 90 % of it, and a few wrecked days
    window = LiftWindow(replace(TASK, ready=(1 / DAY_BEST_FRAC,)), [77.5, 87.5, 90.0])
    chances = {kg: window.chance(window.start, Move(window.index(kg), 0)) for kg in (77.5, 87.5, 90.0)}
    assert 1 / (1 + math.exp(steepness() * (0.9 - 1))) == pytest.approx(0.975)
    assert chances[77.5] > 0.99
    assert chances[87.5] > 0.96
    assert 0.93 < chances[90.0] <= 0.975  # 90 kg is a step of 12 % from the build-up


# Handbook table of repetition maxima: Essentials of Strength Training and Conditioning (NSCA), % of 1RM by reps;
# the values are quoted from memory.
NSCA = {1: 100, 2: 95, 3: 93, 4: 90, 5: 87, 6: 85, 7: 83, 8: 80, 9: 77, 10: 75}


@pytest.mark.parametrize(("reps", "percent"), NSCA.items())
def test_a_1rm_from_a_rep_max_is_within_three_percent_of_the_handbook(reps, percent):
    style = MOVEMENTS["deadlift"].styles[0]
    load = MOVEMENTS["deadlift"].reference("m")
    athlete = Athlete("A", "building", unbroken={"deadlift": reps})
    assert load / best_style(athlete, MOVEMENTS["deadlift"], LIBRARY)[1].value == pytest.approx(
        percent / 100, abs=0.03
    )
    assert style.lift == "deadlift"


def test_a_miss_and_a_make_lead_to_different_decisions():
    first, second = plan_attempts(TASK).attempts[:2]
    assert second.if_made.load_kg > second.load_kg
    assert second.if_missed.load_kg <= second.load_kg
    after = plan_attempts(
        TASK, [Typed(first.load_kg, first.start_s, True), Typed(second.load_kg, second.start_s, False)]
    ).attempts
    assert after[2].load_kg == second.if_missed.load_kg
    # Once it is known that the second was missed, the plates before it may be stacked for what follows.
    assert after[2].start_s == pytest.approx(second.if_missed.start_s, abs=15)


def test_known_results_count_as_certain():
    plan = plan_attempts(TASK, [Typed(85.0, 0.0, True), Typed(95.0, 60.0, True)])
    assert plan.none_frac == 0
    assert min(kg for kg, _ in plan.outcomes) == 95
    assert [a.typed for a in plan.attempts[:3]] == [True, True, False]
    missed = plan_attempts(TASK, [Typed(85.0, 0.0, False)])
    assert missed.expected_kg < plan.expected_kg
    assert missed.attempts[1].load_kg <= 85


def test_a_lighter_lift_after_the_best_changes_nothing():
    plan = plan_attempts(TASK, [Typed(95.0, 0.0, True), Typed(80.0, 60.0, True)])
    assert min(kg for kg, _ in plan.outcomes) == 95


def test_a_goal_far_away_is_aimed_at_where_the_expected_best_would_not():
    goal = replace(TASK, aim=Aim.GOAL, goal_kg=107.5)
    plain, bold = plan_attempts(replace(goal, aim=Aim.LOAD)), plan_attempts(goal)
    assert bold.goal_frac > plain.goal_frac
    assert bold.expected_kg < plain.expected_kg


def test_places_follow_the_field_not_the_kilograms():
    # Forty people stand at 100 kg and equal lifts share a place: to stand with them is worth more than any kilo.
    field = tuple(sorted([100.0] * 40 + [60.0] * 5 + [130.0] * 5))
    plan = plan_attempts(replace(TASK, aim=Aim.PLACES, field_kg=field))
    assert plan.places < plan_attempts(replace(TASK, field_kg=field)).places
    assert 100 in [a.load_kg for a in plan.attempts]

    def reached(made):
        return sum(share for kg, share in made.outcomes if kg >= 100)

    assert reached(plan) > reached(plan_attempts(TASK))


def test_doubt_about_the_1rm_makes_the_heaviest_safe_opening_lighter():
    def heaviest_safe(task):
        window = LiftWindow(task)
        chances = [window.chance(window.start, Move(load, 0)) for load in range(len(window.kg))]
        return max(kg for kg, chance in zip(window.kg, chances, strict=True) if chance >= 0.9)

    nobody = Athlete("A", "building")
    doubtful = spread_of(nobody, "snatch", Figure(100.0, Origin.TIER))
    assert heaviest_safe(replace(TASK, spread_frac=doubtful)) < heaviest_safe(TASK)


def test_an_empty_tank_lowers_the_lift_and_rest_brings_it_back():
    style = MOVEMENTS["clean-and-jerk"].styles[0]
    tired = Tank((0.3,) * 6, (2.0,) * 6, 1000.0, 20_000.0, 250.0)
    shares = ready_shares(tired, style, 300.0)
    assert shares == tuple(sorted(shares))
    assert shares[0] < 0.85 < shares[-1] < 1
    fresh = ready_shares(Tank((1.0,) * 6, (0.0,) * 6, 20_000.0, 20_000.0, 250.0), style, 300.0)
    assert fresh == pytest.approx((1.0,) * len(fresh))
    assert plan_attempts(replace(TASK, ready=shares)).expected_kg < plan_attempts(TASK).expected_kg


def test_loading_takes_both_sides_unless_two_load():
    assert loading_s(0, Crew.ALONE) == 0
    assert loading_s(2, Crew.ONE) == 2 * loading_s(2, Crew.TWO) == loading_s(2, Crew.ALONE)
    alone = plan_attempts(replace(TASK, crew=Crew.ALONE))
    assert alone.expected_kg < plan_attempts(TASK).expected_kg
    for plan in (alone, plan_attempts(replace(TASK, crew=Crew.TWO))):
        assert all(a.rest_s >= a.loading_s for a in plan.attempts[1:])


def test_schools_are_beaten_by_the_plan_and_say_by_how_much():
    best, runs = compare_attempts(replace(TASK, goal_kg=105.0, least_opening_frac=0.0))
    assert [run.school for run in runs] == list(LiftSchool)
    for run in runs:
        assert run.plan.expected_kg <= 1.015 * best.expected_kg
        assert "in the mean" in Told(best, TASK, "{:.1f} kg".format).verdict(run.plan)
        assert run.plan.goal_frac is not None
    by_goal = runs[0].plan.attempts
    assert [a.load_kg for a in by_goal[:3]] == [62.5, 85.0, 105.0]  # 60, 80, 100 % of the goal on these plates


def test_the_build_up_ends_under_four_fifths_and_leaves_time_to_load():
    sets = build_up(100.0, GYM, GYM.bar("20"), Crew.ALONE)
    assert (sets[0].load_kg, sets[0].stack) == (25.0, ())
    assert 75 <= sets[-1].load_kg <= 80
    assert [s.before_s for s in sets] == sorted((s.before_s for s in sets), reverse=True)
    assert sets[-1].before_s > 300


@pytest.mark.parametrize(
    ("changes", "error", "words"),
    [
        ({"one_rep_max_kg": -5.0}, OutOfRangeError, "from 10 to 500"),
        ({"one_rep_max_kg": 900.0}, OutOfRangeError, "from 10 to 500"),
        ({"one_rep_max_kg": math.nan}, OutOfRangeError, "from 10 to 500"),
        ({"window_s": 5.0}, LiftError, "0:05 is shorter than one attempt"),
        ({"goal_kg": 10.0}, LiftError, "below the empty bar .25 kg"),
        ({"opening_kg": 10.0}, LiftError, "opening of 10 kg is below"),
        ({"opening_kg": 81.0}, LiftError, "nearest are 80 kg and 82.5 kg"),
        ({"aim": Aim.GOAL}, LiftError, "needs a goal"),
        ({"aim": Aim.PLACES}, LiftError, "import a leaderboard"),
        ({"gym": parse_gym("bar 20 kg\npairs 1x1 kg"), "one_rep_max_kg": 400.0}, LiftError, "plates end at 22 kg"),
    ],
)
def test_what_cannot_be_planned_names_the_remedy(changes, error, words):
    with pytest.raises(error, match=words):
        plan_attempts(replace(TASK, **changes))


@pytest.mark.parametrize(
    ("typed", "words"),
    [
        ([Typed(101.0)], "101 kg cannot be loaded"),
        ([Typed(80.0, 0.0), Typed(95.0, 15.0)], "attempt 2 at 0:15: the bar is ready at"),
        ([Typed(80.0, 295.0)], "attempt 1 at 4:55 ends after the window; start it by 4:50"),
    ],
)
def test_a_typed_attempt_that_does_not_fit_says_which_and_why(typed, words):
    with pytest.raises(LiftError, match=words):
        plan_attempts(TASK, typed)


@given(
    st.floats(10, 500),
    st.integers(10, 700),
    st.sampled_from(list(Crew)),
    st.floats(0, 0.2),
    st.lists(st.floats(0.5, 1), max_size=3),
)
@settings(max_examples=30)
def test_any_task_gives_a_plan_inside_the_window_or_a_message(one_rm, window_s, crew, spread, ready):
    task = LiftTask(one_rm, float(window_s), GYM, GYM.bar("15"), crew, spread, ready=tuple(sorted(ready)))
    try:
        plan = plan_attempts(task)
    except CoreError as error:
        if not str(error):
            pytest.fail("a refusal without words")
        return
    assert sum(share for _, share in plan.outcomes) == pytest.approx(1)
    assert all(0 <= a.chance <= 1 and a.start_s + 10 <= window_s for a in plan.attempts)
    starts = [a.start_s for a in plan.attempts]
    assert starts == sorted(set(starts))


def test_pounds_typed_as_kilograms_are_asked_about():
    assert "102.1 kg" in pounds_doubt(225.0, 100.0)
    assert pounds_doubt(105.0, 100.0) == ""
    assert pounds_doubt(165.0, 100.0) != ""
    assert pounds_doubt(500.0, 100.0) == ""  # as pounds it would be absurd too


def test_a_movement_without_a_bar_has_no_max_lift():
    with pytest.raises(LiftError, match="choose a barbell lift"):
        best_style(Athlete("A", "building"), MOVEMENTS["burpee"], LIBRARY)
    style, figure = best_style(Athlete("A", "building"), MOVEMENTS["snatch"], LIBRARY)
    assert (style.name, figure.origin) == ("squat", Origin.TIER)
