"""A copy of the database a day, and rows that were deleted long ago let go of."""

from __future__ import annotations

import logging
import sqlite3
import threading
import time
from datetime import UTC, datetime, timedelta

from sqlalchemy import delete, select, update
from sqlalchemy.orm import Session

from hakari.service.workspace.folder import DATABASE
from hakari.service.workspace.transaction import Workspace
from hakari.store import models
from hakari.store.base import RecordMixin
from hakari.store.files import YOUNG

log = logging.getLogger(__name__)
KEPT_COPIES = 7
KEPT_DELETED = timedelta(days=30)
LOOK_EVERY_S = 3600.0


def copy_database(ws: Workspace, now: datetime | None = None) -> bool:
    """Make today's copy with SQLite's backup interface, unless there is one; the last seven are kept.

    A shared database is copied by its own tools.
    """
    if ws.shared:
        return False
    folder = ws.folder / "backups"
    folder.mkdir(exist_ok=True)
    today = folder / f"hakari-{now or datetime.now(UTC):%Y-%m-%d}.sqlite3"
    if today.exists():
        return False
    part = today.with_suffix(".part")
    with sqlite3.connect(ws.folder / DATABASE) as source, sqlite3.connect(part) as copy:
        source.backup(copy)
    copy.close()
    source.close()
    part.replace(today)
    for old in sorted(folder.glob("hakari-*.sqlite3"))[:-KEPT_COPIES]:
        old.unlink()
    return True


# Rows that nothing refers to.
PURGED = (
    models.Edit, models.CurvePoint, models.SettingEquivalence, models.SavedRecipe, models.OwnBrewer, models.Experiment,
    models.DrillAnswer,
)  # fmt: skip


def purge(ws: Workspace, now: datetime | None = None) -> int:
    """Let go of rows that were deleted more than 30 days ago, and of files that nothing refers to any more; their number."""
    now = now or datetime.now(UTC)
    before = now - KEPT_DELETED
    with ws.transaction() as session:
        gone = _purge_samples(session, before)
        for kind in PURGED:
            gone += _delete(session, kind, before)
        gone += _purge_slips(session, before)
        gone += _delete(session, models.Draft, before)
    if gone:
        for orphan in orphans(ws, now - YOUNG):
            ws.files.delete(orphan)
    return gone


def referred_files(session: Session) -> set[str]:
    """Return the content hashes that rows refer to, deleted ones too."""
    found = set(session.scalars(select(models.Photo.content_hash))) | set(
        session.scalars(select(models.Sample.grounds_hash))
    )
    for order in session.scalars(select(models.MeasurementJob.order)):
        found |= {p.content_hash for p in order.photos}
    for photo, scale in session.execute(select(models.Brew.bed_photo, models.Brew.scale)):
        found |= {h for h in (photo, scale.file if scale else None) if h}
    return found


def orphans(ws: Workspace, kept_before: datetime | None = None) -> list[str]:
    """Files that no row refers to; where a server runs, one that is ``YOUNG`` may be waiting for its row."""
    kept = ws.files.hashes(kept_before)
    with ws.transaction() as session:
        referred = referred_files(session)
    return [h for h in kept if h not in referred]


def _delete(session: Session, kind: type[RecordMixin], before: datetime) -> int:
    rows = session.scalars(select(kind).where(kind.deleted_at < before)).all()
    for row in rows:
        session.delete(row)
    session.flush()
    return len(rows)


def _purge_samples(session: Session, before: datetime) -> int:
    ids = session.scalars(select(models.Sample.id).where(models.Sample.deleted_at < before)).all()
    for kind in (models.CurvePoint, models.Plan, models.Workbench):
        session.execute(update(kind).where(kind.sample_id.in_(ids)).values(sample_id=None))
    for part in (models.Photo, models.Edit):
        session.execute(delete(part).where(part.sample_id.in_(ids)))
    session.execute(delete(models.Sample).where(models.Sample.id.in_(ids)))
    return len(ids)


def _purge_slips(session: Session, before: datetime) -> int:
    ids = session.scalars(select(models.Slip.id).where(models.Slip.deleted_at < before)).all()
    session.execute(update(models.Slip).where(models.Slip.parent_id.in_(ids)).values(parent_id=None))
    session.execute(update(models.Workbench).where(models.Workbench.slip_id.in_(ids)).values(slip_id=None))
    session.execute(delete(models.Slip).where(models.Slip.id.in_(ids)))
    return len(ids)


def keep_house(ws: Workspace) -> None:
    """Copy and purge while a server runs; a failure is logged and tried again at the next look."""

    def run() -> None:
        while True:
            for work in (copy_database, purge):
                try:
                    work(ws)
                except Exception:
                    log.exception("housekeeping: %s", work.__name__)
            time.sleep(LOOK_EVERY_S)

    threading.Thread(target=run, name="housekeeping", daemon=True).start()
