"""The band of uncertain days."""

from dataclasses import replace

import numpy as np
import pytest

from examples import TITLES, problem, typed
from sorvek.core.advice.briefing import brief
from sorvek.core.planner.planner import plan_workout
from sorvek.core.quantities import days_of_ten
from sorvek.core.simulation import columns as k
from sorvek.core.simulation.days import SAMPLES, draw_samples
from sorvek.core.simulation.forecast import forecast
from sorvek.core.simulation.timeline import run_plan
from sorvek.paper.words import days_sentence, gate_words


@pytest.mark.parametrize("title", TITLES)
def test_the_band_is_in_order_and_holds_the_middle_of_the_days(title):
    given_problem = problem(title, "building")
    plan = plan_workout(given_problem, effort=0.1).plan
    band = forecast(given_problem, plan)
    assert band.p10 <= band.p50 <= band.p90
    assert 0 <= band.finish_probability <= 1
    assert len(band.forced_break_frac) == len(given_problem.course.slots)
    assert all(0 <= chance <= 1 for chance in band.forced_break_frac)
    assert len(band.set_break_frac) == sum(
        len(plan.scheme(s.slot, rank).rule.sets(s.reps))
        for s, rank in zip(given_problem.course.segments, given_problem.ranks, strict=True)
    )
    # A visit breaks at least as often as any one of its sets, a movement as any one of its visits.
    assert len(band.block_break_frac) == len(given_problem.course.segments)
    assert max(band.block_break_frac) <= max(band.forced_break_frac)
    assert max(band.block_try_frac) <= max(band.failed_try_frac)
    assert max(band.set_break_frac) <= max(*band.block_break_frac, *band.block_try_frac)


def test_later_sets_of_one_size_break_more_often():
    given_problem = problem("for time\n60 toes-to-bar", unbroken={"toes-to-bar": 20})
    chances = forecast(given_problem, typed("12/12/12/12/12 r8")).set_break_frac
    assert chances[0] < chances[2] <= chances[4]
    assert chances[4] > 0.5


def test_the_days_spread_as_the_register_says():
    """U ±10 %, CP ±4 %, W' ±10 % as standard deviations of the logarithm; standard error of 400 is 3.5 %.

    Doubts (measured 5 %, tier default 30 %) come on top, as variances do.
    """
    given_problem = problem("Breakwater")
    us, whos = draw_samples(given_problem, doubts=0.0)
    assert us.shape == (SAMPLES, len(given_problem.unbroken))
    assert np.log(us[:, 0] / given_problem.unbroken[0]).std() == pytest.approx(0.10, rel=0.12)
    assert np.log(whos[:, k.CP] / given_problem.who[k.CP]).std() == pytest.approx(0.04, rel=0.12)
    assert np.log(whos[:, k.W_PRIME] / given_problem.who[k.W_PRIME]).std() == pytest.approx(0.10, rel=0.12)
    assert (whos[:, k.SLIP] >= 0).all()
    assert np.log(whos[:, k.SPEED]).std() == pytest.approx(0.05, rel=0.12)
    assert np.log(whos[:, k.CHANGES]).std() == pytest.approx(0.30, rel=0.12)
    assert whos[:, k.NO_REPS].mean() == pytest.approx(1.0, rel=0.12)
    known = problem("Breakwater", unbroken={"toes-to-bar": 20}, critical_power_w=250)
    for doubted, of_u, of_cp in ((given_problem, 0.30, 0.30), (known, 0.05, 0.05)):
        us, whos = draw_samples(doubted)
        assert np.log(us[:, 0] / doubted.unbroken[0]).std() == pytest.approx(np.hypot(0.10, of_u), rel=0.12)
        assert np.log(whos[:, k.CP] / doubted.who[k.CP]).std() == pytest.approx(np.hypot(0.04, of_cp), rel=0.12)


