"""The server's connections: a request gets a thread only when its headers are there, and its body too where that is small.

Until then it waits with all the others in one loop that never blocks, for so long and no longer. So whoever opens connections
and sends nothing takes no thread from those who work, whose large bodies have threads of their own.
"""

from __future__ import annotations

import errno
import re
import selectors
import ssl
import time
from collections import Counter
from contextlib import suppress
from functools import partial
from typing import Any

from gunicorn import http
from gunicorn.sock import ssl_context
from gunicorn.workers.gthread import TConn, ThreadWorker

from hakari.formats.base import ErrorDocument
from hakari.web.addresses import is_loopback
from hakari.web.pairing import COOKIE, PAGE

HEADERS_S, SMALL_BODY_S = 10.0, 15.0  # so long they may take to come
SILENT_S = 30.0  # so long a sender, or a listener, may be silent while a thread serves it
MOST_HEADER_BYTES, MOST_SMALL_BYTES, MOST_PAIRING_BYTES = 32 * 1024, 64 * 1024, 4 * 1024
MOST_PER_ADDRESS = 64  # open connections of another device; a browser holds six and a stream
SPARE = 64  # connections kept free of those that only wait
MOST_LARGE = 24  # large bodies that are received at a time
READ_BYTES = 64 * 1024
END = b"\r\n\r\n"
READ, WRITE = selectors.EVENT_READ, selectors.EVENT_WRITE
TOKEN = re.compile(rf"(?:^|[;\s]){COOKIE}=([A-Za-z0-9_-]{{20,80}})(?:;|\s|$)".encode())
Refusal = tuple[str, ErrorDocument]


class GatedConnection(TConn):  # type: ignore[misc]
    """A connection, what of its next request has come, and by when the rest must."""

    def __init__(self, cfg: Any, sock: Any, client: Any, server: Any) -> None:
        super().__init__(cfg, sock, client, server)
        self.parser: Any = None
        self.received = bytearray()
        self.deadline = time.monotonic() + HEADERS_S
        self.headers_end = 0
        self.handshaken = not cfg.is_ssl
        self.large, self.counted = False, False
        # It waits where waiting takes no thread.
        self.data_ready = True

    def init(self) -> None:
        """Give what has come to the parser; called by the thread that serves the request."""
        self.initialized = True
        self.sock.settimeout(SILENT_S)
        if self.parser is None:
            self.parser = http.get_parser(self.cfg, self.sock, self.client)
        self.parser.unreader.unread(bytes(self.received))
        self.received.clear()
        self.headers_end = 0

    @property
    def address(self) -> str:
        """Where it comes from."""
        return str(self.client[0]) if isinstance(self.client, tuple) else ""


