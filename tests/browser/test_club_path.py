"""The whole club: a pasted announcement, a table with errors, planning everybody, overruling a tier."""

import re

import pytest
from playwright.sync_api import expect

from axe import serious_violations
from examples import PASTE

pytestmark = pytest.mark.browser

PROSE = """Harbour Lights

On Saturday we do an AMRAP of nine minutes: 12 toes-to-bar, 9 power cleans, 8 woll bogs.
Men lift 60 kg, women 42.5 kg.
"""


def drag(row, target):
    """Drag in two moves: a busy page misses the only one, and with it that something is dragged over it."""
    row.hover()
    row.page.mouse.down()
    target.hover()
    target.hover()
    row.page.mouse.up()


def test_a_pasted_announcement_is_marked_its_doubt_settled_saved_and_planned(page, address):
    page.goto(f"{address}/workouts/new", wait_until="networkidle")
    text = page.get_by_label("Announcement")
    page.evaluate(PASTE, PROSE)
    expect(text).to_have_value(
        "Harbour Lights\namrap 9:00\n12 toes-to-bar\n9 power cleans @ 60/42.5 kg\n# ? 8 woll bogs\n"
    )
    expect(page.locator(".src-doubt", has_text="8 woll bogs")).to_be_visible()
    page.locator(".src-used", has_text="60 kg").hover()
    expect(page.locator(".row-line.lit")).to_have_text("9 power cleans @ 60/42.5 kg")
    expect(page.locator(".src.lit").first).to_have_text("9 power cleans")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_role("heading", name="Harbour Lights")).to_be_visible()
    expect(page.get_by_text("One doubt: correct the line")).to_be_visible()
    workout = page.url.removesuffix("/read")
    page.goto(f"{workout}/place/")
    expect(page.get_by_text("Nobody is planned yet")).to_be_visible()
    page.get_by_role("link", name="Settle or dismiss it").click()
    expect(page.locator(".src-doubt", has_text="8 woll bogs")).to_be_visible()
    text.fill(text.input_value().replace("# ? 8 woll bogs", "8 wall b"))
    text.press("Control+End")
    text.press("ArrowLeft")
    expect(page.get_by_role("button", name="wall balls")).to_be_visible()
    text.press("Tab")
    expect(page.get_by_role("alert").first).to_contain_text("wall ball has no load")
    text.press_sequentially(" @ 9/6 kg")
    expect(page.get_by_role("cell", name="wall balls")).to_be_visible()
    page.get_by_role("button", name="Save").click()
    page.get_by_role("link", name="Plan athletes").click()
    expect(page.get_by_test_id("score")).to_be_visible()


LEVELS = """Harbour Lights
AMRAP of nine minutes:
12 strict handstand push-ups
9 power cleans
Rx: 60/42.5 kg
Scaled: 40/27.5 kg, hand-release push-ups
Masters 45-54: 50/35 kg, hand-release push-ups
Masters 55+: 40/27.5 kg, hand-release push-ups
Teens 14-15: 35/25 kg, hand-release push-ups
"""


def test_many_divisions_scroll_in_their_frame_and_leave_the_page_as_wide_as_the_window(page, address):
    page.goto(f"{address}/workouts/new", wait_until="networkidle")
    page.evaluate(PASTE, LEVELS)
    expect(page.get_by_role("columnheader", name="teens women 14-15")).to_be_attached()
    expect(page.get_by_role("region", name="Movements by division")).to_be_visible()
    page.wait_for_function(
        """() => {
          const frame = document.querySelector(".totals-frame");
          return frame.scrollWidth > frame.clientWidth && document.documentElement.scrollWidth <= innerWidth;
        }"""
    )


def test_a_doubt_is_dismissed_by_a_click_and_broken_notation_is_not_taken_for_prose(page, address):
    page.goto(f"{address}/workouts/new", wait_until="networkidle")
    text = page.get_by_label("Announcement")
    text.fill("amrap 9:00\n12 toes-to-bar\n# ? is chalk allowed\n9 burpees\n")
    page.get_by_role("button", name="Dismiss").click()
    expect(text).to_have_value("amrap 9:00\n12 toes-to-bar\n9 burpees\n")
    expect(page.get_by_role("button", name="Dismiss")).to_have_count(0)
    page.evaluate(PASTE, "5 burpes\n")
    expect(page.get_by_role("alert").first).to_contain_text("unknown movement")
    expect(text).to_have_value("amrap 9:00\n12 toes-to-bar\n5 burpes\n9 burpees\n")


