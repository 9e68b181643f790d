"""Schools, exchange rates, milestones, tiers: what stands beside a recommendation."""

import pytest

from examples import problem, typed
from sorvek.core.advice.briefing import brief
from sorvek.core.advice.crux import find_crux
from sorvek.core.advice.exchange import exchange_rates, milestones, must_be_true, nothing_won
from sorvek.core.advice.explain import breakdown, recommendation, verdict
from sorvek.core.advice.schools import compare_schools, school_plan, schools_for
from sorvek.core.athlete.athlete import Athlete
from sorvek.core.club.tiering import Outcomes, capacity_band, median_member
from sorvek.core.errors import SetsError
from sorvek.core.plan.shorthand import parse_shorthand
from sorvek.core.planner.planner import plan_workout
from sorvek.core.planner.set_rules import School
from sorvek.core.simulation.timeline import run_plan


@pytest.mark.parametrize(("title", "tier"), [("Breakwater", "building"), ("Two Lamps", "competing")])
def test_every_school_is_scored_and_none_beats_the_recommendation_on_all_days(title, tier):
    """A school may be faster on all days only where it breaks on a third of them, and then its verdict says so."""
    given_problem = problem(title, tier)
    best = plan_workout(given_problem).plan
    own, results = brief(given_problem, best).band, compare_schools(given_problem, best)
    assert {result.school for result in results} == set(schools_for(given_problem))
    for result in results:
        assert result.verdict
        band = result.briefing.band
        if band.timed is own.timed:
            pairs = [(band.p10, own.p10), (band.p50, own.p50), (band.p90, own.p90)]
            better = [a < 0.98 * b if own.timed else a > 1.02 * b for a, b in pairs]
            if all(better):
                assert max(band.forced_break_frac) >= 0.35, result.school
                assert "% of days" in result.verdict


def test_a_verdict_is_the_difference_of_what_is_shown_and_says_why():
    given_problem = problem("Breakwater", "building")
    best = brief(given_problem, plan_workout(given_problem).plan)
    shown = round(best.band.middle.value)
    for result in compare_schools(given_problem, best.plan):
        gap = round(result.briefing.band.middle.value) - shown
        worse = f"{-gap} rep{'' if gap == -1 else 's'} fewer: "
        wanted = worse if gap < 0 else "the same reps" if gap == 0 else f"{gap} rep"
        assert result.verdict.startswith(wanted), result
        if gap > 0:
            assert "more: but " in result.verdict


def test_who_finishes_on_most_days_is_compared_in_words_with_who_does_not():
    given_problem = problem("for time, cap 6:00\n60 toes-to-bar", unbroken={"toes-to-bar": 20})
    fast, slow = (brief(given_problem, typed(sets)) for sets in ("12x5 r8", "singles r20"))
    assert verdict(slow, fast).startswith("does not finish in the middle of the days: ")
    assert verdict(fast, slow).startswith("finishes in the middle of the days")


def test_in_windows_one_school_works_fast_and_waits_while_the_other_spreads_the_rest_inside():
    given_problem = problem("Fog Signal", "racing")
    plan = plan_workout(given_problem).plan
    banked, held = (
        run_plan(given_problem, school_plan(given_problem, school, plan)).splits
        for school in (School.BANK_EARLY, School.HOLD_BACK)
    )
    ratios = [
        (fast.end_s - fast.start_s) / (slow.end_s - slow.start_s) for fast, slow in zip(banked, held, strict=False)
    ]
    assert len(ratios) > 4
    assert max(ratios[:-1]) < 1
    assert ratios[0] < 0.9


def test_a_school_keeps_to_its_own_sets():
    given_problem = problem("Breakwater")
    recommended = plan_workout(given_problem).plan
    singles = school_plan(given_problem, School.SINGLES, recommended)
    assert singles.slots[1][0].scheme.rule.sets(9) == (1,) * 9
    big = school_plan(given_problem, School.BIG_FIRST, recommended).slots[0][0].scheme.rule.sets(12)
    assert len(big) == 2
    assert big[0] > big[1]
    stairs = school_plan(given_problem, School.DESCENDING, recommended).slots[0][0].scheme.rule.sets(12)
    assert list(stairs) == sorted(stairs, reverse=True)
    for school in (School.EVEN, School.PROBE, School.BIG_FIRST, School.DESCENDING):
        assert all(sum(rule.sets(15)) == 15 for rule in school.rules([15]))


