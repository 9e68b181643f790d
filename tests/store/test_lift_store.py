"""What is kept of lifts: wishes by athlete and workout, the gym, and older files that know neither."""

from datetime import date

import pytest

from sorvek.core.athlete.athlete import Athlete
from sorvek.core.club.board import Result
from sorvek.core.lift.hall.crew import Crew
from sorvek.core.lift.hall.plates import USUAL_GYM, parse_gym
from sorvek.core.lift.task import Aim, Typed
from sorvek.core.lift.wishes import Wishes
from sorvek.core.planner import Temper
from sorvek.store.athletes import add_athlete
from sorvek.store.database import connect, disconnect, open_database
from sorvek.store.errors import ConflictError
from sorvek.store.field import replace_results, results_of
from sorvek.store.lifts import SavedWishes, gym_version, load_wishes, save_gym, save_wishes, the_gym
from sorvek.store.workouts import add_workout

WISHES = Wishes(
    100.0, 110.0, Aim.GOAL, None, Crew.TWO, "15", Temper.SAFE, (Typed(85.0, 0.0, True), Typed(None, 90.0, None))
)


@pytest.fixture
def pair(tmp_path):
    open_database(tmp_path / "test.db")
    connect()
    day = date(2026, 3, 5)
    yield add_workout("max deadlift in 5:00\n", day, day), add_athlete(Athlete("Ada", "building"))
    disconnect()


def test_wishes_are_kept_replaced_and_dropped_never_unseen(pair):
    assert load_wishes(*pair) == SavedWishes(Wishes(), 0)
    save_wishes(*pair, WISHES, seen_version=0)
    assert load_wishes(*pair) == SavedWishes(WISHES, 1)
    with pytest.raises(ConflictError):
        save_wishes(*pair, Wishes(goal_kg=120.0), seen_version=0)
    save_wishes(*pair, Wishes(goal_kg=120.0), seen_version=1)
    with pytest.raises(ConflictError):
        save_wishes(*pair, Wishes(), seen_version=1)
    save_wishes(*pair, Wishes(), seen_version=2)
    assert load_wishes(*pair).wishes == Wishes()


def test_the_gym_is_a_usual_one_until_the_club_writes_its_own(pair):
    assert the_gym() == parse_gym(USUAL_GYM)
    own = parse_gym("bar 45 lb\npairs 4x45 2x25 lb\npairs 1x10 kg")
    save_gym(own, gym_version())
    assert the_gym() == own
    with pytest.raises(ConflictError):
        save_gym(parse_gym(USUAL_GYM), seen_version=0)


def test_lifts_stay_with_their_results(pair):
    results = [Result("A", "men", False, 120.0, None, 120.0), Result("B", "men", False, 100.0)]
    replace_results(pair[0], results)
    assert results_of(pair[0]) == results
