"""Take the pictures in docs/screenshots from the demo data: one current PNG a view."""

import sys
import tempfile
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import date
from pathlib import Path
from typing import Literal

from playwright.sync_api import Browser, Page, sync_playwright
from waitress import create_server

from sorvek.web import create_app

OUT = Path(__file__).parent.parent / "docs" / "screenshots"
DAY = date(2026, 3, 12)
VIEWS: tuple[tuple[str, str, Literal["light", "dark"]], ...] = (
    ("week", "/", "light"),
    ("read", "/workouts/2/read", "light"),
    ("paste", "/workouts/new", "light"),
    ("movement", "/movements/toes-to-bar", "light"),
    ("place", "/workouts/2/place/?by=plan", "light"),
    ("tiers", "/workouts/2/tiers", "light"),
    ("card", "/workouts/2/break/2/card", "light"),
    ("roster", "/roster/", "light"),
    ("athlete", "/roster/2", "light"),
    ("log", "/workouts/2/log/", "light"),
    ("calendar", "/calendar/", "light"),
    ("field", "/field/2?score=92&other=1", "light"),
    ("break", "/workouts/1/break/2", "light"),
    ("lift", "/workouts/4/lift/3?goal=135", "light"),
    ("floor", "/workouts/2/floor/1", "light"),
    ("lane", "/workouts/2/floor/1/lanes", "light"),
    ("loader", "/workouts/4/lift/7/loader", "light"),
    ("prep", "/workouts/1/prep/2", "light"),
    ("break-dark", "/workouts/2/break/7", "dark"),
)
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
]


@contextmanager
def demo_browser() -> Iterator[tuple[Browser, str]]:
    """Serve a fresh demo club on a free port; give a browser and the address."""
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        app = create_app(Path(folder) / "demo.db", demo=True, today=DAY)
        server = create_server(app, host="127.0.0.1", port=0)
        app.config["OWN_ADDRESS"] = f"http://127.0.0.1:{server.effective_port}"
        threading.Thread(target=server.run, daemon=True).start()
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        yield browser, f"http://127.0.0.1:{server.effective_port}"
        browser.close()
        app.extensions["planner"].close()
        server.close()


def _plan_club(page: Page, address: str) -> None:
    """Plan everybody on the first two workouts, so that the pictures show forecasts."""
    for workout in (1, 2):
        page.goto(f"{address}/workouts/{workout}/place/")
        page.get_by_test_id("plan").click()
        page.locator(".lane-middle").first.wait_for(state="attached")
        page.get_by_role("progressbar").wait_for(state="hidden", timeout=120_000)


ANNOUNCEMENT = """Test 3: LOW WATER

The tide waits for nobody. Inside a time cap of fifteen minutes, athletes complete as fast as possible:

4 rounds of
12 toes-to-bar
10 hang power cleans
8 gull flaps

Men use a 60 kg barbell, women a 42.5 kg barbell.
Tie-break: the time is noted after every set of toes-to-bar.

STANDARDS
Toes-to-bar: both feet must touch the bar at the same time.
"""


def _paste(page: Page) -> None:
    """Paste an announcement in prose over the starter, and point at words of it."""
    text = page.get_by_label("Announcement")
    text.fill(ANNOUNCEMENT)
    page.get_by_role("button", name="Read it as an announcement").click()
    page.get_by_text("Who gets where: the announcement holds a doubt").wait_for(state="attached")
    page.locator(".src-used", has_text="60 kg").hover()


def _settled(page: Page, name: str) -> None:
    """Wait for the fonts, and on Break for what is worked out after the page has come."""
    page.evaluate("document.fonts.ready")
    if name in ("break", "break-dark"):
        page.locator("[data-row]").first.wait_for()


def _card(page: Page) -> None:
    page.get_by_role("button", name="Make a link").click()
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(page.get_by_test_id("link").input_value())


def _movement(page: Page) -> None:
    page.get_by_label("One rep").fill("1.3")
    page.get_by_role("button", name="What would change?").click()


def _floor(page: Page) -> None:
    """Start the demo heat and wait until its simulated athletes are some rounds in."""
    page.keyboard.press("Space")
    page.locator(".floor-lane [data-field=so_far]", has_text="36 reps now").first.wait_for(timeout=120_000)


def _lane(page: Page) -> None:
    """Open the first lane of the demo heat on a phone."""
    link = page.locator(".floor-link a").first.get_attribute("href") or ""
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(link)


def _log(page: Page) -> None:
    """Write down a result with the ends of its rounds, and look at it."""
    page.locator("[name=athlete]").fill("Gideon Marsh")
    page.locator("[name=score]").fill("97")
    page.locator("[name=splits]").fill("1:08 2:20 3:36 4:55 9:20 11:50")
    page.get_by_role("button", name="Log it").click()
    page.locator(".log-table a").first.click()
    page.locator(".again").wait_for()


def _place(page: Page) -> None:
    """Cut the club into tiers by plan."""
    page.get_by_role("button", name="Cut the tiers").click()
    page.locator(".tier-line").first.wait_for()


def _calendar(page: Page) -> None:
    """Place everybody."""
    page.get_by_role("button", name="Place everybody").click()
    page.locator(".cal-chip").first.wait_for()


# What is done on a page before its picture is taken.
DONE: dict[str, Callable[[Page], None]] = {
    "read": lambda page: page.get_by_role("cell", name="racing").wait_for(),
    "paste": _paste,
    "place": _place,
    "movement": _movement,
    "card": _card,
    "log": _log,
    "calendar": _calendar,
    "floor": _floor,
    "lane": _lane,
    "loader": lambda page: page.set_viewport_size({"width": 390, "height": 844}),
}


def main() -> None:
    """Photograph every view, or those named."""
    wanted, planned = sys.argv[1:], False
    with demo_browser() as (browser, address):
        for name, path, scheme in VIEWS:
            if wanted and name not in wanted:
                continue
            context = browser.new_context(viewport={"width": 1280, "height": 800}, color_scheme=scheme)
            page = context.new_page()
            if name in ("place", "tiers") and not planned:
                _plan_club(page, address)
                planned = True
            page.goto(address + path)
            _settled(page, name)
            if name in DONE:
                DONE[name](page)
            page.evaluate("document.fonts.ready.then(() => 0)")
            page.screenshot(path=OUT / f"{name}.png", full_page=False)
            context.close()


if __name__ == "__main__":
    main()
