"""The tape as an instrument: drag a break, keys, lock and replan, undo to the start; print and card."""

import re

import pytest
from playwright.sync_api import expect

pytestmark = pytest.mark.browser


def test_sets_are_edited_on_the_tape_and_undone_to_the_start(page, address):
    page.goto(f"{address}/workouts/1/break/4")
    sets = page.get_by_role("textbox", name="toes-to-bar")
    computed = sets.input_value()
    sets.fill("6/6 r8")
    bars = page.locator(".tape-set")
    expect(bars.first.locator("text")).to_have_text("6")
    box = bars.first.bounding_box()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + 10)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] / 2 + 2.4 * max(6, box["width"] / 6), box["y"] + 10, steps=3)
    expect(sets).to_have_value("8/4 r8")
    page.mouse.up()
    page.keyboard.press("s")
    expect(sets).to_have_value("3x4 r8")
    page.keyboard.press("+")
    expect(sets).to_have_value("3x4 r9")
    page.get_by_text("lock", exact=True).first.click()
    page.get_by_role("heading", name="Dorit Halm").click()
    cleans = page.get_by_role("textbox", name="power clean")
    cleans.fill("3x3 r30")
    page.get_by_role("button", name="Replan what is not locked").click()
    expect(cleans).not_to_have_value("3x3 r30")
    expect(sets).to_have_value("3x4 r9")
    undo = page.get_by_role("button", name="Undo")
    while undo.is_enabled():
        undo.click()
    expect(sets).to_have_value(computed)
    page.get_by_role("button", name="Redo").click()
    expect(sets).to_have_value("6/6 r8")


def pages(pdf: bytes) -> int:
    return len(re.findall(rb"/Type\s*/Page[^s]", pdf))


def test_a_temperament_is_taken_with_one_key_and_kept(page, address):
    page.goto(f"{address}/workouts/1/break/5")
    attack = page.get_by_role("button", name="attack")
    expect(attack).to_be_enabled()
    steady = [field.input_value() for field in page.locator("input[data-computed]").all()]
    wanted = page.request.get(f"{address}/workouts/1/break/5/tempers").json()["texts"]["attack"]
    assert wanted != steady
    page.keyboard.press("3")
    expect(attack).to_have_attribute("aria-pressed", "true")
    for field, text in zip(page.locator("input[data-computed]").all(), wanted, strict=True):
        expect(field).to_have_value(text)
    page.get_by_role("button", name="Keep this plan").click()
    expect(page.get_by_text("your plan · attack")).to_be_visible()
    page.get_by_role("button", name="Forget my plan").click()
    expect(page.get_by_text("computed plan").first).to_be_visible()


def test_the_schools_are_compared_with_one_key(page, address):
    page.goto(f"{address}/workouts/1/break/4")
    page.keyboard.press("c")
    expect(page.get_by_role("row", name="quick singles")).to_be_visible()
    expect(page.get_by_role("button", name="Compare schools and exchange rates")).to_be_enabled()


def test_sheet_and_cards_fit_their_pages(page, address):
    for athlete in (1, 3, 4, 5, 7):
        page.goto(f"{address}/workouts/2/break/{athlete}/card")
        page.get_by_role("button", name="Make a link").click()
    page.goto(f"{address}/workouts/2/sheet")
    assert pages(page.pdf(prefer_css_page_size=True)) == 1
    page.goto(f"{address}/workouts/2/cards")
    assert pages(page.pdf(prefer_css_page_size=True)) == 2  # five cards, four a page


def test_a_card_is_opened_on_a_phone_without_signing_in_and_revoked(page, browser, address):
    page.goto(f"{address}/workouts/2/break/2")
    page.get_by_role("link", name="Card").click()
    page.get_by_role("button", name="Make a link").click()
    link = page.get_by_test_id("link").input_value()
    phone = browser.new_context(viewport={"width": 390, "height": 844}).new_page()
    phone.goto(link)
    expect(phone.get_by_role("heading", name="Bettina Kroll")).to_be_visible()
    assert phone.evaluate("document.documentElement.scrollWidth") <= 390
    page.get_by_role("button", name="Revoke the link").click()
    phone.reload()
    expect(phone.get_by_role("heading", name="This link is closed")).to_be_visible()
    phone.close()
