"""Twelve judges' phones and three screens on one heat: how long answers take, how old what a screen shows is.

Run: .venv/bin/python scripts/floor_load.py [seconds]
"""

import http.cookiejar
import json
import random
import re
import sqlite3
import statistics
import sys
import tempfile
import threading
import time
import urllib.request
from dataclasses import dataclass, field
from pathlib import Path

from floor_faults import free_port, started

PHONES, SCREENS, POLL_S, SCREEN_S, SET_S = 12, 3, 0.7, 0.5, 4.0


@dataclass
class Seen:
    """What was measured: seconds an answer to a tap and to a look took, and the age of taps on a screen."""

    taps_s: list[float] = field(default_factory=list)
    looks_s: list[float] = field(default_factory=list)
    ages_s: list[float] = field(default_factory=list)
    made: dict[str, float] = field(default_factory=dict)
    lock: threading.Lock = field(default_factory=threading.Lock)


def _prepared(data: Path) -> list[str]:
    """Turn the demo heat into one of twelve lanes that is running; return the lanes' tokens."""
    with sqlite3.connect(next(data.glob("*.db"))) as db:
        db.execute("UPDATE heat SET started_s = ?, speed = 1", (time.time(),))
        db.execute("DELETE FROM lane")
        ids = [row[0] for row in db.execute("SELECT id FROM athlete ORDER BY id LIMIT ?", (PHONES,))]
        for number, athlete_id in enumerate(ids, 1):
            db.execute(
                "INSERT INTO lane (heat_id, number, athlete_id, schemes, judge, token)"
                " VALUES (1, ?, ?, '[]', '', ?)",
                (number, athlete_id, f"token-of-lane-{number:02}-for-the-load-test"),
            )
        return [row[0] for row in db.execute("SELECT token FROM lane ORDER BY number")]


def _opened(address: str) -> tuple[urllib.request.OpenerDirector, str]:
    opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(http.cookiejar.CookieJar()))
    with opener.open(address) as page:
        token = re.search(r'csrf-token" content="([^"]+)"', page.read().decode())
    assert token is not None
    return opener, token[1]


def _phone(base: str, token: str, number: int, until: float, seen: Seen) -> None:
    rng, count, due = random.Random(number), 0, time.time() + SET_S * number / PHONES
    address = f"{base}/f/{token}/"
    opener, csrf = _opened(address)
    headers = {"Content-Type": "application/json", "X-CSRFToken": csrf}
    while time.time() < until:
        taps = []
        if time.time() >= due:
            count, due = count + 1, due + rng.uniform(0.6, 1.4) * SET_S
            taps = [{"id": f"phone-{number:02}-{count:05}", "kind": "set", "made_s": time.time()}]
            with seen.lock:
                seen.made[str(taps[0]["id"])] = float(taps[0]["made_s"])  # type: ignore[arg-type]
        asked = time.time()
        body = {"device": f"phone-{number:04}", "asked_s": asked, "exchanges": [], "taps": taps}
        with opener.open(urllib.request.Request(f"{address}taps", json.dumps(body).encode(), headers)) as answer:
            answer.read()
        with seen.lock:
            (seen.taps_s if taps else seen.looks_s).append(time.time() - asked)
        time.sleep(max(0.0, min(due, asked + POLL_S) - time.time()))


def _screen(base: str, until: float, seen: Seen) -> None:
    opener, _ = _opened(f"{base}/workouts/2/floor/1")
    known: set[str] = set()
    while time.time() < until:
        asked = time.time()
        with opener.open(f"{base}/workouts/2/floor/1/state") as answer:
            state = json.load(answer)
        now = time.time()
        with seen.lock:
            seen.looks_s.append(now - asked)
            for lane in state["lanes"]:
                if lane["last"] and lane["last"] not in known:
                    known.add(lane["last"])
                    seen.ages_s.append(now - seen.made[lane["last"]])
        time.sleep(max(0.0, asked + SCREEN_S - time.time()))


def _p95(values: list[float]) -> float:
    return statistics.quantiles(values, n=20)[-1]


def main() -> None:
    """Make the load for so many seconds and print what was measured."""
    seconds = float(sys.argv[1]) if len(sys.argv) > 1 else 60.0
    seen = Seen()
    with tempfile.TemporaryDirectory() as folder:
        data, port = Path(folder), free_port()
        server = started(data, port)
        try:
            tokens, base = _prepared(data), f"http://127.0.0.1:{port}"
            with urllib.request.urlopen(f"{base}/f/{tokens[0]}/") as page:
                page.read()
            # The coach has the heat on a screen before it starts: that is when its lanes are worked out.
            _opened(f"{base}/workouts/2/floor/1")
            until = time.time() + seconds
            threads = [
                threading.Thread(target=_phone, args=(base, token, number, until, seen))
                for number, token in enumerate(tokens, 1)
            ]
            threads += [threading.Thread(target=_screen, args=(base, until, seen)) for _ in range(SCREENS)]
            for thread in threads:
                thread.start()
            for thread in threads:
                thread.join()
        finally:
            server.kill()
            server.wait()
    print(f"{PHONES} phones, {SCREENS} screens, {seconds:.0f} s")
    for name, values in (("a tap", seen.taps_s), ("a look", seen.looks_s)):
        middle, late = 1000 * statistics.median(values), 1000 * _p95(values)
        print(f"answer to {name}: median {middle:.0f} ms, p95 {late:.0f} ms, n {len(values)}")
    ages = seen.ages_s
    print(f"a tap on a screen: median {statistics.median(ages):.2f} s, p95 {_p95(ages):.2f}, worst {max(ages):.2f}")


if __name__ == "__main__":
    main()
