"""The main path in the real interface: week, workout, athlete, edited sets, new score."""

import pytest
from playwright.sync_api import expect

from axe import serious_violations

pytestmark = pytest.mark.browser


def test_from_the_week_to_a_new_score(page, address):
    page.goto(address)
    page.get_by_role("link", name="Breakwater").click()
    text = page.get_by_label("Announcement")
    text.fill(text.input_value().replace("12 toes-to-bar", "15 toes-to-bar"))
    expect(page.get_by_role("cell", name="15", exact=True)).to_be_visible()
    text.fill(text.input_value().replace("15 toes-to-bar", "15 toes-to-ba"))
    expect(page.get_by_role("alert").first).to_contain_text("toes-to-bar")
    text.fill(text.input_value().replace("15 toes-to-ba", "12 toes-to-bar"))
    page.get_by_role("link", name="Plan athletes").click()
    page.get_by_role("link", name="Gideon Marsh").click()
    score = page.get_by_test_id("score")
    before = score.inner_text()
    sets = page.get_by_role("textbox", name="toes-to-bar")
    sets.fill("singles r25")
    expect(score).not_to_have_text(before)
    expect(page.get_by_text("fewer than the computed plan")).to_be_visible()
    sets.fill("8/7 r6")
    expect(page.get_by_role("alert").first).to_contain_text("8/7 adds up to 15, not 12")
    sets.fill("4/4/4 r10")
    expect(page.get_by_role("alert").first).to_be_hidden()
    page.get_by_role("button", name="Keep this plan").click()
    expect(page.get_by_text("Plan kept for Gideon Marsh")).to_be_visible()
    expect(page.get_by_role("textbox", name="toes-to-bar")).to_have_value("3x4 r10")


def test_keys_move_between_athletes_and_show_the_list_of_keys(page, address):
    page.goto(f"{address}/workouts/2/break/1")
    page.keyboard.press("j")
    expect(page.get_by_role("heading", name="Femke Osterval")).to_be_visible()
    page.wait_for_load_state()  # keys are heard once the scripts have run
    page.keyboard.press("e")
    expect(page.get_by_role("textbox", name="thruster 27.5 kg")).to_be_focused()
    page.keyboard.press("Tab")
    page.get_by_role("heading", name="Femke Osterval").click()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("next, previous athlete")


PAGES = ["/", "/workouts/2/read", "/workouts/1/break/2", "/workouts/new", "/roster/", "/roster/3", "/roster/import"]
PAGES += ["/movements/?q=clean", "/movements/burpee", "/movements/new"]
PAGES += ["/workouts/1/place/", "/workouts/2/break/23", "/field/2?score=92&other=1", "/roster/17/log/53/"]


@pytest.mark.parametrize("path", PAGES)
def test_no_serious_accessibility_violation(browser, address, path):
    page = browser.new_page(viewport={"width": 1280, "height": 800}, bypass_csp=True)
    page.goto(address + path)
    expect(page.locator(".waiting")).to_have_count(0)  # what is worked out behind the page has arrived
    violations = serious_violations(page)
    page.close()
    assert violations == []
