"""Ten unlike forecasts as they are worded: all finish, some, nobody, heaps, gates, rounds. Each was read aloud."""

import pytest

from examples import problem, typed
from sorvek.core.advice.briefing import brief
from sorvek.paper.words import as_planned, days_sentence, gate_words, middle_words

# Workout, tier, plan and numbers on file; then the headline, what is said as planned, of the days, of the gates.
CASES = {
    "everybody finishes": (
        ("for time, cap 9:00\n50 burpees", "competing", ("unbroken",), {}),
        ("2:10", "2:08", "8 of 10 days 1:53–3:17", "finish: 10 days of 10"),
    ),
    "no cap at all": (
        ("for time\n40 air squats\n20 push-ups", "building", ("unbroken", "5/5/5/5 r5"), {}),
        ("2:07", "2:05", "8 of 10 days 2:00–2:15", ""),
    ),
    "some finish": (
        ("for time, cap 4:30\n40 burpees\n20 thrusters @ 40 kg", "competing", ("unbroken", "10/10 r8"), {}),
        ("2:45", "2:40", "finishes on 93% of days, 2:27–3:41; else 44–58 reps", "finish: 9 days of 10"),
    ),
    "nobody finishes": (
        ("for time, cap 3:00\n100 burpees", "building", ("unbroken",), {}),
        ("53 reps", "", "8 of 10 days 39–64 reps", ""),
    ),
    "rounds and reps": (
        ("amrap 10:00\n10 pull-ups\n15 air squats", "competing", ("5/5 r5", "unbroken"), {}),
        ("300 reps (12 + 0)", "311 reps (12 + 11)", "8 of 10 days 235–325 reps", ""),
    ),
    "a bar nobody moves": (
        (
            "for time, cap 8:00\n20 burpees\n5 power cleans @ 120 kg",
            "competing",
            ("unbroken", "singles r10"),
            {"one_rep_max_kg": {"power clean": 100}},
        ),
        ("20 reps", "", "8 of 10 days 20 reps; 100% of all days end at 20", ""),
    ),
    "one muscle-up in a row": (
        (
            "for time, cap 8:00\n30 air squats\n10 bar muscle-ups",
            "building",
            ("unbroken", "singles r35"),
            {"unbroken": {"bar muscle-up": 1}},
        ),
        ("35 reps", "36 reps", "finishes on 6% of days, 7:13–7:26; else 33–38 reps", "finish: 1 day of 10"),
    ),
    "windows": (
        (
            "windows 2:00, until missed\nladder 8,+4:\n  burpee\n  air squat",
            "competing",
            ("unbroken", "unbroken"),
            {},
        ),
        (
            "205 reps",
            "",
            "8 of 10 days 129–339 reps",
            "windows 1 to 3: 10 days of 10; window 4: 9 days of 10; "
            "window 5: 7 days of 10; window 6: 4 days of 10; window 7: 1 day of 10",
        ),
    ),
    "stages": (
        (
            "for reps\nstage cap 3:00:\n  20 burpees\nstage cap 6:00:\n  20 burpees\n  20 thrusters @ 40 kg\n"
            "stage cap 9:00:\n  50 thrusters @ 40 kg",
            "building",
            ("unbroken", "sets of 5 r10"),
            {},
        ),
        (
            "108 reps",
            "110 reps",
            "8 of 10 days 68–110 reps; 48% of all days end at 110",
            "stage 1: 10 days of 10; stage 2: 9 days of 10; stage 3: 5 days of 10",
        ),
    ),
    "all of it measured": (
        (
            "for time, cap 10:00\n3 rounds:\n  12 toes-to-bar\n  12 thrusters @ 40 kg",
            "racing",
            ("unbroken", "unbroken"),
            {
                "unbroken": {"toes-to-bar": 40},
                "one_rep_max_kg": {"thruster": 110},
                "critical_power_w": 320.0,
                "w_prime_j": 20000.0,
            },
        ),
        ("2:19", "2:17", "8 of 10 days 2:09–2:33", "finish: 10 days of 10"),
    ),
}


@pytest.mark.parametrize("name", CASES)
def test_a_forecast_is_told_so_that_it_is_understood(name):
    (text, tier, schemes, numbers), told = CASES[name]
    briefing = brief(problem(text, tier, **numbers), typed(*schemes))
    gates = "; ".join(gate_words(briefing.band.gates))
    assert (middle_words(briefing), as_planned(briefing), days_sentence(briefing.band), gates) == told