def test_schools_speak_only_of_what_they_are_for():
    """Common practice, no source: singles for the barbell, probing for hard skills; light work is not broken."""
    text = "amrap 12:00\n5 bar muscle-ups\n9 power cleans @ 60/42.5 kg\n30 double-unders"
    weak, strong = (
        problem(text, "racing", unbroken={"bar muscle-up": most, "double-under": 200}) for most in (5, 30)
    )
    assert [school.slots_of(weak) for school in (School.SINGLES, School.PROBE, School.UNBROKEN)] == [
        (1,),
        (0,),
        (0, 1, 2),
    ]
    assert 2 not in School.EVEN.slots_of(weak)
    assert School.PROBE.slots_of(strong) == ()
    assert School.PROBE not in schools_for(strong)
    ladder = problem("for time\nreps 21-15-9:\n  power cleans @ 60/42.5 kg\n  pull-ups", "building")
    assert School.BIG_FIRST.slots_of(ladder) == ()
    assert School.EVEN.slots_of(ladder) == (0, 1)


def test_the_quick_singles_school_looks_for_its_rest():
    """Nobody waits five seconds behind a deadlift of half of the best: drop, reset and lift again."""
    light = problem("for time\n30 deadlifts @ 80 kg", "racing", one_rep_max_kg={"deadlift": 200})
    (phase,) = school_plan(light, School.SINGLES, typed("unbroken")).slots[0]
    assert phase.scheme.rule.sets(3) == (1, 1, 1)
    assert phase.scheme.rest_s <= 1


def test_in_a_chipper_one_pace_school_saves_itself_early_and_the_other_late():
    chipper = problem("for time\n60 air squats\n40 burpees\n60 sit-ups\n30 push-ups")
    base = typed("unbroken", "unbroken", "unbroken", "5x6")
    held, banked = (
        [phase.scheme.pace for (phase,) in school_plan(chipper, school, base).slots]
        for school in (School.HOLD_BACK, School.BANK_EARLY)
    )
    assert held[0] > held[-1]
    assert banked[0] < banked[-1]
    assert school_plan(chipper, School.EVEN_PACE, base) == base


