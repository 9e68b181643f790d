"""What a logged result says: shown, kept, taken back; nothing overwritten silently."""

import re
from dataclasses import replace
from datetime import date

import pytest

from sorvek.core.athlete import Athlete
from sorvek.core.club import Result
from sorvek.core.live import Tap, TapKind
from sorvek.core.season import Record
from sorvek.store.athletes import add_athlete, all_athletes, load_athlete, save_athlete
from sorvek.store.database import connect, disconnect
from sorvek.store.log import LoggedAttempt, add_attempt, attempts_of


@pytest.fixture
def store(app):
    connect()
    yield
    disconnect()


@pytest.fixture
def log(store):
    """Return an athlete's id and the path of an attempt that surprises a little."""
    saved = next(a for a in all_athletes() if a.athlete.name == "Quillan Reeve")
    attempt = next(t for t in attempts_of(saved.id) if t.title == "Mooring")
    return saved.id, f"/roster/{saved.id}/log/{attempt.id}"


def form_of(client, path):
    page = client.get(f"{path}/lessons").text
    return {
        "version": re.search(r'name="version" value="(\d+)"', page)[1],
        "key": re.findall(r'name="key" value="(.+?)" che', page),
    }


def test_the_page_comes_at_once_and_the_answer_behind_it(client, log):
    page = client.get(f"{log[1]}/").text
    assert f'data-url="{log[1]}/lessons"' in page
    assert "30 toes-to-bar" in page
    answer = client.get(f"{log[1]}/lessons").text
    assert "longest set of toes-to-bar" in answer
    assert re.search(r"as on a usual day|\d usual days (better|worse)", answer)


def test_kept_numbers_are_marked_and_can_be_taken_back(client, post, log):
    athlete_id, path = log
    before = load_athlete(athlete_id).athlete
    assert post(f"{path}/keep", form_of(client, path)).status_code == 302
    page = client.get(f"/roster/{athlete_id}").text
    assert re.search(r"learnt \d numbers?", page)
    assert "learnt 2025-03-26" in page
    assert "toes-to-bar" in load_athlete(athlete_id).athlete.learnt
    assert re.search("taught already: .*toes-to-bar", client.get(f"{path}/lessons").text)
    post(f"{path}/back", {"version": str(load_athlete(athlete_id).version)})
    assert load_athlete(athlete_id).athlete == before
    assert not any(attempt.taught for attempt in attempts_of(athlete_id))


def test_nothing_ticked_changes_nothing(client, post, log):
    before = load_athlete(log[0])
    answer = post(f"{log[1]}/keep", {"version": str(before.version)}, follow_redirects=True)
    assert "Nothing was ticked" in answer.text
    assert load_athlete(log[0]) == before


def test_an_athlete_changed_in_another_tab_is_not_overwritten(client, post, log):
    form = form_of(client, log[1])
    saved = load_athlete(log[0])
    save_athlete(saved.id, saved.athlete, saved.version)
    late = post(f"{log[1]}/keep", form)
    assert late.status_code == 409
    assert "Somebody changed Quillan Reeve" in late.text
    assert not load_athlete(log[0]).athlete.learnt


def test_far_from_any_usual_day_nothing_is_ticked(client, store):
    saved = next(a for a in all_athletes() if a.athlete.name == "Ivo Larken")
    usual = next(t for t in attempts_of(saved.id) if t.title == "Harbour Bell")
    slow = replace(usual.result, value=2.5 * usual.result.value)
    add_attempt(saved.id, LoggedAttempt("Harbour Bell", usual.text, usual.done_on, slow))
    attempt = next(t for t in attempts_of(saved.id) if t.result == slow)
    answer = client.get(f"/roster/{saved.id}/log/{attempt.id}/lessons").text
    assert "far from any usual day" in answer
    assert " checked" not in answer


@pytest.mark.parametrize(("text", "told"), [("max snatch in 6:00", "1RM snatch"), ("max sled in 6:00", "alert")])
def test_a_logged_lift_alone_teaches_its_1rm_and_what_cannot_be_read_says_why(client, store, text, told):
    new = add_athlete(Athlete(f"Keeper of {text}", "building"))
    add_attempt(new, LoggedAttempt("Top", text, date(2026, 3, 10), Result("", "", False, 95.0)))
    answer = client.get(f"/roster/{new}/log/{attempts_of(new)[0].id}/lessons").text
    assert told in answer
    assert ("expected" in answer) == (told != "alert")


def test_attempts_at_the_bar_are_told_and_all_of_them_teach(client, store):
    new = add_athlete(Athlete("Keeper of the bar", "building", one_rep_max_kg={"clean-and-jerk": 80.0}))
    kinds = ((TapKind.MADE, 75.0), (TapKind.MADE, 82.5), (TapKind.MISSED, 92.5))
    taps = tuple(Tap(f"lift-{i:04}", kind, 20.0 + 90 * i, load_kg=kg) for i, (kind, kg) in enumerate(kinds))
    record = Record((), taps)
    text = "max clean-and-jerk in 6:00"
    add_attempt(new, LoggedAttempt("Bar", text, date(2026, 3, 10), Result("", "", False, 82.5), record=record))
    where = f"/roster/{new}/log/{attempts_of(new)[0].id}/"
    page = re.sub(r"<[^>]+>", "", client.get(where).text)
    assert "At the bar: 75 kg made, 82.5 kg made, 92.5 kg missed." in page
    assert "1RM clean-and-jerk" in client.get(f"{where}lessons").text


@pytest.mark.parametrize("path", ["/roster/1/log/9999/", "/roster/9999/log/1/", "/roster/1/log/9999/lessons"])
def test_unknown_attempts_are_not_found(client, path):
    assert client.get(path).status_code == 404
