"""What is kept of warm-ups and heats: for one athlete, as the club's template, and never over something unseen."""

import pytest

from sorvek.core.errors import PrepError
from sorvek.core.prep.heats import Hall
from sorvek.core.prep.timetable import PrepWishes, WarmKind, WarmSchool
from sorvek.store.database import connect, disconnect, open_database
from sorvek.store.errors import ConflictError
from sorvek.store.preps import SavedPrep, load_heats, load_prep, save_heats, save_prep, save_template
from sorvek.store.settings import save_setting, setting_version

OWN = PrepWishes(WarmSchool.FRESH, True, ((WarmKind.REST, 360.0),), "2026-03-13T18:40")
CLUB = PrepWishes(lengths_s=((WarmKind.MOBILITY, 480.0),))


@pytest.fixture(autouse=True)
def store(tmp_path):
    open_database(tmp_path / "test.db")
    connect()
    yield
    disconnect()


def test_an_own_warm_up_goes_before_the_template_and_comes_back_to_it():
    assert load_prep(1, 2) == SavedPrep(PrepWishes(), 0, False)
    save_template(CLUB)
    save_template(CLUB)
    assert load_prep(1, 2) == SavedPrep(CLUB, 0, False)
    save_prep(1, 2, OWN, seen_version=0)
    assert load_prep(1, 2) == SavedPrep(OWN, 1, True)
    assert load_prep(1, 3).wishes == CLUB
    assert load_prep(2, 2).wishes == CLUB
    save_prep(1, 2, None, seen_version=1)
    assert load_prep(1, 2) == SavedPrep(CLUB, 2, False)


def test_nobody_overwrites_a_warm_up_they_have_not_seen():
    save_prep(1, 2, OWN, seen_version=0)
    with pytest.raises(ConflictError):
        save_prep(1, 2, CLUB, seen_version=0)
    assert load_prep(1, 2).wishes == OWN


def test_a_template_that_cannot_be_read_says_so():
    save_setting("prep_template", '{"school": "sleep"}', setting_version("prep_template"))
    with pytest.raises(PrepError, match="cannot be read"):
        load_prep(1, 2)


def test_heats_are_those_of_a_usual_hall_until_somebody_lays_them_out():
    assert (load_heats(1).hall, load_heats(1).starts_at, load_heats(1).version) == (Hall(), "", 0)
    save_heats(1, Hall(4, 3, 900.0), "2026-03-13T18:00", seen_version=0)
    found = load_heats(1)
    assert (found.hall, found.starts_at, found.version) == (Hall(4, 3, 900.0), "2026-03-13T18:00", 1)
    assert load_heats(2).hall == Hall()
    with pytest.raises(ConflictError):
        save_heats(1, Hall(), "", seen_version=0)
