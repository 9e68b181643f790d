"""Kill the server again and again while several clients write and a batch plans: nothing acknowledged may be lost.

Every client sends a form again until it is answered, as a person would; what was acknowledged must be there once.
Run: .venv/bin/python scripts/faults.py 200
"""

import http.client
import http.cookiejar
import random
import re
import signal
import sqlite3
import sys
import tempfile
import threading
import time
import urllib.error
import urllib.parse
import urllib.request
from dataclasses import dataclass, field
from pathlib import Path

from floor_faults import free_port, started

CLIENTS, ANSWER_S = 3, 10.0
WORKOUT = 2


class _NoRedirect(urllib.request.HTTPRedirectHandler):
    """Leaves a redirect as the answer: it says that the form was carried out."""

    def redirect_request(self, *_args: object) -> None:
        """Follow nothing."""


@dataclass
class Writer:
    """A client: what it was told is stored, and the form it sends until somebody answers."""

    name: str
    address: str
    rng: random.Random
    told: dict[str, tuple[str, str]] = field(default_factory=dict)
    pending: tuple[str, str, dict[str, str]] | None = None
    count: int = 0

    def __post_init__(self) -> None:
        cookies = urllib.request.HTTPCookieProcessor(http.cookiejar.CookieJar())
        self.opener = urllib.request.build_opener(cookies, _NoRedirect)

    def write(self) -> None:
        """Send the form that waits, or make another one."""
        if self.pending is None:
            self.count += 1
            mark = f"{self.name}-{self.count:05d}"
            self.pending = self._form(mark)
        path, mark, form = self.pending
        try:
            with self.opener.open(self.address + "/", timeout=ANSWER_S) as page:
                csrf = re.search(r'csrf-token" content="([^"]+)"', page.read().decode())
            data = urllib.parse.urlencode({**form, "csrf_token": csrf[1] if csrf else ""}).encode()
            self.opener.open(self.address + path, data, timeout=ANSWER_S).close()
        except urllib.error.HTTPError as error:
            if error.code != 302:
                raise RuntimeError(f"{path} answered {error.code}: {error.read()[:400]!r}") from error
            self.told[mark] = path, form.get("notes", form.get("name", ""))
            self.pending = None
        except (OSError, http.client.HTTPException):
            time.sleep(0.05)  # nobody there: the same form again

    def _form(self, mark: str) -> tuple[str, str, dict[str, str]]:
        once = f"{mark}-{'x' * 20}"
        if self.rng.random() < 0.5:
            return "/roster/new", mark, {"name": mark, "tier": "building", "sex": "f", "once": once}
        score = {"athlete": "Ansel Brook", "score": "90", "notes": mark, "once": once}
        return f"/workouts/{WORKOUT}/log/", mark, score


def _batch(address: str) -> None:
    """Have the server plan everybody, as far as it gets."""
    opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(http.cookiejar.CookieJar()))
    try:
        with opener.open(address + "/", timeout=ANSWER_S) as page:
            csrf = re.search(r'csrf-token" content="([^"]+)"', page.read().decode())
        data = urllib.parse.urlencode({"who": "all", "csrf_token": csrf[1] if csrf else ""}).encode()
        opener.open(f"{address}/workouts/{WORKOUT}/place/plan", data, timeout=ANSWER_S).close()
    except (OSError, http.client.HTTPException):
        return


def run_kills(cycles: int, seed: int) -> int:
    """Kill the server so many times while clients write; return how many forms were acknowledged.

    Raises: RuntimeError if one is not there exactly once, or the database is not whole.
    """
    rng = random.Random(seed)
    with tempfile.TemporaryDirectory() as folder:
        data, port = Path(folder), free_port()
        address = f"http://127.0.0.1:{port}"
        writers = [Writer(f"writer{i}", address, random.Random(seed + i)) for i in range(CLIENTS)]
        over, failed = threading.Event(), list[Exception]()

        def work(writer: Writer) -> None:
            try:
                while not over.is_set() or writer.pending is not None:
                    writer.write()
            except RuntimeError as error:
                failed.append(error)

        server = started(data, port)
        threads = [threading.Thread(target=work, args=(writer,), daemon=True) for writer in writers]
        for thread in threads:
            thread.start()
        try:
            for cycle in range(cycles):
                if cycle % 5 == 0:
                    _batch(address)
                time.sleep(rng.uniform(0.05, 1.2))
                server.send_signal(signal.SIGKILL)
                server.wait()
                server = started(data, port)
            over.set()
            for thread in threads:
                thread.join(60)
        finally:
            over.set()
            server.kill()
            server.wait()
        if failed:
            raise failed[0]
        _check(data, writers)
    return sum(len(writer.told) for writer in writers)


def _check(data: Path, writers: list[Writer]) -> None:
    with sqlite3.connect(next(data.glob("*.db"))) as db:
        whole = db.execute("PRAGMA integrity_check").fetchone()[0]
        names = [name for (name,) in db.execute("SELECT name FROM athlete")]
        notes = [note for (note,) in db.execute("SELECT notes FROM attempt")]
    if whole != "ok":
        raise RuntimeError(f"the database is not whole: {whole}")
    for writer in writers:
        if writer.pending is not None:
            raise RuntimeError(f"{writer.name} still waits for an answer")
        for mark, (path, _) in writer.told.items():
            count = (names if path == "/roster/new" else notes).count(mark)
            if count != 1:
                raise RuntimeError(f"{mark} was acknowledged and is there {count} times")
    told = {mark for writer in writers for mark in writer.told}
    strange = [one for one in (*names, *notes) if one.startswith("writer") and one not in told]
    if strange:
        raise RuntimeError(f"stored but never acknowledged: {strange[:5]}")


if __name__ == "__main__":
    wanted, begun = int(sys.argv[1]) if len(sys.argv) > 1 else 20, time.monotonic()
    forms = run_kills(wanted, 1)
    print(f"{wanted} kills, {forms} forms acknowledged, each there once ({time.monotonic() - begun:.0f} s)")
