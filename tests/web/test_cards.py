"""Cards, sheets and files: an unguessable link shows one athlete only, and nothing once it is revoked."""

import json
import re
from xml.etree import ElementTree

import pytest
from icalendar import Calendar

HERE = "/workouts/2/break/2/card"


@pytest.mark.filterwarnings("ignore::pytest.PytestUnraisableExceptionWarning")  # flask-compress leaves files to gc
def test_a_card_opens_without_an_account_shows_one_athlete_and_is_revoked(app, client, post):
    post(HERE, {})
    address = re.search(r'value="http://127.0.0.1:0(/c/[\w-]{20,})"', client.get(HERE).text)[1]
    stranger = app.test_client()
    page = stranger.get(address)
    assert page.status_code == 200
    assert "Bettina Kroll" in page.text
    assert "Ansel Brook" not in page.text
    assert "<script" not in page.text
    assert page.headers["Cache-Control"] == "no-store"
    size = len(page.data)
    for path in re.findall(r'href="(/static/[^"]+)"', page.text):
        with stranger.get(path) as response:
            size += len(response.data)
    assert size < 60_000
    post(HERE, {"action": "revoke"})
    gone = stranger.get(address)
    assert gone.status_code == 410
    assert "has revoked it" in gone.text
    post(HERE, {})
    assert address not in client.get(HERE).text  # a new link, not the old one


def test_a_held_athlete_has_no_card(client):
    assert client.get("/workouts/2/break/23/card").status_code == 404


@pytest.mark.parametrize("what", ["preview", "edit", "replan", "advice"])
def test_nothing_is_planned_through_an_injury_flag_by_any_address(post, what):
    assert post(f"/workouts/2/break/23/{what}", {"sets-0": "unbroken"}).status_code == 404
    assert post("/workouts/2/break/23", {"sets-0": "unbroken", "action": "keep"}).status_code == 404


def test_a_card_made_before_an_injury_is_gone_and_shows_nothing_of_the_club(app, client, post, seen):
    here = "/workouts/2/break/9/card"
    post(here, {})
    address = re.search(r'value="http://127.0.0.1:0(/c/[\w-]{20,})"', client.get(here).text)[1]
    assert "%23fff" in client.get(here).text  # a code on white: readable on a dark page too
    post("/workouts/2/place/9", {"tier": "left out", "version": seen("/workouts/2/place/", 'id="athlete-9"')})
    gone = app.test_client().get(address)
    assert gone.status_code == 404
    assert "Ask your coach" in gone.text
    assert "Roster" not in gone.text


def test_the_plan_goes_out_as_text_json_svg_and_calendar(client):
    base = "/workouts/2/break/2/plan"
    text = client.get(f"{base}.txt").text
    assert text.startswith("Bettina Kroll · Two Lamps")
    assert json.loads(client.get(f"{base}.json").text)["athlete"] == "Bettina Kroll"
    drawing = ElementTree.fromstring(client.get(f"{base}.svg").text)
    assert drawing.tag.endswith("svg")
    assert client.get(f"{base}.exe").status_code == 404
    event = Calendar.from_ical(client.get("/workouts/2/calendar.ics").text).walk("VEVENT")[0]
    assert "Two Lamps" in event["summary"]
    assert (event.end - event.start).days == 5


def test_sheet_and_cards_show_who_is_planned(client, post):
    post("/workouts/3/break/1/card", {})
    post("/workouts/3/break/12/card", {})
    sheet, cards = (client.get(f"/workouts/3/{page}").text for page in ("sheet", "cards"))
    for page in (sheet, cards):
        assert "Ansel Brook" in page
        assert "Lioba Quist" in page
    assert cards.count('class="card-a6"') == 2
    assert "Nobody is planned yet" in client.get("/workouts/4/sheet").text


