"""The margin of reps in reserve: what the planner pays for it and what the page says about it."""

from dataclasses import replace

import numpy as np
import pytest

from examples import TITLES, problem, typed
from sorvek.core.advice.briefing import brief
from sorvek.core.advice.explain import recommendation
from sorvek.core.advice.margin import MORE_REST_S, first_failed, margin_warning, thin_margins, thinnest
from sorvek.core.constants import BREAK_MARGINS, LAST_PUSH_S, MARGIN_REPS, MARGIN_U_FRAC
from sorvek.core.plan.plan import Phase
from sorvek.core.planner.batch import MOST_PRICED_FAILS
from sorvek.core.planner.candidates import PRICES, Bench, build_menu
from sorvek.core.planner.planner import plan_workout
from sorvek.core.planner.search import Search, likely_days
from sorvek.core.simulation import columns as k
from sorvek.core.simulation.forecast import run_samples
from sorvek.core.simulation.problem import Problem
from sorvek.core.simulation.timeline import run_plan

TIGHT = "for time, cap 12:00\n4 rounds:\n  12 toes-to-bar\n  6 chest-to-bar pull-ups"


def margins(given_problem: Problem, *schemes: str):
    plan = typed(*schemes)
    return thin_margins(given_problem, plan, run_plan(given_problem, plan))


def tight() -> Problem:
    return problem(TIGHT, unbroken={"toes-to-bar": 20, "chest-to-bar pull-up": 12})


def test_a_thin_set_is_named_with_the_shortest_rest_that_mends_it_and_what_that_costs():
    typed_sets = ("6/6 r15", "2/2/2 r15")
    margin = margins(tight(), *typed_sets)[0]
    assert margin.label == "toes-to-bar"
    assert margin.reps < 1 <= margin.then_reps
    assert margin.more_rest_s in MORE_REST_S
    mended = typed(f"6/6 r{15 + margin.more_rest_s:g}", "2/2/2 r15")
    assert thinnest(tight(), mended, run_plan(tight(), mended))[margin.slot][0] == pytest.approx(margin.then_reps)
    before, after = (run_plan(tight(), p).score.value for p in (typed(*typed_sets), mended))
    assert margin.cost == f"wins {round(before - after)} s"
    assert f"{margin.more_rest_s:g} s more rest between sets leaves" in margin_warning(margin)


def test_a_rest_after_which_a_rep_fails_elsewhere_mends_nothing():
    """More rest moves the work into another minute: what is offered must leave no failed rep of the movement."""
    for tier in ("starting", "building", "competing"):
        for sets in ("6/6 r3", "4/4/4 r3", "unbroken", "5/4/3 r6"):
            given_problem = problem("Breakwater", tier)
            plan = typed(sets, "3/3/3 r5", "unbroken")
            for margin in thin_margins(given_problem, plan, run_plan(given_problem, plan)):
                if margin.more_rest_s is None:
                    continue
                phases = plan.slots[margin.slot]
                scheme = replace(phases[0].scheme, rest_s=phases[0].scheme.rest_s + margin.more_rest_s)
                mended = run_plan(given_problem, plan.with_slot(margin.slot, (Phase(None, scheme),)))
                assert first_failed(given_problem, mended, margin.slot) is None


def test_one_long_set_is_not_mended_by_rest():
    given_problem = problem("for time\n15 toes-to-bar\n10 burpees", unbroken={"toes-to-bar": 15})
    (margin,) = margins(given_problem, "unbroken", "unbroken")
    assert margin.more_rest_s is None
    assert "sets smaller" in margin_warning(margin)


def test_singles_near_the_limit_are_not_told_to_be_smaller():
    given_problem = problem("amrap 8:00\n10 bar muscle-ups\n10 burpees", unbroken={"bar muscle-up": 2})
    (margin,) = margins(given_problem, "singles r20", "unbroken")
    assert margin.singles
    assert "sets smaller" not in margin_warning(margin)


def test_the_last_set_of_all_steady_work_and_the_last_seconds_may_end_empty():
    """coaching: grinding is allowed in the last 10-20 s."""
    last = problem("for time\n10 burpees\n14 toes-to-bar", unbroken={"toes-to-bar": 15})
    assert margins(last, "unbroken", "unbroken") == ()
    near_cap = problem("amrap 0:25\n14 toes-to-bar\n10 burpees", unbroken={"toes-to-bar": 15})
    assert margins(near_cap, "unbroken", "unbroken") == ()


def test_the_briefing_says_it_and_where_a_rep_fails():
    warnings = brief(tight(), typed("6/6 r15", "2/2/2 r15")).warnings
    thin = {w.split(":")[0]: "a rep fails" in w for w in warnings if "in reserve" in w}
    assert thin == {"toes-to-bar": True, "chest-to-bar pull-up": False}


