"""Whoever opens connections and sends nothing, or too much, stops nobody: not those at work, and no running brew."""

from __future__ import annotations

import json
import resource
import shutil
import socket
import ssl
import threading
import time
from collections.abc import Iterator
from contextlib import ExitStack, closing, contextmanager, suppress
from pathlib import Path

import pytest
from test_pairing import OTHER, Client

from hakari.web import worker
from hakari.web.certificates import make_certificates
from processes import free_port, started

STRANGER, ANOTHER = "127.0.0.7", "127.0.0.8"
pytestmark = pytest.mark.same_on_any_database


@contextmanager
def served(tmp_path: Path, *more: str) -> Iterator[int]:
    port = free_port()
    words = ("demo", "--port", str(port), "--data", str(tmp_path / "data"), "--host", OTHER, *more)
    with started(*words) as server:
        server.lines(1)
        server.wait_for(f"http://127.0.0.1:{port}")
        yield port


@pytest.fixture
def port(filled_demo: Path, tmp_path: Path) -> Iterator[int]:

    shutil.copytree(filled_demo, tmp_path / "data")
    with served(tmp_path) as where:
        yield where


def connected(port: int, source: str = STRANGER) -> socket.socket:
    return socket.create_connection((OTHER, port), timeout=30, source_address=(source, 0))


def answered_within(client: Client, path: str, seconds: float) -> float:
    began = time.monotonic()
    assert client("GET", path).status == 200
    took = time.monotonic() - began
    assert took < seconds
    return took


SILENT = {
    "half a request line": b"GET /api/cof",
    "headers that never end": b"GET / HTTP/1.1\r\nHost: 127.0.0.2\r\nX-Long: ",
    "a body that never comes": b"POST /pair HTTP/1.1\r\nHost: 127.0.0.2\r\nContent-Length: 300\r\n"
    b"Content-Type: application/x-www-form-urlencoded\r\n\r\ncode=",
    "nothing": b"",
}


@pytest.mark.parametrize("sent", SILENT)
@pytest.mark.parametrize("source", [STRANGER, "127.0.0.1"])
def test_hundreds_that_send_no_whole_request_stop_nobody(port: int, sent: str, source: str) -> None:
    here, phone = Client(port, "127.0.0.1"), Client(port)
    assert phone.pair(str(here.post("/api/pairing-codes", {}).json()["code"])).status == 303
    brew = here.post("/api/brews", {"scale": "practice-brewer", "speed": 1}).json()
    heard = threading.Event()
    stop = threading.Event()

    def listen() -> None:
        with closing(connected(port, "127.0.0.9")) as display:
            cookie = f"hakari_device={phone.cookies['hakari_device']}"
            display.sendall(
                f"GET /api/brews/{brew['id']}/stream HTTP/1.1\r\nHost: {OTHER}:{port}\r\nCookie: {cookie}\r\n\r\n".encode()
            )
            while not stop.is_set():
                if b"event: reading" in display.recv(65536):
                    heard.set()

    listener = threading.Thread(target=listen, daemon=True)
    listener.start()
    assert heard.wait(20)
    with ExitStack() as open_ones:
        for _ in range(400):
            one = open_ones.enter_context(closing(connected(port, source)))
            try:
                one.sendall(SILENT[sent])
            except OSError:
                continue  # an address that holds too many already
        for client in (here, phone):
            answered_within(client, "/api/coffees", 5)
            answered_within(client, "/api/health", 5)
        heard.clear()
        assert heard.wait(5), "the running brew is not shown any more"
        answered_within(Client(port, OTHER), "/pair", 5)
    stop.set()


def test_an_address_holds_so_many_connections_and_another_is_not_hindered(port: int) -> None:
    with ExitStack() as open_ones:
        ones = [open_ones.enter_context(closing(connected(port))) for _ in range(worker.MOST_PER_ADDRESS + 20)]
        time.sleep(0.5)
        closed = 0
        for one in ones:
            one.setblocking(False)
            try:
                closed += one.recv(1) == b""
            except BlockingIOError:
                continue
            except ConnectionResetError:
                closed += 1
        assert closed == 20
        with closing(connected(port, ANOTHER)) as other:
            other.sendall(f"GET /pair HTTP/1.1\r\nHost: {OTHER}\r\n\r\n".encode())
            assert other.recv(20).startswith(b"HTTP/1.1 200")


def answer_to(port: int, request: bytes, source: str = STRANGER) -> tuple[int, dict]:
    with closing(connected(port, source)) as one:
        one.sendall(request)
        data = b""
        while part := one.recv(65536):
            data += part
        head, _, body = data.partition(b"\r\n\r\n")
        return int(head.split()[1]), json.loads(body) if body.startswith(b"{") else {}


