"""The spread of a user's own repeats, for all that asks whether a change is more than chance."""

from __future__ import annotations

from sqlalchemy.orm import Session

from hakari.formats.experiment import Hand
from hakari.formats.experiment_result import judge
from hakari.service.workspace.transaction import list_active
from hakari.store import models

# Fewer repeats say too little of a spread.
FEWEST = 3


def own_time_share(session: Session) -> float | None:
    """Return the spread of brew times in the newest experiment of repeats, as a share; ``None`` where there is none."""
    for row in reversed(list_active(session, models.Experiment)):
        if not isinstance(row.document, Hand):
            continue
        found = judge(row.document).hand
        if found is not None and found.time_s is not None and found.time_s.repeats >= FEWEST:
            return found.time_s.sd / found.time_s.mean
    return None
