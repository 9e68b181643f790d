"""Cards, split targets and edits of a plan where it stands."""

from dataclasses import replace
from itertools import pairwise
from types import SimpleNamespace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from examples import problem, typed
from sorvek.core.advice.briefing import brief
from sorvek.core.advice.splits import split_targets, stretches
from sorvek.core.athlete.athlete import Athlete
from sorvek.core.club.outlook import plan_of, plan_outlook
from sorvek.core.club.tier_plan import tier_plan
from sorvek.core.errors import SetsError
from sorvek.core.plan.edits import Edit, Scope, edit_plan
from sorvek.core.plan.plan import check_sets
from sorvek.core.plan.shorthand import parse_shorthand, shorthand
from sorvek.core.planner.planner import plan_workout
from sorvek.core.quantities import rest_words
from sorvek.core.simulation.problem import problem_for
from sorvek.core.workout.notation import parse_workout
from sorvek.paper.card import card_text, make_card, wall_words
from sorvek.paper.words import outlook_band

TRIPLET = problem("Breakwater")
PLAN = typed("7/5 r6", "5/4 r4", "unbroken")


def schemes(plan):
    return [shorthand(phases) for phases in plan.slots]


def edited(*args, plan=PLAN):
    return schemes(edit_plan(TRIPLET.course, plan, *args))


@pytest.mark.parametrize(
    ("edit", "by", "wanted"),
    [
        (Edit.SPLIT, 1, "4/3/5 r6"),
        (Edit.JOIN, 1, "unbroken"),
        (Edit.MORE, 1, "8/4 r6"),
        (Edit.LESS, 2, "5/7 r6"),
        (Edit.MORE, 9, "11/1 r6"),
        (Edit.REST_MORE, 3, "7/5 r9"),
        (Edit.REST_LESS, 9, "7/5 r0"),
        (Edit.SLOWER, 2, "7/5 r6 pace 1.1"),
    ],
)
def test_one_set_is_edited_in_every_round(edit, by, wanted):
    first, *others = edited(0, 0, edit, Scope.ALL, by)
    assert first == wanted
    assert others == schemes(PLAN)[1:]


def test_an_edit_from_here_on_leaves_the_rounds_before_alone():
    course = TRIPLET.course
    third = [i for i, s in enumerate(course.segments) if s.slot == 0][2]
    assert edited(third, 0, Edit.SPLIT, Scope.ONWARD)[0] == "rounds 1-2 7/5 r6, then 4/3/5 r6"
    again = edit_plan(course, PLAN, third, 0, Edit.SPLIT, Scope.ONWARD)
    assert schemes(edit_plan(course, again, third, 0, Edit.REST_MORE, Scope.ALL))[0] == (
        "rounds 1-2 7/5 r6, then 4/3/5 r7"
    )


@pytest.mark.parametrize(
    ("segment", "text"), [(0, "rounds 1-2 3/3/6 r5, then 5/4 r5"), (2, "rounds 1-2 6/6 r5, then 3/2/4 r5")]
)
def test_an_edit_of_every_round_reaches_the_rounds_of_its_scheme_and_no_other(segment, text):
    """Rounds 1 and 2 have 12 reps, 3 and 4 have 9: a scheme that reached too far would not add up there."""
    given_problem = problem("for time\nreps 12-12-9-9:\n  toes-to-bar")
    plan = typed("rounds 1-2 6/6 r5, then 5/4 r5")
    changed = edit_plan(given_problem.course, plan, segment, 0, Edit.SPLIT, Scope.ALL)
    assert shorthand(changed.slots[0]) == text


def test_a_faster_pace_can_be_typed_back():
    changed = edit_plan(TRIPLET.course, PLAN, 2, 0, Edit.FASTER, Scope.ALL)
    text = shorthand(changed.slots[2])
    assert "pace 0.95" in text
    assert parse_shorthand(text) == changed.slots[2]


