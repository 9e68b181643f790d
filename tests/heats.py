"""Heats the browser tests share."""

from playwright.sync_api import expect


def hears_keys(page):
    """Wait until what the clock page's script fills in is there: from then on it hears keys."""
    expect(page.locator("[data-field=set]").last).not_to_be_empty()


def new_heat(page, address, text, simulated):
    """Store a short workout, plan two athletes for it, set up their heat; return the heat's address."""
    page.goto(f"{address}/workouts/new", wait_until="networkidle")
    page.locator("#text").fill(text)
    page.get_by_role("button", name="Save").click()
    workout = page.url.removesuffix("/read")
    for athlete in (3, 7):
        page.goto(f"{workout}/break/{athlete}/card")
        page.get_by_role("button", name="Make a link").click()
    page.goto(f"{workout}/floor/")
    if simulated:
        page.get_by_label("Speed of heat 1").select_option("16.0")
        page.get_by_role("button", name="simulated athletes").click()
    else:
        page.get_by_role("button", name="Set up").first.click()
    expect(page.locator(".floor-lane")).to_have_count(2)
    hears_keys(page)
    return page.url
