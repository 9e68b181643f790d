"""Break is tape first: what a coach looks at stands high, and nothing clips on a tablet held upright."""

import pytest

pytestmark = pytest.mark.browser


def test_tape_reason_and_splits_are_seen_without_scrolling(page, address):
    page.set_viewport_size({"width": 1280, "height": 800})
    page.goto(f"{address}/workouts/1/break/2")
    assert page.locator(".tape-frame").first.bounding_box()["y"] < 160
    for part in (".reason", ".splits", ".sets-row >> nth=2"):
        box = page.locator(part).first.bounding_box()
        assert box["y"] + box["height"] <= 800, part


@pytest.mark.parametrize(("width", "height"), [(820, 1180), (1280, 800)])
def test_seven_movements_fit_beside_their_tape(page, address, width, height):
    page.set_viewport_size({"width": width, "height": height})
    page.goto(f"{address}/workouts/3/break/7")
    assert page.evaluate("document.documentElement.scrollWidth") <= width
    for lock in page.locator(".lock").all():
        box = lock.bounding_box()
        assert box["x"] + box["width"] <= width
    last = page.locator(".sets-row").last.bounding_box()
    assert last["y"] + last["height"] <= height
    tape = page.locator(".tape").first
    assert tape.evaluate("e => e.parentElement.scrollWidth <= e.parentElement.clientWidth + 1")
