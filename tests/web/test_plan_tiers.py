"""Tiers by plan on Place: cut, moved, merged, split, renamed and undone; sheet and heats follow them."""

import html
import re

import pytest

from sorvek.store.settings import save_setting, setting, setting_version

PLACE = "/workouts/2/place"


@pytest.fixture
def tiers(client, planned):
    """Return a function that gives who is in which tier by plan, in the order of the page."""
    if 'class="lane-middle"' not in client.get(f"{PLACE}/").text:
        planned(2)

    def read():
        page = html.unescape(client.get(f"{PLACE}/?by=plan").text)
        lanes = re.split(r'data-lane="', page)[1:]
        return {lane.partition('"')[0]: re.findall(r'id="athlete-(\d+)"', lane) for lane in lanes}

    return read


@pytest.fixture
def change(post, seen):
    """Change the tiers as they are now."""

    def send(do, version=None, **fields):
        version = version or seen(f"{PLACE}/?by=plan", "tiers-head")
        return post(f"{PLACE}/tiers", {"do": do, "version": version, **fields}, follow_redirects=True)

    return send


def by_plan(tiers):
    return {name: ids for name, ids in tiers().items() if " · " in name}


def test_everybody_planned_is_in_one_of_a_few_tiers_with_what_following_costs(client, tiers, change):
    page = change("cut", count="3").text
    assert len(by_plan(tiers)) == 3
    assert sum(map(len, by_plan(tiers).values())) == 23
    assert tiers()["not planned yet"] == ["23"]
    assert re.search(r"thruster 40/35/27.5/25 kg <strong>", page)
    losses = [float(loss) for loss in re.findall(r"[> ](?:★ )?(\d+\.\d)%<", page)]
    assert losses
    assert ("★" in page.partition("lane-axis")[2]) is any(loss > 6 for loss in losses)


def test_rests_of_ones_own_stand_beside_the_names_on_place_sheet_and_briefing(client, change):
    change("cut", count="3")
    on_place = re.findall(r'class="own-rests"[^>]*>(×[^<]+)<', client.get(f"{PLACE}/?by=plan").text)
    assert on_place
    for page in ("sheet", "briefing"):
        told = re.findall(r'class="own-rests">\(rests (×[^)]+)\)', client.get(f"/workouts/2/{page}").text)
        assert sorted(told) == sorted(on_place)


def test_tiers_kept_by_an_older_version_are_followed_with_the_rests_as_written(app, client, tiers, change):
    """Older versions kept the bare loss of a member, null where the plan does not fit."""
    change("cut", count="2")
    with app.app_context():
        kept = setting("plan_tiers_2", {})
        before = [
            [name, schemes, {who: how[0] for who, how in members.items()}]
            for name, schemes, members in kept["tiers"]
        ]
        before[0][2][next(iter(before[0][2]))] = None
        save_setting("plan_tiers_2", {**kept, "tiers": before}, setting_version("plan_tiers_2"))
    page = client.get(f"{PLACE}/?by=plan").text
    assert "★ does not fit" in page
    assert "own-rests" not in page
    assert sum(map(len, by_plan(tiers).values())) == 23
    change("undo")


def test_a_step_is_taken_and_taken_back(tiers, change):
    change("cut", count="3")
    cut = by_plan(tiers)
    first, second, third = cut
    change("merge", tier=second, into=first)
    assert set(by_plan(tiers)) == {first, third}
    assert sorted(by_plan(tiers)[first]) == sorted(cut[first] + cut[second])
    change("split", tier=third)
    assert {f"{third} 1", f"{third} 2"} < set(by_plan(tiers))
    change("rename", tier=first, name="  Ropes ·  left ")
    assert "Ropes · left" in by_plan(tiers)
    for _ in range(3):
        change("undo")
    assert by_plan(tiers) == cut


def test_somebody_is_moved_and_the_page_says_what_it_costs(client, post, tiers, change, seen):
    change("cut", count="3")
    first, *_, last = by_plan(tiers)
    who = by_plan(tiers)[first][0]
    version = seen(f"{PLACE}/?by=plan", "tiers-head")
    page = post(f"{PLACE}/{who}/tier", {"tier": last, "tiers": version, "version": "0"}, follow_redirects=True).text
    assert re.search(rf"is in {last} now: its plan costs \d+\.\d% of the own score", html.unescape(page))
    assert who in by_plan(tiers)[last]
    sheet = html.unescape(client.get("/workouts/2/sheet").text)
    assert f"<h2>{last}</h2>" in sheet
    assert "If " in sheet
    late = post(f"{PLACE}/{who}/tier", {"tier": first, "tiers": version, "version": "0"})
    assert late.status_code == 409


def test_what_cannot_be_done_is_said_and_changes_nothing(tiers, change):
    change("cut", count="2")
    first, second = by_plan(tiers)
    for refused, words in (
        ({"do": "merge", "tier": first, "into": first}, "cannot be merged with itself"),
        ({"do": "rename", "tier": first, "name": " "}, "needs a name"),
        ({"do": "rename", "tier": first, "name": second}, "already"),
        ({"do": "split", "tier": "nobody's"}, "no tier"),
    ):
        assert words in html.unescape(change(**refused).text)
    assert list(by_plan(tiers)) == [first, second]
    assert change("drop", version="1").status_code == 409


def test_without_tiers_by_plan_outcome_decides_again(client, tiers, change):
    change("cut", count="2")
    assert "use the" in client.get(f"{PLACE}/?by=outcome").text
    change("drop")
    assert by_plan(tiers) == {}
    assert "<h2>races for place</h2>" in client.get("/workouts/2/sheet").text
