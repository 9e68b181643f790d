"""Prep pages: the warm-up follows what is typed, is kept, goes to the calendar; the judge sheet is one page."""

import itertools
import re

HERE = "/workouts/1/prep/2"


def test_the_page_counts_back_from_the_start_and_shows_lane_standards_and_cautions(client):
    assert "/workouts/1/prep/" in client.get("/workouts/1/prep/").headers["Location"]
    page = client.get(HERE).text
    for words in (
        "raise temperature",
        "primer",
        "Build-up",
        "At the lane",
        "What counts",
        "If the day goes otherwise",
    ):
        assert words in page
    assert "last full meal" in page
    assert "emergency" in page
    assert 'aria-current="page"><span>Prep' in page


def test_a_start_gives_times_of_day_and_lengths_hold(post):
    form = {"starts_at": "2026-03-13T18:40", "school": "breathe hard early", "rest": "6:00", "raise": "5:00"}
    html = post(f"{HERE}/preview", form).json["html"]
    assert "18:34" in html  # six minutes of rest before the start
    assert ">18:40<" in html
    assert re.search(r'data-testid="begins">1[78]:\d\d<', html)
    other = post(f"{HERE}/preview", {**form, "rest": "7:00"}).json["html"]
    assert "18:33" in other


def test_what_cannot_be_read_names_the_part_and_changes_nothing(client, post, seen):
    for form, words in (
        ({"rest": "long"}, "is no length; write it as 4:30"),
        ({"rest": "90:00"}, "give 0 to 60 minutes"),
        ({"starts_at": "tonight"}, "is no day and time"),
    ):
        answer = post(f"{HERE}/preview", form)
        assert answer.status_code == 422
        assert words in str(answer.json["errors"])
        assert post(HERE, {**form, "version": seen(HERE)}).status_code == 422
    assert "by the rule" in client.get(HERE).text


def test_a_warm_up_is_kept_becomes_the_template_and_is_forgotten(client, post, seen):
    form = {"starts_at": "2026-03-13T18:40", "school": "stay fresh", "mobility": "8:00"}
    assert post(HERE, {**form, "version": seen(HERE)}).status_code == 302
    page = client.get(HERE).text
    assert "own warm-up" in page
    assert 'name="mobility" value="8:00"' in page
    assert "by the rule" in client.get("/workouts/1/prep/6").text
    post(HERE, {**form, "action": "template", "version": seen(HERE)})
    other = client.get("/workouts/1/prep/6").text
    assert 'name="mobility" value="8:00"' in other
    assert "18:40" not in other  # a start is nobody else's
    post(HERE, {"action": "drop", "version": seen(HERE)})
    assert "by the rule" in client.get(HERE).text


def test_the_calendar_has_a_part_each_with_an_alarm_and_asks_for_a_start(client, post, seen):
    assert client.get(f"{HERE}/warm-up.ics").status_code == 302
    post(HERE, {"starts_at": "2026-03-13T18:40", "school": "breathe hard early", "version": seen(HERE)})
    text = client.get(f"{HERE}/warm-up.ics").text
    assert text.count("BEGIN:VEVENT") == text.count("BEGIN:VALARM") >= 5
    assert "DTEND:20260313T184000" in text


def test_the_judge_sheet_has_boxes_targets_and_places_for_signatures(client):
    page = client.get(f"{HERE}/judge").text
    assert "Judge signs" in page
    assert "No-reps" in page
    assert re.search(r'class="plan">\d+:\d\d<', page)


def test_who_is_held_back_gets_no_warm_up(client, post):
    athlete = client.get("/roster/8").text
    version = re.search(r'name="version"[^>]*value="(\d+)"', athlete)[1]
    fields = {"name": "Hilke Sund", "tier": "building", "sex": "f", "division": "women", "version": version}
    assert post("/roster/8", {**fields, "flags": "toes-to-bar: shoulder"}).status_code == 302
    held = client.get("/workouts/1/prep/8").text
    assert "An injury flag stands on" in held
    assert post("/workouts/1/prep/8/preview", {}).status_code == 404


def test_heats_are_laid_out_and_every_warm_up_counts_back_from_its_heat(client, post, seen):
    here = "/workouts/1/heats/"
    assert "Nobody is planned yet" in client.get(f"{here}lanes").text
    for athlete in (3, 6, 9):
        post(f"/workouts/1/break/{athlete}/card", {})
    form = {"starts_at": "2026-03-13T18:00", "between": "20", "lanes": "2", "machines": "1", "version": seen(here)}
    assert post(here, form).status_code == 302
    assert "/workouts/1/heats/lanes" in client.get(here).text
    page = client.get(f"{here}lanes").text
    assert "Heat 2" in page
    assert "starts 18:20" in page
    turns = re.findall(r"1, (1\d:\d\d(?::\d\d)?)–(1\d:\d\d(?::\d\d)?)", page)
    assert len(turns) == 3
    assert all(begins < ends for begins, ends in turns)
    ordered = sorted(turns)
    assert all(a[1] <= b[0] for a, b in itertools.pairwise(ordered))
    starts = {
        re.search(r'name="starts_at" value="([^"]*)"', client.get(f"/workouts/1/prep/{n}").text)[1]
        for n in (3, 6, 9)
    }
    assert starts == {"2026-03-13T18:00", "2026-03-13T18:20"}
    for wrong in ({"lanes": "many"}, {"lanes": "0"}, {"starts_at": "noon"}):
        assert post(here, {**form, **wrong, "version": seen(here)}).status_code == 422


def test_a_max_lift_alone_has_a_way_to_the_platform(client, post):
    made = post(
        "/workouts/new", {"text": "Anvil\nmax snatch in 6:00", "opens_on": "2026-03-12", "due_on": "2026-03-16"}
    )
    here = made.headers["Location"].replace("/read", "/prep/3")
    page = client.get(here).text
    assert re.search(r'data-testid="begins">−40:00', page)
    assert "opening: " in page
    assert "snatch" in page
    assert "Judge sheet" not in page
    assert "warm-primer" not in page
    assert "race pace" not in page
    assert client.get(f"{here}/judge").status_code == 404
    longer = post(f"{here}/preview", {"build_up": "15:00", "starts_at": "2026-03-13T18:00"})
    assert "17:2" in re.search(r'data-testid="begins">([^<]+)', longer.json["html"])[1]
    heats = client.get(here.replace("/prep/3", "/heats/lanes")).text
    assert "Heat 4" in heats
