"""A fresh demo application and a client that has its CSRF token."""

import re
from datetime import date

import pytest

from sorvek.web import create_app


@pytest.fixture(scope="module")
def app(tmp_path_factory):
    return create_app(tmp_path_factory.mktemp("web") / "demo.db", demo=True, today=date(2026, 3, 12))


@pytest.fixture
def client(app):
    return app.test_client()


@pytest.fixture
def post(client):
    token = re.search(r'name="csrf-token" content="([^"]+)"', client.get("/").text)[1]

    def send(path, data, **kwargs):
        return client.post(path, data={**data, "csrf_token": token}, **kwargs)

    return send