@pytest.mark.parametrize("tier", ["building", "competing"])
@pytest.mark.parametrize("title", TITLES)
def test_the_page_and_the_kernel_count_the_same_sets(title, tier):
    """Two readings of one plan: the kernel's sum of reps short, and the ends of the sets on the timeline."""
    given_problem = problem(title, tier)
    plan = plan_workout(given_problem, effort=0.2).plan
    timeline = run_plan(given_problem, plan)
    variants = given_problem.choices(plan).ints[:, k.VARIANT]
    short: dict[int, float] = {}
    begins, part, end_s = 0.0, given_problem.course.segments[0].next_part, 0.0
    for record in timeline.sets[: -1 if timeline.score.finished else None]:
        segment, variant = given_problem.course.segments[record.segment], variants[record.segment]
        if segment.next_part != part:
            begins, part = end_s + segment.rest_before_s, segment.next_part
        deadline_s = min(segment.deadline_s, begins + segment.cap_s) if segment.cap_s else segment.deadline_s
        end_s = record.end_s
        wanted = min(MARGIN_REPS, MARGIN_U_FRAC * given_problem.unbroken[variant])
        if given_problem.variants[variant, k.STEADY] == 0 and deadline_s - record.end_s > LAST_PUSH_S:
            less = max(0.0, wanted - record.reps_in_reserve)
            # A break counts as several margins.
            less += BREAK_MARGINS * wanted * record.failed_reps
            short[segment.slot] = short.get(segment.slot, 0.0) + less
    assert sum(short.values()) == pytest.approx(timeline.shortfall_reps, abs=1e-6)
    assert {m.slot for m in thin_margins(given_problem, plan, timeline)} <= {
        s for s, less in short.items() if less > 0
    }


@pytest.mark.parametrize("text", ["Watchkeeper", "for time\n4 rounds:\n  14 bar muscle-ups"])
def test_reps_short_of_the_margin_and_failed_ones_have_their_price_on_every_day(text):
    given_problem = problem(text, "building")
    menu, (us, whos) = build_menu(given_problem), likely_days(given_problem)
    bench = Bench(given_problem, menu)
    for x in Search(bench).beginnings()[:20]:
        priced = bench.each_sample(x, (us, whos))[0]
        unpriced = Bench(given_problem, menu, prices=PRICES * 0)
        free = unpriced.each_sample(x, (us, whos))[0]
        outs = run_samples(given_problem, given_problem.choices(bench.plan(x)), us, whos)
        expected = PRICES[0, 0] * outs[:, k.SHORTFALL] + PRICES[0, 2] * outs[:, k.HOT_S]
        fails = np.minimum(outs[:, k.FAILED], MOST_PRICED_FAILS)
        days = [(us[[day]], whos[[day]]) for day in range(len(us))]
        sizes = np.array([unpriced.evaluate(x[None], day)[1][0] for day in days])
        expected += np.where(np.arange(len(us)) == 0, len(us) * PRICES[0, 1], PRICES[1, 1]) * sizes * fails
        assert priced - free == pytest.approx(expected)
    assert PRICES[0, 0] == PRICES[1, 0] > 0
    assert PRICES[0, 1] > PRICES[1, 1] > 0


def test_a_failed_rep_is_told_with_the_rest_that_mends_it_and_what_that_wins():
    given_problem = problem("Thirty", "building")
    (warning,) = brief(given_problem, typed("singles r0")).warnings
    quick, rested = (brief(given_problem, typed(f"singles r{rest_s}")).timeline for rest_s in (0, 1))
    assert "a rep fails in the set at 1:52" in warning
    won = f"wins {quick.score.value - rested.score.value:.0f} s"
    assert f"1 s more rest between sets leaves {rested.sets[-2].reps_in_reserve:.1f} and {won}" in warning
    assert (quick.failed_reps, rested.failed_reps) == (1, 0)
    text = "for time\n15 toes-to-bar\n10 burpees"
    holds = [
        "just holds"
        in recommendation(brief(problem(text, unbroken={"toes-to-bar": most}), typed(*["unbroken"] * 2)))
        for most in (12, 17, 25)
    ]
    assert holds == [False, True, False]


def test_a_warning_of_breaks_says_what_more_rest_would_do_and_cost():
    given_problem = problem("Thirty", "building")
    briefing, rested = (brief(given_problem, typed(f"singles r{rest_s}")) for rest_s in (0.5, 1.5))
    (warning,) = briefing.warnings
    share, cost = rested.band.forced_break_frac[0], rested.band.p50 - briefing.band.p50
    assert warning.endswith(
        f"; 1 s more rest makes that {share:.0%} and costs {cost:.0f} s in the middle of the days."
    )
    given_problem = problem("for time\n15 toes-to-bar\n10 burpees", unbroken={"toes-to-bar": 15})
    assert (
        brief(given_problem, typed("unbroken", "unbroken")).warnings[0].endswith("; smaller sets would break less.")
    )


def test_sets_that_fail_with_any_rest_are_told_to_be_smaller():
    briefing = brief(problem("Breakwater", "building"), typed("unbroken", "singles r0", "unbroken"))
    said = [w for w in briefing.warnings if "a rep fails in the set at" in w]
    assert any(w.startswith("toes-to-bar") and "make the sets smaller" in w for w in said)
