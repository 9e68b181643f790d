"""From the first account to a version put back: sign in, change, who changed it, archive out and in, sign out."""

import pytest
from playwright.sync_api import expect

from axe import serious_violations

pytestmark = pytest.mark.browser
PASSWORD = "four plain words here"


def sign_in(page, name):
    page.get_by_label("Name").fill(name)
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()


@pytest.mark.parametrize("theme", ["light", "dark"])
def test_no_serious_barrier_in_settings_and_accounts(browser, address, theme):
    context = browser.new_context(viewport={"width": 390, "height": 844}, color_scheme=theme, bypass_csp=True)
    page = context.new_page()
    for path in ("/settings/", "/accounts/", "/roster/2"):
        page.goto(f"{address}{path}")
        assert serious_violations(page) == []
    context.close()


def archive_and_backup(page, archive, folder):
    """Back up, and look at what an archive would add."""
    page.get_by_role("link", name="Settings").click()
    page.get_by_role("button", name="Back up now").click()
    expect(page.get_by_text("put back into a scratch file and compared")).to_be_visible()
    (folder / "club.zip").write_bytes(archive)
    page.get_by_label("An archive of this").set_input_files(folder / "club.zip")
    page.get_by_role("button", name="Show what it would add").click()
    expect(page.get_by_text("nothing is changed yet")).to_be_visible()


def test_a_club_gets_an_owner_and_a_change_is_found_and_taken_back(page, address, browser, tmp_path):
    """Last here: from now on everybody signs in."""
    page.goto(f"{address}/")
    page.get_by_role("link", name="Settings").click()
    with page.expect_download() as download:
        page.get_by_role("link", name="Export as ZIP").click()
    page.get_by_role("link", name="Make the first account").click()
    page.get_by_label("Name").fill("Mara Venn")
    page.get_by_label("Password, ten").fill(PASSWORD)
    page.get_by_role("button", name="Add").click()
    expect(page.get_by_text("Mara Venn may sign in now.")).to_be_visible()
    page.get_by_label("Name").fill("Tovi Brand")
    page.get_by_label("Password, ten").fill(PASSWORD)
    page.get_by_role("button", name="Add").click()
    expect(page.get_by_role("rowheader", name="Tovi Brand")).to_be_visible()

    page.goto(f"{address}/roster/2")
    mass = page.get_by_label("Mass (kg)")
    before = mass.input_value()
    mass.fill("71.5")
    page.get_by_role("button", name="Save").click()
    page.get_by_text("Who changed what").click()
    expect(page.locator(".history li").first).to_contain_text(f"Mara Venn: mass kg {before} → 71.5")
    page.get_by_role("button", name="As it was then").first.click()
    expect(page.get_by_label("Mass (kg)")).to_have_value(before)

    archive_and_backup(page, download.value.path().read_bytes(), tmp_path)
    page.get_by_role("button", name="Sign out").click()
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()
    assistant = browser.new_page()
    assistant.goto(f"{address}/workouts/2/log/")
    sign_in(assistant, "Tovi Brand")
    expect(assistant.get_by_role("heading", name="Log")).to_be_visible()
    assistant.goto(f"{address}/roster/2")
    assistant.get_by_label("Mass (kg)").fill("99")
    assistant.get_by_role("button", name="Save").click()
    expect(assistant.get_by_text("This needs the role of coach")).to_be_visible()
    expect(assistant.get_by_role("link", name="Settings")).to_have_count(0)
    assistant.close()
