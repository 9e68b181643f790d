"""Roster, Place and Field without a browser: bad input is named, changes nothing and comes back as typed."""

import html
import io
import re
from dataclasses import replace
from datetime import date

import pytest

from sorvek.core.club import Result
from sorvek.store.athletes import all_athletes, load_athlete, save_athlete
from sorvek.store.database import connection
from sorvek.store.log import LoggedAttempt, add_attempt
from sorvek.store.tables import database

ADA = {"name": "Ada Brandt", "tier": "building", "sex": "f", "division": "women"}


@pytest.mark.parametrize(
    "path", ["/roster/", "/roster/new", "/roster/1", "/roster/import", "/field/1", "/workouts/1/place/", "/field/"]
)
def test_a_page_renders_with_nothing_inline(client, path):
    response = client.get(path, follow_redirects=True)
    assert response.status_code == 200
    assert not re.search(r"<script(?![^>]*src=)|<style|\sstyle=|\son\w+=", response.text)


def test_the_club_is_planned_and_a_flagged_athlete_is_held(client, post, planned, seen):
    page = planned(2)
    assert "Wendel Strand: flagged: bar muscle-up" in page
    assert page.count('class="lane-middle"') == 23
    assert re.search(r"beats \d+ %", page)
    held = client.get("/workouts/2/break/23").text
    assert "An injury flag stands on" in held
    assert 'data-testid="score"' not in held
    version = seen("/workouts/2/break/23", "lane-flag")
    post("/workouts/2/place/23", {"flagged": "bar muscle-up", "instead": "air squat", "version": version})
    assert "air squat instead of bar muscle-up" in client.get("/workouts/2/break/23").text


def test_a_tier_is_overruled_and_given_back(client, post, planned, seen):
    planned(2)

    def move(tier):
        version = seen("/workouts/2/place/?by=outcome", 'id="athlete-1"')
        return post("/workouts/2/place/1", {"tier": tier, "version": version})

    def lane():
        page = client.get("/workouts/2/place/?by=outcome").text
        before = page[: page.index('id="athlete-1"')]
        return re.findall(r'data-lane="([^"]+)"', before)[-1]

    computed = lane()
    move("reaches the second part")
    assert lane() == "reaches the second part"
    move("left out")
    assert lane() == "left out"
    assert "Left out of this workout" in client.get("/workouts/2/break/1").text
    move("")
    assert lane() == computed
    late = post("/workouts/2/place/1", {"tier": "left out", "version": "1"})  # a tab that saw it before all that
    assert late.status_code == 409
    assert lane() == computed


def test_nobody_is_moved_who_does_not_exist(post):
    assert post("/workouts/1/place/999", {"tier": "left out", "version": "0"}).status_code == 404
    assert post("/workouts/99/place/1", {"tier": "left out", "version": "0"}).status_code == 404


def test_a_changed_athlete_makes_the_plan_stale(client, planned):
    assert "out of date" not in planned(2)
    with database.connection_context():
        saved = load_athlete(2)
        save_athlete(2, replace(saved.athlete, mass_kg=70.0), saved.version)
    assert "1 out of date" in client.get("/workouts/2/place/").text


def test_an_entry_rule_names_who_does_not_meet_it(client, post, seen):
    version = seen("/workouts/1/place/", "place/rule")
    post("/workouts/1/place/rule", {"rule": "200 toes-to-bar", "version": version})
    page = client.get("/workouts/1/place/").text
    assert "of 200 toes-to-bar" in page
    for bad in ("toes-to-bar", "² toes-to-bar", "9" * 5000 + " burpees"):
        refused = post("/workouts/1/place/rule", {"rule": bad, "version": version})
        assert refused.status_code == 422
        assert "begin with a number" in refused.text
    assert post("/workouts/1/place/rule", {"rule": "", "version": version}).status_code == 409
    assert "of 200 toes-to-bar" in client.get("/workouts/1/place/").text


def test_prep_names_the_scaled_version_and_plans_it(client, post, seen):
    version = seen("/workouts/1/place/", "place/rule")
    rule = {"rule": "200 toes-to-bar, else hanging knee raises", "version": version}
    assert post("/workouts/1/place/rule", rule).status_code == 302
    assert "200 toes-to-bar, else hanging knee raise" in client.get("/workouts/1/place/").text
    page = client.get("/workouts/1/prep/2").text
    assert "Entry rule of the club: 200 toes-to-bar" in page
    assert "The scaled version does hanging knee raise instead" in page
    scaled = {"flagged": "toes-to-bar", "instead": "hanging knee raise"}
    scaled["version"] = seen("/workouts/1/prep/2", "entry-line")
    post("/workouts/1/place/2", scaled)
    page = client.get("/workouts/1/prep/2").text
    assert "Entry rule of the club" not in page
    assert "hanging knee raise" in page
    assert "Bettina Kroll: " not in client.get("/workouts/1/place/").text


