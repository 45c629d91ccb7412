"""What to practise next: what was right comes again days later, what was wrong in ten minutes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

# Until something comes again, by how often in a row it was right.
WAITS = (timedelta(minutes=10), *(timedelta(days=d) for d in (1, 2, 4, 8, 16, 32)))


@dataclass(frozen=True)
class Practised:
    """When something was practised, and whether it went well."""

    at: datetime
    well: bool


def box_of(practised: Sequence[Practised]) -> int:
    """Return how often in a row something went well, counted back from the last time.

    Parameters
    ----------
    practised : Sequence[Practised]
        Oldest first.

    Returns
    -------
    int
        0 where it was never practised or went wrong the last time.
    """
    box = 0
    for once in practised:
        box = min(box + 1, len(WAITS) - 1) if once.well else 0
    return box


def due_at(practised: Sequence[Practised]) -> datetime | None:
    """Return when something is due again: each time it goes well, twice as many days later.

    Parameters
    ----------
    practised : Sequence[Practised]
        Oldest first.

    Returns
    -------
    datetime or None
        ``None`` where it was never practised: at once.

    References
    ----------
    S. Leitner: So lernt man lernen. Herder (1972): boxes of growing intervals.
    """
    if not practised:
        return None
    return practised[-1].at + WAITS[box_of(practised)]
