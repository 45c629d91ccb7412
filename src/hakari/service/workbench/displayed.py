"""What a display shows: the brew that runs at its counter, and nothing else."""

from __future__ import annotations

from hakari.formats.base import Document
from hakari.service.workbench.use_cases import UnitsDocument
from hakari.service.workspace.transaction import Workspace, lookup, units_of, workbench_row
from hakari.store import models


class DisplayedBrew(Document):
    """The brew that runs at a counter and its plan; nothing where none does."""

    brew_id: int | None = None
    plan_id: int | None = None
    units: UnitsDocument


def displayed_brew(ws: Workspace) -> DisplayedBrew:
    """Return the brew that runs at a counter."""
    with ws.transaction() as session:
        bench = workbench_row(session)
        shown = DisplayedBrew(units=UnitsDocument.model_validate(units_of(bench), from_attributes=True))
        brew = lookup(session, models.Brew, bench.brew_id)
        if brew is None or brew.deleted_at is not None or brew.started_at is None or brew.closed_at is not None:
            return shown
        return shown.model_copy(update={"brew_id": brew.id, "plan_id": brew.plan_id})
