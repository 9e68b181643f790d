"""The simulation against other people's tools: a discrete-event library and an open data set."""

import numpy as np
import pytest
import simpy
from sklearn.datasets import load_linnerud

from examples import problem, typed
from sorvek.core.constants import REST_SLIP_S, TRANSITION_S
from sorvek.core.simulation import columns as k
from sorvek.core.simulation.timeline import run_plan
from sorvek.core.workout.movements import TIERS, shipped_library


def discrete_event_ends(given_problem, sets, rests_s):
    """Run the plan of a fresh, unlimited athlete as simpy processes; return the end of every set."""
    env, ends = simpy.Environment(), []

    def athlete():
        for index, segment in enumerate(given_problem.course.segments):
            row = given_problem.variants[given_problem.first_variant[segment.slot]]
            yield env.timeout(row[k.SETUP] + (TRANSITION_S if index else 0.0))
            for number, size in enumerate(sets[segment.slot]):
                if number:
                    quick = size == 1 and row[k.SINGLE] > 0
                    reset_s = row[k.SINGLE] - row[k.CYCLE] if quick else REST_SLIP_S + row[k.SETUP]
                    yield env.timeout(rests_s[segment.slot] + reset_s)
                yield env.timeout(size * row[k.CYCLE])
                ends.append(env.now)

    env.process(athlete())
    env.run()
    return ends


def test_a_discrete_event_simulation_gives_the_same_timeline():
    """Where nothing tires the model is plain bookkeeping, and simpy must keep the same books."""
    given_problem = problem(
        "for time\n3 rounds:\n  10 toes-to-bar\n  8 thrusters @ 40 kg\n  6 burpees\n  5 deadlifts @ 60 kg",
        unbroken={"toes-to-bar": 10_000, "burpee": 10_000},
        one_rep_max_kg={"thruster": 600, "deadlift": 900},
        critical_power_w=600.0,
        w_prime_j=60_000.0,
    )
    given_problem.unbroken[:] = 10_000
    timeline = run_plan(given_problem, typed("6/4 r5", "4/4 r7", "unbroken", "singles r2"))
    wanted = discrete_event_ends(given_problem, [(6, 4), (4, 4), (6,), (1,) * 5], [5.0, 7.0, 0.0, 2.0])
    assert [record.end_s for record in timeline.sets] == pytest.approx(wanted, abs=1e-6)


def test_capacity_defaults_lie_in_the_order_of_an_open_exercise_data_set():
    """The physical exercise data set of scikit-learn: chin-ups and sit-ups of twenty middle-aged men.

    It says little: its median (11.5 chin-ups, 123 sit-ups in an unknown time) should lie between the
    defaults of the lower tiers, and those who do more of one do more of the other.
    """
    chins, situps, _ = load_linnerud().data.T
    strict = shipped_library().movements["strict pull-up"].styles[0].unbroken
    trunk = shipped_library().movements["sit-up"].styles[0].unbroken
    assert strict[TIERS.index("starting")] < np.median(chins) < strict[TIERS.index("racing")]
    assert trunk[TIERS.index("starting")] < np.median(situps) < trunk[TIERS.index("racing")]
    assert np.corrcoef(chins, situps)[0, 1] > 0.5