@pytest.mark.parametrize(("place", "edit"), [((0, 1), Edit.JOIN), ((0, 1), Edit.MORE), ((999, 0), Edit.SPLIT)])
def test_what_cannot_be_edited_says_so(place, edit):
    with pytest.raises(SetsError):
        edited(*place, edit, Scope.ALL)


@given(
    st.lists(
        st.tuples(st.integers(0, 30), st.integers(0, 5), st.sampled_from(Edit), st.sampled_from(Scope)), max_size=12
    )
)
def test_no_row_of_edits_makes_a_plan_that_does_not_add_up(steps):
    plan = PLAN
    for segment, index, edit, scope in steps:
        try:
            plan = edit_plan(TRIPLET.course, plan, segment, index, edit, scope)
        except SetsError:
            continue
        for slot, phases in enumerate(plan.slots):
            check_sets(TRIPLET.course, slot, phases)


def test_rest_is_told_in_breaths_of_two_to_two_and_a_half_seconds():
    """One breath is about 2-2.5 s: common practice, no source."""
    assert rest_words(9) == "9 s (4 breaths)"
    assert rest_words(2) == "2 s (1 breath)"


def test_on_a_wall_a_number_stays_with_its_unit_and_breaths_are_left_out():
    words = "singles, rest 25 s (11 breaths), 15 % easier pace"
    assert wall_words(words).replace("\N{NO-BREAK SPACE}", "_") == "singles, rest 25_s, 15_% easier pace"


def test_a_band_of_a_time_and_of_reps_says_what_the_reps_are():
    finishes, short = (True, 507.0, ""), (False, 102.0, "")
    assert outlook_band(SimpleNamespace(good=finishes, bad=short)) == "8:27 to 102 reps at the cap"
    assert outlook_band(SimpleNamespace(good=finishes, bad=(True, 545.0, ""))) == "8:27–9:05"


def test_a_card_says_what_fits_in_a_head():
    briefing = brief(problem("Two Lamps"), typed("unbroken", "6/4 r5", "4/2 r8", "rounds 1-2 5 r0, then 3/2 r10"))
    card = make_card(briefing, "for time, cap 13:00")
    assert [line.how for line in card.lines[:2]] == ["unbroken", "6/4, rest 5 s (2 breaths)"]
    assert card.lines[3].change == "from round 3: 3/2, rest 10 s (4 breaths)"
    assert len(card.splits) <= 6
    assert len(card.cues) == 3
    assert card.tiebreak.startswith("Tie-break at")
    assert "no faster than" in card.first_round
    text = card_text(card)
    assert all(line.what in text for line in card.lines)
    assert max(map(len, text.splitlines())) < 200


def test_a_card_leaves_out_what_an_athlete_never_reaches():
    briefing = brief(
        problem("Two Lamps", "building", unbroken={"pull-up": 1}), typed("4/4", "singles r20", "3/3", "5")
    )
    labels = [line.what for line in make_card(briefing, "").lines]
    assert "bar muscle-up" not in labels


@pytest.mark.parametrize("title", ["Breakwater", "Double Time"])
def test_all_ways_to_spread_the_effort_end_at_the_same_time(title):
    briefing = brief(problem(title, "racing"), typed(*["unbroken"] * len(problem(title).course.slots)))
    complete = [s for s in briefing.timeline.splits if s.complete]
    even, held, banked = split_targets(briefing)
    for target in (even, held, banked):
        assert target.ends_s[-1] == pytest.approx(complete[-1].end_s)
        assert all(a < b for a, b in pairwise(target.ends_s))
    middle = len(even.ends_s) // 2 - 1
    assert banked.ends_s[middle] < even.ends_s[middle] < held.ends_s[middle]


def test_unlike_rounds_have_no_ways_to_spread_and_windows_show_the_rest_that_is_left():
    two_parts = brief(problem("Two Lamps", "racing"), typed(*["unbroken"] * 4))
    assert split_targets(two_parts) == ()
    windows = brief(problem("windows 2:00, until missed\nladder 5,+5:\n  burpee"), typed("unbroken"))
    assert split_targets(windows) == ()
    first, second = stretches(windows)[:2]
    assert (first.start_s, second.start_s) == (0, 120)
    assert first.rest_s == pytest.approx(120 - first.end_s)


