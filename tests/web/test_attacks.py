"""What somebody hostile would try: script in every field, formulas, paths, bombs, headers, folded lines."""

import io
import re
import zipfile

import pytest
from icalendar import Calendar
from pypdf import PdfReader

from sorvek.web import UPLOAD_LIMIT
from sorvek.web.access import limiter

SCRIPT = "<script>alert(1)</script><img src=x onerror=alert(1)>'\"&{{7*7}}"
PLAIN = "&lt;script&gt;alert(1)&lt;/script&gt;"
FORMULA = '=cmd|"/c calc"!A1'


@pytest.fixture(autouse=True)
def _fresh_limits():
    limiter.reset()


def hurt(text):
    """Return whether a page holds the script as markup, or has run the template inside it."""
    return "<script>alert(1)" in text or "<img src=x" in text or "&{49}" in text or "&amp;49" in text


@pytest.fixture
def named(client, post):
    """Return the number of an athlete whose every text is a script."""
    form = {"name": SCRIPT, "tier": "building", "sex": "f", "division": SCRIPT[:40], "notes": SCRIPT}
    post("/roster/new", {**form, "flags": f"toes-to-bar: {SCRIPT}"})
    roster = client.get("/roster/").text
    found = re.findall(rf'href="/roster/(\d+)"[^>]*>\s*{re.escape(PLAIN)}', roster)
    post(f"/roster/{found[0]}", {**form, "version": "1", "was": "{}"})
    return int(found[0])


def test_a_script_for_a_name_is_shown_as_written_on_every_page(client, post, named):
    workout = {"text": f"{SCRIPT}\nfor time, cap 9:00\n3 rounds:\n  10 burpees  # {SCRIPT}", "source": SCRIPT}
    made = post("/workouts/new", {**workout, "opens_on": "2026-03-12", "due_on": "2026-03-16"})
    number = re.search(r"/workouts/(\d+)/", made.headers["Location"])[1]
    card = f"/workouts/{number}/break/{named}/card"
    post(f"/workouts/{number}/log/", {"athlete": SCRIPT, "score": "3:20", "notes": SCRIPT, "gave_out": SCRIPT})
    post(card, {})
    post("/settings/names", {"club_name": SCRIPT, "event_name": SCRIPT, **versions(client)})
    pages = (
        *("/", "/roster/", f"/roster/{named}", "/settings/", "/calendar/", "/season/", f"/season/{named}"),
        *(f"/workouts/{number}/{stage}" for stage in ("read", "place/", f"break/{named}", f"prep/{named}", "log/")),
        *(
            f"/workouts/{number}/{page}"
            for page in ("cards", "sheet", "briefing", "tiers", "place/lanes", "floor/")
        ),
        *(card, f"/workouts/{number}/heats/", "/field/", f"/workouts/{number}/prep/{named}/judge"),
    )
    shown = 0
    for page in pages:
        text = client.get(page, follow_redirects=True).text
        assert not hurt(text), page
        shown += PLAIN in text
    assert shown > 8
    link = re.search(r'value="http://[^"]+(/c/[\w-]+)"', client.get(card).text)
    assert link
    for address in (link[1], f"{link[1]}/keep"):
        assert not hurt(client.get(address).text)
    post("/settings/names", {"club_name": "", "event_name": "", **versions(client)})


def versions(client):
    page = client.get("/settings/").text
    return {
        name: re.search(rf'name="{name}" value="(\d+)"', page)[1]
        for name in ("club_name_version", "event_name_version")
    }


def test_a_script_in_what_is_refused_comes_back_as_written(client, post):
    answers = (
        post("/workouts/2/log/", {"athlete": SCRIPT, "score": SCRIPT, "splits": SCRIPT}),
        post("/workouts/new", {"text": SCRIPT, "opens_on": "2026-03-12", "due_on": "2026-03-16"}),
        post("/roster/new", {"name": SCRIPT, "tier": SCRIPT, "sex": SCRIPT}),
        post("/calendar/", {"hours-2026-03-12": SCRIPT, "wishes": SCRIPT, "version": "0"}),
        post("/settings/hall", {"gym": SCRIPT, "address": SCRIPT}),
        post("/workouts/2/place/rule", {"rule": SCRIPT, "version": "0"}),
        client.get("/season/", query_string={"title": SCRIPT, "form": SCRIPT}),
        client.get("/login", query_string={"then": SCRIPT}),
        client.get(f"/{SCRIPT}"),
    )
    for answer in answers:
        assert not hurt(answer.text)


def test_a_script_in_a_file_is_shown_as_written(client, post):
    table = f'name,tier,notes\n"{SCRIPT.replace(chr(34), chr(34) * 2)}",{SCRIPT[:20]},x\n'
    answer = post("/roster/import", {"file": (io.BytesIO(table.encode()), f"{SCRIPT}.csv")})
    assert not hurt(answer.text)
    log = f'athlete,score\n"{SCRIPT.replace(chr(34), chr(34) * 2)}",90\n'
    answer = post("/workouts/2/log/import", {"file": (io.BytesIO(log.encode()), "log.csv")})
    assert not hurt(answer.text)