def test_an_athlete_is_added_changed_removed_and_put_back(client, post, seen):
    where = post("/roster/new", ADA).headers["Location"]
    assert post(where, {**ADA, "version": seen(where), "mass_kg": "61"}).status_code == 302
    assert 'value="61"' in client.get(where).text
    assert post("/roster/new", ADA).status_code == 422
    page = post(f"{where}/remove", {}, follow_redirects=True).text
    undo = re.search(r'action="([^"]+)"[^>]*>.*?Ada Brandt was removed.*?Undo', page, re.DOTALL)[1]
    assert client.get(where).status_code == 404
    assert post(undo, {}).status_code == 302
    assert 'value="61"' in client.get(where).text
    assert post(undo, {}).status_code == 404


def test_two_versions_of_an_athlete_are_set_side_by_side_and_merged(client, post, seen):
    """A second tab that still holds the first version: its change and the other's are both kept."""
    where = post("/roster/new", {**ADA, "name": "Two Tabs", "notes": "left handed"}).headers["Location"]
    was = html.unescape(re.search(r'name="was" value="([^"]*)"', client.get(where).text)[1])
    both = {**ADA, "name": "Two Tabs", "version": seen(where), "was": was}
    assert post(where, {**both, "mass_kg": "61", "notes": "left handed"}).status_code == 302
    late = post(where, {**both, "mass_kg": "", "notes": "left handed, tall"})
    assert late.status_code == 409
    fields = dict(re.findall(r'type="hidden" name="([^"]+)" value="([^"]*)"', late.text))
    chosen = dict(re.findall(r'type="radio" name="([^"]+)" value="([^"]*)" checked', late.text))
    assert chosen == {"mass_kg": "61", "notes": "left handed, tall"}  # each keeps what only one of them changed
    settled = post(where, {**fields, **chosen})
    assert settled.status_code == 302, settled.text
    page = client.get(where).text
    assert 'value="61"' in page
    assert "left handed, tall" in page


@pytest.mark.parametrize(
    ("field", "value", "words"),
    [
        ("mass_kg", "400", "pounds"),
        ("name", "", "Give a name"),
        ("flags", "wiggle: knee", "unknown movement"),
        ("w_prime_j", "1", "2,000"),
    ],
)
def test_an_impossible_number_is_named_and_what_was_typed_stays(post, field, value, words):
    response = post("/roster/new", {**ADA, "notes": "as typed", field: value})
    assert response.status_code == 422
    assert words in response.text
    assert "as typed" in response.text


def test_a_test_is_entered_or_refused_with_a_reason(client, post):
    good = {"kind": "set", "movement": "t2b", "value": "17", "unit": "kg", "day": "2026-03-01"}
    assert post("/roster/3/test", good).status_code == 302
    assert "2026-03-01" in client.get("/roster/3").text
    bad = post("/roster/3/test", {**good, "movement": "wiggle"})
    assert bad.status_code == 422
    assert "unknown movement" in bad.text
    assert "no number" in post("/roster/3/test", {**good, "value": "many"}).text
    assert "Write the time" in post("/roster/3/test", {**good, "kind": "row", "value": "fast"}).text


def test_a_table_is_shown_first_and_stored_all_or_nothing(client, post):
    def names():
        with database.connection_context():
            return {a.athlete.name for a in all_athletes()}

    before = names()
    text = "name,sex,pull-up\nMara,f,9\nTilo,m,x\n"
    refused = post("/roster/import", {"text": text, "action": "store"})
    assert refused.status_code == 422
    assert "row 3, pull-up" in refused.text
    assert names() == before
    text = text.replace("x", "12")
    assert "Store 2 athletes" in post("/roster/import", {"text": text}).text
    assert names() == before
    assert post("/roster/import", {"text": text, "action": "store"}).status_code == 302
    assert names() == before | {"Mara", "Tilo"}


def test_pounds_need_an_answer_before_anything_is_stored(post):
    text = "name,1RM deadlift\nAda,405\nBo,385\n"
    asked = post("/roster/import", {"text": text, "action": "store"})
    assert asked.status_code == 200
    assert "look like pounds" in asked.text
    assert (
        post(
            "/roster/import", {"text": text, "action": "store", "unit-1": "lb", "target-1": "1rm:deadlift"}
        ).status_code
        == 302
    )


