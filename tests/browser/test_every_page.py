"""Every page passes axe in light and dark, on a desk, a tablet and a phone, and is no wider than its screen."""

import pytest

from axe import serious_violations

pytestmark = pytest.mark.browser

PAGES = (
    "/",
    "/roster/",
    "/roster/2",
    "/movements/",
    "/settings/",
    "/accounts/",
    "/season/",
    "/movements/toes-to-bar",
    "/field/2",
    "/workouts/new",
    "/workouts/1/read",
    "/workouts/1/place/",
    "/workouts/1/tiers",
    "/workouts/1/briefing",
    "/workouts/3/break/7",
    "/workouts/1/break/2/card",
    "/workouts/4/lift/3",
    "/workouts/4/lift/3/loader",
    "/workouts/1/prep/2",
    "/workouts/3/prep/7/judge",
    "/workouts/1/heats/",
    "/workouts/2/floor/",
    "/workouts/2/floor/1",
)
# Every width and either theme, without trying all pairs.
SCREENS = ((1280, "dark"), (820, "light"), (390, "dark"), (390, "light"))


@pytest.mark.parametrize(("width", "theme"), SCREENS)
def test_no_page_has_a_serious_barrier_or_is_wider_than_its_screen(browser, address, width, theme):
    context = browser.new_context(viewport={"width": width, "height": 900}, color_scheme=theme, bypass_csp=True)
    page = context.new_page()
    for path in PAGES:
        page.goto(f"{address}{path}")
        assert serious_violations(page) == [], path
        assert page.evaluate("document.documentElement.scrollWidth") <= width, path
    context.close()
