"""Who may do what: roles on every route, signing in and out, links without accounts, throttled guesses."""

import re
import time
from datetime import date

import pytest

from sorvek.store.accounts import Role, add_account, all_accounts, change_account
from sorvek.store.database import connection
from sorvek.web import access as module
from sorvek.web import create_app
from sorvek.web.access import LINK_PAGES, OPEN_PAGES, limiter, safe_path

LAN = {"REMOTE_ADDR": "192.168.1.77"}
CARD = "/workouts/2/break/2/card"
PASSWORD = "four plain words here"


@pytest.fixture(scope="module")
def app(tmp_path_factory):
    """An application that listens beyond loopback, with an account of every role."""
    folder = tmp_path_factory.mktemp("club")
    app = create_app(folder / "demo.db", demo=True, today=date(2026, 3, 12), host="0.0.0.0")
    with connection():
        for role in Role:
            add_account(f"An {role.value}", role, PASSWORD)
    yield app
    app.extensions["planner"].close()


@pytest.fixture(autouse=True)
def _fresh_limits(app):
    limiter.reset()


def token_of(client, path="/login"):
    return re.search(r'name="csrf-token" content="([^"]+)"', client.get(path).text)[1]


def sign_in(client, name, password=PASSWORD, then=""):
    form = {"csrf_token": token_of(client), "name": name, "password": password, "then": then}
    return client.post("/login", data=form)


def signed_in(app, role):
    client = app.test_client()
    assert sign_in(client, f"An {role.value}").status_code == 302
    return client


def routes(app, method):
    """Return the addresses that take a method, with numbers and names filled in, by endpoint."""
    found = {}
    for rule in app.url_map.iter_rules():
        if method in rule.methods:
            values = dict.fromkeys(rule.arguments, "1") | {"kind": "txt", "name": "pull-up", "filename": "x.css"}
            found[rule.endpoint] = rule.build({k: v for k, v in values.items() if k in rule.arguments})[1]
    return found


def test_every_route_that_changes_something_names_the_role_it_needs(app):
    unnamed = [
        endpoint
        for endpoint in routes(app, "POST")
        if endpoint not in LINK_PAGES + OPEN_PAGES and not hasattr(app.view_functions[endpoint], "needs")
    ]
    assert unnamed == []


def test_nobody_who_is_not_signed_in_reads_or_changes_anything(app):
    client = app.test_client()
    for method in ("GET", "POST"):
        for endpoint, path in routes(app, method).items():
            if endpoint in LINK_PAGES + OPEN_PAGES:
                continue
            data = {"csrf_token": token_of(client)} if method == "POST" else None
            answer = client.open(path, method=method, data=data, environ_base=LAN)
            assert answer.status_code == (302 if method == "GET" else 401), endpoint
            assert "Ansel Brook" not in answer.text


@pytest.mark.parametrize("role", [Role.COACH, Role.ASSISTANT])
def test_no_role_gets_further_than_it_reaches(app, role):
    client = signed_in(app, role)
    token = token_of(client, "/")
    for method in ("GET", "POST"):
        for endpoint, path in routes(app, method).items():
            needed = getattr(app.view_functions[endpoint], "needs", Role.ASSISTANT)
            if not role.may(needed):
                answer = client.open(path, method=method, data={"csrf_token": token})
                assert answer.status_code == 403, endpoint
                assert f"needs the role of {needed.value}" in answer.text


def test_every_change_wants_its_token(app):
    client = signed_in(app, Role.OWNER)
    for endpoint, path in routes(app, "POST").items():
        if endpoint != "lane.splits":  # watches and machines have no session; the link is the key
            assert client.post(path).status_code == 400, endpoint


def test_an_assistant_reads_plans_and_logs_but_changes_no_athlete(app):
    client = signed_in(app, Role.ASSISTANT)
    assert client.get("/workouts/2/break/2").status_code == 200
    token = token_of(client, "/")
    logged = client.post("/workouts/2/log/", data={"csrf_token": token, "athlete": "Ansel Brook", "score": "90"})
    assert logged.status_code == 302
    assert client.post("/roster/1/remove", data={"csrf_token": token}).status_code == 403
    history = client.get(re.search(r"/roster/\d+/log/\d+/", client.get("/workouts/2/log/").text)[0]).text
    assert "<strong>An assistant</strong>" in history
    assert "Settings</a>" not in history


