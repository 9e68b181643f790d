"""Things that happen at the same time, and what a coach does next: nothing lost, nothing silently overwritten."""

import io
import json
import re
import threading

DAYS = {"opens_on": "2026-03-20", "due_on": "2026-03-24"}


def wait(client, workout_id):
    tick = threading.Event()
    while client.get(f"/workouts/{workout_id}/place/progress").json["running"]:
        tick.wait(0.05)


def token(client):
    return re.search(r'name="csrf-token" content="([^"]+)"', client.get("/").text)[1]


def upload(client, path, name, data, **fields):
    form = {"csrf_token": token(client), "file": (io.BytesIO(data), name), **fields}
    return client.post(path, data=form, content_type="multipart/form-data")


def test_plans_of_a_workout_edited_while_they_are_made_are_marked_and_redone_together(client, post):
    post("/workouts/1/place/plan", {})
    text = "Breakwater\namrap 11:00\n15 toes-to-bar\n9 power cleans @ 60/42.5 kg\n6 burpees"
    assert post("/workouts/1/read", {"text": text, "version": 1, **DAYS}).status_code == 302
    wait(client, 1)
    page = client.get("/workouts/1/place/").text
    assert re.search(r"\d+ out of date", page)
    post("/workouts/1/place/plan", {})
    wait(client, 1)
    page = client.get("/workouts/1/place/").text
    assert "out of date" not in page
    assert "Plan everybody again" in page


def test_an_athlete_removed_during_a_batch_does_not_end_it_and_comes_back_planned_or_to_be_planned(client, post):
    post("/workouts/2/place/plan", {"who": "all"})
    post("/roster/24/remove", {})
    wait(client, 2)
    progress = client.get("/workouts/2/place/progress").json
    assert progress["done"] == progress["total"] == 24
    assert client.get("/workouts/2/place/").text.count('class="lane-middle"') == 22  # one is flagged, one is away
    post("/roster/24/restore", {})
    assert 'id="athlete-24"' in client.get("/workouts/2/place/").text


def test_a_stopped_batch_keeps_what_was_finished(client, post):
    post("/workouts/3/place/plan", {})
    post("/workouts/3/place/cancel", {})
    wait(client, 3)
    progress = client.get("/workouts/3/place/progress").json
    page = client.get("/workouts/3/place/").text
    assert page.count('class="lane-middle"') == progress["done"] <= 24
    assert "The plans that were finished are kept" in page or progress["done"] == 24


def test_the_break_page_and_place_show_the_same_plan(client, post):
    post("/workouts/4/break/2/card", {})
    score = re.search(r'data-testid="score">([^<]+)', client.get("/workouts/4/break/2").text)[1]
    place = client.get("/workouts/4/place/").text
    row = place[place.index('id="athlete-2"') :]
    assert f"<strong>{score}</strong>" in row[: row.index("</form>")]


def test_a_leaderboard_goes_out_and_comes_in_again(client):
    exported = client.get("/field/4.csv").data
    assert upload(client, "/field/3", "board.csv", exported).status_code == 302
    assert client.get("/field/3.csv").data == exported


def test_a_simulated_field_stands_in_for_a_leaderboard(client, post):
    where = post("/workouts/new", {"text": "Tiny\nfor time, cap 2:00\n10 burpees", **DAYS}).headers["Location"]
    workout_id = int(re.search(r"/workouts/(\d+)/", where)[1])
    assert "No results yet" in client.get(f"/field/{workout_id}").text
    post(f"/field/{workout_id}", {"action": "simulate"})
    field = client.get(f"/field/{workout_id}?score=30").text
    assert "2000 results, <strong>simulated</strong>" in field
    assert re.search(r"Place \d+ of 2000</strong> in the simulated field", field)
    post(f"/field/{workout_id}", {"text": "name,division,score\nA,men,9\nB,men,0:30\n"})
    assert "simulated" not in client.get(f"/field/{workout_id}?score=30").text.partition("Import")[0]


def test_an_athlete_file_comes_in_once(client):
    athlete = {"name": "Mira Sol", "tier": "competing", "flags": {"t2b": "hands"}}
    data = json.dumps(athlete).encode()
    stored = upload(client, "/roster/import", "mira.json", data)
    assert stored.status_code == 302
    assert "toes-to-bar: hands" in client.get(stored.headers["Location"]).text
    again = upload(client, "/roster/import", "mira.json", data)
    assert again.status_code == 422
    assert "there is an athlete called Mira Sol" in again.text
    broken = upload(client, "/roster/import", "mira.json", data.replace(b"competing", b"elite"))
    assert "tier" in broken.text
    assert broken.status_code == 422


def test_a_table_says_who_is_new_and_who_is_updated_and_keeps_other_numbers(client, post):
    text = "name,pull-up\nAnsel Brook,41\nNew Person,9\n"
    page = post("/roster/import", {"text": text}).text
    assert "updates the one there" in page
    before = client.get("/roster/1.json").json
    post("/roster/import", {"text": text, "action": "store"})
    after = client.get("/roster/1.json").json
    assert after["unbroken"] == {**before["unbroken"], "pull-up": 41}
    assert after["one_rep_max_kg"] == before["one_rep_max_kg"]


def test_numbers_are_corrected_and_taken_away_on_the_athletes_page(client, post):
    data = client.get("/roster/1.json").json
    version = re.search(r'name="version"[^>]*value="(\d+)"', client.get("/roster/1").text)[1]
    name = next(iter(data["unbroken"]))
    form = {"name": data["name"], "tier": data["tier"], "sex": "m", "version": version}
    assert post("/roster/1", {**form, f"set-{name}": "lots"}).status_code == 422
    assert client.get("/roster/1.json").json == data
    assert post("/roster/1", {**form, f"set-{name}": ""}).status_code == 302
    assert name not in client.get("/roster/1.json").json["unbroken"]
