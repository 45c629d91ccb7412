"""Threads of a dial-in: which slip a brew follows on."""

from __future__ import annotations

from sqlalchemy import Select, select
from sqlalchemy.orm import Session, undefer

from hakari.core.advice.evidence import Outcome
from hakari.core.advice.status import clearly_better, complaints
from hakari.service.cups.changes import things_changed
from hakari.service.workspace.transaction import lookup
from hakari.store import models
from hakari.store.derived import size_of, thread_of

MOST_COMPARED = 30  # of a thread's best cups


def _thread(session: Session, plan: models.Plan | None) -> Select[models.Slip]:
    """Slips of the coffee and brewer of a plan, newest first."""
    coffee = lookup(session, models.Coffee, plan.coffee_id) if plan else None
    thread = thread_of(
        coffee.name if coffee else "", plan.brewer if plan else "", plan.dose_g if plan else 0.0,
        bool(plan and plan.document.ice_g > 0),
    )  # fmt: skip
    same = select(models.Slip).where(models.Slip.thread == thread, models.Slip.deleted_at.is_(None))
    return same.order_by(models.Slip.number.desc())


def parent_of(session: Session, here: models.Pass) -> models.Slip | None:
    """Return the slip that a pass was started from, else the latest of the same coffee in the same brewer."""
    plan = lookup(session, models.Plan, here.plan_id)
    coffee = session.get(models.Coffee, plan.coffee_id) if plan and plan.coffee_id else None
    name = coffee.name if coffee else ""
    chosen = lookup(session, models.Slip, here.from_slip_id)
    if chosen is not None and chosen.deleted_at is None and chosen.view.coffee == name and _alike(chosen, plan):
        return chosen
    return session.scalar(_thread(session, plan).limit(1))


def _alike(slip: models.Slip, plan: models.Plan | None) -> bool:
    """Whether a brew of a plan is of the size of a slip's: a cup is not compared with a pot."""
    return plan is None or size_of(slip.view.dose_g) == size_of(plan.dose_g)


def slip_before(session: Session, here: models.Pass) -> models.Slip | None:
    """Return the slip that a pass follows on."""
    own = session.scalar(select(models.Slip).where(models.Slip.brew_id == here.brew_id)) if here.brew_id else None
    return parent_of(session, here) if own is None else lookup(session, models.Slip, own.parent_id)


def earlier_slips(session: Session, here: models.Pass, plan: models.Plan, cup: Outcome) -> list[models.Slip]:
    """Return the slip that a brew is compared with, then the best one that it would go back to."""
    last, best = slip_before(session, here), _best_before(session, here, plan, cup)
    return [s for s in dict.fromkeys((last, best)) if s is not None]


def _best_before(session: Session, here: models.Pass, plan: models.Plan, cup: Outcome) -> models.Slip | None:
    """Return the best slip of the same coffee in the same brewer that was clearly better and brewed otherwise."""
    if not complaints(cup):
        return None
    own = (
        session.scalar(select(models.Slip.number).where(models.Slip.brew_id == here.brew_id)) if here.brew_id else None
    )
    # Of equals the newest; plans are compared only as far as it takes.
    best = _thread(session, plan).where(models.Slip.good > 0).options(undefer(models.Slip.document)).order_by(None)
    best = best.order_by(models.Slip.liked.desc(), models.Slip.good.desc(), models.Slip.number.desc())
    if own is not None:
        best = best.where(models.Slip.number < own)
    for slip in session.scalars(best.limit(MOST_COMPARED)):
        before = plan_of(session, slip) if clearly_better(slip.document.outcome.core(), cup) else None
        if before is not None and things_changed(session, before, plan):
            return slip
    return None


def plan_of(session: Session, slip: models.Slip | None) -> models.Plan | None:
    """Return the plan that a slip was brewed by."""
    brew = lookup(session, models.Brew, slip.brew_id) if slip else None
    return lookup(session, models.Plan, brew.plan_id) if brew else None
