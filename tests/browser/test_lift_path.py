"""The lift in the browser: type a load, mark results by key, undo, choose an effort, print the card."""

import re

import pytest
from playwright.sync_api import expect

from axe import serious_violations

pytestmark = pytest.mark.browser


def test_attempts_are_edited_marked_and_undone(page, address):
    page.goto(f"{address}/workouts/4/lift/2")
    first, second = (page.get_by_label(f"Load of attempt {n}", exact=True) for n in (1, 2))
    computed = first.get_attribute("placeholder")
    first.fill("61")
    problem = page.get_by_role("alert").first
    expect(problem).to_contain_text("61 kg cannot be loaded")
    expect(first).to_have_value("61")
    first.fill("60")
    expect(problem).to_be_hidden()
    expect(first).to_be_focused()
    expect(page.locator(".lift-typed")).to_have_count(1)
    page.get_by_role("heading", name="Bettina Kroll").click()
    page.keyboard.press("m")
    expect(page.get_by_label("Result of attempt 1")).to_have_value("made")
    expect(page.locator(".lift-made")).to_have_count(1)
    page.keyboard.press("x")
    expect(page.locator(".lift-missed")).to_have_count(1)
    page.keyboard.press("e")
    expect(page.get_by_label("Load of attempt 3")).to_be_focused()
    undo = page.get_by_role("button", name="Undo")
    while undo.is_enabled():
        undo.click()
    expect(first).to_have_value("")
    expect(first).to_have_attribute("placeholder", computed)
    page.get_by_role("button", name="Redo").click()
    expect(first).not_to_have_value("")
    expect(second).to_have_value("")


def test_a_typed_goal_survives_the_other_unit_and_is_kept(page, address):
    page.goto(f"{address}/workouts/4/lift/3")
    page.get_by_label("Goal, kg").fill("130")
    expect(page.get_by_text("Goal 130 kg")).to_be_visible()
    page.locator("[name=unit]").select_option("lb")
    expect(page.get_by_label("Goal, lb")).to_have_value("130 kg")
    expect(page.get_by_test_id("expected")).to_contain_text("lb")
    page.locator("[name=unit]").select_option("kg")
    page.get_by_role("button", name="Keep these attempts").click()
    expect(page.get_by_role("status")).to_contain_text("Attempts kept for Caspian Dew")
    expect(page.get_by_label("Goal, kg")).to_have_value("130")


def test_an_effort_on_the_curve_is_planned(page, address):
    page.goto(f"{address}/workouts/4/lift/6")
    page.get_by_role("button", name="What does the first part cost the lift?").click()
    expect(page.locator(".trade")).to_be_visible()
    page.get_by_role("button", name="Plan this").last.click()
    expect(page.get_by_role("status")).to_contain_text("kept at this effort")
    page.get_by_role("link", name="Break").click()
    expect(page.get_by_text("your plan")).to_be_visible()


@pytest.mark.parametrize("path", ["/workouts/4/lift/2", "/workouts/3/lift/7"])
def test_no_serious_barrier_on_the_lift_pages(browser, address, path):
    page = browser.new_page(viewport={"width": 1280, "height": 800}, bypass_csp=True)
    page.goto(f"{address}{path}")
    if page.get_by_role("button", name="What does the first part").count():
        page.get_by_role("button", name="What does the first part").click()
        expect(page.locator(".trade")).to_be_visible()
    assert serious_violations(page) == []
    page.close()


def test_the_lift_prints_on_one_page(page, address):
    page.goto(f"{address}/workouts/4/lift/2?goal=85&result-1=made&result-2=missed")
    pdf = page.pdf(prefer_css_page_size=True)
    assert len(re.findall(rb"/Type\s*/Page[^s]", pdf)) == 1
