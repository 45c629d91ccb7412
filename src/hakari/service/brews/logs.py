"""The log of a brew: what was read and tapped, what that tells, and its way in and out as CSV."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

from sqlalchemy.orm import Session

from hakari.core.flow.capture import FoundPour, capture
from hakari.formats.brew_log import (
    BrewDocument,
    CapturedDocument,
    LogDocument,
    from_first_pour,
    read_log,
    write_log,
)
from hakari.service.brews.scales import LOG_FROM_FILE
from hakari.service.brews.views import BrewView, brew_view_of, progress_of, steps_of_brew
from hakari.service.plans.beginning import plan_to_brew
from hakari.service.workspace.at_hand import at_hand
from hakari.service.workspace.transaction import Workspace, find
from hakari.store import models


def log_csv(ws: Workspace, brew_id: int) -> str:
    """Return the log as CSV, with marks and notes as events."""
    with ws.transaction() as session:
        row = find(session, models.Brew, brew_id, "brew")
        steps = steps_of_brew(session, row)
        events = [(m.at_s, f"{steps[m.step].kind} over, by {m.by}") for m in row.marks if m.step < len(steps)]
        events += [(n.at_s, n.what) for n in row.notes if n.at_s is not None]
        return write_log(log_of(row), events)


def import_log(ws: Workspace, text: str) -> BrewView:
    """Keep a log from elsewhere as a brew of the plan at hand, and find out what happened in it."""
    log = from_first_pour(read_log(text)[0])
    with ws.brewing, ws.transaction() as session:
        plan = plan_to_brew(session)
        row = models.Brew(plan_id=plan.id, marks=[], notes=[])
        row.started_at = datetime.now(UTC) - timedelta(seconds=max(log.t_s[-1], 0.0))
        row.closed_at = datetime.now(UTC)
        for standing, values in (("brewer", log.poured_g), ("cup", log.drink_g)):
            readings = [(t, v) for t, v in zip(log.t_s, values, strict=True) if v is not None]
            if readings:
                row.parts.append(models.LogPart(standing=standing, readings=readings))
        session.add(row)
        session.flush()
        row.scale = LOG_FROM_FILE.model_copy(update={"standing": log.standing})
        analyse_log(session, row)
        session.flush()
        at_hand(session).brew_id = row.id
        return brew_view_of(session, row)


def log_of(row: models.Brew) -> LogDocument:
    """All readings of a brew in the order of time, each in the column of what the scale stood under."""
    read = sorted((t, part.standing, w) for part in row.parts for t, w in part.readings)
    log = LogDocument()
    for t, standing, w in read:
        if log.t_s and log.t_s[-1] == t:
            (log.poured_g if standing == "brewer" else log.drink_g)[-1] = w
            continue
        log.t_s.append(t)
        log.poured_g.append(w if standing == "brewer" else None)
        log.drink_g.append(w if standing == "cup" else None)
    return log


def analyse_log(session: Session, row: models.Brew) -> None:
    """Find pours, ends and a stall in what was logged and tapped, and keep them with the brew.

    What a scale under the cup shows of the bare bed goes before a tap, which is kept among the marks.
    """
    plan_row = find(session, models.Plan, row.plan_id, "plan")
    document = plan_row.document
    log = log_of(row).core()
    lag = row.scale.lag_s if row.scale else 0.0
    found = capture(document.core(), document.grind.core(), log, _tapped(session, row), lag)
    row.found = CapturedDocument.of(found)
    if document.steep is not None:
        return
    if found.bare_bed_s is not None:
        row.bare_bed_s, row.bare_bed_by = round(found.bare_bed_s, 1), "scale"
        drip = found.last_drip_s if found.last_drip_s is not None else row.last_drip_s
        row.last_drip_s = round(max(drip, found.bare_bed_s), 1) if drip is not None else None
    if found.stalled_at_s is not None:
        row.stalled = True


def brew_document(session: Session, row: models.Brew) -> BrewDocument:
    """Return a brew as it stands on its slip, with its log."""
    plan = find(session, models.Plan, row.plan_id, "plan")
    return BrewDocument(
        dose_g=row.dose_g or plan.document.dose_g, scale=row.scale.label if row.scale else None,
        simulated=bool(row.scale and row.scale.simulated), bare_bed_by=row.bare_bed_by, marks=row.marks,
        notes=row.notes,
        found=row.found, log=log_of(row),
    )  # fmt: skip


def _tapped(session: Session, row: models.Brew) -> tuple[FoundPour, ...]:
    """Pours as the taps tell them: each from its time as things stood until it was reported; nothing without a tap."""
    steps = steps_of_brew(session, row)
    if not any(steps[m.step].kind == "pour" for m in row.marks if m.step < len(steps)):
        return ()
    pours: list[FoundPour] = []
    for place in progress_of(steps, row).places:
        if place.step.kind == "pour":
            start = max(place.at_s, pours[-1].end_s if pours else 0.0)
            pours.append(FoundPour(start, max(place.ends_s, start + 1.0), place.step.amount_g))
    return tuple(pours)
