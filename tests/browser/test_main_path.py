"""The main path in the real interface: week, workout, athlete, edited sets, new score."""

import threading
from datetime import date
from pathlib import Path

import pytest
from playwright.sync_api import expect, sync_playwright
from waitress import create_server

from sorvek.web import create_app

pytestmark = pytest.mark.browser
FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking"]
AXE = Path(__file__).parent.parent / "vendor" / "axe-4.14.1.min.js"


@pytest.fixture(scope="module")
def address(tmp_path_factory):
    app = create_app(tmp_path_factory.mktemp("browser") / "demo.db", demo=True, today=date(2026, 3, 12))
    server = create_server(app, host="127.0.0.1", port=0)
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    yield f"http://127.0.0.1:{server.effective_port}"
    server.close()


@pytest.fixture(scope="module")
def browser():
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        yield browser
        browser.close()


@pytest.fixture
def page(browser):
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    faults: list[str] = []
    page.on("pageerror", lambda error: faults.append(str(error)))
    page.on("console", lambda message: faults.append(message.text) if "Content Security" in message.text else None)
    yield page
    page.close()
    assert faults == []


def test_from_the_week_to_a_new_score(page, address):
    page.goto(address)
    page.get_by_role("link", name="Breakwater").click()
    text = page.get_by_label("Announcement")
    text.fill(text.input_value().replace("12 toes-to-bar", "15 toes-to-bar"))
    expect(page.get_by_role("cell", name="15", exact=True)).to_be_visible()
    text.fill(text.input_value().replace("15 toes-to-bar", "15 toes-to-ba"))
    expect(page.get_by_role("alert").first).to_contain_text("toes-to-bar")
    text.fill(text.input_value().replace("15 toes-to-ba", "12 toes-to-bar"))
    page.get_by_role("link", name="Plan athletes").click()
    page.get_by_role("link", name="Gideon Marsh").click()
    score = page.get_by_test_id("score")
    before = score.inner_text()
    sets = page.get_by_label("toes-to-bar")
    sets.fill("singles r25")
    expect(score).not_to_have_text(before)
    expect(page.get_by_text("fewer than the computed plan")).to_be_visible()
    sets.fill("8/7 r6")
    expect(page.get_by_role("alert").first).to_contain_text("8/7 adds up to 15, not 12")
    sets.fill("4/4/4 r10")
    expect(page.get_by_role("alert").first).to_be_hidden()
    page.get_by_role("button", name="Keep this plan").click()
    expect(page.get_by_text("Plan kept for Gideon Marsh")).to_be_visible()
    expect(page.get_by_label("toes-to-bar")).to_have_value("3x4 r10")


def test_keys_move_between_athletes_and_show_the_list_of_keys(page, address):
    page.goto(f"{address}/workouts/2/break/1")
    page.keyboard.press("j")
    expect(page.get_by_role("heading", name="Femke Osterval")).to_be_visible()
    page.keyboard.press("e")
    expect(page.get_by_label("thruster 27.5 kg")).to_be_focused()
    page.keyboard.press("Tab")
    page.get_by_role("heading", name="Femke Osterval").click()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("next, previous athlete")


@pytest.mark.parametrize("scheme", ["light", "dark"])
@pytest.mark.parametrize("path", ["/", "/workouts/2/read", "/workouts/1/break/2", "/workouts/new"])
def test_no_serious_accessibility_violation(browser, address, path, scheme):
    page = browser.new_page(viewport={"width": 1280, "height": 800}, color_scheme=scheme, bypass_csp=True)
    page.goto(address + path)
    page.add_script_tag(path=AXE)
    violations = page.evaluate("axe.run().then(r => r.violations)")
    page.close()
    serious = [(v["id"], v["nodes"][0]["html"][:120]) for v in violations if v["impact"] in ("serious", "critical")]
    assert serious == []
