"""Counters: two baristas at two grinders each have what they work on; photos, grinders and slips are shared."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field
from sqlalchemy.orm import Session

from hakari.core.errors import InputError
from hakari.formats.base import Document
from hakari.service.workspace.transaction import (
    Workspace,
    check_version,
    find,
    list_active,
    mark_deleted,
    workbench_row,
)
from hakari.store import models

MOST_COUNTERS = 12

CounterName = Annotated[str, Field(min_length=1, max_length=40)]


class NewCounter(Document):
    """A counter to be."""

    name: CounterName


class CounterChange(NewCounter):
    """A counter's new name."""

    version: int


class CounterView(Document):
    """A counter; ``here`` says that it is the one of the device that asks."""

    id: int
    version: int
    name: str
    here: bool


class CounterList(Document):
    """All counters, the first made first."""

    counters: list[CounterView]


def list_counters(ws: Workspace) -> CounterList:
    """Return the counters."""
    with ws.transaction() as session:
        return _list(session)


def add_counter(ws: Workspace, new: NewCounter) -> CounterView:
    """Make a counter with nothing on it; units and target are those of the counter it is made at.

    Raises
    ------
    InputError
        ``counter-name`` when the name is empty or taken, ``too-many-counters``.
    """
    with ws.transaction() as session:
        here = workbench_row(session)
        if len(list_active(session, models.Workbench)) >= MOST_COUNTERS:
            raise InputError(
                "too-many-counters", f"There are {MOST_COUNTERS} counters already.", "Delete one that is not used."
            )
        row = models.Workbench(
            name=_free_name(session, new.name), target=here.target, school=here.school, own_target=here.own_target,
            mass_unit=here.mass_unit, temperature_unit=here.temperature_unit,
        )  # fmt: skip
        session.add(row)
        session.flush()
        return _view(row, here)


def rename_counter(ws: Workspace, counter_id: int, change: CounterChange) -> CounterView:
    """Give a counter another name."""
    with ws.transaction() as session:
        row = find(session, models.Workbench, counter_id, "counter")
        check_version(row, change.version)
        row.name = _free_name(session, change.name, row)
        session.flush()
        return _view(row, workbench_row(session))


def set_counter_deleted(ws: Workspace, counter_id: int, deleted: bool) -> CounterView:
    """Delete a counter or bring it back; its devices then work at the first one. ``last-counter`` when it is the only one."""
    with ws.transaction() as session:
        row = find(session, models.Workbench, counter_id, "counter", deleted_too=True)
        if deleted and [r.id for r in list_active(session, models.Workbench)] == [row.id]:
            raise InputError("last-counter", "This is the only counter.", "Rename it, or make another one first.")
        mark_deleted(row, deleted)
        session.flush()
        return _view(row, workbench_row(session))


def choose_counter(ws: Workspace, counter_id: int) -> CounterList:
    """Return the counters as a device sees them that works at this one from now on."""
    with ws.transaction() as session:
        find(session, models.Workbench, counter_id, "counter")
    return list_counters(ws.at(counter_id))


def _free_name(session: Session, typed: str, own: models.Workbench | None = None) -> str:
    name = " ".join(typed.split())
    taken = {r.name.casefold() for r in list_active(session, models.Workbench) if r is not own}
    if not name or name.casefold() in taken:
        said = f"There is a counter “{name}” already." if name else "A counter needs a name."
        raise InputError("counter-name", said, "Type another name, such as “hatch”.", field="name")
    return name


def _list(session: Session) -> CounterList:
    here = workbench_row(session)
    return CounterList(counters=[_view(r, here) for r in list_active(session, models.Workbench)])


def _view(row: models.Workbench, here: models.Workbench) -> CounterView:
    return CounterView(id=row.id, version=row.version, name=row.name, here=row.id == here.id)
