"""A disk that fills up in the middle of measuring, of a brew and of a back-up: work goes on by itself when there is room."""

from __future__ import annotations

import json
import shutil
import subprocess
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import pytest
from benchmarks.pictures.flat import Made

from hakari.formats.brew_log import read_log
from processes import done, free_port, started


@pytest.fixture
def disk(tmp_path: Path) -> Iterator[Path]:
    """A small disk of its own, where this user may mount one."""
    where = tmp_path / "disk"
    where.mkdir()
    if subprocess.run(["mount", "-t", "tmpfs", "-o", "size=160m", "tmpfs", where], capture_output=True).returncode:
        pytest.skip("mounting is not allowed here")
    yield where
    subprocess.run(["umount", "-l", where], check=True)


@contextmanager
def filled_up(disk: Path) -> Iterator[None]:
    """Leave no byte of room, for a while."""
    filler = disk / "filler"
    with filler.open("wb", buffering=0) as file:
        try:
            while True:
                file.write(bytes(65536))
        except OSError:
            pass
    yield
    filler.unlink()


def ask(base: str, path: str, body: Any = None, kind: str = "application/json") -> tuple[int, Any]:
    data = body if isinstance(body, bytes) or body is None else json.dumps(body).encode()
    request = urllib.request.Request(base + path, data, {"Content-Type": kind} if data is not None else {})
    try:
        with urllib.request.urlopen(request, timeout=60) as answer:
            text = answer.read()
            return answer.status, json.loads(text) if text[:1] in (b"{", b"[") else text
    except urllib.error.HTTPError as refused:
        return refused.code, json.loads(refused.read())


def until(what: Callable[[], bool], seconds: float = 60) -> None:
    end = time.monotonic() + seconds
    while not what():
        assert time.monotonic() < end, "it did not go on by itself"
        time.sleep(0.2)


def form(photo: bytes) -> tuple[bytes, str]:
    edge = "x" * 24
    part = f'--{edge}\r\nContent-Disposition: form-data; name="photos"; filename="a.jpg"\r\n\r\n'.encode()
    return part + photo + f"\r\n--{edge}--\r\n".encode(), f"multipart/form-data; boundary={edge}"


def test_work_goes_on_by_itself_when_there_is_room_again(
    filled_demo: Path, disk: Path, tmp_path: Path, small_picture: Made
) -> None:
    folder = Path(shutil.copytree(filled_demo, disk / "data"))
    port = free_port()
    base = f"http://127.0.0.1:{port}/api"
    with started("demo", "--port", str(port), "--data", str(folder)) as server:
        server.lines(1)
        server.wait_for(f"http://127.0.0.1:{port}")
        status, brew = ask(base, "/brews", {"scale": "practice-brewer", "speed": 1})
        assert status == 201
        time.sleep(1.5)
        jobs = [ask(base, "/measurements", *form(small_picture.jpeg + bytes([k])))[1]["id"] for k in range(4)]
        with filled_up(disk):
            # What is new is refused in words, and what is there can be read.
            status, refusal = ask(base, "/measurements", *form(small_picture.jpeg))
            assert (status, refusal["code"]) == (503, "disk-full")
            status, refusal = ask(base, f"/brews/{brew['id']}/notes", {"what": "flat", "on": True})
            assert (status, refusal["code"]) == (503, "disk-full")
            assert ask(base, "/coffees")[0] == 200 and ask(base, f"/brews/{brew['id']}")[1]["state"] == "running"
            assert ask(base, "/health")[0] == 503
            status, _, errors = done("export", "-o", str(disk / "all.zip"), "--data", str(folder))
            assert status == 3 and "cannot be written" in errors and not list(disk.glob("all.zip*"))
            # But to another disk everything can be saved.
            assert done("export", "-o", str(tmp_path / "saved.zip"), "--data", str(folder))[0] == 0
            time.sleep(4)
        # The order that was being measured, and the log of the brew, go on without anybody's doing.
        until(lambda: all(ask(base, f"/measurements/{job}")[1]["finished"] for job in jobs))
        assert all(ask(base, f"/measurements/{job}")[1]["sample_id"] for job in jobs)
        assert ask(base, f"/brews/{brew['id']}/notes", {"what": "flat", "on": True})[0] == 200
        time.sleep(2)
        log = read_log(ask(base, f"/brews/{brew['id']}/log.csv")[1].decode())[0]
        # No second is missing: those of the full disk were kept in memory.
        steps = [b - a for a, b in zip(log.t_s, log.t_s[1:], strict=False)]
        assert log.t_s[0] < 1 and log.t_s[-1] > 9 and max(steps) < 1
        assert ask(base, "/health")[0] == 200
        assert done("export", "-o", str(tmp_path / "all.zip"), "--data", str(folder))[0] == 0
    assert (tmp_path / "all.zip").stat().st_size > 10_000