def test_a_script_in_a_drawing_a_calendar_and_a_pdf_stays_text(client, post, named):
    svg = client.get(f"/workouts/2/break/{named}/plan.svg").text
    assert not hurt(svg)
    post("/workouts/2/log/", {"athlete": "Ansel Brook", "score": "90", "notes": FORMULA, "gave_out": "grip"})
    pages = [page.extract_text() for page in PdfReader(io.BytesIO(client.get("/season/season.pdf").data)).pages]
    assert pages
    pdf = client.get("/season/season.pdf").data
    assert b"/JavaScript" not in pdf
    assert b"/Launch" not in pdf


def test_a_calendar_file_folds_long_lines_and_escapes_what_ends_them(client, post):
    title = "Long; title, with \\ and a very long name " + "x" * 120
    text = f"{title}\nfor time, cap 9:00\n3 rounds:\n  10 burpees"
    made = post("/workouts/new", {"text": text, "opens_on": "2026-03-12", "due_on": "2026-03-16"})
    number = re.search(r"/workouts/(\d+)/", made.headers["Location"])[1]
    raw = client.get(f"/workouts/{number}/calendar.ics").data
    assert max(len(line) for line in raw.split(b"\r\n")) <= 75
    (event,) = Calendar.from_ical(raw).walk("VEVENT")
    assert str(event["summary"]).startswith(title)
    assert b"\nATTENDEE" not in raw


@pytest.mark.parametrize("cell", ["=1+1", "+1", "-1", "@SUM(A1)", "|cmd", "\t=1", FORMULA])
def test_a_cell_that_a_table_would_run_goes_out_guarded(client, post, cell):
    post("/workouts/2/log/", {"athlete": "Ansel Brook", "score": "90", "notes": cell})
    table = client.get("/workouts/2/log/log.csv").text
    assert not re.search(rf'(^|,)"?{re.escape(cell.strip())}', table, re.M)


@pytest.mark.parametrize(
    "path",
    [
        "/static/../web/__init__.py",
        "/static/..%2f..%2fpyproject.toml",
        "/static/%2e%2e/%2e%2e/x",
        "/settings/backups/..%2fdemo.db",
    ],
)
def test_no_path_leads_out_of_its_folder(client, path):
    assert client.get(path).status_code == 404


def test_an_upload_that_is_too_large_or_a_bomb_is_refused(client, post):
    big = client.post("/roster/import", data=b"x" * (UPLOAD_LIMIT + 1), content_type="text/csv")
    assert big.status_code == 413
    bomb = io.BytesIO()
    with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as file:
        file.writestr("manifest.json", b" " * 210_000_000)
    answer = post("/settings/import", {"file": (io.BytesIO(bomb.getvalue()), "club.zip"), "action": "merge"})
    assert answer.status_code == 422
    assert "more than any club" in answer.text


def test_every_page_says_what_a_browser_may_do_with_it(client):
    for path in ("/", "/roster/2", "/login", "/nowhere", "/health", "/static/css/sorvek.css"):
        with client.get(path) as answer:
            headers = answer.headers
        assert "default-src 'none'" in headers["Content-Security-Policy"]
        assert "frame-ancestors 'none'" in headers["Content-Security-Policy"]
        assert "unsafe" not in headers["Content-Security-Policy"]
        assert headers["X-Content-Type-Options"] == "nosniff"
        assert headers["Referrer-Policy"] == "same-origin"
    assert "private" in client.get("/roster/2").headers["Cache-Control"]


def test_a_request_that_is_no_form_or_too_long_is_refused_without_a_trace(client, post):
    for path in ("/roster/99999999999999999", "/workouts/1/break/%00", "/c/%0d%0aSet-Cookie:x=1", "/roster/-1"):
        answer = client.get(path)
        assert answer.status_code in (302, 404)
        assert "Traceback" not in answer.text
        assert "x=1" not in str(answer.headers.get("Set-Cookie", ""))
    assert post("/read/preview", {"text": "(" * 50_000}).status_code < 500
    assert client.post("/f/none/taps", data=b"\xff" * 1000).status_code in (400, 404)


def test_a_form_sent_again_because_the_answer_got_lost_makes_nothing_twice(client, post):
    def count():
        return client.get("/workouts/2/log/").text.count("93 reps")

    before = count()
    page = client.get("/workouts/2/log/").text
    token = re.search(r'name="once" value="([\w-]+)"', page)[1]
    form = {"athlete": "Ansel Brook", "score": "93", "once": token}
    first, again = (post("/workouts/2/log/", form) for _ in range(2))
    assert first.headers["Location"] == again.headers["Location"]
    refused = {**form, "score": "nonsense", "once": token[::-1]}
    assert [post("/workouts/2/log/", refused).status_code for _ in range(2)] == [422, 422]
    assert post("/workouts/2/log/", {**refused, "score": "93"}).status_code == 302
    assert count() == before + 2
