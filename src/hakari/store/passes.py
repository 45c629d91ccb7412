"""A pass for every brew: those of an older database or a back-up come without one."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session

from hakari.store.models import Brew, Era, Pass, Plan, Slip, Workbench

# A brew without a slip is still waited for so long after it; of older ones nobody is asked any more.
WAITED_FOR = timedelta(days=3)
AT_ONCE = 200


def add_missing_passes(session: Session, now: datetime | None = None) -> int:
    """Make a pass of each brew that has none; how many.

    One with a slip is kept; one without is open for ``WAITED_FOR`` and discarded after that, but counts in fits as it did.
    """
    now = now or datetime.now(UTC)
    lacking = (
        select(Brew, Plan, Era.grinder_id, Slip)
        .join(Plan, Plan.id == Brew.plan_id)
        .outerjoin(Era, Era.id == Plan.era_id)
        .outerjoin(Slip, Slip.brew_id == Brew.id)
        .outerjoin(Pass, Pass.brew_id == Brew.id)
        .where(Pass.id.is_(None))
        .order_by(Brew.id)
        .limit(AT_ONCE)
    )
    bench_id = session.scalars(select(Workbench.id).order_by(Workbench.deleted_at.is_not(None), Workbench.id)).first()
    made = 0
    while rows := session.execute(lacking).all():
        for brew, plan, grinder_id, slip in rows:
            ended = slip.deleted_at if slip is not None else brew.deleted_at
            if slip is None and ended is None and now - (brew.started_at or brew.created_at) > WAITED_FOR:
                ended = now
            session.add(
                Pass(
                    bench_id=bench_id, created_at=brew.created_at, deleted_at=ended, made_by_id=brew.made_by_id,
                    coffee_id=plan.coffee_id, sample_id=plan.sample_id, grinder_id=grinder_id, setting=plan.setting,
                    plan_id=plan.id, brew_id=brew.id, from_slip_id=slip.parent_id if slip is not None else None,
                )
            )  # fmt: skip
        session.flush()
        made += len(rows)
    return made
