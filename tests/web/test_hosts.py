"""Under which names a server answers; links never follow the Host header."""

import re

import pytest

from sorvek.web.hosts import read_address

CARD = "/workouts/2/break/2/card"


@pytest.mark.parametrize(
    "host", ["evil.example", "evil.example:8173", "localhost.evil.example", "192.168.1.20", "[::2]"]
)
@pytest.mark.parametrize("path", ["/", "/roster/roster.csv", "/roster/1", "/c/nothing"])
def test_on_loopback_a_foreign_name_reads_nothing(client, host, path):
    """DNS rebinding: somebody's page whose name resolves to this computer."""
    answer = client.get(path, headers={"Host": host})
    assert answer.status_code == 400
    assert "Ansel Brook" not in answer.text


def test_a_foreign_name_changes_nothing_either(client, post):
    assert post("/roster/1/remove", {}, headers={"Host": "evil.example"}).status_code == 400
    assert client.get("/roster/1").status_code == 200


@pytest.mark.parametrize("host", ["localhost", "localhost:8173", "127.0.0.1:9000"])
def test_its_own_names_are_answered(client, host):
    assert client.get("/", headers={"Host": host}).status_code == 200


def test_a_link_begins_with_the_address_in_the_settings_whatever_the_request_was_called_by(client, post, seen):
    post(CARD, {})
    shared = client.get(CARD, headers={"Host": "localhost:1234"}).text
    assert re.search(r'data-testid="link"', shared)
    assert "localhost:1234" not in shared
    where = f"{CARD}/address"
    refused = post(where, {"address": "hall computer", "version": seen(CARD, where)})
    assert refused.status_code == 422
    assert "write it as http://" in refused.text
    post(where, {"address": "http://192.168.1.20:8173/", "version": seen(CARD, where)})
    assert re.search(r'value="http://192\.168\.1\.20:8173/c/[\w-]{20,}"', client.get(CARD).text)


@pytest.mark.parametrize(
    "text", ["javascript:alert(1)", "http://", "ftp://hall", "http://a/b", "http://me@hall", "http://hall?x=1"]
)
def test_only_a_server_is_an_address(text):
    with pytest.raises(ValueError, match="no address"):
        read_address(text)
    assert read_address(" https://hall.example:8173/ ") == "https://hall.example:8173"
