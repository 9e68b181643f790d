"""A large club: no page asks the database more often because more people are in it; long lists come in pages."""

import re
from datetime import date, timedelta

import pytest

from sorvek.core.athlete import Athlete
from sorvek.core.club import Result, plan_outlook
from sorvek.core.simulation import problem_for
from sorvek.store.athletes import add_athlete
from sorvek.store.cards import make_card_link
from sorvek.store.database import connection
from sorvek.store.log import Expected, LoggedAttempt, add_attempt
from sorvek.store.outlooks import SavedOutlook, save_outlook
from sorvek.store.tables import database
from sorvek.store.workouts import add_workout, all_workouts
from sorvek.web import create_app

TEXT = "Two Lamps\nfor time, cap 12:00\n3 rounds:\n  12 toes-to-bar\n  9 power cleans @ 60/40 kg"
DAY = date(2026, 3, 12)
FEW, MANY = 5, 50
WORKOUT = "/workouts/1"
PAGES = (
    *("/", "/roster/", "/roster/2", "/season/", "/season/2", "/calendar/", "/movements/", "/field/1", "/settings/"),
    *(
        f"{WORKOUT}/{page}"
        for page in ("read", "place/", "place/lanes", "break/2", "break/2/card", "log/", "prep/2")
    ),
    *(f"{WORKOUT}/{page}" for page in ("heats/", "heats/lanes", "floor/", "tiers", "cards", "sheet", "briefing")),
    *(f"{WORKOUT}/{page}" for page in ("cards.pdf", "log/log.csv")),
    *("/roster/roster.csv", "/accounts/"),
)


def club_of(count, folder):
    """Return a client of a club whose athletes are all planned and have logged four attempts each."""
    app = create_app(folder / f"{count}.db", today=DAY)
    with connection(), database.atomic():
        number = add_workout(TEXT, DAY, DAY + timedelta(days=4))
        saved = all_workouts()[0]
        outlook = plan_outlook(problem_for(saved.workout, Athlete("A", "building")))
        for i in range(count):
            athlete = add_athlete(
                Athlete(f"Athlete {i:03}", ("starting", "building", "racing")[i % 3], "mf"[i % 2])
            )
            save_outlook(number, athlete, SavedOutlook(outlook, saved.version, 1))
            make_card_link(number, athlete)
            for k in range(4):
                result = Result("", "", True, 300.0 + i)
                expected = Expected((True, 290.0), (True, 310.0), (True, 340.0))
                day = DAY - timedelta(days=30 * k)
                workout = number if k == 0 else None
                add_attempt(
                    athlete, LoggedAttempt(f"W{k}", TEXT, day, result, workout_id=workout, expected=expected)
                )
    return app


def queries(app, page, monkeypatch):
    """Return how many statements a page that was shown once before needs, and its text."""
    client = app.test_client()
    client.get(page)
    count, run = [0], database.execute_sql

    def counting(*args, **values):
        count[0] += 1
        return run(*args, **values)

    with monkeypatch.context() as counted:
        counted.setattr(database, "execute_sql", counting)
        answer = client.get(page)
    assert answer.status_code == 200, page
    return count[0]


def test_no_page_asks_more_often_for_more_people(tmp_path, monkeypatch):
    """One statement more a row would be 45 more here."""
    needed = {}
    for count in (FEW, MANY):
        app = club_of(count, tmp_path)
        needed[count] = {page: queries(app, page, monkeypatch) for page in PAGES}
        app.extensions["planner"].close()
    grown = {page: (needed[FEW][page], n) for page, n in needed[MANY].items() if n > needed[FEW][page]}
    assert grown == {}


@pytest.fixture(scope="module")
def large(tmp_path_factory):
    app = club_of(130, tmp_path_factory.mktemp("large"))
    yield app.test_client()
    app.extensions["planner"].close()


def test_long_lists_come_in_pages_and_nobody_is_left_out(large):
    first, second = large.get("/roster/").text, large.get("/roster/?page=2").text
    assert "1–100 of 130 athletes" in first
    assert "101–130 of 130 athletes" in second
    names = [set(re.findall(r"Athlete \d+", text)) for text in (first, second)]
    assert len(names[0] | names[1]) == 130
    assert not names[0] & names[1]
    assert "1–100 of 130 attempts" in large.get(f"{WORKOUT}/log/").text
    assert "101–200 of 520 attempts" in large.get("/season/?page=2").text
    assert "1–100 of 130 attempts" in large.get("/season/?title=W2").text
    assert "90 more in" in large.get(f"{WORKOUT}/place/lanes").text
    assert "more in" not in large.get(f"{WORKOUT}/place/?all=yes").text
    assert "Cards 1–48 of 130" in large.get(f"{WORKOUT}/cards").text
    assert large.get("/roster/?page=99").text == large.get("/roster/?page=2").text


def test_somebody_is_found_in_the_roster_by_name_tier_or_sex(large):
    found = large.get("/roster/?q=athlete+007").text
    assert "Athlete 007" in found
    assert "Athlete 008" not in found
    assert "1–44" not in large.get("/roster/?q=racing").text
    assert len(set(re.findall(r"Athlete \d+", large.get("/roster/?q=racing").text))) == 43
    assert "Nobody in the roster fits" in large.get("/roster/?q=zebra").text


def test_the_clubs_season_tells_of_all_attempts_though_it_shows_a_page(large):
    page = large.get("/season/").text
    assert "520 attempts" in page
    inside = sum(290 <= 300 + i <= 340 for i in range(130)) * 4
    better, worse = 0, 520 - inside
    assert f"{inside} of 520 results lay in their band, {better} were better, {worse} worse" in page
    assert page.count("★") == 100
