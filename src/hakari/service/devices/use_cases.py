"""Devices that were let in, each with its role and a token, of which only the hash is kept."""

from __future__ import annotations

import hashlib
import secrets
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import Literal

from sqlalchemy import select

from hakari.formats.base import Document
from hakari.service.workspace.transaction import Workspace, find, list_active, mark_deleted, workbench_row
from hakari.store import models

# A manager may do everything; a barista works, and deletes what it made itself; a display sees the brew that runs.
Role = Literal["manager", "barista", "display"]
LetIn = Literal["manager", "barista"]
SEEN_EVERY = timedelta(minutes=1)  # a device's last use is written down no more often than this
IDLE = timedelta(days=90)  # a device that was not used for so long has to be let in again


class DeviceView(Document):
    """A device: its name and role, since when it is let in, when it was last used, and whether it was idle for too long."""

    id: int
    name: str
    role: Role
    since: str
    last_used_at: str | None
    expired: bool


class DeviceChange(Document):
    """Another role for a device."""

    role: LetIn


@dataclass(frozen=True)
class KnownDevice:
    """Who asks: the device, what it may do, and for a display at which counter it stands."""

    id: int
    name: str
    role: Role
    counter_id: int | None


def let_in(ws: Workspace, name: str, role: Role = "barista") -> str:
    """Keep a device and return its token, which nobody can read again; a display belongs to the counter it was made at."""
    token = secrets.token_urlsafe(32)
    with ws.transaction() as session:
        at = workbench_row(session).id if role == "display" else None
        session.add(
            models.Device(name=name.strip()[:60] or "A device", token_hash=hash_of(token), role=role, counter_id=at)
        )
    return token


def known_device(ws: Workspace, token: str | None) -> KnownDevice | None:
    """Return the device that holds a token; ``None`` for one that was never let in, is revoked, or was idle for too long."""
    if not token:
        return None
    with ws.transaction() as session:
        row = session.scalar(select(models.Device).where(models.Device.token_hash == hash_of(token)))
        if row is None or row.deleted_at is not None or _expired(row):
            return None
        now = datetime.now(UTC)
        if row.last_used_at is None or now - row.last_used_at > SEEN_EVERY:
            row.last_used_at = now
        return KnownDevice(row.id, row.name, _role(row), row.counter_id)


def list_devices(ws: Workspace) -> list[DeviceView]:
    """Return the devices that are let in."""
    with ws.transaction() as session:
        return [_view(row) for row in list_active(session, models.Device)]


def change_device(ws: Workspace, device_id: int, change: DeviceChange) -> DeviceView:
    """Give a device another role; a display stays one."""
    with ws.transaction() as session:
        row = find(session, models.Device, device_id, "device")
        if row.role != "display":
            row.role = change.role
        return _view(row)


def revoke(ws: Workspace, device_id: int) -> None:
    """Shut a device out: its token is worth nothing from now on."""
    with ws.transaction() as session:
        row = find(session, models.Device, device_id, "device")
        row.token_hash = hash_of(secrets.token_urlsafe(32))
        mark_deleted(row, True)


def _view(row: models.Device) -> DeviceView:
    return DeviceView(
        id=row.id, name=row.name, role=_role(row), since=row.created_at.isoformat(), expired=_expired(row),
        last_used_at=row.last_used_at.isoformat() if row.last_used_at else None,
    )  # fmt: skip


def _role(row: models.Device) -> Role:
    # Whatever else a row says, it may do least.
    return "manager" if row.role == "manager" else "barista" if row.role == "barista" else "display"


def _expired(row: models.Device) -> bool:
    return datetime.now(UTC) - (row.last_used_at or row.created_at) > IDLE


def hash_of(token: str) -> str:
    """Return what is kept of a token."""
    # Tokens are 256 random bits, so a plain hash of one cannot be searched for.
    return hashlib.sha256(token.encode()).hexdigest()
