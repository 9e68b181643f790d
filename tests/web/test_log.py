"""The log without a browser: written down, from a file and back, corrected, told, taken out and put back."""

import io
import re

import pytest

LOG = "/workouts/1/log/"


def logged(client, post, **more):
    answer = post(LOG, {"athlete": "Ansel Brook", "score": "187", "splits": "1:40 3:25 5:20", **more})
    assert answer.status_code == 302
    page = client.get(LOG).text
    # The latest stands first.
    return re.search(r"/roster/\d+/log/\d+/", page[page.index("log-table") :])[0]


def version(page):
    return re.search(r'name="version" value="(\d+)"', page)[1]


def test_a_score_with_splits_is_written_down_and_stands_beside_its_plan(client, post):
    where = logged(client, post, notes="grip went first", date="2026-03-10")
    page = client.get(LOG).text
    assert "187 reps" in page
    assert "1:40 3:25 5:20" in page
    attempt = client.get(where).text
    assert 'class="tape"' in attempt
    assert "longer than planned" in attempt or "faster than planned" in attempt
    assert "grip went first" in attempt
    later = client.get(f"{where}lessons").text
    assert "believed in now" in later
    assert "that was tapped or written down counts as it was done" in later


@pytest.mark.parametrize(
    ("form", "told"),
    [
        ({"athlete": "Nobody Here", "score": "187"}, "nobody in the roster is called “Nobody Here”"),
        ({"athlete": "Ansel Brook", "score": "9:42"}, "this workout counts reps"),
        ({"athlete": "Ansel Brook", "score": "187", "splits": "3:00 2:00"}, "not after the split before it"),
        (
            {"athlete": "Ansel Brook", "score": "30", "splits": "1:40 3:25"},
            "2 rounds are 54 reps, more than the score",
        ),
    ],
)
def test_what_cannot_be_is_told_and_what_was_typed_stays(client, post, form, told):
    answer = post(LOG, form)
    assert answer.status_code == 422
    assert told in answer.text.replace("Nobody in", "nobody in")
    assert f'value="{form["score"]}"' in answer.text


def test_the_log_goes_out_and_comes_in_again(client, post):
    logged(client, post)
    before = client.get(LOG).text.count("187 reps")
    exported = client.get(f"{LOG}log.csv").data
    token = re.search(r'name="csrf-token" content="([^"]+)"', client.get("/").text)[1]

    def send(data):
        files = {"file": (io.BytesIO(data), "log.csv"), "csrf_token": token}
        return client.post(f"{LOG}import", data=files, content_type="multipart/form-data")

    assert send(exported).status_code == 302
    assert client.get(LOG).text.count("187 reps") == 2 * before
    wrong = send(exported + b"Somebody Else,2026-03-10,200,,,,,,\r\n")
    assert wrong.status_code == 422
    assert re.search(r"row \d+, athlete", wrong.text)
    assert client.get(LOG).text.count("187 reps") == 2 * before
    assert send(b"PK\x03\x04").status_code == 422


def test_sets_are_corrected_and_the_score_follows(client, post):
    where = logged(client, post)
    page = client.get(where).text
    rows = re.findall(r'name="at" value="([^"]+)".*?name="reps" value="(\d+)"', page)
    assert [at for at, _ in rows] == ["1:40", "3:25", "5:20"]
    form = {"version": version(page), "at": ["0:30", "0:50", ""], "reps": ["8", "4", ""]}
    assert post(f"{where}sets", form).status_code == 302
    page = client.get(where).text
    assert re.findall(r'name="reps" value="(\d+)"', page) == ["8", "4"]
    late = post(f"{where}sets", form)
    assert late.status_code == 409
    bad = post(f"{where}sets", {"version": version(page), "at": ["0:30"], "reps": ["400"]})
    assert bad.status_code == 422
    assert "are left of the movement" in bad.text
    wordy = post(f"{where}sets", {"version": version(page), "at": ["0:30"], "reps": ["many"]})
    assert "is no number of reps" in wordy.text


def test_what_was_seen_is_kept_and_torn_hands_bring_a_caution(client, post):
    where = logged(client, post)
    form = {"version": version(client.get(where).text), "gave_out": "grip", "torn": "yes", "notes": "ripped"}
    post(f"{where}told", form)
    page = client.get(where).text
    assert "Close the wound" in page
    assert "torn hands" in client.get(LOG).text
    assert post(f"{where}told", {**form, "version": version(page), "done_on": "soon"}).status_code == 422


def test_an_attempt_taken_out_can_be_put_back(client, post):
    where = logged(client, post, score="183")
    assert post(f"{where}remove", {}).status_code == 302
    assert client.get(where).status_code == 404
    assert "183 reps" not in client.get(LOG).text
    assert post(f"{where}restore", {}).status_code == 302
    assert "183 reps" in client.get(LOG).text


def test_again_or_not_is_told_with_its_reason_and_decided(client, post):
    where = logged(client, post, score="120", splits="2:30 5:00 7:40", date="2026-03-12")
    part = client.get(f"{where}lessons").text
    assert "Again or not" in part
    assert re.search(r"(Yes, \d+ h after the first|No: )", part)
    assert post(f"{where}again", {"version": version(client.get(where).text), "again": "yes"}).status_code == 302
    assert "Repeats it" in client.get(f"{where}lessons").text


def test_week_counts_what_is_done_not_submitted_and_to_repeat(client, post):
    log = "/workouts/2/log/"
    post(log, {"athlete": "Ansel Brook", "score": "5:40"})
    where = re.search(r"/roster/\d+/log/\d+/", client.get(log).text.split("log-table")[1])[0]
    assert "2 not submitted" in client.get("/").text
    post(f"{where}submitted", {"version": version(client.get(where).text), "submitted": "yes"})
    page = client.get("/").text
    assert "2 done" in page
    assert "1 not submitted" in page
    post(f"{where}again", {"version": version(client.get(where).text), "again": "yes"})
    assert "1 to repeat" in client.get("/").text
    assert "repeats it" in client.get(log).text
