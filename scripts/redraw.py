"""Measure an edit in the browser: from the request to the redrawn picture, on every demo workout and the lift."""

import statistics

from playwright.sync_api import Page

from shots import demo_browser

EDITS = {
    1: ("6/6 r5", "4/4/4 r8", "sets of 5 r4", "singles r3", "unbroken"),
    2: ("4/4 r5", "unbroken", "5/3 r3", "6/2 r9", "singles r3"),
    3: ("unbroken", "15/15 r5", "3x10 r4", "20/10 r3", "sets of 9 r3"),
    4: ("unbroken", "unbroken pace 1.1", "unbroken pace 1.2", "unbroken pace 1.05", "unbroken pace 1.3"),
}
LOADS = ("110", "112.5", "115", "117.5", "120")
TIMES = 4


def _timed(page: Page, field: str, texts: tuple[str, ...], name: str) -> None:
    """Type every text several times into a field and print how long the redrawing took."""
    redraws = []
    for text in texts * TIMES:
        page.evaluate("delete document.querySelector('.break').dataset.redrawMs")
        page.locator(field).fill(text)
        page.wait_for_selector(".break[data-redraw-ms]")
        redraws.append(float(page.locator(".break").get_attribute("data-redraw-ms") or "nan"))
    print(f"{name}: median {statistics.median(redraws):.0f} ms, worst {max(redraws):.0f} ms")


def main() -> None:
    """Type edits on Break and Lift and print median and worst by page."""
    with demo_browser() as (browser, address):
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        for workout, edits in EDITS.items():
            page.goto(f"{address}/workouts/{workout}/break/3")
            _timed(page, "#sets-0", edits, f"workout {workout}")
        page.goto(f"{address}/workouts/4/lift/3")
        _timed(page, "[name=load-2]", LOADS, "lift")


if __name__ == "__main__":
    main()
