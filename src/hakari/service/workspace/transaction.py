"""An opened data folder: its database, its files, and the processes that measure."""

from __future__ import annotations

import multiprocessing
import os
import threading
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path
from typing import TypeVar

from sqlalchemy import select
from sqlalchemy.orm import Session
from sqlalchemy.orm.exc import StaleDataError

from hakari.core.errors import InputError
from hakari.core.photo.pipeline import ScaleChoice
from hakari.core.photo.result import Particles, PhotoResult
from hakari.service.samples.grounds import unpack
from hakari.service.samples.measuring import measure_one
from hakari.store import models
from hakari.store.database import migrate, open_engine, session_factory
from hakari.store.files import FileStore

HELD_SAMPLES = 8
Row = TypeVar("Row", bound=models.RecordMixin)


class NotFoundError(InputError):
    """A row that is not there, or was deleted."""


class StaleError(InputError):
    """A write against a version that is no longer the present one."""


class Workspace:
    """One data folder; safe to share between threads."""

    def __init__(self, folder: Path, measuring_processes: int | None = None) -> None:
        folder.mkdir(parents=True, exist_ok=True)
        self.folder = folder
        self.files = FileStore(folder / "files")
        self._lock = threading.Lock()
        # A brew is written by the hand's taps and by what follows the scale: one at a time.
        self.brewing = threading.RLock()
        self._grounds: dict[str, Particles] = {}
        self.engine = open_engine(folder / "hakari.sqlite3")
        migrate(self.engine)
        self._sessions = session_factory(self.engine)
        with self.transaction() as session:
            if session.get(models.Workbench, 1) is None:
                session.add(models.Workbench(id=1))
        wanted = measuring_processes if measuring_processes is not None else max(1, (os.cpu_count() or 2) // 2)
        # Measuring runs in processes of its own, so that a live brew's clock never waits for a photo.
        self._pool = ProcessPoolExecutor(wanted, mp_context=multiprocessing.get_context("spawn")) if wanted else None

    @contextmanager
    def transaction(self) -> Iterator[Session]:
        """One transaction a use case; a stale write becomes a ``StaleError``."""
        try:
            with self._sessions.begin() as session:
                yield session
        except StaleDataError as error:
            raise _stale() from error

    def measure_photo(self, data: bytes, scale: ScaleChoice) -> PhotoResult:
        """Measure a photo in a process of the pool, or here when there is none."""
        if self._pool is None:
            return measure_one(data, scale)
        return self._pool.submit(measure_one, data, scale).result()

    def grounds(self, content_hash: str) -> Particles:
        """The grounds of a sample, as the machine found them; the last few are held ready."""
        with self._lock:
            held = self._grounds.pop(content_hash, None)
            if held is None:
                held = unpack(self.files.get(content_hash))
            self._grounds[content_hash] = held
            while len(self._grounds) > HELD_SAMPLES:
                self._grounds.pop(next(iter(self._grounds)))
        return held

    def close(self) -> None:
        """Stop the processes and let go of the database."""
        if self._pool:
            self._pool.shutdown(cancel_futures=True)
        self.engine.dispose()


def _stale() -> StaleError:
    return StaleError(
        "changed-elsewhere",
        "This was changed on another screen meanwhile.",
        "Look again, then repeat the change.",
    )


def lookup(session: Session, kind: type[Row], identity: int | None) -> Row | None:
    """The row that an optional reference points to."""
    return session.get(kind, identity) if identity is not None else None


def find(session: Session, kind: type[Row], identity: int | None, what: str, deleted_too: bool = False) -> Row:
    """A row that exists and, unless ``deleted_too``, is not deleted; ``NotFoundError`` otherwise."""
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


def workbench_row(session: Session) -> models.Workbench:
    """The one bench."""
    return session.get_one(models.Workbench, 1)
