"""The Movements page: search, numbers of the club's own, what they change, and the way back."""

import json
import re

from sorvek.core.workout.movements import read_movements, shipped_library
from sorvek.store.library import ALL_COLUMNS, EARLIER_FILE, _own_path, club_library, own_rows
from sorvek.web.movements.fields import rows_of


def sent(client, name, **changes):
    """Return the fields of a movement's form as the page shows them, some of them changed."""
    page = client.get(f"/movements/{name}").text
    fields = dict(re.findall(r'<input[^>]* name="([^"]+)"[^>]* value="([^"]*)"', page))
    for field, options in re.findall(r'<select[^>]* name="([^"]+)"[^>]*>(.*?)</select>', page, re.DOTALL):
        fields[field] = re.search(r'value="([^"]*)" selected', options)[1]
    fields.pop("csrf_token", None)
    return {**fields, **changes}


def version(client, name):
    return re.search(r'name="version" value="([^"]*)"', client.get(f"/movements/{name}").text)[1]


def test_the_library_is_searched_in_names_spellings_and_families(client):
    text = client.get("/movements/?q=clean").text
    assert all(
        f">{name}</a>" in text for name in ("power clean", "clean-and-jerk", "medicine ball clean", "cluster")
    )
    assert ">burpee</a>" not in text
    assert ">toes-to-bar</a>" in client.get("/movements/?q=t2b").text
    assert "Nothing is called so" in client.get("/movements/?q=wiggle").text


def test_every_movement_written_as_rows_is_the_same_when_read():
    lines = [",".join(ALL_COLUMNS)]
    quote = '"'
    for movement in shipped_library().movements.values():
        lines += [",".join(f"{quote}{row[column]}{quote}" for column in ALL_COLUMNS) for row in rows_of(movement)]
    assert read_movements(lines) == shipped_library().movements


def test_a_number_is_tried_saved_used_and_taken_back(client, post):
    fields = sent(client, "toes-to-bar", **{"0-cycle_s": "1,1"})
    before = re.search(
        r"<td>Breakwater</td><td>([^<]+)</td><td>([^<]+)</td>", post("/movements/toes-to-bar/preview", fields).text
    )
    assert before[1] != before[2]
    assert own_rows() == []
    saved = post("/movements/toes-to-bar", fields)
    assert saved.status_code == 302
    assert club_library().movements["toes-to-bar"].styles[0].cycle_s == 1.1
    page = client.get("/movements/toes-to-bar").text
    assert "the club’s own numbers" in page
    assert "Plans of 1 workout are computed again" in page
    stale = post("/movements/toes-to-bar", fields)
    assert stale.status_code == 409
    assert "Somebody changed" in stale.text
    post("/movements/toes-to-bar/restore", {"version": version(client, "toes-to-bar")})
    assert club_library().movements["toes-to-bar"] == shipped_library().movements["toes-to-bar"]


def test_the_last_change_of_a_movement_is_taken_back(client, post):
    for cycle_s in ("2.4", "2.6"):
        post("/movements/burpee", sent(client, "burpee", **{"0-cycle_s": cycle_s}))
    assert "Undo the change of burpee" in client.get("/movements/").text
    assert "Undo the change of burpee" in client.get("/movements/burpee").text
    assert "Undo" not in client.get("/movements/pull-up").text
    stale = version(client, "burpee")
    post("/movements/undo", {"version": stale})
    assert club_library().movements["burpee"].styles[0].cycle_s == 2.4
    post("/movements/undo", {"version": stale})  # somebody else's change would be lost
    assert club_library().movements["burpee"].styles[0].cycle_s == 2.4
    post("/movements/undo", {"version": version(client, "burpee")})
    assert club_library().movements["burpee"] == shipped_library().movements["burpee"]


def test_a_change_is_not_taken_back_over_a_file_that_was_edited_by_hand(client, post):
    post("/movements/burpee", sent(client, "burpee", **{"0-cycle_s": "2.4"}))
    path = _own_path()
    path.write_text(path.read_text(encoding="utf-8").replace(",2.4,", ",2.8,"), encoding="utf-8")
    assert "Undo" not in client.get("/movements/burpee").text
    post("/movements/undo", {"version": version(client, "burpee")})
    assert club_library().movements["burpee"].styles[0].cycle_s == 2.8
    post("/movements/burpee/restore", {"version": version(client, "burpee")})
    assert "Undo the change of burpee" in client.get("/movements/").text  # back to the edited file, not behind it


def test_changes_noted_without_a_version_are_not_taken_back(client, post):
    post("/movements/burpee", sent(client, "burpee", **{"0-cycle_s": "2.4"}))
    path = _own_path().with_name(EARLIER_FILE)
    path.write_text(json.dumps([one[:2] for one in json.loads(path.read_text(encoding="utf-8"))]), encoding="utf-8")
    page = client.get("/movements/burpee")
    assert page.status_code == 200
    assert "Undo" not in page.text
    post("/movements/burpee/restore", {"version": version(client, "burpee")})
    assert own_rows() == []


def test_what_cannot_be_right_is_shown_again_and_not_saved(client, post):
    refused = post("/movements/burpee", sent(client, "burpee", **{"0-cycle_s": "fast"}))
    assert refused.status_code == 422
    assert "“fast” is no number from 0.05 to 60" in refused.text
    assert 'value="fast"' in refused.text
    assert own_rows() == []


def test_a_movement_of_the_clubs_own_is_read_and_cannot_go_while_it_is_used(client, post):
    assert "is a movement already" in client.get("/movements/new?name=t2b&like=burpee").text
    page = client.get("/movements/new?name=quay+crawl&like=burpee")
    assert "not saved yet" in page.text
    fields = sent(client, "burpee", plural="quay crawls", aliases="", version=version(client, "burpee"))
    assert post("/movements/quay crawl", fields).status_code == 302
    days = {"opens_on": "2026-03-20", "due_on": "2026-03-24"}
    made = post("/workouts/new", {"text": "Crawl\namrap 5:00\n10 quay crawls", **days}).headers["Location"]
    kept = post("/movements/quay crawl/restore", {"version": version(client, "quay crawl")})
    assert "take it out there first" in client.get(kept.headers["Location"]).text
    post(made.replace("/read", "/remove"), {})
    gone = post("/movements/quay crawl/restore", {"version": version(client, "quay crawl")})
    assert gone.headers["Location"].endswith("/movements/")
    assert "quay crawl" not in club_library().movements
