"""Take the pictures in docs/screenshots from the demo data: one current PNG a view."""

import sys
import tempfile
import threading
from datetime import date
from pathlib import Path

from playwright.sync_api import sync_playwright
from waitress import create_server

from sorvek.web import create_app

OUT = Path(__file__).parent.parent / "docs" / "screenshots"
DAY = date(2026, 3, 12)
VIEWS = (
    ("week", "/", "light"),
    ("read", "/workouts/2/read", "light"),
    ("break", "/workouts/1/break/2", "light"),
    ("schools", "/workouts/1/break/2", "light"),
    ("break-dark", "/workouts/2/break/7", "dark"),
)
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
]


def main() -> None:
    """Start the demo on a free port and photograph every view."""
    wanted = sys.argv[1:]
    with tempfile.TemporaryDirectory() as folder:
        server = create_server(
            create_app(Path(folder) / "shots.db", demo=True, today=DAY), host="127.0.0.1", port=0
        )
        threading.Thread(target=server.run, daemon=True).start()
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
            for name, path, scheme in VIEWS:
                if wanted and name not in wanted:
                    continue
                page = browser.new_page(viewport={"width": 1280, "height": 800}, color_scheme=scheme)
                page.goto(f"http://127.0.0.1:{server.effective_port}{path}")
                page.evaluate("document.fonts.ready")
                if name == "schools":
                    page.get_by_role("button", name="Compare schools").click()
                    page.get_by_role("cell", name="quick singles").scroll_into_view_if_needed()
                page.screenshot(path=OUT / f"{name}.png", full_page=False)
                page.close()
            browser.close()
        server.close()


if __name__ == "__main__":
    main()
