"""Threads of a dial-in: which slip a brew follows on."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session, undefer

from hakari.core.advice.evidence import Outcome
from hakari.core.advice.status import clearly_better, complaints, merit
from hakari.service.cups.changes import things_changed
from hakari.service.workspace.transaction import list_active, lookup
from hakari.store import models


def _same_thread(slip: models.Slip, coffee: str, brewer: str, iced: bool) -> bool:
    """Whether a slip is of the same coffee in the same brewer; a drink over ice is not compared with a hot one."""
    return bool(slip.view.coffee == coffee and slip.view.brewer == brewer and slip.view.iced == iced)


def parent_of(session: Session, bench: models.Workbench) -> models.Slip | None:
    """Return the slip that the brew was started from, else the latest of the same coffee in the same brewer."""
    plan = lookup(session, models.Plan, bench.plan_id)
    coffee = session.get(models.Coffee, plan.coffee_id) if plan and plan.coffee_id else None
    name = coffee.name if coffee else ""
    chosen = lookup(session, models.Slip, bench.slip_id)
    started_from = chosen is not None and chosen.deleted_at is None and chosen.brew_id != bench.brew_id
    if chosen is not None and started_from and chosen.view.coffee == name:
        return chosen
    brewer, iced = (plan.recipe.core_brewer().label, plan.document.ice_g > 0) if plan else ("", False)
    return next((r for r in reversed(list_active(session, models.Slip)) if _same_thread(r, name, brewer, iced)), None)


def slip_before(session: Session, bench: models.Workbench) -> models.Slip | None:
    """Return the slip that the present brew follows on."""
    own = session.scalar(select(models.Slip).where(models.Slip.brew_id == bench.brew_id)) if bench.brew_id else None
    return parent_of(session, bench) if own is None else lookup(session, models.Slip, own.parent_id)


def earlier_slips(session: Session, bench: models.Workbench, plan: models.Plan, here: Outcome) -> list[models.Slip]:
    """Return the slip that a brew is compared with, then the best one that it would go back to."""
    last, best = slip_before(session, bench), _best_before(session, bench, plan, here)
    return [s for s in dict.fromkeys((last, best)) if s is not None]


def _best_before(session: Session, bench: models.Workbench, plan: models.Plan, here: Outcome) -> models.Slip | None:
    """Return the best slip of the same coffee in the same brewer that was clearly better and brewed otherwise."""
    if not complaints(here):
        return None
    coffee = lookup(session, models.Coffee, plan.coffee_id)
    name, brewer, iced = coffee.name if coffee else "", plan.recipe.core_brewer().label, plan.document.ice_g > 0
    own = session.scalar(select(models.Slip).where(models.Slip.brew_id == bench.brew_id)) if bench.brew_id else None
    thread = [
        s for s in list_active(session, models.Slip)
        if (own is None or s.number < own.number) and _same_thread(s, name, brewer, iced)
    ]  # fmt: skip
    # Their documents in one question, which are not read with the rows.
    ids = [s.id for s in thread]
    session.scalars(select(models.Slip).where(models.Slip.id.in_(ids)).options(undefer(models.Slip.document))).all()
    better = [s for s in reversed(thread) if clearly_better(s.document.outcome.core(), here)]
    # Of equals the newest; plans are compared only as far as it takes.
    for slip in sorted(better, key=lambda s: merit(s.document.outcome.core()), reverse=True):
        before = plan_of(session, slip)
        if before is not None and things_changed(session, before, plan):
            return slip
    return None


def plan_of(session: Session, slip: models.Slip | None) -> models.Plan | None:
    """Return the plan that a slip was brewed by."""
    brew = lookup(session, models.Brew, slip.brew_id) if slip else None
    return lookup(session, models.Plan, brew.plan_id) if brew else None
