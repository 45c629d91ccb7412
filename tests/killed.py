"""A process that opens a data folder and is killed after a statement; of its own, so that it is forked with all imported."""

from __future__ import annotations

import os
import signal
from multiprocessing.connection import Connection
from pathlib import Path

from sqlalchemy import Engine, event

from hakari.service.workspace.transaction import Workspace


def open_and_be_killed(folder: Path, number: int, told: Connection) -> None:
    """Open a folder, and end at once after so many statements that write; sends their number when there were fewer."""
    count = 0

    @event.listens_for(Engine, "after_cursor_execute")
    def _(*said: object) -> None:
        nonlocal count
        # Reading changes nothing that a kill could leave half done.
        if str(said[2]).lstrip().upper().startswith(("PRAGMA", "SELECT")):
            return
        count += 1
        if count == number:
            os.kill(os.getpid(), signal.SIGKILL)

    Workspace(folder, measuring_processes=0).close()
    told.send(count)
