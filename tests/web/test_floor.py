"""The floor without a browser: heats are set up and run, taps are stored once, links open one lane."""

import json
import re
import time

import pytest

HERE = "/workouts/1/floor/"


@pytest.fixture
def heat(client, post):
    """Return the address of a heat of three, set up and not started."""
    for athlete in (2, 3, 5):
        post(f"/workouts/1/break/{athlete}/card", {})
    made = post(HERE, {"number": "1"})
    assert made.status_code == 302
    return made.headers["Location"]


@pytest.fixture
def started(client, post, heat, monkeypatch):
    """Return the address of a heat whose clock shows 1:00."""
    post(f"{heat}/start", {})
    began = client.get(f"{heat}/state").json["started_s"]
    monkeypatch.setattr("sorvek.web.floor.routes.now_s", lambda: began + 60)
    monkeypatch.setattr("sorvek.web.floor.shown.now_s", lambda: began + 60)
    monkeypatch.setattr("sorvek.web.floor.lane.now_s", lambda: began + 60)
    return heat, began


def sending(began, *taps, at=30.0):
    made = [{"made_s": began + at + i, **tap} for i, tap in enumerate(taps)]
    return json.dumps({"device": "tester-0001", "asked_s": began + 60, "exchanges": [], "taps": made})


def send(client, address, data):
    token = re.search(r'name="csrf-token" content="([^"]+)"', client.get("/").text)[1]
    headers = {"X-CSRFToken": token, "Content-Type": "application/json"}
    return client.post(address, data=data, headers=headers)


def lane_link(client, heat, number=1):
    return re.findall(r'href="http://[^/]+(/f/[\w-]+/)"', client.get(f"{heat}/lanes").text)[number - 1]


def test_a_heat_is_laid_out_set_up_and_counted_down(client, post, heat):
    page = client.get(heat).text
    assert "Heat 1" in page
    assert page.count('class="floor-lane"') == 3
    assert client.get(f"{heat}/state").json["started_s"] is None
    post(f"{heat}/start", {})
    state = client.get(f"{heat}/state").json
    assert -10.5 < state["clock_s"] < 0
    assert state["ends_s"] == 660
    post(f"{heat}/start", {})
    assert client.get(f"{heat}/state").json["started_s"] is None
    assert "Heat 1, not started" in client.get(HERE).text


def test_taps_of_coach_and_judge_meet_in_one_lane_and_come_once(client, started):
    heat, began = started
    first = sending(began, {"id": "tap-00000001", "kind": "set", "lane": 1})
    for _ in range(3):
        answer = send(client, f"{heat}/taps", first).json
        assert answer["taken"] == ["tap-00000001"]
    reps = answer["lanes"][0]["reps"]
    assert reps > 0
    assert [lane["reps"] for lane in answer["lanes"][1:]] == [0, 0]
    link = lane_link(client, heat)
    phone = send(client, f"{link}taps", sending(began, {"id": "tap-00000002", "kind": "set"}, at=45.0)).json
    assert len(phone["lanes"]) == 1
    assert phone["lanes"][0]["reps"] > reps
    assert phone["lanes"][0]["forecast"]
    undo = sending(began, {"id": "tap-00000003", "kind": "undo", "of": "tap-00000002"}, at=50.0)
    assert send(client, f"{link}taps", undo).json["lanes"][0]["reps"] == reps


def test_a_broken_set_asks_for_its_reps(client, started):
    heat, began = started
    broken = sending(began, {"id": "tap-00000001", "kind": "broken", "lane": 2})
    asked = send(client, f"{heat}/taps", broken).json["lanes"][1]["asked"]
    assert asked["of"] == "tap-00000001"
    told = sending(began, {"id": "tap-00000002", "kind": "reps", "of": "tap-00000001", "reps": 3, "lane": 2})
    lane = send(client, f"{heat}/taps", told).json["lanes"][1]
    assert lane["asked"] is None
    assert lane["reps"] == 3


def test_before_the_start_taps_are_not_taken_and_the_phone_keeps_them(client, heat):
    link = lane_link(client, heat)
    data = sending(time.time(), {"id": "tap-00000001", "kind": "set"})
    assert send(client, f"{link}taps", data).json["taken"] == []