def test_ten_rounds_spread_evenly_take_a_tenth_of_the_time_each():
    briefing = brief(problem("for time, cap 20:00\n10 rounds:\n  10 burpees"), typed("unbroken"))
    even = split_targets(briefing)[0].ends_s
    assert [b - a for a, b in pairwise(even)] == pytest.approx([even[-1] / 10] * 9, rel=0.01)


def test_a_tiers_plan_is_tried_on_its_members_and_misfits_are_named():
    workout = parse_workout("for time, cap 10:00\n3 rounds:\n  15 pull-ups\n  10 thrusters @ 40 kg")
    people = [Athlete(f"P{i}", "competing", unbroken={"pull-up": reps}) for i, reps in enumerate((30, 30, 31, 3))]
    members = [(person, plan_outlook(problem_for(workout, person))) for person in people]
    planned = tier_plan(workout, "finishers", members)
    assert planned.briefing.problem.athlete.unbroken == {"pull-up": 30}
    assert [f.following.starred for f in planned.followers] == [False, False, False, True]


def test_a_member_with_a_substitute_does_not_choose_the_tiers_plan():
    workout = parse_workout("for time\n3 rounds:\n  15 pull-ups\n  10 thrusters @ 40 kg")
    person = Athlete("P", "competing")
    own = plan_outlook(problem_for(workout, person))
    other = replace(own, schemes=(*own.schemes, "unbroken"))
    planned = tier_plan(workout, "finishers", [(person, own), (replace(person, name="Q"), other)])
    assert planned.briefing.plan == plan_of(own.schemes)
    alone = tier_plan(workout, "finishers", [(person, other)])
    assert alone.briefing.plan.slots


def test_halves_are_halves_of_the_reps_and_parts_leave_out_the_obligatory_rest():
    """Arithmetic: 20 reps of one steady pace reach their tenth in the middle of the work."""
    one = brief(problem("for time\n20 burpees"), typed("unbroken"))
    first, second = stretches(one)
    begin, middle, again, end = first.start_s, first.end_s, second.start_s, second.end_s
    first = one.timeline.sets[0]
    assert (begin, middle) == (0.0, again)
    assert middle == pytest.approx((first.start_s + first.end_s) / 2)
    assert end == one.timeline.end_s
    two = brief(problem("Two Lamps", "racing"), typed(*["unbroken"] * 4))
    parts = {s.label: (s.start_s, s.end_s) for s in stretches(two)}
    assert parts["part 2"][0] - parts["part 1"][1] >= 120
    assert parts["part 1"][1] == pytest.approx(two.timeline.score.tiebreak_s)
    bells = stretches(brief(problem("Bell Rounds"), typed("unbroken", "unbroken")))
    assert [s.label for s in bells] == [f"part {number}" for number in range(1, 7)]
    assert [round(s.end_s + s.rest_s) for s in bells] == [60, 180, 240, 360, 420, 480]  # a rest behind every second


def test_rules_for_a_day_gone_otherwise_are_read_as_rules():
    found = problem("Breakwater")
    card = make_card(brief(found, plan_workout(found, effort=0.3).plan), "amrap 11:00")
    told = card_text(replace(card, rules=("Round 1 ends after 1:32: toes-to-bar sets of 4 r8 (saves about 5 s)",)))
    assert "\nIf round 1 ends after 1:32: toes-to-bar sets of 4 r8" in told
    assert "\nIf round" not in card_text(card)


def test_who_is_out_of_breath_on_a_machine_is_not_told_to_row_in_sets():
    rowed = problem("for time, cap 20:00\n3 rounds:\n  900 m row\n  5 push-ups")
    card = make_card(brief(rowed, typed("unbroken", "unbroken")), "for time, cap 20:00")
    assert card.fallback == "If breath runs out on the row: a tenth easier, do not stop."
    assert [line.what for line in card.lines] == ["row", "push-up"]
    assert "per 500 m" in card_text(card)
