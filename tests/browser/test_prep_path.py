"""Prep in the browser: a part is made longer by key, by pointer and by typing; undo; the sheets fit their page."""

import re

import pytest
from playwright.sync_api import expect

from axe import serious_violations

pytestmark = pytest.mark.browser


def test_a_part_is_stretched_by_key_pointer_and_typing_and_undone(page, address):
    page.goto(f"{address}/workouts/1/prep/2")
    begins = page.get_by_test_id("begins")
    before = begins.inner_text()
    rest = page.get_by_role("button", name=re.compile("^rest"))
    field = page.get_by_label("Length of rest")
    planned = field.get_attribute("placeholder")
    rest.focus()
    page.keyboard.press("ArrowRight")
    expect(field).not_to_have_value("")
    expect(page.get_by_role("button", name=re.compile("^rest"))).to_be_focused()
    page.get_by_role("button", name="Undo").click()
    expect(field).to_have_value("")
    expect(field).to_have_attribute("placeholder", planned)
    expect(begins).to_have_text(before)
    field.fill("9:00")
    expect(page.get_by_role("button", name=re.compile(r"^rest\s*9:00"))).to_be_visible()
    page.locator(".warm-rest .warm-edge").scroll_into_view_if_needed()
    edge = page.locator(".warm-rest .warm-edge").bounding_box()
    page.mouse.move(edge["x"] + 5, edge["y"] + 20)
    page.mouse.down()
    page.mouse.move(edge["x"] - 60, edge["y"] + 20, steps=4)
    page.mouse.up()
    expect(field).not_to_have_value("9:00")
    page.get_by_label("Start of the heat").fill("2026-03-13T18:40")
    expect(begins).to_have_text(re.compile(r"^1[78]:\d\d"))
    page.get_by_role("button", name="Keep this warm-up").click()
    expect(page.get_by_role("status")).to_contain_text("Warm-up kept for Bettina Kroll")


def begins_of(page, part):
    return page.get_by_role("row", name=re.compile(f"{part} ")).first.locator("td").first


def test_a_part_is_moved_the_next_one_follows_and_it_is_undone(page, address):
    page.goto(f"{address}/workouts/1/prep/3")
    rest, primer = page.get_by_label("Length of rest"), page.get_by_label("Length of primer")
    planned = [rest.get_attribute("placeholder"), primer.get_attribute("placeholder")]
    before = begins_of(page, "primer").inner_text()
    page.locator(".warm-primer").focus()
    page.keyboard.press("Shift+ArrowLeft")
    expect(rest).not_to_have_value("")
    expect(begins_of(page, "primer")).not_to_have_text(before)
    assert primer.input_value() == ""
    page.get_by_role("button", name="Undo").click()
    expect(rest).to_have_value("")
    expect(begins_of(page, "primer")).to_have_text(before)
    page.locator(".warm-primer").scroll_into_view_if_needed()
    box = page.locator(".warm-build_up").bounding_box()
    page.mouse.move(box["x"] + 20, box["y"] + 20)
    page.mouse.down()
    page.mouse.move(
        box["x"] + 20 + page.locator(".warm-primer").bounding_box()["width"] + 20, box["y"] + 20, steps=4
    )
    page.mouse.up()
    order = page.locator("input[name=order]")
    expect(order).to_have_value(re.compile("primer build_up rest$"))
    expect(page.locator(".warm-part").nth(-2)).to_have_class(re.compile("warm-build_up"))
    page.get_by_role("button", name="Undo").click()
    expect(order).to_have_value(re.compile("build_up intervals primer rest$"))
    expect(rest).to_have_attribute("placeholder", planned[0])
    expect(primer).to_have_attribute("placeholder", planned[1])


@pytest.mark.parametrize("theme", ["light", "dark"])
@pytest.mark.parametrize("width", [1280, 390])
def test_no_serious_barrier_on_prep(browser, address, theme, width):
    context = browser.new_context(viewport={"width": width, "height": 844}, color_scheme=theme, bypass_csp=True)
    page = context.new_page()
    page.goto(f"{address}/workouts/3/prep/7")
    assert serious_violations(page) == []
    assert page.evaluate("document.documentElement.scrollWidth") <= width
    context.close()


@pytest.mark.parametrize(
    "path", ["/workouts/1/prep/2/judge", "/workouts/3/prep/7/judge", "/workouts/3/prep/7", "/workouts/3/break/7"]
)
def test_sheets_print_on_one_page(page, address, path):
    page.goto(f"{address}{path}")
    pdf = page.pdf(prefer_css_page_size=True)
    assert len(re.findall(rb"/Type\s*/Page[^s]", pdf)) == 1
