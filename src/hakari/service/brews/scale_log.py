"""What the scale of a running brew said: in memory, kept in the database, and what can be read from it."""

from __future__ import annotations

import numpy as np
from sqlalchemy import select

from hakari.core.brew.follow import STILL_G_S, STILL_S
from hakari.device.source import Reading
from hakari.service.workspace.transaction import Workspace
from hakari.store import models

RECENT = 20  # so many readings tell how fast the weight rises


def lease_of(brew_id: int) -> str:
    """Return the name of a brew's lease."""
    return f"brew-{brew_id}"


class ScaleLog:
    """The readings of one brew in their order; the last of them may not be kept yet."""

    def __init__(self, ws: Workspace, brew_id: int) -> None:
        self._ws, self._brew_id = ws, brew_id
        self.readings: list[Reading] = []
        self._kept = self._last_part = 0

    def hear(self) -> bool:
        """Read what was kept since the last time, by another server or before a restart; whether there was any."""
        with self._ws.transaction() as session:
            parts = select(models.LogPart).where(
                models.LogPart.brew_id == self._brew_id, models.LogPart.id > self._last_part
            )
            new = session.scalars(parts.order_by(models.LogPart.id)).all()
        if new:
            self._last_part = new[-1].id
            self.readings.extend(Reading(t, w) for part in new for t, w in part.readings)
            self._kept = len(self.readings)
        return bool(new)

    def keep(self, standing: str) -> None:
        """Write down what is not kept yet, unless another server took the brew over; ``standing`` is what was weighed."""
        new = self.readings[self._kept :]
        if not new:
            return
        part = models.LogPart(brew_id=self._brew_id, standing=standing, readings=[(r.t_s, r.weight_g) for r in new])
        with self._ws.transaction() as session:
            if not self._ws.leases.holds(session, lease_of(self._brew_id)):
                return
            session.add(part)
            session.flush()
        self._last_part = part.id
        self._kept += len(new)

    def drop_unkept(self) -> None:
        """Forget what is not kept: another server tells it."""
        del self.readings[self._kept :]

    def weight_at(self, t_s: float) -> float:
        """Return what the scale showed last by a time of its own; nothing before its first reading."""
        return next((r.weight_g for r in reversed(self.readings) if r.t_s <= t_s), 0.0)

    def rose_at(self, weight_g: float) -> float:
        """When the scale last showed a weight, on its way up."""
        return next((r.t_s for r in reversed(self.readings) if r.weight_g <= weight_g + 1.0), 0.0)

    def rested_s(self, rate_g_s: float) -> float:
        """How long the scale has stood still, s of the brew."""
        if abs(rate_g_s) >= STILL_G_S:
            return 0.0
        last = self.readings[-1]
        still = next((r.t_s for r in reversed(self.readings) if abs(r.weight_g - last.weight_g) > 2 * STILL_G_S), 0.0)
        return last.t_s - still

    def rate_g_s(self) -> float | None:
        """How fast the scale's weight rises, over the last second or so of the brew."""
        last = self.readings[-RECENT:]
        t = np.array([r.t_s for r in last])
        near = t >= t[-1] - STILL_S if len(t) else t
        if len(t) < 3 or near.sum() < 3:
            return None
        return float(np.polyfit(t[near], np.array([r.weight_g for r in last])[near], 1)[0])