class PatientWorker(ThreadWorker):  # type: ignore[misc]
    """Gunicorn's worker with threads, behind a gate that no silence holds up."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self._gated: dict[GatedConnection, None] = {}
        self._open: Counter[str] = Counter()
        self._large = 0

    def accept(self, listener: Any) -> None:
        """Take a connection, unless its address holds too many already."""
        try:
            sock, client = listener.accept()
        except (BlockingIOError, ConnectionAbortedError):
            return
        except OSError as error:
            if error.errno not in (errno.EMFILE, errno.ENFILE):
                raise
            self._shed()
            return
        if self.nr_conns >= self.worker_connections - SPARE:
            self._shed()
        conn = GatedConnection(self.cfg, sock, client, listener.getsockname())
        self.nr_conns += 1
        self._open[conn.address] += 1
        conn.counted = True
        if self._open[conn.address] > MOST_PER_ADDRESS and not is_loopback_itself(conn.address):
            self._drop(conn)
            return
        if self.cfg.is_ssl:
            try:
                conn.sock = ssl_context(self.cfg).wrap_socket(sock, server_side=True, do_handshake_on_connect=False)
            except (OSError, ValueError):
                self._drop(conn)
                return
        self._gate(conn)

    def _shed(self) -> None:
        """Close the connection that has waited longest for its request: whoever sends one is served in its place."""
        oldest = next(iter(self._gated), None)
        if oldest is None:
            time.sleep(0.01)  # all are being served; one of them will end
            return
        self._leave_gate(oldest)
        self._drop(oldest)

    def enqueue_req(self, conn: GatedConnection) -> None:
        """Have the next request of a connection wait at the gate; part of it may have come with the one before."""
        conn.received.extend(conn.parser.unreader.take_buffered())
        self._next_request(conn)

    def on_client_socket_readable(self, conn: GatedConnection, client: Any) -> None:
        """Receive the next request of a connection that was kept open."""
        self.poller.unregister(client)
        self.keepalived_conns.remove(conn)
        self._next_request(conn)

    def _next_request(self, conn: GatedConnection) -> None:
        conn.deadline = time.monotonic() + HEADERS_S
        self._gate(conn)
        if conn.received:
            self._go_on(conn, READ)

    def _gate(self, conn: GatedConnection, wait_for: int = READ) -> None:
        conn.sock.setblocking(False)
        self._gated[conn] = None
        self.poller.register(conn.sock, wait_for, partial(self._go_on, conn))

    def _go_on(self, conn: GatedConnection, _: Any) -> None:
        """Take what has come of a request, and serve it when enough of it is there."""
        self._leave_gate(conn)
        try:
            if not conn.handshaken:
                conn.sock.do_handshake()
                conn.handshaken = True
            if not self._receive(conn):
                self._drop(conn)
                return
        except ssl.SSLWantReadError:
            self._gate(conn)
            return
        except ssl.SSLWantWriteError:
            self._gate(conn, WRITE)
            return
        except (OSError, ValueError):
            self._drop(conn)
            return
        try:
            ready, refusal = self._judge(conn)
        except ValueError:
            ready, refusal = False, BAD_REQUEST
        if refusal is not None:
            self._refuse(conn, refusal)
        elif ready:
            super().enqueue_req(conn)
        else:
            self._gate(conn)

    def _leave_gate(self, conn: GatedConnection) -> None:
        self._gated.pop(conn, None)
        try:
            self.poller.unregister(conn.sock)
        except (KeyError, ValueError):
            return

    def _receive(self, conn: GatedConnection) -> bool:
        """Read what is there; whether the other side is still there too."""
        most = MOST_HEADER_BYTES + MOST_SMALL_BYTES + READ_BYTES
        while len(conn.received) < most:
            try:
                part = conn.sock.recv(READ_BYTES)
            except (BlockingIOError, ssl.SSLWantReadError):
                return True
            if not part:
                return False
            conn.received.extend(part)
        return True

    def _judge(self, conn: GatedConnection) -> tuple[bool, Refusal | None]:
        """Whether a thread may serve what has come, or why it is refused; neither while more has to come."""
        if not conn.headers_end:
            end = conn.received.find(END)
            if end < 0 or end > MOST_HEADER_BYTES:
                return False, TOO_MANY_HEADERS if max(end, len(conn.received)) > MOST_HEADER_BYTES else None
            conn.headers_end = end + len(END)
            conn.deadline = time.monotonic() + SMALL_BODY_S
        head = bytes(conn.received[: conn.headers_end])
        lines = head.lower().split(b"\r\n")
        length = max((int(v) for v in values_of(lines, b"content-length")), default=0)
        chunked = bool(values_of(lines, b"transfer-encoding"))
        if length <= 0 and not chunked:
            return True, None
        pairing = head.split(b" ", 2)[1:2] == [PAGE.encode()]
        if not chunked and length <= (MOST_PAIRING_BYTES if pairing else MOST_SMALL_BYTES):
            return len(conn.received) - conn.headers_end >= length, None
        if pairing or not self._is_in(conn, head):
            return False, NOT_LET_IN
        if self._large >= MOST_LARGE:
            return False, TOO_MANY_UPLOADS
        self._large += 1
        conn.large = True
        return True, None

    def _is_in(self, conn: GatedConnection, head: bytes) -> bool:
        """Whether a large body may come: from this computer, or from a device that is let in."""
        if is_loopback(conn.address) and not any(v for v in values_of(head.lower().split(b"\r\n"), b"x-forwarded-for")):
            return True
        token = TOKEN.search(head)
        return token is not None and self.app.knows(token[1].decode())

    def _refuse(self, conn: GatedConnection, refusal: Refusal) -> None:
        status, document = refusal
        body = document.model_dump_json().encode()
        head = (
            f"HTTP/1.1 {status}\r\nContent-Type: application/json\r\nContent-Length: {len(body)}\r\nConnection: close"
        )
        with suppress(OSError):
            conn.sock.send(head.encode() + END + body)
        self._drop(conn)

    def _drop(self, conn: GatedConnection) -> None:
        self.nr_conns -= 1
        conn.close()
        self._forget(conn)

    def _forget(self, conn: GatedConnection) -> None:
        if not conn.counted:
            return
        conn.counted = False
        self._open[conn.address] -= 1
        if self._open[conn.address] <= 0:
            del self._open[conn.address]

    def finish_request(self, conn: GatedConnection, fs: Any) -> None:
        """Keep a connection open for its next request, or close it."""
        if conn.large:
            conn.large = False
            self._large -= 1
        before = self.nr_conns
        super().finish_request(conn, fs)
        if self.nr_conns < before:
            self._forget(conn)

    def murder_keepalived(self, force: bool = False) -> None:
        """Close connections that were kept open for long enough."""
        before = list(self.keepalived_conns)
        super().murder_keepalived(force)
        for conn in before[: len(before) - len(self.keepalived_conns)]:
            self._forget(conn)

    def murder_pending(self) -> None:
        """Close connections whose requests took too long to come."""
        now = time.monotonic()
        for conn in [c for c in self._gated if c.deadline <= now]:
            self._leave_gate(conn)
            self._refuse(conn, TOO_SLOW)

    def handle_exit(self, sig: int, frame: Any) -> None:
        """Stop: whoever has sent half a request is not waited for."""
        super().handle_exit(sig, frame)
        self.method_queue.defer(self._let_go)

    def _let_go(self) -> None:
        for conn in list(self._gated):
            self._leave_gate(conn)
            self._drop(conn)


def is_loopback_itself(address: str) -> bool:
    """Whether a connection comes from this computer's own loopback address, as its browser's and a proxy's do."""
    return address in ("127.0.0.1", "::1")


def values_of(lines: list[bytes], name: bytes) -> list[bytes]:
    """Return the values of a header among lower-case lines."""
    return [line.partition(b":")[2].strip() for line in lines[1:] if line.partition(b":")[0].strip() == name]


def _refusal(status: str, code: str, message: str, remedy: str) -> Refusal:
    return status, ErrorDocument(code=code, message=message, remedy=remedy)


BAD_REQUEST = _refusal(
    "400 Bad Request", "http-400", "The request could not be read.", "Go back to the page and try again."
)
TOO_SLOW = _refusal("408 Request Timeout", "too-slow", "The request did not come in time.", "Try again.")
TOO_MANY_HEADERS = _refusal(
    "431 Request Header Fields Too Large",
    "http-431",
    "The request's headers are too long.",
    "Delete this site's cookies.",
)
NOT_LET_IN = _refusal("401 Unauthorized", "not-let-in", "This device is not let in.", f"Open {PAGE} and type a code.")
TOO_MANY_UPLOADS = _refusal(
    "503 Service Unavailable", "too-many-uploads", "Too many uploads come at this moment.", "Try again in a moment."
)