def test_a_movement_that_comes_twice_is_off_once():
    given_problem = problem("for time\n20 wall balls @ 9 kg\n10 burpees\n30 wall balls @ 6 kg")
    form = draw_samples(given_problem, doubts=0.0)[0]
    off = np.log(draw_samples(given_problem)[0] / form)
    light, heavy = given_problem.first_variant[2], given_problem.first_variant[0]
    assert np.corrcoef(off[:, light], off[:, heavy])[0, 1] > 0.8


def test_no_reps_are_done_again():
    """A tenth of the reps not counted: a tenth more time on them, and a tenth less in a longest set."""
    clean = problem("for time\n40 wall balls @ 9 kg", unbroken={"wall ball": 60})
    clean.variants[:, k.NO_REP] = 0.1
    strict = replace(clean, who=clean.who + np.eye(k.N_WHO)[k.NO_REPS])
    counted, judged = (run_plan(p, typed("20/20 r10")) for p in (clean, strict))
    working = [sum(s.end_s - s.start_s for s in timeline.sets) for timeline in (counted, judged)]
    assert working[1] == pytest.approx(1.1 * working[0], rel=0.01)
    assert judged.sets[0].reps_in_reserve < counted.sets[0].reps_in_reserve - 4


def test_form_of_the_day_is_shared_by_all_movements():
    us, _ = draw_samples(problem("Two Lamps"), doubts=0.0)
    assert 0.2 < np.corrcoef(us[:, 0], us[:, -1])[0, 1] < 0.9


def test_the_same_seed_gives_the_same_days_and_another_seed_others():
    given_problem = problem("Breakwater")
    assert (draw_samples(given_problem, 50)[0] == draw_samples(given_problem, 50)[0]).all()
    assert (draw_samples(given_problem, 50)[0] != draw_samples(given_problem, 50, seed=5)[0]).any()


def test_a_load_near_the_limit_is_less_certain_than_a_light_one():
    spread = []
    for load in (70, 110):
        us, _ = draw_samples(problem(f"for time\n10 power cleans @ {load} kg", one_rep_max_kg={"power clean": 120}))
        spread.append(us[:, 0].std() / us[:, 0].mean())
    assert spread[0] < spread[1]


def test_the_chance_of_a_forced_break_falls_with_smaller_sets():
    given_problem = problem("for time\n60 toes-to-bar", unbroken={"toes-to-bar": 20})
    chances = [
        forecast(given_problem, typed(sets)).forced_break_frac[0] for sets in ("20/20/20 r5", "12x5 r8", "20x3 r10")
    ]
    assert chances == sorted(chances, reverse=True)
    assert chances[0] > 0.9
    assert chances[-1] < 0.3


def test_a_try_that_fails_is_no_forced_break_but_is_told():
    """Who has one or two makes tries; a single of who has many is a set that may break."""
    few, many = (problem("for time\n30 pull-ups", unbroken={"pull-up": reps}) for reps in (2, 12))
    tries, singles = forecast(few, typed("singles r10")), forecast(many, typed("singles r0"))
    assert tries.forced_break_frac == (0.0,)
    assert tries.failed_try_frac[0] == tries.block_try_frac[0] > 0.5
    assert singles.failed_try_frac == (0.0,)
    assert singles.forced_break_frac[0] > 0.5
    warnings = brief(few, typed("singles r30")).warnings
    assert any("hardly more than one at a time" in w and "more rest makes that" in w for w in warnings)


def test_bands_of_plans_that_finish_and_that_do_not_are_compared_in_one_measure():
    capped = problem("for time, cap 4:00\n50 burpees\n30 thrusters @ 40 kg")
    slow = forecast(capped, typed("unbroken pace 2", "10x3 r20"))
    assert not slow.timed
    assert slow.ends(False) == (slow.p10, slow.p50, slow.p90)
    assert slow.ends(True)[1] == pytest.approx(240)
    assert slow.ends(True)[0] <= slow.ends(True)[2] <= 240 + 1e-9


