"""What rows of an older database or of a back-up come without."""

from __future__ import annotations

from sqlalchemy.orm import Session

from hakari.store.derived import fill_missing
from hakari.store.passes import add_missing_passes


def complete(session: Session) -> None:
    """Fill the derived columns that rows lack, and give every brew without a pass one."""
    fill_missing(session)
    add_missing_passes(session)