def test_nonsense_is_refused_and_a_wrong_link_leads_nowhere(client, started):
    heat, began = started
    assert send(client, f"{heat}/taps", "{").status_code == 422
    assert send(client, f"{heat}/taps", sending(began, {"id": "x", "kind": "set"})).status_code == 422
    nobody = sending(began, {"id": "tap-00000009", "kind": "set", "lane": 12})
    assert send(client, f"{heat}/taps", nobody).json["taken"] == []
    assert client.get("/f/" + "a" * 24 + "/").status_code == 404
    assert send(client, "/f/" + "a" * 24 + "/taps", "{}").status_code == 404
    assert client.get("/workouts/3/floor/1").status_code == 404
    assert client.get(f"{HERE}99").status_code == 404


def test_who_competes_cannot_judge_in_the_same_heat(client, post, heat):
    names = re.findall(r"<td>([A-Z]\w+ \w+)</td>", client.get(f"{heat}/lanes").text)
    page = post(f"{heat}/judges", {"judge-1": names[1], "judge-2": "Ida Marn"}, follow_redirects=True).text
    assert "competes in this heat and cannot judge" in page
    assert 'value="Ida Marn"' in page
    assert f'name="judge-1" value="{names[1]}"' not in page


def test_results_go_to_the_log_with_what_was_tapped(client, post, started):
    heat, began = started
    assert "Nothing was tapped" in post(f"{heat}/keep", {}, follow_redirects=True).text
    send(client, f"{heat}/taps", sending(began, {"id": "tap-00000001", "kind": "set", "lane": 1}))
    lane = client.get(f"{heat}/state").json["lanes"][0]
    page = post(f"{heat}/keep", {}, follow_redirects=True).text
    assert f"In the log: {lane['name']}" in page
    athlete = re.search(rf'href="(/roster/\d+)"[^>]*>{lane["name"]}', client.get("/roster/").text)[1]
    page = client.get(athlete).text
    assert "Breakwater" in page
    post(f"{heat}/keep", {})
    assert client.get(athlete).text.count("Breakwater") == page.count("Breakwater")  # once however often asked


def test_simulated_athletes_run_a_whole_heat_and_outlive_a_restart(client, post, monkeypatch):
    post("/workouts/1/break/5/card", {})
    heat = post(HERE, {"number": "1", "stand_ins": "yes", "speed": "16.0"}).headers["Location"]
    post(f"{heat}/start", {})
    began = client.get(f"{heat}/state").json["started_s"]
    seen = []
    for second in (5, 10, 15, 20, 42):
        for module in ("shown", "routes"):
            monkeypatch.setattr(f"sorvek.web.floor.{module}.now_s", lambda second=second: began + second)
        state = send(client, f"{heat}/taps", sending(began)).json
        assert state["clock_s"] == pytest.approx(16 * second)
        seen.append(state["lanes"][0])
        if second == 15:
            from sorvek.actions.watched import _watched

            _watched.clear()  # what a restart leaves: the taps alone
    assert [lane["reps"] for lane in seen] == sorted(lane["reps"] for lane in seen)
    assert seen[0]["reps"] > 0
    assert seen[-1]["call"] == "time"
    assert seen[-1]["forecast"] == f"{seen[-1]['reps']} reps"


def test_a_lap_watch_sends_its_laps_and_the_same_again_adds_nothing(client, started):
    heat, _ = started
    address = f"{lane_link(client, heat)}splits?device=watch-1"
    first = client.post(address, data="kind,elapsed\nset,0:21\nlap,50.5\n").json
    assert len(first["taken"]) == 2
    assert first["lanes"][0]["round"] == "Round 2"
    again = client.post(address, data="set,0:21\nlap,50.5\n").json
    assert again["lanes"] == first["lanes"]
    for wrong, words in (
        ("jump,3", "no split"),
        ("lap,soon", "no time"),
        ("lap,-3", "no time"),
        ("lap", "no split"),
    ):
        refused = client.post(address, data=wrong)
        assert refused.status_code == 422
        assert words in refused.json["problem"]
        assert "line 1" in refused.json["problem"]


