"""How many open pages one running brew holds without dropping a reading: ``python -m benchmarks.streaming``.

A served application, one brew on the practice scale at ten times the speed (a hundred readings a second), twenty pages
listening over HTTP; a single listener beside them is the plain baseline.
"""

from __future__ import annotations

import http.client
import json
import socket
import subprocess
import sys
import tempfile
import threading
import time
from typing import Any

PAGES = 20
SPEED = 10


def ask(port: int, method: str, path: str, body: Any = None) -> Any:
    line = http.client.HTTPConnection("127.0.0.1", port, timeout=30)
    line.request(
        method, f"/api/{path}", json.dumps(body) if body is not None else None, {"Content-Type": "application/json"}
    )
    return json.loads(line.getresponse().read())


def listen(port: int, brew_id: int, heard: list[float], late: list[float]) -> None:
    """One open page: every reading's time, and how long after its moment it came, in real seconds."""
    line = http.client.HTTPConnection("127.0.0.1", port, timeout=90)
    line.request("GET", f"/api/brews/{brew_id}/stream")
    answer = line.getresponse()
    event = ""
    while raw := answer.readline():
        text = raw.decode().strip()
        if text.startswith("event: "):
            event = text.removeprefix("event: ")
        if event == "over":
            return
        if event == "reading" and text.startswith("data: "):
            said = json.loads(text.removeprefix("data: "))
            heard += said["t_s"]
            late += [(said["elapsed_s"] - t) / SPEED for t in said["t_s"]]


def brew(port: int, pages: int) -> None:
    """One brew with so many pages on it: readings kept, pages that heard them all, and how late they came."""
    ask(port, "POST", "plans", {"dose_g": 15, "ratio": 15})
    brew_id = ask(port, "POST", "brews", {"scale": "practice-cup", "speed": SPEED})["id"]
    heard: list[list[float]] = [[] for _ in range(pages)]
    late: list[float] = []
    threads = [threading.Thread(target=listen, args=(port, brew_id, h, late)) for h in heard]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    line = http.client.HTTPConnection("127.0.0.1", port, timeout=30)
    line.request("GET", f"/api/brews/{brew_id}/log.csv")
    rows = [r.split(",") for r in line.getresponse().read().decode().splitlines()[1:]]
    kept = [float(r[0]) for r in rows if r[2]]
    whole = sum(h == kept for h in heard)
    late.sort()
    half, most = (1000 * late[int(share * len(late))] for share in (0.5, 0.99))
    print(f"  {pages} pages: {len(kept)} readings kept; {whole} of {pages} heard every one of them, in order; "
          f"late by {half:.0f} ms (median), {most:.0f} ms (99th)")  # fmt: skip


def main() -> None:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    with tempfile.TemporaryDirectory() as data:
        words = [sys.executable, "-m", "hakari.cli.main", "serve", "--port", str(port), "--data", data]
        server = subprocess.Popen(words, stdout=subprocess.PIPE, text=True)
        try:
            assert server.stdout is not None
            server.stdout.readline()
            for _ in range(50):
                try:
                    ask(port, "GET", "health")
                    break
                except OSError:
                    time.sleep(0.1)
            print(f"One running brew, {10 * SPEED} readings a second:")
            for pages in (1, PAGES):
                brew(port, pages)
        finally:
            server.terminate()
            server.wait(20)


if __name__ == "__main__":
    main()
