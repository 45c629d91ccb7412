"""An opened data folder: its database, its files, and the processes that measure."""

from __future__ import annotations

import copy
import os
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path
from typing import TypeVar

from sqlalchemy import select
from sqlalchemy.orm import Session
from sqlalchemy.orm.exc import StaleDataError

from hakari.core.brew.display_units import DisplayUnits
from hakari.core.errors import InputError
from hakari.service.workspace.folder import DATABASE, FolderLock, check_folder
from hakari.service.workspace.processes import Processes
from hakari.store import models
from hakari.store.database import migrate, open_engine, session_factory
from hakari.store.files import FileStore

Row = TypeVar("Row", bound=models.RecordMixin)
COUNTER = "counter_id"  # in what a session knows: whose bench is meant


class NotFoundError(InputError):
    """A row that is not there, or was deleted."""


class StaleError(InputError):
    """A write against a version that is no longer the present one."""


class Workspace:
    """One data folder, seen from a counter; safe to share between threads. Without ``lock`` it is only to be read."""

    counter_id: int | None = None

    def __init__(self, folder: Path, measuring_processes: int | None = None, lock: bool = True) -> None:
        check_folder(folder)
        self.folder = folder
        self._lock = FolderLock(folder) if lock else None
        self.files = FileStore(folder / "files")
        # A brew is written by the hand's taps and by what follows the scale: one at a time.
        self.brewing = threading.RLock()
        self.engine = open_engine(folder / DATABASE)
        migrate(self.engine)
        self._sessions = session_factory(self.engine)
        with self.transaction() as session:
            if not list_active(session, models.Workbench):
                session.add(models.Workbench())
        wanted = measuring_processes if measuring_processes is not None else max(1, (os.cpu_count() or 2) // 2)
        self.processes = Processes(wanted)

    def at(self, counter_id: int | None) -> Workspace:
        """Return the same workspace as seen from a counter; from the first one where it is not there any more."""
        there = copy.copy(self)
        there.counter_id = counter_id
        return there

    @contextmanager
    def transaction(self) -> Iterator[Session]:
        """One transaction a use case; a stale write becomes a ``StaleError``."""
        try:
            with self._sessions.begin() as session:
                session.info[COUNTER] = self.counter_id
                yield session
        except StaleDataError as error:
            raise _stale() from error

    def close(self) -> None:
        """Stop the processes and let go of the database."""
        self.processes.close()
        self.engine.dispose()
        if self._lock:
            self._lock.release()


def _stale() -> StaleError:
    return StaleError(
        "changed-elsewhere",
        "This was changed on another screen meanwhile.",
        "Look again, then repeat the change.",
    )


def lookup(session: Session, kind: type[Row], identity: int | None) -> Row | None:
    """Return the row that an optional reference points to."""
    return session.get(kind, identity) if identity is not None else None


def find(session: Session, kind: type[Row], identity: int | None, what: str, deleted_too: bool = False) -> Row:
    """Return a row that exists and, unless ``deleted_too``, is not deleted; ``NotFoundError`` otherwise."""
    row = session.get(kind, identity) if identity is not None and abs(identity) < 2**62 else None
    if row is None or (row.deleted_at is not None and not deleted_too):
        raise NotFoundError(
            "not-found", f"There is no such {what}.", "It may have been deleted; look at the list again."
        )
    return row


def list_active(session: Session, kind: type[Row]) -> list[Row]:
    """All rows that are not deleted, oldest first."""
    return list(session.scalars(select(kind).where(kind.deleted_at.is_(None)).order_by(kind.id)))


def check_version(row: models.RecordMixin, version: int | None) -> None:
    """Refuse a write against an old version."""
    if version is not None and version != row.version:
        raise _stale()


def mark_deleted(row: models.RecordMixin, deleted: bool) -> None:
    """Delete or bring back; purging comes later."""
    row.deleted_at = datetime.now(UTC) if deleted else None


def units_of(bench: models.Workbench) -> DisplayUnits:
    """Return the units that people read here."""
    return DisplayUnits("oz" if bench.mass_unit == "oz" else "g", "F" if bench.temperature_unit == "F" else "C")


def workbench_row(session: Session) -> models.Workbench:
    """Return what is being worked on at the counter of a session."""
    chosen = lookup(session, models.Workbench, session.info.get(COUNTER))
    if chosen is None or chosen.deleted_at is not None:
        chosen = list_active(session, models.Workbench)[0]
        session.info[COUNTER] = chosen.id
    return chosen
