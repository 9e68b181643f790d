"""A kept card opens from the phone with the network off; briefings print one page a tier."""

import re

import pytest
from playwright.sync_api import expect

pytestmark = pytest.mark.browser


def test_a_kept_card_opens_with_the_network_off(browser, address, tmp_path):
    context = browser.new_context(viewport={"width": 390, "height": 844}, accept_downloads=True)
    page = context.new_page()
    page.goto(f"{address}/workouts/1/break/6/card")
    page.get_by_role("button", name="Make a link").click()
    link = page.get_by_test_id("link").input_value()
    page.goto(address + link[link.index("/c/") :])
    with page.expect_download() as download:
        page.get_by_role("link", name="Keep on this phone").click()
    kept = tmp_path / download.value.suggested_filename
    download.value.save_as(kept)
    context.set_offline(True)
    page.goto(kept.as_uri())
    expect(page.get_by_role("heading", name="Femke Osterval")).to_be_visible()
    aim = page.locator(".aim strong")
    assert aim.evaluate("e => getComputedStyle(e).fontSize") == "30px"
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    context.close()


def test_briefings_are_one_page_a_tier(page, address):
    page.goto(f"{address}/workouts/1/place/")
    page.get_by_test_id("plan").click()
    page.locator(".lane-middle").first.wait_for(state="attached")
    page.get_by_role("progressbar").wait_for(state="hidden", timeout=120_000)
    page.goto(f"{address}/workouts/1/briefing")
    tiers = page.locator(".talks section").count()
    assert tiers >= 2
    expect(page.get_by_text("What decides").first).to_be_visible()
    pdf = page.pdf(prefer_css_page_size=True)
    assert len(re.findall(rb"/Type\s*/Page[^s]", pdf)) == tiers
