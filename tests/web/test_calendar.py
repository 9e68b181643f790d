"""The calendar without a browser: made in the background, overruled by hand, out as calendar files."""

import re
import threading

import pytest
from icalendar import Calendar

HERE = "/calendar/"
HALL = {"every_min": "30", "lanes": "6", "judges": "6", "equipment": "machine: 4"}


def form_of(client, **more):
    page = client.get(HERE).text
    hours = dict(re.findall(r'name="(hours-[\d-]+)" value="([^"]*)"', page))
    return {"version": re.search(r'name="version" value="(-?\d+)"', page)[1], **hours, **HALL, **more}


def wait(client):
    tick = threading.Event()
    while not (told := client.get(f"{HERE}progress").json)["done"]:
        tick.wait(0.05)
    return told


@pytest.fixture
def made(client, post):
    """Return the page of a calendar with everybody of one workout in it."""
    for workout in (1, 3, 4):
        post(f"/workouts/{workout}/remove", {})
    form = form_of(client, wishes="Ansel Brook: not Thu, Fri\nBettina Kroll: Sat after 10:00")
    assert post(HERE, form).status_code == 302
    assert wait(client)["problem"] == ""
    return client.get(HERE).text


def heats(page):
    """Return day, time and names of every heat with somebody in it."""
    found = []
    for day, inside in re.findall(r'<section[^>]*aria-label="(\w+ \d+ \w+)">(.*?)</section>', page, re.S):
        for at, chips in re.findall(r"Here: \w+ ([\d:]+).*?<ul>(.*?)</ul>", inside, re.S):
            names = re.findall(r'aria-label="([^,◆]+?)(?: ◆)?, [^"]+: move"', chips)
            if names:
                found.append((day, at, names))
    return found


def test_everybody_has_a_heat_and_wishes_are_kept(made):
    found = heats(made)
    assert sum(len(names) for _, _, names in found) >= 23
    assert all(len(names) <= 6 for _, _, names in found)
    (ansel,) = [(day, at) for day, at, names in found if "Ansel Brook" in names]
    assert not ansel[0].startswith(("Thursday", "Friday"))
    assert "cal-wrong" not in made


def test_a_try_moved_by_hand_stays_is_marked_where_it_clashes_and_can_be_moved_back(client, post, made):
    number = re.search(r'data-number="(\d+)"', made)[1]
    key = re.search(r'data-key="([^"]+)"[^>]*><button[^>]*aria-label="Ansel Brook', made)[1]
    assert post(f"{HERE}move/{key}/{number}", {}).status_code == 302
    page = client.get(HERE).text
    assert "Ansel Brook cannot come then" in page
    assert "◆" in page
    undo = re.search(r'action="(/calendar/move/[^"]+)"', page)[1]
    assert post(undo, {}).status_code == 302
    assert "cannot come then" not in client.get(HERE).text
    assert post(f"{HERE}move/999/2/0/{number}", {}).status_code == 404
    assert post(f"{HERE}move/{key}/0", {}).status_code == 302
    assert "taken out by hand" in client.get(HERE).text


def test_calendar_files_have_every_try_once(client, made):
    hall = Calendar.from_ical(client.get(f"{HERE}hall.ics").data)
    events = list(hall.walk("VEVENT"))
    assert len({str(event["uid"]) for event in events}) == len(events) >= 22
    own = Calendar.from_ical(client.get(f"{HERE}athlete/2.ics").data)
    (event,) = own.walk("VEVENT")
    assert str(event["summary"]) == "Two Lamps"


@pytest.mark.parametrize(
    ("wrong", "told"),
    [
        ({"hours-2026-03-12": "evening"}, "Thursday 12 March: “evening” is not understood"),
        ({"hours-2026-03-12": "17:99-21:00"}, "17:99 is no time of the day"),
        ({"wishes": "Ansel Brook likes Sundays"}, "Wishes, line 1"),
        ({"wishes": "Nobody Here: not Sat"}, "Wishes, line 1"),
        ({"wishes": "Ansel Brook: not Caturday"}, "name days as Mon, Tue"),
        ({"every_min": "1"}, "after 5 to 240 minutes"),
        ({"equipment": "rope: 2\nmany boxes"}, "Equipment, line 2: “many boxes” is not understood"),
        ({"judging": "Ansel Brook, Nobody Here"}, "nobody in the roster is called “Nobody Here”"),
    ],
)
def test_what_cannot_be_read_is_named_and_what_was_typed_stays(client, post, wrong, told):
    answer = post(HERE, form_of(client, **wrong))
    assert answer.status_code == 422
    assert told in answer.text
    (typed,) = wrong.values()
    assert typed in answer.text


def test_a_calendar_changed_meanwhile_is_not_overwritten(client, post, made):
    form = form_of(client) | {"version": "1"}
    key = re.search(r'data-key="([^"]+)"', made)[1]
    number = re.search(r'data-number="(\d+)"', made)[1]
    post(f"{HERE}move/{key}/{number}", {})
    post(HERE, form)
    assert "changed" in wait(client)["problem"]


def test_athletes_judge_each_other_and_equipment_bounds_a_heat(client, post, made):
    """No judge from outside: whoever judges does not compete then, and the duty goes into their calendar."""
    gear = re.search(r"The open workouts need ([^.<]+)", made)[1].split(", ")[0]
    names = [name for _, _, names in heats(made) for name in names][:8]
    form = form_of(client, judges="0", judging="\n".join(names), equipment=f"{gear}: 2\nrocking horse: 1")
    assert post(HERE, form).status_code == 302
    assert wait(client)["problem"] == ""
    page = client.get(HERE).text
    found = heats(page)
    assert max(len(names) for _, _, names in found) == 2
    judged = re.findall(r'cal-judging">judging: ([^<]+)', page)
    assert len(judged) == len(found)
    for heat in re.findall(r'<li class="cal-heat".*?</div></li>', page, re.S):
        judges = re.findall(r'cal-judging">judging: ([^<]+)', heat)
        chips = re.findall(r'aria-label="([^,◆]+?)(?: ◆)?, [^"]+: move"', heat)
        assert not chips or not set(judges[0].split(", ")) & set(chips)
    assert "Not needed by any of them: rocking horse" in page
    hall = Calendar.from_ical(client.get(f"{HERE}hall.ics").data)
    duties = [str(event["summary"]) for event in hall.walk("VEVENT") if str(event["summary"]).startswith("Judge: ")]
    assert sorted(duties) == sorted(f"Judge: {name}" for names in judged for name in names.split(", "))
