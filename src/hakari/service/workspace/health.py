"""Whether a running server can work."""

from __future__ import annotations

import shutil

from sqlalchemy import text
from sqlalchemy.exc import SQLAlchemyError

from hakari.service.workspace.folder import LEAST_FREE_BYTES
from hakari.service.workspace.transaction import Workspace


def troubles(ws: Workspace) -> list[str]:
    """Return what keeps a server from working, each in words; nothing when all is well."""
    found = []
    try:
        with ws.transaction() as session:
            session.execute(text("SELECT id FROM bench"))
    except SQLAlchemyError:
        found.append("the database cannot be read")
    try:
        if shutil.disk_usage(ws.folder).free < LEAST_FREE_BYTES:
            found.append("the disk is full")
    except OSError:
        found.append("the data folder is gone")
    if not ws.processes.alive:
        found.append("no process measures")
    return found
