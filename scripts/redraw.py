"""Measure an edit in the browser: from the request to the redrawn picture, on every demo workout and the lift."""

import statistics

from shots import demo_browser

EDITS = {
    1: ("6/6 r5", "4/4/4 r8", "sets of 5 r4", "singles r3", "unbroken"),
    2: ("4/4 r5", "unbroken", "5/3 r3", "6/2 r9", "singles r3"),
    3: ("unbroken", "15/15 r5", "3x10 r4", "20/10 r3", "sets of 9 r3"),
    4: ("unbroken", "unbroken pace 1.1", "unbroken pace 1.2", "unbroken pace 1.05", "unbroken pace 1.3"),
}
LOADS = ("110", "112.5", "115", "117.5", "120")
TIMES = 4


def main() -> None:
    """Type every edit several times and print median and worst by workout."""
    with demo_browser() as (browser, address):
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        for workout, edits in EDITS.items():
            page.goto(f"{address}/workouts/{workout}/break/3")
            redraws = []
            for sets in edits * TIMES:
                page.evaluate("delete document.querySelector('.break').dataset.redrawMs")
                page.locator("#sets-0").fill(sets)
                page.wait_for_selector(".break[data-redraw-ms]")
                redraws.append(float(page.locator(".break").get_attribute("data-redraw-ms") or "nan"))
            print(f"workout {workout}: median {statistics.median(redraws):.0f} ms, worst {max(redraws):.0f} ms")
        page.goto(f"{address}/workouts/4/lift/3")
        redraws = []
        for load in LOADS * TIMES:
            page.evaluate("delete document.querySelector('.break').dataset.redrawMs")
            page.locator("[name=load-2]").fill(load)
            page.wait_for_selector(".break[data-redraw-ms]")
            redraws.append(float(page.locator(".break").get_attribute("data-redraw-ms") or "nan"))
        print(f"lift: median {statistics.median(redraws):.0f} ms, worst {max(redraws):.0f} ms")


if __name__ == "__main__":
    main()
