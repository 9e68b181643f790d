"""What is usual in the club stands in the settings; pages begin with it."""

import html
import re

USUAL_VERSIONS = ("rule_version", "usual_version", "tiers_version")


def test_the_calendar_and_place_begin_with_what_the_settings_call_usual(client, post):
    page = client.get("/settings/").text
    versions = {n: re.search(rf'name="{n}" value="(\d+)"', page)[1] for n in USUAL_VERSIONS}
    usual = {"week": "18:00-20:00", "weekend": "", "every_min": "20", "lanes": "5", "judges": "3", "tiers": "4"}
    usual |= {"equipment": "rope: 2", "rule": "15 toes-to-bar\n90 thrusters", **versions}
    wrong = post("/settings/usual", usual | {"week": "late"})
    assert wrong.status_code == 422
    assert "“late” is not understood" in html.unescape(wrong.text)
    assert 'value="late"' in wrong.text
    post("/settings/usual", usual)
    page = client.get("/calendar/").text
    assert page.count('value="18:00-20:00"') >= 1
    assert 'name="lanes" value="5"' in page
    assert "rope: 2" in page
    place = client.get("/workouts/1/place/?by=plan").text  # its movements are toes-to-bar and power cleans
    assert '<option value="4" selected>' in place
    assert "of 15 toes-to-bar" in place
    assert "90 thruster" not in place
    assert post("/settings/usual", usual | {"lanes": "7"}).status_code == 409