def test_a_link_needs_no_account_opens_one_card_and_says_when_it_is_closed(app):
    coach, phone = signed_in(app, Role.COACH), app.test_client()
    token = token_of(coach, "/")
    coach.post(CARD, data={"csrf_token": token})
    path = re.search(r'value="http://0\.0\.0\.0:0(/c/[\w-]+)"', coach.get(CARD).text)[1]
    card = phone.get(path, environ_base=LAN, headers={"Host": "hall-pc:8173"})
    assert card.status_code == 200
    assert card.headers["X-Robots-Tag"] == "noindex"
    assert card.headers["Referrer-Policy"] in ("no-referrer", "same-origin")
    assert not re.search(r'href="/(?!c/|static/)', card.text)
    coach.post(CARD, data={"csrf_token": token, "action": "until", "until": "2026-03-11"})
    closed = phone.get(path)
    assert (closed.status_code, "good until 11 March 2026" in closed.text) == (410, True)
    coach.post(CARD, data={"csrf_token": token, "action": "until", "until": "2026-03-12"})
    assert phone.get(path).status_code == 200
    coach.post(CARD, data={"csrf_token": token, "action": "revoke"})
    gone = phone.get(path)
    assert (gone.status_code, "has revoked it" in gone.text) == (410, True)
    assert phone.get("/c/" + "x" * 24).status_code == 404


def test_guesses_at_links_are_throttled(app):
    client = app.test_client()
    answers = [client.get(f"/c/guess-{i:020}", environ_base=LAN).status_code for i in range(25)]
    assert answers == [404] * 20 + [429] * 5
    assert client.get("/f/guess/", environ_base={"REMOTE_ADDR": "192.168.1.78"}).status_code == 404


def test_a_lane_gets_another_link_and_the_old_one_says_so(app):
    client = signed_in(app, Role.ASSISTANT)
    token = token_of(client, "/")
    client.post("/workouts/2/floor/", data={"csrf_token": token, "number": "1", "lane-1": "2"})
    lanes = "/workouts/2/floor/1/lanes"
    (old, *_) = re.findall(r'href="http://0\.0\.0\.0:0(/f/[\w-]+/)"', client.get(lanes).text)
    assert app.test_client().get(old).status_code == 200
    client.post("/workouts/2/floor/1/judges", data={"csrf_token": token, "renew": "1"})
    (new, *_) = re.findall(r'href="http://0\.0\.0\.0:0(/f/[\w-]+/)"', client.get(lanes).text)
    assert new != old
    assert app.test_client().get(old).status_code == 410
    assert app.test_client().get(new).status_code == 200


def test_wrong_passwords_say_the_same_for_a_name_nobody_has_and_are_throttled(app):
    client = app.test_client()
    known, unknown = sign_in(client, "An owner", "wrong password"), sign_in(client, "Nobody", "wrong password")
    assert known.status_code == unknown.status_code == 401
    assert re.sub(r"\S{40,}|An owner|Nobody", "", known.text) == re.sub(
        r"\S{40,}|An owner|Nobody", "", unknown.text
    )
    answers = [sign_in(client, "An owner", "wrong password").status_code for _ in range(9)]
    assert answers == [401] * 8 + [429]
    assert sign_in(client, "An owner").status_code == 429


def test_a_session_begins_anew_and_ends_by_idleness_age_sign_out_and_from_elsewhere(app, monkeypatch):
    client = app.test_client()
    client.get("/login")
    before = client.get_cookie("session").value
    assert sign_in(client, "An owner", then="/roster/").headers["Location"] == "/roster/"
    cookie = client.get_cookie("session")
    assert cookie.value != before
    assert cookie.http_only
    assert cookie.same_site == "Lax"
    other = signed_in(app, Role.OWNER)
    client.post("/account", data={"csrf_token": token_of(client, "/"), "action": "everywhere"})
    assert client.get("/roster/").status_code == 200
    assert other.get("/roster/").status_code == 302
    now = time.time()
    monkeypatch.setattr(module.time, "time", lambda: now + module.IDLE_S + 5)
    assert client.get("/roster/").status_code == 302
    monkeypatch.setattr(module.time, "time", lambda: now)
    fresh = signed_in(app, Role.COACH)
    monkeypatch.setattr(module, "IDLE_S", 1e9)
    monkeypatch.setattr(module.time, "time", lambda: now + module.LONGEST_S + 5)
    assert fresh.get("/roster/").status_code == 302
    monkeypatch.setattr(module.time, "time", lambda: now)
    fresh.post("/logout", data={"csrf_token": token_of(fresh, "/")})
    assert fresh.get("/roster/").status_code == 302


