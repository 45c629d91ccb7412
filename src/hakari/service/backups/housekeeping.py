"""A copy of the database a day, logs put together, and rows that were deleted long ago let go of."""

from __future__ import annotations

import logging
import threading
import time
from collections.abc import Collection, Iterable, Iterator, Mapping
from contextlib import suppress
from datetime import UTC, date, datetime, timedelta
from pathlib import Path
from typing import Any

from sqlalchemy import delete, func, select, update
from sqlalchemy.orm import Session

from hakari.service.workspace.folder import BACKUPS, DATABASE
from hakari.service.workspace.transaction import Workspace
from hakari.store import models, sqlite_files
from hakari.store.base import RecordMixin

log = logging.getLogger(__name__)
# Of the daily copies: all of a week, then the first of each week and of each month.
KEPT_DAYS, KEPT_WEEKS, KEPT_MONTHS = 7, 4, 12
AT_ONCE = 500
KEPT_DELETED = timedelta(days=30)
MERGED_AFTER = timedelta(hours=2)  # pages of a brew that is over have closed by then
LOOK_EVERY_S = 3600.0


def copy_database(ws: Workspace, now: datetime | None = None) -> bool:
    """Make today's copy with SQLite's backup interface, unless there is one, and thin out the older ones.

    A shared database is copied by its own tools.
    """
    if ws.shared:
        return False
    folder = ws.folder / BACKUPS
    folder.mkdir(exist_ok=True)
    today = folder / f"hakari-{now or datetime.now(UTC):%Y-%m-%d}.sqlite3"
    if today.exists():
        return False
    sqlite_files.copy(ws.folder / DATABASE, today)
    copies = daily_copies(folder)
    for day in copies.keys() - kept_days(copies):
        copies[day].unlink()
    return True


def daily_copies(folder: Path) -> dict[date, Path]:
    """Return the daily copies in a folder by their day."""
    found = {}
    for path in folder.glob("hakari-????-??-??.sqlite3"):
        with suppress(ValueError):
            found[date.fromisoformat(path.stem.removeprefix("hakari-"))] = path
    return found


def kept_days(days: Iterable[date]) -> set[date]:
    """Return which of the daily copies are kept: those of a week, of four weeks the first, of twelve months the first."""
    newest_first = sorted(days, reverse=True)
    kept = set(newest_first[:KEPT_DAYS])
    for most, part_of in ((KEPT_WEEKS, lambda d: d.isocalendar()[:2]), (KEPT_MONTHS, lambda d: (d.year, d.month))):
        first: dict[tuple[int, ...], date] = {part_of(day): day for day in newest_first}
        kept |= set(sorted(first.values(), reverse=True)[:most])
    return kept


# Rows that nothing refers to.
PURGED = (
    models.Edit, models.CurvePoint, models.SettingEquivalence, models.SavedRecipe, models.OwnBrewer, models.Experiment,
    models.DrillAnswer,
)  # fmt: skip


def purge(ws: Workspace, now: datetime | None = None) -> int:
    """Let go of rows that were deleted more than 30 days ago, and of files that nothing refers to any more; their number."""
    before = (now or datetime.now(UTC)) - KEPT_DELETED
    with ws.transaction() as session:
        theirs = _files_of_purged(session, before)
        gone = _purge_samples(session, before)
        for kind in PURGED:
            gone += _delete(session, kind, before)
        gone += _purge_slips(session, before)
        gone += _purge_passes(session, before)
        gone += _delete(session, models.Draft, before)
    # Theirs alone: of what else no row knows, ``hakari doctor`` tells.
    if theirs:
        with ws.transaction() as session:
            theirs -= referred_files(session)
        for content_hash in theirs:
            ws.files.delete(content_hash)
    return gone


def _files_of_purged(session: Session, before: datetime) -> set[str]:
    ids = session.scalars(select(models.Sample.id).where(models.Sample.deleted_at < before)).all()
    photos = session.scalars(select(models.Photo.id).where(models.Photo.sample_id.in_(ids))).all()
    brews = session.scalars(select(models.Brew.id).where(models.Brew.deleted_at < before)).all()
    return referred_files(session, {"sample": ids, "photo": photos, "brew": brews})


