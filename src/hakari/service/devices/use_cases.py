"""Devices that were let in, and displays that only watch: each holds a token, of which only the hash is kept."""

from __future__ import annotations

import hashlib
import secrets
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from sqlalchemy import select

from hakari.formats.base import Document
from hakari.service.workspace.transaction import Workspace, find, list_active, mark_deleted
from hakari.store import models

SEEN_EVERY = timedelta(minutes=1)  # a device's last use is written down no more often than this


class DeviceView(Document):
    """A device: its name, since when it is let in, and when it was last used; a ``guest`` sees the brew and nothing else."""

    id: int
    name: str
    guest: bool
    since: str
    last_used_at: str | None


@dataclass(frozen=True)
class KnownDevice:
    """Who asks: the device, and whether it may only watch the brew."""

    id: int
    name: str
    guest: bool


def let_in(ws: Workspace, name: str, guest: bool = False) -> str:
    """Keep a device and return its token, which nobody can read again."""
    token = secrets.token_urlsafe(32)
    with ws.transaction() as session:
        session.add(models.Device(name=name.strip()[:60] or "A device", token_hash=_hash(token), guest=guest))
    return token


def known_device(ws: Workspace, token: str | None) -> KnownDevice | None:
    """Return the device that holds a token; ``None`` for one that was never let in or is revoked."""
    if not token:
        return None
    with ws.transaction() as session:
        row = session.scalar(select(models.Device).where(models.Device.token_hash == _hash(token)))
        if row is None or row.deleted_at is not None:
            return None
        now = datetime.now(UTC)
        if row.last_used_at is None or now - row.last_used_at > SEEN_EVERY:
            row.last_used_at = now
        return KnownDevice(row.id, row.name, row.guest)


def list_devices(ws: Workspace) -> list[DeviceView]:
    """Return the devices that are let in."""
    with ws.transaction() as session:
        return [
            DeviceView(
                id=d.id, name=d.name, guest=d.guest, since=d.created_at.isoformat(),
                last_used_at=d.last_used_at.isoformat() if d.last_used_at else None,
            )
            for d in list_active(session, models.Device)
        ]  # fmt: skip


def revoke(ws: Workspace, device_id: int) -> None:
    """Shut a device out: its token is worth nothing from now on."""
    with ws.transaction() as session:
        row = find(session, models.Device, device_id, "device")
        row.token_hash = _hash(secrets.token_urlsafe(32))
        mark_deleted(row, True)


def _hash(token: str) -> str:
    # Tokens are 256 random bits, so a plain hash of one cannot be searched for.
    return hashlib.sha256(token.encode()).hexdigest()
