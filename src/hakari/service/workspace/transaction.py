"""An opened data folder: its database, its files, and the processes that measure."""

from __future__ import annotations

import copy
import os
import random
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager, nullcontext
from datetime import UTC, datetime
from pathlib import Path
from typing import Any, TypeVar

from sqlalchemy import event, select
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session, object_session
from sqlalchemy.orm.exc import StaleDataError

from hakari.core.brew.display_units import DisplayUnits
from hakari.core.errors import InputError
from hakari.service.workspace.cluster import ClusterProcesses
from hakari.service.workspace.folder import DATABASE, FolderLock, check_folder, remove_left_over
from hakari.service.workspace.processes import Processes
from hakari.service.workspace.shared import ALONE, Shared, open_database, open_files
from hakari.service.workspace.upgrade import bring_up_to_date
from hakari.store import models, sqlite_files
from hakari.store.base import RecordMixin
from hakari.store.database import is_shared, one_at_a_time, open_engine, session_factory, sqlite_address
from hakari.store.files import FileStore, FolderStore
from hakari.store.leases import Leases

Answer = TypeVar("Answer")
TRIES, LONGEST_WAIT_S = 10, 8.0
Row = TypeVar("Row", bound=RecordMixin)
LARGEST_ID = 2**31 - 1  # of PostgreSQL's integers
COUNTER, PASS = "counter_id", "pass_id"  # in what a session knows: whose bench, and which pass of it, is meant
DEVICE, MAY_DELETE_ALL = "device_id", "may_delete_all"  # who works in it, and whether others' work may be deleted


class NotFoundError(InputError):
    """A row that is not there, or was deleted."""


class NotAllowedError(InputError):
    """What a device may not do."""


class StaleError(InputError):
    """A write against a version that is no longer the present one."""


# PostgreSQL's codes of a write that met another: not serializable, deadlock, a row that was made meanwhile.
OVERTAKEN = ("40001", "40P01", "23505")


def is_overtaken(error: Exception) -> bool:
    """Whether a write failed because another came before it, so that it may be done again."""
    if isinstance(error, StaleError):
        return True
    if not isinstance(error, DBAPIError):
        return False
    return getattr(error.orig, "sqlstate", None) in OVERTAKEN or "locked" in str(error.orig)


def trouble_of_storage(error: DBAPIError) -> sqlite_files.Trouble:
    """Return what keeps SQLite from working: a disk, another program, or damage."""
    return sqlite_files.trouble_of(error.orig)


