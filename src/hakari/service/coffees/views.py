"""A coffee as it is shown, and as it stands on a slip."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Literal

from hakari.formats.base import Document
from hakari.formats.slip import CoffeeDocument
from hakari.store import models

RestName = Literal["second-day", "a-week", "a-month"]
OLDEST_DAYS = 3650
RoastName = Literal["light", "medium", "medium-dark", "dark"]


class CoffeeView(Document):
    """A coffee as shown."""

    id: int
    version: int
    name: str
    roast: RoastName
    process: str
    origin: str
    roaster: str
    flavours: str
    dense: bool
    roasted_on: date | None
    days_off_roast: int | None
    rest_guideline: str


def view(row: models.Coffee) -> CoffeeView:
    """Return a row as shown."""
    # A clock that was set wrong must not make an age that no plan takes.
    days = min(max((datetime.now(UTC) - row.roasted_at).days, 0), OLDEST_DAYS) if row.roasted_at else None
    return CoffeeView(
        id=row.id, version=row.version, name=row.name, roast=row.roast, process=row.process, dense=row.dense,
        origin=row.origin, roaster=row.roaster, flavours=row.flavours,
        roasted_on=row.roasted_at.date() if row.roasted_at else None, days_off_roast=days, rest_guideline=row.rest_school,
    )  # fmt: skip


def document(row: models.Coffee | None) -> CoffeeDocument:
    """Return a row as it stands on a slip."""
    if row is None:
        return CoffeeDocument()
    v = view(row)
    return CoffeeDocument(
        name=v.name, roast=v.roast, process=v.process, days_off_roast=v.days_off_roast, dense=v.dense,
        origin=v.origin or None, roaster=v.roaster or None, flavours=v.flavours or None,
    )  # fmt: skip
