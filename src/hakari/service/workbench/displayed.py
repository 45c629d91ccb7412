"""What a display shows: the brew that runs at its counter, and nothing else."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

from sqlalchemy import select

from hakari.formats.base import Document
from hakari.service.workbench.use_cases import UnitsDocument
from hakari.service.workspace.transaction import Workspace, units_of, workbench_row
from hakari.store import models

SHOWN_AFTER = timedelta(minutes=10)  # so long the time of a brew that was shown stays


class DisplayedBrew(Document):
    """The brew that runs at a counter and its plan; nothing where none does, but the time of one that has just ended."""

    brew_id: int | None = None
    plan_id: int | None = None
    brewed_s: float | None = None
    units: UnitsDocument


def displayed_brew(ws: Workspace) -> DisplayedBrew:
    """Return the brew that runs at a counter."""
    with ws.transaction() as session:
        bench = workbench_row(session)
        shown = DisplayedBrew(units=UnitsDocument.model_validate(units_of(bench), from_attributes=True))
        # One that runs goes before one that is over, whichever is at hand.
        brew = session.scalar(
            select(models.Brew)
            .join(models.Pass, models.Pass.brew_id == models.Brew.id)
            .where(
                models.Pass.bench_id == bench.id, models.Pass.deleted_at.is_(None), models.Brew.started_at.is_not(None)
            )
            .order_by(models.Brew.closed_at.is_not(None), models.Brew.started_at.desc())
            .limit(1)
        )
        if brew is None:
            return shown
        if brew.closed_at is not None:
            just_now = datetime.now(UTC) - brew.closed_at < SHOWN_AFTER
            return shown.model_copy(update={"brewed_s": brew.bare_bed_s if just_now else None})
        return shown.model_copy(update={"brew_id": brew.id, "plan_id": brew.plan_id})
