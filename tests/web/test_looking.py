"""Looking at pages: no GET writes, one bad row does not hide the others, failures go to the log only."""

import logging
import sqlite3
from datetime import date

import pytest

from sorvek.store.database import connection, opened
from sorvek.store.tables import AthleteRow, WorkoutRow

VALUES = {
    "workout_id": 2,
    "heat_id": 1,
    "athlete_id": 3,
    "attempt_id": 7,
    "token": "nothing",
    "kind": "json",
    "name": "burpee",
    "filename": "js/tools.js",
}


def addresses(app):
    for rule in app.url_map.iter_rules():
        if "GET" in rule.methods:
            yield app.url_map.bind("localhost").build(rule.endpoint, {a: VALUES[a] for a in rule.arguments})


def contents():
    with sqlite3.connect(opened()) as db:
        return list(db.iterdump())


def test_no_page_writes_by_being_looked_at(app, client):
    """A full disk still shows pages, and a crawler or a prefetch changes nothing."""
    before, seen = contents(), set()
    for address in addresses(app):
        with client.get(address) as answer:
            assert answer.status_code in (200, 302, 404), address
            seen.add(answer.status_code)
    assert seen == {200, 302, 404}
    assert contents() == before


@pytest.fixture
def bad_rows(app):
    day = date(2026, 3, 12)
    with connection():
        workout = WorkoutRow.create(title="Old Hang", text="amrap 10:00\nrest 1:00", opens_on=day, due_on=day)
        athlete = AthleteRow.create(name="Nobody Now", data='{"name": "Nobody Now", "tier": "elite"}')
    yield workout.id, athlete.id
    with connection():
        workout.delete_instance()
        athlete.delete_instance()


def test_one_bad_row_is_shown_with_its_error_and_the_others_beside_it(client, bad_rows):
    workout_id, athlete_id = bad_rows
    week = client.get("/").text
    assert week.count('data-testid="workout"') == 4
    assert "Old Hang" in week
    assert "no work is written" in week
    roster = client.get("/roster/").text
    assert "Ansel Brook" in roster
    assert "Nobody Now: athlete file, tier" in roster
    for path in ("/workouts/1/place/", "/workouts/1/break/1", "/field/1", "/roster/1"):
        assert client.get(path).status_code == 200
    assert "rest 1:00" in client.get(f"/workouts/{workout_id}/read").text  # where it can be corrected
    assert client.get(f"/workouts/{workout_id}/place/").status_code == 422
    assert client.get(f"/roster/{athlete_id}").status_code == 422


def test_a_failure_has_a_line_in_the_log_with_its_trace_and_a_page_without(app, client, caplog, monkeypatch):
    def broken(*_):
        raise RuntimeError("the secret inside")

    monkeypatch.setattr("sorvek.web.week.routes.planned_counts", broken)
    with caplog.at_level(logging.INFO):
        answer = client.get("/")
    assert answer.status_code == 500
    assert "secret" not in answer.text
    assert answer.headers["X-Request-Id"] in answer.text
    failed = next(record for record in caplog.records if record.exc_info)
    assert answer.headers["X-Request-Id"] in failed.getMessage()
    assert any("GET / 500" in record.getMessage() for record in caplog.records)


def test_a_plan_kept_by_another_coach_is_set_beside_ones_own(client, post, seen):
    here = "/workouts/1/break/6"
    mine = {"sets-0": "6/6 r5", "action": "keep", "workout_version": "1", "version": seen(here)}
    post(here, {**mine, "sets-0": "4/4/4 r7"})
    late = post(here, mine)
    assert late.status_code == 409
    assert "Two versions of the plan of" in late.text
    assert "6/6 r5" in late.text
    assert "3x4 r7" in late.text
    assert 'value="3x4 r7"' in client.get(here).text
