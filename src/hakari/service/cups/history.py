"""Threads of a dial-in: which slip a brew follows on."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from hakari.core.advice.status import praise
from hakari.service.cups.changes import things_changed
from hakari.service.workspace.transaction import list_active, lookup
from hakari.store import models

MOST_EARLIER = 3


def _same_thread(slip: models.Slip, coffee: str, brewer: str) -> bool:
    return bool(slip.view.coffee == coffee and slip.view.brewer == brewer)


def parent_of(session: Session, bench: models.Workbench) -> models.Slip | None:
    """Return the slip that the brew was started from, else the latest of the same coffee in the same brewer."""
    plan = lookup(session, models.Plan, bench.plan_id)
    coffee = session.get(models.Coffee, plan.coffee_id) if plan and plan.coffee_id else None
    name = coffee.name if coffee else ""
    chosen = lookup(session, models.Slip, bench.slip_id)
    started_from = chosen is not None and chosen.deleted_at is None and chosen.brew_id != bench.brew_id
    if chosen is not None and started_from and chosen.view.coffee == name:
        return chosen
    brewer = plan.recipe.core_brewer().label if plan else ""
    return next((r for r in reversed(list_active(session, models.Slip)) if _same_thread(r, name, brewer)), None)


def slip_before(session: Session, bench: models.Workbench) -> models.Slip | None:
    """Return the slip that the present brew follows on."""
    own = session.scalar(select(models.Slip).where(models.Slip.brew_id == bench.brew_id)) if bench.brew_id else None
    return parent_of(session, bench) if own is None else lookup(session, models.Slip, own.parent_id)


def praised_before(session: Session, bench: models.Workbench, plan: models.Plan) -> list[models.Slip]:
    """Return the latest slips of the same coffee in the same brewer that were praised and brewed otherwise, newest first."""
    coffee = lookup(session, models.Coffee, plan.coffee_id)
    name, brewer = coffee.name if coffee else "", plan.recipe.core_brewer().label
    own = session.scalar(select(models.Slip).where(models.Slip.brew_id == bench.brew_id)) if bench.brew_id else None
    found: list[models.Slip] = []
    for slip in reversed(list_active(session, models.Slip)):
        before = plan_of(session, slip)
        if (own is not None and slip.number >= own.number) or before is None or not _same_thread(slip, name, brewer):
            continue
        if praise(slip.document.outcome.core()) > 0 and things_changed(session, before, plan):
            found.append(slip)
        if len(found) == MOST_EARLIER:
            break
    return found


def same_before(session: Session, bench: models.Workbench, plan: models.Plan) -> list[models.Slip]:
    """Return the slip before, where nothing was changed since."""
    parent = slip_before(session, bench)
    before = plan_of(session, parent)
    return [parent] if parent is not None and before is not None and not things_changed(session, before, plan) else []


def plan_of(session: Session, slip: models.Slip | None) -> models.Plan | None:
    """Return the plan that a slip was brewed by."""
    brew = lookup(session, models.Brew, slip.brew_id) if slip else None
    return lookup(session, models.Plan, brew.plan_id) if brew else None