class Workspace:
    """One data folder, seen from a counter; safe to share between threads. Without ``lock`` it is only to be read.

    With ``shared`` its database, or its files, are such that other servers use them too; with ``scheduler`` a Dask cluster
    measures for as long as it answers.
    """

    counter_id: int | None = None
    pass_id: int | None = None
    device_id: int | None = None
    may_delete_all: bool = True

    def __init__(
        self,
        folder: Path,
        measuring_processes: int | None = None,
        lock: bool = True,
        shared: Shared = ALONE,
        scheduler: str | None = None,
    ) -> None:
        check_folder(folder, own_database=shared.database is None, own_files=shared.files is None, write=lock)
        self.folder = folder
        self._lock = FolderLock(folder) if lock and shared.database is None else None
        if self._lock:
            remove_left_over(folder)
        self.files: FileStore = open_files(shared.files) if shared.files else FolderStore(folder / "files")
        # A brew is written by the hand's taps and by what follows the scale: one at a time.
        self.brewing = threading.RLock()
        # What works in the background stops when this is set.
        self.closing = threading.Event()
        self.engine = (
            open_database(shared.database) if shared.database else open_engine(sqlite_address(folder / DATABASE))
        )
        self.shared = is_shared(self.engine)
        self._sessions = session_factory(self.engine)
        self.leases = Leases(self._sessions, self.shared)
        with one_at_a_time(self.engine):
            bring_up_to_date(self.engine, folder, self._sessions)
            with self.transaction() as session:
                if not list_active(session, models.Workbench):
                    session.add(models.Workbench())
        wanted = measuring_processes if measuring_processes is not None else max(1, (os.cpu_count() or 2) // 2)
        here = Processes(wanted)
        self.processes = ClusterProcesses(scheduler, here) if scheduler else here

    def at(self, counter_id: int | None) -> Workspace:
        """Return the same workspace as seen from a counter; from the first one where it is not there any more."""
        there = copy.copy(self)
        there.counter_id = counter_id
        return there

    def about(self, pass_id: int | None) -> Workspace:
        """Return the same workspace with a pass at hand, whatever its counter has at hand; without one as it is."""
        there = copy.copy(self)
        there.pass_id = pass_id
        return there

    def used_by(self, device_id: int | None, may_delete_all: bool) -> Workspace:
        """Return the same workspace as a device uses it: what it makes is known as its own."""
        there = copy.copy(self)
        there.device_id, there.may_delete_all = device_id, may_delete_all
        return there

    @contextmanager
    def transaction(self) -> Iterator[Session]:
        """One transaction a use case; a stale write becomes a ``StaleError``."""
        try:
            with self._sessions.begin() as session:
                session.info[COUNTER], session.info[PASS] = self.counter_id, self.pass_id
                session.info[DEVICE], session.info[MAY_DELETE_ALL] = self.device_id, self.may_delete_all
                yield session
        except StaleDataError as error:
            raise changed_elsewhere() from error

    def again_when_overtaken(self, work: Callable[[], Answer]) -> Answer:
        """Do work that another's write overtook once more, a few times; those that were overtaken go one after the other."""
        began = time.monotonic()
        for attempt in range(TRIES):
            turn = one_at_a_time(self.engine) if attempt else nullcontext()
            try:
                with turn:
                    return work()
            except (StaleError, DBAPIError) as error:
                # Each try waits for a database that another program holds; nobody waits for minutes.
                late = time.monotonic() - began > LONGEST_WAIT_S
                if attempt == TRIES - 1 or late or not is_overtaken(error):
                    raise
                time.sleep(random.uniform(0.01, 0.06))
        raise AssertionError("the last try returns or raises")

    def write(self, do: Callable[[Session], None]) -> None:
        """Write in a transaction that nobody waits for, repeated when it is overtaken."""

        def once() -> None:
            with self.transaction() as session:
                do(session)

        self.again_when_overtaken(once)

    def close(self) -> None:
        """Stop what works in the background, and let go of the database."""
        self.closing.set()
        self.processes.close()
        self.engine.dispose()
        if self._lock:
            self._lock.release()


def changed_elsewhere() -> StaleError:
    """Return the refusal of a write that rests on what is no longer so."""
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
    row = session.get(kind, identity) if identity is not None and abs(identity) <= LARGEST_ID else None
    if row is None or (row.deleted_at is not None and not deleted_too):
        raise NotFoundError(
            "not-found", f"There is no such {what}.", "It may have been deleted; look at the list again."
        )
    return row


def list_active(session: Session, kind: type[Row]) -> list[Row]:
    """All rows that are not deleted, oldest first."""
    return list(session.scalars(select(kind).where(kind.deleted_at.is_(None)).order_by(kind.id)))


def check_version(row: RecordMixin, version: int | None) -> None:
    """Refuse a write against an old version."""
    if version is not None and version != row.version:
        raise changed_elsewhere()


def mark_deleted(row: RecordMixin, deleted: bool) -> None:
    """Delete or bring back; purging comes later.

    Raises
    ------
    NotAllowedError
        ``not-yours`` when a device deletes what it did not make, and may not.
    """
    session = object_session(row)
    if deleted and session is not None:
        check_may_delete(session, row)
    row.deleted_at = datetime.now(UTC) if deleted else None


def may_delete(session: Session, row: RecordMixin) -> bool:
    """Whether the device that works in a session may delete a row: its own, and all others where it manages them."""
    return session.info.get(MAY_DELETE_ALL, True) or row.made_by_id == session.info.get(DEVICE)


def check_may_delete(session: Session, row: RecordMixin) -> None:
    """Refuse to delete what another device made, unless this one manages them; ``NotAllowedError`` ``not-yours``."""
    if not may_delete(session, row):
        raise NotAllowedError(
            "not-yours", "This was made with another device, so this one cannot delete it.",
            "Delete it on that device, or ask a manager to.",
        )  # fmt: skip


@event.listens_for(Session, "before_flush")
def _say_who_made_it(session: Session, *_: Any) -> None:
    device = session.info.get(DEVICE)
    for row in session.new if device is not None else ():
        if isinstance(row, RecordMixin) and row.made_by_id is None:
            row.made_by_id = device


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
