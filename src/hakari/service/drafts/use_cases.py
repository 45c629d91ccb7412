"""Drafts: what a device has typed at a station, kept at once, so that leaving, reloading or a restart loses nothing."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated, Any, Literal

from pydantic import Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from hakari.core.errors import InputError
from hakari.formats.base import Document
from hakari.service.workspace.transaction import Workspace
from hakari.store import models

Station = Literal["plan"]
Device = Annotated[str, Field(min_length=8, max_length=40, pattern=r"^[A-Za-z0-9-]+$")]
LARGEST_CHARS = 40_000


class DraftEntry(Document):
    """What a page has typed. ``about`` names what it belongs to; ``fields`` are the page's own, kept as they are."""

    device: Device
    about: Annotated[str, Field(max_length=80)]
    fields: dict[str, Any]


class DraftView(Document):
    """A draft; without ``fields`` there is none."""

    about: str = ""
    fields: dict[str, Any] | None = None


def read_draft(ws: Workspace, station: Station, device: str) -> DraftView:
    """Return what a device has typed at a station."""
    with ws.transaction() as session:
        row = _row(session, station, device)
        return DraftView() if row is None or row.deleted_at else DraftView(about=row.about, fields=row.fields)


def keep_draft(ws: Workspace, station: Station, entry: DraftEntry) -> DraftView:
    """Keep what a device has typed, in place of what it typed before.

    Raises
    ------
    InputError
        ``draft-too-large``.
    """
    if len(entry.model_dump_json()) > LARGEST_CHARS:
        raise InputError("draft-too-large", "That is too much to keep as a draft.", "Save it first.")
    with ws.transaction() as session:
        row = _row(session, station, entry.device)
        if row is None:
            row = models.Draft(device=entry.device, station=station)
            session.add(row)
        row.about, row.fields = entry.about, entry.fields
        row.deleted_at = None
        return DraftView(about=row.about, fields=row.fields)


def discard_draft(ws: Workspace, station: Station, device: str) -> None:
    """Forget what a device has typed at a station."""
    with ws.transaction() as session:
        row = _row(session, station, device)
        if row is not None:
            row.deleted_at = datetime.now(UTC)


def _row(session: Session, station: str, device: str) -> models.Draft | None:
    return session.scalar(select(models.Draft).where(models.Draft.station == station, models.Draft.device == device))
