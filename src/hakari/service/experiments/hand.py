"""The spread of a user's own repeats, for all that asks whether a change is more than chance."""

from __future__ import annotations

from sqlalchemy import JSON, select, type_coerce
from sqlalchemy.orm import Session

from hakari.formats.experiment_result import judge
from hakari.store import models

# Fewer repeats say too little of a spread.
FEWEST = 3


def own_time_share(session: Session) -> float | None:
    """Return the spread of brew times in the newest experiment of repeats, as a share; ``None`` where there is none."""
    kind = type_coerce(models.Experiment.document, JSON)["kind"].as_string()
    repeats = select(models.Experiment.document).where(models.Experiment.deleted_at.is_(None), kind == "hand")
    for document in session.scalars(repeats.order_by(models.Experiment.id.desc())):
        found = judge(document).hand
        if found is not None and found.time_s is not None and found.time_s.repeats >= FEWEST:
            return found.time_s.sd / found.time_s.mean
    return None
