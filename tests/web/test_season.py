"""The season's page: forecasts beside results, bests, filters; told with care where there is little."""

import io
import re

import pytest
from pypdf import PdfReader

LOG = "/workouts/2/log/"


@pytest.fixture
def played(post):
    """Plan two athletes, then log a result inside, one better and one far worse than their bands."""
    for athlete in (1, 2):
        post(f"/workouts/2/break/{athlete}/card", {})
    for name, score in (("Ansel Brook", "5:25"), ("Ansel Brook", "3:00"), ("Bettina Kroll", "12:59")):
        post(LOG, {"athlete": name, "score": score})


def test_results_are_held_against_the_forecasts_of_their_day(client, played):
    page = client.get("/season/").text
    inside, total, better, worse = map(
        int, re.search(r"(\d+) of (\d+) results lay in their band, (\d+) were better, (\d+) worse", page).groups()
    )
    assert (inside + better + worse, total) == (3, 3)
    assert better >= 1
    assert worse + inside == 2
    assert "with so few that says little" in page


def test_an_athletes_page_has_bests_and_is_narrowed_by_workout(client, played):
    page = client.get("/season/1").text
    rows = re.findall(r"<tr>(?:(?!</tr>).)*Two Lamps(?:(?!</tr>).)*</tr>", page, re.S)
    assert len(rows) >= 2
    assert sum("★" in row for row in rows if "3:00" in row) == 1
    assert all("★" not in row for row in rows if "5:25" in row)
    other = re.search(r"<option>([^<]+)</option>", page[page.index('name="title"') :])[1]
    narrowed = client.get("/season/1", query_string={"title": other}).text
    assert "3:00" not in narrowed
    assert client.get("/season/1", query_string={"form": "windows"}).status_code == 200


def test_a_season_without_results_says_where_they_come_from(client, post):
    post("/roster/new", {"name": "Nobody Yet", "tier": "building", "sex": "f"})
    found = re.search(r'href="/roster/(\d+)"[^>]*>\s*Nobody Yet', client.get("/roster/").text)
    assert "Nothing is logged yet" in client.get(f"/season/{found[1]}").text


def pages_of(pdf):
    """Return the text of every page of a PDF as it was written, one string each."""
    return [page.extract_text() for page in PdfReader(io.BytesIO(pdf)).pages]


def test_the_seasons_go_out_as_pdf_a_page_each(client, played):
    """Everybody with results has one page, and everything on it lies inside the paper."""
    (own,) = pages_of(client.get("/season/1/season.pdf").data)
    assert "Ansel Brook: season" in own
    assert "Two Lamps" in own
    assert "3:00, best" in own
    assert "What decides the score" in own
    assert "Numbers on file" in own
    club = pages_of(client.get("/season/season.pdf").data)
    assert club[0].startswith("The club: season")
    assert "Bests\nAthlete" in club[0]
    assert len(club) == 1 + len(set(re.findall(r"(.+): season", "\n".join(club[1:]))))
    assert own in club