def test_a_cap_in_the_middle_of_the_days_gives_an_even_chance_to_finish():
    free = problem("for time\n50 burpees\n30 thrusters @ 40 kg")
    free.variants[:, k.FASTEST] = 1.0  # nobody sprints for a cap
    plan = typed("unbroken", "10/10/10 r6")
    middle = forecast(free, plan).p50
    capped = replace(free, seg_f=np.where(np.arange(free.seg_f.shape[1]) == k.DEADLINE, middle, free.seg_f))
    assert forecast(capped, plan).finish_probability == pytest.approx(0.5, abs=0.02)


def test_warnings_name_the_movement_and_the_trouble():
    given_problem = problem("Breakwater", "building")
    warnings = " ".join(brief(given_problem, typed("unbroken", "unbroken", "unbroken")).warnings)
    assert "toes-to-bar" in warnings
    assert "a rep fails in the set at" in warnings
    stuck = problem("Two Lamps", "building", unbroken={"bar muscle-up": 0})
    text = " ".join(brief(stuck, typed("4/4 r8", "5/5 r8", "3/3 r8", "singles r9")).warnings)
    assert "No rep of bar muscle-up is in reach" in text


def capped(free, cap_s):
    """Return a problem with another cap, in seconds."""
    return replace(free, seg_f=np.where(np.arange(free.seg_f.shape[1]) == k.DEADLINE, cap_s, free.seg_f))


def test_a_band_never_goes_beyond_the_cap_and_tells_times_from_reps():
    free = problem("for time, cap 20:00\n50 burpees\n30 thrusters @ 40 kg")
    plan = typed("unbroken", "10/10/10 r6")
    band = forecast(capped(free, forecast(free, plan).p50), plan)
    cap_s = forecast(free, plan).p50
    assert band.good.finished
    assert not band.bad.finished
    assert band.finish_s[2] <= cap_s
    assert band.short_reps[2] < free.course.total_reps
    assert max(band.p90, band.good.value) <= cap_s
    sentence = days_sentence(band)
    assert sentence.startswith(f"finishes on {band.finish_probability:.0%} of days, ")
    assert sentence.endswith(" reps")
    easy, short = forecast(capped(free, 3000.0), plan), forecast(capped(free, 120.0), plan)
    assert easy.short_reps is None
    assert short.finish_s is None
    assert ":" not in days_sentence(short)
    assert "reps" not in days_sentence(easy)


def test_days_that_all_end_at_a_bar_nobody_lifts_are_a_heap():
    given_problem = problem(
        "for time, cap 9:00\n20 burpees\n10 power cleans @ 100 kg", one_rep_max_kg={"power clean": 80}
    )
    band = forecast(given_problem, typed("unbroken", "singles r20"))
    ((reps, share),) = band.heaps
    assert reps == 20
    assert share > 0.9
    assert days_sentence(band) == f"8 of 10 days 20 reps; {share:.0%} of all days end at 20"


def test_chances_are_told_for_parts_windows_and_the_cap():
    two = problem("Two Lamps", "building")
    gates = brief(two, plan_workout(two, effort=0.1).plan).band.gates
    assert set(gates) <= {"part 2", "finish"}
    assert 0 < gates["part 2"] <= 1
    alike = {f"window {number}": 1.0 for number in (1, 2, 3)} | {"window 4": 0.9}
    assert gate_words(alike) == ("windows 1 to 3: 10 days of 10", "window 4: 9 days of 10")
    assert gate_words({"window 1": 1.0, "window 2": 0.83, "window 3": 0.02}) == (
        "window 1: 10 days of 10",
        "window 2: 8 days of 10",
    )


@pytest.mark.parametrize(
    ("chance", "said"),
    [
        (0.5, "5 days of 10"),
        (0.1, "1 day of 10"),
        (0.94, "9 days of 10"),
        (0.96, "19 days of 20"),
        (0.99, "10 days of 10"),
        (0.04, "1 day of 20"),
    ],
)
def test_a_chance_is_told_in_days_and_nearly_always_is_not_always(chance, said):
    assert days_of_ten(chance) == said