def test_a_set_is_edited_on_the_tape_and_the_rest_replanned_around_a_lock(post):
    sets = {"sets-0": "7/5 r6", "sets-1": "5/4 r4", "sets-2": "unbroken"}
    split = post("/workouts/1/break/2/edit", {**sets, "segment": 0, "set": 0, "edit": "split"})
    assert split.json["texts"][0] == "4/3/5 r6"
    refused = post("/workouts/1/break/2/edit", {**sets, "segment": 2, "set": 0, "edit": "join"})
    assert refused.status_code == 422
    assert "last set" in refused.json["problem"]
    assert post("/workouts/1/break/2/edit", {**sets, "edit": "explode"}).status_code == 422
    locked = post("/workouts/1/break/2/replan", {**sets, "lock-0": "yes"}).json["texts"]
    assert locked[0] == "7/5 r6"
    assert locked[1:] != ["5/4 r4", "unbroken"]


def test_kept_plans_stay_as_versions_with_their_author(client, post, seen):
    here = "/workouts/1/break/3"
    for sets in ("6/6 r5", "4/4/4 r5"):
        post(here, {"sets-0": sets, "action": "keep", "author": "Ida", "version": seen(here)})
    page = client.get("/workouts/1/break/3").text
    assert "Kept versions (2)" in page
    assert "UTC, Ida" in page
    first = re.findall(r'href="(\?temper=steady&amp;sets-0=[^"]+)"', page)[-1].replace("&amp;", "&")
    assert 'value="6/6 r5"' in client.get("/workouts/1/break/3" + first).text


@pytest.mark.parametrize("words", ["tier default", "longest set", "critical power", "400 likely days"])
def test_every_number_says_where_it_comes_from(client, words):
    assert words in client.get("/workouts/1/break/3").text


def test_a_round_is_zoomed_and_the_computed_plan_stands_beside(post):
    sets = {"sets-0": "4/4/4 r12", "sets-1": "unbroken", "sets-2": "unbroken"}
    board = post("/workouts/1/break/2/preview", {**sets, "beside": "yes"}).json
    html = board["tape"]
    assert html.count('class="tape tape-beside"') == 2
    assert "Against computed" in board["splits"]
    every = post("/workouts/1/break/2/preview", {**sets, "reserves": "all"}).json["tape"]
    assert html.count('class="tape-track"') == 3 < every.count('class="tape-track"')
    zoomed = post("/workouts/1/break/2/preview", {**sets, "view": "Round 2"}).json["tape"]
    assert zoomed.count("tape-set") < html.count("tape-set") / 4
    part = post("/workouts/1/break/2/preview", {**sets, "view": "60.0-120.0"}).json["tape"]
    assert 'data-start="60.0" data-end="120.0"' in part
    for nonsense in ("120-60", "a-b", "1-2", "9" * 40 + "-" + "9" * 41):
        assert 'data-start="0.0"' in post("/workouts/1/break/2/preview", {**sets, "view": nonsense}).json["tape"]


def test_pace_and_style_of_a_lane_hold_for_all_its_rounds(post):
    sets = {"sets-0": "rounds 1-2 unbroken, then 6/6 r5", "sets-1": "unbroken", "sets-2": "unbroken"}
    slower = post("/workouts/1/break/2/cast", {**sets, "slot": 0, "pace": "1.1"}).json["texts"]
    assert slower[0] == "rounds 1-2 unbroken pace 1.1, then 6/6 r5"
    shown = post("/workouts/1/break/2/preview", {f"sets-{i}": text for i, text in enumerate(slower)}).json["casts"]
    assert shown[0]["pace"] == "1.1"
    mixed = post("/workouts/1/break/2/preview", {"sets-0": "round 1 unbroken, then 6/6 r5 pace 1.2"}).json["casts"]
    assert mixed[0]["pace"] == ""
    for wrong in ({"slot": 0, "pace": "9"}, {"slot": 0, "style": "backwards"}, {"slot": 77, "pace": "1"}, {}):
        assert post("/workouts/1/break/2/cast", {**sets, **wrong}).status_code == 422


def test_the_tape_is_as_wide_as_the_page_tells_and_that_is_remembered(client, post):
    assert 'width="500"' in post("/workouts/1/break/2/preview", {"room": "500"}).json["tape"]
    assert 'width="500"' in client.get("/workouts/1/break/2").text
    assert 'width="3000"' in post("/workouts/1/break/2/preview", {"room": "9999"}).json["tape"]