@pytest.mark.parametrize(
    ("data", "words"),
    [
        ("name\nJosé\n".encode("cp1252"), "not UTF-8"),
        (b"name\n" + b"A\n" * 10_000, "more than 2000 rows"),
        (b"colour\nblue\n", "no column holds the name"),
    ],
)
def test_a_file_that_cannot_be_read_says_why(client, data, words):
    token = re.search(r'name="csrf-token" content="([^"]+)"', client.get("/").text)[1]
    form = {"csrf_token": token, "file": (io.BytesIO(data), "roster.csv")}
    response = client.post("/roster/import", data=form, content_type="multipart/form-data")
    assert response.status_code == 422
    assert words in response.text


def test_the_roster_goes_out_as_csv_and_one_athlete_as_json(client):
    assert client.get("/roster/roster.csv").text.startswith("name,tier,sex")
    assert client.get("/roster/1.json").json["name"] == "Ansel Brook"


def test_a_score_is_placed_and_a_bad_one_or_a_bad_board_is_named(client, post):
    assert re.search(r"Place \d+ of 2000", client.get("/field/2?score=92&other=1").text)
    assert "people around that place" in client.get("/field/2?score=92&other=1").text
    assert "no score" in client.get("/field/2?score=soon").text
    assert "counts reps" in client.get("/field/1?score=4:10").text
    bad = post("/field/1", {"text": "name,division,score\nA,men,fast"})
    assert bad.status_code == 422
    assert "row 2, score" in bad.text
    assert "2000 results" in client.get("/field/1").text
    assert post("/field/1", {"text": "name,division,score\nA,men,90\nB,men,80"}).status_code == 302
    assert "2 results" in client.get("/field/1").text


def test_an_earlier_text_can_be_looked_at_and_prose_is_read(client, post):
    text = "Signal Mast\namrap 8:00\n10 burpees\nthen max clean-and-jerk in 5:00"
    days = {"opens_on": "2026-03-20", "due_on": "2026-03-24"}
    post("/workouts/4/read", {"text": text, "version": 1, **days})
    page = client.get("/workouts/4/read").text
    assert "Earlier texts (1)" in page
    assert "burpee pull-ups" in client.get("/workouts/4/read?version=1").text
    answer = post("/read/announcement", {"text": "10 min AMRAP\n5 burpees\n3 wiggles"}).json
    assert answer["text"] == "amrap 10:00\n5 burpees\n# ? 3 wiggles\n"
    assert '<span class="src src-doubt" data-line="# ? 3 wiggles">3 wiggles</span>' in answer["html"]
    assert "competing" in post("/read/prospects", {"text": text}).json["html"]


def test_people_alike_on_an_earlier_workout_give_a_second_forecast(client, post, planned):
    planned(2)
    post("/field/2", {"text": "name,division,score\n" + "\n".join(f"P{i},open,{20 + i // 4}" for i in range(60))})
    assert "The field" not in client.get("/workouts/2/break/2").text, "nobody has a score on the workout before"
    post("/field/1", {"text": "name,division,score\n" + "\n".join(f"P{i},open,{60 + i}" for i in range(60))})
    planned(1)
    told = re.search(r'data-testid="second">(.*?)</p>', client.get("/workouts/2/break/2").text, re.DOTALL)[1]
    assert "(forecast)" in told
    assert "worse than the model" in told, "they got to 35 reps at most"
    assert re.search(r"\d+ reps to \d+ reps here", told)
    row = client.get("/workouts/2/place/?by=outcome").text
    assert re.search(r'class="loss" title="\d+ people next to this forecast there did \d+ reps to \d+ reps', row)
    with connection():
        for reps in (64, 71, 68):
            done = Result("", "", False, float(reps))
            add_attempt(2, LoggedAttempt("Breakwater", "amrap 1:00", date(2026, 3, 12), done, workout_id=1))
    told = re.search(r'data-testid="second">(.*?)</p>', client.get("/workouts/2/break/2").text, re.DOTALL)[1]
    assert "<strong>71 reps</strong> on" in told, "the best of what was done stands for the forecast"
    post("/field/1", {"action": "simulate"})
    post("/field/2", {"action": "simulate"})
    told = client.get("/workouts/2/break/2").text
    assert "no second opinion yet" in told, "a field simulated by the model cannot confirm it"


def test_read_tells_what_comes_where_people_stop(client, post):
    rows = "".join(f"P{i},open,{reps}\n" for i, reps in enumerate([27] * 30 + [*range(40, 100)]))
    assert post("/field/1", {"text": f"name,division,score\n{rows}"}).status_code == 302
    page = client.get("/workouts/1/read").text
    stop = page[page.index("Where people stop") :]
    assert re.search(r"27 reps</td><td[^>]*>33 %</td><td[^>]*>30 people</td><td>toes-to-bar</td>", stop)
