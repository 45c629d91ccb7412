"""Brews: a plan being poured, timed by the server's record."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Literal

from hakari.core.errors import InputError
from hakari.formats.base import Document
from hakari.service.workspace import Workspace, bench_row, find
from hakari.store import models


class BrewView(Document):
    """A brew: seconds since its first pour by the server's clock, and what was tapped."""

    id: int
    plan_id: int
    elapsed_s: float | None
    bare_bed_s: float | None
    last_drip_s: float | None
    stalled: bool | None


class BrewTap(Document):
    """What a hand reports during a brew."""

    what: Literal["bare-bed", "last-drip", "stalled", "undo"]


def _view(row: models.Brew) -> BrewView:
    elapsed = (datetime.now(UTC) - row.started_at).total_seconds() if row.started_at else None
    return BrewView(
        id=row.id, plan_id=row.plan_id, elapsed_s=elapsed, bare_bed_s=row.bare_bed_s, last_drip_s=row.last_drip_s,
        stalled=row.stalled,
    )  # fmt: skip


def start_brew(ws: Workspace) -> BrewView:
    """Start the clock on the plan that is on the bench."""
    with ws.transaction() as session:
        bench = bench_row(session)
        plan = find(session, models.Plan, bench.plan_id, "plan on the bench")
        row = models.Brew(plan_id=plan.id, started_at=datetime.now(UTC))
        session.add(row)
        session.flush()
        bench.brew_id = row.id
        return _view(row)


def brew_view(ws: Workspace, brew_id: int) -> BrewView:
    """A brew as it stands."""
    with ws.transaction() as session:
        return _view(find(session, models.Brew, brew_id, "brew"))


def tap_brew(ws: Workspace, brew_id: int, tap: BrewTap) -> BrewView:
    """Note the bare bed, the last drip or a stall at this moment; ``undo`` takes the last one back."""
    with ws.transaction() as session:
        row = find(session, models.Brew, brew_id, "brew")
        if row.started_at is None:
            raise InputError("brew-not-started", "This brew has no running clock.", "Start it with the first pour.")
        now = round((datetime.now(UTC) - row.started_at).total_seconds(), 1)
        if tap.what == "bare-bed":
            row.bare_bed_s = now
        elif tap.what == "last-drip":
            row.bare_bed_s = row.bare_bed_s if row.bare_bed_s is not None else now
            row.last_drip_s = now
        elif tap.what == "stalled":
            row.stalled = True
        elif row.last_drip_s is not None:
            row.last_drip_s = None
        elif row.bare_bed_s is not None:
            row.bare_bed_s = None
        else:
            row.stalled = None
        return _view(row)