def test_holding_back_ends_behind_half_of_the_rounds_that_are_reached():
    rounds, base = problem("Breakwater"), typed("6/6 r5", "singles r2", "unbroken")
    reached = max(rounds.ranks[r.segment] for r in run_plan(rounds, base).sets)
    for early, late in school_plan(rounds, School.HOLD_BACK, base).slots:
        assert early.until in (reached // 2, (reached - 1) // 2)
        assert early.scheme.pace > late.scheme.pace


def test_the_quick_singles_school_is_not_slower_than_a_plan_of_quick_singles():
    given_problem = problem("Thirty", "building")
    for sets in ("singles r0", "singles r1", "singles 1br"):
        own = typed(sets)
        school = school_plan(given_problem, School.SINGLES, own)
        assert run_plan(given_problem, school).score.value <= run_plan(given_problem, own).score.value


def test_a_forced_break_is_explained_by_what_ran_out_and_when():
    given_problem = problem("Breakwater", "building")
    best = brief(given_problem, plan_workout(given_problem).plan)
    hot = brief(given_problem, typed("unbroken", "unbroken", "unbroken"))
    assert hot.timeline.failed_reps > 0
    first = next(record for record in hot.timeline.sets if record.failed_reps)
    minute = f"{int(first.start_s // 60)}:{round(first.start_s) % 60:02d}"
    assert minute in breakdown(hot)
    assert "forced break" in verdict(hot, best)
    assert breakdown(best) == ""
    assert "limits" in recommendation(hot)


def why(text: str, *sets: str, **fields) -> str:
    given_problem = problem(text, **fields)
    return recommendation(brief(given_problem, typed(*sets)))


def test_the_reason_is_what_runs_low_and_only_then():
    assert why("for time\n100 burpees", "unbroken").startswith("Breath is what limits: at ")
    hangs = "for time\n5 rounds:\n  10 toes-to-bar\n  10 air squats"
    strong, spent = (why(hangs, "5/5 r5", "unbroken", unbroken={"toes-to-bar": most}) for most in (28, 16))
    assert spent.startswith("Trunk is what limits: after the toes-to-bar at ")
    assert strong.startswith("Nothing runs out: the toes-to-bar never has less than ")
    assert "just holds" not in strong
    assert "Time goes on the reps themselves (" in strong
    assert "; 5 % faster on the toes-to-bar wins 4 s." in strong


def test_a_prescribed_rest_is_not_where_the_time_goes():
    text = "for time\n5 air squats\nrest 5:00\n5 air squats"
    assert "Time goes on the reps themselves" in why(text, "unbroken", "unbroken")


@pytest.mark.parametrize("most", [0, 0.4])
def test_who_cannot_do_a_rep_is_told_which(most):
    text = "for time, cap 5:00\n20 pull-ups\n5 ring muscle-ups"
    said = why(text, "unbroken", "singles r20", unbroken={"ring muscle-up": most})
    assert said == "The ring muscle-up is what limits: no rep of it is in reach with the numbers on file."


def test_a_locked_scheme_stays_and_the_rest_is_planned_around_it():
    given_problem = problem("Breakwater", "building")
    locked = parse_shorthand("4/4/4 r20")
    plan = plan_workout(given_problem, kept={0: locked}).plan
    assert plan.slots[0] == locked
    free = plan_workout(given_problem).plan
    assert run_plan(given_problem, free).score.value >= run_plan(given_problem, plan).score.value - 2
    everything = {slot: parse_shorthand("unbroken") for slot in range(3)}
    assert plan_workout(given_problem, kept=everything).plan.slots == tuple(everything.values())
    with pytest.raises(SetsError, match="adds up to 15, not 12"):
        plan_workout(given_problem, kept={0: parse_shorthand("8/7")})


def test_exchange_rates_are_what_the_simulation_says():
    """Faster reps save their own time: 5 % of the seconds of fresh, unlimited work, and cost nothing later."""
    given_problem = problem("for time\n20 burpees\n20 air squats", critical_power_w=600.0, w_prime_j=60_000.0)
    given_problem.unbroken[:] = 10_000
    burpees, squats = exchange_rates(given_problem, typed("unbroken", "unbroken"))
    assert burpees.pace_won == pytest.approx(0.05 * 20 * 2.3, abs=1e-6)
    assert squats.pace_won == pytest.approx(0.05 * 20 * 1.4, abs=1e-6)
    assert burpees.pace_cost_s == pytest.approx(0.0, abs=1e-9)
    assert (burpees.unit, burpees.rest_won) == ("s", 0.0)


def test_where_all_is_done_in_any_case_nothing_is_won():
    text = "{}\npart 9:00, once:\n  9 burpees\npart 9:00, once:\n  9 air squats"
    plan = typed("unbroken", "unbroken")
    assert nothing_won(exchange_rates(problem(text.format("for reps")), plan))
    assert not nothing_won(exchange_rates(problem("for time\n9 burpees\n9 air squats"), plan))


def test_less_rest_near_the_limit_costs_more_than_it_saves():
    given_problem = problem("for time\n40 toes-to-bar", unbroken={"toes-to-bar": 12})
    (row,) = exchange_rates(given_problem, typed("8x5 r11"))
    assert row.rest_won < 8 * 0.2 * 11


def test_round_targets_ask_for_their_even_pace():
    """Arithmetic: 11:00 in 7 rounds is 94.3 s a round, in 8 rounds 82.5 s."""
    given_problem = problem("Breakwater")
    timeline = run_plan(given_problem, plan_workout(given_problem).plan)
    paces = {m.target: (m.pace_s, m.held) for m in milestones(given_problem, timeline)}
    done = int(timeline.score.value // 27)
    assert paces[f"{done} rounds"] == (pytest.approx(660 / done), True)
    assert paces[f"{done + 1} rounds"] == (pytest.approx(660 / (done + 1)), False)
    assert must_be_true(given_problem, timeline) == ""


def test_of_rounds_that_grow_an_even_pace_is_one_of_reps_and_metres_are_none():
    """Arithmetic: rounds of 2, 4, 6 ... reps: one round in 6:00 is 180 s a rep, two are 60, three are 30."""
    growing, plan = problem("amrap 6:00\nladder 2,+2:\n  burpees"), typed("unbroken")
    slow = run_plan(growing, typed("singles r60"))
    assert [(m.target, m.pace_s, m.unit) for m in milestones(growing, slow)][:2] == [
        ("1 round", 180.0, "s a rep"),
        ("2 rounds", 60.0, "s a rep"),
    ]
    rowed = problem("for time, cap 9:00\n3 rounds:\n  400 m row\n  20 burpees", "starting")
    plan = typed("unbroken", "singles r10")
    timeline = run_plan(rowed, plan)
    assert [(m.pace_s, m.unit) for m in milestones(rowed, timeline)] == [(180.0, "s a round")]
    assert must_be_true(rowed, timeline).startswith("To finish, every rep and rest would have to be ")


def test_what_must_be_true_to_finish_counts_the_reps_left():
    given_problem = problem("Two Lamps", "building")
    timeline = run_plan(given_problem, plan_workout(given_problem).plan)
    assert f"{105 - int(timeline.score.value)} more reps" in must_be_true(given_problem, timeline)


@pytest.mark.parametrize(
    ("tier", "fields", "wanted"),
    [
        ("starting", {}, "will not reach the second part"),
        ("building", {}, "reaches the second part"),
        ("racing", {}, "races for place"),
    ],
)
def test_outcome_tiers(tier, fields, wanted):
    given_problem = problem("Two Lamps", tier, **fields)
    made = brief(given_problem, plan_workout(given_problem).plan)
    assert Outcomes.of(made.course).reached(made) == wanted


OUTCOMES = {
    "Breakwater": ("8 rounds or more", "from 6 rounds", "from 4 rounds", "under 4 rounds"),
    "Fog Signal": ("passes 4 windows or more", "passes 2 or 3 windows", "passes one window", "passes no window"),
    "Harbour Steps": ("finishes every stage", "reaches stage 3", "reaches stage 2", "stays in stage 1"),
    "Long Pier": ("races for place", "will finish", "gets past half of the work", "stops in the first half"),
}


@pytest.mark.parametrize("title", OUTCOMES)
def test_every_form_has_outcomes_of_its_own_and_stronger_athletes_better_ones(title):
    places = []
    for tier in ("starting", "competing", "racing"):
        given_problem = problem(title, tier)
        made = brief(given_problem, plan_workout(given_problem).plan)
        outcomes = Outcomes.of(made.course)
        assert outcomes.names == OUTCOMES[title]
        places.append(outcomes.names.index(outcomes.reached(made)))
    assert places == sorted(places, reverse=True)
    assert places[0] > places[-1]


@pytest.mark.parametrize(
    ("reps", "band"), [(0, "cannot"), (1, "1–5"), (5.4, "1–5"), (10, "6–10"), (15, "11–15"), (40, "15")]
)
def test_capacity_tiers_are_cut_where_coaches_cut_them(reps, band):
    assert band in capacity_band(reps)


def test_the_crux_is_where_more_capacity_helps_most():
    given_problem = problem("Two Lamps", "building")
    crux = find_crux(given_problem, plan_workout(given_problem).plan)
    assert crux.label in ("bar muscle-up", "pull-up")
    assert crux.unbroken == given_problem.unbroken[given_problem.first_variant[crux.slot]]


def test_a_tier_is_planned_for_the_median_of_its_members():
    members = [
        Athlete("A", "building", unbroken={"pull-up": 10}, mass_kg=70.0),
        Athlete("B", "building", unbroken={"pull-up": 14}),
        Athlete("C", "building", unbroken={"pull-up": 30, "burpee": 50}, mass_kg=80.0),
    ]
    middle = median_member("Building", "building", members)
    assert middle.unbroken == {"pull-up": 14, "burpee": 50}
    assert middle.mass_kg == 75.0
    assert median_member("Nobody", "racing", []) == Athlete("Nobody", "racing")


def test_breaking_early_beats_hanging_on_where_muscles_are_shared():
    """Common practice, no source: early breaks on what shares muscles with the crux pay back later."""
    text = "for time, cap 12:00\n4 rounds:\n  12 toes-to-bar\n  6 chest-to-bar pull-ups"
    given_problem = problem(text, unbroken={"toes-to-bar": 15, "chest-to-bar pull-up": 8})
    free = plan_workout(given_problem).plan
    hanging_on = plan_workout(given_problem, kept={0: parse_shorthand("unbroken")}).plan
    assert len(free.slots[0][-1].scheme.rule.sets(12)) > 1
    broken, hung = (run_plan(given_problem, plan).score for plan in (free, hanging_on))
    assert broken.finished
    assert not hung.finished or broken.value < hung.value


def test_a_slower_style_unbroken_can_beat_a_faster_one_with_drops():
    """Common practice, no source: clean-and-jerk instead of snatch where the snatch needs drops."""
    text = "for time\n30 ground-to-overheads @ 52 kg"
    limits = {"power snatch": 62, "clean-and-jerk": 110}
    plan = plan_workout(problem(text, one_rep_max_kg=limits)).plan
    assert plan.slots[0][0].scheme.style == "clean-and-jerk"


def test_who_cannot_do_the_second_part_spends_everything_on_the_first():
    """coaching: the tie-break leg at full speed when nothing after it is in reach; fresh when something is."""
    tie = {}
    for reps in (0, 3):
        given_problem = problem("Two Lamps", "building", unbroken={"bar muscle-up": reps, "pull-up": 18})
        tie[reps] = run_plan(given_problem, plan_workout(given_problem).plan).score.tiebreak_s
    assert tie[0] <= tie[3] * 1.03  # the search tolerance of both plans together
