"""The evening in the real interface: from a pasted announcement to the tier sheet and a card for everybody."""

from importlib.resources import files

import pytest
from playwright.sync_api import expect

from examples import PASTE

pytestmark = pytest.mark.browser

MOST_INTERACTIONS = 10


def test_from_the_paste_to_every_card_in_ten_interactions(page, address):
    announcement = files("sorvek.bench").joinpath("announcement.txt").read_text(encoding="utf-8")
    page.goto(address)
    done = 0

    def act(interaction):
        nonlocal done
        done += 1
        interaction()

    act(page.get_by_role("link", name="New workout").click)
    page.wait_for_load_state("networkidle")
    act(lambda: page.evaluate(PASTE, announcement))
    expect(page.get_by_role("cell", name="chest-to-bar pull-ups")).to_be_visible()
    act(page.get_by_role("button", name="Save").click)
    act(page.get_by_role("link", name="Place").click)
    act(page.get_by_test_id("plan").click)
    expect(page.locator(".lane-middle")).to_have_count(24, timeout=120_000)
    act(page.get_by_role("link", name="Tier sheet").click)
    assert page.get_by_role("heading", level=2).count() > 1
    act(page.get_by_role("link", name="Back").click)
    act(page.get_by_role("link", name="Cards", exact=True).click)
    expect(page.locator(".card-a6")).to_have_count(24)
    assert done <= MOST_INTERACTIONS
