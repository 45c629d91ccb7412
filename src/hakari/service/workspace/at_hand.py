"""Which pass is at hand, how far it has come, and which one a choice or an act is for."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any, Literal

from sqlalchemy import select
from sqlalchemy.orm import Session

from hakari.service.workspace.transaction import PASS, find, lookup, workbench_row
from hakari.store import models

PassState = Literal["planned", "brewing", "to-taste", "tasted", "kept", "discarded"]


def at_hand(session: Session) -> models.Pass:
    """Return the pass that a request is about, else the one that was taken up last at its counter.

    Where there is none yet it is an empty one, which is a row only when something is chosen (``to_change``).
    """
    asked = session.info.get(PASS)
    if asked is not None:
        return find(session, models.Pass, asked, "brew")
    bench = workbench_row(session)
    mine = models.Pass.bench_id == bench.id
    last = select(models.Pass).where(mine, models.Pass.deleted_at.is_(None), models.Pass.taken_up_at.is_not(None))
    found = session.scalar(last.order_by(models.Pass.taken_up_at.desc(), models.Pass.id.desc()).limit(1))
    return found or models.Pass(bench_id=bench.id, photo_setting="chosen")


def brew_of(session: Session, row: models.Pass) -> models.Brew | None:
    """Return the brew of a pass, once it has begun."""
    return lookup(session, models.Brew, row.brew_id)


def slip_of(session: Session, row: models.Pass) -> models.Slip | None:
    """Return the slip that a pass was kept as."""
    if row.brew_id is None:
        return None
    of_brew = select(models.Slip).where(models.Slip.brew_id == row.brew_id, models.Slip.deleted_at.is_(None))
    return session.scalar(of_brew)


def state_of(row: models.Pass, brew: models.Brew | None, slip: models.Slip | None) -> PassState:
    """Return how far a pass has come; one that was kept and told more of since is open again."""
    if row.deleted_at is not None:
        return "discarded"
    if brew is not None and brew.started_at is not None and brew.closed_at is None:
        return "brewing"
    if row.told is not None:
        return "tasted"
    if slip is not None:
        return "kept"
    return "planned" if brew is None else "to-taste"


def state_now(session: Session, row: models.Pass) -> PassState:
    """Return how far a pass has come."""
    return state_of(row, brew_of(session, row), slip_of(session, row))


def to_change(session: Session) -> models.Pass:
    """Return the pass that coffee, grind and plan are chosen for: the one at hand, or a new one where that has begun."""
    here = at_hand(session)
    if state_now(session, here) != "planned":
        return go_on_from(session, here)
    if here.id is None:
        here.taken_up_at = datetime.now(UTC)
        session.add(here)
        session.flush()
    return here


def go_on_from(session: Session, before: models.Pass, **chosen: Any) -> models.Pass:
    """Start a pass with the coffee, grind and plan of another, or what was ``chosen``, and take it up; the other stays."""
    kept = ("coffee_id", "sample_id", "grinder_id", "setting", "photo_setting", "plan_id")
    values = {name: getattr(before, name) for name in kept}
    row = models.Pass(bench_id=workbench_row(session).id, taken_up_at=datetime.now(UTC), **{**values, **chosen})
    session.add(row)
    session.flush()
    session.info[PASS] = row.id if session.info.get(PASS) is not None else None
    return row


def take_up(session: Session, row: models.Pass) -> models.Pass:
    """Make a pass the one at hand at the counter of a session."""
    row.bench_id, row.taken_up_at = workbench_row(session).id, datetime.now(UTC)
    session.flush()
    return row


def pass_of_brew(session: Session, brew_id: int) -> models.Pass:
    """Return the pass of a brew; each has one."""
    return session.scalars(select(models.Pass).where(models.Pass.brew_id == brew_id)).one()