def test_what_needs_no_token_takes_little_and_waits_little(port: int) -> None:
    host = f"Host: {OTHER}:{port}\r\n".encode()
    large = b"POST /pair HTTP/1.1\r\n" + host + b"Content-Length: 10000000\r\n\r\n"
    assert answer_to(port, large)[0] == 401
    photo = b"POST /api/measurements HTTP/1.1\r\n" + host + b"Content-Length: 10000000\r\n\r\n"
    status, said = answer_to(port, photo)
    assert status == 401 and said["code"] == "not-let-in"
    forged = photo.replace(b"\r\n\r\n", b"\r\nCookie: hakari_device=" + b"x" * 43 + b"\r\n\r\n")
    assert answer_to(port, forged)[0] == 401
    chunked = photo.replace(b"Content-Length: 10000000", b"Transfer-Encoding: chunked")
    assert answer_to(port, chunked)[0] == 401
    assert answer_to(port, b"GET / HTTP/1.1\r\nX: " + b"y" * 100_000)[0] == 431
    assert answer_to(port, b"GET / HTTP/1.1\r\nContent-Length: many\r\n\r\n")[0] == 400
    began = time.monotonic()
    assert answer_to(port, b"GET / HT")[0] == 408
    assert worker.HEADERS_S - 1 < time.monotonic() - began < worker.HEADERS_S + 5


def test_a_request_in_pieces_and_two_in_one_are_answered(port: int) -> None:
    host = f"Host: {OTHER}:{port}\r\n".encode()
    with closing(connected(port)) as one:
        for part in (b"GET /pair HT", b"TP/1.1\r\n", host, b"\r\n"):
            one.sendall(part)
            time.sleep(0.2)
        assert b" 200 " in one.recv(20)
    form = b"code=AAAABBBB&name=x"
    post = b"POST /pair HTTP/1.1\r\n" + host + b"Content-Type: application/x-www-form-urlencoded\r\n"
    post += f"Content-Length: {len(form)}\r\n\r\n".encode()
    with closing(connected(port)) as one:
        one.sendall(post + form[:5])
        time.sleep(0.3)
        # The rest, and a whole request after it, of which the last byte comes later.
        one.sendall(form[5:] + b"GET /pair HTTP/1.1\r\n" + host + b"Connection: close\r\n\r")
        time.sleep(0.5)
        one.sendall(b"\n")
        data = b""
        while part := one.recv(65536):
            data += part
        assert data.count(b"HTTP/1.1 403") == 1 and data.count(b"HTTP/1.1 200") == 1


def test_handshakes_that_never_end_stop_nobody_over_https(tmp_path: Path) -> None:
    make_certificates(tmp_path / "https", (OTHER,))
    files = ("--certificate", str(tmp_path / "https/certificate.pem"), "--key", str(tmp_path / "https/key.pem"))
    trust = ssl.create_default_context(cafile=str(tmp_path / "https/authority.pem"))
    port = free_port()
    words = ("serve", "--port", str(port), "--data", str(tmp_path / "data"), "--host", OTHER, *files)
    with started(*words) as server, ExitStack() as open_ones:
        server.lines(1)
        until = time.monotonic() + 60
        while True:
            try:
                open_ones.enter_context(closing(connected(port)))
                break
            except OSError:
                assert time.monotonic() < until
                time.sleep(0.2)
        for k in range(300):
            one = open_ones.enter_context(closing(connected(port, f"127.0.0.{10 + k % 8}")))
            one.sendall(b"\x16\x03\x01\x02\x00\x01\x00")
        with trust.wrap_socket(connected(port, ANOTHER), server_hostname=OTHER) as good:
            for _ in range(2):  # kept open, and asked again
                good.sendall(f"GET /pair HTTP/1.1\r\nHost: {OTHER}:{port}\r\n\r\n".encode())
                data = b""
                while b"</html>" not in data:
                    data += good.recv(65536)
                assert data.startswith(b"HTTP/1.1 200")


def _children(pid: int) -> list[int]:
    found = []
    for stat in Path("/proc").glob("[0-9]*/stat"):
        try:
            fields = stat.read_text().rpartition(") ")[2].split()
        except OSError:
            continue
        if int(fields[1]) == pid:
            found.append(int(stat.parent.name))
    return found


def test_where_no_more_files_can_be_opened_the_silent_make_room(tmp_path: Path) -> None:
    port = free_port()
    with started("serve", "--port", str(port), "--data", str(tmp_path / "data")) as server, ExitStack() as open_ones:
        server.lines(1)
        server.wait_for(f"http://127.0.0.1:{port}")
        for worker_pid in _children(server.process.pid or 0):
            resource.prlimit(worker_pid, resource.RLIMIT_NOFILE, (200, 200))
        for _ in range(400):
            one = open_ones.enter_context(closing(socket.create_connection(("127.0.0.1", port), timeout=30)))
            with suppress(OSError):
                one.sendall(b"GET / HT")
        here = Client(port, "127.0.0.1")
        for _ in range(3):
            answered_within(here, "/api/coffees", 5)
        assert server.process.is_alive()
