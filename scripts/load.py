"""Slow clients; twenty clients on the busiest pages while a batch plans; then many requests: time and memory.

Run: .venv/bin/python scripts/load.py [seconds] [requests]
"""

import http.cookiejar
import re
import socket
import statistics
import sys
import tempfile
import threading
import time
import urllib.parse
import urllib.request
from pathlib import Path

from floor_faults import free_port, started

CLIENTS = 20
PAGES = ("/", "/roster/", "/roster/2", "/workouts/2/place/", "/workouts/2/break/2", "/workouts/2/log/", "/season/")
BETWEEN_S = 1.0


def _planned(address: str) -> None:
    """Have the server plan everybody on a workout, again and again."""
    opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(http.cookiejar.CookieJar()))
    with opener.open(f"{address}/") as page:
        csrf = re.search(r'csrf-token" content="([^"]+)"', page.read().decode())
    data = urllib.parse.urlencode({"who": "all", "csrf_token": csrf[1] if csrf else ""}).encode()
    opener.open(f"{address}/workouts/2/place/plan", data).close()


def _resident_mb(pid: int) -> float:
    status = Path(f"/proc/{pid}/status").read_text()
    found = re.search(r"VmRSS:\s+(\d+)", status)
    return int(found[1]) / 1000 if found else 0.0


def busy(seconds: float) -> None:
    """Print how long pages take for twenty clients, each asking for one a second, with a batch running."""
    with tempfile.TemporaryDirectory() as folder:
        port = free_port()
        server, address = started(Path(folder), port), f"http://127.0.0.1:{port}"
        took, errors, until = dict[str, list[float]](), list[str](), time.monotonic() + seconds

        def client(number: int) -> None:
            step = number
            # People do not click in step: else twenty requests come at once, once a second.
            time.sleep(number * BETWEEN_S / CLIENTS)
            while time.monotonic() < until:
                begun, page = time.monotonic(), PAGES[step % len(PAGES)]
                try:
                    urllib.request.urlopen(address + page, timeout=30).read()
                    took.setdefault(page, []).append(time.monotonic() - begun)
                except OSError as error:
                    errors.append(str(error))
                step += 1
                time.sleep(max(0.0, BETWEEN_S - (time.monotonic() - begun)))

        try:
            threads = [threading.Thread(target=client, args=(i,)) for i in range(CLIENTS)]
            for thread in threads:
                thread.start()
            while time.monotonic() < until:
                _planned(address)
                time.sleep(2.0)
            for thread in threads:
                thread.join()
        finally:
            server.terminate()
            server.wait()
    for name, some in [*took.items(), ("all", [one for own in took.values() for one in own])]:
        cut = statistics.quantiles(some, n=20)
        print(f"{name}: {len(some)} times, median {1000 * cut[9]:.0f} ms, p95 {1000 * cut[18]:.0f} ms")
    print(f"{len(errors)} errors")


def slow(count: int) -> None:
    """Print how long a page takes while many clients hold a connection and send one byte a second."""
    with tempfile.TemporaryDirectory() as folder:
        port = free_port()
        server, address = started(Path(folder), port), f"http://127.0.0.1:{port}"
        held = [socket.create_connection(("127.0.0.1", port)) for _ in range(count)]
        took = []
        try:
            for number in range(30):
                for one in held:
                    one.sendall(b"G"[:1] if number == 0 else b"E")
                begun = time.monotonic()
                urllib.request.urlopen(address + "/", timeout=30).read()
                took.append(time.monotonic() - begun)
                time.sleep(0.2)
        finally:
            for one in held:
                one.close()
            server.terminate()
            server.wait()
    middle, worst = 1000 * statistics.median(took), 1000 * max(took)
    print(f"{count} slow clients: a page takes {middle:.0f} ms, worst {worst:.0f} ms")


def many(requests: int) -> None:
    """Print what the server holds in memory after a tenth of many requests, and after all of them."""
    with tempfile.TemporaryDirectory() as folder:
        port = free_port()
        server, address = started(Path(folder), port), f"http://127.0.0.1:{port}"
        held = []
        try:
            for number in range(requests):
                urllib.request.urlopen(address + PAGES[number % len(PAGES)], timeout=30).read()
                if number in (requests // 10, requests // 2, requests - 1):
                    held.append(_resident_mb(server.pid))
        finally:
            server.terminate()
            server.wait()
    print(f"{requests} requests: {', '.join(f'{mb:.0f}' for mb in held)} MB after a tenth, half, all")


if __name__ == "__main__":
    slow(300)
    busy(float(sys.argv[1]) if len(sys.argv) > 1 else 60.0)
    many(int(sys.argv[2]) if len(sys.argv) > 2 else 100_000)
