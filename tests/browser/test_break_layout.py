"""Break is tape first: what a coach looks at stands high, and nothing clips on a tablet held upright."""

import re

import pytest
from playwright.sync_api import expect

pytestmark = pytest.mark.browser


def test_tape_reason_and_splits_are_seen_without_scrolling(page, address):
    page.set_viewport_size({"width": 1280, "height": 800})
    page.goto(f"{address}/workouts/1/break/2", wait_until="networkidle")
    assert page.locator(".tape-frame").first.bounding_box()["y"] < 160
    for part in (".reason", ".splits", ".plan-row", ".lane-head >> nth=2"):
        box = page.locator(part).first.bounding_box()
        assert box["y"] + box["height"] <= 800, part


@pytest.mark.parametrize(("width", "height"), [(820, 1180), (1280, 800)])
def test_seven_movements_fit_beside_their_tape(page, address, width, height):
    page.set_viewport_size({"width": width, "height": height})
    page.goto(f"{address}/workouts/3/break/7", wait_until="networkidle")
    assert page.evaluate("document.documentElement.scrollWidth") <= width
    for lock in page.locator(".lock").all():
        box = lock.bounding_box()
        assert box["x"] + box["width"] <= width
    for part in (".lane-head >> nth=6", ".plan-row", ".splits"):
        assert page.locator(part).first.bounding_box()["y"] <= height - 24, part
    tape = page.locator(".tape").first
    expect(tape).to_have_attribute("width", re.compile(str(tape.evaluate("e => e.parentElement.clientWidth - 2"))))
    tops = [field.bounding_box()["y"] for field in page.locator(".lane-head").all()]
    lanes = [lane.bounding_box()["y"] for lane in page.locator(".tape .tape-lane").all()][: len(tops)]
    assert all(abs(a - b) < 3 for a, b in zip(tops, lanes, strict=True))


def seen(page):
    return page.locator(".tape").first.evaluate("e => [Number(e.dataset.start), Number(e.dataset.end)]")


def test_the_tape_is_looked_at_closer_by_keys_and_wheel_and_says_what_a_set_is(page, address):
    page.goto(f"{address}/workouts/1/break/2")
    whole = seen(page)
    page.locator(".tape-set").first.hover()
    about = page.locator(".tape-about")
    expect(about).to_have_text(re.compile(r"toes-to-bar, 0:0\d.*reps in reserve.*break"))
    page.mouse.move(5, 5)
    page.keyboard.press("z")
    expect(page.locator(f'.tape[data-start="{whole[1] / 4:.1f}"]')).to_be_visible()
    closer = seen(page)
    assert closer[1] - closer[0] == pytest.approx(whole[1] / 2, abs=0.2)
    page.keyboard.press(".")
    expect(page.locator(f'.tape[data-start="{closer[0]:.1f}"]')).to_have_count(0)
    assert seen(page)[0] > closer[0]
    page.keyboard.press("0")
    expect(page.locator('.tape[data-start="0.0"]')).to_be_visible()
    box = page.locator(".tape").first.bounding_box()
    page.mouse.move(box["x"] + box["width"] - 30, box["y"] + 10)
    page.keyboard.down("Control")
    page.mouse.wheel(0, -100)
    page.keyboard.up("Control")
    expect(page.locator('.tape[data-start="0.0"]')).to_have_count(0)
    page.locator("[name=view]").select_option("Round 2")
    expect(page.locator('.tape[data-start="0.0"]')).to_have_count(0)
    expect(page.locator(".tape-set").first.locator("text")).to_be_visible()


def test_pace_is_chosen_in_its_lane_and_undone(page, address):
    page.goto(f"{address}/workouts/1/break/2")
    sets = page.get_by_role("textbox", name="toes-to-bar")
    before = sets.input_value()
    pace = page.get_by_label("Pace of toes-to-bar")
    pace.select_option("0.95")
    expect(sets).to_have_value(f"{before} pace 0.95")
    page.get_by_role("button", name="Undo").click()
    expect(sets).to_have_value(before)
    expect(pace).to_have_value("1")
