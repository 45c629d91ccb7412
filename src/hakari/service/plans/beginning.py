"""The moment a brew begins: its plan is frozen."""

from __future__ import annotations

from sqlalchemy.orm import Session

from hakari.service.plans.use_cases import freeze, keep_plan
from hakari.service.workspace.at_hand import at_hand, state_now
from hakari.service.workspace.transaction import find
from hakari.store import models


def plan_to_brew(session: Session) -> models.Plan:
    """Return the plan at hand, frozen as it is from now on; where it was brewed already, made once more for a new pass.

    Raises
    ------
    NotFoundError
        Where nothing is planned.
    """
    here = at_hand(session)
    plan = find(session, models.Plan, here.plan_id, "plan at hand")
    if state_now(session, here) != "planned":
        kept = keep_plan(session, plan.recipe)
        plan = find(session, models.Plan, kept.id, "plan")
    freeze(session, plan)
    return plan
