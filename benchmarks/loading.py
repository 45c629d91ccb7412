"""A busy counter after years: 5,000 slips, fifty photos of twelve megapixels at once, eight pages of a running brew.

Prints the time and the server's peak memory, percentiles of the ten main reads while photos are measured against the same
reads at rest, whether anything was lost, and how long ``/api/health`` takes beside a hundred open streams and seventy stalled
uploads. ``python -m benchmarks.loading``
"""

from __future__ import annotations

import contextlib
import json
import shutil
import socket
import subprocess
import sys
import tempfile
import threading
import time
import urllib.request
import uuid
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from pathlib import Path

import numpy as np

from benchmarks.years import grow
from hakari.service.workspace.transaction import Workspace

PHOTOS, STREAMS, STALLED, LIVE = 50, 100, 70, 8
SHIPPED = Path(__file__).parents[1] / "src" / "hakari" / "demo" / "photos"
READS = (
    "workbenches/current", "coffees", "samples", "samples/1", "samples/1/distribution", "grinders", "translations?to=2",
    "slips", "fits/current", "setting-cards",
)  # fmt: skip


@contextmanager
def served(folder: Path, command: str) -> Iterator[tuple[str, int, int]]:
    """Return a folder, served by a process of its own: its address, port and process number."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    words = [sys.executable, "-m", "hakari.cli.main", command, "--port", str(port), "--data", str(folder)]
    process = subprocess.Popen(words, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True)
    assert process.stdout is not None
    process.stdout.readline()
    try:
        yield f"http://127.0.0.1:{port}/api", port, process.pid
    finally:
        process.terminate()
        process.wait(60)


def get(address: str) -> float:
    """Seconds that a read takes."""
    started = time.perf_counter()
    with urllib.request.urlopen(address, timeout=120) as answer:
        answer.read()
    return time.perf_counter() - started


def upload(base: str, photo: bytes, k: int) -> int:
    """Send a photo; its job."""
    boundary = uuid.uuid4().hex
    head = f'--{boundary}\r\nContent-Disposition: form-data; name="photos"; filename="{k}.jpg"\r\n\r\n'.encode()
    scale = (
        f'\r\n--{boundary}\r\nContent-Disposition: form-data; name="scale"\r\n\r\ncard\r\n--{boundary}--\r\n'.encode()
    )
    body = head + photo + f" {k}".encode() + scale
    kind = {"Content-Type": f"multipart/form-data; boundary={boundary}"}
    with urllib.request.urlopen(urllib.request.Request(f"{base}/measurements", body, kind), timeout=120) as answer:
        return int(json.load(answer)["id"])


def memory_mb(root: int) -> float:
    """Memory of a process and all that it started, now; pages that they share count once (proc(5), Pss)."""
    listed = subprocess.run(["ps", "-e", "-o", "pid=,ppid="], capture_output=True, text=True).stdout.split("\n")
    parents = [tuple(map(int, line.split())) for line in listed if line.strip()]
    wanted = {root}
    for _ in range(5):
        wanted |= {pid for pid, parent in parents if parent in wanted}
    total = 0.0
    for pid in wanted:
        with contextlib.suppress(OSError, StopIteration):
            lines = Path(f"/proc/{pid}/smaps_rollup").read_text().splitlines()
            total += next(int(line.split()[1]) for line in lines if line.startswith("Pss:")) / 1024
    return total


def read_all(base: str, until: threading.Event, once: bool = False) -> dict[str, list[float]]:
    """Return times of the ten reads, taking turns."""
    times: dict[str, list[float]] = {r: [] for r in READS}
    while True:
        for r in READS:
            times[r].append(get(f"{base}/{r}"))
        if until.is_set() or once:
            return times


class Listener:
    """A page of a running brew: what it heard, and whether any reading was left out."""

    def __init__(self, base: str, brew: int) -> None:
        self.heard, self.gaps = 0, 0
        self._stream = urllib.request.urlopen(f"{base}/brews/{brew}/stream", timeout=300)
        threading.Thread(target=self._listen, daemon=True).start()

    def _listen(self) -> None:
        with contextlib.suppress(OSError, ValueError, AttributeError):
            for line in self._stream:
                if line.startswith(b'data: {"index"'):
                    said = json.loads(line[6:])
                    self.gaps += said["index"] != self.heard
                    self.heard = said["index"] + len(said["t_s"])


def start_brew(base: str) -> int:
    """Start another brew on the practice scale; its identity."""
    headers = {"Content-Type": "application/json"}
    with urllib.request.urlopen(urllib.request.Request(f"{base}/passes", b"{}", headers)):
        pass  # a running one would go on
    body = json.dumps({"scale": "practice-brewer"}).encode()
    request = urllib.request.Request(f"{base}/brews", body, headers)
    with urllib.request.urlopen(request) as answer:
        return int(json.load(answer)["id"])


def main() -> None:
    folder = Path(tempfile.mkdtemp()) / "data"
    photo = (SHIPPED / "arlsmoor-22.jpg").read_bytes()
    with served(folder, "demo"):
        pass  # filled by a process of its own, whose memory does not count
    grown = Workspace(folder, measuring_processes=0)
    grow(grown)
    grown.close()
    with served(folder, "serve") as (base, port, pid):
        stop = threading.Event()
        stop.set()
        for _ in range(3):
            read_all(base, stop, once=True)
        rest = [read_all(base, stop, once=True) for _ in range(8)]
        # Two brews run, and four pages look at each.
        brews = [start_brew(base), start_brew(base)]
        listeners = [Listener(base, brews[k % 2]) for k in range(LIVE)]
        busy, peak = threading.Event(), [0.0]

        def watch() -> None:
            while not busy.is_set():
                peak[0] = max(peak[0], memory_mb(pid))
                time.sleep(0.3)

        with ThreadPoolExecutor(10) as pool:
            pool.submit(watch)
            reading = pool.submit(read_all, base, busy)
            started = time.perf_counter()
            jobs = list(pool.map(lambda k: upload(base, photo, k), range(PHOTOS)))
            sent = time.perf_counter() - started
            while True:
                ended = []
                for job in jobs:
                    with urllib.request.urlopen(f"{base}/measurements/{job}") as answer:
                        ended.append(json.load(answer))
                if all(job["finished"] for job in ended):
                    break
                time.sleep(2)
            took = time.perf_counter() - started
            busy.set()
            meanwhile = reading.result()
        print(f"{PHOTOS} photos of 12 megapixels at once: sent in {sent:.1f} s, measured in {took:.1f} s "
              f"({took / PHOTOS:.2f} s each); peak memory of all processes {peak[0]:.0f} MB")  # fmt: skip
        lost = PHOTOS - len({job["sample_id"] for job in ended if job["sample_id"]})
        gaps = sum(page.gaps for page in listeners)
        print(f"lost: {lost} photos; {LIVE} pages heard {sum(p.heard for p in listeners)} readings with {gaps} gaps")
        everything = np.concatenate([np.array(meanwhile[r]) for r in READS])
        print(f"all reads meanwhile: p50 {1000 * np.median(everything):.0f}, p95 {1000 * np.quantile(everything, 0.95):.0f}, "
              f"p99 {1000 * np.quantile(everything, 0.99):.0f} ms of {len(everything)}")  # fmt: skip
        print(f"{'read':28}{'at rest p50':>13}{'busy p50':>11}{'busy p95':>11}   ms")
        for r in READS:
            quiet = np.concatenate([t[r] for t in rest])
            print(f"{r:28}{1000 * np.median(quiet):13.0f}{1000 * np.median(meanwhile[r]):11.0f}"
                  f"{1000 * np.quantile(meanwhile[r], 0.95):11.0f}")  # fmt: skip
        streams(base, port)
    shutil.rmtree(folder.parent)


def streams(base: str, port: int) -> None:
    """Health beside a hundred pages that listen to a running brew and seventy bodies that never end."""
    brew = start_brew(base)
    held = [urllib.request.urlopen(f"{base}/brews/{brew}/stream", timeout=60) for _ in range(5)]
    sockets = []
    for k in range(STREAMS - 5 + STALLED):
        s = socket.create_connection(("127.0.0.1", port))
        line = f"GET /api/brews/{brew}/stream" if k < STREAMS - 5 else "POST /api/coffees"
        rest = "" if k < STREAMS - 5 else "Content-Type: application/json\r\nContent-Length: 1000\r\n"
        s.sendall(f"{line} HTTP/1.1\r\nHost: 127.0.0.1:{port}\r\n{rest}\r\n".encode())
        sockets.append(s)
    time.sleep(3)
    health = [get(f"{base}/health") for _ in range(30)]
    print(f"/api/health beside {STREAMS} streams and {STALLED} stalled bodies: "
          f"median {1000 * np.median(health):.0f} ms, worst {1000 * max(health):.0f} ms")  # fmt: skip
    for s in sockets:
        s.close()
    for h in held:
        h.close()


if __name__ == "__main__":
    main()