def merge_logs(ws: Workspace, now: datetime | None = None) -> int:
    """Put the seconds of a log together that was kept second by second while its brew ran; how many logs."""
    closed_before = (now or datetime.now(UTC)) - MERGED_AFTER
    parted = (
        select(models.LogPart.brew_id)
        .join(models.Brew, models.Brew.id == models.LogPart.brew_id)
        .where(models.Brew.closed_at < closed_before)
        .group_by(models.LogPart.brew_id)
        .having(func.count() > 2)
    )
    with ws.transaction() as session:
        brews = session.scalars(parted.limit(AT_ONCE)).all()
    for brew_id in brews:
        with ws.brewing, ws.transaction() as session:
            row = session.get_one(models.Brew, brew_id)
            together: dict[str, list[tuple[float, float]]] = {}
            for part in row.parts:
                together.setdefault(part.standing, []).extend(part.readings)
                session.delete(part)
            session.flush()
            session.add_all(
                models.LogPart(brew_id=brew_id, standing=s, readings=r, made_by_id=row.made_by_id)
                for s, r in together.items()
            )
    return len(brews)


def referred_files(session: Session, of: Mapping[str, Collection[int]] | None = None) -> set[str]:
    """Return the content hashes that rows refer to, deleted ones too; with ``of`` those of some rows, by table."""

    def rows(kind: Any, *columns: Any) -> Iterator[Any]:
        if of is None:
            yield from session.execute(select(*columns))
            return
        ids = sorted(of.get(kind.__tablename__, ()))
        for k in range(0, len(ids), AT_ONCE):
            yield from session.execute(select(*columns).where(kind.id.in_(ids[k : k + AT_ONCE])))

    found = {photo for (photo,) in rows(models.Photo, models.Photo.content_hash)}
    found |= {grounds for (grounds,) in rows(models.Sample, models.Sample.grounds_hash)}
    for (order,) in rows(models.MeasurementJob, models.MeasurementJob.order):
        found |= {p.content_hash for p in order.photos}
    for photo, scale in rows(models.Brew, models.Brew.bed_photo, models.Brew.scale):
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
    for kind in (models.CurvePoint, models.Plan, models.Pass):
        session.execute(update(kind).where(kind.sample_id.in_(ids)).values(sample_id=None))
    for part in (models.Photo, models.Edit):
        session.execute(delete(part).where(part.sample_id.in_(ids)))
    session.execute(delete(models.Sample).where(models.Sample.id.in_(ids)))
    return len(ids)


def _purge_slips(session: Session, before: datetime) -> int:
    ids = session.scalars(select(models.Slip.id).where(models.Slip.deleted_at < before)).all()
    session.execute(update(models.Slip).where(models.Slip.parent_id.in_(ids)).values(parent_id=None))
    session.execute(update(models.Pass).where(models.Pass.from_slip_id.in_(ids)).values(from_slip_id=None))
    session.execute(delete(models.Slip).where(models.Slip.id.in_(ids)))
    return len(ids)


def _purge_passes(session: Session, before: datetime) -> int:
    """Let go of discarded passes with their brews; a brew that still counts in fits stays, and its pass with it."""
    brews = session.scalars(
        select(models.Pass.brew_id)
        .join(models.Brew, models.Brew.id == models.Pass.brew_id)
        .where(models.Pass.deleted_at < before, models.Brew.deleted_at < before)
    ).all()
    unbrewed = models.Pass.brew_id.is_(None) & (models.Pass.deleted_at < before)
    ids = session.scalars(select(models.Pass.id).where(models.Pass.brew_id.in_(brews) | unbrewed)).all()
    session.execute(delete(models.Pass).where(models.Pass.id.in_(ids)))
    session.execute(delete(models.LogPart).where(models.LogPart.brew_id.in_(brews)))
    session.execute(delete(models.Brew).where(models.Brew.id.in_(brews)))
    return len(ids)


def keep_house(ws: Workspace) -> None:
    """Copy and purge while a server runs; a failure is logged and tried again at the next look."""

    def run() -> None:
        while True:
            for work in (copy_database, purge, merge_logs):
                try:
                    work(ws)
                except Exception:
                    log.exception("housekeeping: %s", work.__name__)
            time.sleep(LOOK_EVERY_S)

    threading.Thread(target=run, name="housekeeping", daemon=True).start()
