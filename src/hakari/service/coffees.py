"""The coffee shelf."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Annotated, Literal

from pydantic import Field

from hakari.formats.base import Document
from hakari.formats.slip import CoffeeDocument
from hakari.service.workspace import Workspace, alive, bench_row
from hakari.store import models

RoastName = Literal["light", "medium", "medium-dark", "dark"]


class CoffeeView(Document):
    """A coffee as shown."""

    id: int
    version: int
    name: str
    roast: RoastName
    process: str
    dense: bool
    days_off_roast: int | None


class CoffeeList(Document):
    """All coffees."""

    coffees: list[CoffeeView]


class NewCoffee(Document):
    """What is typed for a new coffee."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    roast: RoastName = "medium"
    process: Annotated[str, Field(max_length=80)] = ""
    dense: bool = False
    days_off_roast: Annotated[int, Field(ge=0, le=3650)] | None = None


def view(row: models.Coffee) -> CoffeeView:
    """A row as shown."""
    days = (datetime.now(UTC) - row.roasted_at).days if row.roasted_at else None
    return CoffeeView(
        id=row.id, version=row.version, name=row.name, roast=row.roast, process=row.process, dense=row.dense,
        days_off_roast=days,
    )  # fmt: skip


def document(row: models.Coffee | None) -> CoffeeDocument:
    """A row as it stands on a slip."""
    if row is None:
        return CoffeeDocument()
    v = view(row)
    return CoffeeDocument(name=v.name, roast=v.roast, process=v.process, days_off_roast=v.days_off_roast, dense=v.dense)


def list_coffees(ws: Workspace) -> CoffeeList:
    """All coffees on the shelf."""
    with ws.transaction() as session:
        return CoffeeList(coffees=[view(c) for c in alive(session, models.Coffee)])


def add_coffee(ws: Workspace, new: NewCoffee) -> CoffeeView:
    """Put a coffee on the shelf and on the bench."""
    with ws.transaction() as session:
        roasted = datetime.now(UTC) - timedelta(days=new.days_off_roast) if new.days_off_roast is not None else None
        row = models.Coffee(
            name=new.name.strip(), roast=new.roast, process=new.process, dense=new.dense, roasted_at=roasted
        )
        session.add(row)
        session.flush()
        bench_row(session).coffee_id = row.id
        return view(row)
