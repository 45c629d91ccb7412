"""Serving with gunicorn: one worker with threads, for this computer alone unless it is asked to serve others."""

from __future__ import annotations

import resource
import socket
import sys
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from gunicorn.app.base import BaseApplication

from hakari.core.errors import InputError
from hakari.service.backups.housekeeping import keep_house
from hakari.service.workspace.shared import ALONE, Shared
from hakari.service.workspace.transaction import Workspace
from hakari.web.addresses import ANY, qr_terminal, serving_at
from hakari.web.app import HakariApp, create_app
from hakari.web.local_name import LocalName
from hakari.web.logs import log_to

THREADS = 256  # each open page of a running brew holds one
CONNECTIONS = 2048


@dataclass(frozen=True)
class Beyond:
    """Whom to serve beyond this computer: an address of it (``ANY`` for all), and a certificate with its key for HTTPS.

    ``name`` is what the computer is called in its networks.
    """

    host: str | None = None
    certificate: Path | None = None
    key: Path | None = None
    name: str | None = None


class Server(BaseApplication):  # type: ignore[misc]
    """Gunicorn with the application made inside its worker, where its threads and processes live."""

    def __init__(self, folder: Path, port: int, beyond: Beyond, shared: Shared, scheduler: str | None) -> None:
        self.folder, self.port, self.beyond = folder, port, beyond
        self.shared, self.scheduler = shared, scheduler
        self.app: HakariApp | None = None
        self.serving = serving_at(beyond.host, port, beyond.certificate is not None, beyond.name)
        self.local_name: LocalName | None = None
        super().__init__()

    def load_config(self) -> None:
        """Return settings."""
        settings: dict[str, Any] = {
            "bind": self._binds(), "workers": 1, "threads": THREADS, "worker_class": "hakari.web.worker.PatientWorker",
            "worker_connections": CONNECTIONS, "backlog": CONNECTIONS,
            "timeout": 180, "graceful_timeout": 5, "loglevel": "warning", "control_socket_disable": True,
            "when_ready": lambda _: self._say(),
            "worker_exit": lambda _server, _worker: self._leave(),
            "certfile": str(self.beyond.certificate) if self.beyond.certificate else None,
            "keyfile": str(self.beyond.key) if self.beyond.key else None,
        }  # fmt: skip
        for name, value in settings.items():
            if name in self.cfg.settings:
                self.cfg.set(name, value)

    def knows(self, token: str) -> bool:
        """Whether a device with this token is let in, as far as is known without asking the database."""
        return self.app is not None and self.app.extensions["known_tokens"].knows(token)

    def _leave(self) -> None:
        if self.app is not None:
            # Another server of the same database may take over at once.
            self.app.extensions["workspace"].closing.set()
            self.app.extensions["brew_desk"].close()
        if self.local_name is not None:
            self.local_name.close()

    def _binds(self) -> list[str]:
        own = f"127.0.0.1:{self.port}"
        if self.beyond.host is None:
            return [own]
        return [f"{ANY}:{self.port}"] if self.beyond.host == ANY else [own, f"{self.beyond.host}:{self.port}"]

    def _say(self) -> None:
        """Print where it serves; other devices' address as a QR code too."""
        scheme = "https" if self.serving.https else "http"
        print(f"Hakari serves at {scheme}://127.0.0.1:{self.port}", flush=True)
        for url in self.serving.urls:
            print(f"Other devices: {url}", flush=True)
        if self.serving.urls:
            print(f"         or {self.serving.named_url}, where names ending in .local work", flush=True)
            print(qr_terminal(self.serving.urls[0]), flush=True)
            print("They are let in by a code: open Devices in the page on this computer.", flush=True)
        elif self.beyond.host is not None:
            print("This computer is in no network, so no other device can reach it.", flush=True)

    def load(self) -> Any:
        """Open the workspace and make the application, in the worker."""
        _allow_files()
        log_to(self.folder)
        workspace = Workspace(self.folder, shared=self.shared, scheduler=self.scheduler)
        keep_house(workspace)
        if self.serving.urls:
            self.local_name = LocalName.of(self.serving)
        self.app = create_app(workspace, self.serving)
        return self.app


def _allow_files() -> None:
    """Have the system allow as many open files as connections, and those of the work, need."""
    soft, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
    most = 2 * CONNECTIONS if hard == resource.RLIM_INFINITY else min(2 * CONNECTIONS, hard)
    if soft != resource.RLIM_INFINITY and soft < most:
        resource.setrlimit(resource.RLIMIT_NOFILE, (most, hard))


def _check(host: str) -> None:
    """Refuse an address that is not this computer's; ``InputError`` ``not-an-address``."""
    with socket.socket(socket.AF_INET6 if ":" in host else socket.AF_INET) as probe:
        try:
            probe.bind((host, 0))
        except OSError as error:
            raise InputError(
                "not-an-address", f"“{host}” is no address of this computer.",
                "Use --lan for all of its networks.",
            ) from error  # fmt: skip


def serve(
    folder: Path,
    port: int,
    with_demo: bool,
    beyond: Beyond | None = None,
    shared: Shared = ALONE,
    scheduler: str | None = None,
) -> int:
    """Fill the demo when asked and serve until stopped.

    ``shared`` is a database and files in place of the folder's own, ``scheduler`` the address of a cluster that measures.

    Raises
    ------
    InputError
        ``port-taken``; and as ``check_folder``, ``FolderLock``, ``open_database`` and ``open_files``.
    """
    if not 1 <= port <= 65535:
        raise InputError("port-out-of-range", f"{port} is not a port.", "Use a port from 1024 to 65535.")
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError as error:
            raise InputError(
                "port-taken",
                f"Something serves on port {port} already.",
                "Stop it, or choose another with --port.",
            ) from error
    if beyond is not None and beyond.host is not None:
        _check(beyond.host)
    workspace = Workspace(folder, measuring_processes=0, shared=shared)
    if with_demo:
        from hakari.demo.stories import fill

        fill(workspace, lambda words: print(words, file=sys.stderr, flush=True))
    workspace.close()
    # Gunicorn reads the process's own arguments; there are none of its.
    sys.argv = sys.argv[:1]
    Server(folder, port, beyond or Beyond(), shared, scheduler).run()
    return 0
