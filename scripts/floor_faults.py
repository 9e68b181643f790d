"""Kill the server again and again while two devices tap in one lane: no tap may be lost, doubled or changed.

The devices lose requests and answers, send again what was not confirmed, and keep their taps while nobody answers,
as the pages do. Run: .venv/bin/python scripts/floor_faults.py 200
"""

import http.client
import http.cookiejar
import json
import random
import re
import signal
import socket
import sqlite3
import subprocess
import sys
import tempfile
import threading
import time
import urllib.request
from dataclasses import dataclass, field
from pathlib import Path

SORVEK = Path(sys.executable).parent / "sorvek"
STARTS_WITHIN_S = 60.0
LOST, ANSWER_LOST, AGAIN = 0.15, 0.15, 0.2


@dataclass
class Device:
    """A phone that taps: what it has not been told is stored it sends again."""

    name: str
    unsent: list[dict[str, object]] = field(default_factory=list)
    made: dict[str, float] = field(default_factory=dict)

    def tap(self, rng: random.Random) -> None:
        """Make a tap."""
        tap_id, made_s = f"{self.name}-{len(self.made):06d}", time.time()
        self.made[tap_id] = made_s
        kind = rng.choice(["set", "set", "set", "no-rep", "broken"])
        self.unsent.append({"id": tap_id, "kind": kind, "made_s": made_s})

    def send(self, opener: urllib.request.OpenerDirector, address: str, token: str, rng: random.Random) -> None:
        """Send what waits, sometimes twice; requests and answers get lost."""
        if rng.random() < LOST:
            return
        body = {"device": self.name, "asked_s": time.time(), "exchanges": [], "taps": self.unsent}
        headers = {"Content-Type": "application/json", "X-CSRFToken": token}
        request = urllib.request.Request(f"{address}taps", json.dumps(body).encode(), headers)
        for _ in range(2 if rng.random() < AGAIN else 1):
            try:
                with opener.open(request, timeout=5) as response:
                    answer = json.load(response)
            except (OSError, ValueError, http.client.HTTPException):
                return
        if rng.random() >= ANSWER_LOST:
            taken = set(answer["taken"])
            self.unsent = [tap for tap in self.unsent if tap["id"] not in taken]


def free_port() -> int:
    """Return a port nobody listens on."""
    with socket.socket() as one:
        one.bind(("127.0.0.1", 0))
        return int(one.getsockname()[1])


def started(data: Path, port: int) -> subprocess.Popen[bytes]:
    """Start the demo on a folder and return it once it answers."""
    log = data / "server.log"
    with log.open("ab") as out:
        server = subprocess.Popen(
            [str(SORVEK), "demo", "--data", str(data), "--port", str(port)], stdout=out, stderr=subprocess.STDOUT
        )
    until = time.monotonic() + STARTS_WITHIN_S
    while time.monotonic() < until:
        try:
            urllib.request.urlopen(f"http://127.0.0.1:{port}/static/mark.svg", timeout=1).close()
        except OSError:
            time.sleep(0.05)
        else:
            return server
    server.kill()
    raise RuntimeError(f"the server does not start:\n{log.read_text(errors='replace')[-2000:]}")


def _lane(data: Path) -> tuple[int, str]:
    """Return a lane of the demo heat and its token, the heat started."""
    with sqlite3.connect(next(data.glob("*.db"))) as db:
        db.execute("UPDATE heat SET started_s = ?, speed = 1", (time.time() - 5,))
        db.execute("UPDATE lane SET stand_in = NULL")
        lane_id, token = db.execute("SELECT id, token FROM lane ORDER BY id LIMIT 1").fetchone()
    return int(lane_id), str(token)


def run_cycles(cycles: int, seed: int) -> int:
    """Kill the server so many times while two devices tap; return how many taps were made.

    Raises: RuntimeError if what is stored is not exactly what was tapped.
    """
    rng, devices = random.Random(seed), [Device("device-a1"), Device("device-b2")]
    with tempfile.TemporaryDirectory() as folder:
        data, port = Path(folder), free_port()
        server = started(data, port)
        lane_id, token = _lane(data)
        address = f"http://127.0.0.1:{port}/f/{token}/"
        opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(http.cookiejar.CookieJar()))
        try:
            with opener.open(address) as page:
                csrf = re.search(r'csrf-token" content="([^"]+)"', page.read().decode())[1]  # type: ignore[index]
            for _ in range(cycles):
                killer = threading.Timer(rng.uniform(0.05, 1.5), server.send_signal, [signal.SIGKILL])
                killer.start()
                while server.poll() is None:
                    for device in devices:
                        if rng.random() < 0.7:
                            device.tap(rng)
                        device.send(opener, address, csrf, rng)
                killer.join()
                server = started(data, port)
            until = time.monotonic() + STARTS_WITHIN_S
            while any(device.unsent for device in devices) and time.monotonic() < until:
                for device in devices:
                    device.send(opener, address, csrf, rng)
        finally:
            server.kill()
            server.wait()
        _check(data, lane_id, devices)
    return sum(len(device.made) for device in devices)


def _check(data: Path, lane_id: int, devices: list[Device]) -> None:
    with sqlite3.connect(next(data.glob("*.db"))) as db:
        rows = db.execute("SELECT id, device, made_s FROM tap WHERE lane_id = ?", (lane_id,)).fetchall()
    stored = {tap_id: (device, made_s) for tap_id, device, made_s in rows}
    wanted = {tap_id: (device.name, made_s) for device in devices for tap_id, made_s in device.made.items()}
    if len(rows) != len(stored) or stored != wanted:
        raise RuntimeError(f"{len(wanted)} tapped, {len(rows)} stored, {len(set(wanted) - set(stored))} lost")


def main() -> None:
    """Kill the server as often as the command line says and print what became of the taps."""
    cycles = int(sys.argv[1]) if len(sys.argv) > 1 else 200
    begun = time.monotonic()
    taps = run_cycles(cycles, 1)
    print(f"{cycles} kills, {taps} taps: none lost, doubled or changed ({time.monotonic() - begun:.0f} s)")


if __name__ == "__main__":
    main()