def test_a_cookie_of_before_signing_in_opens_nothing_afterwards(app):
    """Session fixation: whoever planted a cookie has nothing once its victim has signed in."""
    victim, thief = app.test_client(), app.test_client()
    victim.get("/login")
    thief.set_cookie("session", victim.get_cookie("session").value)
    sign_in(victim, "An owner")
    assert victim.get("/roster/").status_code == 200
    assert thief.get("/roster/").status_code == 302


@pytest.mark.parametrize("then", ["//evil.example/", "https://evil.example", "/\\evil.example", "javascript:x", ""])
def test_signing_in_leads_nowhere_else(app, then):
    assert sign_in(app.test_client(), "An owner", then=then).headers["Location"] == "/"
    with app.test_request_context():
        assert safe_path("/roster/?a=1") == "/roster/?a=1"


def test_owners_keep_the_accounts_and_the_last_one_stays(app):
    client = signed_in(app, Role.OWNER)
    token = token_of(client, "/")
    add = {"csrf_token": token, "name": "New One", "role": "coach", "password": "short"}
    refused = client.post("/accounts/", data=add)
    assert (refused.status_code, "10 to 200 characters" in refused.text) == (422, True)
    assert client.post("/accounts/", data={**add, "password": PASSWORD}).status_code == 302
    with connection():
        numbers = {one.name: one.id for one in all_accounts()}
    other = app.test_client()
    assert sign_in(other, "New One").status_code == 302
    client.post(f"/accounts/{numbers['New One']}", data={"csrf_token": token, "role": "assistant"})
    assert other.get("/roster/").status_code == 302
    last = client.post(f"/accounts/{numbers['An owner']}", data={"csrf_token": token, "action": "remove"})
    assert "the only owner" in last.text
    client.post(f"/accounts/{numbers['New One']}", data={"csrf_token": token, "action": "remove"})
    told = client.get("/settings/").text
    assert "New One removed" in told
    assert "New One is assistant now" in told


def test_ones_own_password_needs_the_old_one(app):
    client = signed_in(app, Role.COACH)
    form = {"csrf_token": token_of(client, "/"), "old": "wrong", "password": "another plain password"}
    assert client.post("/account", data=form).status_code == 401
    assert client.post("/account", data={**form, "old": PASSWORD}).status_code == 302
    assert sign_in(app.test_client(), "An coach").status_code == 401
    with connection():
        number = next(one.id for one in all_accounts() if one.name == "An coach")
        change_account(number, password=PASSWORD)


def test_before_the_first_account_only_the_code_in_the_shell_makes_one(tmp_path):
    """Last here: it opens another database."""
    app = create_app(tmp_path / "own.db", host="0.0.0.0")
    client = app.test_client()
    without = {"csrf_token": token_of(client, "/first"), "name": "Thief", "password": PASSWORD, "code": ""}
    assert client.post("/first", data=without).status_code == 422
    app.config["FIRST_CODE"] = "c0ffee11"
    assert client.get("/roster/", environ_base=LAN).headers["Location"] == "/first"
    form = {"csrf_token": token_of(client, "/first"), "name": "Mara", "password": PASSWORD, "code": "00000000"}
    wrong = client.post("/first", data=form)
    assert (wrong.status_code, "not the code" in wrong.text) == (422, True)
    assert client.post("/first", data={**form, "code": "C0FFEE11"}).status_code == 302
    assert client.get("/settings/").status_code == 200
    again = app.test_client()
    late = {**form, "csrf_token": token_of(again), "code": "c0ffee11", "name": "Thief"}
    assert again.post("/first", data=late).status_code == 422
    app.extensions["planner"].close()