def test_a_watch_is_told_when_the_heat_is_not_started(client, heat):
    assert client.post(f"{lane_link(client, heat)}splits", data="lap,10").status_code == 409


def test_a_plan_kept_during_the_heat_does_not_change_the_lane(client, post, seen):
    heat = "/workouts/2/floor/1"  # of the demo: its lanes go by the plan in force until it is started
    first = client.get(f"{heat}/state").json["lanes"][0]
    post(f"{heat}/start", {})
    athlete = "/workouts/2/break/1"
    sets = {"sets-0": "singles r9", "action": "keep", "version": seen(athlete)}
    assert post(athlete, sets).status_code == 302
    from sorvek.actions.watched import _watched

    _watched.clear()  # as after a restart
    assert client.get(f"{heat}/state").json["lanes"][0]["set"] == first["set"]


@pytest.fixture
def lifting(client, post, monkeypatch):
    """Return the address of a heat whose work of 8:00 is over and whose lift is on, and when it began."""
    post("/workouts/4/break/2/card", {})
    heat = post("/workouts/4/floor/", {"number": "1"}).headers["Location"]
    post(f"{heat}/start", {})
    began = client.get(f"{heat}/state").json["started_s"]
    for module in ("routes", "shown", "lane"):
        monkeypatch.setattr(f"sorvek.web.floor.{module}.now_s", lambda: began + 500)
    return heat, began


def test_at_the_bar_every_lift_brings_the_next_load_with_its_plates(client, lifting):
    heat, began = lifting
    lane = client.get(f"{heat}/state").json["lanes"][0]
    opening = lane["bar"]
    assert lane["movement"] == "clean-and-jerk"
    assert lane["set"] == opening["load"]
    made = {"id": "lift-00000001", "kind": "made", "lane": 1, "load_kg": opening["load_kg"]}
    after = send(client, f"{heat}/taps", sending(began, made, at=495.0)).json["lanes"][0]
    assert after["bar"] == opening["made"] | {key: after["bar"][key] for key in ("made", "missed")}
    assert f"best {opening['load']}" in after["so_far"]
    assert after["round"] == "attempt 2"
    undo = {"id": "undo-00000001", "kind": "undo", "lane": 1, "of": "lift-00000001"}
    assert send(client, f"{heat}/taps", sending(began, undo, at=496.0)).json["lanes"][0]["bar"] == opening
    missed = {"id": "lift-00000002", "kind": "missed", "load_kg": opening["load_kg"]}
    phone = send(client, f"{lane_link(client, heat)}taps", sending(began, missed, at=497.0)).json["lanes"][0]
    assert phone["bar"]["load_kg"] == opening["missed"]["load_kg"]
    assert "nothing on the board yet" in phone["so_far"]


def test_a_heat_that_is_over_is_in_the_log_by_itself_with_everything_that_was_tapped(client, lifting, monkeypatch):
    heat, began = lifting
    sets = [{"id": f"set-{i:08}", "kind": "set", "lane": 1} for i in range(4)]
    lift = {"id": "lift-00000001", "kind": "made", "lane": 1, "load_kg": 77.5}
    send(client, f"{heat}/taps", sending(began, *sets, at=30.0))
    assert not send(client, f"{heat}/taps", sending(began, lift, at=490.0)).json["over"]
    monkeypatch.setattr("sorvek.web.floor.routes.now_s", lambda: began + 800)
    for _ in range(2):
        assert send(client, f"{heat}/taps", sending(began)).json["over"]
    from sorvek.store.log import attempts_on

    (attempt,) = attempts_on(4)
    assert attempt.result.lift_kg == 77.5
    assert len(attempt.record.taps) == 5
    late = {"id": "lift-00000002", "kind": "made", "lane": 1, "load_kg": 80.0}
    send(client, f"{heat}/taps", sending(began, late, at=491.0))
    (attempt,) = attempts_on(4)
    assert attempt.result.lift_kg == 80.0
