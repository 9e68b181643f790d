"""From the end of a heat to the weekend's calendar: log, what it teaches, again or not, calendar, calendar file."""

import re

import pytest
from icalendar import Calendar
from playwright.sync_api import expect

from axe import serious_violations
from heats import new_heat

pytestmark = pytest.mark.browser
TEXT = "Short Swell\nfor time, cap 3:00\n3 rounds:\n  9 toes-to-bar\n  7 power cleans @ 60/40 kg"


def press_a_set(page):
    """Press a set on the tape: it is the one that is corrected."""
    third = page.locator(".tape-set[data-row='3']")
    reps = third.locator("text").text_content() if third.locator("text").count() else None
    third.click()
    expect(page.get_by_label("Reps of set 3")).to_be_focused()
    assert reps in (None, page.get_by_label("Reps of set 3").input_value())


def test_a_heat_becomes_a_log_lessons_a_decision_and_a_calendar(page, address):
    heat = new_heat(page, address, TEXT, True)
    page.keyboard.press("Space")
    over = page.get_by_text("The heat is over.")
    expect(over).to_be_visible(timeout=90_000)
    over.get_by_role("link", name="log").click()
    rows = page.locator(".log-table tbody tr")
    expect(rows).to_have_count(2)
    name = rows.first.get_by_role("rowheader").inner_text()
    rows.first.get_by_role("link").click()
    expect(page.locator(".two-tapes svg")).to_be_visible()
    expect(page.locator(".again")).to_be_visible()
    press_a_set(page)
    page.get_by_role("button", name="Keep what is ticked").click()
    expect(page.get_by_text("Learnt from Short Swell.")).to_be_visible()
    expect(page.get_by_text("This result has taught already")).to_be_visible()
    page.get_by_role("button", name="Repeat it").click()
    expect(page.get_by_role("button", name="Repeats it")).to_be_visible()
    page.get_by_role("link", name="Calendar").click()
    page.get_by_role("button", name="Place everybody").click()
    expect(page.locator(".cal-search")).to_be_visible()
    expect(page.locator(".cal-chip").first).to_be_visible(timeout=60_000)
    again = page.get_by_role("button", name=f"{name} 2nd, Short Swell: move")
    expect(again).to_be_visible()
    # Picked up and put down with the keyboard, and taken back.
    again.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("status").filter(has_text="press the time of the heat")).to_be_visible()
    page.locator(".cal-here").first.press("Enter")
    expect(page.get_by_text("Moved.")).to_be_visible()
    expect(page.locator(".cal-wrong").first).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.locator(".cal-wrong")).to_have_count(0)
    with page.expect_download() as download:
        page.get_by_role("link", name="As a calendar file (hall)").click()
    events = Calendar.from_ical(download.value.path().read_bytes()).walk("VEVENT")
    assert any(str(event["summary"]) == f"Short Swell: {name}, second try" for event in events)
    page.goto(f"{address}/")
    expect(page.get_by_text(re.compile("1 to repeat"))).to_be_visible()
    page.goto(heat)
    expect(page.get_by_text("The heat is over.")).to_be_visible()


@pytest.mark.parametrize(("theme", "width"), [("light", 1280), ("dark", 820), ("dark", 390)])
def test_no_serious_barrier_in_log_and_calendar(browser, address, theme, width):
    context = browser.new_context(viewport={"width": width, "height": 900}, color_scheme=theme, bypass_csp=True)
    page = context.new_page()
    for where in ("/workouts/2/log/", "/calendar/", "/roster/1/log/1/"):
        page.goto(address + where)
        assert serious_violations(page) == []
        assert page.evaluate("document.documentElement.scrollWidth") <= width, where
    context.close()