def test_tiers_are_stacked_with_who_deviates(client, post):
    for athlete in (1, 2, 3, 12):
        post(f"/workouts/1/break/{athlete}/card", {})
    page = client.get("/workouts/1/tiers").text
    assert page.count('class="tape"') >= 4
    assert "of the own plan" in page or "give the own card" in page
    assert "Nobody is planned yet" in client.get("/workouts/4/tiers").text


def test_the_cards_as_pdf_hold_four_to_a_page(client, post):
    for athlete in (1, 2, 3, 4, 5):
        post(f"/workouts/3/break/{athlete}/card", {})
    planned = client.get("/workouts/3/cards").text.count('class="card-a6"')
    pdf = client.get("/workouts/3/cards.pdf").data
    assert pdf.startswith(b"%PDF")
    assert len(re.findall(rb"/Type /Page\b", pdf)) == -(-planned // 4)
    one = client.get("/workouts/3/cards.pdf?athlete=2").data
    assert len(re.findall(rb"/Type /Page\b", one)) == 1
    assert client.get("/workouts/4/cards.pdf").status_code == 404


def test_a_tier_is_planned_with_the_temperament_a_coach_chose(client, post, seen):
    for athlete in (1, 2, 3, 12):
        post(f"/workouts/1/break/{athlete}/card", {})
    here = "/workouts/1/tiers"
    tier = re.search(r'name="tier" value="([^"]+)"', client.get(here).text)[1]
    chosen = {"tier": tier, "temper": "attack", "version": seen(here)}
    assert post(here, chosen).status_code == 302
    assert "best for the score reached on one day in four" in client.get(here).text
    assert post(here, chosen).status_code == 409  # somebody chose meanwhile
    assert post(here, {**chosen, "temper": "wild"}).status_code == 400


def test_a_plan_is_kept_with_its_temperament(client, post, seen):
    here = "/workouts/1/break/9"
    sides = client.get(f"{here}/tempers").json
    assert re.findall(r'data-row="(\w+)"', sides["html"]) == ["safe", "steady", "attack"]
    assert set(sides["texts"]) == {"safe", "steady", "attack"}
    buttons = re.findall(r'data-temper="(\w+)" aria-pressed="(\w+)"', client.get(here).text)
    assert buttons == [("safe", "false"), ("steady", "true"), ("attack", "false")]
    sets = {"sets-0": "6/6 r5", "temper": "attack", "action": "keep", "version": seen(here)}
    assert post(here, sets).status_code == 302
    page = client.get(here).text
    assert "your plan · attack" in page
    assert 'name="temper" value="attack"' in page
    assert "?temper=attack&amp;sets-0=6/6%20r5" in page
    post(here, {"action": "drop", "version": seen(here)})
    assert 'name="temper" value="steady"' in client.get(here).text
    locked = {"sets-0": "6/6 r5", "lock-0": "yes", "temper": "safe"}
    assert post(f"{here}/replan", locked).json["texts"][0] == "6/6 r5"


def test_a_card_is_kept_as_one_file_that_asks_for_nothing(client, post):
    here = "/workouts/1/break/2/card"
    post(here, {})
    link = re.search(r"/c/[\w-]+", client.get(here).text)[0]
    page = client.get(link)
    assert f'href="{link}/keep"' in page.text
    kept = client.get(f"{link}/keep")
    assert kept.headers["Content-Disposition"] == "attachment; filename=breakwater-bettina-kroll.html"
    assert ".card-a6" in kept.text
    assert "Bettina Kroll" in kept.text
    assert not re.search(r'(src|href)="', kept.text)
    assert client.get("/c/nowhere/keep").status_code == 404


def test_the_own_card_says_when_to_begin_to_warm_up(client, post, seen):
    post("/workouts/1/break/2/card", {})
    text = client.get("/workouts/1/break/2/plan.txt").text
    assert re.search(r"Begin to warm up \d\d min before your start$", text, re.MULTILINE)
    form = {"starts_at": "2026-03-13T18:40", "action": "keep", "version": seen("/workouts/1/prep/2", "warmer")}
    assert post("/workouts/1/prep/2", form).status_code == 302
    link = re.search(r"/c/[\w-]+", client.get("/workouts/1/break/2/card").text)[0]
    assert re.search(r"before your start: at 18:\d\d for 18:40", client.get(link).text)
