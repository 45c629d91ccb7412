"""Which tokens are good, in memory: for what must be decided before the database may be asked."""

from __future__ import annotations

import logging
import threading

from sqlalchemy import select

from hakari.service.devices.use_cases import hash_of
from hakari.service.workspace.transaction import Workspace
from hakari.store import models

log = logging.getLogger(__name__)
LOOK_EVERY_S = 5.0


class KnownTokens:
    """The tokens of devices that are let in, looked for again every few seconds and whenever one comes or goes here."""

    def __init__(self, ws: Workspace) -> None:
        self._ws = ws
        self._hashes: frozenset[str] = frozenset()
        self.look()
        threading.Thread(target=self._keep_looking, name="known-tokens", daemon=True).start()

    def knows(self, token: str) -> bool:
        """Whether a device with this token is let in."""
        return hash_of(token) in self._hashes

    def look(self) -> None:
        """Read which devices are let in."""
        with self._ws.transaction() as session:
            kept = select(models.Device.token_hash).where(models.Device.deleted_at.is_(None))
            self._hashes = frozenset(session.scalars(kept))

    def _keep_looking(self) -> None:
        while not self._ws.closing.wait(LOOK_EVERY_S):
            try:
                self.look()
            except Exception as error:
                log.info("looking for devices: %s", error)
