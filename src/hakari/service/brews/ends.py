"""The ends of a brew that were seen, and the bare bed where only the last drip was."""

from __future__ import annotations

from sqlalchemy.orm import Session

from hakari.core.flow.last_drip import bare_bed_before
from hakari.formats.slip import OutcomeDocument
from hakari.service.workspace.transaction import find
from hakari.store import models


def estimated_bare_bed(plan: models.Plan, brew: models.Brew | None, last_drip_s: float) -> tuple[float, float]:
    """Return when the bed was probably bare and the half width of its 95 % interval, s, from the last drip."""
    found = brew.found if brew is not None else None
    if found is not None and found.pours_from != "plan" and found.pours:
        poured_by = max(p.end_s for p in found.pours)
    else:
        pours, starts = plan.document.pours, plan.prediction.pour_starts_s
        poured_by = max(s + p.duration_s for s, p in zip(starts, pours, strict=True))
    at_s, sd_s = bare_bed_before(last_drip_s, poured_by, plan.prediction.drawdown_s, plan.prediction.last_drip_s)
    return round(at_s, 1), round(1.96 * sd_s, 1)


def estimate_bare_bed(session: Session, row: models.Brew) -> None:
    """Estimate the bare bed of a drip whose last drip alone was seen."""
    plan = find(session, models.Plan, row.plan_id, "plan")
    if row.last_drip_s is not None and plan.document.steep is None:
        row.bare_bed_s, row.bare_bed_by = estimated_bare_bed(plan, row, row.last_drip_s)[0], "drip"


def record_ends(session: Session, row: models.Brew, outcome: OutcomeDocument) -> None:
    """Write what was typed of a brew's ends into its record; what was followed and not changed keeps its source."""
    row.last_drip_s, row.stalled = outcome.last_drip_s, outcome.stalled
    if outcome.drawdown_s is None:
        row.bare_bed_s = row.bare_bed_by = None
        estimate_bare_bed(session, row)
    elif row.bare_bed_by == "drip" or outcome.drawdown_s != row.bare_bed_s:
        row.bare_bed_s, row.bare_bed_by = outcome.drawdown_s, "tap"
