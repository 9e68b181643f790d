"""The week says what is due next, who is planned, has a card, is done; what is closed offers no planning."""

import re
from datetime import date

from sorvek.core.club import Result
from sorvek.store.athletes import all_athletes
from sorvek.store.database import connect, disconnect
from sorvek.store.log import LoggedAttempt, add_attempt


def row_of(page, title):
    return next(row for row in re.findall(r'<li class="week-row.*?</li>', page, re.S) if f">{title}</a>" in row)


def test_the_week_says_what_is_due_next_and_what_is_done(client, post):
    page = client.get("/").text
    due = re.search(r'data-testid="due">(.*?)</p>', page, re.S)[1]
    assert "Two Lamps" in due
    assert "scores due Sunday 15 March" in due
    assert "24 of 24 not planned yet" in due
    closed, open_one = row_of(page, "Breakwater"), row_of(page, "Two Lamps")
    assert "Plan athletes" not in closed
    assert ">Leaderboard</a>" in closed
    assert "Plan athletes" in open_one
    assert "0 of 24 planned" in open_one
    post("/workouts/2/break/2/card", {})
    assert "1 of 24 planned · 1 with a card" in row_of(client.get("/").text, "Two Lamps")
    assert "23 of 24 not planned yet" in client.get("/").text


def test_attempts_in_the_log_count_an_athlete_as_done_once(client):
    connect()
    athlete, day = all_athletes()[0], date(2026, 3, 12)
    for seconds in (580.0, 560.0):
        result = Result("", "", True, seconds)
        add_attempt(athlete.id, LoggedAttempt("Two Lamps", "for time\n30 burpees\n", day, result))
    disconnect()
    assert "2 done" in row_of(client.get("/").text, "Two Lamps")  # and who went yesterday