def test_a_roster_with_errors_is_refused_then_taken_in(page, address):
    page.goto(f"{address}/roster/import")
    page.get_by_label("or paste it here").fill("name,sex,pull-up\nMara Finch,f,9\nTilo Graf,m,lots\n")
    page.get_by_role("button", name="Show what it means").click()
    expect(page.get_by_role("alert")).to_contain_text("row 3, pull-up: “lots” is no number")
    table = page.get_by_label("Table")
    table.fill(table.input_value().replace("lots", "14"))
    page.get_by_role("button", name="Read again").click()
    page.get_by_role("button", name="Store 2 athletes").click()
    expect(page.get_by_text("2 athletes added, 0 updated.")).to_be_visible()
    expect(page.get_by_role("row", name="Tilo Graf")).to_contain_text("14 reps")


def test_a_result_in_the_log_teaches_when_the_coach_keeps_it(page, address):
    page.goto(f"{address}/roster/")
    page.get_by_role("link", name="Quillan Reeve").click()
    page.get_by_role("row", name="Mooring").get_by_role("link", name="what it says").click()
    expect(page.get_by_text("longest set of toes-to-bar").first).to_be_visible()
    page.get_by_role("button", name="Keep what is ticked").click()
    expect(page.get_by_text("Learnt from Mooring")).to_be_visible()
    expect(page.get_by_text("This result has taught already")).to_be_visible()
    page.get_by_role("button", name="Take it back").click()
    expect(page.get_by_text("Taken back; what was measured")).to_be_visible()
    page.get_by_role("link", name="Quillan Reeve").click()
    expect(page.get_by_role("link", name="what it says")).to_have_count(3)


def test_the_club_is_planned_with_progress_and_a_tier_is_overruled(page, address):
    page.goto(f"{address}/workouts/2/place/?by=outcome")
    page.get_by_test_id("plan").click()
    expect(page.get_by_role("progressbar")).to_be_visible()
    page.reload()  # the job goes on without the page
    expect(page.get_by_role("button", name="Plan 1 missing")).to_be_visible(timeout=60_000)
    row = page.locator("#athlete-1")
    expect(page.get_by_role("region", name="races for place").locator("#athlete-1")).to_be_visible()
    row.focus()
    page.keyboard.press("Alt+ArrowDown")
    expect(page.get_by_role("region", name="will finish").locator("#athlete-1")).to_be_visible()
    page.wait_for_load_state()  # else the page may still scroll to the row while it is dragged
    drag(row, page.get_by_role("region", name="will not reach the second part"))
    expect(page.get_by_role("region", name="will not reach").locator("#athlete-1")).to_be_visible()
    page.get_by_label("Tier of Ansel Brook").select_option("as computed")
    expect(page.get_by_role("region", name="races for place").locator("#athlete-1")).to_be_visible()


def test_somebody_is_dragged_to_another_tier_the_loss_is_told_and_undone(page, address):
    page.set_viewport_size({"width": 1280, "height": 1800})  # else the page scrolls while somebody is dragged
    page.goto(f"{address}/workouts/2/place/?by=plan")  # planned by the test before
    page.locator("select[name=count]").select_option("3")
    page.get_by_role("button", name="Cut the tiers").click()
    first, last = (page.get_by_role("region", name=re.compile(f"^{letter} ·")) for letter in "AC")
    row = page.locator("#athlete-1")
    expect(first.locator("#athlete-1")).to_be_visible()
    page.wait_for_load_state()
    drag(row, last)
    expect(last.locator("#athlete-1")).to_be_visible()
    expect(row.get_by_text(re.compile(r"★ \d+\.\d%"))).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(first.locator("#athlete-1")).to_be_visible()
    page.get_by_role("button", name="Back to outcome").click()
    expect(page.get_by_role("region", name="races for place").locator("#athlete-1")).to_be_visible()


def test_a_planned_club_has_no_serious_accessibility_violation(browser, address):
    page = browser.new_page(viewport={"width": 1280, "height": 800}, bypass_csp=True)
    page.goto(f"{address}/workouts/2/place/")  # planned by the test before
    expect(page.get_by_text("beats").first).to_be_visible()
    assert serious_violations(page) == []
    page.close()
