"""The evening: an announcement pasted, the club planned, tier sheet, every card; what of it the machine takes."""

import re
import tempfile
import time
from importlib.resources import files
from pathlib import Path
from typing import Any

from sorvek.web import create_app

LONGEST_S = 600.0


def evening_s() -> float:
    """Return the seconds from the paste to the last card of a fresh demo club, the server and its workers ready.

    Everything goes through the application's own pages. Raises: RuntimeError for a page that does not come.
    """
    with tempfile.TemporaryDirectory() as folder:
        app = create_app(Path(folder) / "demo.db", demo=True)
        planner = app.extensions["planner"]
        for ready in planner.get_ready():
            ready.result()
        try:
            return _pages_s(app.test_client())
        finally:
            planner.close()


def _pages_s(client: Any) -> float:
    """Return how long the pages of the evening take one after the other."""
    announcement = files("sorvek.bench").joinpath("announcement.txt").read_text(encoding="utf-8")
    begun = time.perf_counter()
    page = _got(client.get("/workouts/new")).text
    fields = {"csrf_token": _value(page, "csrf-token", "content"), "source": announcement}
    for day in ("opens_on", "due_on"):
        fields[day] = _value(page, day, "value")
    read = _got(client.post("/read/announcement", data={**fields, "text": announcement})).json
    made = _got(client.post("/workouts/new", data={**fields, "text": read["text"]}), 302)
    workout = made.headers["Location"].removesuffix("/read")
    _got(client.post(f"{workout}/place/plan", data=fields), 302)
    while _got(client.get(f"{workout}/place/progress")).json["running"]:
        if time.perf_counter() - begun > LONGEST_S:
            raise RuntimeError("the club is not planned after ten minutes")
        time.sleep(0.05)
    _got(client.get(f"{workout}/sheet"))
    cards = _got(client.get(f"{workout}/cards")).text.count("<article")
    if not cards:
        raise RuntimeError("there are no cards")
    return time.perf_counter() - begun


def _value(page: str, name: str, attribute: str) -> str:
    found = re.search(rf'name="{name}"[^>]*{attribute}="([^"]*)"', page)
    if found is None:
        raise RuntimeError(f"{name} is not on the page")
    return found[1]


def _got(response: Any, status: int = 200) -> Any:
    if response.status_code != status:
        raise RuntimeError(f"{response.request.path} answered {response.status_code}: {response.text[:200]}")
    return response
