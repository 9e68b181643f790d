"""One server with the demo club and one Chromium a module of browser tests."""

import contextlib
import threading
from datetime import date

import pytest
from playwright.sync_api import expect, sync_playwright
from waitress import create_server

from sorvek.web import create_app

# A loaded machine may take its time; what is waited for is there in a fraction of this.
expect.set_options(timeout=20_000)
FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking"]


@pytest.fixture(scope="module")
def address(tmp_path_factory):
    app = create_app(tmp_path_factory.mktemp("browser") / "demo.db", demo=True, today=date(2026, 3, 12))
    server = create_server(app, host="127.0.0.1", port=0)

    def serve():
        with contextlib.suppress(OSError):  # closed from outside while it waits
            server.run()

    thread = threading.Thread(target=serve, daemon=True)
    thread.start()
    app.config["OWN_ADDRESS"] = f"http://127.0.0.1:{server.effective_port}"
    yield app.config["OWN_ADDRESS"]
    app.extensions["planner"].close()
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
