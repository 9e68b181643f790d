"""When the machine fails: a full disk, a file that can only be read, a clock set back; nothing is lost silently."""

import pytest

from sorvek.store.accounts import Account, Role
from sorvek.store.database import connect, disconnect
from sorvek.store.tables import AttemptRow, database
from sorvek.web import access
from sorvek.web.floor import shown

LOG = "/workouts/2/log/"
FORM = {"athlete": "Ansel Brook", "score": "90", "notes": "x" * 1900}


@pytest.fixture
def limited(app, monkeypatch):
    """Have every request find a disk with room for so many more pages."""

    def limit(pages):
        used = database_pages() + pages

        def connect_limited():
            connect()
            database.execute_sql(f"PRAGMA max_page_count = {used}")

        monkeypatch.setitem(app.before_request_funcs, None, [*app.before_request_funcs[None], connect_limited])

    return limit


def database_pages():
    connect()
    count = database.execute_sql("PRAGMA page_count").fetchone()[0]
    disconnect()
    return count


def stored():
    connect()
    found = AttemptRow.select().count()
    disconnect()
    return found


def test_a_full_disk_says_so_stores_nothing_halfway_and_goes_on_once_there_is_room(client, post, limited):
    before = stored()
    limited(0)
    answers = [post(LOG, FORM) for _ in range(40)]
    refused = [answer for answer in answers if answer.status_code == 507]
    assert refused
    assert "nothing was stored" in refused[0].text.lower()
    assert client.get(LOG).status_code == 200  # what is there can be read
    told = sum(answer.status_code == 302 for answer in answers)
    assert stored() == before + told


def test_with_room_again_everything_is_stored(client, post):
    before = stored()
    assert post(LOG, FORM).status_code == 302
    assert stored() == before + 1


def test_a_database_that_can_only_be_read_says_so(client, post, app, monkeypatch):
    def connect_readonly():
        connect()
        database.execute_sql("PRAGMA query_only = 1")

    monkeypatch.setitem(app.before_request_funcs, None, [*app.before_request_funcs[None], connect_readonly])
    answer = post(LOG, FORM)
    assert answer.status_code == 507
    assert "can only be read" in answer.text
    assert client.get("/roster/").status_code == 200


def test_a_clock_that_is_set_back_moves_no_heat_and_locks_nobody_out(app, monkeypatch):
    before = shown.now_s()
    monkeypatch.setattr(shown.time, "time", lambda: 1_000_000.0)
    assert before <= shown.now_s() < before + 60
    later = Account(7, "Somebody", Role.COACH, sessions_from=5_000_000.0)
    with app.test_request_context():
        access.sign_in(later)
        assert access.session["begun_s"] >= later.sessions_from
