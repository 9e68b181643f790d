"""A fresh demo application and a client that has its CSRF token."""

import re
import threading
from datetime import date

import pytest

from sorvek.web import create_app


@pytest.fixture(scope="module")
def app(tmp_path_factory):
    app = create_app(tmp_path_factory.mktemp("web") / "demo.db", demo=True, today=date(2026, 3, 12))
    yield app
    app.extensions["planner"].close()


@pytest.fixture
def client(app):
    return app.test_client()


@pytest.fixture
def seen(client):
    """Return the version a form on a page would send along; `near` is text before it."""

    def version(path, near=""):
        page = client.get(path).text
        return re.search(r'name="version"[^>]*value="(\d+)"', page[page.index(near) :])[1]

    return version


@pytest.fixture
def planned(client, post):
    """Plan everybody on a workout and return Place."""

    def plan(workout_id):
        post(f"/workouts/{workout_id}/place/plan", {})
        tick = threading.Event()
        while client.get(f"/workouts/{workout_id}/place/progress").json["running"]:
            tick.wait(0.05)
        return client.get(f"/workouts/{workout_id}/place/").text

    return plan


@pytest.fixture
def post(client):
    token = re.search(r'name="csrf-token" content="([^"]+)"', client.get("/").text)[1]

    def send(path, data, **kwargs):
        return client.post(path, data={**data, "csrf_token": token}, **kwargs)

    return send
