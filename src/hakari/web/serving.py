"""Serving with gunicorn: one worker with threads, bound to this machine."""

from __future__ import annotations

import socket
import sys
from pathlib import Path
from typing import Any

from gunicorn.app.base import BaseApplication

from hakari.core.errors import InputError
from hakari.service.backups.housekeeping import keep_house
from hakari.service.workspace.transaction import Workspace
from hakari.web.app import create_app
from hakari.web.logs import log_to

THREADS = 256  # each open page of a running brew holds one, and so does a body that does not come


class Server(BaseApplication):  # type: ignore[misc]
    """Gunicorn with the application made inside its worker, where its threads and processes live."""

    def __init__(self, folder: Path, port: int) -> None:
        self.folder, self.port = folder, port
        super().__init__()

    def load_config(self) -> None:
        """Return settings."""
        settings: dict[str, Any] = {
            "bind": f"127.0.0.1:{self.port}", "workers": 1, "threads": THREADS, "worker_class": "gthread",
            "timeout": 180, "graceful_timeout": 5, "loglevel": "warning", "control_socket_disable": True,
            "when_ready": lambda _: print(f"Hakari serves at http://127.0.0.1:{self.port}", flush=True),
        }  # fmt: skip
        for name, value in settings.items():
            if name in self.cfg.settings:
                self.cfg.set(name, value)

    def load(self) -> Any:
        """Open the workspace and make the application, in the worker."""
        workspace = Workspace(self.folder)
        log_to(self.folder)
        keep_house(workspace)
        return create_app(workspace)


def serve(folder: Path, port: int, with_demo: bool) -> int:
    """Fill the demo when asked and serve until stopped.

    Raises
    ------
    InputError
        ``port-taken``; and as ``check_folder`` and ``FolderLock``.
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
    workspace = Workspace(folder, measuring_processes=0)
    if with_demo:
        from hakari.demo.stories import fill

        fill(workspace, lambda words: print(words, file=sys.stderr, flush=True))
    workspace.close()
    # Gunicorn reads the process's own arguments; there are none of its.
    sys.argv = sys.argv[:1]
    Server(folder, port).run()
    return 0
